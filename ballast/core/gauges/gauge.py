"""What a gauge says, what is true, and how sure one can be."""

import datetime as dt
import itertools
import math
import statistics
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.units import PSI_KPA, both
from ballast.core.working import Phrase, kpa, say

GaugeKind = Literal["stick", "dial", "digital", "inflator", "display", "sensor", "station", "master"]
KIND_NAMES: dict[str, str] = {
    "stick": "Stick",
    "dial": "Dial",
    "digital": "Digital",
    "inflator": "Inflator gauge",
    "display": "Vehicle display",
    "sensor": "Wheel sensor",
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
    "sensor": 3.0,
    "station": 5.0,
    "master": 1.0,
}
UNKNOWN_MASTER = 0.005
# What was compared with no master is true within this at best [kPa].
NO_MASTER_KPA = 1.0 * PSI_KPA
STALE_DAYS = 365
# What makes a gauge suspect until it is compared with a master again.
Suspicion = Literal["", "drop", "over-pressure", "differs", "rounds"]
SUSPICIONS: dict[str, Phrase] = {
    "drop": say("It was dropped: suspect until compared with a master again."),
    "over-pressure": say("It was over-pressed: suspect until compared with a master again."),
    "differs": say("It differs from another gauge by 4 psi or more: it logs nothing until compared with a master."),
    "rounds": say("By its rounds it reads otherwise than its fellows: suspect until compared with a master again."),
}
# What a person noted, and may take back; what was measured only a comparison settles.
NOTED: tuple[Suspicion, ...] = ("drop", "over-pressure")
# Gauges that read by themselves; they hang on no foot and no hand chooses them.
FITTED = ("display", "sensor")
# Displays that learn their offset from rounds in which a gauge was read beside them.
LEARNING = ("inflator", *FITTED)


@dataclass(frozen=True)
class Pair:
    """One comparison: the master's pressure and what the gauge showed [kPa], going up or coming down."""

    reference_kpa: float
    reading_kpa: float
    direction: Literal["", "up", "down"] = ""


@dataclass(frozen=True)
class Gauge:
    """A gauge with its range, resolution [kPa], pairs, and the master's standard uncertainty [kPa] where known."""

    kind: str
    low_kpa: float
    high_kpa: float
    resolution_kpa: float
    pairs: tuple[Pair, ...] = ()
    master_u_kpa: float | None = None
    dual_foot: bool = True
    # Set in another place's air: a sensor sealed to a fixed reference [kPa absolute]; None: it feels the air itself.
    sealed_kpa: float | None = None
    # It is never surer than this, half a width at 95 % [kPa]: what it was compared with was no master, or it is in doubt.
    least_kpa: float = 0.0

    # Every reading of a round asks for these again.
    @cached_property
    def points(self) -> tuple[tuple[float, float], ...]:
        """Its `curve`: (reading, error) points [kPa]; of one never compared none."""
        return curve(self.pairs) if self.pairs else ()

    @cached_property
    def points_back(self) -> tuple[tuple[float, float], ...]:
        """(true pressure, error) points [kPa]."""
        return tuple((reading - error, error) for reading, error in self.points)

    @cached_property
    def scatter(self) -> float:
        return scatter(self.pairs)


@dataclass(frozen=True)
class Corrected:
    """A true pressure [kPa], its uncertainty at 95 % [kPa], and whether it lies outside the calibration."""

    kpa: float
    uncertainty_kpa: float
    outside: bool


@lru_cache(maxsize=256)
def curve(pairs: tuple[Pair, ...]) -> tuple[tuple[float, float], ...]:
    """(reading, error) points rising by reading, repeats at one reference averaged [kPa].

    Raises Refusal when readings do not rise with the reference.
    """
    groups: dict[float, list[float]] = {}
    for pair in pairs:
        groups.setdefault(round(pair.reference_kpa, 3), []).append(pair.reading_kpa)
    points = tuple((statistics.fmean(r), statistics.fmean(r) - ref) for ref, r in sorted(groups.items()))
    for (a, _), (b, _) in itertools.pairwise(points):
        if b <= a:
            raise Refusal(
                "The gauge's readings do not rise with the reference. Check the pairs: one may be mistyped.", "pairs"
            )
    return points


