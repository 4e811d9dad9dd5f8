"""Many tires at once, before anyone kneels: by hand for each."""

import datetime as dt
import math

import numpy as np
import pytest

from ballast.core.air import Ahead
from ballast.core.gas import Air
from ballast.core.rounds import (
    Around,
    Awaited,
    asking_dawn,
    awaited,
    counted,
    dawn_words,
    foresee,
    held_all,
    held_here,
    known,
)
from ballast.core.sensors import Glimpse

NOW = dt.datetime(2026, 11, 30, 6, tzinfo=dt.UTC)
DAY = dt.timedelta(days=1)
# Read at 20 °C and 100 kPa of air, 600 kPa, ten days ago; it loses half a kilopascal a day at 20 °C.
READ = Awaited(
    target_kpa=600.0, floor_kpa=500.0, ceiling_kpa=760.0, at_s=(NOW - 10 * DAY).timestamp(), stood_kpa=600.0, air_c=20.0,
    absolute_kpa=100.0, noise_kpa=2.0, rate_kpa_day=-0.5, rate_error_kpa_day=0.1,
)  # fmt: skip
BARE = Awaited(target_kpa=600.0, floor_kpa=500.0, ceiling_kpa=760.0)


def changed(**of: object) -> Awaited:
    return Awaited(**{**vars(READ), **of})  # type: ignore[arg-type]


def test_every_tire_by_its_own_last_service_in_its_own_air() -> None:
    tires = [READ, changed(stood_kpa=650.0), BARE, READ]
    air = np.array([-10.0, 20.0, 20.0, np.nan]), np.array([100.0, 90.0, 90.0, np.nan])
    told = foresee(awaited(tires), np.full(4, 586.2), air, NOW, {})
    # 700 kPa absolute at 293.15 K is 628.36 at 263.15 K; 5 kPa at 20 °C are 4.49 there.
    assert told.kpa[0] == pytest.approx(628.36 - 4.49 - 100, abs=0.01)
    assert told.kpa[1] == pytest.approx(750 - 5 - 90, abs=1e-9)
    # Twice of 2 kPa of scatter and ten days of 0.1 kPa, in squares.
    assert told.within_kpa[1] == pytest.approx(2 * math.hypot(2, 1))
    # Never read, and no air known: nothing is foretold, and nothing holds.
    assert told.foretold.tolist() == [True, True, False, False]
    assert told.wanting.tolist() == [True, False, False, False]
    assert told.holding.tolist() == [False, True, False, False]


def test_a_tire_that_may_want_air_neither_wants_nor_holds() -> None:
    air = np.array([20.0] * 3), np.array([100.0] * 3)
    # It reads 595, give or take 4.47: of the line at 594 half of that is short; without a target there is no line.
    told = foresee(awaited([READ] * 3), np.array([594.0, 592.0, np.nan]), air, NOW, {})
    assert told.foretold.all()
    assert told.wanting.tolist() == [False, False, False]
    assert told.holding.tolist() == [False, True, False]


def test_after_an_alarm_just_a_newer_number_of_its_sensor_foretells() -> None:
    air = np.array([20.0] * 3), np.array([100.0] * 3)
    alarmed = changed(alarmed=True)
    newer, older = Glimpse(560, 4, NOW - DAY, 6), Glimpse(560, 4, NOW - 11 * DAY, 6)
    told = foresee(awaited([alarmed] * 3), np.full(3, 586.2), air, NOW, {1: newer, 2: older})
    assert told.foretold.tolist() == [False, True, False]
    assert told.beside == {1}
    # 595 and 560 contradict each other: it lies between their far ends, 556 and 599.47, and that says nothing.
    assert told.kpa[1] == pytest.approx((556 + 599.472) / 2, abs=0.01)
    assert (told.wanting[1], told.holding[1]) == (True, False)


def test_what_a_wheel_is_held_to_here() -> None:
    here = Air(0.0, 0.0, 100.0)
    held = held_here(Awaited("morning", 1.0, 600.0, 560.0, 500.0, 760.0), here)
    # Two per cent under the lower end: 560 less 11.2.
    assert (held.target_kpa, held.range_kpa, held.low_kpa) == (600.0, 560.0, pytest.approx(548.8))
    # Held at 20 °C: 700 kPa absolute carried to freezing, 652.24, to the next step.
    cold = held_here(Awaited("hold 20", 1.0, 600.0, None, 500.0, 760.0), here)
    assert cold.target_kpa == pytest.approx(552.24, abs=1)
    assert held_here(Awaited("hold 20", 1.0, 600.0, None, 599.0, 760.0), here).target_kpa >= 599  # type: ignore[operator]
    # A spare lies where it lies.
    assert held_here(Awaited("hold 20", 1.0, 600.0, spare=True), here).target_kpa == 600
    assert held_here(Awaited("hold 20", 1.0, ceiling_kpa=760.0), here).low_kpa is None


