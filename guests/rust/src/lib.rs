//! The kit for guests in Rust: a worker of the protocol that docs/protocol.md describes.
//!
//! A guest makes an input of JSON, works on it, and says so:
//!
//! ```no_run
//! fn levels(json: &tachyscope::Json) -> Option<Vec<f64>> {
//!     json.as_array()?.iter().map(tachyscope::Json::as_f64).collect()
//! }
//!
//! fn highest(levels: &Vec<f64>) -> f64 {
//!     levels.iter().copied().fold(f64::MIN, f64::max)
//! }
//!
//! fn main() {
//!     tachyscope::serve(levels, vec![tachyscope::operation("highest", highest)]);
//! }
//! ```

use serde_json::{json, Value};
use std::alloc::{GlobalAlloc, Layout, System};
use std::cell::Cell as Slot;
use std::arch::asm;
use std::io::{BufRead, Write};
use std::os::raw::c_char;
use std::os::unix::io::FromRawFd;
use std::panic::{catch_unwind, AssertUnwindSafe};
use std::time::Instant;

/// What inputs are made of and answers become.
pub use serde_json::Value as Json;

const PROTOCOL: i64 = 4;
const LINKS: u64 = 20_480;

thread_local! {
    static ALLOCATED: Slot<u64> = const { Slot::new(0) };
}

/// Counts what is asked for.
struct Counting;

unsafe impl GlobalAlloc for Counting {
    unsafe fn alloc(&self, layout: Layout) -> *mut u8 {
        ALLOCATED.with(|bytes| bytes.set(bytes.get() + layout.size() as u64));
        System.alloc(layout)
    }

    unsafe fn dealloc(&self, pointer: *mut u8, layout: Layout) {
        System.dealloc(pointer, layout)
    }

    unsafe fn alloc_zeroed(&self, layout: Layout) -> *mut u8 {
        ALLOCATED.with(|bytes| bytes.set(bytes.get() + layout.size() as u64));
        System.alloc_zeroed(layout)
    }

    unsafe fn realloc(&self, pointer: *mut u8, layout: Layout, size: usize) -> *mut u8 {
        ALLOCATED.with(|bytes| bytes.set(bytes.get() + size as u64));
        System.realloc(pointer, layout, size)
    }
}

#[global_allocator]
static COUNTING: Counting = Counting;

/// What an operation may answer.
pub trait Answer {
    /// How it comes back, in the words of the protocol.
    const RESULT: &'static str;

    /// Bits that are there only once all of it is.
    fn bits(&self) -> usize;

    /// One that hangs on a number alone: what the loop costs by itself is measured with it.
    fn of_bits(bits: usize) -> Self;

    /// The answer as JSON.
    fn json(&self) -> Value;
}

macro_rules! whole {
    ($($type:ty),*) => {$(
        impl Answer for $type {
            const RESULT: &'static str = "wholeNumber";
            #[inline(always)]
            fn bits(&self) -> usize { *self as usize }
            #[inline(always)]
            fn of_bits(bits: usize) -> Self { bits as $type }
            fn json(&self) -> Value { json!(*self) }
        }
    )*};
}

whole!(i64, u64, i32, u32, i16, u16, i8, u8, isize, usize);

macro_rules! number {
    ($($type:ty, $bits:ty);*) => {$(
        impl Answer for $type {
            const RESULT: &'static str = "floatingPoint";
            #[inline(always)]
            fn bits(&self) -> usize { self.to_bits() as usize }
            #[inline(always)]
            fn of_bits(bits: usize) -> Self { <$type>::from_bits(bits as $bits) }
            fn json(&self) -> Value {
                if self.is_nan() { json!("NaN") }
                else if self.is_infinite() { json!(if *self > 0.0 { "Infinity" } else { "-Infinity" }) }
                else { json!(*self) }
            }
        }
    )*};
}

number!(f64, u64; f32, u32);

impl Answer for bool {
    const RESULT: &'static str = "yesOrNo";
    #[inline(always)]
    fn bits(&self) -> usize {
        *self as usize
    }
    #[inline(always)]
    fn of_bits(bits: usize) -> Self {
        bits & 1 == 1
    }
    fn json(&self) -> Value {
        json!(*self)
    }
}

impl Answer for String {
    const RESULT: &'static str = "opaque";
    #[inline(always)]
    fn bits(&self) -> usize {
        opaque(self.as_ptr() as usize);
        self.len()
    }
    #[inline(always)]
    fn of_bits(_: usize) -> Self {
        String::new()
    }
    fn json(&self) -> Value {
        json!(self)
    }
}

