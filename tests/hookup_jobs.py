"""Hook-up jobs out of a line, for the tests of the search: the file that a person would write, read."""

from __future__ import annotations

import json

from electrics.job.hookup_file import read_job
from electrics.vocabulary import parse_state

REAR = ("tail", "stop", "turn_left", "turn_right", "reverse")
CHAINS = [
    ("own_switch and ignition and not reverse", "and-1-and_not"),
    ("tail or reverse or own_switch", "three_diodes"),
    ("stop and not (reverse or tail)", "and_not-1-diode_or"),
    ("over(turn_left, tail or drl)", "converter-1-diode_or"),
    ("over(turn_left, stop) and tail", "and-1-held_open"),
]
"""Wishes that no single network gives, and the chain that does with the fewest parts."""
COMBINED = ("tail", "stop_turn_left", "stop_turn_right", "reverse")


def job(functions, arrangement="separate", *, computer_fed=False, variants=None, **more):
    known = variants or {}
    sources = [
        {"name": f, "function": f, "computer_fed": computer_fed} | ({"variant": known[f]} if f in known else {})
        for f in functions
    ]
    document = {"format": "hailstone-hookup", "version": 1, "arrangement": arrangement, "sources": sources}
    return read_job(json.dumps({**document, **more}))


def judged(found, lead=0, *, at_least=0):
    return found.judged(found.leads[lead], at_least=at_least)


def tried(found, key, lead=0):
    """One candidate on the circuit, whatever logic says of it."""
    own = found.leads[lead]
    candidate = next(each for each in found.candidates(own) if each.key == key)
    return candidate, found.trial(own, candidate)


def states(*texts):
    return {parse_state(text) for text in texts}
