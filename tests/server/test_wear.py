"""Treads, rotations and the list of all tires through the API."""

import datetime as dt
import json
from typing import Any
from uuid import uuid4

import pytest
from django.utils import timezone

from ballast.demo.clock import at
from ballast.server.rigs.models import Tire
from ballast.server.rounds.models import Service, TreadDepth
from tests.server.conftest import COACH, Api, Fleet

DAY0 = dt.datetime(2026, 1, 10, 12, tzinfo=dt.UTC)
WHEELS = ("1L", "1R", "2Lo", "2Li", "2Ro", "2Ri")
FOUND = {w: 610 if w[0] == "1" else 590 for w in WHEELS} | {"S1": 694}


def fit(fleet: Fleet, codes: tuple[str, ...] = WHEELS, **new: Any) -> None:
    for code in codes:
        body = {
            "wheel": code, "new": new, "fitted_on": DAY0.date().isoformat(), "odometer": "20000 km", "tread": "8.4 mm"
        }  # fmt: skip
        fleet.api.ok("POST", f"/rigs/{fleet.rig}/fittings", body)


def read(fleet: Fleet, day: int, km: int, treads: dict[str, tuple[float, float, float]], **more: Any) -> Any:
    """A sealed round on a day, with depths of tread [mm]."""
    with at(DAY0 + dt.timedelta(days=day)):
        opened = fleet.open_round(odometer=f"{km} km", **more)
        for wheel in opened["wheels"]:
            fleet.read(opened["id"], wheel["code"], FOUND[wheel["code"]])
        for code, (inner, centre, outer) in treads.items():
            depths = {"inner": f"{inner} mm", "centre": f"{centre} mm", "outer": f"{outer} mm"}
            fleet.api.ok("PUT", f"/rounds/{opened['id']}/notes/{uuid4()}", {"wheel": code, "tread": depths})
        return fleet.api.ok("POST", f"/rounds/{opened['id']}/seal", {})


def wear(fleet: Fleet, code: str) -> Any:
    found = fleet.api.ok("GET", f"/rigs/{fleet.rig}/wear")
    return next(w for w in found["wheels"] if w["code"] == code)["wear"]


SEASONS = ((100, 24100, 7.7), (200, 29800, 6.9), (300, 35200, 5.8))


def worn_for_two_seasons(fleet: Fleet) -> None:
    fit(fleet)
    for day, km, centre in SEASONS:
        read(fleet, day, km, {"1L": (centre, centre, centre), "1R": (centre, centre - 0.4 * day / 100, centre)})


def test_a_rate_with_its_error_and_the_day_at_the_limit(aimed: Fleet) -> None:
    worn_for_two_seasons(aimed)
    left = wear(aimed, "1L")
    # The case: 0, 4,100, 9,800 and 15,200 km from where it was fitted; 0.1677 ± 0.0091 mm per 1,000 km.
    assert left["fastest_mm"] == pytest.approx(0.1677, abs=1e-4)
    assert left["rates"][1]["standard_error"] == pytest.approx(0.0091, abs=1e-4)
    assert (left["least_mm"], left["limit_mm"], left["shape"], left["at_limit"]) == (5.8, 3.2, "even", False)
    # A steer axle over 4,536 kg: 3.2 mm. The line is 8.4202 − 0.16772 x/1,000: 3.2 at 31,124 km, 15,924 more. In 300 days
    # it ran 15,200: 314 days from Nov 6.
    assert left["limit"]["text"] == "At its limit in about {0}, around Sep 16, 2027."
    assert left["limit"]["values"][0]["value"] == pytest.approx(15924, abs=5)
    assert wear(aimed, "1R")["shape"] == "centre"
    voices = aimed.api.ok("GET", f"/rigs/{aimed.rig}/wear")["voices"]
    assert [(v["number"], v["wheels"], v["words"]["text"][:18]) for v in voices] == [(1, ["1R"], "The centre wears f")]
    few = wear(aimed, "2Lo")
    assert (few["shape"], few["fastest_mm"], few["least_mm"]) == ("unknown", None, 8.4)
    assert wear(aimed, "S1") is None


