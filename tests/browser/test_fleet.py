"""A fleet's people: asked in, given rounds, a day on the phone, out of service, and the Yard of a maintainer."""

import re
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path

import pyotp
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PHONE, enter, watch
from tests.browser.serving import DemoServer, EmptyServer, Visitor

pytestmark = pytest.mark.kept

Pages = Callable[..., Page]
PASSWORD = "kelp-anchor-lantern"


def menu(page: Page, name: str) -> None:
    page.get_by_role("button", name=re.compile("^(Fleet maintainer|Technician|Keeper|Deckhand|Menu)")).click()
    page.get_by_role("menuitem", name=name, exact=True).click()


def sign_in(page: Page, url: str, username: str, password: str = PASSWORD) -> None:
    page.goto(url)
    page.get_by_label("Sign-in name").fill(username)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()


def test_somebody_comes_in_by_a_link_with_a_second_factor_and_is_taken_off(empty: EmptyServer, new_page: Pages) -> None:
    keeper = new_page()
    wrong = watch(keeper)
    keeper.goto(empty.url)
    for label, text in (
        ("Workspace", "Copperfinch"),
        ("Your name", "Keeper"),
        ("Sign-in name", "keeper"),
        ("Password", PASSWORD),
    ):
        keeper.get_by_label(label).fill(text)
    keeper.get_by_role("button", name="Make the workspace").click()
    expect(keeper.get_by_role("heading", name="Yard")).to_be_visible()
    menu(keeper, "People and settings")
    keeper.get_by_role("button", name="Invite somebody").click()
    keeper.get_by_label("Name", exact=True).fill("Deckhand")
    keeper.get_by_role("button", name="Make the link").click()
    link = keeper.locator("code").inner_text()
    expect(keeper.get_by_text("invited as technician")).to_be_visible()

    guest = new_page(**PHONE)
    guest.goto(link)
    expect(guest.get_by_role("heading", name="Come aboard Copperfinch")).to_be_visible()
    guest.get_by_label("Sign-in name").fill("keeper")
    guest.get_by_label("Password").fill(PASSWORD)
    guest.get_by_role("button", name="Come in").click()
    expect(guest.get_by_text("is taken")).to_be_visible()
    guest.get_by_label("Sign-in name").fill("deckhand")
    guest.get_by_role("button", name="Come in").click()
    expect(guest.get_by_role("heading", name="Yard")).to_be_visible()
    # The key is nowhere in the address any more, and the link is good once.
    expect(guest).to_have_url(re.compile(r":\d+/$"))
    other = new_page()
    other.goto(link)
    expect(other.get_by_role("heading", name="This link is no more")).to_be_visible()

    menu(guest, "Your sign-in")
    guest.get_by_label("Your password").fill(PASSWORD)
    guest.get_by_role("button", name="Set it up").click()
    expect(guest.get_by_role("img", name="The code for the camera of the device")).to_be_visible()
    secret = guest.locator("form code").inner_text()
    guest.get_by_label("The digits it shows now").fill(pyotp.TOTP(secret).now())
    guest.get_by_role("button", name="Use it from now on").click()
    expect(guest.get_by_text("10 recovery codes are left")).to_be_visible()
    recovery = guest.locator("li code").first.inner_text()
    sign_in(other, empty.url, "deckhand")
    other.get_by_label("Six digits of your device").fill("000000")
    other.get_by_role("button", name="Sign in").click()
    expect(other.get_by_text("These are not the digits of now")).to_be_visible()
    other.get_by_label("Six digits of your device").fill(recovery)
    other.get_by_role("button", name="Sign in").click()
    expect(other.get_by_role("heading", name="Yard")).to_be_visible()
    # What is open elsewhere is seen, and ended from here.
    guest.reload()
    expect(guest.get_by_role("button", name="End it", exact=True)).to_have_count(1)
    guest.get_by_role("button", name="End it", exact=True).click()
    expect(guest.get_by_role("button", name="End it", exact=True)).to_have_count(0)
    other.reload()
    expect(other.get_by_label("Sign-in name")).to_be_visible()

    keeper.reload()
    row = keeper.get_by_role("listitem").filter(has_text="Deckhand")
    row.get_by_role("button", name="Take off").click()
    row.get_by_role("button", name="Yes, take off").click()
    expect(keeper.get_by_text("deckhand")).to_have_count(0)
    guest.reload()
    expect(guest.get_by_label("Sign-in name")).to_be_visible()
    assert wrong == []


