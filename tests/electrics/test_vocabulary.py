"""States and what follows from the words alone."""

from __future__ import annotations

import pytest

from electrics.errors import FactError, StateError
from electrics.vocabulary import Control, parse_state, supply_default_v, supply_range_v


@pytest.mark.parametrize(
    ("text", "canonical"),
    [
        ("brake+left", "brake+left"),
        (" LEFT + brake ", "brake+left"),
        ("park left", "park_left"),
        ("reverse+brake", "brake+reverse"),
        ("rest", "rest"),
        ("fog_front+low", "low+fog_front"),
    ],
)
def test_controls_in_any_order_give_one_state(text, canonical):
    assert str(parse_state(text)) == canonical


@pytest.mark.parametrize(
    ("text", "complaint"),
    [
        ("", "empty"),
        ("brake+", "no control"),
        ("clutch", "“clutch” is no control"),
        ("rest+brake", "stand alone"),
        ("asleep+rest", "stand alone"),
        ("left+right", "cannot be on together"),
    ],
)
def test_impossible_states_are_refused_with_the_reason(text, complaint):
    with pytest.raises(StateError, match=complaint):
        parse_state(text)


@pytest.mark.parametrize(
    ("state", "implied", "is_on"),
    [
        ("left", Control.KEY, True),
        ("reverse", Control.KEY, True),
        ("fog_rear", Control.PARK, True),
        ("high", Control.PARK, True),
        ("hazard", Control.KEY, False),
        ("brake", Control.KEY, False),
        ("park", Control.KEY, False),
        ("reverse", Control.PARK, False),
    ],
)
def test_controls_bring_along_what_they_need(state, implied, is_on):
    """Indicators need the key, hazards and brake work without it; fogs and beams bring park (common practice)."""
    assert parse_state(state).on(implied) is is_on


def test_a_cell_of_lead_acid_is_2_1_volts():
    """3, 6 and 12 cells (common practice)."""
    assert [supply_default_v(v) / 2.1 for v in (6, 12, 24)] == pytest.approx([3, 6, 12])
    assert supply_range_v(24) == pytest.approx((20.0, 31.0))
    with pytest.raises(FactError, match="6, 12 or 24 V"):
        supply_default_v(48)
