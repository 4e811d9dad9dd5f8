"""Exercises: for a hundred seeds of each the right act wins, each named mistake loses, and nothing done is open."""

import random

import pytest

from ballast.core import practice
from ballast.core.practice import EXERCISES, OPEN, Left, judge

SEEDS = range(100)


@pytest.mark.parametrize("key", EXERCISES)
def test_the_right_act_wins_and_each_mistake_loses(key: str) -> None:
    of = EXERCISES[key]
    missed = dict.fromkeys(of.mistakes, 0)
    for seed in SEEDS:
        drawn = of.draw(random.Random(seed))
        won = judge(of, drawn, of.right(drawn))
        assert (won.outcome, won.reason_right, won.earned) == ("", True, 1.0), (seed, won)
        for mistake, act in of.wrong.items():
            left = act(drawn)
            if left == Left():
                # Of this situation the mistake cannot be made.
                continue
            lost = judge(of, drawn, left)
            assert lost.outcome == mistake, (seed, mistake, lost)
            assert (lost.earned, lost.comes_to) == (0.0, of.mistakes[mistake].comes_to)
            missed[mistake] += 1
        assert judge(of, drawn, Left()).outcome == OPEN
    # Each can be made in a good part of the situations.
    assert all(n >= 20 for n in missed.values()), missed


@pytest.mark.parametrize("key", EXERCISES)
def test_the_same_seed_draws_the_same_and_others_differ(key: str) -> None:
    of = EXERCISES[key]
    drawn = [of.draw(random.Random(seed)) for seed in SEEDS]
    assert drawn == [of.draw(random.Random(seed)) for seed in SEEDS]
    assert len({tuple(f.show("us") for f in d.facts) for d in drawn}) > 10


def test_each_says_what_is_asked_why_and_what_each_mistake_comes_to() -> None:
    assert len(EXERCISES) >= 18
    for of in EXERCISES.values():
        assert set(of.wrong) == set(of.mistakes), of.key
        assert of.because in of.reasons
        assert len(of.reasons) >= 3
        assert 1 <= len(of.hints) <= 3
        drawn = of.draw(random.Random(1))
        assert drawn.facts
        assert drawn.working


def test_hints_and_a_wrong_reason_cost() -> None:
    of = EXERCISES["sidewall"]
    drawn = of.draw(random.Random(3))
    right = of.right(drawn)
    assert judge(of, drawn, right, hints=2).earned == pytest.approx(0.6)
    half = judge(of, drawn, Left(right.left_kpa, reason="feel"))
    assert (half.right, half.reason_right, half.earned) == (True, False, 0.5)
    assert practice.judge(of, drawn, right, hints=9).earned == 0.0


def test_a_number_worked_out_by_hand() -> None:
    """The row of duals carries less: 5,000 kg on four tires that carry 1,550 at 655 kPa need 535.7 with 8 %, 78 psi."""
    from ballast.core.practice.scene import Made

    tire = Made("235/85R16C 126/123Q", 1700, 1550, 655)
    assert tire.bare(1250 * 1.08, dual=True) == pytest.approx(655 * (1350 / 1550) ** (1 / 0.7))
    assert tire.needs(1250, dual=True) == pytest.approx(78 * 6.894757, abs=0.01)
