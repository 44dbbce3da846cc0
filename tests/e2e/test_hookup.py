"""Hook up, the new lamp and the wire book in the browser."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.e2e


@pytest.fixture
def mirrors(server, open_page):
    return open_page(server, "/jobs/5/hook-up/")


def test_choosing_another_way_redraws_the_circuit_and_the_table(mirrors):
    """A computer feeds this vehicle's lamps: the best way is the relay, straight on is for whoever knows better."""
    expect(mirrors.locator(".circuit")).to_contain_text("Relay 1")
    expect(mirrors.locator(".circuit")).to_contain_text("Battery")
    mirrors.get_by_role("tab", name="Load on each fuse").click()
    with mirrors.expect_response(re.compile(r"/hook-up/$")):
        mirrors.get_by_label("Fed by").first.select_option("plain")
    mirrors.get_by_role("tab", name="Other hook-ups").click()
    with mirrors.expect_response(re.compile(r"/hook-up/$")):
        mirrors.locator(".tap-right", has_text="Direct from pin 3").get_by_role("button").click()
    expect(mirrors.locator(".circuit")).to_contain_text("J1")
    expect(mirrors.locator(".circuit")).not_to_contain_text("Relay 1")
    expect(mirrors.locator(".hookup-lead")).to_contain_text("fits")
    assert mirrors.locator(".dot-wrong").count() == 0


def test_the_trap_of_the_trailer_fuse_says_what_would_be_seen(mirrors):
    mirrors.get_by_text("Why not the other").click()
    trap = mirrors.locator(".tap-lost", has_text="Direct from slot F7")
    expect(trap).to_contain_text("Lit in brake, where the added turn lamp must be dark")
    with mirrors.expect_response(re.compile(r"/hook-up/$")):
        trap.get_by_role("button").click()
    expect(mirrors.get_by_text("Don’t build this.")).to_be_visible()
    expect(mirrors.locator(".dot-wrong").first).to_be_visible()


def test_a_state_in_the_matrix_is_drawn_in_the_circuit(mirrors):
    mirrors.get_by_role("link", name="All 20 states").click()
    mirrors.get_by_role("link", name="Brake + left").click()
    expect(mirrors.get_by_role("heading", name="The circuit, brake + left")).to_be_visible()
    expect(mirrors.locator(".matrix thead .at")).to_contain_text("Left")  # folded: all leads show the same there
    mirrors.get_by_role("switch", name="Brake").click()
    expect(mirrors.get_by_role("heading", name="The circuit, left")).to_be_visible()
    mirrors.keyboard.press("f")
    expect(mirrors.get_by_role("heading", name="The circuit, rear fog")).to_be_visible()
    mirrors.keyboard.press("0")
    expect(mirrors.locator(".circuit")).to_contain_text("dark")


def test_a_key_pressed_while_the_page_comes_in_is_not_lost(mirrors):
    slow = []
    mirrors.route("**/page.js", lambda route: route.continue_() if slow else slow.append(route))
    mirrors.goto(f"{mirrors.url}?at=left", wait_until="commit")
    expect(mirrors.get_by_role("heading", name="The circuit, left")).to_be_visible()
    mirrors.keyboard.press("f")
    assert slow, "the page's scripts have not run yet"
    slow[0].continue_()
    expect(mirrors.get_by_role("heading", name="The circuit, rear fog")).to_be_visible()


def test_the_dark_half_of_a_flash_is_drawn_apart(mirrors):
    mirrors.goto(f"{mirrors.url}?at=left")
    circuit = mirrors.locator(".circuit")
    expect(circuit.locator(".circuit-lit")).to_have_count(1)
    mirrors.get_by_role("link", name="Dark half").click()
    expect(mirrors.get_by_role("link", name="Dark half")).to_have_attribute("aria-current", "true")
    expect(circuit.locator(".circuit-lit")).to_have_count(0)
    expect(circuit).to_contain_text("dark")
    mirrors.keyboard.press("b")
    expect(mirrors.get_by_role("heading", name="The circuit, brake + left")).to_be_visible()
    expect(mirrors.get_by_role("link", name="Dark half")).to_have_count(1)
    mirrors.keyboard.press("0")
    expect(mirrors.get_by_role("link", name="Dark half")).to_have_count(0)


def test_who_walks_on_while_a_choice_is_saved_gets_the_lead_as_it_is_then(server, open_page):
    """The walk waits for the answer: the next choice is none of an older version."""
    page = open_page(server, "/jobs/9/hook-up/")
    slow = re.compile(r"/hook-up/$")
    held = []
    page.route(slow, lambda route: held.append(route))
    with page.expect_request(slow):
        page.locator(".way").first.click()
    page.locator("[data-lead]").nth(1).click()
    page.wait_for_timeout(200)
    with page.expect_response(re.compile(r"/hook-up/\?lead=")):
        held[0].continue_()
    page.unroute(slow)
    with page.expect_response(slow) as answered:
        page.locator(".way").first.click()
    assert answered.value.status == 200


