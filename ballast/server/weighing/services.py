import datetime as dt
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from django.db import transaction
from django.db.models import Exists, OuterRef, QuerySet, Subquery

from ballast.core import rigs as core_rigs
from ballast.core import standing
from ballast.core import weighing as core
from ballast.core.refusal import Refusal
from ballast.core.working import join, plain, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.days import latest_day
from ballast.server.edge.problems import Conflict
from ballast.server.edge.ready import Ready, hang
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.weighing.models import AxleWeight, LoadState, Weighing
from ballast.server.weighing.schemas import (
    AxleWeightIn,
    GuideIn,
    LoadsOut,
    LoadStateOut,
    PassIn,
    ReadIn,
    RowsIn,
    StepOut,
    TypedTogether,
    VehicleLoadsOut,
    WeighingIn,
    WeighingOut,
)

ENDS = ("whole_kg", "left_kg", "right_kg")
WORKED_OUT = "worked out"
# Weighed elsewhere: no scale was named.
BY_HAND = "entered by hand"


def limits_of(rig: core_rigs.Rig) -> tuple[core.AxleLimits, ...]:
    """What each axle is held against."""
    return tuple(
        core.AxleLimits(
            axle.number,
            rig.axle_name(axle.number),
            axle.wheels,
            axle.track_m,
            axle.gawr_kg,
            axle.tire.max_kg(axle.row, rig.kind) if axle.tire else None,
            axle.tire.wheel_max_load_kg if axle.tire else None,
            axle.lift,
            axle.tire is None or axle.tire.all_rated(axle.row),
        )
        for axle in rig.axles
    )


def rig_limits_of(rig: core_rigs.Rig) -> core.RigLimits:
    return core.RigLimits(rig.gvwr_kg, rig.gcwr_kg, rig.hitch_max_kg, rig.pulled)


def vehicle_of(row: Rig, typed: core_rigs.Rig) -> core.Vehicle:
    """A rig as the scale sees it; `typed` as the rules take it."""
    axles = tuple((a.number, typed.axle_name(a.number), a.wheels) for a in typed.axles)
    # Behind another it is carried in front; by itself a trailer is weighed as it stands.
    return core.Vehicle(row.name, axles, typed.pulled and row.place > 0)


@lru_cache(maxsize=1024)
def read_spot(code: str) -> core.Spot:
    vehicle, rest = code.split(":")
    return core.Spot(int(vehicle), int(rest[0]), rest[1])  # type: ignore[arg-type]


def spot_code(spot: core.Spot) -> str:
    return f"{spot.vehicle}:{spot.axle}{spot.side}"


def vehicles(actor: Actor, rig_id: int, with_trailers: bool) -> list[Rig]:
    """The rig, or with the trailers behind it the whole, from the front. Raises Refusal for a trailer that is towed."""
    if not with_trailers:
        return [rigs.rig_on_axles(actor, rig_id)]
    train = rigs.train(actor, rig_id)
    if train[0].pk != rig_id:
        raise Refusal(f"A combination is weighed from its tow vehicle, {train[0].name}. Go there.", "with_trailers")
    return train


@dataclass(frozen=True)
class Read:
    """What a scale said, by vehicle: readings and hitch loads, their loads, and what the passes tell together."""

    rows: list[Rig]
    vehicles: tuple[core.Weighed, ...]
    loads: tuple[core.RigLoad, ...]
    combined_kg: float | None
    solved: core.Solved | None


def _reading(axle: AxleWeightIn) -> core.AxleReading:
    whole, left, right = (e.value if (e := getattr(axle, end)) else None for end in ENDS)
    return core.AxleReading(whole, left, right, axle.lifted)


def pass_of(given: PassIn) -> core.Pass:
    return core.Pass(frozenset(read_spot(s) for s in given.on), given.kg.value, given.apart)


