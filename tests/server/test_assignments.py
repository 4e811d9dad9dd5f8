"""Rounds given to people and crews: who has what, done by sealing alone, handed over and taken back."""

import datetime as dt
from collections.abc import Callable
from typing import Any
from uuid import uuid4

import pytest

from ballast.server.accounts.models import Membership, Person
from ballast.server.assignments.models import Assignment
from tests.server.conftest import COACH, NOW, Api, Fleet

As = Callable[[str], Api]
TODAY = NOW.date()


def on(days: int) -> str:
    return (TODAY + dt.timedelta(days=days)).isoformat()


def member(api: Api, username: str) -> int:
    return next(int(p["id"]) for p in api.ok("GET", "/people") if p["username"] == username)


def give(fleet: Fleet, to: dict[str, int] | None = None, days: int = 0, **more: Any) -> str:
    uuid = str(uuid4())
    to = {"member": member(fleet.api, "technician")} if to is None else to
    body = {"rigs": [fleet.rig], "to": to, "on": on(days), "uuid": uuid} | more
    fleet.api.ok("POST", "/assignments", body)
    return uuid


def sealed(fleet: Fleet, api: Api | None = None, **more: Any) -> int:
    round_id: int = fleet.open_round(**more)["id"]
    fleet.read(round_id, "1L", 624)
    (api or fleet.api).ok("POST", f"/rounds/{round_id}/seal", {"unread_reason": "dark"})
    return round_id


def test_a_given_round_is_on_its_persons_day_and_in_the_yard(aimed: Fleet, api_as: As) -> None:
    technician = api_as("technician")
    assert technician.ok("GET", "/day")["words"]["text"] == "No round for today"
    give(aimed, note="Before it leaves")
    own = technician.ok("GET", "/day")
    assert own["words"]["text"] == "{0} round: CF-01 Almagest"
    (line,) = own["rounds"]
    assert (line["when"], line["over"], line["to"], line["yours"], line["note"]) == (
        "today", False, "Technician", True, "Before it leaves",
    )  # fmt: skip
    assert line["words"]["text"] == "Round due, never done"
    assert api_as("viewer").ok("GET", "/day")["rounds"] == []
    yard = aimed.api.ok("GET", "/yard")["rigs"][0]["assigned"]
    assert [(a["to"], a["when"], a["yours"]) for a in yard] == [("Technician", "today", False)]
    assert technician.ok("GET", f"/rigs/{aimed.rig}/assigned")[0]["yours"] is True
    assert aimed.api.ok("GET", "/day/everybody")["people"] == [
        {"key": f"m{member(aimed.api, 'technician')}", "name": "Technician", "rounds": 1, "over": 0}
    ]


def test_only_a_sealed_round_does_it_by_whomever(aimed: Fleet, api_as: As) -> None:
    technician = api_as("technician")
    give(aimed)
    aimed.open_round()
    assert technician.ok("GET", "/day")["rounds"][0]["round_open"]
    assert technician.call("DELETE", f"/assignments/{Assignment.objects.get().pk}").status_code == 403
    round_id = technician.ok("GET", "/day")["rounds"][0]["round_open"]
    aimed.read(round_id, "1L", 624)
    # A check by another is a check.
    aimed.api.ok("POST", f"/rounds/{round_id}/seal", {"unread_reason": "dark"})
    assert technician.ok("GET", "/day")["rounds"] == []
    done = aimed.api.ok("GET", "/day/everybody")["done"]
    assert [(d["to"], d["by"], d["round"]) for d in done] == [("Technician", "Manager", round_id)]
    assert [d["name"] for d in aimed.api.ok("GET", "/day")["done"]] == ["CF-01 Almagest"]


@pytest.mark.parametrize(("days", "left"), [(0, 0), (1, 0), (20, 1)])
def test_a_round_does_what_was_given_until_its_next_check(aimed: Fleet, days: int, left: int) -> None:
    give(aimed, days=days)
    sealed(aimed)
    assert Assignment.objects.filter(ended_at=None).count() == left


def test_an_abandoned_round_does_nothing(aimed: Fleet) -> None:
    give(aimed)
    aimed.api.ok("DELETE", f"/rounds/{aimed.open_round()['id']}")
    assert Assignment.objects.filter(ended_at=None).count() == 1


