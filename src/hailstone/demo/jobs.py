"""The demo: Saltmarsh Auto Electric and thirteen jobs and the beginning of a wire book. All of it is made up."""

from __future__ import annotations

import datetime as dt
from dataclasses import replace
from functools import partial

from django.contrib.auth import get_user_model
from django.contrib.auth.models import User
from django.db import transaction

from electrics.document.lamp import Light, Seen, Trial
from electrics.formats.wire_book_csv import read_wire_book
from electrics.identify.kinds import access_kinds, pin_out
from electrics.prove.sheet import Outcome
from hailstone.demo.cures import load_cures
from hailstone.demo.login import DEMO_PASSWORD, DEMO_USER
from hailstone.demo.parts import GROUND, brief, read_in
from hailstone.hookup.services import decide
from hailstone.identify.services import add_point
from hailstone.jobs.models import Job
from hailstone.jobs.services import begin_job
from hailstone.lamp.services import lay_out, try_pair
from hailstone.layers.facts import jobs_with_facts
from hailstone.layers.overviews import job_overview
from hailstone.layers.places import SaidPlace, SaidWire
from hailstone.layers.signed import signed_facts, token_of
from hailstone.layers.ticks import step_names
from hailstone.layers.wirebook import keep_job
from hailstone.prove.services import TickState, record, sign, tick
from hailstone.units.services import begin_units
from hailstone.wirebook.services import take_in

whole = partial(SaidPlace, all_wires=True)
"""A lamp all of whose wires were listed."""

WIRES = (
    SaidWire("1", "BK"),
    SaidWire("2", "BN/WH"),
    SaidWire("3", "WH/GN"),
    SaidWire("4", "YE/BK"),
    SaidWire("5", "VT"),
)

CHART = {"3": "battery", "5": "turn_left"}
"""What came with the lamps: half of it is wrong."""

HALF_WAY = (
    ("rest", "dmm", "in", {"1": "0.0", "2": "0.02", "3": "0.0", "4": "0", "5": "0,01"}),
    ("rest", "ohms", "out", {"1": "0.2 ohm"}),
    ("rest", "ohms", "in", {"2": "1.9 ohm", "3": "0.5 ohm"}),
    ("reverse", "dmm", "in", {"1": "0.0", "2": "0.0", "3": "12.2", "4": "0.0", "5": "0"}),
    ("low", "dmm", "in", {"1": "0.02", "2": "12.3", "4": "0"}),
    ("park", "dmm", "in", {"2": "0.0"}),
)
"""Pin 2 reads tail in low beam and nothing in park: the probe had slipped."""

FINISHED = (
    ("rest", "dmm", "in", {"1": "0.0", "2": "0.0", "3": "0.01", "4": "0.0", "5": "0.0"}),
    ("park+right", "dmm", "in", {"1": "0.02", "2": "12.2", "3": "0.0", "4": "0.0", "5": "0-12"}),
    ("brake+reverse", "dmm", "in", {"1": "0.03", "2": "0.0", "3": "12.1", "4": "12.2", "5": "0"}),
    ("reverse", "dmm", "in", {"3": "12.2", "4": "0.0"}),
    ("brake+right", "dmm", "in", {"4": "12.2", "5": "flashing"}),
    ("low", "dmm", "in", {"2": "12.1"}),
    ("left", "dmm", "in", {"1": "0", "2": "0", "5": "0.0"}),
    ("rest", "ohms", "out", {"1": "0.2 ohm"}),
)

MEASURED = {
    "feed_drop": "0.31",
    "ground_drop": "0.06",
    "flash_rate_left": "88 /min",
    "flash_rate_right": "88 /min",
}


@transaction.atomic
def load_demo() -> None:
    """Put the demo into an empty database; anything that is there already stays as it is."""
    users = get_user_model().objects
    if users.exists() or Job.objects.exists():
        return
    who = users.create_user(DEMO_USER, password=DEMO_PASSWORD)
    _just_begun(who)
    _finished(who)
    _plug(who)
    _half_way(who)
    _mirrors(who)
    _lorry(who)
    _dunlin(who)
    _pipit(who)
    load_cures(who)
    take_in(read_wire_book(WIRE_BOOK, (kind.id for kind in access_kinds())), who)


PLUG = (
    ("rest", "dmm", "in", {"1": "0.0", "2": "0.0", "3": "0.0", "4": "12.5", "5": "0", "6": "0.0", "7": "0.02"}),
    ("rest", "ohms", "out", {"1": "0.2 ohm"}),
    ("park+left", "dmm", "in", {"1": "0", "3": "12.3", "5": "0-12", "6": "0.0", "7": "0"}),
)

FRONT_WIRES = [SaidWire("1", "BK"), SaidWire("2", "BN/GN"), SaidWire("3", "BU/WH")]

