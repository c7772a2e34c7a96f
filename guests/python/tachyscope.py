"""The kit for guests in Python: a worker of the protocol that docs/protocol.md describes, in one module.

A guest makes an input of JSON, works on it, and says so:

    import tachyscope

    def highest(levels):
        return max(levels)

    tachyscope.serve(highest)

Python 3.8 or newer, PyPy too; nothing but the standard library.
"""

import json
import math
import os
import platform
import sys
import time

PROTOCOL = 4

_now = time.perf_counter_ns
_processor = getattr(time, "thread_time_ns", time.process_time_ns)


class RequestError(Exception):
    """A request that cannot be answered: a code of JSON-RPC and a sentence."""

    def __init__(self, code, message):
        super().__init__(message)
        self.code = code


def _identity(value):
    return value


# Straight from one call to the next: what is called cannot be told from what was called before, and nothing is kept of an answer.
# Eight calls a turn of the loop, so that the loop itself is little of it.
def _call(function, value, calls):
    for _ in range(calls >> 3):
        function(value)
        function(value)
        function(value)
        function(value)
        function(value)
        function(value)
        function(value)
        function(value)
    for _ in range(calls & 7):
        function(value)


def _written(answer):
    """An answer as JSON has it: what is no number of JSON's is a text."""
    if isinstance(answer, float) and not math.isfinite(answer):
        return "NaN" if math.isnan(answer) else "Infinity" if answer > 0 else "-Infinity"
    if isinstance(answer, (list, tuple)):
        return [_written(item) for item in answer]
    if isinstance(answer, dict):
        return {name: _written(item) for name, item in answer.items()}
    return answer


def _whole(parameters, name, least, beyond, usual=None):
    value = parameters.get(name, usual) if isinstance(parameters, dict) else None
    if isinstance(value, bool) or not isinstance(value, int) or not least <= value < beyond:
        raise RequestError(-32602, f"{name} is {json.dumps(value)}; send a whole number from {least} to {beyond - 1}.")
    return value


def _list(parameters, name):
    value = parameters.get(name) if isinstance(parameters, dict) else None
    if not isinstance(value, list):
        raise RequestError(-32602, f"{name} is no array; send one.")
    return value


class _Cell:
    def __init__(self, function, value):
        self.function = function
        self.value = value
        self.is_metronome = function is None
        self.warmed = 0
        self.first = 0
        self.last = self.fastest = 0.0
        self.per_reading = 1

    def take(self, calls):
        processor = _processor()
        start = _now()
        _call(self.function, self.value, calls)
        elapsed = _now() - start
        return elapsed, _processor() - processor


