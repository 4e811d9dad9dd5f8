"""Off the road and back through the API: numbers as data, plans walked and closed, rounds held against them, kit and valves."""

import datetime as dt
from typing import Any
from uuid import uuid4

import pytest
from django.utils import timezone

from ballast.core.units import PSI_KPA
from ballast.demo.clock import at
from ballast.server.ground.models import GroundPlan
from ballast.server.rounds.models import Service
from tests.server.conftest import GAUGE, TICKET, Api, Fleet

TIRE = {"tire_size": "LT265/70R17 121/118S E", "sidewall_max_kpa": "80 psi"}
PICKUP: dict[str, Any] = {
    "kind": "pickup", "name": "Zenith", "fleet_number": "Z-1", "gvwr_kg": "3500 kg",
    "axles": [
        {**TIRE, "gawr_kg": "1700 kg", "placard_kpa": "38 psi"},
        {**TIRE, "gawr_kg": "2000 kg", "placard_kpa": "45 psi"},
    ],
}  # fmt: skip
TRAILER: dict[str, Any] = {
    "kind": "camper", "name": "Nadir", "fleet_number": "Z-2", "gvwr_kg": "1600 kg",
    "axles": [{"tire_size": "ST225/75R15 D", "sidewall_max_kpa": "65 psi", "gawr_kg": "1500 kg", "placard_kpa": "33 psi"}],
}  # fmt: skip
INFLATOR = {"label": "I1", "supply": "clamps", "max_kpa": "120 psi", "free_l_min": 60}


def pulled(api: Api, number: str = "Z") -> Fleet:
    """A pickup with a trailer, on their placards, in 25 °C at the sea, with a gauge and an inflator aboard."""
    rig = api.ok("POST", "/rigs", PICKUP | {"fleet_number": f"{number}-1"})["id"]
    trailer = api.ok("POST", "/rigs", TRAILER | {"fleet_number": f"{number}-2"})["id"]
    api.ok("PUT", f"/rigs/{trailer}/hitch", {"behind": rig})
    for one in (rig, trailer):
        api.ok("POST", f"/rigs/{one}/weighings", WEIGHED[one == trailer])
        api.ok("POST", f"/rigs/{one}/targets", {"school": "placard"})
    gauge = api.ok("POST", "/gauges", GAUGE | {"label": f"{number}1"})["id"]
    api.ok("PUT", f"/rigs/{rig}/air", {"outside_c": 25, "elevation_m": 0})
    inflator = api.ok("POST", "/inflators", INFLATOR | {"label": "I1" if number == "Z" else f"{number}2"})["id"]
    api.ok("PUT", f"/rigs/{rig}/kit", {"items": [{"kind": "inflator", "inflator": inflator}]})
    return Fleet(api, rig, trailer, 0, gauge)


@pytest.fixture
def off_road(api: Api) -> Fleet:
    return pulled(api)


WEIGHED = (
    TICKET | {"load_state": "beach", "axles": [{"left_kg": "600 kg", "right_kg": "600 kg"}, {"left_kg": "700 kg", "right_kg": "700 kg"}]},
    TICKET | {"load_state": "beach", "axles": [{"left_kg": "600 kg", "right_kg": "600 kg"}]},
)  # fmt: skip
CODES = ("1L", "2L", "T1L", "T1R", "2R", "1R")


def psi(kpa: float) -> float:
    return round(kpa / PSI_KPA, 3)


def on_soft(fleet: Fleet, **more: Any) -> Any:
    body = {"uuid": str(uuid4()), "chain": ["soft"], "place": "Long Spit"} | more
    return fleet.api.ok("POST", f"/rigs/{fleet.rig}/ground", body)["open"]


def enter(fleet: Fleet, plan: Any, wheel: str, step: int, pressure: Any = None, **more: Any) -> Any:
    body = (
        {"wheel": wheel, "step": step, "standing_h": 24} | ({} if pressure is None else {"pressure": pressure}) | more
    )
    return fleet.api.ok("PUT", f"/ground/{plan['uuid']}/entries/{uuid4()}", body)["open"]


