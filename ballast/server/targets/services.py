from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction
from django.db.models import Exists, F, OuterRef, Prefetch, Q, QuerySet, Subquery
from pydantic import TypeAdapter

from ballast.core import rigs as core_rigs
from ballast.core import targets as core
from ballast.core import weighing as core_weighing
from ballast.core.refusal import Refusal
from ballast.core.tables import SAMPLE_STAMP, standard_exponent
from ballast.core.working import Phrase, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.problems import Conflict
from ballast.server.edge.words import in_both, phrase_of
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Axle, Rig
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

    def fitting(self, tire: core_rigs.Tire, row: core_rigs.Row) -> list[Table]:
        """The tables that fit a tire and have the row: the newest first, samples last."""
        fit = [t for t in self.by_size.get(tire.size.name, []) if fits(t, tire, row)]
        return sorted(fit, key=lambda t: (t.sample, -t.pk))

    def newest(self, tire: core_rigs.Tire, row: core_rigs.Row) -> Table | None:
        """The newest table that fits a tire; none where several fit that are not for the same tire, as its own marks do not
        say which it is."""
        fit = self.fitting(tire, row)
        own = [t for t in fit if t.sample == fit[0].sample]
        alike = all(not core_rigs.unlike(tables.tire_of(a), tables.tire_of(b)) for a in own for b in own)
        return own[0] if own and alike else None

    def of(self, axle: core_rigs.Axle, kind: core_rigs.Tire) -> Table | None:
        """The table of one kind of tire on an axle: the chosen one where that fits, else the newest."""
        chosen = self.chosen[axle.number - 1] if self.chosen else None
        return chosen if chosen is not None and fits(chosen, kind, axle.row) else self.newest(kind, axle.row)

    def instead(self, old: Table, new: Table) -> "Shelf":
        """The shelf with a new edition in an old one's place."""
        return Shelf(
            [new if t is not None and t.pk == old.pk else t for t in self.chosen],
            {s: [new if t.pk == old.pk else t for t in own] for s, own in self.by_size.items()},
        )


def shelf_of(known: Iterable[Table]) -> Shelf:
    """Tables that no newer edition replaces, by size; none chosen."""
    by_size: dict[str, list[Table]] = {}
    for t in known:
        if not t.replaced:  # type: ignore[attr-defined]
            by_size.setdefault(t.size, []).append(t)
    return Shelf([], by_size)


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


def fits(table: Table, tire: core_rigs.Tire, row: core_rigs.Row) -> bool:
    """Whether a table is for a tire as it is fitted (size, load range and load index as far as known), and has the row."""
    return (bool(table.dual) or row == "single") and not core_rigs.unlike(tables.tire_of(table), tire)


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
    cases = [replace(c, trial=data.trials[i] if i < len(data.trials) else "") for i, c in enumerate(cases)]
    policy = way.policy()
    answers = [core.axle_target(c, policy) for c in cases]
    for i, own in enumerate(data.own[: len(cases)]):
        if own is None:
            continue
        if no := core.limits_of_own(cases[i], answers[i], own.value):
            raise Conflict(in_both(no), f"own.{i}")
        cases[i] = replace(cases[i], own_kpa=own.value)
        answers[i] = core.axle_target(cases[i], policy)
    fitting = [
        list({t.pk: t for kind in a.tire.kinds for t in shelf.fitting(kind, a.row)}.values()) if a.tire else []
        for a in typed.axles
    ]
    return Worked(
        way, ticket, shelf, used, fitting, loads, answers, spares_of(rig, way),
        core.across(tuple(cases), tuple(answers), typed.light),
    )  # fmt: skip


def spares_of(rig: Rig, way: Way) -> list[core.SpareTarget]:
    rows = list(rig.spares.all())
    return [
        core.spare_target(
            s.number, "Spare" if len(rows) == 1 else f"Spare {s.number}", s.required_kpa, s.sidewall_max_kpa, s.wheel_max_kpa,
            way.spare_over, way.step_of,
        )
        for s in rows
    ]  # fmt: skip


def sizes_of(rig: Rig, typed: core_rigs.Rig) -> set[str]:
    """The sizes whose tables may have a part in a rig's targets: of its tires, and those that its placards are for."""
    return {k.size.name for a in typed.axles if a.tire for k in a.tire.kinds} | {
        core_rigs.as_marked(a.placard_size).name for a in rig.axles.all() if a.placard_size
    }


