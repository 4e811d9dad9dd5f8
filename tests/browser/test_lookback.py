"""Looking back by hand: the leak is the first thing said, raw values are one click away, and this morning leads to a round."""

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

from ballast.demo.rigs import COACH
from tests.browser.conftest import PHONE, Keyboard, enter, foretold, open_rig, watch
from tests.browser.serving import DemoServer

Pages = Callable[..., Page]


def test_the_leak_stands_first_and_raw_values_are_a_click_away(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, server.url, "Auditor")
    page.goto(f"{server.url}/rigs/4/lookback")
    # The trailer of the long rig loses air at one inner dual for fourteen weeks.
    heading = page.get_by_role("heading", level=1)
    expect(heading).to_contain_text("2Li")
    expect(page.get_by_text(re.compile(r"^Leaks: loses .* a month, give or take .*, since about "))).to_be_visible()
    expect(page.get_by_text("Brought to 20 °C and sea level, so that months compare.")).to_be_visible()
    page.get_by_role("button", name="As the gauge showed").click()
    expect(page.get_by_text("As the gauge showed it, in the air of the day.")).to_be_visible()
    # Any other tire is a click in the table, and its row is marked.
    table = page.get_by_role("table").last
    table.get_by_role("button", name=re.compile("1Ro")).click()
    expect(heading).to_contain_text("1Ro")
    expect(page.get_by_text(re.compile(r"^Loses .* a month"))).to_be_visible()
    # The leak is still a click away.
    page.get_by_role("button", name=re.compile("Leaks: loses")).click()
    expect(heading).to_contain_text("2Li")
    assert wrong == []


