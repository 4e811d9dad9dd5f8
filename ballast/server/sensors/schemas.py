import datetime as dt
from dataclasses import dataclass
from typing import Annotated, Literal
from uuid import UUID

from pydantic import AwareDatetime, Field

from ballast.core import sensors as core
from ballast.core.air import Driven
from ballast.core.sensors import After, Grade, Kind, Light, Limit, Outcome, Seen, StepKey
from ballast.core.working import Line, Phrase
from ballast.server.edge.columns import ColumnsIn, FileLookOut
from ballast.server.edge.quantities import Code, Day, Hours, Minutes, Number, Pressure, Temperature, Version, Words
from ballast.server.edge.schema import Out, Strict
from ballast.server.rounds.schemas import DecisionOut

Source = Literal["display", "app", "cap"]
SOURCES: dict[Source, str] = {"display": "Display", "app": "App", "cap": "Cap"}
Share = Annotated[float, Number("a share under the target", 0, 1)]


class SystemIn(Strict):
    """What a rig has of sensors; null and empty: not known."""

    version: Version = ""
    kind: Kind | Literal[""] = ""
    wheels: Annotated[list[Code], Field(max_length=80)] = []
    spare_heard: bool | None = None
    sealed: bool | None = None
    refresh_min: Annotated[int, Number("minutes of rolling", 0, 120, whole=True)] | None = None
    relearn: Annotated[str, Words(200)] = ""
    batteries_on: Day | None = None
    battery_years: Annotated[int, Number("years", 1, 20, whole=True)] | None = None
    low_share: Share = 0.12


class GlanceNumberIn(Strict):
    wheel: Code
    pressure: Pressure
    temperature: Temperature | None = None
    fresh: bool = True


class GlanceIn(Strict):
    """Numbers read off at one moment. How long it rolled or stood: not known where neither is said."""

    source: Source = "display"
    at: AwareDatetime | None = None
    rolled_min: Minutes | None = None
    stood_h: Hours | None = None
    # Of numbers read off earlier: how warm it was outside then.
    outside_c: Temperature | None = None
    numbers: Annotated[list[GlanceNumberIn], Field(min_length=1, max_length=80)]


class SystemOut(Out):
    kind: Kind | Literal[""]
    wheels: list[str]
    spare_heard: bool | None
    sealed: bool | None
    refresh_min: int | None
    relearn: str
    batteries_on: dt.date | None
    battery_years: int | None
    low_share: float


@dataclass(frozen=True)
class ReceiverAt:
    """Raw numbers to type into a receiver [kPa], and what they hide."""

    low_kpa: float
    high_kpa: float
    limits: tuple[Limit, ...]
    heat_c: float
    hides: tuple[Phrase, ...]
    working: tuple[Line, ...]


@dataclass(frozen=True)
class WheelState:
    """A wheel by the last number that judged it; `grade` null: nothing that judges was heard of it."""

    code: str
    name: str
    # Whether the receiver hears it; null: nobody said.
    hears: bool | None
    grade: Grade | None
    high: bool
    heat: bool
    fast: bool
    # Whether an alarm stands.
    loud: bool
    kpa: float | None
    cold_kpa: float | None
    at: dt.datetime | None
    # How old its number is, and what it had done by then.
    since: Phrase | None
    old: bool
    words: Phrase


@dataclass(frozen=True)
class AxleAlarms:
    """The alarms of an axle or a spare, from its target or the number of an open plan [kPa]; null: not known."""

    name: str
    number: int | None
    target_kpa: float | None
    ceiling_kpa: float | None
    on_ground: bool
    low_kpa: float | None
    very_low_kpa: float | None
    low_clears_kpa: float | None
    high_kpa: float | None
    # All as they are told.
    limits: tuple[Limit, ...]
    receiver: ReceiverAt | None
    # Where the vehicle's own lamp lights and how that is known; the first dawn that takes a sound tire below.
    lamp: tuple[Phrase, ...]
    lamp_lit: Phrase | None
    wheels: tuple[WheelState, ...]
    apart: tuple[Phrase, ...]


@dataclass(frozen=True)
class ToldLine:
    wheel: str
    what: str
    sets: bool
    at: dt.datetime
    words: Phrase


class GlanceOut(Out):
    uuid: UUID
    at: dt.datetime
    source: Source
    by: str
    mine: bool
    wheels: list[str]


class LampReadingIn(Strict):
    wheel: Code
    pressure: Pressure


class NotReadIn(Strict):
    wheel: Code
    reason: Annotated[str, Words(80, 1)]


