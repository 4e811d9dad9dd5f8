"""A drive watched live on a simulated road, and a receiver that is paired and sends with its own key."""

import datetime as dt
import json
import re
import urllib.request
from collections.abc import Callable
from pathlib import Path
from uuid import uuid4

from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import enter, watch
from tests.browser.serving import DemoServer

Pages = Callable[..., Page]
# What would be said aloud is written down.
LISTEN = "window.said = []; speechSynthesis.speak = (u) => window.said.push(u.text); speechSynthesis.cancel = () => {}"


def test_a_nail_is_seen_heard_and_kept_while_a_reader_drops(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    page.add_init_script(LISTEN)
    wrong = watch(page)
    enter(page, own_server.url, "Technician")
    page.goto(f"{own_server.url}/rigs/5/targets/drive")
    page.get_by_label("What goes wrong").click()
    page.get_by_role("option", name="A nail").click()
    page.get_by_label("At which wheel").click()
    page.get_by_role("option", name="Front right").click()
    page.get_by_label("Times as fast as life", exact=True).fill("60")
    page.get_by_role("button", name="Drive", exact=True).click()
    page.get_by_label("Alarms aloud").check()
    expect(page.get_by_text(re.compile("^All \\d+ heard, and none in alarm"))).to_be_visible()
    expect(page.get_by_text("Simulated: of no tire, and on no record")).to_be_visible()
    # The reader is cut off for a while; the drive goes on, and the page finds it again.
    page.route("**/drives/*", lambda route: route.abort())
    page.wait_for_timeout(2500)
    page.unroute("**/drives/*")
    page.get_by_role("button", name="600 ×").click()
    loud = page.get_by_text(re.compile("^Front right: losing air fast.* Stop where it is safe."))
    expect(loud).to_be_visible()
    expect(page.get_by_text(re.compile("^Front right: fast loss set by"))).to_be_visible()
    page.wait_for_function("window.said.some((s) => s.startsWith('Front right: fast loss set by'))")
    wheel = page.get_by_role("list", name="Wheels").get_by_role("button", name=re.compile("Front right"))
    expect(wheel).to_contain_text("stop, and look at it")
    page.get_by_role("button", name="End this drive").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Drives")
    page.reload()
    expect(loud).to_be_visible()
    # Of no tire: the rig's own record has nothing of it.
    page.goto(f"{own_server.url}/rigs/5/targets/sensors")
    expect(page.get_by_role("heading", name="Sensors and alarms", level=1)).to_be_visible()
    expect(page.get_by_text(re.compile("fast loss"))).to_have_count(0)
    assert wrong == []


def test_a_receiver_is_paired_and_what_it_sends_is_seen(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, own_server.url, "Technician")
    page.goto(f"{own_server.url}/rigs/5/targets/drive")
    page.get_by_label("Pair another").fill("In the cab")
    page.get_by_role("button", name="Pair", exact=True).click()
    key = page.locator("code").inner_text()
    at = dt.datetime.now(dt.UTC).isoformat()
    said = {"number": 1, "at": at, "wheels": [{"wheel": "1L", "kpa": 90, "tire_c": 12}], "rolled_min": 0, "stood_h": 9}
    body = json.dumps({"drive": str(uuid4()), "messages": [said]}).encode()
    headers = {"Content-Type": "application/json", "Authorization": f"Bearer {key}"}
    asked = urllib.request.Request(f"{own_server.url}/api/v1/receivers/messages", body, headers)
    with urllib.request.urlopen(asked) as reply:
        assert json.load(reply)["taken"] == 1
    page.reload()
    expect(page.get_by_text("Front left: very low. Stop where it is safe.")).to_be_visible()
    page.get_by_role("button", name="Take its key back").click()
    expect(page.get_by_text("None is paired with this rig.")).to_be_visible()
    assert wrong == []


def test_a_file_of_ones_own_is_told_what_its_columns_mean_and_brought_in(
    own_server: DemoServer, new_page: Pages, tmp_path: Path
) -> None:
    page = new_page()
    wrong = watch(page)
    rows = [f"{20 + i // 24}/11/2026 {i % 24}:30,{w},{80 + i / 10:.1f},61" for i in range(40) for w in ("A", "B")]
    # Far down in it a third name, which nobody sees at first.
    rows += [f"19/11/2026 10:{i % 60:02d},A,80,61" for i in range(300)] + ["19/11/2026 11:00,C,80,61"]
    # And a second one in another part of the file: all that is wrong is told at once.
    rows += [f"19/11/2026 12:{i % 60:02d},A,80,61" for i in range(5000)] + ["19/11/2026 13:00,D,80,61"]
    (tmp_path / "cab.csv").write_text("\n".join(["Time stamp,Tire,Pressure (psi),Temp", *rows]))
    enter(page, own_server.url, "Technician")
    page.goto(f"{own_server.url}/rigs/5/targets/drive")
    page.get_by_label("CSV file with a heading").set_input_files(tmp_path / "cab.csv")
    bring = page.get_by_role("button", name="Bring them in")
    expect(bring).to_be_disabled()
    # The answer to the first choice comes when more was chosen already.
    late: list[Route] = []
    page.route("**/api/v1/work/numbers", lambda r: r.continue_() if late else late.append(r))
    expect(page.get_by_label("Dates are written")).to_contain_text("Day, month, year")
    with page.expect_request("**/api/v1/work/numbers"):
        page.get_by_label("A", exact=True).click()
        page.get_by_role("option", name="Front left", exact=True).click()
    page.get_by_label("B", exact=True).click()
    page.get_by_role("option", name="Front right", exact=True).click()
    late[0].continue_()
    expect(page.get_by_role("table", name="The first rows")).to_contain_text("Front right")
    bring.click()
    expect(page.get_by_text(re.compile("^Row 382: “C” is no wheel of it"))).to_be_visible()
    expect(page.get_by_text(re.compile("^Row 5383: “D” is no wheel of it"))).to_be_visible()
    for name in ("C", "D"):
        page.get_by_label(name, exact=True).click()
        page.get_by_role("option", name="Left out", exact=True).click()
    bring.click()
    expect(page.get_by_role("list", name="Wheels")).to_contain_text("83.9")
    expect(page.get_by_text(re.compile("^Ended Nov 21, 2026"))).to_be_visible()
    assert wrong == []
