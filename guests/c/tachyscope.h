/* The kit for guests in C: a worker of the protocol that docs/protocol.md describes, in one header.
 *
 * A guest makes an input of JSON, works on it, and says so:
 *
 *     #include "tachyscope.h"
 *
 *     typedef struct { double *levels; size_t count; } Gauge;
 *
 *     static void *gauge(const cJSON *json) { ... }
 *     static double highest(const Gauge *gauge) { ... }
 *
 *     TACHYSCOPE_NUMBER(highest, Gauge)
 *
 *     int main(void) { return tachyscope_serve(gauge, &tachyscope_highest, 1); }
 *
 * Included in one source file of a program only. Needs cJSON (libcjson-dev) and a compiler that knows GNU C. */
#ifndef TACHYSCOPE_H
#define TACHYSCOPE_H

#ifndef _GNU_SOURCE
#define _GNU_SOURCE
#endif
#include <cjson/cJSON.h>
#include <fcntl.h>
#include <inttypes.h>
#include <math.h>
#include <signal.h>
#include <stdarg.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>
#ifdef __linux__
#include <sys/prctl.h>
#endif

#define TACHYSCOPE_PROTOCOL 4

/* An operation as the kit sees it. The macros below make one of a function. */
typedef struct {
    const char *name;
    const char *result;                                         /* wholeNumber, floatingPoint or opaque */
    void (*chained)(const void *input, int64_t calls);          /* each call waits for the last */
    void (*overlapped)(const void *input, int64_t calls);       /* calls side by side */
    void (*identity)(const void *input, int64_t calls);         /* the chained loop around nothing */
    void (*identity_overlapped)(const void *input, int64_t calls);
    char *(*answer)(const void *input);                         /* one call; its answer as JSON, to be freed */
} tachyscope_operation;

/* Zero, which no compiler knows: what an answer is multiplied by before it is added to the next call's input. */
static volatile uintptr_t tachyscope_zero = 0;

static inline uintptr_t tachyscope_bits_of_number(double value) {
    uint64_t bits;
    memcpy(&bits, &value, sizeof bits);
    return (uintptr_t)bits;
}

static inline double tachyscope_number_of_bits(uintptr_t bits) {
    uint64_t wide = bits;
    double value;
    memcpy(&value, &wide, sizeof value);
    return value;
}

static char *tachyscope_text(const char *format, ...) __attribute__((format(printf, 1, 2)));
__attribute__((unused)) static char *tachyscope_json_of_whole(int64_t value) { return tachyscope_text("%" PRId64, value); }
__attribute__((unused)) static char *tachyscope_json_of_number(double value) {
    if (isnan(value)) return tachyscope_text("\"NaN\"");
    if (isinf(value)) return tachyscope_text(value > 0 ? "\"Infinity\"" : "\"-Infinity\"");
    return tachyscope_text("%.17g", value);
}
static char *tachyscope_json_of_text(const char *value) {
    cJSON *json = value ? cJSON_CreateString(value) : cJSON_CreateNull();
    char *text = cJSON_PrintUnformatted(json);
    cJSON_Delete(json);
    return text;
}

/* The loops around a function. An answer's bits, of which all are masked away, are part of the address of the next call's input:
 * so that call cannot begin before they are there, and no compiler can tell that it is the same input again. */
