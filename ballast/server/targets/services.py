from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction
from django.db.models import Exists, OuterRef, Prefetch, Q, QuerySet, Subquery
from pydantic import TypeAdapter

from ballast.core import rigs as core_rigs
from ballast.core import targets as core
from ballast.core import weighing as core_weighing
from ballast.core.refusal import Refusal
from ballast.core.tables import standard_exponent
from ballast.core.units import both
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.problems import Conflict
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.tables import services as tables
from ballast.server.tables.models import Table
from ballast.server.targets import policies
from ballast.server.targets.models import ChalkResult, TargetAxle, TargetSet
from ballast.server.targets.policies import Way
from ballast.server.targets.schemas import AxleTargetOut, ChoiceIn, SpareTargetOut, TargetsIn, WhatIfTargetsIn
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing
from ballast.server.weighing.whatif import imagine

_AXLE = TypeAdapter(AxleTargetOut)
_SPARES = TypeAdapter(list[SpareTargetOut])


@dataclass(frozen=True)
class Shelf:
    """The tables at hand for a rig: the one chosen for each axle, and the newest of every size."""

    chosen: list[Table | None]
    by_size: dict[str, list[Table]]

    def fitting(self, size: str, row: core_rigs.Row, load_range: str) -> list[Table]:
        """The tables of a size that have the row and are of no other load range: the newest first, samples last."""
        fit = [t for t in self.by_size.get(size, []) if (t.dual or row == "single") and same_range(t, load_range)]
        return sorted(fit, key=lambda t: (t.sample, -t.pk))

    def newest(self, size: str, row: core_rigs.Row, load_range: str) -> Table | None:
        return next(iter(self.fitting(size, row, load_range)), None)

    def instead(self, old: Table, new: Table) -> "Shelf":
        """The shelf with a new edition in an old one's place."""
        return Shelf(
            [new if t is not None and t.pk == old.pk else t for t in self.chosen],
            {s: [new if t.pk == old.pk else t for t in own] for s, own in self.by_size.items()},
        )


@dataclass(frozen=True)
class Worked:
    """Targets as worked out, with what they were worked out from."""

    way: Way
    weighing: Weighing | None
    shelf: Shelf
    used: list[Table]
    fitting: list[list[Table]]
    loads: core_weighing.RigLoad | None
    axles: list[core.AxleTarget]
    spares: list[core.SpareTarget]
    notes: tuple[Phrase, ...]


def same_range(table: Table, load_range: str) -> bool:
    """Whether a table is for tires of a load range, as far as both are known."""
    return not table.load_range or not load_range or table.load_range == load_range


def _given(data: ChoiceIn) -> dict[str, Any]:
    return {name: getattr(data, name) for name in ChoiceIn.model_fields}


def work(actor: Actor, rig: Rig, data: TargetsIn) -> Worked:
    """The target of every axle and spare from a weighing (the newest by default) and tables.

    Raises Refusal for a weighing or table that is not this rig's or workspace's, or of another size; Conflict, with the
    bound, for a pressure of one's own that does not carry the load or is above the ceiling.
    """
    way = policies.way_of(actor, rig, _given(data))
    typed = rigs.rig_of(rig)
    if data.weighing is None:
        ticket = weighing.in_force(actor, rig)
    else:
        ticket = weighing.weighings(actor, rig).filter(pk=data.weighing).first()
        if ticket is None:
            raise Refusal("There is no such weighing of this rig. Choose one of its list.", "weighing")
    loads = weighing.loads_of(ticket, typed) if ticket else None
    shelf = choose_tables(actor, rig, typed, data.tables)
    chalk = chalk_of(ticket.load_state_id if ticket else None)
    cases, used = cases_of(rig, typed, loads, shelf, chalk)
    policy = way.policy(data.trial)
    answers = [core.axle_target(c, policy) for c in cases]
    for i, own in enumerate(data.own[: len(cases)]):
        if own is None:
            continue
        if no := core.limits_of_own(cases[i], policy, answers[i], own.value):
            raise Conflict(_in_both(no), f"own.{i}")
        cases[i] = replace(cases[i], own_kpa=own.value)
        answers[i] = core.axle_target(cases[i], policy)
    fitting = [
        shelf.fitting(a.tire.size.name, a.row, row.load_range) if a.tire else []
        for a, row in zip(typed.axles, rig.axles.all(), strict=True)
    ]
    return Worked(
        way, ticket, shelf, used, fitting, loads, answers, spares_of(rig, way),
        core.across(tuple(cases), tuple(answers), typed.light),
    )  # fmt: skip


def _in_both(words: Phrase) -> str:
    """A phrase for a refusal, with its measures in both systems."""
    return words.text.format(*(both(v.kind, v.value) for v in words.values))


