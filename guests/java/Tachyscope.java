import com.google.gson.Gson;
import com.google.gson.GsonBuilder;
import com.google.gson.JsonArray;
import com.google.gson.JsonElement;
import com.google.gson.JsonNull;
import com.google.gson.JsonObject;
import com.google.gson.JsonParseException;
import com.google.gson.JsonPrimitive;
import com.google.gson.stream.JsonReader;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.PrintStream;
import java.io.StringReader;
import java.lang.invoke.MethodHandles;
import java.lang.management.GarbageCollectorMXBean;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.ToDoubleFunction;
import java.util.function.ToLongFunction;

/**
 * The kit for guests in Java: a worker of the protocol that docs/protocol.md describes.
 *
 * <p>A guest says of what class its input is, which Gson makes of JSON, and how it works on one:
 *
 * <pre>
 * public final class Highest {
 *     double[] levels;
 *
 *     static double highest(Highest gauge) { ... }
 *
 *     public static void main(String[] arguments) throws Exception {
 *         Tachyscope.serve(Highest.class, Tachyscope.number("highest", Highest::highest));
 *     }
 * }
 * </pre>
 *
 * Java 17 or newer, and Gson.
 */
public final class Tachyscope {
    private static final int PROTOCOL = 4;
    private static final int LINKS = 20_480;
    private static final Gson GSON = new GsonBuilder().serializeNulls().disableHtmlEscaping().create();
    private static final com.sun.management.ThreadMXBean THREADS = (com.sun.management.ThreadMXBean) ManagementFactory.getThreadMXBean();

    private Tachyscope() {
    }

    /** One function of a guest, as the kit calls it. */
    public static final class Operation<T> {
        private final String name;
        private final String result;
        private final Function<T, JsonElement> answer;
        private final Object function;
        private final Class<? extends Loop> loop;

        private Operation(String name, String result, Function<T, JsonElement> answer, Object function, Class<? extends Loop> loop) {
            this.name = name;
            this.result = result;
            this.answer = answer;
            this.function = function;
            this.loop = loop;
        }
    }

    /** An operation that answers a number with a fraction. */
    public static <T> Operation<T> number(String name, ToDoubleFunction<T> function) {
        return new Operation<>(name, "floatingPoint", input -> written(function.applyAsDouble(input)), function, NumberLoop.class);
    }

    /** An operation that answers a whole number. */
    public static <T> Operation<T> whole(String name, ToLongFunction<T> function) {
        return new Operation<>(name, "wholeNumber", input -> new JsonPrimitive(function.applyAsLong(input)), function, WholeLoop.class);
    }

    /** An operation that answers anything else that Gson can write, such as a text. */
    public static <T> Operation<T> any(String name, Function<T, ?> function) {
        return new Operation<>(name, "opaque", input -> GSON.toJsonTree(function.apply(input)), function, AnyLoop.class);
    }

    private static JsonElement written(double number) {
        return Double.isFinite(number) ? new JsonPrimitive(number) : new JsonPrimitive(Double.toString(number));
    }

    /** An input, and zero: the loop takes the input from a place that the last answer is part of, so that a call waits for it. */
    static final class Box {
        Object input;
        long zero;
    }

    /** A loop around a function. Each cell gets a class of its own, so that the compiler sees there the one function it calls. */
    public abstract static class Loop {
        Box[] boxes;
        Object function;
        boolean isEmpty;
        volatile Object kept;

        abstract void run(long calls);
    }

    static final class WholeLoop extends Loop {
        @Override
        @SuppressWarnings("unchecked")
        void run(long calls) {
            Box[] boxes = this.boxes;
            long zero = boxes[0].zero;
            long bits = 0;
            if (isEmpty) {
                for (long call = 0; call < calls; call++) {
                    bits = boxes[(int) (bits & zero)].zero;
                }
            } else {
                ToLongFunction<Object> function = (ToLongFunction<Object>) this.function;
                for (long call = 0; call < calls; call++) {
                    bits = function.applyAsLong(boxes[(int) (bits & zero)].input);
                }
            }
            sink = bits;
        }
    }

