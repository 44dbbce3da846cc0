"""The bench in the browser: files, undo, other instruments, a phone."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.e2e


@pytest.fixture
def bench(server, open_page):
    page = open_page(server, "/jobs/4/identify/3/")
    return page


def test_a_file_of_readings_is_refused_whole_then_taken_in(bench, tmp_path, trouble):
    trouble.expect("422")
    path = tmp_path / "readings.csv"
    for text, answer in (
        ("pin,state,reading\n4,brake,twelve\n5,clutch,0\n", "2 bad rows"),
        ("pin,state,reading\n4,brake,12.2\n5,left,0-12\n", "2 readings taken in"),
    ):
        path.write_text(text)
        bench.locator("summary", has_text="left tail lamp").click()
        bench.get_by_label("Import a CSV of readings").set_input_files(path)
        bench.get_by_role("button", name="Import", exact=True).click()
        expect(bench.get_by_text(answer)).to_be_visible()
    expect(bench.locator(".verdict.settled")).not_to_have_count(0)


def test_undo_by_key_takes_the_last_reading_back(bench):
    bench.goto(bench.url.split("?")[0] + "?state=hazard")
    cell = bench.get_by_label("Pin 5, Hazard")
    cell.fill("0-12")
    bench.keyboard.press("Enter")
    expect(bench.locator("[data-mark=saved]")).to_have_text("saved")
    bench.keyboard.press("Escape")
    bench.keyboard.press("u")
    expect(bench.get_by_text("Pin 5, hazard: taken away again.")).to_be_visible()
    expect(cell).to_have_value("")


def test_a_pasted_block_fills_the_wires_below(bench):
    bench.goto(bench.url.split("?")[0] + "?state=hazard")
    cell = bench.get_by_label("Pin 3, Hazard")
    cell.focus()
    cell.evaluate(
        """cell => {
            const data = new DataTransfer();
            data.setData("text", "0.0\\n0,02\\r\\n0-12\\nignored\\n");
            cell.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true}));
        }"""
    )
    expect(bench.get_by_text("No wire is left for: ignored")).to_be_visible()
    for pin, text in (("3", "0.0"), ("4", "0,02"), ("5", "0-12")):
        expect(bench.get_by_label(f"Pin {pin}, Hazard")).to_have_value(text)
    bench.wait_for_load_state("networkidle")
    bench.reload()
    for pin, text in (("2", ""), ("3", "0.0"), ("4", "0,02"), ("5", "0-12")):
        expect(bench.get_by_label(f"Pin {pin}, Hazard")).to_have_value(text)


def test_one_press_gives_all_empty_wires_the_reading_that_was_typed_last(bench):
    bench.goto(bench.url.split("?")[0] + "?state=hazard")
    bench.get_by_label("Pin 2, Hazard").fill("0-12")
    bench.keyboard.press("Enter")
    bench.get_by_label("Pin 3, Hazard").fill("0.0")
    bench.keyboard.press("Escape")
    bench.get_by_role("button", name="Same reading for all empty wires").click()
    bench.wait_for_load_state("networkidle")
    bench.reload()
    for pin, text in (("1", "0.0"), ("2", "0-12"), ("3", "0.0"), ("5", "0.0")):
        expect(bench.get_by_label(f"Pin {pin}, Hazard")).to_have_value(text)
    bench.get_by_role("button", name="Same reading for all empty wires").click()
    expect(bench.get_by_text("Every wire has a reading here already.")).to_be_visible()


def test_another_instrument_opens_another_column(bench):
    bench.get_by_label("Tool").select_option("led_probe")
    bench.wait_for_url(re.compile("instrument=led_probe"))
    cell = bench.get_by_label("Pin 5, Park, led probe")
    cell.fill("12.4")
    bench.keyboard.press("Enter")
    expect(bench.get_by_text("nothing the led probe can show")).to_be_visible()
    cell.fill("none")
    bench.keyboard.press("Enter")
    expect(bench.get_by_text("nothing the led probe can show")).to_have_count(0)


def test_a_phone_shows_every_wire_with_its_cell_and_a_thumb_sized_strip(server, open_page):
    page = open_page(server, "/jobs/4/identify/3/", width=390, height=844)
    for cell in page.locator("input.reading").all():
        box = cell.bounding_box()
        assert box["width"] >= 120
        assert box["height"] >= 40
    for switch in page.locator(".strip .switch:visible").all():
        assert switch.bounding_box()["height"] >= 44
