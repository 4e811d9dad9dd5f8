"""Readings that must agree: of one wheel taken twice, within a dual pair, left against right."""

import math
from dataclasses import dataclass

from ballast.core.gauges import Corrected
from ballast.core.units import PSI_KPA

MATES_SHARE, MATES_KPA = 0.07, 5 * PSI_KPA


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
    pairs: list[Mates] = []
    for code in sorted(cold):
        for end, other in (("o", "i"), ("L", "R"), ("Lo", "Ro")):
            mate = code.removesuffix(end) + other
            if code.endswith(end) and mate in cold and (gap := _apart(cold[code], cold[mate])):
                pairs.append(Mates(code, mate, *gap))
    return tuple(pairs)


def mates_words(pair: Mates, first: str, second: str) -> str:
    """What is said of two wheels that disagree, by their names."""
    if pair.sure:
        return f"{first} and {second.lower()} differ by 5 psi or 7 %: mates must agree."
    return f"{first} and {second.lower()} may differ by 5 psi or 7 %: two gauges met there. Read both with one."
