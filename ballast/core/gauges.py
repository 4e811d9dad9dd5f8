"""What a gauge says, what is true, and how sure one can be; and the inflators that fill."""

import itertools
import math
import statistics
from dataclasses import dataclass
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.units import PSI_KPA, both
from ballast.core.working import Phrase, kpa, say

GaugeKind = Literal["stick", "dial", "digital", "inflator", "display", "station", "master"]
KIND_NAMES: dict[str, str] = {
    "stick": "Stick",
    "dial": "Dial",
    "digital": "Digital",
    "inflator": "Inflator gauge",
    "display": "Vehicle display",
    "station": "Filling station",
    "master": "Master",
}
# Half-widths at 95 % of gauges that were never compared with a master.
NEVER_COMPARED_PSI = {
    "stick": 3.0,
    "dial": 2.0,
    "digital": 1.0,
    "inflator": 3.0,
    "display": 3.0,
    "station": 5.0,
    "master": 1.0,
}
UNKNOWN_MASTER = 0.005
STALE_DAYS = 365
DROPPED = say("It was dropped: suspect until compared with a master again.")


@dataclass(frozen=True)
class Pair:
    """One comparison: the master's pressure and what the gauge showed [kPa]."""

    reference_kpa: float
    reading_kpa: float


@dataclass(frozen=True)
class Gauge:
    """A gauge with its range, resolution [kPa], pairs, and the master's standard uncertainty [kPa] where known."""

    kind: str
    low_kpa: float
    high_kpa: float
    resolution_kpa: float
    pairs: tuple[Pair, ...] = ()
    master_u_kpa: float | None = None


@dataclass(frozen=True)
class Corrected:
    """A true pressure [kPa], its uncertainty at 95 % [kPa], and whether it lies outside the calibration."""

    kpa: float
    uncertainty_kpa: float
    outside: bool


def curve(pairs: tuple[Pair, ...]) -> list[tuple[float, float]]:
    """(reading, error) points rising by reading, repeats at one reference averaged [kPa].

    Raises Refusal when readings do not rise with the reference.
    """
    groups: dict[float, list[float]] = {}
    for pair in pairs:
        groups.setdefault(round(pair.reference_kpa, 3), []).append(pair.reading_kpa)
    points = [(statistics.fmean(r), statistics.fmean(r) - ref) for ref, r in sorted(groups.items())]
    for (a, _), (b, _) in itertools.pairwise(points):
        if b <= a:
            raise Refusal(
                "The gauge's readings do not rise with the reference. Check the pairs: one may be mistyped.", "pairs"
            )
    return points


def _between(x: float, points: list[tuple[float, float]]) -> tuple[float, bool]:
    """y at x by straight lines, the nearest outside; and whether x was outside."""
    if x <= points[0][0]:
        return points[0][1], x < points[0][0]
    for (x0, y0), (x1, y1) in itertools.pairwise(points):
        if x <= x1:
            return y0 + (y1 - y0) * (x - x0) / (x1 - x0), False
    return points[-1][1], x > points[-1][0]


def correct(gauge: Gauge, reading_kpa: float) -> Corrected:
    """The true pressure behind a reading: reading − error(reading).

    Uncertainty at 95 %: 2 √(u_ref² + (resolution/√12)² + s²), s the scatter of repeats (GUM, type A and B).
    Raises Refusal for a reading outside the gauge's range.
    """
    if not gauge.low_kpa <= reading_kpa <= gauge.high_kpa:
        raise Refusal(
            f"{both('pressure', reading_kpa)} is outside this gauge's range, {both('pressure', gauge.low_kpa)} to "
            f"{both('pressure', gauge.high_kpa)}. Check the digits, or take another gauge.",
            "pressure",
        )
    if not gauge.pairs:
        return Corrected(reading_kpa, NEVER_COMPARED_PSI[gauge.kind] * PSI_KPA, False)
    error, outside = _between(reading_kpa, curve(gauge.pairs))
    true = reading_kpa - error
    u_ref = gauge.master_u_kpa if gauge.master_u_kpa is not None else UNKNOWN_MASTER * true
    return Corrected(true, 2 * math.sqrt(u_ref**2 + gauge.resolution_kpa**2 / 12 + scatter(gauge.pairs) ** 2), outside)


def scatter(pairs: tuple[Pair, ...]) -> float:
    """Pooled standard deviation [kPa] of repeated comparisons; nil where nothing was repeated."""
    groups: dict[float, list[float]] = {}
    for pair in pairs:
        groups.setdefault(round(pair.reference_kpa, 3), []).append(pair.reading_kpa)
    repeated = [g for g in groups.values() if len(g) > 1]
    freedom = sum(len(g) - 1 for g in repeated)
    if not freedom:
        return 0.0
    return math.sqrt(sum(statistics.variance(g) * (len(g) - 1) for g in repeated) / freedom)


def shows(gauge: Gauge, true_kpa: float) -> float:
    """What this gauge shows [kPa] when the pressure is `true_kpa`: the correction, backwards."""
    if not gauge.pairs:
        return true_kpa
    error, _ = _between(true_kpa, [(reading - error, error) for reading, error in curve(gauge.pairs)])
    return true_kpa + error


def suits(gauge: Gauge, target_kpa: float) -> tuple[bool, tuple[Phrase, ...]]:
    """Whether a gauge can read a target at all, and what speaks against it."""
    if not gauge.low_kpa <= target_kpa <= gauge.high_kpa:
        return False, (
            say("{0} is outside its range, {1} to {2}.", kpa(target_kpa), kpa(gauge.low_kpa), kpa(gauge.high_kpa)),
        )
    share = (target_kpa - gauge.low_kpa) / (gauge.high_kpa - gauge.low_kpa)
    notes: list[Phrase] = []
    if share > 0.9:
        notes.append(say("{0} is in the last tenth of its range.", kpa(target_kpa)))
    elif share < 0.1:
        notes.append(say("{0} is in the first tenth of its range.", kpa(target_kpa)))
    elif gauge.kind in ("dial", "stick") and not 0.25 <= share <= 0.75:
        notes.append(say("It reads best between a quarter and three quarters of its range."))
    return True, tuple(notes)


def condition(gauge: Gauge, compared_days_ago: int | None) -> Phrase | None:
    """What must be said of a gauge before it is believed; None: nothing."""
    if not gauge.pairs or compared_days_ago is None:
        return say(
            "Never compared with a master: true within {0} either way.", kpa(NEVER_COMPARED_PSI[gauge.kind] * PSI_KPA)
        )
    if compared_days_ago > STALE_DAYS:
        return say(f"Last compared {compared_days_ago // 30} months ago: suspect until compared again.")
    return None


def fill_minutes(volume_l: float, from_kpa: float, to_kpa: float, free_l_min: float, stall_kpa: float) -> float:
    """Minutes to fill, the flow falling linearly from `free_l_min` to nil at `stall_kpa`.

    V ps/(p_atm q0) ln((ps − p1)/(ps − p2)). Raises Refusal where the inflator stalls below the goal.
    """
    if to_kpa >= stall_kpa:
        raise Refusal(
            f"This inflator stalls at {both('pressure', stall_kpa)}, below {both('pressure', to_kpa)}. Take a stronger one.",
            "stall_kpa",
        )
    return volume_l * stall_kpa / (101.325 * free_l_min) * math.log((stall_kpa - from_kpa) / (stall_kpa - to_kpa))
