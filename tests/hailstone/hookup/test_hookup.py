"""Hook up: what is chosen, what follows, what is forbidden."""

from __future__ import annotations

import pytest

from electrics.hookup.accessories import accessories
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
    assert text.count("<b>Fits best</b>") == 1
    assert "Straight on pin 3 (reverse)" in text
    assert "as wanted in all 19 states" in text
    assert "Lit in brake, where the added reverse lamp must be dark" in text
    assert "Ground: return to battery, feeds nothing." in text


def test_a_complete_hook_up_names_tap_wire_and_fuse(page, job, choice):
    """2 x 1.2 A needs 3 A; 18 AWG over 3.4 + 0.6 m hot loses 2.4 x 26.3 mohm/m x 4 m = 0.25 V, by hand."""
    text = post(page, job, choice).content.decode()
    assert "Pin 3, 18 AWG, 3 A fuse. Build it." in text
    assert "2.40 A added, 0.25 V lost" in text


@pytest.mark.parametrize(
    ("changes", "complaint"),
    [
        ({"fed_by": "computer"}, "Use a relay: the lamp from the battery"),
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
    text = post(page, job, choice, way_reverse=f"direct:{settled.pins.get(label='4').id}").content.decode()
    assert "The chosen way does not do what is wanted" in text
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


def pin(point, label):
    return point.pins.get(label=label).id


def test_a_computer_fed_circuit_takes_a_relay_and_the_parts_list_has_it(page, job, choice, settled):
    way = f"relay:{pin(settled, '3')}"
    text = post(page, job, choice, way_reverse=way, fed_by="computer").content.decode()
    assert "Build it." in text
    assert "Relay K1" in text
    build = page.get(f"/jobs/{job.id}/build/").content.decode()
    assert "Relay, sealed outdoors, diode across its coil (stripe to 86)" in build
    assert "Relay socket" in build


def test_with_a_relay_only_its_coil_loads_the_factory_fuse(page, job, choice, settled):
    text = post(page, job, choice, way_reverse=f"relay:{pin(settled, '3')}", host_fuse_a="7.5").content.decode()
    assert "added 0.16 A" in text
    assert "Build it." in text


def test_the_circuit_is_drawn_in_the_state_that_is_picked(page, job, choice, settled):
    post(page, job, choice)
    lit = page.get(f"/jobs/{job.id}/hook-up/?at=reverse").content.decode()
    assert "The circuit, reverse" in lit
    assert "2.4" in lit.split('class="circuit"')[1]
    dark = page.get(f"/jobs/{job.id}/hook-up/?at=brake").content.decode().split('class="circuit"')[1]
    assert ">dark</text>" in dark
    assert page.get(f"/jobs/{job.id}/hook-up/?at=clutch").status_code == 404


def test_an_accessory_of_several_leads_takes_a_way_for_each(page, job, settled, choice):
    """Separate signals: stop and turn on one lead takes the converter; left and right are apart."""
    Job.objects.update(addition="motorcycle_signals")
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    for lead in ("tail", "left", "right"):
        assert f"Lead <b>{lead}</b>" in text
    assert (
        "Nothing here gives this. Measure on, or open another place." in text
    )  # the right turn is at the other lamp
    ways = {"way_tail": f"direct:{pin(settled, '2')}", "way_left": f"direct:{pin(settled, '5')}"}
    post(page, job, {**choice, **ways})
    assert HookUp.objects.get().ways == {key.removeprefix("way_"): way for key, way in ways.items()}
    assert "Choose the wire to tap." in page.get(f"/jobs/{job.id}/hook-up/").content.decode()


def test_a_licence_cut_out_goes_through_a_break_contact(page, job, settled, choice):
    Job.objects.update(addition="licence_cutout", added_each_a=0.4)
    way = f"and_not:{pin(settled, '3')},{pin(settled, '2')}"
    text = post(page, job, choice, way_licence=way).content.decode()
    assert "Build it." in text
    assert "where the licence lamp" in page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    sheet = page.get(f"/jobs/{job.id}/prove/?state=park%2Breverse").content.decode()
    assert "Licence lamp" in sheet


def test_a_way_that_is_no_way_is_marked(page, job, choice):
    response = post(page, job, choice, way_reverse="welded:1")
    assert response.status_code == 422
    assert HookUp.objects.get().ways == {}


def test_every_accessory_opens_its_page(page, job, settled):
    for accessory in accessories():
        Job.objects.update(addition=accessory.id, added_count=1)
        text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
        assert text.count('name="way_') > 0
