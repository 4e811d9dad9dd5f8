"""Readings out of any file with rows: what each column means is chosen, and the file is read all or nothing."""

import datetime as dt
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from ballast.core.refusal import Refusal
from ballast.core.units import number, to_canonical

Order = Literal["ymd", "dmy", "mdy"]
ORDERS: dict[Order, str] = {"ymd": "Year, month, day", "dmy": "Day, month, year", "mdy": "Month, day, year"}
Means = Literal["", "at", "clock", "rig", "wheel", "pressure", "temperature", "outside", "elevation", "gauge"]
MEANS: dict[Means, str] = {
    "": "Left out",
    "at": "Date, or date and time",
    "clock": "Time of day",
    "rig": "Which rig",
    "wheel": "Which wheel",
    "pressure": "Pressure",
    "temperature": "Temperature of the tire",
    "outside": "Temperature outside",
    "elevation": "Elevation of the place",
    "gauge": "Gauge",
}
# What may be chosen where the rig is known and a sensor read it.
OF_SENSORS: tuple[Means, ...] = ("", "at", "clock", "wheel", "pressure", "temperature", "outside")
# Beyond these nothing is a pressure [kPa] or a temperature [°C] of a tire.
MOST_KPA, COLDEST_C, HOTTEST_C = 1400.0, -60.0, 150.0
LOWEST_M, HIGHEST_M = -430.0, 5500.0
MOST_FAULTS = 50
_ONCE: tuple[Means, ...] = ("at", "clock", "rig", "wheel", "outside", "elevation", "gauge")
_TIME = re.compile(r"(\d{1,2})[:.](\d{2})(?:[:.](\d{2})(?:[.,]\d+)?)?\s*([AaPp])?\.?[Mm]?\.?$")
_DAY = re.compile(r"(\d{1,4})[-/. ](\d{1,2})[-/. ](\d{1,4})")


@dataclass(frozen=True)
class Column:
    """What a column means; of a column that is one wheel's own, its code."""

    means: Means
    wheel: str = ""


@dataclass(frozen=True)
class Columns:
    """What the columns of a file mean, by their place, and how they are written. `names`: a wheel's code by what the file calls it."""

    columns: tuple[Column, ...]
    order: Order = "ymd"
    zone: str = "UTC"
    pressure_unit: str = "kPa"
    temperature_unit: str = "°C"
    length_unit: str = "m"
    names: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Number:
    """What was read at a wheel: pressure [kPa], and the temperature of its tire [°C]; None: it does not say."""

    wheel: str
    kpa: float
    tire_c: float | None = None


@dataclass(frozen=True)
class Row:
    """A row as it was read: when, at which rig (as the file calls it), what its wheels read, in which air; None: it does not say."""

    at: dt.datetime
    read: tuple[Number, ...]
    outside_c: float | None = None
    rig: str = ""
    elevation_m: float | None = None
    gauge: str = ""


@dataclass(frozen=True)
class Fault:
    """What is wrong with a row of the file, counted from 1 with its heading."""

    row: int
    words: str


class Reader:
    """Reads rows by chosen columns. `rigs`: of each rig, by what it may be called in small letters, its wheels' codes by code and
    by name; by no name the one that all rows are of, where no column names any.

    Raises Refusal for columns that do not say when, and which wheel of which rig reads what.
    """

    def __init__(self, of: Columns, rigs: Mapping[str, Mapping[str, str]]) -> None:
        self.of, self.rigs = of, rigs
        # What the file calls wheels and rigs that are none.
        self.strange: set[str] = set()
        self.strange_rigs: set[str] = set()
        means = [c.means for c in of.columns]
        for once in _ONCE:
            if means.count(once) > 1:
                raise Refusal(f"Two columns are “{MEANS[once]}”. Leave one of them out.", "columns")
        if "at" not in means:
            raise Refusal("No column says when: choose the one with the date.", "columns")
        if "pressure" not in means:
            raise Refusal("No column is a pressure: choose at least one.", "columns")
        if "rig" not in means and "" not in rigs:
            raise Refusal("No column says which rig: choose the one with its number or name.", "columns")
        wheels = {code for of_rig in rigs.values() for code in of_rig.values()}
        for i, c in enumerate(of.columns):
            if c.means in ("pressure", "temperature") and "wheel" not in means and c.wheel not in wheels:
                raise Refusal(
                    f"Say which wheel column {i + 1} is of, or choose the column that names it.", f"columns.{i}.wheel"
                )
        try:
            self.zone = ZoneInfo(of.zone)
        except (ZoneInfoNotFoundError, ValueError):
            raise Refusal("There is no such time zone. Write UTC, or its name as a phone gives it.", "zone") from None
        self.place = {m: means.index(m) for m in _ONCE if m in means}
        self.numbers = [
            (i, c.means, c.wheel) for i, c in enumerate(of.columns) if c.means in ("pressure", "temperature")
        ]

    def read(self, rows: Iterable[Sequence[str]], first: int) -> tuple[list[Row], list[Fault]]:
        """The rows from number `first` on, and what is wrong in them, at most 50 faults. An empty row is nothing."""
        read: list[Row] = []
        faults: list[Fault] = []
        for n, cells in enumerate(rows, first):
            if not any(cells):
                continue
            try:
                row = self._row(cells)
            except Refusal as no:
                if len(faults) < MOST_FAULTS:
                    faults.append(Fault(n, no.message))
                continue
            if row.read:
                read.append(row)
        return read, faults

    def _row(self, cells: Sequence[str]) -> Row:
        if len(cells) < len(self.of.columns):
            cells = [*cells, *[""] * (len(self.of.columns) - len(cells))]
        at = self._at(cells)
        rig = self._told(cells, "rig")
        wheels = self.rigs.get(rig.lower())
        if wheels is None:
            self.strange_rigs.add(rig)
            raise Refusal(f"“{rig[:40]}” is no rig of this workspace, by its number or its name.")
        named = ""
        if "wheel" in self.place:
            told = self._told(cells, "wheel")
            meant = self.of.names.get(told, told)
            if not meant and told:
                return Row(at, ())
            if meant not in wheels:
                self.strange.add(told)
                raise Refusal(f"“{told[:30]}” is no wheel of it. Say which one is meant, or leave it out.")
            named = wheels[meant]
        kpa: dict[str, float] = {}
        tire_c: dict[str, float] = {}
        for i, means, wheel in self.numbers:
            if not cells[i].strip():
                continue
            code = named or wheel
            if code not in wheels:
                raise Refusal(f"It has no wheel {code}: leave the cell empty, or the column out.")
            if means == "pressure":
                kpa[code] = _within(cells[i], self.of.pressure_unit, 0.0, MOST_KPA)
            else:
                tire_c[code] = _within(cells[i], self.of.temperature_unit, COLDEST_C, HOTTEST_C)
        outside, up = self._told(cells, "outside"), self._told(cells, "elevation")
        outside_c = _within(outside, self.of.temperature_unit, COLDEST_C, 60.0) if outside else None
        elevation_m = _within(up, self.of.length_unit, LOWEST_M, HIGHEST_M, "elevation") if up else None
        read = tuple(Number(w, p, tire_c.get(w)) for w, p in kpa.items())
        return Row(at, read, outside_c, rig, elevation_m, self._told(cells, "gauge"))

    def _told(self, cells: Sequence[str], means: Means) -> str:
        """What a row says in a column; empty where there is none."""
        return cells[self.place[means]].strip() if means in self.place else ""

    def _at(self, cells: Sequence[str]) -> dt.datetime:
        text = cells[self.place["at"]].strip()
        if "clock" in self.place:
            text = f"{text} {cells[self.place['clock']].strip()}"
        try:
            at = _moment(text, self.of.order)
        except ValueError:
            raise Refusal(f"“{text[:40]}” is no moment in the order {ORDERS[self.of.order].lower()}.") from None
        return at if at.tzinfo else at.replace(tzinfo=self.zone)


