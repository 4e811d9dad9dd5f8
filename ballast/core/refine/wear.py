"""Wear of a tread: its rate with its error, when it reaches the limit, and what its shape says beside table and chalk."""

import datetime as dt
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.working import Measure, Phrase, day, say

# Depth at which a tire is done [mm]; a heavy steer axle's. Local law decides.
LIMIT_MM, STEER_LIMIT_MM = 1.6, 3.2
LIMIT_CAUTION = "By the usual limits. Local law, and the maker of the tire, may ask for more."
# What differs by more than so many standard errors is no chance.
_SURE = 2.0
# No day is told that lies further ahead.
_AHEAD_DAYS = 20 * 365

Shape = Literal["even", "centre", "shoulders", "one side", "unknown"]


@dataclass(frozen=True)
class Tread:
    """Depths in three grooves [mm]; None: that one was not measured."""

    inner_mm: float | None = None
    centre_mm: float | None = None
    outer_mm: float | None = None

    @property
    def least_mm(self) -> float | None:
        known = [v for v in (self.inner_mm, self.centre_mm, self.outer_mm) if v is not None]
        return min(known) if known else None


@dataclass(frozen=True)
class Depth:
    """A tread at a distance [km], and the day of it where that is known."""

    km: float
    tread: Tread
    on: dt.date | None = None


def km_a_day(depths: Sequence[Depth]) -> float | None:
    """As it was driven between the first of some depths and the last; None: that is not known."""
    if not depths or (begun := depths[0].on) is None or (ended := depths[-1].on) is None or begun == ended:
        return None
    return (depths[-1].km - depths[0].km) / (ended - begun).days


def depth(mm: float) -> str:
    """A depth in words, in both ways that it is read.

    >>> depth(3.2)
    '3.2 mm (4/32 in)'
    """
    return f"{mm:.1f} mm ({mm / 25.4 * 32:.0f}/32 in)"


def one_run(depths: Sequence[Depth]) -> tuple[Depth, ...]:
    """Depths in order of time, from where the odometer last ran backwards (exchanged, mistyped) on.

    >>> [d.km for d in one_run([Depth(km, Tread(8, 8, 8)) for km in (9000, 12000, 40, 900)])]
    [40, 900]
    """
    begun = max((i for i in range(1, len(depths)) if depths[i].km < depths[i - 1].km), default=0)
    return tuple(depths[begun:])


@dataclass(frozen=True)
class Rate:
    """Loss of depth [mm per 1,000 km] with its standard error, the depth that the line has at the last point, and when it
    reaches a limit [km]; None: it does not."""

    mm_per_1000_km: float
    standard_error: float
    now_mm: float
    limit_at_km: float | None


def rate(points: Sequence[tuple[float, float]], limit_mm: float = LIMIT_MM) -> Rate:
    """A straight line through (km, mm) by least squares, n − 2 degrees of freedom.

    Raises Refusal for fewer than three points, or all at one distance.

    >>> r = rate(((0, 8.4), (4100, 7.7), (9800, 6.9), (15200, 5.8)))
    >>> round(r.mm_per_1000_km, 4), round(r.standard_error, 4), round(r.limit_at_km)
    (0.1677, 0.0091, 40665)
    """
    n = len(points)
    if n < 3:
        raise Refusal("Too few depths for a rate: measure at three distances at least.", "tread")
    mean_x = sum(x for x, _ in points) / n
    mean_y = sum(y for _, y in points) / n
    sxx = sum((x - mean_x) ** 2 for x, _ in points)
    if sxx == 0:
        raise Refusal("All depths are of one distance. Enter the odometer with each.", "odometer")
    slope = sum((x - mean_x) * (y - mean_y) for x, y in points) / sxx
    start = mean_y - slope * mean_x
    residual = sum((y - start - slope * x) ** 2 for x, y in points)
    error = math.sqrt(residual / (n - 2) / sxx)
    last = max(x for x, _ in points)
    limit_at = (limit_mm - start) / slope if slope < 0 else None
    return Rate(-1000 * slope, 1000 * error, start + slope * last, limit_at)