def spares_of(rig: Rig, way: Way) -> list[core.SpareTarget]:
    rows = list(rig.spares.all())
    return [
        core.spare_target(
            s.number, "Spare" if len(rows) == 1 else f"Spare {s.number}", s.required_kpa, s.sidewall_max_kpa, s.wheel_max_kpa,
            way.spare_over, way.step_of,
        )
        for s in rows
    ]  # fmt: skip


def choose_tables(actor: Actor, rig: Rig, typed: core_rigs.Rig, asked: list[int | None]) -> Shelf:
    """The table of each axle: the one asked for, else the newest of its size. Raises Refusal for one that does not fit."""
    sizes = {t.size.name for a in typed.axles if a.tire for t in (a.tire, *a.tire.mixed)}
    sizes |= {core_rigs.read_size(a.placard_size).name for a in rig.axles.all() if a.placard_size}
    named = [t for t in asked if t is not None]
    known = list(tables.tables(actor).filter(Q(size__in=sizes) | Q(pk__in=named)).select_related(None))
    by_id = {t.pk: t for t in known}
    by_size: dict[str, list[Table]] = {}
    for t in known:
        if not t.replaced:  # type: ignore[attr-defined]
            by_size.setdefault(t.size, []).append(t)
    shelf = Shelf([], by_size)
    ranges = [a.load_range for a in rig.axles.all()]
    chosen = [
        shelf.newest(a.tire.size.name, a.row, load_range) if a.tire else None
        for a, load_range in zip(typed.axles, ranges, strict=True)
    ]
    if len(asked) > len(typed.axles):
        raise Refusal(f"{rig.name} has {len(typed.axles)} axles. Choose a table for each, no more.", "tables")
    for i, table_id in enumerate(asked):
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
        if not same_range(table, ranges[i]):
            raise Refusal(
                f"That table is for load range {table.load_range}, the tires are {ranges[i]}. Choose one of that range.",
                f"tables.{i}",
            )
        if axle.row == "dual" and not table.dual:
            raise Refusal("That table has no dual row, and this axle has duals. Choose another.", f"tables.{i}")
        chosen[i] = table
    return Shelf(chosen, by_size)


def cases_of(
    rig: Rig, typed: core_rigs.Rig, loads: core_weighing.RigLoad | None, shelf: Shelf, chalk: dict[int, float]
) -> tuple[list[core.AxleCase], list[Table]]:
    """Every axle as the rules take it, and the tables that have a part in it."""
    cases: list[core.AxleCase] = []
    used: dict[int, Table] = {}
    for i, row in enumerate(rig.axles.all()):
        axle = typed.axles[i]
        load = loads.axles[i] if loads else None
        tire = axle.tire
        assert tire is not None  # every stored axle has a size
        kinds: list[tuple[core.TireCase, Table | None]] = []
        for kind in tire.mixed or (tire,):
            same = kind.size.name == tire.size.name
            table = shelf.chosen[i] if same else shelf.newest(kind.size.name, axle.row, kind.size.load_range or "")
            one = core.TireCase(
                kind.size.name, tables.table_of(table) if table else None, core_rigs.load_divisor(kind.size.service, rig.kind),
                kind.max_kg(axle.row, rig.kind), kind.sidewall_max_kpa, standard_exponent(kind.size.service),
            )  # fmt: skip
            kinds.append((one, table))
        (first, _), *rest = kinds
        original = core_rigs.read_size(row.placard_size) if row.placard_size else tire.size
        placard_table = None
        if original.name != first.name:
            placard_table = shelf.newest(original.name, axle.row, original.load_range or "")
        old = tables.table_of(placard_table) if placard_table else None
        placard_floor, placard_words = core.placard_carried(
            row.placard_kpa, original.name, first.name, (old, first.table), axle.row
        )
        own = [t for _, t in kinds if t is not None]
        speeds: list[float] = [core_rigs.SPEEDS[k.size.speed] for k in (tire.mixed or (tire,)) if k.size.speed]
        speeds += [t.speed_kmh for t in own if t.speed_kmh is not None]
        cases.append(
            core.AxleCase(
                number=axle.number,
                name=typed.axle_name(axle.number),
                row=axle.row,
                tires_per_end=axle.tires_per_end,
                per_tire_kg=load.per_tire_kg if load else None,
                assumed=bool(load and load.assumed),
                table=first.table,
                load_divisor=first.load_divisor,
                tire_max_kg=first.tire_max_kg,
                sidewall_max_kpa=first.sidewall_max_kpa,
                wheel_max_kpa=tire.wheel_max_kpa,
                placard_kpa=row.placard_kpa,
                placard_is_floor=typed.light,
                over=tuple(c for c in load.checks if c.over) if load else (),
                size=first.name,
                exponent=first.exponent,
                others=tuple(one for one, _ in rest),
                placard_light_kpa=row.placard_light_kpa,
                placard_floor_kpa=placard_floor,
                placard_words=placard_words,
                chalk_kpa=chalk.get(axle.number),
                lamp_kpa=core.own_lamp_kpa(typed, axle, row.load_range, row.lamp_kpa),
                speed_kmh=typed.top_speed_kmh,
                holds_kmh=min(speeds) if speeds else None,
            )
        )
        used |= {t.pk: t for t in (*own, placard_table) if t is not None}
    return cases, list(used.values())


