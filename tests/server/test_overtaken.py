"""What a round said is no word of another tire, nor beside another target."""

import datetime as dt
from importlib import import_module
from typing import Any
from unittest.mock import patch
from uuid import uuid4

import pytest
from django.apps import apps

from ballast.server.gauges.models import Gauge
from ballast.server.rigs.models import Fitting
from ballast.server.rounds.models import Round
from tests.server.conftest import COMPARISON, GAUGE, NOW, Fleet
from tests.server.test_rounds import GOOD, sealed_round
from tests.server.test_sensors import read_all


def sealed_good(fleet: Fleet) -> int:
    view = fleet.open_round()
    for wheel, kpa in GOOD.items():
        fleet.read(view["id"], wheel, kpa)
    fleet.api.ok("POST", f"/rounds/{view['id']}/seal", {})
    return int(view["id"])


def said(fleet: Fleet) -> tuple[str, list[str]]:
    line = next(r for r in fleet.api.ok("GET", "/yard")["rigs"] if r["id"] == fleet.rig)
    words = [line["words"], *line["more"]]
    return line["state"], [w["text"].format(*(v["value"] for v in w["values"])) for w in words]


def marks(fleet: Fleet) -> dict[str, str]:
    tires = fleet.api.ok("GET", f"/yard/{fleet.rig}")["last_round"]["tires"]
    return {t["code"]: t["overtaken"] for t in tires if t["overtaken"]}


def fit(fleet: Fleet, wheel: str, on: dt.date = dt.date(2026, 11, 25)) -> None:
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/fittings", {"wheel": wheel, "new": {}, "fitted_on": on.isoformat()})


def test_another_tire_is_not_checked_and_asks_for_a_round_at_once(aimed: Fleet) -> None:
    fit(aimed, "1L", dt.date(2026, 11, 1))
    aimed.targets()
    sealed_good(aimed)
    assert said(aimed) == ("fine", ["All hold, read today"])
    # Of the same day: that it was fitted after the round its number tells.
    fit(aimed, "1L")
    aimed.targets()
    state, words = said(aimed)
    assert state == "todo"
    assert words == ["1 tire not checked", "Round due: another tire at 1L since the last, today"]
    assert marks(aimed) == {"1L": "another tire"}
    due = aimed.api.ok("GET", "/schedule")["dues"]
    assert [(d["kind"], d["why"]["text"]) for d in due if d["kind"] == "round"] == [
        ("round", "Since the last: another tire at 1L")
    ]
    stage = next(s for s in aimed.api.ok("GET", f"/yard/{aimed.rig}")["stages"] if s["key"] == "rounds")
    assert (stage["state"], stage["words"]["text"]) == ("todo", "due, last today")
    stage = next(s for s in aimed.api.ok("GET", f"/yard/{aimed.rig}")["stages"] if s["key"] == "lookback")
    assert (stage["state"], stage["words"]["text"]) == ("quiet", "today: all hold")
    sealed_good(aimed)
    assert said(aimed) == ("fine", ["All hold, read today"])


def test_a_tire_written_down_after_the_round_is_the_one_that_was_read(aimed: Fleet) -> None:
    sealed_good(aimed)
    fit(aimed, "1L", dt.date(2026, 11, 1))
    aimed.targets()
    assert said(aimed) == ("fine", ["All hold, read today"])
    assert marks(aimed) == {}


def test_beside_another_target_nothing_holds_before_it_is_read(aimed: Fleet) -> None:
    sealed_good(aimed)
    # The same again is no other.
    aimed.targets()
    assert said(aimed) == ("fine", ["All hold, read today"])
    before = [a["target_kpa"] for a in aimed.api.ok("GET", f"/yard/{aimed.rig}")["targets"]["axles"]]
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/targets", {"reserve": 0.15})
    after = [a["target_kpa"] for a in aimed.api.ok("GET", f"/yard/{aimed.rig}")["targets"]["axles"]]
    assert all(b < a for b, a in zip(before, after, strict=True))
    state, words = said(aimed)
    assert state == "todo"
    assert words[0] == "6 tires not checked"
    assert words[1].startswith("Round due: another target at 1L, ")
    # Its spare has a pressure of its own.
    assert marks(aimed) == dict.fromkeys(("1L", "1R", "2Lo", "2Li", "2Ri", "2Ro"), "another target")


def test_rounds_of_before_it_was_kept_are_told_by_their_text(aimed: Fleet) -> None:
    fit(aimed, "1L", dt.date(2026, 11, 1))
    aimed.targets()
    row = Round.objects.get(pk=sealed_good(aimed))
    kept: Any = row.last_words
    for word in kept["value"]:
        for name in ("own", "tire", "target_kpa"):
            word.pop(name)
    row.save()
    import_module("ballast.server.rounds.migrations.0014_last_words")._keep(apps, None)
    fit(aimed, "1L")
    aimed.targets()
    assert said(aimed)[1][0] == "1 tire not checked"
    assert sealed_round(aimed)


