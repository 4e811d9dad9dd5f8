"""Tires that do not stand in the air outside: set in a heated shop, read warm, or read at another temperature."""

from dataclasses import replace

from ballast.core import air as core
from ballast.core import rigs as core_rigs
from ballast.core import rounds as core_rounds
from ballast.core.gas import Air
from ballast.core.gauges import Corrected
from ballast.core.refusal import Refusal
from ballast.core.working import join
from ballast.server.accounts.actors import Actor
from ballast.server.air import now, services
from ballast.server.air.schemas import AxleReadings, Elsewhere, ElsewhereIn, Readings, ReadingsIn, Warm, WarmIn
from ballast.server.targets.models import TargetAxle


def elsewhere(actor: Actor, data: ElsewhereIn) -> list[Elsewhere]:
    """What the gauge must show where the tires stand now, so that the target stands outside."""
    train = services.vehicles(actor, data.rig, data.whole)
    around = services.known(services.air_for(actor, train, data), train)
    here = around.here
    assert here is not None
    height = data.at_elevation_m.value if data.at_elevation_m else here.elevation_m
    at = Air(data.tire_c.value, height, here.station_kpa if data.at_elevation_m is None else None)
    lines = []
    for vehicle in train:
        for axle in vehicle.aimed:
            target = services.here_of(axle, vehicle, train[0].way, around)
            setting = core.set_elsewhere(target.kpa, here, at, axle.ceiling_kpa)
            lines.append(
                Elsewhere(
                    **vars(services.band_of(vehicle, axle)), here_kpa=target.kpa, set_kpa=setting.kpa,
                    wanted_kpa=setting.wanted_kpa, capped=setting.capped, words=setting.words, working=setting.working,
                )
            )  # fmt: skip
    return lines


def warm(actor: Actor, data: WarmIn) -> Warm:
    """Is it cold yet, the ways to top a warm tire up (the most trusted first), and what it should read hot."""
    train = services.vehicles(actor, data.rig)
    (vehicle,) = train
    around = services.known(services.air_for(actor, train, data), train)
    here = around.here
    assert here is not None
    axle = next((a for a in vehicle.aimed if a.number == data.axle), None)
    if data.axle > len(vehicle.rig.axles.all()):
        raise Refusal(f"{vehicle.rig.name} has {len(vehicle.rig.axles.all())} axles. Choose one of them.", "axle")
    heavy = not core_rigs.is_light(vehicle.rig.gvwr_kg)
    stood = None
    if data.standing_h is not None:
        stood = core.standing(data.standing_h, heavy, data.driven, here.temperature_c, vehicle.way.cold_after_h)
    target = services.here_of(axle, vehicle, vehicle.way, around).kpa if axle is not None else None
    ways = _ways(data, stood, here, target, axle.ceiling_kpa) if axle is not None and target is not None else ()
    hot = _hot(data, axle, vehicle, around, heavy) if axle is not None else None
    waits = core.waits(stood, here.temperature_c) if stood else None
    return Warm(stood.cold if stood else None, stood.wait_h if stood else None, waits, target, ways, hot)


def _ways(
    data: WarmIn, stood: core.Standing | None, here: Air, target: float, ceiling: float | None
) -> tuple[core.TopUp, ...]:
    """The ways for which enough is given."""
    if data.reading is None:
        return ()
    reading, ways = data.reading.value, []
    if data.cold_kpa is not None:
        ways.append(core.by_shortfall(reading, data.cold_kpa.value, here, target, ceiling))
    if data.tire_c is not None:
        ways.append(core.by_temperature(reading, data.tire_c.value, here, target, ceiling))
    if stood is not None and not stood.cold:
        ways.append(core.by_time(reading, stood, here, target, ceiling))
    return tuple(ways)


def _hot(
    data: WarmIn, axle: TargetAxle, vehicle: services.Vehicle, around: now.Surroundings, heavy: bool
) -> core.HotRise:
    """What it should read hot; a reading below that goes through the verdicts of a round, as if cold."""
    assert around.here is not None
    assert axle.target_kpa is not None
    set_in = core.set_in(vehicle.way.temperature, around.here, around.morning)
    if data.set_in_c:
        set_in = Air(data.set_in_c.value, around.here.elevation_m)
    own, read = (entry.value if entry else None for entry in (data.cold_kpa, data.hot_kpa))
    rise = core.hot_rise(axle.target_kpa, set_in, around.here, read, heavy, own)
    if rise.cold_kpa is None:
        return rise
    number = next(a for a in vehicle.rig.axles.all() if a.number == axle.number)
    goal = core_rounds.WheelGoal(
        services.here_of(axle, vehicle, vehicle.way, around).kpa, axle.floor_kpa, axle.ceiling_kpa, True,
        heavy or number.wheels == 4, stop_kpa=core_rounds.stop_at(axle.target_kpa),
    )  # fmt: skip
    cold = core.Standing(True, around.here.temperature_c, 0.0)
    answer = core_rounds.answer(goal, Corrected(rise.cold_kpa, core.READING_KPA, False), cold, around.here)
    if answer.word != "stop":
        return rise
    return replace(rise, verdict="run low", words=join(answer.words, *answer.notes, rise.words, by=". "))


def readings(actor: Actor, data: ReadingsIn) -> Readings:
    """Cold readings of every target by temperature, and the thumb rule beside the law."""
    train = services.vehicles(actor, data.rig, data.whole)
    air = now.air_of(actor, train[0].rig)
    elevation = data.elevation_m.value if data.elevation_m else air.elevation_m or 0.0
    set_in = Air(data.set_in_c.value, elevation) if data.set_in_c else now.set_in(air, train[0].way, elevation)
    axles = []
    for vehicle in train:
        for axle in vehicle.aimed:
            assert axle.target_kpa is not None
            parting = core.parting(axle.target_kpa, set_in)
            cold = core.readings(axle.target_kpa, set_in, axle.floor_kpa, axle.ceiling_kpa)
            band = vars(services.band_of(vehicle, axle))
            axles.append(AxleReadings(**band, readings=cold, parting=parting, parts_most=core.parts_most(parting)))
    return Readings(set_in.temperature_c, elevation, tuple(axles))
