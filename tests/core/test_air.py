import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from ballast.core.air import (
    POLICIES,
    Ahead,
    Leg,
    Standing,
    at_dawn,
    by_shortfall,
    by_temperature,
    by_time,
    cold_equivalent,
    eaten,
    hot_rise,
    judge,
    look_ahead,
    ordinary_loss,
    parting,
    plan_trip,
    readings,
    set_elsewhere,
    standing,
    target_here,
    waits,
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
    # The same air reads about 28 kPa more at 2,650 m, and less than 740 does not carry the load here.
    found = target_here(745, 740, 760, Air(10, 0), None, (Ahead(Air(10, 2650), 1),))
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
        assert carry(found.kpa, here, dawn) <= floor * 1.6 + 1e-6
    # Below it that dawn would take a tire under its floor, and at it or above, nothing lost, it would not.
    assert found.dawn_kpa is not None
    assert found.dawn_kpa <= found.kpa
    assert carry(found.dawn_kpa, here, dawn) == pytest.approx(floor) or found.dawn_kpa == found.kpa


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


def test_the_three_temperature_policies_by_hand() -> None:
    here, morning = Air(30, 410), Air(6, 410)
    # Morning: (620 + 96.496) × 303.15/279.15 − 96.496 = 681.6. Hold 20: × 303.15/293.15 gives 644.4. Left: 620.
    found = [target_here(620, 533, 760, here, morning, (), 1.0, p).kpa for p in POLICIES]
    assert found == pytest.approx([681.6, 644.44, 620.0], abs=0.05)
    left = target_here(620, 533, 760, here, morning, (), 5.0, "set and leave")
    assert left.hold_from_kpa == 538
    assert target_here(620, 533, 760, here, morning, (), 5.0).hold_from_kpa is None


def test_set_and_leave_holds_from_a_step_above_what_the_dawns_ask() -> None:
    # The floor of 533 at −10 °C, no loss: (533 + 96.496) × 283.15/263.15 − 96.496 = 580.84.
    found = target_here(620, 533, 760, Air(10, 410), None, (Ahead(Air(-10, 410), 0),), 5.0, "set and leave")
    assert found.hold_from_kpa == pytest.approx(585.84, abs=0.02)


def test_colder_air_than_the_mornings_never_takes_the_target_below_the_floor() -> None:
    found = target_here(540, 533, 760, Air(-10, 410), Air(10, 410), (), 5.0)
    assert found.kpa == 535
    assert any("Raised to the floor" in n.text for n in found.notes)


def test_the_coldest_of_several_dawns_rules_with_what_is_lost_until_then() -> None:
    dawns = (Ahead(Air(6, 410), 0.5), Ahead(Air(-4, 410), 3.5), Ahead(Air(3, 410), 6.5))
    found = target_here(600, 592, 760, HERE, None, dawns, 1.0)
    # 592 + 600 × 0.03 × 3.5/30 = 594.1 at −4 °C: (594.1 + 96.496) × 286.15/269.15 − 96.496 = 637.72.
    assert found.kpa == 638


def test_a_dawn_above_the_ceiling_lowers_what_is_set_now_where_that_fits() -> None:
    # 760 at 2,650 m (73.283 kPa) is 833.283 absolute: at sea level 731.96, so 731, the next kPa down; the floor is 500.
    found = target_here(745, 500, 760, Air(10, 0), None, (Ahead(Air(10, 2650), 1),))
    assert (found.kpa, found.lowered, found.raised, found.holds) == (731, True, False, True)
    assert any("stays under the ceiling" in n.text for n in found.notes)


def test_dawns_that_no_pressure_holds_together_are_named_and_the_load_comes_first() -> None:
    # Floor 690 at −30 °C: (690 + 101.325) × 293.15/243.15 − 101.325 = 852.7 here.
    cold, hot = Ahead(Air(-30, 0), 0), Ahead(Air(55, 0), 0)
    found = target_here(800, 690, 820, Air(20, 0), None, (cold, hot), 5.0)
    # (820 + 101.325) × 293.15/328.15 − 101.325 = 721.7 is the most for the hot dawn, 852.7 the least for the cold one.
    assert not found.holds
    assert found.kpa == 820
    clash = next(n for n in found.notes if "holds every dawn" in n.text)
    assert clash.show("metric") == (
        "No pressure set here holds every dawn: −30 °C needs 853 kPa here, 55 °C allows 721 kPa."
    )
    assert any("above the ceiling" in n.text for n in found.notes)


def test_dawns_are_judged_together() -> None:
    here = Air(20, 0)
    dawns = tuple(at_dawn(600, here, Air(c, 0), 560, 620) for c in (5.0, 25.0))
    found = judge(600, 560, here, dawns)
    # (600 + 101.325) × 278.15/293.15 − 101.325 = 564.11: of 40 kPa over the floor 35.9 are eaten.
    assert found.coldest_kpa == pytest.approx(564.11, abs=0.01)
    assert found.eaten == pytest.approx(0.897, abs=1e-3)
    assert (found.above_floor, found.below_ceiling) == (True, True)
    assert judge(600, 560, here, ()).words.text == "The coming dawn is not known."
    low = judge(560, 560, here, (at_dawn(560, here, Air(5, 0), 560, None),))
    assert (low.above_floor, low.below_ceiling, low.eaten) == (False, None, None)
    assert "below the floor" in low.words.text
    mild = judge(610, 560, here, tuple(at_dawn(610, here, Air(c, 0), 560, 620) for c in (15.0, 30.0)))
    assert (mild.below_ceiling, "mildest" in mild.words.text) == (False, True)


def test_how_much_of_the_reserve_the_cold_eats() -> None:
    assert eaten(620, 590, 530) == pytest.approx(1 / 3)
    assert eaten(620, 520, 530) == pytest.approx(100 / 90)
    assert eaten(530, 500, 530) is None
    assert eaten(620, 640, 530) == 0


def test_setting_in_a_heated_shop_and_up_high() -> None:
    # Temperature alone: (620 + 96.496) × 291.15/268.15 − 96.496 = 681.46.
    shop = set_elsewhere(620, Air(-5, 410), Air(18, 410), 760)
    assert shop.kpa == pytest.approx(681.46, abs=0.02)
    assert not shop.capped
    # Altitude alone, to 2,650 m (73.283 kPa): 620 + 96.496 − 73.283 = 643.21. Both: 716.496 × 291.15/268.15 − 73.283.
    assert set_elsewhere(620, Air(-5, 410), Air(-5, 2650), 760).kpa == pytest.approx(643.21, abs=0.05)
    assert set_elsewhere(620, Air(-5, 410), Air(18, 2650), 760).kpa == pytest.approx(704.67, abs=0.05)
    hot = set_elsewhere(700, Air(-15, 410), Air(25, 410), 760)
    assert (hot.kpa, hot.capped) == (760, True)
    assert "finish outside" in hot.words.text


LEGS = (
    Leg("Ember Lake", Air(2, 640), 14.0, 1),
    Leg("Marrow Pass", Air(-9, 2650), 4.0, 2),
    Leg("Quill Dunes", Air(12, 55), 28.0, 3),
)


def test_one_fill_for_a_trip_by_hand() -> None:
    found = plan_trip(600, 592, 760, HERE, LEGS, 5.0)
    # At the pass, a loss of 600 × 0.03 × 2/30 = 1.2: (593.2 + 73.283) × 286.15/264.15 − 96.496 = 625.49. At the dunes,
    # 1.8 lost: (593.8 + 100.666) × 286.15/285.15 − 96.496 = 600.4. So 630, the next 5 kPa.
    (only,) = found.stretches
    assert only.need_kpa == pytest.approx(625.49, abs=0.1)
    assert only.rules == 1
    assert only.set_kpa == 630
    assert found.clash is None
    assert "Marrow Pass" in found.notes[0].text
    assert found.readings[1].dawn_kpa >= 592
    assert found.readings[2].high_kpa == pytest.approx(carry(630, HERE, Air(28, 55)))


def test_a_trip_with_no_solution_says_which_legs_clash_and_where_to_stop() -> None:
    # A narrow band: 690 to 730. From −30 °C to 38 °C no fill stays inside it.
    legs = (Leg("Cold", Air(-30, 2650), None, 1), Leg("Cool", Air(-25, 2000), None, 2), Leg("Hot", Air(38, 0), None, 3))
    found = plan_trip(700, 690, 730, Air(-20, 2650), legs, 1.0)
    assert found.clash is not None
    assert len(found.stretches) >= 2
    assert found.stretches[-1].at == 2
    # At the hot dawn it is set there, by the gauge: the target itself.
    assert found.stretches[-1].set_kpa == 700
    assert "clash" in found.words.text or "No fill set here" in found.words.text
    assert any("Stop at Hot" in n.text for n in found.notes)
    assert all(r.above_floor and r.below_ceiling for r in found.readings)


def test_a_fill_never_leaves_the_band_where_it_is_set() -> None:
    # The dunes are far warmer: less would do there, but not here.
    found = plan_trip(600, 592, 620, Air(0, 410), (Leg("Warm", Air(20, 410), None, 1),), 1.0)
    assert found.clash == (None, 0)
    assert found.stretches[0].set_kpa >= 592


legs = st.lists(
    st.builds(lambda c, m, d: Leg("Night", Air(c, m), None, d), st.floats(-35, 40), st.floats(-100, 3500), st.just(1.0)),
    min_size=1, max_size=12,
)  # fmt: skip


@given(legs, st.floats(300, 700), st.floats(1.02, 1.4), st.floats(-30, 40), st.sampled_from([1.0, 5.0, 6.894757]))
def test_every_dawn_of_any_trip_stays_inside_the_band(
    nights: list[Leg], floor: float, over: float, here_c: float, step: float
) -> None:
    found = plan_trip(floor * 1.01, floor, floor * over, Air(here_c, 410), tuple(nights), step)
    assert [r.leg for r in found.readings] == list(range(len(nights)))
    assert all(r.above_floor and r.below_ceiling for r in found.readings)
    for stretch in found.stretches:
        assert floor - 1e-6 <= stretch.set_kpa <= floor * over + 1e-6


def test_warm_tires_by_each_way_by_hand() -> None:
    here = Air(13, 410)
    by_c = by_temperature(700, 33, here, 690)
    # The cold equivalent is 647.97; 690 at 33 °C reads (690 + 96.496) × 306.15/286.15 − 96.496 = 744.97.
    assert by_c.cold_kpa == pytest.approx(647.97, abs=0.02)
    assert by_c.add_kpa == pytest.approx(44.97, abs=0.02)
    assert by_c.uncertainty_kpa == pytest.approx(0.4 * 52.03, abs=0.02)
    # By the shortfall: (690 + 96.496)(700 + 96.496)/(650 + 96.496) − 96.496 = 742.68.
    short = by_shortfall(700, 650, here, 690)
    assert short.fill_to_kpa == pytest.approx(742.68, abs=0.05)
    assert short.uncertainty_kpa == pytest.approx(6.894757 * math.hypot(1, 796.496 / 746.496), abs=0.01)
    stood = standing(1, False, "highway", 13)
    timed = by_time(700, stood, here, 690)
    assert timed.cold_kpa == pytest.approx(carry(700, Air(13 + 30 * math.exp(-60 / 50), 410), here), abs=0.01)


def test_no_way_ever_asks_to_let_air_out() -> None:
    over = by_temperature(800, 20, Air(13, 410), 690)
    assert over.add_kpa == 0
    assert over.fill_to_kpa == 800
    assert "Let nothing out" in over.words.text


def test_warm_tires_that_cannot_be() -> None:
    with pytest.raises(Refusal, match="colder than the air"):
        by_temperature(700, 5, Air(13, 410), 690)
    with pytest.raises(Refusal, match="less warm than it did cold"):
        by_shortfall(640, 650, Air(13, 410), 690)
    with pytest.raises(Refusal, match="above the ceiling"):
        by_temperature(700, 33, Air(13, 410), 800, 760)


@pytest.mark.parametrize(
    ("hot", "heavy", "verdict"),
    [
        (None, False, ""), (655.0, False, "low"), (660.0, False, "as it should"), (690.0, False, "as it should"),
        (720.0, False, "high"), (748.0, False, "stop"), (660.0, True, "low"), (720.0, True, "as it should"),
    ],
)  # fmt: skip
def test_the_hot_rise_by_the_law(hot: float | None, heavy: bool, verdict: str) -> None:
    # Set 620 at 10 °C, 410 m (96.496): today 15 °C. (716.496) × 298.15/283.15 = 754.45 at 25 °C, 767.11 at 30, 805.06 at 45,
    # 830.37 at 55, 843.02 at 60 (less 96.496).
    found = hot_rise(620, Air(10, 410), Air(15, 410), hot, heavy)
    window = (670.61, 733.87) if heavy else (657.96, 708.57)
    assert (found.low_kpa, found.high_kpa) == pytest.approx(window, abs=0.1)
    assert found.verdict == verdict
    assert "thumb rule" in found.working[-1].what.text


def test_a_hot_reading_below_its_window_is_low_until_shown_otherwise() -> None:
    # 500 hot is at 25 °C at least: (500 + 96.496) × 288.15/298.15 − 96.496 = 480.0 as if cold, at 15 °C.
    found = hot_rise(620, Air(10, 410), Air(15, 410), 500.0)
    assert found.verdict == "low"
    assert found.cold_kpa == pytest.approx(480.0, abs=0.05)


def test_a_rise_beyond_the_window_from_its_own_cold_reading_is_told() -> None:
    # It read 560 cold: at 45 °C (656.496) × 318.15/283.15 − 96.496 = 641.1, so 690 is more, though it suits the target.
    found = hot_rise(620, Air(10, 410), Air(15, 410), 690.0, own_kpa=560.0)
    assert found.verdict == "high"
    assert "started low, or is overloaded" in found.words.text


def test_warm_never_above_the_ceiling_and_at_it_no_air() -> None:
    capped = by_temperature(700, 33, Air(13, 410), 690, 720)
    # 744.97 by the law; the ceiling is 720.
    assert (capped.fill_to_kpa, capped.add_kpa) == (720, 20)
    full = by_temperature(725, 53, Air(13, 410), 690, 720)
    assert full.add_kpa == 0
    assert "no air now" in full.words.text


def test_readings_by_temperature_and_where_the_thumb_rule_parts() -> None:
    found = readings(600, Air(20, 410), 560, 640, (-20.0, 20.0, 40.0))
    # (600 + 96.496) × 253.15/293.15 − 96.496 = 504.96.
    assert found[0].kpa == pytest.approx(504.96, abs=0.02)
    assert [r.above_floor for r in found] == [False, True, True]
    assert [r.below_ceiling for r in found] == [True, True, False]
    part = parting(600, Air(20, 410), (-20.0,))[0]
    # 2 psi per 10 °F over 72 °F are 14.4 psi, 99.28 kPa: 500.72, 4.24 low.
    assert part.off_kpa == pytest.approx(-4.24, abs=0.02)


def test_cold_by_the_workspaces_own_hours() -> None:
    assert standing(1, True, "highway", 10, 1.0).cold
    assert not standing(1, True, "highway", 10).cold
    assert "Cold" in waits(standing(6, True, "highway", 10), 10).text
    assert waits(standing(1, True, "highway", 10), 10).show("metric").startswith("Not cold yet: wait 4 h more")
