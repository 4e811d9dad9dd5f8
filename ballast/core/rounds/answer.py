"""What one corrected reading means at a wheel, in a word."""

import math
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from ballast.core.air import Standing, cold_equivalent, estimate_kpa, fill_to
from ballast.core.gas import Air
from ballast.core.gauges import Corrected
from ballast.core.targets import FloorFrom, too_low
from ballast.core.units import PSI_KPA
from ballast.core.working import Line, Phrase, celsius, kpa, needed, plain, say

Word = Literal["stop", "add", "let_out", "hold", "cannot_tell", "not_checked"]


@dataclass(frozen=True)
class Use:
    """How a word is used: in a round's summary, in what there is to say of a rig (`{0}` tires, how urgent), and whether the
    tire wants to be read again after it was done."""

    summary: str
    matter: str = ""
    urgency: Literal["attention", "todo", "quiet"] = "quiet"
    asks_for_air: bool = False


# Everything that is said by a word, the most urgent first.
WORDS: dict[Word, Use] = {
    "stop": Use("stop and inspect", "Stop: inspect {0}", "attention", asks_for_air=True),
    "add": Use("add air", "Add air to {0}", "attention", asks_for_air=True),
    "let_out": Use("let out", "Let air out of {0}, cold", "todo", asks_for_air=True),
    "cannot_tell": Use("cannot tell", "Read {0} again", "todo"),
    "not_checked": Use("not checked", "{0} not checked", "todo"),
    "hold": Use("hold"),
}

STOP_SHARE = 0.80
LOW_SHARE = 0.90
ADD_SHARE, ADD_KPA = 0.02, PSI_KPA
OUT_SHARE, OUT_KPA = 0.05, 2 * PSI_KPA
# What people type is round, and so are their targets: a reading stands just on a line. What is lost in the arithmetic [kPa]
# does not decide on which side of it.
EXACT_KPA = 1e-6
# A reading is above the ceiling by more than half a kilopascal: gauges do not show less.
CEILING_SLACK_KPA = 0.5 + EXACT_KPA
# A light tire that may have rolled low and got its air is looked at again within a day.
RECHECK_DAYS = 1


@dataclass(frozen=True)
class WheelGoal:
    """What a wheel is held against [kPa]: its target here and now, floor and ceiling.

    `may_have_rolled` is False for a spare, or where somebody said that it has not rolled like this.
    `heavy_or_dual` tires are for a tire service once they rolled low. From `hold_from_kpa` up nothing is added; up to
    `out_to_kpa` nothing is let out, the cold ahead brings it back. `stop_kpa`: at or below it a tire that rolled is stopped
    (`stop_without_target`, or `stop_at` the target's own number; not given, the target's here). `sure_kpa`: how sure the gauge is at the target, at 95 %. Without a target `missing`
    says what would give one. `range_kpa`: the other end of its range here, above or below its target. `dawn_kpa`: below it a dawn
    before the next check takes it under its floor (`TargetHere`).
    """

    target_kpa: float | None
    floor_kpa: float | None
    ceiling_kpa: float | None
    may_have_rolled: bool
    heavy_or_dual: bool
    hold_from_kpa: float | None = None
    out_to_kpa: float | None = None
    stop_kpa: float | None = None
    sure_kpa: float = 0.0
    floor_from: FloorFrom = "load"
    missing: Phrase | None = None
    range_kpa: float | None = None
    dawn_kpa: float | None = None

    @property
    def stops_at_kpa(self) -> float | None:
        if self.stop_kpa is not None or self.target_kpa is None:
            return self.stop_kpa
        return stop_at(self.target_kpa)


@dataclass(frozen=True)
class Answer:
    """One word with its reasons. `change_kpa` is what to add (positive) or let out (negative), in the tire as it stands.

    `fill_kpa`: the true pressure to bring it to, at the tire's own temperature. `locked`: no air before an inspection, or a
    reading that says otherwise. `estimate_kpa`: the part of the uncertainty that its warmth adds.
    """

    word: Word
    words: Phrase
    cold_kpa: float | None
    uncertainty_kpa: float | None
    estimate: bool
    change_kpa: float | None = None
    notes: tuple[Phrase, ...] = ()
    working: tuple[Line, ...] = ()
    fill_kpa: float | None = None
    locked: bool = False
    estimate_kpa: float = 0.0
    # By the best estimate it ran far too low.
    ran_low: bool = False

    @property
    def asks_for_air(self) -> bool:
        """Whether the tire is read again once that was done."""
        return WORDS[self.word].asks_for_air


