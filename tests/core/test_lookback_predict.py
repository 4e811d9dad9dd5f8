"""What a tire loses, when it is at its limit, and what may be expected of it: each by hand."""

import datetime as dt
from dataclasses import replace

import numpy as np
import pytest

from ballast.core.gas import SEA_LEVEL_KPA, Air, carry
from ballast.core.lookback import (
    Evidence,
    Last,
    Predicted,
    Rate,
    Seen,
    Told,
    days_until,
    loss_words,
    noise_all,
    noise_kpa,
    normalized,
    normalized_all,
    rate,
    record,
    take_apart,
    today,
)
from ballast.core.rounds import check_again_at, foretell

SEA_20 = Air(20, 0)


def seen(day: float, found: float, left: float | None = None, air: Air = SEA_20) -> Seen:
    return Seen(0, int(day), day, found, left, air, 0, False)


def test_columns_are_brought_to_the_same_air_as_single_readings_are() -> None:
    # (600 + 101.325) × 293.15 / 283.15 − 101.325 = 624.769.
    found = normalized_all(np.array([600.0, np.nan, 5.0]), np.array([101.325, 95.0, 70.0]), np.array([10.0, 20, 60]))
    assert found[0] == pytest.approx(624.769, abs=0.001)
    # What was not measured stays unknown, and nothing is below empty.
    assert np.isnan(found[1])
    assert found[2] == 0
    assert normalized(600, Air(10, 0)) == pytest.approx(624.769, abs=0.001)


@pytest.mark.parametrize(
    ("pressure", "kpa_day", "error", "likely", "near"),
    [
        # 50 kPa to go: at 2 a day in 25 days, at 2 + 2 × 0.5 in 16⅔.
        (650, -2.0, 0.5, 25, 50 / 3),
        # It gains, but its range reaches down to −1 a day.
        (650, 1.0, 1.0, None, 50),
        (650, 3.0, 1.0, None, None),
        (600, -2.0, 0.5, 0, 0),
        (550, 3.0, 0.1, 0, 0),
    ],
)
def test_days_until_a_limit(
    pressure: float, kpa_day: float, error: float, likely: float | None, near: float | None
) -> None:
    assert days_until(pressure, 600, Rate(kpa_day, error, True)) == (
        likely if likely is None else pytest.approx(likely),
        near if near is None else pytest.approx(near),
    )


@pytest.mark.parametrize(
    ("loss", "since", "words"),
    [
        (Rate(-0.5, 0.1, True), None, "Loses 15 kPa a month, give or take 6 kPa: usual."),
        # 3 % of 700 kPa is 21 a month.
        (Rate(-0.72, 0.05, True), None, "Loses 22 kPa a month, give or take 3 kPa: more than a sound tire."),
        (Rate(-0.5, 0.1, True), dt.date(2026, 3, 5), "Leaks: loses 15 kPa a month, give or take 6 kPa, since about Mar 5, 2026."),
        (Rate(-0.34, 0.3, False), None, "Too few rounds yet to say what it loses; the usual 10 kPa a month is taken."),
        # Noise that rises is no gain of air.
        (Rate(0.2, 0.3, True), None, "Loses 0 kPa a month, give or take 18 kPa: usual."),
    ],
)  # fmt: skip
def test_what_a_tire_loses_in_words(loss: Rate, since: dt.date | None, words: str) -> None:
    assert loss_words(loss, 700, since).show("metric") == words


def alone(*pressures: float) -> Evidence:
    """The evidence of a single tire read every week."""
    (found,) = take_apart(tuple(seen(7 * i, p) for i, p in enumerate(pressures))).tires
    return found


def test_two_readings_say_next_to_nothing_of_a_tires_own_loss() -> None:
    found = rate(alone(700, 690))
    assert found.measured is False
    # The usual: 1.5 ± 0.5 % a month of 690 (0.345 and 0.115 kPa a day), hardly moved by what two thermometers may make.
    assert found.kpa_day == pytest.approx(-0.345, abs=0.03)
    assert found.error_kpa_day == pytest.approx(0.115, rel=0.05)


def test_steady_readings_weigh_against_the_usual_loss_by_their_errors() -> None:
    # It loses 2.2 % a month of what it holds: ln falls by 0.022/30 × p/(p + 101.325) a day.
    levels, absolute = [], 700 + SEA_LEVEL_KPA
    for _ in range(27):
        levels.append(absolute - SEA_LEVEL_KPA)
        absolute -= 7 * 0.022 / 30 * (absolute - SEA_LEVEL_KPA)
    found = rate(alone(*levels))
    share = levels[13] / (levels[13] + SEA_LEVEL_KPA)
    # Its line over half a year, as sure as hands (½ psi) and thermometers (2 °C in 288 K) are, over √Σ(x − x̄)² = 7 √1638 days.
    own = (np.hypot(0.5 * 6.894757 / (levels[13] + SEA_LEVEL_KPA), 2 / 288) / (7 * 1638**0.5) * 30 / share) ** -2.0
    usual = 0.005**-2.0
    month = (0.022 * own + 0.015 * usual) / (own + usual)
    assert found.measured
    assert found.kpa_day == pytest.approx(-month / 30 * levels[-1], rel=0.02)
    assert found.error_kpa_day == pytest.approx((own + usual) ** -0.5 / 30 * levels[-1], rel=0.03)


