"""The reference tables: what the numbers mean, and that a broken table is refused."""

from __future__ import annotations

import csv
from importlib.resources import files

import pytest

from electrics.errors import TableError
from electrics.identify.kinds import Side, access_kinds, count_prior
from electrics.reference import tables
from electrics.reference.bulbs import bulbs
from electrics.reference.fuses import fuses
from electrics.vocabulary import FUNCTIONS, Arrangement, Function

NAMES = sorted(path.name for path in files("electrics.reference").joinpath("data").iterdir())


@pytest.mark.parametrize("name", NAMES)
def test_every_row_names_a_known_source_and_basis(name):
    text = files("electrics.reference").joinpath("data", name).read_text("utf-8")
    for row in csv.DictReader(text.splitlines()):
        assert row["source"] in tables.sources()
        assert row["basis"] in tables.BASES


@pytest.mark.parametrize(
    ("text", "complaint"),
    [
        ("a,b,source\n1,2,trade\n", "columns are"),
        ("a,b,source,basis\n", "no rows"),
        ("a,b,source,basis\n1,2,trade,estimate\n1,3,trade,estimate\n", "stands twice"),
        ("a,b,source,basis\n1,2,hearsay,estimate\n", "unknown source"),
        ("a,b,source,basis\n1,2,trade,guess\n", "unknown source or basis"),
        ("a,b,source,basis\n1,two,trade,estimate\n", "cannot be read"),
    ],
)
def test_a_broken_table_is_refused(text, complaint, tmp_path, monkeypatch):
    (tmp_path / "data").mkdir()
    (tmp_path / "data" / "broken.csv").write_text(text)
    tables.sources()
    monkeypatch.setattr(tables, "files", lambda package: tmp_path)
    with pytest.raises(TableError, match=complaint):
        tables.read_table("broken", ("a", "b"), lambda row: float(row["b"]))


def test_a_missing_row_names_those_there_are():
    with pytest.raises(TableError, match="P21W"):
        bulbs()["candle"]


def test_fuse_steps_rise_as_sold():
    """Blade ratings, ISO 8820-3 (from memory)."""
    assert [fuse.rating_a for fuse in fuses()] == [1, 2, 3, 4, 5, 7.5, 10, 15, 20, 25, 30, 35, 40]


@pytest.mark.parametrize("kind", [kind.id for kind in access_kinds()])
@pytest.mark.parametrize("arrangement", list(Arrangement))
def test_prior_counts_are_distributions(kind, arrangement):
    prior = count_prior(kind, Side.LEFT, arrangement, 30)
    assert prior.shape == (len(FUNCTIONS), 31)
    assert prior.sum(axis=1) == pytest.approx(1.0, abs=1e-6)


def test_a_left_lamp_expects_left_functions():
    own = count_prior("rear_lamp", Side.LEFT, Arrangement.SEPARATE, 5)
    left, right = FUNCTIONS.index(Function.TURN_LEFT), FUNCTIONS.index(Function.TURN_RIGHT)
    assert own[left, 1] > 50 * own[right, 1]
    assert count_prior("rear_lamp", Side.RIGHT, Arrangement.SEPARATE, 5)[right, 1] == own[left, 1]