STOP_CAUTION = (
    "It may have rolled far below its target: treat it as run flat. Look at tread and sidewalls before any air."
)
STOP_SERVICE = (
    "Heavy or dual: deflate it fully before the wheel comes off, and have a licensed tire service inspect it. "
    "It is locked until that is recorded."
)
STOP_LIGHT = "Then air, and look at it again within a day."
MAY_HAVE_RUN_LOW = "It may have run low: look at the sidewalls, and read it again with a compared gauge."
LOCKED_TILL_READ = "No air before that second reading, or an inspection."
RESTRAINED = (
    "Far below its target: air only in a restraining device, with a clip-on chuck, from out of the sidewall's line."
)
# Without any pressure to go by: this share of the sidewall's maximum, without that these pressures [kPa].
BARE_SHARE, BARE_KPA, BARE_SMALL_KPA = 0.45, 150.0, 100.0


def add_below(target_kpa: float) -> float:
    """Below this [kPa] a tire gets air: 2 % or 1 psi under its target, whichever is more."""
    return target_kpa - max(ADD_SHARE * target_kpa, ADD_KPA)


def out_above(target_kpa: float) -> float:
    """Above this [kPa] a tire is let out: 5 % or 2 psi over its target, whichever is more."""
    return target_kpa + max(OUT_SHARE * target_kpa, OUT_KPA)


def stop_at(target_kpa: float) -> float:
    """At or below this [kPa] a tire that rolled is treated as run flat: 80 % of its target's own number."""
    return STOP_SHARE * target_kpa


def stop_without_target(known_kpa: tuple[float | None, ...], sidewall_max_kpa: float | None, small: bool) -> float:
    """`stop_at` where no target number is in force [kPa].

    By the highest known of what else it may stand at (placard, as rated, the last target that was in force); none known,
    45 % of the sidewall's maximum; that unknown too, 150 kPa, of a light trailer or a motorcycle (`small`) 100.
    """
    known = [k for k in known_kpa if k is not None]
    if known:
        return stop_at(max(known))
    if sidewall_max_kpa is not None:
        return BARE_SHARE * sidewall_max_kpa
    return BARE_SMALL_KPA if small else BARE_KPA


def _goal(goal: WheelGoal, target: float, sure: float, stood: Standing, here: Air) -> float:
    """The cold pressure to fill to [kPa]: the target, or what brings the near end of its range to the floor; never above
    the ceiling."""
    most = math.inf if goal.ceiling_kpa is None else goal.ceiling_kpa
    wanted = target
    if goal.floor_kpa is not None:
        near = goal.floor_kpa + sure
        # How far a warm tire's estimate is off grows with the pressure: a few turns settle it.
        for _ in range(6):
            near = goal.floor_kpa + sure + estimate_kpa(near, stood, here)
        wanted = max(wanted, near)
    return min(wanted, most)


def _needs_air(pressure: float, goal: WheelGoal, target: float) -> bool:
    line = add_below(target) if goal.hold_from_kpa is None else goal.hold_from_kpa
    if goal.range_kpa is not None:
        line = min(line, add_below(goal.range_kpa))
    return pressure < line - EXACT_KPA


def _for_a_dawn(pressure: float, goal: WheelGoal) -> bool:
    """Whether a dawn before the next check takes a tire under its floor: a limit, so no share of its target is let pass."""
    return goal.dawn_kpa is not None and pressure < goal.dawn_kpa - _SLACK_KPA


@dataclass(frozen=True)
class _Read:
    """A reading as it counts: true in the tire, as if cold, its half-width [kPa], and what its warmth adds to that."""

    true: float
    cold: float
    sure: float
    more: float
    warm: bool

    @property
    def near(self) -> float:
        return self.cold - self.sure

    @property
    def far(self) -> float:
        return self.cold + self.sure