def tables_out(once: list[Table]) -> dict[str, Any]:
    """What is said of the tables that had a part: their names, samples, and those nobody has checked."""
    return {
        "table_names": [tables.name_of(t) for t in once],
        "samples": any(t.sample for t in once),
        "unchecked": [tables.name_of(t) for t in once if tables.unchecked(t)],
    }


def worked_out(worked: Worked) -> dict[str, Any]:
    over = worked.loads.over if worked.loads else ()
    return {
        "axles": worked.axles,
        "spares": worked.spares,
        "notes": worked.notes,
        "tables": [t.pk if t else None for t in worked.shelf.chosen],
        "provisional": any(a.state == "provisional" for a in worked.axles),
        "below_placard": any(a.below_placard for a in worked.axles),
        "over": [core_weighing.overload_words(c) for c in over],
        "caution": core_weighing.OVERLOAD_CAUTION if over else "",
        "way": worked.way,
        "fitting": [
            [{"id": t.pk, "name": tables.name_of(t), "sample": t.sample, "unchecked": tables.unchecked(t)} for t in own]
            for own in worked.fitting
        ],
    } | tables_out(worked.used)


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
        "placards": [[a.placard_size, a.lamp_kpa] for a in rig.axles.all()],
        "spares": [[s.required_kpa, s.sidewall_max_kpa, s.wheel_max_kpa] for s in rig.spares.all()],
    }  # fmt: skip


@transaction.atomic
def put_in_force(actor: Actor, rig_id: int, data: TargetsIn) -> TargetSet:
    """Works the targets out again on the server and puts them in force; what was chosen stays the rig's way.

    “No pressure carries it” is put in force like a pressure: an older one must not stay that carries less.
    Raises Conflict where nothing can be said of any axle, or a pressure of one's own breaks the band.
    """
    actor.must(May.TARGETS)
    rig = policies.rig_of(actor, rig_id)
    worked = work(actor, rig, data)
    said = [a for a in worked.axles if a.target_kpa is not None or a.state in core.NO_PRESSURE]
    if not said and worked.weighing is None:
        raise Conflict(
            "It is not weighed and has no placard: there is nothing to put in force. Weigh it first.", "weighing"
        )
    if not said:
        raise Conflict("No axle has a table to look its pressure up in. Choose or enter one first.", "tables")
    trial = data.trial if any(a.trial for a in worked.axles) else ""
    ticket = worked.weighing
    row = TargetSet.objects.create(
        rig=rig,
        load_state=ticket.load_state if ticket else weighing.state_in_force(rig),
        weighing=ticket,
        reserve=worked.way.reserve,
        edge=worked.way.edge,
        step=worked.way.step,
        school=worked.way.school,
        between=worked.way.between,
        trial=trial,
        inputs=_inputs(rig),
        spares=_SPARES.dump_python(_SPARES.validate_python(worked.spares, from_attributes=True), mode="json"),
        notes=[{"text": n.text, "values": []} for n in worked.notes],
        put_by=actor.person,
    )
    row.tables.set(worked.used)
    TargetAxle.objects.bulk_create(
        TargetAxle(
            target_set=row,
            number=answer.number,
            state=answer.state,
            table=table,
            floor_kpa=answer.floor_kpa,
            target_kpa=answer.target_kpa,
            ceiling_kpa=answer.ceiling_kpa,
            own_kpa=data.own[i].value if i < len(data.own) and data.own[i] is not None else None,  # type: ignore[union-attr]
            answer=_AXLE.validate_python(answer, from_attributes=True).model_dump(mode="json"),
        )
        for i, (answer, table) in enumerate(zip(worked.axles, worked.shelf.chosen, strict=True))
    )
    policies.keep(actor, rig, {k: v for k, v in _given(data).items() if v is not None})
    return sets(actor, rig).get(pk=row.pk)


# Whether a newer edition of a table that had a part has been taken into use since.
TABLE_REPLACED = Exists(Table.objects.filter(replaces__target_sets=OuterRef("pk")))


def sets(actor: Actor, *mine: Rig) -> QuerySet[TargetSet]:
    """Targets of rigs, the ones put in force last first."""
    actor.must(May.READ)
    return (
        TargetSet.objects.filter(rig__in=mine, rig__workspace=actor.workspace)
        .annotate(table_replaced=TABLE_REPLACED)
        .select_related("put_by", "load_state", "weighing__load_state")
        .prefetch_related("axles", "tables")
    )


