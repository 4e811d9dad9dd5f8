"""Readings over time: `series` (brought to the same air, what they lose), `evidence` (a leak, over rounds), `split` (one
round into weather, shared and own), `predict` (this morning).
"""

from ballast.core.lookback.evidence import (
    HAND_KPA,
    LOSS_SPREAD_MONTH,
    MONTH,
    NAMED_AT,
    SEPARABLE,
    THERMOMETER,
    USUAL_LOSS_MONTH,
    Evidence,
    Scatter,
    Seen,
    Shared,
    Told,
    take_apart,
)
from ballast.core.lookback.month import Kept, Turned, kept, turned
from ballast.core.lookback.predict import (
    Last,
    Misses,
    Predicted,
    Rate,
    Record,
    asks,
    carried,
    days_until,
    leak_words,
    loss_words,
    misses,
    noise_all,
    noise_kpa,
    predict,
    rate,
    record,
    today,
)
from ballast.core.lookback.series import Leak, leak_rate, normalized, normalized_all, thinned
from ballast.core.lookback.split import Circumstances, Part, Split, Step, split

__all__ = [
    "HAND_KPA", "LOSS_SPREAD_MONTH", "MONTH", "NAMED_AT", "SEPARABLE", "THERMOMETER", "USUAL_LOSS_MONTH", "Circumstances", "Evidence", "Kept", "Last", "Leak", "Misses", "Part",
    "Predicted", "Rate", "Record", "Scatter", "Seen", "Shared", "Split", "Step", "Told", "Turned", "asks", "carried", "days_until", "kept", "leak_rate", "leak_words", "loss_words", "misses",
    "noise_all", "noise_kpa", "normalized", "normalized_all", "predict", "rate", "record", "split", "take_apart", "thinned", "today", "turned",
]  # fmt: skip
