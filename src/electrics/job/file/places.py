"""Access points in the job file: kind, side, wires with what is said of them, and readings as they were typed."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from math import log10
from typing import Any

from electrics.document.places import AccessPoint, Claim, Evidence, PlaceFacts, Setup, Side, Wire
from electrics.errors import FactError
from electrics.formats.colour import parse_colour
from electrics.formats.reading_text import Reading, parse_reading
from electrics.identify.kinds import access_kinds
from electrics.reference.zones import zones
from electrics.signals import GROUND_SWITCHED, variants
from electrics.vocabulary import DEFAULT_SUPPLY_V, Function, Instrument, Load, parse_state

__all__ = ["function_named", "read_place", "reading_as_typed", "write_place", "zone_stated"]

UNIT_WORDS = {"ohm": " ohm", "C": " C", "": ""}


def read_place(entry: Mapping[str, Any], system_v: int) -> PlaceFacts:
    """One place; FactError for a kind, zone, pin, function or reading that cannot be."""
    name, kind = entry["name"].strip(), entry.get("kind", "connector")
    if kind not in access_kinds().rows:
        raise FactError("kind", f"there is no kind of place “{kind}”. Known: {', '.join(access_kinds().rows)}.")
    wires, said = [], []
    pins = [wire["pin"].strip() for wire in entry.get("wires", ())]
    twice = next((pin for pin in pins if pins.count(pin) > 1), None)
    if twice is not None:
        raise FactError("pin", f"pin {twice} is listed twice.")
    for pin, wire in zip(pins, entry.get("wires", ()), strict=True):
        claimed = wire.get("claim")
        claims = (Claim(function_named(claimed), who=wire.get("claim_from", "")),) if claimed else ()
        wires.append(Wire(pin, parse_colour(wire.get("colour", "")).text, claims))
        if wire.get("function"):
            function = function_named(wire["function"])
            said.append((pin, function, _variant(function, wire.get("variant", ""))))
    evidence = tuple(_read_reading(reading, pins, system_v) for reading in entry.get("readings", ()))
    twice_read = (
        each for each, said in zip(evidence, entry.get("readings", ()), strict=True) if said.get("repeated")
    )
    repeated = frozenset((each.pin, each.setup) for each in twice_read)
    side = Side(entry.get("side", ""))
    point = AccessPoint(
        name, tuple(wires), evidence, kind, side, entry.get("all_wires"), repeated, zone_stated(entry)
    )
    return PlaceFacts(name, point, tuple(f"{name} / {pin}" for pin in pins), tuple(said))


def zone_stated(entry: Mapping[str, Any]) -> str:
    """The zone of a place, empty where nothing is said of it; FactError for one that is unknown."""
    zone: str = entry.get("zone", "")
    if zone and zone not in zones().rows:
        raise FactError("zone", f"there is no zone “{zone}”. Known: {', '.join(zones().rows)}.")
    return zone


def write_place(place: PlaceFacts) -> dict[str, Any]:
    """One place as `read_place` reads it."""
    said = {pin: (function, variant) for pin, function, variant in place.said}
    wires = []
    for wire in place.point.wires:
        entry: dict[str, Any] = {"pin": wire.pin}
        if wire.colour:
            entry["colour"] = wire.colour
        if wire.pin in said:
            function, variant = said[wire.pin]
            entry |= {"function": str(function), **({"variant": variant} if variant else {})}
        for claim in wire.claims[:1]:
            entry |= {"claim": str(claim.function), **({"claim_from": claim.who} if claim.who else {})}
        wires.append(entry)
    parts: dict[str, Any] = {
        "side": str(place.point.side),
        "zone": place.point.zone,
        "wires": wires,
        "readings": [_write_reading(each, place.point.repeated) for each in place.point.evidence],
    }
    if place.point.all_wires is not None:
        parts["all_wires"] = place.point.all_wires
    filled = {name: part for name, part in parts.items() if part not in ("", [])}
    return {"name": place.point.name, "kind": place.point.kind, **filled}


def function_named(text: str) -> Function:
    """A function of a wire by its id; FactError names those there are."""
    try:
        return Function(text)
    except ValueError:
        raise FactError("function", f"“{text}” is no function of a wire. Known: {', '.join(Function)}.") from None


def _variant(function: Function, text: str) -> str:
    known = [variant for variant, _ in variants(function)]
    if text == "ground":
        text = GROUND_SWITCHED
    if text and text not in known:
        raise FactError("variant", f"{function} has no variant “{text}”. It has: {', '.join(known)}.")
    return text


def _read_reading(entry: Mapping[str, Any], pins: Sequence[str], system_v: int) -> Evidence:
    pin = entry["pin"].strip()
    if pin not in pins:
        raise FactError("readings", f"there is no pin {entry['pin']} here. Pins: {', '.join(pins) or 'none'}.")
    instrument = Instrument(entry.get("instrument", Instrument.DMM))
    setup = Setup(parse_state(entry["state"]), instrument, Load(entry.get("load", Load.IN)))
    supply = entry.get("supply", "")
    supply_v = parse_reading(supply, Instrument.DMM).low if supply else DEFAULT_SUPPLY_V.get(system_v, 12.6)
    reading = parse_reading(entry["reading"], instrument)
    against = entry.get("against", "").strip()
    if against and against not in pins:
        raise FactError("readings", f"there is no pin {against} here to read pin {pin} against.")
    return Evidence(pin, setup, reading, supply_v, against)


def _write_reading(evidence: Evidence, repeated: Collection[tuple[str, Setup]]) -> dict[str, Any]:
    return {
        "pin": evidence.pin,
        "state": str(evidence.setup.state),
        "instrument": str(evidence.setup.instrument),
        "load": str(evidence.setup.load),
        "reading": reading_as_typed(evidence.reading),
        "supply": f"{evidence.supply_v:g}",
        **({"against": evidence.against} if evidence.against else {}),
        **({"repeated": True} if (evidence.pin, evidence.setup) in repeated else {}),
    }


def reading_as_typed(reading: Reading) -> str:
    """A reading as somebody would type it: what is read back is the same, its last digit too."""
    if reading.word is not None:
        return str(reading.word)
    if reading.step and not reading.is_swing:  # 0.0 V is anything under 0.05 V
        return f"{reading.low:.{max(0, round(-log10(reading.step)))}f} {reading.unit}"
    number = f"{reading.low:.6g}" if not reading.is_swing else f"{reading.low:.6g}-{reading.high:.6g}"
    return number + UNIT_WORDS.get(reading.unit, f" {reading.unit}")