    static final class NumberLoop extends Loop {
        @Override
        @SuppressWarnings("unchecked")
        void run(long calls) {
            Box[] boxes = this.boxes;
            long zero = boxes[0].zero;
            long bits = 0;
            if (isEmpty) {
                for (long call = 0; call < calls; call++) {
                    bits = Double.doubleToRawLongBits(Double.longBitsToDouble(boxes[(int) (bits & zero)].zero));
                }
            } else {
                ToDoubleFunction<Object> function = (ToDoubleFunction<Object>) this.function;
                for (long call = 0; call < calls; call++) {
                    bits = Double.doubleToRawLongBits(function.applyAsDouble(boxes[(int) (bits & zero)].input));
                }
            }
            sink = bits;
        }
    }

    static final class AnyLoop extends Loop {
        @Override
        @SuppressWarnings("unchecked")
        void run(long calls) {
            // Its own class has no name that a call could be bound to.
            Loop self = this;
            Object input = boxes[0].input;
            if (isEmpty) {
                for (long call = 0; call < calls; call++) {
                    KEPT.setOpaque(self, input);
                }
            } else {
                Function<Object, Object> function = (Function<Object, Object>) this.function;
                for (long call = 0; call < calls; call++) {
                    KEPT.setOpaque(self, function.apply(input));
                }
            }
        }
    }

    static final java.lang.invoke.VarHandle KEPT;
    static volatile long sink;
    static volatile long nothing;
    static volatile long factor = 0x9E3779B97F4A7C15L;

