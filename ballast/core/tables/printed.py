"""A table as it is printed: cells as people paste them, checked, and made canonical."""

import re
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.tables.lookup import LoadTable
from ballast.core.units import both, to_canonical

# Above the load index by more than this is a wrong table.
ABOVE_INDEX = 0.005
MOST_COLUMNS = 40
_PRESSURE_KPA = (30.0, 1400.0)
_LOAD_KG = (20.0, 20_000.0)
LineName = Literal["steps", "single", "dual"]
LINES: tuple[LineName, ...] = ("steps", "single", "dual")
_NOUN = {"steps": "pressure", "single": "load", "dual": "load"}


@dataclass(frozen=True)
class Told:
    """A cell that was not understood, by its line and column, and why."""

    line: LineName
    index: int
    message: str


@dataclass(frozen=True)
class Block:
    """What a pasted block says: cells by line, as text that reads back as it was understood."""

    lines: dict[LineName, list[str]]
    pressure_unit: str | None = None
    mass_unit: str | None = None
    told: list[Told] = field(default_factory=list)


# Not `rounding_of`: it takes round pressures for rounded ones.
# Half of what a row of a printed table is usually rounded to, canonical: 1 psi, 10 kPa, 0.1 bar; 10 lb, 5 kg.
_ROUNDED = {"psi": 3.5, "kPa": 5.0, "bar": 5.0, "lb": 2.3, "kg": 2.5}

_SPACES = "\u00a0\u202f\u2009\u2007 '\u2019"
# Footnote marks after a number: stars, daggers, raised digits, a letter or number in brackets.
_FOOTNOTE = re.compile(
    r"\s*(?:[*†‡§¶#]+|[\u00b9\u00b2\u00b3\u2070-\u2079]+|\([a-z0-9]{1,2}\)|\[[a-z0-9]{1,2}\])+$", re.I
)
_RANGE = re.compile(r"\d\s*(?:-|\u2013|\u2014|\.\.\.?|to|bis)\s*\d", re.I)
_EMPTY = re.compile(r"^(?:[-\u2013\u2014.]*|n/?a|nil)$", re.I)
_UNIT = re.compile(r"(?<![a-z])(psi|kpa|bar|lbs?|pounds|kgs?)(?![a-z])", re.I)
_UNIT_OF = {"psi": "psi", "kpa": "kPa", "bar": "bar", "lb": "lb", "lbs": "lb", "pounds": "lb", "kg": "kg", "kgs": "kg"}


def _plain(text: str) -> str:
    """A cell without its unit and footnote marks."""
    return _FOOTNOTE.sub("", _UNIT.sub("", text).strip()).strip()


def _read(text: str, group: str, point: str) -> float | None:
    """A number under one way of writing: `group` between thousands, `point` before decimals; None: not written so."""
    digits = text
    for space in _SPACES:
        digits = digits.replace(space, " ")
    match = re.fullmatch(
        rf"(\d{{1,3}}(?:(?:{re.escape(group)}| )\d{{3}})+|\d+)(?:{re.escape(point)}(\d+))?", digits, re.ASCII
    )
    if not match:
        return None
    return float(re.sub(r"\D", "", match[1]) + (f".{match[2]}" if match[2] else ""))


def read_line(name: LineName, cells: list[str], unit: str) -> tuple[list[str], list[Told]]:
    """Cells of one line as pasted: thousands separators, decimal commas and footnote marks understood where safe.

    Read in the one way of writing that makes every cell of the line possible in `unit`; a range, a missing cell,
    words, or two ways that both would do, are told cell by cell and left as they came.
    """
    low, high = _PRESSURE_KPA if name == "steps" else _LOAD_KG
    plain = [_plain(c) for c in cells]
    misread: dict[int, str] = {}
    for i, (text, cell) in enumerate(zip(plain, cells, strict=True)):
        if _EMPTY.match(text):
            misread[i] = f"This {_NOUN[name]} is missing. Enter it as printed."
        elif _RANGE.search(text):
            misread[i] = f"“{cell.strip()[:30]}” is a range. Enter the one number of this column."
        elif "/" in text:
            misread[i] = f"“{cell.strip()[:30]}” holds two numbers. Enter the one of this line."
    readable = [i for i in range(len(cells)) if i not in misread]
    ways: list[dict[int, float | None]] = []
    for group, point in ((",", "."), (".", ",")):
        ways.append({i: _read(plain[i], group, point) for i in readable})

    def possible(way: dict[int, float | None]) -> int:
        """How many cells this way of writing makes possible."""
        return sum(1 for v in way.values() if v is not None and low <= to_canonical(v, unit) <= high)

    score = [possible(way) for way in ways]
    best = ways[0] if score[0] >= score[1] else ways[1]
    alike = score[0] == score[1]
    for i in readable:
        value = best[i]
        other = ways[1][i] if best is ways[0] else ways[0][i]
        if value is None:
            misread[i] = f"“{cells[i].strip()[:30]}” is not a number. Enter the {_NOUN[name]} as printed."
        elif alike and other is not None and other != value and low <= to_canonical(other, unit) <= high:
            misread[i] = f"“{cells[i].strip()[:30]}” may be {value:g} or {other:g}. Enter it without separators."
    shown = [cells[i].strip()[:30] if i in misread else f"{best[i]:.10g}" for i in range(len(cells))]
    return shown, [Told(name, i, message) for i, message in sorted(misread.items())]


