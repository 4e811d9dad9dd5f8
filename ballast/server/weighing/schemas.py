import datetime as dt
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from ballast.core.weighing import What
from ballast.core.working import Line, Phrase
from ballast.server.edge.quantities import (
    Across,
    Day,
    Load,
    Note,
    Number,
    Odometer,
    Place,
    Resolution,
    SignedLoad,
    Volume,
    Words,
)
from ballast.server.edge.schema import FileIn, Out, Strict
from ballast.server.edge.words import CheckOut

Way = Literal["ticket", "passes", "axles", "left", "pads"]
GuidedWay = Literal["passes", "axles", "left", "pads"]
Bars = Literal["", "slack", "engaged"]
StateName = Annotated[str, Words(40, 1)]
# "0:1L": vehicle from the front, axle, side (C: a single wheel in the middle, or a trailer's jack as axle 0).
SpotCode = Annotated[str, Field(pattern=r"^[0-4]:[0-9][LRC]$")]


class AxleWeightIn(Strict):
    whole_kg: Load | None = None
    left_kg: Load | None = None
    right_kg: Load | None = None
    lifted: bool = False


class TogetherIn(Strict):
    """Axles that the ticket has as one number."""

    axles: Annotated[list[int], Field(min_length=2, max_length=9)]
    kg: Load


class PassIn(Strict):
    """What stood on the scale, and what it said. `apart`: 0 coupled, k with vehicle k and behind uncoupled."""

    words: Annotated[str, Words(200)] = ""
    on: Annotated[list[SpotCode], Field(min_length=1, max_length=60)]
    apart: Annotated[int, Number("the vehicle that is uncoupled", 0, 4, whole=True)] = 0
    kg: Load


Axles = Annotated[list[AxleWeightIn], Field(max_length=9)]
Passes = Annotated[list[PassIn], Field(max_length=60)]


class RowsIn(Strict):
    """The rows of one vehicle on a ticket: axles, or several of them as one number."""

    axles: Axles = []
    together: Annotated[list[TogetherIn], Field(max_length=4)] = []


class ReadIn(RowsIn):
    """What a scale said: rows as on a ticket, or passes in one of the guided ways.

    `behind`: the rows of what is hitched, from the front; `gross_kg` is of all that stood on the scale.
    """

    way: Way = "ticket"
    with_trailers: bool = False
    resolution_kg: Resolution | None = None
    bars: Bars = ""
    hitch_kg: SignedLoad | None = None
    gross_kg: Load | None = None
    behind: Annotated[list[RowsIn], Field(max_length=4)] = []
    passes: Passes = []


class LoadsIn(ReadIn):
    rig: int


class GuideIn(Strict):
    rig: int
    way: GuidedWay
    with_trailers: bool = False
    hitch: bool = True


class StepOut(Out):
    """A pass to do: where to stand, in words and as spots; `wheels` are those on the plan."""

    key: str
    words: str
    on: list[str]
    wheels: list[str]
    apart: int


class WeighingIn(ReadIn):
    load_state: StateName
    weighed_on: Day
    # Empty: weighed elsewhere, and entered by hand.
    scale: Annotated[str, Words(80)] = ""
    odometer: Odometer | None = None
    made_up: bool = False
    # Made by the page, once for a ticket: sent again it is stored once.
    uuid: UUID | None = None
    ready: Annotated[list[Annotated[str, Words(120, 1)]], Field(max_length=30)] = []
    note: Note = ""
    amends: int | None = None


class AxleLoadOut(Out):
    number: int
    name: str
    total_kg: float | None
    left_kg: float | None
    right_kg: float | None
    heavier: Literal["left", "right"] | None
    heavier_kg: float | None
    assumed: bool
    lifted: bool
    per_tire_kg: float | None
    imbalance: float | None
    checks: list[CheckOut]
    notes: list[Phrase]
    working: list[Line]


class VehicleLoadsOut(Out):
    """Loads on every tire of a vehicle and every limit they are held against."""

    rig: int
    name: str
    axles: list[AxleLoadOut]
    total_kg: float | None
    hitch_kg: float | None
    checks: list[CheckOut]
    notes: list[Phrase]


class PassesOut(Out):
    """What passes tell together: what is unknown still, what one more would tell, which reading to doubt."""

    unknown: list[str]
    next: StepOut | None
    next_tells: str
    doubt: list[int]
    notes: list[Phrase]
    working: list[Line]


class LoadsOut(VehicleLoadsOut):
    """A rig, with the vehicles behind it where they were weighed together. `over` is of all of them."""

    others: list[VehicleLoadsOut]
    combined_kg: float | None
    ticket: PassesOut | None
    over: list[Phrase]
    caution: str


class PassOut(Out):
    words: str
    on: list[str]
    apart: int
    typed: str


class PlacedOut(Out):
    what: str
    label: str
    mass_kg: float
    rig: int
    rig_name: str
    x_m: float
    y_m: float


