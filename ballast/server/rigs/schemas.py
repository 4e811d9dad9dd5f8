import datetime as dt
from typing import Annotated, Literal

from pydantic import Field

from ballast.core.rigs import Drawn, Group, Kind, Missing, Role, Wheels
from ballast.core.working import Phrase
from ballast.server.edge.quantities import (
    Day,
    Diameter,
    Distance,
    Load,
    LoadIndex,
    Name,
    Note,
    Number,
    Odometer,
    Place,
    Pressure,
    Rating,
    RimWidth,
    Speed,
    Track,
    Tread,
    Version,
    Words,
)
from ballast.server.edge.schema import Out, Strict


class SidewallIn(Strict):
    tire_size: Annotated[str, Words(60)] = ""
    tire_make: Annotated[str, Words(80)] = ""
    load_index_single: LoadIndex | None = None
    load_index_dual: LoadIndex | None = None
    load_range: Annotated[str, Words(4)] = ""
    max_load_single_kg: Load | None = None
    max_load_dual_kg: Load | None = None
    sidewall_max_kpa: Pressure | None = None


class TireIn(SidewallIn):
    wheel_max_kpa: Pressure | None = None
    wheel_max_load_kg: Load | None = None
    rim_width_in: RimWidth | None = None
    rim_low_in: RimWidth | None = None
    rim_high_in: RimWidth | None = None


class AxleIn(TireIn):
    position_m: Distance | None = None
    track_m: Track | None = None
    dual: bool = False
    wheels: Wheels | None = None
    role: Role = ""
    lift: bool = False
    share: Annotated[float, Number("a share of the group's load", 0.05, 0.95)] | None = None
    gawr_kg: Rating | None = None
    placard_kpa: Pressure | None = None
    placard_light_kpa: Pressure | None = None
    placard_size: Annotated[str, Words(60)] = ""
    lamp_kpa: Pressure | None = None


class SpareIn(TireIn):
    required_kpa: Pressure | None = None


class RigIn(Strict):
    version: Version = ""
    kind: Kind
    # Asked for when it is saved, in words of its own.
    name: Annotated[str, Words(80)] = ""
    fleet_number: Annotated[str, Words(20)] = ""
    gvwr_kg: Rating | None = None
    gcwr_kg: Rating | None = None
    hitch_max_kg: Load | None = None
    cargo_kg: Load | None = None
    wheelbase_m: Distance | None = None
    hitch_m: Place | None = None
    coupler_m: Distance | None = None
    top_speed_kmh: Speed | None = None
    replace_years: Annotated[int, Number("the age in years", 3, 15, whole=True)] | None = None
    checklist: Annotated[list[Annotated[str, Words(120, 1)]], Field(max_length=30)] = []
    note: Note = ""
    axles: Annotated[list[AxleIn], Field(min_length=1, max_length=9)]
    spares: Annotated[list[SpareIn], Field(max_length=3)] = []


class SidewallOut(Out):
    tire_size: str
    tire_make: str
    load_index_single: int | None
    load_index_dual: int | None
    load_range: str
    max_load_single_kg: float | None
    max_load_dual_kg: float | None
    sidewall_max_kpa: float | None


class TireOut(SidewallOut):
    wheel_max_kpa: float | None
    wheel_max_load_kg: float | None
    rim_width_in: float | None
    rim_low_in: float | None
    rim_high_in: float | None


class AxleOut(TireOut):
    number: int
    name: str
    position_m: float | None
    track_m: float | None
    # Where it is drawn: as measured, else as usual for its kind.
    drawn: Drawn
    wheels: Wheels
    role: Role
    lift: bool
    share: float | None
    group: str
    gawr_kg: float | None
    placard_kpa: float | None
    placard_light_kpa: float | None
    placard_size: str
    lamp_kpa: float | None
    tire_max_kg: float | None
    sidewall_words: str
    # What is fitted there and is not the tire described.
    unlike: list[Phrase]


