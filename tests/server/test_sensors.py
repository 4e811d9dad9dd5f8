"""Sensors of a rig: its system, alarms from its targets, numbers read off, and what stays on record."""

import csv
import datetime as dt
import io
import math
from typing import Any
from uuid import uuid4

import pytest
from django.utils import timezone

from ballast.core.gas import Air, carry
from ballast.core.targets import LampSeen
from ballast.core.units import PSI_KPA
from ballast.core.working import day
from ballast.server.rigs.models import Axle
from ballast.server.sensors.models import AlarmTold, Glance
from ballast.server.targets.lamp import learn
from tests.server.conftest import NOW, Api, Fleet
from tests.server.test_ground import enter, on_soft, pulled
from tests.server.test_rounds import GOOD


@pytest.fixture
def driven(aimed: Fleet) -> Fleet:
    """The coach with its targets, in air of 20 °C at 410 m, a dawn of 2 °C ahead."""
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"outside_c": 20, "elevation_m": 410, "dawn_c": 2})
    return aimed


def look(fleet: Fleet, numbers: dict[str, float], **more: Any) -> Any:
    body = {"stood_h": 9, "numbers": [{"wheel": w, "pressure": f"{p} kPa"} for w, p in numbers.items()], **more}
    return fleet.api.ok("PUT", f"/rigs/{fleet.rig}/glances/{uuid4()}", body)


def states(told: Any) -> dict[str, str | None]:
    return {w["code"]: w["grade"] for a in told["axles"] for w in a["wheels"]}


def test_alarms_come_from_the_targets_in_the_air_of_now(driven: Fleet) -> None:
    told = driven.api.ok("GET", f"/rigs/{driven.rig}/sensors")
    front = told["axles"][0]
    target = front["target_kpa"]
    assert front["name"] == "Front"
    assert front["low_kpa"] == pytest.approx(0.88 * target)
    assert front["very_low_kpa"] == pytest.approx(0.80 * target)
    assert front["low_clears_kpa"] == pytest.approx(0.97 * target)
    # A coach is heavy: hot 40 °C over the air of 20 °C, and 5 % more.
    assert front["high_kpa"] == pytest.approx(1.05 * carry(target, Air(20, 410), Air(60, 410)))
    assert front["receiver"]["low_kpa"] == pytest.approx(carry(0.88 * target, Air(20, 410), Air(2, 410)))
    # Low is told rounded up, high down: both rather early.
    ways = [(limit["name"], limit["at"]["toward"]) for limit in (*front["limits"], *front["receiver"]["limits"])]
    assert ways == [
        ("Very low", "up"), ("Low", "up"), ("Clears", "up"), ("High, hot", "down"), ("Low", "up"), ("High", "down"),
    ]  # fmt: skip
    assert set(states(told)) == set(GOOD)
    assert set(states(told).values()) == {None}
    assert front["wheels"][0]["words"]["text"] == "Not heard"


def test_without_air_or_target_nothing_is_made_up(fleet: Fleet, aimed: Fleet) -> None:
    told = aimed.api.ok("GET", f"/rigs/{aimed.rig}/sensors")
    assert told["axles"][0]["high_kpa"] is None
    assert [limit["at"] is None for limit in told["axles"][0]["limits"]] == [False, False, False, True]
    assert told["axles"][0]["receiver"] is None
    assert any("air is not known" in n["text"] for n in told["notes"])
    refused = {"numbers": [{"wheel": "1L", "pressure": "600 kPa"}]}
    aimed.api.no("PUT", f"/rigs/{aimed.rig}/glances/{uuid4()}", refused, 422, "air")
    bare = fleet.api.ok(
        "POST", "/rigs", {"kind": "pickup", "name": "Bare", "axles": [{"tire_size": "LT265/70R17 121/118S E"}, {}]}
    )["id"]
    told = fleet.api.ok("GET", f"/rigs/{bare}/sensors")
    assert "No target is in force" in told["notes"][0]["text"]
    assert told["axles"][0]["low_kpa"] is None


