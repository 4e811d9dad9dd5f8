"""Simulated fleets with a known truth. Larger ones, with the same seeds, run in `make bench`."""

import numpy as np
import pytest

from ballast.core.gas import Air
from ballast.core.lookback import Predicted, predict, rate, record, take_apart
from ballast.core.units import PSI_KPA
from tests.core.fleets import Rig, coverage, false_alarms, rounds_to_name


def test_a_slow_leak_is_named_in_time() -> None:
    # 0.5 psi a week at 35 psi: within five rounds in 97 %, within four in 80 %. Of 250, two or three may chance away.
    took = rounds_to_name(seed=21, rigs=250, psi=35, leak_psi_week=0.5, most=5)
    assert (took <= 5).mean() >= 0.97
    assert (took <= 4).mean() >= 0.80


def test_a_faster_leak_at_higher_pressure_is_named_in_three_rounds() -> None:
    took = rounds_to_name(seed=22, rigs=300, psi=100, leak_psi_week=1.0, most=3)
    assert (took <= 3).mean() >= 0.985


def test_no_leak_no_alarm() -> None:
    # One in 1,000 tire-rounds is wanted; in 9,000 of them more than 18 would speak against it at 99 %.
    told = false_alarms(seed=23, rigs=50, rounds=32)
    assert told.tire_rounds == 50 * 30 * 6
    assert told.raised <= 18


def test_top_ups_slow_it_but_do_not_hide_it() -> None:
    took = rounds_to_name(seed=24, rigs=60, psi=35, leak_psi_week=0.5, most=16, top_up=True)
    assert np.median(took) <= 6
    assert (took <= 16).mean() >= 0.95


def test_the_range_of_a_prediction_covers_the_truth() -> None:
    told = coverage(seed=25, rigs=150, rounds=10)
    assert told.predictions == 900
    assert 0.93 <= told.share <= 0.97


@pytest.fixture
def quiet() -> Rig:
    """A steer axle at 35 psi and duals at 80, with ten clean rounds behind it."""
    rig = Rig(np.random.default_rng(31))
    rig.true[[1, 2, 4, 5]] += 45 * PSI_KPA
    for _ in range(10):
        rig.week()
    return rig


@pytest.mark.parametrize("fault", [{"off_kpa": 28.0}, {"typed_off_c": 15.0}, {"shop_c": 18.0}, {"sunny_c": 14.0}])
def test_what_is_no_leak_is_not_named(quiet: Rig, fault: dict[str, float]) -> None:
    quiet.week(**fault)
    told = take_apart(quiet.last(16))
    assert [e.tire for e in told.tires if e.named] == []
    shared = told.rounds[-1]
    if "sunny_c" in fault:
        # 14 °C on 288 K is 4.8 % of absolute pressure.
        assert shared.sides == pytest.approx(0.048, abs=0.015)
    else:
        assert shared.odd
        assert shared.sides is None
    # The weeks after it are as quiet as those before.
    for _ in range(3):
        quiet.week()
        assert [e.tire for e in take_apart(quiet.last(16)).tires if e.named] == []


def test_a_leak_is_still_named_after_a_wrong_gauge(quiet: Rig) -> None:
    quiet.leak_psi_week, quiet.clean = 1.5, 11
    quiet.week(off_kpa=28.0)
    for _ in range(3):
        quiet.week()
    assert [e.tire for e in take_apart(quiet.last(16)).tires if e.named] == [0]


def test_two_leaks_at_once_are_both_named() -> None:
    rig = Rig(np.random.default_rng(33), wheels=10)
    for week in range(14):
        rig.week()
        if week >= 8:
            rig.true[[2, 7]] -= 0.8 * PSI_KPA
    assert [e.tire for e in take_apart(rig.last(16)).tires if e.named] == [2, 7]


def test_the_rate_and_the_beginning_of_a_leak() -> None:
    rig = Rig(np.random.default_rng(34), psi=100, leak_psi_week=1.0, hand_psi=0.1, thermometer_c=0.3)
    for _ in range(14):
        rig.week()
    told = take_apart(rig.last(16)).tires[0]
    assert told.named
    assert told.since_day in (49, 56)
    assert told.rate_kpa_day == pytest.approx(-PSI_KPA / 7, rel=0.1)
    # Its rate for prediction: the leak and the usual loss of 1.5 % a month.
    whole = rate(tuple(s for s in rig.seen if s.tire == 0), told)
    assert whole.measured
    assert whole.kpa_day == pytest.approx(-PSI_KPA / 7 - 0.015 / 30 * 92 * PSI_KPA, rel=0.1)


def test_three_wheels_stand_against_their_own_history() -> None:
    rig = Rig(np.random.default_rng(35), psi=40, wheels=2, leak_psi_week=3.0)
    for _ in range(14):
        rig.week()
    told = take_apart(rig.last(16))
    assert not told.separable
    assert [e.tire for e in told.tires if e.named] == [0]


def test_a_prediction_by_hand() -> None:
    # 620 at 18 °C and 410 m (96.496 absolute there), 10 days at −0.5, now −9 °C at the same place:
    # (620 + 96.496) × 264.15/291.15 = 650.05; less 0.5 × 10 × 264.15/293.15 = 4.505; less 96.496: 549.05.
    def one(x: float) -> np.ndarray:
        return np.array([x])

    p = Air(0, 410).absolute_kpa
    found = predict(one(620), one(18), one(p), one(-0.5), one(10), one(-9), one(p), one(4), one(0.1))
    assert found.kpa[0] == pytest.approx(549.05, abs=0.02)
    # Gauge 2 and hand 3.447, carried by 0.907; rate 0.1 × 10 × 0.901; two thermometers 2/288 of 645.5: squares
    # (3.615² + 0.901² + 2 × 4.483²), and twice the root.
    assert found.uncertainty_kpa[0] == pytest.approx(2 * (3.615**2 + 0.901**2 + 2 * 4.483**2) ** 0.5, rel=0.002)


def test_an_empty_tire_reads_nothing() -> None:
    a = np.array([20.0])
    assert predict(a, a, np.array([101.0]), np.array([-5.0]), np.array([30.0]), a, np.array([101.0]), a, a).kpa[0] == 0


def test_how_good_predictions_have_been() -> None:
    told = record(
        Predicted(np.array([600.0, 500, 400]), np.array([10.0, 10, 10])), np.array([603.0, 490, 440]), np.zeros(3)
    )
    # Allowed is √(10² + 6.89²) = 12.1: the third lies outside.
    assert told.measured == 3
    assert told.inside == pytest.approx(2 / 3)
    assert told.typical_kpa == 10
    assert record(Predicted(np.array([]), np.array([])), np.array([]), np.array([])).inside is None


def test_no_rounds_no_evidence() -> None:
    found = take_apart(())
    assert (found.tires, found.rounds, found.separable) == ((), (), False)
