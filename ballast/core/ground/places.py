"""What a place taught: at which pressure somebody got through there, and at which not."""

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from ballast.core.ground.numbers import GroundWheel, Number
from ballast.core.working import Phrase, day, join, kpa, plain, say

Outcome = Literal["through", "stuck"]
OUTCOMES: dict[Outcome, str] = {"through": "got through", "stuck": "stuck"}


@dataclass(frozen=True)
class Learned:
    """What happened at a place: on which surface's row, at what driven (or only) pressure [kPa], and when."""

    surface: str
    surface_name: str
    kpa: float
    outcome: Outcome
    on: dt.date


def learned_at(wheels: Sequence[GroundWheel], numbers: Mapping[str, Number]) -> float:
    """The pressure that a stretch is remembered by [kPa]: the lowest of its driven wheels, without such of any."""
    driven = [w.code for w in wheels if w.role == "driven" and w.code in numbers]
    return min(numbers[code].kpa for code in driven or numbers)


@dataclass(frozen=True)
class Proposal:
    """What is proposed at a place the next time: the row of a surface, and why. None: nothing got through there yet."""

    surface: str | None
    words: Phrase


def proposal(learned: Sequence[Learned]) -> Proposal | None:
    """The hardest row that got through, after the last time somebody was stuck on it; None: nothing is known of the place.

    >>> told = [Learned("firm", "Firm sand", 103.4, "stuck", dt.date(2026, 5, 2)),
    ...         Learned("soft", "Soft sand", 82.7, "through", dt.date(2026, 5, 2))]
    >>> proposal(told).words.show("us")
    'Firm sand at 15 psi, stuck (May 2, 2026); Soft sand at 12 psi, got through (May 2, 2026).'
    """
    if not learned:
        return None
    newest = {(e.surface, e.outcome): e for e in sorted(learned, key=lambda e: e.on)}
    stuck_at = max((e.kpa for e in newest.values() if e.outcome == "stuck"), default=0.0)
    through = [
        e
        for e in newest.values()
        if e.outcome == "through"
        and ((e.surface, "stuck") not in newest or newest[e.surface, "stuck"].on < e.on)
        and (not stuck_at or e.kpa < stuck_at or e.on > max(s.on for s in newest.values() if s.outcome == "stuck"))
    ]
    best = max(through, key=lambda e: e.kpa, default=None)
    told = sorted(newest.values(), key=lambda e: -e.kpa)
    said = [say(f"{plain(e.surface_name)} at {{0}}, {OUTCOMES[e.outcome]} ({day(e.on)})", kpa(e.kpa)) for e in told]
    words = join(*said, by="; ")
    return Proposal(best.surface if best else None, Phrase(f"{words.text}.", words.values))