def test_arrow_keys_walk_states_and_leads_and_enter_takes_a_way(server, open_page):
    page = open_page(server, "/jobs/9/hook-up/")
    first = page.locator(".hookup-lead.here").inner_text()
    page.keyboard.press("ArrowDown")
    expect(page.locator(".hookup-lead.here")).not_to_have_text(first)
    page.get_by_role("tab", name="Sizes and why").click()
    page.keyboard.press("ArrowLeft")  # the tab before it
    expect(page.get_by_role("tab", name="Runs, connections, ground")).to_be_focused()
    page.get_by_role("tab", name="Other hook-ups").click()
    page.locator("h1").evaluate("document.activeElement.blur()")
    state = page.locator(".hookup-circuit h2").inner_text()
    page.keyboard.press("ArrowRight")
    expect(page.locator(".hookup-circuit h2")).not_to_have_text(state)
    page.locator(".way").first.focus()
    page.keyboard.press("Enter")
    expect(page.locator(".way").first).to_have_attribute("aria-pressed", "true")
    expect(page.locator(".hookup-lead.here")).to_contain_text("fits")


def test_a_pair_of_three_leads_each_is_on_one_screen(server, open_page):
    page = open_page(server, "/jobs/12/hook-up/")
    assert page.evaluate("document.documentElement.scrollHeight") <= 800
    for name in (".banner-do", ".strip-circuit", ".circuit-lamp", ".drawer-tabs"):
        box = page.locator(name).first.bounding_box()
        assert box["y"] + box["height"] <= 800, name
    for list_ in (".hookup-leads ul", ".matrix tbody"):
        last = page.locator(f"{list_} :is(li, tr)").last.bounding_box()
        panel = page.locator(".hookup-look").bounding_box()
        assert last["y"] + last["height"] <= panel["y"] + panel["height"], list_
    expect(page.locator(".hookup-lead")).to_have_count(6)
    expect(page.locator(".matrix tbody tr")).to_have_count(6)


def test_on_a_phone_the_circuit_opens_on_tap_part_and_lamp(server, open_page):
    page = open_page(server, "/jobs/6/hook-up/?at=park", width=390, height=844)
    seen = page.locator(".circuit-scroll").first.bounding_box()
    for what in (page.locator(".circuit-joint").first, page.locator(".circuit-lamp")):
        box = what.bounding_box()
        middle = box["x"] + box["width"] / 2
        assert seen["x"] <= middle <= seen["x"] + seen["width"]


def test_a_wish_of_three_is_written_in_the_brief_and_taken_by_hand(server, open_page):
    page = open_page(server, "/jobs/2/")
    page.get_by_label("What is added").select_option("own")
    page.get_by_label(re.compile("^Its leads")).fill("mode = own_switch and ignition and not reverse; 0.5 A")
    page.get_by_role("button", name="Save brief").click()
    page.goto("/jobs/2/hook-up/")
    expect(page.locator(".tap-right").first).to_contain_text("then an added switch through a relay")
    page.get_by_role("tab", name="Wire it by hand").click()
    for name in (re.compile(r"\(reverse\)"), "a key-on fuse", "an added switch"):
        page.locator(".hand-source", has_text=name).get_by_role("checkbox").check()
    with page.expect_response(re.compile(r"/hook-up/$")):
        page.keyboard.press(",")
    expect(page.locator(".way-taken")).to_have_count(1)
    expect(page.locator(".circuit")).to_contain_text("Relay 2")


def test_wires_are_picked_by_keys_and_stay_picked_until_a_lead_is_named(mirrors):
    mirrors.get_by_role("tab", name="Wire it by hand").click()
    turn = mirrors.locator(".hand-source", has_text=re.compile(r"\(turn left\)"))
    tail = mirrors.locator(".hand-source", has_text=re.compile(r"tail\), left front lamp"))
    for source in (turn, tail):
        mirrors.keyboard.press(source.get_attribute("data-press"))
        expect(source.get_by_role("checkbox")).to_be_checked()
    how = mirrors.locator("[name=hand_form]")
    how.select_option("and_not")
    expect(how).to_have_value("and_not")
    how.blur()
    mirrors.keyboard.press(",")
    expect(mirrors.locator(".way-taken")).to_have_count(1)
    expect(mirrors.locator(".tap-lost", has=mirrors.locator(".way-taken"))).to_contain_text(
        re.compile("tail.* through a relay's NC contact .*, coil on pin 3 .turn left", re.IGNORECASE)
    )


