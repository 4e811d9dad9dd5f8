"""Tires that do not stand in the air outside: set in a heated shop, read warm, or read at another temperature."""

from typing import Any

from ballast.core import air as core
from ballast.core import rigs as core_rigs
from ballast.core import rounds as core_rounds
from ballast.core.gas import Air
from ballast.core.gauges import Corrected
from ballast.core.refusal import Refusal
from ballast.core.working import join
from ballast.server.accounts.actors import Actor
from ballast.server.air import services
from ballast.server.air.schemas import ElsewhereIn, ReadingsIn, WarmIn
from ballast.server.targets.models import TargetAxle


def elsewhere(actor: Actor, data: ElsewhereIn) -> list[dict[str, Any]]:
    """What the gauge must show where the tires stand now, so that the target stands outside."""
    found = services.vehicles(actor, data.rig, data.whole)
    around = services.known(services.air_for(actor, found, data), found)
    here = around.here
    assert here is not None
    height = data.at_elevation_m.value if data.at_elevation_m else here.elevation_m
    at = Air(data.tire_c.value, height, here.station_kpa if data.at_elevation_m is None else None)
    lines = []
    for vehicle in found:
        for axle in vehicle.aimed:
            target = services.here_of(axle, vehicle, found[0].way, around)
            setting = core.set_elsewhere(target.kpa, here, at, axle.ceiling_kpa)
            lines.append(
                services.axle_out(vehicle, axle)
                | {
                    "here_kpa": target.kpa, "set_kpa": setting.kpa, "wanted_kpa": setting.wanted_kpa,
                    "capped": setting.capped, "words": setting.words, "working": setting.working,
                }
            )  # fmt: skip
    return lines


def warm(actor: Actor, data: WarmIn) -> dict[str, Any]:
    """Is it cold yet, the ways to top a warm tire up (the most trusted first), and what it should read hot."""
    found = services.vehicles(actor, data.rig)
    (vehicle,) = found
    around = services.known(services.air_for(actor, found, data), found)
    here = around.here
    assert here is not None
    axle = next((a for a in vehicle.aimed if a.number == data.axle), None)
    if data.axle > len(vehicle.rig.axles.all()):
        raise Refusal(f"{vehicle.rig.name} has {len(vehicle.rig.axles.all())} axles. Choose one of them.", "axle")
    heavy = not core_rigs.is_light(vehicle.rig.gvwr_kg)
    stood = None
    if data.standing_h is not None:
        stood = core.standing(data.standing_h, heavy, data.driven, here.temperature_c, vehicle.way.cold_after_h)
    ways: list[core.TopUp] = []
    target = None
    if axle is not None:
        target = services.here_of(axle, vehicle, vehicle.way, around).kpa
        if data.reading is not None:
            reading, ceiling = data.reading.value, axle.ceiling_kpa
            if data.cold_kpa is not None:
                ways.append(core.by_shortfall(reading, data.cold_kpa.value, here, target, ceiling))
            if data.tire_c is not None:
                ways.append(core.by_temperature(reading, data.tire_c.value, here, target, ceiling))
            if stood is not None and not stood.cold:
                ways.append(core.by_time(reading, stood, here, target, ceiling))
    hot = _hot(data, axle, vehicle, around, heavy) if axle is not None else None
    return {
        "cold": stood.cold if stood else None,
        "wait_h": stood.wait_h if stood else None,
        "waits": core.waits(stood, here.temperature_c) if stood else None,
        "here_kpa": target,
        "ways": ways,
        "hot": hot,
    }


def _hot(
    data: WarmIn, axle: TargetAxle, vehicle: services.Vehicle, around: services.Surroundings, heavy: bool
) -> dict[str, Any]:  # fmt: skip
    """What it should read hot; a reading below that goes through the verdicts of a round, as if cold."""
    assert around.here is not None
    assert axle.target_kpa is not None
    set_in = core.set_in(vehicle.way.temperature, around.here, around.morning)
    if data.set_in_c:
        set_in = Air(data.set_in_c.value, around.here.elevation_m)
    own, read = (entry.value if entry else None for entry in (data.cold_kpa, data.hot_kpa))
    found = core.hot_rise(axle.target_kpa, set_in, around.here, read, heavy, own)
    told = vars(found)
    if found.cold_kpa is None:
        return told
    number = next(a for a in vehicle.rig.axles.all() if a.number == axle.number)
    goal = core_rounds.WheelGoal(
        services.here_of(axle, vehicle, vehicle.way, around).kpa, axle.floor_kpa, axle.ceiling_kpa, True,
        heavy or number.wheels == 4, stop_kpa=core_rounds.stop_at(axle.target_kpa),
    )  # fmt: skip
    cold = core.Standing(True, around.here.temperature_c, 0.0)
    answer = core_rounds.answer(goal, Corrected(found.cold_kpa, core.READING_KPA, False), cold, around.here)
    if answer.word != "stop":
        return told
    return told | {"verdict": "run low", "words": join(answer.words, *answer.notes, found.words, by=". ")}


def readings(actor: Actor, data: ReadingsIn) -> dict[str, Any]:
    """Cold readings of every target by temperature, and the thumb rule beside the law."""
    found = services.vehicles(actor, data.rig, data.whole)
    air = services.air_of(actor, found[0].rig)
    elevation = data.elevation_m.value if data.elevation_m else air["elevation_m"] or 0.0
    set_in = Air(data.set_in_c.value, elevation) if data.set_in_c else services.set_in(air, found[0].way, elevation)
    axles = []
    for vehicle in found:
        for axle in vehicle.aimed:
            assert axle.target_kpa is not None
            parting = core.parting(axle.target_kpa, set_in)
            axles.append(
                services.axle_out(vehicle, axle)
                | {
                    "readings": core.readings(axle.target_kpa, set_in, axle.floor_kpa, axle.ceiling_kpa),
                    "parting": parting,
                    "parts_most": core.parts_most(parting),
                }
            )
    return {"set_in_c": set_in.temperature_c, "elevation_m": elevation, "axles": axles}
