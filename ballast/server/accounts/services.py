from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, login, logout, password_validation
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import HttpRequest

from ballast.core import units
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import Membership, Person, Workspace, World
from ballast.server.edge.problems import Conflict, Denied
from ballast.server.edge.versions import must_match, version_of

_BACKEND = "django.contrib.auth.backends.ModelBackend"


def nobody_yet() -> bool:
    """Whether this is a first run: no person exists."""
    return not Person.objects.exists()


def mark(mode: str) -> None:
    """Keeps which world this database holds, once. Raises Conflict where it holds another."""
    if no := not_here(mode):
        raise Conflict(no)
    World.objects.get_or_create(pk=1, defaults={"mode": mode})


def not_here(mode: str) -> str:
    """Why a server of a mode must not open this database, in one line; empty: it may."""
    row = World.objects.first()
    if row is None or row.mode == mode:
        return ""
    return (
        f"This database was begun as “{row.mode}” and is not opened as “{mode}”: set BALLAST_MODE={row.mode}, "
        "or BALLAST_VAR to another folder."
    )


def sign_in(request: HttpRequest, username: str, password: str) -> Person:
    """Signs a person in, throttled. Raises Refusal without saying which of the two was wrong."""
    person = authenticate(request, username=username, password=password)
    if person is None:
        raise Refusal("That name and password do not go together. Try again.", "password")
    login(request, person)
    return person


def enter_demo(request: HttpRequest, username: str) -> Person:
    """Signs a demo person in with one click. Only where the demo runs."""
    if not settings.DEMO or not_here("demo"):
        raise Denied("There are no demo people here. Sign in.")
    person = Person.objects.filter(username=username, is_active=True).first()
    if person is None:
        raise Refusal("There is no such demo person. Choose one of those shown.", "username")
    login(request, person, backend=_BACKEND)
    return person


def sign_out(request: HttpRequest) -> None:
    logout(request)


def _checked_password(password: str, person: Person) -> str:
    try:
        password_validation.validate_password(password, person)
    except ValidationError as no:
        raise Refusal(" ".join(no.messages), "password") from None
    return password


@transaction.atomic
def first_run(request: HttpRequest, workspace: str, name: str, username: str, password: str) -> Person:
    """Makes the first workspace and its manager. Raises Conflict once anybody exists."""
    if not nobody_yet():
        raise Conflict("Somebody has been here already: sign in, or ask them to add you.")
    mark(settings.MODE)
    person = _new_person(name, username, password)
    Membership.objects.create(
        person=person, workspace=Workspace.objects.create(name=workspace), role=Membership.Role.MANAGER
    )
    login(request, person, backend=_BACKEND)
    return person


def _new_person(name: str, username: str, password: str) -> Person:
    if Person.objects.filter(username__iexact=username).exists():
        raise Conflict(f"“{username}” is taken. Choose another sign-in name.", "username")
    person = Person(username=username, first_name=name)
    person.set_password(_checked_password(password, person))
    person.save()
    return person


def set_units(actor: Actor, system: str | None, each: dict[str, str]) -> None:
    """Keeps what a person has quantities shown in: a system, or each by itself. Raises Refusal for what is not offered."""
    try:
        system = system or units.chosen(each)
    except Refusal as no:
        raise no.within("each") from None
    Person.objects.filter(pk=actor.person.pk).update(units=system)


def enter_workspace(request: HttpRequest, actor: Actor, workspace_id: int) -> None:
    """Makes another of the person's workspaces the one in hand. Raises DoesNotExist for a foreign one."""
    request.session["workspace"] = Membership.objects.get(person=actor.person, workspace_id=workspace_id).workspace_id


def workspaces(person: Person) -> list[Workspace]:
    """The real ones of a person, the first joined first."""
    rows = Membership.objects.filter(person=person, workspace__practice_of=None).select_related("workspace")
    return [m.workspace for m in rows.order_by("id")]


def practice_of(person: Person, step: str) -> Workspace:
    """A new workspace for somebody to practise in, with its step of targets. Between two columns of its made-up sheets it goes by a straight line."""
    made = Workspace.objects.create(
        name=f"Practice of {person.shown_name}"[:80], practice_of=person, between="interpolate", step=step
    )
    Membership.objects.create(person=person, workspace=made, role=Membership.Role.MANAGER)
    return made


def members(actor: Actor) -> list[Membership]:
    actor.must(May.READ)
    return list(actor.workspace.memberships.select_related("person").order_by("person__first_name", "id"))


@transaction.atomic
def add_member(actor: Actor, name: str, username: str, password: str, role: str) -> Membership:
    actor.must(May.PEOPLE)
    return Membership.objects.create(person=_new_person(name, username, password), workspace=actor.workspace, role=role)


@transaction.atomic
def change_role(actor: Actor, membership_id: int, role: str, seen: str = "") -> Membership:
    """Changes a role. Raises Conflict when the last manager would be gone, Stale where another changed it meanwhile."""
    actor.must(May.PEOPLE)
    membership = actor.workspace.memberships.select_related("person").get(pk=membership_id)
    must_match(seen, {"role": membership.role}, {"role": role}, actor.person.units)
    managers = actor.workspace.memberships.filter(role=Membership.Role.MANAGER)
    if membership.role == Membership.Role.MANAGER and role != Membership.Role.MANAGER and managers.count() == 1:
        raise Conflict("This is the last manager. Make somebody else manager first.", "role")
    membership.role = role
    membership.save()
    return membership


_WAYS = (
    "reserve", "edge", "step", "school", "between", "temperature", "check_days", "cold_after_h", "spare_over", "place_key",
)  # fmt: skip


def state_of(workspace: Workspace) -> dict[str, object]:
    """All that the form of the settings shows and writes."""
    return {f: getattr(workspace, f) for f in _WAYS}


def workspace_out(workspace: Workspace) -> dict[str, Any]:
    state = state_of(workspace)
    return {"id": workspace.pk, "name": workspace.name, "version": version_of(state)} | state


@transaction.atomic
def change_settings(actor: Actor, given: dict[str, Any]) -> Workspace:
    actor.must(May.PEOPLE)
    workspace = actor.workspace
    seen, stored = given.pop("version", ""), state_of(workspace)
    for name, value in given.items():
        setattr(workspace, name, value)
    must_match(seen, stored, state_of(workspace), actor.person.units)
    workspace.save()
    return workspace
