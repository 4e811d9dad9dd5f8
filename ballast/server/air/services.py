import datetime as dt
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any
from zoneinfo import ZoneInfo

from django.db import transaction
from django.utils import timezone

from ballast.core import air as core
from ballast.core import rigs as core_rigs
from ballast.core.gas import Air, station
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, celsius, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air.models import RigAir
from ballast.server.air.schemas import AirIn
from ballast.server.edge.problems import Conflict
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.targets import policies
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetAxle, TargetSet
from ballast.server.targets.policies import Way
from ballast.server.weather import services as weather
from ballast.server.weather.outlook import Outlook
from ballast.server.weather.service import MADE_UP

_NOTHING: dict[str, Any] = {
    "source": "none", "place_key": "", "place": "", "time_zone": "UTC", "outside_c": None, "morning_c": None,
    "dawn_c": None, "dawn_at": None, "high_c": None, "elevation_m": None, "station_kpa": None, "set_at": None,
    "silent": False, "stamp": "", "old": False, "age_h": None, "age_words": None, "by_hand": None, "week": [],
}  # fmt: skip
_DAY = dt.timedelta(days=1)


@dataclass(frozen=True)
class Surroundings:
    """The air here, this morning's, and that of the dawns until the next check, where known."""

    here: Air | None
    morning: Air | None
    dawns: tuple[core.Ahead, ...]


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


def _from_outlook(found: Outlook) -> dict[str, Any]:
    week = [
        {
            "date": d.date, "dawn_at": d.dawn_at, "dawn_c": d.dawn_c, "high_at": d.high_at, "high_c": d.high_c,
            "days": (d.dawn_at - found.at) / _DAY,
        }
        for d in found.week
    ]  # fmt: skip
    return _NOTHING | {
        "source": "service",
        "place_key": found.place.key,
        "place": found.place.name,
        "time_zone": found.place.time_zone,
        "outside_c": found.outside_c,
        "morning_c": found.morning_c,
        "dawn_c": found.dawn.dawn_c,
        "dawn_at": found.dawn.dawn_at,
        "high_c": found.dawn.high_c,
        "elevation_m": found.place.elevation_m,
        "stamp": MADE_UP if found.made_up else "",
        "week": week,
    }


def _by_hand(
    outside: float, elevation: float, dawn: float | None, high: float | None, measured: float | None
) -> dict[str, Any]:
    week = []
    if dawn is not None or high is not None:
        # By hand a dawn is the coming one: at most a day away.
        week = [{"date": None, "dawn_at": None, "dawn_c": dawn, "high_at": None, "high_c": high, "days": 1.0}]
    return _NOTHING | {
        "source": "hand", "outside_c": outside, "dawn_c": dawn, "high_c": high, "elevation_m": elevation,
        "station_kpa": measured, "week": week,
    }  # fmt: skip


_TYPED = ("outside_c", "dawn_c", "high_c", "elevation_m", "station_kpa")


def _typed(stored: RigAir) -> dict[str, Any] | None:
    """What was typed by hand for a rig, kept while a place is used as well; None: nothing was."""
    if stored.outside_c is None or stored.typed_at is None:
        return None
    return {n: getattr(stored, n) for n in _TYPED} | {"typed_at": stored.typed_at}


def _by_hand_of(stored: RigAir) -> dict[str, Any]:
    """Air as it was typed, with its age: what is old is shown and not gone by, a dawn that has passed is none to come."""
    assert stored.typed_at is not None
    age = core.given(stored.typed_at, timezone.now(), stored.offset_min)
    dawn, high = (None, None) if age.dawn_passed else (stored.dawn_c, stored.high_c)
    found = _by_hand(stored.outside_c or 0.0, stored.elevation_m or 0.0, dawn, high, stored.station_kpa)
    return found | {
        "set_at": stored.typed_at, "old": age.old, "age_h": age.age_h, "age_words": age.words if age.old else None,
    }  # fmt: skip


def air_of(actor: Actor, rig: Rig) -> dict[str, Any]:
    """The air in use for a rig: its own place or numbers, else the workspace's place, else nothing.

    `silent` says that the weather service should have answered and did not; `old` that it was typed too long ago to go by.
    """
    stored = getattr(rig, "air", None)
    typed = None if stored is None else _typed(stored)
    if stored is not None and not stored.place_key and typed is not None:
        return _by_hand_of(stored) | {"by_hand": typed}
    key = actor.workspace.place_key if stored is None else stored.place_key
    found = weather.try_outlook(actor, key)
    if found is not None:
        return _from_outlook(found) | {"by_hand": typed}
    return _NOTHING | {"place_key": key, "silent": bool(key), "by_hand": typed}


