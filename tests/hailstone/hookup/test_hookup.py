"""Hook up: what is chosen, what follows, what is forbidden."""

from __future__ import annotations

import re
from html import unescape
from itertools import pairwise

import pytest
from django.contrib.auth import get_user_model

from briefs import BRIEF, CIRCUIT, SECOND_CIRCUIT
from decisions import decide_only, decided
from electrics.document.places import Setup
from electrics.vocabulary import Function, Instrument, Load, parse_state
from hailstone.demo.jobs import load_demo
from hailstone.hookup.models import HookUp
from hailstone.identify.services import save_reading
from hailstone.jobs.models import Job
from hailstone.jobs.services import begin_job
from hailstone.layers.beliefs import beliefs
from hailstone.layers.overviews import job_overview
from hailstone.layers.signed import changes_between
from hailstone.wording.findings import finding_text
from hookups import HTMX, pin, post
from page_words import flat
from signing import facts_now

pytestmark = pytest.mark.django_db


def test_before_anything_is_measured_it_sends_to_the_bench(page, job):
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert "Identify the wires first." in text
    assert "Go to Identify" in text


def test_the_reverse_feed_fits_and_the_others_say_why_not(page, job, settled):
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert text.count("<b>Fits best</b>") == 1
    assert "Direct from pin 3 (reverse)" in text
    assert "every state: key on or off" in text
    assert "Lit in brake, where the added reverse lamp must be dark" in text
    assert "Ground: it&#x27;s the return to the battery and feeds nothing." in text


def test_a_complete_hook_up_names_tap_wire_and_fuse(page, job, choice):
    """2 x 1.2 A needs 3 A; 18 AWG over 3.4 + 0.6 m hot loses 2.4 x 26.3 mohm/m x 4 m = 0.25 V, by hand."""
    text = post(page, job, choice).content.decode()
    assert "Pin 3, 18 AWG. Now fix the problems it causes." in text, "the factory feed loses more than 0.5 V with it"
    assert "See the fixes" in text
    assert "2.40 A added, 0.25 V lost" in text


def test_only_what_differs_from_what_the_page_has_is_sent_again(page, job, choice):
    first = post(page, job, choice).content.decode()
    marks = re.search(r'name="drawn" value="([^"]*)"', first)[1]
    choice["version"] = (
        re.search(r'name="version" id="id_version" value="(\d+)"', first)[1] if "id_version" in first else "1"
    )
    longer = post(page, job, choice, drawn=marks, out_m="3.5").content.decode()
    parts = {part for part in ("circuit", "matrix", "sizes", "joint") if f'id="hookup-{part}"' in longer}
    assert "sizes" in parts, "the wire is longer, its drop is more"
    assert "joint" not in parts, "the joint is the same"
    refused = post(page, job, choice, drawn=marks, out_m="4.1", version="0")
    assert refused.status_code == 409
    assert 'id="hookup-joint"' in refused.content.decode(), "what was refused is drawn whole, as it is stored"


@pytest.mark.parametrize(
    ("changes", "rule"),
    [
        ({"fed_by": "computer"}, "computer"),
        ({"host_fuse_a": "7.5"}, "fuse_load"),
        ({"host_wire": "20"}, "wire_load"),
        ({"joint": "displacement_tap"}, "joint"),
        ({"wire_size": "22"}, "drop"),
    ],
)
def test_what_is_forbidden_says_what_to_do_instead(page, job, choice, changes, rule):
    text = unescape(post(page, job, choice, **changes).content.decode())
    plan = job_overview(job.id).plan
    assert rule in {fault.rule for fault in plan.faults}
    assert all(finding_text(fault, plan) in text for fault in plan.faults)
    assert "Don’t build this." in page.get(f"/jobs/{job.id}/build/").content.decode()


def test_a_wrong_wire_is_not_allowed_even_when_chosen(page, job, choice, settled):
    text = post(page, job, choice, way_reverse=f"direct:{settled.pins.get(label='4').id}").content.decode()
    assert "not_wanted" in {fault.rule for fault in job_overview(job.id).plan.faults}
    assert "≠ differs" in text


