import datetime as dt
from dataclasses import dataclass
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from ballast.core.refine import AirJob, Decision, EventKind, Pattern, Rib, Shape
from ballast.core.working import Phrase
from ballast.server.edge.quantities import Day, Find, Odometer, Pressure, Tread, Words
from ballast.server.edge.schema import Strict
from ballast.server.rigs.schemas import FittingOut, MoveIn, WheelMoves

Ribs = Annotated[list[Rib], Field(min_length=3, max_length=3)]


class TrialIn(Strict):
    """A trial of an axle in the load state in force; `reason`: to go below the placard."""

    number: Annotated[int, Field(ge=1, le=9)]
    gauge: int
    reason: Annotated[str, Words(200)] = ""


class ChalkPassIn(Strict):
    """One drive: what both tires read, cold, and what was left on each, seen from above; `missing`: what did not hold."""

    pressure: Pressure
    left: Ribs
    right: Ribs
    missing: Annotated[list[Annotated[str, Words(12)]], Field(max_length=12)] = []


class KeepChalkPassIn(ChalkPassIn):
    uuid: UUID


class WorkChalkPassIn(ChalkPassIn):
    trial: int


class EndIn(Strict):
    """Ended by feel, with what it felt like, or left; a note either way."""

    how: Literal["feel", "left"]
    note: Annotated[str, Words(200)] = ""


@dataclass(frozen=True)
class VerdictOut:
    """What the passes say, and the next pressure [kPa] where there is one to try."""

    decision: Decision
    words: Phrase
    next_kpa: float | None
    done: bool
    notes: tuple[Phrase, ...]


@dataclass(frozen=True)
class ChalkPassOut:
    uuid: UUID
    kpa: float
    typed: str
    left: tuple[Rib, ...]
    right: tuple[Rib, ...]
    counts: bool
    by: str
    done_at: dt.datetime


@dataclass(frozen=True)
class TrialOut:
    """A trial with its passes, its bounds [kPa] and what the chalk says by now."""

    id: int
    number: int
    name: str
    load_state: str
    gauge: int
    gauge_label: str
    reason: str
    begun_at: dt.datetime
    begun_by: str
    ended: str
    note: str
    least_kpa: float | None
    most_kpa: float | None
    placard_kpa: float | None
    passes: tuple[ChalkPassOut, ...]
    verdict: VerdictOut
    # Why an even result is to be asked again; empty: it stands.
    again: tuple[str, ...]


@dataclass(frozen=True)
class Precondition:
    key: str
    words: str


@dataclass(frozen=True)
class TrialsOut:
    """The trials of a rig, the newest first, and what is asked before every pass."""

    trials: tuple[TrialOut, ...]
    preconditions: tuple[Precondition, ...]


# -- wear --------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class PointOut:
    """Depths in three grooves [mm] on a day, at a distance [km]."""

    on: dt.date
    km: float | None
    inner_mm: float | None
    centre_mm: float | None
    outer_mm: float | None


@dataclass(frozen=True)
class RateOut:
    """What a rib loses [mm per 1,000 km] with its standard error, and where its line is now and when at the limit [km]."""

    mm_per_1000_km: float
    standard_error: float
    now_mm: float
    limit_at_km: float | None


@dataclass(frozen=True)
class WearOut:
    """What a tread says; `rates` of inner, centre and outer rib. Null: not known."""

    begun_on: dt.date | None
    points: tuple[PointOut, ...]
    least_mm: float | None
    on: dt.date | None
    limit_mm: float
    rates: tuple[RateOut | None, ...]
    fastest_mm: float | None
    shape: Shape
    words: Phrase
    limit: Phrase
    limit_on: dt.date | None
    at_limit: bool


@dataclass(frozen=True)
class WheelWearOut:
    """A wheel, the tire at it (null: none is entered) and what its tread says."""

    code: str
    name: str
    tire: int | None
    size: str
    date_code: str
    casing: str
    sensor: str
    one_way: bool | None
    coarse: bool | None
    wear: WearOut | None


