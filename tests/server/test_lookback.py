import csv
import datetime as dt
import io
from dataclasses import replace
from typing import Any
from unittest.mock import patch
from uuid import uuid4

import numpy as np
import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from ballast.core.gas import REFERENCE, Air, carry
from ballast.server.accounts.models import Person
from ballast.server.air.models import RigAir
from ballast.server.edge.files import harmless
from ballast.server.lookback.columns import by_tire, read, record
from ballast.server.refine.models import Rotation
from ballast.server.rounds.models import Round, Service
from tests.server.conftest import COACH, NOW, TICKET, Api, Fleet
from tests.server.test_rounds import GOOD

DAY0 = NOW.replace(hour=14) - dt.timedelta(days=70)


def walk(fleet: Fleet, day: float, outside_c: float, lost: dict[str, float], **more: Any) -> Any:
    """A round on a day: what was set at 20 °C on day 0, in the air of now, less what each tire has lost by then."""
    wheels = []
    for code, kpa in GOOD.items():
        true = carry(kpa - 4, Air(20, 410), Air(outside_c, 410)) - lost.get(code, 0.0)
        wheels.append({"wheel": code, "before": round(true + 4, 2)})
    body = {"conditions": fleet.conditions(outside_c=outside_c, **more), "wheels": wheels}
    with patch("django.utils.timezone.now", return_value=DAY0 + dt.timedelta(days=day)):
        return fleet.api.ok("POST", f"/rigs/{fleet.rig}/rounds/quick", body)


def weeks(fleet: Fleet, count: int, leak: float = 0.0, onset: int = 99) -> None:
    """Weekly rounds in changing air; from a week on the inner right dual leaks so many kPa a week."""
    for week in range(count):
        lost = {"2Ri": leak * max(0, week - onset)}
        walk(fleet, 7 * week, 20 - 4 * (week % 4), lost)


def look(fleet: Fleet) -> Any:
    return fleet.api.ok("GET", f"/lookback/{fleet.rig}")


def test_a_kept_trip_brings_the_next_check_forward(aimed: Fleet) -> None:
    walk(aimed, 69, 20, {})
    asked = {"on": "2026-11-28", "elevation_m": 410, "dawn_c": -3}
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/trip", {"legs": [asked]})
    # Read on the 24th; the first morning away is the 28th, so it leaves on the 27th.
    (line,) = aimed.api.ok("GET", "/yard")["rigs"]
    told = [look(aimed), aimed.api.ok("GET", f"/rigs/{aimed.rig}/morning")["rigs"][0]]
    for found in (line, *told):
        assert found["next_check_on"] == "2026-11-27"
    assert [found["next_check_words"] for found in told] == ["The trip begins then"] * 2
    with patch("django.utils.timezone.now", return_value=NOW + dt.timedelta(days=2)):
        (line,) = aimed.api.ok("GET", "/yard")["rigs"]
        stages = {s["key"]: s for s in aimed.api.ok("GET", f"/yard/{aimed.rig}")["stages"]}
    assert "Round due, last 3 days ago: The trip begins then" in [m["text"] for m in (line["words"], *line["more"])]
    assert stages["rounds"]["state"] == "todo"
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/trip", {"legs": []})
    assert look(aimed)["next_check_on"] == "2026-12-01"


def test_nothing_sealed_nothing_to_look_back_on(aimed: Fleet) -> None:
    found = look(aimed)
    assert (found["tires"], found["rounds"], found["start"]) == ([], [], None)
    round_id = aimed.open_round()["id"]
    aimed.read(round_id, "1L", 625)
    assert look(aimed)["rounds"] == []
    aimed.api.ok("DELETE", f"/rounds/{round_id}")
    assert look(aimed)["rounds"] == []


def test_a_series_stands_at_twenty_degrees_and_sea_level(aimed: Fleet) -> None:
    walk(aimed, 0, 20, {})
    walk(aimed, 7, -5, {"2Ri": 12})
    found = look(aimed)
    tire = next(t for t in found["tires"] if t["code"] == "2Ri")
    assert found["air"]["day"] == [0, 7]
    assert tire["round"] == found["air"]["round"]
    assert tire["raw"][0] == 694
    # 694 shown is 689.53 true at 410 m; read at 20 °C and sea level: less 4.83 of air pressure.
    assert tire["level"][0] == pytest.approx(carry(689.53, Air(20, 410), REFERENCE), abs=0.02)
    # 12 kPa at −5 °C are 12 × 293.15/268.15 = 13.1 at 20 °C; the calibration bends by a few tenths.
    assert tire["level"][1] - tire["level"][0] == pytest.approx(-13.1, abs=0.6)
    assert found["rounds"][0]["outside_c"] == -5
    assert found["air"]["c"] == [20, -5]


