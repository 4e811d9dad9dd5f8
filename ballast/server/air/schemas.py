import datetime as dt
from typing import Annotated, Literal

from ballast.server.edge.quantities import Elevation, Temperature, Words
from ballast.server.edge.schema import Out, Strict
from ballast.server.edge.words import LineOut, PhraseOut


class AirIn(Strict):
    """A place of the weather service, or outside temperature and elevation by hand."""

    place_key: Annotated[str, Words(40)] = ""
    outside_c: Temperature | None = None
    dawn_c: Temperature | None = None
    elevation_m: Elevation | None = None


class WorkAirIn(AirIn):
    rig: int


class AirOut(Out):
    """The air in use. Unknown is null."""

    source: Literal["service", "hand", "none"]
    place_key: str
    place: str
    time_zone: str
    outside_c: float | None
    morning_c: float | None
    dawn_c: float | None
    dawn_at: dt.datetime | None
    elevation_m: float | None
    set_at: dt.datetime | None
    silent: bool


class AxleAirOut(Out):
    """One axle's target in this air: what to set here now, what it reads at dawn, and whether that holds."""

    number: int
    name: str
    floor_kpa: float | None
    target_kpa: float
    ceiling_kpa: float | None
    here_kpa: float
    raised: bool
    capped: bool
    dawn_kpa: float | None
    above_floor: bool | None
    below_ceiling: bool | None
    words: PhraseOut
    notes: list[PhraseOut]
    working: list[LineOut]


class AirAnswerOut(Out):
    air: AirOut
    axles: list[AxleAirOut]
    words: PhraseOut
