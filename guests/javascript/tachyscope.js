// The kit for guests in JavaScript: a worker of the protocol that docs/protocol.md describes, in one module.
//
// A guest makes an input of JSON, works on it, and says so:
//
//     const tachyscope = require('tachyscope');
//
//     function highest(levels) { return Math.max(...levels); }
//
//     tachyscope.serve([highest]);
//
// Node, of which 20 was tried; nothing but what comes with it.
'use strict';

const fs = require('fs');

const PROTOCOL = 4;
const LINKS = 20480;

class RequestError extends Error {
  constructor(code, message) {
    super(message);
    this.code = code;
  }
}

const now = () => Number(process.hrtime.bigint());

// Zero, in memory, where the engine does not take it for a constant.
const zero = new Int32Array(1);
const kept = { last: undefined };

// How much of an answer the next call waits for: it takes its input from a place that the answer is part of. What is no number, text or
// answer of yes or no is kept where the engine cannot see that nobody looks.
const waits = { number: 'answer & zero', boolean: 'answer ? zero : 0', string: 'answer.length & zero' };

// A loop of its own for each cell, since the engine optimises a loop for what it calls there. The empty one takes an answer of that kind
// from memory.
function loopAround(operation, answered, isEmpty) {
  const kind = typeof answered;
  const next = waits[kind] || '0';
  const call = isEmpty ? 'answers[at]' : 'operation(inputs[at])';
  const answers = kind !== 'number' ? [answered] : Number.isInteger(answered) && Math.abs(answered) < 2 ** 31
    ? new Int32Array([answered]) : new Float64Array([answered]);
  return new Function('operation', 'answers', 'zeros', 'kept', `return function loop(inputs, calls) {
    const zero = zeros[0];
    let answer, at = 0;
    for (let call = 0; call < calls; call++) {
      answer = ${call};
      ${waits[kind] ? '' : 'kept.last = answer;'}
      at = ${next};
    }
    kept.last = answer;
  }`)(operation, answers, zero, kept);
}

// In memory, where the engine takes neither for a constant that multiplications could be folded with.
const factor = new Int32Array([0x7f4a7c15, 1]);

// Whole numbers of 32 bits: three clock cycles a link, as with 64.
function metronome(_, links) {
  const by = factor[0];
  let product = factor[1];
  for (let left = links; left > 0; left -= 8) {
    product = Math.imul(product, by);
    product = Math.imul(product, by);
    product = Math.imul(product, by);
    product = Math.imul(product, by);
    product = Math.imul(product, by);
    product = Math.imul(product, by);
    product = Math.imul(product, by);
    product = Math.imul(product, by);
  }
  factor[1] = product | 1;
}

function take(loop, input, calls) {
  const start = now();
  loop(input, calls);
  return { elapsed: now() - start };
}

// An answer as JSON has it: what is no number of JSON's is a text.
function written(answer) {
  if (typeof answer === 'number' && !Number.isFinite(answer)) return String(answer);
  if (typeof answer === 'bigint') {
    if (BigInt(Number(answer)) !== answer) throw new RequestError(-32000, `The answer ${answer} is more than a number of JavaScript holds.`);
    return Number(answer);
  }
  if (ArrayBuffer.isView(answer)) return Array.from(answer, written);
  if (Array.isArray(answer)) return answer.map(written);
  if (answer && typeof answer === 'object' && !answer.toJSON) {
    return Object.fromEntries(Object.entries(answer).map(([name, item]) => [name, written(item)]));
  }
  return answer === undefined ? null : answer;
}

function whole(parameters, name, least, beyond) {
  const found = parameters && parameters[name];
  if (!Number.isInteger(found) || found < least || found >= beyond) {
    throw new RequestError(-32602, `${name} is ${JSON.stringify(found)}; send a whole number from ${least} to ${beyond - 1}.`);
  }
  return found;
}

function list(parameters, name) {
  const found = parameters && parameters[name];
  if (!Array.isArray(found)) throw new RequestError(-32602, `${name} is no array; send one.`);
  return found;
}

const threw = (error) => `threw ${error && error.name ? `${error.name}: ${error.message}` : String(error)}`;

class Worker {
  constructor(operations, make) {
    Object.assign(this, { operations, make, given: new Map(), made: new Map(), cells: [], warmStart: null });
  }

  hello() {
    return {
      protocol: PROTOCOL,
      kit: 'javascript',
      processId: process.pid,
      isAllocationTold: false,
      environment: {
        runtime: `Node ${process.versions.node}, V8 ${process.versions.v8}`,
        architecture: process.arch,
        isOptimized: true,
        clockStepNanoseconds: 1,
      },
    };
  }

  studies() {
    const loop = { path: 'delegate', order: 'chained', supply: 'same', result: 'opaque' };
    const variants = this.operations.map((operation) => ({ name: operation.name, variant: operation.name, loop }));
    return { studies: [{ name: 'guest', agreement: '', inputs: [], variants }] };
  }

