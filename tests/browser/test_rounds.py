"""The round beside its digits: notes by key, a skipped wheel, sharing, a sheet of paper, a sealed round put right."""

import re
import time
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.conftest import enter, foretold, open_rig, open_round, should_show, watch
from tests.browser.serving import DemoServer

Pages = Callable[..., Page]


def type_reading(page: Page, text: str) -> None:
    page.keyboard.type(text)
    page.wait_for_timeout(300)
    page.keyboard.press("Enter")


def test_notes_by_key_a_skipped_wheel_and_the_seal(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, server.url, "Technician")
    open_round(page, server.url, 9)
    page.keyboard.press("Alt+KeyL")
    expect(page.get_by_role("button", name="Leak heard")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_text("Leak heard: find it, and have it mended.").first).to_be_visible()
    type_reading(page, should_show(page))
    expect(page.get_by_role("heading", level=1)).to_contain_text("Rear")
    page.keyboard.press("Alt+KeyS")
    page.get_by_label("Why is rear not read?").fill("locked in the trailer")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Skipped: locked in the trailer")).to_be_visible()
    page.get_by_role("button", name="Seal the round").click()
    expect(page.get_by_text("Rear: not read: locked in the trailer")).to_be_visible()
    page.get_by_label("Signed").fill("The technician")
    page.get_by_role("button", name="Sign and seal").click()
    expect(page.get_by_role("heading", name=re.compile("^Round of"))).to_be_visible()
    expect(page.get_by_text("Signed The technician")).to_be_visible()
    # It stays open in the Yard.
    page.goto(server.url)
    expect(page.get_by_text("2 not read: locked in the trailer").first).to_be_visible()
    assert wrong == []


def test_no_verdict_before_the_last_key_is_half_a_second_old_and_none_beside_a_refusal(
    server: DemoServer, new_page: Pages
) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, server.url, "RV owner")
    open_rig(page, "Pipistrelle", "Round")
    page.get_by_role("button", name="Open the round").click()
    field = page.get_by_label(re.compile("^Reading on"))
    field.press_sequentially("6")
    page.wait_for_timeout(250)
    stop, true = page.get_by_text(re.compile("^Stop: inspect")), page.get_by_text(re.compile(r"True \d"))
    assert stop.count() == 0
    expect(stop.first).to_be_visible()
    expect(true.first).to_be_visible()
    field.fill("abc")
    expect(page.get_by_text(re.compile("not a pressure|not a number|Type a"))).to_be_visible()
    expect(stop).to_have_count(0)
    expect(true).to_have_count(0)
    page.get_by_role("button", name="Abandon the round").click()
    expect(page.get_by_role("button", name="Open the round")).to_be_visible()
    assert wrong == []


def test_digits_typed_before_the_answer_are_the_next_wheels(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Technician")
    open_round(page, server.url, 9)
    # No sheets, and a server that takes its time: nothing is answered while the next one is typed.
    page.route("**/offline", lambda route: route.abort())
    page.reload()
    page.get_by_text(re.compile(r"^0 of \d+ read")).wait_for()
    for calls in ("**/readings/*", re.compile("work.rounds$")):
        page.route(calls, lambda route: (time.sleep(0.6), route.continue_()))
    expect(page.get_by_label(re.compile("^Reading on"))).to_be_focused()
    # What needs no air on this day: the walk goes on.
    front = should_show(page)
    page.keyboard.type(front)
    page.keyboard.press("Enter")
    page.keyboard.type("42.5")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Rear")
    expect(page.get_by_label(re.compile("^Reading on"))).to_have_value("42.5")
    page.keyboard.press("Enter")
    rows = page.get_by_role("row")
    expect(rows.filter(has_text="Front")).to_contain_text(front)
    expect(rows.filter(has_text="Rear")).to_contain_text("42.5")
    expect(page.get_by_text("2 of 2 read")).to_be_visible()
    # Nothing moves under the pointer any more.
    page.unroute_all(behavior="wait")
    page.wait_for_load_state("networkidle")
    page.get_by_role("button", name="Abandon the round").click()
    expect(page.get_by_role("heading", name="Open a round")).to_be_visible()


def test_a_second_reading_typed_before_the_first_is_stored_stays_with_its_wheel(
    server: DemoServer, new_page: Pages
) -> None:
    page = new_page()
    enter(page, server.url, "Technician")
    open_round(page, server.url, 9)
    page.wait_for_load_state("networkidle")
    page.route("**/readings/*", lambda route: (time.sleep(1), route.continue_()))
    page.keyboard.type(f"{float(should_show(page)) * 0.88:.1f}")
    expect(page.get_by_text(re.compile("^Add ")).first).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_label(re.compile("^After the air"))).to_be_visible()
    page.keyboard.type("42")
    page.wait_for_timeout(2500)
    expect(page.get_by_role("heading", level=1)).to_contain_text("Front")
    expect(page.get_by_label(re.compile("^After the air"))).to_have_value("42")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Rear")
    expect(page.get_by_role("row").filter(has_text="Rear")).to_contain_text("Not checked")
    page.get_by_role("button", name="Abandon the round").click()
    expect(page.get_by_role("heading", name="Open a round")).to_be_visible()


