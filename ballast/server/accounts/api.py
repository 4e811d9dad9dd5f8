from typing import Annotated, Literal

from django.conf import settings
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Status
from ninja.errors import HttpError
from ninja.utils import check_csrf
from pydantic import StringConstraints

from ballast.core import units
from ballast.core.air import COLD_CHOICES_H, MOST_LEGS, NAMES, POLICIES, TemperaturePolicy
from ballast.core.gauges import KIND_NAMES, SUPPLIES
from ballast.core.ground import GROUND_ROLES, PATTERNS
from ballast.core.refine import EVENTS
from ballast.core.rigs import KINDS, PULLED, ROLES, TRAILERS, Drawn, axle_titles, outline
from ballast.core.standing import CHECK_CHOICES_DAYS
from ballast.core.tables import MOST_COLUMNS, STEPS, StepName
from ballast.core.targets import BETWEEN, EDGE_CHOICES, RESERVE_CHOICES, SCHOOLS, Between, Chosen
from ballast.core.weighing import BARS_RESTORE, LOAD_STATES, PER_LITER_KG, WHAT
from ballast.server.accounts import services
from ballast.server.accounts.actors import ActorRequest, May, find_actor
from ballast.server.accounts.models import Membership, Person
from ballast.server.edge.files import MOST_BYTES
from ballast.server.edge.problems import answers
from ballast.server.edge.quantities import CheckDays, ColdAfter, Edge, Name, Share, Version, Words
from ballast.server.edge.schema import Out, Strict
from ballast.server.edge.versions import version_of
from ballast.server.edge.words import PairOut

router = Router(tags=["accounts"])
Username = Annotated[str, Words(60, 1), StringConstraints(pattern=r"^[\w.@+-]+$")]
Password = Annotated[str, Words(200, 1)]
Role = Literal["manager", "technician", "viewer"]


class UnitOut(Out):
    """`canonical = (shown + offset) × factor`."""

    symbol: str
    kind: units.Kind
    factor: float
    offset: float
    decimals: int
    also: list[str]


class WorkspaceOut(Out):
    id: int
    version: str
    name: str
    reserve: float
    edge: float
    step: StepName
    school: Chosen
    between: Between
    temperature: TemperaturePolicy
    check_days: int
    cold_after_h: float | None
    spare_over: bool
    place_key: str


class DemoPerson(Out):
    username: str
    name: str
    role: str
    workspace: str


class KindOut(PairOut):
    """A kind of rig, and how its axles are headed: of one axle, of two, and so on."""

    trailer: bool
    # It lays part of its mass on the vehicle in front.
    pulled: bool
    axles: list[list[str]]
    # The axles that it usually has, to be confirmed.
    outline: list[Drawn]


class CargoOut(PairOut):
    """What may be put aboard, in liters where it is a liquid."""

    liquid: bool


class SessionOut(Out):
    """All that the interface needs to know before anything else."""

    first_run: bool
    demo: list[DemoPerson]
    person: int | None
    name: str | None
    role: Role | None
    may: list[str]
    workspace: WorkspaceOut | None
    workspaces: list[PairOut]
    # Nothing of this workspace is real: it is one person's practice.
    practice: bool
    units: str
    # What may be chosen by itself, and from what.
    unit_choices: dict[str, list[str]]
    unit_table: list[UnitOut]
    shown: dict[str, dict[str, str]]
    kinds: list[KindOut]
    gauge_kinds: list[PairOut]
    tire_events: list[PairOut]
    supplies: list[PairOut]
    reserves: list[float]
    edges: list[float]
    roles: list[PairOut]
    # Of axles, as the ground takes them; and how its surfaces are drawn.
    ground_roles: list[PairOut]
    patterns: list[PairOut]
    cargo: list[CargoOut]
    bars_restore: float
    steps: list[str]
    schools: list[PairOut]
    between: list[PairOut]
    temperatures: list[PairOut]
    cold_after_h: list[float]
    check_days: list[int]
    load_states: list[str]
    most_file_bytes: int
    most_columns: int
    most_legs: int


class SignIn(Strict):
    username: Username
    password: Password


class DemoIn(Strict):
    username: Username


class FirstRun(SignIn):
    workspace: Name
    name: Name


class UnitsIn(Strict):
    """One of the two systems, or what each quantity is shown in, by itself."""

    units: Literal["us", "metric"] | None = None
    each: dict[str, str] | None = None


class WorkspaceIn(Strict):
    workspace: int


class MemberIn(SignIn):
    name: Name
    role: Role


class RoleIn(Strict):
    version: Version = ""
    role: Role


class MemberOut(Out):
    id: int
    name: str
    username: str
    role: Role
    version: str


def _member(row: Membership) -> MemberOut:
    fields = {
        "id": row.pk, "name": row.person.shown_name, "username": row.person.username, "role": row.role,
        "version": version_of({"role": row.role}),
    }  # fmt: skip
    return MemberOut.model_validate(fields)


class SettingsIn(Strict):
    version: Version = ""
    reserve: Share
    step: StepName
    place_key: Annotated[str, Words(40)]
    # What is left out stays as it is.
    edge: Edge = 0.02
    school: Chosen = "table"
    between: Between = "step up"
    temperature: TemperaturePolicy = "morning"
    check_days: CheckDays = 7
    cold_after_h: ColdAfter | None = None
    spare_over: bool = False