def test_one_bad_field_is_marked_and_the_rest_is_kept(page, job, choice):
    response = post(page, job, choice, out_m="far", host_count="2")
    assert response.status_code == 422
    assert "This is no number. Expected 0.05 to 60 m." in response.content.decode()
    assert 'name="out_m"' not in response.content.decode()  # what is being typed is never replaced
    stored = HookUp.objects.get()
    assert stored.out_m is None
    assert (stored.circuits["reverse"]["host_count"], stored.circuits["reverse"]["fed_by"]) == (2, "plain")


def test_a_stale_choice_is_not_stored(page, job, choice):
    post(page, job, choice)
    response = post(page, job, choice, host_count="1", version="0")
    assert response.status_code == 409
    assert "ina changed this at" in response.content.decode()
    assert HookUp.objects.get().circuits["reverse"]["host_count"] == 2
    same = post(page, job, choice, version="0")  # sent again after a reload that was drawn before the first was kept
    assert (same.status_code, HookUp.objects.get().version) == (200, 1)


def test_changing_a_reading_makes_everything_after_it_right_again(page, job, choice, settled):
    """Nothing derived is stored: an odd reading on the tap takes the hook-up back."""
    post(page, job, choice)
    sent = {"pin": settled.pins.get(label="3").id, "text": "12.2", "state": "brake", "supply": "12.6"}
    for state in ("brake", "park", "left"):
        page.post(f"/jobs/{job.id}/identify/{settled.id}/readings/", sent | {"state": state}, headers=HTMX)
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert "Don’t build this." in text


def test_a_heavier_load_gets_thicker_wire_by_itself(page, job, choice):
    Job.objects.update(added_each_a=7.0)
    text = post(page, job, choice, out_m="5", host_fuse_a="30", host_wire="10").content.decode()
    assert "Pin 3, 12 AWG. " in text


def test_a_computer_fed_circuit_takes_a_relay_and_the_parts_list_has_it(page, job, choice, settled):
    way = f"relay:{pin(settled, '3')}"
    text = post(page, job, choice, way_reverse=way, fed_by="computer").content.decode()
    assert "Build it." in text
    assert "Relay 1</text>" in text
    build = page.get(f"/jobs/{job.id}/build/").content.decode()
    assert "Relay, sealed outdoors, stripe of its diode to 86" in build
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
    for lead in ("tail lamp", "left signal", "right signal"):
        assert f"<h2>{lead[0].upper()}{lead[1:]} " in text
    assert "nothing gives this yet" in text  # the right turn is at the other lamp
    alone = page.get(f"/jobs/{job.id}/hook-up/?lead=right-turn").content.decode()
    assert "No wire here does this yet: keep measuring, or add a location." in alone
    assert "Right signal: dark in right, hazard, brake + right and 5 more states, wanted flashing." in alone
    assert page.get(f"/jobs/{job.id}/hook-up/?lead=right-turn&states=all").content.decode().count("dot-wrong") == 8
    ways = {"way_motorcycle_tail-tail": f"direct:{pin(settled, '2')}", "way_left-turn": f"direct:{pin(settled, '5')}"}
    post(page, job, {**choice, **ways})
    assert decided().ways == {key.removeprefix("way_"): way for key, way in ways.items()}
    assert "Lead right signal: no wire here does this yet." in page.get(f"/jobs/{job.id}/hook-up/").content.decode()


def test_a_licence_cut_out_goes_through_a_break_contact(page, job, settled, choice):
    Job.objects.update(addition="licence_cutout", added_each_a=0.4)
    way = f"and_not:{pin(settled, '3')},{pin(settled, '2')}"
    text = post(page, job, choice | SECOND_CIRCUIT, way_licence=way).content.decode()
    assert "Build it." in text
    assert set(HookUp.objects.get().circuits) == {"tail", "reverse"}
    assert "where the license lamp" in page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    sheet = page.get(f"/jobs/{job.id}/prove/?state=park%2Breverse").content.decode()
    assert "License lamp" in sheet


def test_a_way_that_is_no_way_is_marked(page, job, choice):
    response = post(page, job, choice, way_reverse="welded:1")
    assert response.status_code == 422
    assert decided().ways == {}


