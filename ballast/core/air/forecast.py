"""A forecast that a person brings: a day, a low and a high to a line, pasted or as a CSV with its columns chosen."""

import csv
import datetime as dt
import io
import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ballast.core.air.given import DAWN_OVER_HOUR
from ballast.core.refusal import Refusal
from ballast.core.units import parse
from ballast.core.working import day as in_words

MOST_DAYS = 16
# A forecast is gone by for so long after it was given [h]; then its days are shown no more.
FORECAST_OLD_H = 72.0
# The coldest hour, where a forecast names only the day.
_DAWN_HOUR = 6
_POSSIBLE_C = (-60.0, 60.0)

Degrees = Literal["°C", "°F"]
_NUMBER = re.compile(r"[+\-\u2212\u2013]?\d+(?:[.,]\d+)?\s*(?:°\s*)?(?:[CF](?![a-z]))?", re.IGNORECASE)
_BARE_DEGREES = re.compile(r"\s*°\s*$")
_ISO = re.compile(r"\d{4}-\d{2}-\d{2}")
_SLASHED = re.compile(r"(?<![\d.])(\d{1,2})([/.])(\d{1,2})(?:\2(\d{4}|\d{2})?)?(?![\d°])")
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_MONTH = rf"({'|'.join(_MONTHS)})[a-z]*\.?"
_NAMED = re.compile(
    rf"\b(?:{_MONTH}\s*(\d{{1,2}})(?:st|nd|rd|th)?|(\d{{1,2}})\.?\s*{_MONTH})\b(?:,?\s*(\d{{4}}))?", re.IGNORECASE
)
_WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
_WEEKDAY = re.compile(rf"\b({'|'.join(_WEEKDAYS)})[a-z]*\b[.,]?", re.IGNORECASE)
_SOON = re.compile(r"\b(today|tonight|tomorrow)\b", re.IGNORECASE)


@dataclass(frozen=True)
class ForecastDay:
    """A day's low at dawn and its high [°C]; None: not given."""

    on: dt.date
    low_c: float
    high_c: float | None = None


@dataclass(frozen=True)
class Columns:
    """Which column holds what, counted from 0. None: there is none; without columns each line is read as it stands."""

    day: int
    low: int
    high: int | None = None


@dataclass(frozen=True)
class Unread:
    """A line that was not understood, counted from 1, and why; 0: the whole."""

    line: int
    words: str


@dataclass(frozen=True)
class ForecastRead:
    """What was understood: the cells of the first lines to choose columns by, the days, and each line that was not."""

    heads: tuple[str, ...]
    columns: Columns | None
    days: tuple[ForecastDay, ...]
    refused: tuple[Unread, ...]


def forecast_holds(given_at: dt.datetime | None, now: dt.datetime) -> bool:
    """Whether a forecast that was given then is still gone by."""
    return given_at is not None and (now - given_at) / dt.timedelta(hours=1) <= FORECAST_OLD_H


def dawn_days(on: dt.date, now: dt.datetime, offset_min: int) -> float | None:
    """In how many days the dawn of a day comes, by a clock so many minutes east of UTC; None: it has passed."""
    local = now + dt.timedelta(minutes=offset_min)
    over = dt.datetime.combine(on, dt.time(DAWN_OVER_HOUR), local.tzinfo)
    if local >= over:
        return None
    return max(0.0, (over - dt.timedelta(hours=DAWN_OVER_HOUR - _DAWN_HOUR) - local) / dt.timedelta(days=1))


@dataclass(frozen=True)
class ComingDay:
    """A day ahead by hand: its low and high [°C, None: not known], and in how many days its dawn is; typed it has no date."""

    on: dt.date | None
    low_c: float | None
    high_c: float | None
    days: float


def coming_days(
    dawn_c: float | None, high_c: float | None, forecast: Iterable[ForecastDay], now: dt.datetime, offset_min: int
) -> tuple[ComingDay, ...]:
    """The days ahead: what was typed of the coming dawn, at most a day away, counts before what was forecast of it."""
    foretold = [
        ComingDay(d.on, d.low_c, d.high_c, days)
        for d in forecast
        if (days := dawn_days(d.on, now, offset_min)) is not None
    ]
    if dawn_c is None and high_c is None:
        return tuple(foretold)
    if not foretold or foretold[0].days > 1.0:
        return (ComingDay(None, dawn_c, high_c, 1.0), *foretold)
    first = foretold[0]
    low, high = first.low_c if dawn_c is None else dawn_c, first.high_c if high_c is None else high_c
    return (replace(first, low_c=low, high_c=high), *foretold[1:])


