"""What one corrected reading means at a wheel, in a word."""

import math
from dataclasses import dataclass
from typing import Literal

from ballast.core.air import Standing, cold_equivalent
from ballast.core.gas import Air
from ballast.core.gauges import Corrected
from ballast.core.units import PSI_KPA
from ballast.core.working import Line, Phrase, celsius, kpa, say

Word = Literal["stop", "add", "let_out", "hold", "cannot_tell", "not_checked"]

STOP_SHARE = 0.80
LOW_SHARE = 0.90
ADD_SHARE, ADD_KPA = 0.02, PSI_KPA
OUT_SHARE, OUT_KPA = 0.05, 2 * PSI_KPA
MATES_SHARE, MATES_KPA = 0.07, 5 * PSI_KPA
# A light tire that may have rolled low and got its air is looked at again within a day.
RECHECK_DAYS = 1


@dataclass(frozen=True)
class WheelGoal:
    """What a wheel is held against [kPa]: its target here and now, floor and ceiling.

    `may_have_rolled` is False for a spare, or where somebody said that it has not rolled like this.
    `heavy_or_dual` tires are for a tire service once they rolled low. From `hold_from_kpa` up nothing is added.
    `weather_kpa`: what its last service would read in today's air, usual loss taken off; a drop down to there is weather.
    """

    target_kpa: float | None
    floor_kpa: float | None
    ceiling_kpa: float | None
    may_have_rolled: bool
    heavy_or_dual: bool
    hold_from_kpa: float | None = None
    weather_kpa: float | None = None


@dataclass(frozen=True)
class Answer:
    """One word with its reasons. `change_kpa` is what to add (positive) or let out (negative)."""

    word: Word
    words: Phrase
    cold_kpa: float | None
    uncertainty_kpa: float | None
    estimate: bool
    change_kpa: float | None = None
    notes: tuple[Phrase, ...] = ()
    working: tuple[Line, ...] = ()


STOP_CAUTION = (
    "It may have rolled far below its target: treat it as run flat. Look at tread and sidewalls before any air."
)
STOP_SERVICE = (
    "Heavy or dual: deflate it fully before the wheel comes off, and have a licensed tire service inspect it. "
    "It is locked until that is recorded."
)
STOP_LIGHT = "Then air, and look at it again within a day."


def add_below(target_kpa: float) -> float:
    """Below this [kPa] a tire gets air: 2 % or 1 psi under its target, whichever is more."""
    return target_kpa - max(ADD_SHARE * target_kpa, ADD_KPA)


def _needs_air(pressure: float, goal: WheelGoal, target: float) -> bool:
    if goal.floor_kpa is not None and pressure < goal.floor_kpa:
        return True
    if goal.hold_from_kpa is not None:
        return pressure < goal.hold_from_kpa
    return pressure < add_below(target)


def answer(goal: WheelGoal, read: Corrected | None, stood: Standing, here: Air) -> Answer:
    """The answer for one wheel. First that holds: stop, above ceiling, below floor, low, add, let out, hold.

    Uncertainty goes to the safe side: what may be a stop is a stop; what may be add or hold cannot be told.
    A warm tire is never let out.
    """
    if read is None:
        return Answer("not_checked", say("Not checked"), None, None, False)
    cold, more = cold_equivalent(read.kpa, stood, here)
    u = read.uncertainty_kpa + more
    working = [Line(say("corrected by the gauge"), kpa(read.kpa))]
    if not stood.cold:
        working.append(Line(say("tire about {0}: as if cold, an estimate", celsius(stood.tire_c)), kpa(cold)))
    working.append(Line(say("sure within, either way"), kpa(u)))
    estimate = not stood.cold
    notes: list[Phrase] = []
    if read.outside:
        notes.append(say("Outside the pressures at which this gauge was compared."))

    def result(word: Word, words: Phrase, change: float | None = None) -> Answer:
        return Answer(word, words, cold, u, estimate, change, tuple(notes), tuple(working))

    target = goal.target_kpa
    if target is None:
        notes.append(say("No target is in force for this wheel."))
        return result("cannot_tell", say("Cannot tell"))
    working.append(Line(say("target here and now"), kpa(target, "up")))
    change = target - cold

    if cold - u <= STOP_SHARE * target and goal.may_have_rolled:
        if goal.weather_kpa is None or cold + u < goal.weather_kpa:
            notes.append(say(STOP_CAUTION))
            notes.append(say(STOP_SERVICE if goal.heavy_or_dual else STOP_LIGHT))
            return result("stop", say("Stop: inspect"), change)
        notes.append(
            say(
                "The weather explains it: its last service would read {0} today. Add, and watch it.",
                kpa(goal.weather_kpa),
            )
        )
    if goal.ceiling_kpa is not None and cold > goal.ceiling_kpa + 0.5:
        notes.append(say("Above the ceiling of {0}.", kpa(goal.ceiling_kpa, "down")))
        if estimate:
            notes.append(say("The tire is warm: let it cool, then read again before letting air out."))
            return result("cannot_tell", say("Cannot tell"))
        return result("let_out", say("Let out {0}, cold", kpa(-change)), change)
    below_floor = goal.floor_kpa is not None and cold < goal.floor_kpa
    if below_floor or _needs_air(cold + u, goal, target):
        if below_floor and goal.floor_kpa is not None:
            notes.append(say("Below the floor of {0}: it does not carry the load.", kpa(goal.floor_kpa, "up")))
        if cold <= LOW_SHARE * target:
            notes.append(say("More than a tenth low: look for the cause."))
        if estimate:
            notes.append(say("Warm: an estimate. Read it again when it is cold."))
        return result("add", say("Add {0}", kpa(change, "up")), change)
    if _needs_air(cold - u, goal, target):
        notes.append(say("Between add and hold: read again, or take a better gauge."))
        return result("cannot_tell", say("Cannot tell"))
    if cold - u > target + max(OUT_SHARE * target, OUT_KPA):
        if estimate:
            notes.append(say("Reads high, but warm. Never let air out of a warm tire: read it again cold."))
            return result("hold", say("Hold"))
        return result("let_out", say("Let out {0}, cold", kpa(-change)), change)
    return result("hold", say("Hold"))


