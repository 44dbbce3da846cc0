"""What is fitted thing by thing, by the pages: begun, changed, added, removed, taken back."""

from __future__ import annotations

import re
from dataclasses import replace

import pytest

from briefs import BRIEF, CIRCUIT
from decisions import decide_only, decided
from electrics.design.accessories import accessories
from electrics.document.decisions import CureDecision
from electrics.job.added import accessory_of
from electrics.prove.sheet import Outcome
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement
from hailstone.jobs.models import Job
from hailstone.jobs.services import begin_job
from hailstone.layers.distances import state_distance
from hailstone.layers.job_facts import job_facts
from hailstone.layers.overviews import job_overview
from hailstone.layers.signed import changes_between
from hailstone.layers.undo import remember
from hailstone.prove import services as prove
from hailstone.prove.shown import names_for
from hailstone.units.forms import spacing_m
from hailstone.units.services import add_unit, begin_units, remove_unit
from hailstone.wording.changes import change_sentence
from measured import SEPARATE, measured
from page_words import flat, odd_words
from posted import send
from signing import facts_now
from stepped import build_all, keys_of

pytestmark = pytest.mark.django_db


@pytest.fixture
def mirrors(who):
    """Turn lamps in both mirrors, measured out."""
    job = begin_job(who, {**BRIEF, "addition": "mirror_turn_pair", "added_count": 2, "added_each_a": 0.3})
    measured(job, who, SEPARATE, Scenario(Arrangement.SEPARATE), 1)
    return job


def undo(page, job):
    """Press Undo on the list of units."""
    return send(page, f"/jobs/{job.id}/units/", "take-back/", follow=True).content.decode()


def fresh(job):
    return Job.objects.select_related("vehicle").get(pk=job.pk)


def form(job, n, **changes):
    """The form of the nth thing as it stands, with some fields changed."""
    unit = decided(job).units[n]
    leads = unit.own_leads
    sent = {
        "unit": unit.id,
        "version": fresh(job).version,
        "spacing": unit.spacing_m,
        "lead_id": [each.id for each in leads],
        "common": "ground",
        **{name: getattr(unit, name) for name in ("name", "side", "place", "instead_of", "lamps")},
        **{name: [getattr(each, name) for each in leads] for name in ("lead", "wants", "amps", "technology")},
    }
    return sent | changes


def post(page, job, what, sent):
    return page.post(f"/jobs/{job.id}/units/{what}/", sent)


def take_best(page, job):
    page.post(
        f"/jobs/{job.id}/hook-up/", {**CIRCUIT, "best": "1", "version": job_overview(job.id).job.hookup.version}
    )


@pytest.mark.parametrize("kind", [each.id for each in accessories()])
def test_said_thing_by_thing_the_plan_of_every_kind_is_the_same(who, kind):
    each = accessories()[kind]
    job = begin_job(who, {**BRIEF, "addition": kind, "added_count": each.count, "added_each_a": 0.5})
    before = job_facts(fresh(job))
    begin_units(job, who)
    after = job_facts(fresh(job))
    first, second = accessory_of(before), accessory_of(after)
    assert after.units
    for one, other in zip(first.units, second.units, strict=True):
        assert (one.id, one.side, one.lamps, one.kind) == (other.id, other.side, other.lamps, other.kind)
        for lead, same in zip(one.leads, other.leads, strict=True):
            names = (
                "id",
                "wanted",
                "polarity",
                "technology",
                "each_a",
                "lamps",
                "replaces",
                "switches_itself",
                "label",
            )
            assert [getattr(lead, name) for name in names] == [getattr(same, name) for name in names]


def test_how_a_thing_is_carried_is_said_of_itself_and_reaches_the_sheet(page, mirrors):
    post(page, mirrors, "begin", {})
    take_best(page, mirrors)
    post(page, mirrors, "save", form(mirrors, 0, carried="removable", water="dry"))
    post(page, mirrors, "save", form(mirrors, 1, carried="fixed"))
    fresh_plan = job_overview(mirrors.id).plan
    assert [unit.comes_off for unit in fresh_plan.accessory.units] == [True, False]
    assert [unit.is_wet for unit in fresh_plan.accessory.units] == [False, True]
    sheet = page.get(f"/jobs/{mirrors.id}/build/sheet/").content.decode()
    assert "put a plug in the leads of the left mirror turn lamp, which comes off" in flat(sheet)
    assert "(plug)" in page.get(f"/jobs/{mirrors.id}/units/").content.decode()
    assert post(page, mirrors, "save", form(mirrors, 0, carried="glued")).status_code == 422


