"""The tires and the combination of a rig, by hand; and the scale that is connected."""

import json
import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.conftest import enter, watch
from tests.browser.serving import DemoServer, Visitor

Pages = Callable[..., Page]


def test_a_tire_is_taken_off_put_back_and_another_fitted(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, server.url, "Technician")
    page.goto(f"{server.url}/rigs/10")
    page.get_by_role("button", name=re.compile("^Rear left, outer")).click()
    tires = page.get_by_role("region", name="Tires")
    expect(tires.get_by_role("heading", name=re.compile("Rear left, outer"))).to_be_visible()
    tires.get_by_role("button", name="To the store").click()
    expect(tires.get_by_text("the tire is in the store")).to_be_visible()
    expect(tires.get_by_text("No tire is entered here")).to_be_visible()
    tires.get_by_role("button", name="Put it back").click()
    expect(tires.get_by_text("No tire is entered here")).to_have_count(0)
    tires.get_by_role("button", name="Fit another").click()
    tires.get_by_label("Date code").fill("5424")
    expect(tires.get_by_text("There is no week 54")).to_be_visible()
    tires.get_by_label("Date code").fill("0226")
    expect(tires.get_by_text("years old").last).to_be_visible()
    tires.get_by_label("Tread now").fill("12/32 in")
    tires.get_by_role("button", name="Fit it").click()
    expect(tires.get_by_text("12/32 in tread")).to_be_visible()
    tires.get_by_role("link", name="Its wear, and where it has been").click()
    expect(page.get_by_text("Old Parallax 2Lo")).to_be_visible()
    assert wrong == []


