"""Jobs of the demo that upset something: fast flash, a computer that warns, a flasher that goes dead, back-feed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from django.contrib.auth.models import User

from hailstone.correct.services import keep_flasher
from hailstone.demo.parts import GROUND, brief, read_in
from hailstone.hookup.services import decide
from hailstone.identify.services import add_point
from hailstone.jobs.models import Job
from hailstone.jobs.services import begin_job
from hailstone.layers.decision_rows import keep
from hailstone.layers.decisions import decisions_of
from hailstone.layers.facts import jobs_with_facts
from hailstone.layers.places import SaidPlace, SaidWire
from hailstone.units.services import begin_units

__all__ = ["load_cures"]

LIVE_V = {"tail": "12.3", "stop": "12.2", "turn": "0-12", "stop_turn": "12.2", "reverse": "12.1"}
COLOURS = {"ground": "BK", "tail": "BN", "stop": "RD", "turn": "YE", "stop_turn": "GN", "reverse": "WH"}
ON_WITH = {
    "tail": ("park", "low"),
    "stop": ("brake",),
    "turn": ("{side}",),
    "stop_turn": ("brake", "{side}"),
    "reverse": ("reverse",),
}
STATES = ("rest", "park", "brake", "left", "right", "reverse", "low", "brake+left", "brake+right", "key")


def load_cures(who: User) -> None:
    """Every job of the demo that Correct is about."""
    _fellhound(who)
    _skua(who)
    _outfit(who)
    _curlew(who)
    _pulsed(who)


def _lamps(job: Job, who: User, leads: tuple[str, ...], places: tuple[tuple[str, str, str], ...]) -> None:
    """Lamps with one wire for each function, measured in every state that tells."""
    for name, kind, side in places:
        wires = [SaidWire(str(n), COLOURS[lead]) for n, lead in enumerate(("ground", *leads), start=1)]
        point = add_point(job, SaidPlace(name, kind, side, wires, all_wires=True), who)
        columns = []
        for state in STATES:
            on = state.split("+")
            readings = {"1": "0.0"}
            for n, lead in enumerate(leads, start=2):
                readings[str(n)] = _volts(lead, [each.format(side=side) for each in ON_WITH[lead]], on, side)
            columns.append((state, "dmm", "in", readings))
        read_in(point, (*columns, GROUND), who)


def _volts(lead: str, controls: list[str], on: list[str], side: str) -> str:
    if not set(controls) & set(on):
        return "0.0"
    return "0-12" if "turn" in lead and side in on else LIVE_V[lead]


def _take_direct(job: Job, who: User, feeds: Mapping[str, tuple[str, str]]) -> None:
    """The hook-up of lamps that stand in for the factory's: each lead on the wire of its own lamp."""
    pins = {(pin.point.name, pin.label): pin.id for point in job.points.all() for pin in point.pins.all()}
    ways = {f"way_{lead}": f"direct:{pins[place, label]}" for lead, (place, label) in feeds.items()}
    decide(job, who, {**ways, "version": job.hookup.version})


REAR = (("left tail lamp", "rear_lamp", "left"), ("right tail lamp", "rear_lamp", "right"))


def _rear_feeds(leads: Mapping[str, str]) -> dict[str, tuple[str, str]]:
    return {
        f"{side}-{lead}": (f"{side} tail lamp", label) for side in ("left", "right") for lead, label in leads.items()
    }


def _fellhound(who: User) -> None:
    """Combined signals and LED tail lamps: the flasher takes them for dead bulbs and hurries."""
    facts = {"make": "Tarn", "model": "Fellhound", "year": 2012, "market": "", "computer": "no", "body": "off_roader"}
    facts |= {"addition": "combined_tail_lamps", "added_count": 2, "added_each_a": 0.4, "arrangement": "combined"}
    job = begin_job(who, brief("Rescue off-roader: LED tail lamps", **facts))
    _lamps(job, who, ("tail", "stop_turn"), REAR)
    _take_direct(job, who, _rear_feeds({"tail": "2", "turn": "3"}))


