"""The round with one thumb: keys that stand still, a far number asked back, the last entry taken back, two taps as one."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, Route, expect

from tests.browser.conftest import PHONE, enter, open_round, should_show, watch
from tests.browser.serving import ROOT, DemoServer, Visitor

pytestmark = pytest.mark.kept

Pages = Callable[..., Page]
KEYS = ["1", "2", "3", "4", "5", "6", "7", "8", "9", "Point", "0", "Delete the last digit"]


def field(page: Page) -> Locator:
    return page.get_by_label(re.compile("^(Reading|Read again|After the air)"))


def places(page: Page) -> dict[str, tuple[float, float]]:
    """Where the thumb finds each key."""
    pad = page.get_by_role("group", name="Keypad")
    found = {}
    for name in [*KEYS, re.compile("^(Keep|Next|No second)")]:
        box = pad.get_by_role("button", name=name, exact=isinstance(name, str)).bounding_box()
        assert box is not None
        found[name if isinstance(name, str) else "Keep"] = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    return found


def type_blindly(page: Page, at: dict[str, tuple[float, float]], text: str) -> None:
    """A fast thumb: a key every 300 ms, where the keys were at the beginning, whatever the page does meanwhile."""
    for key in text:
        page.touchscreen.tap(*at["Point" if key == "." else key])
        page.wait_for_timeout(300)


UPRIGHT, SIDEWAYS = {"width": 390, "height": 844}, {"width": 844, "height": 390}


@pytest.mark.parametrize("screen", [UPRIGHT, SIDEWAYS], ids=["upright", "sideways"])
def test_the_keys_stand_still_and_twenty_numbers_come_out_right(
    own_server: DemoServer, new_page: Pages, screen: dict[str, int]
) -> None:
    page = new_page(**(PHONE | {"viewport": screen}))
    wrong = watch(page)
    enter(page, own_server.url, "Technician")
    open_round(page, own_server.url, 1)
    page.wait_for_load_state("networkidle")
    at = places(page)
    pad = page.get_by_role("group", name="Keypad").get_by_role("button")
    assert [b for b in (k.bounding_box() for k in pad.all()) if b and min(b["width"], b["height"]) < 44] == []
    # 25.5 of a target of some 90 is a stop, 88 asks for air, 100 to be let out: the verdict grows and shrinks between them.
    numbers = ["25.5", "100", "88", "122", "9", "0.5", "91.4", "105", "66", "77.7"] * 2
    for number in numbers:
        for n, digit in enumerate(number):
            type_blindly(page, at, digit)
            expect(field(page)).to_have_value(number[: n + 1])
            assert places(page) == at
        for _ in number:
            page.touchscreen.tap(*at["Delete the last digit"])
        expect(field(page)).to_have_value("")
    # With the verdict there, with air asked for, and on the next wheels.
    for number in ("90", "60", "61"):
        type_blindly(page, at, number)
        page.wait_for_timeout(700)
        assert places(page) == at
        page.touchscreen.tap(*at["Keep"])
        page.wait_for_timeout(700)
        assert places(page) == at
    assert wrong == []


@pytest.mark.parametrize("screen", [UPRIGHT, SIDEWAYS], ids=["upright", "sideways"])
def test_ten_whole_rounds_come_out_as_they_were_typed(
    own_server: DemoServer, new_page: Pages, screen: dict[str, int]
) -> None:
    page = new_page(**(PHONE | {"viewport": screen}))
    wrong = watch(page)
    technician = Visitor(own_server, "technician")
    enter(page, own_server.url, "Technician")
    numbers: list[str] = []
    for _ in range(11):
        open_round(page, own_server.url, 8)
        page.wait_for_load_state("networkidle")
        at, wheels = places(page), int(re.findall(r"of (\d+)", page.get_by_text(re.compile("^0 of")).inner_text())[0])
        for n in range(wheels):
            # The first round learns what each wheel should show; the ten after it are typed blindly.
            if len(numbers) < wheels:
                expect(page.get_by_text(re.compile(f"^{n} of {wheels} read"))).to_be_visible()
                numbers.append(should_show(page))
            type_blindly(page, at, numbers[n])
            page.touchscreen.tap(*at["Keep"])
            page.wait_for_timeout(300)
        expect(page.get_by_text(re.compile(f"^{wheels} of {wheels} read"))).to_be_visible()
        round_id = technician.call("GET", "/yard/8")[1]["open_round"]
        kept = technician.call("GET", f"/rounds/{round_id}")[1]["wheels"]
        assert [w["before"]["typed"].split()[0] for w in kept] == numbers
        technician.call("DELETE", f"/rounds/{round_id}")
    assert wrong == []


def test_a_double_tap_keeps_once_and_a_far_number_is_asked_back(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page(**PHONE)
    enter(page, own_server.url, "Technician")
    open_round(page, own_server.url, 1)
    page.wait_for_load_state("networkidle")
    at = places(page)
    good = should_show(page)
    type_blindly(page, at, good)
    page.touchscreen.tap(*at["Keep"])
    page.touchscreen.tap(*at["Keep"])
    # One wheel on, not two.
    expect(page.get_by_role("heading", level=1)).to_contain_text("Rear left, outer")
    expect(page.get_by_text("1 of 12 read")).to_be_visible()
    expected = page.get_by_text(re.compile("expected")).inner_text()
    page.touchscreen.tap(*at["7"])
    page.wait_for_timeout(700)
    page.touchscreen.tap(*at["Keep"])
    asked = page.get_by_text(re.compile(r"^7\? Expected [\d.]+"))
    expect(asked).to_be_visible()
    assert asked.inner_text().split()[-1] in expected
    expect(page.get_by_text("1 of 12 read")).to_be_visible()
    # Typed on, it is another number; as it stands, and kept once more, it is taken.
    page.touchscreen.tap(*at["1"])
    expect(asked).to_have_count(0)
    page.touchscreen.tap(*at["Delete the last digit"])
    expect(asked).to_be_visible()
    page.touchscreen.tap(*at["Keep"])
    expect(page.get_by_text("2 of 12 read")).to_be_visible()
    expect(page.get_by_text("Stop: inspect").first).to_be_visible()
    # Taken back, the wheel is not read, on the server neither.
    page.get_by_role("button", name="Undo").tap()
    expect(page.get_by_text("1 of 12 read")).to_be_visible()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Rear left, outer")
    page.reload()
    expect(page.get_by_text("1 of 12 read")).to_be_visible()


def test_a_verdict_belongs_to_its_wheel_and_its_number(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, own_server.url, "Technician")
    open_round(page, own_server.url, 1)
    page.wait_for_load_state("networkidle")
    # No sheets, and a server that takes its time with every answer.
    page.route("**/offline", lambda route: route.abort())
    page.reload()
    page.get_by_text("0 of 12 read").wait_for()
    held: list[Route] = []
    page.route(re.compile(r"v1.work.rounds$"), lambda route: held.append(route))

    def let_go() -> None:
        while held:
            held.pop().continue_()

    stop = page.get_by_text("Stop: inspect", exact=True)
    field(page).fill("30")
    page.wait_for_timeout(900)
    let_go()
    expect(stop.first).to_be_visible()
    # On to the next wheel with another number: what was said of 30 is not said of it, before its own answer is there.
    page.keyboard.press("ArrowDown")
    field(page).press_sequentially("101")
    page.wait_for_timeout(900)
    assert len(held) > 0
    assert stop.count() == 0
    let_go()
    expect(page.get_by_text(re.compile("^Hold|^Let out|^Add")).first).to_be_visible()
    page.unroute_all(behavior="ignoreErrors")


def test_a_round_abandoned_by_mistake_is_brought_back(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, own_server.url, "Technician")
    open_round(page, own_server.url, 9)
    page.wait_for_load_state("networkidle")
    field(page).fill(should_show(page))
    page.wait_for_timeout(600)
    page.keyboard.press("Enter")
    page.get_by_text(re.compile("^1 of 2 read")).wait_for()
    page.get_by_role("button", name="Abandon the round").click()
    expect(page.get_by_text(re.compile("was abandoned by Technician, 1 wheel read"))).to_be_visible()
    page.reload()
    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_text(re.compile("^1 of 2 read"))).to_be_visible()
    # A manager's round is not a technician's to put away.
    other = Visitor(own_server, "fleet-maintainer")
    gauge = other.call("GET", "/gauges")[1][0]["id"]
    other.call("POST", "/rigs/5/rounds", {"gauge": gauge, "standing_h": 9, "outside_c": 5, "elevation_m": 410})
    page.goto(f"{own_server.url}/rigs/5/rounds")
    page.get_by_role("button", name="Seal the round").wait_for()
    expect(page.get_by_role("button", name="Abandon the round")).to_have_count(0)


@pytest.mark.parametrize("screen", [UPRIGHT, SIDEWAYS], ids=["upright", "sideways"])
def test_leak_skip_note_and_picture_are_one_tap_away_and_nothing_needed_lies_under_the_keys(
    own_server: DemoServer, new_page: Pages, screen: dict[str, int]
) -> None:
    page = new_page(**(PHONE | {"viewport": screen}))
    enter(page, own_server.url, "Technician")
    open_round(page, own_server.url, 9)
    taps = page.get_by_role("group", name="With one tap")
    keys = page.get_by_role("group", name="Keypad")

    def in_sight(part: Locator) -> None:
        """Wholly on the screen, and not under the keys."""
        expect(part).to_be_in_viewport(ratio=1)
        at, pad = part.bounding_box(), keys.bounding_box()
        assert at is not None
        assert pad is not None
        assert at["y"] + at["height"] <= pad["y"] or at["x"] + at["width"] <= pad["x"]

    in_sight(field(page))
    leak = taps.get_by_role("button", name="Leak", exact=True)
    leak.tap()
    expect(leak).to_have_attribute("aria-pressed", "true")
    taps.get_by_role("button", name="Skip").tap()
    in_sight(page.get_by_role("button", name="Cannot reach it"))
    page.get_by_role("button", name="Read it", exact=True).tap()
    taps.get_by_role("button", name="Note").tap()
    note = page.get_by_label("Note on front")
    in_sight(note)
    note.fill("Cut near the rim")
    page.get_by_role("button", name="Note it").first.tap()
    expect(page.get_by_text("Cut near the rim")).to_be_visible()
    with page.expect_file_chooser() as chooser:
        taps.get_by_role("button", name="Picture").tap()
    chooser.value.set_files(ROOT / "docs/screenshots/phone-round.png")
    expect(page.get_by_role("link", name=re.compile("open it large"))).to_be_visible()
    page.get_by_role("button", name="Abandon the round").tap()