impl<T: Answer> Answer for Vec<T> {
    const RESULT: &'static str = "opaque";
    #[inline(always)]
    fn bits(&self) -> usize {
        opaque(self.as_ptr() as usize);
        self.len()
    }
    #[inline(always)]
    fn of_bits(_: usize) -> Self {
        Vec::new()
    }
    fn json(&self) -> Value {
        Value::Array(self.iter().map(Answer::json).collect())
    }
}

/// What is handed in, which the compiler can no longer tell; whatever a pointer leads to may have been looked at.
#[cfg(any(target_arch = "x86_64", target_arch = "aarch64"))]
#[inline(always)]
fn opaque(mut bits: usize) -> usize {
    unsafe { asm!("/* {0} */", inout(reg) bits) };
    bits
}

#[cfg(not(any(target_arch = "x86_64", target_arch = "aarch64")))]
#[inline(always)]
fn opaque(bits: usize) -> usize {
    unsafe { std::ptr::read_volatile(&bits) }
}

/// The answer's bits, of which all are masked away, are part of the address of the next call's input: so that call cannot begin before
/// they are there, and no compiler can tell that it is the same input again.
#[inline(never)]
fn chained<Input, Output: Answer>(input: &Input, calls: u64, function: impl Fn(&Input) -> Output) {
    let base = input as *const Input as usize;
    let zero = opaque(0);
    let mut from = base;
    for _ in 0..calls {
        // The address is the input's, whatever the bits.
        let answer = function(unsafe { &*(from as *const Input) });
        from = base.wrapping_add(answer.bits() & zero);
    }
    opaque(from);
}

#[inline(never)]
fn overlapped<Input, Output: Answer>(input: &Input, calls: u64, function: impl Fn(&Input) -> Output) {
    for _ in 0..calls {
        // The address is the input's.
        opaque(function(unsafe { &*(opaque(input as *const Input as usize) as *const Input) }).bits());
    }
}

/// One function of a guest, as the kit calls it.
pub struct Operation<Input> {
    name: &'static str,
    result: &'static str,
    answer: Box<dyn Fn(&Input) -> Value>,
    loops: [Box<dyn Fn(&Input, u64)>; 4],
}

/// Makes an operation of a function, which is called by a loop of its own and may be put into it.
pub fn operation<Input: 'static, Output: Answer + 'static>(
    name: &'static str,
    function: impl Fn(&Input) -> Output + Copy + 'static,
) -> Operation<Input> {
    let nothing = |input: &Input| Output::of_bits(input as *const Input as usize);
    Operation {
        name,
        result: Output::RESULT,
        answer: Box::new(move |input| function(input).json()),
        loops: [
            Box::new(move |input, calls| chained(input, calls, function)),
            Box::new(move |input, calls| overlapped(input, calls, function)),
            Box::new(move |input, calls| chained(input, calls, nothing)),
            Box::new(move |input, calls| overlapped(input, calls, nothing)),
        ],
    }
}

#[repr(C)]
struct TimeSpec {
    seconds: i64,
    nanoseconds: i64,
}

extern "C" {
    fn clock_gettime(clock: i32, time: *mut TimeSpec) -> i32;
    fn dup(descriptor: i32) -> i32;
    fn dup2(descriptor: i32, onto: i32) -> i32;
    fn open(path: *const c_char, flags: i32) -> i32;
}

/// Processor time of this thread, in nanoseconds; none where the system does not tell.
fn processor() -> Option<i64> {
    const THREAD: i32 = if cfg!(target_os = "macos") { 16 } else { 3 };
    let mut time = TimeSpec { seconds: 0, nanoseconds: 0 };
    (unsafe { clock_gettime(THREAD, &mut time) } == 0).then_some(time.seconds * 1_000_000_000 + time.nanoseconds)
}

/// Sixteen links of the metronome: machine code, so that no two multiplications are folded into one.
#[cfg(target_arch = "x86_64")]
macro_rules! links {
    ($value:ident, $factor:ident, $($n:tt)*) => { unsafe { $( let _ = $n; asm!("imul {0}, {1}", inout(reg) $value, in(reg) $factor); )* } };
}

#[cfg(target_arch = "aarch64")]
macro_rules! links {
    ($value:ident, $factor:ident, $($n:tt)*) => { unsafe { $( let _ = $n; asm!("mul {0}, {0}, {1}", inout(reg) $value, in(reg) $factor); )* } };
}

