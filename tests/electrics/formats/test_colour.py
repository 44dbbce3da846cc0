"""Wire colours."""

from __future__ import annotations

import pytest

from electrics.formats.colour import colour_table, parse_colour


@pytest.mark.parametrize(
    ("typed", "canonical"),
    [
        ("WH/GN", "WH/GN"),
        ("wh/gn", "WH/GN"),
        ("white/green", "WH/GN"),
        ("white with a green stripe", "WH/GN"),
        ("Light Blue", "LBU"),
        ("tan", "TAN"),
        ("gray/black", "GY/BK"),
        ("purple", "VT"),
    ],
)
def test_codes_and_plain_words_mean_the_same(typed, canonical):
    assert parse_colour(typed).text == canonical


@pytest.mark.parametrize("typed", ["GR", "bl", "B", "L", "WH/GR"])
def test_short_forms_that_makers_disagree_on_are_asked_about(typed):
    colour = parse_colour(typed)
    assert "Which is it?" in colour.question
    assert (colour.text, colour.parts) == (typed, ())


def test_an_unknown_colour_is_kept_as_typed():
    colour = parse_colour("mauve/chartreuse")
    assert (colour.text, colour.parts, colour.question) == ("mauve/chartreuse", (), "")


def test_all_letters_of_iec_60757_are_there():
    """IEC 60757, without the combinations for bare, gold and silver."""
    assert {"BK", "BN", "RD", "OG", "YE", "GN", "BU", "VT", "GY", "WH", "PK", "TQ"} <= set(colour_table().rows)
