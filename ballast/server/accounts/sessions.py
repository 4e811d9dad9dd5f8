"""The sign-ins of a person that have not ended: seen, and ended from anywhere."""

import datetime as dt
import re
from contextlib import suppress
from dataclasses import dataclass

from django.contrib.sessions.models import Session
from django.db import OperationalError
from django.http import HttpRequest

from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import OpenSession, Person
from ballast.server.edge import clock
from ballast.server.edge.address import address_of
from ballast.server.edge.writing import soon_or_not

# Whether somebody was seen again is written down no more often than this.
_SEEN_AGAIN = dt.timedelta(minutes=5)
_DEVICES = (
    ("Android", "phone or tablet"), ("iPhone|iPad", "phone or tablet"), ("Windows", "desk, Windows"),
    ("Mac OS", "desk, macOS"), ("Linux", "desk, Linux"),
)  # fmt: skip
_BROWSERS = (("Firefox/", "Firefox"), ("Edg/", "Edge"), ("Chrome/", "Chrome"), ("Safari/", "Safari"))


@dataclass(frozen=True)
class SessionLine:
    """A sign-in: with what, from where, since when, and whether it is the one that asks."""

    id: int
    device: str
    address: str
    began_at: dt.datetime
    seen_at: dt.datetime
    here: bool


def _device(agent: str) -> str:
    found = [next((name for mark, name in of if re.search(mark, agent)), "") for of in (_BROWSERS, _DEVICES)]
    return ", ".join(filter(None, found)) or "Not known"


def began(request: HttpRequest, person: Person) -> None:
    """Writes down a session that begins."""
    if not request.session.session_key:
        request.session.save()
    now = clock.now()
    OpenSession.objects.update_or_create(
        session_key=request.session.session_key,
        defaults={
            "person": person, "began_at": now, "seen_at": now, "address": address_of(request),
            "agent": request.headers.get("User-Agent", "")[:300],
        },
    )  # fmt: skip


def seen(request: HttpRequest, person: Person) -> None:
    """Writes down that somebody was here; where others write just now, not."""
    late = clock.now() - _SEEN_AGAIN
    row = OpenSession.objects.filter(session_key=request.session.session_key, person=person, seen_at__lt=late)
    if row.exists():
        with suppress(OperationalError), soon_or_not():
            row.update(seen_at=clock.now())


def ended(request: HttpRequest) -> None:
    """Of a session that ends by itself."""
    OpenSession.objects.filter(session_key=request.session.session_key).delete()


def sessions(request: HttpRequest, actor: Actor) -> list[SessionLine]:
    """The open sessions of whoever asks, the last seen first. Raises Denied for a key."""
    actor.must_be_here()
    here = request.session.session_key
    live = Session.objects.filter(expire_date__gt=clock.now()).values("session_key")
    rows = OpenSession.objects.filter(person=actor.person, session_key__in=live).order_by("-seen_at", "-id")
    return [SessionLine(r.pk, _device(r.agent), r.address, r.began_at, r.seen_at, r.session_key == here) for r in rows]


def end(request: HttpRequest, actor: Actor, session_id: int) -> list[SessionLine]:
    """Ends a session of one's own; what is shown there asks to sign in at its next call. Raises DoesNotExist."""
    actor.must_be_here()
    _end([OpenSession.objects.get(person=actor.person, pk=session_id).session_key])
    return sessions(request, actor)


def end_others(request: HttpRequest, actor: Actor) -> list[SessionLine]:
    """Ends all but the one that asks."""
    actor.must_be_here()
    end_all(actor.person, request.session.session_key)
    return sessions(request, actor)


def end_all(person: Person, but: str | None = None) -> None:
    """Ends every session of a person, but one."""
    rows = OpenSession.objects.filter(person=person).exclude(session_key=but or "")
    _end(list(rows.values_list("session_key", flat=True)))


def _end(keys: list[str]) -> None:
    Session.objects.filter(session_key__in=keys).delete()
    OpenSession.objects.filter(session_key__in=keys).delete()


def forget() -> int:
    """Takes away what has expired; how many rows."""
    gone, _ = Session.objects.filter(expire_date__lt=clock.now()).delete()
    left, _ = OpenSession.objects.exclude(session_key__in=Session.objects.values("session_key")).delete()
    return gone + left
