"""A comparison with a master: its curve with the band of uncertainty, up against down, and what it leaves out."""

import statistics
from dataclasses import dataclass

from ballast.core.gauges.gauge import NO_MASTER_KPA, Gauge, Pair, correct, curve
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, kpa, say

# A pressure in use within this share of a compared one counts as covered.
NEAR_SHARE = 0.15
# A gauge that is off by more than this share of the master, or of this pressure [kPa] where the master shows less, is not corrected.
OFF_SHARE, OFF_FROM_KPA = 0.25, 50.0


def check_pairs(gauge: Gauge, pairs: tuple[Pair, ...]) -> None:
    """Raises Refusal, beside its pair, for what the gauge cannot show or no correction is for; for readings that do not rise."""
    for i, pair in enumerate(pairs):
        field = f"pairs.{i}.reading"
        if not gauge.low_kpa <= pair.reading_kpa <= gauge.high_kpa:
            raise Refusal("This gauge cannot show that: it is outside its range.", field)
        if abs(pair.reading_kpa - pair.reference_kpa) > OFF_SHARE * max(pair.reference_kpa, OFF_FROM_KPA):
            raise Refusal("More than a quarter apart: check both, or retire the gauge.", field)
    curve(pairs)


@dataclass(frozen=True)
class CurvePoint:
    """At a reading [kPa]: the error, its half-width at 95 %, and whether that lies outside what was compared."""

    reading_kpa: float
    error_kpa: float
    uncertainty_kpa: float
    outside: bool


def correction(gauge: Gauge, points: int = 25) -> tuple[CurvePoint, ...]:
    """The correction curve over the gauge's range, through every compared reading. Empty where it was never compared."""
    if not gauge.pairs:
        return ()
    step = (gauge.high_kpa - gauge.low_kpa) / (points - 1)
    grid = {gauge.low_kpa + i * step for i in range(points)} | {
        reading for reading, _ in gauge.points if gauge.low_kpa <= reading <= gauge.high_kpa
    }
    bends = []
    for reading in sorted(grid):
        true = correct(gauge, min(reading, gauge.high_kpa))
        bends.append(CurvePoint(reading, reading - true.kpa, true.uncertainty_kpa, true.outside))
    return tuple(bends)


def lag(gauge: Gauge) -> float | None:
    """The most by which it reads lower going up than coming down [kPa]; None where it was not read both ways."""
    ways: dict[float, dict[str, list[float]]] = {}
    for p in gauge.pairs:
        ways.setdefault(round(p.reference_kpa, 3), {}).setdefault(p.direction, []).append(p.reading_kpa)
    gaps = [
        statistics.fmean(w["down"]) - statistics.fmean(w["up"]) for w in ways.values() if w.get("up") and w.get("down")
    ]
    return max(gaps, key=abs) if gaps else None


def uncovered(gauge: Gauge, in_use_kpa: tuple[float, ...]) -> Phrase | None:
    """The first pressure in use [kPa] that lies in its range and near nothing it was compared at; None: all are covered."""
    references = {p.reference_kpa for p in gauge.pairs}
    in_range = sorted(p for p in set(in_use_kpa) if gauge.low_kpa <= p <= gauge.high_kpa)
    bare = next((p for p in in_range if all(abs(p - r) > NEAR_SHARE * p for r in references)), None)
    return None if bare is None or not references else say("No comparison near {0}, which is in use.", kpa(bare))


def remarks(gauge: Gauge, claimed_kpa: float | None = None, no_master: bool = False) -> tuple[Phrase, ...]:
    """What a comparison leaves open: no master, no repeats, a lag, more error than claimed."""
    remarked: list[Phrase] = []
    references = sorted({p.reference_kpa for p in gauge.pairs})
    if not references:
        return ()
    if no_master:
        remarked.append(
            say(
                "Compared with no gauge of the drawer and by no certificate, so with no master: sure within {0} at best.",
                kpa(NO_MASTER_KPA),
            )
        )
    if len(references) == len(gauge.pairs):
        remarked.append(say("No pressure was repeated: its scatter is not known."))
    gap = lag(gauge)
    if gap is not None and abs(gap) > 1.01 * gauge.resolution_kpa:
        remarked.append(
            say("It lags: {0} between going up and coming down. Read it the same way each time.", kpa(abs(gap)))
        )
    worst = max(gauge.points, key=lambda point: abs(point[1]))
    if claimed_kpa is not None and abs(worst[1]) > claimed_kpa + gauge.resolution_kpa / 2:
        remarked.append(
            say("Off by {0} at {1}, more than the {2} it claims.", kpa(abs(worst[1])), kpa(worst[0]), kpa(claimed_kpa))
        )
    return tuple(remarked)


def drift(older: Gauge, newer: Gauge) -> float | None:
    """The most by which the correction moved between two comparisons [kPa], at the newer one's readings."""
    if not older.pairs or not newer.pairs:
        return None
    moved = [
        correct(older, r).kpa - correct(newer, r).kpa for r, _ in newer.points if older.low_kpa <= r <= older.high_kpa
    ]
    return max(moved, key=abs) if moved else None