#define TACHYSCOPE_LOOPS(function, Input, Result, kind, BITS, OF_BITS, JSON)                                                  \
    static void function##_chained_(const void *input, int64_t calls) {                                                      \
        const uintptr_t base = (uintptr_t)input, zero = tachyscope_zero;                                                      \
        uintptr_t from = base;                                                                                                \
        for (; calls > 0; calls--) {                                                                                          \
            Result result = function((const Input *)from);                                                                    \
            from = base + (BITS(result) & zero);                                                                              \
        }                                                                                                                     \
        __asm__ volatile("" : : "r"(from) : "memory");                                                                        \
    }                                                                                                                         \
    static void function##_identity_(const void *input, int64_t calls) {                                                     \
        const uintptr_t base = (uintptr_t)input, zero = tachyscope_zero;                                                      \
        uintptr_t from = base;                                                                                                \
        for (; calls > 0; calls--) {                                                                                          \
            Result result = OF_BITS(from);                                                                                    \
            from = base + (BITS(result) & zero);                                                                              \
        }                                                                                                                     \
        __asm__ volatile("" : : "r"(from) : "memory");                                                                        \
    }                                                                                                                         \
    static void function##_overlapped_(const void *input, int64_t calls) {                                                   \
        for (; calls > 0; calls--) {                                                                                          \
            uintptr_t from = (uintptr_t)input;                                                                                \
            __asm__ volatile("" : "+r"(from));                                                                                \
            uintptr_t bits = BITS(function((const Input *)from));                                                             \
            __asm__ volatile("" : : "r"(bits));                                                                               \
        }                                                                                                                     \
    }                                                                                                                         \
    static void function##_identity_overlapped_(const void *input, int64_t calls) {                                          \
        for (; calls > 0; calls--) {                                                                                          \
            uintptr_t from = (uintptr_t)input;                                                                                \
            __asm__ volatile("" : "+r"(from));                                                                                \
            uintptr_t bits = BITS(OF_BITS(from));                                                                             \
            __asm__ volatile("" : : "r"(bits));                                                                               \
        }                                                                                                                     \
    }                                                                                                                         \
    static char *function##_answer_(const void *input) { return JSON(function((const Input *)input)); }                      \
    static const tachyscope_operation tachyscope_##function = {                                                              \
        #function, kind, function##_chained_, function##_overlapped_, function##_identity_,                                  \
        function##_identity_overlapped_, function##_answer_,                                                                 \
    };

#define TACHYSCOPE_SAME_(value) ((uintptr_t)(value))
#define TACHYSCOPE_WIDE_(value) ((int64_t)(value))
#define TACHYSCOPE_FIRST_(value) ((uintptr_t)(unsigned char)*(value))
#define TACHYSCOPE_CHARS_(value) ((const char *)(value))

/* Of a function that takes const Input * and answers a whole number of up to 64 bits, a double, or a text that stays until the next call. */
#define TACHYSCOPE_WHOLE(function, Input) \
    TACHYSCOPE_LOOPS(function, Input, int64_t, "wholeNumber", TACHYSCOPE_SAME_, TACHYSCOPE_WIDE_, tachyscope_json_of_whole)
#define TACHYSCOPE_NUMBER(function, Input) \
    TACHYSCOPE_LOOPS(function, Input, double, "floatingPoint", tachyscope_bits_of_number, tachyscope_number_of_bits, \
                     tachyscope_json_of_number)
#define TACHYSCOPE_TEXT(function, Input) \
    TACHYSCOPE_LOOPS(function, Input, const char *, "opaque", TACHYSCOPE_FIRST_, TACHYSCOPE_CHARS_, tachyscope_json_of_text)

/* What was allocated, by counting what is asked for; without the GNU library it cannot be told. */
#ifdef __GLIBC__
#define TACHYSCOPE_COUNTS "true"
static __thread int64_t tachyscope_allocated;
#ifdef __cplusplus
extern "C" {
#endif
extern void *__libc_malloc(size_t size);
extern void *__libc_calloc(size_t count, size_t size);
extern void *__libc_realloc(void *old, size_t size);
void *malloc(size_t size) {
    tachyscope_allocated += (int64_t)size;
    return __libc_malloc(size);
}
void *calloc(size_t count, size_t size) {
    tachyscope_allocated += (int64_t)(count * size);
    return __libc_calloc(count, size);
}
void *realloc(void *old, size_t size) {
    tachyscope_allocated += (int64_t)size;
    return __libc_realloc(old, size);
}
#ifdef __cplusplus
}
#endif
#else
#define TACHYSCOPE_COUNTS "false"
static int64_t tachyscope_allocated;
#endif

/* One reading. */
typedef struct {
    int64_t calls, elapsed, processor, allocated;
} tachyscope_reading_;

static inline int64_t tachyscope_clock_(clockid_t clock) {
    struct timespec now;
    clock_gettime(clock, &now);
    return (int64_t)now.tv_sec * 1000000000 + now.tv_nsec;
}

static tachyscope_reading_ tachyscope_take_(void (*loop)(const void *, int64_t), const void *input, int64_t calls) {
    tachyscope_reading_ reading;
    int64_t allocated = tachyscope_allocated, processor = tachyscope_clock_(CLOCK_THREAD_CPUTIME_ID);
    int64_t start = tachyscope_clock_(CLOCK_MONOTONIC);
    loop(input, calls);
    reading.elapsed = tachyscope_clock_(CLOCK_MONOTONIC) - start;
    reading.processor = tachyscope_clock_(CLOCK_THREAD_CPUTIME_ID) - processor;
    reading.allocated = tachyscope_allocated - allocated;
    reading.calls = calls;
    return reading;
}