def test_wear_goes_on_through_a_move_and_begins_anew_elsewhere(aimed: Fleet) -> None:
    worn_for_two_seasons(aimed)
    moved = (DAY0 + dt.timedelta(days=301)).date().isoformat()
    body = {"moves": {"1L": "1R", "1R": "1L"}, "moved_on": moved, "odometer": "35300 km", "looked": True}
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/moves", body)
    assert wear(aimed, "1R")["fastest_mm"] == pytest.approx(0.1677, abs=1e-4)
    tire = next(w["tire"] for w in aimed.api.ok("GET", f"/rigs/{aimed.rig}/wear")["wheels"] if w["code"] == "1R")
    retread = {"uuid": str(uuid4()), "kind": "retread", "done_on": moved, "odometer": "35300 km"}
    assert "how deep" in aimed.api.no("POST", f"/tires/{tire}/events", retread, 422, "tread")
    kept = aimed.api.ok("POST", f"/tires/{tire}/events", retread | {"tread": "11 mm"})
    assert [(e["name"], e["tread_mm"]) for e in kept["events"]] == [("Retreaded", 11)]
    # Sent again it is there once; its wear is counted from there.
    assert len(aimed.api.ok("POST", f"/tires/{tire}/events", retread | {"tread": "11 mm"})["events"]) == 1
    anew = wear(aimed, "1R")
    assert (anew["least_mm"], anew["fastest_mm"], len(anew["points"])) == (11, None, 1)
    back = aimed.api.ok("DELETE", f"/tires/{tire}/events/{retread['uuid']}")
    assert (back["events"], back["wear"]["least_mm"]) == ([], 5.8)


def test_an_amended_depth_counts_as_it_stands(aimed: Fleet) -> None:
    fit(aimed)
    sealed = read(aimed, 100, 24100, {"1L": (7, 7, 7)})
    # A wheel whose tread alone was seen, and one without depths.
    assert list(TreadDepth.objects.values_list("wheel", "least_mm", "odometer_km")) == [("1L", 7, 24100)]
    right = {
        "uuid": str(uuid4()),
        "wheel": "1L",
        "seen": {"tread": {"inner": "6.5 mm", "centre": "7 mm", "outer": "7 mm"}},
    }
    aimed.api.ok("POST", f"/rounds/{sealed['id']}/amendments", right | {"reason": "Read again"})
    assert [t.least_mm for t in TreadDepth.objects.all()] == [6.5]
    assert wear(aimed, "1L")["least_mm"] == 6.5


def test_what_forbids_a_rotation_and_what_has_to_be_looked_at(aimed: Fleet) -> None:
    fit(aimed)
    path, moves = f"/rigs/{aimed.rig}/moves", {"1L": "1R", "1R": "1L"}
    today = timezone.now().date().isoformat()
    unsure = aimed.api.ok("POST", "work/refine/rotation", {"rig": aimed.rig, "moves": moves})
    assert (unsure["refused"], len(unsure["unsure"]), unsure["air"]) == ([], 2, [])
    assert "arrow" in aimed.api.no("POST", path, {"moves": moves, "moved_on": today}, 422, "looked")
    tire = Tire.objects.filter(fittings__wheel="1L").get()
    marks = {"date_code": "0126", "casing": "C-17", "one_way": True, "coarse": False}
    aimed.api.ok("PUT", f"/tires/{tire.pk}/marks", marks)
    told = aimed.api.no("POST", path, {"moves": moves, "moved_on": today, "looked": True}, 422, "moves")
    assert "runs one way only" in told
    assert "week 60" in aimed.api.no("PUT", f"/tires/{tire.pk}/marks", {"date_code": "6026"}, 422, "date_code")
    # Worn below what steers a heavy rig: it stays behind.
    read(aimed, 300, 35000, {"2Lo": (3.1, 4, 4)})
    swap = {"2Lo": "1L", "1L": "2Lo"}
    said = aimed.api.ok("POST", "work/refine/rotation", {"rig": aimed.rig, "moves": swap})
    assert [p["text"] for p in said["refused"]] == [
        "1L asks 3.2 mm (4/32 in) of tread; the tire at 2Lo has 3.1 mm (4/32 in)."
    ]
    assert [p["key"] for p in aimed.api.ok("GET", f"/rigs/{aimed.rig}/wear")["patterns"]] == []