def test_rounds_are_given_in_the_yard_and_stand_on_a_phone_without_a_network(
    own_server: DemoServer, new_page: Pages
) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, own_server.url)
    page.get_by_role("button", name="Choose rigs").click()
    for number in ("CF-05", "CF-09"):
        page.get_by_label(re.compile(f"^Choose {number}")).check()
    page.get_by_role("button", name="Give their rounds").click()
    page.get_by_label("Give the rounds to").click()
    page.get_by_role("option", name="Technician").click()
    expect(page.get_by_text("2 rounds to Technician.")).to_be_visible()
    page.get_by_role("button", name="Give 2 rounds").click()
    expect(page.get_by_text("2 rounds given to Technician.")).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("CF-09 Parsec.*Technician, today"))).to_be_visible()
    page.get_by_role("button", name="Take that back").click()
    expect(page.get_by_role("link", name=re.compile("CF-09 Parsec.*Technician, today"))).to_have_count(0)

    phone = new_page(**PHONE)
    enter(phone, own_server.url, "Technician")
    phone.get_by_role("link", name="Your day").tap()
    expect(phone.get_by_text("3 rounds, 1 of them over, CF-08 Analemma first")).to_be_visible()
    phone.wait_for_function("navigator.serviceWorker.ready.then(() => true)")
    phone.wait_for_load_state("networkidle")
    phone.wait_for_timeout(1500)
    phone.context.set_offline(True)
    phone.goto(f"{own_server.url}/day")
    expect(phone.get_by_text("This is your day as it was last read")).to_be_visible()
    expect(phone.get_by_role("link", name=re.compile("CF-08 Analemma"))).to_be_visible()
    phone.context.set_offline(False)
    expect(phone.get_by_text("This is your day as it was last read")).to_have_count(0)
    # One tap, and another has it; it is seen there without a reload.
    menu(page, "Your day")
    expect(page.get_by_text("No round for today")).to_be_visible()
    phone.get_by_role("button", name="Hand over the round of Technician").first.tap()
    phone.get_by_role("menuitem", name="Fleet maintainer").tap()
    expect(phone.get_by_text("2 rounds, CF-01 Almagest first")).to_be_visible()
    expect(page.get_by_text("1 round, over: CF-08 Analemma")).to_be_visible()
    assert wrong == []


def test_out_of_service_stands_on_every_screen_until_it_is_signed_off(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, own_server.url)
    page.goto(f"{own_server.url}/rigs/9")
    page.get_by_role("button", name="Take it out of service").click()
    page.get_by_label("Why it must not roll").fill("Cord seen at the front tire")
    page.get_by_role("button", name="Out of service", exact=True).click()
    said = page.get_by_text(re.compile("Out of service since .*: Cord seen at the front tire")).first
    expect(said).to_be_visible()
    for stage in ("weighing", "targets", "air", "rounds", "lookback", "ground", "card"):
        page.goto(f"{own_server.url}/rigs/9/{stage}")
        expect(said).to_be_visible()
    page.goto(f"{own_server.url}/?lines=out")
    expect(page.get_by_role("link", name=re.compile("Parsec.*Out of service"))).to_be_visible()
    page.goto(f"{own_server.url}/rigs/9")
    page.get_by_role("button", name="Sign it off").click()
    page.get_by_label("What was done").fill("New tire")
    page.get_by_label("Your name, as a signature").fill("Somebody")
    page.get_by_role("button", name="It may roll again").click()
    expect(page.get_by_text("Sign with your own name")).to_be_visible()
    page.get_by_label("Your name, as a signature").fill("Fleet maintainer")
    page.get_by_role("button", name="It may roll again").click()
    expect(said).to_have_count(0)
    page.get_by_role("button", name="When it was out of service").click()
    expect(page.get_by_text("New tire")).to_be_visible()


def test_a_workspace_goes_out_as_a_file_and_comes_into_a_new_one(
    own_server: DemoServer, new_page: Pages, tmp_path: Path
) -> None:
    page = new_page()
    enter(page, own_server.url)
    page.goto(f"{own_server.url}/people")
    expect(page.get_by_text(re.compile(r"10 rigs, [\d,]+ rounds with [\d,]+ readings"))).to_be_visible()
    with page.expect_download() as fetched:
        page.get_by_role("link", name="Fetch the archive").click()
    archive, half = tmp_path / "fleet.zip", tmp_path / "half.zip"
    fetched.value.save_as(archive)
    half.write_bytes(archive.read_bytes()[:200_000])
    page.goto(f"{own_server.url}/you")
    page.get_by_label("A further one, empty").fill("Second yard")
    page.get_by_role("button", name="Begin it").click()
    expect(page.get_by_role("heading", name="No rig yet")).to_be_visible()
    page.get_by_role("link", name="Bring its archive in").click()
    chooser = page.get_by_label("An archive (ZIP) to bring in")
    chooser.set_input_files(half)
    expect(page.get_by_text("or not the whole of one")).to_be_in_viewport()
    chooser.set_input_files(archive)
    expect(page.get_by_text("Copperfinch Sky Caravan is here:")).to_be_in_viewport(timeout=60_000)
    expect(page.get_by_text(re.compile("Nobody of it may come in yet: .*Technician"))).to_be_visible()
    page.get_by_role("link", name="To the Yard").click()
    expect(page.get_by_text("of 10 rigs ask for you")).to_be_visible()
    page.goto(f"{own_server.url}/you")
    expect(page.get_by_role("listitem").filter(has_text="Copperfinch Sky Caravan")).to_have_count(2)


