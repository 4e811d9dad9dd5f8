from django.conf import settings
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Query, Router, Status
from ninja.errors import HttpError
from ninja.utils import check_csrf

from ballast.core import units
from ballast.core.air import COLD_CHOICES_H, MOST_LEGS, NAMES, POLICIES
from ballast.core.gauges import KIND_NAMES, SUPPLIES
from ballast.core.ground import GROUND_ROLES, PATTERNS
from ballast.core.refine import EVENTS
from ballast.core.rigs import KINDS, PULLED, ROLES, TRAILERS, axle_titles, outline
from ballast.core.standing import CHECK_CHOICES_DAYS
from ballast.core.tables import MOST_COLUMNS, STEPS
from ballast.core.targets import BETWEEN, EDGE_CHOICES, RESERVE_CHOICES, SCHOOLS
from ballast.core.weighing import BARS_RESTORE, LOAD_STATES, PER_LITER_KG, WHAT
from ballast.server.accounts import factor, keys, services, sessions
from ballast.server.accounts import people as staff
from ballast.server.accounts.actors import Actor, ActorRequest, May, find_actor, reaches, roles_that_may
from ballast.server.accounts.factor import FactorBegun, FactorState
from ballast.server.accounts.keys import KeyLine, KeyMade
from ballast.server.accounts.models import Membership, Person
from ballast.server.accounts.people import Asked, LinkLine, LinkMade
from ballast.server.accounts.schemas import (
    ApiKeyIn,
    CargoOut,
    ChangePasswordIn,
    CodeIn,
    CodesOut,
    DemoIn,
    DemoPerson,
    FirstRun,
    InviteIn,
    JoinIn,
    KeyIn,
    KindOut,
    MemberIn,
    MemberOut,
    NewWorkspaceIn,
    OffIn,
    PasswordIn,
    PeopleIn,
    PeopleOut,
    ResetIn,
    RoleIn,
    SessionOut,
    SetAnewIn,
    SettingsIn,
    SignIn,
    UnitOut,
    UnitsIn,
    WorkspaceIn,
    WorkspaceOut,
)
from ballast.server.accounts.sessions import SessionLine
from ballast.server.edge.files import MOST_BYTES, MOST_ROWS, csv_streamed
from ballast.server.edge.problems import answers
from ballast.server.edge.versions import version_of
from ballast.server.edge.words import PairOut

router = Router(tags=["accounts"])


def _member(row: Membership, actor: Actor) -> MemberOut:
    fields = {
        "id": row.pk, "name": row.person.shown_name, "username": row.person.username, "role": row.role,
        "off": row.off_at is not None, "you": row.person_id == actor.person.pk,
        "rounds": row.off_at is None and row.role in roles_that_may(May.ROUNDS), "version": version_of({"role": row.role}),
    }  # fmt: skip
    return MemberOut.model_validate(fields)


def _csrf(request: HttpRequest) -> None:
    """Calls that work before sign-in check their CSRF token themselves."""
    if check_csrf(request) is not None:
        raise HttpError(403, "The page is too old to be trusted. Reload it and try again.")


def _session(request: HttpRequest) -> SessionOut:
    get_token(request)
    actor = find_actor(request)
    demo: list[DemoPerson] = []
    if settings.DEMO and actor is None:
        people = Membership.objects.filter(workspace__practice_of=None, off_at=None).select_related(
            "person", "workspace"
        )
        # Each once, where they come in: into the first of their workspaces.
        first = {m.person_id: m for m in people.order_by("-id")}
        demo = [
            DemoPerson(username=m.person.username, name=m.person.shown_name, role=m.role, workspace=m.workspace.name)
            for m in sorted(first.values(), key=lambda m: m.pk)
        ]
    # As it is stored: this very call may have changed it.
    system = Person.objects.values_list("units", flat=True).get(pk=actor.person.pk) if actor else "us"
    return SessionOut(
        first_run=actor is None and services.nobody_yet(),
        demo=demo,
        person=actor.person.pk if actor else None,
        name=actor.person.shown_name if actor else None,
        role=actor.role if actor else None,
        key_roles=[r for r in Membership.Role.values if reaches(actor.role, r)] if actor else [],
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
        most_file_rows=MOST_ROWS,
        most_columns=MOST_COLUMNS,
        most_legs=MOST_LEGS,
    )


@router.get("/session", auth=None, response=answers(SessionOut))
def session(request: HttpRequest):
    if isinstance(request.user, Person):
        sessions.seen(request, request.user)
    return _session(request)


@router.post("/session", auth=None, response=answers(SessionOut))
def sign_in(request: HttpRequest, data: SignIn):
    _csrf(request)
    services.sign_in(request, data.username, data.password, data.code)
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


@router.post("/workspaces", response=answers(SessionOut))
def begin_workspace(request: ActorRequest, data: NewWorkspaceIn):
    """A further workspace, empty, in hand from then on."""
    services.begin_workspace(request, request.auth, data.name)
    return _session(request)


@router.put("/session/password", response=answers(None, 204))
def change_password(request: ActorRequest, data: ChangePasswordIn):
    services.change_password(request, request.auth, data.old, data.new)
    return Status(204, None)


@router.get("/session/factor", response=answers(FactorState))
def second_factor(request: ActorRequest):
    return factor.state(request.auth.person)


