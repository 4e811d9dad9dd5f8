"""Who comes in and how: links, a second factor, sessions, keys, and how often a wrong try may be made."""

import datetime as dt
from collections.abc import Callable
from ipaddress import ip_network
from typing import Any

import pyotp
import pytest
from axes.models import AccessFailureLog, AccessLog
from django.test import Client, RequestFactory
from django.utils import timezone

from ballast.server.accounts import sessions, throttle
from ballast.server.accounts.models import Link, Membership, OpenSession, Person, RecoveryCode, SecondFactor, Workspace
from ballast.server.edge.address import address_of
from tests.server.conftest import Api, Fleet

PASSWORD, ANOTHER = "kelp-anchor-lantern", "otter-basalt-thimble"
NEW = {"name": "Deckhand", "username": "deckhand", "password": PASSWORD}
As = Callable[[str], Api]


@pytest.fixture
def keeper(people: dict[str, Person]) -> Person:
    """The manager, with a password."""
    people["manager"].set_password(PASSWORD)
    people["manager"].save()
    return people["manager"]


def enter(**more: Any) -> Api:
    api = Api(Client())
    api.ok("POST", "/session", {"username": "manager", "password": PASSWORD} | more)
    return api


def member_of(api: Api, username: str) -> Any:
    return next(p for p in api.ok("GET", "/people") if p["username"] == username)


def test_an_invitation_lets_one_person_in_once(api: Api) -> None:
    made = api.ok("POST", "/links", {"name": "Deckhand", "role": "technician"})
    assert Link.objects.get().key_hash not in made["key"]
    guest = Api(Client())
    asked = guest.ok("POST", "/join/asked", {"key": made["key"]})
    assert (asked["workspace"], asked["role"], asked["made_by"]) == ("Ours", "technician", "Manager")
    # What cannot be is told, and the link is still good.
    assert guest.no("POST", "/join", {**NEW, "key": made["key"], "username": "viewer"}, 409, "username")
    assert guest.no("POST", "/join", {**NEW, "key": made["key"], "password": "short"}, 422, "password")
    session = guest.ok("POST", "/join", {**NEW, "key": made["key"]})
    assert (session["name"], session["role"], session["workspace"]["name"]) == ("Deckhand", "technician", "Ours")
    told = Api(Client()).no("POST", "/join", {**NEW, "key": made["key"], "username": "second"}, 422, "key")
    assert "was used" in told
    assert api.ok("GET", "/links") == []


def test_an_invitation_ends_after_three_days_or_when_it_is_taken_back(api: Api, stranger: Api) -> None:
    made = api.ok("POST", "/links", {"name": "Deckhand", "role": "viewer"})
    link = Link.objects.get()
    assert link.ends_at - link.made_at == dt.timedelta(hours=72)
    assert stranger.call("DELETE", f"/links/{link.pk}").status_code == 404
    assert api.ok("DELETE", f"/links/{link.pk}") == []
    assert Api(Client()).no("POST", "/join", {**NEW, "key": made["key"]}, 422, "key")
    late = api.ok("POST", "/links", {"name": "Deckhand", "role": "viewer"})
    Link.objects.filter(ended_at=None).update(ends_at=timezone.now() - dt.timedelta(seconds=1))
    assert Api(Client()).no("POST", "/join/asked", {"key": late["key"]}, 422, "key")


def test_somebody_of_another_workspace_comes_in_as_themselves(api: Api, stranger: Api) -> None:
    key = api.ok("POST", "/links", {"name": "Stranger", "role": "viewer"})["key"]
    session = stranger.ok("POST", "/session/join", {"key": key})
    assert (session["workspace"]["name"], session["role"]) == ("Ours", "viewer")
    assert [w["name"] for w in session["workspaces"]] == ["Theirs", "Ours"]
    again = api.ok("POST", "/links", {"name": "Stranger", "role": "manager"})["key"]
    assert "already" in stranger.no("POST", "/session/join", {"key": again}, 409, "key")
    # A manager here does not get in there by setting their password.
    told = api.no("POST", f"/people/{member_of(api, 'stranger')['id']}/reset", {}, 409)
    assert "another workspace too" in told


