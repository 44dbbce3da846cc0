"""Decisions of the version before units are those of the same lead of every unit; what was signed stands."""

from __future__ import annotations

import pytest
from django.contrib.auth.models import User
from django.utils import timezone

from decisions import decided
from electrics.document.decisions import CureDecision
from electrics.document.keyed import keyed
from electrics.document.vehicle import Computer, FlasherKind, VehicleFacts
from electrics.job.added import accessory_of
from electrics.vocabulary import Arrangement, Control
from hailstone.hookup.models import RUN_FIELDS, HookUp
from hailstone.jobs.models import Job
from hailstone.layers.facts import jobs_with_facts
from hailstone.layers.job_facts import job_facts, vehicle_facts
from hailstone.layers.overviews import job_overview
from hailstone.layers.signed import signed_facts
from hailstone.layers.signed_before import changes_between, printed_facts
from hailstone.layers.undo import take_back
from hailstone.prove.models import Signature
from migrating import begun_job, latest, migrated

BEFORE = [("hookup", "0006_circuits_and_leads"), ("jobs", "0004_not_fitted"), ("prove", "0002_revisions")]
SINGLE = {"reverse_lamps": "reverse", "camera_trigger": "trigger", "high_stop": "stop", "turn_left": "turn"}
LEADS = {
    **{kind: (lead,) for kind, lead in SINGLE.items()},
    "licence_cutout": ("licence",),
    "mirror_turn_pair": ("left", "right"),
    "light_bar": ("tail", "left", "right", "reverse"),
    "combined_tail_lamps": ("tail", "left", "right"),
    "separate_tail_lamps": ("tail", "stop", "left", "right"),
    "led_bulbs": ("tail", "stop", "left", "right", "reverse"),
    "motorcycle_signals": ("tail", "left", "right"),
    "front_both": ("left", "right"),
    "front_daytime": ("tail", "left", "right"),
    "towed_car": ("tail", "left", "right"),
    "rear_loom": ("tail", "stop", "left", "right", "reverse"),
}
"""The leads of each kind as they were."""


@pytest.fixture
def earlier(transactional_db):
    end = latest()
    yield migrated(BEFORE)
    migrated(end)


def a_job(earlier, who, kind, leads, form="direct", **facts):
    """A job as it was stored, every lead decided, one with a run of its own, and signed as it was printed."""
    vehicle = earlier.get_model("jobs", "Vehicle").objects.create(make="Merrow", model="Skua", year=2014)
    facts = {"addition": kind, "added_count": 2, "added_each_a": 0.4, **facts}
    job = earlier.get_model("jobs", "Job").objects.create(
        vehicle=vehicle, title=kind, supply_v=12.6, created_by=who, changed_by=who, **facts
    )
    runs = {leads[-1]: {"joint": "solder", "out_m": 9.0}} if len(leads) > 1 else {}
    ways = {lead: f"{form}:{n}" for n, lead in enumerate(leads, start=900)}  # pins that were removed since
    hookup = earlier.get_model("hookup", "HookUp").objects.create(
        job=job, ways=ways, leads=runs, out_m=3.4, back_m=0.6, changed_by=who, overrides={"load_a": 0.9}
    )
    values = {name: getattr(hookup, name) for name in RUN_FIELDS} | {"overrides": "load_a=0.9", "is_exposed": "True"}
    printed = {
        f"run::{name}": f"{value:g}" if isinstance(value, float) else str(value) for name, value in values.items()
    }
    printed |= {f"way:{lead}": f"{form}: {key.partition(':')[2]}" for lead, key in ways.items()}
    printed |= {f"run:{lead}:{name}": "9" if name == "out_m" else "solder" for lead in runs for name in runs[lead]}
    earlier.get_model("prove", "Signature").objects.create(
        job=job, facts=printed, verdict="passed", who=who, at=timezone.now()
    )
    return job


def new_leads(job):
    return {lead.id for lead in accessory_of(job_facts(job)).leads}


def test_every_kind_keeps_its_ways_and_its_signature(earlier):
    who = earlier.get_model("auth", "User").objects.create(username="ina")
    for kind, leads in LEADS.items():
        a_job(earlier, who, kind, leads)
    a_job(earlier, who, "reverse_lamps", ("reverse",), added_count=1)
    also = ("reverse_lamps-reverse", "mirror_turn_pair-left", "mirror_turn_pair-right")
    a_job(earlier, who, "reverse_lamps", also, also="mirror_turn_pair")
    a_job(earlier, who, "own", ("red", "side"), own_leads="red = tail\nside = stop")
    migrated(latest())
    jobs = list(jobs_with_facts())
    assert len(jobs) == len(LEADS) + 3
    for job in jobs:
        assert set(decided(job).ways) == new_leads(job), job.title
        found = job_overview(job.pk).signed
        assert found.stands, (job.title, found.changes)


