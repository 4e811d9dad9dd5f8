"""Targets: worked out from a weighing, tables and a way; put in force; told."""

import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass, replace
from uuid import UUID

from django.db import transaction
from pydantic import TypeAdapter

from ballast.core import rigs as core_rigs
from ballast.core import targets as core
from ballast.core import weighing as core_weighing
from ballast.core.refusal import Refusal
from ballast.core.tables import SAMPLE_STAMP, StepName
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.problems import Conflict
from ballast.server.edge.words import kept, phrase_of
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.tables import services as tables
from ballast.server.tables.models import Table
from ballast.server.targets import policies
from ballast.server.targets.chalk import chalk_of
from ballast.server.targets.in_force import inputs_of, out_of_date, sets
from ballast.server.targets.models import TargetAxle, TargetSet
from ballast.server.targets.policies import Way
from ballast.server.targets.schemas import AxleTargetOut, ChoiceIn, Fitting, Needed, TargetsIn, WhatIfTargetsIn
from ballast.server.targets.shelf import Shelf, cases_of, choose_tables
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing
from ballast.server.weighing.whatif import imagine

_AXLE = TypeAdapter(AxleTargetOut)
_SPARES = TypeAdapter(list[core.SpareTarget])


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
    light_row: bool


def _given(data: ChoiceIn) -> policies.Choices:
    return {name: getattr(data, name) for name in ChoiceIn.model_fields}


@dataclass(frozen=True)
class AtHand:
    """What the targets of a rig are worked out from."""

    rig: core_rigs.Rig
    ticket: Weighing | None
    light_row: bool
    chalk: dict[int, float]
    shelf: Shelf


def work(actor: Actor, rig: Rig, data: TargetsIn) -> Worked:
    """The target of every axle and spare from a weighing (the newest by default) and tables.

    Raises Refusal for a weighing or table that is not this rig's or workspace's, or of another size; Conflict, with the
    bound, for a pressure of one's own that does not carry the load or is above the ceiling.
    """
    if data.weighing is None:
        ticket = weighing.in_force(actor, rig)
    else:
        ticket = weighing.weighings(actor, rig).filter(pk=data.weighing).first()
        if ticket is None:
            raise Refusal("There is no such weighing of this rig. Choose one of its list.", "weighing")
    state = ticket.load_state if ticket else weighing.in_force_state(rig)
    typed = rigs.rig_of(rig)
    shelf = choose_tables(actor, rig, typed, data.tables)
    chalk = chalk_of(ticket.load_state_id if ticket else None)
    return work_with(actor, rig, data, AtHand(typed, ticket, bool(state and state.light_row), chalk, shelf))