def test_who_is_kept_out_is_out_at_once_and_may_come_back(api: Api, api_as: As) -> None:
    technician = api_as("technician")
    member = member_of(api, "technician")
    assert api.ok("PUT", f"/people/{member['id']}/off", {"off": True})["off"] is True
    assert technician.call("GET", "/yard").status_code == 401
    assert [p["off"] for p in api.ok("GET", "/people")] == [False, False, True]
    api.ok("PUT", f"/people/{member['id']}/off", {"off": False})
    assert technician.ok("GET", "/session")["role"] == "technician"
    assert technician.ok("GET", "/session")["key_roles"] == ["technician", "viewer"]
    own = member_of(api, "manager")["id"]
    for method, path, body in (("PUT", f"/people/{own}/off", {"off": True}), ("DELETE", f"/people/{own}", None)):
        assert "last manager" in api.no(method, path, body, 409)


def test_who_is_taken_off_leaves_what_they_did_under_their_name(
    aimed: Fleet, api_as: As, people: dict[str, Person]
) -> None:
    technician = api_as("technician")
    opened = technician.ok("POST", f"/rigs/{aimed.rig}/rounds", aimed.conditions())
    technician.ok(
        "PUT", f"/rounds/{opened['id']}/readings/7f2b1a52-4f0e-4e63-8f3b-2f6f1f1a0001", {"wheel": "1L", "pressure": 624}
    )
    technician.ok("POST", f"/rounds/{opened['id']}/seal", {"unread_reason": "dark"})
    key = technician.ok("POST", "/keys", {"name": "Script", "role": "viewer"})["key"]
    aimed.api.ok("DELETE", f"/people/{member_of(aimed.api, 'technician')['id']}")
    assert technician.call("GET", "/yard").status_code == 401
    assert Api(Client(headers={"Authorization": f"Bearer {key}"})).call("GET", "/yard").status_code == 401
    assert aimed.api.ok("GET", f"/lookback/{aimed.rig}/rounds")["rounds"][0]["by"] == "Technician"
    people["technician"].set_password(ANOTHER)
    people["technician"].save()
    body = {"username": "technician", "password": ANOTHER}
    assert "no workspace any more" in Api(Client()).no("POST", "/session", body, 422, "username")


def test_a_reset_sets_a_new_password_once_and_ends_what_was_open(api: Api, people: dict[str, Person]) -> None:
    people["viewer"].set_password(PASSWORD)
    people["viewer"].save()
    before = Api(Client())
    before.ok("POST", "/session", {"username": "viewer", "password": PASSWORD})
    member = member_of(api, "viewer")["id"]
    first = api.ok("POST", f"/people/{member}/reset", {})["key"]
    key = api.ok("POST", f"/people/{member}/reset", {})["key"]
    guest = Api(Client())
    assert guest.no("POST", "/join/asked", {"key": first}, 422, "key")
    assert guest.ok("POST", "/join/asked", {"key": key})["username"] == "viewer"
    assert guest.no("POST", "/join", {**NEW, "key": key}, 422, "key")
    assert guest.no("POST", "/join/password", {"key": key, "password": "viewer12345"}, 422, "password")
    guest.ok("POST", "/join/password", {"key": key, "password": ANOTHER})
    # It signs nobody in, and is used up.
    assert guest.ok("GET", "/session")["name"] is None
    assert guest.no("POST", "/join/password", {"key": key, "password": PASSWORD}, 422, "key")
    assert before.call("GET", "/yard").status_code == 401
    assert guest.no("POST", "/session", {"username": "viewer", "password": PASSWORD}, 422, "password")
    guest.ok("POST", "/session", {"username": "viewer", "password": ANOTHER})


def test_a_password_of_ones_own_is_changed_and_the_other_sessions_end(keeper: Person) -> None:
    here, there = enter(), enter()
    assert here.no("PUT", "/session/password", {"old": "wrong", "new": ANOTHER}, 422, "password")
    assert here.no("PUT", "/session/password", {"old": PASSWORD, "new": "manager123"}, 422, "new")
    here.ok("PUT", "/session/password", {"old": PASSWORD, "new": ANOTHER})
    assert here.ok("GET", "/session")["name"] == "Manager"
    assert there.call("GET", "/yard").status_code == 401
    enter(password=ANOTHER)