def test_a_wheel_that_was_off_asks_for_torque_until_it_is_done(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Technician")
    page.goto(f"{server.url}/rigs/5")
    expect(page.get_by_text("A wheel was off at")).to_be_visible()
    page.get_by_label("Torqued at odometer").fill("102000 km")
    page.get_by_role("button", name="Done", exact=True).click()
    expect(page.get_by_text("A wheel was off at")).to_have_count(0)


def test_hitched_by_menu_and_by_drag_with_undo(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Technician")
    page.goto(f"{server.url}/rigs/6")
    together = page.get_by_role("region", name="Combination")
    together.get_by_role("button", name="Unhitch").click()
    expect(together.get_by_text("Penumbra is unhitched.")).to_be_visible()
    together.get_by_role("button", name="Undo").click()
    expect(together.get_by_role("button", name="Unhitch")).to_be_visible()
    together.get_by_role("button", name="Unhitch").click()
    # The drawing of both is gone: nothing moves under the pointer any more.
    drawn = together.get_by_role("group", name="Umbra and Penumbra, to scale")
    expect(drawn).to_have_count(0)
    loose = together.get_by_role("listitem").filter(has_text=re.compile("^CF-07 Penumbra$"))
    loose.drag_to(together.get_by_text("CF-06 Umbra"))
    expect(together.get_by_role("link", name="CF-07 Penumbra")).to_be_visible()
    expect(drawn).to_be_visible()


def test_a_copy_starts_from_the_rig_and_takes_a_name_of_its_own(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    page.goto(f"{server.url}/rigs/8")
    page.get_by_role("link", name="Copy").click()
    expect(page.get_by_role("heading", name="A rig like Analemma")).to_be_visible()
    expect(page.get_by_label("Name", exact=True)).to_have_value("")
    expect(page.get_by_role("slider")).to_have_count(3)
    page.get_by_label("Name", exact=True).fill("Analemma's sister")
    page.get_by_role("button", name="Axle 3, read").click()
    # The marking is read back: nothing moves under the pointer any more.
    expect(page.get_by_text(re.compile("^heavy, radial"))).to_be_visible()
    page.get_by_role("button", name="Add it, then weigh").click()
    expect(page.get_by_role("heading", name="What each tire carries")).to_be_visible()
    expect(page.get_by_label("Axle 3 whole axle")).to_be_visible()
    expect(page.get_by_text("It was up")).to_be_visible()


def test_the_connected_scale_is_read_pass_by_pass(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Technician")
    page.goto(f"{server.url}/rigs/5/weighing")
    page.get_by_role("button", name="How it is weighed").click()
    page.get_by_role("option", name=re.compile("Platform, then left")).click()
    page.get_by_role("button", name="A ticket from a file").click()
    page.get_by_role("button", name=re.compile("^Connected scale")).click()
    page.get_by_role("option", name="Simulated platform scale").click()
    expect(page.get_by_label("Scale", exact=True)).to_have_value("Simulated platform scale")
    for _ in range(4):
        page.get_by_role("button", name="Read", exact=True).nth(_).click()
        page.wait_for_timeout(200)
    # Weighed at 3,220 kg, 7,099 lb; the platform shows steps of 20 kg.
    expect(page.get_by_text("Still unknown")).to_have_count(0)
    expect(page.get_by_text("each tire").first).to_be_visible()
    page.get_by_role("button", name="Play what goes wrong").click()
    page.get_by_role("option", name="Approach not level").click()
    page.get_by_role("button", name="Read", exact=True).first.click()
    expect(page.get_by_text("Not steady: The rig leans")).to_be_visible()


def test_a_ticket_from_a_file_and_one_that_breaks_off(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Technician")
    page.goto(f"{server.url}/rigs/10/weighing")
    page.get_by_role("button", name="A ticket from a file").click()
    ticket = json.dumps(
        {
            "format": "gentle-ballast/scale-ticket", "version": 1, "scale": "Depot pads", "resolution": "10 kg",
            "weighed_on": "2026-11-02", "way": "pads",
            "passes": [{"words": f"{s}", "on": [s], "apart": 0, "weight": w} for s, w in
                       (("0:1L", "1900 kg"), ("0:1R", "1910 kg"), ("0:2L", "3500 kg"), ("0:2R", "3490 kg"))],
        }
    ).encode()  # fmt: skip
    field = page.get_by_label("Scale ticket, JSON or CSV")
    field.set_input_files({"name": "t.json", "mimeType": "application/json", "buffer": ticket[:-30]})
    expect(page.get_by_text("The ticket breaks off in line 1")).to_be_visible()
    field.set_input_files({"name": "big.json", "mimeType": "application/json", "buffer": b" " * 800_000})
    expect(page.get_by_text("800,000 bytes, the most is 700,000")).to_be_visible()
    field.set_input_files({"name": "t.json", "mimeType": "application/json", "buffer": ticket})
    expect(page.get_by_text("Passes as the ticket has them.")).to_be_visible()
    expect(page.get_by_label("Scale", exact=True)).to_have_value("Depot pads")
    # 3,500 kg on two tires: 1,750 kg, 3,858 lb.
    expect(page.get_by_text("3,858 lb each tire")).to_be_visible()


def test_an_auditor_is_offered_nothing_to_change(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Auditor")
    page.goto(f"{server.url}/rigs/6")
    expect(page.get_by_role("region", name="Combination")).to_be_visible()
    for name in ("Unhitch", "Hitch", "Copy", "Rotate"):
        expect(page.get_by_role("button", name=name, exact=True)).to_have_count(0)
    page.goto(f"{server.url}/rigs/6/weighing/what-if")
    expect(page.get_by_role("button", name="Put something aboard")).to_be_visible()
    expect(page.get_by_role("button", name="Keep it")).to_have_count(0)
    page.goto(f"{server.url}/rigs/import")
    expect(page.get_by_role("heading", name="You may look, not add rigs")).to_be_visible()


def test_the_yard_is_filtered_by_its_lines_and_found_again(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, own_server.url, "Fleet maintainer")
    only = page.get_by_role("group", name="Only rigs with")
    rows = page.get_by_role("main").get_by_role("listitem")
    expect(rows).to_have_count(10)
    told = {line["key"]: line for line in Visitor(own_server, "fleet-maintainer").call("GET", "/yard")[1]["lines"]}
    expect(only.get_by_role("button", name=f"Leak {told['leak']['rigs']}")).to_be_visible()
    only.get_by_role("button", name="Leak").click()
    expect(rows).to_have_count(told["leak"]["rigs"])
    expect(only.get_by_role("status")).to_have_text(re.compile(f"^{told['leak']['rigs']} fit"))
    page.get_by_label("Filter the rigs").fill("almagest")
    expect(rows).to_have_count(1)
    # It is all in the address: a reload and the way back find it again.
    expect(page).to_have_url(re.compile("find=almagest&lines=leak$"))
    page.reload()
    expect(rows).to_have_count(1)
    rows.first.get_by_role("link").click()
    expect(page.get_by_role("heading", name="Almagest").first).to_be_visible()
    page.go_back()
    expect(rows).to_have_count(1)
    expect(page.get_by_label("Filter the rigs")).to_have_value("almagest")
    # An address that says what there is not is told, with the way out of it.
    page.goto(f"{own_server.url}/?lines=nonsense")
    page.get_by_role("alert").get_by_role("button", name="Show all").click()
    expect(rows).to_have_count(10)
    page.get_by_label("Filter the rigs").fill("nothing of the kind")
    expect(page.get_by_text("No rig fits “nothing of the kind”.")).to_be_visible()
    page.get_by_role("button", name="Show all").click()
    expect(rows).to_have_count(10)
    # Densely, twelve would have room; what was chosen stays.
    page.get_by_role("button", name="dense").click()
    expect(rows.first).to_have_css("height", re.compile("^4[0-9]"))
    page.reload()
    expect(page.get_by_role("button", name="dense")).to_have_attribute("aria-pressed", "true")
    assert wrong == []