/* The metronome and the gauge are machine code, so that no flag of the compiler changes them. */
#define TACHYSCOPE_LINKS 20480
#define TACHYSCOPE_FOUR_(x) x x x x
#if defined(__x86_64__)
#define TACHYSCOPE_LINK_ "imulq %1, %0\n\t"
#define TACHYSCOPE_STEP_(op) op " %4, %0\n\t" op " %4, %1\n\t" op " %4, %2\n\t" op " %4, %3\n\t"
#define TACHYSCOPE_PAIR_ TACHYSCOPE_STEP_("addq") TACHYSCOPE_STEP_("xorq")
#elif defined(__aarch64__)
#define TACHYSCOPE_LINK_ "mul %0, %0, %1\n\t"
#define TACHYSCOPE_STEP_(op) op " %0, %0, %4\n\t" op " %1, %1, %4\n\t" op " %2, %2, %4\n\t" op " %3, %3, %4\n\t"
#define TACHYSCOPE_PAIR_ TACHYSCOPE_STEP_("add") TACHYSCOPE_STEP_("eor")
#endif

#ifdef TACHYSCOPE_LINK_
static void tachyscope_metronome_(const void *input, int64_t links) {
    uint64_t value = 1, factor = UINT64_C(0x9E3779B97F4A7C15);
    (void)input;
    for (; links > 0; links -= 16)
        __asm__ volatile(TACHYSCOPE_FOUR_(TACHYSCOPE_FOUR_(TACHYSCOPE_LINK_)) : "+r"(value) : "r"(factor) : "cc");
}

/* Time of additions that fill the core, in thousandths of that of a chain that leaves most of it idle. */
static int tachyscope_gauge_(void) {
    uint64_t a = 1, b = 2, c = 3, d = 4, value = 1, term = UINT64_C(0x9E3779B97F4A7C15);
    int64_t start = tachyscope_clock_(CLOCK_MONOTONIC), middle, end;
    for (int left = 300; left > 0; left--)
        __asm__ volatile(TACHYSCOPE_FOUR_(TACHYSCOPE_PAIR_) TACHYSCOPE_PAIR_ TACHYSCOPE_PAIR_
                         : "+r"(a), "+r"(b), "+r"(c), "+r"(d) : "r"(term) : "cc");
    middle = tachyscope_clock_(CLOCK_MONOTONIC);
    for (int left = 150; left > 0; left--)
        __asm__ volatile(TACHYSCOPE_FOUR_(TACHYSCOPE_LINK_) TACHYSCOPE_FOUR_(TACHYSCOPE_LINK_) : "+r"(value) : "r"(term) : "cc");
    end = tachyscope_clock_(CLOCK_MONOTONIC);
    return (int)(1000 * (middle - start) / (end > middle ? end - middle : 1));
}
#define TACHYSCOPE_IS_GAUGED 1
#else
static void tachyscope_metronome_(const void *input, int64_t links) {
    static volatile uint64_t factor = UINT64_C(0x9E3779B97F4A7C15), sink;
    uint64_t value = 1, by = factor;
    (void)input;
    for (; links > 0; links -= 4) { value *= by; value *= by; value *= by; value *= by; }
    sink = value;
}
static int tachyscope_gauge_(void) { return 0; }
#define TACHYSCOPE_IS_GAUGED 0
#endif

typedef struct {
    void (*loop)(const void *, int64_t);
    const void *input;
    int is_metronome;
    int64_t warmed, per_reading, first_elapsed, first_allocated;
    double fastest, last;
} tachyscope_cell_;

typedef struct {
    void *(*make)(const cJSON *);
    const tachyscope_operation *operations;
    int operation_count;
    FILE *out;
    cJSON **given;
    void **made;
    int input_count;
    tachyscope_cell_ *cells;
    int cell_count;
    int64_t warm_start;
} tachyscope_worker_;

static char *tachyscope_text(const char *format, ...) {
    char *text = NULL;
    va_list arguments;
    va_start(arguments, format);
    if (vasprintf(&text, format, arguments) < 0) abort();
    va_end(arguments);
    return text;
}

