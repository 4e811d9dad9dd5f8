"""What if something were put aboard: loads, margins, and a load state worked out from it."""

from dataclasses import dataclass, replace

from django.db import transaction

from ballast.core import rigs as core_rigs
from ballast.core import standing
from ballast.core import weighing as core
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, day, say, share
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import AxleWeight, Weighing
from ballast.server.weighing.schemas import CargoLeftOut, PlacedIn, SaveWhatIfIn, WhatIfIn, WhatIfOut, WorkWhatIfIn


@dataclass(frozen=True)
class Imagined:
    """A combination with masses on top of its weighings: `bases` and `before`, by vehicle, as they were weighed."""

    rows: list[Rig]
    parts: tuple[core.Part, ...]
    bases: list[Weighing | None]
    before: list[core.RigLoad | None]
    loads: tuple[core.RigLoad, ...]
    combined_kg: float | None
    change: core.Effect
    masses_kg: list[float]
    notes: tuple[Phrase, ...]

    def place_of(self, rig: int, x_m: float, y_m: float, field: str) -> core.Placed:
        """A place on the plan. Raises Refusal for a rig that is not of the combination."""
        return place_on(self.rows, self.parts, rig, 1.0, x_m, y_m, field)


def place_on(
    rows: list[Rig], parts: tuple[core.Part, ...], rig: int, mass_kg: float, x_m: float, y_m: float, field: str
) -> core.Placed:
    at = next((i for i, r in enumerate(rows) if r.pk == rig), None)
    if at is None:
        raise Refusal("That vehicle is not part of this combination. Choose a place on the plan.", field)
    try:
        core.check_place(parts[at], x_m)
    except Refusal as no:
        raise Refusal(no.message, "at_x" if field == "at_rig" else field.replace("rig", no.field)) from None
    return core.Placed(at, mass_kg, x_m, y_m)


def part_of(row: Rig, lifted: frozenset[int] = frozenset()) -> core.Part:
    """A rig on its supports, axles that are up left out."""
    typed = rigs.rig_of(row)
    down = tuple(
        core.Support(a.number, a.position_m, a.track_m, a.wheels, a.share)
        for a in typed.axles
        if a.number not in lifted
    )
    front = () if typed.pulled or not typed.axles else core_rigs.groups(typed.axles, row.kind)[0].numbers
    return core.Part(row.name, down, tuple(front), typed.pulled, typed.coupler_m, typed.hitch_m)


def _base(actor: Actor, row: Rig, weighing_id: int | None) -> Weighing | None:
    if weighing_id is None:
        return weighing.in_force(actor, row)
    ticket = weighing.weighings(actor, row).filter(pk=weighing_id).first()
    if ticket is None:
        raise Refusal("There is no such weighing of this rig. Choose one of its list.", "weighing")
    return ticket


def _put(rows: list[Rig], parts: tuple[core.Part, ...], item: PlacedIn, field: str) -> core.Placed:
    """Something put aboard. Raises Refusal beside what is wrong with it."""
    try:
        mass = core.mass_kg(
            item.what, item.liters.value if item.liters else None, item.mass.value if item.mass else None
        )
    except Refusal as no:
        raise no.within(field) from None
    return place_on(rows, parts, item.rig, mass, item.x.value, item.y.value, f"{field}.rig")


def imagine(actor: Actor, rig_id: int, data: WhatIfIn) -> Imagined:
    """Loads of a rig, with the trailers behind it, after masses were put aboard.

    Raises Refusal for a place on a rig that is not of the combination, geometry that is not known,
    or a rig that was never weighed.
    """
    train = rigs.train(actor, rig_id)
    rows = train if train[0].pk == rig_id else [next(r for r in train if r.pk == rig_id)]
    bases = [_base(actor, row, None if i else data.weighing) for i, row in enumerate(rows)]
    first = bases[0]
    if first is None:
        raise Refusal("It is not weighed yet, so there is nothing to put on top of. Weigh it first.", "weighing")
    lifted = [frozenset(a.number for a in b.axles.all() if a.lifted) if b else frozenset[int]() for b in bases]
    parts = tuple(part_of(r, up) for r, up in zip(rows, lifted, strict=True))
    placed = [_put(rows, parts, item, f"placed.{i}") for i, item in enumerate(data.placed)]
    change = core.effect(parts, placed) if placed else core.NOTHING
    bars, notes = _bars(parts, first, data)
    typed = [rigs.rig_of(r) for r in rows]
    vehicles = tuple(
        weighing.weighed(
            r.name, rig, weighing.readings_of(b) if b else {}, b.hitch_kg if b else None, b.resolution_kg if b else 0.0
        )
        for r, rig, b in zip(rows, typed, bases, strict=True)
    )
    try:
        loads, together = core.lay_on(vehicles, change + bars, data.bars)
    except Refusal as no:
        raise no.within("placed.0") from None
    before = [weighing.loads_of(b, rig) if b else None for rig, b in zip(typed, bases, strict=True)]
    return Imagined(
        rows, parts, bases, before, loads, together, change + bars, [p.mass_kg for p in placed], tuple(notes)
    )