def let_out(fleet: Fleet, plan: Any) -> Any:
    """Every tire at its number, as its gauge shows it."""
    for w in plan["wheels"]:
        plan = enter(fleet, plan, w["code"], 0, w["kpa"])
    return plan


def test_numbers_of_every_wheel_on_every_surface_as_data(off_road: Fleet) -> None:
    found = off_road.api.ok("GET", f"/rigs/{off_road.rig}/ground")
    assert found["refused"] is None
    wheels = {w["code"]: w for w in found["wheels"]}
    assert tuple(wheels) == ("1L", "2L", "2R", "1R", "T1L", "T1R")
    by_surface = {code: {n["surface"]: psi(n["kpa"]) for n in w["numbers"]} for code, w in wheels.items()}
    # 38, 45 and 33 psi by their shares. Floors of 110 and 90 kPa hold at the near end of ± 1 psi: 16.95 and 14.05 psi.
    assert by_surface["1L"] == {"highway": 38, "gravel": 30, "firm": 23, "soft": 17, "recovery": 13}
    assert by_surface["2R"] == {"highway": 45, "gravel": 36, "firm": 27, "soft": 20, "recovery": 15}
    assert by_surface["T1L"] == {"highway": 33, "gravel": 26, "firm": 20, "soft": 15, "recovery": 12}
    soft = next(n for n in wheels["1L"]["numbers"] if n["surface"] == "soft")
    # Cold it is the number; just off the highway carried to 25 + 1.4 × 30 = 67 °C: (117.211 + 101.325) × 340.15/298.15.
    assert soft["out"]["cold"]["shows_kpa"] == pytest.approx(117.211, abs=1e-3)
    assert soft["out"]["highway"]["shows_kpa"] == pytest.approx(147.996, abs=0.01)
    # Filled up it is carried to 55 °C, not beyond: 139.2.
    assert soft["up"]["highway"]["shows_kpa"] == pytest.approx(139.2, abs=0.01)
    assert soft["out"]["cold"]["low_kpa"] == pytest.approx(113.711, abs=1e-3)
    # 600 kg on each front tire at 38 and at 17 psi: as much larger as the pressure is lower.
    road = wheels["1L"]["numbers"][0]
    assert soft["footprint"]["length_cm"] / road["footprint"]["length_cm"] == pytest.approx(38 / 17)
    assert [a["role"] for a in found["axles"]] == ["steered", "driven", "trailer"]
    assert found["lacks"][0]["text"] == "Off the road its kit lacks: gauge, plugs, valve caps, valve cores, jack."


def test_a_chain_as_it_is_typed(off_road: Fleet) -> None:
    body = {"rig": off_road.rig, "chain": ["gravel", "soft", "gravel"], "standing_h": 24}
    found = off_road.api.ok("POST", "work/ground", body)
    assert [(s["name"], s["words"]["text"]) for s in found["steps"]] == [
        ("Gravel", "let 6 out"), ("Soft sand", "let 6 out"), ("Gravel", "fill 6"), ("Highway", "fill 6"),
    ]  # fmt: skip
    assert [round(s["speed_kmh"] or 0) for s in found["steps"]] == [70, 20, 70, 0]
    front = [psi(next(j["change_kpa"] for j in s["jobs"] if j["code"] == "1L")) for s in found["steps"]]
    assert front == [-8, -13, 13, 8]
    # Nothing was timed yet.
    assert [s["down_min"] for s in found["steps"]] == [None] * 4
    assert found["back"] is True
    assert found["back_words"]["text"].startswith("Back to road pressure with I1")
    assert off_road.api.no("POST", "work/ground", body | {"chain": []}, 422, "chain").startswith("Choose at least one")
    no = off_road.api.no("POST", "work/ground", body | {"chain": ["recovery"]}, 422, "recovery_reason")
    assert "takes a reason" in no