#[cfg(not(any(target_arch = "x86_64", target_arch = "aarch64")))]
macro_rules! links {
    ($value:ident, $factor:ident, $($n:tt)*) => { $( let _ = $n; $value = opaque($value.wrapping_mul($factor) as usize) as u64; )* };
}

fn metronome(links: u64) {
    let factor = 0x9E37_79B9_7F4A_7C15u64;
    let mut value = 1u64;
    for _ in 0..links / 16 {
        links!(value, factor, 0 1 2 3 4 5 6 7 8 9 10 11 12 13 14 15);
    }
    opaque(value as usize);
}

/// Time of additions that fill the core, in thousandths of that of a chain that leaves most of it idle; none elsewhere.
#[cfg(target_arch = "x86_64")]
fn gauge() -> Option<i64> {
    let term = 0x9E37_79B9_7F4A_7C15u64;
    let (mut a, mut b, mut c, mut d, mut value) = (1u64, 2u64, 3u64, 4u64, 1u64);
    let start = Instant::now();
    for _ in 0..300 {
        macro_rules! steps {
            ($($n:tt)*) => { unsafe { $( let _ = $n; asm!(
                "add {0}, {4}", "add {1}, {4}", "add {2}, {4}", "add {3}, {4}", "xor {0}, {4}", "xor {1}, {4}", "xor {2}, {4}", "xor {3}, {4}",
                inout(reg) a, inout(reg) b, inout(reg) c, inout(reg) d, in(reg) term); )* } };
        }
        steps!(0 1 2 3 4 5);
    }
    let middle = Instant::now();
    for _ in 0..150 {
        links!(value, term, 0 1 2 3 4 5 6 7);
    }
    let end = Instant::now();
    opaque((a ^ b ^ c ^ d ^ value) as usize);
    Some((1_000 * (middle - start).as_nanos() / (end - middle).as_nanos().max(1)) as i64)
}

#[cfg(not(target_arch = "x86_64"))]
fn gauge() -> Option<i64> {
    None
}

struct Reading {
    elapsed: i64,
    processor: Option<i64>,
    allocated: u64,
}

fn take(calls: impl FnOnce()) -> Reading {
    let allocated = ALLOCATED.with(Slot::get);
    let busy = processor();
    let start = Instant::now();
    calls();
    let elapsed = start.elapsed().as_nanos() as i64;
    let processor = processor().zip(busy).map(|(after, before)| after - before);
    Reading { elapsed, processor, allocated: ALLOCATED.with(Slot::get) - allocated }
}

/// A request that cannot be answered: a code of JSON-RPC and a sentence.
struct Failed(i64, String);

type Replied = Result<Value, Failed>;

fn wrong(message: impl Into<String>) -> Failed {
    Failed(-32602, message.into())
}

fn whole_of(parameters: &Value, name: &str, beyond: u64) -> Result<u64, Failed> {
    match parameters[name].as_u64() {
        Some(value) if value < beyond => Ok(value),
        _ => Err(wrong(format!("{name} is {}; send a whole number from 0 to {}.", parameters[name], beyond - 1))),
    }
}

fn list_of<'a>(parameters: &'a Value, name: &str) -> Result<&'a Vec<Value>, Failed> {
    parameters[name].as_array().ok_or_else(|| wrong(format!("{name} is no array; send one.")))
}

fn panicked(reason: Box<dyn std::any::Any + Send>) -> String {
    let text = reason.downcast_ref::<&str>().map(|text| text.to_string());
    let text = text.or_else(|| reason.downcast_ref::<String>().cloned());
    format!("panicked: {}", text.unwrap_or_else(|| "it does not say why".to_string()))
}

struct Cell {
    operation: usize,
    which: usize,
    input: usize,
    is_metronome: bool,
    has_failed: bool,
    warmed: u64,
    per_reading: u64,
    first: i64,
    first_allocated: u64,
    last: f64,
    fastest: f64,
}

struct Worker<Input> {
    make: Box<dyn Fn(&Value) -> Option<Input>>,
    operations: Vec<Operation<Input>>,
    given: Vec<Option<Value>>,
    shared: Vec<Option<usize>>,
    inputs: Vec<Input>,
    cells: Vec<Cell>,
    start: Option<Instant>,
}

