"""Chalk trials: begun on an axle, a pass at a time, ended by what the chalk says or by a person's word."""

from django.db import IntegrityError, transaction
from django.db.models import QuerySet

from ballast.core import gauges as core_gauges
from ballast.core import refine as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now as air
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.gauges import services as gauges
from ballast.server.refine.models import ChalkPass, ChalkTrial
from ballast.server.refine.schemas import (
    ChalkPassIn,
    ChalkPassOut,
    EndIn,
    KeepChalkPassIn,
    Precondition,
    TrialIn,
    TrialOut,
    TrialsOut,
    VerdictOut,
    WorkChalkPassIn,
)
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.targets import in_force, lamp, policies
from ballast.server.targets.chalk import fitted_since
from ballast.server.targets.models import ChalkResult
from ballast.server.weighing import services as weighing


def _trials(actor: Actor) -> QuerySet[ChalkTrial]:
    actor.must(May.READ)
    return (
        ChalkTrial.objects.filter(rig__workspace=actor.workspace)
        .select_related("load_state", "gauge", "begun_by", "rig")
        .prefetch_related("passes__by", "gauge__calibrations")
    )


def trials(actor: Actor, rig_id: int) -> TrialsOut:
    """The trials of a rig, the newest first, and what is asked before every pass."""
    rig = rigs.rig(actor, rig_id)
    rows = _trials(actor).filter(rig=rig)
    asked = tuple(Precondition(key, words) for key, words in core.PRECONDITIONS.items())
    return TrialsOut(tuple(_out(actor, rig, row) for row in rows), asked)


def _bounds(actor: Actor, rig: Rig, row: ChalkTrial) -> core.Bounds:
    """Between what a trial moves, by the targets in force. Raises Refusal where no floor is known."""
    found = in_force.in_force(actor, rig)
    band = next((a for a in found.axles.all() if a.number == row.number), None) if found else None
    described = next(a for a in rig.axles.all() if a.number == row.number)
    typed = rigs.rig_of(rig)
    lights_kpa = lamp.lights_kpa(typed, typed.axles[row.number - 1], described)
    axle = core.OnAxle(
        band.floor_kpa if band else None, band.answer.get("as_rated_kpa") if band else None,
        band.ceiling_kpa if band else None, described.placard_kpa, lights_kpa, typed.light, row.reason,
    )  # fmt: skip
    gauge = gauges.gauge_of(row.gauge)
    tells = core.tells(gauge.resolution_kpa, gauge.scatter)
    return core.bounds_of(axle, tells, policies.way_of(actor, rig).step_of.kpa)


def _pass(given: ChalkPassIn, kpa: float) -> core.Pass:
    return core.Pass(kpa, core.Marks(*given.left), core.Marks(*given.right), tuple(given.missing))


def _passes(row: ChalkTrial) -> list[core.Pass]:
    return [core.Pass(p.kpa, core.Marks(*p.left), core.Marks(*p.right), tuple(p.missing)) for p in row.passes.all()]


def _out(actor: Actor, rig: Rig, row: ChalkTrial) -> TrialOut:
    bounds = core.Bounds(None, None, 1.0) if row.ended else _bounds(actor, rig, row)
    said = core.verdict(_passes(row), bounds, row.rear)
    return TrialOut(
        row.pk, row.number, rigs.rig_of(rig).axle_name(row.number), row.load_state.name, row.gauge_id, row.gauge.label,
        row.reason, row.begun_at, row.begun_by.shown_name, row.ended, row.note, bounds.least_kpa, bounds.most_kpa,
        bounds.placard_kpa,
        tuple(
            ChalkPassOut(p.uuid, p.kpa, p.typed, tuple(p.left), tuple(p.right), not p.missing, p.by.shown_name, p.done_at)
            for p in row.passes.all()
        ),
        VerdictOut(said.decision, said.words, said.next_kpa, said.done, said.notes), _again(actor, rig, row),
    )  # fmt: skip


def _again(actor: Actor, rig: Rig, row: ChalkTrial) -> tuple[str, ...]:
    """Why an even result is to be asked again."""
    if row.ended != "even" or row.ended_at is None:
        return ()
    around = air.air_of(actor, rig)
    other = fitted_since(rig.pk, row.number, row.ended_at.date())
    return core.asked_again(core.Since(row.air_c, None if around.old else around.outside_c, new_tires=other))