def test_a_rotation_makes_its_air_job_and_asks_anew(aimed: Fleet) -> None:
    fit(aimed, sensor="K-1")
    read(aimed, 300, 35000, {})
    whole = aimed.api.ok("GET", "/yard")["rigs"][0]
    moves = {"1L": "2Lo", "2Lo": "1L"}
    body = {"moves": moves, "moved_on": (DAY0 + dt.timedelta(days=301)).date().isoformat(), "odometer": "35010 km"}
    to_do = aimed.api.ok("POST", f"/rigs/{aimed.rig}/moves", body | {"looked": True})
    assert [(j["code"], j["from_kpa"] > j["to_kpa"]) for j in to_do["air"]] == [("1L", True), ("2Lo", False)]
    assert (to_do["head"], to_do["codes"], to_do["sensors"]) == (aimed.rig, ["1L", "2Lo"], True)
    # Sensors are to be learned, once; nuts torqued.
    (row,) = aimed.api.ok("GET", f"/rigs/{aimed.rig}/wear")["rotations"]
    assert (row["learn"], row["moves"]) == (True, moves)
    assert aimed.api.call("POST", f"/rotations/{row['id']}/learned").status_code == 204
    assert aimed.api.call("POST", f"/rotations/{row['id']}/learned").status_code == 409
    assert aimed.api.ok("GET", f"/rigs/{aimed.rig}/tires")["retorque"]["text"].startswith("A wheel was off")
    # A round of just these wheels: no check of the whole rig.
    assert "no wheel 9L" in aimed.api.no(
        "POST", f"/rigs/{aimed.rig}/rounds", aimed.conditions(only=["9L"]), 422, "only"
    )
    sealed = read(aimed, 302, 35020, {}, only=["1L", "2Lo"])
    assert ([w["code"] for w in sealed["wheels"]], sealed["partial"]) == (["1L", "2Lo"], True)
    told = aimed.api.ok("GET", f"/lookback/{aimed.rig}/rounds")["rounds"][0]
    assert told["summary"].startswith("Just 1L, 2Lo: ")
    after = aimed.api.ok("GET", "/yard")["rigs"][0]
    assert (after["last_round"], after["next_check_on"]) == (whole["last_round"], whole["next_check_on"])
    sheet = aimed.api.ok("GET", f"/yard/{aimed.rig}")["last_round"]
    assert len(sheet["tires"]) == 7


def test_a_rotation_is_due_by_distance_or_by_difference(aimed: Fleet) -> None:
    fit(aimed, coarse=False)
    due = lambda: aimed.api.ok("GET", f"/rigs/{aimed.rig}/wear")["due"]  # noqa: E731
    read(aimed, 100, 31900, {})
    assert due() is None
    read(aimed, 120, 32000, {})
    assert due()["text"] == "Rotate: {0} since the last."
    # 12,000 km for a road tread; the Yard says so too.
    assert due()["values"][0]["value"] == pytest.approx(12000)
    words = aimed.api.ok("GET", "/yard")["rigs"][0]
    assert "Rotate: {0} since the last." in [w["text"] for w in (words["words"], *words["more"])]
    read(aimed, 130, 32100, {"1L": (6, 6, 6), "1R": (6, 6, 6), "2Lo": (7.6, 7.6, 7.6)})
    # Rear: 7.6 and three of 8.4: 8.2, the front 6.0.
    assert due()["text"] == "Rotate: the axles differ by 2.2 mm (3/32 in) of tread."


# -- all tires ------------------------------------------------------------------------------------------


def listed(api: Api, **asked: Any) -> Any:
    return api.ok("GET", "/tires?" + "&".join(f"{k}={v}" for k, v in asked.items()))


