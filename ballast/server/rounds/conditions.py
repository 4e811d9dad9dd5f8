"""What a round is read in, from what was entered."""

import datetime as dt
from typing import Any

from ballast.server.accounts.actors import Actor
from ballast.server.air import now as air
from ballast.server.air.schemas import AirIn
from ballast.server.gauges import services as gauges
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import stored
from ballast.server.rounds.models import MADE_UP_AIR
from ballast.server.rounds.schemas import ConditionsIn
from ballast.server.targets.policies import Way


def air_in(data: ConditionsIn) -> AirIn:
    """The air of a round as it was entered."""
    return AirIn(
        place_key=data.place_key, outside_c=data.outside_c, dawn_c=data.dawn_c, elevation_m=data.elevation_m,
        station_kpa=data.station_kpa,
    )  # fmt: skip


def read(actor: Actor, data: ConditionsIn, rig: Rig, way: Way, at: dt.datetime) -> dict[str, Any]:
    """The columns of a round opened `at`, from what was entered. Raises Refusal for what cannot be used."""
    rigs.check_odometer(rig, data.odometer.value if data.odometer else None, at.date())
    gauge = gauges.usable(actor, data.gauge)
    around = air.read_air(actor, air_in(data), getattr(rig, "air", None))
    ahead = air.surroundings(around, way.check_days).dawns
    morning = data.morning_c.value if data.morning_c else around.morning_c
    service_c = None
    if not data.place_key and data.outside_c is not None:
        # Typed by hand: what the service says of the rig's place is kept beside it, to tell a slip later.
        usual = air.air_of(actor, rig)
        service_c = usual.outside_c if usual.source == "service" else None
    return {
        "gauge": gauge,
        "standing_h": data.standing_h,
        "driven": data.driven,
        "rolled": data.rolled,
        "sunny": data.sunny,
        "shop_c": data.shop_c.value if data.shop_c else None,
        "air_source": MADE_UP_AIR if around.stamp else around.source,
        "odometer_km": data.odometer.value if data.odometer else None,
        "service_c": service_c,
        "place": around.place,
        "time_zone": around.time_zone,
        "outside_c": around.outside_c,
        "morning_c": morning,
        "dawn_c": around.dawn_c,
        "dawns": stored.keep_dawns(ahead),
        "station_kpa": around.station_kpa,
        "elevation_m": around.elevation_m,
        "temperature": way.temperature,
        "cold_after_h": way.cold_after_h,
        "check_days": way.check_days,
    }