  inspect() {
    return { mistakes: [] };
  }

  take(parameters) {
    for (const given of list(parameters, 'inputs')) {
      const index = whole(given, 'input', 0, 1 << 20);
      if (given.value === undefined && typeof given.file !== 'string') {
        throw new RequestError(-32602, 'An input has neither a value nor a file; send one of them.');
      }
      this.given.set(index, given.value === undefined ? JSON.parse(fs.readFileSync(given.file, 'utf8')) : given.value);
      this.made.delete(index);
    }
    return {};
  }

  found(parameters) {
    const variant = whole(parameters, 'variant', 0, this.operations.length);
    const index = whole(parameters, 'input', 0, 1 << 20);
    if (!this.given.has(index)) throw new RequestError(-32602, `There is no input ${index}; send it with "take" first.`);
    return { operation: this.operations[variant], index };
  }

  check(parameters) {
    const { operation, index } = this.found(parameters);
    try {
      return { value: written(operation(this.make(this.given.get(index)))) };
    } catch (error) {
      if (error instanceof RequestError) throw error;
      return { failure: 'threw', reason: threw(error) };
    }
  }

  open(parameters) {
    const cells = list(parameters, 'cells').map((cell) => {
      if (cell && cell.kind === 'metronome') return { loop: metronome, isMetronome: true, warmed: 0 };
      const { operation, index } = this.found(cell);
      // Cells of one input share it; a twin has its own.
      if (!this.made.has(index)) this.made.set(index, this.make(this.given.get(index)));
      const input = cell.kind === 'twin' ? this.make(this.given.get(index)) : this.made.get(index);
      const loop = loopAround(operation, operation(input), cell.kind === 'identity');
      return { loop, input: [input], warmed: 0, first: 0, last: 0, fastest: 0, perReading: 1 };
    });
    this.cells = cells;
    this.warmStart = null;
    return { cells: cells.length };
  }

  // Calls the cells in turn, about a millisecond each, until the time asked for is over. Whether they are warm is the tool's to say.
  warm(parameters) {
    if (this.cells.length === 0) throw new RequestError(-32600, 'No sitting is open; send "open" first.');
    const milliseconds = whole(parameters, 'quietMilliseconds', 0, 1 << 20);
    const reading = whole(parameters, 'readingNanoseconds', 1, 1 << 30);
    const begun = now();
    this.warmStart = this.warmStart || begun;
    const slices = [];
    const failures = [];
    let at = begun;
    do {
      this.cells.forEach((cell, index) => {
        if (cell.hasFailed) return;
        const beat = take(metronome, null, LINKS).elapsed / LINKS;
        if (cell.isMetronome) {
          cell.warmed += LINKS;
          cell.fastest = Math.min(cell.fastest || beat, beat);
          cell.perReading = LINKS;
          return;
        }
        const calls = cell.warmed === 0 ? 1 : Math.max(1, Math.min(4 * cell.warmed, Math.floor(1e6 / Math.max(cell.last, 0.1))));
        let slice;
        try {
          slice = take(cell.loop, cell.input, calls);
        } catch (error) {
          failures.push({ cell: index, reason: threw(error) });
          cell.hasFailed = true;
          return;
        }
        at = now();
        cell.last = slice.elapsed / calls;
        if (cell.warmed === 0) cell.first = slice.elapsed;
        cell.fastest = cell.warmed === 0 ? cell.last : Math.min(cell.fastest, cell.last);
        cell.warmed += calls;
        cell.perReading = Math.max(1, Math.floor(reading / Math.max(cell.fastest, 0.1)));
        slices.push([index, (at - this.warmStart) * 1e-6, calls, slice.elapsed, beat, null]);
      });
      at = now();
    } while (at - begun < milliseconds * 1e6);
    const cells = this.cells.map((cell, index) => ({ cell, index })).filter(({ cell }) => !cell.hasFailed).map(({ cell, index }) => ({
      cell: index,
      firstCallNanoseconds: cell.first || 0,
      calls: cell.warmed,
      nanosecondsPerCall: cell.fastest,
      callsPerReading: cell.perReading,
    }));
    return { slices, elapsedMilliseconds: (at - this.warmStart) * 1e-6, cells, failures };
  }

