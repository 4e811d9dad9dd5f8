"""Files of one's own on their way in: what their columns mean, how they would be read, and their slices."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from typing import Annotated, Literal

from pydantic import Field

from ballast.core import columns as core
from ballast.core.refusal import Refusal
from ballast.server.edge.days import is_ahead
from ballast.server.edge.files import delimiter_of, read_lines
from ballast.server.edge.quantities import Words
from ballast.server.edge.schema import Out, Strict

MOST_ROWS = 100_000
# So many lines are looked at, so many rows and faults shown.
_LOOKED_AT, SHOWN = 200, 8


class ColumnIn(Strict):
    means: core.Means = ""
    wheel: Annotated[str, Words(8)] = ""


class ColumnsIn(Strict):
    """What the columns of a file mean, by their place, and how they are written. `names`: a wheel's code by what the file calls it, empty: left out."""

    columns: Annotated[list[ColumnIn], Field(max_length=200)] = []
    order: core.Order = "ymd"
    zone: Annotated[str, Words(40)] = ""
    pressure_unit: Literal["psi", "kPa", "bar"] = "kPa"
    temperature_unit: Literal["°F", "°C"] = "°C"
    length_unit: Literal["ft", "m"] = "m"
    names: Annotated[dict[str, Annotated[str, Words(8)]], Field(max_length=200)] = {}

    def means(self) -> core.Columns:
        columns = tuple(core.Column(c.means, c.wheel) for c in self.columns)
        names = {n.strip(): c for n, c in self.names.items()}
        return core.Columns(
            columns, self.order, self.zone, self.pressure_unit, self.temperature_unit, self.length_unit, names
        )


class BeginIn(ColumnsIn):
    """A file as it begins to come in."""

    name: Annotated[str, Words(80, 1)]
    delimiter: Literal[",", ";", "\t"] = ","


class SliceIn(Strict):
    """Whole lines of the file; `first`: the number of the first of them, the heading being 1."""

    first: Annotated[int, Field(ge=2, le=1_000_000)]
    text: Annotated[str, Field(min_length=1, max_length=600_000)]


class TakenOut(Out):
    """What a slice held, what is wrong in it, and what it calls wheels and rigs that are none."""

    rows: int
    faults: list[core.Fault]
    strange: list[str]
    strange_rigs: list[str]


class FileLookOut(Out):
    """How a file would be read: its heading, what its columns mean, what is wrong, and names that are no wheel and no rig."""

    delimiter: str
    heads: list[str]
    samples: list[list[str]]
    columns: list[ColumnIn]
    meanings: dict[core.Means, str]
    orders: dict[core.Order, str]
    order: core.Order
    zone: str
    faults: list[core.Fault]
    strange: list[str]
    strange_rigs: list[str]
    # Why it cannot be read as chosen; empty: it can.
    refusal: str


@dataclass
class Looked:
    """The beginning of a file as it was read by what is chosen, or guessed."""

    chosen: ColumnsIn
    delimiter: str
    heads: list[str]
    lines: list[list[str]]
    may: Sequence[core.Means]
    rows: list[core.Row] = field(default_factory=list)
    faults: list[core.Fault] = field(default_factory=list)
    strange: list[str] = field(default_factory=list)
    strange_rigs: list[str] = field(default_factory=list)
    refusal: str = ""

    def told(self, means: core.Means) -> set[str]:
        """All that its rows say in a column, in small letters; empty where no column is that."""
        place = next((i for i, c in enumerate(self.chosen.columns) if c.means == means), None)
        return set() if place is None else {r[place].strip().lower() for r in self.lines if place < len(r)}

    def said(self) -> dict[str, object]:
        """What `FileLookOut` says of it."""
        return {
            "delimiter": self.delimiter, "heads": self.heads, "columns": self.chosen.columns, "orders": core.ORDERS,
            "samples": [[r[i] if i < len(r) else "" for r in self.lines[:3]] for i in range(len(self.heads))],
            "meanings": {m: core.MEANS[m] for m in self.may}, "zone": self.chosen.zone, "order": self.chosen.order, "faults": self.faults[:SHOWN],
            "strange": self.strange, "strange_rigs": self.strange_rigs, "refusal": self.refusal,
        }  # fmt: skip


def look(
    head: str, chosen: ColumnsIn | None, zone: Callable[[], str], reader: Callable[[ColumnsIn], core.Reader], may: Sequence[core.Means]
) -> Looked:  # fmt: skip
    """How the beginning of a file would be read. Raises Refusal for what is no rows at all."""
    head = "\n".join(head.lstrip("\ufeff").splitlines()[:_LOOKED_AT])
    delimiter = delimiter_of(head)
    # What begins with nothing but blanks has not even a heading.
    heads, *lines = read_lines(head, delimiter, "head") or [[]]
    if len(heads) < 2 or not lines:
        raise Refusal("That has no rows with columns under a heading. Choose a CSV file.", "head")
    if chosen is None:
        means = core.guess(heads, may)
        days = [r[means.index("at")] for r in lines if any(r) and len(r) == len(heads)] if "at" in means else []
        chosen = ColumnsIn(columns=[ColumnIn(means=m) for m in means], order=core.guess_order(days))
    seen = Looked(chosen.model_copy(update={"zone": chosen.zone or zone()}), delimiter, heads, lines, may)
    try:
        by = reader(seen.chosen)
        seen.rows, seen.faults = by.read(lines, 2)
        seen.strange, seen.strange_rigs = sorted(by.strange), sorted(by.strange_rigs)
    except Refusal as no:
        seen.refusal = no.message
    return seen


def read_slice(reader: core.Reader, data: SliceIn, delimiter: str) -> tuple[list[core.Row], list[core.Fault]]:
    """The rows of a slice, and what is wrong in it. Raises Refusal past 100,000 rows."""
    if data.first > MOST_ROWS + 1:
        raise Refusal(f"The file has more than {MOST_ROWS:,} rows. Split it.", "first")
    rows, faults = reader.read(read_lines(data.text, delimiter, "text"), data.first)
    latest = max((r.at for r in rows), default=None)
    if latest is not None and is_ahead(latest):
        words = f"{latest:%Y-%m-%d %H:%M} lies in the future: check order and time zone."
        faults = [core.Fault(data.first, words), *faults]
    return rows, faults


def taken(reader: core.Reader, rows: int, faults: list[core.Fault]) -> TakenOut:
    """What is answered to a slice."""
    return TakenOut(
        rows=rows, faults=faults, strange=sorted(reader.strange), strange_rigs=sorted(reader.strange_rigs)
    )  # fmt: skip


# To a file that begins: nothing came yet.
NOTHING_YET = TakenOut(rows=0, faults=[], strange=[], strange_rigs=[])


def must_be_whole(numbers: Iterable[int], faults: Sequence[dict[str, object]]) -> None:
    """Raises Refusal for a file with a fault, or with a gap."""
    if faults:
        more = f" and {len(faults) - 1} more" if len(faults) > 1 else ""
        raise Refusal(f"Row {faults[0]['row']}: {faults[0]['words']}{more}. Nothing was brought in.", "faults")
    there = list(numbers)
    if there != list(range(1, len(there) + 1)):
        raise Refusal("A part of the file is missing. Bring it in again.", "slices")