def weighed(
    name: str,
    typed: core_rigs.Rig,
    reads: dict[int, core.AxleReading],
    hitch_kg: float | None,
    resolution_kg: float = 0.0,
) -> core.Weighed:
    """A rig with what a scale said of it."""
    return core.Weighed(name, limits_of(typed), rig_limits_of(typed), reads, hitch_kg, resolution_kg)


def read(actor: Actor, rig_id: int, data: ReadIn) -> Read:
    """Weights as typed, by ticket or by passes, held against every limit.

    Raises Refusal for what contradicts itself, more axles than there are, or wheels that the rig has not.
    """
    rows = vehicles(actor, rig_id, data.with_trailers)
    typed = [rigs.rig_of(row) for row in rows]
    resolution = data.resolution_kg.value if data.resolution_kg else 0.0
    typed_hitch = data.hitch_kg.value if data.hitch_kg else None
    solved: core.Solved | None = None
    gross = data.gross_kg.value if data.gross_kg and data.way == "ticket" else None
    if data.way == "ticket":
        hitch_loads = (typed_hitch, *[None] * (len(rows) - 1))
        said = tuple(
            weighed(row.name, rig, _rows(row, given, at), hitch, resolution)
            for row, rig, (given, at), hitch in zip(rows, typed, _rows_of(data, len(rows)), hitch_loads, strict=True)
        )
    else:
        scaled = tuple(vehicle_of(row, rig) for row, rig in zip(rows, typed, strict=True))
        solved = core.solve(scaled, tuple(pass_of(p) for p in data.passes), data.way, resolution)
        hitch = core.hitch_by_vehicle(scaled, solved.hitch_kg) if len(rows) > 1 else (typed_hitch,)
        said = tuple(
            weighed(row.name, rig, {n: r for (k, n), r in solved.axles.items() if k == i}, hitch[i])
            for i, (row, rig) in enumerate(zip(rows, typed, strict=True))
        )
    loads, together = core.weigh_together(said, data.bars, gross)
    return Read(rows, said, loads, together, solved)


def _rows_of(data: ReadIn, vehicles: int) -> list[tuple[RowsIn, str]]:
    """The rows of each vehicle with where they stand in the body. Raises Refusal for more vehicles than are hitched."""
    if len(data.behind) >= vehicles and data.behind:
        raise Refusal(
            "The ticket has rows of more vehicles than are hitched. Leave them out.", f"behind.{vehicles - 1}"
        )
    behind = [*data.behind, *[RowsIn()] * (vehicles - 1 - len(data.behind))]
    return [(data, ""), *((rows, f"behind.{i}.") for i, rows in enumerate(behind))]


def _rows(row: Rig, data: RowsIn, at: str) -> dict[int, core.AxleReading]:
    """A vehicle's rows of a ticket as readings, by axle. Raises Refusal as `core.spread`, and for axles it has not."""
    axles = {a.number: a.share for a in row.axles.all()}
    if len(data.axles) > len(axles):
        raise Refusal(
            f"{row.name} has {len(axles)} axles, {len(data.axles)} are weighed. Leave out what is not its own.",
            f"{at}axles.{len(axles)}",
        )
    reads = {i + 1: _reading(axle) for i, axle in enumerate(data.axles)}
    for i, group in enumerate(data.together):
        if unknown := set(group.axles) - set(axles):
            raise Refusal(f"{row.name} has no axle {min(unknown)}. Choose its own.", f"{at}together.{i}.axles")
        try:
            reads = core.spread(reads, group.kg.value, {n: axles[n] for n in sorted(set(group.axles))})
        except Refusal as no:
            raise no.within(f"{at}together.{i}") from None
    return reads


def readings_of(row: Weighing) -> dict[int, core.AxleReading]:
    """A stored ticket as the rules take it; what was kept at nothing, before that was refused, was not weighed."""

    def known(kg: float | None) -> float | None:
        return kg if kg and kg > 0 else None

    return {
        a.number: core.AxleReading(known(a.whole_kg), known(a.left_kg), known(a.right_kg), a.lifted, tuple(a.of))
        for a in row.axles.all()
    }