def in_force(actor: Actor, rig: Rig) -> TargetSet | None:
    """The newest targets of the load state in force."""
    return sets(actor, rig).filter(load_state__in_force=True).first()


def each_in_force(found: QuerySet[TargetSet]) -> dict[int, TargetSet]:
    """Of several rigs' targets those in force, by rig. What was in force before is not fetched."""
    last = TargetSet.objects.filter(rig=OuterRef("rig"), load_state__in_force=True).order_by("-id").values("pk")[:1]
    return {row.rig_id: row for row in found.filter(pk=Subquery(last))}


def bands_in_force(actor: Actor, mine: list[Rig]) -> dict[int, TargetSet]:
    """The targets in force of several rigs with their axles alone at hand, by rig."""
    actor.must(May.READ)
    found = TargetSet.objects.filter(rig__in=mine, rig__workspace=actor.workspace)
    # The working and what it was worked out from are long, and not of the band.
    return each_in_force(found.defer("inputs").prefetch_related(Prefetch("axles", TargetAxle.objects.defer("answer"))))


def out_of_date(row: TargetSet, rig: Rig, newest: Weighing | None) -> list[str]:
    """Why targets in force no longer fit what is known, in words. The row comes with `table_replaced`."""
    reasons: list[str] = []
    if newest is not None and newest.pk != row.weighing_id:
        again = "again " if row.weighing_id else ""
        reasons.append(f"weighed {again}on {newest.weighed_on:%d %b %Y}".replace(" 0", " "))
    now = _inputs(rig)
    # What was not asked for when they were put in force has not changed since.
    if any(now.get(name) != value for name, value in row.inputs.items()):
        reasons.append("tires or ratings have changed")
    if row.table_replaced:  # type: ignore[attr-defined]
        reasons.append("a newer edition of its table is in use")
    return reasons


def what_if(actor: Actor, rig_id: int, data: WhatIfTargetsIn) -> list[dict[str, Any]]:
    """What every axle of a combination would need with masses put aboard, beside what it needs now."""
    found = imagine(actor, rig_id, data)
    lines: list[dict[str, Any]] = []
    for row, before, loads in zip(found.rows, found.before, found.loads, strict=True):
        typed = rigs.rig_of(row)
        shelf = choose_tables(actor, row, typed, [])
        policy = policies.way_of(actor, row, _given(data)).policy()
        now = [core.axle_target(c, policy) for c in cases_of(row, typed, before, shelf, {})[0]]
        then = [core.axle_target(c, policy) for c in cases_of(row, typed, loads, shelf, {})[0]]
        lines += [
            {
                "rig": row.pk, "number": b.number, "now_kpa": a.target_kpa, "then_kpa": b.target_kpa, "state": b.state,
                "words": b.words,
            }
            for a, b in zip(now, then, strict=True)
        ]  # fmt: skip
    return lines


def chalk_of(state_id: int | None) -> dict[int, float]:
    """The newest chalk result of every axle in a load state [kPa]."""
    return {} if state_id is None else chalk_in([state_id]).get(state_id, {})


def chalk_in(states: list[int]) -> dict[int, dict[int, float]]:
    """The newest chalk results of several load states, by state and axle [kPa]."""
    found: dict[int, dict[int, float]] = {}
    rows = ChalkResult.objects.filter(load_state__in=states, withdrawn_at=None).order_by("done_on", "id")
    for state, number, kpa in rows.values_list("load_state_id", "number", "kpa"):
        found.setdefault(state, {})[number] = kpa
    return found


def present(row: TargetSet, rig: Rig, newest: Weighing | None, actor: Actor) -> dict[str, Any]:
    ticket = row.weighing
    over = weighing.loads_of(ticket, rigs.rig_of(rig)).over if ticket else ()
    axles = list(row.axles.all())
    fields = ("reserve", "edge", "step", "school", "between", "trial", "put_at", "spares", "notes")
    return (
        {f: getattr(row, f) for f in fields}
        | {
            "id": row.pk,
            "weighing": row.weighing_id,
            "load_state": row.load_state.name,
            "worked_out": bool(ticket and ticket.way == weighing.WORKED_OUT),
            "weighed_on": ticket.weighed_on if ticket else None,
            "own": [a.own_kpa for a in axles],
            "put_by": row.put_by.shown_name,
            "out_of_date": out_of_date(row, rig, newest),
            "axles": [a.answer for a in axles],
            "tables": [a.table_id for a in axles],
            "provisional": any(a.state == "provisional" for a in axles),
            "below_placard": bool(row.trial),
            "over": [core_weighing.overload_words(c) for c in over],
            "caution": core_weighing.OVERLOAD_CAUTION if over else "",
            "way": policies.way_of(actor, rig),
        }
        | tables_out(list(row.tables.all()))
    )
