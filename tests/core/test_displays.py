"""What a display's number is worth beside a round: worked out by hand, and never surer than either lets it be."""

import datetime as dt
import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core.gas import Air
from ballast.core.lookback import Rate
from ballast.core.sensors import (
    Glimpse,
    Sample,
    Served,
    Trend,
    beside,
    glimpse,
    loss,
    offset,
    pairs,
    trend,
)

AT = dt.datetime(2026, 11, 28, 6, tzinfo=dt.UTC)
DAWN = Air(5, 300)
kpas = st.floats(150, 900)
withins = st.floats(1, 30)


def seen(kpa: float, at: dt.datetime = AT, **more: float) -> Sample:
    return Sample("1L", at, kpa, DAWN, **({"stood_h": 10.0} | more))  # type: ignore[arg-type]


def test_a_cold_number_comes_to_what_its_air_makes_of_it() -> None:
    """450 kPa at 5 °C and 300 m is 547.8 absolute, at 20 °C 577.3: 479.6 over the air."""
    found = glimpse(seen(450), True, Air(20, 300), AT + dt.timedelta(hours=2))
    assert found is not None
    assert found.kpa == pytest.approx((450 + 97.77) * 293.15 / 278.15 - 97.77, abs=0.05)
    # 7 of its own, and 3 °C of 278.15 on 547.8: 5.9.
    assert found.within_kpa == pytest.approx(math.hypot(7, 5.91), abs=0.02)


def test_what_is_old_or_only_shown_again_is_nothing_and_what_rolled_is_less_sure() -> None:
    here, now = Air(5, 300), AT + dt.timedelta(hours=1)
    assert glimpse(seen(450), True, here, AT + dt.timedelta(days=1, minutes=1)) is None
    assert glimpse(Sample("1L", AT, 450, DAWN, stood_h=10, fresh=False), True, here, now) is None
    rolled = glimpse(Sample("1L", AT, 450, DAWN, rolled_min=40), True, here, now)
    stood = glimpse(seen(450), True, here, now)
    assert rolled is not None
    assert stood is not None
    # Taken as 15 °C over the air, it is lower as if cold.
    assert rolled.kpa < stood.kpa - 25
    assert rolled.within_kpa > 1.9 * stood.within_kpa


def test_an_offset_is_of_like_pairs_alone() -> None:
    rounds = [Served(AT + dt.timedelta(days=d), DAWN, 400, 420 if d == 20 else None) for d in (0, 10, 20)]
    hour = dt.timedelta(hours=1)
    samples = [
        seen(404, AT + hour), seen(403, AT + dt.timedelta(days=10) - hour),
        # After air was put in: beside what was left.
        seen(425, AT + dt.timedelta(days=20) + hour),
        # A day from any round, and one that rolled: no like pairs.
        seen(470, AT + dt.timedelta(days=5)), Sample("1L", AT + hour, 460, DAWN, rolled_min=40),
    ]  # fmt: skip
    found = pairs(samples, rounds, True)
    assert [(round(a), round(b)) for a, b in found] == [(404, 400), (403, 400), (425, 420)]
    off = offset(found)
    assert off is not None
    assert (off.kpa, off.pairs) == (pytest.approx(4, abs=0.05), 3)
    corrected = glimpse(seen(404), True, DAWN, AT, off)
    assert corrected is not None
    assert corrected.kpa == pytest.approx(400, abs=0.05)
    assert offset(found[:2]) is None


@given(kpas, withins, kpas, withins)
def test_two_that_agree_are_surer_than_each_and_two_that_do_not_are_wider_than_both(
    kpa: float, within: float, of_display: float, of_its: float
) -> None:
    found, width = beside(kpa, within, Glimpse(of_display, of_its, AT, of_its))
    low, high = sorted((kpa, of_display))
    if high - low <= math.hypot(within, of_its):
        assert width <= min(within, of_its) + 1e-6
        assert low - 1e-5 <= found <= high + 1e-5
    else:
        # Neither is thrown away: both lie inside, with all that each may be off.
        assert found - width <= min(kpa - within, of_display - of_its) + 1e-6
        assert found + width >= max(kpa + within, of_display + of_its) - 1e-6


def numbers(*of: tuple[float, float], apart: float = 6.0) -> list[Glimpse]:
    return [Glimpse(kpa, 8.0, AT + dt.timedelta(days=day), apart) for day, kpa in of]


def test_a_trend_is_the_slope_with_a_start_of_its_own_and_no_surer_than_its_numbers() -> None:
    # By hand: days 0, 2, 10 about 4; Σx² = 56, Σxy = −4 × 400 − 2 × 398 + 6 × 388 = −68. One alone 6/(2√2) = 2.12.
    found = trend(numbers((0, 400), (2, 398), (10, 388)))
    assert found is not None
    assert (found.kpa_day, found.count) == (pytest.approx(-68 / 56), 3)
    assert found.error_kpa_day == pytest.approx(2.1213 / math.sqrt(56), rel=1e-3)
    # What the sensor is off by as ever moves nothing; numbers that scatter wider than they should make it less sure.
    off = trend(numbers((0, 420), (2, 418), (10, 408)))
    assert off is not None
    assert (off.kpa_day, off.error_kpa_day) == (pytest.approx(found.kpa_day), pytest.approx(found.error_kpa_day))
    wild = trend(numbers((0, 400), (2, 380), (4, 410), (10, 388)))
    assert wild is not None
    assert wild.error_kpa_day > 4 * found.error_kpa_day
    assert trend(numbers((0, 400), (2, 398))) is None
    assert trend(numbers((1, 400), (1, 398), (1, 399))) is None


@pytest.mark.parametrize(
    ("display", "says"),
    [(-0.15, "12 numbers off its display since agree"), (-0.9, "more than its rounds say. Read it"), (0.6, "less than its rounds say")],
)  # fmt: skip
def test_a_trend_that_contradicts_the_rounds_is_said_and_never_mixed_in(display: float, says: str) -> None:
    rounds, by = Rate(-0.1, 0.05, True), Trend(display, 0.12, 12)
    found = loss(rounds, by)
    assert found.words is not None
    assert says in found.words.text
    mixed = None if found.apart else found.rate
    if "agree" in says:
        # 1/0.05² = 400, 1/0.12² = 69.4.
        assert mixed is not None
        assert mixed.kpa_day == pytest.approx((-0.1 * 400 - 0.15 * 69.44) / 469.44, rel=1e-3)
        assert mixed.error_kpa_day == pytest.approx(1 / math.sqrt(469.44), rel=1e-3)
    else:
        assert mixed is None
        assert (found.rate, found.apart) == (rounds, Rate(display, 0.12, True))
        # 12 kPa to go: by rounds 0.2 a day at most, by the display 1.14; no day, but the earliest by either.
        soonest = 12 / 1.14 if display < 0 else 12 / 0.2
        assert found.days_until(300, 288) == (None, pytest.approx(soonest))
        assert loss(replace(rounds, measured=False), by).days_until(300, 288)[0] is None
    assert loss(rounds, None).days_until(300, 288) == (pytest.approx(120), pytest.approx(60))
