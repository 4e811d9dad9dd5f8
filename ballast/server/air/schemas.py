import datetime as dt
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from ballast.core import air as core
from ballast.core.air import MOST_LEGS, TemperaturePolicy
from ballast.core.working import Line, Phrase
from ballast.server.edge.quantities import (
    CheckDays,
    Day,
    Elevation,
    Hours,
    Pressure,
    Station,
    Temperature,
    TireTemperature,
    Version,
    Words,
)
from ballast.server.edge.schema import Out, Strict
from ballast.server.targets.policies import Way


class ForecastDayIn(Strict):
    """A day's low at dawn and its high."""

    on: Day
    low_c: Temperature
    high_c: Temperature | None = None


class ForecastIn(Strict):
    """Lines of a day, a low and a high, pasted or read from a file; `columns` where they are a table."""

    text: Annotated[str, Field(max_length=40_000)]
    columns: core.Columns | None = None
    today: Day


class AirIn(Strict):
    """A place of the weather service, or outside temperature and elevation by hand.

    `station_kpa` is the pressure measured there, absolute, in place of the standard one of the elevation.
    """

    place_key: Annotated[str, Words(40)] = ""
    outside_c: Temperature | None = None
    dawn_c: Temperature | None = None
    high_c: Temperature | None = None
    elevation_m: Elevation | None = None
    station_kpa: Station | None = None
    # Of the days ahead, by hand too; null: as it is kept for the rig, empty: none.
    forecast: Annotated[list[ForecastDayIn], Field(max_length=40)] | None = None
    # The clock where it is typed, minutes east of UTC: by that its dawn passes.
    offset_min: Annotated[int, Field(ge=-840, le=840)] | None = None


class AirKeptIn(AirIn):
    """The air that a rig goes by from now on."""

    version: Version = ""


class RigAirIn(AirIn):
    """The air for a rig, or with `whole` for all that is hitched behind it as well."""

    rig: int
    whole: bool = False


class WorkAirIn(RigAirIn):
    """`temperature` and `check_days` try another way than the rig's."""

    temperature: TemperaturePolicy | None = None
    check_days: CheckDays | None = None


@dataclass(frozen=True)
class DayAhead:
    """A day to come: its dawn low and high [°C], and in how many days its dawn is. By hand it has no date.

    `judged`: its dawn comes before the next check.
    """

    date: dt.date | None
    dawn_at: dt.datetime | None
    dawn_c: float | None
    high_at: dt.datetime | None
    high_c: float | None
    days: float
    judged: bool = False


@dataclass(frozen=True)
class ByHand:
    """What was typed by hand, kept while a place is used as well."""

    outside_c: float
    dawn_c: float | None
    high_c: float | None
    elevation_m: float | None
    station_kpa: float | None
    typed_at: dt.datetime
    forecast: tuple[core.ForecastDay, ...] = ()
    forecast_at: dt.datetime | None = None


class AirOut(Out):
    """The air in use. Unknown is null. `old`: typed too long ago to go by, with its age in words; `stamp`: of a simulation."""

    source: Literal["service", "hand", "none"]
    place_key: str
    place: str
    time_zone: str
    outside_c: float | None
    morning_c: float | None
    dawn_c: float | None
    dawn_at: dt.datetime | None
    high_c: float | None
    elevation_m: float | None
    station_kpa: float | None
    set_at: dt.datetime | None
    silent: bool
    stamp: str
    old: bool
    age_h: float | None
    age_words: Phrase | None
    by_hand: ByHand | None
    week: list[DayAhead]
    version: str


@dataclass(frozen=True)
class AxleDay:
    """What an axle set here and now reads at a coming dawn, and at that day's high (shown, not judged) [kPa]."""

    dawn_kpa: float | None
    high_kpa: float | None
    above_floor: bool | None
    below_ceiling: bool | None


@dataclass(frozen=True)
class Band:
    """Which axle of which vehicle, and its band [kPa]."""

    rig: int
    rig_name: str
    number: int
    name: str
    floor_kpa: float | None
    target_kpa: float
    ceiling_kpa: float | None


