"""Who is in a workspace: asked in by a link, given a role, kept out for a while, taken off. What they did keeps their name."""

import datetime as dt
from dataclasses import dataclass

from django.db.models import Case, QuerySet, When
from django.db.models.functions import Lower
from django.http import HttpRequest

from ballast.core.refusal import Refusal
from ballast.server.accounts import factor, services
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import ApiKey, Link, Membership, Person
from ballast.server.accounts.schemas import PeopleIn
from ballast.server.edge import clock
from ballast.server.edge.files import Listed
from ballast.server.edge.finding import every_word
from ballast.server.edge.keys import hash_of, new_key
from ballast.server.edge.problems import Conflict
from ballast.server.edge.versions import must_match
from ballast.server.edge.writing import over_workspaces

LASTS = dt.timedelta(hours=72)
# So many are shown at a time.
PAGE = 50
_LOOKED_IN = ("person__first_name", "person__last_name", "person__username", "role")
_OUT = Case(When(off_at=None, then=0), default=1)
_ORDERS: dict[str, tuple[Case, ...]] = {
    "name": (),
    "role": (Case(*(When(role=role, then=i) for i, role in enumerate(Membership.Role.values))),),
}


@dataclass(frozen=True)
class People:
    """A page of the people of a workspace: of `total` so many were `found`."""

    people: list[Membership]
    page: int
    total: int
    found: int


@dataclass(frozen=True)
class LinkLine:
    """A link that is still good; `member`: whose password it sets anew, None: it invites."""

    id: int
    name: str
    role: str
    member: int | None
    made_by: str
    ends_at: dt.datetime


@dataclass(frozen=True)
class LinkMade:
    """A link's key, which is told once, and until when it is good."""

    key: str
    ends_at: dt.datetime


@dataclass(frozen=True)
class Asked:
    """What a link is for: into which workspace and as what, or a new password for whom."""

    workspace: str
    made_by: str
    name: str
    role: str
    username: str
    ends_at: dt.datetime


def members(actor: Actor, of: PeopleIn | None = None) -> QuerySet[Membership]:
    """Everybody of the workspace, or those who are asked for, in their order; who may not come in after all."""
    actor.must(May.READ)
    of = of or PeopleIn()
    rows = every_word(actor.workspace.memberships.select_related("person"), of.find, *_LOOKED_IN)
    return rows.order_by(_OUT, *_ORDERS[of.sort], Lower("person__first_name"), "id")


def page(actor: Actor, of: PeopleIn) -> People:
    """A page of those who are asked for."""
    found = members(actor, of)
    return People(
        list(found[of.first : of.first + PAGE]), PAGE, total=actor.workspace.memberships.count(), found=found.count()
    )


def as_rows(actor: Actor, of: PeopleIn) -> Listed:
    """Those who are looked for, as a file of rows."""
    rows = (
        {
            "name": m.person.shown_name,
            "sign_in_name": m.person.username,
            "role": m.role,
            "may_come_in": m.off_at is None,
        }
        for m in members(actor, of).iterator(500)
    )
    return ("name", "sign_in_name", "role", "may_come_in"), rows


def _in_person(actor: Actor) -> None:
    actor.must(May.PEOPLE)
    actor.must_be_here()


@over_workspaces()
def add_member(actor: Actor, name: str, username: str, password: str, role: str) -> Membership:
    _in_person(actor)
    person = services.new_person(name, username, password)
    return Membership.objects.create(person=person, workspace=actor.workspace, role=role)


def _member(actor: Actor, membership_id: int) -> Membership:
    found: Membership = (
        actor.workspace.memberships.select_for_update(of=("self",)).select_related("person").get(pk=membership_id)
    )
    return found


def _keep_a_manager(member: Membership) -> None:
    """Raises Conflict where nobody else could let people in."""
    others = member.workspace.memberships.filter(role=Membership.Role.MANAGER, off_at=None).exclude(pk=member.pk)
    if member.role == Membership.Role.MANAGER and member.off_at is None and not others.exists():
        raise Conflict("This is the last manager. Make somebody else manager first.", "role")


@over_workspaces()
def change_role(actor: Actor, membership_id: int, role: str, seen: str = "") -> Membership:
    """Changes a role. Raises Conflict when the last manager would be gone, Stale where another changed it meanwhile."""
    _in_person(actor)
    member = _member(actor, membership_id)
    must_match(seen, {"role": member.role}, {"role": role}, actor.person.units)
    if role != Membership.Role.MANAGER:
        _keep_a_manager(member)
    member.role = role
    member.save()
    return member


@over_workspaces()
def keep_out(actor: Actor, membership_id: int, out: bool) -> Membership:
    """Somebody may not come in here for now, or may again; at once, wherever they are signed in. Raises Conflict."""
    _in_person(actor)
    member = _member(actor, membership_id)
    if out:
        _keep_a_manager(member)
    member.off_at = (member.off_at or clock.now()) if out else None
    member.save()
    return member