def test_a_way_with_another_flasher_becomes_the_plain_way_and_a_cure(earlier):
    who = earlier.get_model("auth", "User").objects.create(username="ina")
    job = a_job(earlier, who, "mirror_turn_pair", ("left", "right"), form="flasher")
    plain = a_job(earlier, who, "turn_left", ("turn",))
    migrated(latest())
    assert {key.partition(":")[0] for key in decided(job).ways.values()} == {"direct"}
    assert [cure.cure for cure in decided(job).cures] == ["flasher"]
    assert decided(plain).cures == ()
    found = jobs_with_facts().get(pk=job.pk)
    assert job_facts(found).hookup.cures[0].cure == "flasher"
    assert job_overview(found.pk).signed.stands


def test_a_length_and_a_number_stay_with_the_first_the_rest_is_everybodys(earlier):
    who = earlier.get_model("auth", "User").objects.create(username="ina")
    job = a_job(earlier, who, "separate_tail_lamps", ("left", "right", "tail", "stop"))
    migrated(latest())
    stored = HookUp.objects.get(job_id=job.pk)
    assert decided(job).runs == {"left-stop": {"joint": "solder", "out_m": 9.0}, "right-stop": {"joint": "solder"}}
    assert (stored.out_m, stored.overrides) == (3.4, {"load_a": 0.9})


def test_a_distance_said_by_names_is_kept_by_what_stands_there(transactional_db):
    before = [("hookup", "0010_stock"), ("identify", "0005_all_wires"), ("jobs", "0008_habits")]
    end, old = latest(), migrated(before)
    entries = [{"id": "unit", "name": "lamp"}, {"id": "unit 2", "name": "lamp on the left"}]
    job, who = begun_job(old, units=entries)
    point = old.get_model("identify", "AccessPoint").objects.create(job=job, name="left tail lamp")
    said = [["left tail lamp", "lamp on the left", 2.0], ["battery", "lamp (new)", 3.0]]
    old.get_model("hookup", "HookUp").objects.create(job=job, distances=said, changed_by=who)
    migrated(end)
    kept = decided(job).distances
    assert kept == ((f"#{point.id}", "=unit 2", 2.0), ("battery", "=unit> (new)", 3.0))


def test_documents_become_rows_and_what_they_signed_stands(transactional_db):
    before = [("hookup", "0011_distances_by_row"), ("identify", "0005_all_wires"), ("jobs", "0009_tools")]
    end, old = latest(), migrated([*before, ("prove", "0002_revisions")])
    job, who = begun_job(old)
    point = old.get_model("identify", "AccessPoint").objects.create(job=job, name="left tail lamp")
    pin = old.get_model("identify", "Pin").objects.create(point=point, label="3", colour="BN", position=0)
    renamed = {"id": "unit: red", "lead": "blue", "wants": "tail", "amps": 0.4, "technology": "led"}
    ground = {"lead": "ground", "wants": "ground"}
    job.units = [
        {"id": "unit", "name": "lamp", "kind": "", "side": "left", "place": f"#{point.id}", "lamps": 2,
         "instead_of": f"#{point.id}", "leads": [renamed, {**renamed, "id": "", "lead": "red"}, ground]},
        {"id": "unit 2", "name": "horn", "kind": "", "side": "", "place": "canopy", "instead_of": "#999", "lamps": 1,
         "leads": [{**renamed, "id": "horn"}, ground]},
    ]  # fmt: skip
    job.spots = [{"name": "canopy", "zone": "rear centre"}]
    job.save()
    cure = {"cure": "load_resistor", "leads": ["unit: red"], "ohm": 6.0, "case_w": 50.0, "mount": "metal", "ways": []}
    old.get_model("hookup", "HookUp").objects.create(
        job=job,
        ways={"unit: red": f"and_not:{pin.id},990", "horn": "direct:@battery", "gone": ""},
        leads={"horn": {"joint": "solder"}},
        cures=[cure],
        distances=[[f"#{point.id}", "=unit 2", 2.0], ["canopy", "battery", 3.0], ["#999", "battery", 1.0]],
        changed_by=who,
    )
    printed = {
        "way:unit: red": "and_not: left tail lamp pin 3, 990",
        "way:horn": "direct: @battery",
        "way:gone": ": ",
        "unit:horn": "canopy; 1; blue tail 0.4 A led; ground ground  A ",
        "unit:lamp": "left; left tail lamp; left tail lamp; 2; blue tail 0.4 A led; red tail 0.4 A led; ground ground  A ",
        "cure:load_resistor": "6 ohm 50 W metal at unit: red",
    }
    old.get_model("prove", "Signature").objects.create(
        job=job, facts=printed, verdict="passed", who=who, at=timezone.now()
    )
    migrated(end)
    found = decided(job)
    assert found.ways == {"unit: red": f"and_not:{pin.id},990", "horn": "direct:@battery"}
    used = CureDecision("load_resistor", ("unit: red",), 6.0, 50.0)
    assert (found.runs, found.cures) == ({"horn": {"joint": "solder"}}, (used,))
    assert found.distances == ((f"#{point.id}", "=unit 2", 2.0), ("canopy", "battery", 3.0))
    assert [lead.id for lead in found.units[0].leads] == ["unit: red", "unit: red 2", ""]
    assert [(unit.place, unit.instead_of) for unit in found.units] == [
        (f"#{point.id}", f"#{point.id}"), ("canopy", ""),
    ]  # fmt: skip
    now = printed_facts(jobs_with_facts().get(pk=job.id))
    assert changes_between(Signature.objects.get().facts, now) == ()