@dataclass(frozen=True)
class AxleAir(Band):
    """An axle's target in this air [kPa]: what to set here now, what it reads at dawn, and whether that holds."""

    here_kpa: float
    raised: bool
    lowered: bool
    capped: bool
    hold_from_kpa: float | None
    dawn_kpa: float | None
    coldest_kpa: float | None
    eaten: float | None
    above_floor: bool | None
    below_ceiling: bool | None
    # A dawn before the next check leaves the band.
    leaves_band: bool
    days: tuple[AxleDay, ...]
    words: Phrase
    notes: tuple[Phrase, ...]
    working: tuple[Line, ...]


class AirAnswerOut(Out):
    air: AirOut
    axles: list[AxleAir]
    words: Phrase
    way: Way


class ElsewhereIn(RigAirIn):
    """Where the tires stand while they are set: their own temperature, the elevation there."""

    tire_c: TireTemperature
    at_elevation_m: Elevation | None = None


@dataclass(frozen=True)
class Elsewhere(Band):
    """What the gauge must show at an axle where its tires stand now [kPa], so that the target stands outside."""

    here_kpa: float
    set_kpa: float
    wanted_kpa: float
    capped: bool
    words: Phrase
    working: tuple[Line, ...]


class WarmIn(RigAirIn):
    """A tire that is read warm. Every way for which enough is given is answered."""

    axle: Annotated[int, Field(ge=1, le=9)]
    reading: Pressure | None = None
    tire_c: TireTemperature | None = None
    standing_h: Hours | None = None
    driven: Literal["highway", "town"] = "highway"
    cold_kpa: Pressure | None = None
    set_in_c: Temperature | None = None
    hot_kpa: Pressure | None = None


@dataclass(frozen=True)
class Warm:
    """Is it cold yet; the ways to top it up, the most trusted first; what it should read hot."""

    cold: bool | None
    wait_h: float | None
    waits: Phrase | None
    here_kpa: float | None
    ways: tuple[core.TopUp, ...]
    hot: core.HotRise | None


class ReadingsIn(Strict):
    """Cold readings by temperature of targets set at `set_in_c`; null: at the reference of 20 °C."""

    rig: int
    whole: bool = False
    set_in_c: Temperature | None = None
    elevation_m: Elevation | None = None


@dataclass(frozen=True)
class AxleReadings(Band):
    """An axle's cold readings by temperature, and where law and thumb rule part [kPa]."""

    readings: tuple[core.Reading, ...]
    parting: tuple[core.Parting, ...]
    parts_most: core.Parting


@dataclass(frozen=True)
class Readings:
    """Every axle's cold readings, set at a temperature and an elevation."""

    set_in_c: float
    elevation_m: float
    axles: tuple[AxleReadings, ...]


class LegIn(Strict):
    """A night of a trip: a place of the weather service with its date, or elevation and dawn low by hand."""

    name: Annotated[str, Words(60)] = ""
    place_key: Annotated[str, Words(40)] = ""
    on: Day | None = None
    elevation_m: Elevation | None = None
    dawn_c: Temperature | None = None
    high_c: Temperature | None = None


Legs = Annotated[list[LegIn], Field(max_length=MOST_LEGS)]


class WorkTripIn(RigAirIn):
    legs: Legs


class TripIn(Strict):
    version: Version = ""
    legs: Legs


class LegTypedOut(Out):
    """A leg as it was typed."""

    name: str
    place_key: str
    on: dt.date | None
    elevation_m: str | None
    dawn_c: str | None
    high_c: str | None


class TripStoredOut(Out):
    legs: list[LegTypedOut]
    set_by: str
    set_at: dt.datetime | None
    version: str


@dataclass(frozen=True)
class Night:
    """A leg with its air: `day` counts from where the trip begins; `date` is known where it was entered or is forecast."""

    name: str
    elevation_m: float
    dawn_c: float
    high_c: float | None
    day: float
    date: dt.date | None


@dataclass(frozen=True)
class AxleTrip(Band):
    """An axle along the trip [kPa]: the stretches that one fill holds, what it reads each night, where none can hold."""

    here_kpa: float
    stretches: tuple[core.Stretch, ...]
    readings: tuple[core.LegReading, ...]
    clash: tuple[int | None, ...] | None
    words: Phrase
    notes: tuple[Phrase, ...]


@dataclass(frozen=True)
class Trip:
    """Every axle along a trip, and whether one fill holds the whole way."""

    legs: tuple[Night, ...]
    axles: tuple[AxleTrip, ...]
    words: Phrase
    one_fill: bool