def test_a_way_that_is_wrong_is_taken_only_with_a_reason_that_is_printed(page, job, choice, settled):
    way = f"direct:{pin(settled, '4')}"
    assert "Don’t build this." in post(page, job, choice, way_reverse=way).content.decode()
    reason = "parade lamp, off the road"
    text = post(page, job, choice, way_reverse=way, override=reason, version="1").content.decode()
    assert "Pin 4, 18 AWG. " in text
    assert f"Used anyway: {reason}" in text
    for path in ("build/", "prove/sheet/"):
        assert f"Used anyway: {reason}" in page.get(f"/jobs/{job.id}/{path}").content.decode()


def test_a_changed_reason_is_a_printed_fact(hooked_up, settled):
    facts = [facts_now(hooked_up)]
    for reason in ("why not", "another reason"):
        decide_only(ways={"reverse": f"direct:{pin(settled, '4')}"}, override=reason)
        facts.append(facts_now(hooked_up))
    assert all(changes_between(*pair) for pair in pairwise(facts))


def test_a_kind_of_ones_own_is_written_in_the_brief_and_planned_lead_by_lead(page, job, settled):
    sent = {
        **BRIEF,
        "version": "1",
        "addition": "own",
        "own_leads": "red = tail; 0.2 A\nside = over(turn_left, tail); 0,3; led",
    }
    assert page.post(f"/jobs/{job.id}/", sent).status_code == 302
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert "<b>red</b> tail " in text
    assert "<b>side</b> turn left while on or flashing, otherwise tail" in text
    text = page.get(f"/jobs/{job.id}/hook-up/?lead=side").content.decode()
    assert "Powered combining converter: pin 2 (tail) as stop, pin 5 (turn left) as turn" in text


@pytest.mark.parametrize(
    ("leads", "complaint"),
    [
        ("", "0 leads cannot be planned"),
        ("a = tail\na = stop", "same name"),
        ("a = disco", "no function"),
        ("a = tail; bright", "is no current"),
        ("a = tail; 99 A", "Expected 0.001 to 30 A"),
        ("<b> = tail", "cannot be the name of a lead"),
        ("\n".join(f"l{n} = tail" for n in range(9)), "Expected 1 to 8"),
    ],
)
def test_a_kind_of_ones_own_that_makes_no_sense_is_asked_about(page, job, leads, complaint):
    response = page.post(f"/jobs/{job.id}/", {**BRIEF, "version": "1", "addition": "own", "own_leads": leads})
    assert response.status_code == 422
    assert complaint in response.content.decode()


def test_the_flash_rate_stands_beside_what_flashes(page, job, settled):
    Job.objects.update(addition="turn_left", added_count=1, added_each_a=0.3)
    for half, shown in (("", "on, 90/min"), ("&half=dark", "off, 90/min")):
        drawn = flat(page.get(f"/jobs/{job.id}/hook-up/?at=left{half}").content.decode()).split('class="circuit"')[1]
        assert f'>Turn left</text><text class="circuit-note" y="15">{shown}</text>' in drawn


def test_the_demo_shows_the_traps(db):
    """The trailer fuse lights with the brake, pulsed feeds bear nothing, a ground-switched lamp takes a relay."""
    load_demo()
    plans = {job.title: job_overview(job.id).plan for job in Job.objects.all()}
    mirrors = plans["Mirror turn lamps for a book van"].leads[0]
    assert mirrors.right[0].main.place == "left front lamp"
    trailer = next(way for way in mirrors.ways if way.candidate.form.id == "direct" and way.main.wire.pin == "F7")
    assert "brake" in {str(state) for state in trailer.candidate.wrong}
    towed = plans["Towed car: lights from the motor home"].leads[1]
    assert towed.chosen.main.place == "motor home's socket"
    own = {way.candidate.form.id: way for way in towed.ways if way.main.place == "left tail lamp"}
    assert "pulsed" in own["direct"].candidate.refusals
    assert "pulsed_coil" in own["relay"].candidate.refusals
    lorry = plans["Horse truck: license lamps off in reverse"].leads
    assert [lead.right[0].candidate.form.id for lead in lorry] == ["and_not", "and_not", "to_ground"]
    stop = plans["Pancake outfit: extra stop lamp on the box"].leads[0]
    assert stop.right[0].candidate.form.id == "from_ground"


def by_hand(*pins, lead="reverse", form=""):
    return {"hand": lead, "hand_form": form, "hand_source": pins, "hand_order": ",".join(map(str, pins))}