class TypedTogether(Out):
    """Axles of a ticket as one number, as typed."""

    axles: list[int]
    typed: str


class WeighingOut(Out):
    id: int
    load_state: str
    way: str
    weighed_on: dt.date
    scale: str
    made_up: bool
    resolution_kg: float
    odometer_km: float | None
    hitch_typed: str
    bars: str
    hitched: str
    ready: list[str]
    basis: int | None
    placed: list[PlacedOut]
    part_of: int | None
    note: str
    amends: int | None
    amended: bool
    by: str
    entered_at: dt.datetime
    typed: list[dict[str, str]]
    lifted: list[bool]
    together: list[TypedTogether]
    gross_typed: str
    passes: list[PassOut]
    loads: LoadsOut


class PlacedIn(Strict):
    """Something put aboard, or taken off: liters of a liquid, or a mass, at a place on the plan."""

    what: What
    label: Annotated[str, Words(80)] = ""
    liters: Volume | None = None
    mass: SignedLoad | None = None
    rig: int
    x: Place
    y: Across


class WhatIfIn(Strict):
    """Masses on top of a weighing (null: the one in force). `bars`: as they would be then."""

    weighing: int | None = None
    placed: Annotated[list[PlacedIn], Field(max_length=40)] = []
    bars: Bars = ""
    restore: Annotated[float, Number("the share that the bars give back", 0, 1)] = 0.5


class WorkWhatIfIn(WhatIfIn):
    rig: int
    # A place to ask how much may still go there.
    at_rig: int | None = None
    at_x: Place | None = None
    at_y: Across | None = None


class SaveWhatIfIn(WhatIfIn):
    load_state: StateName


class ChangeKgOut(Out):
    """The change of an axle by end."""

    rig: int
    number: int
    left_kg: float
    right_kg: float


class CargoLeftOut(Out):
    """How much may still go to a place, by every limit, the tightest first."""

    left_kg: float
    bound_by: str
    each: list[CheckOut]


class WhatIfOut(Out):
    loads: LoadsOut
    changes: list[ChangeKgOut]
    hitch_change_kg: float | None
    masses_kg: list[float]
    added_kg: float
    added_share: float | None
    weigh_again: bool
    cargo: CargoLeftOut | None
    cargo_label_kg: float | None
    notes: list[Phrase]


class RowIn(Strict):
    """Which of the label's two rows counts: the one for a light load, or the full one."""

    light: bool


class LoadStateIn(Strict):
    name: StateName


class LoadStateOut(Out):
    """A load state with its newest weighing."""

    id: int
    name: str
    in_force: bool
    light_row: bool
    weighed_on: dt.date | None
    worked_out: bool
    total_kg: float | None


class DriftPointOut(Out):
    id: int
    weighed_on: dt.date
    load_state: str
    way: str
    scale: str
    odometer_km: float | None
    total_kg: float | None
    axles: list[AxleLoadOut]


class DriftChangeOut(Out):
    """The change of an axle, or (axle 0) of the whole, since the weighing before in the same load state."""

    axle: int
    name: str
    end: Literal["whole", "left", "right"]
    before_kg: float
    now_kg: float
    change_kg: float


class DriftOut(Out):
    points: list[DriftPointOut]
    changes: list[DriftChangeOut]
    since: dt.date | None
    due_on: dt.date | None
    due: bool
    due_words: Phrase


class TicketIn(FileIn):
    rig: int


class TicketOut(Out):
    """A ticket as read from a file, ready to be looked at and saved. `notes`: what to check before."""

    scale: str
    made_up: bool
    notes: list[str]
    resolution_kg: float
    weighed_on: dt.date
    way: GuidedWay
    with_trailers: bool
    vehicles: list[str]
    passes: list[PassOut]


class ScaleOut(Out):
    key: str
    name: str
    ways: list[GuidedWay]
    resolution_kg: float
    simulated: bool


Fault = Literal["", "tare drift", "not level", "half off"]


class ScaleIn(Strict):
    """Ask a connected scale what stands on it. `fault` plays one on a simulated scale."""

    rig: int
    scale: Annotated[str, Words(40, 1)]
    with_trailers: bool = False
    on: Annotated[list[SpotCode], Field(min_length=1, max_length=60)]
    apart: Annotated[int, Number("the vehicle that is uncoupled", 0, 4, whole=True)] = 0
    fault: Fault = ""


class ScaleReadingOut(Out):
    kg: float
    steady: bool
    remark: str
    at: dt.datetime


class ScaleTicketIn(Strict):
    rig: int
    scale: Annotated[str, Words(40, 1)]
    way: GuidedWay
    with_trailers: bool = False
    fault: Fault = ""


class ScaleTicketOut(Out):
    """A ticket as the scale issues it, in both open forms."""

    json_text: str
    csv_text: str