def _within(text: str, unit: str, low: float, high: float, what: str = "reading of a tire") -> float:
    value = to_canonical(number(text), unit)
    if not low <= value <= high:
        raise Refusal(f"“{text.strip()[:20]}” {unit} is no {what}: check the unit.")
    return value


def _moment(text: str, order: Order) -> dt.datetime:
    """A moment as written. Raises ValueError.

    >>> _moment("28/11/2026 4:05 PM", "dmy"), _moment("2026-11-28T04:05:06Z", "ymd").minute
    (datetime.datetime(2026, 11, 28, 16, 5), 5)
    """
    if order == "ymd":
        try:
            return dt.datetime.fromisoformat(text)
        except ValueError:
            pass
    day, clock = _DAY.match(text), _TIME.search(text)
    if not day or (not clock and day.end() != len(text)):
        raise ValueError(text)
    a, b, c = (int(v) for v in day.groups())
    year, month, of_month = {"ymd": (a, b, c), "dmy": (c, b, a), "mdy": (c, a, b)}[order]
    hour, minute, second, half = (int(clock[1]), int(clock[2]), int(clock[3] or 0), (clock[4] or "").lower()) if clock else (0, 0, 0, "")  # fmt: skip
    if half:
        if not 1 <= hour <= 12:
            raise ValueError(text)
        hour = hour % 12 + (12 if half == "p" else 0)
    return dt.datetime(year + 2000 if year < 100 else year, month, of_month, hour, minute, second)  # noqa: DTZ001


def guess_order(days: Sequence[str]) -> Order:
    """The one order in which all of these are days; where more than one does, or none, years first: to be looked at.

    >>> guess_order(["06/03/2024", "06/17/2024"]), guess_order(["03.06.2024", "17.06.2024"]), guess_order(["06/03/2024"])
    ('mdy', 'dmy', 'ymd')
    """
    fits = [order for order in ORDERS if all(_is_day(text, order) for text in days)]
    return fits[0] if len(fits) == 1 else "ymd"


def _is_day(text: str, order: Order) -> bool:
    try:
        _moment(text.strip(), order)
    except ValueError:
        return False
    return True


def guess(heads: Sequence[str], may: Sequence[Means] = tuple(MEANS)) -> list[Means]:
    """What each column most likely means of what it may, by its heading; to be looked at.

    >>> guess(["Time stamp", "Position", "Pressure (psi)", "Temp °F", "Battery"])
    ['at', 'wheel', 'pressure', 'temperature', '']
    """
    words: tuple[tuple[Means, str], ...] = (
        ("outside", r"outside|ambient"), ("elevation", r"elevation|altitude"), ("rig", r"\brig\b|vehicle|fleet"), ("at", r"date|stamp|moment|when|\bday\b|\bat\b"), ("clock", r"time|clock"), ("pressure", r"pressure|psi|kpa|\bbar\b"),
        ("temperature", r"temp|°|deg"), ("wheel", r"wheel|tire|position|sensor"), ("gauge", r"gauge"),
    )  # fmt: skip
    found: list[Means] = []
    for head in heads:
        means: Means = next((m for m, pattern in words if re.search(pattern, head.lower())), "")
        if means == "clock" and "at" not in found and not any(re.search("date", h.lower()) for h in heads):
            means = "at"
        found.append("" if means not in may or (means in found and means in _ONCE) else means)
    return found