def check_forecast(days: Sequence[ForecastDay]) -> None:
    """Raises Refusal, naming the day, for one that stands twice, a low above its high, or more than `MOST_DAYS`."""
    if len(days) > MOST_DAYS:
        raise Refusal(f"These are {len(days)} days, the most is {MOST_DAYS}. Leave the later ones out.", "forecast")
    seen: set[dt.date] = set()
    for one in days:
        if one.on in seen:
            raise Refusal(f"{in_words(one.on)} stands twice. Leave one of the two.", "forecast")
        seen.add(one.on)
        if one.high_c is not None and one.high_c < one.low_c:
            raise Refusal(f"{in_words(one.on)}: the high is below the low. Are the two swapped?", "forecast")


def read_forecast(text: str, today: dt.date, degrees: Degrees, columns: Columns | None = None) -> ForecastRead:
    """Reads lines of a day, a low and a high; a bare number is in `degrees`. Every line that is not understood is told.

    A table (comma, semicolon or tab) names its columns, or they are taken from the words of its first line. Raises Refusal
    where nothing stands there, or a column is not there.
    """
    lines = [(n, line) for n, line in enumerate(text.splitlines(), 1) if line.strip()]
    if not lines:
        raise Refusal("Nothing is pasted. Give a line a day: the day, its low, its high.", "text")
    table = _table([line for _, line in lines])
    heads: tuple[str, ...] = ()
    if table is not None:
        headed = not any(_NUMBER.search(cell) for cell in table[0])
        heads = tuple(cell or f"Column {i + 1}" for i, cell in enumerate(table[0])) if headed else _samples(table[0])
        columns = columns or (_by_head(table[0]) if headed else None)
        if headed:
            table, lines = table[1:], lines[1:]
        columns = columns or _by_cells(table, today, degrees)
        if columns is None:
            asked = Unread(0, "Which column holds the day, which its low and its high? Choose them.")
            return ForecastRead(heads, None, (), (asked,))
    elif columns is not None:
        raise Refusal("These are lines, not columns. Leave the columns out.", "columns")
    days: list[ForecastDay] = []
    refused: list[Unread] = []
    for i, (number, line) in enumerate(lines):
        try:
            days.append(
                _of_cells(table[i], columns, today, degrees) if table and columns else _of_line(line, today, degrees)
            )
        except Refusal as no:
            refused.append(Unread(number, no.message[0].upper() + no.message[1:]))
    if not refused:
        try:
            check_forecast(days)
        except Refusal as no:
            refused.append(Unread(0, no.message))
    return ForecastRead(heads, columns, tuple(sorted(days, key=lambda d: d.on)), tuple(refused))


def _table(lines: list[str]) -> list[list[str]] | None:
    """The cells, where every line has as many of them, at least two, and none holds more than one thing.

    So `-2,5 8,1` is no table of three columns.
    """
    for mark in "\t;,":
        rows = [[cell.strip() for cell in row] for row in csv.reader(io.StringIO("\n".join(lines)), delimiter=mark)]
        if len({len(row) for row in rows}) != 1 or len(rows[0]) < 2:
            continue
        if all(_one_thing(cell) for row in rows for cell in row):
            return rows
    return None


def _one_thing(cell: str) -> bool:
    """A day alone, or at most one number."""
    for named in (_ISO, _NAMED, _SLASHED):
        if found := named.search(cell):
            return not _NUMBER.search(cell[: found.start()] + cell[found.end() :])
    return len(_NUMBER.findall(cell)) <= 1


def _by_cells(rows: list[list[str]], today: dt.date, degrees: Degrees) -> Columns | None:
    """The columns by what stands in them: one of days, two of numbers, one of which is never above the other."""

    def reads(at: int, read: Callable[[str], object]) -> bool:
        try:
            return all(read(row[at]) is not None for row in rows)
        except Refusal:
            return False

    wide = range(len(rows[0])) if rows else range(0)
    days = [at for at in wide if reads(at, lambda cell: _day(cell, today))]
    numbers = [at for at in wide if at not in days and reads(at, lambda cell: _degrees(cell, degrees))]
    if len(days) != 1 or len(numbers) != 2:
        return None
    for low, high in (numbers, numbers[::-1]):
        if all(_degrees(row[low], degrees) <= _degrees(row[high], degrees) for row in rows):
            return Columns(days[0], low, high)
    return None


