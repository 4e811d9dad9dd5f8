"""The interface's own parts: units, light, the plan, the keys, who sees what; and axe on every view."""

import json
import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, enter, open_rig, switch_units, watch
from tests.browser.serving import ROOT, DemoServer

AXE = (ROOT / "web/node_modules/axe-core/axe.min.js").read_text()
Pages = Callable[..., Page]
VIEWS = [
    "/", "/rigs/new", "/rigs/import", "/rigs/1", "/rigs/1/edit", "/rigs/2", "/rigs/1/weighing", "/rigs/1/weighing/what-if",
    "/rigs/1/weighing/drift", "/rigs/1/targets", "/rigs/6/targets", "/rigs/1/air", "/rigs/1/air/trip", "/rigs/1/air/warm",
    "/rigs/1/air/readings", "/rigs/1/card", "/tables/import", "/rigs/1/rounds", "/rigs/1/lookback", "/rigs/1/lookback/morning", "/rigs/1/lookback/rounds/1", "/morning", "/gauges", "/gauges/2", "/tables", "/tables/new", "/people", "/nowhere",
]  # fmt: skip


def violations(page: Page) -> list[str]:
    page.evaluate(AXE)
    found: Any = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    return [
        f"{v['id']}: {v['help']}: {json.dumps([n['html'][:160] for n in v['nodes'][:3]])}" for v in found["violations"]
    ]


@pytest.mark.parametrize("light", ["day", "dusk"])
def test_axe_finds_nothing_on_any_view(server: DemoServer, new_page: Pages, light: str) -> None:
    # The checker itself is a script from outside the page, so the policy is set aside for it.
    page = new_page(bypass_csp=True)
    page.add_init_script(f"localStorage.setItem('light', '{light}')")
    page.goto(server.url)
    expect(page.get_by_role("heading", name="Gentle Ballast")).to_be_visible()
    wrong = {"enter": violations(page)}
    enter(page, server.url)
    for view in VIEWS:
        page.goto(server.url + view)
        expect(page.locator("main h1, main h2").first).to_be_visible()
        page.wait_for_load_state("networkidle")
        wrong[view] = violations(page)
    assert {view: found for view, found in wrong.items() if found} == {}


def test_axe_finds_nothing_in_a_round_on_a_phone(server: DemoServer, new_page: Pages) -> None:
    page = new_page(bypass_csp=True, **PHONE)
    enter(page, server.url, "Technician")
    open_rig(page, "Parsec", "Round")
    page.get_by_role("button", name="Open the round").click()
    page.get_by_role("group", name="Keypad").get_by_role("button", name="3", exact=True).tap()
    expect(page.get_by_text("Stop: inspect").first).to_be_visible()
    found = violations(page)
    page.get_by_role("button", name="Abandon the round").click()
    expect(page.get_by_role("heading", name="Open a round")).to_be_visible()
    assert found == []


