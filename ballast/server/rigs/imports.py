"""A fleet from a CSV: a row for every axle, spare or tire, each checked, nothing saved before it was looked at."""

import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from django.db import transaction

from ballast.core import rigs as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.files import csv_text, read_rows, read_text
from ballast.server.edge.problems import REFUSED, Conflict, told
from ballast.server.rigs import fittings
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Fitting, Rig
from ballast.server.rigs.schemas import FitIn, ImportOut, RigIn

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
NEEDED = ("row", "rig")
COLUMNS = (*NEEDED, *_RIG, *_AXLE, *_SIDEWALL, *_WHEELS, "required_kpa", *_TIRE)
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
    return csv_text(COLUMNS, _EXAMPLE)


# A rig, a part of it or a tire as it would be sent in, before it is looked at.
Body = dict[str, Any]


def _given(row: Mapping[str, str], names: tuple[str, ...]) -> Body:
    return {n: row[n] for n in names if row.get(n)}


def _axle(row: Mapping[str, str]) -> Body:
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


class Sheet:
    """The rows of a file, grouped by the rig they belong to, each with its refusal."""

    def __init__(self, rows: Sequence[Mapping[str, str]], lines: Iterable[int] | None = None) -> None:
        """`lines`: where they stand, of rows that are not all of the file."""
        at = range(2, len(rows) + 2) if lines is None else lines
        self.lines = [{"line": i, "words": "", "refused": "", "field": ""} for i in at]
        self.rigs: dict[str, Body] = {}
        # Where each part of a rig stands in the file: "axles.0" → line index.
        self.at: dict[str, dict[str, int]] = {}
        self.tires: list[tuple[int, str, Body]] = []
        for i, row in enumerate(rows):
            try:
                self._take(i, row)
            except Refusal as no:
                self.refuse(i, no.message, no.field)

    def _take(self, i: int, row: Mapping[str, str]) -> None:
        what, key = row.get("row", "").lower(), row.get("rig", "")
        if not key:
            raise Refusal("Name the rig by its fleet number, or by its name where it has none.", "rig")
        if what == "rig":
            if key in self.rigs:
                raise Refusal(f"{key} stands in the file twice. Give each rig its own.", "rig")
            self.rigs[key] = {"name": key, "axles": [], "spares": [], **_given(row, _RIG)}
            # Beside another name, what the rows call it is its fleet number.
            if self.rigs[key]["name"] != key:
                self.rigs[key].setdefault("fleet_number", key)
            if row.get("kind"):
                self.rigs[key]["kind"] = core.kind_named(row["kind"])
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
            body.setdefault("fitted_on", clock.today().isoformat())
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
        match = re.match(r"((?:axles|spares)\.\d+)\.?(.*)", field)
        place, rest = (match[1], match[2]) if match else ("", field)
        if rest == "kind":
            message = f"Choose one of {', '.join(core.KINDS.values())}."
        self.refuse(self.at[key].get(place, self.at[key][""]), message, rest)


class Fleet:
    """What a file comes to, worked out without writing: rigs and tires as they would be, each row with its refusal.

    `by_key`: the rigs that are there, by what rows may call them; `numbers`: those that have a fleet number.
    """

    def __init__(self, actor: Actor, sheet: Sheet, by_key: dict[str, Rig], numbers: dict[str, Rig]) -> None:
        self.actor, self.sheet, self.by_key, self.numbers = actor, sheet, by_key, numbers
        self.made: list[Rig] = []
        self.fits: list[fittings.Fit] = []
        for key, body in sheet.rigs.items():
            if all(not sheet.lines[i]["refused"] for i in sheet.at[key].values()):
                self._rig(key, body)
        for i, key, body in sheet.tires:
            self._tire(i, key, body)

    @property
    def refused(self) -> list[dict[str, Any]]:
        """The rows that are refused."""
        return [line for line in self.sheet.lines if line["refused"]]

    def _rig(self, key: str, body: Body) -> None:
        row = Rig(workspace=self.actor.workspace)
        try:
            axles, spares = rigs.build(self.actor, RigIn.model_validate(body), row, self.numbers)
        except REFUSED as no:
            for problem in told(no):
                self.sheet.refuse_rig(key, problem.message, problem.field)
            return
        self.made.append(row)
        rigs.at_hand(row, -len(self.made), axles, spares)
        self.by_key[key] = row
        if row.fleet_number:
            self.numbers[row.fleet_number] = row

    def _tire(self, i: int, key: str, body: Body) -> None:
        refused = key not in self.by_key and key in self.sheet.rigs
        if key not in self.by_key and not refused:
            self.sheet.refuse(i, f"There is no rig {key} in the file or the workspace.", "rig")
            return
        try:
            # What is wrong with the row itself is told even where its rig is refused: all of a file at once.
            wanted = FitIn.model_validate(body)
            if refused:
                if wanted.new and wanted.new.date_code:
                    core.read_date_code(wanted.new.date_code, clock.today())
                self.sheet.refuse(i, "Its rig is refused.", "rig")
                return
            self.fits.append(fittings.plan(self.actor, self.by_key[key], wanted))
        except REFUSED as no:
            problem = told(no)[0]
            self.sheet.refuse(i, problem.message, problem.field.removeprefix("new."))


def as_it_is(actor: Actor) -> tuple[list[Any], list[Any]]:
    """What a file is checked against: the rigs of the workspace by their numbers, and what is fitted to them."""
    rows = Rig.objects.of(actor.workspace).order_by("pk")
    on = Fitting.objects.filter(rig__in=rows, removed_on=None).order_by("pk").values_list("pk", flat=True)
    return list(rows.values_list("pk", "fleet_number", "archived", "odometer_km")), list(on)


def run(actor: Actor, content: str, save: bool) -> ImportOut:
    """Reads a fleet; saves it, all or nothing, only with `save` and only where no row is refused.

    A tire's row may name a rig of the file or one of the workspace. All is checked before anything is written, so that
    nobody else waits for it. Raises Refusal for what is no such file, Conflict where somebody changed the workspace meanwhile.
    """
    actor.must(May.RIGS)
    sheet = Sheet(read_rows(read_text(content), NEEDED, COLUMNS))
    before = as_it_is(actor)
    by_key = {r.fleet_number or r.name: r for r in rigs.rigs(actor).filter(archived=False)}
    fleet = Fleet(actor, sheet, by_key, {r.fleet_number: r for r in by_key.values() if r.fleet_number})
    refused = len(fleet.refused)
    if save and not refused:
        with transaction.atomic():
            if as_it_is(actor) != before:
                raise Conflict("Somebody changed a rig while the file was read. Look at it, and import it again.")
            rigs.save_all(actor, fleet.made)
            fittings.save_all(actor, fleet.fits)
    return ImportOut.model_validate({
        "rigs": len(fleet.made), "tires": len(fleet.fits), "refused": refused, "rows": sheet.lines,
        "saved": save and not refused,
    })  # fmt: skip
