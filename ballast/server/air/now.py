"""The air in use for a rig: its own place or numbers, else the workspace's place; with its age, and the week ahead."""

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any, Literal
from zoneinfo import ZoneInfo

from django.db import transaction
from pydantic import TypeAdapter

from ballast.core import air as core
from ballast.core import units
from ballast.core.gas import Air, station
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor, May
from ballast.server.air.models import RigAir
from ballast.server.air.schemas import AirIn, AirKeptIn, ByHand, DayAhead, ForecastIn
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.edge.versions import must_match, version_of
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.targets.policies import Way
from ballast.server.weather import services as weather
from ballast.server.weather.outlook import Outlook
from ballast.server.weather.service import MADE_UP

_DAY = dt.timedelta(days=1)
_FORECAST: TypeAdapter[tuple[core.ForecastDay, ...]] = TypeAdapter(tuple[core.ForecastDay, ...])
# The columns of the air that are typed by hand.
_BY_HAND = ("outside_c", "dawn_c", "high_c", "elevation_m", "station_kpa")


@dataclass(frozen=True)
class AirNow:
    """The air in use. Unknown is None. `silent`: the weather service should have answered and did not.

    `old`: typed too long ago to go by, with its age in words; `stamp`: of a simulation; `version`: of what is kept for the rig.
    """

    source: Literal["service", "hand", "none"] = "none"
    place_key: str = ""
    place: str = ""
    time_zone: str = "UTC"
    outside_c: float | None = None
    morning_c: float | None = None
    dawn_c: float | None = None
    dawn_at: dt.datetime | None = None
    high_c: float | None = None
    elevation_m: float | None = None
    station_kpa: float | None = None
    set_at: dt.datetime | None = None
    silent: bool = False
    stamp: str = ""
    old: bool = False
    age_h: float | None = None
    age_words: Phrase | None = None
    by_hand: ByHand | None = None
    week: tuple[DayAhead, ...] = ()
    version: str = ""

    @property
    def today(self) -> dt.date:
        """The date where the air is, by the place's own clock."""
        local: dt.datetime = clock.now().astimezone(ZoneInfo(self.time_zone))
        return local.date()


def _from_outlook(outlook: Outlook) -> AirNow:
    week = tuple(
        DayAhead(d.date, d.dawn_at, d.dawn_c, d.high_at, d.high_c, (d.dawn_at - outlook.at) / _DAY)
        for d in outlook.week
    )
    return AirNow(
        source="service", place_key=outlook.place.key, place=outlook.place.name, time_zone=outlook.place.time_zone,
        outside_c=outlook.outside_c, morning_c=outlook.morning_c, dawn_c=outlook.dawn.dawn_c, dawn_at=outlook.dawn.dawn_at,
        high_c=outlook.dawn.high_c, elevation_m=outlook.place.elevation_m, stamp=MADE_UP if outlook.made_up else "", week=week,
    )  # fmt: skip


def _ahead(
    dawn: float | None, high: float | None, forecast: Iterable[core.ForecastDay], offset_min: int | None
) -> tuple[DayAhead, ...]:
    """The days ahead by hand."""
    coming = core.coming_days(dawn, high, forecast, clock.now(), offset_min or 0)
    return tuple(DayAhead(d.on, None, d.low_c, None, d.high_c, d.days) for d in coming)


def _by_hand(outside: float, elevation: float | None, measured: float | None, week: tuple[DayAhead, ...]) -> AirNow:
    first = week[0] if week else None
    return AirNow(
        source="hand",
        outside_c=outside,
        dawn_c=first.dawn_c if first else None,
        high_c=first.high_c if first else None,
        elevation_m=elevation,
        station_kpa=measured,
        week=week,
    )


def state_of(stored: RigAir | None) -> dict[str, object]:
    """All that the form of the air shows and writes, column by column."""
    columns = {n: getattr(stored, n, None) for n in _BY_HAND} | {"place_key": stored.place_key if stored else ""}
    return columns | {"forecast": stored.forecast if stored else []}


def _typed(stored: RigAir | None) -> ByHand | None:
    """What was typed by hand for a rig; None: nothing was."""
    if stored is None or stored.outside_c is None or stored.typed_at is None:
        return None
    return ByHand(
        stored.outside_c, stored.dawn_c, stored.high_c, stored.elevation_m, stored.station_kpa, stored.typed_at,
        _FORECAST.validate_python(stored.forecast), stored.forecast_at,
    )  # fmt: skip