def test_a_second_factor_is_asked_for_and_a_code_is_good_once(keeper: Person) -> None:
    api = enter()
    assert api.ok("GET", "/session/factor") == {"on": False, "since": None, "codes": 0}
    begun = api.ok("POST", "/session/factor", {"password": PASSWORD})
    assert begun["address"].startswith("otpauth://totp/Gentle%20Ballast:manager?secret=" + begun["secret"])
    assert len(begun["squares"]) == len(begun["squares"][0]) >= 21
    # Begun counts for nothing.
    enter()
    assert api.no("PUT", "/session/factor", {"code": "000000"}, 422, "code")
    now = pyotp.TOTP(begun["secret"])
    codes = api.ok("PUT", "/session/factor", {"code": now.now()})["codes"]
    assert len(set(codes)) == 10
    assert not RecoveryCode.objects.filter(key_hash__in=codes).exists()
    sign_in = {"username": "manager", "password": PASSWORD}
    told = Api(Client()).no("POST", "/session", sign_in, 422, "code")
    assert "six digits" in told
    # The digits that confirmed it are used up; the device's next are not.
    assert Api(Client()).no("POST", "/session", sign_in | {"code": now.now()}, 422, "code")
    SecondFactor.objects.update(last_step=0)
    enter(code=f"{now.now()[:3]} {now.now()[3:]}")
    enter(code=codes[0].upper())
    assert Api(Client()).no("POST", "/session", sign_in | {"code": codes[0]}, 422, "code")
    assert api.ok("GET", "/session/factor")["codes"] == 9
    anew = api.ok("POST", "/session/factor/codes", {"password": PASSWORD})["codes"]
    assert Api(Client()).no("POST", "/session", sign_in | {"code": codes[1]}, 422, "code")
    enter(code=anew[0])
    assert api.no("POST", "/session/factor/off", {"password": "wrong"}, 422, "password")
    assert api.ok("POST", "/session/factor/off", {"password": PASSWORD})["on"] is False
    enter()


def test_wrong_digits_wait_like_wrong_passwords(keeper: Person) -> None:
    SecondFactor.objects.create(person=keeper, secret=pyotp.random_base32(), confirmed_at=timezone.now())
    sign_in = {"username": "manager", "password": PASSWORD, "code": "000000"}
    said = [Api(Client()).call("POST", "/session", sign_in).status_code for _ in range(6)]
    assert said == [422, 422, 422, 422, 422, 429]


def test_a_reset_takes_a_lost_device_off_where_it_says_so(api: Api, people: dict[str, Person]) -> None:
    viewer = people["viewer"]
    SecondFactor.objects.create(person=viewer, secret=pyotp.random_base32(), confirmed_at=timezone.now())
    member = member_of(api, "viewer")["id"]
    for factor, left in ((False, True), (True, False)):
        key = api.ok("POST", f"/people/{member}/reset", {"factor": factor})["key"]
        Api(Client()).ok("POST", "/join/password", {"key": key, "password": ANOTHER})
        assert SecondFactor.objects.filter(person=viewer).exists() is left


def test_sessions_are_seen_and_ended_from_anywhere(keeper: Person, stranger: Api) -> None:
    here = enter()
    phone = Api(Client(headers={"User-Agent": "Mozilla/5.0 (Linux; Android 15) Chrome/140.0 Mobile"}))
    phone.ok("POST", "/session", {"username": "manager", "password": PASSWORD})
    shown = here.ok("GET", "/sessions")
    assert [(s["device"], s["here"]) for s in shown] == [("Chrome, phone or tablet", False), ("Not known", True)]
    assert stranger.call("DELETE", f"/sessions/{shown[0]['id']}").status_code == 404
    OpenSession.objects.update(seen_at=timezone.now() - dt.timedelta(hours=1))
    phone.ok("GET", "/session")
    assert here.ok("GET", "/sessions")[0]["device"].startswith("Chrome")
    assert len(here.ok("DELETE", f"/sessions/{shown[0]['id']}")) == 1
    assert phone.call("GET", "/yard").status_code == 401
    enter()
    assert len(here.ok("DELETE", "/sessions")) == 1
    here.ok("DELETE", "/session")
    assert not OpenSession.objects.exists()
    assert sessions.forget() == 0


