"""From a scale ticket to the load on each tire.

`loads` (limits, margins), `passes` (the scale), `whatif` (moving mass), `drift` (what crept up).
"""

from ballast.core.weighing.drift import Drift, drifts
from ballast.core.weighing.loads import (
    ASSUMED_HEAVIER,
    LOAD_STATES,
    OVERLOAD_CAUTION,
    SCALE_STAMP,
    AxleLimits,
    AxleLoad,
    AxleReading,
    Bars,
    Check,
    RigLimits,
    RigLoad,
    Weighed,
    combined_kg,
    leveling_kg,
    overload_words,
    weigh_axle,
    weigh_rig,
    weigh_together,
)
from ballast.core.weighing.passes import (
    WAYS,
    Pass,
    Solved,
    Spot,
    Step,
    Vehicle,
    Way,
    check_passes,
    guide,
    hitch_by_vehicle,
    solve,
)
from ballast.core.weighing.whatif import (
    NOTHING,
    PER_LITER_KG,
    CargoLeft,
    Effect,
    Part,
    Placed,
    Support,
    bars_effect,
    cargo_at,
    cargo_left,
    check_place,
    effect,
    lay_on,
    mass_kg,
    place_mass,
)

__all__ = [
    "ASSUMED_HEAVIER", "LOAD_STATES", "NOTHING", "OVERLOAD_CAUTION", "PER_LITER_KG", "SCALE_STAMP", "WAYS", "AxleLimits", "AxleLoad", "AxleReading", "Bars",
    "CargoLeft", "Check", "Drift", "Effect", "Part", "Pass", "Placed", "RigLimits", "RigLoad", "Solved", "Spot", "Step",
    "Support", "Vehicle", "Way", "Weighed", "bars_effect", "cargo_at", "cargo_left", "check_passes", "check_place", "combined_kg", "drifts",
    "effect", "guide", "hitch_by_vehicle", "lay_on", "leveling_kg", "mass_kg", "overload_words", "place_mass", "solve",
    "weigh_axle", "weigh_rig", "weigh_together",
]  # fmt: skip
