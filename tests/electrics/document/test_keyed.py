"""Two documents are told apart by every single fact in them."""

from __future__ import annotations

import json
from copy import deepcopy
from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from electrics.document.as_found import AsFound
from electrics.document.circuits import CircuitNotes
from electrics.document.decisions import CureDecision, HookUpDecisions, RunDecision
from electrics.document.difference import changes_of
from electrics.document.job import JobFacts, Wish
from electrics.document.keyed import keyed
from electrics.document.lamp import LampFacts, Light, Seen, Trial
from electrics.document.places import AccessPoint, Claim, Evidence, PlaceFacts, Setup, Side, Wire
from electrics.document.units import LeadFacts, UnitFacts
from electrics.document.vehicle import VehicleFacts
from electrics.document.written import typed, written
from electrics.formats.reading_text import parse_reading
from electrics.vocabulary import Control, Function, Instrument, parse_state

DARK = Setup(parse_state("rest"))
EVIDENCE = Evidence("3", DARK, parse_reading("0.02", Instrument.DMM), 12.6)
POINT = AccessPoint(
    "left tail lamp", (Wire("3", "WH/GN", (Claim(Function.STOP),)), Wire("4")), (EVIDENCE,), "rear_lamp", Side.LEFT,
    repeated=frozenset({("3", DARK)}), zone="rear left",
)  # fmt: skip
RICH = JobFacts(
    VehicleFacts(24, not_fitted=frozenset({Control.REVERSE}), habits=(("air_c", 50.0),), pilot="one"),
    (PlaceFacts("#1", POINT, ("31", "32"), (("4", Function.GROUND, ""),)),),
    Wish("reverse_lamps", ("high_stop",), "red = tail", 2, 0.4),
    LampFacts(("red", "black"), (Trial("red", "black", Seen.LIT, Light.WHITE, 0.4),), "pod", (("red", Function.TAIL),)),
    HookUpDecisions(
        {"red": "direct:31"}, "the customer wants it", run=RunDecision(4.0, wire_size="16", overrides={"load_a": 2.0}),
        runs={"red": RunDecision(joint="solder")}, circuits={"tail": CircuitNotes(host_bulb="R5W", host_count=2)},
        cures=(CureDecision("load_resistor", ("red",), 6.0, 50.0),),
    ),
    (UnitFacts("pod", "reverse_lamp", "left", "#1", leads=(LeadFacts("red", "reverse", 0.4, id="red"),), id="unit"),),
    {frozenset(("#1", "battery")): 3.0},
    {"canopy": "rear centre"},
    "dead_lamp",
    AsFound(88.0, warnings="none"),
)  # fmt: skip


def changes_of_documents(before, after):
    return tuple(changes_of(keyed(before), keyed(after)))


def leaves(part, path=()):
    """Where every value of a written document stands."""
    if isinstance(part, dict | list):
        for name, each in part.items() if isinstance(part, dict) else enumerate(part):
            yield from leaves(each, (*path, name))
    else:
        yield path


WRITTEN = json.loads(json.dumps(written(RICH)))
PATHS = [path for path in leaves(WRITTEN) if path[:2] != ("hookup", "labels")]


def another(value):
    return not value if isinstance(value, bool) else value + 1 if isinstance(value, int | float) else f"{value} II"


@settings(max_examples=len(PATHS) * 2, deadline=None)
@given(st.sampled_from(PATHS))
def test_a_change_of_any_fact_is_a_change_of_the_document(path):
    after = deepcopy(WRITTEN)
    *way, last = path
    owner = after
    for name in way:
        owner = owner[name]
    owner[last] = another(owner[last])
    if path[:3] == ("places", 0, "point") and path[3] == "wires" and last == "pin":
        return  # the readings of a pin go by its label as well: they'd be nobody's
    assert changes_of_documents(WRITTEN, after)
    assert not changes_of_documents(after, after)


def test_a_document_that_is_written_and_read_again_is_the_same():
    assert typed(JobFacts, WRITTEN) == RICH
    assert not changes_of_documents(WRITTEN, written(RICH))


def test_what_is_as_usual_is_no_change_whether_or_not_it_was_asked():
    """A version that adds a fact changes no document of before."""
    asked = deepcopy(WRITTEN)
    asked["hookup"]["runs"]["red"] |= {"is_exposed": True, "out_m": None}
    asked["hookup"]["circuits"]["tail"]["host_wire"] = "20"
    asked["units"][0] |= {"turned": False, "wet": None}
    asked["vehicle"] |= {"prongs": "", "is_coded": False}
    assert asked != WRITTEN
    assert not changes_of_documents(WRITTEN, asked)


def test_a_renamed_place_is_one_change():
    (place,) = RICH.places
    renamed = replace(RICH, places=(replace(place, point=replace(place.point, name="LH lamp")),))
    (change,) = changes_of_documents(written(RICH), written(renamed))
    assert (change.key, change.before, change.after) == ("place:#1:name", "left tail lamp", "LH lamp")