class LampIn(Strict):
    """What was answered so far since the lamp came on; null and empty: not yet. `which`: a wheel, "?" for none."""

    light: Light | None = None
    which: Annotated[str, Words(8)] = ""
    seen: Seen | None = None
    gauge: int | None = None
    standing_h: Hours = 0.0
    driven: Driven = "highway"
    readings: Annotated[list[LampReadingIn], Field(max_length=80)] = []
    left_out: Annotated[list[NotReadIn], Field(max_length=80)] = []
    aired: bool = False
    after: After | None = None


class WorkLampIn(LampIn):
    rig: int


class LampSaid(Strict):
    """What a phone without a network said it came to, and of which wheels."""

    outcome: Outcome
    wheels: Annotated[list[Code], Field(max_length=80)] = []


class LampKeptIn(LampIn):
    at: AwareDatetime | None = None
    # Kept as it was said, whatever the air is by the time it arrives; null: the server says it.
    said: LampSaid | None = None


class LampWheelName(Out):
    code: str
    name: str
    spare: bool


@dataclass(frozen=True)
class LampWheel:
    """A wheel on the way: its answer as in a round, and what the gauge shows once it is filled [kPa]."""

    code: str
    name: str
    spare: bool
    word: str
    words: Phrase
    shows_kpa: float | None


@dataclass(frozen=True)
class LampStep:
    key: StepKey
    words: Phrase
    notes: tuple[Phrase, ...]
    outcome: Outcome | None
    outcome_name: str
    wheels: tuple[LampWheel, ...]
    # What there is to choose at each step.
    lights: dict[Light, str]
    looked: dict[Seen, str]
    afters: dict[After, str]
    stood: tuple[core.Stood, ...]


class LampStood(Out):
    """How long it stood, and all that a reading can mean after that."""

    hours: float
    name: str
    decisions: list[DecisionOut]


class LampGauge(Out):
    id: int
    label: str


class LampCarried(Out):
    """The guided way as data, for a phone that may have no network by then: the first of `ways` that fits is next.

    Readings mean what `stood` says in the air of `as_of`, until that is an old one; after `until` they mean nothing.
    """

    as_of: dt.datetime
    until: dt.datetime
    outside_c: float | None
    old_air: Phrase
    ways: list[core.GuideWay]
    notes: list[core.GuideWay]
    outcomes: dict[Outcome, str]
    lights: dict[Light, str]
    looked: dict[Seen, str]
    afters: dict[After, str]
    # Tires that lack about the same share lack it for the same reason; the words of those that were not read.
    alike: float
    unread: list[str]
    wheels: list[LampWheelName]
    gauges: list[LampGauge]
    stood: list[LampStood]


class LampCaseOut(Out):
    uuid: UUID
    at: dt.datetime
    outcome: str
    words: Phrase
    by: str


class SensorsOut(Out):
    rig: int
    version: str
    system: SystemOut
    kinds: dict[Kind, str]
    sources: dict[Source, str]
    lately: tuple[core.Lately, ...]
    # What is not known and would be needed, in words.
    notes: list[Phrase]
    axles: list[AxleAlarms]
    told: list[ToldLine]
    glances: list[GlanceOut]
    lamp_cases: list[LampCaseOut]
    time_zone: str


Kpa = Annotated[float, Field(ge=0, le=1400)]
Celsius = Annotated[float, Field(ge=-60, le=150)]


class SaidIn(Strict):
    """What a wheel said [kPa, °C]. `kpa` null: by wheel speed, which knows `low` alone; `fresh` false: shown again, not measured."""

    wheel: Code
    kpa: Kpa | None = None
    tire_c: Celsius | None = None
    fresh: bool = True
    low: bool | None = None


class MessageIn(Strict):
    """What a receiver sends at one moment, numbered from 1 within its drive; null: it does not know [°C, m, kPa absolute, min, h, km/h]."""

    number: Annotated[int, Field(ge=1, le=1_000_000)]
    at: AwareDatetime
    wheels: Annotated[list[SaidIn], Field(max_length=80)]
    outside_c: Annotated[float, Field(ge=-60, le=60)] | None = None
    elevation_m: Annotated[float, Field(ge=-500, le=9000)] | None = None
    station_kpa: Annotated[float, Field(ge=30, le=110)] | None = None
    rolled_min: Annotated[float, Field(ge=0, le=10_000)] | None = None
    stood_h: Annotated[float, Field(ge=0, le=10_000)] | None = None
    km_h: Annotated[float, Field(ge=0, le=300)] | None = None


