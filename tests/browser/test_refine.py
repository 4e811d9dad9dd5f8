"""The chalk trial as it is done beside the rig."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.conftest import enter, watch
from tests.browser.serving import DemoServer

Pages = Callable[..., Page]


def drive(page: Page, pressure: str, marks: dict[str, int]) -> None:
    """A pass: everything holds, the chalk as it is pressed on both treads, kept."""
    page.get_by_role("heading", name=re.compile("^Pass ")).wait_for()
    count = page.get_by_role("list", name="Passes so far").get_by_role("listitem").count()
    for box in page.get_by_role("checkbox").all():
        box.check()
    page.get_by_label("Both tires read, cold").fill(pressure)
    for tire in ("Left", "Right"):
        for rib, presses in marks.items():
            for _ in range(presses):
                page.get_by_role("button", name=re.compile(f"^{tire} tire, {rib}: ")).click()
    page.get_by_role("button", name="Keep the pass").click()
    expect(page.get_by_role("list", name="Passes so far").first.get_by_role("listitem")).to_have_count(count + 1)


def test_a_trial_goes_down_reverses_and_ends_even(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, own_server.url, "Technician")
    page.goto(f"{own_server.url}/rigs/6/targets/chalk")
    # Two passes were driven, both too high; a third still is, a fourth is too low.
    expect(page.get_by_text(re.compile("^Centre gone, shoulders left: too high. Next"))).to_be_visible()
    drive(page, "43 psi", {"centre": 2})
    expect(page.get_by_text("too high. Next 40 psi")).to_be_visible()
    drive(page, "40 psi", {"left rib": 2, "right rib": 2})
    expect(page.get_by_text(re.compile("too low. Next 4[12] psi"))).to_be_visible()
    drive(page, "41.5 psi", {"left rib": 2, "centre": 2, "right rib": 2})
    expect(page.get_by_text(re.compile("^Front, trip-ready: even at 41"))).to_be_visible()
    page.goto(f"{own_server.url}/rigs/6/targets")
    page.get_by_role("button", name="Chalk results").click()
    expect(page.get_by_text(re.compile("Chalk trial, 5 passes"))).to_be_visible()
    assert wrong == []


def test_a_trial_that_would_go_below_the_floor_is_stopped(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, own_server.url, "Technician")
    page.goto(f"{own_server.url}/rigs/6/targets/chalk")
    drive(page, "36 psi", {"centre": 2})
    # The floor lies less than a step below.
    expect(page.get_by_text(re.compile("too high. Next 3[45]"))).to_be_visible()
    floor = page.get_by_text(re.compile("too high. Next")).inner_text().split("Next ")[1].split(" psi")[0]
    drive(page, f"{float(floor) + 0.4} psi", {"centre": 2})
    expect(page.get_by_text(re.compile("^Front, trip-ready: stopped at a bound"))).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name="Begin the trial")).to_be_visible()
