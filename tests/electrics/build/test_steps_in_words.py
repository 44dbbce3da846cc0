"""Who has nothing but the steps' words makes the circuit that was designed: nets read from the text by other code."""

from __future__ import annotations

import re

import pytest

from electrics.design.accessories import accessories
from electrics.design.design import EndKind
from hailstone.wording.steps import Vehicle, step_text
from said import facts_of, with_best

TERMINAL = (
    r"(?:plain end|stripe end|in|out|supply|ground|trigger|feed|lamp|(?:left|right|stop|tail) (?:in|out)put|\d\da?)"
)
MEMBER = re.compile(
    rf"(?P<wire>wire \d+)(?!\d)|(?P<part>(?:fuse tap|[a-z]+) \d+, {TERMINAL})(?![a-z])"
    r"|(?P<lead>(?:new )?[^,:]+, (?:its [^,]+? lead|the [^,]+? wire at its socket))(?: \(\w+\))?"
    r"|(?P<pin>(?:pin|slot) \w+)"
)


def nets_of_words(found):
    """Ends that the words put together, each as a set; a wire is in two of them."""
    nets = []
    for step in found.steps:
        text = step_text(step, found.build, Vehicle())
        title = text.title.removesuffix(".")
        if step.kind.id == "connect":
            members = title.split(": ", 2)[2].replace(", both halves", "")
            nets.append(
                {match[0].removeprefix("and ").strip() for match in MEMBER.finditer(members.replace(" and ", ", "))}
            )
        elif step.kind.id == "terminals":
            part = re.search(r": wire (.+)$", title)[1]
            for line in text.lines:
                if match := re.match(r"(.+?): (wire \d+), ", line):
                    nets.append({f"{part}, {match[1].lower()}", match[2]})
        elif step.kind.id in ("ground", "battery_post"):
            where = "ground" if step.kind.id == "ground" else "battery plus"
            wires = re.search(r"wires? ([\d, and]+)", title)[1]
            nets += [{f"{where} {step.place}", f"wire {n}"} for n in re.findall(r"\d+", wires)]
    return nets


def named(end):
    """An end as the words call it; names of pins are short where one stands beside them."""
    from hailstone.wording.build import end_name

    text = end_name(end)
    if end.kind is EndKind.PIN:
        return re.search(r"(?:pin|slot) \w+", text)[0] if re.search(r"(?:pin|slot) \w+", text) else text
    return re.sub(r" \(\w+\)$", "", text)


def nets_of_design(found):
    build, nets = found.build, []
    for join in build.joins:
        if join.method not in ("socket", "stays"):
            nets.append({named(end) for end in join.members})
    for wire in build.wires:
        for end in wire.ends:
            if end.kind is EndKind.PART and not end.is_flying:
                nets.append({named(end).lower(), f"wire {wire.label}"})
            elif end.kind in (EndKind.GROUND, EndKind.BATTERY):
                where = "ground" if end.kind is EndKind.GROUND else "battery plus"
                nets.append({f"{where} {end.spot.name}", f"wire {wire.label}"})
    return nets


ODD = ("front_both", "towed_car_diodes")
"""Refused there; and the towed car's own wires, whose names say more than a pin."""


@pytest.mark.parametrize("accessory", [each.id for each in accessories() if each.id not in ODD])
def test_the_words_join_what_the_design_joins(accessory):
    found = with_best(facts_of(accessory))
    said, meant = (sorted(map(sorted, nets)) for nets in (nets_of_words(found), nets_of_design(found)))
    assert said == meant
    assert said or all(unit.in_socket for unit in found.hookup.accessory.units)
    times = [end for net in said for end in net if re.fullmatch(r"wire \d+", end)]
    assert all(times.count(end) == 2 for end in times), "a wire has two ends"
