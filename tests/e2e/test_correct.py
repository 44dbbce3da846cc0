"""Correct in the browser: fast flash seen, a cure taken and taken back, lamps held by a key, the rate tapped along."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.e2e

MORNING = 1_800_000_000  # seconds since 1970


def test_fast_flash_is_seen_cured_and_the_cure_taken_back(server, open_page):
    page = open_page(server, "/jobs/9/correct/")
    expect(page.locator(".banner-do")).to_have_text("Both sides flash 180 times a minute. Choose a fix.")
    expect(page.locator(".board-rate")).to_have_text(["90 a minute", "180 a minute"])
    page.get_by_role("button", name="Use: Load-independent flasher").click()
    expect(page.locator(".banner-do")).to_have_text("Fixed. Build it.")
    expect(page.locator(".board-rate")).to_have_text(["90 a minute", "180 a minute", "90 a minute"])
    page.get_by_role("button", name="Remove: Load-independent flasher").click()
    expect(page.locator(".banner-do")).to_have_text("Both sides flash 180 times a minute. Choose a fix.")


def test_keys_work_the_strip_hold_the_lamps_and_tap_the_rate(server, open_page):
    page = open_page(server, "/jobs/9/correct/", clock_from=MORNING)
    page.keyboard.press("p")
    expect(page.get_by_role("switch", name="Park")).to_have_attribute("aria-checked", "true")
    page.keyboard.press("x")
    expect(page.locator("[data-hold]")).to_have_attribute("aria-pressed", "true")
    page.get_by_text("Find out with quick checks").click()
    page.clock.pause_at(MORNING + 3600)  # from here on the test is the clock: a busy machine changes no rate
    for _ in range(8):
        page.keyboard.press("Space")
        page.clock.run_for(375)
    expect(page.locator("[data-tapped]")).to_have_text("160 a minute, ± 0")


def test_the_road_of_a_back_feed_is_drawn_and_diodes_end_it(server, open_page):
    """On a job of its own: the brake lights the park lamps through a tail lamp."""
    page = open_page(server, "/jobs/12/correct/?at=brake")
    expect(page.locator(".road")).to_contain_text("lets it through")
    expect(page.locator(".lamp-link")).not_to_have_count(0)
    page.get_by_role("button", name=re.compile("Use: Blocking diodes, 4")).click()
    expect(page.locator(".banner-do")).to_have_text("Fixed. Build it.")
    page.goto("/jobs/12/build/")
    expect(page.get_by_text("Diodes, stripe to the lamp")).to_be_visible()
    page.goto("/jobs/12/correct/")
    page.get_by_role("button", name=re.compile("Remove: ")).click()
    expect(page.locator(".banner-do")).to_contain_text("Choose a fix")