impl<Input> Worker<Input> {
    fn hello(&self) -> Value {
        json!({
            "protocol": PROTOCOL, "kit": "rust", "processId": std::process::id(),
            "environment": {
                "runtime": "Rust", "isOptimized": !cfg!(debug_assertions), "isAheadOfTime": true, "clockStepNanoseconds": 1,
                "architecture": if cfg!(target_arch = "x86_64") { "x64" } else if cfg!(target_arch = "aarch64") { "arm64" } else { "other" },
            },
        })
    }

    fn studies(&self) -> Value {
        let variants: Vec<Value> = self.operations.iter().map(|operation| json!({
            "name": operation.name, "variant": operation.name,
            "loop": { "path": "direct", "order": "chained", "supply": "same", "result": operation.result },
        })).collect();
        json!({ "studies": [{ "name": "guest", "agreement": "", "inputs": [], "variants": variants }] })
    }

    fn take(&mut self, parameters: &Value) -> Replied {
        for given in list_of(parameters, "inputs")? {
            let index = whole_of(given, "input", 1 << 20)? as usize;
            let value = match (given.get("value"), given["file"].as_str()) {
                (Some(value), _) => value.clone(),
                (None, Some(path)) => std::fs::read(path).ok().and_then(|text| serde_json::from_slice(&text).ok())
                    .ok_or_else(|| wrong(format!("The file of input {index} cannot be read as JSON.")))?,
                _ => return Err(wrong("An input has neither a value nor a file; send one of them.")),
            };
            if self.given.len() <= index {
                self.given.resize(index + 1, None);
                self.shared.resize(index + 1, None);
            }
            self.given[index] = Some(value);
            self.shared[index] = None;
        }
        Ok(json!({}))
    }

    fn find(&self, parameters: &Value) -> Result<(usize, usize), Failed> {
        let variant = whole_of(parameters, "variant", self.operations.len() as u64)? as usize;
        let input = whole_of(parameters, "input", 1 << 20)? as usize;
        match self.given.get(input) {
            Some(Some(_)) => Ok((variant, input)),
            _ => Err(wrong(format!("There is no input {input}; send it with \"take\" first."))),
        }
    }

    fn made(&self, input: usize) -> Result<Input, Failed> {
        let given = self.given[input].as_ref().expect("it was found");
        (self.make)(given).ok_or_else(|| Failed(-32000, "The guest could not make an input of what it was given.".to_string()))
    }

    fn check(&self, parameters: &Value) -> Replied {
        let (variant, input) = self.find(parameters)?;
        let made = self.made(input)?;
        Ok(match catch_unwind(AssertUnwindSafe(|| (self.operations[variant].answer)(&made))) {
            Ok(value) => json!({ "value": value }),
            Err(reason) => json!({ "failure": "threw", "reason": panicked(reason) }),
        })
    }

    fn open(&mut self, parameters: &Value) -> Replied {
        let asked = list_of(parameters, "cells")?;
        let mut cells = Vec::with_capacity(asked.len());
        for cell in asked {
            let mut own = Cell {
                operation: 0, which: 0, input: 0, is_metronome: cell["kind"] == "metronome", has_failed: false, warmed: 0, per_reading: 1,
                first: 0, first_allocated: 0, last: 0.0, fastest: 0.0,
            };
            if !own.is_metronome {
                let (variant, input) = self.find(cell)?;
                own.operation = variant;
                own.which = usize::from(cell["loop"]["order"] == "overlapped") + 2 * usize::from(cell["kind"] == "identity");
                // Cells of one input share it; a twin has its own.
                own.input = match self.shared[input] {
                    Some(shared) if cell["kind"] != "twin" => shared,
                    _ => {
                        let made = self.made(input)?;
                        self.inputs.push(made);
                        self.inputs.len() - 1
                    }
                };
                if cell["kind"] != "twin" {
                    self.shared[input] = Some(own.input);
                }
            }
            cells.push(own);
        }
        self.cells = cells;
        self.start = None;
        Ok(json!({ "cells": self.cells.len() }))
    }

    /// One batch of a cell, or why there is none.
    fn batch(&self, cell: &Cell, calls: u64) -> Result<Reading, String> {
        let (run, input) = (&self.operations[cell.operation].loops[cell.which], &self.inputs[cell.input]);
        catch_unwind(AssertUnwindSafe(|| take(|| run(input, calls)))).map_err(panicked)
    }

