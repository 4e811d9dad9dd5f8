"""Keys for scripts: a person's, in one workspace, told once, and taken back at any time."""

import datetime as dt
from dataclasses import dataclass

from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May, reaches
from ballast.server.accounts.models import ApiKey
from ballast.server.edge import clock
from ballast.server.edge.keys import hash_of, new_key
from ballast.server.edge.writing import over_workspaces

_BEGINS = "gb_"


@dataclass(frozen=True)
class KeyLine:
    """A key that is good: whose, for what, and when it was used last."""

    id: int
    name: str
    role: str
    person: str
    own: bool
    made_at: dt.datetime
    used_on: dt.date | None


@dataclass(frozen=True)
class KeyMade:
    """A key, told this once, and all that are good by now."""

    key: str
    keys: list[KeyLine]


def keys(actor: Actor) -> list[KeyLine]:
    """One's own keys in the workspace; a manager sees everybody's."""
    actor.must_be_here()
    rows = ApiKey.objects.filter(workspace=actor.workspace, ended_at=None).select_related("person")
    if not actor.may(May.PEOPLE):
        rows = rows.filter(person=actor.person)
    return [
        KeyLine(r.pk, r.name, r.role, r.person.shown_name, r.person_id == actor.person.pk, r.made_at, r.used_on)
        for r in rows
    ]


@over_workspaces()
def make(actor: Actor, name: str, role: str) -> KeyMade:
    """A key more, with a role no further than one's own. Raises Refusal, Denied for a key."""
    actor.must_be_here()
    actor.must(May.READ)
    if not reaches(actor.role, role):
        raise Refusal(f"As {actor.role} you cannot give a key that may more. Choose a lower role.", "role")
    key = new_key(_BEGINS)
    ApiKey.objects.create(
        person=actor.person, workspace=actor.workspace, name=name, key_hash=hash_of(key), role=role, made_at=clock.now()
    )
    return KeyMade(key, keys(actor))


@over_workspaces()
def take_back(actor: Actor, key_id: int) -> list[KeyLine]:
    """A key that is good no more: one's own, or for a manager anybody's. Raises DoesNotExist."""
    actor.must_be_here()
    rows = ApiKey.objects.filter(workspace=actor.workspace, ended_at=None)
    row = (rows if actor.may(May.PEOPLE) else rows.filter(person=actor.person)).get(pk=key_id)
    row.end()
    return keys(actor)
