"""What a ground wire can carry, from what it dropped under a test lamp.

A filament test lamp passes about 0.25 A on 12 V. What the pin reads then, over that current, is the resistance from
the pin to battery negative; a lamp's ground may lose 0.1 V.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from electrics.document.places import Evidence
from electrics.reference.usual import GROUND_LOSS_V, system_scale
from electrics.vocabulary import Instrument

__all__ = ["TEST_LAMP_W", "good_for_a", "less_at_rest"]

TEST_LAMP_W = 3.0
"""A filament test lamp: 0.25 A on 12 V, 0.125 A on 24 V (common practice) [W]."""


AT_REST_V = 0.15
"""What a ground reads at most because of what flows through it already, on 12 V [V]: a column or frame ground shows
some tens of millivolts (common practice)."""
LIFTED_V = 0.02
"""From which volts are more than the last digit of a meter [V]."""
METER_STEP_V = 0.01
"""What a voltmeter on its 20 V range tells apart [V]."""


def less_at_rest(evidence: Sequence[Evidence]) -> tuple[Evidence, ...]:
    """A wire's readings, its drop under a test lamp less what it reads without one.

    Other consumers lift a ground that they share, whether a test lamp is on it or not: only the rise is the lamp's.
    Volts of the same state are taken off; where none were read there, the least of what two other states read.
    """
    if not any(item.setup.instrument is Instrument.LOADED_DROP for item in evidence):
        return tuple(evidence)
    return tuple(_rise(item, evidence) for item in evidence)


def _rise(item: Evidence, evidence: Sequence[Evidence]) -> Evidence:
    if item.setup.instrument is not Instrument.LOADED_DROP or not item.is_number:
        return item
    most = AT_REST_V * system_scale(item.supply_v)
    small = [each for each in evidence if each.is_steady_volts and abs(each.reading.low) <= most]
    same = [each.reading.low for each in small if each.setup.state == item.setup.state]
    others = [each.reading.low for each in small] if len(small) > 1 else []
    lifted_v = min(same or others, key=abs, default=0.0)
    if lifted_v < LIFTED_V or lifted_v > item.reading.low + METER_STEP_V:
        return item
    rise_v = max(item.reading.low - lifted_v, 0.0)
    step_v = item.reading.step + METER_STEP_V
    return replace(item, reading=replace(item.reading, low=rise_v, high=rise_v, step=step_v))


def good_for_a(evidence: Iterable[Evidence]) -> float | None:
    """What a wire can carry as a lamp's ground before it loses more than is allowed.

    Parameters
    ----------
    evidence : iterable of Evidence
        The wire's own readings; only volts under a test lamp count, and the worst of them.

    Returns
    -------
    float or None
        Amps [A]; what rounds to a reading counts as its upper end. None where no test lamp was clipped on, or the
        drop is below all that the meter shows.
    """
    found = (
        _carries_a(abs(item.reading.low) + item.reading.step / 2, system_scale(item.supply_v))
        for item in less_at_rest(tuple(evidence))
        if item.setup.instrument is Instrument.LOADED_DROP and item.is_number
    )
    return min((amps for amps in found if amps is not None), default=None)


def _carries_a(drop_v: float, scale: float) -> float | None:
    test_a = TEST_LAMP_W / (12.0 * scale)
    return GROUND_LOSS_V * scale * test_a / drop_v if drop_v > 0.0 else None