def test_nothing_is_fetched_from_outside_and_no_policy_is_broken(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    asked: list[str] = []
    page.on("request", lambda r: asked.append(r.url))
    enter(page, server.url)
    for view in VIEWS:
        page.goto(server.url + view)
        page.wait_for_load_state("networkidle")
    assert wrong == []
    assert [u for u in asked if not u.startswith(server.url)] == []


def test_nothing_runs_off_a_small_phone(server: DemoServer, new_page: Pages) -> None:
    page = new_page(**(PHONE | {"viewport": {"width": 360, "height": 740}}))
    enter(page, server.url)
    wide = {}
    for view in VIEWS:
        page.goto(server.url + view)
        page.wait_for_load_state("networkidle")
        wide[view] = page.evaluate("document.documentElement.scrollWidth")
    assert {view: width for view, width in wide.items() if width > 360} == {}


def test_units_switch_anywhere_without_loss(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    open_rig(page, "Almagest", "Weigh")
    page.get_by_label("Front left end").fill("3800")
    page.get_by_label("Front right end").fill("1.75 t")
    expect(page.get_by_text("heavier end right").first).to_be_visible()
    switch_units(page, "kPa · kg")
    # What was typed in pounds stays pounds, and says so; 1.75 t stays as it was.
    expect(page.get_by_label("Front left end")).to_have_value("3800 lb")
    expect(page.get_by_label("Front right end")).to_have_value("1.75 t")
    expect(page.get_by_text("1,750").first).to_be_visible()
    switch_units(page, "psi · lb")
    expect(page.get_by_label("Front left end")).to_have_value("3800")
    expect(page.get_by_text("3,858").first).to_be_visible()


def test_the_light_is_remembered(server: DemoServer, new_page: Pages) -> None:
    page = new_page(color_scheme="light")
    enter(page, server.url)
    page.get_by_role("button", name="Fleet maintainer").click()
    page.get_by_role("menuitem", name=re.compile("Dusk")).click()
    assert page.evaluate("document.documentElement.dataset.light") == "dusk"
    page.reload()
    assert page.evaluate("document.documentElement.dataset.light") == "dusk"
    assert page.evaluate("getComputedStyle(document.documentElement).backgroundColor") == "rgb(14, 25, 26)"


def test_arrow_keys_move_over_the_plan_as_the_eye_expects(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    open_rig(page, "Almagest")
    plan = page.get_by_role("group", name="Wheels of Almagest")
    plan.get_by_role("button", name=re.compile("^Front left")).focus()
    for key, name in (
        ("ArrowDown", "Rear left, (outer|inner)"), ("ArrowUp", "Front left"), ("ArrowRight", "Front right"),
        ("ArrowDown", "Rear right"), ("ArrowDown", "Spare"),
    ):  # fmt: skip
        page.keyboard.press(key)
        expect(page.locator(":focus")).to_have_accessible_name(re.compile(f"^{name}"))


def test_the_keys_are_listed_and_alt_goes_to_a_stage(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Move over the wheels")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    open_rig(page, "Almagest")
    for number, stage in enumerate(("", "/weighing", "/targets", "/air", "/rounds", "/lookback"), 1):
        page.keyboard.press(f"Alt+{number}")
        page.wait_for_url(re.compile(rf"/rigs/1{stage}$"))


def test_typing_finds_a_rig(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    page.get_by_label("Filter the rigs").fill("motor")
    expect(page.get_by_role("link", name=re.compile("Parsec"))).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("CF-01 Almagest"))).to_have_count(0)
    page.get_by_label("Filter the rigs").fill("submarine")
    expect(page.get_by_text("No rig fits “submarine”")).to_be_visible()
    page.get_by_role("button", name="Show all").click()
    expect(page.get_by_role("link", name=re.compile("CF-01 Almagest"))).to_be_visible()


def test_a_viewer_looks_and_is_offered_nothing_to_change(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Auditor")
    expect(page.get_by_role("link", name="Add a rig")).to_have_count(0)
    open_rig(page, "Almagest", "Target")
    expect(page.get_by_role("button", name=re.compile("force"))).to_have_count(0)
    page.keyboard.press("Alt+5")
    expect(page.get_by_text("You may look, not do rounds.")).to_be_visible()
    page.keyboard.press("Alt+2")
    expect(page.get_by_text("You may look, not weigh.")).to_be_visible()
    # An auditor of the demo reads metric units.
    expect(page.get_by_text("1,705").first).to_be_visible()


def test_a_rig_of_another_workspace_is_not_there(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "RV owner")
    page.goto(f"{server.url}/rigs/1")
    expect(page.get_by_role("heading", name="There is no such page")).to_be_visible()


def test_a_pasted_table_is_spread_over_the_grid(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    page.goto(f"{server.url}/tables/new")
    page.get_by_label("Size").fill("245/70R19.5 135/133M")
    page.get_by_label("Source").fill("Printed sheet")
    page.get_by_role("button", name="Pressures in").click()
    page.get_by_role("option", name="kPa").click()
    page.get_by_role("button", name="Loads in").click()
    page.get_by_role("option", name="kg").click()
    block = "450\t1510\t1425\n485\t1590\t1505\n520\t1670\t1580\n550\t1470\t1645\n585\t1815\t1715\n620\t1890\t1785"
    page.get_by_label("Cold pressure, column 1").evaluate(
        """(cell, text) => {
          const clipboardData = new DataTransfer()
          clipboardData.setData('text', text)
          cell.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }))
        }""",
        block,
    )
    expect(page.get_by_label("Load, dual, column 6")).to_have_value("1785")
    # 1470 was swapped for 1740: it does not rise, and its cell says so.
    expect(page.get_by_text("Load, single, column 4: 1470 kg does not rise from 1670")).to_be_visible()
    page.get_by_label("Load, single, column 4").fill("1695")
    expect(page.get_by_text(re.compile("Its neighbors suggest about 3,8"))).to_be_visible()
    page.get_by_label("Load, single, column 4").fill("1740")
    expect(page.get_by_text("Understood: 245/70R19.5, 6 columns")).to_be_visible()