def test_without_a_way_back_it_opens_only_said_so(off_road: Fleet) -> None:
    off_road.api.ok("PUT", f"/rigs/{off_road.rig}/kit", {"items": []})
    body = {"uuid": str(uuid4()), "chain": ["soft"]}
    told = off_road.api.no("POST", f"/rigs/{off_road.rig}/ground", body, 422, "no_way_back")
    assert "No way back aboard: no inflator is in its kit" in told
    found = off_road.api.ok("POST", f"/rigs/{off_road.rig}/ground", body | {"no_way_back": True})["open"]
    assert found["no_way_back"] is True
    # One that stalls below 45 psi and 5 % is none.
    weak = off_road.api.ok("POST", "/inflators", INFLATOR | {"label": "I2", "max_kpa": "47 psi"})["id"]
    off_road.api.ok("PUT", f"/rigs/{off_road.rig}/kit", {"items": [{"kind": "inflator", "inflator": weak}]})
    assert off_road.api.ok("POST", "work/ground", {"rig": off_road.rig, "chain": ["soft"]})["back"] is False
    # One that draws 14 A from a socket of 15 A reaches, behind a fuse of 10 A its fuse goes.
    plugged = INFLATOR | {"label": "I3", "supply": "socket", "draws_a": 14, "socket_a": 15}
    item = {"kind": "inflator", "inflator": off_road.api.ok("POST", "/inflators", plugged)["id"]}
    for fuse, able in ((None, True), (10, False), (15, True)):
        off_road.api.ok("PUT", f"/rigs/{off_road.rig}/kit", {"items": [item | {"fuse_a": fuse}]})
        work = off_road.api.ok("POST", "work/ground", {"rig": off_road.rig, "chain": ["soft"]})
        assert work["back"] is able, fuse


def test_a_plan_is_opened_once_walked_and_timed(off_road: Fleet) -> None:
    uuid = str(uuid4())
    plan = on_soft(off_road, uuid=uuid)
    assert on_soft(off_road, uuid=uuid)["uuid"] == plan["uuid"]
    other = {"uuid": str(uuid4()), "chain": ["soft"]}
    assert "not closed" in off_road.api.no("POST", f"/rigs/{off_road.rig}/ground", other, 409, "rig")
    assert [s["key"] for s in plan["stretches"]] == ["soft", "highway"]
    assert all(w["waiting"] and w["lets_out"] for w in plan["wheels"])
    entry = str(uuid4())
    body = {"wheel": "1L", "step": 0, "pressure": "17 psi", "from_pressure": "38 psi", "minutes": 2, "standing_h": 24}
    path = f"/ground/{plan['uuid']}/entries/{entry}"
    for _ in range(2):
        plan = off_road.api.ok("PUT", path, body)["open"]
    first = next(w for w in plan["wheels"] if w["code"] == "1L")
    assert (first["waiting"], first["words"]["text"]) == (False, "At its number: keep it")
    assert psi(first["done"]["kpa"]) == 17
    off_road.api.no("PUT", path, body | {"pressure": "16 psi"}, 409, "uuid")
    # The first tire taught the valve: k = ln((262.0 + 101.325)/(117.2 + 101.325))/2; of a like tire it is two minutes again.
    found = off_road.api.ok("POST", "work/ground", {"rig": off_road.rig, "chain": ["soft"], "standing_h": 24})
    assert found["steps"][0]["down_min"] == pytest.approx(2 * 2 + 2 * 2.17 + 2 * 1.35, rel=0.1)
    # What the gauge shows at the plan's own numbers comes with it, whatever becomes of rows and gauges later.
    assert psi(plan["stretches"][0]["goals"]["1L"]["out"]["cold"]["shows_kpa"]) == 17
    assert plan["stretches"][0]["goals"]["1L"]["out"]["highway"]["shows_kpa"] == pytest.approx(147.996, abs=0.01)
    low = enter(off_road, plan, "2L", 0, "15 psi")
    assert [w["beside"] for w in low["wheels"][:3]] == ["at", "below", None]
    assert next(w for w in low["wheels"] if w["code"] == "2L")["words"]["text"] == "Add {0}: below its number"
    for wrong, field in (
        ({"wheel": "S1", "step": 0, "pressure": 100}, "wheel"), ({"wheel": "1R", "step": 7, "pressure": 100}, "step"),
        ({"wheel": "1R", "step": 0}, "pressure"), ({"wheel": "1R", "step": 0, "done": "left"}, "reason"),
        ({"wheel": "1R", "step": 0, "pressure": "38 psi", "from_pressure": "17 psi", "minutes": 2}, "minutes"),
    ):  # fmt: skip
        off_road.api.no("PUT", f"/ground/{plan['uuid']}/entries/{uuid4()}", wrong, 422, field)