/* Kept apart from what it prints: a reply that is an error says which. */
typedef struct {
    int code;
    const char *message;
} tachyscope_error_;

static int tachyscope_whole_(const cJSON *object, const char *name, int least, int beyond, int *value) {
    const cJSON *found = cJSON_GetObjectItemCaseSensitive(object, name);
    if (!cJSON_IsNumber(found) || found->valuedouble != floor(found->valuedouble) || found->valuedouble < least ||
        found->valuedouble >= beyond)
        return 0;
    *value = found->valueint;
    return 1;
}

static cJSON *tachyscope_read_file_(const char *path) {
    FILE *file = fopen(path, "rb");
    char *text = NULL;
    size_t room = 0;
    cJSON *json = NULL;
    if (file && getdelim(&text, &room, '\0', file) > 0) json = cJSON_ParseWithOpts(text, NULL, 1);
    if (file) fclose(file);
    free(text);
    return json;
}

static void tachyscope_hello_(FILE *out) {
#if defined(__clang__)
    const char *compiler = "clang " __clang_version__;
#else
    const char *compiler = "gcc " __VERSION__;
#endif
#if defined(__x86_64__)
    const char *architecture = "x64";
#elif defined(__aarch64__)
    const char *architecture = "arm64";
#else
    const char *architecture = "other";
#endif
#ifdef __OPTIMIZE__
    const char *optimized = "true";
#else
    const char *optimized = "false";
#endif
    struct timespec step;
    clock_getres(CLOCK_MONOTONIC, &step);
    fprintf(out,
            "{\"protocol\":%d,\"kit\":\"c\",\"processId\":%d,\"isAllocationTold\":" TACHYSCOPE_COUNTS
            ",\"environment\":{\"runtime\":\"%s\",\"architecture\":\"%s\",\"isOptimized\":%s,\"isAheadOfTime\":true,"
            "\"clockStepNanoseconds\":%ld}}",
            TACHYSCOPE_PROTOCOL, (int)getpid(), compiler, architecture, optimized, (long)step.tv_nsec);
}

static void tachyscope_studies_(const tachyscope_worker_ *worker, FILE *out) {
    fprintf(out, "{\"studies\":[{\"name\":\"guest\",\"agreement\":\"\",\"inputs\":[],\"variants\":[");
    for (int index = 0; index < worker->operation_count; index++) {
        const tachyscope_operation *operation = &worker->operations[index];
        fprintf(out,
                "%s{\"name\":\"%s\",\"variant\":\"%s\",\"loop\":{\"path\":\"direct\",\"order\":\"chained\",\"supply\":\"same\","
                "\"result\":\"%s\"}}",
                index ? "," : "", operation->name, operation->name, operation->result);
    }
    fprintf(out, "]}]}");
}

static tachyscope_error_ tachyscope_take_inputs_(tachyscope_worker_ *worker, const cJSON *parameters) {
    const cJSON *inputs = cJSON_GetObjectItemCaseSensitive(parameters, "inputs"), *input;
    if (!cJSON_IsArray(inputs)) return (tachyscope_error_){-32602, "Send inputs, an array."};
    cJSON_ArrayForEach(input, inputs) {
        int index;
        cJSON *value = cJSON_GetObjectItemCaseSensitive(input, "value");
        const cJSON *file = cJSON_GetObjectItemCaseSensitive(input, "file");
        if (!tachyscope_whole_(input, "input", 0, 1 << 20, &index)) return (tachyscope_error_){-32602, "Send the index of every input."};
        value = cJSON_IsString(file) ? tachyscope_read_file_(file->valuestring) : cJSON_Duplicate(value, 1);
        if (!value) return (tachyscope_error_){-32602, "Send a value or the path of a file that holds one as JSON."};
        if (index >= worker->input_count) {
            worker->given = (cJSON **)realloc(worker->given, (size_t)(index + 1) * sizeof *worker->given);
            worker->made = (void **)realloc(worker->made, (size_t)(index + 1) * sizeof *worker->made);
            for (int added = worker->input_count; added <= index; added++) {
                worker->given[added] = NULL;
                worker->made[added] = NULL;
            }
            worker->input_count = index + 1;
        }
        cJSON_Delete(worker->given[index]);
        worker->given[index] = value;
        worker->made[index] = NULL;
    }
    return (tachyscope_error_){0, NULL};
}

