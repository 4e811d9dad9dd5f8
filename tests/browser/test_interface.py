"""The interface's own parts: units, light, the plan, the keys, who sees what; and axe on every view."""

import json
import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, enter, open_rig, switch_units, watch
from tests.browser.serving import ROOT, DemoServer, Visitor

AXE = (ROOT / "web/node_modules/axe-core/axe.min.js").read_text()
Pages = Callable[..., Page]
VIEWS = [
    "/", "/units", "/rigs/new", "/rigs/import", "/rigs/1", "/rigs/1/edit", "/rigs/2", "/rigs/1/weighing", "/rigs/1/weighing/what-if",
    "/rigs/1/weighing/drift", "/rigs/1/targets", "/rigs/6/targets", "/rigs/1/air", "/rigs/1/air/trip", "/rigs/1/air/warm",
    "/rigs/1/air/readings", "/rigs/1/card", "/tables/import", "/rigs/1/rounds", "/rigs/1/lookback", "/rigs/1/lookback/morning", "/rigs/1/lookback/rounds/1", "/morning", "/gauges", "/gauges/2", "/tables", "/tables/new", "/people", "/nowhere",
    "/rigs/6/ground", "/rigs/6/ground/kit", "/rigs/8/ground", "/surfaces", "/rigs/6/targets/chalk", "/rigs/1/targets/chalk",
    "/rigs/5/targets/wear", "/rigs/9/targets/wear", "/tires", "/tires/1",
    "/rigs/5/targets/sensors", "/rigs/5/targets/drive", "/rigs/5/targets/lamp", "/practice", "/day", "/day?whose=all", "/schedule", "/checks", "/report", "/you",
]  # fmt: skip


# What hangs on colors alone: all else is the same page in another light.
COLORS = "runOnly: ['color-contrast', 'link-in-text-block']"
ALL = "rules: {'target-size': {enabled: true}}"


def violations(page: Page, asked: str = ALL) -> list[str]:
    page.evaluate(AXE)
    found: Any = page.evaluate(f"axe.run(document, {{resultTypes: ['violations'], {asked}}})")
    return [
        f"{v['id']}: {v['help']}: {json.dumps([n['html'][:160] for n in v['nodes'][:3]])}" for v in found["violations"]
    ]


def in_every_light(page: Page) -> list[str]:
    """What is wrong by day, and with the colors of dusk and of a high-contrast screen."""
    found = violations(page)
    page.evaluate("document.documentElement.dataset.light = 'dusk'")
    found += [f"dusk: {v}" for v in violations(page, COLORS)]
    page.evaluate("document.documentElement.dataset.light = 'day'")
    page.emulate_media(forced_colors="active")
    found += [f"high contrast: {v}" for v in violations(page, COLORS)]
    page.emulate_media(forced_colors="none")
    return found


@pytest.mark.parametrize("screen", [{}, PHONE])
def test_axe_finds_nothing_on_any_view(server: DemoServer, new_page: Pages, screen: dict[str, Any]) -> None:
    # The checker itself is a script from outside the page, so the policy is set aside for it.
    page = new_page(bypass_csp=True, **screen)
    page.add_init_script("localStorage.setItem('light', 'day')")
    page.goto(server.url)
    expect(page.get_by_role("heading", name="Gentle Ballast")).to_be_visible()
    wrong = {"enter": in_every_light(page)}
    enter(page, server.url)
    for view in VIEWS:
        page.goto(server.url + view)
        expect(page.locator("main h1, main h2").first).to_be_visible()
        page.wait_for_load_state("networkidle")
        wrong[view] = in_every_light(page)
    assert {view: found for view, found in wrong.items() if found} == {}


SHEET = re.compile(r"/api/v1/yard/1$")


def awaited(page: Page) -> list[Any]:
    """Goes to a rig whose answer is held back."""
    held: list[Any] = []
    page.route(SHEET, lambda route: held.append(route))
    with page.expect_request(SHEET):
        page.get_by_role("link", name=re.compile("CF-01 Almagest")).first.click()
    expect(page.get_by_text("Fetching the rig")).to_be_visible()
    return held


def test_axe_finds_nothing_while_a_rig_is_fetched_nor_where_it_cannot_be(server: DemoServer, new_page: Pages) -> None:
    page = new_page(bypass_csp=True)
    enter(page, server.url)
    held = awaited(page)
    assert violations(page) == []
    page.route(SHEET, lambda route: route.fulfill(status=400, json={"message": "Not today."}))
    held[0].fulfill(status=400, json={"message": "Not today."})
    expect(page.get_by_role("main").get_by_role("alert")).to_contain_text("Not today.")
    assert violations(page) == []
    page.unroute(SHEET)
    page.get_by_role("main").get_by_role("button", name="Try again").click()
    expect(page.get_by_role("complementary", name="Rig plan")).to_be_visible()