def test_low_sets_by_a_number_and_a_round_with_air_clears_it(driven: Fleet) -> None:
    target = driven.api.ok("GET", f"/rigs/{driven.rig}/sensors")["axles"][0]["target_kpa"]
    assert states(look(driven, {"1L": 0.95 * target, "1R": target}))["1L"] == "clear"
    told = look(driven, {"1L": 0.87 * target})
    assert states(told)["1L"] == "low"
    # On every screen of the rig.
    said = driven.api.ok("GET", f"/yard/{driven.rig}")["alarms"]
    assert [a["text"].split(" {")[0] for a in said] == ["Front left: Low:"]
    # Up again by warmth alone, and inside the loop: it stays.
    assert states(look(driven, {"1L": target}, stood_h=None, rolled_min=30))["1L"] == "low"
    assert states(look(driven, {"1L": 0.95 * target}))["1L"] == "low"
    told = look(driven, {"1L": 0.98 * target})
    assert states(told)["1L"] == "clear"
    assert driven.api.ok("GET", f"/yard/{driven.rig}")["alarms"] == []
    assert [(t["what"], t["sets"]) for t in told["told"]] == [("low", False), ("low", True)]
    assert told["told"][1]["words"]["text"] == "Front left: low set by {0}"


def test_what_comes_late_is_folded_by_its_time_and_what_was_told_stays(driven: Fleet) -> None:
    target = driven.api.ok("GET", f"/rigs/{driven.rig}/sensors")["axles"][0]["target_kpa"]
    now = timezone.now()
    look(driven, {"1L": 0.87 * target}, at=(now - dt.timedelta(hours=3)).isoformat(), outside_c=20)
    assert states(look(driven, {"1L": 0.95 * target}, at=now.isoformat()))["1L"] == "low"
    # Read between the two, cold and well above: it had cleared before the newest.
    late = look(driven, {"1L": 0.99 * target}, at=(now - dt.timedelta(minutes=90)).isoformat(), outside_c=20)
    assert states(late)["1L"] == "clear"
    kept = AlarmTold.objects.filter(wheel="1L", sets=True)
    assert kept.count() == 1
    # Taken back, the number is gone, what was told is not.
    first = Glance.objects.order_by("at")[0]
    back = driven.api.ok("DELETE", f"/rigs/{driven.rig}/glances/{first.uuid}")
    assert states(back)["1L"] == "clear"
    assert kept.count() == 1


def test_a_display_that_did_not_refresh_judges_nothing_and_an_old_number_says_so(driven: Fleet) -> None:
    target = driven.api.ok("GET", f"/rigs/{driven.rig}/sensors")["axles"][0]["target_kpa"]
    stale = {"numbers": [{"wheel": "1L", "pressure": f"{0.5 * target} kPa", "fresh": False}]}
    told = driven.api.ok("PUT", f"/rigs/{driven.rig}/glances/{uuid4()}", stale)
    assert states(told)["1L"] is None
    assert told["told"] == []
    days_ago = (timezone.now() - dt.timedelta(days=2)).isoformat()
    wheel = look(driven, {"1L": target}, at=days_ago, outside_c=20)["axles"][0]["wheels"][0]
    assert (wheel["old"], wheel["words"]["text"]) == (True, "As if cold {0}, by an old number")


def test_numbers_sent_again_are_there_once_and_nonsense_is_named(driven: Fleet, stranger: Api) -> None:
    uuid, body = uuid4(), {"numbers": [{"wheel": "1L", "pressure": "600 kPa"}], "stood_h": 9}
    path = f"/rigs/{driven.rig}/glances/{uuid}"
    assert driven.api.ok("PUT", path, body) == driven.api.ok("PUT", path, body)
    assert Glance.objects.count() == 1
    stranger.no("PUT", path, body, 404)
    stranger.no("DELETE", path, None, 404)
    stranger.no("GET", f"/rigs/{driven.rig}/sensors", None, 404)
    for wrong, field in (
        ({"numbers": [{"wheel": "9X", "pressure": "600 kPa"}]}, "numbers.0.wheel"),
        ({"numbers": [{"wheel": "1L", "pressure": "600 kPa"}] * 2}, "numbers.1.wheel"),
        ({"numbers": [{"wheel": "1L", "pressure": "soft"}]}, "numbers.0.pressure"),
        ({"numbers": []}, "numbers"),
        (body | {"rolled_min": 30}, "stood_h"),
        (body | {"at": (timezone.now() + dt.timedelta(hours=1)).isoformat()}, "at"),
        (body | {"at": (timezone.now() - dt.timedelta(hours=2)).isoformat()}, "outside_c"),
    ):
        driven.api.no("PUT", f"/rigs/{driven.rig}/glances/{uuid4()}", wrong, 422, field)