def test_ways_stay_when_things_are_said_one_by_one_and_renamed(page, mirrors):
    take_best(page, mirrors)
    chosen = [lead.chosen.key for lead in job_overview(mirrors.id).plan.leads]
    assert post(page, mirrors, "begin", {}).status_code == 302
    post(page, mirrors, "save", form(mirrors, 0, name="driver's mirror", lamps="3", spacing="row 0.4"))
    plan_now = job_overview(mirrors.id).plan
    assert [lead.chosen.key for lead in plan_now.leads] == chosen
    assert plan_now.leads[0].lead.title.startswith("driver's mirror")
    assert (plan_now.leads[0].lamps, plan_now.accessory.units[0].spacing_m) == (3, 0.2)


def test_removing_says_what_goes_with_it_and_undo_brings_it_back(page, mirrors):
    take_best(page, mirrors)
    post(page, mirrors, "begin", {})
    both = job_overview(mirrors.id).plan
    text = page.get(f"/jobs/{mirrors.id}/units/").content.decode()
    assert "With it goes the hook-up of 1 lead." in text
    sent = {"unit": decided(mirrors).units[1].id, "version": fresh(mirrors).version}
    text = page.post(f"/jobs/{mirrors.id}/units/remove/", sent, follow=True).content.decode()
    assert "Removed: right mirror turn lamp. With it went the hook-up of 1 lead." in text
    assert len(job_overview(mirrors.id).plan.leads) == 1
    assert len(decided(mirrors).ways) == 1
    alone = post(page, mirrors, "remove", {"unit": decided(mirrors).units[0].id, "version": fresh(mirrors).version})
    assert (alone.status_code, "s only part" in alone.content.decode()) == (422, True)
    text = undo(page, mirrors)
    assert "Undone: removing right mirror turn lamp." in text
    assert [each.chosen.key for each in job_overview(mirrors.id).plan.leads] == [
        each.chosen.key for each in both.leads
    ]


def test_undo_goes_back_over_ways_lengths_and_ticks_to_the_beginning(page, mirrors, who):
    take_best(page, mirrors)
    (safe,) = keys_of(mirrors, "make_safe")
    prove.tick(mirrors, safe, prove.TickState.DONE, who)
    prove.tick(mirrors, safe, prove.TickState.DONE, who)  # said twice is done once
    said = [undo(page, mirrors) for _ in range(3)]
    assert "Undone: a tick of the build sheet." in said[0]
    assert "Undone: the choice of a way." in said[1]
    assert "Nothing is left to undo" in said[2]
    assert (decided(mirrors).ways, fresh(mirrors).ticks.count()) == ({}, 0)


def test_only_so_many_changes_are_kept(mirrors, who):
    for n in range(60):
        remember(mirrors.id, who, f"change {n}")
    kept = [each.what for each in mirrors.befores.all()]
    assert (len(kept), kept[0]) == (50, "change 59")


def test_a_thing_stands_at_a_place_without_wires_and_its_run_is_as_long_as_was_said(page, mirrors):
    post(page, mirrors, "begin", {})
    sent = {"name": "front socket", "zone": "front centre", "version": fresh(mirrors).version}
    assert post(page, mirrors, "place", sent).status_code == 302
    post(page, mirrors, "save", form(mirrors, 0, place="front socket"))
    take_best(page, mirrors)
    design = job_overview(mirrors.id).plan.design
    assert any(spot.name == "front socket" for spot in design.spots())
    busy = post(page, mirrors, "place/remove", {"name": "front socket", "version": fresh(mirrors).version})
    assert (busy.status_code, "Move it first" in busy.content.decode()) == (422, True)
    far = {"first": "front socket", "second": "ring terminal", "m": "3"}
    page.post(f"/jobs/{mirrors.id}/distance/", far)  # no place of the design: refused, nothing stored
    assert decided(mirrors).distances == ()


