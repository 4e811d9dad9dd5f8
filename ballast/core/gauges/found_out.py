"""A gauge found out by its rounds: where a rig is read with another gauge than the time before, what all its tires share
then is the difference of the two gauges' errors, and noise."""

import datetime as dt
import math
from bisect import bisect_left
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ballast.core.gauges.gauge import off_by_rounds
from ballast.core.working import Phrase, join, kpa, plain, say

# Fewer changes than this do not say how far changes scatter; of one gauge, on fewer rigs, or with fewer gauges, nothing is said.
LEAST_CHANGES, LEAST_OWN, LEAST_RIGS, LEAST_GAUGES = 30, 6, 3, 3
# One in a thousand of a normal distribution lies beyond.
_SURE = 3.09


@dataclass(frozen=True)
class GaugeChange:
    """A rig read with `to` after `since`: what all its tires gained beyond weather and loss [kPa]."""

    since: int
    to: int
    rig: int
    shared_kpa: float


@dataclass(frozen=True)
class FoundOut:
    """What rounds say of a gauge: how far it reads above its fellows [kPa], give or take at 95 %, and whether that is more
    than what is stated of it explains. `error_kpa` None: not known."""

    error_kpa: float | None
    within_kpa: float
    named: bool

    @property
    def apart_kpa(self) -> float:
        """How far off it may be, all in all; 0 where it is not known."""
        return 0.0 if self.error_kpa is None else abs(self.error_kpa) + self.within_kpa


UNKNOWN = FoundOut(None, math.inf, False)


def since_compared(gauge: int, on: dt.date, compared: Sequence[dt.date]) -> int:
    """What stands in changes for a gauge on a day: once it was compared it is another one from the day after. Its own number is the
    gauge as its newest comparison has it, of `compared` in order of time; a negative one what it was before.

    >>> spring, autumn = dt.date(2026, 4, 1), dt.date(2026, 10, 1)
    >>> [since_compared(7, day, [spring, autumn]) for day in (dt.date(2026, 3, 1), spring, autumn, dt.date(2026, 10, 2))]
    [-7001, -7001, -7002, 7]
    """
    turn = bisect_left(compared, on)
    return gauge if turn == len(compared) else -(gauge * 1000 + turn + 1)


def found_words(label: str, of: FoundOut) -> Phrase:
    """What rounds say of a gauge.

    >>> found_words("G1", UNKNOWN).text
    'G1: rounds do not say, too few changed from it to others'
    """
    if of.error_kpa is None:
        return say(f"{plain(label)}: rounds do not say, too few changed from it to others")
    if of.named:
        return join(say(plain(f"{label}:")), off_by_rounds(of.error_kpa))
    return say(f"{plain(label)} agrees with its fellows, by its rounds, within {{0}}", kpa(of.apart_kpa, "up"))


def found_out(changes: Sequence[GaugeChange], stated_kpa: Mapping[int, float]) -> dict[int, FoundOut]:
    """What the changes of a workspace say of each gauge in them; `stated_kpa`: each one's own uncertainty at 95 %.

    Least squares over the changes, held against the middle gauge of those that are connected: one alone cannot be found
    out, for its error cancels.
    """
    gauges = sorted({g for c in changes for g in (c.since, c.to)})
    said = dict.fromkeys(gauges, UNKNOWN)
    if len(changes) < LEAST_CHANGES:
        return said
    place = {g: i for i, g in enumerate(gauges)}
    design = np.zeros((len(changes), len(gauges)))
    for row, c in enumerate(changes):
        design[row, place[c.to]] += 1.0
        design[row, place[c.since]] -= 1.0
    shared = np.array([c.shared_kpa for c in changes])
    inverse = np.linalg.pinv(design.T @ design)
    errors = inverse @ design.T @ shared
    freedom = len(changes) - int(np.linalg.matrix_rank(design))
    if freedom < 1:
        return said
    variance = float(np.sum((shared - design @ errors) ** 2)) / freedom
    for group in _connected(changes):
        if len(group) < LEAST_GAUGES:
            continue
        ordered = sorted(group, key=lambda g: errors[place[g]])
        middle = ordered[(len(ordered) - 1) // 2 : len(ordered) // 2 + 1]
        for gauge in group:
            said[gauge] = _judged(gauge, middle, changes, (errors, inverse * variance, place), stated_kpa)
    return said


def _judged(
    gauge: int, middle: list[int], changes: Sequence[GaugeChange], fit: tuple[np.ndarray, np.ndarray, dict[int, int]],
    stated_kpa: Mapping[int, float],
) -> FoundOut:  # fmt: skip
    own = [c for c in changes if gauge in (c.since, c.to)]
    if len(own) < LEAST_OWN or len({c.rig for c in own}) < LEAST_RIGS or gauge not in stated_kpa:
        return UNKNOWN
    errors, covariance, place = fit
    against = np.zeros(len(errors))
    against[place[gauge]] += 1.0
    for other in middle:
        against[place[other]] -= 1.0 / len(middle)
    error, deviation = float(against @ errors), math.sqrt(max(0.0, float(against @ covariance @ against)))
    stated = stated_kpa[gauge] + max(stated_kpa.get(other, math.inf) for other in middle)
    named = deviation > 0 and (abs(error) - stated) / deviation > _SURE
    return FoundOut(error, 1.96 * deviation, named)


def _connected(changes: Sequence[GaugeChange]) -> list[set[int]]:
    """Gauges that changes lead from one to the other."""
    groups: list[set[int]] = []
    for c in changes:
        met = [g for g in groups if c.since in g or c.to in g]
        joined = {c.since, c.to}.union(*met)
        groups = [g for g in groups if g not in met] + [joined]
    return groups