static tachyscope_error_ tachyscope_find_(const tachyscope_worker_ *worker, const cJSON *object, int *variant, int *input) {
    if (!tachyscope_whole_(object, "variant", 0, worker->operation_count, variant))
        return (tachyscope_error_){-32602, "Send the index of an operation as variant."};
    if (!tachyscope_whole_(object, "input", 0, worker->input_count, input) || !worker->given[*input])
        return (tachyscope_error_){-32602, "Send an input with \"take\" first, and then its index."};
    return (tachyscope_error_){0, NULL};
}

static tachyscope_error_ tachyscope_check_(const tachyscope_worker_ *worker, const cJSON *parameters, FILE *out) {
    int variant, input;
    tachyscope_error_ error = tachyscope_find_(worker, parameters, &variant, &input);
    if (error.code) return error;
    void *made = worker->make(worker->given[input]);
    if (!made) return (tachyscope_error_){-32000, "The guest could not make an input of what it was given."};
    char *answer = worker->operations[variant].answer(made);
    fprintf(out, "{\"value\":%s}", answer);
    free(answer);
    return (tachyscope_error_){0, NULL};
}

static int tachyscope_is_(const cJSON *object, const char *name, const char *value) {
    const cJSON *found = cJSON_GetObjectItemCaseSensitive(object, name);
    return cJSON_IsString(found) && strcmp(found->valuestring, value) == 0;
}

static tachyscope_error_ tachyscope_open_(tachyscope_worker_ *worker, const cJSON *parameters, FILE *out) {
    const cJSON *cells = cJSON_GetObjectItemCaseSensitive(parameters, "cells"), *cell;
    int count = cJSON_GetArraySize(cells), index = 0;
    if (!cJSON_IsArray(cells) || count == 0) return (tachyscope_error_){-32602, "Send cells, an array with at least one."};
    tachyscope_cell_ *opened = (tachyscope_cell_ *)calloc((size_t)count, sizeof *opened);
    cJSON_ArrayForEach(cell, cells) {
        tachyscope_cell_ *own = &opened[index++];
        if (tachyscope_is_(cell, "kind", "metronome")) {
            own->loop = tachyscope_metronome_;
            own->is_metronome = 1;
            continue;
        }
        int variant, input;
        tachyscope_error_ error = tachyscope_find_(worker, cell, &variant, &input);
        if (error.code) {
            free(opened);
            return error;
        }
        const tachyscope_operation *operation = &worker->operations[variant];
        int is_overlapped = tachyscope_is_(cJSON_GetObjectItemCaseSensitive(cell, "loop"), "order", "overlapped");
        if (tachyscope_is_(cell, "kind", "identity")) own->loop = is_overlapped ? operation->identity_overlapped : operation->identity;
        else own->loop = is_overlapped ? operation->overlapped : operation->chained;
        /* Cells of one input share it; a twin has its own. */
        if (tachyscope_is_(cell, "kind", "twin")) own->input = worker->make(worker->given[input]);
        else own->input = worker->made[input] = worker->made[input] ? worker->made[input] : worker->make(worker->given[input]);
        if (!own->input) {
            free(opened);
            return (tachyscope_error_){-32000, "The guest could not make an input of what it was given."};
        }
    }
    free(worker->cells);
    worker->cells = opened;
    worker->cell_count = count;
    worker->warm_start = 0;
    fprintf(out, "{\"cells\":%d}", count);
    return (tachyscope_error_){0, NULL};
}

