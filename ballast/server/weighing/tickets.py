"""Scale tickets as files, in an open format that any program can write: JSON and CSV; and the connected scale."""

import datetime as dt
import json
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from ballast.core import weighing as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.files import csv_text, read_rows, read_text
from ballast.server.edge.problems import field_problem
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing
from ballast.server.weighing.scale import ScaleSetup, scale
from ballast.server.weighing.schemas import PassIn, ScaleIn, ScaleTicketIn

FORMAT = "gentle-ballast/scale-ticket"
COLUMNS = (
    "pass",
    "words",
    "on",
    "apart",
    "weight",
    "scale",
    "resolution",
    "weighed_on",
    "way",
    "vehicles",
    "simulated",
)


@dataclass(frozen=True)
class Pass:
    """A pass of a ticket: its words, the spots that stood on the scale, and what it weighed, as typed."""

    words: str
    on: list[str]
    apart: int
    typed: str


@dataclass(frozen=True)
class Head:
    """What stands over the passes of a ticket."""

    scale: str
    resolution: str
    weighed_on: str
    way: str
    simulated: bool
    vehicles: list[str]


def _json(head: Head, passes: list[Pass]) -> str:
    lines = [
        {"pass": i + 1, "words": p.words, "on": p.on, "apart": p.apart, "weight": p.typed} for i, p in enumerate(passes)
    ]
    return (
        json.dumps({"format": FORMAT, "version": 1, **vars(head), "passes": lines}, indent=2, ensure_ascii=False) + "\n"
    )


def _csv(head: Head, passes: list[Pass]) -> str:
    same = {
        "scale": head.scale, "resolution": head.resolution, "weighed_on": head.weighed_on, "way": head.way,
        "vehicles": "; ".join(head.vehicles), "simulated": "yes" if head.simulated else "",
    }  # fmt: skip
    return csv_text(
        COLUMNS,
        [
            same | {"pass": i, "words": p.words, "on": " ".join(p.on), "apart": p.apart, "weight": p.typed}
            for i, p in enumerate(passes, 1)
        ],
    )


def _as_passes(row: Weighing) -> list[Pass]:
    """A ticket's passes; one that was typed by axle as a pass for each entry."""
    if row.passes:
        return [Pass(p["words"], p["on"], p["apart"], p["typed"]) for p in row.passes]
    typed = rigs.rig_of(row.rig)
    passes = []
    for a in row.axles.all():
        wheels = typed.axles[a.number - 1].wheels if a.number <= len(typed.axles) else 2
        if "together" in a.typed:
            words = f"{typed.axle_name(a.of[0])} to {typed.axle_name(a.of[-1]).lower()}, together"
            passes.append(Pass(words, [f"0:{n}{s}" for n in a.of for s in "LR"], 0, a.typed["together"]))
        for end, sides in (("left_kg", "L"), ("right_kg", "R"), ("whole_kg", "C" if wheels == 1 else "LR")):
            if end in a.typed:
                words = f"{typed.axle_name(a.number)}, {end.removesuffix('_kg')}"
                passes.append(Pass(words, [f"0:{a.number}{s}" for s in sides], 0, a.typed[end]))
    if row.gross_typed and not row.hitched:
        spots = [f"0:{a.number}{s}" for a in typed.axles for s in ("C" if a.wheels == 1 else "LR")]
        passes.append(Pass("Gross", spots, 0, row.gross_typed))
    return passes


def export(actor: Actor, rig_id: int, weighing_id: int) -> tuple[Head, list[Pass]]:
    """A stored ticket as it was read. Raises DoesNotExist."""
    rig = rigs.rig(actor, rig_id)
    row = weighing.weighings(actor, rig).get(pk=weighing_id)
    row.rig = rig
    head = Head(
        scale=row.scale,
        resolution=f"{row.resolution_kg:g} kg",
        weighed_on=row.weighed_on.isoformat(),
        way=row.way if row.way in core.WAYS else "pads",
        simulated=row.made_up,
        vehicles=[rig.name, *(row.hitched.split(", ") if row.passes and row.hitched else [])],
    )
    return head, _as_passes(row)


