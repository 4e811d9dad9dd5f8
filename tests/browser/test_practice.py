"""Practice by hand: begun with one press, done on the real screens, right and wrong; and back to what is real."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.conftest import enter, open_rig, should_show, watch
from tests.browser.serving import DemoServer
from tests.browser.test_interface import violations

Pages = Callable[..., Page]


def begin(page: Page, url: str, name: str) -> None:
    page.goto(f"{url}/practice")
    page.get_by_role("button", name=f"Begin: {name}").click()
    expect(page.get_by_text("Practice: nothing here is real")).to_be_visible()
    page.wait_for_url(re.compile(r"/rigs/\d+/"))
    expect(page.get_by_role("complementary", name="Rig plan")).to_be_visible()


def shown(page: Page, wheel: str) -> str:
    page.get_by_role("button", name=f"Put the gauge on {wheel}").click()
    bar = page.get_by_role("complementary", name="Practice")
    expect(bar.get_by_text(f"G1 on {wheel}")).to_be_visible()
    return bar.get_by_text(re.compile(r"^[\d.]+ psi$")).inner_text()


def read(page: Page, pressure: str) -> None:
    """A reading with its unit, kept; waits for its answer, or for the next wheel."""
    field = page.get_by_label(re.compile("^Reading on|^After the air"))
    field.fill(pressure)
    page.wait_for_timeout(600)
    field.press("Enter")


def judge(page: Page, reason: str) -> None:
    page.get_by_role("button", name=re.compile("When it is done: why so")).click()
    page.get_by_role("option", name=reason).click()
    page.get_by_role("button", name="Judge it").click()


def walk(page: Page) -> None:
    """Reads all four with the gauge of practice, fills where it is asked for, and seals."""
    page.get_by_role("button", name="Open the round").click()
    page.get_by_text("0 of 4 read").wait_for()
    for n in range(4):
        heading = page.get_by_role("heading", level=1)
        wheel = heading.inner_text().split(" · ")[1]
        # It stood overnight: what it lost it did not roll on.
        page.get_by_role("button", name="Has not rolled like this").click()
        read(page, shown(page, wheel))
        # What wants air asks for it, and the reading after.
        after = page.get_by_label(re.compile("^After the air"))
        moved = page.get_by_text(f"{n + 1} of 4 read")
        expect(moved).to_be_visible()
        if after.is_visible():
            read(page, should_show(page))
    page.get_by_role("button", name="Seal the round").click()
    if page.get_by_role("button", name="Sign and seal").is_visible():
        page.get_by_role("button", name="Sign and seal").click()
    expect(page.get_by_role("heading", name=re.compile("^Round of"))).to_be_visible()


def test_a_stale_display_is_believed_then_read_with_a_gauge(server: DemoServer, new_page: Pages) -> None:
    page = new_page(bypass_csp=True)
    wrong = watch(page)
    enter(page, server.url, "Technician")
    begin(page, server.url, "The display says all is well")
    assert violations(page) == []
    judge(page, "It is shown in green, so it is so")
    expect(page.get_by_text("A stale display was believed")).to_be_visible()
    expect(page.get_by_role("heading", name="What you left")).to_be_visible()
    expect(page.get_by_text("0 of 100")).to_be_visible()
    assert violations(page) == []
    page.get_by_role("button", name="Same numbers").click()
    expect(page.get_by_role("button", name="Judge it")).to_be_visible()
    walk(page)
    judge(page, "It has not refreshed since it last rolled: a gauge tells")
    expect(page.get_by_text("Right.", exact=True)).to_be_visible()
    expect(page.get_by_text("100 of 100")).to_be_visible()
    page.get_by_role("button", name="Leave practice").click()
    expect(page.get_by_text("Practice: nothing here is real")).to_have_count(0)
    done = page.get_by_role("listitem").filter(has_text="The display says all is well")
    expect(done).to_contain_text("Done, 100 of 100")
    # Of it nothing is in the Yard.
    page.goto(server.url)
    expect(page.get_by_role("link", name=re.compile("Almagest")).first).to_be_visible()
    expect(page.get_by_text("Practice:")).to_have_count(0)
    assert wrong == []


def test_an_inflator_is_chosen_wrong_then_right(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, server.url, "RV owner")
    # Whoever asks for help where it is done finds the exercises for it.
    open_rig(page, "Pipistrelle", "Ground")
    page.get_by_role("link", name="Kit and valves").click()
    expect(page.get_by_role("heading", name="What rides with it")).to_be_visible()
    page.keyboard.press("?")
    page.get_by_role("link", name="Practise what this screen is for").click()
    page.get_by_role("button", name="Begin: One inflator goes along").click()
    for right in (False, True):
        told = page.get_by_text(re.compile(r"^I[12] stalls at")).inner_text()
        weak, strong = re.findall(r"I[12]", told)
        page.get_by_role("button", name="Inflator", exact=True).click()
        page.get_by_label("Which").click()
        page.get_by_role("option", name=strong if right else weak).click()
        page.get_by_role("button", name="Keep the kit").click()
        expect(page.get_by_text("What rides with it is not written down.").first).to_have_count(0)
        judge(page, "It must reach the spare, which wants the most")
        said = "Right." if right else "An inflator that stalls below the spare"
        expect(page.get_by_text(said, exact=True)).to_be_visible()
        if not right:
            page.get_by_role("button", name="Again, other numbers").click()
            expect(page.get_by_role("button", name="Judge it")).to_be_visible()
    assert wrong == []