def test_the_focus_waits_for_the_heading_of_a_rig_that_comes_late(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    held = awaited(page)
    # Longer than it takes to put the focus on a heading that is there.
    page.wait_for_timeout(300)
    held[0].continue_()
    expect(page.get_by_role("heading", name="CF-01 Almagest", level=1)).to_be_focused()


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


# What opens on a view by a press, one after the other: forms, panels, dialogs, menus.
OPENERS = {
    "/rigs/1": ["Odometer at", "Lay it up|Change until when", "Who changed what"],
    "/rigs/1/air": ["Change the air", "More about the air"],
    "/rigs/1/targets": [
        "Working", "What each school says", "A pressure of my own", "Keep it as a range", "Chalk results", "Earlier targets",
    ],
    "/rigs/5/targets/wear": ["1L", "Take this one", "The same as a table"],
    "/rigs/1/weighing": ["As on a ticket", "Another", "Ready to roll", "A ticket from a file"],
    "/rigs/1/rounds": ["Enter the air by hand", "Walking order", "Enter a filled sheet"],
    "/rigs/1/lookback/rounds/1": ["Put something right"],
    "/gauges": ["Add a gauge", "Add an inflator"],
    "/gauges/2": ["Compare with a master", "Change its particulars"],
    "/people": ["Add a person", "Take off"],
    "/day?whose=all": ["Another crew"],
    "/rigs/9": ["Take it out of service", "Give its round"],
}  # fmt: skip


@pytest.mark.parametrize("screen", [{}, PHONE])
def test_axe_finds_nothing_in_what_opens(server: DemoServer, new_page: Pages, screen: dict[str, Any]) -> None:
    page = new_page(bypass_csp=True, **screen)
    page.add_init_script("localStorage.setItem('light', 'day')")
    enter(page, server.url)
    wrong = {}
    for view, names in OPENERS.items():
        page.goto(server.url + view)
        page.wait_for_load_state("networkidle")
        for name in names:
            page.locator("main button, main summary").filter(has_text=re.compile(f"^\\s*({name})")).first.click()
            wrong[f"{view}: {name}"] = in_every_light(page)
            if page.get_by_role("listbox").count():
                # What it lies over is not to be judged in the next state.
                page.keyboard.press("Escape")
    page.goto(f"{server.url}/")
    page.keyboard.press("?")
    expect(page.get_by_role("heading", name="Keys")).to_be_visible()
    wrong["keys"] = in_every_light(page)
    page.keyboard.press("Escape")
    page.get_by_role("button", name=re.compile("^(Fleet maintainer|Menu)")).click()
    expect(page.get_by_role("menu")).to_be_visible()
    wrong["menu"] = in_every_light(page)
    page.keyboard.press("Escape")
    page.get_by_label("Find a rig").fill("a")
    expect(page.get_by_role("option").first).to_be_visible()
    wrong["finder"] = in_every_light(page)
    assert {state: found for state, found in wrong.items() if found} == {}


def contrast(one: str, other: str) -> float:
    """WCAG 2.2: of two colors as #rrggbb.

    >>> round(contrast("#767676", "#ffffff"), 2)
    4.54
    """

    def luminance(color: str) -> float:
        parts = [int(color[at : at + 2], 16) / 255 for at in (1, 3, 5)]
        red, green, blue = (p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
        return 0.2126 * red + 0.7152 * green + 0.0722 * blue

    low, high = sorted((luminance(one), luminance(other)))
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize(
    ("light", "grounds"), [("day", ("ground", "paper", "tealwash", "rustwash")), ("dusk", ("ground", "paper"))]
)
def test_readings_and_verdicts_stand_at_seven_to_one(
    server: DemoServer, new_page: Pages, light: str, grounds: tuple[str, ...]
) -> None:
    assert contrast("#000000", "#ffffff") == pytest.approx(21)
    page = new_page()
    page.add_init_script(f"localStorage.setItem('light', '{light}')")
    page.goto(server.url)
    token = """name => {
      const at = document.body.appendChild(document.createElement('i'))
      at.style.color = `var(--${name})`
      const parts = getComputedStyle(at).color.match(/\\d+/g).slice(0, 3)
      at.remove()
      return '#' + parts.map((part) => Number(part).toString(16).padStart(2, '0')).join('')
    }"""
    for ground in grounds:
        under = page.evaluate(token, ground)
        for color in ("ink", "green", "rust", "plum"):
            assert contrast(page.evaluate(token, color), under) >= 7, (color, ground)
        for color in ("soft", "teal"):
            assert contrast(page.evaluate(token, color), under) >= 4.5, (color, ground)


def test_forced_colors_tell_the_stage_and_what_asks(server: DemoServer, new_page: Pages) -> None:
    page = new_page(forced_colors="active")
    enter(page, server.url)
    open_rig(page, "Almagest", "Air")
    border = "e => getComputedStyle(e).borderBottomColor"
    stages = page.get_by_role("navigation", name="Stages").get_by_role("link")
    lines = {s.get_attribute("aria-current"): s.evaluate(border) for s in stages.all()}
    assert set(lines) == {"page", None}
    assert lines["page"] != lines[None]
    ground = page.evaluate("getComputedStyle(document.body).backgroundColor")
    marks = stages.locator("[aria-hidden=true]")
    assert marks.count() > 0
    assert all(m.evaluate("e => getComputedStyle(e).backgroundColor") != ground for m in marks.all())


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


@pytest.mark.parametrize("wide", [718, 740])
def test_paper_carries_no_navigation_and_cuts_no_column(server: DemoServer, new_page: Pages, wide: int) -> None:
    """The text of an A4 sheet is 190 mm wide, 718 px; of a Letter sheet 740. Dusk prints in the day's colors."""
    page = new_page(viewport={"width": wide, "height": 1000})
    page.add_init_script("localStorage.setItem('light', 'dusk')")
    enter(page, server.url)
    page.emulate_media(media="print")
    wrong = {}
    for view in VIEWS:
        page.goto(server.url + view)
        page.wait_for_load_state("networkidle")
        found = page.evaluate("""() => {
          const seen = (e) => e.getBoundingClientRect().height > 0
          const keys = [...document.querySelectorAll('nav, .button, button.link')].filter(seen)
          const cut = [...document.querySelectorAll('table')].filter(
            (t) => seen(t) && t.getBoundingClientRect().right > innerWidth + 1)
          return [...keys, ...cut].map((e) => e.outerHTML.slice(0, 100))
        }""")
        # The grid in which a table is typed is no page for paper.
        wrong[view] = [] if view == "/tables/new" else found
    assert {view: found for view, found in wrong.items() if found} == {}
    assert page.evaluate("getComputedStyle(document.documentElement).color") == "rgb(18, 33, 31)"


def test_a_name_of_eighty_letters_breaks_nothing(own_server: DemoServer, new_page: Pages) -> None:
    manager, name = Visitor(own_server, "fleet-maintainer"), "Wolkenkuckucksheimer" * 4
    axles = [{"tire_size": "205/55R16 91V", "tire_make": name, "placard_kpa": "35 psi"}] * 2
    rig = {"kind": "car", "name": name, "fleet_number": "W" * 20, "note": name * 3, "axles": axles}
    _, made, _ = manager.call("POST", "/rigs", rig)
    manager.call("POST", f"/rigs/{made['id']}/targets", {})
    for screen in ({"viewport": {"width": 1280, "height": 800}}, PHONE):
        page = new_page(**screen)
        enter(page, own_server.url)
        for view in ("", "/edit", "/weighing", "/targets", "/air", "/rounds", "/lookback", "/card"):
            page.goto(f"{own_server.url}/rigs/{made['id']}{view}")
            page.wait_for_load_state("networkidle")
            assert page.evaluate("document.documentElement.scrollWidth - innerWidth") <= 0, view
        for view in ("/", "/morning"):
            page.goto(own_server.url + view)
            page.wait_for_load_state("networkidle")
            assert page.evaluate("document.documentElement.scrollWidth - innerWidth") <= 0, view


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
        # The keys go on from the heading of where they led to.
        if stage:
            expect(page.get_by_role("heading", level=1)).to_be_focused()


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
    page.keyboard.press("/")
    page.keyboard.type("gibb")
    expect(page.get_by_role("option", name=re.compile("Gibbous"))).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name=re.compile("Gibbous"), level=1)).to_be_focused()
    page.get_by_role("button", name="Fleet maintainer").click()
    page.get_by_role("menuitem", name="All tires").click()
    expect(page.get_by_role("heading", name="All tires", level=1)).to_be_focused()


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


def test_a_viewer_sees_no_field_that_looks_live(server: DemoServer, new_page: Pages) -> None:
    """Choices of one's own (units, filters) and reckoning that keeps nothing (what if, warm, readings, inflators) are left."""
    page = new_page()
    enter(page, server.url, "Auditor")
    own = {
        "/",
        "/units",
        "/you",
        "/schedule",
        "/checks",
        "/report",
        "/rigs/1/weighing/what-if",
        "/rigs/1/air/warm",
        "/rigs/1/air/readings",
        "/rigs/1/lookback",
        "/gauges",
        "/tables",
        "/tires",
    }
    live = {}
    for view in VIEWS:
        page.goto(server.url + view)
        page.wait_for_load_state("networkidle")
        if view not in own:
            # A checkbox, a field, or a list to choose from that answers.
            fields = page.locator("main :is(input, textarea, button[aria-haspopup=listbox]):enabled:visible")
            live[view] = [f.evaluate("e => e.outerHTML.slice(0, 120)") for f in fields.all()]
    assert {view: found for view, found in live.items() if found} == {}
    page.goto(f"{server.url}/rigs/new")
    expect(page.get_by_role("heading", name="You may look, not add rigs")).to_be_visible()


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