def test_every_round_is_told_in_two_sentences_and_opens(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Auditor")
    page.goto(f"{server.url}/rigs/1/lookback")
    rounds = page.locator("section").filter(has=page.get_by_role("heading", name="round by round")).locator("ol > li")
    expect(rounds).to_have_count(12)
    page.get_by_role("button", name=re.compile(r"^All \d+ rounds$")).click()
    expect(rounds).to_have_count(57)
    newest = rounds.first.inner_text()
    filtered = page.get_by_label("Filter the rounds by result, place, gauge or person")
    page.get_by_label("In order of").click()
    page.get_by_role("option", name="Oldest first").click()
    expect(rounds.last).to_have_text(newest, use_inner_text=True)
    filtered.fill("nothing of this kind")
    page.get_by_role("button", name="Show all").click()
    filtered.fill("g2")
    expect(rounds.first).to_contain_text("gauge G2")
    expect(rounds.filter(has_text="gauge G1")).to_have_count(0)
    odd = rounds.filter(has_text="another gauge was used than before").filter(has_text="gauge G2")
    expect(odd).to_have_count(1)
    odd.get_by_role("link").click()
    expect(page.get_by_role("heading", name=re.compile("^Round of"))).to_be_visible()
    page.get_by_role("button", name="Leak or weather, tire by tire").click()
    # Weather, usual, shared and own of every tire that was read then.
    expect(page.get_by_role("row").filter(has_text="Rear left, inner").last).to_be_visible()
    # The auditor reads, and changes nothing.
    expect(page.get_by_role("button", name="Put a reading right")).to_have_count(0)


def test_this_morning_on_a_phone_by_thumb(server: DemoServer, new_page: Pages) -> None:
    page = new_page(**PHONE)
    enter(page, server.url, "Technician")
    open_rig(page, "Almagest", "Look back")
    page.get_by_role("link", name="This morning").tap()
    expect(page.get_by_role("heading", name="This morning, before anyone kneels")).to_be_visible()
    coach = page.locator("section").filter(has=page.get_by_role("heading", name=re.compile("^CF-01 Almagest")))
    foreseen = coach.get_by_role("listitem").filter(has_text="±")
    leaking = foreseen.filter(has_text="2Ri")
    expect(coach).to_be_visible()
    # What its leak lets expect of the dawn hangs on the day's weather; those that hold stand behind a press, if any does.
    said = {code: foretold(server, "CF-01", code) for code in ("1L", "1R", "2Lo", "2Li", "2Ri", "2Ro", "S1")}
    if any(words.pattern == "Holds" for words in said.values()):
        coach.get_by_role("button", name=re.compile(r"^All 7 tires$")).tap()
    expect(foreseen).to_have_count(7)
    for code, words in said.items():
        expect(foreseen.filter(has=page.get_by_text(code, exact=True))).to_contain_text(words)
    expect(leaking).to_contain_text("±")
    expect(page.get_by_text(re.compile(r"of [\d,]+ predictions that a round measured"))).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_looking_back_by_keyboard_alone(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Auditor")
    page.goto(f"{server.url}/rigs/1/lookback")
    expect(page.get_by_role("heading", level=1)).to_contain_text("2Ri")
    keys = Keyboard(page)
    keys.to("As the gauge showed")
    keys.press("Enter")
    expect(page.get_by_text("As the gauge showed it, in the air of the day.")).to_be_visible()
    keys.to(r"Front left\s+1L")
    keys.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("1L")


def test_a_rig_that_was_never_read_says_what_to_do(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Fleet maintainer")
    made = page.evaluate(
        """async (body) => {
          const token = document.cookie.match(/csrftoken=([^;]+)/)[1]
          const headers = { 'Content-Type': 'application/json', 'X-CSRFToken': token }
          const reply = await fetch('/api/v1/rigs', { method: 'POST', headers, body: JSON.stringify(body) })
          return (await reply.json()).id
        }""",
        COACH | {"name": "Unread", "fleet_number": "U-1"},
    )
    page.goto(f"{server.url}/rigs/{made}/lookback")
    expect(page.get_by_role("heading", name="Nothing sealed yet")).to_be_visible()
    page.get_by_role("link", name="Open a round").click()
    expect(page.get_by_role("heading", name="Open a round")).to_be_visible()


def test_readings_of_before_come_in_are_seen_and_taken_back(
    own_server: DemoServer, new_page: Pages, tmp_path: Path
) -> None:
    page = new_page()
    wrong = watch(page)
    rows = [
        f"{month}/{day}/2025,CF-01,{w},{98 - month / 5:.1f}"
        for month in range(1, 7)
        for day in (4, 18)
        for w in ("LF", "RF")
    ]
    (tmp_path / "book.csv").write_text("\n".join(["Day,Fleet no,Tire,PSI", *rows]))
    enter(page, own_server.url, "Technician")
    open_rig(page, "Almagest", "Look back")
    # From a rig all of it would be of that one: this file says of which each row is.
    page.get_by_role("link", name="Earlier readings").click()
    page.goto(f"{own_server.url}/earlier")
    page.get_by_label("CSV file with a heading").set_input_files(tmp_path / "book.csv")
    bring = page.get_by_role("button", name="Bring them in")
    expect(bring).to_be_disabled()
    # The order of its dates shows by itself; whose wheels these are does not.
    expect(page.get_by_label("Dates are written")).to_contain_text("Month, day, year")
    for name, wheel in (("LF", "1L: Front left"), ("RF", "Left out")):
        page.get_by_label(name, exact=True).click()
        page.get_by_role("option", name=wheel, exact=True).click()
    expect(page.get_by_role("table", name="The first rows")).to_contain_text("not known")
    page.get_by_label("All of it was read at (elevation)").fill("1345")
    bring.click()
    done = page.get_by_role("status").filter(has_text="book.csv is in: 12 readings of 1 rig")
    expect(done).to_contain_text("12 without their air")
    page.goto(f"{own_server.url}/rigs/1/lookback")
    page.get_by_role("table").last.get_by_role("button", name=re.compile("1L")).click()
    expect(page.get_by_text("12 earlier readings lack their air: they stand as the gauge showed.")).to_be_visible()
    page.get_by_role("button", name="As the gauge showed").click()
    expect(page.get_by_text("of the tire before it", exact=True)).to_be_visible()
    page.goto(f"{own_server.url}/earlier")
    page.get_by_role("button", name="Take it back").click()
    page.get_by_role("button", name="Take all of it back").click()
    expect(page.get_by_role("heading", name="What was brought in")).to_have_count(0)
    assert wrong == []
