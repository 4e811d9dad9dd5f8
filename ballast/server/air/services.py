"""Every axle's target in the air of its rig."""

from dataclasses import dataclass, replace
from functools import cached_property

from ballast.core import air as core
from ballast.core import rigs as core_rigs
from ballast.core.gas import Air
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor
from ballast.server.air.now import AirNow, Surroundings, air_of, read_air, surroundings
from ballast.server.air.schemas import AirIn, AxleAir, AxleDay, Band, DayAhead
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.targets import in_force, policies
from ballast.server.targets.models import TargetAxle, TargetSet
from ballast.server.targets.policies import Way


@dataclass(frozen=True)
class Vehicle:
    """A rig with its targets in force and its axles' names."""

    rig: Rig
    row: TargetSet | None
    way: Way

    @cached_property
    def names(self) -> dict[int, str]:
        axles = self.rig.axles.all()
        return {a.number: core_rigs.axle_name(a.number, len(axles), self.rig.kind) for a in axles}

    @cached_property
    def aimed(self) -> list[TargetAxle]:
        """Its axles that have a pressure."""
        return [a for a in self.row.axles.all() if a.target_kpa is not None] if self.row else []


def air_for(actor: Actor, train: list[Vehicle], data: AirIn) -> AirNow:
    """The air that is typed with a call, else the one in use for the first vehicle."""
    typed = data.place_key or data.outside_c is not None or data.elevation_m is not None
    return read_air(actor, data) if typed else air_of(actor, train[0].rig)


def known(now: AirNow, train: list[Vehicle]) -> Surroundings:
    """The air as the rules take it. Raises Refusal where it is not known."""
    around = surroundings(now, train[0].way.check_days)
    if around.here is None and now.old:
        raise Refusal("The air was typed too long ago to go by. Confirm it, or give it anew.", "outside_c")
    if around.here is None:
        raise Refusal("The air outside is not known. Enter it, or choose a place.", "outside_c")
    return around


def vehicles(actor: Actor, rig_id: int, whole: bool = False, on_axles: bool = True) -> list[Vehicle]:
    """A rig, or with `whole` all that is hitched behind it too, with its bands and ways. Raises DoesNotExist.

    `on_axles` leaves spares and fitted tires out. The first one's way rules the air of all: they stand in one air and are checked together. Steps are each one's own.
    """
    also = ("air", "policy")
    if whole:
        train = rigs.train(actor, rig_id, also, on_axles)
        own = train[next(i for i, r in enumerate(train) if r.pk == rig_id) :]
    else:
        own = [rigs.rig(actor, rig_id, also, on_axles)]
    sets = in_force.bands_in_force(actor, own)
    return [Vehicle(r, sets.get(r.pk), policies.way_of(actor, r)) for r in own]


def here_of(axle: TargetAxle, vehicle: Vehicle, way: Way, around: Surroundings) -> core.TargetHere:
    """An axle's target in the air here and now, by the way of the whole."""
    assert axle.target_kpa is not None
    assert around.here is not None
    return core.target_here(
        axle.target_kpa, axle.floor_kpa, axle.ceiling_kpa, around.here, around.morning, around.dawns,
        vehicle.way.step_of.kpa, way.temperature,
    )  # fmt: skip


def band_of(vehicle: Vehicle, axle: TargetAxle) -> Band:
    """The band of an axle that has a pressure."""
    assert axle.target_kpa is not None
    name = vehicle.names.get(axle.number, f"Axle {axle.number}")
    return Band(vehicle.rig.pk, vehicle.rig.name, axle.number, name, axle.floor_kpa, axle.target_kpa, axle.ceiling_kpa)


@dataclass(frozen=True)
class AirAnswer:
    """Every axle's target in an air, in words, with the week, by a way."""

    air: AirNow
    axles: tuple[AxleAir, ...]
    words: Phrase
    way: Way


def answer(
    now: AirNow, train: list[Vehicle], temperature: core.TemperaturePolicy | None = None, check_days: int | None = None
) -> AirAnswer:  # fmt: skip
    """Every axle's target in this air. Axles without a target are left out.

    `temperature` and `check_days` try another way than the rig's own.
    """
    way = train[0].way
    way = replace(way, temperature=temperature or way.temperature, check_days=check_days or way.check_days)
    around = surroundings(now, way.check_days)
    judged = {d.days for d in around.dawns}
    now = replace(now, week=tuple(replace(d, judged=d.days in judged) for d in now.week))
    axles = tuple(_axle(now, v, a, way, around) for v in train for a in v.aimed) if around.here is not None else ()
    return AirAnswer(now, axles, _summary(now, axles, train[0].row), way)


def _axle(now: AirNow, vehicle: Vehicle, axle: TargetAxle, way: Way, around: Surroundings) -> AxleAir:
    assert around.here is not None
    outside, elevation = around.here, around.here.elevation_m
    here = here_of(axle, vehicle, way, around)

    def reads(temperature: float, days: float) -> core.Dawn:
        loss = core.ordinary_loss(axle.target_kpa or 0.0, days)
        return core.at_dawn(
            here.kpa, outside, Air(temperature, elevation), axle.floor_kpa, axle.ceiling_kpa, loss
        )  # fmt: skip

    def at(day: DayAhead) -> tuple[core.Dawn | None, AxleDay]:
        dawn = None if day.dawn_c is None else reads(day.dawn_c, day.days)
        high = None if day.high_c is None else reads(day.high_c, 0.0).kpa
        if dawn is None:
            return None, AxleDay(None, high, None, None)
        return dawn, AxleDay(dawn.kpa, high, dawn.above_floor, dawn.below_ceiling)

    days = [at(day) for day in now.week]
    before_check = tuple(dawn for day, (dawn, _) in zip(now.week, days, strict=True) if dawn and day.judged)
    judged = core.judge(here.kpa, axle.floor_kpa, outside, before_check)
    return AxleAir(
        **vars(band_of(vehicle, axle)), here_kpa=here.kpa, raised=here.raised, lowered=here.lowered, capped=here.capped,
        hold_from_kpa=here.hold_from_kpa, dawn_kpa=days[0][1].dawn_kpa if days else None,
        coldest_kpa=judged.coldest_kpa, eaten=judged.eaten, above_floor=judged.above_floor,
        below_ceiling=judged.below_ceiling, leaves_band=core.leaves_band(judged.above_floor, judged.below_ceiling), days=tuple(day for _, day in days), words=judged.words, notes=here.notes,
        working=(*here.working, *judged.working),
    )  # fmt: skip


def _summary(now: AirNow, axles: tuple[AxleAir, ...], row: TargetSet | None) -> Phrase:
    if now.source == "none":
        return core.unknown_air(now.silent)
    if now.old and now.age_words:
        return now.age_words
    return core.in_a_line(now.outside_c, now.dawn_c, axles, len(row.axles.all()) if row else None)
