"""Calendar feeds (RFC 5545): an event for each rig and reason, at seven in the morning of its place, under a name that stays."""

import datetime as dt
from contextlib import suppress
from dataclasses import dataclass
from zoneinfo import ZoneInfo

from django.conf import settings
from django.db import OperationalError, transaction
from icalendar import Calendar, Event

from ballast.core import standing
from ballast.core.refusal import Refusal
from ballast.core.working import say
from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import Membership
from ballast.server.air import now as air
from ballast.server.assignments import services as assignments
from ballast.server.edge import clock
from ballast.server.edge.keys import hash_of, new_key
from ballast.server.edge.problems import Unavailable
from ballast.server.edge.writing import soon_or_not
from ballast.server.rigs.models import Rig
from ballast.server.schedule.models import Feed
from ballast.server.schedule.schemas import FeedIn, FeedMade, FeedOut
from ballast.server.schedule.services import KINDS, Due, dues
from ballast.server.weather import services as weather
from ballast.server.yard import standings

# As far ahead as a calendar is filled, and the hour at which somebody walks around a rig.
AHEAD, AT, LASTS = dt.timedelta(days=400), dt.time(7), dt.timedelta(minutes=30)


@dataclass(frozen=True)
class _Asked:
    """A feed that is good, and who looks."""

    feed: Feed
    actor: Actor


def feeds(actor: Actor) -> list[FeedOut]:
    """One's own feeds that are good."""
    rows = Feed.objects.of(actor.workspace).filter(person=actor.person, ended_at=None).select_related("rig")
    return [
        FeedOut(
            id=r.pk, of=r.rig.shown_name if r.rig else "Rounds given to you" if r.own else "All that is due",
            made_at=r.made_at, fetched_on=r.fetched_on,
        )
        for r in rows
    ]  # fmt: skip


@transaction.atomic
def make(actor: Actor, data: FeedIn) -> FeedMade:
    """A feed more; its address is told once. Raises Refusal for a rig that is not here."""
    actor.must_be_here()
    rig = None
    if data.rig is not None:
        rig = Rig.objects.of(actor.workspace).filter(pk=data.rig).first()
        if rig is None:
            raise Refusal("There is no such rig in this workspace.", "rig")
    key = new_key()
    Feed.objects.create(
        workspace=actor.workspace,
        person=actor.person,
        rig=rig,
        own=data.own,
        key_hash=hash_of(key),
        made_at=clock.now(),
    )
    return FeedMade(path=f"/api/v1/calendar/{key}.ics", feeds=feeds(actor))


@transaction.atomic
def take_back(actor: Actor, feed_id: int) -> list[FeedOut]:
    """A feed that is good no more. Raises DoesNotExist."""
    actor.must_be_here()
    row = Feed.objects.of(actor.workspace).filter(person=actor.person, ended_at=None).get(pk=feed_id)
    row.end()
    return feeds(actor)


def _asked(key: str) -> _Asked:
    """Raises DoesNotExist for a key that is good no more, or whose person may not come in."""
    feed = Feed.objects.select_related("person", "workspace", "rig").get(key_hash=hash_of(key), ended_at=None)
    member = Membership.objects.get(person=feed.person, workspace=feed.workspace, off_at=None, person__is_active=True)
    return _Asked(feed, Actor(feed.person, feed.workspace, member.role))


def calendar(key: str, host: str) -> bytes:
    """The calendar of a feed. Raises DoesNotExist."""
    asked = _asked(key)
    feed, actor, today = asked.feed, asked.actor, clock.today()
    if feed.fetched_on != today:
        with suppress(OperationalError), soon_or_not():
            Feed.objects.filter(pk=feed.pk).update(fetched_on=today)
    made = Calendar()
    made.add("prodid", "-//Gentle Ballast//Schedule//EN")
    made.add("version", "2.0")
    made.add("x-wr-calname", f"{actor.workspace.name}: {feed.rig.shown_name if feed.rig else 'tires'}")
    zones = _zones(actor)
    for due in [] if feed.own else _known(actor, feed.rig_id):
        if standing.due_by(due.on, today + AHEAD):
            made.add_component(_event(actor, due, zones, host))
    rows = assignments.assignments(actor).select_related("rig")
    given = rows.filter(rig=feed.rig) if feed.rig else rows if not feed.own else rows.filter(yours=True)
    for row in given:
        words = say(f"Given to {row.to}" + (f": {row.note}" if row.note else ""))
        name = f"{row.rig.shown_name}, {row.to}"
        made.add_component(
            _event(actor, Due("round", name, row.on, words, row.made_at, rig=row.rig_id), zones, host, row.pk)
        )
    made.add_missing_timezones()
    return bytes(made.to_ical())


def _known(actor: Actor, rig: int | None) -> list[Due]:
    """All that is due. Raises Unavailable where that is not known of a rig just now: what a calendar has stays as it is."""
    while standings.renew(actor):
        pass
    listed, anew = dues(actor, rig=rig)
    if anew:
        raise Unavailable("Something is being worked out anew. Fetch it again in a minute.")
    return listed


def _zones(actor: Actor) -> dict[int, str]:
    """The time zone of each rig's place; what has none is not in it."""
    zones = {p.key: p.time_zone for p in weather.places(actor)}
    rigs = Rig.objects.of(actor.workspace).filter(archived=False).select_related("air")
    places = {rig.pk: air.place_of(actor, getattr(rig, "air", None)) for rig in rigs}
    return {rig: zones[place] for rig, place in places.items() if place in zones}


def _event(actor: Actor, due: Due, zones: dict[int, str], host: str, given: int | None = None) -> Event:
    """One of what is due; `given`: the number of the round that somebody has to do."""
    today = clock.today()
    on = max(due.on or today, today)
    event = Event()
    of = f"given-{given}" if given else f"{due.kind}-{due.rig or due.gauge}"
    event.add("uid", f"{of}-{actor.workspace.pk}@gentle-ballast")
    event.add("dtstamp", due.made_at)
    late = "" if due.on is None or due.on >= today else f", due since {due.on:%b} {due.on.day}"
    what = KINDS[due.kind]
    event.add("summary", f"{what}: {due.name}{late}")
    event.add("description", due.why.show(actor.person.units))
    event.add("categories", [what])
    path = f"rigs/{due.rig}" if due.rig else f"gauges/{due.gauge}"
    event.add("url", f"{'https' if settings.HTTPS else 'http'}://{host}/{path}")
    if zone := zones.get(due.rig or 0):
        begins = dt.datetime.combine(on, AT, ZoneInfo(zone))
        event.add("dtstart", begins)
        event.add("dtend", begins + LASTS)
    else:
        event.add("dtstart", on)
    return event
