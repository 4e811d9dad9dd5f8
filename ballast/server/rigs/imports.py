"""A fleet from a CSV: a row for every axle, spare or tire, each checked, nothing saved before it was looked at."""

import csv
import io
import re
from typing import Any

from django.db import transaction
from django.utils import timezone

from ballast.core import rigs as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.files import read_rows, read_text
from ballast.server.edge.problems import REFUSED, told
from ballast.server.rigs import fittings
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rigs.schemas import FitIn, RigIn

_RIG = (
    "kind", "name", "fleet_number", "gvwr_kg", "gcwr_kg", "hitch_max_kg", "cargo_kg", "wheelbase_m", "hitch_m", "coupler_m",
    "top_speed_kmh", "note",
)  # fmt: skip
_SIDEWALL = (
    "tire_size", "tire_make", "load_index_single", "load_index_dual", "load_range", "max_load_single_kg", "max_load_dual_kg",
    "sidewall_max_kpa",
)  # fmt: skip
_WHEELS = ("wheel_max_kpa", "wheel_max_load_kg", "rim_width_in", "rim_low_in", "rim_high_in")
_AXLE = (
    "position_m",
    "track_m",
    "wheels",
    "role",
    "lift",
    "share",
    "gawr_kg",
    "placard_kpa",
    "placard_light_kpa",
    "placard_size",
    "lamp_kpa",
)
_TIRE = ("wheel", "date_code", "sensor", "diameter", "tread", "fitted_on", "odometer")
COLUMNS = ("row", "rig", *_RIG, *_AXLE, *_SIDEWALL, *_WHEELS, "required_kpa", *_TIRE)
_EXAMPLE: tuple[dict[str, str], ...] = (
    {"row": "rig", "rig": "R-1", "kind": "van", "name": "Example van", "fleet_number": "R-1", "gvwr_kg": "3500 kg"},
    {"row": "axle", "rig": "R-1", "position_m": "0 m", "track_m": "1.7 m", "wheels": "2", "gawr_kg": "1750 kg",
     "placard_kpa": "49 psi", "tire_size": "225/75R16C 121/120R", "sidewall_max_kpa": "525 kPa"},
    {"row": "axle", "rig": "R-1", "position_m": "3.6 m", "track_m": "1.7 m", "wheels": "2", "gawr_kg": "2200 kg",
     "placard_kpa": "4.5 bar", "tire_size": "225/75R16C 121/120R", "sidewall_max_kpa": "525 kPa"},
    {"row": "spare", "rig": "R-1", "tire_size": "225/75R16C 121/120R", "required_kpa": "4.5 bar"},
    {"row": "tire", "rig": "R-1", "wheel": "1L", "date_code": "3524", "tread": "9 mm", "fitted_on": "2026-05-02"},
)  # fmt: skip


