"""Every page can be used by eye, ear and keyboard: axe-core finds no A or AA violation, at both sizes and themes."""

from __future__ import annotations

from pathlib import Path

import pytest

pytestmark = pytest.mark.e2e
AXE = (Path(__file__).parent / "vendor/axe.min.js").read_text()
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
BOOTSTRAP = {"daylight": "light", "night": "dark"}
PAGES = (
    "/sign-in/",
    "/",
    "/?q=nothing",
    "/jobs/new/",
    "/jobs/1/",
    "/jobs/1/identify/new/",
    "/jobs/4/identify/3/",
    "/jobs/4/identify/3/edit/",
    "/jobs/4/identify/3/history/",
    "/jobs/4/identify/3/sheet/",
    "/jobs/2/lamp/",
    "/jobs/2/lamp/leads/",
    "/jobs/7/units/",
    "/jobs/2/hook-up/",
    "/jobs/5/hook-up/?at=brake%2Bleft&drawer=run",
    "/jobs/12/hook-up/?drawer=loads",
    "/jobs/12/correct/",
    "/jobs/2/build/",
    "/jobs/2/prove/?state=reverse",
    "/jobs/2/prove/sheet/",
    "/wire-book/",
    "/schools/",
    "/jobs/999/",
)


LATER = ("hook-up", "correct", "build")
"""Pages of which a part comes by its own request."""


@pytest.mark.parametrize("width", [1280, 390])
def test_no_page_has_a_violation(server, open_page, trouble, width):
    """In daylight by all rules, at night by those of colour: the page is the same but for that."""
    page = open_page(server, width=width, height=800)
    trouble.expect("404")
    found = []
    for path in PAGES:
        page.goto(path, wait_until="networkidle" if any(part in path for part in LATER) else "load")
        if page.locator("h1").count() != 1:
            found.append(f"{path} has {page.locator('h1').count()} headings of the first order")
        page.evaluate(AXE)
        for theme, rules in (("daylight", RULES), ("night", ["cat.color"])):
            page.evaluate("theme => { document.documentElement.dataset.theme = theme; }", theme)
            page.evaluate("theme => { document.documentElement.dataset.bsTheme = theme; }", BOOTSTRAP[theme])
            result = page.evaluate("rules => axe.run(document, {runOnly: rules, resultTypes: ['violations']})", rules)
            for violation in result["violations"]:
                if not set(violation["tags"]) & set(RULES):
                    continue
                nodes = [f"{node['target'][0]}: {node['html'][:110]}" for node in violation["nodes"][:3]]
                found.append(f"{path} {theme} {violation['id']} ({len(violation['nodes'])}): {'; '.join(nodes)}")
    assert not found, "\n".join(found)


TOUCHED = """() => [...document.querySelectorAll(
  "button, a[href], input:not([type=hidden], [type=checkbox], [type=radio]), select, textarea, summary")]
  .filter(e => e.checkVisibility({visibilityProperty: true}) && getComputedStyle(e).display !== "inline")
  .filter(e => !e.matches(".skip") && !e.closest(".visually-hidden, p, td, .hint, .paper, dd, svg"))
  .map(e => [e.tagName, e.className.toString(), (e.innerText || e.name || "").trim().slice(0, 30),
             Math.round(e.getBoundingClientRect().height)])
  .filter(each => each[3] > 2 && each[3] < 48)"""


def test_what_is_touched_on_a_phone_is_48_px_high(server, open_page, trouble):
    """One-handed, with gloves; links within a sentence are as high as it is."""
    page = open_page(server, width=390, height=844)
    trouble.may("404")
    small = {}
    for path in PAGES:
        page.goto(path, wait_until="networkidle" if any(part in path for part in LATER) else "load")
        small |= {tuple(each[:3]): (path, each[3]) for each in page.evaluate(TOUCHED)}
    assert not small, "\n".join(f"{key} {value}" for key, value in small.items())
