"""What a tire loses, when it is at its limit, and what may be expected of it: each by hand."""

import datetime as dt

import numpy as np
import pytest

from ballast.core.gas import SEA_LEVEL_KPA, Air, carry
from ballast.core.lookback import (
    Evidence,
    Last,
    Predicted,
    Rate,
    Seen,
    by_weather,
    days_until,
    loss_words,
    normalized,
    normalized_all,
    rate,
    record,
    segments,
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


def test_air_added_starts_a_stretch_of_its_own() -> None:
    found = segments((seen(7, 590), seen(0, 600), seen(14, 580, left=600), seen(21, 590)))
    assert [[(d, round(p)) for d, p in s] for s in found] == [[(0, 600), (7, 590), (14, 580)], [(14, 600), (21, 590)]]


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
        (Rate(-0.5, 0.1, True), dt.date(2026, 3, 5), "Leaks: loses 15 kPa a month, give or take 6 kPa, since about 5 Mar 2026."),
        (Rate(-0.34, 0.3, False), None, "Too few rounds yet to say what it loses; the usual 10 kPa a month is taken."),
        # Noise that rises is no gain of air.
        (Rate(0.2, 0.3, True), None, "Loses 0 kPa a month, give or take 18 kPa: usual."),
    ],
)  # fmt: skip
def test_what_a_tire_loses_in_words(loss: Rate, since: dt.date | None, words: str) -> None:
    assert loss_words(loss, 700, since).show("metric") == words


def test_two_readings_say_nothing_of_a_tires_own_loss() -> None:
    found = rate((seen(0, 700), seen(7, 690)), None)
    # 1.5 % a month of 690, which may be anything up to twice that.
    assert found == Rate(pytest.approx(-0.345), pytest.approx(0.1725), False)


def test_steady_readings_weigh_against_the_usual_loss_by_their_errors() -> None:
    # 1 kPa a day over twelve weeks, without a scatter: 616 kPa at the end.
    found = rate(tuple(seen(7 * i, 700 - 7 * i) for i in range(13)), None)
    # Its line is as sure as hands (½ psi) and thermometers (2 °C in 288 K of 717 kPa) over √Σ(x − x̄)² = 7 √182 days: 0.0643.
    own = 1 / (np.hypot(0.5 * 6.894757, 2 / 288 * (616 + SEA_LEVEL_KPA)) / (7 * 182**0.5)) ** 2
    # The usual: 1.5 ± 0.75 % a month of 616.
    usual = 1 / 0.154**2
    assert found.measured
    assert found.kpa_day == pytest.approx((-1.0 * own - 0.308 * usual) / (own + usual), abs=0.001)
    assert found.error_kpa_day == pytest.approx((own + usual) ** -0.5, rel=0.01)


def test_a_named_leak_is_counted_from_when_it_began() -> None:
    # It held for eight weeks and loses 3 kPa a day since: the slope of all would hide it.
    readings = (*(seen(7 * i, 700) for i in range(8)), seen(56, 679), seen(63, 658))
    leak = Evidence(0, 30.0, True, 49.0, -3.0, 0.2)
    found = rate(readings, leak)
    assert found.measured
    # The usual 1.5 % a month of 658 besides.
    assert found.kpa_day == pytest.approx(-3.0 - 0.329, abs=0.001)
    assert found.error_kpa_day == pytest.approx(0.2)


def test_weather_and_the_usual_loss_alone() -> None:
    last = Last(700, 7, SEA_20, 10, Rate(-5.0, 0.1, True))
    # (700 + 101.325) × 273.15 / 293.15 − 101.325 = 645.33; 1.5 % a month for ten days, colder: 3.5 × 273.15 / 293.15 = 3.26.
    assert by_weather(last, Air(0, 0)) == pytest.approx(645.33 - 3.26, abs=0.01)
    # The leak makes it 50 × 273.15 / 293.15 = 46.59 less than the air alone.
    assert today(last, Air(0, 0))[0] == pytest.approx(645.33 - 46.59, abs=0.01)


def test_nothing_changed_nothing_is_predicted() -> None:
    last = Last(620, 7, Air(12, 800), 0, Rate(-1.0, 0.5, True))
    kpa, within = today(last, Air(12, 800))
    assert kpa == pytest.approx(620)
    # Half the gauge's 7 and the hand's ½ psi; two thermometers of 2 °C in 288 K of the absolute pressure.
    one = 3.5**2 + (0.5 * 6.894757) ** 2 + 2 * (2 / 288 * (620 + Air(12, 800).absolute_kpa)) ** 2
    assert within == pytest.approx(2 * one**0.5)


def test_the_record_counts_what_lay_inside() -> None:
    told = Predicted(np.array([600.0, 600, 600, 600]), np.array([10.0, 10, 10, 10]))
    # √(10² + 5² + (2 × 3.447)²) = 13.13: 13 above is inside, 14 below is not.
    found = record(told, np.array([613.0, 586, 600, 597]), np.array([5.0, 5, 5, 5]))
    assert (found.measured, found.inside) == (4, 0.75)
    assert found.typical_kpa == pytest.approx(8)
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