def loads_of(row: Weighing, rig: core_rigs.Rig) -> core.RigLoad:
    """The loads of a stored weighing against the rig as it is now."""
    return core.weigh_rig(
        limits_of(rig), readings_of(row), rig_limits_of(rig), row.resolution_kg, row.hitch_kg, row.bars,   # type: ignore[arg-type]
        core.Whole(row.combined_kg, row.gross_kg),
    )  # fmt: skip


def weighings(actor: Actor, rig: Rig) -> QuerySet[Weighing]:
    """Weighings of a rig, newest first, each with whether a later one amends it."""
    actor.must(May.READ)
    later = Exists(Weighing.objects.filter(amends=OuterRef("pk")))
    return (
        Weighing.objects.filter(rig=rig, rig__workspace=actor.workspace)
        .annotate(amended=later)
        .select_related("entered_by", "load_state", "basis")
        .prefetch_related("axles", "basis__axles")
    )


def newest(actor: Actor, *train: Rig) -> QuerySet[Weighing]:
    """Weighings of rigs in the load states in force that are not amended, the newest first, with their axles at hand."""
    actor.must(May.READ)
    rows = _counting(rig__in=train, rig__workspace=actor.workspace)
    return rows.select_related("load_state", "basis").prefetch_related("axles", "basis__axles")


def again(row: Weighing | None, rig: core_rigs.Rig, today: dt.date) -> tuple[standing.Due, standing.Dated]:
    """When to weigh again after the weighing in force, `basis` at hand: by its day, by what was put aboard since."""
    basis = (row.basis or row) if row else None
    # What was put aboard counts while the load state that it made is in force.
    added = sum(abs(p["mass_kg"]) for p in row.placed if p["rig"] == row.rig_id) if row else 0.0
    gross = loads_of(basis, rig).total_kg if basis else None
    asked = (basis.weighed_on if basis else None, added, gross, today)
    return standing.weighing_due(*asked), standing.weighing_words(*asked)


def _counting(**of: Any) -> QuerySet[Weighing]:
    """Weighings of the load states in force that are not amended, the newest first."""
    return Weighing.objects.filter(amended_by=None, load_state__in_force=True, **of)


_IN_FORCE = Ready[Weighing](
    lambda workspace, rigs: (
        _counting(rig__in=rigs, rig__workspace=workspace)
        .filter(pk=Subquery(_counting(rig=OuterRef("rig")).values("pk")[:1]))
        .select_related("load_state", "basis")
    )
)
_AXLES = Ready[AxleWeight](lambda weighings: AxleWeight.objects.filter(weighing__in=weighings))


def hang_axles(rows: list[Weighing]) -> None:
    """Hangs their axles on weighings that were read by their statement."""
    hang(rows, "axles", _AXLES([row.pk for row in rows]), "weighing")


def in_force(actor: Actor, rig: Rig) -> Weighing | None:
    """The newest weighing of the load state in force that is not amended, with its axles alone at hand."""
    return each_in_force(actor, [rig]).get(rig.pk)


def each_in_force(actor: Actor, train: list[Rig]) -> dict[int, Weighing]:
    """The newest weighings of several rigs, by rig. The earlier are not fetched."""
    actor.must(May.READ)
    rows = _IN_FORCE(actor.workspace.pk, [r.pk for r in train])
    hang_axles([w for r in rows for w in (r, r.basis) if w])
    return {row.rig_id: row for row in rows}


def state_named(rig: Rig, name: str) -> LoadState:
    """A load state of a rig by its name, made where it is new; the first of a rig is in force."""
    state = LoadState.objects.filter(rig=rig, name__iexact=name).first()
    return state or LoadState.objects.create(
        rig=rig, name=name, in_force=not LoadState.objects.filter(rig=rig, in_force=True).exists()
    )


def in_force_state(rig: Rig) -> LoadState | None:
    """The load state in force, where the rig has one."""
    return states_in_force([rig]).get(rig.pk)


