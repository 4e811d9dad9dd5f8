import datetime as dt
from typing import Annotated, Literal

from pydantic import Field

from ballast.core.rounds import Word
from ballast.core.standing import About
from ballast.core.working import Phrase
from ballast.server.air.schemas import AirAnswerOut
from ballast.server.assignments.schemas import AssignedOut
from ballast.server.edge.quantities import Find, First, Words
from ballast.server.edge.schema import Out, Strict
from ballast.server.edge.words import StageOut, State
from ballast.server.ground.plans import Strip
from ballast.server.lookback.schemas import PredictionRecordOut
from ballast.server.rigs.schemas import OutOut, RigOut, VehicleOut
from ballast.server.rounds.schemas import AnswerOut
from ballast.server.targets.policies import Way
from ballast.server.targets.schemas import TargetSetOut
from ballast.server.weighing.schemas import WeighingOut


class YardIn(Strict):
    """What of the Yard is asked for: rigs in which every word stands and of which every line is said, in an order, from so many
    on."""

    lines: list[About] = []
    # Only rigs whose round is due and that nobody has to do.
    unassigned: bool = False
    # Only rigs of which a tire wants air today, by This morning's prediction.
    air: bool = False
    # Only rigs that a dawn before their next check asks for a round at once.
    dawn: bool = False
    # Only rigs that have each of these tags.
    tags: list[int] = []
    find: Find = ""
    sort: Literal["urgency", "number", "weighed", "read"] = "urgency"
    first: First = 0

    @property
    def narrowed(self) -> bool:
        """Whether some rigs do not fit."""
        return bool(self.find or self.lines or self.unassigned or self.air or self.dawn or self.tags)


class ViewIn(Strict):
    """What is looked for, as it stands in the Yard's address behind the question mark."""

    name: Annotated[str, Words(40, 1)]
    query: Annotated[str, Words(500)]


class ViewOut(Out):
    id: int
    name: str
    query: str


class FoundOut(Out):
    """A rig that the finder names."""

    id: int
    name: str
    fleet_number: str
    kind_name: str
    words: Phrase


class YardTireOut(Out):
    code: str
    word: Word


class YardRigOut(Out):
    """A rig in the Yard with its state in words, the most urgent first."""

    id: int
    name: str
    fleet_number: str
    kind_name: str
    # Not known before it was worked out.
    wheels: int | None
    state: State
    words: Phrase
    more: list[Phrase]
    weighed_on: dt.date | None
    last_round: dt.datetime | None
    round_open: bool
    next_check_on: dt.date | None
    head: int | None
    behind: str
    trailer: bool
    tires: list[YardTireOut]
    # Who has its round to do.
    assigned: list[AssignedOut]
    # Something has changed, and it is not worked out yet.
    anew: bool


class YardLineOut(Out):
    """A line that is said of rigs, and of how many."""

    key: About
    name: str
    rigs: int


class YardOut(Out):
    """A page of the Yard: how many rigs there are in all, how many fit, how many ask for somebody, are not worked out yet, are
    archived."""

    rigs: list[YardRigOut]
    # So many at a time, and so many are printed at once.
    page: int
    prints: int
    lines: list[YardLineOut]
    found: int
    total: int
    asking: int
    anew: int
    unassigned: int
    archived: int


class DayRoundOut(AssignedOut):
    """A round that is given, and what asks first of its rig; `round_open`: somebody has begun."""

    name: str
    fleet_number: str
    kind_name: str
    words: Phrase
    state: State
    round_open: int | None
    # Of today or before.
    today: bool


class DoneOut(Out):
    """A given round that was done: given to whom, sealed by whom."""

    round: int
    rig: int
    name: str
    to: str
    by: str
    at: dt.datetime


class DayOut(Out):
    """A person's day in a few words, what is to do, what comes later, and what they did today."""

    words: Phrase
    rounds: list[DayRoundOut]
    later: list[DayRoundOut]
    done: list[DoneOut]


class WhoOut(Out):
    """Somebody or a crew, how many rounds they have, and how many of them are over."""

    key: str
    name: str
    rounds: int
    over: int


class BoardOut(Out):
    """Who has what, `found` of it in all, and what was done of late."""

    people: list[WhoOut]
    rounds: list[DayRoundOut]
    found: int
    done: list[DoneOut]


class DeedOut(Out):
    """Something that somebody did, and of which rig."""

    at: dt.datetime
    words: str
    rig: int | None
    name: str