def check_again_at(target_kpa: float, floor_kpa: float | None) -> tuple[float, str]:
    """Where a tire must have been read again [kPa], and what that is: the floor, or a tenth below its target."""
    low = LOW_SHARE * target_kpa
    if floor_kpa is not None and floor_kpa > low:
        return floor_kpa, "its floor"
    return low, "a tenth below its target"


@dataclass(frozen=True)
class Foretold:
    """A prediction in a word: an estimate, so it sends nobody to let air out and names no stop.

    `sure`: the whole range says so.
    """

    word: Word
    words: Phrase
    sure: bool


def foretell(pressure_kpa: float, within_kpa: float, target_kpa: float | None, floor_kpa: float | None) -> Foretold:
    """What a predicted pressure [kPa], give or take at 95 %, lets expect of a tire's answer."""
    if target_kpa is None:
        return Foretold("cannot_tell", say("No target in force"), False)
    line = max(add_below(target_kpa), floor_kpa or 0.0)
    if pressure_kpa < line:
        words = say("Likely wants {0}", kpa(target_kpa - pressure_kpa, "up"))
        return Foretold("add", words, pressure_kpa + within_kpa < line)
    # Half the range down: a chance of one in six.
    if pressure_kpa - within_kpa / 2 < line:
        return Foretold("cannot_tell", say("May want air: read it first"), False)
    return Foretold("hold", say("Holds"), True)


def differ(first: Corrected, second: Corrected) -> bool:
    """Whether two readings of one wheel differ by more than what is known of the gauge explains."""
    return abs(first.kpa - second.kpa) > math.hypot(first.uncertainty_kpa, second.uncertainty_kpa)


def retake(readings: tuple[Corrected, ...]) -> float | None:
    """By how much [kPa] the newest reading of a wheel differs from the one before, where no earlier one agrees with it.

    None: nothing is to be read once more.
    """
    if len(readings) < 2 or not all(differ(readings[-1], r) for r in readings[:-1]):
        return None
    return abs(readings[-1].kpa - readings[-2].kpa)


@dataclass(frozen=True)
class Stands:
    """A wheel as it stands at the end of a round: cold [kPa], by which gauge, sure within [kPa]."""

    kpa: float
    uncertainty_kpa: float = 0.0
    gauge: str = ""


@dataclass(frozen=True)
class Mates:
    """Two tires that must agree and do not. `sure` is False where two gauges met and their uncertainties may explain it."""

    first: str
    second: str
    apart_kpa: float
    sure: bool


def _apart(first: Stands, second: Stands) -> tuple[float, bool] | None:
    """How far apart [kPa], and whether surely: 5 psi or 7 %, whichever is less; by two gauges both uncertainties count."""
    limit = min(MATES_KPA, MATES_SHARE * max(first.kpa, second.kpa))
    gap = abs(first.kpa - second.kpa)
    by_two = math.hypot(first.uncertainty_kpa, second.uncertainty_kpa) if first.gauge != second.gauge else 0.0
    if gap + by_two < limit:
        return None
    if gap < limit:
        return gap, False
    return gap, gap - by_two >= limit


def mates(cold: dict[str, Stands]) -> tuple[Mates, ...]:
    """Wheels that disagree: within a dual pair, and left against right on an axle (of duals the outer ones)."""
    found: list[Mates] = []
    for code in sorted(cold):
        for end, other in (("o", "i"), ("L", "R"), ("Lo", "Ro")):
            mate = code.removesuffix(end) + other
            if code.endswith(end) and mate in cold and (gap := _apart(cold[code], cold[mate])):
                found.append(Mates(code, mate, *gap))
    return tuple(found)


def mates_words(found: Mates, first: str, second: str) -> str:
    """What is said of two wheels that disagree, by their names."""
    if found.sure:
        return f"{first} and {second.lower()} differ by 5 psi or 7 %: mates must agree."
    return f"{first} and {second.lower()} may differ by 5 psi or 7 %: two gauges met there. Read both with one."