def test_a_place_that_is_renamed_keeps_what_stands_there_and_one_that_is_gone_breaks_nothing(page, mirrors):
    point = mirrors.points.get()
    post(page, mirrors, "begin", {})
    post(page, mirrors, "save", form(mirrors, 0, place=f"#{point.id}"))
    point.name = "lamp by the ladder"
    point.save()
    assert job_facts(fresh(mirrors)).units[0].place == "lamp by the ladder"
    point.delete()
    assert job_facts(fresh(mirrors)).units[0].place == ""
    assert page.get(f"/jobs/{mirrors.id}/hook-up/").status_code == 200


def test_a_distance_stays_said_when_what_it_leads_to_gets_another_name(page, mirrors, who):
    take_best(page, mirrors)
    point = mirrors.points.get()
    state_distance(mirrors, who, point.name, "left mirror turn lamp", 2.5)  # before things are said one by one
    post(page, mirrors, "begin", {})
    post(page, mirrors, "save", form(mirrors, 0, name="driver's mirror"))
    point.name = "lamp by the ladder"
    point.save()
    facts = job_facts(fresh(mirrors))
    assert facts.distances == {frozenset(("lamp by the ladder", "driver's mirror")): 2.5}
    state_distance(fresh(mirrors), who, "driver's mirror", "lamp by the ladder", 2.2)  # the same two places
    assert list(job_facts(fresh(mirrors)).distances.values()) == [2.2]
    undo(page, mirrors)
    assert list(job_facts(fresh(mirrors)).distances.values()) == [2.5]
    point.delete()
    assert job_facts(fresh(mirrors)).distances == {}


BAD = [
    ({"name": ""}, "up to 60 letters"),
    ({"name": "right mirror turn lamp"}, "Two parts are named"),
    ({"lamps": "0"}, "1 to 20"),
    ({"lamps": "²"}, "1 to 20"),
    ({"spacing": "wide"}, "metres from lamp to lamp"),
    ({"spacing": "ring 900"}, "0.02 to 5 m"),
    ({"amps": ["much"]}, "Expected amps"),
    ({"amps": ["99"]}, "0.001 to 30 A"),
    ({"wants": ["turn left and not turn left"]}, "never lit"),
    ({"wants": ["sing"]}, "sing"),
    ({"wants": ["ground"]}, "2 leads that want ground"),
    ({"sockets": ["9"]}, "1 to 6"),
    ({"sockets": ["2"]}, "only a bulb has sockets"),
    ({"lead": [""]}, "0 leads"),
    ({"side": "up"}, "left, right or neither"),
    ({"technology": ["gas"]}, "LED or filament"),
    ({"instead_of": "#999999"}, ""),
    ({"unit": "nobody"}, "on this job any more"),
]


@pytest.mark.parametrize(("changes", "said"), BAD)
def test_what_cannot_be_is_refused_in_words_and_nothing_is_stored(page, who, changes, said):
    mirrors = begin_job(who, {**BRIEF, "addition": "mirror_turn_pair", "added_count": 2, "added_each_a": 0.3})
    post(page, mirrors, "begin", {})
    before = decided(mirrors).units
    answer = post(page, mirrors, "save", form(mirrors, 0, **changes))
    text = answer.content.decode()
    if not said:  # a place that is gone is as none
        assert answer.status_code == 302
        return
    assert (answer.status_code, said in text) == (422, True)
    assert decided(mirrors).units == before
    assert odd_words(text) == []


def test_a_lead_that_is_fed_for_good_is_a_lead_beside_its_ground(page, mirrors):
    post(page, mirrors, "begin", {})
    post(page, mirrors, "save", form(mirrors, 0, wants=["battery"], lead_id=[""]))
    lead, common = decided(mirrors).units[0].leads
    assert (lead.wants, common.wants) == ("battery", "ground")
    assert f'value="{lead.id}"' in page.get(f"/jobs/{mirrors.id}/units/").content.decode()
    take_best(page, mirrors)
    assert decided(mirrors).ways[lead.id] == "direct:@battery"


