"""This morning of many rigs: a page at a time, from what is kept of each, and the same as of one alone."""

import datetime as dt
from dataclasses import replace
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from ballast.server.rigs.models import Fitting
from ballast.server.yard import standings
from ballast.server.yard.models import Standing
from tests.server.conftest import COACH, TICKET, Api, Fleet
from tests.server.test_lookback import walk
from tests.server.test_rounds import GOOD


def air(fleet: Fleet, outside_c: float) -> None:
    fleet.api.ok("PUT", f"/rigs/{fleet.rig}/air", {"outside_c": outside_c, "elevation_m": 410})


def another(fleet: Fleet, name: str, aimed: bool = False) -> Fleet:
    made = replace(fleet, rig=fleet.api.ok("POST", "/rigs", COACH | {"name": name, "fleet_number": name})["id"])
    if aimed:
        made.api.ok("POST", f"/rigs/{made.rig}/weighings", TICKET)
        made.api.ok("POST", f"/rigs/{made.rig}/targets", {})
    return made


def test_of_all_it_is_the_same_as_of_one(aimed: Fleet) -> None:
    for week, cold in enumerate((20, 5, -3)):
        walk(aimed, 50 + 7 * week, cold, {"2Ri": 3.0 * week})
    air(aimed, -8)
    all_told, one = aimed.api.ok("GET", "/morning"), aimed.api.ok("GET", f"/rigs/{aimed.rig}/morning")

    def still(told: dict[str, Any]) -> Any:
        # Between the two questions a moment passed, in which a tire lost next to nothing.
        tires = [{k: round(v, 3) if isinstance(v, float) else v for k, v in t.items()} for t in told["tires"]]
        return told | {"tires": [{k: v for k, v in t.items() if k != "words"} for t in tires]}

    assert still(all_told["rigs"][0]) == still(one["rigs"][0])
    # Two rounds measured seven tires each.
    assert all_told["record"] == one["record"]
    assert all_told["record"]["measured"] == 14


