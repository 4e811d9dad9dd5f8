"""Scale tickets as files, in an open format that any program can write: JSON and CSV; and the connected scale."""

import csv
import datetime as dt
import io
import json
from typing import Any

from django.utils import timezone
from pydantic import ValidationError

from ballast.core import weighing as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.files import read_rows, read_text
from ballast.server.edge.problems import field_problem
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing
from ballast.server.weighing.scale import ScaleSetup, scale
from ballast.server.weighing.schemas import PassIn, ScaleIn, ScaleTicketIn

FORMAT = "gentle-ballast/scale-ticket"
COLUMNS = ("pass", "words", "on", "apart", "weight", "scale", "resolution", "weighed_on", "way", "vehicles")


def _json(head: dict[str, Any], passes: list[dict[str, Any]]) -> str:
    lines = [
        {"pass": i + 1, "words": p["words"], "on": p["on"], "apart": p["apart"], "weight": p["typed"]}
        for i, p in enumerate(passes)
    ]
    return json.dumps({"format": FORMAT, "version": 1, **head, "passes": lines}, indent=2, ensure_ascii=False) + "\n"


def _csv(head: dict[str, Any], passes: list[dict[str, Any]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    for i, p in enumerate(passes):
        writer.writerow(
            [i + 1, p["words"], " ".join(p["on"]), p["apart"], p["typed"], head["scale"], head["resolution"],
             head["weighed_on"], head["way"], "; ".join(head["vehicles"])]
        )  # fmt: skip
    return out.getvalue()


def _as_passes(row: Weighing) -> list[dict[str, Any]]:
    """A ticket's passes; one that was typed by axle as a pass for each entry."""
    if row.passes:
        return list(row.passes)
    typed = rigs.rig_of(row.rig)
    found = []
    for a in row.axles.all():
        wheels = typed.axles[a.number - 1].wheels if a.number <= len(typed.axles) else 2
        for end, sides in (("left_kg", "L"), ("right_kg", "R"), ("whole_kg", "C" if wheels == 1 else "LR")):
            if end in a.typed:
                words = f"{typed.axle_name(a.number)}, {end.removesuffix('_kg')}"
                found.append(
                    {"words": words, "on": [f"0:{a.number}{s}" for s in sides], "apart": 0, "typed": a.typed[end]}
                )
    return found


def export(actor: Actor, rig_id: int, weighing_id: int) -> tuple[dict[str, Any], list[dict[str, Any]], Weighing]:
    """A stored ticket as it was read. Raises DoesNotExist."""
    rig = rigs.rig(actor, rig_id)
    row = weighing.weighings(actor, rig).get(pk=weighing_id)
    row.rig = rig
    head = {
        "scale": row.scale,
        "resolution": f"{row.resolution_kg:g} kg",
        "weighed_on": row.weighed_on.isoformat(),
        "way": row.way if row.way in core.WAYS else "pads",
        "vehicles": [rig.name, *(row.hitched.split(", ") if row.passes and row.hitched else [])],
    }
    return head, _as_passes(row), row


def export_json(actor: Actor, rig_id: int, weighing_id: int) -> str:
    head, passes, _ = export(actor, rig_id, weighing_id)
    return _json(head, passes)


def export_csv(actor: Actor, rig_id: int, weighing_id: int) -> str:
    head, passes, _ = export(actor, rig_id, weighing_id)
    return _csv(head, passes)


def _from_json(text: str) -> dict[str, Any]:
    try:
        found = json.loads(text)
    except RecursionError:
        raise Refusal("That is no scale ticket. Choose the file that the scale wrote.", "content") from None
    except json.JSONDecodeError as bad:
        cut = bad.msg.startswith("Unterminated") or bad.pos >= len(text.rstrip()) - 1
        told = "The ticket breaks off" if cut else "The ticket is not JSON"
        raise Refusal(f"{told} in line {bad.lineno}. Fetch it from the scale again.", "content") from None
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise Refusal(
            f"That is no scale ticket: its format is not {FORMAT}. Choose the file that the scale wrote.", "content"
        )
    if found.get("version") != 1:
        raise Refusal("The ticket is of a version that is not known here. Export version 1.", "content")
    passes = found.get("passes")
    if not isinstance(passes, list) or not all(isinstance(p, dict) for p in passes):
        raise Refusal("The ticket has no passes. Fetch it from the scale again.", "content")
    return found


def _from_csv(text: str) -> dict[str, Any]:
    rows = read_rows(text, ("on", "weight", "scale"), COLUMNS)
    if not rows:
        raise Refusal("The ticket has no passes. Fetch it from the scale again.", "content")
    for i, row in enumerate(rows):
        if not row.get("on") or not row.get("weight"):
            raise Refusal(
                f"Row {i + 2} breaks off: where it stood or its weight is missing. Fetch the ticket again.", "content"
            )
    passes = [
        {"words": r.get("words", ""), "on": r["on"].split(), "apart": r.get("apart") or 0, "weight": r["weight"]}
        for r in rows
    ]
    first = {k: v for k, v in rows[0].items() if k in ("scale", "resolution", "weighed_on", "way") and v}
    return first | {
        "passes": passes,
        "vehicles": [v.strip() for v in rows[0].get("vehicles", "").split(";") if v.strip()],
    }


def read_ticket(actor: Actor, rig_id: int, content: str) -> dict[str, Any]:
    """A ticket from a file, held against the rig: ready to be looked at, nothing saved.

    Raises Refusal for a file that is no ticket, breaks off, is in another encoding, or names wheels that are not there.
    """
    actor.must(May.WEIGH)
    text = read_text(content)
    found = _from_json(text) if text.lstrip()[:1] in "{[" else _from_csv(text)
    passes: list[PassIn] = []
    for i, p in enumerate(found["passes"]):
        try:
            passes.append(
                PassIn.model_validate(
                    {
                        "words": str(p.get("words", ""))[:200],
                        "on": p.get("on"),
                        "apart": p.get("apart", 0),
                        "kg": p.get("weight"),
                    }
                )
            )
        except ValidationError as bad:
            told = field_problem(dict(bad.errors()[0]))
            raise Refusal(f"Pass {i + 1}, {told.field.replace('kg', 'weight')}: {told.message}", "content") from None
    if not passes:
        raise Refusal("The ticket has no passes. Fetch it from the scale again.", "content")
    together = any(p.apart or any(not s.startswith("0:") for s in p.on) for p in passes)
    rows = weighing.vehicles(actor, rig_id, together)
    try:
        core.check_passes(
            tuple(weighing.vehicle_of(r) for r in rows),
            tuple(core.Pass(frozenset(weighing.read_spot(s) for s in p.on), p.kg.value, p.apart) for p in passes),
        )
    except Refusal as no:
        raise Refusal(f"Pass {int(no.field.split('.')[1]) + 1}: {no.message}", "content") from None
    try:
        day = dt.date.fromisoformat(str(found.get("weighed_on") or timezone.now().date())[:10])
        step = PassIn.model_validate({"on": ["0:1L"], "kg": found.get("resolution") or 0}).kg.value
    except (ValueError, ValidationError):
        raise Refusal("The ticket's date or step cannot be read. Fetch it from the scale again.", "content") from None
    way = found.get("way")
    return {
        "scale": str(found.get("scale") or "")[:80],
        "resolution_kg": min(step, 500.0),
        "weighed_on": day,
        "way": way if way in core.WAYS else "passes",
        "with_trailers": together,
        "vehicles": [str(v)[:80] for v in found.get("vehicles") or [] if isinstance(v, str)][:5],
        "passes": [{"words": p.words, "on": p.on, "apart": p.apart, "typed": p.kg.typed} for p in passes],
    }


def setups(actor: Actor) -> list[ScaleSetup]:
    actor.must(May.READ)
    return scale().setups()


def _setup(key: str) -> ScaleSetup:
    found = next((s for s in scale().setups() if s.key == key), None)
    if found is None:
        raise Refusal("There is no such scale connected. Choose one of the list, or type the reading.", "scale")
    return found


def _standing(rows: list[Rig], actor: Actor) -> dict[core.Spot, float]:
    """What would stand on a simulated scale: the newest weighing, or four fifths of each axle's rating."""
    loads: dict[core.Spot, float] = {}
    for i, row in enumerate(rows):
        base = weighing.in_force(actor, row)
        typed = rigs.rig_of(row)
        weighed = {a.number: a for a in weighing.loads_of(base, typed).axles} if base else {}
        for axle in typed.axles:
            known = weighed.get(axle.number)
            whole = known.total_kg if known and known.total_kg else 0.8 * (axle.gawr_kg or 1500.0)
            if axle.wheels == 1:
                loads[core.Spot(i, axle.number, "C")] = whole
                continue
            left = known.left_kg if known and known.left_kg is not None else whole * 0.49
            loads[core.Spot(i, axle.number, "L")] = left
            loads[core.Spot(i, axle.number, "R")] = whole - left
    return loads


def _hitch(rows: list[Rig], actor: Actor, k: int) -> float:
    """The load a simulated trailer lays on its hitch: as weighed, else a tenth of its axles."""
    base = weighing.in_force(actor, rows[k])
    if base is not None and base.hitch_kg is not None:
        return base.hitch_kg
    return 0.1 * sum(v for s, v in _standing(rows, actor).items() if s.vehicle == k)


def _loads_on(rows: list[Rig], actor: Actor, on: list[str], apart: int) -> tuple[float, ...]:
    """Loads at the spots of a pass; uncoupled, the axles in front are lighter by what the hitch lays on them."""
    loads = _standing(rows, actor)
    spots = [weighing.read_spot(s) for s in on]
    there = {*loads, *({core.Spot(apart, 0, "C")} if apart else ())}
    if not set(spots) <= there:
        raise Refusal("This pass has wheels on the scale that the rig has not. Choose a step of the guide.", "on")
    if not apart or apart >= len(rows):
        return tuple(loads[s] for s in spots)
    hitch = _hitch(rows, actor, apart)
    last = rows[apart - 1].axles.all()
    rear = [s for s in loads if s.vehicle == apart - 1 and s.axle == len(last)]
    for s in rear:
        loads[s] -= hitch / len(rear)
    loads[core.Spot(apart, 0, "C")] = hitch
    return tuple(loads[s] for s in spots)


def read_scale(actor: Actor, data: ScaleIn) -> Any:
    """What a connected scale shows for a pass. Nothing is saved."""
    actor.must(May.WEIGH)
    setup = _setup(data.scale)
    rows = weighing.vehicles(actor, data.rig, data.with_trailers)
    return scale().read(setup.key, _loads_on(rows, actor, data.on, data.apart), data.fault, timezone.now())


def scale_ticket(actor: Actor, data: ScaleTicketIn) -> dict[str, str]:
    """A whole ticket as a connected scale issues it, JSON and CSV."""
    actor.must(May.WEIGH)
    setup = _setup(data.scale)
    rows = weighing.vehicles(actor, data.rig, data.with_trailers)
    at = timezone.now()
    passes = []
    for step in core.guide(tuple(weighing.vehicle_of(r) for r in rows), data.way, hitch=True):
        on = [weighing.spot_code(s) for s in step.on]
        shown = scale().read(setup.key, _loads_on(rows, actor, on, step.apart), data.fault, at)
        passes.append({"words": step.words, "on": on, "apart": step.apart, "typed": f"{shown.kg:g} kg"})
    head = {
        "scale": setup.name, "resolution": f"{setup.resolution_kg:g} kg", "weighed_on": at.date().isoformat(), "way": data.way,
        "vehicles": [r.name for r in rows],
    }  # fmt: skip
    return {"json_text": _json(head, passes), "csv_text": _csv(head, passes)}