def test_a_wheel_that_is_read_on_a_colder_day_is_held_against_that_day(off_road: Fleet) -> None:
    off_road.api.ok("PUT", f"/rigs/{off_road.rig}/policy", {"temperature": "hold 20", "check_days": 7})
    plan = on_soft(off_road)
    number = plan["stretches"][0]["numbers"]["1L"]
    off_road.api.ok("PUT", f"/rigs/{off_road.rig}/air", {"outside_c": 5, "elevation_m": 0})
    # Absolute pressure goes with absolute temperature: the number is of 20 °C, the tire is at 5 °C.
    in_tire = (number + 101.325) * 278.15 / 293.15 - 101.325
    now = off_road.api.ok("GET", f"/rigs/{off_road.rig}/ground")
    shows = now["open"]["stretches"][0]["goals"]["1L"]["out"]["cold"]["shows_kpa"]
    assert shows == pytest.approx(in_tire, abs=0.01)
    read = enter(off_road, plan, "1L", 0, shows)["wheels"][0]
    assert (read["beside"], read["done"]["kpa"]) == ("at", pytest.approx(number, abs=0.01))
    # What a phone took down in the air of the day before counts in that air, whenever it arrives.
    late = enter(off_road, plan, "1L", 0, shows, outside_c=25, set_in_c=20)["wheels"][0]
    assert late["beside"] == "below"
    assert late["done"]["kpa"] == pytest.approx((shows + 101.325) * 293.15 / 298.15 - 101.325, abs=0.01)


def test_what_was_entered_is_taken_back_and_a_plan_without_it_undone(off_road: Fleet, api_as: Any) -> None:
    plan = on_soft(off_road)
    entry = uuid4()
    path = f"/ground/{plan['uuid']}/entries/{entry}"
    off_road.api.ok("PUT", path, {"wheel": "1L", "step": 0, "pressure": 117, "standing_h": 24})
    assert "Air was let out" in off_road.api.no("DELETE", f"/ground/{plan['uuid']}", None, 409)
    assert api_as("technician").call("DELETE", path).status_code == 403
    found = off_road.api.ok("DELETE", path)["open"]
    assert found["may_undo"] is True
    assert off_road.api.ok("DELETE", f"/ground/{plan['uuid']}")["open"] is None
    past = off_road.api.ok("GET", f"/rigs/{off_road.rig}/ground/past")
    assert [(p["undone"], p["chain"]) for p in past] == [(True, ["Soft sand", "Highway"])]
    assert off_road.api.no("PUT", path, {"wheel": "1L", "step": 0, "pressure": 117}, 409) == (
        "This plan was undone. Open it anew."
    )


def read_all(fleet: Fleet, readings: dict[str, float], **conditions: Any) -> Any:
    body = {"gauge": fleet.gauge, "standing_h": 24, "outside_c": 25, "elevation_m": 0} | conditions
    row = fleet.api.ok("POST", f"/rigs/{fleet.rig}/rounds", body)
    for code, kpa in readings.items():
        row = fleet.read(row["id"], code, kpa, not_rolled=False)
    return row


def seal(fleet: Fleet, row: Any) -> Any:
    return fleet.api.ok("POST", f"/rounds/{row['id']}/seal", {"unread_reason": "spare under the load"})


ROAD = {"1L": 262, "1R": 262, "2L": 310.3, "2R": 310.3, "T1L": 227.5, "T1R": 227.5}
SOFT = {"1L": 117.2, "1R": 117.2, "2L": 137.9, "2R": 137.9, "T1L": 103.4, "T1R": 103.4}


