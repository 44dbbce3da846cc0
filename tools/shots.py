"""Takes docs/screenshots from the demo data: `make shots`."""

from __future__ import annotations

import tempfile
from pathlib import Path

from playwright.sync_api import Browser

from browser import browser
from demo_server import DemoServer, sign_in

FOLDER = Path(__file__).resolve().parents[1] / "docs/screenshots"
DESK, PHONE = (1280, 800), (390, 844)

SHOTS = (
    ("sign-in", "/sign-in/", DESK, "daylight"),
    ("board", "/", DESK, "daylight"),
    ("brief", "/jobs/1/", DESK, "daylight"),
    ("identify", "/jobs/4/identify/3/", DESK, "daylight"),
    ("new-job", "/jobs/new/", DESK, "daylight"),
    ("plug", "/jobs/3/identify/2/", DESK, "daylight"),
    ("new-lamp", "/jobs/4/lamp/", DESK, "daylight"),
    ("wire-book", "/wire-book/", DESK, "night"),
    ("identify-phone", "/jobs/4/identify/3/", PHONE, "daylight"),
    ("hook-up", "/jobs/12/hook-up/", DESK, "daylight"),
    ("hook-up-mirrors", "/jobs/5/hook-up/?at=brake+left", DESK, "night"),
    ("units", "/jobs/7/units/", DESK, "daylight"),
    ("hook-up-phone", "/jobs/6/hook-up/", PHONE, "daylight"),
    ("shops-ways", "/schools/", DESK, "daylight"),
    ("correct", "/jobs/12/correct/?at=brake", DESK, "daylight"),
    ("build", "/jobs/13/build/", DESK, "daylight"),
    ("prove", "/jobs/2/prove/?state=reverse", DESK, "daylight"),
    ("prove-phone", "/jobs/2/prove/?state=reverse", PHONE, "night"),
    ("test-sheet", "/jobs/2/prove/sheet/", DESK, "daylight"),
)


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as data:
        server = DemoServer(Path(data))
        server.start()
        try:
            with browser() as opened:
                for shot in SHOTS:
                    _take(opened, server.address, *shot)
        finally:
            server.kill()


def _take(opened: Browser, address: str, name: str, path: str, size: tuple[int, int], theme: str) -> None:
    width, height = size
    context = opened.new_context(
        viewport={"width": width, "height": height},
        locale="en-GB",
        timezone_id="UTC",
        base_url=address,
        reduced_motion="reduce",
    )
    context.add_cookies([{"name": "theme", "value": theme, "url": address}])
    page = context.new_page()
    page.goto(path)
    if path != "/sign-in/":
        sign_in(page)
        page.goto(path)
    page.wait_for_load_state("networkidle")
    for card in page.locator("details.unit > summary").all()[:1]:
        card.click()
    page.screenshot(path=FOLDER / f"{name}.png")
    context.close()
    print(f"{name}.png")


if __name__ == "__main__":
    main()