def test_wires_are_connected_by_hand_and_judged_the_same_way(page, job, choice, settled):
    reverse, left = (pin(settled, label) for label in ("3", "5"))
    page.post(f"/jobs/{job.id}/hook-up/", {**choice, **by_hand(reverse, form="relay")})
    assert decided().ways == {"reverse": f"relay:{reverse}"}
    sent = {**choice, **by_hand(left, reverse, form="diode_or")}
    text = page.post(f"/jobs/{job.id}/hook-up/", sent).content.decode()
    assert "a diode each" in text
    assert "Don’t build this." in text


def test_by_hand_the_order_of_picking_counts_for_a_form_and_the_best_is_found_without_one(page, job, choice, settled):
    reverse, tail = (pin(settled, label) for label in ("3", "2"))
    page.post(f"/jobs/{job.id}/hook-up/", {**choice, **by_hand(tail, reverse, form="and_not")})
    assert decided().ways == {"reverse": f"and_not:{tail},{reverse}"}
    page.post(f"/jobs/{job.id}/hook-up/", {**choice, "version": "1", **by_hand(reverse)})
    assert decided().ways == {"reverse": f"direct:{reverse}"}
    page.post(f"/jobs/{job.id}/hook-up/", {**choice, "version": "2", **by_hand("@battery")})
    assert decided().ways == {"reverse": "direct:@battery"}
    assert (
        "Lit in all off, where the added reverse lamp must be dark"
        in page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    )


def test_three_are_connected_where_no_two_are_right_and_go_through_two_relays(page, job, choice, settled):
    wish = "mode = own_switch and ignition and not reverse; 0.5 A"
    Job.objects.update(addition="own", own_leads=wish, added_count=1)
    address, picked = f"/jobs/{job.id}/hook-up/", by_hand(pin(settled, "3"), "@ignition", "@switch", lead="mode")
    text = page.post(address, {**choice, **picked}).content.decode()
    assert "Build it." in text
    assert "First a key-on fuse through a relay&#x27;s NC contact (87a), coil on pin 3 (reverse); then" in text
    drawn = flat(page.get(f"{address}?at=key%2Bown_switch").content.decode())
    for relay, stands in (("Relay 1", "at rest"), ("Relay 2", "pulled in")):
        assert f'{relay}</text><text class="circuit-note" y="15">{stands}</text>' in drawn
    parts = job_overview(job.id).build.parts
    assert sum(part.count for part in parts if part.id == "relay") == 2
    assert any("changeover" in part.detail and "make" not in part.detail for part in parts if part.id == "relay")
    assert sum(part.count for part in parts if part.id == "switch") == 1
    assert "reverse+own_switch" in {str(state) for state in job_overview(job.id).proof.sheet.states}


def test_a_way_that_taps_three_circuits_asks_for_each_and_can_be_completed(page, job, choice, settled):
    Job.objects.update(addition="own", own_leads="any = tail or stop or reverse; 0.5 A", added_count=1)
    address = f"/jobs/{job.id}/hook-up/"
    page.post(address, {**choice, "best": "1"})
    plan = job_overview(job.id).plan
    circuits = [str(each.function) for each in plan.circuits]
    assert sorted(circuits) == ["reverse", "stop", "tail"]
    noted = {f"{name}{suffix}": value for suffix in ("", "_2", "_3") for name, value in CIRCUIT.items()}
    version = HookUp.objects.get().version
    page.post(address, {**choice, **noted, "circuit": circuits, "version": version})
    assert job_overview(job.id).plan.missing == ()
    assert "Build it." in page.get(address).content.decode()


@pytest.mark.parametrize(
    ("form", "labels", "why"),
    [
        ("direct", ["1"], "Can&#x27;t connect these"),
        ("and", ["3"], "Can&#x27;t connect these"),
        ("weld", ["3"], "Can&#x27;t connect these"),
        ("", ["1", "2", "3", "4", "5"], "Can&#x27;t connect these"),
        ("", [], "Pick one wire or two first"),
    ],
)
def test_what_cannot_be_connected_is_refused_with_the_nearest_that_works(
    page, job, choice, settled, form, labels, why
):
    pins = [pin(settled, label) for label in labels]
    text = page.post(f"/jobs/{job.id}/hook-up/", {**choice, **by_hand(*pins, form=form)}).content.decode()
    assert why in text
    assert decided().ways == {"reverse": f"direct:{pin(settled, '3')}"}


