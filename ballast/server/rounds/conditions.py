"""What a round is read in, and what every wheel is held against there."""

import datetime as dt
from dataclasses import dataclass
from typing import Any

from ballast.core import air as core_air
from ballast.core import gauges as core_gauges
from ballast.core import lookback as core_lookback
from ballast.core import rounds as core
from ballast.core.gas import Air
from ballast.server.accounts.actors import Actor
from ballast.server.air import services as air
from ballast.server.air.schemas import AirIn
from ballast.server.edge.words import phrase_of
from ballast.server.gauges import services as gauges
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import sheet
from ballast.server.rounds.models import Round
from ballast.server.rounds.schemas import ConditionsIn
from ballast.server.targets.policies import Way


def read(actor: Actor, data: ConditionsIn, rig: Rig, way: Way, at: dt.datetime) -> dict[str, Any]:
    """The fields of a round opened `at`, from what was entered. Raises Refusal for what cannot be used."""
    rigs.check_odometer(rig, data.odometer.value if data.odometer else None, at.date())
    gauge = gauges.usable(actor, data.gauge)
    found = air.read_air(
        actor,
        AirIn(
            place_key=data.place_key, outside_c=data.outside_c, dawn_c=data.dawn_c, elevation_m=data.elevation_m,
            station_kpa=data.station_kpa,
        ),
    )  # fmt: skip
    ahead = air.surroundings(found, way.check_days).dawns
    morning = data.morning_c.value if data.morning_c else found["morning_c"]
    service_c = None
    if not data.place_key and data.outside_c is not None:
        # Typed by hand: what the service says of the rig's place is kept beside it, to tell a slip later.
        usual = air.air_of(actor, rig)
        service_c = usual["outside_c"] if usual["source"] == "service" else None
    return {
        "gauge": gauge,
        "standing_h": data.standing_h,
        "driven": data.driven,
        "rolled": data.rolled,
        "sunny": data.sunny,
        "shop_c": data.shop_c.value if data.shop_c else None,
        "air_source": "made up" if found["stamp"] else found["source"],
        "odometer_km": data.odometer.value if data.odometer else None,
        "service_c": service_c,
        "place": found["place"],
        "time_zone": found["time_zone"],
        "outside_c": found["outside_c"],
        "morning_c": morning,
        "dawn_c": found["dawn_c"],
        "dawns": [[d.air.temperature_c, d.days] for d in ahead],
        "station_kpa": found["station_kpa"],
        "elevation_m": found["elevation_m"],
        "temperature": way.temperature,
        "cold_after_h": way.cold_after_h,
        "check_days": way.check_days,
    }


def _standing(row: Round) -> core_air.Standing:
    """How the rig stands: in a heated shop its tires are as warm as the shop, however long."""
    if row.shop_c is not None:
        return core_air.in_shop(row.shop_c)
    return core_air.standing(row.standing_h, row.heavy, row.driven, row.outside_c, row.cold_after_h)  # type: ignore[arg-type]


@dataclass(frozen=True)
class Frame:
    """What all wheels of a round share: the air, how the rig stands, the gauge in hand."""

    round: Round
    here: Air
    morning: Air | None
    dawns: tuple[core_air.Ahead, ...]
    temperature: core_air.TemperaturePolicy
    standing: core_air.Standing
    gauge: core_gauges.Gauge
    gauge_id: int

    @classmethod
    def of(cls, row: Round) -> "Frame":
        def air_at(temperature: float | None) -> Air | None:
            return None if temperature is None else Air(temperature, row.elevation_m)

        # A round of before dawns were kept knows the coming one alone.
        dawns = row.dawns or ([[row.dawn_c, 1.0]] if row.dawn_c is not None else [])
        return cls(
            row,
            row.here,
            air_at(row.morning_c),
            tuple(core_air.Ahead(Air(c, row.elevation_m), days) for c, days in dawns),
            row.temperature,  # type: ignore[arg-type]
            _standing(row),
            gauges.gauge_of(row.gauge),
            row.gauge_id,
        )

    def stands(self, line: dict[str, Any]) -> core_air.Standing:
        """A spare has not rolled, so it is cold; a wheel on the sunny side is warmer than the air."""
        if line["spare"]:
            return core_air.Standing(True, self.here.temperature_c, 0.0)
        if line.get("side") == {"left": -1, "right": 1}.get(self.round.sunny):
            return core_air.in_sun(self.standing, self.here.temperature_c)
        return self.standing


NOT_HELD: dict[str, Any] = {
    "here_kpa": None, "hold_from_kpa": None, "out_to_kpa": None, "target_working": (), "target_notes": (),
}  # fmt: skip


def here_of(frame: Frame, line: dict[str, Any]) -> dict[str, Any]:
    """A wheel's target in the air of the round."""
    if line["target"] is None:
        return NOT_HELD
    found = core_air.target_here(
        line["target"], line["floor"], line["ceiling"], frame.here, frame.morning, frame.dawns, line["step"],
        frame.temperature,
    )  # fmt: skip
    return {
        "here_kpa": found.kpa,
        "hold_from_kpa": found.hold_from_kpa,
        "out_to_kpa": found.out_to_kpa,
        "target_working": found.working,
        # What speaks against this gauge at this pressure belongs beside it.
        "target_notes": (*found.notes, *core_gauges.suits(frame.gauge, found.kpa, line.get("inner", False)).notes),
    }


def goal_of(
    frame: Frame, line: dict[str, Any], held: dict[str, Any], may_have_rolled: bool, gauge: core_gauges.Gauge
) -> core.WheelGoal:
    """What a wheel is held against, read with a gauge. A spare, and a rig that stood since, have not rolled low."""
    here = held["here_kpa"]
    return core.WheelGoal(
        target_kpa=here,
        hold_from_kpa=held["hold_from_kpa"],
        out_to_kpa=held["out_to_kpa"],
        floor_kpa=line["floor"],
        floor_from=line.get("floor_from", "load"),
        ceiling_kpa=line["ceiling"],
        may_have_rolled=may_have_rolled and frame.round.rolled and not line["spare"],
        heavy_or_dual=line["heavy_or_dual"],
        stop_kpa=line.get("stop") if line["target"] is None else core.stop_at(line["target"]),
        sure_kpa=core_gauges.sure_at(gauge, here) if here is not None else 0.0,
        missing=phrase_of(line["missing"]) if line.get("missing") else None,
    )


def shows_of(
    frame: Frame, line: dict[str, Any], held: dict[str, Any], gauge: core_gauges.Gauge, fill: float | None
) -> float | None:
    """What a gauge must show at a wheel [kPa]: what an answer fills it to, else its target at the tire's own temperature."""
    if fill is None:
        if held["here_kpa"] is None:
            return None
        fill = core_air.fill_to(held["here_kpa"], line["ceiling"], frame.stands(line), frame.here)
    return core_gauges.shows(gauge, fill)


def expected(
    frame: Frame, line: dict[str, Any], gauge: core_gauges.Gauge | None = None, gauge_id: int | None = None
) -> tuple[float | None, float | None]:
    """What a wheel's last service lets expect here and now [kPa], give or take, read with a gauge (the round's where none is
    named); unknown where there was none."""
    last = sheet.last_of(line, frame.round.opened_at)
    if last is None:
        return None, None
    sure = core_gauges.sure_at(gauge or frame.gauge, last.kpa)
    return core_lookback.today(last, frame.here, gauge_id or frame.gauge_id, sure)