def test_the_lamp_asks_for_a_round_of_the_whole_rig(aimed: Fleet) -> None:
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"outside_c": 20, "elevation_m": 410, "dawn_c": 2})
    sealed_good(aimed)
    lit = read_all(aimed, w1L=GOOD["1L"] * 0.93) | {"aired": True, "after": "out"}
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/lamps/{uuid4()}", lit)
    assert said(aimed) == ("todo", ["Round due: the lamp since the last, today"])
    # Which tire lit it is not known: what was said of each stays as it was then.
    assert marks(aimed) == {}
    sealed_good(aimed)
    assert said(aimed) == ("fine", ["All hold, read today"])


def test_an_alarm_asks_for_a_round_and_its_wheel_is_not_checked(aimed: Fleet) -> None:
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"outside_c": 20, "elevation_m": 410, "dawn_c": 2})
    sealed_good(aimed)
    numbers = [{"wheel": w, "pressure": f"{p} kPa"} for w, p in (("1L", 0.8 * GOOD["1L"]), ("1R", GOOD["1R"]))]
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/glances/{uuid4()}", {"stood_h": 9, "numbers": numbers})
    assert said(aimed) == ("todo", ["1 tire not checked", "Round due: a low alarm at 1L since the last, today"])
    assert marks(aimed) == {"1L": "a low alarm"}


def kpa_of(fleet: Fleet) -> dict[str, float]:
    (rig,) = fleet.api.ok("GET", "/morning")["rigs"]
    assert rig["unknown"] == len(GOOD) - len(rig["tires"])
    return {t["code"]: t["kpa"] for t in rig["tires"]}


def foretold(fleet: Fleet) -> set[str]:
    return set(kpa_of(fleet))


def test_nothing_is_foretold_of_another_tire_nor_of_one_that_was_mended(aimed: Fleet) -> None:
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"outside_c": 20, "elevation_m": 410, "dawn_c": 2})
    fit(aimed, "1L", dt.date(2026, 11, 1))
    aimed.targets()
    sealed_good(aimed)
    assert foretold(aimed) == set(GOOD)
    # Nobody says that it is the one that was read.
    fit(aimed, "1R")
    assert foretold(aimed) == set(GOOD) - {"1R"}
    tire = Fitting.objects.get(rig=aimed.rig, wheel="1L").tire_id
    event = {"uuid": str(uuid4()), "kind": "patch", "done_on": "2026-11-25", "words": "screw"}
    aimed.api.ok("POST", f"/tires/{tire}/events", event)
    assert foretold(aimed) == set(GOOD) - {"1L", "1R"}


def test_what_a_tire_was_left_with_is_foretold_where_it_went(aimed: Fleet) -> None:
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"outside_c": 20, "elevation_m": 410, "dawn_c": 2})
    for wheel in ("1L", "2Lo"):
        fit(aimed, wheel, dt.date(2026, 11, 1))
    aimed.targets()
    sealed_good(aimed)
    before = kpa_of(aimed)
    assert before["2Lo"] > before["1L"] + 50
    moves = {"moves": {"1L": "2Lo", "2Lo": "1L"}, "moved_on": "2026-11-25", "looked": True}
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/moves", moves)
    after = kpa_of(aimed)
    # It took its air with it; the others are where they were.
    assert (after["1L"], after["2Lo"]) == (pytest.approx(before["2Lo"], abs=0.1), pytest.approx(before["1L"], abs=0.1))
    assert {w: after[w] for w in GOOD if w not in ("1L", "2Lo")} == pytest.approx(
        {w: before[w] for w in GOOD if w not in ("1L", "2Lo")}, abs=0.1
    )


def test_a_repair_of_after_the_round_asks_for_one_and_air_at_that_wheel_is_read_again(aimed: Fleet) -> None:
    fit(aimed, "1L", dt.date(2026, 11, 1))
    aimed.targets()
    tire = Fitting.objects.get(rig=aimed.rig, wheel="1L").tire_id

    def note(kind: str, on: str) -> str:
        event = {"uuid": str(uuid4()), "kind": kind, "done_on": on, "words": "screw"}
        aimed.api.ok("POST", f"/tires/{tire}/events", event)
        return event["uuid"]

    note("plug", "2026-11-25")
    sealed_good(aimed)
    note("plug", "2026-11-24")
    note("cupped", "2026-11-25")
    # Of before the round, told before it, or nothing that moves air: it asks for none.
    assert said(aimed) == ("fine", ["All hold, read today"])
    plug = note("plug", "2026-11-25")
    assert said(aimed) == ("todo", ["1 tire not checked", "Round due: a plug at 1L since the last, today"])
    # Taken back it counts for nothing.
    aimed.api.ok("DELETE", f"/tires/{tire}/events/{plug}")
    assert said(aimed) == ("fine", ["All hold, read today"])


