"""What the wheels of a rig are held to by now: an axle's target or the number of its open plan, a spare's, and the lamp's."""

import datetime as dt
from dataclasses import dataclass

from ballast.core import sensors as core
from ballast.core import targets as core_targets
from ballast.core.gas import Air
from ballast.server.accounts.actors import Actor
from ballast.server.air import now as air
from ballast.server.air import services as airs
from ballast.server.air.now import AirNow
from ballast.server.ground import plans
from ballast.server.ground.models import GroundPlan
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Axle, Rig
from ballast.server.sensors.models import SensorSystem
from ballast.server.targets import in_force, lamp, policies
from ballast.server.targets.models import TargetSet
from ballast.server.targets.policies import Way

# What says whether any number was heard of a rig at all.
WITH_HEARD = ("heard",)
# What an alarm stands on besides the rig's own row.
ALSO = ("air", "policy")


@dataclass(frozen=True)
class Group:
    """The wheels that are judged side by side: of an axle, or a spare alone."""

    name: str
    number: int | None
    wheels: tuple[tuple[str, str], ...]
    aim: core.Aim | None
    ceiling_kpa: float | None
    on_ground: bool
    lamp_kpa: float | None
    # How its threshold is known, and the size that the axle is described with.
    lamp_recorded: core.Recorded | None = None
    lamp_seen: core_targets.LampSeen | None = None
    size: str = ""


@dataclass(frozen=True)
class Held:
    """What a rig is held to by now: its targets in force, its policy, the air, and where its tires are let out the plan."""

    band: TargetSet | None
    way: Way
    of_now: AirNow
    plan: GroundPlan | None


@dataclass(frozen=True)
class OnAlarm:
    """A rig with all that its alarms stand on."""

    row: Rig
    system: SensorSystem
    groups: tuple[Group, ...]
    here: Air | None
    dawns: tuple[tuple[dt.date | None, Air], ...]
    time_zone: str

    def hears(self, group: Group, wheel: str) -> bool | None:
        """Whether the receiver hears a wheel of a group; None: nobody said."""
        return core.hears(self.system.wheels, self.system.spare_heard, wheel, group.number is None)


def system_of(rig: Rig) -> SensorSystem:
    return SensorSystem.objects.filter(rig=rig).first() or SensorSystem(rig=rig)


def _now(actor: Actor, rig: Rig) -> Held:
    band = in_force.bands_in_force(actor, [rig]).get(rig.pk)
    return Held(band, policies.way_of(actor, rig), air.air_of(actor, rig), plans.open_of(actor, [rig]))


def of(actor: Actor, rig: Rig, held: Held | None = None) -> OnAlarm:
    """What a rig's wheels are held to, with all that its alarms stand on. `held`: what is at hand of it already."""
    system = system_of(rig)
    held = held or _now(actor, rig)
    band, way, of_now = held.band, held.way, held.of_now
    vehicle = airs.Vehicle(rig, band, way)
    around = air.surroundings(of_now, way.check_days)
    on_ground = plans.numbers(held.plan) if held.plan else {}
    typed = rigs.rig_of(rig)
    bands = {a.number: a for a in vehicle.aimed}
    described = {a.number: a for a in rig.axles.all()}
    spares = {s.number: s for s in in_force.spares_in_force(band)} if band else {}
    kept = _recorded(rig)
    # Of an open plan just some wheels of an axle may be: one that was replaced stands at its road number.
    by_axle: dict[tuple[int, tuple[float, float] | None], list[tuple[str, str]]] = {}
    groups = []
    for wheel in rigs.wheels_of(rig):
        if wheel.axle is not None:
            number_there = on_ground.get((rig.pk, wheel.code))
            ground = (number_there.kpa, number_there.floor_kpa) if number_there else None
            by_axle.setdefault((wheel.axle, ground), []).append((wheel.code, wheel.name))
            continue
        own = spares.get(int(wheel.code[1:]))
        aim = None
        if own is not None and own.target_kpa is not None:
            aim = core.Aim(
                own.target_kpa, around.here or air.set_in(of_now, way, 0.0), not typed.light, system.low_share
            )
        groups.append(
            Group(wheel.name, None, ((wheel.code, wheel.name),), aim, own.ceiling_kpa if own else None, False, None)
        )
    axles = []
    for (number, ground), wheels in by_axle.items():
        at, axle = bands.get(number), typed.axles[number - 1]
        aim = None
        if ground is not None:
            set_in = air.set_in(of_now, way, of_now.elevation_m or 0.0)
            aim = core.Aim(ground[0], set_in, not typed.light, system.low_share, ground[1])
        elif at is not None and at.target_kpa is not None:
            here = airs.here_of(at, vehicle, way, around).kpa if around.here else at.target_kpa
            set_in = around.here or air.set_in(of_now, way, of_now.elevation_m or 0.0)
            aim = core.Aim(here, set_in, not typed.light, system.low_share)
        tires = described[number]
        axles.append(
            Group(
                vehicle.names[number],
                number,
                tuple(wheels),
                aim,
                at.ceiling_kpa if at else None,
                ground is not None,
                lamp.lights_kpa(typed, axle, tires),
                kept.get(number),
                lamp.seen_of(tires),
                tires.tire_size,
            )
        )
    dawns = tuple(
        (d.date, Air(d.dawn_c, of_now.elevation_m))
        for d in of_now.week
        if d.dawn_c is not None and of_now.elevation_m is not None and not of_now.old
    )
    return OnAlarm(rig, system, (*axles, *groups), around.here, dawns, of_now.time_zone)


def _recorded(rig: Rig) -> dict[int, core.Recorded]:
    """By axle when the threshold of its lamp was written down, for which tires, and whether the target changed since."""
    said: dict[int, list[tuple[dt.datetime, float | None, str]]] = {}
    rows = Axle.history.filter(rig=rig).exclude(history_type="-").order_by("history_date", "history_id")
    for number, at, lamp_kpa, size in rows.values_list("number", "history_date", "lamp_kpa", "tire_size"):
        said.setdefault(number, []).append((at, lamp_kpa, size))
    known = any(of[-1][1] is not None for of in said.values())
    put = lamp.targets_put(rig) if known else {}
    return {n: found for n, rows in said.items() if (found := core.recorded(rows, put.get(n, ()))) is not None}
