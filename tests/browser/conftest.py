import os
import re
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.browser.serving import CHROMIUM, CHROMIUM_FLAGS, DemoServer, Visitor, copy_of

# Playwright runs a loop beside Django's test database.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")


# A busy machine is no bug: what is waited for may take its time.
expect.set_options(timeout=30_000)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": CHROMIUM, "args": CHROMIUM_FLAGS}


@pytest.fixture(scope="session")
def server(built: DemoServer, tmp_path_factory: pytest.TempPathFactory) -> Iterator[DemoServer]:
    """The server that tests share; each makes what it changes."""
    shared = copy_of(built, DemoServer(tmp_path_factory.mktemp("shared")))
    shared.start()
    yield shared
    shared.kill()


PHONE = {"viewport": {"width": 390, "height": 844}, "has_touch": True, "is_mobile": True}


@pytest.fixture
def new_page(browser: Browser, request: pytest.FixtureRequest) -> Iterator[Callable[..., Page]]:
    """Opens pages in contexts of their own, and closes them after the test.

    What a browser keeps of the page for when there is no network takes as long as many a test, and is kept for those marked `kept`.
    """
    contexts: list[BrowserContext] = []
    workers = "allow" if request.node.get_closest_marker("kept") else "block"

    def open_page(**more: Any) -> Page:
        given: dict[str, Any] = {
            "viewport": {"width": 1280, "height": 800},
            "locale": "en-US",
            "service_workers": workers,
        } | more
        contexts.append(browser.new_context(**given))
        return contexts[-1].new_page()

    yield open_page
    for context in contexts:
        context.close()


def watch(page: Page) -> list[str]:
    """What goes wrong on a page: scripts that throw, and what the content policy blocks."""
    wrong: list[str] = []
    page.on("pageerror", lambda error: wrong.append(str(error)))
    page.on(
        "console",
        lambda m: wrong.append(m.text) if m.type == "error" and "Failed to load resource" not in m.text else None,
    )
    return wrong


def enter(page: Page, url: str, person: str = "Fleet maintainer") -> None:
    page.goto(url)
    page.get_by_role("button", name=person).click()
    expect(page.get_by_role("heading", name="Yard")).to_be_visible()


def switch_units(page: Page, name: str) -> None:
    """Switches and waits until it is kept: the next page, or the next test, may ask at once."""
    with page.expect_response(lambda r: r.url.endswith("/session/units") and r.request.method == "PUT"):
        page.get_by_role("button", name=name).click()


def open_rig(page: Page, name: str, stage: str = "") -> None:
    """Goes to a stage of a rig from the Yard."""
    page.get_by_role("link", name=re.compile(name)).first.click()
    page.wait_for_url(re.compile(r"/rigs/\d+"))
    if stage:
        page.get_by_role("navigation", name="Stages").get_by_role("link", name=re.compile(f"^{stage}")).click()


def foretold(server: DemoServer, number: str, code: str) -> re.Pattern[str]:
    """What this morning says of a tire, by the server's own answer: it hangs on the day's weather."""
    rigs = Visitor(server, "auditor").call("GET", "/morning")[1]["rigs"]
    tires = next(r["tires"] for r in rigs if r["fleet_number"] == number)
    word = next(t["word"] for t in tires if t["code"] == code)
    said = {"add": r"Likely wants [\d.]+ (psi|kPa)", "cannot_tell": "May want air: read it first", "hold": "Holds"}
    return re.compile(said[word])


def should_show(page: Page) -> str:
    """What the gauge shows on this wheel where nothing is to be done, in the air of today."""
    return page.get_by_text("should show").locator("b").last.inner_text()


class Keyboard:
    """The keyboard alone: what is reached is reached by Tab, as a person without a mouse would."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.count = 0

    def press(self, key: str, times: int = 1) -> None:
        for _ in range(times):
            self.page.keyboard.press(key)
            self.count += 1

    def type(self, text: str) -> None:
        self.page.keyboard.type(text)
        self.count += len(text)

    def find_in_menu(self, letter: str) -> None:
        """Takes the first entry of the open menu with this letter: a second letter that comes late begins a new word."""
        expect(self.page.get_by_role("menu")).to_be_focused()
        self.type(letter)
        self.press("Enter")

    def focused(self) -> str:
        """The accessible name of what has the focus."""
        return str(
            self.page.evaluate(
                """() => {
                  const at = document.activeElement
                  if (!at || at === document.body) return ''
                  const by = at.getAttribute('aria-labelledby')
                  const said = by ? by.split(' ').map((i) => document.getElementById(i)?.textContent ?? '').join(' ') : ''
                  const label = at.labels?.[0]?.textContent ?? ''
                  return (at.getAttribute('aria-label') || said || label || at.textContent || '').replace(/\\s+/g, ' ').trim()
                }"""
            )
        )

    def to(self, name: str, most: int = 120) -> None:
        """Tabs on until what has the focus is called `name`."""
        seen: list[str] = []
        for _ in range(most):
            here = self.focused()
            if re.match(name, here):
                return
            seen.append(here)
            self.press("Tab")
        raise AssertionError(f"Tab does not reach {name!r}; it went over {list(dict.fromkeys(seen))}")

    def fill(self, name: str, text: str) -> None:
        self.to(name)
        self.press("Control+a")
        self.type(text)

    def place(self, name: str) -> None:
        """Goes to a place of a rig that is being described."""
        self.to(f"{name}, (not )?read")
        self.press("Enter")
        expect(self.page.get_by_role("heading", name=name, exact=True)).to_be_visible()

    def pick(self, chosen: str, wanted: str, most: int = 20) -> None:
        """Of chips, from the one that is chosen to another with the arrow keys."""
        self.to(chosen)
        for _ in range(most):
            if re.match(wanted, self.focused()):
                return
            self.press("ArrowRight")
        raise AssertionError(f"the arrow keys do not reach {wanted!r}")

    def choose(self, name: str, option: str) -> None:
        """Opens a list and picks by its first letters."""
        self.to(name)
        self.press("Enter")
        self.page.wait_for_selector('[role="option"]')
        self.type(option)
        self.press("Enter")


def open_round(page: Page, url: str, rig: int) -> None:
    """Opens a round of a rig, and waits until its page is there."""
    page.goto(f"{url}/rigs/{rig}/rounds")
    page.get_by_role("button", name="Open the round").click()
    page.get_by_text(re.compile(r"^0 of \d+ read")).wait_for()
