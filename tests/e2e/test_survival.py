"""Nothing typed is lost: not on reload, not when the server dies, not when it cannot be read."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.e2e


@pytest.fixture
def bench(server, open_page):
    page = open_page(server, "/jobs/4/identify/3/")
    page.goto(page.url.split("?")[0] + "?state=hazard")
    return page


def cell(page, pin):
    return page.get_by_label(f"Pin {pin}, Hazard")


DEAD = (
    "ERR_CONNECTION_REFUSED",
    "ERR_CONNECTION_RESET",
    "ERR_EMPTY_RESPONSE",
    "sendError",
    "afterRequest",
    "ERR_SOCKET_NOT_CONNECTED",
)


def test_a_reading_shown_as_saved_survives_a_server_killed_at_once(server, bench, trouble):
    trouble.may("ERR_CONNECTION|afterRequest|sendError")  # the reasons, which follow by their own request
    cell(bench, 5).fill("0-12")
    bench.keyboard.press("Enter")
    expect(bench.locator("tr[data-pin]").nth(4).locator(".cellnote")).to_have_text("saved")
    server.kill()
    server.start()
    bench.reload()
    expect(cell(bench, 5)).to_have_value("0-12")


def test_what_was_typed_while_the_server_was_dead_is_saved_when_it_is_back(server, bench, trouble):
    trouble.expect("|".join(DEAD))
    server.kill()
    cell(bench, 5).fill("0-12")
    bench.keyboard.press("Enter")
    expect(bench.get_by_text("The server does not answer.")).to_be_visible()
    expect(cell(bench, 5)).to_have_value("0-12")
    server.start()
    with bench.expect_response(re.compile("/readings/")):
        bench.reload()
    expect(bench.locator("tr[data-pin]").nth(4).locator(".cellnote")).to_have_text("saved")
    bench.reload()
    expect(cell(bench, 5)).to_have_value("0-12")


def test_half_typed_text_is_there_after_a_reload(bench):
    cell(bench, 4).click()
    bench.keyboard.type("12.")
    with bench.expect_response(re.compile("/readings/")):
        bench.reload()
    expect(cell(bench, 4)).to_have_value("12.")


def test_a_reading_that_cannot_be_read_stays_marked_while_the_next_is_kept(bench):
    cell(bench, 4).fill("twelve")
    bench.keyboard.press("Enter")
    expect(bench.get_by_text("cannot be read. Expected volts like 12.4")).to_be_visible()
    cell(bench, 5).fill("flash")
    bench.keyboard.press("Enter")
    expect(bench.locator("tr[data-pin]").nth(4).locator(".cellnote")).to_have_text("saved")
    bench.reload()
    expect(cell(bench, 4)).to_have_value("twelve")
    expect(cell(bench, 5)).to_have_value("flash")


def test_a_brief_half_typed_survives_a_reload(server, open_page):
    page = open_page(server, "/jobs/new/")
    page.get_by_label("Make").fill("Merrow")
    page.get_by_text("Extra high stop lamp").click()
    page.reload()
    expect(page.get_by_label("Make")).to_have_value("Merrow")
    expect(page.get_by_label("Extra high stop lamp")).to_be_checked()


def test_typing_on_while_a_choice_is_saved_loses_nothing(server, open_page):
    page = open_page(server, "/jobs/5/hook-up/")
    page.get_by_role("tab", name="Load on each fuse").click()
    page.get_by_label("How many").fill("2")
    page.get_by_role("tab", name="Runs, connections, ground").click()
    page.get_by_label("Feed length").click()
    page.keyboard.type("3.45", delay=60)
    page.keyboard.press("Tab")
    page.keyboard.type("0.8", delay=60)
    page.keyboard.press("Tab")
    expect(page.get_by_text("Find out whether a computer")).to_have_count(0)
    page.get_by_role("tab", name="Load on each fuse").click()
    page.get_by_label("Fed by").select_option("plain")
    page.get_by_role("tab", name="Sizes and why").click()
    expect(page.locator("#hookup-options table")).to_be_visible()
    page.wait_for_load_state("networkidle")
    page.reload()
    for label, value in (("How many", "2"), ("Feed length", "3.45"), ("Ground length", "0.8"), ("Fed by", "plain")):
        expect(page.get_by_label(label)).to_have_value(value)


def test_what_is_chosen_while_an_earlier_choice_is_saved_survives_a_reload(server, open_page, trouble):
    """Other values than the test above, which may have been at this job before."""
    trouble.expect("ERR_FAILED|sendError|afterRequest")
    page = open_page(server, "/jobs/5/hook-up/")
    held = []

    def hold_the_first_and_lose_the_rest(route):
        if route.request.method != "POST":
            route.continue_()
        elif held:
            route.abort()
        else:
            held.append(route)

    page.route("**/hook-up/", hold_the_first_and_lose_the_rest)
    page.get_by_role("tab", name="Load on each fuse").click()
    page.get_by_label("How many").fill("3")
    page.get_by_label("How many").blur()
    page.get_by_label("Fed by").select_option("computer")
    with page.expect_event("requestfailed", lambda request: request.method == "POST"):
        held[0].continue_()
    page.unroute_all()
    page.reload()
    expect(page.get_by_label("How many")).to_have_value("3")
    expect(page.get_by_label("Fed by")).to_have_value("computer")
