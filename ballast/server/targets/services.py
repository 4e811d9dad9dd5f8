from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Prefetch, Q, QuerySet
from pydantic import TypeAdapter

from ballast.core import rigs as core_rigs
from ballast.core import targets as core
from ballast.core import weighing as core_weighing
from ballast.core.refusal import Refusal
from ballast.core.tables import STEPS
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.problems import Conflict
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.tables import services as tables
from ballast.server.tables.models import Table
from ballast.server.targets.models import TargetAxle, TargetSet
from ballast.server.targets.schemas import AxleTargetOut, TargetsIn, WhatIfTargetsIn
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing
from ballast.server.weighing.whatif import imagine

_AXLE = TypeAdapter(AxleTargetOut)


@dataclass(frozen=True)
class Worked:
    """Targets as worked out, with what they were worked out from."""

    weighing: Weighing | None
    tables: list[Table | None]
    loads: core_weighing.RigLoad | None
    axles: list[core.AxleTarget]


def default_tables(rig: core_rigs.Rig, known: list[Table]) -> list[Table | None]:
    """For each axle the newest table of its size, not a sample where another is there."""
    chosen: list[Table | None] = []
    for axle in rig.axles:
        size = axle.tire.size.name if axle.tire else ""
        fit = [
            t for t in known
            if t.size == size and not t.replaced and (t.dual or axle.row == "single")  # type: ignore[attr-defined]
        ]  # fmt: skip
        chosen.append(min(fit, key=lambda t: (t.sample, -t.pk)) if fit else None)
    return chosen


def work(actor: Actor, rig: Rig, data: TargetsIn) -> Worked:
    """The target of every axle from a weighing (the newest by default) and tables.

    Raises Refusal for a weighing or table that is not this rig's or workspace's, or of another size.
    """
    typed = rigs.rig_of(rig)
    if data.weighing is None:
        ticket = weighing.in_force(actor, rig)
    else:
        ticket = weighing.weighings(actor, rig).filter(pk=data.weighing).first()
        if ticket is None:
            raise Refusal("There is no such weighing of this rig. Choose one of its list.", "weighing")
    loads = weighing.loads_of(ticket, typed) if ticket else None
    chosen = choose_tables(actor, rig, data)
    return Worked(ticket, chosen, loads, answers(typed, data, chosen, loads))


def answers(
    rig: core_rigs.Rig, data: TargetsIn, chosen: list[Table | None], loads: core_weighing.RigLoad | None
) -> list[core.AxleTarget]:
    """The target of every axle for given loads, weighed or imagined."""
    policy = core.Policy(data.reserve, STEPS[data.step], data.edge)
    return [core.axle_target(_case(rig, i, loads, chosen[i]), policy) for i in range(len(rig.axles))]


def choose_tables(actor: Actor, rig: Rig, data: TargetsIn) -> list[Table | None]:
    """The table of each axle: the one asked for, else the newest of its size. Raises Refusal for one that does not fit."""
    typed = rigs.rig_of(rig)
    sizes = {a.tire.size.name for a in typed.axles if a.tire}
    named = [t for t in data.tables if t is not None]
    known = list(tables.tables(actor).filter(Q(size__in=sizes) | Q(pk__in=named)).select_related(None))
    by_id = {t.pk: t for t in known}
    chosen = default_tables(typed, known)
    if len(data.tables) > len(typed.axles):
        raise Refusal(f"{rig.name} has {len(typed.axles)} axles. Choose a table for each, no more.", "tables")
    for i, table_id in enumerate(data.tables):
        axle = typed.axles[i]
        if table_id is None:
            continue
        table = by_id.get(table_id)
        if table is None:
            raise Refusal("There is no such table in this workspace. Choose one of its list.", f"tables.{i}")
        if axle.tire and table.size != axle.tire.size.name:
            raise Refusal(
                f"That table is for {table.size}, the tires are {axle.tire.size.name}. Choose one of that size.",
                f"tables.{i}",
            )
        if axle.row == "dual" and not table.dual:
            raise Refusal("That table has no dual row, and this axle has duals. Choose another.", f"tables.{i}")
        chosen[i] = table
    return chosen


def _case(rig: core_rigs.Rig, index: int, loads: core_weighing.RigLoad | None, table: Table | None) -> core.AxleCase:
    axle = rig.axles[index]
    load = loads.axles[index] if loads else None
    tire = axle.tire
    assert tire is not None  # every stored axle has a size
    return core.AxleCase(
        number=axle.number,
        name=rig.axle_name(axle.number),
        row=axle.row,
        tires_per_end=axle.tires_per_end,
        per_tire_kg=load.per_tire_kg if load else None,
        assumed=bool(load and load.assumed),
        table=tables.table_of(table) if table else None,
        load_divisor=core_rigs.load_divisor(tire.size.service, rig.kind),
        tire_max_kg=tire.max_kg(axle.row, rig.kind),
        sidewall_max_kpa=tire.sidewall_max_kpa,
        wheel_max_kpa=tire.wheel_max_kpa,
        placard_kpa=tire.placard_kpa,
        placard_is_floor=rig.light,
        other_size=tire.other_size,
        over=tuple(c for c in load.checks if c.over) if load else (),
    )


def worked_out(worked: Worked) -> dict[str, Any]:
    over = worked.loads.over if worked.loads else ()
    return {
        "axles": worked.axles,
        "tables": [t.pk if t else None for t in worked.tables],
        "samples": any(t.sample for t in worked.tables if t),
        "over": [core_weighing.overload_words(c) for c in over],
        "caution": core_weighing.OVERLOAD_CAUTION if over else "",
    }