def test_a_round_on_the_sand_is_held_against_the_plan_and_names_no_leak(off_road: Fleet) -> None:
    for _ in range(3):
        seal(off_road, read_all(off_road, ROAD))
    plan = let_out(off_road, on_soft(off_road))
    assert plan["words"]["text"] == "Ground plan open: Soft sand at Long Spit: at most {0}"
    body = {"gauge": off_road.gauge, "standing_h": 24, "outside_c": 25, "elevation_m": 0}
    asked = off_road.api.no("POST", f"/rigs/{off_road.rig}/rounds", body, 422, "plan_kept")
    assert asked.startswith("A ground plan is open for it")
    row = read_all(off_road, SOFT, plan_kept=True)
    words = {w["code"]: (w["answer"]["word"], psi(w["target_kpa"]), psi(w["floor_kpa"])) for w in row["wheels"]}
    assert words == {
        "1L": ("hold", 17, 15.954), "1R": ("hold", 17, 15.954), "2L": ("hold", 20, 15.954), "2R": ("hold", 20, 15.954),
        "T1L": ("hold", 15, 13.053), "T1R": ("hold", 15, 13.053),
    }  # fmt: skip
    # What was let out is what is expected: nothing is asked back.
    assert all(w["expected_kpa"] == pytest.approx(SOFT[w["code"]], abs=1) for w in row["wheels"])
    sealed = seal(off_road, row)
    assert sealed["plan_kept"] is True
    assert GroundPlan.objects.get().closed_at is None
    services = Service.objects.filter(round=sealed["id"])
    assert [(s.anew, s.named, s.word) for s in services] == [(True, False, "hold")] * 6
    # Said to be back on the road, the same readings are all stops.
    again = read_all(off_road, SOFT, plan_kept=False)
    assert {w["answer"]["word"] for w in again["wheels"]} == {"stop"}
    # And put right in the open round, they hold again.
    mended = off_road.api.ok("PUT", f"/rounds/{again['id']}", body | {"plan_kept": True})
    assert {w["answer"]["word"] for w in mended["wheels"]} == {"hold"}


def test_only_a_sealed_cold_round_at_road_numbers_closes_it(off_road: Fleet) -> None:
    seal(off_road, read_all(off_road, ROAD))
    plan = let_out(off_road, on_soft(off_road))
    off_road.api.ok("PUT", f"/ground/{plan['uuid']}/step", {"step": 1})
    for code, kpa in ROAD.items():
        plan = enter(off_road, plan, code, 1, kpa)
    assert plan["speed_kmh"] is None
    assert plan["loud"][0]["text"].startswith("on the highway")
    # Warm, and with one short of its number, it stays open and says why.
    warm = {code: (kpa + 101.325) * 328.15 / 298.15 - 101.325 for code, kpa in ROAD.items()}
    seal(off_road, read_all(off_road, warm, standing_h=0, plan_kept=False))
    still = off_road.api.ok("GET", f"/rigs/{off_road.rig}/ground")["open"]
    assert [w["text"] for w in still["why_open"]] == ["1L, 2L, 2R, 1R, T1L, T1R read warm"]
    seal(off_road, read_all(off_road, ROAD | {"2R": 290}, plan_kept=False))
    still = off_road.api.ok("GET", f"/rigs/{off_road.rig}/ground")["open"]
    assert [w["text"] for w in still["why_open"]] == ["2R not at the road number"]
    row = read_all(off_road, ROAD, plan_kept=False)
    assert {w["answer"]["word"] for w in row["wheels"]} == {"hold"}
    seal(off_road, row)
    assert off_road.api.ok("GET", f"/rigs/{off_road.rig}/ground")["open"] is None
    done = GroundPlan.objects.get()
    assert done.closed_round == row["id"]
    # The next round compares with this one, as ever.
    seal(off_road, read_all(off_road, ROAD))
    assert not Service.objects.filter(newest=True, anew=True).exists()
    assert off_road.api.ok("GET", f"/lookback/{off_road.rig}")["rounds"][0]["words"][0]["text"] != ""


def test_a_replaced_wheel_has_its_reasoned_way_out(off_road: Fleet) -> None:
    plan = let_out(off_road, on_soft(off_road))
    enter(off_road, plan, "T1L", 0, done="replaced", reason="cut on a stone, the spare is on")
    rest = {c: kpa for c, kpa in ROAD.items() if c != "T1L"}
    seal(off_road, read_all(off_road, rest, plan_kept=False))
    assert GroundPlan.objects.get().closed_at is not None