class SpareOut(TireOut):
    number: int
    required_kpa: float | None


class WheelOut(Out):
    code: str
    name: str
    axle: int | None
    side: Literal["L", "R", "C"] | None
    inner: bool


class CautionOut(Out):
    field: str
    words: Phrase


class VehicleOut(Out):
    """A vehicle of a combination as the plan draws it; wheel codes of trailers carry a letter in front."""

    id: int
    name: str
    fleet_number: str
    kind: Kind
    trailer: bool
    pulled: bool
    coupler_m: float | None
    hitch_m: float | None
    axles: list[AxleOut]
    # Axles that a ticket may print as one number.
    together: list[Group]
    wheels: list[WheelOut]


class RigOut(Out):
    id: int
    version: str
    kind: Kind
    kind_name: str
    name: str
    fleet_number: str
    gvwr_kg: float | None
    gcwr_kg: float | None
    hitch_max_kg: float | None
    cargo_kg: float | None
    wheelbase_m: float | None
    hitch_m: float | None
    coupler_m: float | None
    top_speed_kmh: float | None
    replace_years: int | None
    checklist: list[str]
    note: str
    archived: bool
    light: bool
    trailer: bool
    pulled: bool
    head: int | None
    odometer_km: float | None
    axles: list[AxleOut]
    spares: list[SpareOut]
    wheels: list[WheelOut]
    cautions: list[CautionOut]


class SizeRead(Out):
    """What was understood of a marking, and what it leaves open."""

    words: str
    asked_for: list[str]


class AxleDraft(Out):
    """An axle that is being described: how it is headed, what it is part of, where it is drawn."""

    name: str
    group: str
    drawn: Drawn


class RigDraft(Out):
    """What a rig that is being typed means so far."""

    sizes: list[SizeRead]
    spares: list[SizeRead]
    axles: list[AxleDraft]
    # It has what it cannot be kept without; the rest may come later.
    enough: bool
    missing: list[Missing]
    wheels: list[WheelOut]
    cautions: list[CautionOut]


class HitchRigOut(Out):
    id: int
    name: str
    fleet_number: str
    kind_name: str
    behind: str


class HitchableOut(Out):
    """What a rig may be hitched to, the first of them; `found`: how many there are."""

    looks_for: Literal["front", "trailer"]
    rigs: list[HitchRigOut]
    found: int


class HitchIn(Strict):
    """The vehicle in front; null drops the trailer with all behind it."""

    behind: int | None


class LaidUpIn(Strict):
    """Laid up until a day, at a pressure, and why."""

    until: Day
    kept: Pressure | None = None
    why: Annotated[str, Words(200)] = ""


# Rigs that something is done to at once.
Rigs = Annotated[list[int], Field(min_length=1, max_length=5000)]


class TagIn(Strict):
    """A tag that some rigs get, or lose."""

    name: Annotated[str, Words(40, 1)]
    rigs: Rigs
    on: bool = True


class TagOut(Out):
    id: int
    name: str
    rigs: int


class ArchiveIn(Strict):
    rigs: Rigs
    archived: bool = True


class NotDoneOut(Out):
    """A rig to which it was not done, and why."""

    rig: int
    name: str
    words: str


class ManyOut(Out):
    """The rigs that it changed: done the other way to these it is taken back."""

    changed: list[int]
    not_done: list[NotDoneOut]


class OutIn(Strict):
    """Out of service: why, and who must sign it off, by their place among the people; null: any manager."""

    why: Annotated[str, Words(200, 1)]
    sign_off: int | None = None


class SignOffIn(Strict):
    """What was done about it, and the name that stands for it."""

    done: Annotated[str, Words(500, 1)]
    signed: Name


class OutOut(Out):
    """That a rig is out of service; `may_sign_off`: whoever asks is who may end it."""

    words: Phrase
    why: str
    since: dt.datetime
    by: str
    sign_off: str
    may_sign_off: bool