def work_with(actor: Actor, rig: Rig, data: TargetsIn, of: AtHand) -> Worked:
    """`work` with all at hand that it takes."""
    way = policies.way_of(actor, rig, _given(data))
    typed, shelf = of.rig, of.shelf
    loads = weighing.loads_of(of.ticket, typed) if of.ticket else None
    cases, used = cases_of(rig, typed, loads, shelf, of.chalk, of.light_row)
    for i, trial in enumerate(data.trials[: len(cases)]):
        if trial:
            cases[i] = replace(cases[i], trial=trial)
    policy = way.policy()
    answers = [core.axle_target(c, policy) for c in cases]
    for i, own in enumerate(data.own[: len(cases)]):
        if own is None:
            continue
        if no := core.limits_of_own(cases[i], answers[i], own.value):
            raise Conflict(no.in_both(), f"own.{i}")
        cases[i] = replace(cases[i], own_kpa=own.value)
        answers[i] = core.axle_target(cases[i], policy)
    for i, wide in enumerate(data.ranges[: len(cases)]):
        if wide is None:
            continue
        if no := core.range_refused(cases[i], answers[i], wide.to.value):
            raise Conflict(no.in_both(), f"ranges.{i}.to")
        answers[i] = core.ranged(cases[i], answers[i], wide.to.value, wide.feel)
    fitting = [
        list({t.pk: t for kind in a.tire.kinds for t in shelf.fitting(kind, a.row)}.values()) if a.tire else []
        for a in typed.axles
    ]
    return Worked(
        way, of.ticket, shelf, used, fitting, loads, answers, spares_of(rig, way),
        core.across(tuple(cases), tuple(answers), typed.light), of.light_row,
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


def stamps(sample: bool, simulated: bool | None) -> tuple[str, ...]:
    """What is made up in targets: a sample table, a simulated scale's ticket."""
    return (SAMPLE_STAMP,) * sample + (core_weighing.SCALE_STAMP,) * bool(simulated)


@dataclass(frozen=True)
class MadeFrom:
    """What had a part in targets: the tables' names, what is made up, and the tables nobody has checked."""

    table_names: tuple[str, ...]
    stamps: tuple[str, ...]
    unchecked: tuple[str, ...]


def made_from(once: list[Table], ticket: Weighing | None) -> MadeFrom:
    return MadeFrom(
        tuple(tables.name_of(t) for t in once),
        stamps(any(t.sample for t in once), ticket is not None and ticket.made_up),
        tuple(tables.name_of(t) for t in once if tables.unchecked(t)),
    )


@dataclass(frozen=True)
class Told(MadeFrom):
    """Targets with all that must be said of them: the answer of every axle and spare, and the loads' overloads over them."""

    axles: list[core.AxleTarget] | list[AxleTargetOut]
    spares: list[core.SpareTarget]
    notes: tuple[Phrase, ...]
    tables: list[int | None]
    provisional: bool
    below_placard: bool
    over: tuple[Phrase, ...]
    caution: str
    way: Way


@dataclass(frozen=True)
class WorkedOut(Told):
    """Targets that are not in force, with the tables that would fit each axle, and which row of the label counts."""

    fitting: list[list[Fitting]]
    light_row: bool


@dataclass(frozen=True)
class PutInForce(Told):
    """Targets in force, or that once were: by whom, when, from which weighing and choices, and why they are out of date."""

    id: int
    weighing: int | None
    load_state: str
    worked_out: bool
    weighed_on: dt.date | None
    reserve: float
    edge: float
    step: StepName
    school: core.Chosen
    between: core.Between
    own: list[float | None]
    trials: list[str]
    put_at: dt.datetime
    put_by: str
    withdrawn_at: dt.datetime | None
    out_of_date: tuple[str, ...]


def _overloads(loads: core_weighing.RigLoad | None) -> tuple[Phrase, ...]:
    return tuple(core_weighing.overload_words(c) for c in loads.over) if loads else ()


def worked_out(worked: Worked) -> WorkedOut:
    over = _overloads(worked.loads)
    return WorkedOut(
        **vars(made_from(worked.used, worked.weighing)), axles=worked.axles, spares=worked.spares, notes=worked.notes,
        tables=[t.pk if t else None for t in worked.shelf.chosen],
        provisional=any(a.state == "provisional" for a in worked.axles),
        below_placard=any(a.below_placard for a in worked.axles), over=over,
        caution=core_weighing.OVERLOAD_CAUTION if over else "", way=worked.way,
        light_row=worked.light_row,
        fitting=[[Fitting(t.pk, tables.name_of(t), t.sample, tables.unchecked(t)) for t in own] for own in worked.fitting],
    )  # fmt: skip


@transaction.atomic
def put_in_force(actor: Actor, rig_id: int, data: TargetsIn) -> TargetSet:
    """Works the targets out again on the server and puts them in force; what was chosen stays the rig's way.

    “No pressure carries it” is put in force like a pressure: an older one must not stay that carries less.
    Raises Conflict where nothing can be said of any axle, or a pressure of one's own breaks the band.
    """
    actor.must(May.TARGETS)
    rig = policies.rig_of(actor, rig_id)
    if data.uuid and (pk := known({data.uuid: rig.pk}).get(data.uuid)):
        return sets(actor, rig, withdrawn=True).get(pk=pk)
    row = put(actor, rig, data, work(actor, rig, data))
    return sets(actor, rig).get(pk=row.pk)


def known(sent: Mapping[UUID, int]) -> dict[UUID, int]:
    """Of what is sent for rigs, each under a UUID, the keys of what was put in force under it before. Raises Conflict where that was
    of another rig."""
    found = list(TargetSet.every.filter(uuid__in=sent).values_list("uuid", "pk", "rig"))
    if any(sent[uuid] != rig for uuid, _, rig in found if uuid):
        raise Conflict("This was put in force for another rig. Send it under its own UUID.", "uuid")
    return {uuid: pk for uuid, pk, _ in found if uuid}


def put(actor: Actor, rig: Rig, data: TargetsIn, worked: Worked) -> TargetSet:
    """Puts in force what was worked out. Raises Conflict where nothing can be said of any axle."""
    said = [a for a in worked.axles if a.target_kpa is not None or a.state in core.NO_PRESSURE]
    if not said and worked.weighing is None:
        raise Conflict(
            "It is not weighed and has no placard: there is nothing to put in force. Weigh it first.", "weighing"
        )
    if not said:
        raise Conflict("No axle has a table to look its pressure up in. Choose or enter one first.", "tables")
    ticket = worked.weighing
    state = ticket.load_state if ticket else weighing.state_in_force(rig)
    row = TargetSet.objects.create(
        rig=rig,
        uuid=data.uuid,
        load_state=state,
        weighing=ticket,
        reserve=worked.way.reserve,
        edge=worked.way.edge,
        step=worked.way.step,
        school=worked.way.school,
        between=worked.way.between,
        inputs=inputs_of(rig) | {"light_row": state.light_row},
        spares=_SPARES.dump_python(_SPARES.validate_python(worked.spares), mode="json"),
        notes=[kept(n) for n in worked.notes],
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
            range_kpa=answer.range_kpa,
            feel=answer.feel,
            own_kpa=data.own[i].value if i < len(data.own) and data.own[i] is not None else None,  # type: ignore[union-attr]
            answer=_AXLE.validate_python(answer, from_attributes=True).model_dump(mode="json"),
        )
        for i, (answer, table) in enumerate(zip(worked.axles, worked.shelf.chosen, strict=True))
    )
    policies.keep(actor, rig, {k: v for k, v in _given(data).items() if v is not None})
    return row