@over_workspaces()
def take_off(actor: Actor, membership_id: int) -> None:
    """Somebody is of this workspace no more: their keys and links end, what they did keeps their name. Raises Conflict."""
    _in_person(actor)
    member = _member(actor, membership_id)
    _keep_a_manager(member)
    ApiKey.objects.filter(person=member.person, workspace=actor.workspace, ended_at=None).update(ended_at=clock.now())
    member.delete()


def links(actor: Actor) -> list[LinkLine]:
    """The links that are still good, the newest first."""
    _in_person(actor)
    rows = Link.objects.filter(workspace=actor.workspace, ended_at=None, ends_at__gt=clock.now())
    return [
        LinkLine(
            r.pk, r.member.person.shown_name if r.member else r.name, r.role, r.member_id, r.made_by.shown_name, r.ends_at
        )
        for r in rows.select_related("member__person", "made_by").order_by("-id")
    ]  # fmt: skip


def _made(actor: Actor, **of: object) -> LinkMade:
    key, now = new_key(), clock.now()
    Link.objects.create(
        workspace=actor.workspace, key_hash=hash_of(key), made_by=actor.person, made_at=now, ends_at=now + LASTS, **of
    )
    return LinkMade(key, now + LASTS)


@over_workspaces()
def invite(actor: Actor, name: str, role: str) -> LinkMade:
    """A link into the workspace, good once and for 72 hours."""
    _in_person(actor)
    return _made(actor, name=name, role=role)


@over_workspaces()
def reset(actor: Actor, membership_id: int, factor_off: bool) -> LinkMade:
    """A link to a new password for somebody; the ones before it end.

    Raises Conflict for somebody who is in another workspace too: nobody gets in there by being a manager here.
    """
    _in_person(actor)
    member = _member(actor, membership_id)
    elsewhere = member.person.memberships.filter(workspace__practice_of=None).exclude(workspace=actor.workspace)
    if elsewhere.exists():
        raise Conflict(
            f"{member.person.shown_name} is in another workspace too, so its password is not yours to set. They change it "
            "themselves, or whoever runs the server does: manage.py changepassword."
        )
    member.links.filter(ended_at=None).update(ended_at=clock.now())
    return _made(actor, member=member, factor_off=factor_off)


@over_workspaces()
def take_back(actor: Actor, link_id: int) -> list[LinkLine]:
    """A link that is good no more. Raises DoesNotExist."""
    _in_person(actor)
    row = Link.objects.get(workspace=actor.workspace, ended_at=None, pk=link_id)
    row.end()
    return links(actor)


def _link(key: str) -> Link:
    """The link of a key. Raises Refusal where it is good no more, or never was."""
    rows = Link.objects.select_for_update(of=("self",)).filter(ended_at=None, ends_at__gt=clock.now())
    found = rows.select_related("workspace", "made_by").filter(key_hash=hash_of(key)).first()
    if found is None:
        raise Refusal("This link was used, was taken back, or has ended. Ask for another.", "key")
    return found


@over_workspaces()
def asked(key: str) -> Asked:
    """What a link is for. Raises Refusal."""
    row = _link(key)
    username = row.member.person.username if row.member else ""
    return Asked(row.workspace.name, row.made_by.shown_name, row.name, row.role, username, row.ends_at)


def _invitation(key: str) -> Link:
    row = _link(key)
    if row.member_id is not None:
        raise Refusal("This link is for a new password, not for coming in.", "key")
    return row


@over_workspaces()
def join(request: HttpRequest, key: str, name: str, username: str, password: str) -> Person:
    """Somebody new comes in by an invitation. Raises Refusal, Conflict for a name that is taken."""
    row = _invitation(key)
    person = services.new_person(name, username, password)
    Membership.objects.create(person=person, workspace=row.workspace, role=row.role)
    row.end()
    return services.enter(request, person)


@over_workspaces()
def join_as_oneself(request: HttpRequest, actor: Actor, key: str) -> None:
    """Whoever is signed in comes into another workspace by an invitation. Raises Refusal, Conflict where they are in it."""
    actor.must_be_here()
    row = _invitation(key)
    if row.workspace.memberships.filter(person=actor.person).exists():
        raise Conflict(f"You are in {row.workspace.name} already.", "key")
    Membership.objects.create(person=actor.person, workspace=row.workspace, role=row.role)
    row.end()
    request.session["workspace"] = row.workspace_id


@over_workspaces()
def set_anew(key: str, password: str) -> None:
    """A new password by a link; every session of before ends. Raises Refusal."""
    row = _link(key)
    if row.member is None:
        raise Refusal("This link is for coming in, not for a new password.", "key")
    services.set_password(row.member.person, password)
    if row.factor_off:
        factor.off(row.member.person)
    row.end()