class SignOffOut(Out):
    """That a rig rolled again."""

    why: str
    since: dt.datetime
    out_by: str
    done: str
    signed: str
    by: str
    at: dt.datetime


class NewTireIn(SidewallIn):
    """A tire as it stands on its sidewall. Empty marks are taken from the axle's description where the size is the same."""

    date_code: Annotated[str, Words(4)] = ""
    sensor: Annotated[str, Words(40)] = ""
    diameter: Diameter | None = None
    casing: Annotated[str, Words(40)] = ""
    one_way: bool | None = None
    coarse: bool | None = None


class FitIn(Strict):
    """A tire to a wheel: a new one, or one of the store by its number."""

    wheel: Annotated[str, Words(8, 1)]
    tire: int | None = None
    new: NewTireIn | None = None
    fitted_on: Day
    odometer: Odometer | None = None
    tread: Tread | None = None


class TireMarksIn(Strict):
    """What tells a tire apart and how its tread is; null: not known."""

    date_code: Annotated[str, Words(4)] = ""
    sensor: Annotated[str, Words(40)] = ""
    casing: Annotated[str, Words(40)] = ""
    one_way: bool | None = None
    coarse: bool | None = None


class FitAllIn(Strict):
    """Tires as the rig is described, at every wheel where none is entered."""

    fitted_on: Day
    odometer: Odometer | None = None
    tread: Tread | None = None


WheelMoves = Annotated[
    dict[Annotated[str, Words(8, 1)], Annotated[str, Words(8, 1)]], Field(min_length=1, max_length=40)
]


class MoveIn(Strict):
    """Moves of one job, from wheel to wheel; what stands at a target moves too, or goes to the store."""

    moves: WheelMoves
    moved_on: Day
    odometer: Odometer | None = None


class RemoveIn(Strict):
    removed_on: Day
    reason: Annotated[str, Words(200)] = ""
    retire: bool = False


class TorqueIn(Strict):
    done_on: Day
    odometer: Odometer


class OdometerIn(Strict):
    odometer: Odometer


class FittingOut(Out):
    rig: int
    rig_name: str
    wheel: str
    fitted_on: dt.date
    odometer_km: float | None
    tread_mm: float | None
    removed_on: dt.date | None
    removed_reason: str
    by: str


class FittedTireOut(SidewallOut):
    id: int
    date_code: str
    age_words: str
    old: bool
    sensor: str
    casing: str
    one_way: bool | None
    coarse: bool | None
    diameter_mm: float | None
    wheel: str
    fitted_on: dt.date | None
    tread_mm: float | None
    retired_on: dt.date | None
    retired_reason: str


class FindingOut(Out):
    wheel: str
    words: str
    urgent: bool


class TiresOut(Out):
    """The tires of a rig: what is fitted, what is in the store, and what speaks against it."""

    fitted: list[FittedTireOut]
    store: list[FittedTireOut]
    findings: list[FindingOut]
    retorque: Phrase | None
    odometer_km: float | None


class ImportRowOut(Out):
    line: int
    words: str
    refused: str
    field: str


class ImportOut(Out):
    """What a file would add, row by row; `saved` says that it was."""

    rigs: int
    tires: int
    refused: int
    rows: list[ImportRowOut]
    saved: bool


class FleetFileIn(Strict):
    """A long fleet file as it begins to come in: its first row."""

    name: Annotated[str, Words(80, 1)]
    heading: Annotated[str, Field(min_length=3, max_length=4_000)]


class FleetSliceIn(Strict):
    """Whole rows of it, in its order."""

    text: Annotated[str, Field(min_length=1, max_length=600_000)]


class FleetStepOut(Out):
    """Some rigs of a file worked out: of `steps` in all, what stands ready by it, and what is wrong with its rows."""

    steps: int
    rigs: int
    tires: int
    faults: list[ImportRowOut]


class FleetDoneOut(Out):
    rigs: int
    tires: int


class ChangeOut(Out):
    at: str
    who: str
    what: str
    before: str
    after: str
