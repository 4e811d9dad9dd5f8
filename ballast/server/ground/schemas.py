import datetime as dt
from dataclasses import dataclass
from typing import Annotated, Literal
from uuid import UUID

from pydantic import AwareDatetime, Field

from ballast.core.air import Driven
from ballast.core.ground import Beside, Done, Footprint, GroundRole, KitKind, Outcome, Pattern, Stem, Warmth
from ballast.core.working import Line, Phrase
from ballast.server.edge.quantities import (
    Amps,
    Day,
    Hours,
    Minutes,
    Number,
    Pressure,
    Quantity,
    Temperature,
    Version,
    Words,
)
from ballast.server.edge.quantities import Entry as Typed
from ballast.server.edge.schema import Out, Strict

OfRoad = Annotated[float, Number("a share of the road target", 0.01, 1)]
GroundSpeed = Annotated[Typed, Quantity("speed", 1, 300)]
Reason = Annotated[str, Words(200)]
Key = Annotated[str, Words(24, 1)]
Place = Annotated[str, Words(80)]


class SharesIn(Strict):
    steered: OfRoad
    driven: OfRoad
    trailer: OfRoad


class FloorsIn(Strict):
    steered: Pressure
    driven: Pressure
    trailer: Pressure


class SurfaceIn(Strict):
    """A row of the surfaces; a new one has no key yet."""

    key: Annotated[str, Words(24)] = ""
    name: Annotated[str, Words(40, 1)]
    shares: SharesIn
    floors_kpa: FloorsIn
    speed_kmh: GroundSpeed | None = None
    recovery: bool = False
    pattern: Pattern = "plain"


class SurfacesIn(Strict):
    """All rows, hardest first; none: back to those that ship."""

    version: Version = ""
    surfaces: Annotated[list[SurfaceIn], Field(max_length=20)]


class ByRoleOut(Out):
    steered: float
    driven: float
    trailer: float


class SurfaceOut(Out):
    key: str
    name: str
    shares: ByRoleOut
    floors_kpa: ByRoleOut
    speed_kmh: float | None
    recovery: bool
    pattern: Pattern
    road: bool


class SurfacesOut(Out):
    surfaces: list[SurfaceOut]
    version: str
    # As they ship: practice, no standard.
    shipped: bool
    practice: str


class LeftOutIn(Strict):
    rig: int
    reason: Reason


class ChainIn(Strict):
    """What is asked of the ground: surfaces by key, vehicles that stay as they are, in what the rig stands, how many nights."""

    chain: Annotated[list[Key], Field(max_length=40)]
    left_out: Annotated[list[LeftOutIn], Field(max_length=10)] = []
    recovery_reason: Reason = ""
    standing_h: Hours = 0.0
    driven: Driven = "highway"
    nights: Annotated[int, Number("nights", 0, 14, whole=True)] = 2
    gauge: int | None = None
    deflators: int | None = None


class WorkGroundIn(ChainIn):
    rig: int


class OpenIn(ChainIn):
    """A plan that is opened; one that nothing aboard brings back to the road only with that said."""

    uuid: UUID
    place: Place = ""
    opened_at: AwareDatetime | None = None
    no_way_back: bool = False


class StepIn(Strict):
    """Which stretch is in hand."""

    step: Annotated[int, Field(ge=0, le=40)]


class EntryIn(Strict):
    """What was done at a wheel: read after letting out or filling, or why it was not."""

    wheel: Annotated[str, Words(8, 1)]
    step: Annotated[int, Field(ge=0, le=40)]
    done: Done = "set"
    pressure: Pressure | None = None
    gauge: int | None = None
    from_pressure: Pressure | None = None
    minutes: Minutes | None = None
    standing_h: Hours = 0.0
    driven: Driven = "highway"
    # The air that the numbers in sight were worked out in; neither: the air now.
    outside_c: Temperature | None = None
    set_in_c: Temperature | None = None
    reason: Reason = ""
    done_at: AwareDatetime | None = None


