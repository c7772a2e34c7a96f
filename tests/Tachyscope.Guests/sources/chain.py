"""Chains of multiplications; an interpreter takes many times a multiplication for each."""

import tachyscope

FACTOR = 0x7F4A7C15
MASK = (1 << 64) - 1


def chain(start, links):
    value = start
    for _ in range(links):
        value = value * FACTOR & MASK
    return value


def chain64(given):
    return chain(given["start"], 64)


def chain256(given):
    return chain(given["start"], 256)


tachyscope.serve(chain64, chain256)
