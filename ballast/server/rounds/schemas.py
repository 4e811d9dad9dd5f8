import datetime as dt
from dataclasses import dataclass
from typing import Annotated, Literal
from uuid import UUID

from pydantic import AwareDatetime, Field

from ballast.core import lookback as core_lookback
from ballast.core import rounds as core
from ballast.core.air import Driven
from ballast.core.rounds import Cap, Leak, Sunny, Valve, Word
from ballast.core.working import Line, Phrase
from ballast.server.edge.quantities import (
    Code,
    Elevation,
    Hours,
    Note,
    Odometer,
    Pressure,
    Station,
    Temperature,
    Tread,
    Version,
    Words,
)
from ballast.server.edge.schema import Out, Strict
from ballast.server.gauges.schemas import FillOut


class ConditionsIn(Strict):
    """What a round is read in: gauge, air (a place, or by hand) and how long the rig has stood."""

    version: Version = ""
    gauge: int
    standing_h: Hours
    driven: Driven = "highway"
    rolled: bool = True
    sunny: Sunny = ""
    odometer: Odometer | None = None
    place_key: Annotated[str, Words(40)] = ""
    outside_c: Temperature | None = None
    morning_c: Temperature | None = None
    dawn_c: Temperature | None = None
    elevation_m: Elevation | None = None
    station_kpa: Station | None = None
    # The temperature of the heated shop that it stands in.
    shop_c: Temperature | None = None
    # While a ground plan is open: whether it was kept, so that its numbers count, or the road's do.
    plan_kept: bool | None = None
    # Just these wheels, for air after a rotation; empty: all. Asked when it is opened.
    only: Annotated[list[Code], Field(max_length=60)] = []


class StandingIn(Strict):
    """How a rig stands before its round."""

    rig: int
    standing_h: Hours
    driven: Driven = "highway"
    shop_c: Temperature | None = None


class StandingOut(Out):
    cold: bool
    words: Phrase


class ReadingIn(Strict):
    """A gauge reading as typed.

    `gauge`: another than the person's own; `not_rolled`: somebody said that the tire has not rolled like this; `saw`: the
    newest reading of this wheel that the person had before them.
    """

    wheel: Code
    after: bool = False
    pressure: Pressure
    not_rolled: bool = False
    gauge: int | None = None
    saw: UUID | None = None
    read_at: AwareDatetime | None = None


class WorkReadingIn(ReadingIn):
    round: int


class TreadIn(Strict):
    inner: Tread | None = None
    centre: Tread | None = None
    outer: Tread | None = None


class SeenIn(Strict):
    """What was seen; what is left out stays as it was said before."""

    leak: Leak | None = None
    cap: Cap | None = None
    valve: Valve | None = None
    tread: TreadIn | None = None
    damage: Annotated[str, Words(200)] | None = None
    sensor: Pressure | None = None
    display: Pressure | None = None
    # Whose display that is; it learns its offset from such rounds.
    display_gauge: int | None = None
    # Whether the tire has rolled since the display's number last changed; unknown judges and teaches nothing.
    display_rolled: bool | None = None
    note: Note | None = None
    # Why it is not read; empty: it is to be read after all.
    skipped: Annotated[str, Words(200)] | None = None
    # What an inspection found; it unlocks a tire that may have rolled low.
    inspected: Annotated[str, Words(200, 1)] | None = None


class WheelNoteIn(SeenIn):
    """What was seen at a wheel."""

    wheel: Code


class TakeIn(Strict):
    """The wheels that the person takes, with the gauge in hand; none: they are given back."""

    gauge: int
    wheels: Annotated[list[Code], Field(max_length=80)]


class WalkIn(Strict):
    version: Version = ""
    codes: Annotated[list[Code], Field(max_length=80)]


class WalkOut(Out):
    """The codes of all wheels in walking order."""

    codes: list[str]
    version: str


class SealIn(Strict):
    unread_reason: Annotated[str, Words(200)] = ""
    signed: Annotated[str, Words(80)] = ""
    # Said: there are wheels for which no target number is known, and it is sealed so.
    without_target: bool = False


class AmendAirIn(Strict):
    """The air and the time of a round put right; what is left out stays as it was.

    `read_at` without a time zone is by the clock of the round's place.
    """

    read_at: dt.datetime | None = None
    outside_c: Temperature | None = None
    elevation_m: Elevation | None = None
    standing_h: Hours | None = None
    driven: Driven | None = None
    shop_c: Temperature | None = None


class AmendIn(Strict):
    """Something of a sealed round put right: a reading, what was seen at a wheel, or the round's air and time."""

    uuid: UUID
    wheel: Annotated[str, Words(8)] = ""
    after: bool = False
    pressure: Pressure | None = None
    gauge: int | None = None
    # Null: as it was said with the reading.
    not_rolled: bool | None = None
    seen: SeenIn | None = None
    air: AmendAirIn | None = None
    reason: Annotated[str, Words(200, 3)]


class LateIn(Strict):
    """What becomes of an entry that came late: taken in, or left out."""

    take: bool
    reason: Annotated[str, Words(200)] = ""


