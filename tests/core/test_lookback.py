import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core.gas import Air, carry
from ballast.core.lookback import leak_rate, normalized
from ballast.core.refusal import Refusal


def test_months_compare_at_twenty_degrees_and_sea_level() -> None:
    # The same air, read in a warm and in a cold week and on a pass.
    summer = normalized(620, Air(20, 0))
    winter = normalized(carry(620, Air(20, 0), Air(-8, 410)), Air(-8, 410))
    high = normalized(carry(620, Air(20, 0), Air(2, 2650)), Air(2, 2650))
    assert summer == 620
    assert winter == pytest.approx(620)
    assert high == pytest.approx(620)


def test_a_leak_by_hand() -> None:
    # Two stretches falling 0.2 and 0.4 a day, equally long: 0.3 together.
    found = leak_rate((((0, 600.0), (5, 599.0), (10, 598.0)), ((11, 620.0), (16, 618.0), (21, 616.0))))
    assert found.kpa_per_day == pytest.approx(-0.3)
    assert found.standard_error > 0


def test_too_few_readings_are_refused() -> None:
    with pytest.raises(Refusal, match="Too few"):
        leak_rate((((0, 600.0), (7, 598.0)),))
    with pytest.raises(Refusal, match="Too few"):
        leak_rate((((3, 600.0), (3, 598.0), (3, 599.0)),))


@given(st.floats(-2, 0.5), st.lists(st.floats(300, 800), min_size=1, max_size=4))
def test_an_exact_slope_is_found_whatever_the_starts(slope: float, starts: list[float]) -> None:
    segments = tuple(tuple((d, start + slope * d) for d in (0.0, 7.0, 14.0, 21.0)) for start in starts)
    found = leak_rate(segments)
    assert found.kpa_per_day == pytest.approx(slope, abs=1e-6)
    assert found.standard_error == pytest.approx(0, abs=1e-6)
