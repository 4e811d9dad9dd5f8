"""A dying server, a lost network, an expired sign-in, nonsense: nothing that was entered is lost."""

import re
import shutil
import time
from collections.abc import Callable
from pathlib import Path
from uuid import uuid4

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import enter, open_rig, should_show, watch
from tests.browser.serving import ROOT, DemoServer, Visitor

pytestmark = pytest.mark.kept

Pages = Callable[..., Page]
# An entry whose sending was cut off half way waits out its answer (15 s), and is tried again after half a minute.
SENT_MS = 60_000


# A browser that has no room for a database of its own.
NO_DATABASE = "indexedDB.open = () => { const asked = {}; setTimeout(() => asked.onerror()); return asked }"


def stored(server: DemoServer) -> list[tuple[str, str, str]]:
    """Readings of open rounds, straight from the database: uuid, wheel, as typed."""
    return server.sql(
        "SELECT g.uuid, g.wheel, g.typed FROM rounds_reading g JOIN rounds_round r ON r.id = g.round_id"
        " WHERE r.sealed_at IS NULL AND r.abandoned_at IS NULL ORDER BY g.id"
    )


def begin_round(page: Page, rig: str) -> None:
    open_rig(page, rig, "Round")
    page.get_by_role("button", name="Open the round").click()
    expect(page.get_by_text("0 of")).to_be_visible()


def enter_reading(page: Page, text: str) -> None:
    page.get_by_label(re.compile("^Reading on")).fill(text)
    page.keyboard.press("Enter")


def test_a_reading_entered_as_the_server_dies_is_kept_and_sent(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, own_server.url, "Technician")
    begin_round(page, "Almagest")
    first = should_show(page)
    enter_reading(page, first)
    expect(page.get_by_role("heading", name="Rear left, outer")).to_be_visible()
    expect(page.get_by_text(re.compile("^Kept on the server"))).to_be_visible()
    second = should_show(page)
    own_server.kill()
    enter_reading(page, second)
    # Said to be unsent, still on the screen, and the walk goes on.
    expect(page.get_by_text("1 entry is kept in this browser and not yet on the server")).to_be_visible()
    expect(page.get_by_role("row").filter(has_text="Rear left, outer")).to_contain_text(second)
    expect(page.get_by_role("button", name="Seal the round")).to_be_disabled()
    assert [w for _, w, _ in stored(own_server)] == ["1L"]
    own_server.start()
    expect(page.get_by_text(re.compile("^Kept on the server"))).to_be_visible(timeout=SENT_MS)
    assert [(w, t) for _, w, t in stored(own_server)] == [("1L", f"{first} psi"), ("2Lo", f"{second} psi")]


def test_an_unsent_reading_outlives_its_page(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, own_server.url, "Technician")
    begin_round(page, "Almagest")
    own_server.kill()
    enter_reading(page, "92.5")
    expect(page.get_by_text("1 entry is kept in this browser")).to_be_visible()
    address = page.url
    page.close()
    own_server.start()
    again = page.context.new_page()
    again.goto(address)
    expect(again.get_by_text("1 of 12 read")).to_be_visible(timeout=SENT_MS)
    expect(again.get_by_text(re.compile("^Kept on the server"))).to_be_visible(timeout=SENT_MS)
    assert [(w, t) for _, w, t in stored(own_server)] == [("1L", "92.5 psi")]


def deploy(folder: Path) -> None:
    """Another build of the page over this one: every script has a new name, and the old ones are gone."""
    for packed in [*folder.rglob("*.gz"), *folder.rglob("*.br")]:
        packed.unlink()
    scripts = list(folder.glob("assets/*.js"))
    names = re.compile("|".join(re.escape(path.name) for path in scripts))
    for path in [folder / "index.html", folder / "sw.js", *scripts]:
        path.write_text(names.sub(lambda m: f"new-{m[0]}", path.read_text()))
    for path in scripts:
        path.rename(path.with_name(f"new-{path.name}"))
    worker = folder / "sw.js"
    worker.write_text(re.sub(r'(url:"index.html",revision:")\w+', r"\1another", worker.read_text()))


