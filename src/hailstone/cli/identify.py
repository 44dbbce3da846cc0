"""`hailstone identify`: a readings file in, verdicts out, as JSON or as text. Needs no database."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from electrics.document.places import AccessPoint, Claim, Evidence, Setup, Side, Wire
from electrics.formats.readings_csv import ReadingRow
from electrics.identify.belief import Belief, identify
from electrics.identify.kinds import access_kinds, side_named
from electrics.identify.needed import Needed, check_needed, needs_of
from electrics.identify.needed_plan import next_for
from electrics.identify.plan import Step, next_steps
from electrics.vocabulary import Arrangement, Control
from hailstone.wording import advice
from hailstone.wording.words import natural

ALTERNATIVE_FROM = 0.005


def points_from(rows: Sequence[ReadingRow], all_wires: bool | None = None) -> tuple[AccessPoint, ...]:
    """The access points of a file, in the order they first appear; pins in natural order.

    `all_wires` says that every wire of each place is in the file; None while nobody has said.
    """
    points = []
    for name in dict.fromkeys(row.access_point for row in rows):
        own = [row for row in rows if row.access_point == name]
        colours: dict[str, str] = {}
        for row in own:
            colours[row.pin] = colours.get(row.pin) or row.colour
            if row.against:
                colours.setdefault(row.against, "")
        claims = {row.pin: Claim(row.claim, who=row.claim_from) for row in reversed(own) if row.claim}
        wires = tuple(
            Wire(pin, colours[pin], (claims[pin],) if pin in claims else ()) for pin in sorted(colours, key=natural)
        )
        evidence = tuple(
            Evidence(row.pin, Setup(row.state, row.instrument, row.load), row.reading, row.supply_v, row.against)
            for row in own
        )
        kind, side = guess_place(name)
        points.append(AccessPoint(name, wires, evidence, kind, side, all_wires))
    return tuple(points)


LAMPS = {
    *("lamp", "lamps", "light", "lights", "cluster", "headlamp", "headlight", "bulb"),
    *("signal", "signals", "indicator", "indicators", "blinker", "winker", "marker", "repeater"),
}
PLUGS: tuple[tuple[str, str], ...] = (
    ("flat_4", r"\b4[- ]?flat\b"),
    ("flat_5", r"\b5[- ]?flat\b"),
    ("blade_7", r"\b7[- ]?blade\b"),
    ("heavy_7", r"\bheavy 7[- ]?pin\b"),
    ("plug_12n", r"\b12n\b"),
    ("plug_12s", r"\b12s\b"),
    ("plug_24n", r"\b24n\b"),
    ("plug_13", r"\b13[- ]?pin\b"),
    ("fuse_box", r"\bfuse ?box\b"),
    ("turn_switch_loom", r"\b(turn|column)[- ]switch\b"),
)
"""Names that are no lamps: trailer plugs, fuse boxes, looms."""

PLACES: tuple[tuple[str, set[str]], ...] = (
    ("high_stop", {"high", "third"}),
    ("licence_lamp", {"licence", "license", "plate"}),
    ("mirror", {"mirror"}),
    ("rear_lamp", {"tail", "rear", "back"}),
    ("front_lamp", {"front", "headlamp", "headlight"}),
    ("side_lamp", {"side", "marker"}),
)
"""Words in a name that say what kind of lamp it is, the first that fits."""


def guess_place(name: str) -> tuple[str, Side]:
    """Kind and side of an access point from its name: `left tail lamp` is a left rear lamp."""
    for kind, telling_name in PLUGS:
        if re.search(telling_name, name.lower()):
            return kind, Side.NONE
    words = set(re.findall(r"[a-z]+", name.lower()))
    side = side_named(name)
    for kind, telling in PLACES:
        if words & telling and (words & LAMPS or kind == "mirror"):
            return kind, side if access_kinds()[kind].is_sided else Side.NONE
    return "connector", Side.NONE


def identify_rows(
    rows: Sequence[ReadingRow],
    arrangement: Arrangement | None,
    *,
    solo: bool,
    not_fitted: frozenset[Control] = frozenset(),
    all_wires: bool | None = None,
    needed: Needed | None = None,
) -> list[tuple[Belief, dict[str, Any]]]:
    """Each access point's belief with its JSON object, in file order; advice for all wires, or what is `needed`.

    Raises
    ------
    FactError
        Something is needed that is never tapped, or that the vehicle lacks.
    """
    if needed is not None:
        check_needed(needed, not_fitted)
    results = []
    for belief in identify(points_from(rows, all_wires), arrangement=arrangement, not_fitted=not_fitted):
        last = belief.point.evidence[-1].setup
        if needed is None:
            results.append((belief, _as_json(belief, next_steps(belief, solo=solo, current=last))))
            continue
        steps = next_for(belief, needed, solo=solo, current=last)
        results.append((belief, _as_json(belief, steps, is_for_taps=True) | _needs(belief, needed, steps)))
    return results


def _needs(belief: Belief, needed: Needed, steps: Sequence[Step]) -> dict[str, Any]:
    needs = needs_of(belief, needed)
    summary = {} if steps else {"summary": advice.needs_sentence(belief, needs)}
    return summary | {
        "enough": all(need.is_met for need in needs),
        "needs": [
            {
                "function": str(need.function),
                "pin": need.pin if need.is_here else "",
                "doubt": round(need.doubt, 4),
                "absent": round(need.absent, 4),
                "met": need.is_met,
            }
            for need in needs
        ],
    }


def as_text(belief: Belief, found: dict[str, Any]) -> str:
    """The same for a person at a terminal."""
    lines = [f"{belief.point.name}: {advice.arrangement_note(belief)}"]
    for wire in belief.wires:
        settled = "settled" if wire.is_settled else "open"
        lines.append(
            f"  pin {wire.pin:<4} {wire.colour:<8} {advice.verdict_name(wire):<36} "
            f"{100 * wire.probability:5.1f} %  {settled}"
        )
        lines += [f"           {warning}" for warning in advice.warnings(belief, wire)]
    lines += [f"  ! {sentence}" for sentence in advice.odd_sentences(belief)]
    end = found.get("summary") or advice.summary_sentence(belief)
    lines += [f"  next: {item['why']}" for item in found["next"]] or [f"  {end}"]
    return "\n".join(lines)


def _as_json(belief: Belief, steps: Sequence[Step], *, is_for_taps: bool = False) -> dict[str, Any]:
    do = advice.for_sentence if is_for_taps else advice.do_sentence
    found = {
        "name": belief.point.name,
        "settled": belief.is_settled,
        "arrangement": {str(key): round(value, 4) for key, value in belief.arrangement.items()},
        "wires": [
            {
                "pin": wire.pin,
                "colour": wire.colour,
                "function": str(wire.function),
                "polarity": str(wire.polarity),
                "probability": round(wire.probability, 4),
                "alternatives": [
                    {"function": str(function), "probability": round(chance, 4)}
                    for function, chance in wire.ranked
                    if function is not wire.function and chance >= ALTERNATIVE_FROM
                ],
                "settled": wire.is_settled,
                "tappable": belief.is_tappable(wire),
                "warnings": advice.warnings(belief, wire),
            }
            for wire in belief.wires
        ],
        "contradictions": [
            {
                "pin": item.evidence.pin,
                "state": str(item.evidence.setup.state),
                "reading": str(item.evidence.reading),
                "why": advice.contradiction_sentence(item),
            }
            for item in belief.contradictions
        ],
        "next": [
            {
                "state": str(step.setup.state),
                "pins": list(step.pins),
                "instrument": str(step.setup.instrument),
                "load": str(step.setup.load),
                "bits": round(step.bits, 2),
                "needs_helper": step.needs_helper,
                "why": f"{do(step, belief.point.kind)} {advice.why_sentence(step)}",
            }
            for step in steps
        ],
    }
    return found | {name: items for name, items in _odd(belief).items() if items}


def _odd(belief: Belief) -> dict[str, list[dict[str, Any]]]:
    """Slips that spoilt a whole state, and feeds that another circuit feeds back."""
    return {
        "slips": [
            {
                "state": str(family.setup.state),
                "pins": list(family.pins),
                "slip": str(family.slip),
                "why": advice.slip_sentence(family),
            }
            for family in belief.families
        ],
        "back_feeds": [
            {
                "pin": road.evidence.pin,
                "state": str(road.evidence.setup.state),
                "reading": str(road.evidence.reading),
                "function": str(road.function),
                "why": advice.road_sentence(road),
            }
            for road in belief.back_feeds
        ],
    }


__all__ = ["as_text", "guess_place", "identify_rows", "points_from"]