def _aged(typed: ByHand, offset_min: int | None) -> AirNow:
    """Air as it was typed, with its age: what is old is shown and not gone by, a dawn that has passed is none to come."""
    age = core.given(typed.typed_at, clock.now(), offset_min)
    dawn, high = (None, None) if age.dawn_passed else (typed.dawn_c, typed.high_c)
    known = core.forecast_holds(typed.forecast_at, clock.now())
    week = _ahead(dawn, high, typed.forecast if known else (), offset_min)
    return replace(
        _by_hand(typed.outside_c, typed.elevation_m or 0.0, typed.station_kpa, week),
        set_at=typed.typed_at, old=age.old, age_h=age.age_h, age_words=age.words if age.old else None,
    )  # fmt: skip


def place(actor: Actor, place_key: str, of_round: bool) -> str:
    """The place that a rig's air is asked of: its own, else the workspace's; what was typed for a round gives way to that."""
    return actor.workspace.place_key if of_round and not place_key else place_key


def place_of(actor: Actor, stored: RigAir | None) -> str:
    """`place` by what is kept for a rig; where nothing is, the workspace's."""
    return actor.workspace.place_key if stored is None else place(actor, stored.place_key, stored.of_round)


def at_place(actor: Actor, key: str) -> AirNow:
    """The air that the weather service says of a place; silent where it does not answer."""
    said = weather.try_outlook(actor, key)
    return _from_outlook(said) if said is not None else AirNow(place_key=key, silent=bool(key))


def air_of(actor: Actor, rig: Rig) -> AirNow:
    """The air in use for a rig: its own place or numbers, else the workspace's place, else nothing."""
    return in_use(actor, getattr(rig, "air", None))


def in_use(actor: Actor, stored: RigAir | None) -> AirNow:
    """`air_of` a rig by what is kept for it."""
    typed, key = _typed(stored), place_of(actor, stored)
    found = _aged(typed, stored.offset_min) if not key and stored and typed else at_place(actor, key)
    return replace(found, by_hand=typed, version=version_of(state_of(stored)))


def _numbers(data: AirIn) -> dict[str, float | None]:
    """The columns of the air that were typed by hand."""
    return {n: entry.value if (entry := getattr(data, n)) else None for n in _BY_HAND}


def _forecast(data: AirIn, kept: RigAir | None) -> tuple[core.ForecastDay, ...]:
    """The days ahead as typed, else as they are kept. Raises Refusal for such as contradict each other."""
    if data.forecast is None:
        typed = _typed(kept)
        holds = typed and kept and not kept.place_key and core.forecast_holds(typed.forecast_at, clock.now())
        return typed.forecast if typed and holds else ()
    days = [core.ForecastDay(d.on, d.low_c.value, d.high_c.value if d.high_c else None) for d in data.forecast]
    core.check_forecast(days)
    return tuple(sorted(days, key=lambda d: d.on))


def read_forecast(actor: Actor, data: ForecastIn) -> core.ForecastRead:
    """What a pasted forecast says, bare numbers in the person's unit. Raises Refusal where nothing stands there."""
    actor.must(May.READ)
    degrees: core.Degrees = units.shown_in(actor.person.units)["temperature"]  # type: ignore[assignment]
    return core.read_forecast(data.text, data.today, degrees, data.columns)


def read_air(actor: Actor, data: AirIn, kept: RigAir | None = None) -> AirNow:
    """Air as typed, with the forecast that is kept for the rig where none comes with it.

    Raises Refusal where neither a place nor temperature and elevation are given.
    """
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
    week = _ahead(
        dawn, high, _forecast(data, kept), kept.offset_min if kept and data.offset_min is None else data.offset_min
    )
    return _by_hand(data.outside_c.value, data.elevation_m.value, measured, week)


