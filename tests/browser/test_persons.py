"""One phone, several people: whose entries, whose page; and entries that come late, or on which the server breaks."""

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import enter, open_round, should_show, watch
from tests.browser.serving import DemoServer, EmptyServer, Visitor

pytestmark = pytest.mark.kept

Pages = Callable[..., Page]
BAR = re.compile("not on the server yet")


def stored(server: DemoServer) -> list[tuple[str, str]]:
    """Readings as typed, and by whom."""
    return server.sql(
        "SELECT g.typed, p.username FROM rounds_reading g JOIN accounts_person p ON p.id = g.entered_by_id"
        " JOIN rounds_round r ON r.id = g.round_id WHERE r.sealed_at IS NULL ORDER BY g.id"
    )


def leave(page: Page, person: str) -> None:
    page.get_by_role("button", name=person, exact=True).click()
    page.get_by_role("menuitem", name="Leave").click()


def type_reading(page: Page, text: str) -> None:
    page.get_by_label(re.compile("^(Reading|After)")).fill(text)
    page.wait_for_timeout(600)
    page.keyboard.press("Enter")


def test_entries_wait_for_their_person_and_the_page_is_never_the_last_ones(
    own_server: DemoServer, new_page: Pages
) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, own_server.url, "Technician")
    open_round(page, own_server.url, 1)
    page.wait_for_load_state("networkidle")
    page.context.set_offline(True)
    type_reading(page, "91")
    expect(page.get_by_text(BAR)).to_be_visible()
    # The sign-in expires; somebody else of the workspace signs in over it.
    page.context.clear_cookies(name="sessionid")
    page.context.set_offline(False)
    expect(page.get_by_text("What you entered waits behind this page")).to_be_visible()
    page.get_by_role("button", name="Fleet maintainer").click()
    # To the Yard, with nothing of the rig that was open; the reading waits for whoever took it.
    expect(page.get_by_role("heading", name="Yard")).to_be_visible()
    expect(page).to_have_url(re.compile(r":\d+/$"))
    expect(page.get_by_text("1 of somebody else")).to_be_visible()
    page.get_by_role("button", name="Look at them").click()
    expect(page.get_by_text("Waits for Technician.")).to_be_visible()
    # Within the workspace it can be saved as a file.
    with page.expect_download() as download:
        page.get_by_role("button", name="Save them as a file").click()
    assert '"91 psi"' in download.value.path().read_text()
    # In another workspace it is neither sent nor refused, and nobody there may take it over.
    leave(page, "Fleet maintainer")
    page.get_by_role("button", name="RV owner").click()
    expect(page.get_by_role("heading", name="Yard")).to_be_visible()
    page.get_by_role("button", name="Look at them").click()
    expect(page.get_by_text("Waits for Technician in Copperfinch Sky Caravan.")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Send it as"))).to_have_count(0)
    page.wait_for_timeout(4500)
    assert stored(own_server) == []
    # What it is, is not told here.
    assert "91" not in page.get_by_role("region", name="Not on the server yet").inner_text()
    leave(page, "RV owner")
    page.get_by_role("button", name="Technician").click()
    expect(page.get_by_role("heading", name="Yard")).to_be_visible()
    expect(page.get_by_text(BAR)).to_have_count(0)
    assert stored(own_server) == [("91 psi", "technician")]
    assert wrong == []


def test_two_phones_on_one_round_see_each_other_within_five_seconds(own_server: DemoServer, new_page: Pages) -> None:
    one, other = new_page(), new_page()
    enter(one, own_server.url, "Technician")
    open_round(one, own_server.url, 1)
    enter(other, own_server.url, "Fleet maintainer")
    other.goto(f"{own_server.url}/rigs/1/rounds")
    expect(other.get_by_text(re.compile(r"^0 of \d+ read"))).to_be_visible()
    type_reading(one, "91")
    expect(one.get_by_text(re.compile(r"^1 of \d+ read"))).to_be_visible()
    # No key, no focus, no reload on the other one.
    expect(other.get_by_text(re.compile(r"^1 of \d+ read"))).to_be_visible()


def test_a_tab_that_is_somebody_elses_by_now_sends_nothing_and_starts_anew(
    own_server: DemoServer, new_page: Pages
) -> None:
    page = new_page()
    enter(page, own_server.url, "Technician")
    open_round(page, own_server.url, 9)
    page.wait_for_load_state("networkidle")
    # In another tab of the same browser somebody else signs in.
    other = page.context.new_page()
    other.goto(own_server.url)
    leave(other, "Technician")
    other.get_by_role("button", name="Fleet maintainer").click()
    expect(other.get_by_role("heading", name="Yard")).to_be_visible()
    page.get_by_label(re.compile("^Reading")).fill("33")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Yard")).to_be_visible()
    expect(page.get_by_role("button", name="Fleet maintainer", exact=True)).to_be_visible()
    expect(page.get_by_text("1 of somebody else")).to_be_visible()
    assert stored(own_server) == []
    # Within the workspace it can be taken over knowingly.
    page.get_by_role("button", name="Look at them").click()
    with page.expect_response(lambda r: "/readings/" in r.url and r.ok):
        page.get_by_role("button", name="Send it as Fleet maintainer").click()
    expect(page.get_by_text(BAR)).to_have_count(0)
    assert stored(own_server) == [("33 psi", "fleet-maintainer")]


def test_leaving_without_a_network_empties_at_once_and_ends_the_session_later(
    own_server: DemoServer, new_page: Pages
) -> None:
    page = new_page()
    enter(page, own_server.url, "Technician")
    page.goto(f"{own_server.url}/rigs/1")
    expect(page.get_by_role("heading", name=re.compile("Almagest")).first).to_be_visible()
    page.evaluate("navigator.serviceWorker.ready")
    own_server.kill()
    leave(page, "Technician")
    expect(page.get_by_text("You are signed out on this page. The server does not answer")).to_be_visible()
    expect(page.get_by_text("Almagest")).to_have_count(0)
    page.reload()
    expect(page.get_by_text("Almagest")).to_have_count(0)
    own_server.start()
    expect(page.get_by_role("button", name="RV owner")).to_be_visible()
    expect(page.get_by_text("You are signed out on this page")).to_have_count(0)
    # The browser's own cookies: the session is over on the server too.
    assert page.request.get(f"{own_server.url}/api/v1/session").json()["person"] is None


def test_a_late_answer_of_before_the_sign_in_does_not_put_it_back(empty: EmptyServer, new_page: Pages) -> None:
    page = new_page()
    owner = Visitor(empty)
    person = {"workspace": "Home", "name": "Owner", "username": "owner", "password": "a long pass phrase"}
    assert owner.call("POST", "/first-run", person)[0] == 200
    page.goto(empty.url)
    sign_in(page)
    page.get_by_role("link", name="Add a rig").first.click()
    with page.expect_response("**/api/v1/work/rigs"):
        page.get_by_label("Name", exact=True).fill("Half described")
    page.wait_for_load_state("networkidle")
    held: list[Route] = []
    page.route("**/api/v1/session", lambda r: held.append(r) if r.request.method == "GET" else r.continue_())
    # What the page may ask just then waits too: the note is typed before anything says that nobody is in.
    asked: list[Route] = []
    others = re.compile("/api/v1/(?!session)")
    page.route(others, lambda r: asked.append(r))
    page.context.clear_cookies(name="sessionid")
    page.get_by_label("Note").fill("Typed after it expired")
    page.wait_for_timeout(300)
    page.unroute(others)
    for route in asked:
        route.continue_()
    expect(page.get_by_text("What you entered waits behind this page")).to_be_visible()
    page.wait_for_timeout(300)
    # Who may enter was asked, and is answered only when somebody has entered.
    signed_out = [r.fetch() for r in held]
    assert [r.json()["person"] for r in signed_out] == [None]
    sign_in(page)
    expect(page.get_by_text("What you entered waits behind this page")).to_have_count(0)
    for route, reply in zip(held, signed_out, strict=True):
        route.fulfill(response=reply)
    page.wait_for_timeout(500)
    expect(page.get_by_label("Name", exact=True)).to_have_value("Half described")
    expect(page.get_by_label("Note")).to_have_value("Typed after it expired")


def sign_in(page: Page) -> None:
    page.get_by_label("Sign-in name").fill("owner")
    page.get_by_label("Password").fill("a long pass phrase")
    page.get_by_role("button", name="Sign in").click()


def test_what_the_server_breaks_on_or_never_answers_holds_nothing_back(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, own_server.url, "Technician")
    open_round(page, own_server.url, 1)
    page.wait_for_load_state("networkidle")
    breaks = {"1L": True, "2Lo": True}

    def serve(route: Route) -> Any:
        wheel = route.request.post_data_json["wheel"]
        if not breaks.get(wheel):
            return route.continue_()
        if wheel == "1L":
            return route.fulfill(status=500, json={"message": "Something broke on the server.", "fields": []})
        return None  # 2Lo hangs: nothing ever answers it.

    page.route("**/readings/**", serve)
    numbers = []
    for _ in range(3):
        # What asks for nothing, in the air of whatever day it is.
        numbers.append(should_show(page))
        type_reading(page, numbers[-1])
    # The third goes past both, once the second was waited for long enough.
    page.get_by_role("button", name="Look at them").click()
    expect(page.get_by_text(re.compile("Something broke on the server"))).to_be_visible()
    expect(page.get_by_text(re.compile("did not answer it in time"))).to_be_visible()
    expect(page.get_by_text("2 entries are not on the server yet")).to_be_visible()
    assert [typed for typed, _ in stored(own_server)] == [f"{numbers[2]} psi"]
    # Soon tried again, and "Send now" does not wait for what hangs.
    with page.expect_request(lambda r: "/readings/" in r.url and r.post_data_json["wheel"] == "2Lo"):
        pass
    breaks.clear()
    page.get_by_role("button", name="Send now").click()
    expect(page.get_by_text(BAR)).to_have_count(0)
    assert len(stored(own_server)) == 3


def test_readings_of_a_phone_that_comes_late_are_found_after_a_reload_and_taken_in(
    own_server: DemoServer, new_page: Pages
) -> None:
    page = new_page()
    enter(page, own_server.url, "Technician")
    open_round(page, own_server.url, 1)
    page.wait_for_load_state("networkidle")
    round_id = Visitor(own_server, "technician").call("GET", "/yard/1")[1]["open_round"]
    page.context.set_offline(True)
    first = should_show(page)
    type_reading(page, first)
    type_reading(page, should_show(page))
    expect(page.get_by_text("2 entries are kept in this browser")).to_be_visible()
    desk = Visitor(own_server, "fleet-maintainer")
    wheel = desk.call("GET", f"/rounds/{round_id}")[1]["wheels"][-2]["code"]
    desk.call(
        "PUT",
        f"/rounds/{round_id}/readings/6b1d6c1e-0000-4000-8000-000000000001",
        {"wheel": wheel, "pressure": "90 psi"},
    )
    assert desk.call("POST", f"/rounds/{round_id}/seal", {"unread_reason": "The phone is away"})[0] == 200
    held: list[Route] = []

    def one_by_one(route: Route) -> None:
        """The second is on its way still when the page has asked what the first came to."""
        held.append(route)
        if len(held) != 2:
            route.continue_()

    page.route("**/readings/*", one_by_one)
    page.context.set_offline(False)
    expect(page.get_by_text("1 entry came late: take it in, or leave it out")).to_be_visible()
    held[1].continue_()
    expect(page.get_by_text("2 entries came late: take them in, or leave them out")).to_be_visible()
    expect(page.get_by_text(BAR)).to_have_count(0)
    page.reload()
    page.get_by_role("link", name="Look at them").click()
    late = page.get_by_role("heading", name="Came late").locator("..")
    expect(late.get_by_text(f"{first} psi")).to_be_visible()
    late.get_by_role("button", name="Take all of them in").click()
    expect(page.get_by_text("Put right since")).to_be_visible()
    expect(page.get_by_role("heading", name="Came late")).to_have_count(0)
    expect(page.get_by_role("row").filter(has_text="Front left").first).to_contain_text(first)
    page.goto(own_server.url)
    expect(page.get_by_text(re.compile("came late"))).to_have_count(0)


def test_no_network_is_taken_back_at_the_first_answer(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, own_server.url, "Technician")
    open_round(page, own_server.url, 9)
    page.wait_for_load_state("networkidle")
    page.context.set_offline(True)
    type_reading(page, "33")
    away = page.get_by_text("No network: the round goes on")
    expect(away).to_be_visible()
    page.context.set_offline(False)
    # Asked every three seconds, and by what waits: never half a minute.
    expect(away).to_have_count(0, timeout=20_000)
    expect(page.get_by_text(re.compile("^1 of 2 read"))).to_be_visible()
    # What the page counts may be on its way still: it has arrived once the round says so.
    expect(page.get_by_text(re.compile("^Kept on the server"))).to_be_visible(timeout=30_000)
    assert stored(own_server) == [("33 psi", "technician")]