class LearnedIn(Strict):
    """How it went on the stretch in hand."""

    step: Annotated[int, Field(ge=0, le=40)]
    outcome: Outcome
    place: Place = ""
    note: Reason = ""


class AxleOnGroundIn(Strict):
    """The role of an axle where its kind does not say it; what its maker allows off the road, and where that stands."""

    role: Literal["", "steered", "driven"] = ""
    least_kpa: Pressure | None = None
    words: Reason = ""


@dataclass(frozen=True)
class Goal:
    """What the gauge in hand must show [kPa], and between what it is at its number."""

    shows_kpa: float
    low_kpa: float
    high_kpa: float


@dataclass(frozen=True)
class OnSurface:
    """A wheel's number on a surface, cold [kPa]; by how the rig has stood what the gauge shows then, let out or filled up.

    `footprint`: what lies on the ground, about; null where load or size is not known.
    """

    surface: str
    kpa: float
    floor_kpa: float
    speed_kmh: float | None
    kept: Phrase | None
    working: tuple[Line, ...]
    footprint: Footprint | None
    out: dict[str, Goal]
    up: dict[str, Goal]


@dataclass(frozen=True)
class WheelOnGround:
    """A wheel with its number on every surface, hardest first; empty: its road target is not known."""

    code: str
    name: str
    rig: int
    own: str
    axle: int | None
    role: GroundRole
    inner: bool
    road_kpa: float | None
    ceiling_kpa: float | None
    heavy_or_dual: bool
    numbers: tuple[OnSurface, ...]
    # What is to be said of its valve.
    valve: Phrase | None = None


@dataclass(frozen=True)
class AxleAsked:
    """An axle as the ground takes it. `asked`: its kind does not say whether it is driven."""

    rig: int
    rig_name: str
    number: int
    name: str
    role: GroundRole | None
    asked: bool
    dual: bool
    least_kpa: float | None
    words: str


@dataclass(frozen=True)
class PlaceKnown:
    """A place with what it taught, and the surface that it proposes."""

    place: str
    surface: str | None
    words: Phrase


@dataclass(frozen=True)
class JobAt:
    """What a wheel is brought to at a step, cold [kPa], and what the gauge shows then, as the rig stands."""

    code: str
    name: str
    from_kpa: float
    kpa: float
    change_kpa: float
    floor_kpa: float
    goal: Goal
    kept: Phrase | None
    working: tuple[Line, ...]


@dataclass(frozen=True)
class PlannedStep:
    """A stretch of a plan: what to do before it, and how long letting out takes where that is known [min]."""

    surface: str
    name: str
    pattern: Pattern
    speed_kmh: float | None
    road: bool
    recovery: bool
    words: Phrase
    jobs: tuple[JobAt, ...]
    down_min: float | None
    down_at_least: bool


@dataclass(frozen=True)
class BackOut:
    """The way back to road pressure with one inflator of the kit."""

    inflator: str
    able: bool
    minutes: float | None
    words: Phrase


@dataclass(frozen=True)
class PlanOut:
    """A chain as it would be walked; `refused`: no plan may be opened, and why."""

    refused: Phrase | None
    steps: tuple[PlannedStep, ...]
    back: bool
    back_words: Phrase
    ways: tuple[BackOut, ...]
    cautions: tuple[Phrase, ...]
    notes: tuple[Phrase, ...]


@dataclass(frozen=True)
class EntryOut:
    uuid: UUID
    wheel: str
    step: int
    done: Done
    typed: str
    kpa: float | None
    minutes: float | None
    reason: str
    by: str
    by_id: int
    done_at: dt.datetime


@dataclass(frozen=True)
class OpenWheel:
    """A wheel of an open plan: its number for the stretch in hand, and what was done at it last.

    `stands_on`: the stretch at whose number it stands; −1: at its road target.
    """

    code: str
    name: str
    kpa: float
    lets_out: bool
    waiting: bool
    stands_on: int
    # Where its last reading lies beside its number; null: it was not read.
    beside: Beside | None
    done: EntryOut | None
    words: Phrase | None


