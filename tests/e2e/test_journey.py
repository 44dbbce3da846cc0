"""The first job from brief to signed sheet, the way a person does it: identification from the keyboard alone."""

from __future__ import annotations

import re
from contextlib import contextmanager

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.e2e

# what the five wires carry, by control; everything else reads nothing
TRUTH = {
    "park": {"2": "12.3"},
    "low": {"2": "12.2"},
    "high": {"2": "12.2"},
    "brake": {"4": "12.2"},
    "reverse": {"3": "12.2"},
}
FLASHES = {"left": "5", "hazard": "5"}


LOADED_DROP = {"1": "0.004", "2": "1.7", "3": "0.21", "4": "0.2", "5": "0.23"}


@contextmanager
def answered(page, pattern):
    """What is done inside is answered, and the answer is on the page."""
    with page.expect_response(re.compile(pattern)):
        yield
    expect(page.locator(".htmx-request, .htmx-swapping, .htmx-settling")).to_have_count(0)


def reads(state: str, pin: str, instrument: str) -> str:
    if instrument == "loaded_drop":
        return LOADED_DROP[pin]
    if instrument in ("clamp", "hertz"):
        return "0"
    for control in state.split("+"):
        if FLASHES.get(control) == pin:
            return "0-12"
        if pin in TRUTH.get(control, {}):
            return TRUTH[control][pin]
    return "0.0"


def begin(page):
    page.get_by_role("link", name="New job").click()
    page.get_by_text("Something is wrong").click()
    expect(page.get_by_text("What was changed before the trouble started?")).to_be_visible()  # a wrong turn
    page.get_by_text("Add lamps").click()
    page.get_by_text("Extra reverse lamps").click()
    page.get_by_label("Make").fill("Merrow")
    page.get_by_label("Model").fill("Skua")
    page.get_by_text("Fill in later").click()
    page.get_by_label("Job").fill("Third book van: reverse lamps")
    page.get_by_label("Current of each").fill("1,2")
    page.get_by_label("Does a computer power or monitor").select_option("no")
    page.get_by_role("button", name="Begin").click()
    page.get_by_label("Where").fill("left tail lamp")
    page.get_by_label("One wire per line").fill("1 BK\n2 brown/white\n3 WH/GN\n4 YE/BK\n5 VT")
    page.get_by_role("button", name="Save and measure").click()


def identify_by_keyboard(page):
    """Go where N leads, type, Enter, until nothing more is advised."""
    for _ in range(40):
        page.wait_for_load_state()  # the banner has come in, or there is none
        if page.locator(".banner-done").count():
            return
        page.keyboard.press("n")
        page.locator("tr.asked input.reading:focus").wait_for()
        state = page.locator("#bench").get_attribute("data-state")
        instrument = page.locator("#setup [name=instrument]").input_value()
        pin = page.locator("tr:has(input.reading:focus) th").inner_text()
        with answered(page, "/follows/"):
            page.keyboard.type(reads(state, pin, instrument))
            page.keyboard.press("Enter")
        expect(page.locator("[data-mark=saved]")).to_have_text("saved")
        page.keyboard.press("Escape")
    raise AssertionError("still advising after forty readings")


def hook_up(page):
    def choose(action):
        with answered(page, "/hook-up/"):
            action()

    choose(lambda: page.locator(".way").first.click())
    page.get_by_role("tab", name="Load on each fuse").click()
    choose(lambda: page.get_by_label("Fed by").select_option("plain"))
    choose(lambda: page.get_by_label("Factory lamps").select_option("P21W"))
    choose(lambda: page.get_by_label("Its fuse").select_option("10"))
    choose(lambda: page.get_by_label("Factory wire").select_option("18"))
    for label, text in (("How many", "2"), ("Feed length", "3.4"), ("Ground length", "0.6")):
        if label == "Feed length":
            page.get_by_role("tab", name="Runs, connections, ground").click()
        choose(lambda label=label, text=text: (page.get_by_label(label).fill(text), page.keyboard.press("Tab")))
    expect(page.get_by_text("2 leads are planned. Now fix the problems it causes.")).to_be_visible()


