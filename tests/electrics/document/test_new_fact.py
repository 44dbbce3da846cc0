"""A new fact of the vehicle is a field: files carry it without anything else being changed."""

from __future__ import annotations

import json
from dataclasses import dataclass, fields

import pytest

from electrics.document.difference import changes_of
from electrics.document.vehicle import Computer, VehicleFacts
from electrics.document.written import revised, typed, written
from electrics.formats.json_file import schema_of
from electrics.job.file import vehicle as of_file

CALLED = {"prongs": "flasher"}
"""Fields that stand in a group of the file."""


@dataclass(frozen=True)
class Wider(VehicleFacts):
    """The vehicle with one fact more."""

    tow_bar: str = ""


def test_a_field_is_all_that_a_new_fact_needs_in_file_storage_and_difference(monkeypatch):
    monkeypatch.setattr(of_file, "VehicleFacts", Wider)
    towing = revised(Wider(24, Computer.NO), {"tow_bar": "swan neck"})
    assert towing.tow_bar == "swan neck"
    assert typed(Wider, json.loads(json.dumps(written(towing)))) == towing
    found, faults = of_file.read_vehicle(json.loads(json.dumps(of_file.write_vehicle(towing))))
    assert (found, faults) == (towing, [])
    (change,) = changes_of(written(Wider(24, Computer.NO)), written(towing))
    assert (change.key, change.before, change.after) == ("tow_bar", "", "swan neck")


def test_what_was_written_before_a_field_was_there_is_read_and_written_as_it_was():
    before = written(VehicleFacts(24, Computer.NO, body="van"))
    assert written(typed(Wider, before)) == before


@pytest.mark.parametrize("name", [field.name for field in fields(VehicleFacts) if field.name != of_file.BY_A_FIX])
def test_every_fact_of_the_vehicle_has_its_line_in_the_schema(name):
    assert CALLED.get(name, name) in schema_of("job")["properties"]["vehicle"]["properties"]