def test_a_gauge_that_was_dropped_after_it_was_used_asks_wherever_it_read(aimed: Fleet) -> None:
    sealed_good(aimed)
    aimed.api.ok("PUT", f"/gauges/{aimed.gauge}/suspicion", {"suspicion": "drop"})
    label = Gauge.objects.get(pk=aimed.gauge).label
    assert said(aimed) == ("todo", [f"Round due: gauge {label} in doubt since the last, today"])
    # Compared again it is believed; what it read before is read again.
    aimed.api.ok("POST", f"/gauges/{aimed.gauge}/calibrations", COMPARISON)
    assert said(aimed)[0] == "todo"
    # Another drop that is taken back takes the first one along no more than the comparison did.
    for suspicion in ("drop", "over-pressure", ""):
        aimed.api.ok("PUT", f"/gauges/{aimed.gauge}/suspicion", {"suspicion": suspicion})
    assert said(aimed)[0] == "todo"
    sealed_good(aimed)
    assert said(aimed) == ("fine", ["All hold, read today"])
    aimed.api.ok("PUT", f"/gauges/{aimed.gauge}/suspicion", {"suspicion": "drop"})
    assert said(aimed)[0] == "todo"
    aimed.api.ok("PUT", f"/gauges/{aimed.gauge}/suspicion", {"suspicion": ""})
    assert said(aimed) == ("fine", ["All hold, read today"])


def test_a_gauge_that_somebody_else_of_the_round_had_in_hand_asks_too(aimed: Fleet) -> None:
    other = aimed.api.ok("POST", "/gauges", GAUGE | {"label": "G7"})["id"]
    aimed.api.ok("POST", f"/gauges/{other}/calibrations", COMPARISON)
    view = aimed.open_round()
    for wheel, kpa in GOOD.items():
        aimed.read(view["id"], wheel, kpa, **({"gauge": other} if wheel == "1R" else {}))
    aimed.api.ok("POST", f"/rounds/{view['id']}/seal", {})
    assert said(aimed) == ("fine", ["All hold, read today"])
    aimed.api.ok("PUT", f"/gauges/{other}/suspicion", {"suspicion": "over-pressure"})
    assert said(aimed) == ("todo", ["Round due: gauge G7 in doubt since the last, today"])


def test_a_gauge_that_was_named_after_the_seal_asks_too(aimed: Fleet) -> None:
    other = aimed.api.ok("POST", "/gauges", GAUGE | {"label": "G7"})["id"]
    aimed.api.ok("POST", f"/gauges/{other}/calibrations", COMPARISON)
    sealed = sealed_good(aimed)
    amendment = {"uuid": str(uuid4()), "wheel": "1R", "pressure": GOOD["1R"], "gauge": other, "reason": "It was G7"}
    aimed.api.ok("POST", f"/rounds/{sealed}/amendments", amendment)
    assert said(aimed) == ("fine", ["All hold, read today"])
    aimed.api.ok("PUT", f"/gauges/{other}/suspicion", {"suspicion": "drop"})
    assert said(aimed) == ("todo", ["Round due: gauge G7 in doubt since the last, today"])


def test_what_is_hitched_since_is_read_together_first(aimed: Fleet) -> None:
    sealed_good(aimed)
    trailer = {"kind": "trailer", "name": "Behind it", "axles": [{"tire_size": "ST205/75R15 107/102M D"}]}
    behind = aimed.api.ok("POST", "/rigs", trailer)["id"]
    aimed.api.ok("PUT", f"/rigs/{behind}/hitch", {"behind": aimed.rig})
    assert "Round due: hitched since the last, today" in said(aimed)[1]


def test_a_rig_that_was_read_with_a_gauge_that_is_due_says_so_and_asks_for_nothing(aimed: Fleet) -> None:
    sealed_good(aimed)
    gauge = Gauge.objects.get(pk=aimed.gauge)
    due = NOW.date()
    gauge.every_days = (due - gauge.calibrations.latest("compared_on").compared_on).days
    gauge.save()
    for days, told in ((0, 0), (1, 1)):
        with patch("django.utils.timezone.now", return_value=NOW + dt.timedelta(days=days)):
            words = said(aimed)[1]
            assert sum(w.startswith(f"Read with {gauge.label}, to be compared by ") for w in words) == told
            listed = aimed.api.ok("GET", "/yard?lines=gauge")["rigs"]
            assert [r["id"] for r in listed] == [aimed.rig] * told
            # The drawer says the same of it.
            (row,) = (g for g in aimed.api.ok("GET", "/gauges") if g["id"] == aimed.gauge)
            assert row["suspect"] is bool(told)
    with patch("django.utils.timezone.now", return_value=NOW + dt.timedelta(days=2)):
        again = COMPARISON | {"compared_on": (due + dt.timedelta(days=2)).isoformat()}
        aimed.api.ok("POST", f"/gauges/{aimed.gauge}/calibrations", again)
        assert not any("to be compared" in w for w in said(aimed)[1])