def test_a_new_job_begins_with_the_shops_ways_and_says_where_they_do_not_fit(page, who):
    ways = {"joint": "displacement_tap", "ground": "body", "wire_standard": "metric", "correction": "resistor"}
    page.post("/schools/", ways)
    job = begin_job(who, BRIEF)
    stored = HookUp.objects.get(job=job)
    assert (stored.joint, stored.ground, stored.wire_standard) == ("displacement_tap", "body", "metric")
    assert "Saved." in page.get("/schools/").content.decode()
    assert page.post("/schools/", ways | {"joint": "glue"}).status_code == 422


def test_a_swinging_lamp_gets_the_advice_of_a_disconnect(page, job, choice, settled):
    Job.objects.update(addition="high_stop", added_count=1, added_each_a=0.3)
    text = post(page, job, choice, way_stop=f"direct:{pin(settled, '4')}").content.decode()
    assert "Put a plug or disconnect there" in text


def test_a_displacement_tap_is_refused_on_a_monitored_circuit(page, job, choice, settled):
    sent = {**choice, "way_reverse": f"relay:{pin(settled, '3')}", "fed_by": "computer", "joint": "displacement_tap"}
    sent.pop("is_exposed")
    post(page, job, sent)
    assert job_overview(job.id).plan.leads[0].sized.joint.warnings == ("monitored",)


def test_two_accessories_in_one_job_each_take_their_ways(page, job, settled, choice):
    sent = {**BRIEF, "version": "1", "also": ["high_stop", "camera_trigger"]}
    assert page.post(f"/jobs/{job.id}/", sent).status_code == 302
    ways = {
        "way_reverse_lamps-reverse": f"relay:{pin(settled, '3')}",
        "way_high_stop-stop": f"direct:{pin(settled, '4')}",
        "way_camera_trigger-trigger": f"direct:{pin(settled, '3')}",
    }
    answer = post(page, job, {**choice, **ways}).content.decode()
    assert "Stop: 3 × P21W, 15 A fuse, 18 AWG, no computer (from the brief)." in answer
    for n, lead in enumerate(("high_stop-stop", "camera_trigger-trigger"), start=1):
        text = post(page, job, {**choice, "lead": lead, "version": str(n)}).content.decode()
    assert "3 leads are planned. Build it." in text
    build = page.get(f"/jobs/{job.id}/build/").content.decode()
    assert "Relay from the battery, coil on pin 3 (reverse)" in build
    assert "Direct from pin 4 (stop)" in build
    assert "Extra high stop lamp, stop" in page.get(f"/jobs/{job.id}/prove/?state=brake").content.decode()


def test_leads_on_one_circuit_load_its_fuse_together(page, job, settled, choice):
    """2.4 A of reverse lamps and the amps of the stop lamp on one wire, taken with a reason: the fuse sees their sum."""
    sent = {**BRIEF, "version": "1", "also": ["high_stop"]}
    assert page.post(f"/jobs/{job.id}/", sent).status_code == 302
    one = {"way_reverse_lamps-reverse": f"direct:{pin(settled, '3')}", "override": "bench test"}
    apart = post(page, job, {**choice, **one, "way_high_stop-stop": f"direct:{pin(settled, '4')}"}).content.decode()
    version = Job.objects.get().hookup.version
    both = {**choice, **one, "version": version, "way_high_stop-stop": f"direct:{pin(settled, '3')}"}
    together = post(page, job, both).content.decode()
    added = [float(re.search(r"added ([0-9.]+) A", text).group(1)) for text in (apart, together)]
    assert added[0] == pytest.approx(2.4)
    assert added[1] == pytest.approx(2.7)


def test_a_way_that_overloads_a_fuse_comes_after_one_that_does_not(page, job, settled):
    """10 A on the reverse feed: its 10 A fuse carries over 80 %; behind a relay the lamp is fed from the battery."""
    Job.objects.update(added_count=1, added_each_a=10.0)
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert text.index("Relay from the battery, coil on pin 3") < text.index("Direct from pin 3 (reverse)")
    assert "Overloads this circuit&#x27;s fuse or wire" in text