def test_tags_and_views_narrow_the_yard_and_are_taken_back(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, own_server.url)
    page.get_by_role("button", name="Choose rigs").click()
    for number in ("CF-01", "CF-08"):
        page.get_by_label(re.compile(f"^Choose {number}")).check()
    page.get_by_role("button", name="Tag", exact=True).click()
    page.get_by_label("Tag", exact=True).fill("North depot")
    page.get_by_role("button", name="Tag 2 rigs").click()
    page.get_by_role("button", name="North depot 2").click()
    expect(page.get_by_text("2 fit")).to_be_visible()
    page.get_by_role("button", name="Keep this view").click()
    page.get_by_label("What you call this view").fill("Up north")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page).to_have_url(re.compile(r"tags=\d+"))
    page.goto(own_server.url)
    expect(page.get_by_role("link", name=re.compile("CF-05 Gibbous"))).to_be_visible()
    page.get_by_role("button", name="Up north").click()
    expect(page.get_by_text("2 fit")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="CSV").click()
    text = download.value.path().read_text()
    assert [line.split(",")[0] for line in text.splitlines()[1:]] == ["CF-01 Almagest", "CF-08 Analemma"]
    assert wrong == []


def test_whose_tires_want_air_today_are_found_and_their_cards_printed(
    own_server: DemoServer, new_page: Pages, tmp_path: Path
) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, own_server.url)
    chip = page.get_by_role("button", name=re.compile("^Air today"))
    count = int(chip.inner_text().split()[-1])
    chip.click()
    lines = page.locator("main li[data-index]")
    expect(lines).to_have_count(count)
    expect(page).to_have_url(re.compile("air=1"))
    # Each stands below the one before it, however high that is.
    boxes = [box for line in lines.all() if (box := line.bounding_box())]
    assert all(a["y"] + a["height"] <= b["y"] + 2 for a, b in pairwise(boxes))
    page.get_by_role("button", name="Choose rigs").click()
    # How many there are is the weather's of the day: the leak is always one.
    for at in range(min(count, 2)):
        page.get_by_role("checkbox").nth(at).check()
    for link, file in (("Cards, PDF", "cards.pdf"), ("Blank rounds, PDF", "rounds.pdf")):
        with page.expect_download() as started:
            page.get_by_role("link", name=link).click()
        started.value.save_as(tmp_path / file)
        assert (tmp_path / file).read_bytes().startswith(b"%PDF")
    page.goto(f"{own_server.url}/morning")
    wanting = page.locator("main h2").filter(has_text=re.compile(r"\d tires? wants? air"))
    expect(wanting).to_have_count(count)
    assert wrong == []