def read_air(actor: Actor, data: AirIn) -> dict[str, Any]:
    """Air as typed. Raises Refusal where neither a place nor temperature and elevation are given."""
    if data.place_key:
        return _from_outlook(weather.outlook(actor, data.place_key))
    if data.outside_c is None:
        raise Refusal("Enter the outside temperature, or choose a place.", "outside_c")
    if data.elevation_m is None:
        raise Refusal("Enter the elevation, or choose a place.", "elevation_m")
    measured = data.station_kpa.value if data.station_kpa else None
    if measured is not None:
        station(measured, data.elevation_m.value)
    dawn, high = (entry.value if entry else None for entry in (data.dawn_c, data.high_c))
    if dawn is not None and high is not None and high < dawn:
        raise Refusal("The day's high is below its dawn low. Check both.", "high_c")
    return _by_hand(data.outside_c.value, data.elevation_m.value, dawn, high, measured)


@transaction.atomic
def set_air(actor: Actor, rig_id: int, data: AirIn) -> None:
    """Keeps the air of a rig: a place to be asked again each time, or numbers by hand with their hour.

    A place leaves what was typed as it is; neither a place nor numbers goes back to what was typed.
    """
    actor.must(May.AIR)
    rig = rigs.rig(actor, rig_id)
    stored = RigAir.objects.filter(rig=rig).first()
    if stored is not None and _typed(stored) is not None and not data.place_key and data.outside_c is None:
        stored.place_key, stored.set_by = "", actor.person
        stored.save()
        return
    read = read_air(actor, data)
    kept: dict[str, Any] = {"place_key": read["place_key"], "set_by": actor.person}
    if read["source"] == "hand":
        kept |= {n: read[n] for n in _TYPED} | {"typed_at": timezone.now(), "offset_min": data.offset_min}
    RigAir.objects.update_or_create(rig=rig, defaults=kept)


@transaction.atomic
def confirm_air(actor: Actor, rig_id: int) -> None:
    """What was typed by hand still holds: it is now again. A dawn that has passed is not brought back.

    Raises Conflict where nothing was typed.
    """
    actor.must(May.AIR)
    stored = RigAir.objects.filter(rig=rigs.rig(actor, rig_id)).first()
    if stored is None or stored.place_key or _typed(stored) is None:
        raise Conflict("There is no air by hand to confirm. Enter it.", "outside_c")
    found = _by_hand_of(stored)
    stored.dawn_c, stored.high_c = found["dawn_c"], found["high_c"]
    stored.typed_at, stored.set_by = timezone.now(), actor.person
    stored.save()


def air_for(actor: Actor, found: list[Vehicle], data: AirIn) -> dict[str, Any]:
    """The air that is typed with a call, else the one in use for the first vehicle."""
    typed = data.place_key or data.outside_c is not None or data.elevation_m is not None
    return read_air(actor, data) if typed else air_of(actor, found[0].rig)


def today_in(air: dict[str, Any]) -> dt.date:
    """The date where the air is, by the place's own clock."""
    local: dt.datetime = timezone.now().astimezone(ZoneInfo(air["time_zone"]))
    return local.date()


def surroundings(air: dict[str, Any], check_days: int) -> Surroundings:
    """The air as the rules take it, with the dawns until the next check."""

    def of(temperature: float | None, measured: float | None = None) -> Air | None:
        if temperature is None or air["elevation_m"] is None or air["old"]:
            return None
        return Air(temperature, air["elevation_m"], measured)

    ahead = tuple(core.Ahead(dawn, day["days"]) for day in air["week"] if (dawn := of(day["dawn_c"])) is not None)
    here = of(air["outside_c"], air["station_kpa"])
    return Surroundings(here, of(air["morning_c"]), core.until_check(ahead, check_days))


def set_in(air: dict[str, Any], way: Way, elevation_m: float) -> Air:
    """The air that targets are set in, by the way, at an elevation; where no air is known, the reference of 20 °C."""
    around = surroundings(air | {"elevation_m": elevation_m}, way.check_days)
    return core.set_in(way.temperature, around.here or Air(core.REFERENCE_C, elevation_m), around.morning)


def known(air: dict[str, Any], found: list[Vehicle]) -> Surroundings:
    """The air as the rules take it. Raises Refusal where it is not known."""
    around = surroundings(air, found[0].way.check_days)
    if around.here is None and air["old"]:
        raise Refusal("The air was typed too long ago to go by. Confirm it, or give it anew.", "outside_c")
    if around.here is None:
        raise Refusal("The air outside is not known. Enter it, or choose a place.", "outside_c")
    return around


def vehicles(actor: Actor, rig_id: int, whole: bool = False, on_axles: bool = True) -> list[Vehicle]:
    """A rig, or with `whole` all that is hitched behind it too, with its bands and ways. Raises DoesNotExist.

    `on_axles` leaves spares and fitted tires out. The first one's way rules the air of all: they stand in one air and are checked together. Steps are each one's own.
    """
    if whole:
        train = rigs.train(actor, rig_id, also=("air", "policy"), on_axles=on_axles)
        mine = train[next(i for i, r in enumerate(train) if r.pk == rig_id) :]
    else:
        alone = rigs.rigs(actor).prefetch_related(None).prefetch_related("axles").select_related("air", "policy")
        mine = [alone.get(pk=rig_id)]
    sets = targets.bands_in_force(actor, mine)
    return [Vehicle(r, sets.get(r.pk), policies.way_of(actor, r)) for r in mine]