/* Calls the cells in turn, about a millisecond each, until the time asked for is over. Whether they are warm is the tool's to say. */
static tachyscope_error_ tachyscope_warm_(tachyscope_worker_ *worker, const cJSON *parameters, FILE *out) {
    int milliseconds, reading;
    if (!worker->cells) return (tachyscope_error_){-32600, "Send \"open\" first."};
    if (!tachyscope_whole_(parameters, "quietMilliseconds", 0, 1 << 20, &milliseconds) ||
        !tachyscope_whole_(parameters, "readingNanoseconds", 1, 1 << 30, &reading))
        return (tachyscope_error_){-32602, "Send quietMilliseconds and readingNanoseconds, whole numbers."};
    int64_t begun = tachyscope_clock_(CLOCK_MONOTONIC), now = begun;
    if (!worker->warm_start) worker->warm_start = begun;
    char *gauges = NULL, separator = '[';
    size_t length;
    FILE *gauged = open_memstream(&gauges, &length);
    fprintf(out, "{\"slices\":[");
    int is_first = 1;
    do {
        for (int index = 0; index < worker->cell_count; index++) {
            tachyscope_cell_ *cell = &worker->cells[index];
            tachyscope_reading_ beat = tachyscope_take_(tachyscope_metronome_, NULL, TACHYSCOPE_LINKS);
            double per_call = cell->is_metronome ? (double)beat.elapsed / TACHYSCOPE_LINKS : cell->last;
            if (cell->is_metronome) {
                cell->fastest = cell->warmed && cell->fastest < per_call ? cell->fastest : per_call;
                cell->per_reading = TACHYSCOPE_LINKS;
                cell->warmed += TACHYSCOPE_LINKS;
                continue;
            }
            int64_t calls = 1;
            if (cell->warmed) {
                double wanted = 1e6 / (per_call > 0.1 ? per_call : 0.1);
                int64_t most = 4 * cell->warmed;
                calls = wanted < 1 ? 1 : wanted > (double)most ? most : (int64_t)wanted;
            }
            tachyscope_reading_ slice = tachyscope_take_(cell->loop, cell->input, calls);
            now = tachyscope_clock_(CLOCK_MONOTONIC);
            cell->last = (double)slice.elapsed / (double)calls;
            if (!cell->warmed) {
                cell->first_elapsed = slice.elapsed;
                cell->first_allocated = slice.allocated;
                cell->fastest = cell->last;
            }
            cell->fastest = cell->last < cell->fastest ? cell->last : cell->fastest;
            cell->warmed += calls;
            double ideal = reading / (cell->fastest > 0.1 ? cell->fastest : 0.1);
            cell->per_reading = ideal < 1 ? 1 : (int64_t)ideal;
            fprintf(out, "%s[%d,%.6f,%" PRId64 ",%" PRId64 ",%.9f,%" PRId64 "]", is_first ? "" : ",", index,
                    (double)(now - worker->warm_start) * 1e-6, calls, slice.elapsed, (double)beat.elapsed / TACHYSCOPE_LINKS,
                    slice.allocated);
            is_first = 0;
            if (TACHYSCOPE_IS_GAUGED) {
                fprintf(gauged, "%c%d", separator, tachyscope_gauge_());
                separator = ',';
            }
        }
        now = tachyscope_clock_(CLOCK_MONOTONIC);
    } while (now - begun < (int64_t)milliseconds * 1000000);
    fclose(gauged);
    fprintf(out, "],\"gauges\":%s%s", separator == '[' ? "[" : gauges, "]");
    free(gauges);
    fprintf(out, ",\"elapsedMilliseconds\":%.6f,\"cells\":[", (double)(now - worker->warm_start) * 1e-6);
    for (int index = 0; index < worker->cell_count; index++) {
        const tachyscope_cell_ *cell = &worker->cells[index];
        fprintf(out,
                "%s{\"cell\":%d,\"firstCallNanoseconds\":%" PRId64 ",\"firstCallAllocatedBytes\":%" PRId64 ",\"calls\":%" PRId64
                ",\"nanosecondsPerCall\":%.9f,\"callsPerReading\":%" PRId64 "}",
                index ? "," : "", index, cell->first_elapsed, cell->first_allocated, cell->warmed, cell->fastest, cell->per_reading);
    }
    fprintf(out, "]}");
    return (tachyscope_error_){0, NULL};
}

static void tachyscope_write_reading_(FILE *out, int *is_first, int round, int place, int cell, tachyscope_reading_ reading) {
    fprintf(out, "%s[%d,%d,%d,%" PRId64 ",%" PRId64 ",%" PRId64 ",%" PRId64 "]", *is_first ? "" : ",", round, place, cell, reading.calls,
            reading.elapsed, reading.processor, reading.allocated);
    *is_first = 0;
}