def choose_tables(actor: Actor, rig: Rig, typed: core_rigs.Rig, asked: list[int | None]) -> Shelf:
    """The table of each axle: the one asked for, else the newest of its tires. Raises Refusal for one that does not fit."""
    named = [t for t in asked if t is not None]
    known = list(tables.tables(actor).filter(Q(size__in=sizes_of(rig, typed)) | Q(pk__in=named)).select_related(None))
    by_id = {t.pk: t for t in known}
    shelf = shelf_of(known)
    chosen = [shelf.newest(a.tire.kinds[0], a.row) if a.tire else None for a in typed.axles]
    if len(asked) > len(typed.axles):
        raise Refusal(f"{rig.name} has {len(typed.axles)} axles. Choose a table for each, no more.", "tables")
    for i, table_id in enumerate(asked):
        if table_id is None:
            continue
        table = by_id.get(table_id)
        if table is None:
            raise Refusal("There is no such table in this workspace. Choose one of its list.", f"tables.{i}")
        _must_fit(table, typed.axles[i], f"tables.{i}")
        chosen[i] = table
    return Shelf(chosen, shelf.by_size)


def _must_fit(table: Table, axle: core_rigs.Axle, field: str) -> None:
    """Raises Refusal for a table that is for none of an axle's tires, saying which it is for."""
    if axle.tire is None:
        return
    if axle.row == "dual" and not table.dual:
        raise Refusal("That table has no dual row, and this axle has duals. Choose another.", field)
    own = tables.tire_of(table)
    against = [core_rigs.unlike(own, kind) for kind in axle.tire.kinds]
    if all(against):
        told = "; ".join(dict.fromkeys(words.replace("described", "the tires are") for why in against for words in why))
        raise Refusal(f"That table is for {own.called}: {told}. Choose one for {axle.tire.kinds[0].called}.", field)


def _tire_case(
    kind: core_rigs.Tire, table: Table | None, axle: core_rigs.Axle, rig: Rig, several: bool
) -> core.TireCase:
    return core.TireCase(
        kind.called if several or kind.unlike else kind.size.name, tables.table_of(table) if table else None,
        core_rigs.load_divisor(kind.size.service, rig.kind), replace(kind, mixed=()).max_kg(axle.row, rig.kind),
        kind.sidewall_max_kpa, standard_exponent(kind.size.service),
    )  # fmt: skip


def _placard(
    row: Axle, axle: core_rigs.Axle, kind: core_rigs.Tire, first: core.TireCase, shelf: Shelf
) -> tuple[float | None, Phrase | None, Table | None]:
    """A placard for another tire than is fitted: what counts of it, in words, and the table that had a part."""
    assert axle.tire is not None
    if not row.placard_size and not kind.unlike:
        return None, None, None
    original = core_rigs.as_marked(row.placard_size) if row.placard_size else axle.tire.size
    of_original = (
        core_rigs.Tire(original, load_range=original.range) if row.placard_size else replace(axle.tire, mixed=())
    )
    table = shelf.newest(of_original, axle.row)
    named = (original.name, kind.size.name) if original.name != kind.size.name else (of_original.called, kind.called)
    kpa, words = core.placard_carried(
        row.placard_kpa, *named, (tables.table_of(table) if table else None, first.table), axle.row
    )  # fmt: skip
    return kpa, words, table


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
        own = [shelf.of(axle, kind) for kind in tire.kinds]
        kinds = [
            _tire_case(k, t, axle, rig, len(tire.kinds) > 1) for k, t in zip(tire.kinds, own, strict=True)
        ]  # fmt: skip
        first = kinds[0]
        placard_floor, placard_words, placard_table = _placard(row, axle, tire.kinds[0], first, shelf)
        speeds: list[float] = [core_rigs.SPEEDS[k.size.speed] for k in tire.kinds if k.size.speed]
        speeds += [t.speed_kmh for t in own if t is not None and t.speed_kmh is not None]
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
                others=tuple(kinds[1:]),
                placard_light_kpa=row.placard_light_kpa,
                placard_floor_kpa=placard_floor,
                placard_words=placard_words,
                chalk_kpa=chalk.get(axle.number),
                lamp_kpa=core.own_lamp_kpa(typed, axle, row.load_range, row.lamp_kpa),
                speed_kmh=typed.top_speed_kmh,
                holds_kmh=min(speeds) if speeds else None,
                unlike=typed.unlike_on(axle),
                one_wheel=axle.wheels == 1,
                gawr_kg=axle.gawr_kg,
            )
        )
        used |= {t.pk: t for t in (*own, placard_table) if t is not None}
    return cases, list(used.values())


def stamps(sample: bool, simulated: bool | None) -> list[str]:
    """What is made up in targets: a sample table, a simulated scale's ticket."""
    return [SAMPLE_STAMP] * sample + [core_weighing.SCALE_STAMP] * bool(simulated)