def _csrf(request: HttpRequest) -> None:
    """Calls that work before sign-in check their CSRF token themselves."""
    if check_csrf(request) is not None:
        raise HttpError(403, "The page is too old to be trusted. Reload it and try again.")


def _session(request: HttpRequest) -> SessionOut:
    get_token(request)
    actor = find_actor(request)
    demo: list[DemoPerson] = []
    if settings.DEMO and actor is None:
        people = Membership.objects.filter(workspace__practice_of=None).select_related("person", "workspace")
        demo = [
            DemoPerson(username=m.person.username, name=m.person.shown_name, role=m.role, workspace=m.workspace.name)
            for m in people.order_by("id")
        ]
    # As it is stored: this very call may have changed it.
    system = Person.objects.values_list("units", flat=True).get(pk=actor.person.pk) if actor else "us"
    return SessionOut(
        first_run=actor is None and services.nobody_yet(),
        demo=demo,
        person=actor.person.pk if actor else None,
        name=actor.person.shown_name if actor else None,
        role=actor.role if actor else None,
        may=sorted(m.name.lower() for m in May if actor.may(m)) if actor else [],
        workspace=WorkspaceOut.model_validate(services.workspace_out(actor.workspace)) if actor else None,
        workspaces=[PairOut(key=str(w.pk), name=w.name) for w in services.workspaces(actor.person)] if actor else [],
        practice=actor is not None and actor.practices,
        units=system,
        unit_table=[UnitOut.model_validate(u) for u in units.UNITS],
        unit_choices={k: list(v) for k, v in units.CHOICES.items()},
        shown={**units.SHOWN, system: units.shown_in(system)},
        kinds=[
            KindOut(key=k, name=n, trailer=k in TRAILERS, pulled=k in PULLED, axles=axle_titles(k), outline=outline(k))
            for k, n in KINDS.items()
        ],
        gauge_kinds=[PairOut(key=k, name=n) for k, n in KIND_NAMES.items()],
        tire_events=[PairOut(key=k, name=n) for k, n in EVENTS.items()],
        supplies=[PairOut(key=k, name=n) for k, n in SUPPLIES.items()],
        reserves=list(RESERVE_CHOICES),
        edges=list(EDGE_CHOICES),
        roles=[PairOut(key=k, name=n) for k, n in ROLES.items()],
        ground_roles=[PairOut(key=k, name=n) for k, n in GROUND_ROLES.items()],
        patterns=[PairOut(key=k, name=n) for k, n in PATTERNS.items()],
        cargo=[CargoOut(key=k, name=n, liquid=k in PER_LITER_KG) for k, n in WHAT.items()],
        bars_restore=BARS_RESTORE,
        steps=list(STEPS),
        schools=[PairOut(key=k, name=n) for k, n in SCHOOLS.items()],
        between=[PairOut(key=k, name=n) for k, n in BETWEEN.items()],
        temperatures=[PairOut(key=k, name=NAMES[k]) for k in POLICIES],
        cold_after_h=list(COLD_CHOICES_H),
        check_days=list(CHECK_CHOICES_DAYS),
        load_states=list(LOAD_STATES),
        most_file_bytes=MOST_BYTES,
        most_columns=MOST_COLUMNS,
        most_legs=MOST_LEGS,
    )


@router.get("/session", auth=None, response=answers(SessionOut))
def session(request: HttpRequest):
    return _session(request)


@router.post("/session", auth=None, response=answers(SessionOut))
def sign_in(request: HttpRequest, data: SignIn):
    _csrf(request)
    services.sign_in(request, data.username, data.password)
    return _session(request)


@router.delete("/session", response=answers(SessionOut))
def sign_out(request: ActorRequest):
    services.sign_out(request)
    return _session(request)


@router.post("/session/demo", auth=None, response=answers(SessionOut))
def enter_demo(request: HttpRequest, data: DemoIn):
    _csrf(request)
    services.enter_demo(request, data.username)
    return _session(request)


@router.post("/first-run", auth=None, response=answers(SessionOut))
def first_run(request: HttpRequest, data: FirstRun):
    _csrf(request)
    services.first_run(request, data.workspace, data.name, data.username, data.password)
    return _session(request)


@router.put("/session/units", response=answers(SessionOut))
def set_units(request: ActorRequest, data: UnitsIn):
    services.set_units(request.auth, data.units, data.each or {})
    return _session(request)


@router.put("/session/workspace", response=answers(SessionOut))
def enter_workspace(request: ActorRequest, data: WorkspaceIn):
    services.enter_workspace(request, request.auth, data.workspace)
    return _session(request)


@router.get("/people", response=answers(list[MemberOut]))
def people(request: ActorRequest):
    return [_member(m) for m in services.members(request.auth)]


@router.post("/people", response=answers(MemberOut, 201))
def add_person(request: ActorRequest, data: MemberIn):
    return Status(201, _member(services.add_member(request.auth, data.name, data.username, data.password, data.role)))


@router.put("/people/{member_id}", response=answers(MemberOut))
def change_role(request: ActorRequest, member_id: int, data: RoleIn):
    return _member(services.change_role(request.auth, member_id, data.role, data.version))


@router.put("/settings", response=answers(WorkspaceOut))
def change_settings(request: ActorRequest, data: SettingsIn):
    return services.workspace_out(services.change_settings(request.auth, data.model_dump(exclude_unset=True)))