def _split(text: str) -> list[list[str]]:
    lines = [line for line in text.replace("\r\n", "\n").replace("\r", "\n").split("\n") if line.strip()]
    if not lines:
        return []
    for mark in ("\t", ";", "|"):
        if any(mark in line for line in lines):
            return [[c.strip() for c in line.strip(f"{mark} " if mark == "|" else " ").split(mark)] for line in lines]
    # A copied page: columns stand two blanks apart, or, where no number has blanks inside, one.
    wide = [re.split(r"\s{2,}", line.strip()) for line in lines]
    if max(len(row) for row in wide) > 2:
        return wide
    return [line.split() for line in lines]


def _label(cells: list[str]) -> str:
    """The words in front of a line's numbers, in lower case."""
    head = []
    for cell in cells:
        if re.match(r"\s*\d", cell):
            break
        head.append(cell)
    return " ".join(head).lower()


def _name(label: str, unit: str | None) -> LineName | None:
    if re.search(r"\bdual\b|\bd\b|twin", label):
        return "dual"
    if re.search(r"\bsingle\b|\bs\b", label):
        return "single"
    if unit in ("psi", "kPa", "bar") or re.search(r"pressure|inflation|cold", label):
        return "steps"
    return None


def read_block(text: str, first: LineName, pressure_unit: str, mass_unit: str) -> Block:
    """A block pasted from a sheet or a page, beginning at the line `first`.

    Lines may carry a label (“Dual (lb)”), which names them and their unit; a block taller than wide is turned. A line that is
    printed in two units (psi and kPa, lb and kg) is one line: read in the wanted unit, and checked against the other.
    Raises Refusal where it has more columns than a table may have, or more lines than one table has.
    """
    rows = _split(text[:200_000])
    if not rows:
        raise Refusal("Nothing was pasted. Copy the table's cells first.", "text")
    tall, wide = len(rows), max(len(r) for r in rows)
    # Columns of more than one table's lines stand under their names.
    headed = not any(re.match(r"\s*\d", c) for c in rows[0])
    turned = tall > wide and tall > 3 and (wide <= 4 or (wide <= 6 and headed))
    columns = tall if turned else wide
    if columns > MOST_COLUMNS + 1 or (not turned and tall > 12):
        raise Refusal(
            f"The block has {tall:,} lines of {wide:,} cells; a table here has at most three lines of "
            f"{MOST_COLUMNS} columns. Copy one table, or import several from a file.",
            "text",
        )
    if turned:
        rows = [[r[c] if c < len(r) else "" for r in rows] for c in range(wide)]
    named: list[tuple[LineName | None, str | None, list[str]]] = []
    labeled = any(ch.isalpha() for row in rows for ch in _label(row))
    for row in rows:
        label = _label(row)
        match = _UNIT.search(label) or next((m for c in row if (m := _UNIT.search(c))), None)
        unit = _UNIT_OF[match[1].lower()] if match else None
        # Only the words in front go, and the empty corner over them; an empty cell between numbers is a missing one.
        start = next((i for i, c in enumerate(row) if re.match(r"\s*\d", c)), len(row))
        cells = row[start:] if labeled else row
        if not any(re.search(r"\d", c) for c in cells):
            continue
        named.append((_name(label, unit), unit, cells))
    if not named:
        raise Refusal("There is no number in what was pasted. Copy the table's cells.", "text")
    printed = _by_line(named, first)
    pressure = _unit_among([printed["steps"]] if "steps" in printed else [], pressure_unit)
    mass = _unit_among([printed[n] for n in ("single", "dual") if n in printed], mass_unit)
    width = max(len(cells) for rows_of in printed.values() for _, cells in rows_of)
    lines: dict[LineName, list[str]] = {}
    misread: list[Told] = []
    for use, rows_of in printed.items():
        unit = (pressure or pressure_unit) if use == "steps" else (mass or mass_unit)
        own = next((cells for u, cells in rows_of if u == unit), rows_of[0][1])
        lines[use], no = read_line(use, own + [""] * (width - len(own)), unit)
        misread += no
        for other, cells in rows_of:
            if cells is not own and other is not None:
                misread += _apart(use, lines[use], unit, read_line(use, cells, other)[0], other)
    return Block(lines, pressure, mass, misread)