@dataclass(frozen=True)
class Worn:
    """What the depths of a tire say: the rate of its fastest rib, the shape it wears to, and what that points at."""

    ribs: tuple[Rate | None, Rate | None, Rate | None]
    fastest: Rate | None
    shape: Shape
    words: Phrase

    @property
    def first(self) -> Rate | None:
        """The rib that is at its limit before the others."""
        ending = [(r.limit_at_km, r) for r in self.ribs if r is not None and r.limit_at_km is not None]
        return min(ending, key=lambda e: e[0], default=(0.0, None))[1]


def _ribs(depths: Sequence[Depth], limit_mm: float) -> tuple[Rate | None, Rate | None, Rate | None]:
    def of(name: str) -> Rate | None:
        points = [(d.km, v) for d in depths if (v := getattr(d.tread, name)) is not None]
        try:
            return rate(points, limit_mm)
        except Refusal:
            return None

    return (of("inner_mm"), of("centre_mm"), of("outer_mm"))


def worn(depths: Sequence[Depth], limit_mm: float = LIMIT_MM) -> Worn:
    """A third voice beside table and chalk: centre against the mean of the shoulders, inner against outer, beyond their errors.

    It proposes a step, and never sets one.
    """
    inner, centre, outer = ribs = _ribs(depths, limit_mm)
    known = [r for r in ribs if r is not None]
    fastest = max(known, key=lambda r: r.mm_per_1000_km, default=None)
    if inner is None or centre is None or outer is None:
        return Worn(
            ribs, fastest, "unknown", say("Too few depths in three grooves: measure at three distances at least.")
        )
    sides = inner.mm_per_1000_km - outer.mm_per_1000_km
    if abs(sides) > _SURE * math.hypot(inner.standard_error, outer.standard_error):
        which = "inner" if sides > 0 else "outer"
        words = f"The {which} shoulder wears faster: have the alignment looked at. No pressure mends it."
        return Worn(ribs, fastest, "one side", say(words))
    shoulders = (inner.mm_per_1000_km + outer.mm_per_1000_km) / 2
    error = math.hypot(centre.standard_error, math.hypot(inner.standard_error, outer.standard_error) / 2)
    apart = centre.mm_per_1000_km - shoulders
    if abs(apart) <= _SURE * error:
        return Worn(ribs, fastest, "even", say("It wears evenly, as far as these depths tell."))
    if apart > 0:
        return Worn(
            ribs,
            fastest,
            "centre",
            say("The centre wears faster: too much air for the load. A step less, inside its bounds, may be tried."),
        )
    return Worn(
        ribs,
        fastest,
        "shoulders",
        say("The shoulders wear faster: too little air for the load. A step more, inside its bounds, may be tried."),
    )


def limit_on(of: Rate, depths: Sequence[Depth]) -> dt.date | None:
    """The day on which a tread is at its limit, if it is driven as it was between its depths; None: that is not known, or
    lies too far ahead to say."""
    a_day = km_a_day(depths)
    if not a_day or of.limit_at_km is None or (last := depths[-1].on) is None:
        return None
    days = max(0.0, of.limit_at_km - depths[-1].km) / a_day
    return last + dt.timedelta(days=days) if days < _AHEAD_DAYS else None


def limit_words(of: Rate, km_now: float | None, depths: Sequence[Depth] = ()) -> Phrase:
    """When a tread reaches its limit: how far on, and on which day if it is driven as it was between its `depths`."""
    if of.limit_at_km is None:
        return say("It does not wear, by these depths.")
    if km_now is None:
        return say("At its limit at about {0} on the odometer.", Measure("distance", of.limit_at_km, "down"))
    on = limit_on(of, depths)
    when = f", around {day(on)}" if on else ""
    left = Measure("distance", max(0.0, of.limit_at_km - km_now), "down")
    return say(f"At its limit in about {{0}}{when}.", left)


def limit_said(
    least_mm: float | None, limit_mm: float, of: Worn, km_now: float | None, depths: Sequence[Depth]
) -> Phrase:
    """How a tread stands to its limit: at it, on its way there, or not known."""
    if least_mm is not None and least_mm <= limit_mm:
        return say(f"{depth(least_mm)}, its limit is {depth(limit_mm)}: replace it.")
    ending = of.first or of.fastest
    if ending is None:
        return say("When it is at its limit cannot be told yet.")
    return limit_words(ending, km_now, depths)
