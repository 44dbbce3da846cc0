"""Hook up: runs, sizes, joints and loads, with what is set by hand."""

from __future__ import annotations

from html import unescape

import pytest

from briefs import SECOND_CIRCUIT
from decisions import decided
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job
from hailstone.layers.overviews import job_overview
from hailstone.wording.findings import GROUND_WARNINGS, JOINT_WARNINGS
from hookups import pin, post
from page_words import flat

pytestmark = pytest.mark.django_db


def test_every_size_shows_rule_inputs_and_source_and_marks_what_was_overridden(page, job, choice, settled):
    """7 A over 4 m in 14 AWG at 85 C: 8.286 mohm/m x 1.255 x 4 m x 7 A = 0.29 V (AWG copper tables), by hand."""
    sent = {**choice, "way_reverse": f"relay:{pin(settled, '3')}"}
    text = post(page, job, sent).content.decode()
    assert "20 A contact, 85 ohm coil" in text
    assert "ISO 7588 kind parts" in text
    assert "overridden" not in text
    text = post(page, job, sent, in_load_a="7", version="1").content.decode()
    assert "7.00 A instead of 2.40 A" in text
    assert "14 AWG" in text
    assert "drops 0.29 V" in text
    assert text.count("overridden") >= 2
    cold = post(page, job, sent, in_load_a="7", in_hot_c="20", version="2").content.decode()
    assert "20 °C instead of 85 °C" in cold
    assert HookUp.objects.get().overrides == {"load_a": 7, "hot_c": 20}


@pytest.mark.parametrize(
    ("overrides", "nearest"),
    [
        ({"in_aim_percent": "6"}, "Nearest: 3.7 %"),
        ({"in_load_a": "8", "in_fuse_a": "5"}, "Nearest: 10 A"),
        ({"in_fuse_a": "20", "wire_size": "18"}, "Nearest: 10 A, or 14 AWG"),
        ({"in_hot_c": "400"}, "Expected -40 to 125"),
    ],
)
def test_overrides_that_contradict_each_other_are_refused_with_the_nearest_that_works(
    page, job, choice, overrides, nearest
):
    """3.7 % of 13.5 V is 0.5 V; 1.25 x 8 A is 10 A; 18 AWG bears a 10 A fuse, 14 AWG 20 A (common practice)."""
    response = post(page, job, choice, **overrides)
    assert response.status_code == 422
    assert nearest in response.content.decode()
    assert HookUp.objects.get().overrides == {}


def test_a_lead_follows_the_first_until_it_is_given_its_own_run(page, job, settled, choice):
    """How it is joined is said once; a length is that of one lamp, and so is a number typed in."""
    Job.objects.update(addition="mirror_turn_pair", added_count=2)
    post(page, job, choice, **{"way_left-turn": f"direct:{pin(settled, '5')}"}, lead="left-turn", joint="solder")
    followed = {"joint": "solder", "lead": "right-turn", "out_m": "", "back_m": ""}
    post(page, job, choice, **followed | {"out_m": "9", "in_load_a": "1", "version": "1"})
    stored = HookUp.objects.get()
    assert stored.out_m == 3.4
    assert decided().runs == {"right-turn": {"out_m": 9.0, "overrides": {"load_a": 1.0}}}
    text = page.get(f"/jobs/{job.id}/hook-up/?lead=right-turn").content.decode()
    assert 'value="9"' in text
    post(page, job, choice, **followed, version="2")
    assert decided().runs == {}
    left, right = job_overview(job.id).plan.leads
    assert (left.out_m, right.run.out_m, right.is_assumed) == (3.4, None, True)


def test_a_number_typed_in_for_the_first_lead_never_reaches_another(page, job, settled, choice):
    """Neither one that follows its run, nor one with a run of its own; and both may have the same number."""
    Job.objects.update(addition="mirror_turn_pair", added_count=2, added_each_a=0.3)
    ways = {"way_left-turn": f"direct:{pin(settled, '5')}"}
    post(page, job, choice, **ways, lead="left-turn", in_load_a="0.1")
    assert [lead.amps_a for lead in job_overview(job.id).plan.leads] == [0.1, 0.3]
    post(page, job, choice, lead="right-turn", out_m="9", version="1")
    assert [lead.amps_a for lead in job_overview(job.id).plan.leads] == [0.1, 0.3]
    post(page, job, choice, lead="right-turn", out_m="9", in_load_a="0.1", version="2")
    assert [lead.amps_a for lead in job_overview(job.id).plan.leads] == [0.1, 0.1]


def test_a_second_circuit_is_asked_about_when_the_way_taps_one(page, job, settled, choice):
    Job.objects.update(addition="licence_cutout", added_each_a=0.4)
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert text.count('name="circuit"') == 2
    way = f"direct:{pin(settled, '2')}"
    answer = post(page, job, choice | SECOND_CIRCUIT, way_licence=way, circuit=["tail", "reverse"]).content.decode()
    assert '<div id="hookup-circuits" hx-swap-oob="true">' in answer
    assert answer.count('name="circuit"') == 1


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"keeps": "lease"}, "The car goes back as it came"),
        ({"keeps": "single_use"}, "It comes off after one use"),
        ({"joint": "fuse_tap"}, JOINT_WARNINGS["no_fuse_here"]),
        ({"joint": "displacement_tap", "ground": "lamp", "ground_wire": "12"}, JOINT_WARNINGS["thick_ground"]),
        ({"ground": "lamp", "ground_wire": "22"}, GROUND_WARNINGS["ground_wire"]),
        ({"ground": "body"}, "A screw in the open corrodes"),
    ],
)
def test_where_the_shops_way_does_not_fit_it_says_why(page, job, choice, changes, says):
    assert says in unescape(post(page, job, choice, **changes).content.decode())


def test_a_way_of_joining_that_fits_better_here_is_named(page, job, choice):
    assert "Use plug-in T-harness" in post(page, job, choice, keeps="lease").content.decode()


def test_present_load_by_clamp_counts_instead_of_the_bulbs(page, job, choice):
    text = flat(post(page, job, choice, measured_a="6.5").content.decode())
    assert "now 6.50 A + added 2.40 A = 8.90 A" in text
    assert "limit 8.00 A (80 % of the 10 A fuse)" in text
    assert (
        "90 %: 9.00 A" in post(page, job, choice, measured_a="6.5", most_percent="90", version="1").content.decode()
    )
