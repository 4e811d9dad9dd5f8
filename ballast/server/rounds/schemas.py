import datetime as dt
from typing import Annotated, Literal

from ballast.server.edge.quantities import Elevation, Hours, Pressure, Station, Temperature, Words
from ballast.server.edge.schema import Out, Strict
from ballast.server.edge.words import LineOut, PhraseOut

Word = Literal["stop", "add", "let_out", "hold", "cannot_tell", "not_checked"]


class ConditionsIn(Strict):
    """What a round is read in: gauge, air (a place, or by hand) and how long the rig has stood."""

    gauge: int
    standing_h: Hours
    driven: Literal["highway", "town"] = "highway"
    place_key: Annotated[str, Words(40)] = ""
    outside_c: Temperature | None = None
    morning_c: Temperature | None = None
    dawn_c: Temperature | None = None
    elevation_m: Elevation | None = None
    station_kpa: Station | None = None


class ReadingIn(Strict):
    """A gauge reading as typed. `not_rolled`: somebody said that the tire has not rolled like this."""

    wheel: Annotated[str, Words(8, 1)]
    after: bool = False
    pressure: Pressure
    not_rolled: bool = False


class WorkReadingIn(ReadingIn):
    round: int


class SealIn(Strict):
    unread_reason: Annotated[str, Words(200)] = ""


class AnswerOut(Out):
    word: Word
    words: PhraseOut
    cold_kpa: float | None
    uncertainty_kpa: float | None
    estimate: bool
    change_kpa: float | None
    notes: list[PhraseOut]
    working: list[LineOut]


class ReadingOut(Out):
    uuid: str
    typed: str
    raw_kpa: float
    corrected_kpa: float
    uncertainty_kpa: float
    gauge: str
    not_rolled: bool
    by: str
    at: dt.datetime


class RoundWheelOut(Out):
    """A wheel of a round: what it is held against, what was read, what that means. `own` is its code on its own rig."""

    code: str
    name: str
    own: str
    rig: int
    axle: int | None
    spare: bool
    floor_kpa: float | None
    target_kpa: float | None
    ceiling_kpa: float | None
    here_kpa: float | None
    shows_kpa: float | None
    target_working: list[LineOut]
    target_notes: list[PhraseOut]
    before: ReadingOut | None
    after: ReadingOut | None
    answer: AnswerOut
    after_answer: AnswerOut | None
    locked: bool
    retakes: int


class RoundOut(Out):
    id: int
    rig: int
    rig_name: str
    gauge: int
    gauge_label: str
    gauge_condition: PhraseOut | None
    place: str
    time_zone: str
    outside_c: float
    morning_c: float | None
    dawn_c: float | None
    elevation_m: float
    standing_h: float
    driven: Literal["highway", "town"]
    cold: bool
    wait_h: float
    opened_by: str
    opened_at: dt.datetime
    sealed_by: str | None
    sealed_at: dt.datetime | None
    unread_reason: str
    wheels: list[RoundWheelOut]
    findings: list[str]
    over: list[PhraseOut]
    samples: bool
    # Absent from rounds that were sealed before it was asked for.
    unchecked: bool = False
    summary: str
