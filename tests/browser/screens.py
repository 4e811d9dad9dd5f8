"""Draws the pictures in docs/screenshots/ from the demo data: `make screens`."""

import re
import tempfile
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from tests.browser.conftest import PHONE, enter, should_show
from tests.browser.serving import CHROMIUM, CHROMIUM_FLAGS, ROOT, DemoServer

OUT = ROOT / "docs" / "screenshots"
DESK = {"viewport": {"width": 1280, "height": 800}}


def shot(page: Page, name: str) -> None:
    page.wait_for_load_state("networkidle")
    page.mouse.move(0, 0)
    page.wait_for_timeout(400)
    page.screenshot(path=OUT / f"{name}.png")


def session(browser: Browser, server: DemoServer, light: str, person: str, **kind: object) -> Page:
    page = browser.new_context(locale="en-US", **kind).new_page()  # type: ignore[arg-type]
    page.add_init_script(f"localStorage.setItem('light', '{light}')")
    enter(page, server.url, person)
    return page


def read(page: Page, reading: str) -> None:
    heading = page.get_by_role("heading", level=1)
    wheel = heading.inner_text()
    page.keyboard.type(reading)
    page.wait_for_timeout(300)
    page.keyboard.press("Enter")
    heading.filter(has_not_text=wheel).wait_for()


def drive(page: Page, server: DemoServer) -> None:
    """A nail on the highway, as the receiver sends it."""
    page.goto(f"{server.url}/rigs/8/targets/drive")
    page.get_by_label("What goes wrong").click()
    page.get_by_role("option", name="A nail").click()
    page.get_by_label("Times as fast as life", exact=True).fill("600")
    page.get_by_role("button", name="Drive", exact=True).click()
    page.get_by_text(re.compile("^Front left: losing air fast")).wait_for()
    page.get_by_role("button", name="1 ×", exact=True).click()
    page.evaluate("scrollTo(0, 0)")
    page.wait_for_timeout(1500)
    shot(page, "drive")


def practice(page: Page, server: DemoServer) -> None:
    """An axle weighed as a whole, and a pad under its heavier end."""
    page.goto(f"{server.url}/practice")
    page.get_by_role("button", name="Begin: A scale for the whole axle").click()
    for wheel in ("1L", "1R"):
        page.get_by_role("button", name=f"Put a pad under {wheel}").click()
        page.get_by_text(f"Pad under {wheel}").wait_for()
    page.get_by_role("heading", level=1).wait_for()
    shot(page, "practice")


def draw(browser: Browser, server: DemoServer) -> None:
    page = session(browser, server, "day", "Fleet maintainer", **DESK)
    page.get_by_role("link", name=re.compile("CF-01")).first.wait_for()
    page.get_by_role("button", name=re.compile("^Air today")).wait_for()
    page.get_by_role("button", name="dense").click()
    page.get_by_role("button", name=re.compile("^Round due")).click()
    page.get_by_role("button", name="Choose rigs").click()
    page.get_by_role("button", name=re.compile(r"^All \d+ that fit")).click()
    page.get_by_role("button", name="Days between checks").click()
    shot(page, "yard")
    page.goto(server.url)
    page.get_by_role("button", name="comfortable").click()
    for path, name in (
        ("/rigs/1/weighing", "weigh"), ("/rigs/6/targets", "target"),
        ("/rigs/1/air", "air"), ("/rigs/1/card", "card"), ("/rigs/1/lookback", "look-back"), ("/rigs/6/ground", "ground"), ("/rigs/5/targets/wear", "wear"), ("/gauges/5", "gauge"), ("/morning", "morning"), ("/tires", "tires"), ("/checks", "checks"), ("/rigs/1/edit?at=axles.1", "entry"),
    ):  # fmt: skip
        page.goto(server.url + path)
        page.get_by_role("heading", level=1).wait_for()
        shot(page, name)
    page.goto(f"{server.url}/report")
    page.get_by_label("Month").click()
    page.get_by_role("option").nth(1).click()
    page.get_by_text(re.compile(r"^[1-9]\d* rounds")).wait_for()
    shot(page, "report")

    drive(page, server)
    page = session(browser, server, "day", "Technician", **DESK)
    page.goto(f"{server.url}/rigs/1/rounds")
    page.get_by_role("button", name="Open the round").click()
    page.get_by_text("0 of 12 read").wait_for()

    # Front left, both rear left, then the trailer's.
    for off in (0.0, 0.3, -0.4, 0.2):
        read(page, f"{float(should_show(page)) + off:.1f}")
    rear = float(should_show(page))
    page.keyboard.type(f"{rear - 7.4:.1f}")
    page.wait_for_timeout(500)
    shot(page, "round")

    page = session(browser, server, "dusk", "Technician", **PHONE)
    page.goto(f"{server.url}/day")
    page.get_by_role("status").wait_for()
    shot(page, "phone-day")
    page = session(browser, server, "day", "Technician", **PHONE)
    page.goto(f"{server.url}/rigs/1/rounds")
    for key in f"{rear - 7.4:.1f}":
        page.get_by_role("group", name="Keypad").get_by_role(
            "button", name="Point" if key == "." else key, exact=True
        ).tap()
    page.wait_for_timeout(500)
    shot(page, "phone-round")
    practice(session(browser, server, "day", "RV owner", **DESK), server)


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = DemoServer(Path(folder))
        server.build()
        server.start()
        try:
            draw(playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS), server)
        finally:
            server.kill()
    print(f"Drawn: {', '.join(sorted(p.name for p in OUT.glob('*.png')))}")


if __name__ == "__main__":
    main()
