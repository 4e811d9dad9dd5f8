"""From a scale ticket to the load on each tire: `loads` (limits, margins), `passes` (the scale), `whatif` (moving mass)."""

from ballast.core.weighing.loads import (
    OVERLOAD_CAUTION,
    AxleLimits,
    AxleLoad,
    AxleReading,
    Bars,
    Check,
    RigLimits,
    RigLoad,
    judge_hitch,
    leveling_kg,
    overload_words,
    weigh_axle,
    weigh_rig,
)
from ballast.core.weighing.passes import WAYS, Pass, Solved, Spot, Step, Vehicle, Way, check_passes, guide, solve
from ballast.core.weighing.whatif import (
    BARS_RESTORE,
    PER_LITER_KG,
    Effect,
    Part,
    Placed,
    Support,
    bars_effect,
    cargo_left,
    effect,
    place_mass,
)

__all__ = [
    "BARS_RESTORE", "OVERLOAD_CAUTION", "PER_LITER_KG", "WAYS", "AxleLimits", "AxleLoad", "AxleReading", "Bars", "Check",
    "Effect", "Part", "Pass", "Placed", "RigLimits", "RigLoad", "Solved", "Spot", "Step", "Support", "Vehicle", "Way",
    "bars_effect", "cargo_left", "check_passes", "effect", "guide", "judge_hitch", "leveling_kg",
    "overload_words", "place_mass", "solve", "weigh_axle", "weigh_rig",
]  # fmt: skip