@dataclass(frozen=True)
class Goals:
    """What the gauge in hand shows at a number, by how the rig has stood: let out to it, or filled up."""

    out: dict[str, Goal]
    up: dict[str, Goal]


@dataclass(frozen=True)
class StretchOut:
    """A stretch of a plan with every wheel's number, cold [kPa], and what the gauge shows there."""

    key: str
    name: str
    pattern: Pattern
    speed_kmh: float | None
    road: bool
    recovery: bool
    numbers: dict[str, float]
    goals: dict[str, Goals]


@dataclass(frozen=True)
class OpenPlan:
    """A plan that is open: where it stands, how fast it may go, and what it takes to close it."""

    uuid: UUID
    rig: int
    opened_at: dt.datetime
    opened_by: str
    place: str
    at: int
    stretches: tuple[StretchOut, ...]
    words: Phrase
    speed_kmh: float | None
    loud: tuple[Phrase, ...]
    no_way_back: bool
    back_words: Phrase
    recovery_reason: str
    may_undo: bool
    # Why the last sealed round did not close it.
    why_open: tuple[Phrase, ...]
    wheels: tuple[OpenWheel, ...]
    gauge: int | None


@dataclass(frozen=True)
class GroundOut:
    """All that the ground asks of a combination, as data: numbers of every wheel on every surface, for a phone too."""

    rig: int
    surfaces: tuple[SurfaceOut, ...]
    practice: str
    warmths: tuple[Warmth, ...]
    # What is said of a reading below, at and above its number, where nobody can be asked.
    verdicts: dict[str, str]
    wheels: tuple[WheelOnGround, ...]
    axles: tuple[AxleAsked, ...]
    refused: Phrase | None
    notes: tuple[Phrase, ...]
    places: tuple[PlaceKnown, ...]
    lacks: tuple[Phrase, ...]
    set_in_c: float
    outside_c: float
    gauge: int | None
    gauge_label: str
    open: OpenPlan | None
    made_at: dt.datetime


@dataclass(frozen=True)
class PastPlan:
    """A plan that is closed or undone."""

    uuid: UUID
    opened_at: dt.datetime
    opened_by: str
    place: str
    chain: tuple[str, ...]
    closed_at: dt.datetime | None
    closed_by: str
    closed_round: int | None
    undone: bool


class KitItemIn(Strict):
    kind: KitKind
    label: Annotated[str, Words(60)] = ""
    count: Annotated[int, Number("how many", 0, 999, whole=True)] = 1
    gauge: int | None = None
    inflator: int | None = None
    deflators: int | None = None
    charged_on: Day | None = None
    replace_by: Day | None = None
    fuse_a: Amps | None = None


class KitIn(Strict):
    """All that rides with a rig."""

    version: Version = ""
    items: Annotated[list[KitItemIn], Field(max_length=60)]


class KitItemOut(Out):
    kind: KitKind
    label: str
    count: int
    gauge: int | None
    inflator: int | None
    deflators: int | None
    charged_on: dt.date | None
    replace_by: dt.date | None
    fuse_a: float | None


class LackingOut(Out):
    plan: list[Phrase]
    trip: list[Phrase]
    round: list[Phrase]


class KitOut(Out):
    items: list[KitItemOut]
    # What there is to choose from, with its name.
    kinds: dict[KitKind, str]
    version: str
    lacks: LackingOut
    # What is to be said of its valves, wheel by wheel.
    valves: list[Phrase]


class ValveIn(Strict):
    """The valve of a wheel; null and empty: nobody looked."""

    wheel: Annotated[str, Words(8, 1)]
    stem: Stem = ""
    flow_through: bool | None = None
    reachable: bool | None = None
    core_changed_on: Day | None = None
    note: Annotated[str, Words(120)] = ""


class ValvesIn(Strict):
    version: Version = ""
    valves: Annotated[list[ValveIn], Field(max_length=80)]


class ValveOut(Out):
    wheel: str
    name: str
    stem: Stem
    flow_through: bool | None
    reachable: bool | None
    core_changed_on: dt.date | None
    note: str


class ValvesOut(Out):
    valves: list[ValveOut]
    version: str
