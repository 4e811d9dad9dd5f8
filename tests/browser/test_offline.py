"""The round without a network, on a phone: nothing lost, nothing twice, both values of a conflict shown."""

import re
from collections.abc import Callable
from pathlib import Path
from uuid import uuid4

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, enter
from tests.browser.serving import DemoServer, Visitor
from tests.browser.test_resilience import stored

pytestmark = pytest.mark.kept

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


def test_a_picture_that_was_taken_without_a_network_waits_and_is_there_later(
    own_server: DemoServer, new_page: Pages, tmp_path: Path
) -> None:
    label = tmp_path / "label.png"
    Image.linear_gradient("L").resize((2400, 1200)).save(label)
    page = new_page(**PHONE)
    enter(page, own_server.url, "Technician")
    page.goto(f"{own_server.url}/rigs/1")
    take = page.get_by_label("Picture of the label")
    expect(take).to_be_attached()
    page.wait_for_function("navigator.serviceWorker.ready.then(() => true)")
    page.wait_for_timeout(1500)
    own_server.kill()
    take.set_input_files(label)
    expect(page.get_by_text("Not on the server yet", exact=True)).to_be_visible()
    # What the browser cannot read is refused in words, and nothing of it waits.
    take.set_input_files({"name": "IMG_1.HEIC", "mimeType": "image/heic", "buffer": b"ftypheic" * 40})
    expect(page.get_by_text("IMG_1.HEIC: This browser cannot read that file as a picture.")).to_be_visible()
    page.reload()
    own_server.start()
    other = Visitor(own_server, "fleet-maintainer")
    for _ in range(60):
        pictures = other.call("GET", "/rigs/1/pictures")[1]["pictures"]
        if pictures:
            break
        page.wait_for_timeout(500)
    # 2,400 × 1,200 at most 1,600 wide.
    assert [(p["what"], p["width"], p["height"]) for p in pictures] == [("label", 1600, 800)]
    # It may have arrived while nobody waited for its answer any more: then it is sent again, and is there once.
    expect(page.get_by_role("link", name=re.compile("^Label, .*: open it large"))).to_be_visible(timeout=90_000)


def test_from_its_icon_without_a_network_the_yard_stands_as_last_kept(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page(**PHONE)
    context = page.context
    enter(page, own_server.url, "Technician")
    page.wait_for_function(
        "navigator.serviceWorker.controller !== null || navigator.serviceWorker.ready.then(() => true)"
    )
    # A round is open on this phone, and one of its entries is not sent.
    rig = next(
        r for r in Visitor(own_server, "technician").call("GET", "/yard")[1]["rigs"] if r["fleet_number"] == "CF-10"
    )
    page.goto(f"{own_server.url}/rigs/{rig['id']}/rounds")
    page.get_by_role("button", name="Open the round").click()
    at(page, "Front left")
    page.goto(own_server.url)
    # The cards are taken along, one after the other.
    with page.expect_response(lambda r: r.url.endswith("/card") and r.ok):
        pass
    page.wait_for_timeout(2500)
    page.goto(f"{own_server.url}/rigs/{rig['id']}/rounds")
    at(page, "Front left")
    own_server.kill()
    thumb(page, "95")
    expect(page.get_by_text("1 entry is kept in this browser", exact=False)).to_be_visible()
    page.close()

    page = context.new_page()
    page.goto(own_server.url)
    expect(page.get_by_text(re.compile("^The server does not answer. This is the Yard as of"))).to_be_visible()
    rows = page.get_by_role("listitem").filter(has=page.get_by_role("link", name=re.compile("tires")))
    expect(rows.first).to_contain_text("Old Parallax")
    expect(rows.first).to_contain_text("1 entry not sent")
    # Nobody opened this one here: it says so, and its card is there all the same.
    other = rows.filter(has_text="Umbra").first
    expect(other).to_contain_text("not kept in this browser: needs a network")
    other.get_by_role("link", name="Pressure card").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Umbra")
    expect(page.get_by_text(re.compile("^The server does not answer. This card is as of"))).to_be_visible()
    expect(page.get_by_role("link", name="PDF, A5")).to_have_count(0)
    page.go_back()
    rows.first.get_by_role("link").first.click()
    expect(page.get_by_text("1 of 6 read")).to_be_visible()
