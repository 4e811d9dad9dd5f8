"""Rotations: what a rig's treads say, where its tires may go, and the one act that moves them."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.db import transaction

from ballast.core import refine as core
from ballast.core import rigs as core_rigs
from ballast.core import sensors
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.refine import wear
from ballast.server.refine.models import ChalkTrial, Rotation
from ballast.server.refine.schemas import (
    RigWearOut,
    RotateIn,
    RotationOut,
    RotationWork,
    VoiceOut,
    WheelWearOut,
    WorkRotationIn,
)
from ballast.server.rigs import fittings
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Fitting, Rig
from ballast.server.targets import in_force
from ballast.server.targets.models import TargetSet
from ballast.server.weighing import services as weighing


@dataclass(frozen=True)
class _Now:
    """A rig as rotation takes it: its tires by the wheels where they stand, its wheels, and the tires' treads."""

    rig: Rig
    typed: core_rigs.Rig
    on: dict[str, Fitting]
    tires: tuple[core.Turned, ...]
    places: tuple[core.Place, ...]
    treads: dict[int, wear.History]
    targets_kpa: dict[str, float | None]


def _now(actor: Actor, rig: Rig) -> _Now:
    typed, on = rigs.rig_of(rig), {f.wheel: f for f in rigs.fitted_on(rig)}
    row = in_force.in_force(actor, rig)
    ticket = weighing.each_in_force(actor, [rig]).get(rig.pk)
    loads = weighing.loads_of(ticket, typed).per_tire if ticket else {}
    targets = _targets(rig, row)
    places = tuple(
        core.Place(
            w.code, w.axle, w.side, _size(rig, w, on.get(w.code)),
            typed.axles[w.axle - 1].row if w.axle is not None else "single",
            loads.get(w.axle) if w.axle is not None else None, targets.get(w.code), core.least_mm(typed, w.axle),
        )
        for w in rigs.wheels_of(rig)
    )  # fmt: skip
    treads = wear.of_tires(actor, [f.tire for f in on.values()])
    tires = tuple(_turned(f, rig, treads[f.tire_id]) for f in on.values())
    return _Now(rig, typed, on, tires, places, treads, targets)


def _size(rig: Rig, wheel: core_rigs.Wheel, fitted: Fitting | None) -> str:
    """The size that stands at a wheel, else the one that it is described with."""
    marked = fitted.tire.tire_size if fitted else fittings.described(rig, wheel).tire_size
    return core_rigs.as_marked(marked).name


def _turned(fitted: Fitting, rig: Rig, history: wear.History) -> core.Turned:
    tire, newest = rigs.tire_of(fitted.tire), history.newest
    return core.Turned(
        fitted.wheel, tire.size.name, fitted.tire.one_way, tire.max_kg("single", rig.kind), tire.max_kg("dual", rig.kind),
        tire.sidewall_max_kpa, newest.tread.least_mm if newest else None,
    )  # fmt: skip


def _targets(rig: Rig, row: TargetSet | None) -> dict[str, float | None]:
    """What each wheel of a rig is kept at [kPa]; a wheel without a target in force is not in it, or None."""
    axles = {a.number: a.target_kpa for a in row.axles.all()} if row else {}
    spares = {s.number: s.target_kpa for s in in_force.spares_in_force(row)} if row else {}
    return {
        w.code: axles.get(w.axle) if w.axle is not None else spares.get(int(w.code[1:])) for w in rigs.wheels_of(rig)
    }


def present(actor: Actor, rig_id: int) -> RigWearOut:
    """The treads of a rig wheel by wheel, whether a rotation is due, and which its tires allow."""
    rig = rigs.rig(actor, rig_id)
    now = _now(actor, rig)
    wheels = rigs.wheels_of(rig)
    since, apart = fittings.stood_km(rig), wear.apart_mm(fittings.fitted_running(rig), now.treads)
    treads = tuple(_wheel(now, w) for w in wheels)
    return RigWearOut(
        wheels=treads, voices=_voices(wheels, treads), due=core.due(since, fittings.coarse(rig), apart), since_km=since, apart_mm=apart,
        patterns=core.patterns(now.typed, now.tires, now.places),
        rotations=tuple(_out(r) for r in rig.rotations.select_related("by")),
        bare=tuple(w.code for w in wheels if w.code not in now.on), caution=core.LIMIT_CAUTION,
    )  # fmt: skip


