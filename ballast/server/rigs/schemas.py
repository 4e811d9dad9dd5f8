from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from ballast.server.edge.quantities import (
    Distance,
    Load,
    LoadIndex,
    Name,
    Note,
    Pressure,
    Rating,
    Track,
    Words,
)
from ballast.server.edge.schema import Strict
from ballast.server.edge.words import PhraseOut

Kind = Literal[
    "coach", "motorhome", "van", "pickup", "car", "motorcycle", "straight_truck", "tractor",
    "semitrailer", "full_trailer", "camper", "fifth_wheel",
]  # fmt: skip
Wheels = Literal[1, 2, 4]


class TireIn(Strict):
    tire_size: Annotated[str, Words(60, 1)]
    tire_make: Annotated[str, Words(80)] = ""
    load_index_single: LoadIndex | None = None
    load_index_dual: LoadIndex | None = None
    load_range: Annotated[str, Words(4)] = ""
    max_load_single_kg: Load | None = None
    max_load_dual_kg: Load | None = None
    sidewall_max_kpa: Pressure | None = None
    wheel_max_kpa: Pressure | None = None


class AxleIn(TireIn):
    position_m: Distance
    track_m: Track
    dual: bool = False
    wheels: Wheels | None = None
    gawr_kg: Rating | None = None
    placard_kpa: Pressure | None = None


class SpareIn(TireIn):
    required_kpa: Pressure | None = None


class RigIn(Strict):
    kind: Kind
    name: Name
    fleet_number: Annotated[str, Words(20)] = ""
    gvwr_kg: Rating | None = None
    wheelbase_m: Distance | None = None
    note: Note = ""
    axles: Annotated[list[AxleIn], Field(min_length=1, max_length=9)]
    spares: Annotated[list[SpareIn], Field(max_length=3)] = []


class TireOut(Schema):
    tire_size: str
    tire_make: str
    load_index_single: int | None
    load_index_dual: int | None
    load_range: str
    max_load_single_kg: float | None
    max_load_dual_kg: float | None
    sidewall_max_kpa: float | None
    wheel_max_kpa: float | None


class AxleOut(TireOut):
    number: int
    name: str
    position_m: float
    track_m: float
    wheels: int
    gawr_kg: float | None
    placard_kpa: float | None
    tire_max_kg: float | None


class SpareOut(TireOut):
    number: int
    required_kpa: float | None


class WheelOut(Schema):
    code: str
    name: str
    axle: int | None
    side: Literal["L", "R", "C"] | None
    inner: bool


class CautionOut(Schema):
    field: str
    words: PhraseOut


class RigOut(Schema):
    id: int
    kind: Kind
    kind_name: str
    name: str
    fleet_number: str
    gvwr_kg: float | None
    wheelbase_m: float | None
    note: str
    archived: bool
    light: bool
    axles: list[AxleOut]
    spares: list[SpareOut]
    wheels: list[WheelOut]
    cautions: list[CautionOut]


class RigDraft(Schema):
    """What a rig that is being typed means so far."""

    sizes: list[str]
    wheels: list[WheelOut]
    cautions: list[CautionOut]


class ChangeOut(Schema):
    at: str
    who: str
    what: str
    before: str
    after: str