WIRE_BOOK = """make,model,year_from,year_to,access_point,kind,side,pin,colour,function,how,measured_on
Dunlin,Five,2011,2015,left tail lamp,rear_lamp,left,1,BN,ground,"4 readings: volts DC, ohms",2025-03-11
Dunlin,Five,2011,2015,left tail lamp,rear_lamp,left,2,GY/BK,tail,4 readings: volts DC,2025-03-11
Dunlin,Five,2011,2015,left tail lamp,rear_lamp,left,3,BK/RD,stop,4 readings: volts DC,2025-03-11
Dunlin,Five,2011,2015,left tail lamp,rear_lamp,left,4,BK/WH,turn_left,4 readings: volts DC,2025-03-11
Pipit,125,2018,2022,left rear turn lamp,side_lamp,left,1,GN,ground,"3 readings: volts DC, ohms",2026-05-02
Pipit,125,2018,2022,left rear turn lamp,side_lamp,left,2,OG,turn_left,3 readings: volts DC,2026-05-02
"""
"""Earlier findings of the shop, as they came in from its old list."""


def _just_begun(who: User) -> None:
    begin_job(who, brief("Mirror turn lamp, left", addition="turn_left", added_count=1, added_each_a=0.3, year=2016))


def _half_way(who: User) -> None:
    job = begin_job(who, brief("Book van: extra reverse lamps"))
    wires = [replace(wire, claim=CHART.get(wire.label, "")) for wire in WIRES]
    point = add_point(job, whole("left tail lamp", "rear_lamp", "left", wires, "the seller's chart"), who)
    read_in(point, HALF_WAY, who)
    lay_out(job, [("white", "WH", ""), ("black", "BK", "")], who)
    try_pair(job.lamp, Trial("black", "white", Seen.DARK), who)
    try_pair(job.lamp, Trial("white", "black", Seen.LIT, Light.WHITE, 1.15), who)


def _plug(who: User) -> None:
    facts = {"make": "Tarn", "model": "Fellhound", "year": 2017, "computer": "no", "arrangement": "combined"}
    facts |= {"not_fitted": ["park_left", "park_right"]}
    job = begin_job(who, brief("Rescue trailer: work lamp with reverse", **facts))
    wires = [SaidWire(pin.pin, "") for pin in pin_out("blade_7")]
    point = add_point(job, SaidPlace("trailer socket", "blade_7", "", wires), who)
    read_in(point, PLUG, who)


def _mirrors(who: User) -> None:
    """The trap of the trailer fuse: it flashes with left, and it lights with the brake as well."""
    facts = {"addition": "turn_left", "added_count": 1, "added_each_a": 0.3, "year": 2015}
    job = begin_job(who, brief("Mirror turn lamps for a book van", **facts))
    fuses = add_point(
        job, SaidPlace("trailer fuses", "fuse_box", "", [SaidWire(n, "") for n in ("F7", "F8", "F9")]), who
    )
    off = {"F7": "0", "F8": "0", "F9": "0.01"}
    columns = {"rest": {}, "brake": {"F7": "12.3", "F8": "12.2"}, "left": {"F7": "0-12"}, "right": {"F8": "0-12"}}
    columns |= {"park": {"F9": "12.3"}, "brake+left": {"F7": "0-12", "F8": "12.2"}}
    read_in(fuses, tuple((state, "dmm", "in", off | on) for state, on in columns.items()), who)
    front = add_point(job, whole("left front lamp", "front_lamp", "left", FRONT_WIRES), who)
    off = {"1": "0.0", "2": "0", "3": "0.02"}
    columns = {"rest": {}, "park": {"2": "12.2"}, "left": {"3": "flash"}, "brake": {}, "brake+left": {"3": "0-12"}}
    columns |= {"low": {"2": "12.1"}, "key": {}, "high": {"2": "12.1"}}
    read_in(front, tuple((state, "dmm", "in", off | on) for state, on in columns.items()), who)
    read_in(front, (("rest", "ohms", "in", {"2": "1.8 ohm"}), GROUND), who)


def _lorry(who: User) -> None:
    """24 V: licence lamps that glare into the camera go out in reverse, and a lamp switched by ground comes on."""
    vehicle = {"make": "Oxbow", "model": "7", "year": 2009, "market": "", "system_v": 24, "computer": "no"}
    facts = {**vehicle, "supply_v": 25.2, "addition": "licence_cutout", "added_count": 2, "added_each_a": 0.2}
    facts |= {"also": "ground_switched_lamp"}
    job = begin_job(who, brief("Horse truck: license lamps off in reverse", **facts))
    wires = [SaidWire("1", "BK"), SaidWire("2", "GY/RD"), SaidWire("3", "BU/YE")]
    point = add_point(job, whole("left tail lamp", "rear_lamp", "left", wires), who)
    off = {"1": "0.0", "2": "0.02", "3": "0"}
    columns = {"rest": {}, "park": {"2": "24.8"}, "reverse": {"3": "24.7"}, "brake": {}, "left": {}}
    read_in(point, tuple((state, "dmm", "in", off | on) for state, on in columns.items()), who, 25.2)
    read_in(point, (GROUND, ("fog_rear", "dmm", "in", {"1": "0.0"})), who, 25.2)