class QuickWheelIn(Strict):
    """A line of a sheet that was filled in by hand."""

    wheel: Code
    before: Pressure | None = None
    after: Pressure | None = None
    leak: Leak | None = None
    cap: Cap | None = None
    note: Note | None = None
    skipped: Annotated[str, Words(200)] = ""


class QuickIn(Strict):
    """A whole round written first on paper: its conditions, and line by line what stands there."""

    conditions: ConditionsIn
    wheels: Annotated[list[QuickWheelIn], Field(min_length=1, max_length=80)]
    # When it was read; empty: now.
    read_at: AwareDatetime | None = None
    signed: Annotated[str, Words(80)] = ""
    seal: bool = True
    without_target: bool = False


class RadioIn(Strict):
    """A device to be heard at a wheel; with a set-point, an inflator to fill it."""

    wheel: Code
    device: Annotated[str, Words(40, 1)]
    set_point: Pressure | None = None


class AnswerOut(Out):
    word: Word
    words: Phrase
    cold_kpa: float | None
    uncertainty_kpa: float | None
    estimate: bool
    change_kpa: float | None
    notes: list[Phrase]
    working: list[Line]
    # The true pressure to bring it to, at the tire's own temperature.
    fill_kpa: float | None = None
    # No air before an inspection, or a reading that says otherwise.
    locked: bool = False
    # The tire is read again once that was done.
    asks_for_air: bool
    # What the gauge in hand shows then; of a reading as typed alone.
    shows_kpa: float | None = None


class ReadingOut(Out):
    uuid: str
    typed: str
    raw_kpa: float
    corrected_kpa: float
    uncertainty_kpa: float
    gauge: str
    not_rolled: bool
    by: str
    by_id: int | None = None
    at: dt.datetime


class WheelNoteOut(Out):
    """What was seen at a wheel, put together of all that was noted there."""

    leak: str = ""
    cap: str = ""
    valve: str = ""
    tread: core.Tread | None = None
    damage: str = ""
    sensor_kpa: float | None = None
    display_kpa: float | None = None
    display_rolled: bool | None = None
    display_label: str = ""
    note: str = ""
    skipped: str = ""
    inspected: str = ""
    inspected_by: str = ""
    words: list[Phrase] = []


class RoundWheelOut(Out):
    """A wheel of a round: what it is held against, what was read, what that means. `own` is its code on its own rig."""

    code: str
    name: str
    own: str
    rig: int
    axle: int | None
    spare: bool
    # −1 left, 1 right, 0 neither.
    side: int = 0
    floor_kpa: float | None
    target_kpa: float | None
    ceiling_kpa: float | None
    here_kpa: float | None
    shows_kpa: float | None
    # What would give it a target number, where it has none.
    missing: Phrase | None = None
    target_working: list[Line]
    target_notes: list[Phrase]
    before: ReadingOut | None
    after: ReadingOut | None
    # First readings that nobody saw when the one that counts was entered: both are shown, a new one settles it.
    others: list[ReadingOut] = []
    answer: AnswerOut
    after_answer: AnswerOut | None
    locked: bool
    # Air was asked for, may go in, and no second reading says that it did.
    wants_second: bool
    retakes: int
    seen: WheelNoteOut = WheelNoteOut()
    taken_by: str = ""
    taken_by_id: int | None = None
    # What its last service lets expect today [kPa], give or take.
    expected_kpa: float | None = None
    expected_within_kpa: float | None = None
    # Cold pressures outside of which a first reading is asked back before it is kept; null: nothing is expected.
    likely_from_kpa: float | None = None
    likely_to_kpa: float | None = None
    # The other end of its range here; null: it is one number.
    range_kpa: float | None = None


class TakeOut(Out):
    person: int
    name: str
    gauge: int
    gauge_label: str
    wheels: list[str]


@dataclass(frozen=True)
class Mended:
    """Something put right since: `was` what was entered before, where something was; `words` what is so by now."""

    kind: Literal["reading", "seen", "air"]
    wheel: str
    name: str
    after: bool
    typed: str
    gauge: str
    was: str
    words: tuple[Phrase, ...]
    raw_kpa: float | None
    corrected_kpa: float | None
    reason: str
    by: str
    at: dt.datetime


@dataclass(frozen=True)
class CameLate:
    """An entry that came when the round was sealed already."""

    uuid: UUID
    wheel: str
    name: str
    note: bool
    after: bool
    typed: str
    words: tuple[Phrase, ...]
    gauge: str
    by: str
    read_at: dt.datetime | None
    received_at: dt.datetime
    settled: str
    settled_by: str


