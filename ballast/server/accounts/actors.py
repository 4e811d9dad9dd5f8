"""Who is acting, where, and what that role may do."""

import datetime as dt
from contextlib import suppress
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from django.conf import settings
from django.db import OperationalError
from django.http import HttpRequest
from django.utils.functional import LazyObject
from ninja.errors import HttpError
from ninja.security import APIKeyCookie, HttpBearer

from ballast.server.accounts.models import ApiKey, Membership, Person, Workspace
from ballast.server.edge import clock
from ballast.server.edge.keys import hash_of
from ballast.server.edge.problems import Conflict, Denied
from ballast.server.edge.ready import Ready
from ballast.server.edge.writing import set_workspace, soon_or_not


class May(StrEnum):
    """Each thing a person can do."""

    READ = "look at this workspace"
    RIGS = "add or change rigs"
    FIT = "fit tires or hitch trailers"
    WEIGH = "enter weighings"
    TABLES = "enter load-inflation tables"
    TARGETS = "put targets in force"
    AIR = "set the air"
    GAUGES = "add or compare gauges"
    ROUNDS = "do rounds"
    ASSIGN = "give rounds to people"
    OUT = "take rigs out of service"
    SIGN = "sign rigs off"
    PEOPLE = "change people and settings"


_TECHNICIAN = {May.READ, May.FIT, May.WEIGH, May.AIR, May.GAUGES, May.ROUNDS, May.OUT}
ROLES: dict[str, frozenset[May]] = {
    Membership.Role.MANAGER: frozenset(May),
    Membership.Role.TECHNICIAN: frozenset(_TECHNICIAN),
    Membership.Role.VIEWER: frozenset({May.READ}),
}


def roles_that_may(what: May) -> list[str]:
    return [role for role, may in ROLES.items() if what in may]


@dataclass(frozen=True)
class Actor:
    """A person acting in one workspace. Every service takes one and asks it first."""

    person: Person
    workspace: Workspace
    role: str
    # Acts by a key for scripts, and is not here in person.
    by_key: bool = False

    @property
    def practices(self) -> bool:
        """Whether this is practice: made up, one person's, and of no consequence."""
        return self.workspace.practice_of_id is not None

    def may(self, what: May) -> bool:
        return what in ROLES[self.role] and not (self.practices and what is May.PEOPLE)

    def must(self, what: May) -> None:
        """Raises Denied unless the role allows it."""
        if self.practices and what is May.PEOPLE:
            raise Denied("Practice is one person's, and its settings are the exercise's. Leave it first.")
        if not self.may(what):
            raise Denied(f"As {self.role} you may not {what.value}. Ask a manager of {self.workspace.name}.")

    def must_be_here(self) -> None:
        """Raises Denied for a key: who may come in, and how, is settled in person."""
        if self.by_key:
            raise Denied("A key does not do this. Sign in, and do it in person.")


class ActorRequest(HttpRequest):
    """A request that passed SignedIn."""

    auth: Actor


_MEMBERSHIPS = Ready[Membership](
    lambda person: Membership.objects.filter(person=person, off_at=None).select_related("workspace").order_by("id")
)


def find_actor(request: HttpRequest) -> Actor | None:
    """The signed-in person in the session's workspace, else in their first one; None when signed out."""
    person: Any = request.user
    if not person.is_authenticated:
        return None
    if isinstance(person, LazyObject):
        # The row itself: what stands for it is ten times as slow to ask.
        person = person._wrapped
    memberships = _MEMBERSHIPS(person.pk)
    chosen = request.session.get("workspace")
    membership = next((m for m in memberships if m.workspace_id == chosen), next(iter(memberships), None))
    if membership is None:
        return None
    clock.set_ahead(dt.timedelta(hours=membership.workspace.ahead_h))
    set_workspace(membership.workspace_id)
    return Actor(person, membership.workspace, membership.role)


class SignedIn(APIKeyCookie):
    """Session cookie with CSRF check; `request.auth` is the Actor."""

    param_name = settings.SESSION_COOKIE_NAME

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        actor = find_actor(request)
        meant = request.headers.get("X-Ballast-As", "")
        if actor is not None and meant and meant != f"{actor.person.pk}.{actor.workspace.pk}":
            # The page was somebody else's, or of another workspace: nothing it sends belongs to whoever is here now.
            raise Conflict("Somebody else is signed in here by now, or another workspace is in hand.", "session")
        return actor


def reaches(role: str, other: str) -> bool:
    """Whether a role may all that another may."""
    return ROLES[other] <= ROLES[role]


class ByApiKey(HttpBearer):
    """`Authorization: Bearer` with a person's key; `request.auth` is the Actor, by the key's role and the person's own."""

    def authenticate(self, request: HttpRequest, token: str) -> Any:
        key = (
            ApiKey.objects.filter(key_hash=hash_of(token), ended_at=None).select_related("person", "workspace").first()
        )
        member = (
            key
            and Membership.objects.filter(
                person=key.person, workspace=key.workspace, off_at=None, person__is_active=True
            ).first()
        )
        if key is None or member is None:
            raise HttpError(401, "This key is not known here, or was taken back. Make another.")
        today = clock.today()
        if key.used_on != today:
            with suppress(OperationalError), soon_or_not():
                ApiKey.objects.filter(pk=key.pk).update(used_on=today)
        # What is written is on record by its person's name.
        request.user = key.person
        set_workspace(key.workspace_id)
        return Actor(
            key.person, key.workspace, key.role if reaches(member.role, key.role) else member.role, by_key=True
        )
