"""A small made-up world for the server's tests: two workspaces, a person of every role, and bodies to send."""

import contextlib
import copy
import datetime as dt
import json
import sqlite3
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any
from uuid import uuid4

import pytest
from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.http import HttpResponse
from django.test import Client
from django.utils import timezone
from pytest_django import DjangoDbBlocker

from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import Membership, Person, Workspace
from ballast.server.gauges import drawer
from ballast.server.ground import wheels
from ballast.server.rigs.models import Rig
from ballast.server.weather.service import forget
from ballast.server.yard import standings
from tests.browser.serving import CLUSTER, DemoServer, made_in_cluster

NOW = dt.datetime(2026, 11, 25, 21, tzinfo=dt.UTC)
WEATHER = "tests.server.weather."
TIRE = {"tire_size": "245/70R19.5 135/133M", "sidewall_max_kpa": "760 kPa"}
COACH: dict[str, Any] = {
    "kind": "coach",
    "name": "Almagest",
    "fleet_number": "CF-01",
    "gvwr_kg": "11800 kg",
    "wheelbase_m": "6.1 m",
    "axles": [
        {**TIRE, "position_m": 0, "track_m": 2.08, "gawr_kg": "4200 kg"},
        {**TIRE, "position_m": "6.1 m", "track_m": 1.85, "dual": True, "gawr_kg": "7600 kg"},
    ],
    "spares": [{**TIRE, "required_kpa": "690 kPa"}],
}
TABLE: dict[str, Any] = {
    "size": "245/70R19.5 135/133M",
    "source": "Printed sheet, page 4",
    "pressure_unit": "kPa",
    "mass_unit": "kg",
    "steps": [450, 485, 520, 550, 585, 620, 655, 690, 725, 760],
    "single": [1510, 1590, 1670, 1740, 1815, 1890, 1965, 2035, 2110, 2180],
    "dual": [1425, 1505, 1580, 1645, 1715, 1785, 1855, 1925, 1995, 2060],
}
TICKET: dict[str, Any] = {
    "load_state": "trip-ready",
    "weighed_on": "2026-09-13",
    "scale": "Wheel pads",
    "resolution_kg": "10 kg",
    "axles": [{"left_kg": "1690 kg", "right_kg": "1700 kg"}, {"left_kg": "3160 kg", "right_kg": "3410 kg"}],
}
GAUGE: dict[str, Any] = {
    "label": "G1",
    "kind": "digital",
    "low_kpa": 0,
    "high_kpa": "1100 kPa",
    "resolution_kpa": "1 kPa",
    "dual_foot": True,
}
COMPARISON: dict[str, Any] = {
    "compared_on": "2026-09-01",
    "reference": "M1",
    "certificate": "131, standards bench",
    "master_u_kpa": 0.5,
    "pairs": [
        {"reference": 400, "reading": 403},
        {"reference": 600, "reading": 604},
        {"reference": 800, "reading": 805},
    ],
}


@contextmanager
def held_against(method: str, path: str, body: Any) -> Iterator[None]:
    """Around one write in eight of all that the tests do: what is kept of each rig's standing and each gauge's line is then as it
    is worked out anew, or marked, and what is at hand of a combination as it stands. Not where a test counts queries."""
    drawn = zlib.crc32(f"{path} {body}".encode()) % 8 == 0
    if method == "GET" or connection.force_debug_cursor or not drawn:
        yield
        return
    for actor in readers():
        standings.renew(actor)
        drawer.renew(actor)
        combinations(actor)
    yield
    for actor in readers():
        assert combinations(actor) == [], (method, path)
        assert standings.differing(actor) == [], (method, path)
        assert drawer.differing(actor) == [], (method, path)


def readers() -> list[Actor]:
    return [actor for w in Workspace.objects.all() if (actor := standings.reader(w))]


def combinations(actor: Actor) -> list[int]:
    """The rigs of which the ground has something else at hand than stands there; none is as it must be."""
    every = Rig.objects.filter(workspace=actor.workspace).values_list("pk", flat=True)
    return [
        rig for rig in every
        if vars(wheels.as_typed(actor, rig)) != {k: v for k, v in vars(wheels.combination(actor, rig)).items() if k != "train"}
    ]  # fmt: skip


class Api:
    """Calls the API as one person, JSON in and out."""

    def __init__(self, client: Client) -> None:
        self.client = client

    def call(self, method: str, path: str, body: Any = None, **more: Any) -> HttpResponse:
        data = json.dumps(body) if body is not None else ""
        with held_against(method, path, body):
            return self.client.generic(  # type: ignore[return-value]
                method, f"/api/v1/{path.lstrip('/')}", data, content_type="application/json", **more
            )

    def ok(self, method: str, path: str, body: Any = None) -> Any:
        reply = self.call(method, path, body)
        assert reply.status_code in (200, 201, 204), (reply.status_code, reply.content)
        return json.loads(reply.content) if reply.content else None

    def no(self, method: str, path: str, body: Any, status: int, field: str | None = None) -> str:
        """Expects a refusal; returns what it says of `field`, or as a whole."""
        reply = self.call(method, path, body)
        assert reply.status_code == status, (reply.status_code, reply.content)
        problem = json.loads(reply.content)
        if field is None:
            return str(problem["message"])
        told = {f["field"]: f["message"] for f in problem["fields"]}
        assert field in told, told
        return str(told[field])


