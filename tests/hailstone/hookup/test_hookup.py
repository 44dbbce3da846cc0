"""Hook up: what is chosen, what follows, what is forbidden."""

from __future__ import annotations

import pytest

from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


def post(page, job, choice, **changes):
    return page.post(f"/jobs/{job.id}/hook-up/", choice | changes, headers=HTMX)


def test_before_anything_is_measured_it_sends_to_the_bench(page, job):
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert "Identify the wires first." in text
    assert "To the bench" in text


def test_the_reverse_feed_fits_and_the_others_say_why_not(page, job, settled):
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert text.count("<b>Fits</b>") == 1
    assert "as wanted in all 16 states" in text
    assert "Stop: lit in brake, where the added reverse lamp must be dark" in text
    assert "Ground: return to battery, feeds nothing." in text


def test_a_complete_hook_up_names_tap_wire_and_fuse(page, job, choice):
    """2 x 1.2 A needs 3 A; 18 AWG over 3.4 + 0.6 m hot loses 2.4 x 26.3 mohm/m x 4 m = 0.25 V, by hand."""
    text = post(page, job, choice).content.decode()
    assert "Pin 3, 18 AWG, 3 A fuse. Build it." in text
    assert "2.40 A added, 0.25 V lost" in text


@pytest.mark.parametrize(
    ("changes", "complaint"),
    [
        ({"fed_by": "computer"}, "Use a relay fed from the battery"),
        ({"host_fuse_a": "7.5"}, "over 80 % of its rating"),
        ({"host_wire": "20"}, "Too much for the factory wire"),
        ({"joint": "displacement_tap"}, "does not fit here"),
        ({"wire_size": "22"}, "loses more than the 0.5 V"),
    ],
)
def test_what_is_forbidden_says_what_to_do_instead(page, job, choice, changes, complaint):
    text = post(page, job, choice, **changes).content.decode()
    assert "Not like this." in text
    assert complaint in text
    assert "Choose the hook-up first" in page.get(f"/jobs/{job.id}/build/").content.decode()


def test_a_wrong_wire_is_not_allowed_even_when_chosen(page, job, choice, settled):
    text = post(page, job, choice, tap=str(settled.pins.get(label="4").id)).content.decode()
    assert "The chosen wire cannot be tapped for this" in text
    assert "≠ differs" in text


def test_one_bad_field_is_marked_and_the_rest_is_kept(page, job, choice):
    response = post(page, job, choice, out_m="far", host_count="2")
    assert response.status_code == 422
    assert "Enter a number" in response.content.decode()
    assert 'name="out_m"' not in response.content.decode()  # what is being typed is never replaced
    stored = HookUp.objects.get()
    assert (stored.out_m, stored.host_count, stored.fed_by) == (None, 2, "plain")


def test_a_stale_choice_is_not_stored(page, job, choice):
    post(page, job, choice)
    response = post(page, job, choice, host_count="1", version="0")
    assert response.status_code == 409
    assert "ina changed this at" in response.content.decode()
    assert HookUp.objects.get().host_count == 2


def test_changing_a_reading_makes_everything_after_it_right_again(page, job, choice, settled):
    """Nothing derived is stored: an odd reading on the tap takes the hook-up back."""
    post(page, job, choice)
    sent = {"pin": settled.pins.get(label="3").id, "text": "12.2", "state": "brake", "supply": "12.6"}
    for state in ("brake", "park", "left"):
        page.post(f"/jobs/{job.id}/identify/{settled.id}/readings/", sent | {"state": state}, headers=HTMX)
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert "Not like this." in text


def test_a_heavier_load_gets_thicker_wire_by_itself(page, job, choice):
    Job.objects.update(added_each_a=3.5)
    text = post(page, job, choice, out_m="5", host_fuse_a="30", host_wire="10").content.decode()
    assert "Pin 3, 12 AWG, 10 A fuse. Build it." in text