def made_from(once: list[Table], ticket: Weighing | None) -> dict[str, Any]:
    """What is said of what had a part: the tables' names, what is made up, and the tables nobody has checked."""
    return {
        "table_names": [tables.name_of(t) for t in once],
        "stamps": stamps(any(t.sample for t in once), ticket is not None and ticket.made_up),
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
    } | made_from(worked.used, worked.weighing)


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
        "kind": rig.kind,
        "marks": [[a.load_range, a.tire_make] for a in rig.axles.all()],
        "fitted_marks": [
            [f.wheel, f.tire.load_range, f.tire.tire_make]
            for f in sorted(rigs.fitted_on(rig), key=lambda f: f.wheel)
        ],
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
    if data.uuid and (known := TargetSet.objects.filter(uuid=data.uuid).first()):
        if known.rig_id != rig.pk:
            raise Conflict("This was put in force for another rig. Send it under its own UUID.", "uuid")
        return sets(actor, rig).get(pk=known.pk)
    worked = work(actor, rig, data)
    said = [a for a in worked.axles if a.target_kpa is not None or a.state in core.NO_PRESSURE]
    if not said and worked.weighing is None:
        raise Conflict(
            "It is not weighed and has no placard: there is nothing to put in force. Weigh it first.", "weighing"
        )
    if not said:
        raise Conflict("No axle has a table to look its pressure up in. Choose or enter one first.", "tables")
    ticket = worked.weighing
    row = TargetSet.objects.create(
        rig=rig,
        uuid=data.uuid,
        load_state=ticket.load_state if ticket else weighing.state_in_force(rig),
        weighing=ticket,
        reserve=worked.way.reserve,
        edge=worked.way.edge,
        step=worked.way.step,
        school=worked.way.school,
        between=worked.way.between,
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
            floor_from=answer.floor_from,
            trial=data.trials[i] if answer.trial else "",
            own_kpa=data.own[i].value if i < len(data.own) and data.own[i] is not None else None,  # type: ignore[union-attr]
            answer=_AXLE.validate_python(answer, from_attributes=True).model_dump(mode="json"),
        )
        for i, (answer, table) in enumerate(zip(worked.axles, worked.shelf.chosen, strict=True))
    )
    policies.keep(actor, rig, {k: v for k, v in _given(data).items() if v is not None})
    return sets(actor, rig).get(pk=row.pk)


# What may have happened since targets were put in force: a newer edition of a table that had a part, another chalk result.
SINCE: dict[str, Any] = {
    "table_replaced": Exists(Table.objects.filter(replaces__target_sets=OuterRef("pk"))),
    "tables_since": Exists(
        Table.objects.filter(workspace=OuterRef("rig__workspace"), entered_at__gt=OuterRef("put_at"), sample=False)
    ),
    "chalk_since": Exists(
        ChalkResult.objects.filter(load_state=OuterRef("load_state")).filter(
            Q(entered_at__gt=OuterRef("put_at")) | Q(withdrawn_at__gt=OuterRef("put_at"))
        )
    ),
}