def test_the_system_is_kept_and_its_share_moves_low(driven: Fleet, stranger: Api) -> None:
    path = f"/rigs/{driven.rig}/sensors"
    seen = driven.api.ok("GET", path)
    own: dict[str, Any] = {
        "refresh_min": None,
        "kind": "cap",
        "wheels": ["1R", "1L"],
        "low_share": 0.2,
        "batteries_on": "2019-03-01",
        "battery_years": 7,
    }
    kept = driven.api.ok("PUT", path, own | {"version": seen["version"]})
    assert kept["system"]["wheels"] == ["1L", "1R"]
    assert kept["axles"][0]["low_kpa"] == pytest.approx(0.8 * kept["axles"][0]["target_kpa"])
    assert any("replaced by Mar 1, 2026" in n["text"] for n in kept["notes"])
    assert driven.api.no("PUT", path, own | {"kind": "wheel", "version": seen["version"]}, 409, "kind")
    driven.api.no("PUT", path, own | {"wheels": ["9X"]}, 422, "wheels.0")
    assert "10% to 20%" in driven.api.no("PUT", path, own | {"low_share": 0.3}, 422, "low_share")
    assert driven.api.ok("PUT", path, own | {"battery_years": None})["system"]["battery_years"] is None
    driven.api.no("PUT", path, own | {"batteries_on": "2027-03-01"}, 422, "batteries_on")
    stranger.no("PUT", path, own, 404)


def test_a_plan_off_the_road_moves_the_alarms_to_its_numbers(api: Api) -> None:
    fleet = pulled(api)
    road = fleet.api.ok("GET", f"/rigs/{fleet.rig}/sensors")["axles"][0]
    assert (road["on_ground"], road["target_kpa"]) == (False, pytest.approx(38 * PSI_KPA))
    on_soft(fleet)
    soft = fleet.api.ok("GET", f"/rigs/{fleet.rig}/sensors")["axles"][0]
    # 17 psi on soft sand, and its floor of 110 kPa, held by the near end of the gauge: more than 12 % under.
    assert (soft["on_ground"], soft["target_kpa"]) == (True, pytest.approx(17 * PSI_KPA))
    assert 110 <= soft["low_kpa"] <= soft["target_kpa"]
    assert soft["low_kpa"] > 0.88 * soft["target_kpa"]
    assert soft["low_clears_kpa"] > soft["low_kpa"]
    # A wheel that was replaced out there stands at its road number, beside its mate on the sand.
    plan = fleet.api.ok("GET", f"/rigs/{fleet.rig}/ground")["open"]
    enter(fleet, plan, "1L", 0, done="replaced", reason="cut")
    fronts = [a for a in fleet.api.ok("GET", f"/rigs/{fleet.rig}/sensors")["axles"] if a["name"] == "Front"]
    held = {a["wheels"][0]["code"]: (a["on_ground"], round(a["target_kpa"] / PSI_KPA)) for a in fronts}
    assert held == {"1L": (False, 38), "1R": (True, 17)}