def test_what_is_due_and_who_checked_what(server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    enter(page, server.url)
    menu(page, "What is due")
    page.get_by_label("Filter what is due").fill("analemma")
    expect(page.get_by_role("link", name="CF-01 Almagest")).to_have_count(0)
    expect(page.get_by_role("heading", name="Due", exact=True)).to_be_visible()
    page.get_by_role("button", name="One for the rounds given to you").click()
    address = page.locator("code").inner_text()
    assert page.request.get(address).text().startswith("BEGIN:VCALENDAR")
    page.get_by_role("button", name="Take it back").click()
    expect(page.get_by_role("button", name="Take it back")).to_have_count(0)
    assert page.request.get(address).status == 404
    menu(page, "Checks")
    page.get_by_label("Read by").click()
    page.get_by_role("option", name="Fleet maintainer").click()
    expect(page.get_by_text(re.compile("Fleet maintainer with G1")).first).to_be_visible()
    expect(page.get_by_text(re.compile("^Technician with"))).to_have_count(0)
    # Sixty of them, and those before in their place.
    first = page.locator("main li").first.inner_text()
    page.get_by_role("button", name="Earlier checks").click()
    expect(page.get_by_role("button", name="Later checks")).to_be_enabled()
    expect(page.locator("main li").first).not_to_have_text(first)
    # The list begins at its head.
    expect(page.locator("main li").first).to_be_in_viewport()
    before = page.locator("main li").first.inner_text()
    # Whoever opens one comes back to the same place.
    page.locator("main li").first.get_by_role("link").click()
    expect(page.get_by_role("heading", name=re.compile("^Round of"))).to_be_visible()
    page.go_back()
    expect(page.locator("main li").first).to_have_text(before, use_inner_text=True)
    expect(page.get_by_label("Read by")).to_have_text("Fleet maintainer")
    page.get_by_role("button", name="Later checks").click()
    expect(page.locator("main li").first).to_have_text(first, use_inner_text=True)
    # The same the other way round, and of no day that is yet to come.
    page.get_by_label("Order").click()
    page.get_by_role("option", name="Oldest first").click()
    expect(page.get_by_role("button", name="Later checks")).to_be_visible()
    expect(page.locator("main li").first).not_to_have_text(first)
    page.get_by_label("From", exact=True).fill("2099-01-01")
    expect(page.get_by_text("No sealed round fits.")).to_be_visible()


def test_a_fleet_too_long_for_one_request_is_brought_in(
    own_server: DemoServer, new_page: Pages, tmp_path: Path
) -> None:
    size = "225/75R16C 121/120R,525 kPa"
    head = "row,rig,kind,name,gvwr_kg,note,position_m,track_m,wheels,tire_size,sidewall_max_kpa,wheel"
    rows = [
        row
        for i in range(420)
        for row in (
            f'rig,L-{i:03},van,Van,3500 kg,"Two lines,\nand a comma"',
            f"axle,L-{i:03},,,,,0,1.7,2,{size}",
            f"axle,L-{i:03},,,,,3.6,1.7,2,{size}",
            f"tire,L-{i:03},,,,,,,,,,1L",
            f"tire,L-{i:03},,,,,,,,,,1R",
        )
    ]
    page = new_page()
    enter(page, own_server.url)
    page.get_by_role("link", name="Import", exact=True).click()
    wrong = [*rows]
    wrong[5 * 300] = "rig,L-300,hovercraft,Odd,,"
    (tmp_path / "wrong.csv").write_text("\n".join([head, *wrong]))
    page.locator("input[type=file]").set_input_files(tmp_path / "wrong.csv")
    expect(page.get_by_text("419 rigs and 838 tires")).to_be_visible(timeout=60_000)
    expect(page.get_by_text("3 rows are refused")).to_be_visible()
    expect(page.get_by_role("row").filter(has_text="Odd, hovercraft")).to_contain_text("Choose one of Coach")
    expect(page.get_by_role("button", name="Import them")).to_be_disabled()
    (tmp_path / "all.csv").write_bytes("\r\n".join([head, *rows]).encode("utf-16"))
    page.locator("input[type=file]").set_input_files(tmp_path / "all.csv")
    expect(page.get_by_text("420 rigs and 840 tires")).to_be_visible(timeout=60_000)
    page.get_by_role("button", name="Import them").click()
    expect(page.get_by_role("heading", name="Yard")).to_be_visible(timeout=30_000)
    page.get_by_role("searchbox").first.fill("l-419")
    expect(page.get_by_role("link", name="L-419 Van")).to_be_visible()


def test_targets_of_many_rigs_are_told_put_in_force_and_taken_back(own_server: DemoServer, new_page: Pages) -> None:
    page = new_page()
    wrong = watch(page)
    enter(page, own_server.url)
    # A fifth more than is carried: of the coach nothing contradicts, of the tractor an end is assumed.
    keeper = Visitor(own_server, "fleet-maintainer")
    for rig in (1, 3):
        assert keeper.call("PUT", f"/rigs/{rig}/policy", {"reserve": 0.2})[0] == 200
    page.reload()
    page.get_by_role("button", name="Choose rigs").click()
    for number in ("CF-01", "CF-03", "CF-09"):
        page.get_by_label(re.compile(f"^Choose {number}")).check()
    page.get_by_role("button", name="Targets", exact=True).click()
    expect(page.get_by_text("1 rig would get these; 1 rig has its own already.")).to_be_visible()
    expect(page.get_by_role("listitem").filter(has_text="CF-01 Almagest").first).to_contain_text(
        "Front 90 psi → 105 psi"
    )
    page.get_by_role("button", name="1 rig left as they are").click()
    expect(page.get_by_text("Front: The heavier end is assumed, not weighed.")).to_be_visible()
    page.get_by_role("button", name="Put them in force for 1 rig").click()
    expect(page.get_by_text("Targets put in force for 1 rig.")).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("CF-01.*another target at 1L"))).to_be_visible()
    page.get_by_role("button", name="Take that back").click()
    expect(page.get_by_role("link", name=re.compile("CF-01.*another target at 1L"))).to_have_count(0)
    page.goto(f"{own_server.url}/rigs/1/targets")
    page.get_by_role("button", name="Earlier targets").click()
    expect(page.get_by_text("· taken back")).to_be_visible()
    assert wrong == []