@transaction.atomic
def set_air(actor: Actor, rig_id: int, data: AirKeptIn) -> None:
    """Keeps the air of a rig: a place to be asked again each time, or numbers by hand with their hour.

    A place leaves what was typed as it is; neither a place nor numbers goes back to what was typed. Raises Stale.
    """
    actor.must(May.AIR)
    rig = rigs.rig(actor, rig_id)
    stored = RigAir.objects.filter(rig=rig).first()
    numbers = _numbers(data)
    days = _FORECAST.dump_python(_forecast(data, stored), mode="json")
    wanted = numbers | {"place_key": data.place_key, "forecast": days}
    must_match(data.version, state_of(stored), wanted, actor.person.units)
    if stored is not None and _typed(stored) is not None and not data.place_key and data.outside_c is None:
        stored.place_key, stored.set_by = "", actor.person
        stored.save()
        return
    read = read_air(actor, data, stored)
    kept: dict[str, Any] = {"place_key": read.place_key, "set_by": actor.person, "of_round": False}
    if read.source == "hand":
        kept |= numbers | {"typed_at": clock.now(), "offset_min": data.offset_min, "forecast": days}
        # The same days, kept along with new numbers, grow no younger by it.
        same = stored is not None and stored.forecast == days and stored.forecast_at is not None
        kept["forecast_at"] = (stored.forecast_at if same and stored else clock.now()) if days else None
    RigAir.objects.update_or_create(rig=rig, defaults=kept)


def keep_rounds_own(actor: Actor, rig: Rig, data: AirIn, at: dt.datetime) -> None:
    """What was typed for a round opened `at` is the rig's air as of then, where it goes by no place and by nothing newer."""
    stored = RigAir.objects.filter(rig=rig).first()
    newer = stored is not None and stored.typed_at is not None and stored.typed_at > at
    if data.place_key or actor.workspace.place_key or newer or (stored is not None and stored.place_key):
        return
    chosen = stored is not None and not stored.of_round
    offset = stored.offset_min if stored else None
    RigAir.objects.update_or_create(
        rig=rig,
        defaults=_numbers(data)
        | {
            "place_key": "",
            "typed_at": at,
            "offset_min": offset,
            "set_by": actor.person,
            "of_round": not chosen,
        },
    )


@transaction.atomic
def confirm_air(actor: Actor, rig_id: int) -> None:
    """What was typed by hand still holds: it is now again. A dawn that has passed is not brought back.

    Raises Conflict where nothing was typed.
    """
    actor.must(May.AIR)
    stored = RigAir.objects.filter(rig=rigs.rig(actor, rig_id)).first()
    typed = _typed(stored)
    if stored is None or stored.place_key or typed is None:
        raise Conflict("There is no air by hand to confirm. Enter it.", "outside_c")
    if core.given(typed.typed_at, clock.now(), stored.offset_min).dawn_passed:
        stored.dawn_c = stored.high_c = None
    stored.typed_at, stored.set_by = clock.now(), actor.person
    stored.save()


@dataclass(frozen=True)
class Surroundings:
    """The air here, this morning's, and that of the dawns until the next check, where known."""

    here: Air | None
    morning: Air | None
    dawns: tuple[core.Ahead, ...]


def surroundings(now: AirNow, check_days: int) -> Surroundings:
    """The air as the rules take it, with the dawns until the next check; what is old is not gone by."""

    def of(temperature: float | None, measured: float | None = None) -> Air | None:
        if temperature is None or now.elevation_m is None or now.old:
            return None
        return Air(temperature, now.elevation_m, measured)

    ahead = tuple(dawn for _, dawn in dawns(now))
    return Surroundings(of(now.outside_c, now.station_kpa), of(now.morning_c), core.until_check(ahead, check_days))


def dawns(now: AirNow) -> tuple[tuple[dt.date | None, core.Ahead], ...]:
    """Every dawn ahead, with its day, none where just the coming one was typed; what is old is not gone by."""
    if now.elevation_m is None or now.old:
        return ()
    return tuple(
        (day.date, core.Ahead(Air(day.dawn_c, now.elevation_m), day.days)) for day in now.week if day.dawn_c is not None
    )


def set_in(now: AirNow, way: Way, elevation_m: float) -> Air:
    """The air that targets are set in, by the way, at an elevation; where no air is known, the reference of 20 °C."""
    around = surroundings(replace(now, elevation_m=elevation_m), way.check_days)
    return core.set_in(way.temperature, around.here or Air(core.REFERENCE_C, elevation_m), around.morning)
