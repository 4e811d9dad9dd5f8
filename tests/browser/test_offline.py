"""The round without a network, on a phone: nothing lost, nothing twice, both values of a conflict shown."""

import re
from collections.abc import Callable
from uuid import uuid4

from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, enter
from tests.browser.serving import DemoServer, Visitor
from tests.browser.test_resilience import stored

Pages = Callable[..., Page]


def thumb(page: Page, digits: str) -> None:
    """A reading by thumb: its digits, and one tap."""
    pad = page.get_by_role("group", name="Keypad")
    for key in digits:
        pad.get_by_role("button", name="Point" if key == "." else key, exact=True).click()
    pad.get_by_role("button", name="Keep", exact=True).click()


def at(page: Page, wheel: str) -> None:
    expect(page.get_by_role("heading", level=1)).to_contain_text(wheel)


def test_the_network_cut_half_way_the_browser_closed_and_the_network_back(
    own_server: DemoServer, new_page: Pages
) -> None:
    page = new_page(**PHONE)
    context = page.context
    enter(page, own_server.url, "Technician")
    other = Visitor(own_server, "fleet-maintainer")
    rig = next(r["id"] for r in other.call("GET", "/yard")[1]["rigs"] if r["fleet_number"] == "CF-10")
    address = f"{own_server.url}/rigs/{rig}/rounds"
    page.goto(address)
    page.get_by_role("button", name="Open the round").click()
    at(page, "Front left")
    round_id = other.call("GET", f"/yard/{rig}")[1]["open_round"]
    view = other.call("GET", f"/rounds/{round_id}")[1]
    shows = {w["code"]: f"{w['shows_kpa'] / 6.894757:.1f}" for w in view["wheels"]}
    # The page itself is kept by now, and the answers are there as data.
    page.wait_for_function(
        "navigator.serviceWorker.controller !== null || navigator.serviceWorker.ready.then(() => true)"
    )
    page.wait_for_timeout(1500)
    thumb(page, shows["1L"])
    at(page, "Rear left, outer")
    expect(page.get_by_text("Kept on the server", exact=False)).to_be_visible()

    # Nobody answers any more, whatever the browser believes of its network.
    own_server.kill()
    thumb(page, shows["2Lo"])
    at(page, "Rear left, inner")
    # Low: the answer is there without a network, and air is asked for and read again.
    thumb(page, "101")
    expect(page.get_by_text("Fill until G1 shows", exact=False)).to_be_visible()
    expect(page.get_by_label(re.compile("^After the air"))).to_be_visible()
    thumb(page, shows["2Li"])
    at(page, "Rear right, outer")
    page.get_by_role("button", name="Leak heard").click()
    expect(page.get_by_text("4 entries are kept in this browser", exact=False)).to_be_visible()

    thumb(page, shows["2Ro"])
    at(page, "Rear right, inner")
    thumb(page, shows["2Ri"])
    at(page, "Front right")

    # The browser is closed. Meanwhile somebody else, within reach, reads one of the same wheels.
    page.close()
    own_server.start()
    other.call("PUT", f"/rounds/{round_id}/readings/{uuid4()}", {"wheel": "2Ri", "pressure": "101 psi"})
    assert [wheel for _, wheel, _ in stored(own_server)] == ["1L", "2Ri"]
    own_server.kill()

    # Opened again, still without a network: all of it is there.
    page = context.new_page()
    page.goto(address)
    at(page, "Front right")
    expect(page.get_by_text("No network: the round goes on", exact=False)).to_be_visible()
    expect(page.get_by_text("5 of 6 read")).to_be_visible()
    expect(page.get_by_text("6 entries are kept in this browser", exact=False)).to_be_visible()

    own_server.start()
    expect(page.get_by_text("Kept on the server", exact=False)).to_be_visible()
    kept = stored(own_server)
    assert len(kept) == 7
    assert sorted(wheel for _, wheel, _ in kept) == ["1L", "2Li", "2Li", "2Lo", "2Ri", "2Ri", "2Ro"]
    view = other.call("GET", f"/rounds/{round_id}")[1]
    wheels = {w["code"]: w for w in view["wheels"]}
    assert wheels["2Ro"]["seen"]["leak"] == "heard"
    assert wheels["2Li"]["after"] is not None
    # Both values stand, until one is read once more or said to be right.
    assert [o["typed"] for o in wheels["2Ri"]["others"]] == ["101 psi"]
    page.get_by_role("button", name=re.compile("Rear right, inner")).last.click()
    expect(page.get_by_text("neither knowing of the other", exact=False)).to_be_visible()
    page.get_by_role("button", name="This one is right").last.click()
    expect(page.get_by_text("neither knowing of the other", exact=False)).to_have_count(0)
    view = other.call("GET", f"/rounds/{round_id}")[1]
    assert {w["code"]: w for w in view["wheels"]}["2Ri"]["before"]["typed"] == "101 psi"
    page.get_by_role("button", name=re.compile("Front right")).last.click()
    thumb(page, shows["1R"])
    expect(page.get_by_text("6 of 6 read")).to_be_visible()
    page.get_by_role("button", name="Seal the round").click()
    page.get_by_role("button", name="Sign and seal").click()
    expect(page.get_by_role("heading", name=re.compile("^Round of"))).to_be_visible()
    sealed = other.call("GET", f"/rounds/{round_id}/sealed")[1]
    assert [w["before"]["typed"] for w in sealed["wheels"] if w["code"] == "2Ri"] == ["101 psi"]
    assert sealed["open_matters"] == ["Rear right, outer: leak heard"]


def test_it_installs_and_keeps_itself(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    manifest = page.request.get(f"{server.url}/manifest.webmanifest").json()
    assert manifest["name"] == "Gentle Ballast"
    assert {i["sizes"] for i in manifest["icons"]} >= {"192x192", "512x512"}
    for icon in manifest["icons"]:
        assert page.request.get(f"{server.url}{icon['src']}").ok
    worker = page.request.get(f"{server.url}/sw.js")
    assert worker.ok
    assert "javascript" in worker.headers["content-type"]
