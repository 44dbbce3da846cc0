"""What a ground wire can carry, from what it dropped under a test lamp.

A filament test lamp passes about 0.25 A on 12 V. What the pin reads then, over that current, is the resistance from
the pin to battery negative; a lamp's ground may lose 0.1 V.
"""

from __future__ import annotations

from collections.abc import Iterable

from electrics.document.places import Evidence
from electrics.reference.usual import GROUND_LOSS_V, system_scale
from electrics.vocabulary import Instrument

__all__ = ["TEST_LAMP_W", "good_for_a"]

TEST_LAMP_W = 3.0
"""A filament test lamp: 0.25 A on 12 V, 0.125 A on 24 V (common practice) [W]."""


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
        for item in evidence
        if item.setup.instrument is Instrument.LOADED_DROP and item.is_number
    )
    return min((amps for amps in found if amps is not None), default=None)


def _carries_a(drop_v: float, scale: float) -> float | None:
    test_a = TEST_LAMP_W / (12.0 * scale)
    return GROUND_LOSS_V * scale * test_a / drop_v if drop_v > 0.0 else None