def answer(goal: WheelGoal, read: Corrected | None, stood: Standing, here: Air) -> Answer:
    """The answer for one wheel. First that holds: stop, above ceiling, below floor, low, add, let out, hold.

    Uncertainty goes to the safe side where it touches a limit (floor, ceiling, stop); inside them the best estimate decides.
    A warm tire is filled to its target carried to its own temperature, and never let out.
    """
    if read is None:
        return Answer("not_checked", say("Not checked"), None, None, False)
    cold, more = cold_equivalent(read.kpa, stood, here)
    at = _Read(read.kpa, cold, read.uncertainty_kpa + more, more, not stood.cold)
    working = [Line(say("corrected by the gauge"), kpa(read.kpa))]
    if at.warm:
        working.append(Line(say("tire about {0}: as if cold, an estimate", celsius(stood.tire_c)), kpa(cold)))
    working.append(Line(say("sure within, either way"), kpa(at.sure)))
    notes = [say("Outside the pressures at which this gauge was compared.")] if read.outside else []
    verdict = _stopped(goal, at) or (
        _without_target(goal, at) if goal.target_kpa is None else _by_target(goal, goal.target_kpa, at, stood, here)
    )
    if goal.target_kpa is not None:
        working.append(Line(say("target here and now"), kpa(goal.target_kpa, "up")))
    if verdict.fill_kpa is not None and at.warm:
        working.append(Line(say("brought to the tire's own temperature, under the ceiling"), kpa(verdict.fill_kpa)))
    return replace(
        verdict, cold_kpa=cold, uncertainty_kpa=at.sure, estimate=at.warm, estimate_kpa=more, notes=(*notes, *verdict.notes),
        working=tuple(working),
    )  # fmt: skip


def _said(word: Word, words: Phrase, *notes: Phrase, change: float | None = None, **more: Any) -> Answer:
    return Answer(word, words, None, None, False, change, notes, **more)


def _stopped(goal: WheelGoal, at: _Read) -> Answer | None:
    """A tire that may have rolled far too low; of a heavy or dual one the near end of its range is enough."""
    stops_at = goal.stops_at_kpa
    if stops_at is None or not goal.may_have_rolled or at.near > stops_at + EXACT_KPA:
        return None
    if at.cold <= stops_at + EXACT_KPA:
        caution = say(STOP_SERVICE if goal.heavy_or_dual else STOP_LIGHT)
        return _said("stop", say("Stop: inspect"), say(STOP_CAUTION), caution, locked=goal.heavy_or_dual, ran_low=True)
    if goal.heavy_or_dual:
        return _said("stop", say("Stop: read it again"), say(MAY_HAVE_RUN_LOW), say(LOCKED_TILL_READ), locked=True)
    return None


def mate_stopped(may_have_rolled: bool, own: Answer, mate: str) -> Answer:
    """A dual beside one that was stopped after rolling: it carried the load of both, and is stopped with it."""
    if own.word == "stop" or not may_have_rolled:
        return own
    said = say(f"Its mate, {plain(mate)}, ran low: this one carried the load of both.")
    return replace(own, word="stop", words=say("Stop: inspect"), change_kpa=None, fill_kpa=None, locked=True,
                   notes=(said, say(STOP_SERVICE), *own.notes))  # fmt: skip


def _above_ceiling(goal: WheelGoal, at: _Read, down_to: float | None) -> Answer | None:
    if goal.ceiling_kpa is None or at.cold <= goal.ceiling_kpa + CEILING_SLACK_KPA:
        return None
    above = say("Above the ceiling of {0}.", kpa(goal.ceiling_kpa, "down"))
    if at.warm:
        cool = say("The tire is warm: let it cool, then read it again before letting air out.")
        return _said("cannot_tell", say("Wait until it is cold"), above, cool)
    to = goal.ceiling_kpa if down_to is None else min(down_to, goal.ceiling_kpa)
    return _said("let_out", say("Let out {0}, cold", kpa(at.cold - to)), above, change=to - at.cold, fill_kpa=to)