def show(fleet: Fleet, day: float, numbers: dict[str, float], fresh: bool = True) -> None:
    """Numbers off a display on a day, of tires as cold as the air of 20 °C."""
    read = [{"wheel": w, "pressure": f"{kpa} kPa", "fresh": fresh} for w, kpa in numbers.items()]
    with patch("django.utils.timezone.now", return_value=DAY0 + dt.timedelta(days=day)):
        body = {"stood_h": 9, "outside_c": 20, "numbers": read}
        fleet.api.ok("PUT", f"/rigs/{fleet.rig}/glances/{uuid4()}", body)


def test_numbers_off_a_display_stand_in_the_trend_beside_the_rounds(aimed: Fleet) -> None:
    weeks(aimed, 4)
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"outside_c": 20, "elevation_m": 410, "dawn_c": 15})
    before = {t["code"]: t for t in look(aimed)["tires"]}
    assert (before["1L"]["seen_at"], before["1L"]["display"], before["1L"]["apart"]) == ([], None, False)
    # A week before the last round, and since: 1L as ever, 2Ri falling 3 kPa a day, 2Lo once, 1R only shown again.
    show(aimed, 14, {"1L": 640})
    for day in range(22, 32, 2):
        show(aimed, day, {"1L": 640, "2Ri": 700 - 3 * (day - 22)})
    show(aimed, 31, {"2Lo": 690})
    show(aimed, 31, {"1R": 640}, fresh=False)
    after = {t["code"]: t for t in look(aimed)["tires"]}
    assert [len(after[w]["seen_at"]) for w in ("1L", "2Ri", "2Lo", "1R")] == [6, 5, 1, 0]
    # 640 off a display at 20 °C and 410 m, as at sea level: less the 4.83 kPa of air that stand over it there.
    assert after["1L"]["seen_level"][0] == pytest.approx(640 - 4.83, abs=0.05)
    assert after["1L"]["seen_within"][0] > 7
    assert after["1L"]["display"]["text"].startswith("5 numbers off its display since agree")
    assert not after["1L"]["apart"]
    # 90 kPa a month is no sound tire's: said, and not mixed into what its rounds say.
    assert after["2Ri"]["apart"]
    assert "it loses {0} a month" in after["2Ri"]["display"]["text"]
    assert after["2Ri"]["display"]["values"][0]["value"] == pytest.approx(90, abs=1)
    assert after["2Ri"]["rate_kpa_month"] == before["2Ri"]["rate_kpa_month"]
    # Nobody knows which is right: no day for it, but the earliest by either, soon after the round of day 21.
    assert after["2Ri"]["low_on"] is None
    assert "2026-10-07" < after["2Ri"]["low_soonest"] < "2026-11-20"
    assert after["2Lo"]["display"] is None
    # A receiver that was not told of a rotation: nobody knows of which tire its numbers are.
    by = Person.objects.first()
    Rotation.objects.create(rig_id=aimed.rig, moves={}, done_on=NOW.date(), entered_at=NOW, sensors=True, by=by)
    assert {len(t["seen_at"]) for t in look(aimed)["tires"]} == {0}


def test_leak_or_weather_in_two_sentences(aimed: Fleet) -> None:
    walk(aimed, 0, 20, {})
    walk(aimed, 7, -5, {"2Ri": 21})
    newest, oldest = look(aimed)["rounds"]
    assert "first sealed round" in oldest["words"][0]["text"]
    weather, own = newest["words"]
    assert weather["text"].startswith("The air took {0} off every tire since")
    # Six wheels' median: carried from 20 to −5 °C.
    assert weather["values"][0]["value"] == pytest.approx(66, abs=4)
    assert own["text"].startswith("Rear right, inner alone is {0} lower than the others")
    assert own["values"][0]["value"] == pytest.approx(21, abs=1)
    parts = aimed.api.ok("GET", f"/rounds/{newest['id']}/sealed")["parts"]
    assert [p["name"] for p in parts if p["stands_out"]] == ["Rear right, inner"]


