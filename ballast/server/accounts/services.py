from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, login, logout, password_validation
from django.core.exceptions import ValidationError
from django.http import HttpRequest

from ballast.core import units
from ballast.core.refusal import Refusal
from ballast.server.accounts import factor, sessions
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import Membership, Person, Workspace, World
from ballast.server.edge.problems import Conflict, Denied
from ballast.server.edge.versions import must_match, version_of
from ballast.server.edge.writing import over_workspaces


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


def enter(request: HttpRequest, person: Person) -> Person:
    """Begins a session of a person's, which they see among theirs."""
    login(request, person, backend=settings.PEOPLE_BACKEND)
    sessions.began(request, person)
    return person


def sign_in(request: HttpRequest, username: str, password: str, code: str = "") -> Person:
    """Signs a person in, throttled. Raises Refusal without saying which of the two was wrong; for `code` where it is asked."""
    person = authenticate(request, username=username, password=password)
    if not isinstance(person, Person):
        raise Refusal("That name and password do not go together. Try again.", "password")
    factor.must_show(request, person, code)
    if not person.memberships.filter(off_at=None).exists():
        raise Refusal("You are in no workspace any more. Ask its manager to let you in again.", "username")
    return enter(request, person)


def checked(request: HttpRequest, actor: Actor, password: str) -> Person:
    """Whoever acts, by their password once more, throttled as at the door. Raises Refusal, Denied for a key."""
    actor.must_be_here()
    person = authenticate(request, username=actor.person.username, password=password)
    if not isinstance(person, Person) or person.pk != actor.person.pk:
        raise Refusal("This is not your password. Try again.", "password")
    return person


@over_workspaces()
def change_password(request: HttpRequest, actor: Actor, old: str, new: str) -> None:
    """Another password for whoever acts; every other session of theirs ends. Raises Refusal."""
    person = checked(request, actor, old)
    try:
        set_password(person, new)
    except Refusal as no:
        raise Refusal(no.message, "new") from None
    enter(request, person)


def set_password(person: Person, password: str) -> None:
    """Keeps a password, and ends every session that was begun with the one before. Raises Refusal."""
    person.set_password(_checked_password(password, person))
    person.save(update_fields=["password"])
    sessions.end_all(person)


def enter_demo(request: HttpRequest, username: str) -> Person:
    """Signs a demo person in with one click. Only where the demo runs."""
    if not settings.DEMO or not_here("demo"):
        raise Denied("There are no demo people here. Sign in.")
    person = Person.objects.filter(username=username, is_active=True).first()
    if person is None:
        raise Refusal("There is no such demo person. Choose one of those shown.", "username")
    return enter(request, person)


def sign_out(request: HttpRequest) -> None:
    sessions.ended(request)
    logout(request)


def _checked_password(password: str, person: Person) -> str:
    try:
        password_validation.validate_password(password, person)
    except ValidationError as no:
        raise Refusal(" ".join(no.messages), "password") from None
    return password


@over_workspaces()
def first_run(request: HttpRequest, workspace: str, name: str, username: str, password: str) -> Person:
    """Makes the first workspace and its manager. Raises Conflict once anybody exists."""
    if not nobody_yet():
        raise Conflict("Somebody has been here already: sign in, or ask them to add you.")
    mark(settings.MODE)
    person = new_person(name, username, password)
    _managed_by(person, name=workspace)
    return enter(request, person)


def _managed_by(person: Person, **of: Any) -> Workspace:
    """A new workspace, of which somebody is the manager."""
    made = Workspace.objects.create(**of)
    Membership.objects.create(person=person, workspace=made, role=Membership.Role.MANAGER)
    return made


def new_person(name: str, username: str, password: str) -> Person:
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
    """Makes another of the person's workspaces the one in hand. Raises DoesNotExist for a foreign one, Denied for a key."""
    actor.must_be_here()
    member = Membership.objects.get(person=actor.person, workspace_id=workspace_id, off_at=None)
    request.session["workspace"] = member.workspace_id


@over_workspaces()
def begin_workspace(request: HttpRequest, actor: Actor, name: str) -> Workspace:
    """A further workspace, of which the person is the manager, and which is in hand from then on. Raises Denied."""
    actor.must(May.PEOPLE)
    actor.must_be_here()
    made = _managed_by(actor.person, name=name)
    request.session["workspace"] = made.pk
    return made


def workspaces(person: Person) -> list[Workspace]:
    """The real ones of a person, the first joined first."""
    rows = person.memberships.filter(workspace__practice_of=None, off_at=None).select_related("workspace")
    return [m.workspace for m in rows.order_by("id")]


def practice_of(person: Person, step: str) -> Workspace:
    """A new workspace for somebody to practise in, with its step of targets. Between two columns of its made-up sheets it goes by a straight line."""
    name = f"Practice of {person.shown_name}"[:80]
    return _managed_by(person, name=name, practice_of=person, between="interpolate", step=step)


_WAYS = (
    "name", "reserve", "edge", "step", "school", "between", "temperature", "check_days", "cold_after_h", "spare_over", "place_key",
)  # fmt: skip


def state_of(workspace: Workspace) -> dict[str, object]:
    """All that the form of the settings shows and writes."""
    return {f: getattr(workspace, f) for f in _WAYS}


def workspace_out(workspace: Workspace) -> dict[str, Any]:
    state = state_of(workspace)
    return {"id": workspace.pk, "version": version_of(state)} | state


@over_workspaces()
def change_settings(actor: Actor, given: dict[str, Any]) -> Workspace:
    actor.must(May.PEOPLE)
    workspace = actor.workspace
    seen, stored = given.pop("version", ""), state_of(workspace)
    for name, value in given.items():
        setattr(workspace, name, value)
    must_match(seen, stored, state_of(workspace), actor.person.units)
    workspace.save()
    return workspace