def test_the_list_of_all_tires(aimed: Fleet, stranger: Api) -> None:
    fit(aimed, ("1L", "1R"), date_code="0126")
    fit(aimed, ("2Lo",), date_code="0119", casing="C-17")
    fit(aimed, ("2Li",))
    read(aimed, 300, 35000, {"1L": (3.1, 4, 4), "2Lo": (3.1, 4, 4)})
    stored = Tire.objects.filter(fittings__wheel="2Li").get()
    aimed.api.ok("POST", f"/tires/{stored.pk}/remove", {"removed_on": "2026-11-20", "reason": "cut"})
    every = listed(aimed.api)
    assert (every["total"], [t["wheel"] for t in every["tires"]]) == (4, ["1L", "1R", "2Lo", ""])
    assert every["tires"][0]["rig_name"] == f"{COACH['fleet_number']} {COACH['name']}"
    wheels = lambda **asked: [t["wheel"] for t in listed(aimed.api, **asked)["tires"]]  # noqa: E731
    assert wheels(which="store") == [""]
    assert wheels(which="fitted") == ["1L", "1R", "2Lo"]
    # Seven years old; of a tire without a date code it is not said. Oldest first, the unknown before all.
    assert wheels(which="old") == ["2Lo"]
    assert wheels(sort="age") == ["", "2Lo", "1L", "1R"]
    # 3.1 mm is worn out where it steers this coach, and not behind.
    assert wheels(which="worn") == ["1L"]
    assert wheels(sort="tread")[:2] == ["1L", "2Lo"]
    assert wheels(find="c-17") == ["2Lo"]
    assert wheels(find="almagest%201R") == ["1R"]
    assert wheels(find="nothing") == []
    assert listed(stranger)["total"] == 0
    # What a tire loses stands by its newest service, and is not known where nothing was measured.
    assert [t["loses_kpa_month"] for t in aimed.api.ok("GET", "/tires")["tires"]] == [None] * 4
    assert wheels(which="leaks") == []
    Service.objects.filter(wheel="1R").update(measured=True, rate_kpa_day=-0.05)
    Service.objects.filter(wheel="1L").update(measured=True, rate_kpa_day=-0.5, named=True)
    assert wheels(sort="loses")[:2] == ["1L", "1R"]
    (leaking,) = listed(aimed.api, which="leaks")["tires"]
    # Half a kilopascal a day, thirty days.
    assert (leaking["wheel"], leaking["leaks"], leaking["loses_kpa_month"]) == ("1L", True, pytest.approx(-15))
    aimed.api.no("GET", "/tires?sort=color", None, 422, "sort")


def test_a_file_of_the_list(aimed: Fleet) -> None:
    fit(aimed, ("1L",), date_code="0126", casing="=1+1")
    read(aimed, 300, 35000, {"1L": (6, 6.5, 6.5)})
    reply = aimed.api.call("GET", "/tires.csv?which=fitted")
    head, row = reply.getvalue().decode().strip().split("\r\n")
    assert head.startswith("rig,wheel,size,make,casing,date_code,age,tread_mm")
    assert f"{COACH['fleet_number']} {COACH['name']},1L," in row
    # No cell runs as a formula.
    assert ",'=1+1,0126," in row
    assert ",6.00," in row


def test_a_long_list_is_asked_in_few_questions(aimed: Fleet, django_assert_max_num_queries: Any) -> None:
    workspace = Tire.objects.model._meta.get_field("workspace").related_model.objects.get(name="Ours")
    Tire.objects.bulk_create(Tire(workspace=workspace, tire_size="245/70R19.5", casing=f"C-{i}") for i in range(250))
    with django_assert_max_num_queries(10):
        first = listed(aimed.api)
    assert (first["total"], len(first["tires"]), first["first"]) == (250, 100, 0)
    last = listed(aimed.api, first=200)
    assert (len(last["tires"]), last["first"]) == (50, 200)
    # Further on than there is, the last page.
    assert listed(aimed.api, first=5000)["first"] == 200


def test_tires_as_described_and_what_happened_to_one(aimed: Fleet, api_as: Any) -> None:
    body = {"fitted_on": "2026-05-01", "odometer": "20000 km"}
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/fittings/described", body)
    assert listed(aimed.api)["total"] == 7
    assert "every wheel" in aimed.api.no("POST", f"/rigs/{aimed.rig}/fittings/described", body, 409, "wheel")
    tire = listed(aimed.api)["tires"][0]["id"]
    event = {"uuid": str(uuid4()), "kind": "cut", "done_on": "2026-06-01"}
    assert "what it was" in aimed.api.no("POST", f"/tires/{tire}/events", event, 422, "words")
    ahead = event | {"words": "Curb", "done_on": "2027-06-01"}
    assert "future" in aimed.api.no("POST", f"/tires/{tire}/events", ahead, 422, "done_on")
    aimed.api.ok("POST", f"/tires/{tire}/events", event | {"words": "Curb"})
    cupped = {"uuid": str(uuid4()), "kind": "cupped", "done_on": "2026-06-01"}
    assert "balance" in aimed.api.ok("POST", f"/tires/{tire}/events", cupped)["events"][0]["points_at"]
    # Another technician may not take it back.
    other = api_as("technician").call("DELETE", f"/tires/{tire}/events/{event['uuid']}")
    assert (other.status_code, "Ask them" in json.loads(other.content)["message"]) == (403, True)
