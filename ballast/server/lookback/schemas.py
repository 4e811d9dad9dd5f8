import datetime as dt
from typing import Literal

from ballast.core.rounds import Word
from ballast.server.edge.schema import Out
from ballast.server.edge.words import PhraseOut


class SeriesOut(Out):
    """A tire through its services, oldest first, in columns of one length [kPa]; the days stand with the rounds.

    `level`: as it would read at 20 °C and sea level, as found; `left`: the same once air was set; `raw`: as the gauge showed.
    Where the tire was elsewhere then, `elsewhere` names the wheel; empty where it always was here.
    """

    code: str
    name: str
    tire: int | None
    spare: bool
    round: list[int]
    level: list[float]
    left: list[float | None]
    raw: list[float]
    elsewhere: list[str]
    # Target of the last round as it would read at 20 °C and sea level.
    target: float | None
    rate_kpa_month: float | None
    rate_low_kpa_month: float | None
    rate_high_kpa_month: float | None
    measured: bool
    named: bool
    since: dt.datetime | None
    low_on: dt.date | None
    low_soonest: dt.date | None
    words: PhraseOut


class SealedRoundOut(Out):
    """A sealed round as a line: when, in what air, and leak or weather in two sentences."""

    id: int
    at: dt.datetime
    by: str
    time_zone: str
    gauge: str
    place: str
    outside_c: float
    elevation_m: float
    summary: str
    words: list[PhraseOut]
    odd: bool
    amended: int


class SealedRoundsOut(Out):
    """Rounds, newest first, and whether there are more before them."""

    rounds: list[SealedRoundOut]
    more: bool


class PredictionRecordOut(Out):
    """How good predictions have been: measured by the next round."""

    measured: int
    inside: float | None
    typical_kpa: float | None
    lean_kpa: float | None


class MarkOut(Out):
    """What changed on a day beside the pressures."""

    day: float
    what: Literal["gauge", "tire", "amended"]
    words: str


class RoundAirOut(Out):
    """Each round's day and air [days, °C], in columns of one length."""

    round: list[int]
    day: list[float]
    c: list[float]


class LookBackOut(SealedRoundsOut):
    """`start` is day 0."""

    start: dt.datetime | None
    tires: list[SeriesOut]
    marks: list[MarkOut]
    air: RoundAirOut
    record: PredictionRecordOut
    next_check_on: dt.date | None
    next_check_words: str


class ExpectedOut(Out):
    """A tire this morning, before anyone kneels: an estimate from its last service."""

    code: str
    name: str
    spare: bool
    kpa: float
    within_kpa: float
    floor_kpa: float | None
    target_kpa: float | None
    ceiling_kpa: float | None
    word: Word
    words: PhraseOut
    # Whether the whole range asks for it.
    sure: bool
    last_at: dt.datetime
    named: bool


class MorningRigOut(Out):
    id: int
    name: str
    fleet_number: str
    place: str
    outside_c: float | None
    words: PhraseOut
    # So many tires want air, hold, and are not known.
    wanting: int
    holding: int
    unknown: int
    # What its numbers come from and is made up.
    stamps: list[str]
    tires: list[ExpectedOut]
    next_check_on: dt.date | None
    next_check_words: str


class MorningOut(Out):
    """`rigs`: the most urgent first. `record` is of the whole workspace, or of the rig alone."""

    at: dt.datetime
    rigs: list[MorningRigOut]
    record: PredictionRecordOut