def _by_line(
    named: list[tuple[LineName | None, str | None, list[str]]], first: LineName
) -> dict[LineName, list[tuple[str | None, list[str]]]]:  # fmt: skip
    """Rows of cells by the line they are of; a line that is printed in two units has two. Raises Refusal for more lines."""
    # Lines without a name follow from where the block begins.
    taken = {name for name, _, _ in named if name}
    free = [n for n in LINES[LINES.index(first) :] if n not in taken]
    printed: dict[LineName, list[tuple[str | None, list[str]]]] = {}
    before: LineName | None = None
    for name, unit, cells in named:
        use = name
        if use is None and before is not None and _again(printed[before], unit):
            use = before
        use = use or (free.pop(0) if free else None)
        if use is None or (use in printed and not _again(printed[use], unit)):
            raise Refusal("More lines than pressures, single and dual loads. Copy one table at a time.", "text")
        printed.setdefault(use, []).append((unit, cells))
        before = use
    return printed


def _again(rows: list[tuple[str | None, list[str]]], unit: str | None) -> bool:
    """Whether a row is the same line in another unit."""
    had = {u for u, _ in rows}
    mass = {"lb", "kg"}
    return unit is not None and unit not in had and None not in had and (unit in mass) == (had <= mass)


def _unit_among(lines: list[list[tuple[str | None, list[str]]]], wanted: str) -> str | None:
    """The unit to read lines in: the wanted one where all are printed in it, else the first that is printed; None: none is."""
    if lines and all(any(u == wanted for u, _ in rows) for rows in lines):
        return wanted
    return next((u for rows in lines for u, _ in rows if u), None)


def _apart(line: LineName, one: list[str], unit: str, two: list[str], other: str) -> list[Told]:
    """Cells of one line in two units that are not the same quantity: each unit may be rounded to what is usual, no more."""
    told = []
    for i, (a, b) in enumerate(zip(one, two, strict=False)):
        try:
            kept, beside = to_canonical(float(a), unit), to_canonical(float(b), other)
        except ValueError:
            # Told already, as a cell that is no number.
            continue
        if abs(kept - beside) > _ROUNDED[unit] + _ROUNDED[other]:
            told.append(
                Told(line, i, f"{a} {unit} and {b} {other} beside it are not the same {_NOUN[line]}. Check both cells.")
            )
    return told


@lru_cache(maxsize=1024)
def build(
    steps: tuple[float, ...],
    single: tuple[float, ...],
    dual: tuple[float, ...] | None,
    pressure_unit: str,
    mass_unit: str,
    index_kg: tuple[float | None, float | None] = (None, None),
) -> LoadTable:
    """Makes a table of numbers as printed. `index_kg` are the loads of the load index, single and dual.

    Raises Refusal naming the cell: empty, not rising, dual above single, last load above the index.
    """
    if len(steps) < 2:
        raise Refusal("A table needs at least two columns. Enter the pressures as printed.", "steps")
    rows: list[tuple[str, tuple[float, ...]]] = [("steps", steps), ("single", single)]
    if dual is not None:
        rows.append(("dual", dual))
    for name, cells in rows:
        if len(cells) != len(steps):
            raise Refusal(f"{len(steps)} pressures but {len(cells)} loads. Every column needs one.", name)
        for i in range(1, len(cells)):
            if cells[i] <= cells[i - 1]:
                unit = pressure_unit if name == "steps" else mass_unit
                raise Refusal(
                    f"{cells[i]:g} {unit} does not rise from {cells[i - 1]:g} before it. Check both cells.",
                    f"{name}.{i}",
                )
    kpa = tuple(to_canonical(s, pressure_unit) for s in steps)
    if not kpa[0] >= 30 or not kpa[-1] <= 1400:
        index = 0 if kpa[0] < 30 else len(kpa) - 1
        raise Refusal(
            f"{steps[index]:g} {pressure_unit} is outside {both('pressure', 30)} to {both('pressure', 1400)}. Check the unit.",
            f"steps.{index}",
        )
    kgs = tuple(to_canonical(v, mass_unit) for v in single)
    if kgs[0] <= 0:
        raise Refusal("A load must be above zero.", "single.0")
    dual_kg = None if dual is None else tuple(to_canonical(v, mass_unit) for v in dual)
    if dual_kg is not None:
        if dual_kg[0] <= 0:
            raise Refusal("A load must be above zero.", "dual.0")
        for i, (d, s) in enumerate(zip(dual_kg, kgs, strict=True)):
            if d > s:
                raise Refusal("A dual tire carries no more than a single one. Are the rows swapped?", f"dual.{i}")
    for name, loads, limit in (("single", kgs, index_kg[0]), ("dual", dual_kg, index_kg[1])):
        if loads is not None and limit is not None and loads[-1] > limit * (1 + ABOVE_INDEX):
            raise Refusal(
                f"The last {name} load is {both('mass', loads[-1])}, above the load index's {both('mass', limit)}. "
                "This table is for another tire, or a cell is wrong.",
                f"{name}.{len(loads) - 1}",
            )
    return LoadTable(kpa, kgs, dual_kg)
