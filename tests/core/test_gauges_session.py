import pytest

from ballast.core.gauges import (
    Corrected,
    Gauge,
    Pair,
    beside,
    correction,
    drift,
    lag,
    learned_offset,
    remarks,
    uncovered,
)
from ballast.core.refusal import Refusal
from ballast.core.units import PSI_KPA

# Read going up and coming down: it lags by 4 at 600, by 2 at 400.
BOTH_WAYS = (
    Pair(400, 402, "up"), Pair(600, 604, "up"), Pair(800, 806, "up"), Pair(600, 608, "down"), Pair(400, 404, "down"),
)  # fmt: skip
GAUGE = Gauge("dial", 0, 1000, 2, BOTH_WAYS, 0.5)


def test_the_curve_runs_through_what_was_compared() -> None:
    found = {round(p.reading_kpa, 3): p for p in correction(GAUGE)}
    assert found[403].error_kpa == pytest.approx(3)
    assert found[606].error_kpa == pytest.approx(6)
    # Variances 2 and 8 of the pairs at 400 and 600: s² = 5; 2 √(0.25 + 4/12 + 5) = 4.726.
    assert found[606].uncertainty_kpa == pytest.approx(4.726, abs=1e-3)
    assert not found[606].outside
    assert found[0].outside
    assert found[1000].outside
    assert correction(Gauge("dial", 0, 1000, 2)) == ()


def test_up_against_down() -> None:
    assert lag(GAUGE) == pytest.approx(4)
    assert lag(Gauge("dial", 0, 1000, 2, (Pair(400, 402), Pair(600, 604)))) is None


def test_what_a_comparison_leaves_open() -> None:
    words = [r.show("metric") for r in remarks(GAUGE, claimed_kpa=4)]
    assert "It lags: 4 kPa between going up and coming down" in words[0]
    assert "Off by 6 kPa at 606 kPa, more than the 4 kPa it claims" in words[1]
    once = Gauge("dial", 0, 1000, 2, (Pair(400, 402), Pair(600, 604)))
    assert "scatter is not known" in remarks(once)[0].text


def test_a_pressure_in_use_that_was_not_compared() -> None:
    # 690 is within 15 % of 600 and of 800; 240 is near nothing; 1,100 is not this gauge's.
    found = uncovered(GAUGE, (240.0, 420.0, 690.0, 1100.0))
    assert found is not None
    assert found.show("metric") == "No comparison near 240 kPa, which is in use."
    assert uncovered(GAUGE, (420.0, 690.0, 1100.0)) is None
    assert uncovered(Gauge("dial", 0, 1000, 2), (240.0,)) is None


def test_drift_between_two_comparisons() -> None:
    older = Gauge("dial", 0, 1000, 2, (Pair(400, 402), Pair(600, 602)))
    newer = Gauge("dial", 0, 1000, 2, (Pair(400, 403), Pair(600, 607)))
    # At 607 the older said 605, the newer says 600.
    assert drift(older, newer) == pytest.approx(5)
    assert drift(Gauge("dial", 0, 1000, 2), newer) is None


def psi(value: float, sure: float = 0.5) -> Corrected:
    return Corrected(value * PSI_KPA, sure * PSI_KPA, False)


@pytest.mark.parametrize(
    ("readings", "verdict", "barred"),
    [((100, 101.9), "agree", ()), ((100, 102), "watch", ()), ((100, 103.9), "watch", ()), ((100, 104), "apart", ("A", "B"))],
)  # fmt: skip
def test_two_gauges_on_one_tire(readings: tuple[float, float], verdict: str, barred: tuple[str, ...]) -> None:
    found = beside({"A": psi(readings[0]), "B": psi(readings[1])})
    assert (found.verdict, found.barred, found.odd) == (verdict, barred, None)


def test_of_three_the_one_off_the_middle_is_named() -> None:
    found = beside({"A": psi(100), "B": psi(100.5), "C": psi(95)})
    assert (found.verdict, found.odd, found.barred) == ("apart", "C", ("C",))
    assert (
        found.words.show("us")
        == "C is the odd one, 5 psi lower than the middle: it logs nothing until compared with a master."
    )
    found = beside({"A": psi(100), "B": psi(100.5), "C": psi(97.5)})
    assert (found.verdict, found.odd, found.barred) == ("watch", "C", ())
    # Spread evenly, none is the odd one.
    found = beside({"A": psi(99), "B": psi(100.5), "C": psi(102)})
    assert (found.verdict, found.odd) == ("watch", None)


def test_one_gauge_compares_with_nothing() -> None:
    with pytest.raises(Refusal, match="two gauges at least"):
        beside({"A": psi(100)})


def test_a_display_learns_its_offset() -> None:
    # Gaps 20, 22, 24: mean 22, s = 2, t(2) = 4.30: 4.30 × 2/√3 = 4.965, and half of its step of 10: 7.046.
    found = learned_offset(((600, 620), (610, 632), (590, 614)), 10)
    assert found is not None
    assert found.offset_kpa == pytest.approx(22)
    assert found.uncertainty_kpa == pytest.approx(7.046, abs=0.01)
    assert found.words.show("metric").startswith("Shows 22 kPa too high, give or take 7 kPa")
    none = learned_offset(((600, 610), (610, 600), (590, 592)), 10)
    assert none is not None
    assert none.words.text.startswith("No offset is proven")
    assert learned_offset(((600, 620), (610, 632)), 10) is None
    # Three that agree to the digit are as sure as the display's step of 1 psi, never ± 0.
    alike = learned_offset(((600, 620), (610, 630), (590, 610)), 6.894757)
    assert alike is not None
    assert alike.uncertainty_kpa == pytest.approx(3.447, abs=0.001)
