"""The worked cases that the rules were written with, figure by figure."""

import datetime as dt
from typing import Any

import pytest

from ballast.core import air, gauges, lookback, rigs, rounds, tables, targets, weighing
from ballast.core.gas import Air, atmosphere, carry
from ballast.core.refusal import Refusal
from tests.core.samples import CASES, FIELD, TABLE


def each(name: str) -> Any:
    return pytest.mark.parametrize("case", CASES[name], ids=lambda c: str(list(c.values())[:3]))


@each("atmosphere")
def test_atmosphere(case: dict[str, Any]) -> None:
    assert atmosphere(case["elevation_m"]) == pytest.approx(case["kpa_absolute"], abs=case["tol"])


@each("gas")
def test_gas(case: dict[str, Any]) -> None:
    found = carry(case["kpa"], Air(case["from_c"], case["from_m"]), Air(case["to_c"], case["to_m"]))
    assert found == pytest.approx(case["expected_kpa"], abs=case["tol"])


@each("floor")
def test_floor(case: dict[str, Any]) -> None:
    found = TABLE.floor(case["row"], case["load_kg"])
    if case["expected_kpa"] is None:
        assert found is None
    else:
        assert found == pytest.approx(case["expected_kpa"], abs=case["tol"])


@each("column")
def test_column(case: dict[str, Any]) -> None:
    found = tables.column(TABLE, case["row"], case["load_kg"], case["reserve"], case["edge"])
    assert found.kpa == case["expected_kpa"]
    assert found.note == case["note"]
    assert found.required_kg == pytest.approx(case["required_kg"])


def test_practical_steps() -> None:
    psi = 6.894757293168361
    # 1,600 kg with 8 % is 1,728 kg. At 100 psi, 689.476 kPa, the single row carries about 2,034 kg.
    assert tables.practical(TABLE, "single", 690, 1728, tables.STEPS["1 psi"]) == pytest.approx(100 * psi)
    # 620 kPa is 89.92 psi: the nearest step of 5 psi is 90, 620.53 kPa.
    assert tables.practical(TABLE, "single", 620, 1700, tables.STEPS["5 psi"]) == pytest.approx(90 * psi)


@each("ceiling")
def test_ceiling(case: dict[str, Any]) -> None:
    # The load whose floor is the case's; 3 % more of it asks for a column above the ceiling of 700.
    load = TABLE.load_at("single", case["floor_kpa"])
    given = targets.AxleCase(1, "Front", "single", 1, load, table=TABLE, sidewall_max_kpa=case["ceiling_kpa"])
    found = targets.axle_target(given, targets.Policy(0.03, tables.STEPS["5 kPa"], edge=0.0))
    if case["expected_kpa"] is None:
        assert found.target_kpa is None
        assert found.state == case["note"]
    else:
        assert found.target_kpa == pytest.approx(case["expected_kpa"])
        assert any("Reserve not reached" in n.text for n in found.notes)


@each("ratio")
def test_ratio(case: dict[str, Any]) -> None:
    found = tables.ratio(case["load_kg"] * (1 + case["reserve"]), case["max_kg"], case["max_kpa"])
    assert found == pytest.approx(case["expected_kpa"], rel=1e-3)


@each("gauge")
def test_gauge(case: dict[str, Any]) -> None:
    pairs = tuple(gauges.Pair(*p) for p in case["pairs_reference_reading"])
    found = gauges.correct(gauges.Gauge("digital", 0, 1100, 1, pairs), case["reading_kpa"])
    assert found.kpa == pytest.approx(case["expected_kpa"], rel=1e-3)
    assert found.outside is case["outside"]


@each("leak")
def test_leak(case: dict[str, Any]) -> None:
    segments = tuple(tuple((d, p) for d, p in segment) for segment in case["segments_day_kpa"])
    found = lookback.leak_rate(segments)
    assert found.kpa_per_day == pytest.approx(case["kpa_per_day"], abs=1e-5)
    assert found.standard_error == pytest.approx(case["standard_error"], abs=1e-5)


@each("what_if")
def test_what_if(case: dict[str, Any]) -> None:
    found = weighing.place_mass(case["mass_kg"], case["behind_front_axle_m"], case["wheelbase_m"])
    assert found == pytest.approx((case["front_kg"], case["rear_kg"]), abs=1e-3)


@each("hitch_step")
def test_hitch_step(case: dict[str, Any]) -> None:
    behind_front = case["wheelbase_m"] + case["behind_rear_m"]
    found = weighing.place_mass(case["hitch_kg"], behind_front, case["wheelbase_m"])
    assert found == pytest.approx((case["front_kg"], case["rear_kg"]), abs=1e-2)


@each("hitch_by_passes")
def test_hitch_by_passes(case: dict[str, Any]) -> None:
    tow = weighing.Vehicle("tow", ((1, "Front", 2), (2, "Rear", 2)))
    trailer = weighing.Vehicle("trailer", ((1, "Axle 1", 2), (2, "Axle 2", 2)), pulled=True)
    read = [
        *case["tow_hitched_axles_kg"], *case["trailer_axles_hitched_kg"], *case["tow_alone_axles_kg"], case["trailer_alone_kg"],
    ]  # fmt: skip
    steps = weighing.guide((tow, trailer), "axles", hitch=True)
    passes = tuple(weighing.Pass(frozenset(step.on), kg, step.apart) for step, kg in zip(steps, read, strict=True))
    found = weighing.solve((tow, trailer), passes, "axles", case["resolution_kg"])
    assert found.hitch_kg[1] == case["hitch_from_tow_kg"]
    assert found.working[-1].result.value == case["hitch_from_trailer_kg"]  # type: ignore[union-attr]
    assert (found.doubt == ()) is case["agree"]


