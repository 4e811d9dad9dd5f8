"""Wear of a tread: its rate with its error, when it reaches the limit, and what its shape says beside table and chalk."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.working import Measure, Phrase, say

# Depth at which a tire is done [mm]; a heavy steer axle's. Local law decides.
LIMIT_MM, STEER_LIMIT_MM = 1.6, 3.2
LIMIT_CAUTION = "By the usual limit; local law decides."
# What differs by more than so many standard errors is no chance.
_SURE = 2.0

Shape = Literal["even", "centre", "shoulders", "one side", "unknown"]


@dataclass(frozen=True)
class Depth:
    """Depths in three grooves [mm] at a distance [km]."""

    km: float
    inner_mm: float | None
    centre_mm: float | None
    outer_mm: float | None

    @property
    def least_mm(self) -> float | None:
        known = [v for v in (self.inner_mm, self.centre_mm, self.outer_mm) if v is not None]
        return min(known) if known else None


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


def _ribs(depths: Sequence[Depth], limit_mm: float) -> tuple[Rate | None, Rate | None, Rate | None]:
    def of(name: str) -> Rate | None:
        points = [(d.km, v) for d in depths if (v := getattr(d, name)) is not None]
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


def limit_words(of: Rate, km_now: float | None, km_a_day: float | None) -> Phrase:
    """When a tread reaches its limit."""
    if of.limit_at_km is None:
        return say("It does not wear, by these depths.")
    distance = Measure("distance", max(0.0, of.limit_at_km - (km_now or 0.0)), "down")
    if km_now is None:
        return say(
            "At its limit at about {0} on the odometer. " + LIMIT_CAUTION, Measure("distance", of.limit_at_km, "down")
        )
    if not km_a_day:
        return say("At its limit in about {0}. " + LIMIT_CAUTION, distance)
    days = max(0.0, of.limit_at_km - km_now) / km_a_day
    return say(f"At its limit in about {{0}}, some {days / 30:.0f} months. {LIMIT_CAUTION}", distance)
