"""Refined by what tires show: `chalk` (a guided trial), `wear` (rates, and what the shape says), `rotation` (patterns, air)."""

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
from ballast.core.refine.rotation import AirJob, PatternMove, Turned, air_jobs, due, patterns
from ballast.core.refine.wear import LIMIT_MM, STEER_LIMIT_MM, Depth, Rate, Shape, Worn, limit_words, rate, worn

__all__ = [
    "LIMIT_MM", "PRECONDITIONS", "RIBS", "STEER_LIMIT_MM", "AirJob", "Bounds", "Decision", "Depth", "Marks", "OnAxle", "Pass", "PatternMove",
    "Rate", "Rib", "Shape", "Since", "Turned", "Verdict", "Worn", "air_jobs", "asked_again", "bounds_of", "check_asked", "check_driven", "due", "limit_words", "of_tire",
    "patterns", "rate", "tells", "usual_step", "verdict", "worn",
]  # fmt: skip
