"""Every wheel of a combination in walking order with what it is held against, as a round takes it down when it is opened."""

import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from django.db import transaction

from ballast.core import ground as core_ground
from ballast.core import rounds as core
from ballast.core.gas import Air
from ballast.core.refusal import Refusal
from ballast.core.tables import STEPS
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.versions import must_match, version_of
from ballast.server.ground import plans
from ballast.server.ground.models import GroundPlan
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds.models import Service, WalkOrder
from ballast.server.rounds.schemas import WalkOut
from ballast.server.targets import in_force
from ballast.server.targets.models import TargetSet

Newest = Mapping[tuple[int, str], Service]


@dataclass(frozen=True)
class Ground:
    """What the ground has to say of wheels, by vehicle and own wheel: the open plan's numbers, what was let out or filled
    since beside any round; `unsure`: they may have been filled without a word, so nothing is expected of them."""

    numbers: Mapping[tuple[int, str], core_ground.Number] = field(default_factory=dict)
    touched: plans.Places = field(default_factory=dict)
    unsure: bool = False


def ground(train: list[Rig], plan: GroundPlan | None, before: dt.datetime | None, unsure: bool) -> Ground:
    """What the ground has to say of a combination at a moment, now where none is given. `unsure`: the plan was not kept."""
    numbers = plans.numbers(plan) if plan is not None else {}
    return Ground(numbers, plans.touched(train, before), unsure)


def of(
    actor: Actor, train: list[Rig], sets: list[TargetSet | None], newest: Newest, on: Ground | None = None
) -> tuple[core.WheelLine, ...]:
    """The wheels of a combination, in the order in which it is walked."""
    lines = [
        lines_of(rig, row, newest, in_force.unaimed(actor, rig, row)) for rig, row in zip(train, sets, strict=True)
    ]  # fmt: skip
    walked = core.walk(lines, kept_walk(train[0]))
    return walked if on is None else tuple(on_ground(line, on) for line in walked)


def on_ground(line: core.WheelLine, on: Ground) -> core.WheelLine:
    """A wheel with what an open plan holds it against, and with what was let out or filled as its newest state."""
    where = (line.rig, line.own)
    number, done = on.numbers.get(where), on.touched.get(where)
    if number is not None:
        line = replace(line, on_ground=core.aim_on_ground(line.aim, number))
    if done is not None and (line.last is None or done.at > line.last.at):
        last = None
        if done.kpa is not None and done.air is not None and line.last is not None and not on.unsure:
            # What it loses is what it lost before; the gauge was another, and may err.
            last = replace(line.last, kpa=done.kpa, air=done.air, at=done.at, gauge=0, gauge_kpa=done.sure_kpa)
        return replace(line, last=last, anew=True)
    return line


def kept_walk(head: Rig) -> list[str]:
    """The order that somebody keeps for a combination, by its first vehicle; empty: the usual one."""
    row = getattr(head, "walk", None)
    return row.codes if row is not None else []


def lines_of(
    rig: Rig, row: TargetSet | None, newest: Newest, unaimed: Mapping[int, core.Bare]
) -> list[core.WheelLine]:  # fmt: skip
    """The wheels of a vehicle in its own walking order; `unaimed` are its axles without a target number."""
    typed = rigs.rig_of(rig)
    aims = {
        a.number: core.Aim(a.target_kpa, a.floor_kpa, a.ceiling_kpa, a.floor_from, range_kpa=a.range_kpa)  # type: ignore[arg-type]
        for a in (row.axles.all() if row else ())
    }
    spares = list(rig.spares.all())
    spare_aims = {s["number"]: core.Aim(s["target_kpa"], None, s["ceiling_kpa"]) for s in (row.spares if row else ())}
    on = {f.wheel: f.tire_id for f in rigs.fitted_on(rig)}
    lines = []
    for wheel, shown in zip(rigs.wheels_of(rig), rigs.wheels_in_train(rig), strict=True):
        if wheel.axle is None:
            spare = spares[int(wheel.code[1:]) - 1]
            aim = core.aim_of_spare(spare_aims.get(spare.number), spare.required_kpa, spare.sidewall_max_kpa)
        else:
            aim = core.aim_of_axle(aims.get(wheel.axle), unaimed.get(wheel.axle), typed.small)
        on_axle = typed.axles[wheel.axle - 1] if wheel.axle is not None else None
        last, tire = newest.get((rig.pk, wheel.code)), on.get(wheel.code)
        lines.append(
            core.WheelLine(
                code=shown.code, name=shown.name, own=wheel.code, rig=rig.pk, axle=wheel.axle,
                side=core.SIDES.get(wheel.side, 0), dual=on_axle is not None and on_axle.row == "dual", inner=wheel.inner,
                heavy_or_dual=typed.heavy_or_dual(on_axle), tire=tire, step_kpa=STEPS[row.step].kpa if row else 1.0, aim=aim,
                # Of another tire than the one that is on now nothing is expected.
                last=_left(last) if last and last.tire_id == tire else None,
            )
        )  # fmt: skip
    return lines


def _left(row: Service) -> core.Left:
    return core.Left(
        row.stood_kpa, row.scatters_kpa, Air(row.air_c, row.elevation_m, row.absolute_kpa), row.at, row.rate_kpa_day,
        row.rate_error, row.gauge_id, row.uncertainty_kpa,
    )  # fmt: skip


def walked(train: list[Rig]) -> list[str]:
    """The codes of a combination's wheels in the order in which it is walked."""
    return [w.code for w in core.walk([rigs.wheels_in_train(r) for r in train], kept_walk(train[0]))]


def walk_of(actor: Actor, rig_id: int) -> WalkOut:
    codes = walked(rigs.train(actor, rig_id))
    return WalkOut(codes=codes, version=version_of({"codes": codes}))


@transaction.atomic
def keep_walk(actor: Actor, rig_id: int, codes: list[str], seen: str = "") -> WalkOut:
    """Keeps the order in which a rig is walked; an empty one goes back to the usual.

    Raises Refusal for unknown wheels, Stale where it is another by now than was `seen`.
    """
    actor.must(May.ROUNDS)
    train = rigs.train(actor, rig_id)
    known = [w.code for rig in train for w in rigs.wheels_in_train(rig)]
    strange = next((c for c in codes if c not in known), None)
    if strange is not None:
        raise Refusal(f"There is no wheel {strange} on it. It has {', '.join(known)}.", "codes")
    if len(set(codes)) < len(codes):
        raise Refusal("A wheel stands twice in the order. Name each once.", "codes")
    must_match(seen, {"codes": walked(train)}, {"codes": codes}, actor.person.units)
    WalkOrder.objects.filter(rig=train[0]).delete()
    if codes:
        WalkOrder.objects.create(rig=train[0], codes=codes)
    return walk_of(actor, rig_id)