class RoundOut(Out):
    id: int
    # Of what it is read in.
    version: str = ""
    rig: int
    rig_name: str
    gauge: int
    gauge_label: str
    gauge_condition: Phrase | None
    place: str
    time_zone: str
    outside_c: float
    morning_c: float | None
    dawn_c: float | None
    elevation_m: float
    standing_h: float
    driven: Driven
    rolled: bool = True
    sunny: str = ""
    shop_c: float | None = None
    air_source: str = ""
    odometer_km: float | None = None
    cold: bool
    wait_h: float
    opened_by: str
    opened_by_id: int | None = None
    opened_at: dt.datetime
    abandoned_at: dt.datetime | None = None
    sealed_by: str | None
    sealed_at: dt.datetime | None
    unread_reason: str
    without_target: str = ""
    signed: str = ""
    # While a ground plan is open: whether it was kept, so that its numbers count; null: none was open.
    plan_kept: bool | None = None
    wheels: list[RoundWheelOut]
    takes: list[TakeOut] = []
    findings: list[str]
    # What the round leaves open, in words.
    open_matters: list[str] = []
    over: list[Phrase]
    # What is fitted and is not the tire described.
    unlike: list[Phrase] = []
    # Its air is of a simulated service.
    made_up_weather: bool = False
    # What is made up in its targets.
    stamps: list[str]
    # Absent from rounds that were sealed before it was asked for.
    unchecked: bool = False
    # Of just some wheels: no check of the whole rig.
    partial: bool = False
    summary: str


class EnteredOut(Out):
    """An open round by an entry: the wheels that it can have changed, and what all wheels say together.

    `sealed_at`, `abandoned_at`: what became of the round meanwhile; the entry is kept with it.
    """

    id: int
    wheels: list[RoundWheelOut]
    findings: list[str]
    open_matters: list[str]
    summary: str
    sealed_at: dt.datetime | None
    abandoned_at: dt.datetime | None
    # The round's ETag before the entry and with it: who knew all of it before knows all of it now. Empty: it ended.
    mark_before: str
    mark: str


class PutAwayOut(Out):
    """A round that was abandoned; `read` counts the wheels that were read in it."""

    id: int
    opened_at: dt.datetime
    time_zone: str
    abandoned_at: dt.datetime
    abandoned_by: str
    read: int
    may_bring_back: bool


class LateWaitingOut(Out):
    """Entries that came for a sealed round."""

    round: int
    words: Phrase


class LeftOut(Out):
    """What rounds of a rig left to be seen to."""

    put_away: PutAwayOut | None
    late: LateWaitingOut | None


class SealedOut(RoundOut):
    """A sealed round with what was put right since, and taken apart into weather, shared and own."""

    # `wheels` are as they were sealed; these, and all else here, as they stand since something was put right.
    now: list[RoundWheelOut]
    amendments: list[Mended]
    late: list[CameLate]
    split: list[Phrase]
    parts: list[core_lookback.Part]
    next_check_on: dt.date | None
    next_check_words: str


class DecisionStretchOut(Out):
    from_kpa: float
    word: Word
    words: Phrase
    changes: bool
    notes: list[Phrase]
    locked: bool
    asks_for_air: bool
    # The other of its duals is stopped with it.
    stops_mate: bool


class DecisionOut(Out):
    """All that a reading of one gauge can mean at some wheels, as data: `rolled` is false once somebody said so."""

    wheels: list[str]
    gauge: int
    rolled: bool
    # The tires are still warm, or the sun is on them.
    estimate: bool
    low_kpa: float
    high_kpa: float
    here_kpa: float | None
    stretches: list[DecisionStretchOut]
    knots: list[core.Knot]


class OfflineOut(Out):
    """What a page needs to go on without a network."""

    round: RoundOut
    decisions: list[DecisionOut]
    # The mate of every dual wheel: where one ran low, the other is stopped with it.
    mates: dict[str, str]


class RadioOut(Out):
    kpa: float
    steady: bool
    remark: str


class SuitedGaugeOut(Out):
    gauge: int
    label: str
    able: bool
    best: bool
    uncertainty_kpa: float | None
    notes: list[Phrase]


class SuitedAxleOut(Out):
    """An axle or a spare with every gauge of the drawer: which suit, and why not the others."""

    name: str
    target_kpa: float
    ceiling_kpa: float | None
    dual: bool
    gauges: list[SuitedGaugeOut]


class RigJobOut(Out):
    """An inflator against what this rig needs now."""

    inflator: int
    label: str
    words: Phrase
    running_min: float | None
    whole_min: float | None
    fills: list[FillOut]


class LearnedOut(Out):
    """What a display shows over the truth [kPa], by readings side by side."""

    offset_kpa: float
    uncertainty_kpa: float
    count: int
    words: Phrase


class GaugeUseOut(Out):
    """A gauge among the rigs of its workspace: pressures in force in its range [kPa], the first it was not compared near,
    and of a display what it learned; None: fewer than three readings."""

    in_use_kpa: list[float]
    uncovered: Phrase | None
    learned: LearnedOut | None


class EquipmentOut(Out):
    axles: list[SuitedAxleOut]
    # By readings of the open round, or by prediction from the last service.
    basis: Literal["round", "prediction", "none"]
    jobs: list[RigJobOut]


class GaugeSaidOut(Out):
    """What rounds say of a gauge: how far it reads above its fellows [kPa]; null: not known."""

    gauge: int
    label: str
    error_kpa: float | None
    within_kpa: float | None
    named: bool
    words: Phrase
