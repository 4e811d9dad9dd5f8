"""One pressure per axle: the load gives a floor, tire and wheel give a ceiling, every school a mark between them."""

from ballast.core.targets.across import across, placard_carried, placard_equivalent
from ballast.core.targets.axle import (
    NO_PRESSURE,
    AxleTarget,
    State,
    axle_target,
    limits_of_own,
)
from ballast.core.targets.case import AxleCase, TireCase
from ballast.core.targets.lamp import LampSeen, lamp_kpa, lamp_learned, own_lamp_kpa
from ballast.core.targets.needs import FloorFrom, Rated, as_rated, ceiling_of, too_low
from ballast.core.targets.ranges import range_refused, range_words, ranged
from ballast.core.targets.schools import (
    BETWEEN,
    DEFAULT_EDGE,
    DEFAULT_RESERVE,
    EDGE_CHOICES,
    RESERVE_CHOICES,
    SCHOOLS,
    Between,
    Chosen,
    Flag,
    Policy,
    School,
)
from ballast.core.targets.spares import SpareTarget, spare_target
from ballast.core.targets.unseen import Before, changes, contradicts
from ballast.core.targets.unweighed import row_of

__all__ = [
    "BETWEEN",
    "DEFAULT_EDGE",
    "DEFAULT_RESERVE",
    "EDGE_CHOICES",
    "NO_PRESSURE",
    "RESERVE_CHOICES",
    "SCHOOLS",
    "AxleCase",
    "AxleTarget",
    "Before",
    "Between",
    "Chosen",
    "Flag",
    "FloorFrom",
    "LampSeen",
    "Policy",
    "Rated",
    "School",
    "SpareTarget",
    "State",
    "TireCase",
    "across",
    "as_rated",
    "axle_target",
    "ceiling_of",
    "changes",
    "contradicts",
    "lamp_kpa",
    "lamp_learned",
    "limits_of_own",
    "own_lamp_kpa",
    "placard_carried",
    "placard_equivalent",
    "range_refused",
    "range_words",
    "ranged",
    "row_of",
    "spare_target",
    "too_low",
]  # fmt: skip