def sets(actor: Actor, *mine: Rig) -> QuerySet[TargetSet]:
    """Targets of rigs, the ones put in force last first."""
    actor.must(May.READ)
    return (
        TargetSet.objects.filter(rig__in=mine, rig__workspace=actor.workspace)
        .annotate(**SINCE)
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
    sample = Exists(Table.objects.filter(target_sets=OuterRef("pk"), sample=True))
    found = TargetSet.objects.filter(rig__in=mine, rig__workspace=actor.workspace).annotate(
        from_sample=sample, from_simulated=F("weighing__made_up")
    )
    # The working and what it was worked out from are long, and not of the band.
    return each_in_force(found.defer("inputs").prefetch_related(Prefetch("axles", TargetAxle.objects.defer("answer"))))


_CHOICES = {
    "reserve": "its reserve", "edge": "its edge", "step": "its step", "school": "where its number comes from",
    "between": "how columns are read",
}  # fmt: skip
_CHANGED = {
    "fitted_marks": "another tire is fitted", "marks": "a load range or make has changed", "kind": "its kind has changed",
}  # fmt: skip


def table_marks(actor: Actor, sizes: set[str]) -> Shelf:
    """The tables of some sizes as far as it takes to say which fit: their cells stay where they are."""
    known = tables.tables(actor).filter(size__in=sizes).select_related(None).defer("steps", "single")
    return shelf_of(known)


def out_of_date(
    row: TargetSet, rig: Rig, newest: Weighing | None, actor: Actor, shelf: Shelf | None = None
) -> list[str]:  # fmt: skip
    """Why targets in force no longer fit what is known, in words. The row comes with `SINCE` and its tables.

    `shelf`: the tables of the rig's sizes, where they are at hand.
    """
    reasons: list[str] = []
    if newest is not None and newest.pk != row.weighing_id:
        again = "again " if row.weighing_id else ""
        reasons.append(f"weighed {again}on {newest.weighed_on:%d %b %Y}".replace(" 0", " "))
    now = _inputs(rig)
    # What was not asked for when they were put in force has not changed since.
    changed = [name for name, value in row.inputs.items() if now.get(name) != value]
    general = [name for name in changed if name not in _CHANGED]
    reasons += ["tires or ratings have changed"] if general else [_CHANGED[name] for name in changed]
    if row.table_replaced:  # type: ignore[attr-defined]
        reasons.append("a newer edition of its table is in use")
    elif row.tables_since and _table_since(row, rig, actor, shelf):  # type: ignore[attr-defined]
        reasons.append("a table for its tires was entered since")
    if row.school == "chalk" and row.chalk_since:  # type: ignore[attr-defined]
        reasons.append("the chalk results have changed")
    way = policies.way_of(actor, rig)
    reasons += [
        f"{words} was chosen anew" for name, words in _CHOICES.items() if getattr(way, name) != getattr(row, name)
    ]
    return reasons


def _table_since(row: TargetSet, rig: Rig, actor: Actor, shelf: Shelf | None) -> bool:
    """Whether a table that would be looked up now was entered after the targets were put in force."""
    typed = rigs.rig_of(rig)
    at_hand = table_marks(actor, sizes_of(rig, typed)) if shelf is None else shelf
    had = {t.pk for t in row.tables.all()}
    found = [at_hand.newest(kind, a.row) for a in typed.axles if a.tire for kind in a.tire.kinds]
    return any(t is not None and t.pk not in had and t.entered_at > row.put_at for t in found)


@dataclass(frozen=True)
class Unaimed:
    """An axle without a target number: why, and what is known of where it stands otherwise [kPa]."""

    missing: Phrase
    known_kpa: tuple[float | None, ...]
    sidewall_max_kpa: float | None


def unaimed(actor: Actor, rig: Rig, row: TargetSet | None) -> dict[int, Unaimed]:
    """The axles of a rig for which no target number is in force, by number; none, and no query, where all have one."""
    bands = {a.number: a for a in row.axles.all()} if row else {}
    bare = [a.number for a in rig.axles.all() if not (band := bands.get(a.number)) or band.target_kpa is None]
    if not bare:
        return {}
    typed = rigs.rig_of(rig)
    cases, _ = cases_of(rig, typed, None, choose_tables(actor, rig, typed, []), {})
    earlier = TargetAxle.objects.filter(target_set__rig=rig, number__in=bare).exclude(target_kpa=None)
    last = dict(earlier.order_by("target_set_id").values_list("number", "target_kpa"))
    found = {}
    for case in cases:
        if case.number not in bare:
            continue
        band, rated = bands.get(case.number), core.as_rated(case)
        words = say("No target is in force: put one in force first.")
        if band is not None:
            words = phrase_of(band.answer["words"])
        elif case.placard_kpa is None:
            words = say("Not weighed and no placard: enter the placard's pressure, or weigh it.")
        sidewall = [t.sidewall_max_kpa for t in case.tires if t.sidewall_max_kpa is not None]
        known = (case.placard_here_kpa, rated.kpa if rated else None, last.get(case.number))
        found[case.number] = Unaimed(words, known, min(sidewall) if sidewall else None)
    return found


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
    fields = ("reserve", "edge", "step", "school", "between", "put_at", "spares", "notes")
    return (
        {f: getattr(row, f) for f in fields}
        | {
            "id": row.pk,
            "weighing": row.weighing_id,
            "load_state": row.load_state.name,
            "worked_out": bool(ticket and ticket.way == weighing.WORKED_OUT),
            "weighed_on": ticket.weighed_on if ticket else None,
            "own": [a.own_kpa for a in axles],
            "trials": [a.trial for a in axles],
            "put_by": row.put_by.shown_name,
            "out_of_date": out_of_date(row, rig, newest, actor),
            "axles": [a.answer for a in axles],
            "tables": [a.table_id for a in axles],
            "provisional": any(a.state == "provisional" for a in axles),
            "below_placard": any(a.trial for a in axles),
            "over": [core_weighing.overload_words(c) for c in over],
            "caution": core_weighing.OVERLOAD_CAUTION if over else "",
            "way": policies.way_of(actor, rig),
        }
        | made_from(list(row.tables.all()), ticket)
    )