def blank() -> str:
    """A file to start from: every column, an example of each kind of row."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, restval="", lineterminator="\r\n")
    writer.writeheader()
    writer.writerows(_EXAMPLE)
    return out.getvalue()


def _given(row: dict[str, str], names: tuple[str, ...]) -> dict[str, Any]:
    return {n: row[n] for n in names if row.get(n)}


def _axle(row: dict[str, str]) -> dict[str, Any]:
    axle = _given(row, (*_AXLE, *_SIDEWALL, *_WHEELS))
    if "wheels" in axle:
        if axle["wheels"] not in ("1", "2", "4"):
            raise Refusal("An axle has 1, 2 or, with duals, 4 wheels.", "wheels")
        axle["wheels"] = int(axle["wheels"])
        axle["dual"] = axle["wheels"] == 4
    if "lift" in axle:
        if axle["lift"].lower() not in ("yes", "no"):
            raise Refusal("Say yes or no.", "lift")
        axle["lift"] = axle["lift"].lower() == "yes"
    return axle


class _Sheet:
    """The rows of a file, grouped by the rig they belong to, each with its refusal."""

    def __init__(self, rows: list[dict[str, str]]) -> None:
        self.lines = [{"line": i, "words": "", "refused": "", "field": ""} for i in range(2, len(rows) + 2)]
        self.rigs: dict[str, dict[str, Any]] = {}
        # Where each part of a rig stands in the file: "axles.0" → line index.
        self.at: dict[str, dict[str, int]] = {}
        self.tires: list[tuple[int, str, dict[str, Any]]] = []
        for i, row in enumerate(rows):
            try:
                self._take(i, row)
            except Refusal as no:
                self.refuse(i, no.message, no.field)

    def _take(self, i: int, row: dict[str, str]) -> None:
        what, key = row.get("row", "").lower(), row.get("rig", "")
        if not key:
            raise Refusal("Name the rig by its fleet number, or by its name where it has none.", "rig")
        if what == "rig":
            if key in self.rigs:
                raise Refusal(f"{key} stands in the file twice. Give each rig its own.", "rig")
            self.rigs[key] = {"name": key, "axles": [], "spares": [], **_given(row, _RIG)}
            self.at[key] = {"": i}
            self.lines[i]["words"] = f"{self.rigs[key]['name']}, {row.get('kind') or 'kind missing'}"
        elif what in ("axle", "spare"):
            if key not in self.rigs:
                raise Refusal(f"No row before this one describes the rig {key}. Put its rig row first.", "rig")
            part = _axle(row) if what == "axle" else _given(row, (*_SIDEWALL, *_WHEELS, "required_kpa"))
            group = self.rigs[key]["axles" if what == "axle" else "spares"]
            self.at[key][f"{what}s.{len(group)}"] = i
            group.append(part)
            size = row.get("tire_size")
            kept = ", a marking that is not read and is kept as typed" if size and core.unread(size) else ""
            self.lines[i]["words"] = f"{key}: {what} {len(group)}, {size or 'size missing'}{kept}"
        elif what == "tire":
            new = _given(row, (*_SIDEWALL, "date_code", "sensor", "diameter"))
            body = _given(row, ("wheel", "fitted_on", "odometer", "tread")) | {"new": new}
            body.setdefault("fitted_on", timezone.now().date().isoformat())
            self.tires.append((i, key, body))
            self.lines[i]["words"] = (
                f"{key}: tire at {row.get('wheel') or '?'}, {row.get('date_code') or 'no date code'}"
            )
        else:
            raise Refusal("The first column says what the row is: rig, axle, spare or tire.", "row")

    def refuse(self, i: int, message: str, field: str = "") -> None:
        if not self.lines[i]["refused"]:
            self.lines[i] |= {"refused": message, "field": field}

    def refuse_rig(self, key: str, message: str, field: str) -> None:
        """A refusal of a rig's body, at the row that holds the field."""
        found = re.match(r"((?:axles|spares)\.\d+)\.?(.*)", field)
        place, rest = (found[1], found[2]) if found else ("", field)
        self.refuse(self.at[key].get(place, self.at[key][""]), message, rest)


def run(actor: Actor, content: str, save: bool) -> dict[str, Any]:
    """Reads a fleet; saves it, all or nothing, only with `save` and only where no row is refused.

    A tire's row may name a rig of the file or one of the workspace. Raises Refusal for what is no such file.
    """
    actor.must(May.RIGS)
    sheet = _Sheet(read_rows(read_text(content), ("row", "rig"), COLUMNS))
    made = fitted = 0
    # Everything is really done inside a transaction, so that the preview cannot differ from the import.
    with transaction.atomic():
        by_key = {r.fleet_number or r.name: r for r in rigs.rigs(actor).filter(archived=False)}
        for key, body in sheet.rigs.items():
            if all(not sheet.lines[i]["refused"] for i in sheet.at[key].values()):
                try:
                    with transaction.atomic():
                        by_key[key] = rigs.save_rig(actor, RigIn.model_validate(body))
                    made += 1
                except REFUSED as no:
                    for problem in told(no):
                        sheet.refuse_rig(key, problem.message, problem.field)
        for i, key, body in sheet.tires:
            fitted += _fit(actor, sheet, by_key, i, key, body)
        refused = sum(1 for line in sheet.lines if line["refused"])
        if refused or not save:
            transaction.set_rollback(True)
    return {"rigs": made, "tires": fitted, "refused": refused, "rows": sheet.lines, "saved": save and not refused}


def _fit(actor: Actor, sheet: _Sheet, by_key: dict[str, Rig], i: int, key: str, body: dict[str, Any]) -> int:
    if key not in by_key:
        why = "Its rig is refused." if key in sheet.rigs else f"There is no rig {key} in the file or the workspace."
        sheet.refuse(i, why, "rig")
        return 0
    try:
        with transaction.atomic():
            fittings.fit(actor, by_key[key], FitIn.model_validate(body))
    except REFUSED as no:
        problem = told(no)[0]
        sheet.refuse(i, problem.message, problem.field.removeprefix("new."))
        return 0
    return 1