# The browser's database says a second late that it is done.
SLOW_DISK = """
  Object.defineProperty(IDBTransaction.prototype, 'oncomplete', {
    set(done) { this.addEventListener('complete', (event) => setTimeout(() => done.call(this, event), 1000)) },
  })
"""


def test_a_first_reading_stays_one_while_it_leaves_a_slow_disk(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Technician")
    open_round(page, server.url, 9)
    page.wait_for_load_state("networkidle")
    page.add_init_script(SLOW_DISK)
    page.reload()
    expect(page.get_by_label(re.compile("^Reading on"))).to_be_focused()
    page.wait_for_load_state("networkidle")
    low = f"{float(should_show(page)) * 0.88:.1f}"
    with page.expect_response(lambda r: "/readings/" in r.url):
        page.keyboard.type(low)
        page.keyboard.press("Enter")
    # Stored, and not yet out of the browser: what comes next is the second reading all the while.
    after = page.get_by_label(re.compile("^After the air"))
    expect(after).to_be_visible()
    for _ in range(8):
        assert after.is_visible()
        page.wait_for_timeout(100)
    second = should_show(page)
    page.keyboard.type(second)
    page.keyboard.press("Enter")
    row = page.get_by_role("row").filter(has_text="Front")
    expect(row.get_by_role("cell").last).not_to_have_text("–")
    expect(row).not_to_contain_text("readings differ")
    # True, on a gauge that errs by half a psi at most.
    left = float(row.get_by_role("cell").last.inner_text())
    assert abs(left - float(second)) <= 0.5
    page.get_by_role("button", name="Abandon the round").click()
    expect(page.get_by_role("heading", name="Open a round")).to_be_visible()


def test_a_reading_of_a_sealed_round_is_put_right(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Technician")
    page.goto(f"{server.url}/rigs/8/lookback")
    expect(page.get_by_role("heading", name="Leak or weather, round by round")).to_be_visible()
    page.locator("h3 a").first.click()
    expect(page.get_by_role("heading", name=re.compile("^Round of"))).to_be_visible()
    page.get_by_role("button", name="Put something right").click()
    expect(page.get_by_label("G1 showed")).to_be_visible()
    page.get_by_role("button", name="Read with").click()
    page.get_by_role("option", name="G3").click()
    page.get_by_label("G3 showed").fill("114")
    page.get_by_role("button", name="Put it right").click()
    expect(page.get_by_text("Enter at least 3", exact=False)).to_be_visible()
    expect(page.get_by_label(re.compile("showed$"))).to_have_value("114")
    page.get_by_label("Reason").fill("Misread, the lamp was off")
    page.get_by_role("button", name="Put it right").click()
    expect(page.get_by_role("heading", name="Put right since")).to_be_visible()
    expect(page.get_by_text("Misread, the lamp was off", exact=False)).to_be_visible()
    expect(page.get_by_text("114 psi on G3", exact=False)).to_be_visible()


def test_a_filled_sheet_is_entered_at_once(server: DemoServer, new_page: Pages) -> None:
    page = new_page(accept_downloads=True)
    enter(page, server.url)
    page.goto(f"{server.url}/rigs/6/rounds")
    with page.expect_download() as started:
        page.get_by_role("link", name="Blank sheet to print").click()
    assert started.value.suggested_filename == "CF-06-Umbra-with-Penumbra-round.pdf"
    page.get_by_role("button", name="Enter a filled sheet").click()
    # A ground plan is open for it.
    page.get_by_text("Road numbers again").click()
    found = page.get_by_label("Found")
    count = found.count()
    found.first.fill("many")
    page.get_by_role("button", name="Enter and seal it").click()
    expect(page.get_by_text("“many” is not a pressure", exact=False)).to_be_visible()
    found.first.click()
    for _ in range(count):
        page.keyboard.press("Control+A")
        page.keyboard.type("45")
        # Enter goes on to the next line.
        page.keyboard.press("Enter")
    page.get_by_label("Signed").fill("By hand")
    page.get_by_role("button", name="Enter and seal it").click()
    expect(page.get_by_role("heading", name=re.compile("^Round of"))).to_be_visible()
    expect(page.get_by_text("Signed By hand")).to_be_visible()


def test_two_share_a_round_each_with_a_gauge(server: DemoServer, new_page: Pages) -> None:
    page, second = new_page(), new_page()
    enter(page, server.url, "Technician")
    open_round(page, server.url, 3)
    page.get_by_role("button", name="Share the round with others").click()
    page.get_by_role("button", name="Left side").click()
    page.get_by_role("button", name="Take these").click()
    expect(page.get_by_text(re.compile("Technician has it"))).to_be_visible()
    enter(second, server.url)
    second.goto(f"{server.url}/rigs/3/rounds")
    second.get_by_role("button", name="Who takes what").click()
    expect(second.get_by_text(re.compile("^Technician with G1: "))).to_be_visible()
    second.get_by_role("group", name="Wheels I take").get_by_role("button").first.click()
    second.get_by_role("button", name="Take these").click()
    expect(second.get_by_text("Technician has 1L. Take others, or ask for it.")).to_be_visible()
    page.get_by_role("button", name="Give mine back").click()
    expect(page.get_by_text(re.compile("Technician has it"))).to_have_count(0)
    page.get_by_role("button", name="Abandon the round").click()
    expect(page.get_by_role("heading", name="Open a round")).to_be_visible()


def test_a_walking_order_of_ones_own(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Technician")
    page.goto(f"{server.url}/rigs/5/rounds")
    page.get_by_role("button", name="Walking order").click()
    # The spare first: four steps up from the end.
    for _ in range(4):
        page.get_by_role("button", name="Spare earlier").click()
    page.get_by_role("button", name="Keep this order").click()
    page.get_by_role("button", name="Open the round").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Spare")
    page.get_by_role("button", name="Abandon the round").click()
    page.get_by_role("button", name="Walking order").click()
    page.get_by_role("button", name="Back to the usual one").click()
    expect(page.get_by_role("button", name="Keep this order")).to_have_count(0)


def test_a_gauge_over_the_radio_fills_the_field(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Technician")
    open_round(page, server.url, 10)
    page.get_by_role("button", name="Read simulated digital gauge").click()
    field = page.get_by_label(re.compile("^Reading on"))
    expect(field).not_to_have_value("")
    page.get_by_label("Large figures").check()
    expect(page.get_by_text("Front left").first).to_be_visible()
    field.press("Enter")
    expect(page.get_by_text("1 of 6 read")).to_be_visible()
    page.get_by_role("button", name="Abandon the round").click()


def test_this_morning_leads_to_the_round(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Auditor")
    page.get_by_role("link", name="This morning").click()
    expect(page.get_by_text(re.compile(r"^\d+ tires? wants? air$")).first).to_be_visible()
    expect(page.get_by_text(re.compile(r"lay inside their range"))).to_be_visible()
    row = page.get_by_role("listitem").filter(has_text="Rear right, inner").first
    # What its leak lets expect of the dawn hangs on the day's weather.
    expect(row).to_contain_text(foretold(server, "CF-01", "2Ri"))
    page.get_by_role("link", name="CF-01 Almagest").first.click()
    expect(page.get_by_role("heading", name="This morning, before anyone kneels")).to_be_visible()
    page.get_by_role("link", name="Through time").click()
    expect(page.get_by_text(re.compile("^Leaks: loses"))).to_be_visible()


def test_the_wheel_in_hand_and_what_is_typed_outlast_a_reload_back_and_a_second_tab(
    own_server: DemoServer, new_page: Pages
) -> None:
    page = new_page()
    enter(page, own_server.url, "Technician")
    open_round(page, own_server.url, 10)
    page.get_by_role("button", name=re.compile("^Rear left, inner")).first.click()
    field = page.get_by_label(re.compile("^Reading on"))
    field.fill("61.5")
    # A question mark asks for the keys, and is no digit.
    field.press("?")
    expect(page.get_by_role("heading", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    expect(field).to_have_value("61.5")
    page.wait_for_timeout(300)

    def still_there(where: Page) -> None:
        expect(where.get_by_role("heading", level=1)).to_contain_text("Rear left, inner")
        expect(where.get_by_label(re.compile("^Reading on"))).to_have_value("61.5")

    page.reload()
    still_there(page)
    page.get_by_role("navigation", name="Stages").get_by_role("link", name=re.compile("^Air")).click()
    expect(page.get_by_role("heading", name="What the air does")).to_be_visible()
    page.go_back()
    still_there(page)
    second = page.context.new_page()
    second.goto(page.url)
    still_there(second)
    second.close()
    # Taken away, it is gone for good.
    field.fill("")
    page.wait_for_timeout(300)
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Rear left, inner")
    expect(page.get_by_label(re.compile("^Reading on"))).to_have_value("")
