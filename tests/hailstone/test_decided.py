"""What is decided of a job stands in rows that refer by foreign key: what is gone takes along what was said of it."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest
from django.db import connection
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from decisions import decide_only, decided
from electrics.document.decisions import CureDecision
from electrics.document.units import LeadFacts, UnitFacts
from electrics.document.written import typed, written
from hailstone.hookup.models import CuredLead, Distance, LeadDecision, WaySource
from hailstone.identify.models import Pin
from hailstone.identify.services import add_point, remove_point
from hailstone.jobs.models import Job
from hailstone.jobs.services import remove_job
from hailstone.layers.decision_rows import keep
from hailstone.layers.decisions import Decisions, decisions_of
from hailstone.layers.facts import jobs_with_facts
from hailstone.layers.job_facts import job_facts
from hailstone.layers.overviews import job_overview
from hailstone.layers.places import SaidPlace as Said
from hailstone.layers.places import SaidWire
from hailstone.layers.refs import Ref, name_of
from hailstone.layers.signed import changes_between
from hailstone.layers.undo import last_change, remember, take_back
from hailstone.units.models import Lead, Place, Spot, Unit
from hailstone.units.services import begin_units, save_unit
from signing import facts_now

pytestmark = pytest.mark.django_db

KEYS = ("unit", "unit 2", "unit 3")
LEADS = {key: [f"{key}: {label}" for label in ("red", "white")] for key in KEYS}
BRIEFS = ("left-turn", "reverse_lamps-reverse")


def fresh(job):
    return Job.objects.select_related("vehicle").get(pk=job.pk)


@st.composite
def documents(draw, points, pins):
    """Things, places, ways, runs, distances and cures in any mixture, with every reference to something there."""
    a, b = (f"#{point.id}" for point in points)
    one, two = (pin.id for pin in pins)
    keys = draw(st.lists(st.sampled_from(KEYS), unique=True))
    spots = draw(st.lists(st.sampled_from(("front socket", "canopy")), unique=True))
    places = ["", a, b, "battery", f"{a}> (new)", *spots, *(f"={key}> (new)" for key in keys)]
    units = []
    for key in keys:
        labels = draw(st.lists(st.sampled_from(("red", "white")), min_size=1, unique=True))
        rows = [LeadFacts(label, "tail", 0.3, id=f"{key}: {label}") for label in labels]
        side, place = draw(st.sampled_from(("", "left"))), draw(st.sampled_from(places))
        instead_of, leads = draw(st.sampled_from(("", a, b))), (*rows, LeadFacts("ground", "ground"))
        found = {name: draw(st.sampled_from((None, True, False))) for name in ("removable", "swinging", "wet")}
        units.append(UnitFacts(f"the {key}", "", side, place, instead_of, 2, **found, leads=leads, id=key))
    leads = st.sampled_from([*BRIEFS, *(lead.id for unit in units for lead in unit.own_leads)])
    ways = st.sampled_from(
        ("unused:", f"direct:{one}", f"and_not:{two},{one}", f"relay:@battery,{two}", "direct:gone")
    )
    pair = st.lists(st.sampled_from([place for place in places if place]), min_size=2, max_size=2, unique=True)
    distances = tuple((*each, 2.5) for each in draw(st.lists(pair, max_size=3)))
    at = st.lists(leads, max_size=2, unique=True).map(tuple)
    cures = tuple(CureDecision(each, draw(at), 6.0) for each in draw(st.permutations(("flasher", "diode"))))
    return Decisions(
        tuple(units),
        dict.fromkeys(spots, "front centre"),
        draw(st.dictionaries(leads, ways)),
        draw(st.dictionaries(leads, st.just({"joint": "solder"}))),
        distances,
        cures[: draw(st.integers(0, 2))],
    )


@pytest.fixture
def lamps(job, point, who):
    """A job with two lamps opened."""
    return job, (point, add_point(job, Said("right tail lamp", "rear_lamp", "right", [SaidWire("1", "BK")]), who))


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(data=st.data())
def test_what_was_kept_is_read_again_whatever_stood_there_before(lamps, data):
    job, points = lamps
    document = data.draw(documents(points, points[0].pins.all()[:2]))
    keep(job, document)
    assert decided(job) == document
    assert decisions_of(jobs_with_facts().get(pk=job.pk)) == document
    assert typed(Decisions, json.loads(json.dumps(written(document)))) == document
    referred = {*document.ways, *document.runs, *(lead for cure in document.cures for lead in cure.leads)}
    own = {lead.id for unit in document.units for lead in unit.own_leads}
    assert Lead.objects.count() == len(own | referred) + len(document.units)  # and a ground of each
    assert Place.objects.count() <= 2 * len(document.units) + 2 * len(document.distances)
    connection.check_constraints()


def test_a_lamp_that_is_removed_takes_its_distances_and_leaves_its_ways_open(page, hooked_up, who):
    point = hooked_up.points.get()
    begin_units(fresh(hooked_up), who)
    first, *others = decided(hooked_up).units
    at = replace(first, place=f"#{point.id}", instead_of=f"#{point.id}")
    decide_only(hooked_up, units=(at, *others), distances=((f"#{point.id}", "battery", 3.0), ("battery", "cab", 1.0)))
    before = facts_now(hooked_up)
    remove_point(point, who)
    after = decided(hooked_up)
    assert (after.units[0].place, after.units[0].instead_of) == ("", "")
    assert after.distances == (("battery", "cab", 1.0),)
    assert set(after.ways.values()) == {"direct:gone"}
    changed = {change.key.partition(":")[0] for change in changes_between(before, facts_now(hooked_up))}
    assert {"unit", "distance", "way"} <= changed
    assert page.get(f"/jobs/{hooked_up.id}/hook-up/").status_code == 200


def test_a_wire_that_is_taken_out_leaves_a_way_that_says_so_and_undo_cannot_bring_it_back(page, hooked_up, who):
    remember(hooked_up.id, who, "a change")
    Pin.objects.filter(id=WaySource.objects.get().pin_id).delete()
    assert decided().ways == {"reverse": "direct:gone"}
    (lead,) = job_overview(hooked_up.id).plan.leads
    assert lead.is_gone
    assert "The chosen hook-up no longer works" in page.get(f"/jobs/{hooked_up.id}/hook-up/").content.decode()
    take_back(fresh(hooked_up), who, str(last_change(hooked_up).id))
    assert WaySource.objects.get().pin is None
    assert job_overview(hooked_up.id).plan.leads[0].is_gone


def test_undo_after_a_lamp_was_removed_brings_back_what_still_can_be(hooked_up, who):
    point = hooked_up.points.get()
    begin_units(fresh(hooked_up), who)
    decide_only(hooked_up, distances=((f"#{point.id}", "battery", 3.0), ("battery", "cab", 1.0)))
    remember(hooked_up.id, who, "a change")
    remove_point(point, who)
    decide_only(hooked_up, distances=())
    take_back(fresh(hooked_up), who, str(last_change(hooked_up).id))
    assert decided(hooked_up).distances == (("battery", "cab", 1.0),)


def test_a_new_lead_of_an_old_name_is_another_lead(hooked_up, who):
    """One lead is called otherwise, and the next gets its old name: the way stays with the first."""
    begin_units(fresh(hooked_up), who)
    unit, *_ = decided(hooked_up).units
    lead, ground = unit.leads
    way = {lead.id: "unused:"}
    decide_only(hooked_up, ways=way)
    added = replace(lead, id="", lead=lead.id.partition(": ")[2] or lead.id)
    renamed = (replace(lead, lead="blue"), added, ground)
    save_unit(fresh(hooked_up), who, replace(unit, leads=renamed), version=fresh(hooked_up).version)
    ids = [lead.id for unit in job_facts(fresh(hooked_up)).units for lead in unit.own_leads]
    assert (len(ids), len(set(ids))) == (2, 2)
    assert decided(hooked_up).ways == way


def test_a_job_goes_with_every_row_of_it(job, point, who):
    begin_units(fresh(job), who)
    unit, *_ = decided(job).units
    lead = unit.leads[0].id
    decide_only(
        job,
        units=(replace(unit, place="canopy"),),
        spots={"canopy": "rear centre"},
        ways={lead: f"direct:{point.pins.first().id}"},
        cures=(CureDecision("flasher", (lead,)),),
        distances=((f"#{point.id}", f"={unit.id}> (new)", 2.0),),
    )
    rows = (Spot, Place, Unit, Lead, LeadDecision, WaySource, CuredLead, Distance)
    assert all(model.objects.exists() for model in rows)
    remove_job(job)
    assert not any(model.objects.exists() for model in rows)


@pytest.mark.parametrize("text", ["#12", "=unit 2", "#12> (new)", "=unit 2> (new)", "battery", ""])
def test_a_reference_is_read_as_it_is_written(text):
    assert str(Ref.read(text)) == text


def test_a_reference_to_no_row_is_none_of_another_kind():
    names = {"#12": "lamp", "=unit": "pod"}
    assert [name_of(ref, names) for ref in ("#unit", "#13", "=12", "#12> (new)", "dash")] == [
        "",
        "",
        "",
        "lamp (new)",
        "dash",
    ]