def _dunlin(who: User) -> None:
    """Its own lamps hang on a pulsed wire, so the towed lamps are bulbs of their own on the socket's feeds."""
    vehicle = {"make": "Dunlin", "model": "Five", "year": 2013, "market": "", "computer": "yes"}
    facts = {**vehicle, "addition": "towed_car", "added_count": 2, "added_each_a": 2.1, "arrangement": "combined"}
    job = begin_job(who, brief("Towed car: lights from the motor home", **facts))
    wires = [SaidWire(pin.pin, "") for pin in pin_out("flat_4")]
    socket = add_point(job, SaidPlace("motor home's socket", "flat_4", "", wires), who)
    off = {"1": "0.0", "2": "0.02", "3": "0", "4": "0.0"}
    columns = {"rest": {}, "park": {"2": "12.4"}, "brake": {"3": "12.3", "4": "12.3"}, "left": {"3": "0-12"}}
    columns |= {"right": {"4": "0-12"}, "brake+left": {"3": "0-12", "4": "12.2"}, "low": {"2": "12.4"}}
    read_in(socket, tuple((state, "dmm", "in", off | on) for state, on in columns.items()), who)
    wires = [SaidWire("1", "BN"), SaidWire("2", "GY/BK")]
    own = add_point(job, whole("left tail lamp", "rear_lamp", "left", wires), who)
    off = {"1": "0.0", "2": "0.02"}
    columns = {"rest": {}, "park": {"2": "2.9"}, "brake": {"2": "12.2"}, "left": {"2": "0-12"}, "reverse": {}}
    columns |= {"park+brake": {"2": "12.2"}, "low": {"2": "3.0"}, "brake+left": {"2": "0-12"}}
    read_in(own, tuple((state, "dmm", "in", off | on) for state, on in columns.items()), who)
    read_in(own, (("park", "hertz", "in", {"2": "120 Hz"}), GROUND), who)
    read_in(socket, (GROUND,), who)
    feeds = {"way_left-tail": "2", "way_left-turn": "3", "way_right-tail": "2", "way_right-turn": "4"}
    ways = {lead: f"direct:{socket.pins.get(label=label).id}" for lead, label in feeds.items()}
    plain = {"fed_by": "plain"}  # the car has a computer; the motor home's socket hangs on relays of its own
    circuits = {"tail": plain, "stop_turn_left": plain, "stop_turn_right": plain}
    decide(job, who, {**ways, "version": job.hookup.version}, circuits=circuits)
    begin_units(jobs_with_facts().get(pk=job.pk), who)


def _pipit(who: User) -> None:
    """A stop lamp that is switched by ground, and an extra one that wants a feed."""
    vehicle = {"make": "Pipit", "model": "125", "year": 2020, "market": "", "computer": "no"}
    facts = {**vehicle, "addition": "high_stop", "added_count": 1, "added_each_a": 0.3}
    job = begin_job(who, brief("Pancake outfit: extra stop lamp on the box", **facts))
    wires = [SaidWire("1", "GN"), SaidWire("2", "RD"), SaidWire("3", "BN")]
    point = add_point(job, whole("rear lamp", "rear_lamp", "left", wires), who)
    off = {"1": "12.5", "2": "12.5", "3": "0"}
    columns = {"rest": {}, "brake": {"1": "0.1"}, "park": {"3": "12.2"}, "left": {}, "reverse": {}, "right": {}}
    columns |= {"brake+left": {"1": "0.1"}, "low": {"3": "12.1"}, "asleep": {}, "brake+hazard": {"1": "0.2"}}
    read_in(point, tuple((state, "dmm", "in", off | on) for state, on in columns.items()), who)
    read_in(point, (("rest", "hertz", "in", {"2": "none"}),), who)


def _finished(who: User) -> None:
    job = begin_job(
        who, brief("Second book van: extra reverse lamps", year=2013, arrangement="separate", added_each_a=0.6)
    )
    point = add_point(job, whole("right tail lamp", "rear_lamp", "right", WIRES), who)
    read_in(point, FINISHED, who)
    choice = {
        "way_left-reverse": f"direct:{point.pins.get(label='3').id}",
        "out_m": 3.4,
        "back_m": 0.6,
        "ground": "wire",
        "wire_standard": "awg",
        "wire_size": "",
        "joint": "crimp_butt",
        "is_exposed": True,
    }
    circuit = {"fed_by": "plain", "host_bulb": "P21W", "host_count": 2, "host_fuse_a": 10.0, "host_wire": "18"}
    decide(job, who, choice, circuits={"reverse": circuit})
    view = job_overview(job.id)
    for key in map(step_names(view.job, view.derived).stored, view.derived.steps):
        tick(job, key, TickState.DONE, who)
    view = job_overview(job.id)
    if view.proof is None:
        raise RuntimeError("the demo's finished job has no test sheet")
    for line in view.proof.sheet.lines:
        record(job, [line], Outcome.PASS, who, reading=MEASURED.get(line.measure.kind, "") if line.measure else "")
    look_again = dt.date.today() + dt.timedelta(days=180)
    view = job_overview(job.id)
    seen = token_of(signed_facts(view.job, view.derived, view.proof))
    sign(job, who, temporary="", look_again_on=look_again, seen=seen)
    keep_job(job, who)
