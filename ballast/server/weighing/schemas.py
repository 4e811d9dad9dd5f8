import datetime as dt
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from ballast.server.edge.quantities import Day, Load, Name, Note, Resolution, Words
from ballast.server.edge.schema import Strict
from ballast.server.edge.words import CheckOut, LineOut, PhraseOut


class AxleWeightIn(Strict):
    whole_kg: Load | None = None
    left_kg: Load | None = None
    right_kg: Load | None = None


Axles = Annotated[list[AxleWeightIn], Field(min_length=1, max_length=9)]


class LoadsIn(Strict):
    rig: int
    resolution_kg: Resolution | None = None
    axles: Axles


class WeighingIn(Strict):
    load_state: Annotated[str, Words(40, 1)]
    weighed_on: Day
    scale: Name
    resolution_kg: Resolution | None = None
    note: Note = ""
    amends: int | None = None
    axles: Axles


class AxleLoadOut(Schema):
    number: int
    name: str
    total_kg: float | None
    left_kg: float | None
    right_kg: float | None
    heavier: Literal["left", "right"] | None
    heavier_kg: float | None
    assumed: bool
    per_tire_kg: float | None
    imbalance: float | None
    checks: list[CheckOut]
    notes: list[PhraseOut]
    working: list[LineOut]


class LoadsOut(Schema):
    """Loads on every tire and every limit they are held against."""

    axles: list[AxleLoadOut]
    total_kg: float | None
    checks: list[CheckOut]
    notes: list[PhraseOut]
    over: list[PhraseOut]
    caution: str


class WeighingOut(Schema):
    id: int
    load_state: str
    weighed_on: dt.date
    scale: str
    resolution_kg: float
    note: str
    amends: int | None
    amended: bool
    by: str
    entered_at: dt.datetime
    typed: list[dict[str, str]]
    loads: LoadsOut