    /// Calls the cells in turn, about a millisecond each, until the time asked for is over. Whether they are warm is the tool's to say.
    fn warm(&mut self, parameters: &Value) -> Replied {
        let milliseconds = whole_of(parameters, "quietMilliseconds", 1 << 20)?;
        let length = whole_of(parameters, "readingNanoseconds", 1 << 30)?.max(1) as f64;
        if self.cells.is_empty() {
            return Err(Failed(-32600, "No sitting is open; send \"open\" first.".to_string()));
        }
        let begun = Instant::now();
        let start = *self.start.get_or_insert(begun);
        let (mut slices, mut failures, mut gauges) = (Vec::new(), Vec::new(), Vec::new());
        loop {
            for index in 0..self.cells.len() {
                let cell = &self.cells[index];
                if cell.has_failed {
                    continue;
                }
                let beat = take(|| metronome(LINKS)).elapsed as f64 / LINKS as f64;
                if cell.is_metronome {
                    let cell = &mut self.cells[index];
                    cell.fastest = if cell.warmed == 0 { beat } else { cell.fastest.min(beat) };
                    cell.warmed += LINKS;
                    cell.per_reading = LINKS;
                    continue;
                }
                let wanted = (1e6 / cell.last.max(0.1)).min(4.0 * cell.warmed as f64).max(1.0);
                let calls = if cell.warmed == 0 { 1 } else { wanted as u64 };
                let slice = match self.batch(cell, calls) {
                    Ok(slice) => slice,
                    Err(reason) => {
                        failures.push(json!({ "cell": index, "reason": reason }));
                        self.cells[index].has_failed = true;
                        continue;
                    }
                };
                let cell = &mut self.cells[index];
                cell.last = slice.elapsed as f64 / calls as f64;
                if cell.warmed == 0 {
                    (cell.first, cell.first_allocated, cell.fastest) = (slice.elapsed, slice.allocated, cell.last);
                }
                cell.fastest = cell.fastest.min(cell.last);
                cell.warmed += calls;
                cell.per_reading = (length / cell.fastest.max(0.1)).max(1.0) as u64;
                slices.push(json!([index, start.elapsed().as_secs_f64() * 1e3, calls, slice.elapsed, beat, slice.allocated]));
                gauges.extend(gauge());
            }
            if begun.elapsed().as_millis() as u64 >= milliseconds {
                break;
            }
        }
        let cells: Vec<Value> = self.cells.iter().enumerate().filter(|(_, cell)| !cell.has_failed).map(|(index, cell)| json!({
            "cell": index, "firstCallNanoseconds": cell.first, "firstCallAllocatedBytes": cell.first_allocated, "calls": cell.warmed,
            "nanosecondsPerCall": cell.fastest, "callsPerReading": cell.per_reading,
        })).collect();
        Ok(json!({
            "slices": slices, "elapsedMilliseconds": start.elapsed().as_secs_f64() * 1e3, "cells": cells, "failures": failures,
            "gauges": gauges,
        }))
    }

    fn read(&mut self, parameters: &Value) -> Replied {
        let most = whole_of(parameters, "readingsPerTurn", 1_000)?.max(1);
        let rounds = list_of(parameters, "rounds")?;
        if self.start.is_none() {
            return Err(Failed(-32600, "No sitting is warm; send \"open\" and \"warm\" first.".to_string()));
        }
        let own = whole_of(parameters, "metronome", self.cells.len() as u64)?;
        for round in rounds {
            whole_of(round, "round", 1 << 30)?;
            for cell in list_of(round, "cells")? {
                if !cell.as_u64().map_or(false, |index| index < self.cells.len() as u64) {
                    return Err(wrong(format!("A round names the cell {cell}, which was not opened.")));
                }
            }
        }
        let quiet = parameters["quietGauge"].as_i64().unwrap_or(0);
        let (mut readings, mut failures, mut gauges) = (Vec::new(), Vec::new(), Vec::new());
        for round in rounds {
            let first = round["firstPlace"].as_u64().unwrap_or(0);
            for (turn, cell) in list_of(round, "cells")?.iter().enumerate() {
                let index = cell.as_u64().expect("it was looked at") as usize;
                let place = first + turn as u64;
                // The first links after somebody else's turn are cold, and are thrown away.
                take(|| metronome(LINKS / 16));
                let beat = take(|| metronome(LINKS));
                readings.push(json!([round["round"], place, own, LINKS, beat.elapsed, beat.processor]));
                if let Err(reason) = self.turn(index, &round["round"], place, (most, quiet), &mut readings, &mut gauges) {
                    self.cells[index].has_failed = true;
                    failures.push(json!({ "cell": index, "reason": reason }));
                }
            }
        }
        Ok(json!({ "readings": readings, "gauges": gauges, "isPinned": false, "failures": failures }))
    }

