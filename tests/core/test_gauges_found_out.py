"""Gauges found out by their rounds: the bad one named, no good one, and nothing said where nothing can be known."""

import numpy as np
import pytest

from ballast.core.gauges import UNKNOWN, FoundOut, GaugeChange, found_out

STATED = 3.0


def months(errors: list[float], changes: int, noise: float, seed: int, rigs: int = 12) -> dict[int, FoundOut]:
    """What is said of gauges with these true errors after so many changes between them, drawn by a seed."""
    draw = np.random.default_rng(seed)
    pairs = [draw.choice(len(errors), 2, replace=False) for _ in range(changes)]
    made = [
        GaugeChange(int(a), int(b), int(draw.integers(rigs)), errors[b] - errors[a] + float(draw.normal(0, noise)))
        for a, b in pairs
    ]
    return found_out(made, dict.fromkeys(range(len(errors)), STATED))


def test_by_hand_three_gauges_without_noise() -> None:
    # 0 and 1 agree; 2 reads 12 above both. Ten changes of each kind on five rigs.
    pairs = {(0, 1): 0.0, (1, 2): 12.0, (2, 0): -12.0}
    made = [GaugeChange(a, b, n % 5, d + (0.5 if n % 2 else -0.5)) for (a, b), d in pairs.items() for n in range(10)]
    said = found_out(made, {0: 3.0, 1: 3.0, 2: 3.0})
    assert said[2].error_kpa == pytest.approx(12.0)
    assert [said[g].named for g in (0, 1, 2)] == [False, False, True]
    # Noise of half a kilopascal: 30 · 0.25 / 28 is its variance; of a difference 2/3 of a tenth of it twice over.
    assert said[2].within_kpa == pytest.approx(1.96 * (30 * 0.25 / 28 * 2 / 30) ** 0.5, rel=1e-6)


def test_nothing_is_said_of_too_few() -> None:
    few = [GaugeChange(n % 3, (n + 1) % 3, n % 5, 0.0) for n in range(29)]
    assert set(found_out(few, {0: 1, 1: 1, 2: 1}).values()) == {UNKNOWN}
    # Two gauges: which of them errs nobody can say.
    two = [GaugeChange(n % 2, 1 - n % 2, n % 5, 9.0 * (-1) ** n) for n in range(60)]
    assert set(found_out(two, {0: 1, 1: 1}).values()) == {UNKNOWN}
    # On two rigs only; and with five changes of its own.
    narrow = [GaugeChange(n % 3, (n + 1) % 3, n % 2, 0.1 * (n % 7)) for n in range(60)]
    assert set(found_out(narrow, {0: 1, 1: 1, 2: 1}).values()) == {UNKNOWN}
    rare = [GaugeChange(n % 3, (n + 1) % 3, n % 5, 0.1 * (n % 7)) for n in range(60)]
    rare += [GaugeChange(0, 3, n, 20.0) for n in range(5)]
    assert found_out(rare, dict.fromkeys(range(4), 1.0))[3] is UNKNOWN
    assert found_out([], {}) == {}


def test_a_gauge_whose_own_error_is_not_stated_is_not_judged() -> None:
    made = [GaugeChange(n % 3, (n + 1) % 3, n % 5, 0.1 * (n % 7)) for n in range(60)]
    said = found_out(made, {0: 1.0, 1: 1.0})
    assert said[2] is UNKNOWN


@pytest.mark.parametrize("bad", [-14.0, 14.0])
def test_a_bad_one_is_found_among_good_ones(bad: float) -> None:
    found = [months([0.5, -0.4, 0.8, bad, -1.0], 90, 2.5, seed) for seed in range(40)]
    assert sum(said[3].named for said in found) >= 39
    assert not any(said[g].named for said in found for g in (0, 1, 2, 4))


def test_at_most_one_in_a_thousand_good_gauges_is_named() -> None:
    # 20,000 months of gauges that err as far as is stated of them: 3 kPa at 95 %.
    draw = np.random.default_rng(16)
    wrong = judged = 0
    while judged < 20_000:
        errors = draw.normal(0, STATED / 1.96, 5).tolist()
        said = months(errors, int(draw.integers(30, 120)), float(draw.uniform(1, 4)), int(draw.integers(2**32)))
        known = [of for of in said.values() if of.error_kpa is not None]
        judged += len(known)
        wrong += sum(of.named for of in known)
    assert wrong <= 20