class _Worker:
    def __init__(self, make, operations):
        self.make = make
        self.operations = operations
        self.given = {}
        self.made = {}
        self.cells = []
        self.warm_start = None

    def hello(self, _):
        return {
            "protocol": PROTOCOL,
            "kit": "python",
            "processId": os.getpid(),
            # The interpreter counts blocks and not bytes, and has no counter that costs nothing.
            "isAllocationTold": False,
            "environment": {
                "runtime": f"{platform.python_implementation()} {platform.python_version()}",
                "architecture": {"x86_64": "x64", "AMD64": "x64", "aarch64": "arm64"}.get(platform.machine(), platform.machine()),
                "isOptimized": True,
                "clockStepNanoseconds": time.get_clock_info("perf_counter").resolution * 1e9,
            },
        }

    def studies(self, _):
        loop = {"path": "interpreted", "order": "chained", "supply": "same", "result": "opaque"}
        return {
            "studies": [{
                "name": "guest",
                "agreement": "",
                "inputs": [],
                "variants": [{"name": function.__name__, "variant": function.__name__, "loop": loop} for function in self.operations],
            }]
        }

    def inspect(self, _):
        return {"mistakes": []}

    def take(self, parameters):
        for given in _list(parameters, "inputs"):
            index = _whole(given, "input", 0, 1 << 20)
            if "file" in given:
                with open(given["file"], encoding="utf-8") as file:
                    self.given[index] = json.load(file)
            elif "value" in given:
                self.given[index] = given["value"]
            else:
                raise RequestError(-32602, "An input has neither a value nor a file; send one of them.")
            self.made.pop(index, None)
        return {}

    def _found(self, parameters):
        variant = _whole(parameters, "variant", 0, len(self.operations))
        index = _whole(parameters, "input", 0, 1 << 20)
        if index not in self.given:
            raise RequestError(-32602, f"There is no input {index}; send it with \"take\" first.")
        return self.operations[variant], index

    def check(self, parameters):
        function, index = self._found(parameters)
        try:
            return {"value": _written(function(self.make(self.given[index])))}
        except Exception as exception:  # whatever the guest throws is the finding
            return {"failure": "threw", "reason": f"threw {type(exception).__name__}: {exception}"}

    def open(self, parameters):
        cells = []
        for cell in _list(parameters, "cells"):
            kind = cell.get("kind") if isinstance(cell, dict) else None
            if kind == "metronome":
                cells.append(_Cell(None, None))
                continue
            function, index = self._found(cell)
            # Cells of one input share it; a twin has its own.
            if kind == "twin":
                value = self.make(self.given[index])
            elif index in self.made:
                value = self.made[index]
            else:
                value = self.made[index] = self.make(self.given[index])
            cells.append(_Cell(_identity if kind == "identity" else function, value))
        self.cells = cells
        self.warm_start = None
        return {"cells": len(cells)}

    # Calls the cells in turn, about a millisecond each, until the time asked for is over. Whether they are warm is the tool's to say.
    def warm(self, parameters):
        if not self.cells:
            raise RequestError(-32600, "No sitting is open; send \"open\" first.")
        milliseconds = _whole(parameters, "quietMilliseconds", 0, 1 << 20)
        reading = _whole(parameters, "readingNanoseconds", 1, 1 << 30)
        begun = now = _now()
        self.warm_start = self.warm_start or begun
        slices, failures = [], []
        while True:
            for index, cell in enumerate(self.cells):
                if cell.is_metronome:
                    continue
                calls = 1 if cell.warmed == 0 else max(1, min(4 * cell.warmed, int(1e6 / max(cell.last, 0.1))))
                try:
                    elapsed, _ = cell.take(calls)
                except Exception as exception:
                    failures.append({"cell": index, "reason": f"threw {type(exception).__name__}: {exception}"})
                    cell.is_metronome = True
                    continue
                now = _now()
                cell.last = elapsed / calls
                if cell.warmed == 0:
                    cell.first, cell.fastest = elapsed, cell.last
                cell.fastest = min(cell.fastest, cell.last)
                cell.warmed += calls
                cell.per_reading = max(1, int(reading / max(cell.fastest, 0.1)))
                slices.append([index, (now - self.warm_start) * 1e-6, calls, elapsed, 0, None])
            now = _now()
            if now - begun >= milliseconds * 1_000_000:
                break
        warmed = [{
            "cell": index,
            "firstCallNanoseconds": cell.first,
            "calls": cell.warmed,
            "nanosecondsPerCall": cell.fastest,
            "callsPerReading": cell.per_reading,
        } for index, cell in enumerate(self.cells) if not cell.is_metronome]
        return {"slices": slices, "elapsedMilliseconds": (now - self.warm_start) * 1e-6, "cells": warmed, "failures": failures}

    def read(self, parameters):
        if not self.cells or self.warm_start is None:
            raise RequestError(-32600, "No sitting is warm; send \"open\" and \"warm\" first.")
        most = _whole(parameters, "readingsPerTurn", 1, 1000)
        rounds = _list(parameters, "rounds")
        for turn in rounds:
            _whole(turn, "round", 0, 1 << 30)
            for index in _list(turn, "cells"):
                if isinstance(index, bool) or not isinstance(index, int) or not 0 <= index < len(self.cells):
                    raise RequestError(-32602, f"A round names the cell {json.dumps(index)}, which was not opened.")
        readings, failures = [], []
        for turn in rounds:
            for place, index in enumerate(turn["cells"], turn.get("firstPlace", 0)):
                try:
                    readings += self._turn(self.cells[index], index, turn["round"], place, most)
                except Exception as exception:
                    failures.append({"cell": index, "reason": f"threw {type(exception).__name__}: {exception}"})
        return {"readings": readings, "isPinned": False, "failures": failures}

    # A turn: a few calls thrown away, then the readings.
    @staticmethod
    def _turn(cell, index, number, place, most):
        if cell.is_metronome:
            return []
        per_call = max(cell.fastest, 0.1)
        thrown = max(8, math.ceil(20_000 / per_call))
        thrown = thrown if thrown * per_call <= 60_000 else int(60_000 / per_call)
        if thrown > 0:
            _call(cell.function, cell.value, thrown)
        length = per_call * cell.per_reading
        count = most if length <= 1e6 else min(most, 3) if length <= 1e7 else 1
        readings = []
        for _ in range(count):
            elapsed, processor = cell.take(cell.per_reading)
            readings.append([number, place, index, cell.per_reading, elapsed, processor, None])
        return readings

    def bye(self, _):
        return {}