def states_in_force(train: list[Rig]) -> dict[int, LoadState]:
    """The load states in force of several rigs, by rig."""
    return {state.rig_id: state for state in LoadState.objects.filter(rig__in=train, in_force=True)}


@transaction.atomic
def choose_row(actor: Actor, rig_id: int, light: bool) -> list[LoadStateOut]:
    """Which of the label's two rows the load state in force goes by."""
    actor.must(May.TARGETS)
    rig = rigs.rig(actor, rig_id)
    state = state_in_force(rig)
    state.light_row = light
    state.save()
    return states(actor, rig)


def state_in_force(rig: Rig) -> LoadState:
    """The load state in force; of a rig that has none yet, as it travels."""
    return in_force_state(rig) or state_named(rig, core.LOAD_STATES[-1])


@transaction.atomic
def use_state(actor: Actor, rig_id: int, state_id: int) -> list[LoadStateOut]:
    """Puts a load state in force: its weighing and targets rule from now on."""
    actor.must(May.WEIGH)
    rig = rigs.rig(actor, rig_id)
    chosen = LoadState.objects.filter(rig=rig).get(pk=state_id)
    LoadState.objects.filter(rig=rig, in_force=True).exclude(pk=chosen.pk).update(in_force=False)
    chosen.in_force = True
    chosen.save()
    return states(actor, rig)


@transaction.atomic
def add_state(actor: Actor, rig_id: int, name: str) -> list[LoadStateOut]:
    """Adds a load state, still to be weighed. Raises Conflict where the rig has it."""
    actor.must(May.WEIGH)
    rig = rigs.rig(actor, rig_id)
    if LoadState.objects.filter(rig=rig, name__iexact=name).exists():
        raise Conflict(f"{rig.name} has a load state {name} already. Choose another name.", "name")
    state_named(rig, name)
    return states(actor, rig)


@transaction.atomic
def drop_state(actor: Actor, rig_id: int, state_id: int) -> list[LoadStateOut]:
    """Takes away a load state that was never weighed. Raises Conflict for any other."""
    actor.must(May.WEIGH)
    rig = rigs.rig(actor, rig_id)
    state = LoadState.objects.filter(rig=rig).get(pk=state_id)
    if state.in_force or state.weighings.exists() or state.target_sets(manager="every").exists():
        raise Conflict("It is in force or has weighings, which are kept. Put another in force instead.")
    state.delete()
    return states(actor, rig)


def states(actor: Actor, rig: Rig) -> list[LoadStateOut]:
    """The load states of a rig, each with its newest weighing: two queries, however many there are."""
    actor.must(May.READ)
    newest: dict[int, Weighing] = {}
    for row in Weighing.objects.filter(rig=rig, amended_by=None).prefetch_related("axles"):
        newest.setdefault(row.load_state_id, row)
    typed = rigs.rig_of(rig)
    return [
        LoadStateOut.model_validate(state)
        for state in [
            {
                "id": s.pk,
                "name": s.name,
                "in_force": s.in_force,
                "light_row": s.light_row,
                "weighed_on": newest[s.pk].weighed_on if s.pk in newest else None,
                "worked_out": s.pk in newest and newest[s.pk].way == WORKED_OUT,
                "total_kg": loads_of(newest[s.pk], typed).total_kg if s.pk in newest else None,
            }
            for s in rig.load_states.all()
        ]
    ]


def _amended(actor: Actor, rig: Rig, amends: int | None) -> Weighing | None:
    if amends is None:
        return None
    old = weighings(actor, rig).filter(pk=amends).first()
    if old is None:
        raise Refusal("There is no such weighing of this rig to amend.", "amends")
    if old.amended:  # type: ignore[attr-defined]
        raise Conflict("That weighing has been amended already. Amend the newer one.", "amends")
    return old


def _nothing_on_it(data: WeighingIn) -> None:
    if data.way != "ticket":
        if not data.passes:
            raise Refusal("Nothing is weighed yet. Do at least one pass.", "passes.0.kg")
        return
    rows = [data, *data.behind]
    if data.gross_kg or any(r.together for r in rows):
        return
    if not any(getattr(axle, end) for r in rows for axle in r.axles for end in ENDS):
        raise Refusal("Nothing is weighed yet. Enter at least one axle, by its ends or as a whole.", "axles.0.whole_kg")