def test_the_build_sheet_shows_the_best_way_of_a_lead_that_has_none_yet(page, mirrors):
    lead = job_overview(mirrors.id).plan.leads[0]
    sent = {**CIRCUIT, f"way_{lead.lead.id}": lead.right[0].key, "version": "0", "lead": lead.lead.id}
    page.post(f"/jobs/{mirrors.id}/hook-up/", sent)
    page.post(f"/jobs/{mirrors.id}/units/add/", {"kind": "high_stop", "side": ""})
    text = page.get(f"/jobs/{mirrors.id}/build/").content.decode()
    assert "Don't splice or sign yet." in text
    assert text.count("not chosen yet") == 1
    assert "high stop lamp, its stop lead" in text


def test_the_sheet_says_which_assumption_would_change_the_plan_and_at_which_value(page, mirrors):
    assert "The plan changes" not in page.get(f"/jobs/{mirrors.id}/build/assumed/").content.decode()
    page.post(f"/jobs/{mirrors.id}/hook-up/", {"best": "1", "version": "0"})
    assert f"/jobs/{mirrors.id}/build/assumed/" in page.get(f"/jobs/{mirrors.id}/build/").content.decode()
    text = page.get(f"/jobs/{mirrors.id}/build/assumed/").content.decode()
    assert re.search(r"Turn left: 15 A fuse \(assumed\)\. The plan changes at \d+ A or (less|more)\.", text)
    assert odd_words(text) == []


def test_what_changed_since_a_signature_names_places_by_their_names(mirrors, who):
    point = mirrors.points.get()
    begin_units(mirrors, who)
    before = facts_now(mirrors)
    first, *others = decided(mirrors).units
    decide_only(mirrors, units=(replace(first, place=f"#{point.id}"), *others))
    (change,) = changes_between(before, facts_now(mirrors))
    said = change_sentence(change.key, change.before, change.after, names_for(job_overview(mirrors.id)))
    assert said == f"The location ({first.name}): nothing, now {point.name}."
    decide_only(mirrors, units=(replace(first, lamps=3, spacing_m=0.25), *others))
    said = [
        change_sentence(each.key, each.before, each.after) for each in changes_between(before, facts_now(mirrors))
    ]
    assert [each.partition(": ")[2] for each in said] == ["1, now 3.", "0.3 m, now 0.25 m."]
    earlier = changes_between({"job:title": "x"}, {"job:title": "x", "unit:lamp": "left"})
    assert {each.key for each in earlier} == {"unit:lamp"}


def test_two_people_at_the_same_thing_are_told(page, mirrors):
    post(page, mirrors, "begin", {})
    sent = form(mirrors, 0, name="first")
    post(page, mirrors, "save", form(mirrors, 1, name="second"))
    answer = post(page, mirrors, "save", sent)
    assert (answer.status_code, "while you had it open" in answer.content.decode()) == (409, True)


def test_a_thing_is_added_and_signed_sheets_notice(page, mirrors):
    sent = {"kind": "high_stop", "side": ""}
    text = page.post(f"/jobs/{mirrors.id}/units/add/", sent, follow=True).content.decode()
    assert "Added: high stop lamp." in text
    assert odd_words(text) == []
    assert [unit.name for unit in job_overview(mirrors.id).plan.accessory.units][-1] == "high stop lamp"
    own = page.post(f"/jobs/{mirrors.id}/units/add/", {"kind": "", "side": "left"}, follow=True).content.decode()
    assert "Added: left lamp." in own


@pytest.mark.parametrize(
    ("text", "lamps", "metres"), [("0,3 m", 2, 0.3), ("row 1.2", 4, 0.4), ("ring 0.6", 8, 0.2356), ("row 1", 1, 1.0)]
)
def test_spacing_is_said_from_lamp_to_lamp_or_for_the_whole(text, lamps, metres):
    """A row of n lamps has n - 1 gaps, a ring n along its circumference."""
    assert spacing_m(text, lamps) == pytest.approx(metres, abs=1e-4)


