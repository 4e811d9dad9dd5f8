"""What if something were put aboard: loads, margins, and a load state worked out from it."""

from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction
from django.utils import timezone

from ballast.core import rigs as core_rigs
from ballast.core import schedule
from ballast.core import weighing as core
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, kg, say, share
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.problems import Conflict
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import AxleWeight, Weighing
from ballast.server.weighing.schemas import PlacedIn, SaveWhatIfIn, WhatIfIn, WorkWhatIfIn


@dataclass(frozen=True)
class Imagined:
    """A combination with masses on top of its weighings. `bases` are those weighings, by vehicle."""

    rows: list[Rig]
    bases: list[Weighing | None]
    loads: list[core.RigLoad]
    effect: core.Effect
    masses_kg: list[float]
    combined_kg: float | None
    notes: tuple[Phrase, ...]


def part_of(row: Rig, lifted: frozenset[int] = frozenset()) -> core.Part:
    """A rig on its supports, axles that are up left out."""
    typed = rigs.rig_of(row)
    down = tuple(
        core.Support(a.number, a.position_m, a.track_m, a.wheels, a.share)
        for a in typed.axles
        if a.number not in lifted
    )
    front = () if typed.pulled or not typed.axles else core_rigs.groups(typed.axles)[0].numbers
    return core.Part(row.name, down, tuple(front), typed.pulled, typed.coupler_m, typed.hitch_m)


def _base(actor: Actor, row: Rig, weighing_id: int | None) -> Weighing | None:
    if weighing_id is None:
        return weighing.in_force(actor, row)
    found = weighing.weighings(actor, row).filter(pk=weighing_id).first()
    if found is None:
        raise Refusal("There is no such weighing of this rig. Choose one of its list.", "weighing")
    return found


def mass_of(item: PlacedIn, field: str) -> float:
    """Mass [kg] of what is put aboard. Raises Refusal where neither liters nor a mass is given, or both are."""
    if (item.liters is None) == (item.mass is None):
        raise Refusal("Enter either how much it weighs or, of a liquid, how many liters.", f"{field}.mass")
    if item.mass is not None:
        return item.mass.value
    per_liter = core.PER_LITER_KG.get(item.what)
    if per_liter is None or item.liters is None:
        raise Refusal("Only liquids come in liters. Enter what it weighs.", f"{field}.liters")
    return item.liters.value * per_liter


def imagine(actor: Actor, rig_id: int, data: WhatIfIn) -> Imagined:
    """Loads of a rig, with the trailers behind it, after masses were put aboard.

    Raises Refusal for a place on a rig that is not of the combination, geometry that is not known,
    or a rig that was never weighed.
    """
    train = rigs.train(actor, rig_id)
    at = next(i for i, r in enumerate(train) if r.pk == rig_id)
    rows = train[at:] if at == 0 else [train[at]]
    bases = [_base(actor, row, data.weighing if i == 0 else None) for i, row in enumerate(rows)]
    if bases[0] is None:
        raise Refusal("It is not weighed yet, so there is nothing to put on top of. Weigh it first.", "weighing")
    places = {r.pk: i for i, r in enumerate(rows)}
    lifted = [frozenset(a.number for a in b.axles.all() if a.lifted) if b else frozenset[int]() for b in bases]
    parts = tuple(part_of(r, up) for r, up in zip(rows, lifted, strict=True))
    placed, masses = [], []
    for i, item in enumerate(data.placed):
        if item.rig not in places:
            raise Refusal(
                "That vehicle is not part of this combination. Choose a place on the plan.", f"placed.{i}.rig"
            )
        masses.append(mass_of(item, f"placed.{i}"))
        placed.append(core.Placed(places[item.rig], masses[-1], item.x.value, item.y.value))
    needs = data.placed or data.bars != (bases[0].bars or "")
    effect = core.effect(parts, placed) if needs else core.effect((), ())
    notes: list[Phrase] = []
    before, now = bases[0].bars == "engaged", data.bars == "engaged"
    changes = [effect] if needs else []
    if before != now and len(rows) > 1 and parts[1].pulled:
        if bases[0].hitch_kg is None:
            notes.append(
                say("The hitch load is not known, so what the bars do cannot be told. Weigh hitched and alone.")
            )
        else:
            bars = core.bars_effect(parts, bases[0].hitch_kg, data.restore)
            changes.append(bars if now else _turned(bars))
            notes.append(say("Bars {0} of the front axle's loss given back: an estimate.", share(data.restore)))
    loads, combined = _on_top(rows, bases, changes, data.bars)
    return Imagined(rows, bases, loads, _sum(changes), masses, combined, tuple(notes))