def build(page):
    """Every step by Enter, but one that this job does not need."""
    steps = page.get_by_role("list", name="All steps").get_by_role("listitem")
    expect(steps.first).to_be_visible()  # counted once they are there
    for n in range(steps.count() - 1):
        with answered(page, "/tick/"):
            if n == 2:
                page.get_by_role("button", name="Not needed").click()
            else:
                expect(page.get_by_text(f"Step {n + 1} of")).to_be_visible()
                expect(page.get_by_role("button", name="Done")).to_be_focused()
                page.keyboard.press("Enter")
    expect(page.get_by_text(f"Step {steps.count()} of {steps.count()}")).to_be_visible()


def prove(page):
    for _ in range(10):
        with answered(page, "/record/"):
            page.get_by_role("button", name="All as expected").click()
    measured = page.locator(".line-untested").filter(has=page.get_by_role("button", name="Judge"))
    readings = iter(("0.31", "0.29", "0.06", "0.07", "88 /min", "88 /min"))
    while measured.count():
        measured.first.get_by_label("Reading").fill(next(readings))
        with answered(page, "/record/"):
            measured.first.get_by_role("button", name="Judge").click()
    judged_by_eye = page.locator(".line-untested").get_by_role("button", name="Pass")
    while judged_by_eye.count():
        with answered(page, "/record/"):
            judged_by_eye.first.click()


def test_a_job_goes_from_brief_to_signed_sheet(server, open_page):
    page = open_page(server)
    begin(page)
    identify_by_keyboard(page)
    expect(page.get_by_text("Enough for this job")).to_be_visible()
    taken = (
        page.locator("tbody .c-past:not(:text-is('·'))").count()
        + page.locator("input.reading:not(:placeholder-shown)").count()
    )
    assert taken <= 13
    page.get_by_role("link", name="Hook up", exact=True).and_(page.locator(".banner a")).click()
    hook_up(page)
    page.get_by_role("link", name="Build sheet").click()
    build(page)
    page.get_by_role("link", name="Go to the test sheet").click()
    prove(page)
    expect(page.get_by_text("1 build step open")).to_be_visible()
    page.get_by_role("link", name="Go to the build sheet").click()
    with answered(page, "/tick/"):
        page.get_by_role("button", name="Done").click()
    page.get_by_role("link", name="Go to the test sheet").click()
    page.get_by_role("button", name=re.compile("^Sign as")).click()
    expect(page.get_by_text("Passed and signed by saltmarsh.")).to_be_visible()
    page.get_by_role("link", name="Print").click()
    expect(page.get_by_text("Signed: saltmarsh")).to_contain_text("revision 1")
    assert page.get_by_text("not tested").count() == 0


def test_the_demo_names_its_odd_reading_and_measuring_again_clears_it(server, open_page):
    page = open_page(server, "/jobs/4/identify/3/")
    expect(
        page.get_by_text("Pin 2 read 0 V in park, but every other reading says tail. Measure again.")
    ).to_be_visible()
    page.get_by_label("Pin 2, Park").fill("12.3")
    page.keyboard.press("Enter")
    expect(page.get_by_text("measure again")).to_have_count(0)
    expect(page.locator("tr[data-pin]").nth(1).locator(".verdict")).to_contain_text("Tail")


def test_the_strip_and_the_help_work_by_keys(server, open_page):
    page = open_page(server, "/jobs/4/identify/3/")
    page.keyboard.press("Escape")
    page.locator("body").click(position={"x": 5, "y": 700})
    for key, state in (("0", "rest"), ("b", "brake"), ("l", "brake+left"), ("r", "brake+right"), ("b", "right")):
        page.keyboard.press(key)
        page.locator(f"#bench[data-state='{state}']").wait_for()
        page.wait_for_load_state()  # the cell that is asked for has the focus then
        page.keyboard.press("Escape")
    page.keyboard.press("?")
    expect(page.get_by_role("heading", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("3")
    expect(page).to_have_url(re.compile("/hook-up/"))


@pytest.mark.parametrize("width", [390, 1280])
def test_no_page_scrolls_sideways(server, open_page, width):
    page = open_page(server, width=width)
    addresses = [
        "/",
        "/jobs/new/",
        "/jobs/2/",
        *[f"/jobs/2/{layer}/" for layer in ("identify", "hook-up", "build", "prove")],
        "/jobs/12/hook-up/?drawer=run",
    ]
    for address in addresses:
        page.goto(address)
        assert page.evaluate("document.documentElement.scrollWidth") <= width, address