@transaction.atomic
def save_weighing(actor: Actor, rig_id: int, data: WeighingIn) -> Weighing:
    """Stores a ticket, of a combination one for each vehicle.

    Raises Refusal for what contradicts itself, a date ahead, or a ticket with nothing on it.
    """
    actor.must(May.WEIGH)
    rig = rigs.rig(actor, rig_id)
    if data.uuid and (known := Weighing.objects.filter(uuid=data.uuid).first()):
        if known.rig_id != rig.pk:
            raise Conflict("This ticket is stored for another rig. Send the new one under its own UUID.", "uuid")
        return weighings(actor, rig).get(pk=known.pk)
    if data.weighed_on > latest_day():
        raise Refusal("The date lies in the future. Check it.", "weighed_on")
    rigs.check_odometer(rig, data.odometer.value if data.odometer else None, data.weighed_on)
    ticket = read(actor, rig_id, data)
    typed = [rows for rows, _ in _rows_of(data, len(ticket.rows))] if data.way == "ticket" else []
    _nothing_on_it(data)
    old = _amended(actor, rig, data.amends)
    first: Weighing | None = None
    for i, row in enumerate(ticket.rows):
        made = Weighing.objects.create(
            rig=row,
            load_state=state_named(row, data.load_state),
            way=data.way,
            weighed_on=data.weighed_on,
            scale=data.scale or BY_HAND,
            made_up=data.made_up,
            uuid=data.uuid if i == 0 else None,
            resolution_kg=data.resolution_kg.value if data.resolution_kg else 0.0,
            odometer_km=data.odometer.value if data.odometer and i == 0 else None,
            # Of a combination it is what stands in `combined_kg`.
            gross_kg=data.gross_kg.value if data.gross_kg and typed and len(ticket.rows) == 1 else None,
            gross_typed=data.gross_kg.typed if data.gross_kg and typed and i == 0 else "",
            hitch_kg=ticket.vehicles[i].hitch_kg,
            hitch_typed=data.hitch_kg.typed if data.hitch_kg and i == 0 else "",
            bars=data.bars,
            combined_kg=ticket.combined_kg if i == 0 else None,
            hitched=", ".join(r.name for r in ticket.rows[1:]) if i == 0 else f"behind {ticket.rows[i - 1].name}",
            passes=[
                {"words": p.words, "on": p.on, "apart": p.apart, "kg": p.kg.value, "typed": p.kg.typed}
                for p in data.passes
            ],
            ready=data.ready,
            part_of=first,
            note=data.note,
            amends=old if i == 0 else _same_part(old, row),
            entered_by=actor.person,
        )
        first = first or made
        _store_axles(made, ticket.vehicles[i].reads, typed[i] if typed else RowsIn())
    rigs.seen_at(rig, data.odometer.value if data.odometer else None, data.weighed_on)
    assert first is not None  # there is always the rig itself
    return weighings(actor, rig).get(pk=first.pk)


def _same_part(old: Weighing | None, row: Rig) -> Weighing | None:
    """Of an amended ticket of a combination, the part that belongs to a rig and is not amended yet."""
    return old.parts.filter(rig=row, amended_by=None).first() if old else None


def _store_axles(row: Weighing, reads: dict[int, core.AxleReading], typed: RowsIn) -> None:
    """What was read of each axle, with the entries as typed; of several as one number it stands with the first."""
    entries: dict[int, dict[str, str]] = {
        i: {e: entry.typed for e in ENDS if (entry := getattr(axle, e))} for i, axle in enumerate(typed.axles, 1)
    }
    for group in typed.together:
        entries[min(group.axles)] = {"together": group.kg.typed}
    AxleWeight.objects.bulk_create(
        AxleWeight(
            weighing=row,
            number=number,
            whole_kg=own.whole_kg,
            left_kg=own.left_kg,
            right_kg=own.right_kg,
            lifted=own.lifted,
            of=list(own.of),
            typed=entries.get(number, {}),
        )
        for number, own in sorted(reads.items())
    )


