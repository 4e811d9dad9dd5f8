import datetime as dt
from typing import Annotated, Literal

from pydantic import Field

from ballast.server.edge.quantities import LoadIndex, Number, Words
from ballast.server.edge.schema import Out, Strict
from ballast.server.edge.words import PhraseOut

Cell = Annotated[float, Number("a number as printed", 0, 200_000)]
Cells = Annotated[list[Cell], Field(max_length=40)]


class GridIn(Strict):
    """A table as printed, in its own units."""

    size: Annotated[str, Words(40, 1)]
    load_index_single: LoadIndex | None = None
    load_index_dual: LoadIndex | None = None
    pressure_unit: Literal["kPa", "psi", "bar"]
    mass_unit: Literal["kg", "lb"]
    steps: Cells
    single: Cells
    dual: Cells | None = None


class TableIn(GridIn):
    line: Annotated[str, Words(80)] = ""
    source: Annotated[str, Words(120, 1)]
    load_range: Annotated[str, Words(4)] = ""
    replaces: int | None = None


class SuspicionOut(Out):
    row: Literal["single", "dual"]
    index: int
    load_kg: float
    suggested_kg: float
    words: PhraseOut


class GridOut(Out):
    """What was understood: the table in canonical units, and what looks wrong in it."""

    size: str
    steps_kpa: list[float]
    single_kg: list[float]
    dual_kg: list[float] | None
    suspicions: list[SuspicionOut]
    odd: list[PhraseOut]


class TableOut(GridOut):
    id: int
    line: str
    source: str
    service: str
    load_range: str
    load_index_single: int | None
    load_index_dual: int | None
    sample: bool
    pressure_unit: str
    mass_unit: str
    steps: list[float]
    single: list[float]
    dual: list[float] | None
    replaces: int | None
    replaced: bool
    entered_by: str
    entered_at: dt.datetime


class SampleOut(Out):
    key: str
    name: str
    size: str
    taken: bool


class SampleIn(Strict):
    key: Annotated[str, Words(40, 1)]