def export_json(actor: Actor, rig_id: int, weighing_id: int) -> str:
    head, passes = export(actor, rig_id, weighing_id)
    return _json(head, passes)


def export_csv(actor: Actor, rig_id: int, weighing_id: int) -> str:
    head, passes = export(actor, rig_id, weighing_id)
    return _csv(head, passes)


def _from_json(text: str) -> dict[str, Any]:
    try:
        ticket = json.loads(text)
    except RecursionError:
        raise Refusal("That is no scale ticket. Choose the file that the scale wrote.", "content") from None
    except json.JSONDecodeError as bad:
        cut = bad.msg.startswith("Unterminated") or bad.pos >= len(text.rstrip()) - 1
        trouble = "The ticket breaks off" if cut else "The ticket is not JSON"
        raise Refusal(f"{trouble} in line {bad.lineno}. Fetch it from the scale again.", "content") from None
    if not isinstance(ticket, dict) or ticket.get("format") != FORMAT:
        raise Refusal(
            f"That is no scale ticket: its format is not {FORMAT}. Choose the file that the scale wrote.", "content"
        )
    if ticket.get("version") != 1:
        raise Refusal("The ticket is of a version that is not known here. Export version 1.", "content")
    passes = ticket.get("passes")
    if not isinstance(passes, list) or not all(isinstance(p, dict) for p in passes):
        raise Refusal("The ticket has no passes. Fetch it from the scale again.", "content")
    return ticket


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
        "simulated": rows[0].get("simulated", "").lower() in ("yes", "true", "1"),
        "vehicles": [v.strip() for v in rows[0].get("vehicles", "").split(";") if v.strip()],
    }


def read_ticket(actor: Actor, rig_id: int, content: str) -> dict[str, Any]:
    """A ticket from a file, held against the rig: ready to be looked at, nothing saved.

    Raises Refusal for a file that is no ticket, breaks off, is in another encoding, or names wheels that are not there.
    """
    actor.must(May.WEIGH)
    text = read_text(content)
    ticket = _from_json(text) if text.lstrip()[:1] in "{[" else _from_csv(text)
    passes: list[PassIn] = []
    for i, p in enumerate(ticket["passes"]):
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
            problem = field_problem(dict(bad.errors()[0]))
            raise Refusal(
                f"Pass {i + 1}, {problem.field.replace('kg', 'weight')}: {problem.message}", "content"
            ) from None
    if not passes:
        raise Refusal("The ticket has no passes. Fetch it from the scale again.", "content")
    together = any(p.apart or any(not s.startswith("0:") for s in p.on) for p in passes)
    rows = weighing.vehicles(actor, rig_id, together)
    try:
        core.check_passes(
            tuple(weighing.vehicle_of(r, rigs.rig_of(r)) for r in rows),
            tuple(weighing.pass_of(p) for p in passes),
        )
    except Refusal as no:
        raise Refusal(f"Pass {int(no.field.split('.')[1]) + 1}: {no.message}", "content") from None
    try:
        day = dt.date.fromisoformat(str(ticket.get("weighed_on") or clock.today())[:10])
        step = PassIn.model_validate({"on": ["0:1L"], "kg": ticket.get("resolution") or 0}).kg.value
    except (ValueError, ValidationError):
        raise Refusal("The ticket's date or step cannot be read. Fetch it from the scale again.", "content") from None
    way = ticket.get("way")
    named = [str(v)[:80] for v in ticket.get("vehicles") or [] if isinstance(v, str)][:5]
    return {
        "scale": str(ticket.get("scale") or "")[:80],
        "made_up": bool(ticket.get("simulated")),
        "notes": _other_rig(named, rows),
        "resolution_kg": min(step, 500.0),
        "weighed_on": day,
        "way": way if way in core.WAYS else "passes",
        "with_trailers": together,
        "vehicles": named,
        "passes": [{"words": p.words, "on": p.on, "apart": p.apart, "typed": p.kg.typed} for p in passes],
    }


def _other_rig(named: list[str], rows: list[Rig]) -> list[str]:
    """What to check of a ticket that names other vehicles than those it is held against."""
    here = [r.name for r in rows]
    if not named or [n.casefold() for n in named] == [n.casefold() for n in here]:
        return []
    return [
        f"The ticket is of {', '.join(named)}; this is {', '.join(here)}. Save it only if these wheels stood there."
    ]