@dataclass
class Fleet:
    """A workspace in which a coach can be weighed, aimed and read."""

    api: Api
    rig: int
    table: int
    weighing: int
    gauge: int

    def conditions(self, **more: Any) -> dict[str, Any]:
        return {"gauge": self.gauge, "standing_h": 12, "outside_c": 10, "elevation_m": 410} | more

    def targets(self) -> Any:
        return self.api.ok("POST", f"/rigs/{self.rig}/targets", {})

    def open_round(self, **more: Any) -> Any:
        return self.api.ok("POST", f"/rigs/{self.rig}/rounds", self.conditions(**more))

    def read(self, round_id: int, wheel: str, pressure: Any, **more: Any) -> Any:
        """Reads a wheel, and gives the round with it; what the entry told of it is checked against that."""
        body = {"wheel": wheel, "pressure": pressure} | more
        entered = self.api.ok("PUT", f"/rounds/{round_id}/readings/{uuid4()}", body)
        view = self.api.ok("GET", f"/rounds/{round_id}")
        assert {w["code"] for w in entered["wheels"]} >= {wheel}
        assert all(w == self.wheel(view, w["code"]) for w in entered["wheels"])
        assert all(entered[of] == view[of] for of in ("findings", "open_matters", "summary", "sealed_at"))
        return view

    def wheel(self, view: Any, code: str) -> Any:
        return next(w for w in view["wheels"] if w["code"] == code)


@pytest.fixture(scope="module")
def demo_copied(built: DemoServer, django_db_setup: None, django_db_blocker: DjangoDbBlocker) -> Iterator[None]:
    """The demo's world in the tests' database, for the tests of one file."""
    with django_db_blocker.unblock():
        connection.ensure_connection()
        if CLUSTER:
            connection.close()
            made_in_cluster(connection.settings_dict["NAME"], built.database)
        else:
            with contextlib.closing(sqlite3.connect(built.folder / "ballast.sqlite3")) as file:
                file.backup(connection.connection)
        yield
        call_command("flush", interactive=False, verbosity=0)


@pytest.fixture(autouse=True)
def one_day(monkeypatch: pytest.MonkeyPatch) -> None:
    """Every test begins at one moment: ages, due days and seasons come out the same on any day."""
    clock = timezone.now
    ahead = NOW - clock()
    monkeypatch.setattr(timezone, "now", lambda: clock() + ahead)


@pytest.fixture(autouse=True)
def still_weather(settings: Any) -> None:
    settings.WEATHER_SERVICE = WEATHER + "Still"
    forget()
    # What a test before wrote is gone, and its numbers are given anew.
    wheels.LATELY.forget()
    settings.SCALE = "ballast.standins.scale.SimulatedScale"


@pytest.fixture
def people(db: None) -> dict[str, Person]:
    """One person of every role in one workspace, and a manager of another."""
    ours, theirs = Workspace.objects.create(name="Ours"), Workspace.objects.create(name="Theirs")
    found = {}
    for name, workspace, role in (
        ("manager", ours, "manager"),
        ("technician", ours, "technician"),
        ("viewer", ours, "viewer"),
        ("stranger", theirs, "manager"),
    ):
        person = Person.objects.create(username=name, first_name=name.capitalize())
        Membership.objects.create(person=person, workspace=workspace, role=role)
        found[name] = person
    return found


@pytest.fixture
def api_as(people: dict[str, Person]) -> Callable[[str], Api]:
    def enter(name: str) -> Api:
        client = Client()
        client.force_login(people[name], backend=settings.PEOPLE_BACKEND)
        return Api(client)

    return enter


@pytest.fixture
def api(api_as: Callable[[str], Api]) -> Api:
    return api_as("manager")


@pytest.fixture
def stranger(api_as: Callable[[str], Api]) -> Api:
    return api_as("stranger")


def furnish(api: Api) -> Fleet:
    """Enters a coach, its table, a weighing and a gauge as a person would."""
    rig = api.ok("POST", "/rigs", copy.deepcopy(COACH))["id"]
    table = api.ok("POST", "/tables", TABLE)["id"]
    weighing = api.ok("POST", f"/rigs/{rig}/weighings", TICKET)["id"]
    gauge = api.ok("POST", "/gauges", GAUGE)["id"]
    api.ok("POST", f"/gauges/{gauge}/calibrations", COMPARISON)
    return Fleet(api, rig, table, weighing, gauge)


@pytest.fixture
def fleet(api: Api) -> Fleet:
    return furnish(api)


@pytest.fixture
def aimed(fleet: Fleet) -> Fleet:
    """The fleet with its targets in force."""
    fleet.targets()
    return fleet
