"""The round: what one corrected reading means at a wheel, in a word."""

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


@dataclass(frozen=True)
class WheelGoal:
    """What a wheel is held against [kPa]: its target here and now, floor and ceiling.

    `may_have_rolled` is False for a spare, or where somebody said that it has not rolled like this.
    `heavy_or_dual` tires are for a tire service once they rolled low. From `hold_from_kpa` up nothing is added.
    """

    target_kpa: float | None
    floor_kpa: float | None
    ceiling_kpa: float | None
    may_have_rolled: bool
    heavy_or_dual: bool
    hold_from_kpa: float | None = None


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
STOP_SERVICE = "Heavy or dual: the tire comes off, deflated first, and a licensed tire service inspects it."


def _needs_air(pressure: float, goal: WheelGoal, target: float) -> bool:
    if goal.floor_kpa is not None and pressure < goal.floor_kpa:
        return True
    if goal.hold_from_kpa is not None:
        return pressure < goal.hold_from_kpa
    return pressure < target - max(ADD_SHARE * target, ADD_KPA)


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
        notes.append(say(STOP_CAUTION))
        if goal.heavy_or_dual:
            notes.append(say(STOP_SERVICE))
        return result("stop", say("Stop: inspect"))
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


def apart(first_kpa: float, second_kpa: float) -> bool:
    """Whether two mates (a dual pair, the ends of an axle) differ by 5 psi or 7 %, whichever is less."""
    return abs(first_kpa - second_kpa) >= min(MATES_KPA, MATES_SHARE * max(first_kpa, second_kpa))


def mates(cold_kpa: dict[str, float]) -> tuple[tuple[str, str], ...]:
    """Pairs of wheel codes that disagree: within a dual pair, and left against right on a single axle."""
    found: list[tuple[str, str]] = []
    for code in sorted(cold_kpa):
        if code.endswith("o") and (mate := code[:-1] + "i") in cold_kpa and apart(cold_kpa[code], cold_kpa[mate]):
            found.append((code, mate))
        if code.endswith("L") and (mate := code[:-1] + "R") in cold_kpa and apart(cold_kpa[code], cold_kpa[mate]):
            found.append((code, mate))
    return tuple(found)