class DeedsOut(Out):
    """What somebody did, the newest first, and where the page of what was before begins; None: there is nothing."""

    name: str
    deeds: list[DeedOut]
    next: str | None


class LastTireOut(Out):
    """The last sealed reading of a wheel."""

    code: str
    kpa: float | None
    floor_kpa: float | None
    here_kpa: float | None
    ceiling_kpa: float | None
    answer: AnswerOut
    # Why what was read is no word of it any more: let out since, another tire, another target. Empty: it is.
    overtaken: str


class LastRoundOut(Out):
    id: int
    sealed_at: dt.datetime
    summary: str
    tires: list[LastTireOut]


class LaidUpOut(Out):
    """How a rig is laid up: resting until its day, or to be read before it rolls."""

    on: dt.date
    until: dt.date
    kept_kpa: float | None
    why: str
    resting: bool
    words: Phrase


class SheetOut(Out):
    """All that the screens of one rig stand on."""

    rig: RigOut
    train: list[VehicleOut]
    # The codes of all wheels in the order in which the whole is walked.
    walk: list[str]
    stages: list[StageOut]
    weighing: WeighingOut | None
    targets: TargetSetOut | None
    way: Way
    air: AirAnswerOut
    laid_up: LaidUpOut | None
    # It must not roll until it is signed off.
    out: OutOut | None
    # The ground plan that is open, for every screen of the rig.
    ground: Strip | None
    # Alarms that stand by the last numbers read off, for every screen of the rig.
    alarms: list[Phrase]
    # A number of a display or a receiver is on record: the next is near at hand.
    heard: bool
    open_round: int | None
    last_round: LastRoundOut | None


class ExpectedOut(Out):
    """A tire this morning, before anyone kneels: an estimate from its last service."""

    code: str
    name: str
    spare: bool
    kpa: float
    within_kpa: float
    floor_kpa: float | None
    target_kpa: float | None
    ceiling_kpa: float | None
    word: Word
    words: Phrase
    # Whether the whole range asks for it.
    sure: bool
    last_at: dt.datetime
    named: bool
    # Of the number off a display that counts beside it; null: none since.
    glance_at: dt.datetime | None = None


class NotForetoldOut(Out):
    """A tire of which nothing is known this morning."""

    code: str
    name: str
    words: Phrase


class MorningRigOut(Out):
    id: int
    name: str
    fleet_number: str
    place: str
    outside_c: float | None
    words: Phrase
    # So many tires want air, hold, and are not known.
    wanting: int
    holding: int
    unknown: int
    # Anything is wanted, not known, or open off the road.
    asks: bool
    # Laid up: nothing is foretold of it.
    resting: bool
    # What it goes by is being worked out anew: nothing is foretold, ask again.
    anew: bool
    # The air as it was typed by hand, where that is too old to go by: it may be confirmed.
    typed_c: float | None
    # What its numbers come from and is made up.
    stamps: list[str]
    tires: list[ExpectedOut]
    # Those that are not known, where others of the rig are.
    not_foretold: list[NotForetoldOut] = []
    next_check_on: dt.date | None
    next_check_over: bool
    next_check_words: str
    # The ground plan that is open: its numbers are what the tires are held against.
    ground: Phrase | None = None
    # The first dawn before its next check that takes tires of it to their floors: it asks for a round at once.
    dawn: Phrase | None = None


class MorningIn(Strict):
    """Rigs in whose number, name or kind every word stands, from the so-manieth on."""

    find: Find = ""
    first: First = 0


class MorningOut(Out):
    """`rigs`: a page, the most urgent first. `record` is of the whole workspace, or of the rig alone."""

    at: dt.datetime
    rigs: list[MorningRigOut]
    page: int
    # Of all that fit: how many rigs, how many of them ask for something or are being worked out anew, and their tires.
    found: int
    asking: int
    anew: int
    wanting: int
    holding: int
    unknown: int
    record: PredictionRecordOut


class DawnsIn(Strict):
    rigs: Annotated[list[int], Field(min_length=1, max_length=100)]


class DawnOut(Out):
    """A rig that a dawn before its next check asks for a round at once, and why."""

    rig: int
    words: Phrase


class AirTodayOut(Out):
    """Of how many rigs a tire wants air today, by prediction; how many a dawn before their next check asks for a round at once;
    `anew`: of so many that is being worked out."""

    rigs: int
    dawn: int
    anew: int
