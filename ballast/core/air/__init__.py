"""The air around a standing tire: `ahead` (dawns to come), `forecast` (as a person brings them), `trip`, `cold` (is it cold yet), `warm` (if not), `readings`.

Floors, targets and ceilings come in as numbers; where they come from is not asked here.
"""

from ballast.core.air.ahead import (
    NAMES,
    ORDINARY_LOSS_MONTH,
    POLICIES,
    REFERENCE_C,
    Ahead,
    Dawn,
    Judged,
    Setting,
    TargetHere,
    TemperaturePolicy,
    at_dawn,
    eaten,
    judge,
    leaves_band,
    look_ahead,
    ordinary_loss,
    set_elsewhere,
    set_in,
    target_here,
    until_check,
)
from ballast.core.air.cold import (
    COLD_AFTER_H,
    COLD_CHOICES_H,
    ESTIMATE_SHARE,
    SUN_C,
    Driven,
    Standing,
    cold_equivalent,
    estimate_kpa,
    fill_to,
    in_shop,
    in_sun,
    standing,
    stands_words,
    waits,
)
from ballast.core.air.forecast import (
    FORECAST_OLD_H,
    Columns,
    ComingDay,
    Degrees,
    ForecastDay,
    ForecastRead,
    Unread,
    check_forecast,
    coming_days,
    dawn_days,
    forecast_holds,
    read_forecast,
)
from ballast.core.air.given import NOW_OLD_H, Given, given
from ballast.core.air.readings import Parting, Reading, parting, parts_most, readings, thumb_rule
from ballast.core.air.trip import MOST_LEGS, Leg, LegReading, Stretch, Trip, plan_trip
from ballast.core.air.warm import (
    HOT_OVER_C,
    READING_KPA,
    HotRise,
    TopUp,
    by_shortfall,
    by_temperature,
    by_time,
    hot_rise,
)
from ballast.core.air.words import in_a_line, trip_in_a_line, unknown_air

__all__ = [
    "COLD_AFTER_H", "COLD_CHOICES_H", "ESTIMATE_SHARE", "FORECAST_OLD_H", "HOT_OVER_C", "MOST_LEGS", "NAMES", "NOW_OLD_H", "ORDINARY_LOSS_MONTH", "POLICIES", "READING_KPA", "REFERENCE_C", "SUN_C", "Ahead", "Columns", "ComingDay", "Dawn", "Degrees", "Driven", "ForecastDay", "ForecastRead", "Given", "HotRise", "Judged", "Leg",
    "LegReading", "Parting", "Reading", "Setting", "Standing", "Stretch", "TargetHere", "TemperaturePolicy", "TopUp", "Trip", "Unread",
    "at_dawn", "by_shortfall", "by_temperature", "by_time", "check_forecast", "cold_equivalent", "coming_days", "dawn_days", "eaten", "estimate_kpa", "fill_to", "forecast_holds", "given", "hot_rise", "in_a_line", "in_shop", "in_sun", "judge", "leaves_band", "look_ahead", "ordinary_loss",
    "parting", "parts_most", "plan_trip", "read_forecast", "readings", "set_elsewhere", "set_in", "standing", "stands_words", "target_here", "thumb_rule", "trip_in_a_line", "unknown_air", "until_check", "waits",
]  # fmt: skip
