"""Alarms from the targets and numbers read off a display; the lamp that came on, by thumb on a phone."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, enter, watch
from tests.browser.serving import DemoServer, Visitor

pytestmark = pytest.mark.kept

Pages = Callable[..., Page]


def keep(page: Page, **numbers: float) -> None:
    page.get_by_role("button", name="Stood overnight").click()
    for name, psi in numbers.items():
        page.get_by_label(name.replace("_", " ").capitalize(), exact=True).fill(f"{psi:.1f}")
    page.get_by_role("button", name="Keep these numbers").click()
    expect(page.get_by_label("Front left", exact=True)).to_have_value("")


def test_an_alarm_sets_low_and_one_line_says_why_two_alike_stand_apart(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, own_server.url, "Technician")
    page.goto(f"{own_server.url}/rigs/5/targets/sensors")
    front = page.locator("section").filter(has=page.get_by_role("heading", name="Front", exact=True))
    low = float(front.locator("dd").nth(1).inner_text().split()[0])
    keep(page, front_left=low - 0.5, front_right=low + 2)
    expect(front.get_by_text(re.compile("^Low: .* as if cold. Clears cold at"))).to_be_visible()
    page.goto(f"{own_server.url}/rigs/5")
    page.get_by_role("complementary", name="Alarms").get_by_role("link", name=re.compile("^Front left: Low")).click()
    keep(page, front_left=low + 2)
    expect(front.get_by_text(re.compile("^1L and 1R read about alike, and 1L is low"))).to_be_visible()
    page.get_by_role("button", name="Take back").last.click()
    expect(page.get_by_role("button", name="Take back")).to_have_count(1)
    expect(front.get_by_text(re.compile("read about alike"))).to_have_count(0)
    # What was told stays on record.
    page.get_by_role("button", name="Alarms on record").click()
    expect(page.get_by_text(re.compile("^Front left: low set by"))).to_be_visible()
    page.get_by_label("Low at, % under the target").fill("30")
    page.get_by_role("button", name="Keep the system").click()
    expect(page.get_by_text(re.compile("10% to 20% under the target"))).to_be_visible()
    page.get_by_label("Low at, % under the target").fill("20")
    page.get_by_role("button", name="Keep the system").click()
    expect(front.locator("dd").nth(1)).not_to_contain_text(f"{low:g}")
    assert wrong == []


def test_the_lamp_is_followed_by_thumb_to_a_tire(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page(**PHONE)
    wrong = watch(page)
    enter(page, own_server.url, "Technician")
    page.goto(f"{own_server.url}/rigs/5/targets/lamp")

    def tap(name: str) -> None:
        page.get_by_role("button", name=name, exact=True).tap()

    tap("It flashes first, then stays on")
    expect(page.get_by_text(re.compile("^Flashing means a fault"))).to_be_visible()
    tap("Back a step")
    tap("It stays on")
    tap("It names none")
    tap("Nothing to be seen")
    # The page is loaded anew: what was answered is still there.
    page.reload()
    tap("Stood overnight")
    for name, psi in (("Front left", "70"), ("Front right", "70"), ("Rear left", "80"), ("Rear right", "66")):
        page.get_by_label(name, exact=True).fill(psi)
    tap("Go on with these")
    expect(page.get_by_text("Not yet: spare.")).to_be_visible()
    page.get_by_label("Rear right", exact=True).fill("60")
    page.get_by_label("Spare", exact=True).fill("80")
    tap("Go on with these")
    expect(page.get_by_text(re.compile("^Add air to rear right"))).to_be_visible()
    tap("The air is in them")
    tap("It went out")
    expect(page.get_by_text("One may leak", exact=True)).to_be_visible()
    tap("Keep it with this rig")
    expect(page.get_by_text("Kept with this rig.")).to_be_visible()
    expect(page.get_by_role("heading", name="Times before")).to_be_visible()
    # Another time a tire is far too low: it ends there.
    for name in ("It stays on", "Rear right", "Nothing to be seen"):
        tap(name)
    page.get_by_label("Rear right", exact=True).fill("20")
    tap("Go on with these")
    expect(page.get_by_text("Stopped for a tire", exact=True)).to_be_visible()
    assert wrong == []


def test_the_lamp_is_followed_by_thumb_without_a_network(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page(**PHONE)
    wrong = watch(page)
    enter(page, own_server.url, "Technician")
    # Looked at before the drive; the way itself was never opened.
    with page.expect_response(re.compile(r"/rigs/5/lamp$")):
        page.goto(f"{own_server.url}/rigs/5/targets/sensors")
    expect(page.get_by_role("heading", name="Front", exact=True)).to_be_visible()
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.wait_for_function(
        "async () => (await Promise.all((await caches.keys()).map(async (k) => (await (await caches.open(k)).keys()).length)))"
        ".reduce((a, b) => a + b, 0) > 10"
    )
    own_server.kill()
    page.goto(f"{own_server.url}/rigs/5/targets/lamp")

    def tap(name: str) -> None:
        page.get_by_role("button", name=name, exact=True).tap()

    for name in ("It flashes first, then stays on", "It names none", "Nothing to be seen"):
        tap(name)
    expect(page.get_by_text("Without a network: by the targets and the air of")).to_be_visible()
    expect(page.get_by_text("could not be read")).to_have_count(0)
    expect(page.get_by_text(re.compile("^Flashing means a fault"))).to_be_visible()
    page.reload()
    tap("Stood overnight")
    for name, psi in (("Front left", "70"), ("Front right", "70"), ("Rear left", "80"), ("Rear right", "60")):
        page.get_by_label(name, exact=True).fill(psi)
    tap("Go on with these")
    expect(page.get_by_text("Not yet: spare.")).to_be_visible()
    # A tire far too low stops it here as there.
    page.get_by_label("Rear right", exact=True).fill("20")
    tap("Go on with these")
    expect(page.get_by_text("Stopped for a tire", exact=True)).to_be_visible()
    tap("Back a step")
    page.get_by_label("Rear right", exact=True).fill("60")
    page.get_by_label("Spare", exact=True).fill("80")
    tap("Go on with these")
    expect(page.get_by_text(re.compile("^Add air to rear right"))).to_be_visible()
    tap("The air is in them")
    tap("It went out")
    expect(page.get_by_text("One may leak", exact=True)).to_be_visible()
    tap("Keep it with this rig")
    expect(page.get_by_text("Kept on this phone")).to_be_visible()
    own_server.start()
    expect(page.get_by_text("Kept with this rig.")).to_be_visible()
    expect(page.get_by_text("Rear right lacked more than the others")).to_be_visible()
    kept = Visitor(own_server, "auditor").call("GET", "/rigs/5/sensors")[1]["lamp_cases"]
    assert [c["outcome"] for c in kept] == ["One may leak"]
    assert wrong == []


def test_a_number_off_a_display_is_two_taps_on_a_phone(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page(**PHONE)
    wrong = watch(page)
    enter(page, own_server.url, "Technician")
    page.goto(f"{own_server.url}/rigs/5/targets/sensors")
    page.get_by_label("Front left", exact=True).fill("52")
    page.get_by_role("button", name="Keep these numbers").tap()
    expect(page.get_by_role("button", name="Take back")).to_have_count(1)
    # From any screen of a rig that was heard once: there, the numbers, and kept.
    page.goto(f"{own_server.url}/rigs/5/weighing")
    page.get_by_role("link", name="Off the display").tap()
    first = page.get_by_label("Front left", exact=True)
    expect(first).to_be_focused()
    page.keyboard.type("52.5")
    page.get_by_role("button", name="Keep these numbers").tap()
    expect(page.get_by_role("button", name="Take back")).to_have_count(2)
    # It counts this morning, beside what the last round said.
    page.goto(f"{own_server.url}/rigs/5/lookback/morning")
    page.get_by_role("button", name=re.compile("^All .* tires$")).tap()
    expect(page.get_by_text(re.compile("^and a display’s, "))).to_have_count(1)
    assert wrong == []