def _without_target(goal: WheelGoal, at: _Read) -> Answer:
    """Only the ceiling is judged, and what is missing is named."""
    above = _above_ceiling(goal, at, None)
    missing = goal.missing or say("No target is in force for this wheel.")
    if above is not None:
        return replace(above, notes=(*above.notes, missing))
    return _said("cannot_tell", say("Not known"), missing)


def _by_target(goal: WheelGoal, target: float, at: _Read, stood: Standing, here: Air) -> Answer:
    upper = max(target, goal.range_kpa or 0.0)
    over_to = max(upper, goal.out_to_kpa or 0.0)
    if (above := _above_ceiling(goal, at, target)) is not None:
        return above
    notes: list[Phrase] = []
    if goal.ceiling_kpa is not None and at.far > goal.ceiling_kpa + CEILING_SLACK_KPA:
        notes.append(say("It may be above the ceiling of {0}: compare the gauge.", kpa(goal.ceiling_kpa, "down")))
    wanted = _goal(goal, target, max(at.sure - at.more, goal.sure_kpa), stood, here)
    # The near end below the floor, where there is room to lift it.
    short = goal.floor_kpa is not None and (
        at.cold < goal.floor_kpa - EXACT_KPA
        or (at.near < goal.floor_kpa - _SLACK_KPA and at.cold < wanted - _SLACK_KPA)
    )
    if short or _needs_air(at.cold, goal, target) or _for_a_dawn(at.cold, goal):
        return _add(goal, target, wanted, at, stood, here, notes)
    if at.cold > max(out_above(upper), over_to) + EXACT_KPA:
        if at.warm:
            return _said(
                "hold", say("Hold"), *notes,
                say("Reads high, but warm. Never let air out of a warm tire: read it again cold."),
            )  # fmt: skip
        return _said("let_out", say("Let out {0}, cold", kpa(at.cold - over_to)), *notes, change=over_to - at.cold,
                     fill_kpa=over_to)  # fmt: skip
    if goal.range_kpa is not None and not add_below(target) - EXACT_KPA <= at.cold <= out_above(target) + EXACT_KPA:
        notes.append(say("Not its number, and inside the range that is kept."))
    if at.cold > out_above(upper) + EXACT_KPA:
        notes.append(say("Over its target, and the cold before the next check brings it back: let nothing out."))
    return _said("hold", say("Hold"), *notes)


# What is lost between a number and its reading back [kPa].
_SLACK_KPA = 0.05


def _add(
    goal: WheelGoal, target: float, wanted: float, at: _Read, stood: Standing, here: Air, notes: list[Phrase]
) -> Answer:  # fmt: skip
    if goal.floor_kpa is not None and at.cold < goal.floor_kpa - EXACT_KPA:
        below = too_low(goal.floor_from, needed(goal.floor_kpa, target, goal.ceiling_kpa))
        notes.append(say(below.text[0].upper() + below.text[1:] + ".", *below.values))
    elif goal.floor_kpa is not None and at.near < goal.floor_kpa - EXACT_KPA:
        floor = needed(goal.floor_kpa, target, goal.ceiling_kpa)
        notes.append(say("By the near end of its range below the floor of {0}.", floor))
    elif goal.floor_kpa is not None and _for_a_dawn(at.cold, goal):
        floor = needed(goal.floor_kpa, target, goal.ceiling_kpa)
        notes.append(say("A dawn before the next check takes it below the floor of {0}.", floor))
    if wanted > target + _SLACK_KPA:
        notes.append(say("A little more than the target, so that even the near end of its range carries the load."))
        if goal.ceiling_kpa is not None and wanted >= goal.ceiling_kpa - _SLACK_KPA:
            notes.append(say("No more than the ceiling allows: compare the gauge."))
    if at.cold <= LOW_SHARE * target + EXACT_KPA:
        notes.append(say("More than a tenth low: look for the cause."))
    if goal.stops_at_kpa is not None and at.near <= goal.stops_at_kpa + EXACT_KPA:
        if goal.may_have_rolled:
            notes.append(say(MAY_HAVE_RUN_LOW))
        elif goal.heavy_or_dual:
            notes.append(say(RESTRAINED))
    fill = fill_to(wanted, goal.ceiling_kpa, stood, here)
    if at.warm:
        if goal.ceiling_kpa is not None and at.true >= goal.ceiling_kpa - EXACT_KPA:
            full = say("Warm, it stands at the ceiling of {0}: no air now.", kpa(goal.ceiling_kpa, "down"))
            return _said("add", say("Add, once it is cold"), full, *notes)
        notes.append(say("Warm: an estimate. Read it again when it is cold."))
        if goal.ceiling_kpa is not None and fill >= goal.ceiling_kpa - 1e-9:
            notes.append(say("No more than the ceiling while it is warm: finish when it is cold."))
    change = max(0.0, fill - at.true)
    return _said("add", say("Add {0}", kpa(change, "up")), *notes, change=change, fill_kpa=at.true + change)