@each("cumulative")
def test_cumulative(case: dict[str, Any]) -> None:
    rig = weighing.Vehicle("rig", tuple((n + 1, f"Axle {n + 1}", 2) for n in range(len(case["passes_kg"]))))
    steps = weighing.guide((rig,), "passes", hitch=False)
    passes = tuple(weighing.Pass(frozenset(s.on), kg) for s, kg in zip(steps, case["passes_kg"], strict=True))
    found = weighing.solve((rig,), passes, "passes", 10)
    assert [found.axles[(0, n + 1)].whole_kg for n in range(len(case["axles_kg"]))] == case["axles_kg"]


@each("left_wheels")
def test_left_wheels(case: dict[str, Any]) -> None:
    limits = weighing.AxleLimits(2, "Rear", 4, 1.85, None, None)
    found = weighing.weigh_axle(limits, weighing.AxleReading(case["axle_kg"], case["left_kg"]))
    assert found.right_kg == case["right_kg"]
    assert found.imbalance == pytest.approx(case["imbalance"], abs=1e-4)
    assert found.per_tire_kg == case["per_tire_dual_heavier_kg"]


def test_cargo_left() -> None:
    over_rear, middle = CASES["cargo_left"]
    # Margins of GVWR, front and rear axle; the share of a kilogram that each of them takes.
    assert weighing.cargo_left((900, 300, 100), (1, 0, 1)) == over_rear["expected_kg"]
    assert weighing.cargo_left((900, 300, 100), (1, 0.5, 0.5)) == middle["expected_kg"]


@each("look_ahead")
def test_look_ahead(case: dict[str, Any]) -> None:
    dawns = tuple(Air(c, m) for c, m in case["dawns_c_m"])
    found = air.look_ahead(case["floor_kpa"], dawns, Air(case["here_c"], case["here_m"]), case["loss_kpa"])
    assert found == pytest.approx(case["expected_kpa"], abs=case["tol"])


@each("fill")
def test_fill(case: dict[str, Any]) -> None:
    found = gauges.fill_minutes(
        gauges.Inflator(case["stall_kpa"], case["free_l_min"], "battery"),
        case["litres"],
        case["from_kpa"],
        case["to_kpa"],
    )
    assert found == pytest.approx(case["minutes"], rel=1e-3)


@each("load_index")
def test_load_index(case: dict[str, Any]) -> None:
    assert rigs.load_index_kg(case["index"]) == case["kg"]


@each("sizes")
def test_sizes(case: dict[str, Any]) -> None:
    found = rigs.read_size(case["text"])
    for name, value in case.items():
        if name != "text":
            assert getattr(found, name) == pytest.approx(value), name


@each("date_codes")
def test_date_codes(case: dict[str, Any]) -> None:
    on = dt.date.fromisoformat(case.get("on", "2026-11-25"))
    if "error" in case:
        words = {"in the future": "lies in the future"}.get(case["error"], case["error"].split(" has ")[-1])
        with pytest.raises(Refusal, match=words):
            rigs.read_date_code(case["code"], on)
    elif case.get("pre_2000"):
        assert rigs.read_date_code(case["code"], on) == rigs.DateCode(None, True)
    else:
        assert rigs.read_date_code(case["code"], on).week_start == dt.date.fromisoformat(case["week_start"])


def field(name: str) -> Any:
    return pytest.mark.parametrize("case", FIELD[name], ids=lambda c: str(list(c.values())[:3]))


@field("warm_target")
def test_a_warm_tire_is_filled_to_its_target_at_its_own_temperature(case: dict[str, Any]) -> None:
    stood = air.Standing(False, case["tire_c"], 1.0)
    here = Air(case["air_c"], case["elevation_m"])
    found = air.fill_to(case["cold_kpa"], None, stood, here)
    assert found == pytest.approx(case["expected_kpa"], rel=0.001)
    # The same number wherever it is asked for: a verdict, and the shop's or afternoon's setting.
    goal = rounds.WheelGoal(case["cold_kpa"], None, None, False, False)
    low = rounds.answer(goal, gauges.Corrected(0.9 * case["cold_kpa"], 1.0, False), stood, here)
    assert low.fill_kpa == pytest.approx(case["expected_kpa"], rel=0.001)
    assert low.change_kpa == pytest.approx(case["expected_kpa"] - 0.9 * case["cold_kpa"], rel=0.001)
    elsewhere = air.set_elsewhere(case["cold_kpa"], here, Air(case["tire_c"], case["elevation_m"]), None)
    assert elsewhere.kpa == pytest.approx(found)
    # Under a ceiling, the ceiling.
    assert air.fill_to(case["cold_kpa"], case["cold_kpa"] + 5, stood, here) == case["cold_kpa"] + 5


@field("over_with_cold_ahead")
def test_over_the_target_with_cold_ahead(case: dict[str, Any]) -> None:
    here = Air(case["air_c"], case["elevation_m"])
    dawns = tuple(air.Ahead(Air(c, h), float(i + 1)) for i, (c, h) in enumerate(case["dawns_c_m"]))
    held = air.target_here(case["target_kpa"], None, None, here, None, dawns)
    goal = rounds.WheelGoal(held.kpa, None, None, True, False, out_to_kpa=held.out_to_kpa)
    found = rounds.answer(goal, gauges.Corrected(case["reading_kpa"], 0.5, False), air.Standing(True, 0, 0), here)
    assert found.word == case["expected"].replace(" ", "_")
    assert -(found.change_kpa or 0.0) == pytest.approx(case["out_kpa"], abs=0.05)