def test_what_an_earlier_version_could_undo_can_be_undone(transactional_db):
    end, old = (
        latest(),
        migrated([("jobs", "0011_words_of_computer"), *(each for each in latest() if each[0] != "jobs")]),
    )
    job, who = begun_job(old, addition="reverse_lamps")
    old.get_model("hookup", "HookUp").objects.create(job=job, changed_by=who, keeps="lease")
    lead = {"id": "unit: red", "lead": "red", "wants": "tail", "amps": 1, "technology": "led", "polarity": "positive"}
    unit = {"id": "unit", "name": "lamp", "kind": "", "side": "", "place": "canopy", "instead_of": "", "lamps": 1,
            "spacing_m": 0.3, "leads": [lead, {"lead": "ground", "wants": "ground"}]}  # fmt: skip
    cure = {"cure": "load_resistor", "leads": ["unit: red"], "ohm": 6.0, "case_w": 50.0, "mount": "metal", "ways": []}
    hookup = {"job_id": job.pk, "keeps": "for_good", "ways": {"unit: red": "unused:"}, "leads": {}, "cures": [cure],
              "distances": [["canopy", "battery", 3.0]]}  # fmt: skip
    state = {"units": [unit], "spots": [{"name": "canopy", "zone": "rear centre"}], "hookup": hookup, "ticks": []}
    change = old.get_model("jobs", "Before").objects.create(job=job, who=who, what="a change", state=state)
    migrated(end)
    take_back(Job.objects.get(), User.objects.get(), str(change.pk))
    found = decided()
    assert (found.units[0].leads[0].amps, found.spots, found.distances) == (
        1.0, {"canopy": "rear centre"}, (("battery", "canopy", 3.0),),
    )  # fmt: skip
    assert (found.ways, found.cures[0].ohm) == ({"unit: red": "unused:"}, 6.0)
    assert HookUp.objects.get().keeps == "for_good"


def test_columns_of_a_vehicle_become_its_facts_and_are_signed_as_they_were(transactional_db):
    end = latest()
    old = migrated([("jobs", "0012_undo_of_decisions"), *(each for each in end if each[0] != "jobs")])
    job, _ = begun_job(old, addition="reverse_lamps", arrangement="combined")
    columns = {"system_v": 24, "computer": "no", "not_fitted": "fog_front,park_left", "body": "truck"}
    columns |= {"flasher": "bimetal", "habits": {"air_c": 60.0}}
    old.get_model("jobs", "Vehicle").objects.update(**columns)
    migrated(end)
    now = Job.objects.get(pk=job.pk)
    facts = signed_facts(now, None, None)
    signed = {**columns, "not_fitted": "fog_front; park_left", "arrangement": "combined"}
    assert signed.items() <= keyed(facts["document"])["vehicle"].items()
    assert vehicle_facts(now) == VehicleFacts(
        24, Computer.NO, Arrangement.COMBINED, frozenset({Control.FOG_FRONT, Control.PARK_LEFT}), "truck",
        flasher=FlasherKind.BIMETAL, habits=(("air_c", 60.0),),
    )  # fmt: skip