def test_a_leak_is_named_over_rounds_with_its_rate_and_its_day(aimed: Fleet) -> None:
    weeks(aimed, 11, leak=6, onset=5)
    tires = {t["code"]: t for t in look(aimed)["tires"]}
    leaking = tires["2Ri"]
    assert [c for c, t in tires.items() if t["named"]] == ["2Ri"]
    # 6 kPa a week is 25.7 a month at some 10 °C: 26.6 at 20 °C. It lost nothing before: what is usual is not added.
    assert leaking["rate_kpa_month"] == pytest.approx(-26.6, abs=2)
    assert leaking["rate_low_kpa_month"] < leaking["rate_kpa_month"] < leaking["rate_high_kpa_month"]
    assert leaking["words"]["text"].startswith("Leaks: loses {0} a month")
    # The round of week five was the last that had lost nothing.
    began = dt.datetime.fromisoformat(leaking["since"])
    assert began.utcoffset() == dt.timedelta(0)
    assert abs(began - (DAY0 + dt.timedelta(days=35))) <= dt.timedelta(days=10)
    assert tires["1L"]["since"] is None
    assert leaking["low_soonest"] <= leaking["low_on"]
    assert "more than a sound tire" not in tires["1L"]["words"]["text"]


def test_a_named_leak_is_said_in_the_yard_until_its_tire_is_off(aimed: Fleet) -> None:
    def told() -> tuple[list[Any], tuple[str, str]]:
        (line,) = aimed.api.ok("GET", "/yard")["rigs"]
        stages = {s["key"]: s for s in aimed.api.ok("GET", f"/yard/{aimed.rig}")["stages"]}
        matters = [m for m in (line["words"], *line["more"]) if "leak" in m["text"]]
        return matters, (stages["lookback"]["state"], stages["lookback"]["words"]["text"])

    weeks(aimed, 6)
    matters, (state, words) = told()
    assert (matters, state) == ([], "quiet")
    assert "leak" not in words
    for week in range(6, 11):
        walk(aimed, 7 * week, 20 - 4 * (week % 4), {"2Ri": 6.0 * (week - 5)})
    ((leak,), stage) = told()
    assert leak["text"] == "Rear right, inner leaks: {0} a month. Have it found and mended"
    assert leak["values"][0]["value"] == pytest.approx(26.6, abs=2)
    assert stage == ("attention", "2Ri leaks")
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/fittings", {"wheel": "2Ri", "new": {}, "fitted_on": "2026-11-25"})
    assert told()[0] == []


def test_the_next_check_comes_sooner_by_the_leak(aimed: Fleet) -> None:
    weeks(aimed, 3)
    first = look(aimed)
    assert first["next_check_on"] == (DAY0 + dt.timedelta(days=21)).date().isoformat()
    assert "week" in first["next_check_words"]
    # 60 of 689 are gone, a tenth below its target is 620.5: 9 kPa at 20 a week are three days.
    for week in range(3, 6):
        walk(aimed, 7 * week, 20, {"2Ri": 20.0 * (week - 2)})
    found = look(aimed)
    assert found["next_check_on"] < (DAY0 + dt.timedelta(days=42)).date().isoformat()
    assert "Rear right, inner may be at a tenth below its target by then" in found["next_check_words"]


def test_another_gauge_is_marked_and_named(aimed: Fleet) -> None:
    other = aimed.api.ok("POST", "/gauges", {
        "label": "G9", "kind": "dial", "low_kpa": 0, "high_kpa": "1100 kPa", "resolution_kpa": "10 kPa", "dual_foot": True,
    })["id"]  # fmt: skip
    walk(aimed, 0, 20, {})
    walk(aimed, 7, 18, dict.fromkeys(GOOD, 35.0), gauge=other)
    found = look(aimed)
    assert [(m["what"], m["day"], m["words"]) for m in found["marks"]] == [("gauge", 7, "Read with G9 from here on")]
    assert "another gauge was used" in found["rounds"][0]["words"][0]["text"]
    assert not any(t["named"] for t in found["tires"])


def test_a_tire_is_followed_through_its_rotation(aimed: Fleet) -> None:
    fitted = (DAY0 - dt.timedelta(days=30)).date().isoformat()
    for code in ("1L", "1R"):
        aimed.api.ok("POST", f"/rigs/{aimed.rig}/fittings", {"wheel": code, "new": {}, "fitted_on": fitted})
    walk(aimed, 0, 20, {})
    walk(aimed, 7, 20, {"1L": 15})
    moved = (DAY0 + dt.timedelta(days=8)).date().isoformat()
    aimed.api.ok(
        "POST", f"/rigs/{aimed.rig}/moves", {"moves": {"1L": "1R", "1R": "1L"}, "moved_on": moved, "looked": True}
    )
    walk(aimed, 14, 20, {"1R": 15})
    tires = {t["code"]: t for t in look(aimed)["tires"]}
    assert tires["1R"]["elsewhere"] == ["1L", "1L", ""]
    level = tires["1R"]["level"]
    assert level[0] - level[1] == pytest.approx(15, abs=0.5)
    assert level[1] == pytest.approx(level[2], abs=0.5)