def test_a_threshold_of_the_lamp_keeps_its_day_and_is_asked_back_with_other_tires(api: Api) -> None:
    axles = [{"tire_size": "245/70R17 110T", "placard_kpa": 240}, {"tire_size": "245/70R17 110T", "placard_kpa": 240}]
    body = {"kind": "pickup", "name": "Lit", "gvwr_kg": 3000, "axles": axles}
    rig = api.ok("POST", "/rigs", body)["id"]

    def lamp() -> list[str]:
        return [w["text"] for w in api.ok("GET", f"/rigs/{rig}/sensors")["axles"][0]["lamp"]]

    assert "at the latest below {0}, by law" in lamp()[0]
    api.ok("PUT", f"/rigs/{rig}", body | {"axles": [axles[0] | {"lamp_kpa": 200}, axles[1]]})
    assert lamp() == [f"The vehicle's own lamp lights below {{0}}, written down {day(NOW.date())}."]
    api.ok(
        "PUT", f"/rigs/{rig}", body | {"axles": [axles[0] | {"lamp_kpa": 200, "tire_size": "265/70R17 115T"}, axles[1]]}
    )
    assert lamp()[1].startswith("That was with 245/70R17")
    # Its target is another by now: asked back too.
    api.ok("POST", f"/rigs/{rig}/targets", {})
    again = body | {"axles": [axles[0] | {"lamp_kpa": 210}, axles[1]]}
    api.ok("PUT", f"/rigs/{rig}", again)
    assert len(lamp()) == 1
    again["axles"] = [axles[0] | {"lamp_kpa": 210, "placard_kpa": 260}, axles[1]]
    api.ok("PUT", f"/rigs/{rig}", again)
    api.ok("POST", f"/rigs/{rig}/targets", {})
    assert lamp()[1].startswith("The target was {0} then and is {1} now: ask whether it was set anew")
    # Nobody wrote it down: as it was seen, on these tires.
    api.ok("PUT", f"/rigs/{rig}", body)
    row = Axle.objects.get(rig=rig, number=1)
    learn(row, LampSeen(NOW.date(), "245/70R17 110T", 205.0, None))
    assert lamp()[0].startswith("The vehicle's own lamp lights at {0} or a little higher")
    api.ok("PUT", f"/rigs/{rig}", body | {"axles": [axles[0] | {"tire_size": "265/70R17 115T"}, axles[1]]})
    assert "by law" in lamp()[0]


def test_sealed_sensors_are_read_as_a_gauge_would_where_the_air_is_thin(driven: Fleet) -> None:
    driven.api.ok("PUT", f"/rigs/{driven.rig}/air", {"outside_c": 20, "elevation_m": 1500, "dawn_c": 20})
    front = driven.api.ok("GET", f"/rigs/{driven.rig}/sensors")["axles"][0]
    # 5 kPa under where low sets, and over it by what such a sensor shows too little: 16.77 at 1,500 m.
    under = {"1L": front["low_kpa"] - 5}
    told = look(driven, under)
    assert states(told)["1L"] == "low"
    assert [w["since"] and w["since"]["text"] for w in told["axles"][0]["wheels"]] == [
        "0 min ago, stood 9 h by then",
        None,
    ]
    kept = driven.api.ok("PUT", f"/rigs/{driven.rig}/sensors", {"kind": "cap", "sealed": True})
    assert kept["system"]["sealed"]
    assert states(kept)["1L"] is None or states(kept)["1L"] == "clear"
    raw = kept["axles"][0]["receiver"]
    assert front["receiver"]["low_kpa"] - raw["low_kpa"] == pytest.approx(16.77, abs=0.01)
    assert "sealed" in raw["hides"][-1]["text"]


def test_alarms_as_rows_and_on_paper(driven: Fleet) -> None:
    text = driven.api.call("GET", f"/rigs/{driven.rig}/alarms.csv").content.decode()
    rows = list(csv.DictReader(io.StringIO(text)))
    assert [r["axle"] for r in rows][:2] == ["Front", "Rear"]
    assert float(rows[0]["low_kpa"]) == pytest.approx(0.88 * float(rows[0]["target_kpa"]), abs=0.01)
    assert float(rows[0]["receiver_low_psi"]) == pytest.approx(float(rows[0]["receiver_low_kpa"]) / 6.894757, abs=0.01)
    assert "stays silent down to" in rows[0]["hides"]
    (told, *_), (held, *_) = (
        driven.api.ok("GET", f"/rigs/{driven.rig}/sensors")["axles"], driven.api.ok("GET", f"/rigs/{driven.rig}/targets")[0]["axles"],
    )  # fmt: skip
    # So that no target is shown rounded past it.
    assert told["ceiling_kpa"] == held["ceiling_kpa"] > told["target_kpa"]
    assert driven.api.call("GET", f"/rigs/{driven.rig}/alarms.pdf").content.startswith(b"%PDF")


