"""The way down and the way back up: minutes to let out, learned from the first tire, and minutes to fill again."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ballast.core.gauges import Inflator, Job, ToFill, job
from ballast.core.refusal import Refusal
from ballast.core.units import both
from ballast.core.working import Phrase, join, number, plain, say

# Above so many times the air's own pressure a valve passes as much as it can, and absolute pressure falls like e^(−kt).
CHOKED = 1.9
# The shortest time that teaches anything [min].
LEAST_MIN = 0.05


@dataclass(frozen=True)
class Down:
    """Minutes to let a tire out; `at_least`: near its end it goes slower than that."""

    minutes: float
    at_least: bool


def let_down(from_kpa: float, to_kpa: float, k_per_min: float, outside_kpa: float) -> Down:
    """(p + p_atm)(t) = (p0 + p_atm) e^(−kt) while it is above 1.9 p_atm, slower below.

    >>> round(let_down(260, 130, 0.31, 101.325).minutes, 3)
    1.439
    """
    if to_kpa >= from_kpa:
        return Down(0.0, False)
    end = to_kpa + outside_kpa
    minutes = math.log((from_kpa + outside_kpa) / end) / k_per_min
    return Down(minutes, end < CHOKED * outside_kpa)


def learned_k(from_kpa: float, to_kpa: float, minutes: float, outside_kpa: float) -> float:
    """How fast a valve passes air [1/min], from a tire that was timed. Raises Refusal where nothing can be learned from it."""
    if to_kpa >= from_kpa:
        raise Refusal(
            f"It went from {both('pressure', from_kpa)} to {both('pressure', to_kpa)}: nothing was let out to time.",
            "minutes",
        )
    if minutes < LEAST_MIN:
        raise Refusal("That is shorter than anybody lets air out. Enter minutes, or leave it away.", "minutes")
    return math.log((from_kpa + outside_kpa) / (to_kpa + outside_kpa)) / minutes


def scaled_k(k_per_min: float, volume_l: float | None, other_l: float | None) -> float:
    """The same valve on another tire: as much slower as there is more air in it."""
    return k_per_min * volume_l / other_l if volume_l and other_l else k_per_min


@dataclass(frozen=True)
class Timed:
    """What is let out of a wheel [kPa], and how much air it holds [L]."""

    from_kpa: float
    to_kpa: float
    volume_l: float | None = None


def all_down(
    wheels: Sequence[Timed], k_per_min: float, of_l: float | None, outside_kpa: float, at_once: int = 1
) -> Down:
    """Minutes for all wheels, `at_once` at a time, by what was learned on a tire of `of_l`."""
    downs = [let_down(w.from_kpa, w.to_kpa, scaled_k(k_per_min, of_l, w.volume_l), outside_kpa) for w in wheels]
    longest = sorted((d.minutes for d in downs), reverse=True)
    return Down(sum(longest[:: max(1, at_once)]), any(d.at_least for d in downs))


@dataclass(frozen=True)
class Back:
    """The way back up with one inflator: whether it reaches, minutes with rests, and where it stalls or why not."""

    inflator: str
    able: bool
    minutes: float | None
    words: Phrase
    job: Job


NO_WAY_BACK = "No way back aboard"


def way_back(label: str, inflator: Inflator, tires: tuple[ToFill, ...], outside_kpa: float) -> Back:
    """All wheels back to their road targets, the highest of them and 5 % more within reach."""
    work = job(inflator, tires, outside_kpa)
    able = all(f.able for f in work.fills)
    return Back(label, able, work.whole_min if able else None, join(say(plain(label) + ":"), work.words), work)


def best_back(ways: Sequence[Back]) -> Back | None:
    """The quickest way back that reaches; one whose time is not known after those whose is. None: none reaches."""
    able = [w for w in ways if w.able]
    return min(able, key=lambda w: math.inf if w.minutes is None else w.minutes, default=None)


def back_words(ways: Sequence[Back]) -> Phrase:
    """What is promised of the way back, or that there is none."""
    best = best_back(ways)
    if best is not None and best.minutes is not None:
        return say(
            f"Back to road pressure with {plain(best.inflator)}: about {{0}} min.", number(math.ceil(best.minutes))
        )
    if best is not None:
        return say(f"Back to road pressure with {plain(best.inflator)}; how long it takes is not known.")
    if not ways:
        return say(f"{NO_WAY_BACK}: no inflator is in its kit.")
    return join(say(f"{NO_WAY_BACK}."), *(w.words for w in ways))
