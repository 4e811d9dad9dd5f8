import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from ballast.core.air import (
    Ahead,
    Standing,
    at_dawn,
    cold_equivalent,
    look_ahead,
    ordinary_loss,
    standing,
    target_here,
)
from ballast.core.gas import Air, carry
from ballast.core.refusal import Refusal

HERE = Air(13, 410)
temperatures = st.floats(-40, 45)


@pytest.mark.parametrize(
    ("hours", "heavy", "cold"),
    [(3, False, True), (2.9, False, False), (3, True, False), (5, True, True), (10, True, True)],
)
def test_cold_means_three_hours_light_and_five_heavy(hours: float, heavy: bool, cold: bool) -> None:
    assert standing(hours, heavy, "highway", 10).cold is cold


def test_a_younger_tire_is_an_estimate_by_hand() -> None:
    # 100 minutes after the highway, light: 30 e^(−100/50) = 4.06 °C over the air.
    assert standing(100 / 60, False, "highway", 10).tire_c == pytest.approx(14.06, abs=0.01)
    # 90 minutes after town, heavy: 15 e^(−1) = 5.52 °C; 3.5 h to wait.
    found = standing(1.5, True, "town", 0)
    assert found.tire_c == pytest.approx(5.52, abs=0.01)
    assert found.wait_h == 3.5


def test_no_time_below_none() -> None:
    with pytest.raises(Refusal, match="0 or more"):
        standing(-1, True, "town", 0)


def test_cold_equivalent_carries_and_widens() -> None:
    warm = Standing(False, 33.0, 2.0)
    # (700 + 96.496) × 286.15/306.15 − 96.496 = 647.97: 52 kPa of correction, 40 % of which is 20.8.
    cold, more = cold_equivalent(700, warm, HERE)
    assert cold == pytest.approx(647.97, abs=0.02)
    assert more == pytest.approx(0.4 * (700 - cold))
    assert cold_equivalent(700, Standing(True, 13, 0), HERE) == (700, 0)


def test_ordinary_loss_is_three_percent_a_month() -> None:
    assert ordinary_loss(600, 30) == pytest.approx(18)
    assert ordinary_loss(600, 7) == pytest.approx(4.2)


def test_a_mild_dawn_raises_nothing() -> None:
    found = target_here(620, 533, 760, HERE, None, (Ahead(Air(8, 410), 1),))
    assert found.kpa == 620
    assert not found.raised
    assert found.holds


def test_a_hard_dawn_raises_the_target_to_the_next_step() -> None:
    # Floor 592 at −9 °C and 2,650 m, brought back to 13 °C and 410 m, is 624.91: the next 5 kPa step is 625.
    found = target_here(600, 592, 760, HERE, None, (Ahead(Air(-9, 2650), 0),), 5.0)
    assert found.kpa == 625
    assert found.raised
    dawn = at_dawn(found.kpa, HERE, Air(-9, 2650), 592, 760)
    assert dawn.above_floor is True
    assert any("Raised" in n.text for n in found.notes)


def test_what_is_lost_until_then_counts() -> None:
    without = target_here(600, 592, 760, HERE, None, (Ahead(Air(-9, 2650), 0),), 0.1).kpa
    with_loss = target_here(600, 592, 760, HERE, None, (Ahead(Air(-9, 2650), 20 / 3),), 0.1).kpa
    # 3 % of 600 a month is 4 kPa in 6.67 days; at the dawn they are 4 × 286.15/264.15 = 4.33 kPa here.
    assert with_loss - without == pytest.approx(4.33, abs=0.11)


def test_set_this_morning_read_this_afternoon() -> None:
    # (620 + 96.496) × 303.15/279.15 − 96.496 = 681.6 at 30 °C, set at 6 °C.
    found = target_here(620, 533, 760, Air(30, 410), Air(6, 410))
    assert found.kpa == pytest.approx(681.6, abs=0.1)
    assert not found.raised


def test_never_above_the_ceiling() -> None:
    hot = target_here(750, 600, 760, Air(35, 0), Air(5, 0))
    assert hot.kpa == 760
    assert hot.capped
    assert any("Finish when it is colder" in n.text for n in hot.notes)


def test_a_dawn_that_not_even_the_ceiling_holds_is_said() -> None:
    found = target_here(700, 690, 700, Air(20, 0), None, (Ahead(Air(-30, 0), 1),))
    assert found.kpa == 700
    assert not found.holds
    assert any("Not even the ceiling" in n.text for n in found.notes)


def test_a_dawn_above_the_ceiling_is_said() -> None:
    # The same air reads about 28 kPa more at 2,650 m.
    found = target_here(745, 500, 760, Air(10, 0), None, (Ahead(Air(10, 2650), 1),))
    assert not found.holds
    assert any("above the ceiling" in n.text for n in found.notes)
    assert at_dawn(745, Air(10, 0), Air(10, 2650), 500, 760).below_ceiling is False


def test_an_unknown_floor_or_ceiling_is_not_judged() -> None:
    dawn = at_dawn(690, HERE, Air(0, 410), None, None)
    assert dawn.above_floor is None
    assert dawn.below_ceiling is None
    assert target_here(690, None, None, HERE, None, (Ahead(Air(-40, 410), 1),)).kpa == 690


@given(st.floats(300, 700), temperatures, temperatures, st.floats(0, 3000), st.sampled_from([1.0, 5.0, 6.894757]))
def test_the_target_here_holds_the_dawn_or_says_so(
    floor: float, here_c: float, dawn_c: float, dawn_m: float, step: float
) -> None:
    here, dawn = Air(here_c, 410), Air(dawn_c, dawn_m)
    found = target_here(floor * 1.05, floor, floor * 1.6, here, None, (Ahead(dawn, 2.0),), step)
    assert found.kpa <= floor * 1.6 + 1e-9
    if found.holds:
        assert carry(found.kpa, here, dawn) - ordinary_loss(floor * 1.05, 2.0) >= floor - 1e-6


@given(st.floats(300, 700), temperatures, temperatures, temperatures)
def test_a_colder_dawn_never_lowers(floor: float, here_c: float, one: float, other: float) -> None:
    low, high = sorted((one, other))
    here = Air(here_c, 0)
    assume(low < high)
    assert look_ahead(floor, (Air(low, 0),), here) >= look_ahead(floor, (Air(high, 0),), here)
    assert look_ahead(floor, (Air(low, 0), Air(high, 0)), here) == look_ahead(floor, (Air(low, 0),), here)


@given(st.floats(0, 4.9), st.floats(0, 4.9))
def test_tires_only_cool_while_they_stand(one: float, other: float) -> None:
    early, late = sorted((one, other))
    assert standing(early, True, "highway", 5).tire_c >= standing(late, True, "highway", 5).tire_c
    assert standing(0, True, "highway", 5).tire_c == pytest.approx(35)
    assert math.isfinite(standing(late, True, "town", 5).tire_c)