def test_what_was_said_of_a_thing_goes_with_it_and_is_not_said_of_the_next(page, mirrors, who):
    """The next thing may get its id: a distance or a cure of the one that went is none of its own."""
    post(page, mirrors, "begin", {})
    take_best(page, mirrors)
    add_unit(fresh(mirrors), who, "mirror_turn", "right", version=fresh(mirrors).version)
    unit = decided(mirrors).units[-1]
    state_distance(fresh(mirrors), who, mirrors.points.get().name, unit.name, 2.5)
    decide_only(mirrors, cures=(CureDecision("load_resistor", (unit.lead_keys[0],), 8.0, 50.0),))
    post(page, mirrors, "remove", {"unit": unit.id, "version": fresh(mirrors).version})
    assert (decided(mirrors).distances, decided(mirrors).cures) == ((), ())
    add_unit(fresh(mirrors), who, "mirror_turn", "right", version=fresh(mirrors).version)
    assert decided(mirrors).units[-1].id == unit.id
    assert job_facts(fresh(mirrors)).distances == {}


def test_what_was_tested_on_a_thing_that_went_is_not_passed_by_the_next(page, mirrors, who):
    post(page, mirrors, "begin", {})
    take_best(page, mirrors)
    add_unit(fresh(mirrors), who, "mirror_turn", "right", version=fresh(mirrors).version)
    sheet = job_overview(mirrors.id).proof.sheet
    prove.record(mirrors, [line for line in sheet.lines if line.lamp], Outcome.PASS, who)
    unit = decided(mirrors).units[-1]
    remove_unit(fresh(mirrors), who, unit.id, version=fresh(mirrors).version)
    add_unit(fresh(mirrors), who, "mirror_turn", "right", version=fresh(mirrors).version)
    assert decided(mirrors).units[-1].name == unit.name
    proof = job_overview(mirrors.id).proof
    new = [line for line in proof.sheet.lines if line.lamp and decided(mirrors).units[-1].id in line.key]
    assert new
    assert not any(line.key in proof.results for line in new)


def test_a_step_that_was_ticked_before_the_plan_changed_says_so_until_it_is_ticked_anew_or_taken_back(
    page, mirrors, who
):
    take_best(page, mirrors)
    build_all(mirrors, who)

    def again():
        return [stand.step.kind.id for stand in job_overview(mirrors.id).stands if stand.is_stale]

    assert again() == []
    post(page, mirrors, "begin", {})  # the same things, one by one: nothing is built otherwise
    assert again() == []
    state_distance(mirrors, who, mirrors.points.get().name, "left mirror turn lamp", 2.5)
    assert {"cut_wires", "pull", "test_loose", "close"} <= set(again())
    assert {"make_safe", "open_up", "prove_tap", "check_part"}.isdisjoint(again())  # safe is safe, proven is proven
    text = flat(page.get(f"/jobs/{mirrors.id}/build/").content.decode())
    assert "The plan changed since this was done" in text
    assert "(how far" in text
    undo(page, mirrors)
    assert again() == []
    state_distance(mirrors, who, mirrors.points.get().name, "left mirror turn lamp", 2.5)
    (cut,) = keys_of(mirrors, "cut_wires")
    for value in (prove.TickState.OPEN, prove.TickState.DONE):
        prove.tick(fresh(mirrors), cut, value, who)
    assert "cut_wires" not in again()


def test_what_passed_before_the_plan_changed_is_said_where_it_is_signed(page, mirrors, who):
    take_best(page, mirrors)
    build_all(mirrors, who, prove.TickState.NOT_NEEDED)
    sheet = job_overview(mirrors.id).proof.sheet
    prove.record(
        mirrors, [line for line in sheet.lines if line.lamp or line.measure.instrument is None], Outcome.PASS, who
    )
    for line in sheet.lines:
        if line.measure and line.measure.instrument:
            prove.record(
                mirrors, [line], Outcome.PASS, who, reading=f"{(line.measure.low + line.measure.high) / 2:g}"
            )
    address = f"/jobs/{mirrors.id}/prove/"
    assert "before the plan changed" not in page.get(address).content.decode()
    state_distance(mirrors, who, mirrors.points.get().name, "left mirror turn lamp", 2.5)
    text = flat(page.get(address).content.decode())
    assert re.search(r"steps checked off and \d+ lines tested before the plan changed \(how far", text)
    assert "Not signed" in send(page, address, "prove/sign/", follow=True).content.decode()
    undo(page, mirrors)
    assert "before the plan changed" not in page.get(address).content.decode()