def _voices(wheels: Sequence[core_rigs.Wheel], treads: Sequence[WheelWearOut]) -> tuple[VoiceOut, ...]:
    """What the treads of each axle say where they wear unevenly, the same words once."""
    said: dict[tuple[int, str], list[WheelWearOut]] = {}
    for wheel, tread in zip(wheels, treads, strict=True):
        if wheel.axle is not None and tread.wear is not None and tread.wear.shape not in ("even", "unknown"):
            said.setdefault((wheel.axle, tread.wear.words.text), []).append(tread)
    return tuple(
        VoiceOut(number, tuple(t.code for t in alike), alike[0].wear.words)  # type: ignore[union-attr]
        for (number, _), alike in said.items()
    )


def _wheel(now: _Now, wheel: core_rigs.Wheel) -> WheelWearOut:
    fitted = now.on.get(wheel.code)
    if fitted is None:
        size = _size(now.rig, wheel, None)
        return WheelWearOut(wheel.code, wheel.name, None, size, "", "", "", None, None, None)
    tire, history = fitted.tire, now.treads[fitted.tire_id]
    said = wear.wear_out(history, core.least_mm(now.typed, wheel.axle), now.rig.odometer_km)
    return WheelWearOut(
        wheel.code,
        wheel.name,
        tire.pk,
        tire.tire_size,
        tire.date_code,
        tire.casing,
        tire.sensor,
        tire.one_way,
        tire.coarse,
        said,
    )


def _out(row: Rotation) -> RotationOut:
    learn = row.sensors and row.learned_at is None
    return RotationOut(row.pk, row.moves, row.done_on, row.odometer_km, row.by.shown_name, learn)


def work(actor: Actor, data: WorkRotationIn) -> RotationWork:
    """What a rotation would come to. Nothing is saved."""
    actor.must(May.READ)
    return _work(actor, rigs.rig(actor, data.rig), data.moves)


def _work(actor: Actor, rig: Rig, moves: core.Moves) -> RotationWork:
    now = _now(actor, rig)
    said = core.judge(moves, now.tires, now.places)
    air = core.air_jobs(moves, now.targets_kpa)
    train = rigs.train(actor, rig.pk)
    own = next(r for r in train if r.pk == rig.pk)
    called = {w.code: shown.code for w, shown in zip(rigs.wheels_of(own), rigs.wheels_in_train(own), strict=True)}
    asked = {number for move in moves.items() for c in move if (number := core_rigs.axle_at(c)) is not None}
    heard = _heard(own)
    stand = ChalkTrial.objects.filter(rig=rig, ended="even", number__in=asked).values_list("number", flat=True)
    return RotationWork(
        said.refused, said.unsure, air, train[0].pk, tuple(called[job.code] for job in air if job.code in called),
        any(start in heard or (start in now.on and now.on[start].tire.sensor) for start in moves),
        tuple(now.typed.axle_name(number) for number in sorted(set(stand))),
    )  # fmt: skip


def _heard(rig: Rig) -> set[str]:
    """The wheels that a rig's receiver hears, and must learn anew when tires change places; none where nobody said."""
    system = getattr(rig, "sensors", None)
    if system is None or not system.kind:
        return set()
    return {
        w.code
        for w in rigs.wheels_of(rig)
        if sensors.hears(system.wheels, system.spare_heard, w.code, w.axle is None) is not False
    }


@transaction.atomic
def rotate(actor: Actor, rig_id: int, data: RotateIn) -> RotationWork:
    """Moves tires from wheel to wheel in one act; answers what is to be done now: air, nuts, sensors, chalk.

    Raises Refusal where something known forbids it, or what is not known was not looked at.
    """
    actor.must(May.FIT)
    rig = rigs.rig(actor, rig_id)
    to_do = _work(actor, rig, data.moves)
    # What is wrong with what was typed is told before what is wrong with the rotation.
    fittings.move(actor, rig, data)
    core.check_moves(core.Judged(to_do.refused, to_do.unsure), data.looked)
    Rotation.objects.create(
        rig=rig, moves=data.moves, done_on=data.moved_on, odometer_km=data.odometer.value if data.odometer else None,
        by=actor.person, entered_at=clock.now(), sensors=to_do.sensors,
    )  # fmt: skip
    return to_do


@transaction.atomic
def learned(actor: Actor, rotation_id: int) -> None:
    """The receiver has learned where its sensors are. Raises Conflict where nothing of that is open."""
    actor.must(May.FIT)
    row = Rotation.objects.filter(rig__workspace=actor.workspace).get(pk=rotation_id)
    if not row.sensors or row.learned_at is not None:
        raise Conflict("No sensors are to be learned after this rotation.")
    row.learned_at = clock.now()
    row.save()