@transaction.atomic
def begin(actor: Actor, rig_id: int, data: TrialIn) -> TrialsOut:
    """Begins a trial on an axle. Raises Conflict while one is open there, Refusal without a floor to stop at."""
    actor.must(May.ROUNDS)
    rig = rigs.rig(actor, rig_id)
    if data.number > len(rig.axles.all()):
        raise Refusal(f"{rig.name} has {len(rig.axles.all())} axles. Choose one of them.", "number")
    around = air.air_of(actor, rig)
    row = ChalkTrial(
        rig=rig, load_state=weighing.state_in_force(rig), number=data.number, gauge=gauges.usable(actor, data.gauge),
        reason=data.reason, begun_at=clock.now(), begun_by=actor.person, air_c=None if around.old else around.outside_c,
    )  # fmt: skip
    _bounds(actor, rig, row)
    try:
        row.save()
    except IntegrityError:
        raise Conflict("A trial is open on this axle. Go on with it, or end it.", "number") from None
    return trials(actor, rig_id)


def _open(actor: Actor, trial_id: int) -> ChalkTrial:
    actor.must(May.ROUNDS)
    row = _trials(actor).get(pk=trial_id)
    if row.ended:
        raise Conflict("This trial has ended. Begin another.")
    return row


def _corrected(row: ChalkTrial, given: ChalkPassIn) -> float:
    return core_gauges.correct(gauges.gauge_of(row.gauge), given.pressure.value).kpa


def work(actor: Actor, data: WorkChalkPassIn) -> VerdictOut:
    """What a pass as it is marked would say. Nothing is saved."""
    actor.must(May.READ)
    row = _trials(actor).get(pk=data.trial)
    core.check_asked(data.missing)
    rig = rigs.rig(actor, row.rig_id)
    said = core.verdict([*_passes(row), _pass(data, _corrected(row, data))], _bounds(actor, rig, row), row.rear)
    return VerdictOut(said.decision, said.words, said.next_kpa, said.done, said.notes)


@transaction.atomic
def keep(actor: Actor, trial_id: int, data: KeepChalkPassIn) -> TrialsOut:
    """Keeps a pass, once, however often it is sent; a trial that is done by it ends, and an even one becomes a school."""
    actor.must(May.ROUNDS)
    if there := ChalkPass.objects.filter(uuid=data.uuid, trial__rig__workspace=actor.workspace).first():
        return trials(actor, there.trial.rig_id)
    row = _open(actor, trial_id)
    core.check_asked(data.missing)
    kpa = _corrected(row, data)
    rig = rigs.rig(actor, row.rig_id)
    bounds = _bounds(actor, rig, row)
    driven = _pass(data, kpa)
    core.check_driven(driven, bounds)
    ChalkPass.objects.create(
        uuid=data.uuid, trial=row, typed=data.pressure.typed, kpa=kpa, left=data.left, right=data.right,
        missing=data.missing, by=actor.person, done_at=clock.now(),
    )  # fmt: skip
    passes = [*_passes(row), driven]
    said = core.verdict(passes, bounds, row.rear)
    if said.done:
        row.ended, row.ended_at = said.decision, clock.now()
        if said.decision == "even":
            row.result = ChalkResult.objects.create(
                rig=rig, load_state=row.load_state, number=row.number, kpa=kpa, typed=data.pressure.typed, even=True,
                done_on=clock.today(), note=f"Chalk trial, {len(passes)} passes", by=actor.person,
            )  # fmt: skip
        row.save()
    return trials(actor, row.rig_id)


@transaction.atomic
def end(actor: Actor, trial_id: int, data: EndIn) -> TrialsOut:
    """Ends a trial by a person's word: a note, never a school. Raises Refusal without what it felt like."""
    row = _open(actor, trial_id)
    if data.how == "feel" and not data.note:
        raise Refusal("Say what it felt like: mushy, harsh, wandering.", "note")
    row.ended, row.ended_at, row.note = data.how, clock.now(), data.note
    row.save()
    return trials(actor, row.rig_id)
