"""The six layers: what each says at every stage of a job."""

from __future__ import annotations

import pytest

from electrics.document.places import Setup
from electrics.identify.belief import identify
from electrics.vocabulary import Function, Load, parse_state
from hailstone.identify.services import save_reading
from hailstone.jobs.models import Job
from hailstone.layers.facts import jobs_with_facts
from hailstone.layers.job_facts import job_facts
from hailstone.layers.overviews import job_overview
from hailstone.layers.plans import plan_of
from hailstone.layers.progress import LayerStatus
from hailstone.prove.services import TickState, tick
from hailstone.wording import advice
from lamps import GRID, all_pins, point
from stepped import keys_of

pytestmark = pytest.mark.django_db


def layers(job):
    return {layer.id: layer for layer in job_overview(job.id).layers}


def test_a_new_job_waits_for_its_wires(job):
    found = layers(job)
    assert found["brief"].status is LayerStatus.DONE
    assert (found["identify"].status, found["identify"].note) == (LayerStatus.OPEN, "no wires")
    assert {found[name].status for name in ("hookup", "correct", "build", "prove")} == {LayerStatus.WAITS}
    assert job_overview(job.id).current.id == "identify"


def test_identify_counts_what_the_job_needs_and_on_wish_every_wire(job, settled, who):
    assert (layers(job)["identify"].share, layers(job)["identify"].note) == (1.0, "2 of 2")
    Job.objects.update(charts_all=True)
    assert (layers(job)["identify"].share, layers(job)["identify"].note) == (1.0, "5 of 5")
    pin = settled.pins.get(label="2")
    save_reading(pin, Setup(parse_state("low")), "12.2", 12.6, who)
    save_reading(pin, Setup(parse_state("high")), "0.0", 12.6, who)
    assert layers(job)["identify"].note == "4 of 5, 1 odd"


def test_an_unreadable_reading_counts_for_nothing(job, settled, who):
    before = job_overview(job.id)
    save_reading(settled.pins.get(label="2"), Setup(parse_state("key")), "hm", 12.6, who)
    after = job_overview(job.id)
    assert [layer.note for layer in before.layers] == [layer.note for layer in after.layers]


def test_hook_up_opens_the_layers_behind_it(hooked_up):
    Job.objects.update(added_each_a=1.0)
    found = layers(hooked_up)
    assert found["hookup"].status is LayerStatus.DONE
    assert found["correct"].status is LayerStatus.DONE
    assert (found["build"].note, found["prove"].status) == (
        f"0 of {len(job_overview(hooked_up.id).derived.steps)}",
        LayerStatus.OPEN,
    )


def test_build_fills_its_ring_tick_by_tick(hooked_up, who):
    steps = keys_of(hooked_up)
    for n, step in enumerate(steps, start=1):
        tick(hooked_up, step, TickState.DONE, who)
        assert layers(hooked_up)["build"].share == pytest.approx(n / len(steps))
    assert layers(hooked_up)["build"].status is LayerStatus.DONE


def test_a_failed_line_makes_prove_a_fault(page, hooked_up):
    page.post(f"/jobs/{hooked_up.id}/prove/record/", {"line": "brake|added", "outcome": "fail"})
    found = layers(hooked_up)["prove"]
    assert (found.status, found.note) == (LayerStatus.FAULT, "1 failed")


def test_a_forbidden_hook_up_closes_what_is_behind_it(page, hooked_up, choice):
    page.post(f"/jobs/{hooked_up.id}/hook-up/", choice | {"fed_by": "computer", "version": "1"})
    found = layers(hooked_up)
    assert (found["hookup"].status, found["hookup"].note) == (LayerStatus.FAULT, "not allowed")
    assert {found[name].status for name in ("correct", "build", "prove")} == {LayerStatus.WAITS}


def verdict(belief, pin):
    return belief.wire(pin), " ".join(advice.warnings(belief, belief.wire(pin)))


def test_a_data_line_is_warned_of_and_never_tappable():
    columns = [(state, {"1": "2.6", "2": "2.4"}) for state in ("rest", "key", "brake")]
    (belief,) = identify([point(*columns, ("asleep", {"1": "0", "2": "0"}), pins="12", kind="connector")])
    wire, warnings = verdict(belief, "1")
    assert "never tap it" in warnings
    assert not belief.is_tappable(wire)


def test_two_grounds_at_one_bulb_raise_the_suspicion_of_a_dead_feed():
    """Common practice: lamp out and ohms settles it."""
    columns = [
        (state, {"1": "0.0", "2": "0.0"}) for state in ("rest", "park", "brake", "left", "reverse", "fog_rear")
    ]
    (belief,) = identify([point(*columns, pins="12")])
    doubtful = [pin for pin in "12" if not belief.wire(pin).is_settled]
    assert doubtful
    said = " ".join(verdict(belief, pin)[1] for pin in doubtful)
    named_dead = any(belief.wire(pin).function is Function.DEAD_FEED for pin in "12")
    assert "dead" in said or named_dead


def test_a_dimmed_wire_is_warned_of():
    columns = (("park", all_pins(p4="3.1")), ("brake", all_pins(p4="12.2")), ("left", all_pins(p5="flash")))
    (belief,) = identify([point(*columns)])
    assert "relays chatter on it" in verdict(belief, "4")[1]


def test_sentences_say_what_to_do_and_why():
    (belief,) = identify([point(*GRID[:3])])
    from electrics.identify.plan import next_steps

    for step in next_steps(belief, limit=10):
        do, why = advice.do_sentence(step), advice.why_sentence(step)
        assert do[0].isupper()
        assert do.endswith(".")
        assert "pin" in do
        assert why.startswith("Tells ")
        assert ("Two people" in why) is step.needs_helper
        assert ("pull the lamp" in do) is (step.setup.load is Load.OUT)


def test_when_all_is_settled_it_says_stop():
    (belief,) = identify([point(*GRID)])
    assert advice.summary_sentence(belief) == "Every wire is settled. Stop measuring."


def test_a_plan_is_kept_until_a_fact_changes_however_it_is_changed(hooked_up):
    job = jobs_with_facts().get(pk=hooked_up.pk)
    first = plan_of(job.pk, job_facts(job))
    assert plan_of(job.pk, job_facts(jobs_with_facts().get(pk=job.pk))) is first
    job.hookup.overrides["load_a"] = 7.0  # in place, and never saved
    assert plan_of(job.pk, job_facts(job)).hookup.leads[0].run.overrides == {"load_a": 7.0}
    assert first.hookup.leads[0].run.overrides == {}
