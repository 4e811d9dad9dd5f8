"""Draws the pictures in docs/screenshots/ from the demo data: `make screens`."""

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


def guide_and_what_if(page: Page, server: DemoServer) -> None:
    page.goto(f"{server.url}/rigs/1/weighing")
    page.get_by_role("button", name="How it is weighed").click()
    page.get_by_role("option", name="Platform, then left wheels").click()
    page.get_by_label("With Perigee").check()
    for i, kg in enumerate((3390, 9960, 11_610, 13_220, 1690, 4850), 1):
        field = page.get_by_label(f"Pass {i}", exact=True)
        field.fill(f"{kg} kg")
        field.press("Enter")
    page.get_by_label("Pass 1", exact=True).scroll_into_view_if_needed()
    page.evaluate("window.scrollTo(0, 330)")
    page.wait_for_timeout(600)
    page.goto(f"{server.url}/rigs/1/weighing/what-if")
    for name, mass in (("Six guests", "480 kg"), ("Generator", "90 kg")):
        page.get_by_role("button", name="Put something aboard").click()
        page.get_by_label("Weighs").fill(mass)
        page.get_by_label("Called").fill(name)
    last = page.get_by_role("button", name="Arrow keys move it").nth(1)
    last.focus()
    for _ in range(8):
        page.keyboard.press("Shift+ArrowRight")
    page.wait_for_timeout(800)
    shot(page, "what-if")


def draw(browser: Browser, server: DemoServer) -> None:
    page = session(browser, server, "day", "Fleet maintainer", **DESK)
    shot(page, "yard")
    for path, name in (
        ("/rigs/1", "rig"), ("/rigs/1/weighing", "weigh"), ("/rigs/6/targets", "target"),
        ("/rigs/1/air", "air"), ("/rigs/1/card", "card"), ("/rigs/1/lookback", "look-back"), ("/rigs/6/ground", "ground"), ("/rigs/6/targets/chalk", "chalk"), ("/rigs/5/targets/wear", "wear"), ("/tires", "tires"), ("/gauges/2", "gauge"), ("/morning", "morning"), ("/rigs/1/edit?at=axles.1", "entry"),
    ):  # fmt: skip
        page.goto(server.url + path)
        page.get_by_role("heading", level=1).wait_for()
        shot(page, name)

    guide_and_what_if(page, server)
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

    page = session(browser, server, "dusk", "Technician", **DESK)
    page.goto(f"{server.url}/rigs/1/rounds")
    page.get_by_text("4 of 12 read").wait_for()
    page.keyboard.type(f"{rear - 7.4:.1f}")
    page.wait_for_timeout(500)
    shot(page, "round-dusk")

    page = session(browser, server, "dusk", "Technician", **PHONE)
    page.goto(f"{server.url}/rigs/6/ground")
    page.get_by_role("button", name="Then gravel").tap()
    page.get_by_role("group", name="Keypad").wait_for()
    for key in "41":
        page.get_by_role("group", name="Keypad").get_by_role("button", name=key, exact=True).tap()
    page.wait_for_timeout(500)
    shot(page, "phone-ground")
    page = session(browser, server, "day", "Technician", **PHONE)
    page.goto(f"{server.url}/rigs/1/rounds")
    for key in f"{rear - 7.4:.1f}":
        page.get_by_role("group", name="Keypad").get_by_role(
            "button", name="Point" if key == "." else key, exact=True
        ).tap()
    page.wait_for_timeout(500)
    shot(page, "phone-round")


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