def _turned(e: core.Effect) -> core.Effect:
    return core.Effect(
        {k: (-a, -b) for k, (a, b) in e.ends.items()},
        {k: -v for k, v in e.hitch.items()},
        {k: -v for k, v in e.gross.items()},
    )


def _sum(each: list[core.Effect]) -> core.Effect:
    ends: dict[tuple[int, int], tuple[float, float]] = {}
    hitch: dict[int, float] = {}
    gross: dict[int, float] = {}
    for e in each:
        for key, (left, right) in e.ends.items():
            was = ends.get(key, (0.0, 0.0))
            ends[key] = (was[0] + left, was[1] + right)
        for k, v in e.hitch.items():
            hitch[k] = hitch.get(k, 0.0) + v
        for k, v in e.gross.items():
            gross[k] = gross.get(k, 0.0) + v
    return core.Effect(ends, hitch, gross)


def _on_top(
    rows: list[Rig], bases: list[Weighing | None], changes: list[core.Effect], bars: str
) -> tuple[list[core.RigLoad], float | None]:
    """The loads of weighings with changes on top; an axle whose ends are not known stays known as a whole."""
    total = _sum(changes)
    reads: list[dict[int, core.AxleReading]] = []
    for i, base in enumerate(bases):
        own: dict[int, core.AxleReading] = {}
        for a in base.axles.all() if base else ():
            left, right = total.ends.get((i, a.number), (0.0, 0.0))
            if a.lifted or (a.whole_kg is None and a.left_kg is None and a.right_kg is None):
                own[a.number] = core.AxleReading(lifted=a.lifted)
                continue
            own[a.number] = core.AxleReading(
                None if a.whole_kg is None else a.whole_kg + left + right,
                None if a.left_kg is None else a.left_kg + left,
                None if a.right_kg is None else a.right_kg + right,
            )
        reads.append(own)
    hitch = [
        None if b is None or b.hitch_kg is None else b.hitch_kg + total.hitch.get(i, 0.0) for i, b in enumerate(bases)
    ]
    if len(rows) > 1 and bases[0] is not None and bases[0].hitch_kg is not None:
        hitch[0] = bases[0].hitch_kg + total.hitch.get(1, 0.0)
    combined = weighing.combined(reads, rows) if len(rows) > 1 else None
    loads = []
    for i, row in enumerate(rows):
        rig = rigs.rig_of(row)
        try:
            loads.append(
                core.weigh_rig(
                    weighing.limits_of(rig), reads[i], weighing.rig_limits_of(rig), bases[i].resolution_kg if bases[i] else 0.0,  # type: ignore[union-attr]
                    hitch[i], bars, combined if i == 0 else None,  # type: ignore[arg-type]
                )
            )  # fmt: skip
        except Refusal:
            raise Refusal(
                f"More is taken off {row.name} than stands there. Check the masses and where they were.",
                "placed.0.mass",
            ) from None
        for axle in loads[-1].axles:
            if any(v is not None and v < 0 for v in (axle.total_kg, axle.left_kg, axle.right_kg)):
                raise Refusal(
                    f"{axle.name} of {row.name} would lift off the ground. Put less there, or put it elsewhere.",
                    "placed.0.mass",
                )
    return loads, combined