def _between(x: float, points: tuple[tuple[float, float], ...]) -> tuple[float, bool]:
    """y at x by straight lines, the nearest outside; and whether x was outside."""
    if x <= points[0][0]:
        return points[0][1], x < points[0][0]
    for (x0, y0), (x1, y1) in itertools.pairwise(points):
        if x <= x1:
            return y0 + (y1 - y0) * (x - x0) / (x1 - x0), False
    return points[-1][1], x > points[-1][0]


def correct(gauge: Gauge, reading_kpa: float, outside_kpa: float | None = None) -> Corrected:
    """The true pressure behind a reading: reading − error(reading).

    `outside_kpa` is the air's own pressure there [kPa absolute]; a sensor sealed to a fixed reference is put right by it.

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
        true = reading_kpa + sealed_low(gauge, outside_kpa)
        return Corrected(true, max(never_compared_kpa(gauge.kind), gauge.least_kpa), False)
    error, outside = _between(reading_kpa, gauge.points)
    true = reading_kpa - error + sealed_low(gauge, outside_kpa)
    u_ref = gauge.master_u_kpa if gauge.master_u_kpa is not None else UNKNOWN_MASTER * true
    sure = 2 * math.sqrt(u_ref**2 + gauge.resolution_kpa**2 / 12 + gauge.scatter**2)
    return Corrected(true, max(sure, gauge.least_kpa), outside)


def never_compared_kpa(kind: str) -> float:
    """How far off a gauge of a kind may be that was never compared, half a width at 95 % [kPa]."""
    return NEVER_COMPARED_PSI[kind] * PSI_KPA


def least_kpa(kind: str, in_doubt: bool, no_master: bool, apart_kpa: float = 0.0) -> float:
    """What a gauge is never surer than [kPa]: in doubt, as one never compared, and no better than its rounds found it
    (`apart_kpa`); against no master, a psi.

    >>> [round(least_kpa("digital", True, False, apart), 2) for apart in (0.0, 18.1)]
    [6.89, 18.1]
    """
    return max(never_compared_kpa(kind) if in_doubt else 0.0, NO_MASTER_KPA if no_master else 0.0, apart_kpa)


@lru_cache(maxsize=256)
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


def shows(gauge: Gauge, true_kpa: float, outside_kpa: float | None = None) -> float:
    """What this gauge shows [kPa] when the pressure is `true_kpa`: the correction, backwards."""
    true_kpa -= sealed_low(gauge, outside_kpa)
    if not gauge.pairs:
        return true_kpa
    error, _ = _between(true_kpa, gauge.points_back)
    return true_kpa + error


def sure_at(gauge: Gauge, true_kpa: float, outside_kpa: float | None = None) -> float:
    """How sure a gauge is where it shows a true pressure, half a width at 95 % [kPa]; outside its range at the nearer end."""
    shown = min(max(shows(gauge, true_kpa, outside_kpa), gauge.low_kpa), gauge.high_kpa)
    return correct(gauge, shown, outside_kpa).uncertainty_kpa


def sealed_low(gauge: Gauge, outside_kpa: float | None) -> float:
    """What a sensor sealed to a fixed reference reads too low [kPa] where the air is at `outside_kpa` absolute."""
    return 0.0 if gauge.sealed_kpa is None or outside_kpa is None else gauge.sealed_kpa - outside_kpa


@dataclass(frozen=True)
class Suits:
    """Whether a gauge can read a target at all, what speaks against it, and how sure it would be there [kPa]."""

    able: bool
    notes: tuple[Phrase, ...]
    uncertainty_kpa: float | None


def suits(gauge: Gauge, target_kpa: float, inner: bool = False, outside_kpa: float | None = None) -> Suits:
    """Whether a gauge suits a target; `inner`: the valve of an inner dual wheel, which takes a foot for it."""
    shown = shows(gauge, target_kpa, outside_kpa)
    if not gauge.low_kpa <= shown <= gauge.high_kpa:
        words = say("{0} is outside its range, {1} to {2}.", kpa(shown), kpa(gauge.low_kpa), kpa(gauge.high_kpa))
        return Suits(False, (words,), None)
    share = (shown - gauge.low_kpa) / (gauge.high_kpa - gauge.low_kpa)
    notes: list[Phrase] = []
    if share > 0.9:
        notes.append(say("{0} is in the last tenth of its range.", kpa(shown)))
    elif share < 0.1:
        notes.append(say("{0} is in the first tenth of its range.", kpa(shown)))
    elif gauge.kind in ("dial", "stick") and not 0.25 <= share <= 0.75:
        notes.append(say("It reads best between a quarter and three quarters of its range."))
    corrected = correct(gauge, shown, outside_kpa)
    if (low := sealed_low(gauge, outside_kpa)) >= 0.5:
        notes.append(
            say("Sealed to a fixed reference, it reads {0} low at this elevation: that is corrected.", kpa(low))
        )
    if corrected.outside:
        notes.append(say("It was not compared with a master at such a pressure."))
    reaches = not inner or gauge.dual_foot or gauge.kind in FITTED
    if not reaches:
        notes.append(say("It has no foot for inner duals."))
    return Suits(reaches, tuple(notes), corrected.uncertainty_kpa)


def worth_comparing(gauge: Gauge) -> Phrase | None:
    """Of a gauge that was never compared: what one good gauge beside it would give, and how; None: it was.

    One half-width at 95 % of the other, and half a step of its own.
    """
    if gauge.pairs:
        return None
    then = math.hypot(NO_MASTER_KPA, gauge.resolution_kpa / 2)
    now = never_compared_kpa(gauge.kind)
    if then >= now:
        return None
    return say(
        "Beside one good gauge it would be sure within {0}, not {1}. One cold tire, both gauges, one after the other, "
        "three times: a minute.",
        kpa(then, "up"), kpa(now, "up"),
    )  # fmt: skip


def due_on(compared_on: dt.date, every_days: int) -> dt.date:
    """The last day on which a comparison still stands.

    >>> due_on(dt.date(2026, 3, 1), 365)
    datetime.date(2027, 3, 1)
    """
    return compared_on + dt.timedelta(days=every_days)


def off_by_rounds(error_kpa: float) -> Phrase:
    """How far a gauge reads above or below its fellows, by its rounds, and what is to be done about it.

    >>> off_by_rounds(-16.0).text
    'By its rounds it reads {0} below its fellows: compare it before it is used.'
    """
    way = "above" if error_kpa > 0 else "below"
    return say(f"By its rounds it reads {{0}} {way} its fellows: compare it before it is used.", kpa(abs(error_kpa)))


def condition(
    gauge: Gauge,
    compared_days_ago: int | None,
    suspicion: str = "",
    every_days: int = STALE_DAYS,
    found_kpa: float | None = None,
) -> Phrase | None:
    """What must be said of a gauge before it is believed; None: nothing.

    `found_kpa`: how far its rounds found it above its fellows, where that is why it is suspect.
    """
    if suspicion == "rounds" and found_kpa is not None:
        return off_by_rounds(found_kpa)
    if suspicion:
        return SUSPICIONS[suspicion]
    if not gauge.pairs or compared_days_ago is None:
        return say("Never compared with a master: sure within {0}, either way.", kpa(never_compared_kpa(gauge.kind)))
    if compared_days_ago > every_days:
        return say(f"Last compared {compared_days_ago // 30} months ago: suspect until compared again.")
    return None