# Words of a tire that has its target, or more than it: nothing is missing in it.
AT_TARGET: tuple[Word, ...] = ("hold", "let_out")

# A reading so many deviations from what was foretold, and this share of the target, is asked back before it is kept.
UNLIKELY_DEVIATIONS = 6.0
UNLIKELY_SHARE = 1 / 3


def likely(expected_kpa: float, within_kpa: float, target_kpa: float) -> tuple[float, float]:
    """Between which cold pressures [kPa] a reading is taken as typed; outside it is asked back ("7? expected 71.6").

    `within_kpa`: the half-width of what is foretold at 95 %, two deviations.

    >>> likely(494, 14, 510)
    (324.0, 664.0)
    """
    apart = max(UNLIKELY_DEVIATIONS / 2 * within_kpa, UNLIKELY_SHARE * target_kpa)
    return expected_kpa - apart, expected_kpa + apart


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


def wanted_below(
    target_kpa: float, floor_kpa: float | None, range_kpa: float | None = None, dawn_kpa: float | None = None
) -> float:
    """Below this [kPa] a predicted pressure wants air: under the lower end of its target's range, its floor, or what a dawn ahead
    takes under that (`TargetHere.dawn_kpa`)."""
    lower = target_kpa if range_kpa is None else min(target_kpa, range_kpa)
    return max(add_below(lower), floor_kpa or 0.0, dawn_kpa or 0.0)


def foretell_all(pressure_kpa: Any, within_kpa: Any, low_kpa: Any) -> Any:
    """What predicted pressures [kPa], give or take at 95 %, let expect beside `wanted_below`, in a word: arrays of one length.

    Unknown, NaN, is "cannot_tell".
    """
    # Half the range down: a chance of one in six.
    holds = pressure_kpa - within_kpa / 2 >= low_kpa
    return np.select([pressure_kpa < low_kpa, holds], ["add", "hold"], "cannot_tell")


def foretell(
    pressure_kpa: float,
    within_kpa: float,
    target_kpa: float | None,
    floor_kpa: float | None,
    range_kpa: float | None = None,
) -> Foretold:
    """`foretell_all` for one tire, in words."""
    if target_kpa is None:
        return Foretold("cannot_tell", say("No target in force"), False)
    low = wanted_below(target_kpa, floor_kpa, range_kpa)
    word = str(foretell_all(pressure_kpa, within_kpa, low))
    if word == "add":
        words = say("Likely wants {0}", kpa(target_kpa - pressure_kpa, "up"))
        return Foretold("add", words, pressure_kpa + within_kpa < low)
    if word == "hold":
        return Foretold("hold", say("Holds"), True)
    return Foretold("cannot_tell", say("May want air: read it first"), False)


def mate_of(code: str) -> str | None:
    """The code of a dual wheel's mate; None: it has none."""
    return {"o": f"{code[:-1]}i", "i": f"{code[:-1]}o"}.get(code[-1:])


def touched_by(code: str) -> tuple[str, ...]:
    """The wheels of which a word may change with an entry at one: itself, and the other of its duals.

    >>> touched_by("2Lo"), touched_by("1L")
    (('2Lo', '2Li'), ('1L',))
    """
    mate = mate_of(code)
    return (code,) if mate is None else (code, mate)