    /// A turn: a few calls thrown away, then the readings, each between two gauges, until there are enough or three are quiet.
    fn turn(
        &self, index: usize, round: &Value, place: u64, (most, quiet_gauge): (u64, i64), readings: &mut Vec<Value>, gauges: &mut Vec<Value>,
    ) -> Result<(), String> {
        let cell = &self.cells[index];
        if cell.is_metronome || cell.has_failed {
            return Ok(());
        }
        let per_call = cell.fastest.max(0.1);
        let thrown = (20_000.0 / per_call).ceil().max(8.0);
        let thrown = if thrown * per_call <= 60_000.0 { thrown } else { (60_000.0 / per_call).floor() };
        if thrown >= 1.0 {
            self.batch(cell, thrown as u64)?;
        }
        let length = per_call * cell.per_reading as f64;
        let count = if length <= 1e6 { most } else if length <= 1e7 { most.min(3) } else { 1 };
        let mut turn = vec![round.clone(), json!(place), json!(-1)];
        let (mut before, mut quiet) = (gauge(), 0);
        for _ in 0..count {
            let one = self.batch(cell, cell.per_reading)?;
            let after = gauge();
            readings.push(json!([round, place, index, cell.per_reading, one.elapsed, one.processor, one.allocated]));
            turn.extend(before.iter().chain(&after).map(|gauge| json!(gauge)));
            quiet += usize::from(before.max(after).map_or(false, |gauge| gauge <= quiet_gauge));
            if quiet == 3 {
                break;
            }
            before = after;
        }
        if before.is_some() {
            gauges.push(Value::Array(turn));
        }
        Ok(())
    }

    fn dispatch(&mut self, method: &str, parameters: &Value) -> Replied {
        match method {
            "hello" => Ok(self.hello()),
            "studies" => Ok(self.studies()),
            "inspect" => Ok(json!({ "mistakes": [] })),
            "take" => self.take(parameters),
            "check" => self.check(parameters),
            "open" => self.open(parameters),
            "warm" => self.warm(parameters),
            "read" => self.read(parameters),
            "bye" => Ok(json!({})),
            _ => Err(Failed(-32601, format!("No method is named \"{method}\"."))),
        }
    }
}

/// Answers the tool until it takes its leave.
///
/// `make` makes an input of JSON, called outside the timing; none says that it cannot.
pub fn serve<Input: 'static>(make: impl Fn(&Value) -> Option<Input> + 'static, operations: Vec<Operation<Input>>) {
    if std::env::var_os("TACHYSCOPE_WORKER").is_none() {
        eprintln!("This program is a guest: it is started by tachyscope run, or looked at by tachyscope guest.");
        std::process::exit(2);
    }
    // What the guest prints goes to standard error, and what it reads is empty.
    let (requests, mut replies) = unsafe {
        let (requests, replies) = (std::fs::File::from_raw_fd(dup(0)), std::fs::File::from_raw_fd(dup(1)));
        dup2(open(b"/dev/null\0".as_ptr() as *const c_char, 0), 0);
        dup2(2, 1);
        (requests, replies)
    };
    // Inputs stay where they are while more are made.
    let mut worker = Worker {
        make: Box::new(make), operations, given: Vec::new(), shared: Vec::new(), inputs: Vec::new(), cells: Vec::new(), start: None,
    };
    for line in std::io::BufReader::new(requests).split(b'\n').map_while(Result::ok) {
        if line.iter().all(u8::is_ascii_whitespace) {
            continue;
        }
        let request: Result<Value, _> = serde_json::from_slice(&line);
        let id = request.as_ref().map_or(Value::Null, |request| request["id"].clone());
        let method = request.as_ref().ok().and_then(|request| request["method"].as_str()).unwrap_or("").to_string();
        let replied = match &request {
            Err(_) => Err(Failed(-32700, "The line is no JSON.".to_string())),
            Ok(request) if !request["method"].is_string() => Err(Failed(-32600, "The line is no request.".to_string())),
            Ok(request) => worker.dispatch(&method, &request["params"]),
        };
        let reply = match replied {
            Ok(result) => json!({ "jsonrpc": "2.0", "id": id, "result": result }),
            Err(Failed(code, message)) => json!({ "jsonrpc": "2.0", "id": id, "error": { "code": code, "message": message } }),
        };
        if writeln!(replies, "{reply}").and_then(|()| replies.flush()).is_err() || method == "bye" {
            return;
        }
    }
}