def test_every_lead_takes_its_best_way_at_one_key_and_keeps_a_run_of_its_own(server, open_page):
    page = open_page(server, "/jobs/9/hook-up/")
    for _ in range(3):  # to where nothing is chosen
        if not page.locator(".hookup-lead", has_text="fits").count():
            break
        with page.expect_navigation():
            page.keyboard.press("u")
    expect(page.locator(".hookup-lead", has_text="not chosen yet")).to_have_count(4)
    page.keyboard.press("a")
    expect(page.locator(".hookup-lead", has_text="fits")).to_have_count(4)
    expect(page.locator(".hookup-lead").nth(1)).to_contain_text("Direct from pin 3")
    page.get_by_role("tab", name="Runs, connections, ground").click()
    for label, text in (("Feed length", "4"), ("Ground length", "0.6")):
        page.get_by_label(label).fill(text)
        with page.expect_response(re.compile(r"/hook-up/$")):
            page.keyboard.press("Tab")
    leads = page.locator("#hookup-runs")
    expect(leads.get_by_text("4 m, 0.6 m")).to_have_count(2)  # both leads of the left lamp go the same way
    page.locator(".hookup-lead").nth(3).click()
    expect(page.locator(".hookup-lead").nth(3)).to_have_attribute("aria-current", "true")
    expect(page.get_by_label("Feed length")).to_have_value("")
    page.get_by_label("Feed length").fill("7")
    with page.expect_response(re.compile(r"/hook-up/$")):
        page.keyboard.press("Tab")
    expect(leads.get_by_text(re.compile("^7 m"))).to_have_count(2)
    expect(leads.get_by_text("4 m, 0.6 m")).to_have_count(2)


def test_an_override_that_contradicts_another_is_refused_where_it_was_typed(mirrors, trouble):
    trouble.expect("422")
    mirrors.get_by_role("tab", name="Sizes and why").click()
    mirrors.get_by_text("Override sizing numbers").click()
    aim = mirrors.get_by_label("Drop to aim at")
    aim.fill("6")
    with mirrors.expect_response(re.compile(r"/hook-up/$")):
        aim.blur()
    expect(mirrors.get_by_text("Nearest: 3.7 %")).to_be_visible()
    expect(aim).to_have_value("6")


def test_hook_up_fits_a_phone(server, open_page):
    page = open_page(server, "/jobs/6/hook-up/", width=390, height=844)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    for way in page.locator(".taps li:visible").all():
        assert way.bounding_box()["height"] >= 44
    expect(page.get_by_text("through a relay's NC contact (87a)").first).to_be_visible()


def test_the_new_lamp_is_worked_out_by_keys(server, open_page):
    page = open_page(server, "/jobs/3/lamp/leads/")
    page.get_by_label("Leads, one per line").fill("red\nblack")
    page.get_by_role("button", name="Start testing").click()
    for tried in range(8):
        if page.get_by_text("Every lead is known").count():
            break
        plus = page.get_by_label("On positive").input_value()
        if plus == "red" and page.get_by_label("On negative").input_value() == "black":
            page.get_by_label("Current, A").fill("1.1")
            page.get_by_label("Light is").select_option("white")
            page.get_by_label("Current, A").blur()
            key = "l"
        else:
            key = "d"
        page.keyboard.press(key)
        expect(page.locator(".trials > li")).to_have_count(tried + 1)
    expect(page.get_by_text("Every lead is known. Stop testing.")).to_be_visible()
    expect(page.get_by_text("Common, negative")).to_be_visible()


def test_the_wire_book_narrows_as_one_types(server, open_page):
    page = open_page(server)
    page.get_by_role("link", name="Wire book").click()
    expect(page.locator(".book tbody tr")).not_to_have_count(2)
    page.get_by_label("Search the wire book").press_sequentially("pipit")
    expect(page.locator(".book tbody tr")).to_have_count(2)
    page.reload()
    expect(page.locator(".book tbody tr")).to_have_count(2)


def test_a_job_starts_from_the_wire_book(server, open_page):
    page = open_page(server, "/jobs/8/identify/new/")
    page.get_by_role("link", name=re.compile("left rear turn lamp")).first.click()
    expect(page.get_by_label("One wire per line")).to_have_value(re.compile("OG = turn left"))


def test_a_photo_dropped_on_the_bench_is_kept(server, open_page, tmp_path):
    from PIL import Image

    page = open_page(server, "/jobs/4/identify/3/")
    picture = tmp_path / "plug.png"
    Image.new("RGB", (320, 240), "seagreen").save(picture)
    page.locator("summary", has_text="left tail lamp").click()
    page.get_by_label("Photo of the connector").set_input_files(picture)
    page.get_by_role("button", name="Keep photo").click()
    expect(page.get_by_alt_text("Photo of left tail lamp")).to_be_visible()


def test_what_is_typed_into_a_search_while_the_page_comes_in_is_searched_for(server, open_page):
    page = open_page(server)
    held = []
    page.route("**/htmx.min.js", lambda route: held.append(route))
    page.goto("/wire-book/", wait_until="commit")
    page.get_by_label("Search the wire book").press_sequentially("pipit")
    held[0].continue_()
    expect(page.locator(".book tbody tr")).to_have_count(2)