def test_an_open_plan_stands_first_everywhere_and_grows_loud(off_road: Fleet) -> None:
    seal(off_road, read_all(off_road, ROAD))
    let_out(off_road, on_soft(off_road))
    rows = {r["name"]: r for r in off_road.api.ok("GET", "/yard")["rigs"]}
    assert rows["Zenith"]["words"]["text"].startswith("Ground plan open: Soft sand at Long Spit")
    assert rows["Nadir"]["words"]["text"].startswith("Ground plan open: Soft sand at Long Spit")
    assert rows["Zenith"]["state"] == "todo"
    # What the round on the road said is no green word of a tire that was let out since.
    assert {t["word"] for t in rows["Zenith"]["tires"]} == {"not_checked"}
    assert not any("hold" in w["text"].lower() for w in rows["Zenith"]["more"])
    sheet = off_road.api.ok("GET", f"/yard/{off_road.rig}")
    assert sheet["ground"]["speed_kmh"] == 20
    assert sheet["stages"][-1] | {"words": None} == {"key": "ground", "name": "Ground", "state": "todo", "words": None}
    card = off_road.api.ok("GET", f"/rigs/{off_road.rig}/card")
    assert card["ground"]["text"].endswith("These are road numbers.")
    assert off_road.api.call("GET", f"/rigs/{off_road.rig}/card.pdf").status_code == 200
    morning = off_road.api.ok("GET", f"/rigs/{off_road.rig}/morning")["rigs"]
    assert morning[0]["ground"]["text"].startswith("Ground plan open")
    front = next(t for t in morning[0]["tires"] if t["code"] == "1L")
    # By what was let out, against the plan's number.
    assert (psi(front["target_kpa"]), front["word"]) == (17, "hold")
    assert front["kpa"] == pytest.approx(117.2, abs=0.5)
    with at(timezone.now() + dt.timedelta(hours=30)):
        assert off_road.api.ok("GET", f"/yard/{off_road.rig}")["ground"]["loud"] is True
        assert off_road.api.ok("GET", "/yard")["rigs"][0]["state"] == "attention"
    off_road.api.ok("PUT", f"/rigs/{off_road.table}/hitch", {"behind": None})
    said = off_road.api.ok("GET", f"/yard/{off_road.rig}")["ground"]
    assert said["words"]["text"].endswith("something was hitched or unhitched since")


def test_surfaces_are_rows_that_a_workspace_edits_above_the_hard_floors(off_road: Fleet, api_as: Any) -> None:
    found = off_road.api.ok("GET", "/surfaces")
    assert found["shipped"] is True
    rows = [{k: v for k, v in s.items() if k != "road"} for s in found["surfaces"]]
    rows[2] |= {"shares": {"steered": 0.5, "driven": 0.48, "trailer": 0.5}, "speed_kmh": "50 km/h"}
    kept = off_road.api.ok("PUT", "/surfaces", {"surfaces": rows, "version": found["version"]})
    assert (kept["shipped"], kept["surfaces"][2]["shares"]["driven"]) == (False, 0.48)
    numbers = off_road.api.ok("GET", f"/rigs/{off_road.rig}/ground")["wheels"][2]["numbers"]
    # 45 × 0.48 = 21.6.
    assert psi(numbers[2]["kpa"]) == 22
    low = [*rows[:3], rows[3] | {"floors_kpa": {"steered": 100, "driven": 110, "trailer": 90}}]
    assert "110 kPa" in off_road.api.no("PUT", "/surfaces", {"surfaces": low}, 422, "surfaces.3.floors_kpa.steered")
    fast = [*rows[:3], rows[3] | {"speed_kmh": "60 km/h"}]
    assert "50 km/h" in off_road.api.no("PUT", "/surfaces", {"surfaces": fast}, 422, "surfaces.3.speed_kmh")
    stale = off_road.api.call("PUT", "/surfaces", {"surfaces": rows[:2], "version": found["version"]})
    assert stale.status_code == 409
    assert off_road.api.ok("PUT", "/surfaces", {"surfaces": []})["shipped"] is True
    # An open plan keeps the rows it was opened with.
    plan = on_soft(off_road)
    rows[3] |= {"name": "Dunes", "speed_kmh": "15 km/h"}
    off_road.api.ok("PUT", "/surfaces", {"surfaces": rows})
    assert off_road.api.ok("GET", f"/rigs/{off_road.rig}/ground")["open"]["stretches"][0] == plan["stretches"][0]