def test_a_switch_of_ones_own_is_a_source_and_has_its_own_states(page, job, settled, choice):
    Job.objects.update(addition="reverse_switch", added_each_a=0.8)
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert "pin 3 (reverse) or an added switch, each through a diode" in text.lower().replace("Pin", "pin")
    assert "every state: key on or off" in text
    way = f"diode_or:{pin(settled, '3')},@switch"
    assert "Build it." in post(page, job, choice, way_reverse=way).content.decode()
    circuit = page.get(f"/jobs/{job.id}/hook-up/?at=own_switch").content.decode()
    assert "The circuit, own switch" in circuit
    assert "Switch 1</text>" in circuit
    assert 'data-press="o"' in circuit
    sheet = page.get(f"/jobs/{job.id}/prove/?state=own_switch").content.decode()
    assert "Turn the added switch on" in sheet


def test_a_share_of_over_a_hundred_percent_is_refused_in_words(page, job, choice):
    answer = post(page, job, choice, most_percent="200")
    assert (answer.status_code, "200 % cannot be. Expected" in answer.content.decode()) == (422, True)


def test_a_back_feed_is_drawn_against_its_lane(page, job, settled, choice):
    """Tail and reverse tied together: in reverse the tail wire is live from the wrong end."""
    Job.objects.update(addition="own", own_leads="both = tail or reverse; 0.3 A", added_count=1)
    way = f"joined:{pin(settled, '2')},{pin(settled, '3')}"
    assert "Don’t build this." in post(page, job, choice, way_both=way).content.decode()
    back = page.get(f"/jobs/{job.id}/hook-up/?at=reverse").content.decode()
    assert "≠ backwards" in back
    assert "circuit-back" in back
    assert "circuit-back" not in page.get(f"/jobs/{job.id}/hook-up/?at=park%2Breverse").content.decode()


def test_a_switch_tied_to_a_factory_wire_blows_its_fuse_on_the_factory_lamps(page, job, settled, choice):
    Job.objects.update(addition="reverse_switch")
    post(page, job, choice, way_reverse=f"joined:{pin(settled, '3')},@switch")
    text = page.get(f"/jobs/{job.id}/hook-up/?at=own_switch").content.decode()
    assert "Fuse 1 blows with own switch" in text


def test_a_tapped_fuse_says_what_else_wakes_it(client):
    load_demo()
    client.force_login(get_user_model().objects.get())
    job = Job.objects.get(title="Mirror turn lamps for a book van")
    plan = job_overview(job.id).plan
    trailer = next(
        way for way in plan.leads[0].ways if way.candidate.form.id == "direct" and way.main.wire.pin == "F7"
    )
    decide_only(job, ways={"turn": trailer.key})
    HookUp.objects.filter(job=job).update(joint="fuse_tap", out_m=2, back_m=1)
    text = client.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert "This fuse is live in: brake, left, hazard" in text
    assert "put the factory fuse in the slot on the supply side" in text


def test_what_hangs_on_the_brake_winning_over_the_hazards_is_shown_as_a_difference(client):
    """From combined to separate: right where the flash wins, blind to the hazards where the brake does."""
    load_demo()
    client.force_login(get_user_model().objects.get())
    job = Job.objects.get(title="Rescue off-roader: LED tail lamps")
    Job.objects.filter(id=job.id).update(addition="turn_left", added_count=1, added_each_a=0.3)
    text = client.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert "Nearest: powered separating converter" in text
    way = next(way for way in job_overview(job.id).plan.leads[0].ways if way.candidate.form.id == "separate_turn")
    decide_only(job, ways={"turn": way.key})
    text = client.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert text.count("≠ differs") == 1
    assert "measure brake + hazard on this vehicle" in text
    flashing = {
        wire.pin: point
        for point in job.points.all()
        for wire in beliefs(job)[point.id].wires
        if wire.function in (Function.STOP_TURN_LEFT, Function.STOP_TURN_RIGHT)
    }
    both = Setup(parse_state("brake+hazard"), Instrument.DMM, Load.IN)
    for label, point in flashing.items():
        save_reading(point.pins.get(label=label), both, "0-12.2", 12.6, get_user_model().objects.get())
    text = client.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert "≠ differs" not in text, "once it is measured, only the vehicle that this is counts"
    assert job_overview(job.id).plan.leads[0].chosen.is_right
