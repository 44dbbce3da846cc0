"""Two lamps that each do what the other should: their leads are swapped."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import combinations

from electrics.prove.sheet import Line, Outcome, Sheet, SheetLamp

__all__ = ["swapped_lamps"]


def swapped_lamps(
    sheet: Sheet, outcomes: Mapping[str, Outcome], units: Mapping[str, str]
) -> tuple[tuple[SheetLamp, SheetLamp], ...]:
    """Pairs of lamps whose results are just what swapped leads would show.

    Parameters
    ----------
    sheet : Sheet
    outcomes : mapping of str to Outcome
        By line; what is missing was not tested.
    units : mapping of str to str
        The unit that an added lamp is in, by the lamp's id: two leads of one unit are swapped sooner than others.

    Returns
    -------
    tuple of (SheetLamp, SheetLamp)
        Where the two should differ every tested line of both failed, at least one of each; where they should be alike
        every tested line passed. A lamp that is simply dead passes where it should be dark.
    """
    lamps = {line.lamp.id: line.lamp for line in sheet.lines if line.lamp is not None}
    lines = {(line.lamp.id, line.state): line for line in sheet.lines if line.lamp is not None}
    found = [
        pair
        for pair in combinations(lamps, 2)
        if _is_swapped([(lines.get((pair[0], each)), lines.get((pair[1], each))) for each in sheet.states], outcomes)
    ]
    within = [(a, b) for a, b in found if units.get(a, a) == units.get(b, b)]
    taken = within or (found if len(found) == 1 else [])
    is_plain = len({lamp for pair in taken for lamp in pair}) == 2 * len(taken)
    return tuple((lamps[a], lamps[b]) for a, b in taken) if is_plain else ()


def _is_swapped(rows: Sequence[tuple[Line | None, Line | None]], outcomes: Mapping[str, Outcome]) -> bool:
    """Whether the lines of two lamps, state by state, came out as with their leads swapped."""
    failed = [0, 0]
    for one, other in rows:
        if one is None or other is None:
            continue
        expected = Outcome.PASS if one.expected == other.expected else Outcome.FAIL
        for n, line in enumerate((one, other)):
            outcome = outcomes.get(line.key, Outcome.UNTESTED)
            if outcome not in (Outcome.UNTESTED, expected):
                return False
            failed[n] += outcome is Outcome.FAIL
    return min(failed) > 0