def here_of(axle: TargetAxle, vehicle: Vehicle, way: Way, around: Surroundings) -> core.TargetHere:
    """An axle's target in the air here and now, by the way of the whole."""
    assert axle.target_kpa is not None
    assert around.here is not None
    return core.target_here(
        axle.target_kpa, axle.floor_kpa, axle.ceiling_kpa, around.here, around.morning, around.dawns,
        vehicle.way.step_of.kpa, way.temperature,
    )  # fmt: skip


def axle_out(vehicle: Vehicle, axle: TargetAxle) -> dict[str, Any]:
    """Which axle it is, and its band."""
    return {
        "rig": vehicle.rig.pk,
        "rig_name": vehicle.rig.name,
        "number": axle.number,
        "name": vehicle.names.get(axle.number, f"Axle {axle.number}"),
        "floor_kpa": axle.floor_kpa,
        "target_kpa": axle.target_kpa,
        "ceiling_kpa": axle.ceiling_kpa,
    }


def answer(air: dict[str, Any], found: list[Vehicle], tried: dict[str, Any] | None = None) -> dict[str, Any]:
    """Every axle's target in this air, in words, with the week. Axles without a target are left out.

    `tried` are other ways than the rig's own, by name.
    """
    way = replace(found[0].way, **{k: v for k, v in (tried or {}).items() if v is not None})
    around = surroundings(air, way.check_days)
    judged = {d.days for d in around.dawns}
    week = [d | {"judged": d["days"] in judged} for d in air["week"]]
    axles = [_axle(air, week, v, a, way, around) for v in found for a in v.aimed] if around.here is not None else []
    return {"air": air | {"week": week}, "axles": axles, "words": _summary(air, axles, found[0].row), "way": way}


def _axle(
    air: dict[str, Any], week: list[dict[str, Any]], vehicle: Vehicle, axle: TargetAxle, way: Way, around: Surroundings
) -> dict[str, Any]:  # fmt: skip
    assert axle.target_kpa is not None
    assert around.here is not None
    here = here_of(axle, vehicle, way, around)

    def reads(temperature: float, days: float) -> core.Dawn:
        there = Air(temperature, air["elevation_m"])
        loss = core.ordinary_loss(axle.target_kpa or 0.0, days)
        return core.at_dawn(here.kpa, around.here, there, axle.floor_kpa, axle.ceiling_kpa, loss)  # type: ignore[arg-type]

    dawns = [None if d["dawn_c"] is None else reads(d["dawn_c"], d["days"]) for d in week]
    days = [
        {
            "dawn_kpa": dawn.kpa if dawn else None,
            "high_kpa": None if day["high_c"] is None else reads(day["high_c"], 0.0).kpa,
            "above_floor": dawn.above_floor if dawn else None,
            "below_ceiling": dawn.below_ceiling if dawn else None,
        }
        for day, dawn in zip(week, dawns, strict=True)
    ]
    before_check = tuple(dawn for day, dawn in zip(week, dawns, strict=True) if dawn and day["judged"])
    judged = core.judge(here.kpa, axle.floor_kpa, around.here, before_check)
    return axle_out(vehicle, axle) | {
        "here_kpa": here.kpa,
        "raised": here.raised,
        "lowered": here.lowered,
        "capped": here.capped,
        "hold_from_kpa": here.hold_from_kpa,
        "dawn_kpa": days[0]["dawn_kpa"] if days else None,
        "coldest_kpa": judged.coldest_kpa,
        "eaten": judged.eaten,
        "above_floor": judged.above_floor,
        "below_ceiling": judged.below_ceiling,
        "days": days,
        "words": judged.words,
        "notes": here.notes,
        "working": (*here.working, *judged.working),
    }


def _summary(air: dict[str, Any], axles: list[dict[str, Any]], row: TargetSet | None) -> Phrase:
    if air["source"] == "none":
        return say("weather service silent" if air["silent"] else "not set")
    if air["old"]:
        return air["age_words"]  # type: ignore[no-any-return]
    if row is None:
        return say("{0} outside", celsius(air["outside_c"]))
    if air["dawn_c"] is None:
        return say("dawn not known")
    if any(a["above_floor"] is False or a["below_ceiling"] is False for a in axles):
        return say("a dawn leaves the band")
    if any(a["raised"] for a in axles):
        return say("raised for the cold ahead")
    if any(a["lowered"] for a in axles):
        return say("lowered for the warmth ahead")
    # No word of holding unless every axle's floor is known, and holds.
    if len(axles) < len(row.axles.all()) or any(a["above_floor"] is None for a in axles):
        return say("the floor is not known")
    return say("the dawns hold the floor")