def test_what_is_over_is_said_and_stands_first(aimed: Fleet, api_as: As) -> None:
    technician = api_as("technician")
    second = aimed.api.ok("POST", "/rigs", COACH | {"name": "Beacon", "fleet_number": "CF-02"})["id"]
    give(aimed)
    give(aimed, rigs=[second])
    Assignment.objects.filter(rig=second).update(on=TODAY - dt.timedelta(days=2))
    own = technician.ok("GET", "/day")
    assert own["words"]["text"] == "{0} rounds, {1} of them over, CF-02 Beacon first"
    assert [v["value"] for v in own["words"]["values"]] == [2, 1]
    assert [(r["name"], r["when"], r["over"]) for r in own["rounds"]] == [
        ("Beacon", "2 days over", True), ("Almagest", "today", False),
    ]  # fmt: skip
    give(aimed, days=2, rigs=[second])
    assert [r["when"] for r in technician.ok("GET", "/day")["later"]] == ["on Friday"]


def test_it_is_told_before_what_giving_comes_to_and_taken_back_after(aimed: Fleet, api_as: As) -> None:
    more = [
        aimed.api.ok("POST", "/rigs", COACH | {"name": f"Bus {n}", "fleet_number": f"B-{n}"})["id"] for n in range(3)
    ]
    aimed.api.ok("PUT", f"/rigs/{more[1]}/out-of-service", {"why": "Cracked hub"})
    aimed.api.ok("PUT", f"/rigs/{more[2]}/laid-up", {"until": on(60)})
    give(aimed, {"member": member(aimed.api, "manager")})
    body = {"rigs": [aimed.rig, *more], "to": {"member": member(aimed.api, "technician")}, "on": on(0)}
    told = aimed.api.ok("POST", "work/assignments", body)
    assert (told["to"], told["given"], told["moved"]) == ("Technician", 2, 1)
    assert [(n["name"], n["words"]) for n in told["not_given"]] == [
        ("B-1 Bus 1", "out of service"), ("B-2 Bus 2", "laid up until Jan 24"),
    ]  # fmt: skip
    assert Assignment.objects.count() == 1
    uuid = str(uuid4())
    assert aimed.api.ok("POST", "/assignments", body | {"uuid": uuid}) == told
    # Sent again it is there.
    assert aimed.api.ok("POST", "/assignments", body | {"uuid": uuid})["given"] == 2
    assert len(api_as("technician").ok("GET", "/day")["rounds"]) == 2
    assert aimed.api.ok("POST", "work/assignments", body)["not_given"][0]["words"] == "has it already"
    aimed.api.ok("DELETE", f"/assignments/batches/{uuid}")
    assert api_as("technician").ok("GET", "/day")["rounds"] == []
    # Who had it before has it again.
    assert [r["name"] for r in aimed.api.ok("GET", "/day")["rounds"]] == ["Almagest"]


def test_over_to_another_with_one_tap(aimed: Fleet, api_as: As) -> None:
    technician = api_as("technician")
    give(aimed, {"member": member(aimed.api, "manager")})
    row = Assignment.objects.get()
    taken = technician.ok("PUT", f"/assignments/{row.pk}", {"to": {}})
    assert (taken["to"], taken["yours"]) == ("Technician", True)
    handed = technician.ok("PUT", f"/assignments/{taken['id']}", {"to": {"member": member(aimed.api, "manager")}})
    assert handed["to"] == "Manager"
    # What is another's is not handed on to a third, and what is over with is there no more.
    told = technician.no("PUT", f"/assignments/{handed['id']}", {"on": on(1)}, 403)
    assert told == "This round is Manager's to hand on. You may take it yourself."
    assert technician.call("PUT", f"/assignments/{row.pk}", {"to": {}}).status_code == 404
    assert aimed.api.ok("PUT", f"/assignments/{handed['id']}", {"on": on(1)})["when"] == "tomorrow"
    give(aimed)
    late = Assignment.objects.get(ended_at=None, on=TODAY)
    assert aimed.api.no("PUT", f"/assignments/{late.pk}", {"on": on(1)}, 409, "on")