def test_a_tire_brings_its_history_from_another_rig(aimed: Fleet) -> None:
    fitted = (DAY0 - dt.timedelta(days=30)).date().isoformat()
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/fittings", {"wheel": "1L", "new": {}, "fitted_on": fitted})
    walk(aimed, 0, 20, {})
    walk(aimed, 7, 20, {"1L": 15})
    other = aimed.api.ok("POST", "/rigs", COACH | {"name": "Other", "fleet_number": "C-99"})["id"]
    moved = (DAY0 + dt.timedelta(days=8)).date().isoformat()
    number = Service.objects.filter(wheel="1L").latest("at").tire_id
    aimed.api.ok("POST", f"/tires/{number}/remove", {"removed_on": moved})
    aimed.api.ok("POST", f"/rigs/{other}/fittings", {"wheel": "1R", "tire": number, "fitted_on": moved})
    found = aimed.api.ok("GET", f"/lookback/{other}")
    (series,) = found["tires"]
    assert (series["code"], series["elsewhere"]) == ("1R", [f"1L of {COACH['name']}"] * 2)
    # What it was held against there is no target here.
    assert (series["target"], series["low_on"]) == (None, None)
    assert series["level"][0] - series["level"][1] == pytest.approx(15, abs=0.5)
    # The rounds were the other rig's: none is listed as its own.
    assert found["rounds"] == []
    assert found["record"]["measured"] == 1


def test_what_was_left_stands_beside_what_was_found(aimed: Fleet) -> None:
    wheels = [{"wheel": code, "before": kpa} for code, kpa in GOOD.items() if code != "1L"]
    wheels.append({"wheel": "1L", "before": 580, "after": 625})
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/rounds/quick", {"conditions": aimed.conditions(), "wheels": wheels})
    tires = {t["code"]: t for t in look(aimed)["tires"]}
    # Unknown is null, not zero: nothing was set at the others.
    assert tires["1R"]["left"] == [None]
    # 625 shown is 620.875 true at 10 °C and 410 m: (620.875 + 96.496) × 293.15 / 283.15 − 101.325.
    assert tires["1L"]["left"] == [pytest.approx(641.38, abs=0.02)]
    assert tires["1L"]["level"][0] < tires["1L"]["left"][0]


def test_how_good_predictions_have_been(aimed: Fleet) -> None:
    weeks(aimed, 5)
    record = look(aimed)["record"]
    # Seven tires, four rounds that measured a prediction; nothing was lost, half of the ordinary loss was expected.
    assert record["measured"] == 28
    assert record["inside"] == 1
    assert 0 < record["lean_kpa"] < 4


def test_this_morning_before_anyone_kneels(aimed: Fleet) -> None:
    api = aimed.api
    told = api.ok("GET", "/morning")["rigs"][0]
    assert told["tires"] == []
    # What nobody knows asks for something too.
    assert (told["unknown"], told["asks"]) == (7, True)
    assert "No sealed round" in told["words"]["text"] or "air is not known" in told["words"]["text"]
    walk(aimed, 69, 20, {})
    api.ok("PUT", f"/rigs/{aimed.rig}/air", {"outside_c": -8, "elevation_m": 410})
    told = api.ok("GET", "/morning")["rigs"][0]
    rear = next(t for t in told["tires"] if t["code"] == "2Lo")
    days = (timezone.now() - (DAY0 + dt.timedelta(days=69))) / dt.timedelta(days=1)
    usual = 0.015 / 30 * carry(689.53, Air(20, 410), REFERENCE) * days * 265.15 / 293.15
    assert rear["kpa"] == pytest.approx(carry(689.53, Air(20, 410), Air(-8, 410)) - usual, abs=0.1)
    assert rear["word"] == "add"
    assert rear["words"]["text"] == "Likely wants {0}"
    assert rear["sure"] is True
    assert told["wanting"] == 7
    only = api.ok("GET", f"/rigs/{aimed.rig}/morning")["rigs"]
    assert [r["id"] for r in only] == [aimed.rig]


