"""A trip, leg by leg: typed, from the weather service, or from a CSV."""

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass, replace

from django.db import transaction
from pydantic import ValidationError

from ballast.core import air as core
from ballast.core.gas import Air
from ballast.core.refusal import Refusal, Refusals
from ballast.core.working import day
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import services
from ballast.server.air.models import RigTrip
from ballast.server.air.schemas import AxleTrip, LegIn, Night, Trip, TripIn, WorkTripIn
from ballast.server.edge.files import read_rows, read_text
from ballast.server.edge.problems import field_problem
from ballast.server.edge.versions import must_match, version_of
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.weather import services as weather
from ballast.server.weather.outlook import Outlook
from ballast.server.weather.service import WeatherUnavailable

COLUMNS = ("name", "date", "elevation", "dawn", "high", "place")
_DAY = dt.timedelta(days=1)
# What `leaves` asks of a rig, to be fetched along with it.
WITH_TRIP = ("trip", "head__trip")


@dataclass(frozen=True)
class TypedLeg:
    """A leg as it was typed."""

    name: str = ""
    place_key: str = ""
    on: str | None = None
    elevation_m: str | None = None
    dawn_c: str | None = None
    high_c: str | None = None

    @property
    def line(self) -> str:
        """As a person reads it."""
        return ", ".join(str(v) for v in vars(self).values() if v)


@dataclass(frozen=True)
class KeptTrip:
    """The trip that is kept for a rig, by whom and since when; without one, no legs."""

    legs: tuple[TypedLeg, ...]
    set_by: str
    set_at: dt.datetime | None

    @property
    def version(self) -> str:
        return version_of(_state(self.legs))


def read_legs(actor: Actor, legs: list[LegIn], today: dt.date) -> list[Night]:
    """The legs with their air: from the weather service where a place is named, what is typed before it.

    `today` is the date where the trip begins; a leg without a date is the next night. Raises Refusals, each beside its leg.
    """
    nights: list[Night] = []
    wrong: list[Refusal] = []
    asked: dict[str, Outlook | None] = {}
    night = today
    for i, leg in enumerate(legs):
        try:
            night = leg.on or night + _DAY
            if leg.on is not None and leg.on < today:
                raise Refusal("That date has passed. Enter one ahead.", "on")
            if nights and leg.on is not None and (last := nights[-1].date) is not None and leg.on < last:
                raise Refusal("A leg comes after the one before it. Check the dates.", "on")
            nights.append(_leg(actor, i, leg, night, today, asked))
        except Refusal as no:
            wrong.append(no.within(f"legs.{i}"))
    if wrong:
        raise Refusals(wrong)
    return nights


def _leg(
    actor: Actor, i: int, leg: LegIn, night: dt.date, today: dt.date, asked: dict[str, Outlook | None]
) -> Night:  # fmt: skip
    elevation = leg.elevation_m.value if leg.elevation_m else None
    dawn = leg.dawn_c.value if leg.dawn_c else None
    high = leg.high_c.value if leg.high_c else None
    name, days = leg.name, max(0.0, float((night - today).days))
    if leg.place_key:
        if leg.place_key not in asked:
            try:
                asked[leg.place_key] = weather.outlook(actor, leg.place_key)
            except WeatherUnavailable:
                asked[leg.place_key] = None
        there = asked[leg.place_key]
        if there is None and (elevation is None or dawn is None):
            raise Refusal("The weather service does not answer. Enter elevation and dawn low by hand.", "place_key")
        if there is not None:
            name = name or there.place.name
            elevation = there.place.elevation_m if elevation is None else elevation
            ahead = next((d for d in there.week if d.date == night), None)
            if ahead is not None:
                days = (ahead.dawn_at - there.at) / _DAY
                dawn = ahead.dawn_c if dawn is None else dawn
                high = ahead.high_c if high is None else high
            elif dawn is None and night < there.dawn.date:
                raise Refusal("The dawn of that day has passed there. Enter a date ahead.", "on")
            elif dawn is None:
                last = day(there.week[-1].date)
                raise Refusal(f"The forecast ends on {last}. Enter the dawn low that is usual there.", "dawn_c")
    if elevation is None:
        raise Refusal("Enter the elevation, or choose a place.", "elevation_m")
    if dawn is None:
        raise Refusal("Enter the dawn low, or choose a place.", "dawn_c")
    if high is not None and high < dawn:
        raise Refusal("The day's high is below its dawn low. Check both.", "high_c")
    return Night(name or f"Night {i + 1}", elevation, dawn, high, days, night)