def test_a_crew_has_it_together(aimed: Fleet, api_as: As) -> None:
    people = [member(aimed.api, name) for name in ("technician", "manager")]
    (crew,) = aimed.api.ok("POST", "/crews", {"name": "Night yard", "members": people})
    assert aimed.api.no("POST", "/crews", {"name": "night yard", "members": []}, 409, "name")
    assert aimed.api.no("POST", "/crews", {"name": "Other", "members": [10**9]}, 422, "members")
    give(aimed, {"crew": crew["id"]})
    for name in ("technician", "manager"):
        assert [r["to"] for r in api_as(name).ok("GET", "/day")["rounds"]] == ["Night yard"]
    # Who is in no crew sees whose it is.
    assert api_as("viewer").ok("GET", "/yard")["rigs"][0]["assigned"][0]["yours"] is False
    assert "hand them over" in aimed.api.no("DELETE", f"/crews/{crew['id']}", None, 409)
    aimed.api.ok("PUT", f"/crews/{crew['id']}", {"name": "Night yard", "members": people[:1]})
    assert aimed.api.ok("GET", "/day")["rounds"] == []
    row = Assignment.objects.get()
    api_as("technician").ok("PUT", f"/assignments/{row.pk}", {"to": {}})
    # Refused, it is as it was.
    assert "stays on record" in aimed.api.no("DELETE", f"/crews/{crew['id']}", None, 409)
    (spare,) = [c for c in aimed.api.ok("POST", "/crews", {"name": "Spare", "members": []}) if c["name"] == "Spare"]
    assert [c["name"] for c in aimed.api.ok("DELETE", f"/crews/{spare['id']}")] == ["Night yard"]


def test_what_was_given_to_somebody_who_left_is_nobodys(aimed: Fleet, people: dict[str, Person]) -> None:
    give(aimed)
    assert (aimed.api.ok("GET", "/yard")["unassigned"], aimed.api.ok("GET", "/yard?unassigned=true")["rigs"]) == (0, [])
    Membership.objects.filter(person=people["technician"]).update(off_at=NOW)
    yard = aimed.api.ok("GET", "/yard?unassigned=true")
    assert (yard["unassigned"], yard["found"], yard["rigs"][0]["assigned"]) == (1, 1, [])
    assert aimed.api.ok("GET", "/day/everybody")["people"] == []
    # Given anew for the same day it is somebody's again.
    give(aimed, {"member": member(aimed.api, "manager")})
    assert [a["to"] for a in aimed.api.ok("GET", "/yard")["rigs"][0]["assigned"]] == ["Manager"]


def test_a_trailers_round_goes_with_what_tows_it(aimed: Fleet) -> None:
    trailer = {"kind": "trailer", "name": "Wren", "fleet_number": "T-1", "axles": [{**COACH["axles"][0]}]}
    behind = aimed.api.ok("POST", "/rigs", trailer)["id"]
    aimed.api.ok("PUT", f"/rigs/{behind}/hitch", {"behind": aimed.rig})
    give(aimed, rigs=[behind, aimed.rig])
    assert [a.rig_id for a in Assignment.objects.all()] == [aimed.rig]
    assert [len(r["assigned"]) for r in aimed.api.ok("GET", "/yard")["rigs"]] == [1, 1]


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"on": on(-3)}, "on"),
        ({"on": on(500)}, "on"),
        ({"rigs": [10**9]}, "rigs"),
        ({"rigs": []}, "rigs"),
        ({"to": {"member": 10**9}}, "to.member"),
        ({"to": {"crew": 10**9}}, "to.crew"),
    ],
)
def test_what_cannot_be_given_is_told(aimed: Fleet, change: dict[str, Any], field: str) -> None:
    body = {"rigs": [aimed.rig], "to": {}, "on": on(0)} | change
    assert aimed.api.no("POST", "work/assignments", body, 422, field)
    assert aimed.api.no("POST", "/assignments", body | {"uuid": str(uuid4())}, 422, field)


def test_viewers_do_no_rounds(aimed: Fleet) -> None:
    body = {"rigs": [aimed.rig], "to": {"member": member(aimed.api, "viewer")}, "on": on(0)}
    assert "does no rounds" in aimed.api.no("POST", "work/assignments", body, 422, "to.member")