def cargo_at(actor: Actor, found: Imagined, data: WorkWhatIfIn) -> dict[str, Any] | None:
    """How much may still go to a place: every limit's margin over its share of a kilogram there, the least binds."""
    if data.at_rig is None or data.at_x is None or data.at_y is None:
        return None
    places = {r.pk: i for i, r in enumerate(found.rows)}
    if data.at_rig not in places:
        raise Refusal("That vehicle is not part of this combination. Choose a place on the plan.", "at_rig")
    parts = tuple(part_of(r) for r in found.rows)
    one = core.effect(parts, [core.Placed(places[data.at_rig], 1.0, data.at_x.value, data.at_y.value)])
    margins: list[tuple[float, core.Check]] = []
    for i, loads in enumerate(found.loads):
        many = f"{found.rows[i].name}: " if len(found.rows) > 1 else ""
        for check in loads.checks:
            per_kg = {
                "gvwr": one.gross[i], "gcwr": 1.0, "hitch": one.hitch.get(i, one.hitch.get(i + 1, 0.0)),
            }[check.what]  # fmt: skip
            margins.append((per_kg, replace(check, name=f"{many}{check.name}")))
        for axle in loads.axles:
            left, right = one.ends.get((i, axle.number), (0.0, 0.0))
            heavier = {"left": left, "right": right}.get(axle.heavier or "", max(left, right))
            for check in axle.checks:
                per_kg = (
                    left + right if check.what == "gawr"
                    else left if check.what.startswith("left")
                    else right if check.what.startswith("right")
                    else left + right if axle.heavier is None and not axle.assumed
                    else max(heavier, (left + right) * 0.525)
                )  # fmt: skip
                margins.append((per_kg, replace(check, name=f"{many}{check.name}")))
    binding = [(m.margin_kg / s, m) for s, m in margins if s > 1e-9]
    if not binding:
        return None
    left_kg = core.cargo_left(tuple(m.margin_kg for _, m in margins), tuple(s for s, _ in margins))
    binding.sort(key=lambda pair: pair[0])
    return {"left_kg": left_kg, "bound_by": binding[0][1].name, "each": [m for _, m in binding[:6]]}


def what_if_out(actor: Actor, found: Imagined, data: WorkWhatIfIn) -> dict[str, Any]:
    added = sum(found.masses_kg)
    base = found.bases[0]
    gross = weighing.loads_of(base, rigs.rig_of(found.rows[0])).total_kg if base else None
    part = abs(added) / gross if gross else None
    return {
        "loads": weighing.loads_out(found.rows, found.loads, found.combined_kg),
        "changes": [
            {"rig": found.rows[i].pk, "number": n, "left_kg": left, "right_kg": right}
            for (i, n), (left, right) in sorted(found.effect.ends.items())
        ],
        "hitch_change_kg": found.effect.hitch.get(1),
        "masses_kg": found.masses_kg,
        "added_kg": added,
        "added_share": part,
        "weigh_again": part is not None and part > schedule.WEIGH_AGAIN_SHARE,
        "cargo": cargo_at(actor, found, data),
        "cargo_label_kg": next((r.cargo_kg for r in found.rows if r.pk == data.at_rig), None),
        "notes": found.notes,
    }


@transaction.atomic
def save_worked_out(actor: Actor, rig_id: int, data: SaveWhatIfIn) -> Weighing:
    """Keeps imagined loads as a load state that is worked out, not weighed.

    Raises Conflict where a state of that name was weighed: what a scale said is not written over.
    """
    actor.must(May.WEIGH)
    if not data.placed and not data.bars:
        raise Refusal("Nothing is put aboard yet. Place something first.", "placed.0.mass")
    found = imagine(actor, rig_id, data)
    first: Weighing | None = None
    for i, (row, base) in enumerate(zip(found.rows, found.bases, strict=True)):
        if base is None:
            continue
        state = weighing.state_named(row, data.load_state)
        if state.weighings.exclude(way=weighing.WORKED_OUT).exists():
            raise Conflict(
                f"{row.name} was weighed as {state.name}. Give what is worked out a name of its own.", "load_state"
            )
        made = Weighing.objects.create(
            rig=row, load_state=state, way=weighing.WORKED_OUT, weighed_on=base.weighed_on,
            scale=f"worked out from {base.scale}"[:80], resolution_kg=base.resolution_kg, hitch_kg=found.loads[i].hitch_kg,
            bars=data.bars, combined_kg=found.combined_kg if i == 0 else None, hitched=base.hitched, basis=base,
            placed=_ledger(found, data), part_of=first, entered_by=actor.person,
            note=f"Worked out on {timezone.now().date():%d %b %Y}, not weighed",
        )  # fmt: skip
        first = first or made
        AxleWeight.objects.bulk_create(
            AxleWeight(
                weighing=made, number=a.number, lifted=a.lifted, left_kg=a.left_kg, right_kg=a.right_kg,
                whole_kg=a.total_kg if a.left_kg is None and not a.lifted else None,
            )
            for a in found.loads[i].axles
        )  # fmt: skip
    assert first is not None  # imagine asks for the first's weighing
    return weighing.weighings(actor, found.rows[0]).get(pk=first.pk)


