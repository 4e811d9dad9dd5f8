"""Files that people bring: bytes to text to rows, told plainly where they are not what they should be."""

import base64
import binascii
import csv
import io
import itertools
import re
from collections.abc import Iterable, Mapping
from typing import Any

from django.http import HttpResponse, StreamingHttpResponse

from ballast.core import units
from ballast.core.refusal import Refusal
from ballast.server.edge.versions import KIND_BY_SUFFIX

MOST_BYTES = 700_000
MOST_ROWS = 2_000


def read_bytes(content: str, field: str = "content") -> bytes:
    """The bytes of a base64 field. Raises Refusal."""
    try:
        data = base64.b64decode(content, validate=True)
    except (binascii.Error, ValueError):
        raise Refusal("The file did not arrive whole. Choose it again.", field) from None
    if len(data) > MOST_BYTES:
        raise Refusal(f"The file has {len(data):,} bytes, the most is {MOST_BYTES:,}. Split it.", field)
    return data


def read_text(content: str, field: str = "content") -> str:
    """The text of a file, UTF-8 or, by its mark, UTF-16. Raises Refusal for other encodings and for no text at all."""
    data = read_bytes(content, field)
    encoding = "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig"
    try:
        text = data.decode(encoding)
    except UnicodeDecodeError as at:
        raise Refusal(
            f"The file is not in UTF-8 (byte {at.start + 1} is not). Save it as UTF-8 and choose it again.", field
        ) from None
    if "\x00" in text:
        raise Refusal("That is no text file. Choose the CSV or JSON file itself.", field)
    if not text.strip():
        raise Refusal("The file is empty. Choose another.", field)
    return text


def delimiter_of(text: str) -> str:
    """What parts the columns of a CSV, by its first line: comma, semicolon or tab."""
    return max(",;\t", key=next(iter(text.splitlines()), "").count)


def read_lines(text: str, delimiter: str, field: str) -> list[list[str]]:
    """The cells of a CSV, line by line. Raises Refusal for what is none."""
    try:
        return [[harmed(cell.strip()) for cell in line] for line in csv.reader(io.StringIO(text), delimiter=delimiter)]
    except csv.Error as bad:
        raise Refusal(f"The file is not CSV: {bad}. Save it as CSV and choose it again.", field) from None


def read_rows(
    text: str, needed: tuple[str, ...], known: tuple[str, ...], field: str = "content", most: int = MOST_ROWS
) -> list[dict[str, str]]:
    """Rows of a CSV with a header, by its columns; comma, semicolon or tab. Raises Refusal naming what is missing."""
    lines = read_lines(text, delimiter_of(text), field)
    columns = read_heading(lines[0], needed, known, field)
    rows = rows_by(columns, lines[1:])
    if len(rows) > most:
        raise Refusal(f"The file has {len(rows):,} rows, the most is {most:,}. Split it.", field)
    return rows


def read_heading(heading: list[str], needed: tuple[str, ...], known: tuple[str, ...], field: str) -> list[str]:
    """The columns of a file by its first row. Raises Refusal naming what is missing, or not known."""
    columns = [c.lower() for c in heading]
    missing = [c for c in needed if c not in columns]
    if missing:
        raise Refusal(f"The first row lacks the column {missing[0]}. It takes: {', '.join(known)}.", field)
    strange = [c for c in columns if c and c not in known]
    if strange:
        raise Refusal(f"The column {strange[0][:40]} is not known. It takes: {', '.join(known)}.", field)
    return columns


def rows_by(columns: list[str], lines: list[list[str]]) -> list[dict[str, str]]:
    """Lines of a file by its columns, without those that are empty."""
    return [dict(zip(columns, line, strict=False)) for line in lines if any(line)]


def harmless(cell: str) -> str:
    """Text that a spreadsheet would run as a formula, made plain by a leading apostrophe."""
    return f"'{cell}" if cell[:1] in ("=", "+", "-", "@", "\t", "\r") else cell


def harmed(cell: str) -> str:
    """The other way: a cell that was made harmless, as it was before."""
    return cell[1:] if cell[:1] == "'" and harmless(cell[1:]) != cell[1:] else cell


def _cell(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, (int, float)):
        # A number runs nothing; what a person typed may look like one.
        return f"{value:.2f}" if isinstance(value, float) else str(value)
    return harmless(str(value))


_UNIT = re.compile(rf"_({'|'.join(KIND_BY_SUFFIX)})(?=_|$)")
_SYMBOLS = {"°F": "f", "km/h": "kmh"}


# A file of rows: its columns, and what stands in them.
Listed = tuple[tuple[str, ...], Iterable[Mapping[str, object]]]


def in_units(columns: tuple[str, ...], rows: Iterable[Mapping[str, object]], system: units.System) -> Listed:
    """Rows with a column in the person's own unit after each that is canonical: `found_kpa`, then `found_psi`."""
    shown = units.shown_in(system)
    own: dict[str, tuple[str, str]] = {}
    for name in columns:
        at = _UNIT.search(name)
        symbol = shown[KIND_BY_SUFFIX[at[1]]] if at else ""
        if at and symbol != units.CANONICAL[KIND_BY_SUFFIX[at[1]]]:
            own[name] = (f"{name[: at.start() + 1]}{_SYMBOLS.get(symbol, symbol)}{name[at.end() :]}", symbol)

    def beside(row: Mapping[str, object]) -> dict[str, object]:
        measured = {n: v for n in own if isinstance(v := row.get(n), float)}
        return {**row, **{own[n][0]: units.from_canonical(v, own[n][1]) for n, v in measured.items()}}

    both = tuple(c for name in columns for c in ((name, own[name][0]) if name in own else (name,)))
    return both, (beside(row) for row in rows)


def csv_in_units(columns: tuple[str, ...], rows: Iterable[Mapping[str, object]], system: units.System) -> str:
    """`csv_text` with a column in the person's own unit after each that is canonical."""
    return csv_text(*in_units(columns, rows, system))


def csv_text(columns: tuple[str, ...], rows: Iterable[Mapping[str, object]]) -> str:
    """Rows as CSV (RFC 4180), the one way out for all of them: no cell runs as a formula, what a row lacks is left empty.

    None is empty, a float has two decimals, a bool is yes or no. A row with a column that is not named is a mistake.
    """
    out = io.StringIO()
    writer = csv.DictWriter(out, columns, restval="", lineterminator="\r\n")
    writer.writeheader()
    writer.writerows({k: _cell(v) for k, v in row.items()} for row in rows)
    return out.getvalue()


class _Line:
    """What a CSV writer writes to: each line as it comes."""

    def write(self, line: str) -> str:
        return line


def csv_streamed(columns: tuple[str, ...], rows: Iterable[Mapping[str, object]], name: str) -> StreamingHttpResponse:
    """The same file as `csv_text` makes, sent row by row: of a long list nothing is held."""
    writer = csv.writer(_Line(), lineterminator="\r\n")
    lines = itertools.chain([columns], ([_cell(row.get(c)) for c in columns] for row in rows))
    reply = StreamingHttpResponse((writer.writerow(line) for line in lines), content_type="text/csv; charset=utf-8")
    reply["Content-Disposition"] = f'attachment; filename="{name}"'
    return reply


def attachment(content: str | bytes, name: str, kind: str) -> HttpResponse:
    """A file to download."""
    charset = "; charset=utf-8" if isinstance(content, str) else ""
    reply = HttpResponse(content, content_type=f"{kind}{charset}")
    reply["Content-Disposition"] = f'attachment; filename="{name}"'
    return reply
