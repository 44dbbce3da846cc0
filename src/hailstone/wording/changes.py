"""What was changed since a sheet was signed, a sentence for each fact."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping

from hailstone.wording.cures import CURE_NAMES
from hailstone.wording.proof import MEASURES
from hailstone.wording.steps import step_name
from hailstone.wording.words import capital

__all__ = ["FACTS", "change_sentence"]

FACTS = {
    "as_found": "what was noted before the work",
    "rate_left_per_min": "left flash rate before the work, /min",
    "rate_right_per_min": "right flash rate before the work, /min",
    "warnings": "warnings before the work",
    "dead": "lamps that failed before the work",
    "title": "the job's title",
    "customer": "the customer",
    "order_number": "the order number",
    "complaint": "the complaint",
    "addition": "what is added",
    "also": "what else is added",
    "own_leads": "the leads of the custom part",
    "added_count": "how many are added",
    "added_each_a": "the current of each, A",
    "arrangement": "separate or combined rear signals",
    "make": "the make",
    "model": "the model",
    "year": "the year",
    "market": "the market",
    "system_v": "the system, V",
    "brake_with_hazard": "what brake with hazards does",
    "pilot": "the dash turn lights",
    "idle": "what an LED shows with everything off",
    "prongs": "the prongs of the flasher",
    "earlier": "what earlier jobs measured",
    "is_coded": "whether its computer is coded for LEDs",
    "computer": "whether a computer powers or monitors the lamps",
    "not_fitted": "what the vehicle doesn't have",
    "body": "the kind of vehicle",
    "flasher": "the flasher",
    "flasher_looks": "what checks of the flasher showed",
    "habits": "how the vehicle monitors its lamps",
    "registration": "the registration",
    "vin": "the VIN",
    "odometer_km": "the odometer, km",
    "name": "the name",
    "kind": "the kind",
    "side": "the side",
    "all_wires": "whether every wire is listed",
    "zone": "where it is",
    "label": "the pin",
    "colour": "the color",
    "place": "the location",
    "instead_of": "the lamp it replaces",
    "lamps": "how many lamps",
    "spacing_m": "the spacing, m",
    "removable": "whether its mount comes off",
    "swinging": "whether its mount moves",
    "wet": "whether it is in spray",
    "turned": "whether its LEDs are in backward",
    "backfeed_v": "the volts across 1 kΩ, V",
    "claim": "what its chart says it is for",
    "claim_from": "who says so",
    "lead": "the lead",
    "wants": "what it comes on with",
    "amps": "its current, A",
    "technology": "LED or bulb",
    "polarity": "which side is switched",
    "sockets": "how many bulbs",
    "override": "the reason for going ahead",
    "keeps": "how long it stays",
    "out_m": "the feed length, m",
    "back_m": "the ground length, m",
    "ground": "the ground",
    "ground_wire": "the lamp's ground wire",
    "wire_standard": "how the wire is sold",
    "wire_size": "the wire size",
    "joint": "the connection",
    "is_exposed": "whether it is in spray",
    "overrides": "the sizing numbers set by hand",
    "fed_by": "what feeds the circuit",
    "host_bulb": "its bulbs",
    "host_count": "how many bulbs it has",
    "host_fuse_a": "its fuse, A",
    "host_wire": "its wire",
    "measured_a": "its measured current, A",
    "most_percent": "how much of its fuse may be used, %",
    "leads": "where it is fitted",
    "ohm": "its resistance, Ω",
    "case_w": "its case, W",
    "mount": "its mount",
    "part": "its part number",
    "microfarad": "its capacitor, µF",
    "series_ohm": "its series resistor, Ω",
    "bleed_ohm": "its bleed resistor, Ω",
    "ways": "its hook-up",
    "built": "what is built",
    "asked": "what the test sheet asks",
}
"""Every fact that people enter, by its column or field."""


def change_sentence(key: str, before: str, after: str, names: Mapping[str, str] | None = None) -> str:
    """What was changed since a sheet was signed: `The connection: crimp butt, now solder.`

    Parameters
    ----------
    key : str
        Where the fact stands, as `hailstone.layers.signed` has it.
    before, after : str
    names : mapping of str to str, optional
        What rows and leads are called now, by their ids.
    """
    known = names or {}
    family, _, rest = key.partition(":")
    if family == "fallen":
        return f"{after}."
    if key == "derived:asked" or key == "derived:built":
        return f"{capital(FACTS[key.partition(':')[2]])} changed with the readings."
    what, unit = _subject(family, rest, known)
    was, now = (f"{_value(text, known)} {unit}".rstrip() if text else "nothing" for text in (before, after))
    return f"{capital(what)}: {was}, now {now}."


def _step_name(kept: str, names: Mapping[str, str]) -> str:
    """A step by its kind and place, from how its key is kept: `["connect", "#12", "#12> 3"]`."""
    if not kept.startswith("["):
        return step_name(kept)
    kind, place, _ = json.loads(kept)
    ref, _, rest = place.partition(">")
    known = {"#": ref[1:], "=": f"unit {ref[1:]}"}.get(ref[:1], ref)
    return ", ".join(filter(None, (step_name(kind), names.get(known, known) + rest)))


def _subject(family: str, rest: str, names: Mapping[str, str]) -> tuple[str, str]:
    """What a change is about, and the unit of its values."""
    owner, _, field = rest.rpartition(":")
    fact, _, unit = FACTS.get(field, _plain(field)).partition(", ")
    whose = _name(owner.rpartition(":")[2] if ":lead:" in f":{owner}:" else owner.partition(":")[0], names)
    if family == "step":
        return f"the step “{_step_name(rest, names)}”", ""
    if family == "result":
        return f"the result of {_line_name(rest)}", ""
    if family == "way":
        return f"the hook-up of {_name(rest, names)}", ""
    if family in ("distance", "spot"):
        return f"the {'distance from' if family == 'distance' else 'zone of'} {_named(rest, names)}", ""
    if family == "derived":
        return f"what {_name(rest.removeprefix('wire:'), names)} is", ""
    if family == "lamp":
        return f"the bench test {_plain(rest.rpartition(':')[2])}", ""
    earlier = {"wire": f"what {rest} is", "colour": f"the color of {rest}", "trial": f"the bench test {rest}"}
    if family in earlier or (family == "unit" and not owner):
        return earlier.get(family, f"what is fitted as “{rest}”"), ""
    if family == "cure":
        return f"{CURE_NAMES.get(owner, _plain(owner)).lower()}, {fact}", unit
    pin = re.search(r"pin:(\d+)", owner)
    if pin:
        whose = names.get(f"pin {pin.group(1)}", whose)
    of = f" ({whose})" if owner and whose else ""
    return f"{fact}{of}", unit


def _name(id: str, names: Mapping[str, str]) -> str:
    return names.get(id) or names.get(f"unit {id}") or _plain(id)


def _named(text: str, names: Mapping[str, str]) -> str:
    """A text with the references in it as names: `#12 to battery`."""
    text = re.sub(r"#(\d+)", lambda match: names.get(match.group(1), "a location that is gone"), text)
    return re.sub(r"=([^>]+?)(?= to |$|>)", lambda match: names.get(f"unit {match.group(1)}", match.group(1)), text)


def _value(text: str, names: Mapping[str, str]) -> str:
    """A value as people know it: `crimp butt`, `relay: left tail lamp pin 3`."""
    form, colon, sources = text.partition(":")
    if colon and re.fullmatch(r"[a-z_>]+", form):
        taps = ", ".join(names.get(f"pin {each}", each.lstrip("@")) for each in sources.split(",") if each)
        return f"{_plain(form)}: {taps}" if taps else _plain(form)
    return _plain(_named(text, names)) if text.startswith(("#", "=")) else _plain(text)


def _line_name(key: str) -> str:
    where, _, lamp = key.partition("|")
    if where == "measure":
        kind, _, about = lamp.partition(":")
        said = MEASURES[kind].partition(":")[0].replace("{about}", about or "the lamp") if kind in MEASURES else ""
        return f"“{said[:1].lower()}{said[1:]}”" if said else _plain(lamp)
    return f"{_plain(where)}, {_plain(lamp.replace(':', ' '))}"


def _plain(text: str) -> str:
    return text.replace("_", " ").replace("+", " and ")