@dataclass(frozen=True)
class RotationOut:
    """Tires that changed places in one act; `learn`: the receiver is still to learn where its sensors are."""

    id: int
    moves: dict[str, str]
    done_on: dt.date
    odometer_km: float | None
    by: str
    learn: bool


@dataclass(frozen=True)
class VoiceOut:
    """What treads of an axle say beside table and chalk, and at which wheels."""

    number: int
    wheels: tuple[str, ...]
    words: Phrase


@dataclass(frozen=True)
class RigWearOut:
    """The treads of a rig, whether a rotation is due and which its tires allow, and what those before left open.

    `bare`: wheels at which no tire is entered.
    """

    wheels: tuple[WheelWearOut, ...]
    due: Phrase | None
    since_km: float | None
    apart_mm: float | None
    patterns: tuple[Pattern, ...]
    rotations: tuple[RotationOut, ...]
    bare: tuple[str, ...]
    voices: tuple[VoiceOut, ...]
    caution: str


class RotateIn(MoveIn):
    """A rotation; `looked`: what was not known about it was looked at."""

    looked: bool = False


class WorkRotationIn(Strict):
    rig: int
    moves: WheelMoves


@dataclass(frozen=True)
class RotationWork:
    """What a rotation would come to: what forbids it, what to look at first, and the air it asks for.

    `head`: the rig whose round reads these wheels, by `codes` as they are called there.
    """

    refused: tuple[Phrase, ...]
    unsure: tuple[Phrase, ...]
    air: tuple[AirJob, ...]
    head: int
    codes: tuple[str, ...]
    sensors: bool
    chalk: tuple[str, ...]


# -- tires -------------------------------------------------------------------------------------------

TireSort = Literal["where", "size", "age", "tread", "number", "loses"]
TireWhich = Literal["all", "fitted", "store", "retired", "old", "worn", "leaks"]


class EventIn(Strict):
    """Something that was done to a tire, or happened to it."""

    uuid: UUID
    kind: EventKind
    done_on: Day
    odometer: Odometer | None = None
    tread: Tread | None = None
    words: Annotated[str, Words(200)] = ""


@dataclass(frozen=True)
class EventOut:
    uuid: UUID
    kind: EventKind
    name: str
    points_at: str
    done_on: dt.date
    odometer_km: float | None
    tread_mm: float | None
    words: str
    by: str
    mine: bool


@dataclass(frozen=True)
class TireRowOut:
    """A tire in the list of all: where it is (null: in the store or retired), its marks, age and tread."""

    id: int
    rig: int | None
    rig_name: str
    wheel: str
    size: str
    make: str
    casing: str
    date_code: str
    age: str
    old: bool
    least_mm: float | None
    least_on: dt.date | None
    fastest_mm: float | None
    limit: Phrase | None
    at_limit: bool
    retired_on: dt.date | None
    retired_reason: str
    # What it loses in a month at 20 °C by its rounds [kPa], below zero; null: not measured. And whether a leak is named.
    loses_kpa_month: float | None
    leaks: bool


@dataclass(frozen=True)
class TirePageOut:
    """A page of the list: `total` tires are in it, `page` at the most on each, and these begin at `first`."""

    tires: tuple[TireRowOut, ...]
    total: int
    first: int
    page: int
    caution: str
    which: TireWhich
    sort: TireSort


@dataclass(frozen=True)
class TireOut:
    """A tire with its whole history."""

    row: TireRowOut
    sensor: str
    one_way: bool | None
    coarse: bool | None
    wear: WearOut
    caution: str
    fittings: tuple[FittingOut, ...]
    events: tuple[EventOut, ...]


class TiresIn(Strict):
    """What the list of all tires is asked: words to look for, which of them, their order, and from where on."""

    find: Find = ""
    which: TireWhich = "all"
    sort: TireSort = "where"
    first: Annotated[int, Field(ge=0)] = 0
