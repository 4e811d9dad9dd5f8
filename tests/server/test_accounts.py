import copy
import json
from typing import Any

import pytest
from django.conf import settings
from django.test import Client

from ballast.server.accounts.models import Membership, Person, Workspace
from tests.server.conftest import COACH, Api, Fleet

PASSWORD = "kelp-anchor-lantern"
FIRST = {"workspace": "Copperfinch", "name": "Keeper", "username": "keeper", "password": PASSWORD}


@pytest.fixture(autouse=True)
def one_day() -> None:
    """What counts wrong tries holds the clock by a name of its own: here all keep the real one."""


@pytest.fixture
def nobody() -> Api:
    return Api(Client())


def test_the_first_run_makes_a_manager_and_happens_once(db: None, nobody: Api) -> None:
    assert nobody.ok("GET", "/session")["first_run"] is True
    session = nobody.ok("POST", "/first-run", FIRST)
    assert (session["name"], session["role"], session["workspace"]["name"]) == ("Keeper", "manager", "Copperfinch")
    assert session["first_run"] is False
    told = Api(Client()).no("POST", "/first-run", FIRST | {"username": "other"}, 409)
    assert "sign in" in told
    assert Person.objects.count() == 1
    assert Person.objects.get().password.startswith("argon2")


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"password": "short"}, "password"),
        ({"password": "1234567890123"}, "password"),
        ({"password": "password123"}, "password"),
        ({"password": "ann-ann-ann"}, "password"),
        ({"password": "bdfhjlnprt"}, "password"),
        ({"name": "Kee\u202eper"}, "name"),
        ({"username": ""}, "username"),
        ({"username": "two words"}, "username"),
        ({"workspace": " "}, "workspace"),
        ({"name": "x" * 81}, "name"),
        ({"name": "bell\x07"}, "name"),
    ],
)
def test_a_first_run_that_cannot_be_is_told(db: None, nobody: Api, change: dict[str, Any], field: str) -> None:
    assert nobody.no("POST", "/first-run", FIRST | change, 422, field)
    assert not Person.objects.exists()
    assert not Workspace.objects.exists()


def test_signing_in_and_out(db: None, nobody: Api) -> None:
    nobody.ok("POST", "/first-run", FIRST)
    assert nobody.ok("DELETE", "/session")["name"] is None
    nobody.call("GET", "/yard")
    told = nobody.no("POST", "/session", {"username": "keeper", "password": "wrong"}, 422, "password")
    assert "do not go together" in told
    session = nobody.ok("POST", "/session", {"username": "keeper", "password": PASSWORD})
    assert session["workspace"]["name"] == "Copperfinch"


def test_wrong_tries_are_throttled_with_json(db: None, nobody: Api) -> None:
    nobody.ok("POST", "/first-run", FIRST)
    nobody.ok("DELETE", "/session")
    codes = [
        nobody.call("POST", "/session", {"username": "keeper", "password": f"wrong{i}"}).status_code for i in range(9)
    ]
    assert codes[0] == 422
    assert codes[-1] == 429
    # The right password waits too, and is told so beside its field.
    told = nobody.no("POST", "/session", {"username": "keeper", "password": PASSWORD}, 429, "password")
    assert told == "Too many wrong tries. Wait 10 seconds, then try again."


def test_signing_in_is_itself_csrf_checked(db: None) -> None:
    strict = Client(enforce_csrf_checks=True)
    for path, body in (
        ("/session", {"username": "a", "password": "b"}),
        ("/session/demo", {"username": "a"}),
        ("/first-run", FIRST),
    ):
        reply = strict.post(f"/api/v1{path}", json.dumps(body), content_type="application/json")
        assert reply.status_code == 403, path
    strict.get("/api/v1/session")
    token = strict.cookies["csrftoken"].value
    reply = strict.post(
        "/api/v1/first-run", json.dumps(FIRST), content_type="application/json", headers={"X-CSRFToken": token}
    )
    assert reply.status_code == 200


def test_writing_without_a_token_is_refused(people: dict[str, Person]) -> None:
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(people["manager"], backend=settings.PEOPLE_BACKEND)
    reply = strict.put("/api/v1/session/units", json.dumps({"units": "us"}), content_type="application/json")
    assert reply.status_code == 403


def test_demo_people_exist_in_the_demo_alone(people: dict[str, Person], settings: Any, nobody: Api) -> None:
    assert nobody.ok("GET", "/session")["demo"] == []
    assert "no demo people" in nobody.no("POST", "/session/demo", {"username": "manager"}, 403)
    settings.DEMO = True
    shown = nobody.ok("GET", "/session")["demo"]
    assert [p["username"] for p in shown] == ["manager", "technician", "viewer", "stranger"]
    assert nobody.no("POST", "/session/demo", {"username": "nobody"}, 422, "username")
    session = nobody.ok("POST", "/session/demo", {"username": "technician"})
    assert session["role"] == "technician"
    assert session["demo"] == []