def test_a_page_of_them_the_most_urgent_first(aimed: Fleet, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("ballast.server.yard.morning.PAGE", 2)
    walk(aimed, 69, 20, {})
    air(aimed, -8)
    for name in ("B 2", "B 1", "A 1"):
        another(aimed, name)
    told = aimed.api.ok("GET", "/morning")
    # Of what was never read nothing is known: seven tires each.
    assert (told["found"], told["asking"], told["wanting"], told["holding"], told["unknown"]) == (4, 4, 7, 0, 21)
    names = [r["fleet_number"] for r in told["rigs"]]
    assert names == [told["rigs"][0]["fleet_number"], "A 1"]
    assert [r["fleet_number"] for r in aimed.api.ok("GET", "/morning?first=2")["rigs"]] == ["B 1", "B 2"]
    found = aimed.api.ok("GET", "/morning?find=b")
    assert (found["found"], found["wanting"], found["unknown"]) == (2, 0, 14)
    assert aimed.api.ok("GET", "/morning?find=nowhere")["rigs"] == []
    aimed.api.no("GET", "/morning?first=-1", None, 422, "first")


def test_what_is_being_worked_out_anew_is_neither_known_nor_good(aimed: Fleet, monkeypatch: pytest.MonkeyPatch) -> None:
    walk(aimed, 69, 20, {})
    air(aimed, 20)
    assert aimed.api.ok("GET", "/morning")["holding"] == 7
    monkeypatch.setattr(standings, "renew", lambda actor: 0)
    Standing.objects.update(marks=99)
    told = aimed.api.ok("GET", "/morning")
    (rig,) = told["rigs"]
    assert (told["anew"], told["asking"], told["holding"], told["wanting"]) == (1, 1, 0, 0)
    assert (rig["anew"], rig["asks"], rig["tires"], rig["words"]["text"]) == (True, True, [], "Being worked out anew")
    assert aimed.api.ok("GET", "/morning/air") == {"rigs": 0, "dawn": 0, "anew": 1}


def test_the_yard_shows_those_that_want_air_today(aimed: Fleet) -> None:
    walk(aimed, 69, 20, {})
    another(aimed, "Quiet")
    for outside, rigs in ((20, 0), (-8, 1)):
        air(aimed, outside)
        assert aimed.api.ok("GET", "/morning/air") == {"rigs": rigs, "dawn": 0, "anew": 0}
        yard = aimed.api.ok("GET", "/yard?air=true")
        assert (yard["found"], len(yard["rigs"])) == (rigs, rigs)
    assert [r["id"] for r in aimed.api.ok("GET", "/yard?air=true")["rigs"]] == [aimed.rig]
    assert aimed.api.ok("GET", "/yard/all?air=true") == [aimed.rig]


def test_a_dawn_before_the_next_check_asks_where_it_takes_a_tire_to_its_floor(aimed: Fleet) -> None:
    # Set at 20 °C, to be checked on Dec 1; the front's floor is 532.86 beside 96.5 of air: from 620.5 that is reached at -16 °C.
    walk(aimed, 69, 20, {})

    def asked(**low_c: float) -> tuple[str | None, int]:
        days = [{"on": f"2026-{on[1:3]}-{on[3:]}", "low_c": low} for on, low in low_c.items()]
        aimed.api.ok(
            "PUT", f"/rigs/{aimed.rig}/air", {"outside_c": 20, "elevation_m": 410, "dawn_c": 5, "forecast": days}
        )
        rig = aimed.api.ok("GET", "/morning")["rigs"][0]
        # All of it holds now.
        assert (rig["wanting"], rig["unknown"], rig["asks"]) == (0, 0, rig["dawn"] is not None)
        assert aimed.api.ok("GET", "/yard?dawn=true")["found"] == aimed.api.ok("GET", "/morning/air")["dawn"]
        told = aimed.api.ok("GET", f"/morning/dawns?rigs={aimed.rig}&rigs={aimed.rig + 1}")
        assert told == ([{"rig": aimed.rig, "words": rig["dawn"]}] if rig["dawn"] else [])
        return rig["dawn"] and rig["dawn"]["text"], aimed.api.ok("GET", "/morning/air")["dawn"]

    assert asked(d1128=-14) == (None, 0)
    assert asked(d1127=0, d1128=-18) == ("The dawn of Nov 28, 2026, {0}, takes 1L and 1R to their floors", 1)
    # All axles at -25 °C: the rear's 689.1 is 566.8 then, under its 580. The first such dawn is named.
    assert asked(d1128=-25, d1129=-30)[0] == "The dawn of Nov 28, 2026, {0}, takes 6 tires to their floors"
    # By then it was checked.
    assert asked(d1202=-30) == (None, 0)


def test_what_a_dawn_asks_for_is_due_at_once_and_done_by_a_round(aimed: Fleet) -> None:
    walk(aimed, 70, 20, {})
    cold = {"outside_c": 20, "elevation_m": 410, "dawn_c": -18}

    def due() -> list[tuple[str | None, str]]:
        dues = aimed.api.ok("GET", "/schedule?days=14&kinds=round")["dues"]
        assert dues == aimed.api.ok("GET", "/schedule?days=14&kinds=round&find=almagest")["dues"]
        return [(d["on"], d["why"]["text"]) for d in dues]

    usual = ("2026-12-02", "A week after the last, or before the next trip")
    assert due() == [usual]
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", cold)
    assert due() == [(None, "The coming dawn, {0}, takes 1L and 1R to their floors")]
    # The round gives the front what that dawn takes, and no more is asked.
    round_id = aimed.open_round(**cold)["id"]
    for wheel, kpa in (GOOD | {"1L": 650, "1R": 650}).items():
        aimed.read(round_id, wheel, kpa)
    aimed.api.ok("POST", f"/rounds/{round_id}/seal", {})
    assert due() == [usual]


def test_a_tire_that_came_from_another_rig_is_not_foretold(aimed: Fleet) -> None:
    today = timezone.now().date()
    fit = {"wheel": "1L", "new": {}, "fitted_on": (today - dt.timedelta(days=80)).isoformat()}
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/fittings", fit)
    number = Fitting.objects.get(rig=aimed.rig).tire_id
    walk(aimed, 69, 20, {})
    air(aimed, 20)
    assert len(aimed.api.ok("GET", "/morning")["rigs"][0]["tires"]) == 7
    other = another(aimed, "Other")
    air(other, 20)
    aimed.api.ok("POST", f"/tires/{number}/remove", {"removed_on": today.isoformat()})
    put = {"wheel": "1L", "tire": number, "fitted_on": today.isoformat()}
    other.api.ok("POST", f"/rigs/{other.rig}/fittings", put)
    told = {r["id"]: r for r in aimed.api.ok("GET", "/morning")["rigs"]}
    assert {t["code"] for t in told[aimed.rig]["tires"]} == {"1R", "2Lo", "2Li", "2Ri", "2Ro", "S1"}
    assert (told[other.rig]["tires"], told[other.rig]["unknown"]) == ([], 7)
    # Which is not known is named, beside those that are.
    (gone,) = told[aimed.rig]["not_foretold"]
    assert (gone["code"], gone["name"], gone["words"]["text"]) == ("1L", "Front left", "Not known: look at it")


def test_a_rig_on_other_tires_than_were_read_is_not_known_and_was_read(aimed: Fleet) -> None:
    walk(aimed, 69, 20, {})
    air(aimed, 20)
    for wheel in ("1L", "1R", "2Lo", "2Li", "2Ri", "2Ro", "S1"):
        new = {"wheel": wheel, "new": {}, "fitted_on": timezone.now().date().isoformat()}
        aimed.api.ok("POST", f"/rigs/{aimed.rig}/fittings", new)
    (rig,) = aimed.api.ok("GET", "/morning")["rigs"]
    assert (rig["tires"], rig["unknown"], rig["asks"]) == ([], 7, True)
    assert rig["words"]["text"] == "{0} not known"
    assert [t["code"] for t in rig["not_foretold"]] == ["1L", "2Lo", "2Li", "2Ro", "2Ri", "1R", "S1"]


def test_however_many_there_are_it_is_asked_as_often(aimed: Fleet) -> None:
    walk(aimed, 69, 20, {})
    air(aimed, 20)
    aimed.api.ok("GET", "/morning")
    with CaptureQueriesContext(connection) as few:
        aimed.api.ok("GET", "/morning")
    for number in range(5):
        air(another(aimed, f"More {number}", aimed=True), 20)
    aimed.api.ok("GET", "/morning")
    with CaptureQueriesContext(connection) as many:
        assert aimed.api.ok("GET", "/morning")["found"] == 6
    assert len(many) == len(few) <= 8


def test_nobody_else_is_told(aimed: Fleet, stranger: Api) -> None:
    walk(aimed, 69, 20, {})
    air(aimed, -8)
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"outside_c": 20, "elevation_m": 410, "dawn_c": -30})
    assert len(aimed.api.ok("GET", f"/morning/dawns?rigs={aimed.rig}")) == 1
    assert stranger.ok("GET", f"/morning/dawns?rigs={aimed.rig}") == []
    assert stranger.ok("GET", "/morning/air") == {"rigs": 0, "dawn": 0, "anew": 0}
    stranger.no("GET", f"/rigs/{aimed.rig}/morning", None, 404)