def setups(actor: Actor) -> list[ScaleSetup]:
    actor.must(May.READ)
    return scale().setups()


def _setup(key: str) -> ScaleSetup:
    setup = next((s for s in scale().setups() if s.key == key), None)
    if setup is None:
        raise Refusal("There is no such scale connected. Choose one of the list, or type the reading.", "scale")
    return setup


@dataclass(frozen=True)
class _Standing:
    """What would stand on a simulated scale: [kg] by spot, and what each trailer lays on its hitch."""

    loads: dict[core.Spot, float]
    hitch_kg: dict[int, float]

    @classmethod
    def of(cls, actor: Actor, rows: list[Rig]) -> "_Standing":
        """The newest weighings; of what was never weighed four fifths of each axle's rating, a tenth of it hitched."""
        loads: dict[core.Spot, float] = {}
        hitch: dict[int, float] = {}
        for i, row in enumerate(rows):
            base = weighing.in_force(actor, row)
            reads = weighing.readings_of(base) if base else {}
            for axle in rigs.rig_of(row).axles:
                read = reads.get(axle.number, core.AxleReading())
                whole = read.known_kg or 0.8 * (axle.gawr_kg or 1500.0)
                if axle.wheels == 1:
                    loads[core.Spot(i, axle.number, "C")] = whole
                    continue
                left = read.left_kg if read.left_kg is not None else whole * 0.49
                loads[core.Spot(i, axle.number, "L")] = left
                loads[core.Spot(i, axle.number, "R")] = whole - left
            own = sum(kg for s, kg in loads.items() if s.vehicle == i)
            hitch[i] = base.hitch_kg if base and base.hitch_kg is not None else 0.1 * own
        return cls(loads, hitch)

    def on(self, spots: list[core.Spot], apart: int) -> tuple[float, ...]:
        """Loads at spots; uncoupled, the last axle in front is lighter by what the hitch lays on it. Raises Refusal."""
        loads = dict(self.loads)
        if apart:
            front = [s for s in loads if s.vehicle == apart - 1]
            rear = [s for s in front if s.axle == max(f.axle for f in front)]
            for s in rear:
                loads[s] -= self.hitch_kg.get(apart, 0.0) / len(rear)
            loads[core.Spot(apart, 0, "C")] = self.hitch_kg.get(apart, 0.0)
        if not set(spots) <= set(loads):
            raise Refusal("This pass has wheels on the scale that the rig has not. Choose a step of the guide.", "on")
        return tuple(loads[s] for s in spots)


def read_scale(actor: Actor, data: ScaleIn) -> Any:
    """What a connected scale shows for a pass. Nothing is saved."""
    actor.must(May.WEIGH)
    setup = _setup(data.scale)
    rows = weighing.vehicles(actor, data.rig, data.with_trailers)
    standing = _Standing.of(actor, rows).on([weighing.read_spot(s) for s in data.on], data.apart)
    return scale().read(setup.key, standing, data.fault, clock.now())


def scale_ticket(actor: Actor, data: ScaleTicketIn) -> dict[str, str]:
    """A whole ticket as a connected scale issues it, JSON and CSV."""
    actor.must(May.WEIGH)
    setup = _setup(data.scale)
    rows = weighing.vehicles(actor, data.rig, data.with_trailers)
    at = clock.now()
    standing = _Standing.of(actor, rows)
    passes = []
    for pass_ in core.guide(tuple(weighing.vehicle_of(r, rigs.rig_of(r)) for r in rows), data.way, hitch=True):
        shown = scale().read(setup.key, standing.on(list(pass_.on), pass_.apart), data.fault, at)
        passes.append(Pass(pass_.words, [weighing.spot_code(s) for s in pass_.on], pass_.apart, f"{shown.kg:g} kg"))
    step = f"{setup.resolution_kg:g} kg"
    head = Head(setup.name, step, at.date().isoformat(), data.way, setup.simulated, [r.name for r in rows])
    return {"json_text": _json(head, passes), "csv_text": _csv(head, passes)}