def test_units_follow_the_person(api: Api) -> None:
    assert api.ok("GET", "/session")["units"] == "us"
    assert api.ok("PUT", "/session/units", {"units": "metric"})["units"] == "metric"
    assert api.ok("GET", "/session")["units"] == "metric"
    assert "Choose one of" in api.no("PUT", "/session/units", {"units": "stone"}, 422, "units")


def test_each_quantity_is_shown_in_what_was_chosen_for_it(fleet: Fleet) -> None:
    each = {"pressure": "bar", "mass": "kg", "temperature": "°C", "length": "ft"}
    session = fleet.api.ok("PUT", "/session/units", {"each": each})
    shown = session["shown"][session["units"]]
    assert {k: shown[k] for k in each} == each
    assert (shown["distance"], shown["speed"]) == ("mi", "mph")
    assert fleet.api.ok("GET", "/session")["units"] == session["units"]
    # On what the server writes too: 11,800 kg stays kilograms, 760 kPa is 7.6 bar.
    body = copy.deepcopy(COACH)
    body["axles"][0]["sidewall_max_kpa"] = "7.5 bar"
    fleet.api.ok("PUT", f"/rigs/{fleet.rig}", body)
    changes = fleet.api.ok("GET", f"/rigs/{fleet.rig}/history")
    assert ("7.6 bar", "7.5 bar") in [(c["before"], c["after"]) for c in changes]
    assert fleet.api.call("GET", f"/rigs/{fleet.rig}/rounds/blank.pdf").status_code == 200
    told = fleet.api.no("PUT", "/session/units", {"each": each | {"mass": "stone"}}, 422, "each.mass")
    assert told == "Choose one of lb, kg for weight."
    assert fleet.api.no("PUT", "/session/units", {}, 422, "each.pressure")
    # What is just one of the two is that one.
    metric = {"pressure": "kPa", "mass": "kg", "temperature": "°C", "length": "m"}
    assert fleet.api.ok("PUT", "/session/units", {"each": metric})["units"] == "metric"


def test_the_unit_table_is_the_cores(api: Api) -> None:
    table = {u["symbol"]: u for u in api.ok("GET", "/session")["unit_table"]}
    assert table["psi"]["factor"] == pytest.approx(6.894757293168361)
    assert (32 + table["°F"]["offset"]) * table["°F"]["factor"] == 0


def test_a_person_of_two_workspaces_goes_from_one_to_the_other(api: Api, people: dict[str, Person]) -> None:
    theirs = Workspace.objects.get(name="Theirs")
    assert api.call("PUT", "/session/workspace", {"workspace": theirs.pk}).status_code == 404
    Membership.objects.create(person=people["manager"], workspace=theirs, role="viewer")
    session = api.ok("PUT", "/session/workspace", {"workspace": theirs.pk})
    assert (session["workspace"]["name"], session["role"]) == ("Theirs", "viewer")
    assert [w["name"] for w in session["workspaces"]] == ["Ours", "Theirs"]


def test_adding_people_and_changing_roles(api: Api) -> None:
    added = api.ok(
        "POST", "/people", {"name": "New hand", "username": "hand", "password": PASSWORD, "role": "technician"}
    )
    assert added["role"] == "technician"
    told = api.no(
        "POST", "/people", {"name": "X", "username": "HAND", "password": PASSWORD, "role": "viewer"}, 409, "username"
    )
    assert "taken" in told
    changed = api.ok("PUT", f"/people/{added['id']}", {"role": "viewer"})
    assert changed["role"] == "viewer"
    fresh = Api(Client())
    assert fresh.ok("POST", "/session", {"username": "hand", "password": PASSWORD})["role"] == "viewer"
    assert Membership.history.filter(id=added["id"]).count() == 2


def test_the_last_manager_stays(api: Api) -> None:
    me = next(m for m in api.ok("GET", "/people") if m["role"] == "manager")
    assert "last manager" in api.no("PUT", f"/people/{me['id']}", {"role": "viewer"}, 409, "role")


def test_a_workspace_is_called_otherwise(api: Api) -> None:
    given = {"reserve": 0.1, "step": "5 kPa", "place_key": ""}
    assert api.ok("PUT", "/settings", given | {"name": "Second yard"})["name"] == "Second yard"
    # What is left out stays, and a workspace without a name is none.
    assert api.ok("PUT", "/settings", given)["name"] == "Second yard"
    api.no("PUT", "/settings", given | {"name": ""}, 422, "name")
    assert api.ok("GET", "/session")["workspaces"][0]["name"] == "Second yard"


def test_workspace_settings(api: Api) -> None:
    kept = api.ok("PUT", "/settings", {"reserve": 0.1, "step": "5 kPa", "place_key": "still-water"})
    assert (kept["reserve"], kept["step"], kept["place_key"]) == (0.1, "5 kPa", "still-water")
    assert "0 to 0.5" in api.no("PUT", "/settings", {"reserve": 0.9, "step": "5 kPa", "place_key": ""}, 422, "reserve")
    assert api.no("PUT", "/settings", {"reserve": 0.1, "step": "2 psi", "place_key": ""}, 422, "step")
    assert Workspace.history.filter(name="Ours").count() == 2