# -- the lamp came on ------------------------------------------------------------------------------------


def lamp(fleet: Fleet, **answers: Any) -> Any:
    return fleet.api.ok("POST", "work/lamp", {"rig": fleet.rig, **answers})


def read_all(fleet: Fleet, **lower: float) -> dict[str, Any]:
    numbers = {**GOOD, **{w.lstrip("w"): p for w, p in lower.items()}}
    readings = [{"wheel": w, "pressure": f"{p} kPa"} for w, p in numbers.items()]
    return {
        "light": "solid",
        "which": "?",
        "seen": "nothing",
        "gauge": fleet.gauge,
        "standing_h": 12,
        "readings": readings,
    }


def test_the_lamp_is_followed_to_a_leak_and_kept(driven: Fleet, stranger: Api) -> None:
    assert [lamp(driven)["key"], lamp(driven, light="solid")["key"]] == ["light", "which"]
    one = read_all(driven, w1L=GOOD["1L"] * 0.93)
    step = lamp(driven, **one)
    assert step["key"] == "air"
    low = next(w for w in step["wheels"] if w["code"] == "1L")
    assert low["word"] == "add"
    # Filled to its target, as its gauge shows that: about what its mates show.
    assert low["shows_kpa"] == pytest.approx(GOOD["1R"], rel=0.02)
    assert lamp(driven, **one, aired=True)["key"] == "roll"
    end = lamp(driven, **one, aired=True, after="out")
    assert (end["outcome"], end["outcome_name"]) == ("leak", "One may leak")
    path = f"/rigs/{driven.rig}/lamps/{uuid4()}"
    driven.api.no("PUT", path, one, 409, "after")
    for _ in range(2):
        kept = driven.api.ok("PUT", path, one | {"aired": True, "after": "out"})
    assert [c["outcome"] for c in kept["lamp_cases"]] == ["One may leak"]
    stranger.no("PUT", path, one | {"aired": True, "after": "out"}, 404)
    # Only the front left can have lit it: that is learned, once. It was out with all at what they were filled to, or read.
    front, rear = (Axle.objects.get(rig=driven.rig, number=n) for n in (1, 2))
    assert front.lamp_seen["lit_kpa"] == pytest.approx(GOOD["1L"] * 0.93, rel=0.01)
    # Warm by then: 15 °C over the air of 20 °C, as a heavy rig that rolled is taken to be.
    assert front.lamp_seen["out_kpa"] == pytest.approx(carry(GOOD["1R"], Air(20, 410), Air(35, 410)), rel=0.02)
    assert (rear.lamp_seen["lit_kpa"], rear.lamp_seen["size"]) == (None, rear.tire_size)
    assert front.history.filter(lamp_seen__isnull=False).count() == 1
    stranger.no("POST", "work/lamp", {"rig": driven.rig}, 404)