def test_what_is_held_alike_is_worked_out_once() -> None:
    bare, cold = Awaited(), changed(policy="hold 20")
    held, whose = held_all(
        awaited([READ, cold, READ, bare, cold]),
        np.array([0, 0, 0, 0, 1]),
        [Around(Air(0.0, 0.0, 100.0)), Around(Air(20.0, 0.0, 100.0))],
    )
    assert whose == [0, 1, 0, 2, 3]
    assert [h.target_kpa for h in held] == [600.0, pytest.approx(552.24, abs=1), None, 600.0]
    assert held[2].low_kpa is None
    assert (known(np.nan), known(0.0)) == (None, 0.0)


def test_none_wants_air_is_said_only_where_all_are_known() -> None:
    assert counted(0, 7, 0).text == "No tire wants air, by prediction"
    assert counted(0, 6, 1).show("metric") == "1 not known, 6 hold, by prediction"
    assert counted(1, 0, 0).show("metric") == "1 tire wants air"


def test_the_first_dawn_that_takes_a_tire_to_its_floor() -> None:
    # 695 kPa absolute now at 20 °C: 617.01 at -13 °C, so 515.68 there beside 101.325; 593.24 at -23 °C, so 491.91, under 500.
    low = {"target_kpa": 690.0}
    tires = awaited(
        [
            changed(**low),
            changed(**low, floor_kpa=518.0),
            changed(floor_kpa=None),
            BARE,
            changed(**low, floor_kpa=480.0),
        ]
    )
    many = len(tires)
    told = foresee(tires, np.full(many, 586.2), (np.full(many, 20.0), np.full(many, 101.325)), NOW, {})
    assert told.kpa[0] == pytest.approx(595 - 1.325, abs=0.01)
    near = Around(Air(20.0, 0.0), (Ahead(Air(-13.0, 0.0), 0.0), Ahead(Air(-23.0, 0.0), 0.0)), (5, 6))
    there = np.zeros(many, dtype=int)
    assert asking_dawn(tires, told, there, [near]).tolist() == [1, 0, -1, -1, -1]
    # In forty days it loses 20 kPa more at 20 °C, 17.75 of them at -13 °C: 497.9.
    late = Around(Air(20.0, 0.0), (Ahead(Air(-13.0, 0.0), 40.0),), (45,))
    assert asking_dawn(tires, told, there, [late]).tolist() == [0, 0, -1, -1, -1]
    # Each where it stands; of a place without dawns nothing is asked.
    assert asking_dawn(tires, told, np.array([1, 2, 0, 0, 0]), [near, Around(Air(20.0, 0.0)), late]).tolist() == [
        -1,
        0,
        -1,
        -1,
        -1,
    ]
    assert (
        asking_dawn(tires[:0], foresee(tires[:0], there[:0], (there[:0], there[:0]), NOW, {}), there[:0], []).tolist()
        == []
    )


@pytest.mark.parametrize(("check_day", "dawn"), [(None, 1), (6, 1), (5, -1), (4, -1)])
def test_a_dawn_after_the_next_check_asks_for_no_round(check_day: float | None, dawn: int) -> None:
    tires = awaited([changed(target_kpa=690.0, check_day=check_day)])
    told = foresee(tires, np.array([586.2]), (np.array([20.0]), np.array([101.325])), NOW, {})
    near = Around(Air(20.0, 0.0), (Ahead(Air(-13.0, 0.0), 0.0), Ahead(Air(-23.0, 0.0), 0.0)), (5, 6))
    assert asking_dawn(tires, told, np.array([0]), [near]).tolist() == [dawn]


@pytest.mark.parametrize(("reads", "dawn"), [(603.0, 0), (604.0, -1)])
def test_a_tire_that_a_round_would_hold_asks_for_none(reads: float, dawn: int) -> None:
    """500 at -23 °C are 603.4 at 20 °C beside 101.325; it loses enough until then to be taken there from a little more."""
    tires = awaited([changed(at_s=NOW.timestamp(), stood_kpa=reads, absolute_kpa=101.325, rate_kpa_day=-1.0)])
    told = foresee(tires, np.array([0.0]), (np.array([20.0]), np.array([101.325])), NOW, {})
    cold = Around(Air(20.0, 0.0), (Ahead(Air(-23.0, 0.0), 3.0),), (1,))
    assert asking_dawn(tires, told, np.array([0]), [cold]).tolist() == [dawn]


def test_what_a_dawn_takes_in_words() -> None:
    on = dt.date(2026, 12, 3)
    assert dawn_words(on, -12.0, ["1L"]).text == "The dawn of Dec 3, 2026, {0}, takes 1L to its floor"
    assert dawn_words(None, -12.0, ["1L"]).text == "The coming dawn, {0}, takes 1L to its floor"
    assert dawn_words(on, -12.0, ["1L", "1R", "2L", "2R", "3L"]).text.endswith("takes 5 tires to their floors")