def test_what_a_place_taught_is_proposed_there(off_road: Fleet) -> None:
    plan = on_soft(off_road)
    off_road.api.ok("POST", f"/ground/{plan['uuid']}/learned", {"step": 0, "outcome": "through"})
    places = off_road.api.ok("GET", f"/rigs/{off_road.rig}/ground")["places"]
    assert [(p["place"], p["surface"]) for p in places] == [("Long Spit", "soft")]
    assert places[0]["words"]["text"].startswith("Soft sand at {0}, got through")
    # The driven wheels' number.
    assert psi(places[0]["words"]["values"][0]["value"]) == 20


def test_heavy_rigs_keep_to_their_tables_and_an_overloaded_one_has_no_plan(aimed: Fleet) -> None:
    found = aimed.api.ok("GET", f"/rigs/{aimed.rig}/ground")
    assert found["refused"] is None
    rear = next(w for w in found["wheels"] if w["code"] == "2Li")
    # Inner before outer, and nothing below the table's floor of the rear axle.
    assert [w["code"] for w in found["wheels"]] == ["1L", "2Li", "2Lo", "2Ri", "2Ro", "1R"]
    floor = aimed.api.ok("GET", f"/rigs/{aimed.rig}/targets")[0]["axles"][1]["floor_kpa"]
    assert all(n["kpa"] >= floor for n in rear["numbers"])
    body = {"role": "", "least_kpa": "400 kPa"}
    path = f"/rigs/{aimed.rig}/ground/axles/2"
    assert "where the maker's word stands" in aimed.api.no("PUT", path, body, 422, "words")
    said = aimed.api.ok("PUT", path, body | {"words": "letter of Mar 3"})
    numbers = next(w for w in said["wheels"] if w["code"] == "2Li")["numbers"]
    assert [round(n["kpa"]) for n in numbers[2:4]] == [400, 400] or min(n["kpa"] for n in numbers) >= 400
    heavy = TICKET | {
        "axles": [{"left_kg": "2200 kg", "right_kg": "2200 kg"}, {"left_kg": "3160 kg", "right_kg": "3410 kg"}]
    }
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/weighings", heavy)
    over = aimed.api.ok("GET", f"/rigs/{aimed.rig}/ground")["refused"]
    assert over["text"].startswith("Over a rating nothing is let out.")
    assert (
        aimed.api.call("POST", f"/rigs/{aimed.rig}/ground", {"uuid": str(uuid4()), "chain": ["gravel"]}).status_code
        == 422
    )


def test_deflators_are_compared_like_gauges_and_refused_below_the_floor(off_road: Fleet) -> None:
    given = {"label": "D1", "count": 4, "set_kpa": "18 psi", "role": "driven", "surface": "soft"}
    made = off_road.api.ok("POST", "/deflators", given)
    # Never compared: ± 2 psi.
    assert (psi(made["within_kpa"]), made["compared"]) == (2, False)
    work = {"rig": off_road.rig, "chain": ["soft"], "deflators": made["id"]}
    assert off_road.api.ok("POST", "work/ground", work)["refused"] is None
    for reading in ("17 psi", "17 psi"):
        found = off_road.api.ok(
            "POST", f"/deflators/{made['id']}/closings", {"gauge": off_road.gauge, "pressure": reading}
        )
    # By the gauge's own psi: 16 to 18.
    assert (psi(found["closes_kpa"]), psi(found["within_kpa"]), found["compared"]) == (17, 1, True)
    low = off_road.api.ok("PUT", f"/deflators/{made['id']}", given | {"set_kpa": "14 psi"})
    assert low["closings"] == []
    assert "may close at" in off_road.api.no("POST", "work/ground", work, 422, "deflators")
    assert "already" in off_road.api.no("POST", "/deflators", given, 409, "label")


