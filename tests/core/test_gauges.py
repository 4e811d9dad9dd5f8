import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core.gauges import (
    Gauge,
    Pair,
    condition,
    correct,
    curve,
    scatter,
    sealed_low,
    shows,
    suits,
    worth_comparing,
)
from ballast.core.refusal import Refusal
from ballast.core.units import PSI_KPA

PAIRS = (Pair(200, 203.5), Pair(400, 407), Pair(600, 612), Pair(800, 811))
GAUGE = Gauge("digital", 0, 1100, 1, PAIRS, 0.7)
readings = st.floats(0, 1100)


def test_uncertainty_by_hand() -> None:
    # Master 0.7, resolution 1/√12 = 0.2887, no repeats: 2 √(0.49 + 0.0833) = 1.514.
    assert correct(GAUGE, 500).uncertainty_kpa == pytest.approx(1.514, abs=1e-3)


def test_an_unknown_master_counts_half_a_percent_not_zero() -> None:
    found = correct(Gauge("digital", 0, 1100, 1, PAIRS), 407)
    # Half a percent of 400 is 2: 2 √(4 + 0.0833) = 4.041.
    assert found.uncertainty_kpa == pytest.approx(4.041, abs=1e-3)


def test_repeats_are_averaged_and_their_scatter_counts() -> None:
    pairs = (Pair(400, 403), Pair(400, 407), Pair(600, 608), Pair(600, 610))
    assert curve(pairs) == ((405, 5), (609, 9))
    # Variances 8 and 2 with one degree of freedom each: √(10/2) = 2.236.
    assert scatter(pairs) == pytest.approx(math.sqrt(5))
    found = correct(Gauge("dial", 0, 1100, 10, pairs, 0.5), 405)
    assert found.kpa == 400
    assert found.uncertainty_kpa == pytest.approx(2 * math.sqrt(0.25 + 100 / 12 + 5))


@pytest.mark.parametrize(
    ("kind", "psi"), [("stick", 3), ("dial", 2), ("digital", 1), ("inflator", 3), ("display", 3), ("station", 5)]
)
def test_never_compared_is_wide(kind: str, psi: float) -> None:
    found = correct(Gauge(kind, 0, 1100, 1), 600)
    assert found.kpa == 600
    assert found.uncertainty_kpa == pytest.approx(psi * PSI_KPA)


@pytest.mark.parametrize("reading", [-1, 1101])
def test_readings_beyond_the_range_are_refused(reading: float) -> None:
    with pytest.raises(Refusal, match="outside this gauge's range") as no:
        correct(GAUGE, reading)
    assert no.value.field == "pressure"


def test_pairs_that_do_not_rise_are_refused() -> None:
    with pytest.raises(Refusal, match="do not rise"):
        curve((Pair(200, 300), Pair(400, 290)))


def test_what_the_gauge_shows_at_a_target() -> None:
    # Between 600 and 800 the error goes from 12 to 11: at 700 it is 11.5.
    assert shows(GAUGE, 700) == pytest.approx(711.5)
    assert shows(GAUGE, 100) == pytest.approx(103.5)
    assert shows(Gauge("dial", 0, 1100, 1), 700) == 700


def test_a_gauge_suits_by_its_range() -> None:
    assert suits(GAUGE, 600).able
    assert suits(GAUGE, 600).notes == ()
    assert suits(GAUGE, 600).uncertainty_kpa == pytest.approx(1.514, abs=1e-3)
    # 1,095 is inside, but this gauge shows 1,106 there.
    assert not suits(GAUGE, 1095).able
    assert "last tenth" in suits(GAUGE, 1050).notes[0].text
    assert "not compared" in suits(GAUGE, 1050).notes[1].text
    assert "first tenth" in suits(GAUGE, 90).notes[0].text
    dial = Gauge("dial", 0, 1000, 10, dual_foot=False)
    assert suits(dial, 500).notes == ()
    assert "quarter" in suits(dial, 200).notes[0].text
    assert "no foot for inner duals" in suits(dial, 500, inner=True).notes[0].text
    assert not suits(dial, 500, inner=True).able


def test_a_sealed_sensor_reads_low_up_high() -> None:
    sensor = Gauge("sensor", 0, 1000, 1, sealed_kpa=101.325)
    assert sealed_low(sensor, 86.546) == pytest.approx(14.779)
    assert sealed_low(GAUGE, 86.546) == 0
    # It is put right wherever it reads, and said; where the elevation is not known it is taken as it is.
    assert correct(sensor, 600, 86.546).kpa == pytest.approx(614.779)
    assert correct(sensor, 600).kpa == 600
    assert shows(sensor, 614.779, 86.546) == pytest.approx(600)
    assert "reads {0} low at this elevation" in suits(sensor, 600, outside_kpa=86.546).notes[0].text
    assert suits(sensor, 600, outside_kpa=101.325).notes == ()


def test_what_is_said_before_a_gauge_is_believed() -> None:
    assert condition(GAUGE, 200) is None
    stale = condition(GAUGE, 400)
    assert stale is not None
    assert "13 months" in stale.text
    never = condition(Gauge("stick", 0, 1100, 1), None)
    assert never is not None
    assert never.show("us") == "Never compared with a master: sure within 3 psi, either way."
    dropped = condition(GAUGE, 10, "drop")
    assert dropped is not None
    assert "dropped" in dropped.text
    assert condition(GAUGE, 200, every_days=180) is not None


@given(readings)
def test_correcting_and_showing_undo_each_other(reading: float) -> None:
    assert shows(GAUGE, correct(GAUGE, reading).kpa) == pytest.approx(reading, abs=1e-6)


@given(readings, st.lists(st.integers(1, 1000), min_size=1, max_size=8, unique=True))
def test_an_exact_gauge_changes_nothing(reading: float, at: list[int]) -> None:
    exact = Gauge("digital", 0, 1100, 1, tuple(Pair(p, p) for p in at), 0.5)
    assert correct(exact, reading).kpa == pytest.approx(reading)


@given(readings, readings)
def test_correcting_keeps_the_order(one: float, other: float) -> None:
    low, high = sorted((one, other))
    assert correct(GAUGE, low).kpa <= correct(GAUGE, high).kpa + 1e-9


def test_what_comparing_a_gauge_would_give_is_said_once_and_only_where_it_gives_something() -> None:
    stick = Gauge("stick", 0, 345, PSI_KPA)
    said = worth_comparing(stick)
    # √(1² + 0.5²) = 1.118 psi, up: 1.2; never compared 3 psi.
    assert said is not None
    assert "sure within 1.2 psi, not 3 psi" in said.show("us")
    assert worth_comparing(replace(stick, pairs=(Pair(200, 203), Pair(300, 302)))) is None
    coarse = replace(stick, resolution_kpa=6 * PSI_KPA)
    assert worth_comparing(coarse) is None