def test_a_browser_that_keeps_nothing_says_so_and_sends_what_is_on_the_page(
    own_server: DemoServer, new_page: Pages
) -> None:
    page = new_page()
    page.add_init_script(NO_DATABASE)
    enter(page, own_server.url, "Technician")
    begin_round(page, "Almagest")
    first = should_show(page)
    own_server.kill()
    enter_reading(page, first)
    expect(page.get_by_text("1 entry is on this page alone and not yet on the server. Leave it open")).to_be_visible()
    expect(page.get_by_text("This browser keeps nothing: leave the page open")).to_be_visible()
    expect(page.get_by_text(re.compile("kept in this browser"))).to_have_count(0)
    own_server.start()
    expect(page.get_by_text(re.compile("^Kept on the server"))).to_be_visible(timeout=SENT_MS)
    assert [(w, t) for _, w, t in stored(own_server)] == [("1L", f"{first} psi")]


def test_a_new_version_never_takes_an_open_round_away(own_server: DemoServer, new_page: Pages, tmp_path: Path) -> None:
    web = Path(shutil.copytree(ROOT / "web" / "dist", tmp_path / "web"))
    own_server.kill()
    own_server.env["BALLAST_WEB"] = str(web)
    own_server.start()
    page = new_page()
    wrong = watch(page)
    enter(page, own_server.url, "Technician")
    page.evaluate("navigator.serviceWorker.ready")
    begin_round(page, "Almagest")
    expect(page.get_by_text("0 of 12 read")).to_be_visible()
    # The new version reaches this browser, and nobody has taken it yet.
    own_server.kill()
    deploy(web)
    own_server.start()
    page.reload()
    expect(page.get_by_text("A new version of this page is there")).to_be_visible()
    # A stage never opened before still opens, without a word to the new server.
    own_server.kill()
    enter_reading(page, "92.5")
    expect(page.get_by_text("1 entry is kept in this browser")).to_be_visible()
    page.reload()
    expect(page.get_by_text("1 of 12 read")).to_be_visible()
    expect(page.get_by_text("1 entry is kept in this browser")).to_be_visible()
    assert page.locator("script[src*='assets/new-']").count() == 0
    # With a network again it is sent, and the new page comes when it is asked for.
    own_server.start()
    expect(page.get_by_text(re.compile("^Kept on the server"))).to_be_visible(timeout=SENT_MS)
    page.reload()
    expect(page.get_by_role("button", name="Load it")).to_be_visible()
    # A worker that is slow to begin may not hear it at first.
    page.evaluate(
        """() => {
          const say = ServiceWorker.prototype.postMessage
          ServiceWorker.prototype.postMessage = () => (ServiceWorker.prototype.postMessage = say)
        }"""
    )
    page.get_by_role("button", name="Load it").click()
    page.wait_for_selector("script[src*='assets/new-']", state="attached")
    expect(page.get_by_text("1 of 12 read")).to_be_visible()
    assert not wrong


def test_every_acknowledged_reading_survives_a_kill(own_server: DemoServer) -> None:
    person = Visitor(own_server, "technician")
    rig = next(r["id"] for r in person.call("GET", "/yard")[1]["rigs"] if r["fleet_number"] == "CF-01")
    gauge = next(g["id"] for g in person.call("GET", "/gauges")[1] if g["label"] == "G1")
    conditions = {"gauge": gauge, "standing_h": 9, "outside_c": 5, "elevation_m": 410}
    round_id = person.call("POST", f"/rigs/{rig}/rounds", conditions)[1]["id"]
    acknowledged: list[str] = []
    for attempt in range(10):
        unsure = None
        deadline = time.monotonic() + 0.4
        try:
            while True:
                unsure = str(uuid4())
                reading = {"wheel": "1L", "pressure": f"{90 + attempt}.{len(acknowledged) % 10} psi"}
                assert person.call("PUT", f"/rounds/{round_id}/readings/{unsure}", reading)[0] == 200
                acknowledged.append(unsure)
                if time.monotonic() > deadline:
                    own_server.kill()
        except OSError:
            own_server.start()
        kept = {u.replace("-", "") for u, _, _ in stored(own_server)}
        assert {u.replace("-", "") for u in acknowledged} <= kept
        # Only the one in flight may be there without having been acknowledged.
        assert len(kept) - len(acknowledged) in (0, 1)
        if unsure and len(kept) > len(acknowledged):
            acknowledged.append(unsure)
    assert len(acknowledged) > 5