    static {
        try {
            KEPT = MethodHandles.lookup().findVarHandle(Loop.class, "kept", Object.class);
        } catch (ReflectiveOperationException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    private static void metronome(long links) {
        long base = factor;
        long unknown = nothing;
        long value = 1;
        for (long left = links; left > 0; left -= 16) {
            // The same in every turn, but not to the compiler, which would fold multiplications by what does not change into one.
            long by = base + (left & unknown);
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
        }
        sink = value;
    }

    // Time of additions that fill the core, in thousandths of that of a chain that leaves most of it idle.
    private static int gauge() {
        long start = System.nanoTime();
        additions(300);
        long middle = System.nanoTime();
        metronome(1_200);
        return (int) (1_000 * (middle - start) / Math.max(1, System.nanoTime() - middle));
    }

    private static void additions(int steps) {
        long term = factor;
        long a = 1;
        long b = 2;
        long c = 3;
        long d = 4;
        for (int left = steps; left > 0; left--) {
            a += term;
            b += term;
            c += term;
            d += term;
            a ^= term;
            b ^= term;
            c ^= term;
            d ^= term;
            a += term;
            b += term;
            c += term;
            d += term;
            a ^= term;
            b ^= term;
            c ^= term;
            d ^= term;
            a += term;
            b += term;
            c += term;
            d += term;
            a ^= term;
            b ^= term;
            c ^= term;
            d ^= term;
            a += term;
            b += term;
            c += term;
            d += term;
            a ^= term;
            b ^= term;
            c ^= term;
            d ^= term;
            a += term;
            b += term;
            c += term;
            d += term;
            a ^= term;
            b ^= term;
            c ^= term;
            d ^= term;
            a += term;
            b += term;
            c += term;
            d += term;
            a ^= term;
            b ^= term;
            c ^= term;
            d ^= term;
        }
        sink = a ^ b ^ c ^ d;
    }

    private static final class Reading {
        long calls;
        long elapsed;
        long processor;
        long allocated;
        long collections;
        long pause;
    }

    private static final List<GarbageCollectorMXBean> COLLECTORS = ManagementFactory.getGarbageCollectorMXBeans();
    private static final long SELF = Thread.currentThread().getId();

    private static Reading take(Loop loop, long calls) {
        Reading reading = new Reading();
        reading.calls = calls;
        long collections = 0;
        long pause = 0;
        for (int index = 0; index < COLLECTORS.size(); index++) {
            collections -= COLLECTORS.get(index).getCollectionCount();
            pause -= COLLECTORS.get(index).getCollectionTime();
        }
        long allocated = THREADS.getThreadAllocatedBytes(SELF);
        long processor = THREADS.getCurrentThreadCpuTime();
        long start = System.nanoTime();
        if (loop == null) {
            metronome(calls);
        } else {
            loop.run(calls);
        }
        reading.elapsed = System.nanoTime() - start;
        reading.processor = THREADS.getCurrentThreadCpuTime() - processor;
        reading.allocated = THREADS.getThreadAllocatedBytes(SELF) - allocated;
        for (int index = 0; index < COLLECTORS.size(); index++) {
            collections += COLLECTORS.get(index).getCollectionCount();
            pause += COLLECTORS.get(index).getCollectionTime();
        }
        reading.collections = collections;
        reading.pause = pause * 1_000_000;
        return reading;
    }

    private static final class Cell {
        Loop loop;
        boolean isMetronome;
        boolean hasFailed;
        long warmed;
        long perReading = 1;
        long first;
        long firstAllocated;
        double last;
        double fastest;
    }

    /** A request that cannot be answered: a code of JSON-RPC and a sentence. */
    private static final class Refused extends RuntimeException {
        private static final long serialVersionUID = 1;
        final int code;

        Refused(int code, String message) {
            super(message);
            this.code = code;
        }
    }

    private static final class Worker<T> {
        private final Class<T> type;
        private final List<Operation<T>> operations;
        private final Map<Integer, JsonElement> given = new HashMap<>();
        private final Map<Integer, T> made = new HashMap<>();
        private List<Cell> cells = List.of();
        private long start;
        private boolean isWarm;

        Worker(Class<T> type, List<Operation<T>> operations) {
            this.type = type;
            this.operations = operations;
        }

        JsonElement dispatch(String method, JsonElement parameters) throws Exception {
            JsonObject asked = parameters instanceof JsonObject ? (JsonObject) parameters : new JsonObject();
            switch (method) {
                case "hello":
                    return hello();
                case "studies":
                    return studies();
                case "inspect":
                    return with("mistakes", new JsonArray());
                case "take":
                    return take(asked);
                case "check":
                    return check(asked);
                case "open":
                    return open(asked);
                case "warm":
                    return warm(asked);
                case "read":
                    return read(asked);
                case "bye":
                    return new JsonObject();
                default:
                    throw new Refused(-32601, "No method is named \"" + method + "\".");
            }
        }

        private JsonObject hello() {
            JsonObject environment = new JsonObject();
            String architecture = System.getProperty("os.arch");
            environment.addProperty("runtime", System.getProperty("java.vm.name") + " " + System.getProperty("java.vm.version"));
            environment.addProperty("architecture", architecture.equals("amd64") ? "x64" : architecture.equals("aarch64") ? "arm64" : architecture);
            environment.addProperty("isOptimized", true);
            environment.addProperty("clockStepNanoseconds", 1);
            JsonObject hello = with("environment", environment);
            hello.addProperty("protocol", PROTOCOL);
            hello.addProperty("kit", "java");
            hello.addProperty("processId", ProcessHandle.current().pid());
            return hello;
        }

        private JsonObject studies() {
            JsonArray variants = new JsonArray();
            for (Operation<T> operation : operations) {
                JsonObject loop = new JsonObject();
                loop.addProperty("path", "direct");
                loop.addProperty("order", "chained");
                loop.addProperty("supply", "same");
                loop.addProperty("result", operation.result);
                JsonObject variant = with("loop", loop);
                variant.addProperty("name", operation.name);
                variant.addProperty("variant", operation.name);
                variants.add(variant);
            }
            JsonObject study = with("variants", variants);
            study.addProperty("name", "guest");
            study.addProperty("agreement", "");
            study.add("inputs", new JsonArray());
            JsonArray all = new JsonArray();
            all.add(study);
            return with("studies", all);
        }

        private JsonObject take(JsonObject asked) throws IOException {
            for (JsonElement one : list(asked, "inputs")) {
                JsonObject input = one instanceof JsonObject ? (JsonObject) one : new JsonObject();
                int index = (int) whole(input, "input", 0, 1 << 20);
                JsonElement value = input.get("value");
                if (value == null) {
                    JsonElement file = input.get("file");
                    if (file == null || !file.isJsonPrimitive()) {
                        throw new Refused(-32602, "An input has neither a value nor a file; send one of them.");
                    }
                    value = parsed(Files.readString(Path.of(file.getAsString())));
                }
                given.put(index, value);
                made.remove(index);
            }
            return new JsonObject();
        }

        private Operation<T> find(JsonObject asked) {
            Operation<T> found = operations.get((int) whole(asked, "variant", 0, operations.size()));
            int input = (int) whole(asked, "input", 0, 1 << 20);
            if (!given.containsKey(input)) {
                throw new Refused(-32602, "There is no input " + input + "; send it with \"take\" first.");
            }
            return found;
        }

        private T make(int input) {
            try {
                return GSON.fromJson(given.get(input), type);
            } catch (JsonParseException | IllegalStateException exception) {
                throw new Refused(-32000, "No " + type.getSimpleName() + " can be made of the input: " + exception.getMessage());
            }
        }

        private JsonObject check(JsonObject asked) {
            Operation<T> operation = find(asked);
            T input = make(asked.get("input").getAsInt());
            try {
                return with("value", operation.answer.apply(input));
            } catch (Throwable thrown) {
                JsonObject failed = with("failure", new JsonPrimitive("threw"));
                failed.addProperty("reason", "threw " + thrown);
                return failed;
            }
        }

        private JsonObject open(JsonObject asked) throws ReflectiveOperationException, IOException {
            List<Cell> opened = new ArrayList<>();
            for (JsonElement one : list(asked, "cells")) {
                JsonObject wanted = one instanceof JsonObject ? (JsonObject) one : new JsonObject();
                String kind = wanted.has("kind") ? wanted.get("kind").getAsString() : "";
                Cell cell = new Cell();
                if (kind.equals("metronome")) {
                    cell.isMetronome = true;
                } else {
                    Operation<T> operation = find(wanted);
                    int input = wanted.get("input").getAsInt();
                    Box box = new Box();
                    // Cells of one input share it; a twin has its own.
                    box.input = kind.equals("twin") ? make(input) : made.computeIfAbsent(input, this::make);
                    cell.loop = loopOf(operation.loop);
                    cell.loop.boxes = new Box[] {box};
                    cell.loop.function = operation.function;
                    cell.loop.isEmpty = kind.equals("identity");
                }
                opened.add(cell);
            }
            cells = opened;
            isWarm = false;
            return with("cells", new JsonPrimitive(opened.size()));
        }

        // Of the same code, under no name: the virtual machine compiles it by itself, for what is called there.
        private static Loop loopOf(Class<? extends Loop> template) throws ReflectiveOperationException, IOException {
            try (InputStream code = template.getResourceAsStream(template.getName() + ".class")) {
                Class<?> own = MethodHandles.lookup().defineHiddenClass(code.readAllBytes(), true, MethodHandles.Lookup.ClassOption.NESTMATE)
                    .lookupClass();
                return (Loop) own.getDeclaredConstructor().newInstance();
            }
        }

        // Calls the cells in turn, about a millisecond each, until the time asked for is over. Whether they are warm is the tool's to say.
        private JsonObject warm(JsonObject asked) {
            long milliseconds = whole(asked, "quietMilliseconds", 0, 1 << 20);
            long length = whole(asked, "readingNanoseconds", 1, 1 << 30);
            if (cells.isEmpty()) {
                throw new Refused(-32600, "No sitting is open; send \"open\" first.");
            }
            long begun = System.nanoTime();
            start = isWarm ? start : begun;
            isWarm = true;
            JsonArray slices = new JsonArray();
            JsonArray failures = new JsonArray();
            JsonArray gauges = new JsonArray();
            do {
                for (int index = 0; index < cells.size(); index++) {
                    try {
                        warm(cells.get(index), index, length, slices);
                        gauges.add(gauge());
                    } catch (Throwable thrown) {
                        fail(index, thrown, failures);
                    }
                }
            } while (System.nanoTime() - begun < milliseconds * 1_000_000);
            JsonArray warmed = new JsonArray();
            for (int index = 0; index < cells.size(); index++) {
                Cell cell = cells.get(index);
                if (!cell.hasFailed) {
                    JsonObject told = new JsonObject();
                    told.addProperty("cell", index);
                    told.addProperty("firstCallNanoseconds", cell.first);
                    told.addProperty("firstCallAllocatedBytes", cell.firstAllocated);
                    told.addProperty("calls", cell.warmed);
                    told.addProperty("nanosecondsPerCall", cell.fastest);
                    told.addProperty("callsPerReading", cell.perReading);
                    warmed.add(told);
                }
            }
            JsonObject reply = with("slices", slices);
            reply.addProperty("elapsedMilliseconds", (System.nanoTime() - start) * 1e-6);
            reply.add("cells", warmed);
            reply.add("gauges", gauges);
            reply.add("failures", failures);
            return reply;
        }

        private void warm(Cell cell, int index, long length, JsonArray slices) {
            if (cell.hasFailed) {
                return;
            }
            double beat = (double) Tachyscope.take(null, LINKS).elapsed / LINKS;
            if (cell.isMetronome) {
                cell.fastest = cell.warmed == 0 ? beat : Math.min(cell.fastest, beat);
                cell.warmed += LINKS;
                cell.perReading = LINKS;
                return;
            }
            long calls = cell.warmed == 0 ? 1 : (long) Math.max(1, Math.min(4.0 * cell.warmed, 1e6 / Math.max(cell.last, 0.1)));
            Reading slice = Tachyscope.take(cell.loop, calls);
            cell.last = (double) slice.elapsed / calls;
            if (cell.warmed == 0) {
                cell.first = slice.elapsed;
                cell.firstAllocated = slice.allocated;
                cell.fastest = cell.last;
            }
            cell.fastest = Math.min(cell.fastest, cell.last);
            cell.warmed += calls;
            cell.perReading = (long) Math.max(1, length / Math.max(cell.fastest, 0.1));
            slices.add(numbers(index, (System.nanoTime() - start) * 1e-6, calls, slice.elapsed, beat, slice.allocated));
        }

        private void fail(int index, Throwable thrown, JsonArray failures) {
            JsonObject failed = new JsonObject();
            failed.addProperty("cell", index);
            failed.addProperty("reason", "threw " + thrown);
            failures.add(failed);
            cells.get(index).hasFailed = true;
        }

        private JsonObject read(JsonObject asked) {
            int most = (int) whole(asked, "readingsPerTurn", 1, 1_000);
            JsonArray rounds = list(asked, "rounds");
            if (!isWarm) {
                throw new Refused(-32600, "No sitting is warm; send \"open\" and \"warm\" first.");
            }
            int own = (int) whole(asked, "metronome", 0, cells.size());
            for (JsonElement round : rounds) {
                whole(round.getAsJsonObject(), "round", 0, 1 << 30);
                for (JsonElement cell : list(round.getAsJsonObject(), "cells")) {
                    if (!cell.isJsonPrimitive() || cell.getAsInt() < 0 || cell.getAsInt() >= cells.size()) {
                        throw new Refused(-32602, "A round names the cell " + cell + ", which was not opened.");
                    }
                }
            }
            int quietGauge = asked.has("quietGauge") ? asked.get("quietGauge").getAsInt() : 0;
            JsonArray readings = new JsonArray();
            JsonArray gauges = new JsonArray();
            JsonArray failures = new JsonArray();
            for (JsonElement one : rounds) {
                JsonObject round = one.getAsJsonObject();
                int place = round.has("firstPlace") ? round.get("firstPlace").getAsInt() : 0;
                for (JsonElement cell : round.getAsJsonArray("cells")) {
                    try {
                        JsonArray turn = numbers(round.get("round").getAsInt(), place++, -1);
                        turn(cell.getAsInt(), own, most, quietGauge, turn, readings);
                        gauges.add(turn);
                    } catch (Throwable thrown) {
                        fail(cell.getAsInt(), thrown, failures);
                    }
                }
            }
            JsonObject reply = with("readings", readings);
            reply.add("gauges", gauges);
            reply.addProperty("isPinned", false);
            reply.add("failures", failures);
            return reply;
        }

        // A turn: the metronome once, a few calls thrown away, then the readings, each between two gauges, until there are enough or three
        // are quiet. Where it stands comes with the array for the gauges.
        private void turn(int index, int own, int most, int quietGauge, JsonArray gauges, JsonArray readings) {
            Cell cell = cells.get(index);
            int round = gauges.get(0).getAsInt();
            int place = gauges.get(1).getAsInt();
            // The first links after somebody else's turn are cold, and are thrown away.
            Tachyscope.take(null, LINKS / 16);
            Reading beat = Tachyscope.take(null, LINKS);
            readings.add(numbers(round, place, own, LINKS, beat.elapsed, beat.processor));
            if (cell.isMetronome || cell.hasFailed) {
                return;
            }
            double perCall = Math.max(cell.fastest, 0.1);
            double thrown = Math.max(8, Math.ceil(20_000 / perCall));
            thrown = thrown * perCall <= 60_000 ? thrown : Math.floor(60_000 / perCall);
            if (thrown >= 1) {
                cell.loop.run((long) thrown);
            }
            double length = perCall * cell.perReading;
            int count = length <= 1e6 ? most : length <= 1e7 ? Math.min(most, 3) : 1;
            gauge();
            int before = gauge();
            for (int taken = 0, quiet = 0; taken < count && quiet < 3; taken++) {
                Reading one = Tachyscope.take(cell.loop, cell.perReading);
                int after = gauge();
                readings.add(numbers(round, place, index, one.calls, one.elapsed, one.processor, one.allocated, one.collections, 0, 0, one.pause));
                gauges.add(before);
                gauges.add(after);
                quiet += before <= quietGauge && after <= quietGauge ? 1 : 0;
                before = after;
            }
        }
    }

    private static JsonArray numbers(Number... values) {
        JsonArray array = new JsonArray();
        for (Number value : values) {
            array.add(value);
        }
        return array;
    }

    private static JsonObject with(String name, JsonElement value) {
        JsonObject object = new JsonObject();
        object.add(name, value);
        return object;
    }

    private static long whole(JsonObject asked, String name, long least, long beyond) {
        JsonElement found = asked.get(name);
        if (found instanceof JsonPrimitive && ((JsonPrimitive) found).isNumber()) {
            double value = found.getAsDouble();
            if (value == Math.rint(value) && value >= least && value < beyond) {
                return (long) value;
            }
        }
        throw new Refused(-32602, name + " is " + found + "; send a whole number from " + least + " to " + (beyond - 1) + ".");
    }

    private static JsonArray list(JsonObject asked, String name) {
        if (asked.get(name) instanceof JsonArray) {
            return asked.getAsJsonArray(name);
        }
        throw new Refused(-32602, name + " is no array; send one.");
    }

    // Strictly, and nothing behind it.
    private static JsonElement parsed(String text) throws IOException {
        JsonReader reader = new JsonReader(new StringReader(text));
        JsonElement element = GSON.getAdapter(JsonElement.class).read(reader);
        if (reader.peek() != com.google.gson.stream.JsonToken.END_DOCUMENT) {
            throw new JsonParseException("there is something behind it");
        }
        return element;
    }

    /** Answers the tool until it takes its leave. */
    @SafeVarargs
    @SuppressWarnings("varargs")
    public static <T> void serve(Class<T> input, Operation<T>... operations) throws IOException {
        if (System.getenv("TACHYSCOPE_WORKER") == null) {
            System.err.println("This program is a guest: it is started by tachyscope run, or looked at by tachyscope guest.");
            System.exit(2);
        }
        // What the guest prints goes to standard error, and what it reads is empty.
        BufferedReader requests = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        OutputStream replies = System.out;
        System.setOut(new PrintStream(System.err, true));
        System.setIn(InputStream.nullInputStream());
        Worker<T> worker = new Worker<>(input, List.of(operations));
        // The metronome before anything: it is compiled when the first reading needs it.
        for (int reading = 0; reading < 300; reading++) {
            take(null, LINKS);
            gauge();
        }
        for (String line = requests.readLine(); line != null; line = requests.readLine()) {
            if (line.isBlank()) {
                continue;
            }
            JsonObject reply = with("jsonrpc", new JsonPrimitive("2.0"));
            reply.add("id", JsonNull.INSTANCE);
            String method = "";
            try {
                JsonElement request;
                try {
                    request = parsed(line);
                } catch (JsonParseException | IOException | StackOverflowError exception) {
                    throw new Refused(-32700, "The line is no JSON.");
                }
                if (request instanceof JsonObject && ((JsonObject) request).has("id")) {
                    reply.add("id", ((JsonObject) request).get("id"));
                }
                JsonElement named = request instanceof JsonObject ? ((JsonObject) request).get("method") : null;
                if (!(named instanceof JsonPrimitive) || !((JsonPrimitive) named).isString()) {
                    throw new Refused(-32600, "The line is no request.");
                }
                method = named.getAsString();
                reply.add("result", worker.dispatch(method, ((JsonObject) request).get("params")));
            } catch (Refused refused) {
                reply.add("error", error(refused.code, refused.getMessage()));
            } catch (Exception exception) {
                reply.add("error", error(-32000, exception.toString()));
            }
            replies.write((GSON.toJson(reply) + "\n").getBytes(StandardCharsets.UTF_8));
            replies.flush();
            if (method.equals("bye")) {
                return;
            }
        }
    }

    private static JsonObject error(int code, String message) {
        JsonObject error = new JsonObject();
        error.addProperty("code", code);
        error.addProperty("message", message);
        return error;
    }
}
