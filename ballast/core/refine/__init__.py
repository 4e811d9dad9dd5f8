"""Refined by what tires show: `chalk` (a guided trial), `wear` (rates, and what the shape
says), `rotation` (patterns, air), `events` (what was done to a tire)."""

from ballast.core.refine.chalk import (
    PRECONDITIONS,
    RIBS,
    Bounds,
    Decision,
    Marks,
    OnAxle,
    Pass,
    Rib,
    Since,
    Verdict,
    asked_again,
    bounds_of,
    check_asked,
    check_driven,
    of_tire,
    tells,
    usual_step,
    verdict,
)
from ballast.core.refine.events import EVENTS, POINTS_AT, EventKind, anew_on, check_event
from ballast.core.refine.rotation import (
    AirJob,
    Judged,
    Moves,
    Pattern,
    Place,
    Stay,
    Turned,
    air_jobs,
    apart_mm,
    check_moves,
    coarse_of,
    due,
    judge,
    least_mm,
    patterns,
    stood_km,
    unbroken_from,
)
from ballast.core.refine.wear import (
    LIMIT_CAUTION,
    LIMIT_MM,
    STEER_LIMIT_MM,
    Depth,
    Rate,
    Shape,
    Tread,
    Worn,
    km_a_day,
    limit_on,
    limit_said,
    limit_words,
    one_run,
    rate,
    worn,
)

__all__ = [
    "EVENTS", "LIMIT_CAUTION", "LIMIT_MM", "POINTS_AT", "PRECONDITIONS", "RIBS", "STEER_LIMIT_MM", "AirJob", "Bounds", "Decision", "Depth", "EventKind", "Judged",
    "Marks", "Moves", "OnAxle", "Pass", "Pattern", "Place", "Rate", "Rib", "Shape", "Since", "Stay", "Tread", "Turned", "Verdict", "Worn",
    "air_jobs", "anew_on", "apart_mm", "asked_again", "bounds_of", "check_asked", "check_driven", "check_event", "check_moves", "coarse_of", "due", "judge",
    "km_a_day", "least_mm", "limit_on", "limit_said", "limit_words", "of_tire", "one_run", "patterns", "rate", "stood_km", "tells", "unbroken_from", "usual_step", "verdict", "worn",
]  # fmt: skip