  read(parameters) {
    if (this.cells.length === 0 || this.warmStart === null) {
      throw new RequestError(-32600, 'No sitting is warm; send "open" and "warm" first.');
    }
    const most = whole(parameters, 'readingsPerTurn', 1, 1000);
    const own = whole(parameters, 'metronome', 0, this.cells.length);
    const rounds = list(parameters, 'rounds');
    for (const round of rounds) {
      whole(round, 'round', 0, 1 << 30);
      for (const index of list(round, 'cells')) {
        if (!Number.isInteger(index) || index < 0 || index >= this.cells.length) {
          throw new RequestError(-32602, `A round names the cell ${JSON.stringify(index)}, which was not opened.`);
        }
      }
    }
    const taken = { own, most, readings: [] };
    const failures = [];
    for (const round of rounds) {
      round.cells.forEach((index, turn) => {
        try {
          this.turn(index, round.round, (round.firstPlace || 0) + turn, taken);
        } catch (error) {
          this.cells[index].hasFailed = true;
          failures.push({ cell: index, reason: threw(error) });
        }
      });
    }
    return { readings: taken.readings, isPinned: false, failures };
  }

  // A turn: the metronome once, a few calls thrown away, then the readings.
  turn(index, round, place, taken) {
    const cell = this.cells[index];
    // The first links after somebody else's turn are cold, and are thrown away.
    take(metronome, null, LINKS / 16);
    const beat = take(metronome, null, LINKS);
    taken.readings.push([round, place, taken.own, LINKS, beat.elapsed, null, null]);
    if (cell.isMetronome || cell.hasFailed) return;
    const perCall = Math.max(cell.fastest, 0.1);
    let thrown = Math.max(8, Math.ceil(20000 / perCall));
    if (thrown * perCall > 60000) thrown = Math.floor(60000 / perCall);
    if (thrown > 0) cell.loop(cell.input, thrown);
    const length = perCall * cell.perReading;
    const count = length <= 1e6 ? taken.most : length <= 1e7 ? Math.min(taken.most, 3) : 1;
    for (let reading = 0; reading < count; reading++) {
      const { elapsed } = take(cell.loop, cell.input, cell.perReading);
      taken.readings.push([round, place, index, cell.perReading, elapsed, null, null]);
    }
  }

  bye() {
    return {};
  }
}

const METHODS = ['hello', 'studies', 'inspect', 'take', 'check', 'open', 'warm', 'read', 'bye'];

function answered(worker, line) {
  let id = null;
  try {
    let request;
    try {
      request = JSON.parse(line);
    } catch {
      throw new RequestError(-32700, 'The line is no JSON.');
    }
    if (request && typeof request === 'object' && request.id !== undefined) id = request.id;
    if (!request || typeof request.method !== 'string') throw new RequestError(-32600, 'The line is no request.');
    if (!METHODS.includes(request.method)) throw new RequestError(-32601, `No method is named ${JSON.stringify(request.method)}.`);
    return { jsonrpc: '2.0', id, result: worker[request.method](request.params) };
  } catch (error) {
    return { jsonrpc: '2.0', id, error: { code: error instanceof RequestError ? error.code : -32000, message: String(error.message || error) } };
  }
}

// Lines of a file descriptor, read as they come.
function* linesOf(descriptor) {
  const chunk = Buffer.alloc(65536);
  let parts = [];
  for (;;) {
    let count;
    try {
      count = fs.readSync(descriptor, chunk);
    } catch (error) {
      if (error.code === 'EAGAIN') {
        Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 1);
        continue;
      }
      if (error.code === 'EOF') return;
      throw error;
    }
    if (count === 0) return;
    let from = 0;
    for (let end = chunk.indexOf(10, from); end >= 0 && end < count; end = chunk.indexOf(10, from)) {
      parts.push(Buffer.from(chunk.subarray(from, end)));
      yield Buffer.concat(parts).toString('utf8');
      parts = [];
      from = end + 1;
    }
    parts.push(Buffer.from(chunk.subarray(from, count)));
  }
}

// Answers the tool until it takes its leave.
// operations: functions that take an input and answer; each is measured under its name.
// make: makes an input of JSON, called outside the timing; by default the operations get the JSON as it is read.
function serve(operations, make = (json) => json) {
  if (process.env.TACHYSCOPE_WORKER === undefined) {
    process.stderr.write('This program is a guest: it is started by tachyscope run, or looked at by tachyscope guest.\n');
    process.exit(2);
  }
  // What the guest prints goes to standard error.
  process.stdout.write = process.stderr.write.bind(process.stderr);
  const worker = new Worker(operations, make);
  // The metronome before anything: the engine has it optimised when the first reading needs it.
  for (let reading = 0; reading < 50; reading++) metronome(null, LINKS);
  for (const line of linesOf(0)) {
    if (line.trim().length === 0) continue;
    const reply = answered(worker, line);
    const text = Buffer.from(`${JSON.stringify(reply)}\n`, 'utf8');
    for (let sent = 0; sent < text.length;) {
      try {
        sent += fs.writeSync(1, text, sent);
      } catch (error) {
        if (error.code !== 'EAGAIN') return;
        Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 1);
      }
    }
    if (line.includes('"bye"') && reply.result && JSON.parse(line).method === 'bye') return;
  }
}

module.exports = { serve };
