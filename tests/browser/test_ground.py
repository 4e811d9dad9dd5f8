"""Off the road and back by thumb, on a phone that has no network: nothing lost, and nothing closed without a cold round."""

import re
from collections.abc import Callable
from uuid import uuid4

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, Keyboard, enter, watch
from tests.browser.serving import DemoServer, Visitor

pytestmark = pytest.mark.kept

Pages = Callable[..., Page]
PICKUP = 6


def on_the_road(server: DemoServer) -> None:
    """The demo's pickup stands in the dunes: for a walk of one's own it begins on the road."""
    server.sql("UPDATE ground_groundplan SET undone_at = opened_at")


def walk_all(page: Page, verdict: str = "At its number") -> int:
    """Every wheel by thumb: what it must show is typed, and kept; how many there were."""
    count = 0
    pad = page.get_by_role("group", name="Keypad")
    while pad.is_visible():
        wheel = page.locator("section h2:visible").first.inner_text()
        number = page.locator("section b.leading-none:visible").first.inner_text()
        for key in number:
            pad.get_by_role("button", name="Point" if key == "." else key, exact=True).tap()
        expect(page.get_by_text(re.compile(verdict)).last).to_be_visible()
        pad.get_by_role("button", name="Keep").tap()
        expect(page.locator("section h2:visible", has_text=re.compile(f"^{re.escape(wheel)}$"))).to_have_count(0)
        count += 1
    return count


def test_from_the_highway_to_the_sand_and_back_without_a_network(own_server: DemoServer, new_page: Pages) -> None:
    on_the_road(own_server)
    page = new_page(**PHONE)
    wrong = watch(page)
    enter(page, own_server.url, "Technician")
    other = Visitor(own_server, "fleet-maintainer")
    page.goto(f"{own_server.url}/rigs/{PICKUP}/ground")
    page.get_by_role("button", name=re.compile("^Just off the highway")).tap()
    page.get_by_role("button", name=re.compile("^Soft sand")).first.tap()
    expect(page.get_by_text(re.compile("^Back to road pressure with I2"))).to_be_visible()
    page.get_by_label("Where").fill("North Bar")
    page.wait_for_function("navigator.serviceWorker.ready.then(() => true)")
    page.wait_for_timeout(1500)
    own_server.kill()
    page.get_by_role("button", name="Open the plan").tap()
    expect(page.get_by_role("heading", name="Soft sand · North Bar")).to_be_visible()
    expect(page.get_by_text("at most 12 mph", exact=True)).to_be_visible()
    assert walk_all(page) == 6
    # Closed and opened again, still without a network.
    page.reload()
    expect(page.get_by_text("Every tire is at its number here.")).to_be_visible()
    page.get_by_role("button", name="Then highway").tap()
    expect(page.get_by_text("Fill until it shows").last).to_be_visible()
    # Half of it is filled for the road: the speed is still that of the softest.
    expect(page.get_by_text("at most 12 mph", exact=True)).to_be_visible()
    assert walk_all(page) == 6
    expect(page.get_by_text("Every tire is filled for the road.")).to_be_visible()
    own_server.start()
    # One that was tried just before the server was there is tried again after half a minute.
    expect(page.get_by_text(re.compile("not on the server yet"))).to_have_count(0, timeout=90_000)
    found = other.call("GET", f"/rigs/{PICKUP}/ground")[1]["open"]
    assert (found["place"], found["at"], found["speed_kmh"]) == ("North Bar", 1, None)
    assert all(w["done"]["step"] == 1 and w["words"]["text"] == "At its number: keep it" for w in found["wheels"])
    # A round that is asked for says what stands in the tires, and only a cold one at road numbers closes the plan.
    page.get_by_role("link", name="Open the cold round that closes it").click()
    page.get_by_role("button", name="Open the round").click()
    expect(page.get_by_text(re.compile("^A ground plan is open for it"))).to_be_visible()
    page.get_by_role("button", name="Road numbers again").click()
    page.get_by_role("button", name="Open the round").click()
    page.get_by_text(re.compile(r"^0 of \d+ read")).wait_for()
    round_id = other.call("GET", f"/yard/{PICKUP}")[1]["open_round"]
    wheels = other.call("GET", f"/rounds/{round_id}")[1]["wheels"]
    for w in wheels:
        body = {"wheel": w["code"], "pressure": f"{w['shows_kpa']} kPa"}
        other.call("PUT", f"/rounds/{round_id}/readings/{uuid4()}", body)
    assert other.call("POST", f"/rounds/{round_id}/seal", {"unread_reason": ""})[0] == 200
    assert other.call("GET", f"/rigs/{PICKUP}/ground")[1]["open"] is None
    assert wrong == []


def test_an_open_plan_stands_on_every_screen_of_its_rig(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    first = page.get_by_role("row").or_(page.get_by_role("listitem")).filter(has_text="Ground plan open").first
    expect(first).to_be_visible()
    for stage in ("", "/weighing", "/targets", "/air", "/rounds", "/lookback"):
        page.goto(f"{server.url}/rigs/{PICKUP}{stage}")
        expect(page.get_by_role("link", name=re.compile("^Ground plan open: Soft sand at Quill Dunes"))).to_be_visible()
    page.goto(f"{server.url}/rigs/{PICKUP}/card")
    expect(page.get_by_text(re.compile("These are road numbers"))).to_be_visible()
    page.goto(f"{server.url}/morning")
    expect(page.get_by_text(re.compile("Ground plan open: Soft sand")).first).to_be_visible()


def test_a_plan_by_keyboard_and_rows_below_the_floors_refused(own_server: DemoServer, new_page: Pages) -> None:
    on_the_road(own_server)
    page = new_page()
    enter(page, own_server.url)
    page.goto(f"{own_server.url}/rigs/{PICKUP}/ground")
    keys = Keyboard(page)
    keys.to("Gravel")
    keys.press("Enter")
    keys.to("Soft sand")
    keys.press("Enter")
    keys.to("Soft sand, stretch 2 of 2")
    keys.press("ArrowLeft")
    expect(page.get_by_role("button", name=re.compile("^Soft sand, stretch 1 of 2"))).to_be_focused()
    keys.press("Delete")
    expect(page.get_by_role("button", name=re.compile("^Gravel, stretch 1 of 1"))).to_be_visible()
    page.goto(f"{own_server.url}/surfaces")
    page.get_by_label("not below").nth(6).fill("14 psi")
    page.get_by_role("button", name="Keep the surfaces").click()
    expect(page.get_by_text(re.compile("Steered tires go no lower than 110 kPa"))).to_have_count(1)
