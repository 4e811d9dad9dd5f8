import datetime as dt
from dataclasses import dataclass
from typing import Literal

from ballast.core.working import Phrase
from ballast.server.edge.quantities import Day, Find
from ballast.server.edge.schema import Out, Strict


@dataclass(frozen=True)
class Series:
    """A tire through its services, oldest first, in columns of one length [kPa]; what its last service knows."""

    code: str
    name: str
    tire: int | None
    spare: bool
    round: list[int]
    level: list[float]
    left: list[float | None]
    raw: list[float]
    elsewhere: list[str]
    target: float | None
    rate_kpa_month: float
    rate_low_kpa_month: float
    rate_high_kpa_month: float
    measured: bool
    named: bool
    since: dt.datetime | None
    low_on: dt.date | None
    low_soonest: dt.date | None
    words: Phrase
    # Off a display, at the same air [kPa] with half-widths at 95 %; what they say of what it loses, and whether other than its rounds.
    seen_at: list[dt.datetime]
    seen_level: list[float]
    seen_within: list[float]
    display: Phrase | None
    apart: bool


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
    words: list[Phrase]
    odd: bool
    amended: int


class SealedRoundsOut(Out):
    """Rounds as they are asked for, and whether there are more past them."""

    rounds: list[SealedRoundOut]
    more: bool


class PredictionRecordOut(Out):
    """How good predictions have been: measured by the next round."""

    measured: int
    inside: float | None
    typical_kpa: float | None
    lean_kpa: float | None


@dataclass(frozen=True)
class Mark:
    """What changed on a day beside the pressures."""

    day: float
    what: Literal["gauge", "tire", "amended"]
    words: str


@dataclass(frozen=True)
class RoundAir:
    """Each round's day and air [days, °C], in columns of one length."""

    round: list[int]
    day: list[float]
    c: list[float]


class LookBackOut(SealedRoundsOut):
    """`start` is day 0."""

    start: dt.datetime | None
    tires: list[Series]
    marks: list[Mark]
    air: RoundAir
    record: PredictionRecordOut
    next_check_on: dt.date | None
    next_check_over: bool
    next_check_words: str


class SealedIn(Strict):
    """Which sealed rounds: those in which every word stands, in which order, and that come in it past one."""

    find: Find = ""
    sort: Literal["newest", "oldest"] = "newest"
    past: int | None = None


class ChecksIn(SealedIn):
    """Over all rigs, whose names are looked through too: of somebody, with a gauge, read on some days in UTC."""

    member: int | None = None
    gauge: int | None = None
    since: Day | None = None
    until: Day | None = None


@dataclass(frozen=True)
class CheckLine:
    """A sealed round: of which rig, by whom, with which gauge, where, of how many tires, and what came of it."""

    id: int
    rig: int
    name: str
    sealed_at: dt.datetime
    read_at: dt.datetime
    by: str
    gauge: str
    place: str
    outside_c: float
    tires: int
    partial: bool
    summary: str


class ChecksOut(Out):
    """A page of checks, the newest first, and whether there are more before them."""

    checks: list[CheckLine]
    more: bool