def test_what_a_phone_carries_means_what_the_server_says(driven: Fleet, stranger: Api) -> None:
    carried = driven.api.ok("GET", f"/rigs/{driven.rig}/lamp")
    stranger.no("GET", f"/rigs/{driven.rig}/lamp", None, 404)
    assert {w["code"]: w["spare"] for w in carried["wheels"]} == {w: w == "S1" for w in GOOD}
    assert [(s["hours"], s["name"]) for s in carried["stood"]] == [
        (0, "Just off the road"), (1, "Stood an hour"), (12, "Stood overnight"),
    ]  # fmt: skip
    # So long its air is that of now; after that nothing is judged by it.
    lasts = dt.datetime.fromisoformat(carried["until"]) - dt.datetime.fromisoformat(carried["as_of"])
    assert dt.timedelta(0) < lasts <= dt.timedelta(hours=6)
    gauge = carried["gauges"][0]["id"]
    for stood in carried["stood"]:
        for share in (0.5, 0.9, 0.97, 1.0, 1.2):
            read = read_all(driven, w1L=GOOD["1L"] * share) | {"standing_h": stood["hours"], "gauge": gauge}
            said = next(w for w in lamp(driven, **read)["wheels"] if w["code"] == "1L")
            sheet = next(d for d in stood["decisions"] if d["gauge"] == gauge and "1L" in d["wheels"])
            kpa = round(GOOD["1L"] * share, 2)
            assert [s["word"] for s in sheet["stretches"] if s["from_kpa"] <= kpa][-1] == said["word"], (stood, share)
    # What a phone said is kept as it said it, however the air is by the time it arrives.
    ended = {"said": {"outcome": "leak", "wheels": ["1L", "2Lo"]}, "at": "2030-01-01T00:00:00Z"}
    one = read_all(driven) | {"aired": True, "after": "out"} | ended
    kept = driven.api.ok("PUT", f"/rigs/{driven.rig}/lamps/{uuid4()}", one)["lamp_cases"][0]
    assert kept["outcome"] == "One may leak"
    assert kept["words"]["text"].startswith("Front left, rear left, outer lacked more than the others: they may leak.")
    assert dt.datetime.fromisoformat(kept["at"]) <= timezone.now()
    one["said"]["wheels"] = ["9L"]
    driven.api.no("PUT", f"/rigs/{driven.rig}/lamps/{uuid4()}", one, 422, "said.wheels")


def test_a_tire_far_too_low_stops_the_guide_and_an_unread_one_is_asked_for(driven: Fleet) -> None:
    assert lamp(driven, **read_all(driven, w1L=GOOD["1L"] * 0.6))["outcome"] == "stop"
    some = read_all(driven)
    some["readings"] = some["readings"][:3]
    step = lamp(driven, **some)
    assert step["key"] == "read"
    assert "Not yet:" in step["words"]["text"]
    left = [{"wheel": w, "reason": "out of reach"} for w in list(GOOD)[3:]]
    end = lamp(driven, **some, left_out=left, after="on")
    assert end["outcome"] == "unread"


def test_nonsense_on_the_way_is_named(driven: Fleet, aimed: Fleet) -> None:
    for wrong, field in (
        ({"which": "9X"}, "which"),
        ({"readings": [{"wheel": "9X", "pressure": "600 kPa"}]}, "readings.0.wheel"),
        ({"left_out": [{"wheel": "9X", "reason": "gone"}]}, "left_out.0.wheel"),
        ({"readings": [{"wheel": "1L", "pressure": "600 kPa"}]}, "gauge"),
        ({"light": "purple"}, "light"),
    ):
        driven.api.no("POST", "work/lamp", {"rig": driven.rig, **wrong}, 422, field)


# -- beside what rounds say ------------------------------------------------------------------------------


def read_all_wheels(fleet: Fleet) -> None:
    row = fleet.open_round(outside_c=20)
    for code, kpa in GOOD.items():
        fleet.read(row["id"], code, kpa)
    fleet.api.ok("POST", f"/rounds/{row['id']}/seal", {})


@pytest.fixture
def read_once(driven: Fleet) -> Fleet:
    """A sealed round of this morning, every tire as it should be."""
    read_all_wheels(driven)
    return driven


def foretold(fleet: Fleet, code: str) -> Any:
    (rig,) = fleet.api.ok("GET", "/morning")["rigs"]
    return next(t for t in rig["tires"] if t["code"] == code)


def rounds_of(fleet: Fleet) -> Any:
    return next(s["words"] for s in fleet.api.ok("GET", f"/yard/{fleet.rig}")["stages"] if s["key"] == "rounds")


