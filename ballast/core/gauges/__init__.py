"""Gauges and inflators: `gauge` (what one says), `session` (compared with a master), `beside` (two on one tire),
`inflators` (able, set-point, time, order), `deflators` (where a preset set closes), `found_out` (by its rounds).
"""

from ballast.core.gauges.beside import AGREE_KPA, Beside, Learned, beside, learned_offset
from ballast.core.gauges.deflators import Closing, Deflators, deflators, deflators_refused
from ballast.core.gauges.found_out import UNKNOWN, FoundOut, GaugeChange, found_out, found_words, since_compared
from ballast.core.gauges.gauge import (
    FITTED,
    KIND_NAMES,
    LEARNING,
    NO_MASTER_KPA,
    NOTED,
    STALE_DAYS,
    SUSPICIONS,
    Corrected,
    Gauge,
    GaugeKind,
    Pair,
    Suits,
    Suspicion,
    condition,
    correct,
    curve,
    due_on,
    least_kpa,
    scatter,
    sealed_low,
    shows,
    suits,
    sure_at,
    worth_comparing,
)
from ballast.core.gauges.inflators import (
    LARGE_TIRE_L,
    SUPPLIES,
    Fill,
    Inflator,
    Job,
    Supply,
    ToFill,
    air_volume_l,
    fill_minutes,
    job,
    refusal,
    set_point,
    with_rests,
)
from ballast.core.gauges.session import CurvePoint, check_pairs, correction, drift, lag, remarks, uncovered

__all__ = [
    "AGREE_KPA",
    "FITTED", "KIND_NAMES", "LARGE_TIRE_L", "LEARNING", "NOTED", "NO_MASTER_KPA", "STALE_DAYS", "SUPPLIES", "SUSPICIONS", "UNKNOWN", "Beside", "Closing", "Corrected", "CurvePoint", "Deflators", "Fill", "FoundOut", "Gauge", "GaugeChange",
    "GaugeKind", "Inflator", "Job", "Learned", "Pair", "Suits", "Supply", "Suspicion", "ToFill", "air_volume_l", "beside",
    "check_pairs", "condition", "correct", "correction", "curve", "deflators", "deflators_refused", "drift", "due_on", "fill_minutes", "found_out", "found_words", "job", "lag", "learned_offset", "least_kpa", "refusal",
    "remarks", "scatter", "sealed_low", "set_point", "shows", "since_compared", "suits", "sure_at", "uncovered", "with_rests", "worth_comparing",
]  # fmt: skip
