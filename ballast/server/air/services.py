from dataclasses import dataclass
from typing import Any

from django.db import transaction

from ballast.core import air as core
from ballast.core.gas import Air
from ballast.core.refusal import Refusal
from ballast.core.tables import STEPS
from ballast.core.working import Line, Phrase, celsius, kpa, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air.models import RigAir
from ballast.server.air.schemas import AirIn
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.targets.models import TargetSet
from ballast.server.weather import services as weather
from ballast.server.weather.service import Outlook

_NOTHING: dict[str, Any] = {
    "source": "none", "place_key": "", "place": "", "time_zone": "UTC", "outside_c": None, "morning_c": None,
    "dawn_c": None, "dawn_at": None, "elevation_m": None, "set_at": None, "silent": False,
}  # fmt: skip


@dataclass(frozen=True)
class Surroundings:
    """The air here, this morning's and the coming dawn's, where known."""

    here: Air | None
    morning: Air | None
    dawn: Air | None


def _from_outlook(found: Outlook) -> dict[str, Any]:
    return _NOTHING | {
        "source": "service",
        "place_key": found.place.key,
        "place": found.place.name,
        "time_zone": found.place.time_zone,
        "outside_c": found.outside_c,
        "morning_c": found.morning_c,
        "dawn_c": found.dawn_c,
        "dawn_at": found.dawn_at,
        "elevation_m": found.place.elevation_m,
    }


def air_of(actor: Actor, rig: Rig) -> dict[str, Any]:
    """The air in use for a rig: its own place or numbers, else the workspace's place, else nothing.

    `silent` says that the weather service should have answered and did not.
    """
    stored = getattr(rig, "air", None)
    if stored is not None and not stored.place_key:
        return _NOTHING | {
            "source": "hand",
            "outside_c": stored.outside_c,
            "dawn_c": stored.dawn_c,
            "elevation_m": stored.elevation_m,
            "set_at": stored.set_at,
        }
    key = stored.place_key if stored is not None else actor.workspace.place_key
    found = weather.try_outlook(actor, key)
    if found is not None:
        return _from_outlook(found)
    return _NOTHING | {"place_key": key, "silent": bool(key)}


def read_air(actor: Actor, data: AirIn) -> dict[str, Any]:
    """Air as typed. Raises Refusal where neither a place nor temperature and elevation are given."""
    if data.place_key:
        return _from_outlook(weather.outlook(actor, data.place_key))
    if data.outside_c is None:
        raise Refusal("Enter the outside temperature, or choose a place.", "outside_c")
    if data.elevation_m is None:
        raise Refusal("Enter the elevation, or choose a place.", "elevation_m")
    return _NOTHING | {
        "source": "hand",
        "outside_c": data.outside_c.value,
        "dawn_c": data.dawn_c.value if data.dawn_c else None,
        "elevation_m": data.elevation_m.value,
    }


@transaction.atomic
def set_air(actor: Actor, rig_id: int, data: AirIn) -> Rig:
    """Keeps the air of a rig: a place to be asked again each time, or numbers by hand with their hour."""
    actor.must(May.AIR)
    rig = rigs.rig(actor, rig_id)
    read = read_air(actor, data)
    by_hand = read["source"] == "hand"
    RigAir.objects.update_or_create(
        rig=rig,
        defaults={
            "place_key": read["place_key"],
            "outside_c": read["outside_c"] if by_hand else None,
            "dawn_c": read["dawn_c"] if by_hand else None,
            "elevation_m": read["elevation_m"] if by_hand else None,
            "set_by": actor.person,
        },
    )
    return rigs.rigs(actor).select_related("air").get(pk=rig.pk)


def surroundings(air: dict[str, Any]) -> Surroundings:
    def of(name: str) -> Air | None:
        return None if air[name] is None or air["elevation_m"] is None else Air(air[name], air["elevation_m"])

    return Surroundings(of("outside_c"), of("morning_c"), of("dawn_c"))


def answer(air: dict[str, Any], row: TargetSet | None, names: dict[int, str]) -> dict[str, Any]:
    """Every axle's target in this air, in words. Axles without a target are left out."""
    around = surroundings(air)
    axles: list[dict[str, Any]] = []
    if row is not None and around.here is not None:
        step = STEPS[row.step].kpa
        for axle in row.axles.all():
            if axle.target_kpa is None:
                continue
            loss = core.ordinary_loss(axle.target_kpa, 1)
            here = core.target_here(
                axle.target_kpa, axle.floor_kpa, axle.ceiling_kpa, around.here, around.morning, around.dawn, loss, step
            )
            dawn = None
            beside: tuple[Line, ...] = ()
            if around.dawn is not None:
                dawn = core.at_dawn(here.kpa, around.here, around.dawn, axle.floor_kpa, axle.ceiling_kpa, loss)
                colder = around.here.temperature_c - around.dawn.temperature_c
                beside = (
                    Line(say("set here, it reads at dawn, less {0} lost until then", kpa(loss)), kpa(dawn.kpa)),
                    core.thumb_rule(here.kpa, colder),
                )
            axles.append(
                {
                    "number": axle.number,
                    "name": names.get(axle.number, f"Axle {axle.number}"),
                    "floor_kpa": axle.floor_kpa,
                    "target_kpa": axle.target_kpa,
                    "ceiling_kpa": axle.ceiling_kpa,
                    "here_kpa": here.kpa,
                    "raised": here.raised,
                    "capped": here.capped,
                    "dawn_kpa": dawn.kpa if dawn else None,
                    "above_floor": dawn.above_floor if dawn else None,
                    "below_ceiling": dawn.below_ceiling if dawn else None,
                    "words": _words(dawn),
                    "notes": here.notes,
                    "working": (*here.working, *beside),
                }
            )
    return {"air": air, "axles": axles, "words": _summary(air, axles, row)}


def _words(dawn: core.Dawn | None) -> Phrase:
    if dawn is None:
        return say("The coming dawn is not known.")
    if dawn.above_floor is False:
        return say("At dawn {0}: below the floor.", kpa(dawn.kpa))
    if dawn.below_ceiling is False:
        return say("At dawn {0}: above the ceiling.", kpa(dawn.kpa))
    return say("At dawn {0}: the floor holds.", kpa(dawn.kpa))


def _summary(air: dict[str, Any], axles: list[dict[str, Any]], row: TargetSet | None) -> Phrase:
    if air["source"] == "none":
        return say("weather service silent" if air["silent"] else "not set")
    if row is None:
        return say("{0} outside", celsius(air["outside_c"]))
    if air["dawn_c"] is None:
        return say("dawn not known")
    if any(a["above_floor"] is False or a["below_ceiling"] is False for a in axles):
        return say("the dawn leaves the band")
    if any(a["raised"] for a in axles):
        return say("raised for the dawn")
    return say("dawn holds the floor") if axles else say("{0} outside", celsius(air["outside_c"]))