def test_the_record_is_of_the_last_weeks_of_all_rigs(aimed: Fleet) -> None:
    weeks(aimed, 5)
    record = aimed.api.ok("GET", "/morning")["record"]
    assert (record["measured"], record["inside"]) == (28, 1)
    # Weekly, nothing lost and the usual loss expected: 1.5 % of some 690 kPa in seven days are 2.4.
    assert record["lean_kpa"] == pytest.approx(2.3, abs=0.3)


def test_one_tire_wants_and_several_want(aimed: Fleet) -> None:
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"outside_c": 20, "elevation_m": 410})

    def words() -> tuple[str, int]:
        told = aimed.api.ok("GET", f"/rigs/{aimed.rig}/morning")["rigs"][0]
        return told["words"]["text"], told["wanting"]

    walk(aimed, 68, 20, {})
    assert words() == ("No tire wants air, by prediction", 0)
    walk(aimed, 69, 20, {"2Ri": 40})
    assert words() == ("{0} tire wants air, {1} hold, by prediction", 1)
    walk(aimed, 69.5, 20, {"2Ri": 40, "1L": 40})
    assert words() == ("{0} tires want air, {1} hold, by prediction", 2)


def test_an_unknown_air_predicts_nothing(aimed: Fleet) -> None:
    walk(aimed, 69, 20, {})
    told = aimed.api.ok("GET", "/morning")["rigs"][0]
    assert told["outside_c"] is None
    assert told["tires"] == []
    # What was typed for the round was the air; by now it is too old to go by.
    assert "The air is too old to go by" in told["words"]["text"]
    # One word that it still holds, and the morning is predicted, each tire with its range.
    assert told["typed_c"] is not None
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/air/confirm")
    now = aimed.api.ok("GET", "/morning")["rigs"][0]
    assert (now["outside_c"], now["typed_c"]) == (told["typed_c"], None)
    assert [t["within_kpa"] > 0 for t in now["tires"]] == [True] * 7
    RigAir.objects.all().delete()
    told = aimed.api.ok("GET", "/morning")["rigs"][0]
    assert (told["tires"], "air is not known" in told["words"]["text"]) == ([], True)


def export(api: Api, rig: int) -> list[dict[str, str]]:
    reply = api.call("GET", f"/lookback/{rig}/rounds.csv")
    assert reply.headers["Content-Type"] == "text/csv; charset=utf-8"
    assert reply.headers["Content-Disposition"].startswith('attachment; filename="')
    return list(csv.DictReader(io.StringIO(reply.getvalue().decode())))


def test_rounds_come_so_many_at_a_time_and_every_one_is_reached(
    aimed: Fleet, stranger: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("ballast.server.lookback.services.AT_ONCE", 3)
    weeks(aimed, 7)
    oldest = Round.objects.earliest("opened_at").pk
    body = {"uuid": str(uuid4()), "wheel": "1L", "pressure": 624, "reason": "A digit was wrong"}
    aimed.api.ok("POST", f"/rounds/{oldest}/amendments", body)
    found = look(aimed)
    # What is marked reaches back as far as the series.
    assert [(m["what"], m["day"]) for m in found["marks"]] == [("amended", 0)]
    assert (len(found["rounds"]), found["more"]) == (3, True)
    # The series are whole all the same.
    assert len(found["tires"][0]["level"]) == 7
    seen = [r["at"] for r in found["rounds"]]
    while found["more"]:
        found = aimed.api.ok("GET", f"/lookback/{aimed.rig}/rounds?past={found['rounds'][-1]['id']}")
        seen += [r["at"] for r in found["rounds"]]
    assert seen == [r.opened_at.isoformat().replace("+00:00", "Z") for r in Round.objects.order_by("-opened_at")]
    assert [r["summary"] for r in found["rounds"]] == ["all hold"]
    first = found["rounds"][-1]["id"]
    assert aimed.api.ok("GET", f"/lookback/{aimed.rig}/rounds?past={first}") == {"rounds": [], "more": False}
    assert [r["at"] for r in aimed.api.ok("GET", f"/lookback/{aimed.rig}/rounds")["rounds"]] == seen[:3]
    aimed.api.no("GET", f"/lookback/{aimed.rig}/rounds?past=0", None, 404)
    # Looked for by what came of them, where, with what and by whom; the other way round too.
    Round.objects.filter(pk=oldest).update(place="Dry Creek")

    def those(asked: str) -> list[str]:
        return [r["at"] for r in aimed.api.ok("GET", f"/lookback/{aimed.rig}/rounds?{asked}")["rounds"]]

    assert those("find=dry%20g1%20HOLD") == seen[-1:]
    assert those("find=manager") == seen[:3]
    assert those("find=nowhere") == []
    assert those("sort=oldest") == seen[:-4:-1]
    assert those(f"sort=oldest&past={oldest}") == seen[-2:-5:-1]
    stranger.no("GET", f"/lookback/{aimed.rig}/rounds?past={first}", None, 404)


def test_the_csv_holds_every_tire_of_every_round(aimed: Fleet) -> None:
    walk(aimed, 0, 20, {})
    walk(aimed, 7, -5, {"2Ri": 21})
    rows = export(aimed.api, aimed.rig)
    assert len(rows) == 14
    row = next(r for r in rows if r["wheel"] == "2Ri" and r["outside_c"] == "-5.00")
    assert row["rig"] == "CF-01 Almagest"
    assert (row["gauge"], row["sealed_by"], row["leak_named"]) == ("G1", "Manager", "no")
    assert float(row["own_kpa"]) == pytest.approx(-21, abs=1)


def test_an_empty_history_is_a_csv_with_its_head(aimed: Fleet) -> None:
    assert export(aimed.api, aimed.rig) == []


def test_formulas_are_made_harmless(aimed: Fleet) -> None:
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}", COACH | {"name": "Almagest", "fleet_number": "=1+1"})
    walk(aimed, 0, 20, {})
    assert export(aimed.api, aimed.rig)[0]["rig"] == "'=1+1 Almagest"
    assert [harmless(c) for c in ("=a", "+a", "-a", "@a", "\ta", "a=b", "")] == [
        "'=a",
        "'+a",
        "'-a",
        "'@a",
        "'\ta",
        "a=b",
        "",
    ]