def test_kit_and_valves_are_kept(off_road: Fleet, stranger: Api) -> None:
    path = f"/rigs/{off_road.rig}/kit"
    items = [
        {"kind": "gauge", "gauge": off_road.gauge},
        {"kind": "plugs", "count": 10},
        {"kind": "other", "label": "Shovel"},
    ]
    kept = off_road.api.ok("PUT", path, {"items": items})
    assert [i["kind"] for i in kept["items"]] == ["gauge", "plugs", "other"]
    assert kept["lacks"]["round"][0]["text"] == "On a round its kit lacks: valve caps, valve cores, soap for leaks."
    theirs = stranger.ok("POST", "/gauges", GAUGE)["id"]
    off_road.api.no("PUT", path, {"items": [{"kind": "gauge", "gauge": theirs}]}, 422, "items.0.gauge")
    off_road.api.no("PUT", path, {"items": [{"kind": "other"}]}, 422, "items.0.label")
    valves = off_road.api.ok("GET", f"/rigs/{off_road.rig}/valves")
    assert [v["wheel"] for v in valves["valves"]] == ["1L", "2L", "2R", "1R"]
    assert all(v["reachable"] is None for v in valves["valves"])
    given = {"wheel": "2L", "stem": "rigid", "flow_through": True, "reachable": False, "core_changed_on": "2026-05-01"}
    found = off_road.api.ok("PUT", f"/rigs/{off_road.rig}/valves", {"valves": [given], "version": valves["version"]})
    assert found["valves"][1] | {"name": ""} == given | {"name": "", "note": ""}
    # Said where it matters: at the wheel on the ground, and before a round.
    said = (
        "Valve: not in reach by hand, take a hose or a long foot along; read through its cap; core changed May 1, 2026."
    )
    at_wheel = {w["code"]: w["valve"] for w in off_road.api.ok("GET", f"/rigs/{off_road.rig}/ground")["wheels"]}
    assert {c: v["text"] for c, v in at_wheel.items() if v} == {"2L": said}
    assert [v["text"] for v in off_road.api.ok("GET", path)["valves"]] == [f"Rear left: {said}"]
    off_road.api.no("PUT", f"/rigs/{off_road.rig}/valves", {"valves": [{"wheel": "9L"}]}, 422, "valves.0.wheel")
    ahead = {"valves": [{"wheel": "1L", "core_changed_on": "2027-05-01"}]}
    off_road.api.no("PUT", f"/rigs/{off_road.rig}/valves", ahead, 422, "valves.0.core_changed_on")


def weeks_on_sand(fleet: Fleet, weeks: int) -> None:
    """Each week a day on the sand: let out, read there, filled up warm, and closed by a cold round at road numbers alone."""
    start = timezone.now() - dt.timedelta(days=7 * (weeks + 2))
    still_open = GroundPlan.objects.filter(rig=fleet.rig, closed_at=None)
    for week in range(weeks):
        with at(start + dt.timedelta(days=7 * week)):
            seal(fleet, read_all(fleet, ROAD))
            plan = let_out(fleet, on_soft(fleet))
        with at(start + dt.timedelta(days=7 * week, hours=20)):
            seal(fleet, read_all(fleet, SOFT, plan_kept=True))
            fleet.api.ok("PUT", f"/ground/{plan['uuid']}/step", {"step": 1})
            for code, kpa in ROAD.items():
                enter(fleet, plan, code, 1, kpa)
            assert still_open.count() == 1
        with at(start + dt.timedelta(days=7 * week, hours=44)):
            seal(fleet, read_all(fleet, ROAD, plan_kept=False))
            assert still_open.count() == 0


def test_many_plans_name_no_leak_and_none_closes_without_a_cold_round(off_road: Fleet) -> None:
    """Eight weeks on the sand; the bench does two hundred."""
    weeks_on_sand(off_road, 8)
    assert Service.objects.count() == 8 * 3 * 6
    assert not Service.objects.filter(named=True).exists()
