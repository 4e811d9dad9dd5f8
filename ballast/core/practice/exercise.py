"""What an exercise is: a situation drawn by a seed, a hidden truth, and the judgement of what somebody's work left on record."""

import random
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from ballast.core.practice.scene import Scene
from ballast.core.sensors import OUTCOMES
from ballast.core.units import PSI_KPA
from ballast.core.working import Line, Phrase, kpa, plain, say

Stage = Literal[
    "weighing", "targets", "air", "rounds", "lookback", "ground", "chalk", "sensors", "lamp", "kit", "gauges"
]
# Nothing was left yet that could be judged; all else that is not right is the key of a mistake.
OPEN = "open"
# A pressure is the one that was meant within this [kPa]: what a good gauge and a hand leave.
CLOSE_KPA = 1.5 * PSI_KPA
# So much less after than before is air that was let out [kPa].
LET_OUT_KPA = 2.0
# A hint costs so much of what a right answer earns, a wrong reason half of it.
HINT_COSTS, REASON_COSTS = 0.2, 0.5


@dataclass(frozen=True)
class Left:
    """What somebody's work left on record; empty, None: nothing of it.

    `left_kpa`: by wheel what it was left at by the sealed round, as read [kPa]; `read`: the wheels that it read; `let_out`: those
    let out; `gauge`, `inflator`: the label of the one that was used; `lamp`: what the guide came to; `chalk_next`: which way the
    next pass went; `corners`: whether each end of an axle was weighed; `plan_open`: whether a ground plan is open.
    """

    left_kpa: Mapping[str, float] = field(default_factory=dict)
    read: frozenset[str] = frozenset()
    let_out: frozenset[str] = frozenset()
    gauge: str = ""
    inflator: str = ""
    lamp: str = ""
    chalk_next: Literal["", "up", "down"] = ""
    corners: bool = False
    plan_open: bool | None = None
    reason: str = ""


@dataclass(frozen=True)
class Drawn:
    """A situation: what is told, what is true and stays hidden (numbers by name, [kPa, kg, °C, min]), and how it comes out."""

    facts: tuple[Phrase, ...]
    truth: Mapping[str, float]
    scene: Scene
    working: tuple[Line, ...]
    # Words that vary: which wheel, which gauge; `because` where the right reason varies too.
    named: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Mistake:
    """A way to get it wrong, and what comes of it on the road."""

    name: str
    comes_to: str


@dataclass(frozen=True)
class Exercise:
    """`right` and `wrong` leave on record what the right act, and each mistake, would; `judged` tells them apart by the truth alone."""

    key: str
    name: str
    stage: Stage
    minutes: Literal[2, 10]
    goal: str
    reasons: Mapping[str, str]
    because: str
    mistakes: Mapping[str, Mistake]
    hints: tuple[str, ...]
    draw: Callable[[random.Random], Drawn]
    judged: Callable[[Drawn, Left], str]
    right: Callable[[Drawn], Left]
    wrong: Mapping[str, Callable[[Drawn], Left]]


@dataclass(frozen=True)
class Judgement:
    """How it came out: right, or which mistake; whether for the right reason; and what it earned, 0 to 1."""

    outcome: str
    reason_right: bool
    earned: float
    words: str
    comes_to: str = ""

    @property
    def right(self) -> bool:
        return self.outcome == ""


def judge(of: Exercise, drawn: Drawn, left: Left, hints: int = 0) -> Judgement:
    """What somebody's work comes to, against the hidden truth. Nothing that could be judged is no mistake: it is still open."""
    outcome, reason = of.judged(drawn, left), left.reason == because(of, drawn)
    earned = max(0.0, 1.0 - HINT_COSTS * hints) * (1.0 if reason else REASON_COSTS)
    return said(of, outcome, reason, 0.0 if outcome else earned)


def because(of: Exercise, drawn: Drawn) -> str:
    """The key of the right reason, which in some situations varies."""
    return drawn.named.get("because", of.because)


def said(of: Exercise, outcome: str, reason_right: bool, earned: float) -> Judgement:
    """A judgement in words, made now or long ago."""
    if outcome == OPEN:
        return Judgement(OPEN, reason_right, 0.0, "Nothing to be judged is on record yet.")
    if outcome:
        mistake = of.mistakes[outcome]
        return Judgement(outcome, reason_right, earned, mistake.name, mistake.comes_to)
    words = "Right." if reason_right else "The right act, for another reason than the one given."
    return Judgement("", reason_right, earned, words)


def left_lines(left: Left, reason: str) -> tuple[Line, ...]:
    """What somebody left on record and why, in lines to stand beside the working; nothing that was not done stands there.

    >>> [line.what.text for line in left_lines(Left({"1L": 620.5}, frozenset(("1L", "1R")), frozenset(("1L",)), gauge="G1"), "So I felt")]
    ['You left 1L at', 'Read besides: 1R', 'Air was let out of 1L', 'Read with G1', 'Your reason: So I felt']
    """
    besides = sorted(left.read - set(left.left_kpa))
    words = {
        f"Read besides: {', '.join(besides)}": bool(besides),
        f"Air was let out of {', '.join(sorted(left.let_out))}": bool(left.let_out),
        f"Read with {left.gauge}": bool(left.gauge),
        f"Taken along: {left.inflator}": bool(left.inflator),
        f"The lamp: {OUTCOMES.get(left.lamp, '').lower()}": bool(left.lamp),
        f"The next pass went {left.chalk_next}": bool(left.chalk_next),
        "Each end of the front axle was weighed": left.corners,
        "The ground plan stayed open": left.plan_open is True,
        "The ground plan was closed": left.plan_open is False,
        f"Your reason: {reason}": bool(reason),
    }
    return (
        *(Line(say(f"You left {wheel} at"), kpa(at)) for wheel, at in sorted(left.left_kpa.items())),
        *(Line(say(plain(text))) for text, so in words.items() if so),
    )


def close(kpa: float, to: float) -> bool:
    """Whether a pressure is the one that was meant."""
    return abs(kpa - to) <= CLOSE_KPA


def by_pressure(
    left: Left, wheels: tuple[str, ...], wanted: float, named: Mapping[str, float], low: str, high: str
) -> str:
    """Which way wheels were left: at what was wanted, at the number of a mistake, else too low or too high. The worst tire tells."""
    if any(w not in left.left_kpa for w in wheels):
        return OPEN
    found = [left.left_kpa[w] for w in wheels]
    if all(close(p, wanted) for p in found):
        return ""
    for key, at in named.items():
        if any(close(p, at) for p in found):
            return key
    return low if any(p < wanted - CLOSE_KPA for p in found) else high


def drawn_until(dice: random.Random, draw: Callable[[random.Random], Drawn | None]) -> Drawn:
    """Draws until the numbers can be told apart; they mostly can."""
    for _ in range(1000):
        if (found := draw(dice)) is not None:
            return found
    raise AssertionError("No such situation can be drawn.")