def _inputs(rig: Rig) -> dict[str, Any]:
    """What of a rig its targets hang on, in a form that can be compared later."""
    return {
        "gvwr_kg": rig.gvwr_kg,
        "fitted": [
            [
                f.wheel, f.tire.tire_size, f.tire.load_index_single, f.tire.load_index_dual, f.tire.max_load_single_kg,
                f.tire.max_load_dual_kg, f.tire.sidewall_max_kpa,
            ]
            for f in sorted(rigs.fitted_on(rig), key=lambda f: f.wheel)
        ],
        "axles": [
            [
                a.number, a.wheels, a.gawr_kg, a.tire_size, a.load_index_single, a.load_index_dual,
                a.max_load_single_kg, a.max_load_dual_kg, a.sidewall_max_kpa, a.wheel_max_kpa, a.placard_kpa,
            ]
            for a in rig.axles.all()
        ],
    }  # fmt: skip


@transaction.atomic
def put_in_force(actor: Actor, rig_id: int, data: TargetsIn) -> TargetSet:
    """Works the targets out again on the server and puts them in force.

    “No pressure carries it” is put in force like a pressure: an older one must not stay that carries less.
    Raises Conflict where nothing can be said of any axle.
    """
    actor.must(May.TARGETS)
    rig = rigs.rig(actor, rig_id)
    worked = work(actor, rig, data)
    if worked.weighing is None:
        raise Conflict("It is not weighed: there is nothing to put in force. Weigh it first.", "weighing")
    if not any(a.target_kpa is not None or a.state in core.NO_PRESSURE for a in worked.axles):
        raise Conflict(
            "No axle has a table to look its pressure up in. Choose or enter one first.",
            "tables",
        )
    row = TargetSet.objects.create(
        rig=rig,
        weighing=worked.weighing,
        reserve=data.reserve,
        edge=data.edge,
        step=data.step,
        inputs=_inputs(rig),
        put_by=actor.person,
    )
    TargetAxle.objects.bulk_create(
        TargetAxle(
            target_set=row,
            number=answer.number,
            state=answer.state,
            table=table,
            floor_kpa=answer.floor_kpa,
            target_kpa=answer.target_kpa,
            ceiling_kpa=answer.ceiling_kpa,
            answer=_AXLE.validate_python(answer, from_attributes=True).model_dump(mode="json"),
        )
        for answer, table in zip(worked.axles, worked.tables, strict=True)
    )
    return sets(actor, rig).get(pk=row.pk)


def sets(actor: Actor, rig: Rig) -> QuerySet[TargetSet]:
    """Targets of a rig, the ones in force first."""
    actor.must(May.READ)
    return (
        TargetSet.objects.filter(rig=rig, rig__workspace=actor.workspace)
        .select_related("put_by", "weighing__load_state")
        .prefetch_related(Prefetch("axles", TargetAxle.objects.select_related("table")))
    )


def in_force(actor: Actor, rig: Rig) -> TargetSet | None:
    """The newest targets of the load state in force."""
    return sets(actor, rig).filter(weighing__load_state__in_force=True).first()


def bands_in_force(actor: Actor, rig: Rig) -> TargetSet | None:
    """The targets in force with their axles alone at hand."""
    newest = sets(actor, rig).filter(weighing__load_state__in_force=True)
    return newest.select_related(None).prefetch_related(None).prefetch_related("axles").first()


def out_of_date(row: TargetSet, rig: Rig, newest: Weighing | None) -> list[str]:
    """Why targets in force no longer fit what is known, in words."""
    reasons: list[str] = []
    if newest is not None and newest.pk != row.weighing_id:
        reasons.append(f"weighed again on {newest.weighed_on:%d %b %Y}".replace(" 0", " "))
    if row.inputs != _inputs(rig):
        reasons.append("tires or ratings have changed")
    return reasons


def what_if(actor: Actor, rig_id: int, data: WhatIfTargetsIn) -> list[dict[str, Any]]:
    """What every axle of a combination would need with masses put aboard, beside what it needs now."""
    found = imagine(actor, rig_id, data)
    asked = TargetsIn(reserve=data.reserve, edge=data.edge, step=data.step)
    lines: list[dict[str, Any]] = []
    for row, before, loads in zip(found.rows, found.before, found.loads, strict=True):
        typed, chosen = rigs.rig_of(row), choose_tables(actor, row, asked)
        now, then = answers(typed, asked, chosen, before), answers(typed, asked, chosen, loads)
        lines += [
            {
                "rig": row.pk, "number": b.number, "now_kpa": a.target_kpa, "then_kpa": b.target_kpa, "state": b.state,
                "words": b.words,
            }
            for a, b in zip(now, then, strict=True)
        ]  # fmt: skip
    return lines


def present(row: TargetSet, rig: Rig, newest: Weighing | None) -> dict[str, Any]:
    loads = weighing.loads_of(row.weighing, rigs.rig_of(rig))
    axles = list(row.axles.all())
    return {
        "id": row.pk,
        "weighing": row.weighing_id,
        "load_state": row.weighing.load_state.name,
        "worked_out": row.weighing.way == weighing.WORKED_OUT,
        "weighed_on": row.weighing.weighed_on,
        "reserve": row.reserve,
        "edge": row.edge,
        "step": row.step,
        "put_by": row.put_by.shown_name,
        "put_at": row.put_at,
        "out_of_date": out_of_date(row, rig, newest),
        "axles": [a.answer for a in axles],
        "tables": [a.table_id for a in axles],
        "samples": any(a.table.sample for a in axles if a.table),
        "over": [core_weighing.overload_words(c) for c in loads.over],
        "caution": core_weighing.OVERLOAD_CAUTION if loads.over else "",
    }