def test_a_key_may_what_its_role_may_and_no_more_than_its_person(api_as: As, people: dict[str, Person]) -> None:
    technician = api_as("technician")
    assert technician.no("POST", "/keys", {"name": "Script", "role": "manager"}, 422, "role")
    made = technician.ok("POST", "/keys", {"name": "Script", "role": "technician"})
    script = Api(Client(enforce_csrf_checks=True, headers={"Authorization": f"Bearer {made['key']}"}))
    gauge = {"label": "S1", "kind": "digital", "low_kpa": 0, "high_kpa": 1100, "resolution_kpa": 1}
    script.ok("POST", "/gauges", gauge)
    assert script.no("PUT", "/settings", {"reserve": 0.1, "step": "1 psi", "place_key": ""}, 403)
    # Nothing of who comes in is settled by a key.
    for method, path, body in (
        ("POST", "/keys", {"name": "More", "role": "viewer"}), ("GET", "/keys", None), ("GET", "/sessions", None),
        ("DELETE", "/sessions", None), ("PUT", "/session/password", {"old": "a", "new": ANOTHER}),
        ("POST", "/session/factor", {"password": "a"}), ("PUT", "/session/factor", {"code": "1"}),
        ("PUT", "/session/workspace", {"workspace": 1}),
    ):  # fmt: skip
        assert "in person" in script.no(method, path, body, 403), path
    Membership.objects.filter(person=people["technician"]).update(role="viewer")
    assert script.call("POST", "/gauges", gauge | {"label": "S2"}).status_code == 403
    assert script.call("GET", "/gauges").status_code == 200
    line = api_as("manager").ok("GET", "/keys")[0]
    assert (line["person"], line["own"], line["used_on"]) == ("Technician", False, str(timezone.now().date()))
    assert api_as("viewer").ok("GET", "/keys") == []
    assert api_as("stranger").call("DELETE", f"/keys/{line['id']}").status_code == 404
    technician.ok("DELETE", f"/keys/{line['id']}")
    assert script.call("GET", "/gauges").status_code == 401


def test_what_a_key_writes_is_on_record_by_its_persons_name(fleet: Fleet) -> None:
    key = fleet.api.ok("POST", "/keys", {"name": "Script", "role": "manager"})["key"]
    script = Api(Client(headers={"Authorization": f"Bearer {key}"}))
    body = fleet.api.ok("GET", f"/rigs/{fleet.rig}")
    script.ok("PUT", f"/rigs/{fleet.rig}/odometer", {"odometer": "90000 km"})
    script.ok("PUT", f"/rigs/{fleet.rig}/laid-up", {"until": "2027-02-01"})
    assert body["name"]
    assert {c["who"] for c in fleet.api.ok("GET", f"/rigs/{fleet.rig}/history")} == {"Manager"}


@pytest.mark.parametrize(
    ("failures", "seconds"), [(0, 0), (4, 0), (5, 10), (6, 20), (8, 80), (11, 640), (12, 900), (40, 900)]
)
def test_each_wait_is_twice_the_one_before(db: None, failures: int, seconds: int) -> None:
    tried("keeper", "192.0.2.7", failures)
    assert round(throttle.wait("Keeper", "192.0.2.7").total_seconds()) == (seconds if failures < 30 else 900)
    assert throttle.wait("keeper", "192.0.2.8") == dt.timedelta()
    assert throttle.wait("other", "192.0.2.7") == dt.timedelta() or failures >= 30


def tried(name: str, address: str, times: int) -> None:
    AccessFailureLog.objects.bulk_create(AccessFailureLog(username=name, ip_address=address) for _ in range(times))


def test_a_name_tried_from_everywhere_gives_strangers_one_try_and_its_owner_what_he_had(db: None) -> None:
    for n in range(25):
        tried("keeper", f"198.51.100.{n}", 1)
    assert round(throttle.wait("keeper", "198.51.100.3").total_seconds()) == 10
    AccessLog.objects.create(username="keeper", ip_address="192.0.2.7")
    tried("keeper", "192.0.2.7", 4)
    assert throttle.wait("keeper", "192.0.2.7") == dt.timedelta()
    # Whoever comes from where nobody tried before gets a try too, were he the owner.
    assert throttle.wait("keeper", "203.0.113.5") == dt.timedelta()


