"""Tires that do not stand in the air outside: set in a heated shop, read warm, or read at another temperature."""

from typing import Any

from ballast.core import air as core
from ballast.core import rigs as core_rigs
from ballast.core.gas import Air
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor
from ballast.server.air import services
from ballast.server.air.schemas import ElsewhereIn, ReadingsIn, WarmIn


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
    hot = None
    set_in = data.set_in_c.value if data.set_in_c else around.morning.temperature_c if around.morning else None
    if axle is not None and axle.target_kpa is not None and set_in is not None:
        cold = data.cold_kpa.value if data.cold_kpa else axle.target_kpa
        hot = core.hot_rise(cold, Air(set_in, here.elevation_m), here, data.hot_kpa.value if data.hot_kpa else None)
    return {
        "cold": stood.cold if stood else None,
        "wait_h": stood.wait_h if stood else None,
        "waits": core.waits(stood, here.temperature_c) if stood else None,
        "here_kpa": target,
        "ways": ways,
        "hot": hot,
    }


def readings(actor: Actor, data: ReadingsIn) -> dict[str, Any]:
    """Cold readings of every target by temperature, and the thumb rule beside the law."""
    found = services.vehicles(actor, data.rig, data.whole)
    elevation = data.elevation_m.value if data.elevation_m else None
    if elevation is None:
        elevation = services.air_of(actor, found[0].rig)["elevation_m"] or 0.0
    set_in = Air(data.set_in_c.value if data.set_in_c else core.REFERENCE_C, elevation)
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
