import datetime as dt
from dataclasses import dataclass
from typing import Annotated
from uuid import UUID

from pydantic import Field

from ballast.core.air import TemperaturePolicy
from ballast.core.rigs import Missing
from ballast.core.tables import StepName
from ballast.core.targets import Between, Chosen, FloorFrom, School, SpareTarget, State
from ballast.core.working import Line, Phrase
from ballast.server.edge.quantities import CheckDays, ColdAfter, Edge, Pressure, Share, Version, Words
from ballast.server.edge.schema import Out, Strict
from ballast.server.edge.words import CheckOut
from ballast.server.rigs.schemas import NotDoneOut, Rigs
from ballast.server.targets.policies import Way
from ballast.server.weighing.schemas import WhatIfIn


class ChoiceIn(Strict):
    """How to choose; null is as the rig, or else its workspace, has it."""

    reserve: Share | None = None
    edge: Edge | None = None
    step: StepName | None = None
    school: Chosen | None = None
    between: Between | None = None
    spare_over: bool | None = None


class RangeIn(Strict):
    """The other end of a target's range, above or below its number, and how it felt."""

    to: Pressure
    feel: Annotated[str, Words(120)] = ""


class TargetsIn(ChoiceIn):
    """Which weighing, which table for each axle (null: the newest of its size), and how to choose.

    `own` are pressures of one's own for an axle, between its floor and ceiling. `trials` are the reasons why an axle of a
    light rig goes below its placard; without its own it does not.
    """

    weighing: int | None = None
    tables: Annotated[list[int | None], Field(max_length=9)] = []
    own: Annotated[list[Pressure | None], Field(max_length=9)] = []
    trials: Annotated[list[Annotated[str, Words(300)]], Field(max_length=9)] = []
    ranges: Annotated[list[RangeIn | None], Field(max_length=9)] = []
    # Made by the page, once for a press: sent again it is put in force once.
    uuid: UUID | None = None


class WorkTargetsIn(TargetsIn):
    rig: int


class WhatIfTargetsIn(WhatIfIn, ChoiceIn):
    pass


class WorkWhatIfTargetsIn(WhatIfTargetsIn):
    rig: int


@dataclass(frozen=True)
class Needed:
    """What an axle needs now, and with masses put aboard [kPa]."""

    rig: int
    number: int
    now_kpa: float | None
    then_kpa: float | None
    state: State
    words: Phrase


@dataclass(frozen=True)
class Changed:
    """An axle's target in force and what a new edition would make of it [kPa], in words."""

    rig: int
    rig_name: str
    number: int
    name: str
    now_kpa: float | None
    then_kpa: float | None
    state: State
    words: Phrase


class FlagOut(Out):
    school: School
    name: str
    kpa: float
    objection: Phrase | None
    working: list[Line] = []


class AxleTargetOut(Out):
    number: int
    name: str
    state: State
    words: Phrase
    floor_kpa: float | None
    target_kpa: float | None
    ceiling_kpa: float | None
    ceiling_from: str
    reserve_left: float | None
    comes_off_kg: float | None
    flags: list[FlagOut]
    notes: list[Phrase]
    working: list[Line]
    over: list[CheckOut]
    # Absent from answers that were kept before they were asked for.
    school: School | None = None
    estimate: bool = False
    trial: bool = False
    # The load alone would let it go below its placard, or it does.
    below_placard: bool = False
    floor_from: FloorFrom = "load"
    # Tires on it of which nothing is known: the pressure is at least this.
    at_least: list[str] = []
    as_rated_kpa: float | None = None
    # What nobody has read and would help an axle that is not weighed.
    lacks: list[Missing] = []
    # Held anywhere between its target and this, and how that felt.
    range_kpa: float | None = None
    feel: str = ""


class WayIn(ChoiceIn):
    """What is given is kept as the rig's own; null goes back to the workspace's way."""

    version: Version = ""
    temperature: TemperaturePolicy | None = None
    check_days: CheckDays | None = None
    cold_after_h: ColdAfter | None = None


class TargetsOut(Out):
    """The answer for every axle, with the loads' overloads standing over all of them."""

    axles: list[AxleTargetOut]
    spares: list[SpareTarget]
    notes: list[Phrase]
    tables: list[int | None]
    table_names: list[str]
    # What is made up in it.
    stamps: list[str]
    unchecked: list[str]
    provisional: bool
    below_placard: bool
    over: list[Phrase]
    caution: str
    way: Way


@dataclass(frozen=True)
class Fitting:
    """A table that fits an axle."""

    id: int
    name: str
    sample: bool
    unchecked: bool


class WorkTargetsOut(TargetsOut):
    """With the tables that could be chosen for each axle, the newest first."""

    fitting: list[list[Fitting]]
    # The load state goes by the label's row for a light load.
    light_row: bool


class TargetSetOut(TargetsOut):
    id: int
    weighing: int | None
    load_state: str
    worked_out: bool
    weighed_on: dt.date | None
    reserve: float
    edge: float
    step: StepName
    school: Chosen
    between: Between
    trials: list[str]
    own: list[float | None]
    put_by: str
    put_at: dt.datetime
    # It was taken back then, and was in force no more.
    withdrawn_at: dt.datetime | None
    out_of_date: list[str]


class ChalkOut(Out):
    id: int
    number: int
    name: str
    kpa: float
    typed: str
    load_state: str
    done_on: dt.date
    note: str
    by: str
    # By a guided trial that ended even; anything else is a note.
    even: bool


class LookManyIn(Strict):
    """Rigs whose targets are worked out anew; so many at once that nobody waits long for them."""

    rigs: Annotated[list[int], Field(min_length=1, max_length=25)]


class MovedOut(Out):
    """An axle's target in force, none where there is none, and what it would be, each with its ceiling [kPa]."""

    name: str
    now_kpa: float | None
    now_ceiling_kpa: float | None
    target_kpa: float | None
    ceiling_kpa: float | None


class LookedOut(Out):
    """A rig's targets as they would be. `words`: what contradicts them, null where nothing does; then `stamps` say what of
    them is made up."""

    rig: int
    name: str
    axles: list[MovedOut]
    stamps: list[str]
    words: Phrase | None = None


class LookManyOut(Out):
    """`rigs`: those that would get other targets, or theirs from what is known now. `fits`: so many have what they would get."""

    rigs: list[LookedOut]
    fits: int


class PutOneIn(Strict):
    """A rig with its axles' targets as they were told [kPa]: no others are put in force. `uuid` as in `TargetsIn`."""

    rig: int
    uuid: UUID
    told_kpa: Annotated[list[float], Field(min_length=1, max_length=9)]


class PutManyIn(Strict):
    rigs: Annotated[list[PutOneIn], Field(min_length=1, max_length=25)]


class PutManyOut(Out):
    """The sets of targets that it put in force: given to `targets/withdrawn` it is taken back. `not_done`: and why."""

    sets: list[int]
    not_done: list[NotDoneOut]


class WithdrawManyIn(Strict):
    sets: Annotated[list[int], Field(min_length=1, max_length=5000)]


class WithdrawManyOut(Out):
    """How many were taken back; not those after which others were put in force."""

    withdrawn: int


class CheckEveryIn(Strict):
    """Rigs that are checked every so many days from now on; null: as the workspace has it."""

    rigs: Rigs
    days: CheckDays | None = None


class CheckedEvery(Out):
    days: int | None
    rigs: list[int]


class CheckEveryOut(Out):
    """The rigs that it changed, by what they had: given that again it is taken back."""

    were: list[CheckedEvery]