def what_if(actor: Actor, rig_id: int, data: WhatIfTargetsIn) -> list[Needed]:
    """What every axle of a combination would need with masses put aboard, beside what it needs now."""
    imagined = imagine(actor, rig_id, data)
    lines: list[Needed] = []
    for row, before, loads in zip(imagined.rows, imagined.before, imagined.loads, strict=True):
        typed = rigs.rig_of(row)
        shelf = choose_tables(actor, row, typed, [])
        policy = policies.way_of(actor, row, _given(data)).policy()
        now = [core.axle_target(c, policy) for c in cases_of(row, typed, before, shelf, {})[0]]
        then = [core.axle_target(c, policy) for c in cases_of(row, typed, loads, shelf, {})[0]]
        lines += [
            Needed(row.pk, b.number, a.target_kpa, b.target_kpa, b.state, b.words)
            for a, b in zip(now, then, strict=True)
        ]
    return lines


def present(row: TargetSet, rig: Rig, newest: Weighing | None, actor: Actor) -> PutInForce:
    ticket, axles = row.weighing, list(row.axles.all())
    over = _overloads(weighing.loads_of(ticket, rigs.rig_of(rig)) if ticket else None)
    return PutInForce(
        **vars(made_from(list(row.tables.all()), ticket)),
        axles=[_AXLE.validate_python(a.answer) for a in axles], spares=_SPARES.validate_python(row.spares),
        notes=tuple(phrase_of(n) for n in row.notes), tables=[a.table_id for a in axles],
        provisional=any(a.state == "provisional" for a in axles), below_placard=any(a.trial for a in axles), over=over,
        caution=core_weighing.OVERLOAD_CAUTION if over else "", way=policies.way_of(actor, rig), id=row.pk,
        weighing=row.weighing_id, load_state=row.load_state.name,
        worked_out=bool(ticket and ticket.way == weighing.WORKED_OUT),
        weighed_on=ticket.weighed_on if ticket else None, reserve=row.reserve, edge=row.edge,
        step=row.step, school=row.school, between=row.between,  # type: ignore[arg-type]
        own=[a.own_kpa for a in axles], trials=[a.trial for a in axles], put_at=row.put_at,
        put_by=row.put_by.shown_name, withdrawn_at=row.withdrawn_at, out_of_date=out_of_date(row, rig, newest, actor),
    )  # fmt: skip