_METHODS = ("hello", "studies", "inspect", "take", "check", "open", "warm", "read", "bye")


def _answered(worker, line):
    """The reply to a line, and whether it is the last."""
    request, number = None, None
    try:
        try:
            request = json.loads(line)
        except (ValueError, RecursionError):
            raise RequestError(-32700, "The line is no JSON.") from None
        number = request.get("id") if isinstance(request, dict) else None
        if not isinstance(request, dict) or not isinstance(request.get("method"), str):
            raise RequestError(-32600, "The line is no request.")
        if request["method"] not in _METHODS:
            raise RequestError(-32601, f"No method is named {json.dumps(request['method'])}.")
        result = getattr(worker, request["method"])(request.get("params"))
        return {"jsonrpc": "2.0", "id": number, "result": result}, request["method"] == "bye"
    except RequestError as error:
        return {"jsonrpc": "2.0", "id": number, "error": {"code": error.code, "message": str(error)}}, False
    except Exception as exception:  # the guest's make, or what it answered cannot be written
        message = f"{type(exception).__name__}: {exception}"
        return {"jsonrpc": "2.0", "id": number, "error": {"code": -32000, "message": message}}, False


def serve(*operations, make=_identity):
    """Answers the tool until it takes its leave.

    operations: functions that take an input and answer; each is measured under its name.
    make: makes an input of JSON, called outside the timing; by default the operations get the JSON as it is read.
    """
    if "TACHYSCOPE_WORKER" not in os.environ:
        sys.exit("This program is a guest: it is started by tachyscope run, or looked at by tachyscope guest.")
    # What the guest prints goes to standard error, and what it reads is empty.
    requests = os.fdopen(os.dup(0), "r", encoding="utf-8", errors="replace")
    replies = os.fdopen(os.dup(1), "w", encoding="utf-8")
    nothing = os.open(os.devnull, os.O_RDONLY)
    os.dup2(nothing, 0)
    os.dup2(2, 1)
    worker = _Worker(make, operations)
    for line in requests:
        if not line.strip():
            continue
        reply, is_last = _answered(worker, line)
        try:
            text = json.dumps(reply, allow_nan=False)
        except (TypeError, ValueError) as exception:
            error = {"code": -32000, "message": f"What it answered cannot be written as JSON: {exception}"}
            text = json.dumps({"jsonrpc": "2.0", "id": reply["id"], "error": error})
        replies.write(text + "\n")
        replies.flush()
        if is_last:
            return