class SentIn(Strict):
    """Messages of a drive, in any order; sent again they are simply there. `ended`: it is over."""

    drive: UUID
    messages: Annotated[list[MessageIn], Field(min_length=1, max_length=500)]
    ended: bool = False


class TakenOut(Out):
    """How many were new; all up to `through` are here, `missing` are not; by wheel what is loud, in words."""

    taken: int
    through: int
    missing: list[int]
    loud: dict[str, str]


class ReceiverIn(Strict):
    name: Annotated[str, Words(60, 1)]


@dataclass(frozen=True)
class ReceiverOut:
    id: int
    name: str
    by: str
    added_at: dt.datetime


class ReceiverPaired(Out):
    """The key of a receiver: told once."""

    key: str
    receivers: list[ReceiverOut]


Pace = Annotated[float, Number("times as fast as life", 1, 600)]


class SimulateIn(Strict):
    """A simulated drive: the same seed drives the same. `fault` of `wheel`; empty: none."""

    scene: Annotated[str, Words(20, 1)] = "highway"
    fault: Annotated[str, Words(20)] = ""
    wheel: Annotated[str, Words(8)] = ""
    seed: Annotated[int, Number("a seed", 1, 1_000_000, whole=True)] = 1
    pace: Pace = 60.0


class PaceIn(Strict):
    pace: Pace


@dataclass(frozen=True)
class DriveLine:
    uuid: UUID
    started_at: dt.datetime
    heard_at: dt.datetime
    going: bool
    simulated: bool
    receiver: str
    # The file that it came from; empty: it was sent.
    source: str
    count: int


@dataclass(frozen=True)
class RoadOut:
    """What a simulated road offers, by key; empty where there is none."""

    scenes: dict[str, str]
    faults: dict[str, str]


class DrivesOut(Out):
    drives: list[DriveLine]
    receivers: list[ReceiverOut]
    road: RoadOut


@dataclass(frozen=True)
class DriveWheel:
    """A wheel by its last fresh number [kPa, °C]; `old`: it judges nothing. `low_kpa`, `high_kpa`: where alarms set in the air of now."""

    code: str
    name: str
    kpa: float | None
    tire_c: float | None
    at: dt.datetime | None
    rolled_min: float | None
    old: bool
    loud: bool
    word: Literal["stop", "add", "hold", "not_checked"]
    short: str
    words: Phrase
    low_kpa: float | None
    target_kpa: float | None
    high_kpa: float | None
    # Low and high as they are told.
    limits: tuple[Limit, ...]


@dataclass(frozen=True)
class DriveRise:
    """How hot a tire got against what its class allows [kPa]."""

    code: str
    name: str
    low_kpa: float
    high_kpa: float
    verdict: str
    words: Phrase


class SimulatedOut(Out):
    scene: str
    fault: str
    wheel: str
    pace: float
    seed: int
    minutes: float


class DriveOut(Out):
    """A drive as far as it was heard of, its times by its own clock."""

    uuid: UUID
    rig: int
    started_at: dt.datetime
    heard_at: dt.datetime
    going: bool
    count: int
    receiver: str
    simulated: SimulatedOut | None
    words: Phrase
    loud: bool
    wheels: list[DriveWheel]
    rises: list[DriveRise]
    missing: int
    km_h: float | None
    rolled_min: float | None
    air_c: float | None
    told: list[ToldLine]


class WheelSeries(Out):
    code: str
    name: str
    kpa: list[float | None]
    tire_c: list[float | None]


class DriveSeries(Out):
    """What each wheel read along a drive, minute by minute from its start."""

    minutes: list[float]
    km_h: list[float | None]
    wheels: list[WheelSeries]


class WorkNumbersIn(Strict):
    """The beginning of a file with its heading, and what was chosen so far; null: guess."""

    rig: int
    head: Annotated[str, Field(min_length=1, max_length=60_000)]
    chosen: ColumnsIn | None = None


@dataclass(frozen=True)
class PreviewRow:
    at: dt.datetime
    wheel: str
    kpa: float | None
    tire_c: float | None


class NumbersLook(FileLookOut):
    """How a file of numbers would be read."""

    rows: list[PreviewRow]


class NumbersDone(Out):
    """What a file came to: its numbers, how many of them judge something, and the drive that they are kept as."""

    uuid: UUID
    numbers: int
    judged: int
    begins: dt.datetime
    ends: dt.datetime
