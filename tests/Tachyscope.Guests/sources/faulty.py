"""A guest that does what FAULT names, and adds up otherwise."""

import math
import os
import signal
import subprocess
import sys
import time

import tachyscope

FAULT = os.environ.get("FAULT", "sound")

if FAULT == "version":
    sys.exit("this guest needs Python 3.99")


def add(levels):
    if FAULT == "throws":
        raise ValueError("the gauge is dry")
    return {"wrong": -1, "nan": math.nan, "huge": 10 ** 400, "text": "many"}.get(FAULT, sum(levels))


def twice(levels):
    return 2 * sum(levels)


usual = tachyscope._answered


def answered(worker, line):
    if FAULT in ("never", "late") and '"check"' in line:
        time.sleep(3600 if FAULT == "never" else 9)
    if FAULT == "killed" and '"warm"' in line:
        os.kill(os.getpid(), signal.SIGKILL)
    if FAULT == "stops" and '"read"' in line:
        time.sleep(3600)
    if FAULT == "leaves" and '"read"' in line:
        os._exit(7)
    if FAULT == "forks" and '"warm"' in line:
        subprocess.Popen(["sleep", "600"])
    if FAULT == "much" and '"check"' in line:
        os.write(REPLIES, b"{")
        for _ in range(1024):
            os.write(REPLIES, b"x" * (1 << 20))
        os.write(REPLIES, b"\n")
    if FAULT == "chatter":
        os.write(REPLIES, b"the lamp is lit\n{\"jsonrpc\":\"2.0\",\"id\":0,\"result\":{}}\n")
    if FAULT == "rubbish" and '"read"' in line:
        reply, is_last = usual(worker, line)
        reply["result"]["readings"] = [[0, 0, 0, -5, "soon"]]
        return reply, is_last
    if FAULT == "elsewhere" and '"read"' in line:
        reply, is_last = usual(worker, line)
        for reading in reply["result"]["readings"]:
            reading[0] += 1
        return reply, is_last
    reply, is_last = usual(worker, line)
    if FAULT == "order" and '"check"' in line:
        reply["id"] -= 1
    if FAULT == "deaf":
        signal.signal(signal.SIGTERM, signal.SIG_IGN)
        is_last = False
    return reply, is_last


# Where replies go once the kit has taken standard output away.
REPLIES = os.dup(1)
tachyscope._answered = answered
tachyscope.serve(add, twice)
while FAULT == "deaf":
    time.sleep(1)
