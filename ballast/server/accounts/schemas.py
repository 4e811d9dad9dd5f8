"""Who is here, who may come in and how, and what rigs start with."""

from typing import Annotated, Literal

from pydantic import StringConstraints

from ballast.core import units
from ballast.core.air import TemperaturePolicy
from ballast.core.rigs import Drawn
from ballast.core.tables import StepName
from ballast.core.targets import Between, Chosen
from ballast.server.edge.quantities import CheckDays, ColdAfter, Edge, Find, First, Name, Share, Version, Words
from ballast.server.edge.schema import Out, Strict
from ballast.server.edge.words import PairOut

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
    # Which a key for a script may be given.
    key_roles: list[Role]
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
    # So many rows one request takes; a longer file goes in slices, where that is offered.
    most_file_rows: int
    most_columns: int
    most_legs: int


class EnterIn(Strict):
    username: Username
    password: Password


class SignIn(EnterIn):
    # Of the second factor; asked for where one is in use.
    code: Annotated[str, Words(40)] = ""


class DemoIn(Strict):
    username: Username


class FirstRun(EnterIn):
    workspace: Name
    name: Name


class UnitsIn(Strict):
    """One of the two systems, or what each quantity is shown in, by itself."""

    units: Literal["us", "metric"] | None = None
    each: dict[str, str] | None = None


class NewWorkspaceIn(Strict):
    name: Name


class WorkspaceIn(Strict):
    workspace: int


class MemberIn(EnterIn):
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
    # May not come in for now; else whether rounds may be given to them.
    off: bool
    rounds: bool
    you: bool
    version: str


class PeopleIn(Strict):
    """People in whose name, sign-in name or role every word stands, from one on, in order of their names or of what they may."""

    find: Find = ""
    sort: Literal["name", "role"] = "name"
    first: First = 0


class PeopleOut(Out):
    """`people`: a page of `found`. `total`: all of the workspace."""

    people: list[MemberOut]
    page: int
    total: int
    found: int


class SettingsIn(Strict):
    version: Version = ""
    reserve: Share
    step: StepName
    place_key: Annotated[str, Words(40)]
    # What is left out stays as it is.
    name: Name = ""
    edge: Edge = 0.02
    school: Chosen = "table"
    between: Between = "step up"
    temperature: TemperaturePolicy = "morning"
    check_days: CheckDays = 7
    cold_after_h: ColdAfter | None = None
    spare_over: bool = False


class InviteIn(Strict):
    name: Name
    role: Role


class ResetIn(Strict):
    """`factor`: the second factor goes too, for a device that is lost."""

    factor: bool = False


# Of a link: what stands behind the # of its address.
Key = Annotated[str, Words(80, 1)]


class KeyIn(Strict):
    key: Key


class JoinIn(EnterIn):
    key: Key
    name: Name


class SetAnewIn(Strict):
    key: Key
    password: Password


class PasswordIn(Strict):
    password: Password


class ChangePasswordIn(Strict):
    old: Password
    new: Password


class CodeIn(Strict):
    code: Annotated[str, Words(40, 1)]


class CodesOut(Out):
    """Codes in the place of the device's: told once."""

    codes: list[str]


class ApiKeyIn(Strict):
    name: Name
    role: Role


class OffIn(Strict):
    off: bool