/* A turn: the metronome once, a few calls thrown away, then the readings, each between two gauges. */
static void tachyscope_turn_(tachyscope_worker_ *worker, int index, int round, int place, int metronome, int readings, int quiet_gauge,
                             FILE *out, int *is_first, FILE *gauged, int *is_first_gauge) {
    const tachyscope_cell_ *cell = &worker->cells[index];
    /* The first links after somebody else's turn are cold, and are thrown away. */
    tachyscope_take_(tachyscope_metronome_, NULL, TACHYSCOPE_LINKS / 16);
    tachyscope_write_reading_(out, is_first, round, place, metronome, tachyscope_take_(tachyscope_metronome_, NULL, TACHYSCOPE_LINKS));
    if (cell->is_metronome) return;
    double per_call = cell->fastest > 0.1 ? cell->fastest : 0.1, length = per_call * (double)cell->per_reading;
    double thrown = ceil(20000 / per_call) > 8 ? ceil(20000 / per_call) : 8;
    thrown = thrown * per_call <= 60000 ? thrown : floor(60000 / per_call);
    if (thrown >= 1) cell->loop(cell->input, (int64_t)thrown);
    int count = length <= 1e6 ? readings : length <= 1e7 ? (readings < 3 ? readings : 3) : 1, quiet = 0;
    int gauge = tachyscope_gauge_();
    if (TACHYSCOPE_IS_GAUGED) fprintf(gauged, "%s[%d,%d,-1", *is_first_gauge ? "" : ",", round, place);
    for (int reading = 0; reading < count && quiet < 3; reading++) {
        tachyscope_reading_ taken = tachyscope_take_(cell->loop, cell->input, cell->per_reading);
        int after = tachyscope_gauge_();
        tachyscope_write_reading_(out, is_first, round, place, index, taken);
        if (TACHYSCOPE_IS_GAUGED) fprintf(gauged, ",%d,%d", gauge, after);
        quiet += quiet_gauge > 0 && gauge <= quiet_gauge && after <= quiet_gauge;
        gauge = after;
    }
    if (TACHYSCOPE_IS_GAUGED) fprintf(gauged, "]");
    *is_first_gauge = 0;
}

static tachyscope_error_ tachyscope_read_(tachyscope_worker_ *worker, const cJSON *parameters, FILE *out) {
    const cJSON *rounds = cJSON_GetObjectItemCaseSensitive(parameters, "rounds"), *round, *cell;
    int metronome, readings, quiet_gauge = 0, number, place, is_first = 1, is_first_gauge = 1;
    if (!worker->cells || !worker->warm_start) return (tachyscope_error_){-32600, "Send \"open\" and \"warm\" first."};
    if (!cJSON_IsArray(rounds) || !tachyscope_whole_(parameters, "metronome", 0, worker->cell_count, &metronome) ||
        !tachyscope_whole_(parameters, "readingsPerTurn", 1, 1000, &readings))
        return (tachyscope_error_){-32602, "Send rounds, the index of the metronome and readingsPerTurn."};
    tachyscope_whole_(parameters, "quietGauge", 0, 1 << 30, &quiet_gauge);
    cJSON_ArrayForEach(round, rounds) {
        const cJSON *cells = cJSON_GetObjectItemCaseSensitive(round, "cells");
        if (!tachyscope_whole_(round, "round", 0, 1 << 30, &number) || !cJSON_IsArray(cells))
            return (tachyscope_error_){-32602, "Every round has a number and cells."};
        cJSON_ArrayForEach(cell, cells) {
            if (!cJSON_IsNumber(cell) || cell->valueint < 0 || cell->valueint >= worker->cell_count)
                return (tachyscope_error_){-32602, "A round names a cell that was not opened."};
        }
    }
    char *gauges = NULL;
    size_t length;
    FILE *gauged = open_memstream(&gauges, &length);
    fprintf(out, "{\"readings\":[");
    cJSON_ArrayForEach(round, rounds) {
        place = 0;
        tachyscope_whole_(round, "round", 0, 1 << 30, &number);
        tachyscope_whole_(round, "firstPlace", 0, 1 << 30, &place);
        cJSON_ArrayForEach(cell, cJSON_GetObjectItemCaseSensitive(round, "cells"))
            tachyscope_turn_(worker, cell->valueint, number, place++, metronome, readings, quiet_gauge, out, &is_first, gauged,
                             &is_first_gauge);
    }
    fclose(gauged);
    fprintf(out, "],\"gauges\":[%s],\"isPinned\":false}", gauges ? gauges : "");
    free(gauges);
    return (tachyscope_error_){0, NULL};
}