def test_a_learned_loss_is_never_more_than_three_percent_a_month() -> None:
    falling = alone(*(700 * (1 - 0.06 * i * 7 / 30) for i in range(20)))
    # Six percent a month from the first reading on is a leak, whatever it has always lost: 1.4 kPa a day in all.
    assert falling.named
    assert -falling.loss_kpa_day <= 0.03 / 30 * 700 * (1 - 0.06 * 19 * 7 / 30) + 1e-9
    assert rate(falling).kpa_day == pytest.approx(-1.4, rel=0.12)


def test_a_named_leak_adds_to_its_own_ordinary_loss() -> None:
    leak = Evidence(0, 30.0, True, 49.0, -3.0, 0.2, -0.4, 0.1)
    assert rate(leak) == Rate(-3.4, 0.2, True)
    # What a ramp upward would say is no gain of air.
    assert rate(Evidence(0, 30.0, True, 49.0, 0.5, 0.2, -0.4, 0.1)).kpa_day == -0.4
    assert rate(Evidence(0, 1.0, False, 49.0, -3.0, 0.2, -0.4, 0.1)) == Rate(-0.4, 0.1, True)


def test_the_weather_and_a_leak_together() -> None:
    last = Last(700, 7, SEA_20, 10, Rate(-5.0, 0.1, True))
    # (700 + 101.325) × 273.15 / 293.15 − 101.325 = 645.33; the leak makes it 50 × 273.15 / 293.15 = 46.59 less.
    assert today(last, Air(0, 0))[0] == pytest.approx(645.33 - 46.59, abs=0.01)


def test_nothing_changed_nothing_is_predicted() -> None:
    last = Last(620, 7, Air(12, 800), 0, Rate(-1.0, 0.5, True))
    kpa, within = today(last, Air(12, 800))
    assert kpa == pytest.approx(620)
    assert within == pytest.approx(14)
    # By the same gauge its constant error cancels; by another both count: 2 √(7² + (√(6² + 8²)/2)²).
    read = replace(last, gauge=3, gauge_kpa=6.0)
    assert today(read, Air(12, 800), 3, 6.0)[1] == pytest.approx(14)
    assert today(read, Air(12, 800), 4, 8.0)[1] == pytest.approx(2 * (49 + 25) ** 0.5)


def test_how_far_the_next_reading_scatters() -> None:
    # Two hands of ½ psi, two thermometers of 2 °C in 288 K of 721.3 kPa absolute.
    usual = noise_kpa(620, SEA_LEVEL_KPA)
    assert usual == pytest.approx((2 * ((0.5 * 6.894757) ** 2 + (2 / 288 * 721.325) ** 2)) ** 0.5)
    assert noise_all(np.array([620.0]), np.array([SEA_LEVEL_KPA]))[0] == pytest.approx(usual)
    steady = Told((), (), True, 1.0, 0.001)
    assert noise_kpa(620, SEA_LEVEL_KPA, steady) == pytest.approx((2 * (1 + 0.721325**2)) ** 0.5)


def test_the_record_counts_what_lay_inside() -> None:
    told = Predicted(np.array([600.0, 600, 600, 600]), np.array([10.0, 10, 10, 10]))
    # 10 above is inside, 14 below is not.
    found = record(told, np.array([610.0, 586, 600, 597]))
    assert (found.measured, found.inside) == (4, 0.75)
    assert found.typical_kpa == pytest.approx(6.5)
    assert found.lean_kpa == pytest.approx(-1.5)


@pytest.mark.parametrize(
    ("floor", "limit", "what"),
    [(None, 630, "a tenth below its target"), (600, 630, "a tenth below its target"), (650, 650, "its floor")],
)
def test_where_a_tire_must_have_been_read_again(floor: float | None, limit: float, what: str) -> None:
    assert check_again_at(700, floor) == (pytest.approx(limit), what)


@pytest.mark.parametrize(
    ("pressure", "within", "floor", "word", "sure"),
    [
        # Air is due below 700 − 2 % = 686.
        (685, 20, None, "add", False),
        (660, 20, None, "add", True),
        (690, 20, None, "cannot_tell", False),
        (697, 20, None, "hold", True),
        # A floor above that line is the line.
        (697, 20, 695, "cannot_tell", False),
        (694, 20, 695, "add", False),
        # An estimate sends nobody to let air out and names no stop.
        (900, 20, None, "hold", True),
        (300, 20, 650, "add", True),
    ],
)
def test_what_a_prediction_lets_expect(
    pressure: float, within: float, floor: float | None, word: str, sure: bool
) -> None:
    found = foretell(pressure, within, 700, floor)
    assert (found.word, found.sure) == (word, sure)


def test_how_much_a_low_tire_likely_wants() -> None:
    assert foretell(660.4, 20, 700, None).words.show("metric") == "Likely wants 40 kPa"
    assert foretell(660.4, 20, None, None).word == "cannot_tell"


def test_a_prediction_across_the_mountains_is_the_gas_law() -> None:
    up, down = Air(-5, 3000), Air(30, 0)
    last = Last(500, 7, up, 0, Rate(0.0, 0.0, False))
    assert today(last, down)[0] == pytest.approx(carry(500, up, down))