def _skua(who: User) -> None:
    """A computer counts the bulbs and tests them cold: LED bulbs blink with everything off."""
    facts = {"addition": "led_bulbs", "added_count": 7, "added_each_a": 0.3, "arrangement": "separate", "body": "van"}
    job = begin_job(who, brief("Book van: LED bulbs, and a warning shows", complaint="warning", **facts))
    _lamps(job, who, ("tail", "stop", "turn", "reverse"), REAR)
    _take_direct(job, who, _rear_feeds({"tail": "2", "stop": "3", "turn": "4", "reverse": "5"}))
    looks = {"clicks": "board", "one_out": "twice", "message": "yes", "off": "blinks"}
    keep_flasher(job, who, "computer", looks)


def _outfit(who: User) -> None:
    """LED bulbs in all four turn lamps of a motorcycle with a bimetal flasher and one pilot between the sides."""
    facts = {"make": "Pipit", "model": "125", "year": 2020, "market": "", "computer": "no", "complaint": "slow_flash"}
    facts |= {"body": "sidecar"}
    facts |= {"addition": "led_turns", "added_count": 4, "added_each_a": 0.2, "arrangement": "separate"}
    job = begin_job(who, brief("Pancake outfit: LED turn lamps", **facts))
    sides = ("left", "right")
    places = [(f"{side} {end} turn lamp", f"{end}_lamp", side) for end in ("rear", "front") for side in sides]
    _lamps(job, who, ("turn",), tuple(places))
    feeds = {
        f"led_turn_{end}-{side}-turn": (f"{side} {end} turn lamp", "2") for end in ("rear", "front") for side in sides
    }
    _take_direct(job, who, feeds)
    keep_flasher(job, who, "bimetal", {"clicks": "soft", "prongs": "two", "one_out": "steady", "pilot": "one"})


def _curlew(who: User) -> None:
    """LED tail lamps whose leads feed each other: the brake lights the park lamps."""
    facts = {"make": "Curlew", "model": "Estate", "year": 2010, "market": "", "computer": "no"}
    facts |= {"addition": "separate_tail_lamps", "added_count": 2, "added_each_a": 0.3, "arrangement": "separate"}
    job = begin_job(who, brief("Choir bus: the brake lights the park lamps", complaint="wrong_lamp", **facts))
    _lamps(job, who, ("tail", "stop", "turn"), REAR)
    _take_direct(job, who, _rear_feeds({"tail": "2", "stop": "3", "turn": "4"}))
    keep_flasher(job, who, "fixed", {"one_out": "same"})
    job = jobs_with_facts().get(pk=job.pk)
    begin_units(job, who)
    decided = decisions_of(Job.objects.get(pk=job.pk))
    keep(job, replace(decided, units=tuple(replace(unit, backfeed_v=13.48) for unit in decided.units)))


def _pulsed(who: User) -> None:
    """Running lamps on a tail feed that a computer pulses: a module whose input bears pulses."""
    vehicle = {"make": "Dunlin", "model": "Five", "year": 2014, "market": "", "computer": "yes", "body": "hatchback"}
    facts = {**vehicle, "addition": "running_lamps", "added_count": 2, "added_each_a": 0.1}
    job = begin_job(who, brief("Bread car: running lamps that flicker", arrangement="separate", **facts))
    wires = [SaidWire("1", "BK"), SaidWire("2", "GY/BK"), SaidWire("3", "BK/RD")]
    point = add_point(job, SaidPlace("left tail lamp", "rear_lamp", "left", wires, all_wires=True), who)
    off = {"1": "0.0", "2": "0.0", "3": "0.0"}
    columns = {"rest": {}, "park": {"2": "3.0"}, "low": {"2": "3.1"}, "brake": {"3": "12.2"}, "left": {}}
    columns |= {"park+brake": {"2": "3.0", "3": "12.2"}, "reverse": {}, "right": {}, "key": {}}
    read_in(point, tuple((state, "dmm", "in", off | on) for state, on in columns.items()), who)
    read_in(point, (("park", "hertz", "in", {"2": "100 Hz"}), GROUND), who)
    pin = point.pins.get(label="2").id
    ways = {f"way_{side}-tail": f"pulse_module:{pin}" for side in ("left", "right")}
    decide(job, who, {**ways, "version": job.hookup.version})