@router.post("/session/factor", response=answers(FactorBegun, 201))
def begin_factor(request: ActorRequest, data: PasswordIn):
    return Status(201, factor.begin(services.checked(request, request.auth, data.password)))


@router.put("/session/factor", response=answers(CodesOut))
def confirm_factor(request: ActorRequest, data: CodeIn):
    request.auth.must_be_here()
    return CodesOut(codes=factor.confirm(request.auth.person, data.code))


@router.post("/session/factor/codes", response=answers(CodesOut))
def new_codes(request: ActorRequest, data: PasswordIn):
    return CodesOut(codes=factor.new_codes(services.checked(request, request.auth, data.password)))


@router.post("/session/factor/off", response=answers(FactorState))
def factor_off(request: ActorRequest, data: PasswordIn):
    person = services.checked(request, request.auth, data.password)
    factor.off(person)
    return factor.state(person)


@router.get("/sessions", response=answers(list[SessionLine]))
def open_sessions(request: ActorRequest):
    return sessions.sessions(request, request.auth)


@router.delete("/sessions", response=answers(list[SessionLine]))
def end_other_sessions(request: ActorRequest):
    return sessions.end_others(request, request.auth)


@router.delete("/sessions/{session_id}", response=answers(list[SessionLine]))
def end_session(request: ActorRequest, session_id: int):
    return sessions.end(request, request.auth, session_id)


@router.get("/keys", response=answers(list[KeyLine]))
def api_keys(request: ActorRequest):
    return keys.keys(request.auth)


@router.post("/keys", response=answers(KeyMade, 201))
def make_key(request: ActorRequest, data: ApiKeyIn):
    return Status(201, keys.make(request.auth, data.name, data.role))


@router.delete("/keys/{key_id}", response=answers(list[KeyLine]))
def take_key_back(request: ActorRequest, key_id: int):
    return keys.take_back(request.auth, key_id)


@router.get("/people", response=answers(list[MemberOut]))
def people(request: ActorRequest):
    return [_member(m, request.auth) for m in staff.members(request.auth)]


@router.get("/people/page", response=answers(PeopleOut))
def people_page(request: ActorRequest, of: Query[PeopleIn]):
    """A page of the people, as they are looked for."""
    listed = staff.page(request.auth, of)
    shown = [_member(m, request.auth) for m in listed.people]
    return PeopleOut(people=shown, page=listed.page, total=listed.total, found=listed.found)


@router.get("/people.csv", response=answers(str))
def people_csv(request: ActorRequest, of: Query[PeopleIn]):
    """The whole list as it is looked for."""
    return csv_streamed(*staff.as_rows(request.auth, of), "people.csv")


@router.post("/people", response=answers(MemberOut, 201))
def add_person(request: ActorRequest, data: MemberIn):
    made = staff.add_member(request.auth, data.name, data.username, data.password, data.role)
    return Status(201, _member(made, request.auth))


@router.put("/people/{member_id}", response=answers(MemberOut))
def change_role(request: ActorRequest, member_id: int, data: RoleIn):
    return _member(staff.change_role(request.auth, member_id, data.role, data.version), request.auth)


@router.put("/people/{member_id}/off", response=answers(MemberOut))
def keep_out(request: ActorRequest, member_id: int, data: OffIn):
    return _member(staff.keep_out(request.auth, member_id, data.off), request.auth)


@router.delete("/people/{member_id}", response=answers(None, 204))
def take_off(request: ActorRequest, member_id: int):
    staff.take_off(request.auth, member_id)
    return Status(204, None)


@router.post("/people/{member_id}/reset", response=answers(LinkMade, 201))
def reset_password(request: ActorRequest, member_id: int, data: ResetIn):
    return Status(201, staff.reset(request.auth, member_id, data.factor))


@router.get("/links", response=answers(list[LinkLine]))
def links(request: ActorRequest):
    return staff.links(request.auth)


@router.post("/links", response=answers(LinkMade, 201))
def invite(request: ActorRequest, data: InviteIn):
    return Status(201, staff.invite(request.auth, data.name, data.role))


@router.delete("/links/{link_id}", response=answers(list[LinkLine]))
def take_link_back(request: ActorRequest, link_id: int):
    return staff.take_back(request.auth, link_id)


# A link's key is sent in the body alone: an address ends up in logs.
@router.post("/join/asked", auth=None, response=answers(Asked))
def asked(request: HttpRequest, data: KeyIn):
    _csrf(request)
    return staff.asked(data.key)


@router.post("/join", auth=None, response=answers(SessionOut))
def join(request: HttpRequest, data: JoinIn):
    _csrf(request)
    staff.join(request, data.key, data.name, data.username, data.password)
    return _session(request)


@router.post("/join/password", auth=None, response=answers(None, 204))
def set_password_anew(request: HttpRequest, data: SetAnewIn):
    _csrf(request)
    staff.set_anew(data.key, data.password)
    return Status(204, None)


@router.post("/session/join", response=answers(SessionOut))
def join_as_oneself(request: ActorRequest, data: KeyIn):
    staff.join_as_oneself(request, request.auth, data.key)
    return _session(request)


@router.put("/settings", response=answers(WorkspaceOut))
def change_settings(request: ActorRequest, data: SettingsIn):
    return services.workspace_out(services.change_settings(request.auth, data.model_dump(exclude_unset=True)))