def _ledger(found: Imagined, data: WhatIfIn) -> list[dict[str, Any]]:
    names = {r.pk: r.name for r in found.rows}
    return [
        {
            "what": item.what, "label": item.label, "mass_kg": mass, "rig": item.rig, "rig_name": names[item.rig],
            "x_m": item.x.value, "y_m": item.y.value,
        }
        for item, mass in zip(data.placed, found.masses_kg, strict=True)
    ]  # fmt: skip


def drift(actor: Actor, rig: Rig) -> dict[str, Any]:
    """Weighings over time, what changed since the last of the same load state, and when the next is due."""
    typed = rigs.rig_of(rig)
    rows = [w for w in weighing.weighings(actor, rig) if not w.amended]  # type: ignore[attr-defined]
    weighed = [w for w in rows if w.way != weighing.WORKED_OUT]
    loads = {w.pk: weighing.loads_of(w, typed) for w in weighed}
    changes: list[dict[str, Any]] = []
    # What was put aboard counts while the load state that it made is in force.
    ledger = next((w for w in rows if w.way == weighing.WORKED_OUT and w.load_state.in_force), None)
    newest = next((w for w in weighed if ledger is None or w.pk == ledger.basis_id), None)
    older = weighed[weighed.index(newest) + 1 :] if newest else []
    before = next((w for w in older if newest and w.load_state_id == newest.load_state_id), None)
    if newest and before:
        changes = _changes(loads[before.pk], loads[newest.pk])
    added = sum(abs(p["mass_kg"]) for p in ledger.placed) if ledger else 0.0
    today = timezone.now().date()
    gross = loads[newest.pk].total_kg if newest else None
    due = schedule.weighing_due(newest.weighed_on if newest else None, added, gross, today)
    return {
        "points": [
            {
                "id": w.pk, "weighed_on": w.weighed_on, "load_state": w.load_state.name, "way": w.way, "scale": w.scale,
                "odometer_km": w.odometer_km, "total_kg": loads[w.pk].total_kg, "axles": loads[w.pk].axles,
            }
            for w in reversed(weighed)
        ],
        "changes": changes,
        "since": before.weighed_on if before else None,
        "due_on": due.on,
        "due": due.now,
        "due_words": _due_words(due, added, gross),
    }  # fmt: skip


def _due_words(due: schedule.Due, added: float, gross: float | None) -> Phrase:
    if due.on is None:
        return say("Never weighed: weigh it as it travels.")
    if gross and added > schedule.WEIGH_AGAIN_SHARE * gross:
        return say("{0} put aboard since, {1} of what was weighed: weigh again.", kg(added), share(added / gross))
    day = f"{due.on:%d %b %Y}".lstrip("0")
    return (
        say(f"Overdue since {day}: weigh again.") if due.now else say(f"Next weighing by {day}, or after anything big.")
    )


def _changes(before: core.RigLoad, now: core.RigLoad) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = []

    def put(axle: int, name: str, end: str, was: float | None, is_: float | None) -> None:
        if was is not None and is_ is not None:
            found.append(
                {"axle": axle, "name": name, "end": end, "before_kg": was, "now_kg": is_, "change_kg": is_ - was}
            )

    put(0, "Gross", "whole", before.total_kg, now.total_kg)
    for old, new in zip(before.axles, now.axles, strict=False):
        put(new.number, new.name, "whole", old.total_kg, new.total_kg)
        put(new.number, new.name, "left", old.left_kg, new.left_kg)
        put(new.number, new.name, "right", old.right_kg, new.right_kg)
    return found