def _bars(parts: tuple[core.Part, ...], base: Weighing, data: WhatIfIn) -> tuple[core.Effect, list[Phrase]]:
    """What engaging or slackening the weight-distribution bars changes, as against how it was weighed."""
    before, now = base.bars == "engaged", data.bars == "engaged"
    if before == now or len(parts) < 2 or not parts[1].pulled:
        return core.NOTHING, []
    if base.hitch_kg is None:
        return core.NOTHING, [
            say("The hitch load is not known, so what the bars do cannot be told. Weigh hitched and alone.")
        ]
    bars = core.bars_effect(parts, base.hitch_kg, data.restore)
    note = say("Bars {0} of the front axle's loss given back: an estimate.", share(data.restore))
    return bars if now else core.NOTHING - bars, [note]


def cargo_at(imagined: Imagined, data: WorkWhatIfIn) -> CargoLeftOut | None:
    """How much may still go to the place that is asked about."""
    if data.at_rig is None or data.at_x is None or data.at_y is None:
        return None
    place = imagined.place_of(data.at_rig, data.at_x.value, data.at_y.value, "at_rig")
    left = core.cargo_at(imagined.parts, imagined.loads, place)
    if left is None:
        return None
    many = len(imagined.rows) > 1
    each = [replace(c, name=f"{imagined.rows[i].name}: {c.name}") if many else c for i, c in left.bound_by]
    return CargoLeftOut.model_validate({"left_kg": left.left_kg, "bound_by": each[0].name, "each": each[:6]})


def _put_in(imagined: Imagined, data: WhatIfIn, rig: int) -> tuple[float, ...]:
    """Masses [kg] put into one vehicle."""
    return tuple(m for item, m in zip(data.placed, imagined.masses_kg, strict=True) if item.rig == rig)


def what_if_out(imagined: Imagined, data: WorkWhatIfIn) -> WhatIfOut:
    shares = [
        standing.added_share(_put_in(imagined, data, row.pk), before.total_kg if before else None)
        for row, before in zip(imagined.rows, imagined.before, strict=True)
    ]
    known = [s for s in shares if s is not None]
    most = max(known) if known else None
    return WhatIfOut.model_validate(
        {
            "loads": weighing.loads_out(imagined.rows, imagined.loads, imagined.combined_kg),
            "changes": [
                {"rig": imagined.rows[i].pk, "number": n, "left_kg": left, "right_kg": right}
                for (i, n), (left, right) in sorted(imagined.change.ends.items())
            ],
            "hitch_change_kg": imagined.change.hitch.get(1),
            "masses_kg": imagined.masses_kg,
            "added_kg": sum(imagined.masses_kg),
            "added_share": most,
            "weigh_again": most is not None and most > standing.WEIGH_AGAIN_SHARE,
            "cargo": cargo_at(imagined, data),
            "cargo_label_kg": next((r.cargo_kg for r in imagined.rows if r.pk == data.at_rig), None),
            "notes": imagined.notes,
        }
    )


@transaction.atomic
def save_worked_out(actor: Actor, rig_id: int, data: SaveWhatIfIn) -> Weighing:
    """Keeps imagined loads as a load state that is worked out, not weighed.

    Raises Conflict where a state of that name was weighed: what a scale said is not written over.
    """
    actor.must(May.WEIGH)
    if not data.placed and not data.bars:
        raise Refusal("Nothing is put aboard yet. Place something first.", "placed.0.mass")
    imagined = imagine(actor, rig_id, data)
    first: Weighing | None = None
    for i, (row, base) in enumerate(zip(imagined.rows, imagined.bases, strict=True)):
        if base is None:
            continue
        state = weighing.state_named(row, data.load_state)
        if state.weighings.exclude(way=weighing.WORKED_OUT).exists():
            raise Conflict(
                f"{row.name} was weighed as {state.name}. Give what is worked out a name of its own.", "load_state"
            )
        made = Weighing.objects.create(
            rig=row, load_state=state, way=weighing.WORKED_OUT, weighed_on=base.weighed_on,
            scale=base.scale if base.basis else f"worked out from {base.scale}"[:80], made_up=base.made_up, resolution_kg=base.resolution_kg, hitch_kg=imagined.loads[i].hitch_kg,
            bars=data.bars, combined_kg=imagined.combined_kg if i == 0 else None, hitched=base.hitched, basis=base.basis or base,
            placed=_ledger(imagined, data, base), part_of=first, entered_by=actor.person,
            note=f"Worked out on {day(clock.today())}, not weighed",
        )  # fmt: skip
        first = first or made
        AxleWeight.objects.bulk_create(
            AxleWeight(
                weighing=made, number=a.number, lifted=a.lifted, left_kg=a.left_kg, right_kg=a.right_kg,
                whole_kg=a.total_kg if a.left_kg is None and not a.lifted else None,
            )
            for a in imagined.loads[i].axles
        )  # fmt: skip
    assert first is not None  # imagine asks for the first's weighing
    return weighing.weighings(actor, imagined.rows[0]).get(pk=first.pk)


def _ledger(imagined: Imagined, data: WhatIfIn, base: Weighing) -> list[dict[str, object]]:
    """What was put where since the scale, what stood in the ledger before included."""
    names = {r.pk: r.name for r in imagined.rows}
    return list(base.placed) + [
        {
            "what": item.what, "label": item.label, "mass_kg": mass, "rig": item.rig, "rig_name": names[item.rig],
            "x_m": item.x.value, "y_m": item.y.value,
        }
        for item, mass in zip(data.placed, imagined.masses_kg, strict=True)
    ]  # fmt: skip
