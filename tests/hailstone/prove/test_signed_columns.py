"""Signatures that stored the columns of every row are read as the document they say."""

from __future__ import annotations

from electrics.correct.flasher import flasher_questions
from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.decisions import CureDecision, HookUpDecisions, Keeps, RunDecision
from electrics.document.difference import changes_of
from electrics.document.job import JobFacts, Wish
from electrics.document.keyed import READINGS, keyed
from electrics.document.lamp import LampFacts, Light, Seen, Trial
from electrics.document.places import AccessPoint, PlaceFacts, Side, Wire
from electrics.document.units import LeadFacts, UnitFacts
from electrics.document.vehicle import Computer, Earlier, FlasherKind, Idle, VehicleFacts
from electrics.document.written import written
from electrics.vocabulary import Arrangement, Control, Function
from hailstone.layers.signed_columns import keyed_of

STORED = {
    "format": "2",
    "job": {"title": "Tail lamps", "addition": "led_bulbs", "also": "high_stop", "complaint": "fast_flash",
            "arrangement": "separate", "as_found": {"warnings": "none"}},
    "vehicle": {"make": "Merrow", "model": "Skua", "system_v": 24, "computer": "no", "flasher": "fixed",
                "not_fitted": "fog_front,reverse", "habits": {"air_c": 60.0},
                "flasher_looks": {"pilot": "one", "off": "glows", "prongs": "two"},
                "earlier": "Earlier(place='left tail lamp', pin='3', function=<Function.TAIL: 'tail'>, "
                           "date='2026-03-01')"},
    "place": {"7": {"name": "left tail lamp", "kind": "rear_lamp", "side": "left",
                    "pin": {"71": {"label": "3", "colour": "BN"}, "72": {"label": "4"}}}},
    "unit": {"unit": {"id": None, "name": "lamp", "lamps": 1, "spacing_m": 0.3, "side": "left", "place": "#7",
                      "leads": {"unit: red": {"id": None, "lead": "red", "wants": "tail", "amps": 0.4}}}},
    "spot": {"canopy": "rear centre"},
    "distance": {"canopy to #7": 2.0},
    "hookup": {"override": "the customer wants it", "keeps": "lease"},
    "circuit": {"tail": {"fed_by": "plain", "host_bulb": "R5W", "host_count": 2}},
    "run": {"": {"out_m": 4.0, "back_m": None, "ground": "wire", "ground_wire": "18", "wire_standard": "awg",
                 "wire_size": "16", "joint": "solder", "is_exposed": True, "overrides": {"load_a": 2.0}},
            "unit: red": {"out_m": 3.0}},
    "way": {"unit: red": "direct:71"},
    "cure": {"load_resistor": {"cure": None, "leads": "unit: red", "ohm": 6.0, "case_w": 50.0}},
    "lamp": {"kind": "led_bulbs", "lead": {"1": {"label": "red", "colour": "RD", "claim": "tail"}},
             "trial": {"red to case": "lit red 0.4 A fuse 1 A"}},
    "step": {"join": "done"},
    "result": {"park|tail": "pass"},
    "readings": {"71": "park dmm in  12.6 V 12.2"},
    "derived": {},
}  # fmt: skip
SAID = JobFacts(
    VehicleFacts(
        24, Computer.NO, Arrangement.SEPARATE, frozenset({Control.FOG_FRONT, Control.REVERSE}),
        flasher=FlasherKind.FIXED, pilot="one", idle=Idle.LEAK, prongs="two", habits=(("air_c", 60.0),),
        earlier=(Earlier("left tail lamp", "3", Function.TAIL, "2026-03-01"),),
    ),
    (PlaceFacts("7", AccessPoint("left tail lamp", (Wire("3", "BN"), Wire("4")), kind="rear_lamp", side=Side.LEFT),
                ("71", "72")),),
    Wish("led_bulbs", ("high_stop",)),
    LampFacts(("red",), (Trial("red", "case", Seen.LIT, Light.RED, 0.4),), "led_bulbs", (("red", Function.TAIL),)),
    HookUpDecisions(
        {"unit: red": "direct:71"}, "the customer wants it", Keeps.LEASE,
        RunDecision(4.0, wire_size="16", joint="solder", overrides={"load_a": 2.0}),
        {"unit: red": RunDecision(3.0, wire_size="16", joint="solder")},
        {"tail": CircuitNotes(FedBy.PLAIN, "R5W", 2)}, (CureDecision("load_resistor", ("unit: red",), 6.0, 50.0),),
    ),
    (UnitFacts("lamp", side="left", place="#7", leads=(LeadFacts("red", "tail", 0.4, id="unit: red"),), id="unit"),),
    {frozenset(("canopy", "#7")): 2.0},
    {"canopy": "rear centre"},
    "fast_flash",
)  # fmt: skip
AS_SEEN = {"warnings": "none"}


def test_columns_of_before_come_under_the_keys_of_the_document():
    assert {"pilot", "off", "prongs"} <= {question.id for question in flasher_questions()}
    found, said = keyed_of(STORED), keyed(written(SAID)) | {"as_found": AS_SEEN}
    said["job"] |= {"title": "Tail lamps"}
    said["vehicle"] |= {"make": "Merrow", "model": "Skua"}
    families = said.keys() - {READINGS}  # each version writes them its own way
    assert tuple(changes_of(*({name: each[name] for name in families} for each in (said, found)))) == ()
    assert found["unit"]["unit"]["leads"]["unit: red"]["amps"] == 0.4
    assert (found["step"], found["result"]) == (STORED["step"], STORED["result"])
