"""A round as a value, live or sealed: its wheels, what they say together, what is open, whether it may be sealed."""

import datetime as dt
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ballast.core.air import Driven
from ballast.core.refusal import Refusal
from ballast.core.rounds.answer import WORDS
from ballast.core.rounds.line import WheelLine
from ballast.core.rounds.mates import Stands, mates, mates_words
from ballast.core.rounds.wheel import Conditions, Noted, Reading, Sunny, Wheel, wheel, with_mates
from ballast.core.working import Phrase

# A sheet of paper is entered within this many days, and a sealed round's time put right within as many.
ENTERED_WITHIN_DAYS = 60
# A round that was abandoned can be brought back for so long [days].
BROUGHT_BACK_WITHIN_DAYS = 14


@dataclass(frozen=True)
class Taken:
    """The wheels that a person took, with a gauge of their own."""

    person: int
    name: str
    gauge: int
    gauge_label: str
    wheels: tuple[str, ...]


@dataclass(frozen=True)
class State:
    """The wheels of a round, and what follows from all of them."""

    wheels: tuple[Wheel, ...]
    findings: tuple[str, ...]
    open_matters: tuple[str, ...]
    summary: str


@dataclass(frozen=True)
class Round(State):
    """A round: where, when, with what and how it was read, by whom, and its state.

    What a round of before did not keep has its default.
    """

    id: int
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
    cold: bool
    wait_h: float
    opened_by: str
    opened_at: dt.datetime
    over: tuple[Phrase, ...]
    version: str = ""
    rolled: bool = True
    sunny: Sunny = ""
    shop_c: float | None = None
    air_source: str = ""
    odometer_km: float | None = None
    opened_by_id: int | None = None
    abandoned_at: dt.datetime | None = None
    sealed_by: str | None = None
    sealed_at: dt.datetime | None = None
    unread_reason: str = ""
    without_target: str = ""
    signed: str = ""
    takes: tuple[Taken, ...] = ()
    # What is fitted and is not the tire described.
    unlike: tuple[Phrase, ...] = ()
    # Its air is of a simulated service.
    made_up_weather: bool = False
    # What is made up in its targets.
    stamps: tuple[str, ...] = ()
    unchecked: bool = False
    # Of just some wheels, for air after a rotation: no check of the whole rig.
    partial: bool = False
    # While a ground plan was open: whether it was kept, so that its numbers counted; None: none was.
    plan_kept: bool | None = None

    @property
    def in_short(self) -> str:
        """Its summary, as lists tell it."""
        return f"Just {', '.join(w.code for w in self.wheels)}: {self.summary}" if self.partial else self.summary


def state(
    at: Conditions, lines: Sequence[WheelLine], readings: Sequence[Reading], notes: Sequence[Noted] = (),
    takes: Sequence[Taken] = (),
) -> State:  # fmt: skip
    """A round as it stands by some readings and notes, oldest first."""
    return together([wheel(at, line, readings, notes) for line in lines], takes)


def together(each: Sequence[Wheel], takes: Sequence[Taken] = ()) -> State:
    """A round by all its wheels, of which each was looked at by itself."""
    whose = {code: take for take in takes for code in take.wheels}
    wheels = with_mates(each)
    wheels = tuple(
        replace(w, taken_by=take.name, taken_by_id=take.person) if (take := whose.get(w.code)) else w for w in wheels
    )
    return State(
        wheels, findings(wheels), tuple(f"{w.name}: {w.open_matter}" for w in wheels if w.open_matter), summary(wheels)
    )


def summary(wheels: Sequence[Wheel]) -> str:
    """A round in a few words, by the answers that stand at its end."""
    bare = [w for w in wheels if w.here_kpa is None]
    count = Counter(w.stands.word for w in wheels if w.here_kpa is not None)
    count.update(w.stands.word for w in bare if w.stands.word != "cannot_tell")
    parts = [f"{use.summary}: {count[word]}" for word, use in WORDS.items() if count[word] and word != "hold"]
    parts += [f"no target known: {len(bare)}"] if bare else []
    served = sum(1 for w in wheels if w.after)
    text = ", ".join(parts) if parts else "all hold"
    return f"{text}; air set in {served}" if served else text


def findings(wheels: Sequence[Wheel]) -> tuple[str, ...]:
    """What is a finding of its own: mates that disagree."""
    cold = {}
    for w in wheels:
        reading = w.after or w.before
        if w.stands.cold_kpa is not None and reading is not None:
            cold[w.code] = Stands(w.stands.cold_kpa, w.stands.uncertainty_kpa or 0.0, reading.gauge)
    names = {w.code: w.name for w in wheels}
    return tuple(mates_words(m, names[m.first], names[m.second]) for m in mates(cold))


def must_be_sealable(wheels: Sequence[Wheel], unread_reason: str) -> None:
    """Raises Refusal where nothing is read, where a wheel is not read and no reason is given, of its own or for all, and where
    two readings did not know of each other."""
    unread = [w for w in wheels if w.before is None]
    if len(unread) == len(wheels):
        raise Refusal("Nothing is read yet. Read the wheels, or abandon the round.", "unread_reason")
    silent = [_whose(w) for w in unread if not w.seen.skipped]
    if silent and not unread_reason:
        raise Refusal(f"Not read: {', '.join(silent)}. Read them, or give the reason.", "unread_reason")
    if split := next((w.name for w in wheels if w.others), None):
        raise Refusal(f"{split} has two readings that did not know of each other. Read it once more.", "wheel")


def _whose(unread: Wheel) -> str:
    """A wheel by its name, and who still has it."""
    return f"{unread.name} ({unread.taken_by} has it)" if unread.taken_by else unread.name


def without_target(wheels: Sequence[Wheel], said: bool) -> str:
    """What is missing for the wheels that were read and have no target number, in words; empty: nothing.

    Raises Refusal where that is not said.
    """
    bare = [w for w in wheels if w.before is not None and w.here_kpa is None]
    if not bare:
        return ""
    names = ", ".join(w.name for w in bare)
    if not said:
        why = bare[0].missing
        reason = why.in_both() if why else "No target is in force."
        raise Refusal(f"No target number is known for {names}: {reason} Say that it is sealed so.", "without_target")
    return f"{names}: no target number is known"


@dataclass(frozen=True)
class NamedLeak:
    """A named leak, at the vehicle's own wheel where the tire was then: its tire (None: not recorded) and what it loses."""

    wheel: str
    tire: int | None
    kpa_day: float


@dataclass(frozen=True)
class LastWord:
    """What a round said last of a wheel, and what is open there: all that lists ask of it.

    `own`: the vehicle's own code of it (empty in rounds of before that was kept), `tire`: which was read there (None: none is
    recorded), `target_kpa`: what it was held against.
    """

    code: str
    word: str
    rig: int
    open: str = ""
    leak: NamedLeak | None = None
    own: str = ""
    tire: int | None = None
    target_kpa: float | None = None


def last_words(wheels: Sequence[Wheel], tires: Mapping[str, int | None]) -> tuple[LastWord, ...]:
    """The last words of all wheels; `tires`: which was read at each, by code."""
    return tuple(
        LastWord(
            w.code, w.stands.word, w.rig, w.open_matter, own=w.own, tire=tires.get(w.code),
            target_kpa=None if w.spare else w.target_kpa,
        )
        for w in wheels
    )  # fmt: skip