def plan(actor: Actor, data: WorkTripIn) -> Trip:
    """Every axle along the trip: the one fill that holds, or where to stop and what to set there."""
    train = services.vehicles(actor, data.rig, data.whole)
    air = services.air_for(actor, train, data)
    around = services.known(air, train)
    here = around.here
    assert here is not None
    if not data.legs:
        raise Refusal("The trip has no leg yet. Enter the first night.", "legs")
    legs = read_legs(actor, data.legs, air.today)
    nights = tuple(core.Leg(n.name, Air(n.dawn_c, n.elevation_m), n.high_c, n.day) for n in legs)
    axles: list[AxleTrip] = []
    # What the policy asks for here, before any night is looked at.
    alone = replace(around, dawns=())
    for vehicle in train:
        for axle in vehicle.aimed:
            base = services.here_of(axle, vehicle, train[0].way, alone)
            step = vehicle.way.step_of.kpa
            trip = core.plan_trip(base.kpa, axle.floor_kpa, axle.ceiling_kpa, here, nights, step)
            axles.append(
                AxleTrip(
                    **vars(services.band_of(vehicle, axle)), here_kpa=base.kpa, stretches=trip.stretches,
                    readings=trip.readings, clash=trip.clash, words=trip.words, notes=trip.notes,
                )
            )  # fmt: skip
    one = all(a.clash is None for a in axles)
    stops = {s.at for a in axles for s in a.stretches if s.at is not None}
    return Trip(tuple(legs), tuple(axles), core.trip_in_a_line(bool(axles), one, len(stops)), one)


def blank() -> str:
    """A file to start from."""
    return (
        ",".join(COLUMNS) + '\r\nEmber Lake,2026-12-01,640 m,28 F,8 C,\r\nMarrow Pass,2026-12-02,"8,694 ft",-9 C,,\r\n'
    )


def read_file(actor: Actor, content: str) -> list[TypedLeg]:
    """The legs of a CSV, as typed, each checked. Raises Refusal naming the line."""
    known = {p.name.lower(): p.key for p in weather.places(actor)}
    legs: list[TypedLeg] = []
    for line, row in enumerate(read_rows(read_text(content), ("dawn",), COLUMNS), 2):
        place = row.get("place", "")
        key = known.get(place.lower(), place) if place else ""
        if place and key not in known.values():
            raise Refusal(
                f"Line {line}: the weather service does not know {place[:40]}. Leave the column empty.", "content"
            )
        body = {
            "name": row.get("name", ""), "place_key": key, "on": row.get("date") or None,
            "elevation_m": row.get("elevation") or None, "dawn_c": row.get("dawn") or None, "high_c": row.get("high") or None,
        }  # fmt: skip
        try:
            legs.append(_typed(LegIn.model_validate(body)))
        except ValidationError as no:
            problem = field_problem(dict(no.errors()[0]))
            raise Refusal(f"Line {line}, {problem.field}: {problem.message}", "content") from None
    if not legs:
        raise Refusal("There is no leg in the file. Start from the blank one.", "content")
    if len(legs) > core.MOST_LEGS:
        raise Refusal(f"The file has {len(legs)} legs, the most is {core.MOST_LEGS}. Split it.", "content")
    return legs


def _typed(leg: LegIn) -> TypedLeg:
    elevation, dawn, high = (entry.typed if entry else None for entry in (leg.elevation_m, leg.dawn_c, leg.high_c))
    return TypedLeg(leg.name, leg.place_key, leg.on.isoformat() if leg.on else None, elevation, dawn, high)


def _state(legs: Iterable[TypedLeg]) -> dict[str, list[str]]:
    """All that the form of a trip shows and writes."""
    return {"legs": [leg.line for leg in legs]}


def kept(actor: Actor, rig_id: int) -> KeptTrip:
    """The trip kept for a rig; without one, no legs."""
    rig = rigs.rig(actor, rig_id)
    row = RigTrip.objects.filter(rig=rig).select_related("set_by").first()
    if row is None:
        return KeptTrip((), "", None)
    return KeptTrip(tuple(TypedLeg(**leg) for leg in row.legs), row.set_by.shown_name, row.set_at)


def leaves(rig: Rig) -> dt.date | None:
    """The day on which a rig, or what tows it, leaves on its kept trip: before the first morning, where that has a date."""
    row = getattr(rig.head or rig, "trip", None)
    first = row.legs[0]["on"] if row is not None and row.legs else None
    return dt.date.fromisoformat(first) - _DAY if first else None


@transaction.atomic
def keep(actor: Actor, rig_id: int, data: TripIn) -> KeptTrip:
    """Keeps a rig's trip as typed; without legs, there is none any more. Raises Stale, naming the legs kept by now."""
    actor.must(May.AIR)
    rig = rigs.rig(actor, rig_id)
    legs = [_typed(leg) for leg in data.legs]
    must_match(data.version, _state(kept(actor, rig_id).legs), _state(legs), actor.person.units)
    RigTrip.objects.update_or_create(rig=rig, defaults={"legs": [vars(leg) for leg in legs], "set_by": actor.person})
    return kept(actor, rig_id)