def guide(actor: Actor, data: GuideIn) -> list[StepOut]:
    """The passes to do on the scale that is there."""
    rows = vehicles(actor, data.rig, data.with_trailers)
    steps = core.guide(tuple(vehicle_of(r, rigs.rig_of(r)) for r in rows), data.way, data.hitch)
    return [step_out(s, rows) for s in steps]


def step_out(step: core.Step, rows: list[Rig]) -> StepOut:
    return StepOut.model_validate(
        {
            "key": step.key,
            "words": step.words,
            "on": [spot_code(s) for s in step.on],
            "wheels": [w for s in step.on for w in wheels_at(s, rows)],
            "apart": step.apart,
        }
    )


def wheels_at(spot: core.Spot, rows: list[Rig]) -> list[str]:
    """The wheels of the plan that stand at a spot."""
    return [
        w.code for w in rigs.wheels_in_train(rows[spot.vehicle])
        if w.axle == spot.axle and w.side == spot.side
    ] if spot.axle else []  # fmt: skip


def vehicle_loads(row: Rig, loads: core.RigLoad) -> VehicleLoadsOut:
    return VehicleLoadsOut.model_validate(
        {
            "rig": row.pk,
            "name": row.name,
            "axles": loads.axles,
            "total_kg": loads.total_kg,
            "hitch_kg": loads.hitch_kg,
            "checks": loads.checks,
            "notes": loads.notes,
        }
    )


def loads_out(
    rows: list[Rig], loads: tuple[core.RigLoad, ...], combined_kg: float | None, solved: core.Solved | None = None
) -> LoadsOut:
    every = [vehicle_loads(r, load) for r, load in zip(rows, loads, strict=True)]
    over = [(r, c) for r, load in zip(rows, loads, strict=True) for c in load.over]
    many = len(rows) > 1
    said = []
    for row, check in over:
        words = core.overload_words(check)
        said.append(join(say(plain(f"{row.name}:")), words) if many else words)
    ticket = None
    if solved is not None:
        ticket = {
            "unknown": solved.unknown,
            "next": step_out(solved.next, rows) if solved.next else None,
            "next_tells": solved.next_tells,
            "doubt": solved.doubt,
            "notes": solved.notes,
            "working": solved.working,
        }
    load = vars(every[0]) | {
        "others": every[1:],
        "combined_kg": combined_kg,
        "ticket": ticket,
        "over": said,
        "caution": core.OVERLOAD_CAUTION if over else "",
    }
    return LoadsOut.model_validate(load)


def read_out(ticket: Read) -> LoadsOut:
    return loads_out(ticket.rows, ticket.loads, ticket.combined_kg, ticket.solved)


def present(row: Weighing, rig: Rig) -> WeighingOut:
    fields = (
        "id", "way", "weighed_on", "scale", "made_up", "resolution_kg", "odometer_km", "hitch_typed", "bars", "hitched", "ready",
        "placed", "note", "entered_at", "passes",
    )  # fmt: skip
    fields_out = {f: getattr(row, f) for f in fields} | {
        "load_state": row.load_state.name,
        "basis": row.basis_id,
        "part_of": row.part_of_id,
        "amends": row.amends_id,
        "amended": row.amended,  # type: ignore[attr-defined]
        "by": row.entered_by.shown_name,
        "typed": [a.typed for a in row.axles.all()],
        "lifted": [a.lifted for a in row.axles.all()],
        "together": [
            TypedTogether(axles=a.of, typed=a.typed["together"]) for a in row.axles.all() if "together" in a.typed
        ],
        "gross_typed": row.gross_typed,
        "loads": loads_out([rig], (loads_of(row, rigs.rig_of(rig)),), row.combined_kg),
    }
    return WeighingOut.model_validate(fields_out)