def _samples(cells: list[str]) -> tuple[str, ...]:
    return tuple(f"Column {i + 1}, “{cell[:20]}”" for i, cell in enumerate(cells))


def _by_head(cells: list[str]) -> Columns | None:
    """The columns by their heads; None: the heads do not say it."""

    def at(*words: str) -> int | None:
        found = [i for i, cell in enumerate(cells) if any(w in cell.lower() for w in words)]
        return found[0] if len(found) == 1 else None

    day, low, high = at("day", "date", "time"), at("low", "min", "dawn"), at("high", "max")
    return None if day is None or low is None else Columns(day, low, high)


def _of_cells(cells: list[str], columns: Columns, today: dt.date, degrees: Degrees) -> ForecastDay:
    def cell(at: int) -> str:
        if not 0 <= at < len(cells):
            raise Refusal(f"there is no column {at + 1}; it has {len(cells)}.")
        return cells[at]

    on, _ = _day(cell(columns.day), today)
    high = "" if columns.high is None else cell(columns.high)
    return ForecastDay(on, _degrees(cell(columns.low), degrees), _degrees(high, degrees) if high else None)


def _of_line(line: str, today: dt.date, degrees: Degrees) -> ForecastDay:
    on, rest = _day(line, today)
    found = [_degrees(match[0], degrees) for match in _NUMBER.finditer(rest)]
    if len(found) not in (1, 2):
        many = "no temperature" if not found else f"{len(found)} numbers"
        raise Refusal(f"{many} beside the day. Give its low and its high, or choose columns.")
    # The low of a day is not above its high, whichever stands first.
    return ForecastDay(on, min(found), max(found) if len(found) == 2 else None)


def _degrees(text: str, degrees: Degrees) -> float:
    return parse("temperature", _BARE_DEGREES.sub("", text), *_POSSIBLE_C, degrees)


def _day(text: str, today: dt.date) -> tuple[dt.date, str]:
    """The day that a text names, and what is left of it. Raises Refusal for none, and for one that may be two."""
    if found := _ISO.search(text):
        try:
            on = dt.date.fromisoformat(found[0])
        except ValueError:
            raise Refusal(f"“{found[0]}” is no day. Write it as 2026-11-29.") from None
    elif found := _NAMED.search(text):
        month = (found[1] or found[4]).lower()
        on = _near(_MONTHS.index(month) + 1, int(found[2] or found[3]), found[5], today)
    elif found := _SOON.search(text):
        on = today + dt.timedelta(days=1 if found[1].lower() == "tomorrow" else 0)
    elif found := _SLASHED.search(text):
        on = _slashed(found, today)
    elif found := _WEEKDAY.search(text):
        on = today + dt.timedelta(days=(_WEEKDAYS.index(found[1].lower()) - today.weekday()) % 7)
    else:
        raise Refusal("no day is named. Begin it with one, as Nov 29, 2026-11-29 or Sat.")
    if not -1 <= (on - today).days <= MOST_DAYS:
        raise Refusal(f"{in_words(on)} is not among the next {MOST_DAYS} days. Check the day.")
    rest = text[: found.start()] + " " + text[found.end() :]
    return on, _WEEKDAY.sub(" ", rest)


def _near(month: int, day: int, year: str | None, today: dt.date) -> dt.date:
    """A day of a month, of the year in which it is nearest."""
    years = [int(year)] if year else [today.year, today.year + 1, today.year - 1]
    possible = []
    for y in years:
        try:
            possible.append(dt.date(y, month, day))
        except ValueError:
            continue
    if not possible:
        raise Refusal(f"{_MONTHS[month - 1].capitalize()} has no day {day}. Check the day.")
    return min(possible, key=lambda d: abs(d - today))


def _slashed(found: re.Match[str], today: dt.date) -> dt.date:
    """11/29 or 29.11.: month and day in the order that lies ahead; the two readings are never both near."""
    a, b, year = int(found[1]), int(found[3]), found[4]
    full = None if year is None else year if len(year) == 4 else f"20{year}"
    # With full stops the day stands first.
    for month, day in ((b, a),) if found[2] == "." else ((a, b), (b, a)):
        if 1 <= month <= 12 and 1 <= day <= 31:
            on = _near(month, day, full, today)
            if -1 <= (on - today).days <= MOST_DAYS:
                return on
    raise Refusal(f"“{found[0]}” is no day ahead. Write it as Nov 29, or 2026-11-29.")