def test_an_expired_sign_in_loses_nothing(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    page.get_by_role("link", name="Add a rig").click()
    page.get_by_role("button", name="Front axle, not read").click()
    page.get_by_label("Size on the sidewall").fill("245/70R19.5 135/133M")
    page.get_by_role("button", name="Kind and name").click()
    page.get_by_label("Name", exact=True).fill("Half described")
    page.get_by_label("Fleet number").fill("EXP-1")
    # Nothing that was typed so far is still to be answered.
    page.wait_for_load_state("networkidle")
    page.context.clear_cookies(name="sessionid")
    # The next thing typed is answered by a sign-in over the page, not by losing it.
    page.get_by_label("Note").fill("Typed after it expired")
    expect(page.get_by_text("What you entered waits behind this page")).to_be_visible()
    page.get_by_role("button", name="Fleet maintainer Copperfinch").click()
    expect(page.get_by_text("What you entered waits behind this page")).to_have_count(0)
    expect(page.get_by_label("Name", exact=True)).to_have_value("Half described")
    expect(page.get_by_label("Note")).to_have_value("Typed after it expired")
    page.get_by_role("button", name="Add it, then weigh").click()
    expect(page.get_by_role("heading", name="What each tire carries")).to_be_visible()


def test_nonsense_is_refused_beside_its_field_and_stays(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, server.url)
    page.get_by_role("link", name="Add a rig").click()
    page.get_by_label("Name", exact=True).fill("Nonsense")
    page.get_by_role("button", name="Front axle, not read").click()
    page.get_by_label("Size on the sidewall").fill("round")
    page.get_by_label("Sidewall maximum, cold").fill("99 bar")
    expect(page.get_by_text(re.compile("9,900 kPa .* is above what is possible"))).to_be_visible()
    page.get_by_role("button", name="Door label").first.click()
    page.get_by_label("GVWR").fill("many")
    expect(page.get_by_text("“many” is not a weight")).to_be_visible()
    # A place that is not open says that something in it is refused; Back goes to the one before, nothing is lost.
    expect(page.get_by_role("button", name="Front axle, read: look again")).to_be_visible()
    page.go_back()
    expect(page.get_by_label("Sidewall maximum, cold")).to_have_value("99 bar")
    page.reload()
    expect(page.get_by_label("Sidewall maximum, cold")).to_have_value("99 bar")
    page.get_by_role("button", name="Add it, then weigh").click()
    expect(page.get_by_label("GVWR")).to_have_value("many")
    # The focus goes to the first field that is wrong.
    expect(page.locator("input:focus")).to_have_value("many")
    expect(page.get_by_label("GVWR")).to_have_attribute("aria-invalid", "true")
    page.get_by_label("GVWR").fill("26000")
    page.get_by_role("button", name="Front axle, read").click()
    page.get_by_label("Sidewall maximum, cold").fill("110")
    # A marking that cannot be read is said, and refuses no rig: it is kept as typed.
    expect(page.get_by_text("“round” is not a size marking").first).to_be_visible()
    page.get_by_role("button", name="Add it, then weigh").click()
    expect(page).to_have_url(re.compile("/weighing$"))
    assert wrong == []


def test_a_reading_the_gauge_cannot_show_is_told_and_stays(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url, "Technician")
    begin_round(page, "Parsec")
    page.get_by_label(re.compile("^Reading on")).fill("160 psi")
    expect(page.get_by_text(re.compile("outside this gauge's range"))).to_be_visible()
    sent: list[str] = []
    page.on("request", lambda r: sent.append(r.url) if "/readings/" in r.url else None)
    page.keyboard.press("Enter")
    page.wait_for_timeout(300)
    # It is known to be refused: it is not sent to be refused once more, and stands as it was typed.
    assert sent == []
    expect(page.get_by_label(re.compile("^Reading on"))).to_have_value("160 psi")
    page.get_by_label(re.compile("^Reading on")).fill("33.4")
    page.keyboard.press("Enter")
    expect(page.get_by_text("1 of 2 read")).to_be_visible()
    page.get_by_role("button", name="Abandon the round").click()
    expect(page.get_by_role("heading", name="Open a round")).to_be_visible()
