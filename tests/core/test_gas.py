import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core.air import thumb_rule
from ballast.core.gas import REFERENCE, Air, atmosphere, carry, station
from ballast.core.refusal import Refusal
from ballast.core.units import PSI_KPA

temperatures = st.floats(-60, 60)
elevations = st.floats(-500, 9000)
airs = st.builds(Air, temperatures, elevations)


def test_published_atmosphere() -> None:
    # ICAO standard atmosphere, tabulated: 1,000 m 89.876 kPa, 5,000 m 54.020 kPa, 9,000 m 30.742 kPa.
    assert atmosphere(1000) == pytest.approx(89.876, abs=0.02)
    assert atmosphere(5000) == pytest.approx(54.020, abs=0.02)
    assert atmosphere(9000) == pytest.approx(30.742, abs=0.02)


@pytest.mark.parametrize("elevation", [-501, 9001, 1e6])
def test_elevations_beyond_the_formula_are_refused(elevation: float) -> None:
    with pytest.raises(Refusal, match="outside") as no:
        atmosphere(elevation)
    assert no.value.field == "elevation_m"


def test_a_station_pressure_must_fit_the_elevation() -> None:
    # At 1,310 m the standard is 86.546 kPa; 101 kPa is what a forecast reduced to sea level says.
    assert station(85.0, 1310) == 85.0
    with pytest.raises(Refusal, match="reduced to sea level"):
        station(101.0, 1310)
    assert Air(10, 1310, 85.0).absolute_kpa == 85.0
    assert Air(10, 1310).absolute_kpa == pytest.approx(86.546, abs=0.01)


def test_temperature_alone_by_hand() -> None:
    # (620 + 101.325) × 263.15 / 293.15 − 101.325 = 721.325 × 0.897663 − 101.325 = 546.182
    assert carry(620, Air(20, 0), Air(-10, 0)) == pytest.approx(546.18, abs=0.01)


def test_altitude_alone_adds_what_the_atmosphere_loses() -> None:
    gain = carry(620, Air(20, 0), Air(20, 2650)) - 620
    assert gain == pytest.approx(101.325 - 73.286, abs=0.01)


def test_a_flat_tire_does_not_read_below_nothing() -> None:
    assert carry(2, Air(20, 0), Air(-20, 0)) == 0


@pytest.mark.parametrize("hot", [151, -61, 1000])
def test_tire_temperatures_beyond_the_law_are_refused(hot: float) -> None:
    with pytest.raises(Refusal, match="outside"):
        carry(600, Air(20, 0), Air(hot, 0))


@pytest.mark.parametrize(("psi", "per_ten_f"), [(35, 1), (85, 2)])
def test_both_thumb_rules_are_the_same_law(psi: float, per_ten_f: float) -> None:
    cold = carry(psi * PSI_KPA, Air(20, 0), Air(20 - 50 / 9, 0))
    assert psi - cold / PSI_KPA == pytest.approx(per_ten_f, abs=0.15)
    line = thumb_rule(psi * PSI_KPA, 50 / 9)
    assert line.result is not None
    assert line.result.value == pytest.approx(per_ten_f * PSI_KPA)  # type: ignore[union-attr]


@given(st.floats(100, 1000), airs, airs)
def test_there_and_back_returns_the_start(pressure: float, here: Air, there: Air) -> None:
    away = carry(pressure, here, there)
    if away > 0:
        assert carry(away, there, here) == pytest.approx(pressure, abs=1e-6)


@given(st.floats(50, 1000), airs, temperatures, temperatures)
def test_colder_is_never_more(pressure: float, here: Air, one: float, other: float) -> None:
    low, high = sorted((one, other))
    assert carry(pressure, here, Air(low, 500)) <= carry(pressure, here, Air(high, 500)) + 1e-9


@given(st.floats(50, 1000), airs)
def test_the_same_air_changes_nothing(pressure: float, here: Air) -> None:
    assert carry(pressure, here, here) == pytest.approx(pressure)
    assert Air(20, 0) == REFERENCE