def test_a_number_since_the_round_counts_this_morning_at_its_own_uncertainty(
    read_once: Fleet,
) -> None:
    read_once.api.ok("PUT", f"/rigs/{read_once.rig}/sensors", {"kind": "wheel", "sealed": False})
    before, due = foretold(read_once, "1L"), rounds_of(read_once)
    assert (before["word"], before["glance_at"]) == ("hold", None)
    # About the same: a little surer. The others are as they were.
    look(read_once, {"1L": before["kpa"] + 2})
    beside = foretold(read_once, "1L")
    # A display is sure to 7 kPa and 3 °C of 293 on some 720 absolute, which is 10.2; beside it the round's own range.
    of_display = math.hypot(7, 3 / 293.15 * (before["kpa"] + 96.5))
    assert beside["within_kpa"] == pytest.approx(1 / math.hypot(1 / before["within_kpa"], 1 / of_display), rel=0.01)
    assert before["kpa"] < beside["kpa"] < before["kpa"] + 2
    assert beside["glance_at"] is not None
    assert foretold(read_once, "1R")["glance_at"] is None
    # It is no round: what is due is due as it was.
    assert rounds_of(read_once) == due
    # Far below it: one of the two is wrong, and nobody knows which. It sets the alarm, and that asks for a round.
    look(read_once, {"1L": before["kpa"] - 60})
    apart = foretold(read_once, "1L")
    assert apart["word"] != "hold"
    assert not apart["sure"]
    assert apart["kpa"] - apart["within_kpa"] < before["kpa"] - 60
    assert (due["text"], rounds_of(read_once)["text"]) == ("done today", "due, last today")


def test_a_number_that_is_old_or_not_refreshed_or_of_before_the_round_counts_nothing(
    read_once: Fleet, monkeypatch: pytest.MonkeyPatch
) -> None:
    as_it_was = foretold(read_once, "1L")
    stale = {"numbers": [{"wheel": "1L", "pressure": "300 kPa", "fresh": False}], "stood_h": 9}
    read_once.api.ok("PUT", f"/rigs/{read_once.rig}/glances/{uuid4()}", stale)
    earlier = (timezone.now() - dt.timedelta(hours=3)).isoformat()
    look(read_once, {"1L": 300}, at=earlier, outside_c=20)
    assert foretold(read_once, "1L")["kpa"] == pytest.approx(as_it_was["kpa"], abs=0.5)
    look(read_once, {"1L": as_it_was["kpa"] - 60})
    moved = timezone.now
    monkeypatch.setattr(timezone, "now", lambda: moved() + dt.timedelta(days=1, minutes=1))
    read_once.api.ok("PUT", f"/rigs/{read_once.rig}/air", {"outside_c": 20, "elevation_m": 410, "dawn_c": 2})
    # It was far below: since that is a day ago nobody knows what it reads, and the round says it no more.
    (rig,) = read_once.api.ok("GET", "/morning")["rigs"]
    assert {t["code"] for t in rig["tires"]} == set(GOOD) - {"1L"}
    assert foretold(read_once, "1R")["glance_at"] is None


def test_after_a_rotation_a_receiver_is_to_learn_and_its_numbers_count_nowhere(driven: Fleet) -> None:
    api, rig = driven.api, driven.rig
    for code in ("1L", "1R"):
        new = {"wheel": code, "new": {"date_code": "1024"}, "fitted_on": "2026-11-01"}
        api.ok("POST", f"/rigs/{rig}/fittings", new)
    driven.targets()
    read_all_wheels(driven)
    api.ok("PUT", f"/rigs/{rig}/sensors", {"kind": "cap", "wheels": ["1L", "1R"]})
    moves = {"moves": {"1L": "1R", "1R": "1L"}, "moved_on": NOW.date().isoformat(), "looked": True}
    assert api.ok("POST", f"/rigs/{rig}/moves", moves)["sensors"]
    told = api.ok("GET", f"/rigs/{rig}/sensors")["notes"]
    assert any("its numbers may be of other wheels" in n["text"] for n in told)
    look(driven, {"1L": GOOD["1L"]})
    assert foretold(driven, "1L")["glance_at"] is None
    turned = api.ok("GET", f"/rigs/{rig}/wear")["rotations"][0]["id"]
    api.ok("POST", f"/rotations/{turned}/learned")
    assert not any("other wheels" in n["text"] for n in api.ok("GET", f"/rigs/{rig}/sensors")["notes"])
    assert foretold(driven, "1L")["glance_at"] is not None