def test_queries_do_not_grow_with_history(aimed: Fleet, django_assert_max_num_queries: Any) -> None:
    weeks(aimed, 2)
    with django_assert_max_num_queries(10):
        look(aimed)
    weeks_more = range(2, 8)
    for week in weeks_more:
        walk(aimed, 7 * week, 15, {})
    with django_assert_max_num_queries(10):
        look(aimed)
    assert Service.objects.filter(newest=True).count() == 7


def test_this_morning_takes_no_more_queries_with_more_rigs(aimed: Fleet, django_assert_num_queries: Any) -> None:
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"outside_c": 20, "elevation_m": 410})
    walk(aimed, 69, 20, {})
    with CaptureQueriesContext(connection) as one:
        aimed.api.ok("GET", "/morning")
    few = len(one)
    for number in range(4):
        rig = aimed.api.ok("POST", "/rigs", COACH | {"name": f"More {number}", "fleet_number": f"M-{number}"})["id"]
        aimed.api.ok("PUT", f"/rigs/{rig}/air", {"outside_c": 20, "elevation_m": 410})
        aimed.api.ok("POST", f"/rigs/{rig}/weighings", TICKET)
        aimed.api.ok("POST", f"/rigs/{rig}/targets", {})
        walk(replace(aimed, rig=rig), 69, 20, {})
    with django_assert_num_queries(few):
        told = aimed.api.ok("GET", "/morning")
    assert [len(r["tires"]) for r in told["rigs"]] == [7] * 5


def test_columns_follow_tires_and_else_wheels(aimed: Fleet) -> None:
    assert read(Service.objects.order_by("at")) is None
    fitted = (DAY0 - dt.timedelta(days=30)).date().isoformat()
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/fittings", {"wheel": "1L", "new": {}, "fitted_on": fitted})
    walk(aimed, 0, 20, {})
    walk(aimed, 7, -5, {"1R": 12})
    history = read(Service.objects.order_by("at", "id"))
    assert history is not None
    assert history.days.tolist() == [0, 7]
    assert history.air_c.tolist() == [20, -5]
    tires = by_tire(history.services)
    number = Service.objects.filter(wheel="1L").latest("at").tire_id
    assert set(tires) == {number} | {(aimed.rig, code) for code in GOOD if code != "1L"}
    own = tires[aimed.rig, "1R"]
    assert own["day"].tolist() == [0, 7]
    # Nothing was set: what was left is unknown, not nothing.
    assert np.isnan(own["left_kpa"]).all()
    # One pair a tire; six held and one lost 12: the middle one lost nothing beyond the weather.
    found = record(tires.values())
    assert found.measured == 7
    assert record([own]).lean_kpa == pytest.approx(-12 + found.lean_kpa, abs=1.0)
