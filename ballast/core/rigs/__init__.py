"""What stands in the yard: `sizes` (the sidewall), `vehicles` (the labels), `fittings` (the tires that are on now)."""

from ballast.core.rigs.fittings import (
    DUAL_DIAMETER_MM,
    RETORQUE_KM,
    Finding,
    Fitted,
    Rotation,
    findings,
    retorque_left_km,
    retorque_words,
    rotations,
)
from ballast.core.rigs.sizes import (
    AGE_REPLACE_TRAILER_YEARS,
    AGE_REPLACE_YEARS,
    SPEEDS,
    DateCode,
    Size,
    age_words,
    age_years,
    asked_for,
    load_index_kg,
    read_date_code,
    read_size,
)
from ballast.core.rigs.vehicles import (
    KINDS,
    LIGHT_GVWR_KG,
    PULLED,
    TRAILERS,
    Axle,
    Caution,
    Group,
    Rig,
    Role,
    Row,
    Tire,
    Wheel,
    axle_name,
    cautions,
    check_hitching,
    contradictions,
    groups,
    is_light,
    load_divisor,
    ready_to_roll,
    walking_order,
    weakest,
)

__all__ = [
    "AGE_REPLACE_TRAILER_YEARS", "AGE_REPLACE_YEARS", "DUAL_DIAMETER_MM", "KINDS", "LIGHT_GVWR_KG", "PULLED",
    "RETORQUE_KM", "SPEEDS", "TRAILERS", "Axle", "Caution", "DateCode", "Finding", "Fitted", "Group", "Rig", "Role",
    "Rotation", "Row", "Size", "Tire", "Wheel", "age_words", "age_years", "asked_for", "axle_name", "cautions",
    "check_hitching", "contradictions", "findings", "groups", "is_light", "load_divisor", "load_index_kg", "read_date_code",
    "read_size", "ready_to_roll", "retorque_left_km", "retorque_words", "rotations", "walking_order", "weakest",
]  # fmt: skip