static tachyscope_error_ tachyscope_dispatch_(tachyscope_worker_ *worker, const char *method, const cJSON *parameters, FILE *out) {
    tachyscope_error_ none = {0, NULL};
    if (strcmp(method, "hello") == 0) return tachyscope_hello_(out), none;
    if (strcmp(method, "studies") == 0) return tachyscope_studies_(worker, out), none;
    if (strcmp(method, "inspect") == 0) return fprintf(out, "{\"mistakes\":[]}"), none;
    if (strcmp(method, "take") == 0) {
        tachyscope_error_ error = tachyscope_take_inputs_(worker, parameters);
        if (!error.code) fprintf(out, "{}");
        return error;
    }
    if (strcmp(method, "check") == 0) return tachyscope_check_(worker, parameters, out);
    if (strcmp(method, "open") == 0) return tachyscope_open_(worker, parameters, out);
    if (strcmp(method, "warm") == 0) return tachyscope_warm_(worker, parameters, out);
    if (strcmp(method, "read") == 0) return tachyscope_read_(worker, parameters, out);
    if (strcmp(method, "bye") == 0) return fprintf(out, "{}"), none;
    return (tachyscope_error_){-32601, "No method has that name."};
}

/* Answers one line; whether it was the last. */
static int tachyscope_answer_(tachyscope_worker_ *worker, const char *line) {
    char *result = NULL, *identity = NULL;
    size_t length;
    tachyscope_error_ error = {0, NULL};
    cJSON *request = cJSON_ParseWithOpts(line, NULL, 1);
    const cJSON *method = cJSON_GetObjectItemCaseSensitive(request, "method");
    const cJSON *id = cJSON_GetObjectItemCaseSensitive(request, "id");
    FILE *out = open_memstream(&result, &length);
    if (!request) error = (tachyscope_error_){-32700, "The line is no JSON."};
    else if (!cJSON_IsObject(request) || !cJSON_IsString(method)) error = (tachyscope_error_){-32600, "The line is no request."};
    else error = tachyscope_dispatch_(worker, method->valuestring, cJSON_GetObjectItemCaseSensitive(request, "params"), out);
    fclose(out);
    /* cJSON writes fifteen digits, and an id may have more. */
    identity = cJSON_IsNumber(id) ? tachyscope_text("%.17g", id->valuedouble) : id ? cJSON_PrintUnformatted(id) : NULL;
    if (error.code) {
        char *message = tachyscope_json_of_text(error.message);
        fprintf(worker->out, "{\"jsonrpc\":\"2.0\",\"id\":%s,\"error\":{\"code\":%d,\"message\":%s}}\n", identity ? identity : "null",
                error.code, message);
        free(message);
    } else fprintf(worker->out, "{\"jsonrpc\":\"2.0\",\"id\":%s,\"result\":%s}\n", identity ? identity : "null", result);
    fflush(worker->out);
    int is_last = cJSON_IsString(method) && strcmp(method->valuestring, "bye") == 0;
    free(identity);
    free(result);
    cJSON_Delete(request);
    return is_last;
}

/* Answers the tool until it takes its leave.
 * make: makes an input of JSON, called outside the timing; NULL says that it cannot. */
static int tachyscope_serve(void *(*make)(const cJSON *), const tachyscope_operation *operations, int count) {
    tachyscope_worker_ worker;
    memset(&worker, 0, sizeof worker);
    worker.make = make;
    worker.operations = operations;
    worker.operation_count = count;
    if (!getenv("TACHYSCOPE_WORKER")) {
        fprintf(stderr, "This program is a guest: it is started by tachyscope run, or looked at by tachyscope guest.\n");
        return 2;
    }
    /* What the guest prints goes to standard error, and what it reads is empty. */
    int requests = dup(0), replies = dup(1), nothing = open("/dev/null", O_RDONLY);
    dup2(nothing, 0);
    dup2(2, 1);
    FILE *in = fdopen(requests, "r");
    worker.out = fdopen(replies, "w");
#ifdef __linux__
    /* The tool's end is ours, whatever we are at. */
    prctl(PR_SET_PDEATHSIG, SIGKILL);
#endif
    char *line = NULL;
    size_t room = 0;
    int is_last = 0;
    while (!is_last && getline(&line, &room, in) > 0) {
        if (strspn(line, " \t\r\n") < strlen(line)) is_last = tachyscope_answer_(&worker, line);
    }
    return 0;
}

#endif
