"""Several tables in one file, CSV or JSON, out and in: each looked at before any is saved."""

import json
from collections.abc import Iterator
from typing import Any

from django.db import transaction

from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.files import csv_text, read_rows, read_text
from ballast.server.edge.problems import REFUSED, told
from ballast.server.tables import services
from ballast.server.tables.models import Table
from ballast.server.tables.schemas import ImportedOut, TableIn, TablesImportOut

FORMAT, VERSION = "gentle-ballast/load-inflation-tables", 1
MOST_TABLES = 200
_OF_TABLE = (
    "size", "line", "source", "page", "load_range", "load_index_single", "load_index_dual", "speed_kmh", "pressure_unit",
    "mass_unit",
)  # fmt: skip
COLUMNS = ("table", *_OF_TABLE, "pressure", "single", "dual")
_EXAMPLE = (
    {
        "table": "1", "size": "245/70R19.5 135/133M", "line": "Example line", "source": "Example sheet", "page": "4",
        "load_range": "H", "pressure_unit": "kPa", "mass_unit": "kg", "pressure": "450", "single": "1510", "dual": "1425",
    },
    {"table": "1", "pressure": "485", "single": "1590", "dual": "1505"},
    {"table": "1", "pressure": "520", "single": "1670", "dual": "1580"},
)  # fmt: skip


def blank() -> str:
    """A file to start from: every column, a short example."""
    return csv_text(COLUMNS, _EXAMPLE)


def _body(row: Table) -> dict[str, object]:
    """A stored table as it would be sent in again, in its printed units."""
    head = {name: getattr(row, name) for name in _OF_TABLE}
    known = {name: value for name, value in head.items() if value not in (None, "")}
    return known | {"steps": row.steps, "single": row.single, "dual": row.dual}


def _chosen(actor: Actor) -> list[Table]:
    """The newest editions of the workspace, samples left out: they are made up."""
    return [t for t in services.tables(actor).filter(sample=False).order_by("size", "line", "id") if not t.replaced]  # type: ignore[attr-defined]


def export_json(actor: Actor) -> str:
    return json.dumps(
        {"format": FORMAT, "version": VERSION, "tables": [_body(t) for t in _chosen(actor)]},
        indent=2,
        ensure_ascii=False,
    )


def export_csv(actor: Actor) -> str:
    """A line for every column of every table; what belongs to a table stands in its first line."""
    return csv_text(COLUMNS, _lines(_chosen(actor)))


def _lines(chosen: list[Table]) -> Iterator[dict[str, object]]:
    for number, row in enumerate(chosen, 1):
        body = _body(row)
        for i, step in enumerate(row.steps):
            head = {k: str(body[k]) for k in _OF_TABLE if k in body} if i == 0 else {}
            cells = {"pressure": f"{step:g}", "single": f"{row.single[i]:.10g}"}
            if row.dual:
                cells["dual"] = f"{row.dual[i]:.10g}"
            yield {"table": number, **head, **cells}


# A table of a file as it would be sent in, field by field, before it is looked at.
Body = dict[str, Any]


def _from_csv(text: str) -> list[tuple[int, Body]]:
    """The tables of a CSV as bodies, each with the line where it begins."""
    bodies: dict[str, tuple[int, Body]] = {}
    for line, row in enumerate(read_rows(text, ("pressure", "single"), COLUMNS), 2):
        key = row.get("table") or ""
        if key not in bodies:
            body: Body = {k: row[k] for k in _OF_TABLE if row.get(k)}
            bodies[key] = (line, body | {"steps": [], "single": [], "dual": []})
        body = bodies[key][1]
        body["steps"].append(row.get("pressure", ""))
        body["single"].append(row.get("single", ""))
        body["dual"].append(row.get("dual", ""))
    for _, body in bodies.values():
        if not any(body["dual"]):
            body["dual"] = None
    return list(bodies.values())


def _from_json(text: str) -> list[tuple[int, Body]]:
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as bad:
        raise Refusal(f"The file is not JSON: {bad}. Save it again, or import CSV.", "content") from None
    ours = isinstance(data, dict) and data.get("format") == FORMAT and data.get("version") == VERSION
    if not ours or not isinstance(data.get("tables"), list):
        raise Refusal(
            f'The file is no list of tables. It needs "format": "{FORMAT}", "version": {VERSION} and "tables".',
            "content",
        )
    bodies = data["tables"]
    for i, body in enumerate(bodies):
        if not isinstance(body, dict):
            raise Refusal(f"Table {i + 1} is no object with size, source, units and lines.", "content")
    return [(i + 1, body) for i, body in enumerate(bodies)]


# So many problems of one table are told; the rest is seen once these are mended.
MOST_TOLD = 8


def run(actor: Actor, content: str, save: bool) -> TablesImportOut:
    """Reads the tables of a file; saves them, all or nothing, only with `save` and only where none is refused.

    Raises Refusal for what is no such file.
    """
    actor.must(May.TABLES)
    text = read_text(content)
    bodies = _from_json(text) if text.lstrip()[:1] == "{" else _from_csv(text)
    if not bodies:
        raise Refusal("There is no table in the file. Start from the blank one.", "content")
    if len(bodies) > MOST_TABLES:
        raise Refusal(f"The file has {len(bodies):,} tables, the most is {MOST_TABLES}. Split it.", "content")
    # All is checked before anything is written, so that nobody else waits for it.
    entries = [_looked_at(actor, line, body) for line, body in bodies]
    ready = not any(t.problems for t in entries)
    if save and ready:
        with transaction.atomic():
            for entry, (_, body) in zip(entries, bodies, strict=True):
                _saved(actor, entry, body)
            ready = not any(t.problems for t in entries)
            transaction.set_rollback(not ready)
    return TablesImportOut(tables=entries, ready=ready, saved=len(entries) if save and ready else 0)


def _told(no: Exception) -> list[str]:
    return [f"{p.field}: {p.message}".removeprefix(": ") for p in told(no)[:MOST_TOLD]]


def _looked_at(actor: Actor, line: int, body: Body) -> ImportedOut:
    """A table of a file as it would be saved, or what speaks against it."""
    entry = ImportedOut(name=str(body.get("size") or "no size")[:60], line=line, grid=None, problems=[])
    try:
        entry.grid = services.grid_out(services.understand(actor, TableIn.model_validate(body)))
    except REFUSED as no:
        entry.problems = _told(no)
    return entry


def _saved(actor: Actor, entry: ImportedOut, body: Body) -> None:
    try:
        with transaction.atomic():
            services.save_table(actor, TableIn.model_validate(body))
    except REFUSED as no:
        entry.problems = _told(no)
