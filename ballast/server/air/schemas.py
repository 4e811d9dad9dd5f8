import datetime as dt
from typing import Annotated, Literal

from pydantic import Field

from ballast.core.air import MOST_LEGS, TemperaturePolicy
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
from ballast.server.edge.words import LineOut, PhraseOut
from ballast.server.targets.schemas import SpareTargetOut, WayOut


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


class DayAheadOut(Out):
    """A day to come: its dawn low and high. By hand, the coming ones without a date."""

    date: dt.date | None
    dawn_at: dt.datetime | None
    dawn_c: float | None
    high_at: dt.datetime | None
    high_c: float | None
    days: float
    judged: bool


class ByHandOut(Out):
    """What was typed by hand, kept while a place is used."""

    outside_c: float
    dawn_c: float | None
    high_c: float | None
    elevation_m: float
    station_kpa: float | None
    typed_at: dt.datetime


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
    age_words: PhraseOut | None
    by_hand: ByHandOut | None
    week: list[DayAheadOut]
    version: str


class AxleDayOut(Out):
    """What an axle set here and now reads at a coming dawn, and at that day's high (shown, not judged)."""

    dawn_kpa: float | None
    high_kpa: float | None
    above_floor: bool | None
    below_ceiling: bool | None


class AxleBandOut(Out):
    """An axle of a vehicle, and its band."""

    rig: int
    rig_name: str
    number: int
    name: str
    floor_kpa: float | None
    target_kpa: float
    ceiling_kpa: float | None


class AxleAirOut(AxleBandOut):
    """One axle's target in this air: what to set here now, what it reads at dawn, and whether that holds.

    `eaten` is the share of what lies over the floor that the coldest dawn before the next check eats.
    """

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
    days: list[AxleDayOut]
    words: PhraseOut
    notes: list[PhraseOut]
    working: list[LineOut]


class AirAnswerOut(Out):
    air: AirOut
    axles: list[AxleAirOut]
    words: PhraseOut
    way: WayOut


class ElsewhereIn(RigAirIn):
    """Where the tires stand while they are set: their own temperature, the elevation there."""

    tire_c: TireTemperature
    at_elevation_m: Elevation | None = None


class ElsewhereOut(AxleBandOut):
    here_kpa: float
    set_kpa: float
    wanted_kpa: float
    capped: bool
    words: PhraseOut
    working: list[LineOut]


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


class TopUpOut(Out):
    way: Literal["temperature", "time", "shortfall"]
    cold_kpa: float
    fill_to_kpa: float
    add_kpa: float
    uncertainty_kpa: float
    words: PhraseOut
    working: list[LineOut]


class HotRiseOut(Out):
    low_kpa: float
    high_kpa: float
    # "run low": below the window, and so low as if cold that it may have rolled flat.
    verdict: Literal["", "as it should", "high", "stop", "low", "run low"]
    words: PhraseOut
    working: list[LineOut]


class WarmOut(Out):
    """Is it cold yet; the ways to top it up, the most trusted first; what it should read hot."""

    cold: bool | None
    wait_h: float | None
    waits: PhraseOut | None
    here_kpa: float | None
    ways: list[TopUpOut]
    hot: HotRiseOut | None


class ReadingsIn(Strict):
    """Cold readings by temperature of targets set at `set_in_c`; null: at the reference of 20 °C."""

    rig: int
    whole: bool = False
    set_in_c: Temperature | None = None
    elevation_m: Elevation | None = None


class AtTemperatureOut(Out):
    temperature_c: float
    kpa: float
    above_floor: bool | None
    below_ceiling: bool | None


class PartOut(Out):
    """Law and thumb rule at a temperature, and how far the rule is off."""

    temperature_c: float
    law_kpa: float
    thumb_kpa: float
    off_kpa: float


class AxleReadingsOut(AxleBandOut):
    readings: list[AtTemperatureOut]
    parting: list[PartOut]
    parts_most: PartOut


class ReadingsOut(Out):
    set_in_c: float
    elevation_m: float
    axles: list[AxleReadingsOut]


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


class LegOut(Out):
    name: str
    elevation_m: float
    dawn_c: float
    high_c: float | None
    day: float
    date: dt.date | None


class LegReadingOut(Out):
    leg: int
    dawn_kpa: float
    high_kpa: float | None
    above_floor: bool | None
    below_ceiling: bool | None


class StretchOut(Out):
    """Legs that one fill holds, set here and now (`at` null) or at the dawn of leg `at`."""

    at: int | None
    legs: list[int]
    need_kpa: float
    most_kpa: float | None
    set_kpa: float
    rules: int | None


class AxleTripOut(AxleBandOut):
    here_kpa: float
    stretches: list[StretchOut]
    readings: list[LegReadingOut]
    clash: list[int | None] | None
    words: PhraseOut
    notes: list[PhraseOut]


class TripOut(Out):
    legs: list[LegOut]
    axles: list[AxleTripOut]
    words: PhraseOut
    one_fill: bool


class CardAxleOut(Out):
    """An axle of the card: its band, and what it reads cold at each temperature."""

    name: str
    position_m: float
    track_m: float
    wheels: int
    size: str
    target_kpa: float | None
    floor_kpa: float | None
    ceiling_kpa: float | None
    words: PhraseOut
    provisional: bool
    readings: list[AtTemperatureOut]


class CardVehicleOut(Out):
    rig: int
    name: str
    fleet_number: str
    trailer: bool
    load_state: str
    weighed_on: dt.date | None
    put_at: dt.datetime | None
    put_by: str
    tables: list[str]
    stamps: list[str]
    unchecked: list[str]
    provisional: bool
    out_of_date: list[str]
    trials: list[str]
    # What is fitted and is not the tire described.
    unlike: list[PhraseOut]
    over: list[PhraseOut]
    axles: list[CardAxleOut]
    spares: list[SpareTargetOut]


class CardOut(Out):
    """The pressure card of a rig, or of a combination from its tow vehicle. `qr` are the rows of the code, 1 is dark."""

    title: str
    vehicles: list[CardVehicleOut]
    temperatures_c: list[float]
    set_in_c: float
    elevation_m: float
    place: str
    made_on: dt.date
    address: str
    qr: list[str]
    cautions: list[str]
    # What is made up: tables, a scale, the air it is set in.
    stamps: list[str]


Paper = Literal["a5", "half-letter"]
