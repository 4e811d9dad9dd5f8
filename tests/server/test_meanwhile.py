"""Two people, or one impatient thumb: what is sent twice is stored once, what somebody changed is not overwritten unseen."""

import os
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any
from uuid import UUID, uuid4

import pytest

from ballast.server.accounts.models import Workspace
from ballast.server.rigs.models import Rig
from ballast.server.targets.models import TargetSet
from ballast.server.weighing.models import Weighing
from tests.browser.serving import DemoServer, Visitor
from tests.server.conftest import COACH, GAUGE, TICKET, Api, Fleet
from tests.server.test_gauges import INFLATOR

# So often each race is run; by `make races` more often, on both engines.
RACES = int(os.environ.get("BALLAST_RACES", "12"))


def test_a_ticket_and_targets_sent_twice_are_stored_once(fleet: Fleet, api: Api) -> None:
    ticket, targets = TICKET | {"uuid": str(uuid4())}, {"uuid": str(uuid4())}
    before = Weighing.objects.count()
    assert len({fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", ticket)["id"] for _ in range(3)}) == 1
    assert Weighing.objects.count() == before + 1
    assert len({fleet.api.ok("POST", f"/rigs/{fleet.rig}/targets", targets)["id"] for _ in range(3)}) == 1
    assert TargetSet.objects.count() == 1
    other = fleet.api.ok("POST", "/rigs", COACH | {"fleet_number": ""})["id"]
    assert "another rig" in fleet.api.no("POST", f"/rigs/{other}/weighings", ticket, 409, "uuid")
    fleet.api.ok("POST", f"/rigs/{other}/weighings", TICKET)
    assert "another rig" in fleet.api.no("POST", f"/rigs/{other}/targets", targets, 409, "uuid")


def stale(api: Api, path: str, body: dict[str, Any]) -> dict[str, str]:
    """What a refusal as of another's change says, field by field; the same body with the version that it names goes in."""
    reply = api.call("PUT", path, body)
    assert reply.status_code == 409, reply.content
    problem = reply.json()
    assert "Somebody changed this meanwhile" in problem["message"]
    api.ok("PUT", path, body | {"version": problem["version"]})
    return {f["field"]: f["message"] for f in problem["fields"]}


def test_a_rig_that_somebody_changed_meanwhile_is_not_overwritten_unseen(fleet: Fleet) -> None:
    path = f"/rigs/{fleet.rig}"
    seen = fleet.api.ok("GET", path)["version"]
    theirs = COACH | {"gvwr_kg": "12000 kg", "axles": [COACH["axles"][0], COACH["axles"][1] | {"gawr_kg": "7500 kg"}]}
    fleet.api.ok("PUT", path, theirs | {"version": seen})
    # 12,000 kg are 26,455 lb, 7,500 kg 16,535.
    mine = COACH | {"name": "Mine", "version": seen}
    told = stale(fleet.api, path, mine)
    assert told == {
        "name": "By now: Almagest.", "gvwr_kg": "By now: 26,455 lb.", "axles.1.gawr_kg": "By now: 16,535 lb.",
    }  # fmt: skip
    assert (fleet.api.ok("GET", path)["name"], fleet.api.ok("GET", path)["gvwr_kg"]) == ("Mine", 11800)
    # One axle less, seen with two.
    seen = fleet.api.ok("GET", path)["version"]
    fleet.api.ok("PUT", path, COACH | {"axles": COACH["axles"][:1], "wheelbase_m": None})
    assert "axles.1.wheels" in stale(fleet.api, path, COACH | {"version": seen})
    # Whoever has no form says nothing of what was seen.
    fleet.api.ok("PUT", path, COACH)


@pytest.mark.parametrize("what", ["settings", "gauge", "inflator", "round", "air", "trip", "way", "walk", "role"])
def test_nor_is_anything_else_that_has_a_form(what: str, aimed: Fleet) -> None:
    if what == "settings":
        path, made = "/settings", aimed.api.ok("GET", "/session")["workspace"]
        body = {"reserve": 0.1, "step": "1 psi", "place_key": ""}
        other, field, words = body | {"reserve": 0.15}, "reserve", "By now: 0.15."
    elif what == "gauge":
        path, made = f"/gauges/{aimed.gauge}", next(g for g in aimed.api.ok("GET", "/gauges") if g["id"] == aimed.gauge)
        body = GAUGE | {"keeper": "The shop"}
        other, field, words = body | {"keeper": "The van"}, "keeper", "By now: The van."
    elif what == "inflator":
        made = aimed.api.ok("POST", "/inflators", INFLATOR)
        path, body = f"/inflators/{made['id']}", INFLATOR
        other, field, words = body | {"max_kpa": "900 kPa"}, "max_kpa", "By now: 130.5 psi."
    elif what == "air":
        path, made = f"/rigs/{aimed.rig}/air", aimed.api.ok("GET", f"/yard/{aimed.rig}")["air"]["air"]
        body = {"outside_c": "10 C", "elevation_m": "100 m"}
        # 4 °C are 39.2 °F.
        other, field, words = body | {"outside_c": "4 C"}, "outside_c", "By now: 39 °F."
    elif what == "trip":
        path, made = f"/rigs/{aimed.rig}/trip", aimed.api.ok("GET", f"/rigs/{aimed.rig}/trip")
        night = {"name": "Ember Lake", "elevation_m": "640 m", "dawn_c": "-2 C"}
        body = {"legs": [night]}
        other, field, words = {"legs": [night | {"dawn_c": "-9 C"}]}, "legs", "By now: Ember Lake, 640 m, -9 C."
    elif what == "way":
        path, made = f"/rigs/{aimed.rig}/policy", aimed.api.ok("GET", f"/rigs/{aimed.rig}/policy")
        body, other, field, words = {"check_days": 3}, {"check_days": 14}, "check_days", "By now: 14."
    elif what == "walk":
        path, made = f"/rigs/{aimed.rig}/walk", aimed.api.ok("GET", f"/rigs/{aimed.rig}/walk")
        assert made["codes"] == ["1L", "2Lo", "2Li", "2Ro", "2Ri", "1R", "S1"]
        body, other = {"codes": made["codes"][::-1]}, {"codes": ["1R", "1L"]}
        field, words = "codes", "By now: 1R; 1L; 2Lo; 2Li; 2Ro; 2Ri; S1."
    elif what == "role":
        member = aimed.api.ok(
            "POST", "/people", {"name": "A", "username": "a", "password": "long enough 1", "role": "viewer"}
        )
        path, made = f"/people/{member['id']}", member
        body, other, field, words = {"role": "technician"}, {"role": "manager"}, "role", "By now: manager."
    else:
        made = aimed.open_round()
        path, body = f"/rounds/{made['id']}", aimed.conditions(standing_h=12)
        other, field, words = aimed.conditions(outside_c=4), "outside_c", "By now: 39 °F."
    aimed.api.ok("PUT", path, other | {"version": made["version"]})
    assert stale(aimed.api, path, body | {"version": made["version"]})[field] == words
    assert Workspace.objects.exists()
    assert Rig.objects.exists()


def test_races_over_two_processes_lose_nothing_and_break_nothing(own_server: DemoServer) -> None:
    people = [Visitor(own_server, "technician") for _ in range(8)]
    gauge = people[0].call("GET", "/gauges")[1][0]["id"]
    conditions = {"gauge": gauge, "standing_h": 12, "outside_c": 10, "elevation_m": 100}
    at = people[0].call("POST", "/rigs/1/rounds", conditions)[1]["id"]
    with ThreadPoolExecutor(8) as pool:

        def everybody(work: Any) -> list[tuple[int, Any]]:
            asked = [pool.submit(work, people[i % 8], i) for i in range(40)]
            return [a.result()[:2] for a in asked]

        # Tires fitted to, and moved between, the same wheels: each is done or told, none breaks.
        fits = everybody(
            lambda v, i: v.call("POST", "/rigs/1/fittings", {"wheel": "1L", "new": {}, "fitted_on": "2026-11-20"})
        )
        moves = everybody(
            lambda v, i: v.call(
                "POST", "/rigs/1/moves", {"moves": {"1L": "1R", "1R": "1L"}, "moved_on": "2026-11-20", "looked": True}
            )
        )
        assert {status for status, _ in (*fits, *moves)} <= {200, 201, 204, 409, 422, 503}
        assert any(status < 300 for status, _ in fits)
        # Readings beside a seal: every one that was acknowledged is in the round, or stands beside it as come late.
        uuids = [str(uuid4()) for _ in range(40)]

        def read_or_seal(v: Visitor, i: int) -> Any:
            if i == 20:
                return v.call("POST", f"/rounds/{at}/seal", {"unread_reason": "a race"})
            return v.call("PUT", f"/rounds/{at}/readings/{uuids[i]}", {"wheel": "1L", "pressure": "100 psi"})

        told = everybody(read_or_seal)
    kept = [uuids[i] for i, (status, _) in enumerate(told) if status == 200 and i != 20]
    assert {status for status, _ in told} <= {200, 503}
    sealed = people[0].call("GET", f"/rounds/{at}/sealed")
    if sealed[0] == 409:
        people[0].call("POST", f"/rounds/{at}/seal", {"unread_reason": "a race"})
        sealed = people[0].call("GET", f"/rounds/{at}/sealed")
    stored, late = (
        {UUID(str(u)) for (u,) in own_server.sql(f"SELECT uuid FROM {table}")}
        for table in ("rounds_reading", "rounds_late")
    )
    assert {UUID(u) for u in kept} <= stored | late
    assert len(sealed[1]["late"]) == len(late)


Told = list[tuple[int, Any]]


@dataclass
class Race:
    """Several people of the demo on a server of several processes, who press at one moment."""

    people: list[Visitor]
    pool: ThreadPoolExecutor
    gauge: int

    def round(self, rig: int) -> int:
        conditions = {"gauge": self.gauge, "standing_h": 12, "outside_c": 10, "elevation_m": 100}
        status, made, _ = self.people[0].call("POST", f"/rigs/{rig}/rounds", conditions)
        assert status == 201, made
        return int(made["id"])

    def all(self, *calls: tuple[str, str, Any]) -> Told:
        """What each of the people is told, everybody with a call of their own."""
        asked = [self.pool.submit(who.call, *call) for who, call in zip(self.people, calls, strict=True)]
        return [a.result()[:2] for a in asked]


@pytest.fixture
def race(own_server: DemoServer) -> Iterator[Race]:
    people = [Visitor(own_server, name) for name in ("technician", "fleet-maintainer")]
    with ThreadPoolExecutor(2) as pool:
        yield Race(people, pool, people[0].call("GET", "/gauges")[1][0]["id"])


def test_of_two_who_take_a_wheel_at_one_moment_one_has_it(race: Race) -> None:
    at = race.round(1)
    take, leave = ({"gauge": race.gauge, "wheels": wheels} for wheels in (["1L"], []))
    for _ in range(RACES):
        told = race.all(*[("PUT", f"/rounds/{at}/take", take)] * 2)
        assert sorted(status for status, _ in told) == [200, 409]
        assert "has 1L. Take others" in next(said["message"] for status, said in told if status == 409)
        assert {status for status, _ in race.all(*[("PUT", f"/rounds/{at}/take", leave)] * 2)} == {200}


def test_one_uuid_from_two_phones_is_stored_once(race: Race, own_server: DemoServer) -> None:
    at = race.round(1)
    for i in range(RACES):
        path = f"/rounds/{at}/readings/{uuid4()}"
        # The same twice is as once; with another value the second is told, and nothing of it is stored.
        values = ("100 psi", "100 psi") if i % 2 else ("100 psi", "101 psi")
        told = race.all(*(("PUT", path, {"wheel": "1L", "pressure": value}) for value in values))
        assert sorted(status for status, _ in told) == ([200, 200] if i % 2 else [200, 409])
    assert own_server.sql(f"SELECT count(*), count(DISTINCT uuid) FROM rounds_reading WHERE round_id = {at}") == [
        (RACES, RACES)
    ]


def test_of_two_seals_and_a_reading_at_one_moment_nothing_is_lost(race: Race, own_server: DemoServer) -> None:
    sent = []
    for i in range(RACES):
        at, uuid = race.round(1), uuid4()
        race.people[0].call("PUT", f"/rounds/{at}/readings/{uuid4()}", {"wheel": "1R", "pressure": "100 psi"})
        seal = ("POST", f"/rounds/{at}/seal", {"unread_reason": "a race"})
        read = ("PUT", f"/rounds/{at}/readings/{uuid}", {"wheel": "1L", "pressure": "100 psi"})
        told = race.all(seal, seal if i % 3 == 0 else read)
        assert {status for status, _ in told} == {200}
        assert len({said["sealed_at"] for _, said in told if "sealed_at" in said} - {None}) == 1
        sent += [] if i % 3 == 0 else [uuid]
        assert race.people[0].call("GET", f"/rounds/{at}/sealed")[0] == 200
    kept = {
        UUID(str(u)) for table in ("reading", "late") for (u,) in own_server.sql(f"SELECT uuid FROM rounds_{table}")
    }
    assert set(sent) <= kept
    # One seal writes each wheel's line once.
    twice = "SELECT round_id FROM rounds_service GROUP BY round_id, rig_id, wheel HAVING count(*) > 1"
    assert own_server.sql(twice) == []
