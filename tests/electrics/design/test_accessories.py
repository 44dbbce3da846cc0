"""Accessories of one's own, and several together."""

from __future__ import annotations

import pytest

from electrics.design.accessories import accessories, own_kind, stand_in_twice, together
from electrics.errors import FactError
from electrics.vocabulary import Polarity


def test_a_lead_is_written_on_a_line_with_what_differs_from_the_usual():
    own = own_kind(
        "red = tail; 0,2 A\n\nside lamp = over(turn_left, tail); filament; 2.1\nwhite = reverse; ground", 2
    )
    assert [(lead.id, lead.each_a, lead.technology, lead.polarity) for lead in own.leads] == [
        ("red", 0.2, "led", Polarity.POSITIVE),
        ("side_lamp", 2.1, "filament", Polarity.POSITIVE),
        ("white", 0.3, "led", Polarity.GROUND),
    ]
    assert own.count == 2


@pytest.mark.parametrize("text", ["a tail", "a =", "= tail", "a = tail; loud", "a = tail; -1", "a = tail\na = stop"])
def test_what_is_no_lead_is_refused(text):
    with pytest.raises(FactError):
        own_kind(text, 1)


def test_accessories_together_keep_their_leads_apart():
    first, *others = (
        accessories()[id].fitted(count, None)
        for id, count in (("reverse_lamps", 1), ("mirror_turn_pair", 2), ("high_stop", 1))
    )
    both = together(first, others)
    assert [lead.id for lead in both.leads] == [
        "reverse_lamps-reverse",
        "mirror_turn_pair-left-turn",
        "mirror_turn_pair-right-turn",
        "high_stop-stop",
    ]
    assert [unit.id for unit in both.units] == [
        "reverse_lamps-lamp",
        *(f"mirror_turn_pair-{s}" for s in ("left", "right")),
        "high_stop-lamp",
    ]
    assert both.is_removable
    assert both.is_swinging
    assert both.name == "Extra reverse lamps, mirror or side turn lamps (both sides), extra high stop lamp"


def test_one_alone_stays_as_it_is():
    one = accessories()["reverse_lamps"]
    assert together(one, []) is one


@pytest.mark.parametrize(
    ("accessory", "leads"),
    [("light_bar", 4), ("rear_loom", 5), ("mirror_turn_pair", 2), ("camera_trigger", 1), ("towed_car", 3)],
)
def test_kinds_have_the_leads_that_the_job_has(accessory, leads):
    """Running, stop and turn left and right, reverse on a light bar of five functions (stop and turn share leads)."""
    assert len(accessories()[accessory].leads) == leads


@pytest.mark.parametrize(
    ("first", "second", "is_twice"),
    [
        ("combined_tail_lamps", "led_bulbs_combined", True),
        ("led_turns", "front_both", True),
        ("separate_tail_lamps", "front_both", False),  # behind, and in front
        ("separate_tail_lamps", "reverse_lamps", False),  # the second are added
        ("separate_tail_lamps", "licence_cutout", False),  # the licence lamps stay, only wired anew
    ],
)
def test_one_lamp_has_one_in_its_place(first, second, is_twice):
    known = accessories()
    assert (stand_in_twice([known[first], known["camera_trigger"], known[second]]) is not None) is is_twice