def test_many_names_from_one_address_wait(db: None) -> None:
    for n in range(30):
        tried(f"name{n}", "192.0.2.7", 1)
    assert round(throttle.wait("another", "192.0.2.7").total_seconds()) == 10
    assert throttle.wait("another", "192.0.2.8") == dt.timedelta()
    AccessFailureLog.objects.update(attempt_time=timezone.now() - dt.timedelta(days=2))
    assert throttle.wait("another", "192.0.2.7") == dt.timedelta()
    assert throttle.forget() == 30


@pytest.mark.parametrize(
    ("remote", "said", "address"),
    [
        ("192.0.2.7", "", "192.0.2.7"),
        ("192.0.2.7", "198.51.100.1", "192.0.2.7"),
        ("10.0.0.2", "198.51.100.1", "198.51.100.1"),
        ("10.0.0.2", "1.1.1.1, 198.51.100.1, 10.0.0.9", "198.51.100.1"),
        ("10.0.0.2", "nonsense", ""),
        ("::ffff:10.0.0.2", "198.51.100.1", "198.51.100.1"),
        ("2001:db8:1:2:3:4:5:6", "", "2001:db8:1:2::"),
        ("::ffff:192.0.2.7", "", "192.0.2.7"),
    ],
)
def test_proxies_are_believed_where_they_are_trusted(settings: Any, remote: str, said: str, address: str) -> None:
    settings.TRUSTED_PROXIES = [ip_network("10.0.0.0/8")]
    assert address_of(RequestFactory().get("/", REMOTE_ADDR=remote, HTTP_X_FORWARDED_FOR=said)) == address


def test_how_the_api_is_called_is_told_to_whoever_is_signed_in(api: Api) -> None:
    assert Client().get("/api/v1/openapi.json").status_code == 401
    assert "/api/v1/yard" in api.client.get("/api/v1/openapi.json").json()["paths"]


def test_other_workspaces_of_a_person_stay_when_one_takes_them_off(
    api: Api, stranger: Api, people: dict[str, Person]
) -> None:
    Membership.objects.create(person=people["stranger"], workspace=Workspace.objects.get(name="Ours"), role="viewer")
    api.ok("DELETE", f"/people/{member_of(api, 'stranger')['id']}")
    assert stranger.ok("GET", "/session")["workspace"]["name"] == "Theirs"


def test_people_come_page_by_page_as_they_are_looked_for(
    api: Api, stranger: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("ballast.server.accounts.people.PAGE", 2)

    def names(asked: str = "") -> tuple[list[str], int, int]:
        page = api.ok("GET", f"/people/page?{asked}")
        return [p["name"] for p in page["people"]], page["total"], page["found"]

    assert names() == (["Manager", "Technician"], 3, 3)
    assert names("first=2") == (["Viewer"], 3, 3)
    assert names("find=TECH%20technician") == (["Technician"], 3, 1)
    assert names("find=stranger") == ([], 3, 0)
    file = api.call("GET", "/people.csv?find=tech").getvalue().decode()
    assert file.splitlines() == ["name,sign_in_name,role,may_come_in", "Technician,technician,technician,yes"]
    assert [p["name"] for p in stranger.ok("GET", "/people/page")["people"]] == ["Stranger"]
    Person.objects.filter(username="viewer").update(first_name="äNN")
    assert names() == (["Manager", "Technician"], 3, 3)
    # A letter beyond z is found in either size.
    assert names("find=%C3%84nn")[0] == ["äNN"]
    Person.objects.filter(username="viewer").update(first_name="ann")
    assert names() == (["ann", "Manager"], 3, 3)
    assert names("sort=role") == (["Manager", "Technician"], 3, 3)
    api.ok("PUT", f"/people/{member_of(api, 'technician')['id']}/off", {"off": True})
    assert names("sort=role") == (["Manager", "ann"], 3, 3)
