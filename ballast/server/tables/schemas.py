import datetime as dt
from typing import Annotated, Literal

from pydantic import Field

from ballast.core.tables import MOST_COLUMNS
from ballast.core.working import Phrase
from ballast.server.edge.quantities import LoadIndex, Number, Speed, Words
from ballast.server.edge.schema import Out, Strict

Cell = Annotated[float, Number("a number as printed", 0, 200_000)]
Cells = Annotated[list[Cell], Field(max_length=MOST_COLUMNS)]


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
    page: Annotated[str, Words(40)] = ""
    speed_kmh: Speed | None = None
    load_range: Annotated[str, Words(4)] = ""
    replaces: int | None = None


class PasteIn(Strict):
    """A block copied from a sheet or a page, that begins at a line of the grid."""

    text: Annotated[str, Field(min_length=1, max_length=400_000)]
    line: Literal["steps", "single", "dual"] = "steps"
    pressure_unit: Literal["kPa", "psi", "bar"]
    mass_unit: Literal["kg", "lb"]


class ToldOut(Out):
    """A cell that was not understood, and why."""

    line: Literal["steps", "single", "dual"]
    index: int
    message: str


class BlockOut(Out):
    """What was understood of a block: cells as text, by line, with the units that stood beside them."""

    lines: dict[str, list[str]]
    pressure_unit: Literal["kPa", "psi", "bar"] | None
    mass_unit: Literal["kg", "lb"] | None
    told: list[ToldOut]


class ImportedOut(Out):
    """A table of a file: what was understood, or why not."""

    name: str
    line: int
    grid: "GridOut | None"
    problems: list[str]


class TablesImportOut(Out):
    tables: list[ImportedOut]
    ready: bool
    saved: int


class CurveOut(Out):
    """ln(load) = start + exponent × ln(pressure), in kg and kPa."""

    row: Literal["single", "dual"]
    exponent: float
    start: float


class SuspicionOut(Out):
    row: Literal["single", "dual"]
    index: int
    load_kg: float
    suggested_kg: float
    words: Phrase


class GridOut(Out):
    """What was understood: the table in canonical units, and what looks wrong in it."""

    size: str
    steps_kpa: list[float]
    single_kg: list[float]
    dual_kg: list[float] | None
    curves: list[CurveOut]
    suspicions: list[SuspicionOut]
    odd: list[Phrase]


class TableOut(GridOut):
    id: int
    line: str
    source: str
    page: str
    speed_kmh: float | None
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
    checked_by: str | None
    checked_at: dt.datetime | None
    may_check: bool


class SampleOut(Out):
    key: str
    name: str
    size: str
    taken: bool


class SampleIn(Strict):
    key: Annotated[str, Words(40, 1)]


class CheckIn(Strict):
    checked: bool
