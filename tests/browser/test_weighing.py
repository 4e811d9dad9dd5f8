"""A trailer described from nothing, hitched, and weighed with the guide by keyboard; what-if by keys and by drag."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, Keyboard, enter, switch_units, watch
from tests.browser.serving import DemoServer

Pages = Callable[..., Page]


def describe_a_coach(keys: Keyboard, page: Page) -> None:
    keys.to("Add a rig")
    keys.press("Enter")
    keys.fill("Name", "Orrery")
    keys.place("Door label")
    keys.fill("GVWR", "12000 kg")
    keys.fill("GCWR", "16000 kg")
    keys.fill("Hitch limit", "400 kg")
    keys.fill("GAWR", "4300 kg")
    keys.press("Tab")
    keys.fill("GAWR", "7700 kg")
    keys.place("Front axle")
    keys.fill("Size on the sidewall", "245/70R19.5 135/133M H")
    keys.fill("Sidewall maximum, cold", "760 kPa")
    keys.to("Same tires all round")
    keys.press("Enter")
    keys.place("Tape measure")
    keys.fill("Track", "2.05 m")
    keys.fill("Behind the first axle", "6 m")
    keys.fill("Track", "1.85 m")
    keys.fill("Hitch behind axle 1", "8 m")
    keys.to("Add it, then weigh")
    keys.press("Enter")
    expect(page.get_by_role("heading", name="What each tire carries")).to_be_visible()


def describe_a_tandem_trailer(keys: Keyboard, page: Page) -> None:
    page.goto(page.url.split("/rigs/")[0])
    keys.to("Add a rig")
    keys.press("Enter")
    keys.fill("Name", "Gnomon")
    keys.pick("Coach$", "Utility")
    # On the plan itself: a second axle, moved up to the first with the arrow keys, half a meter at a time.
    keys.to("Axle on the plan")
    keys.press("a")
    keys.to("Rear axle on the plan")
    for _ in range(8):
        keys.press("ArrowLeft")
    keys.place("Label")
    keys.fill("GVWR", "3500 kg")
    keys.fill("Coupling or pin limit", "350 kg")
    keys.fill("GAWR", "1800 kg")
    keys.press("Tab")
    keys.fill("GAWR", "1800 kg")
    keys.place("Front axle")
    keys.fill("Size on the sidewall", "ST235/80R16 124/120M E")
    keys.fill("Sidewall maximum, cold", "550 kPa")
    keys.to("Same tires all round")
    keys.press("Enter")
    expect(page.get_by_text("tandem").first).to_be_visible()
    keys.place("Tape measure")
    keys.fill("Track", "2 m")
    expect(page.get_by_label("Behind the first axle")).to_have_value(re.compile(r"^\d+(\.\d)?$"))
    keys.press("Tab")
    keys.fill("Track", "2 m")
    keys.fill("Coupling ahead of axle 1", "4.2 m")
    keys.to("Add it, then weigh")
    keys.press("Enter")
    expect(page.get_by_role("heading", name="What each tire carries")).to_be_visible()


def hitch_it(keys: Keyboard, page: Page) -> None:
    keys.press("Alt+1")
    expect(page.get_by_role("heading", name="Gnomon").first).to_be_visible()
    keys.choose("Hitch it behind", "Orrery")
    keys.to("Hitch$")
    keys.press("Enter")
    expect(page.get_by_text("Hitched behind Orrery.")).to_be_visible()
    keys.to("Orrery$")
    keys.press("Enter")
    expect(page.get_by_role("heading", name="Orrery").first).to_be_visible()


def weigh_with_the_guide(keys: Keyboard, page: Page) -> None:
    keys.press("Alt+2")
    expect(page.get_by_role("heading", name="What each tire carries")).to_be_visible()
    keys.fill("Load state", "trip-ready")
    keys.fill("Scale$", "Quarry platform")
    keys.fill("Scale's step", "10 kg")
    keys.choose("How it is weighed", "Platform scale")
    keys.to("With")
    keys.press("Space")
    expect(page.get_by_text("Roll on until the rear axle of Gnomon is on too")).to_be_visible()
    keys.to("Pass 1$")
    # Coupled 3,280 | 10,010 | 11,650 | 13,270, the coach alone 9,800, the trailer alone 3,480.
    for kg in (3280, 10_010, 11_650, 13_270, 9800):
        keys.type(f"{kg} kg")
        keys.press("Enter")
    expect(page.get_by_text("Gross, with its load on the hitch")).to_be_visible()
    keys.type("3480 kg")
    # 13,270 kg is 29,255 lb; 210 kg on the hitch 463 lb; 1,640 + 1,620 + 210 = 3,470 kg is 7,650 lb.
    expect(page.get_by_text("29,255 lb")).to_be_visible()
    expect(page.get_by_text("463 lb").first).to_be_visible()
    expect(page.get_by_text("7,650")).to_be_visible()
    expect(page.get_by_text("Readings that repeat each other agree within")).to_be_visible()
    keys.to("Save the weighing")
    keys.press("Enter")
    expect(page.get_by_role("cell", name=re.compile("Quarry platform.*cumulative passes, Gnomon"))).to_be_visible()


def test_a_trailer_from_nothing_weighed_hitched_and_alone_by_keyboard(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, server.url)
    keys = Keyboard(page)
    describe_a_coach(keys, page)
    describe_a_tandem_trailer(keys, page)
    hitch_it(keys, page)
    weigh_with_the_guide(keys, page)
    assert wrong == []


def what_if(page: Page, server: DemoServer) -> None:
    page.goto(f"{server.url}/rigs/1/weighing/what-if")
    page.get_by_role("button", name="Put something aboard").click()
    page.get_by_label("Weighs").fill("305 kg")


def test_what_if_by_keys_and_by_drag(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, server.url)
    switch_units(page, "kPa · kg")
    what_if(page, server)
    page.get_by_role("textbox", name="Behind axle 1").fill("2 m")
    # 305 kg at 2 of 6.1 m: 100 on the rear, 205 on the front, of 3,390 and 6,570.
    expect(page.get_by_role("row", name=re.compile("^Front.*3,595 kg.*205 kg"))).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("^Rear.*6,670 kg.*100 kg"))).to_be_visible()
    # By keys: a meter back at a time, over the rear axle.
    mass = page.get_by_role("button", name=re.compile("Arrow keys move it"))
    mass.focus()
    for _ in range(4):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("row", name=re.compile("^Rear.*6,875 kg.*305 kg"))).to_be_visible()
    expect(page.get_by_text("0 kg").first).to_be_visible()
    # By drag: into the trailer, and its axles answer.
    box, drawing = mass.bounding_box(), page.get_by_role("group", name="Where things ride").bounding_box()
    assert box is not None
    assert drawing is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(drawing["x"] + drawing["width"] * 0.86, drawing["y"] + drawing["height"] / 2, steps=6)
    page.mouse.up()
    expect(page.get_by_role("heading", name=re.compile("axle 1 of Perigee"))).to_be_visible()
    page.get_by_label("Keep as load state").fill("trial")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("button", name="trial, worked out")).to_be_visible()
    switch_units(page, "psi · lb")
    assert wrong == []


def test_the_guide_and_the_what_if_fit_a_phone(server: DemoServer, new_page: Pages) -> None:
    page = new_page(**{**PHONE, "viewport": {"width": 360, "height": 740}})
    enter(page, server.url)
    page.goto(f"{server.url}/rigs/1/weighing")
    page.get_by_role("button", name="How it is weighed").tap()
    page.get_by_role("option", name=re.compile("Platform, then left")).tap()
    page.get_by_label("With Perigee").check()
    page.get_by_label("Pass 10", exact=True).fill("3470 kg")
    wide = "document.documentElement.scrollWidth"
    assert page.evaluate(wide) <= 360
    what_if(page, server)
    expect(page.get_by_text("may still go there")).to_be_visible()
    assert page.evaluate(wide) <= 360
    for path in ("/rigs/1", "/rigs/1/weighing/drift", "/rigs/import", "/rigs/1/edit"):
        page.goto(server.url + path)
        page.wait_for_load_state("networkidle")
        assert page.evaluate(wide) <= 360, path


def test_an_axle_is_dragged_made_dual_and_taken_off_on_the_plan(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    page.goto(f"{server.url}/rigs/new")
    rear = page.get_by_role("slider", name="Rear axle on the plan")
    before = float(rear.get_attribute("aria-valuenow") or 0)
    box = rear.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 - 120, box["y"] + box["height"] / 2, steps=5)
    page.mouse.up()
    assert float(rear.get_attribute("aria-valuenow") or 0) < before - 0.5
    rear.press("d")
    expect(rear).to_have_attribute("aria-valuetext", re.compile("single"))
    rear.press("Enter")
    page.get_by_role("button", name="Another axle like it behind").click()
    expect(page.get_by_role("slider")).to_have_count(3)
    page.get_by_role("button", name="Take this axle off").click()
    expect(page.get_by_role("slider")).to_have_count(2)
    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_role("slider")).to_have_count(3)


def test_a_fleet_file_is_looked_at_before_it_is_saved(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    page.goto(f"{server.url}/rigs/import")
    bad = b"row,rig,kind,name\nrig,Z-1,van,Zenith\naxle,Z-1\n"
    page.get_by_label("The file").set_input_files({"name": "fleet.csv", "mimeType": "text/csv", "buffer": bad})
    expect(page.get_by_text("row is refused")).to_be_visible()
    expect(page.get_by_role("button", name="Import them")).to_be_disabled()
    good = b"row,rig,kind,name,position_m,track_m,tire_size\nrig,Z-1,van,Zenith\naxle,Z-1,,,0,1.7,225/75R16C 121/120R\n"
    page.get_by_label("The file").set_input_files({"name": "fleet.csv", "mimeType": "text/csv", "buffer": good})
    expect(page.get_by_text("1 rig and 0 tires")).to_be_visible()
    page.get_by_role("button", name="Import them").click()
    expect(page.get_by_role("link", name=re.compile("Zenith"))).to_be_visible()
