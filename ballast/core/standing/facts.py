"""All that the rules ask of a rig to say how it stands; unknown is None or empty, and never good."""

import datetime as dt
from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace

from ballast.core.air import leaves_band
from ballast.core.rigs import Finding, Wheel
from ballast.core.rounds import LastWord
from ballast.core.standing.due import Dated, Due, NextCheck, before_trip
from ballast.core.standing.events import Event, UsedGauge
from ballast.core.standing.laid_up import LaidUp
from ballast.core.working import Phrase


@dataclass(frozen=True)
class Leaking:
    """A named leak at a wheel, by its code and its name now: what it loses a day [kPa, below zero]."""

    code: str
    name: str
    kpa_day: float


# A target that differs by less is the same, as it was rounded.
_SAME_KPA = 0.5


@dataclass(frozen=True)
class OnNow:
    """What is at a wheel by now: its tire and since when (None: none is recorded), and what it is to hold [kPa].

    `compared` False: what it is to hold is not, as of a spare, without targets, or while a ground plan is open.
    """

    tire: int | None = None
    since: dt.date | None = None
    target_kpa: float | None = None
    compared: bool = True


def on_now(
    wheels: Sequence[Wheel], fitted: Mapping[str, tuple[int, dt.date]], targets: Mapping[int, float | None] | None,
    off_road: bool,
) -> dict[str, OnNow]:  # fmt: skip
    """What is at each wheel of a vehicle by now, by its own codes: `fitted`, the tire and since when; `targets` [kPa] by axle,
    None: none are in force; `off_road`: a ground plan is open."""
    compared = targets is not None and not off_road
    found = {}
    for w in wheels:
        tire, since = fitted.get(w.code, (None, None))
        found[w.code] = OnNow(tire, since, (targets or {}).get(w.axle or 0), compared and w.axle is not None)
    return found


@dataclass(frozen=True)
class LastRound:
    """The newest sealed round of a rig: when it was read, what it said last of every wheel, the next check and why.

    `gauges`: those of it that were in doubt ever since; `again`: the wheels, by vehicle and code, that a round of just some read
    since, and when; `overtaken`: what happened since that asks for a round at once.
    """

    read_at: dt.datetime
    words: tuple[LastWord, ...] = ()
    next_on: dt.date | None = None
    next_why: str = ""
    summary: str = ""
    gauges: tuple[UsedGauge, ...] = ()
    again: frozenset[tuple[int, str]] = frozenset()
    again_at: dt.datetime | None = None
    overtaken: tuple[str, ...] = ()

    def of(self, rig: int) -> tuple[LastWord, ...]:
        """What it said of one vehicle's wheels."""
        return tuple(w for w in self.words if w.rig == rig)

    def let_out_after(self, let_out_at: dt.datetime | None) -> bool:
        """Whether a ground plan was opened after it was read."""
        return let_out_at is not None and self.read_at < let_out_at

    def since(self, let_out_at: dt.datetime | None) -> "LastRound":
        """The same; what it said of tires on the road is no word of them once a ground plan was opened after it."""
        if not self.let_out_after(let_out_at):
            return self
        return replace(self, words=tuple(replace(w, word="not_checked") for w in self.words))

    def by_now(
        self, rig: int, wheels: Mapping[str, OnNow], events: Sequence[Event] = (), train: Collection[int] = ()
    ) -> "LastRound":
        """The same; of a wheel where it is overtaken it says nothing. `wheels` of one vehicle, by its own codes; `events`, what
        happened to it; `train`, all that is hitched together now.

        >>> read = LastRound(dt.datetime(2026, 11, 20), (LastWord("1L", "hold", 1, own="1L", tire=7, target_kpa=620.0),))
        >>> now = read.by_now(1, {"1L": OnNow(8, dt.date(2026, 11, 21), 620.0)}, train=(1, 2))
        >>> now.words[0].word, now.overtaken
        ('not_checked', ('another tire at 1L', 'hitched'))
        """
        by = self.overtaken_at(rig, wheels, events)
        words, codes = [], dict[str, list[str]]()
        for word in self.words:
            why = by.pop(word.own, None) if word.rig == rig else None
            words.append(replace(word, word="not_checked") if why else word)
            if why:
                codes.setdefault(why, []).append(word.code)
        for own, why in by.items():
            codes.setdefault(why, []).append(own)
        said = [f"{why} at {', '.join(at)}" for why, at in codes.items()]
        said += [e.words for e in events if not e.wheel and e.follows(self.read_at)]
        said += [f"gauge {g.label} in doubt" for g in self.gauges if g.doubted_since]
        said += ["hitched"] if self.words and not {w.rig for w in self.words}.issuperset(train) else []
        return replace(self, words=tuple(words), overtaken=(*self.overtaken, *dict.fromkeys(said)))

    def overtaken_at(
        self, rig: int, wheels: Mapping[str, OnNow], events: Sequence[Event] = ()
    ) -> dict[str, str]:  # fmt: skip
        """At which wheels of a vehicle, by its own codes, what was said is no word any more, and by what it was overtaken:
        another tire than the one that was read, something that happened there, or another target than it was held against."""
        by: dict[str, str] = {}
        said = {w.own: w for w in self.of(rig)}
        for word in said.values():
            now = wheels.get(word.own) if word.word != "not_checked" else None
            if now is not None and self._another_tire(word, now):
                by[word.own] = "another tire"
            elif now is not None and now.compared and not _same(word.target_kpa, now.target_kpa):
                by[word.own] = "another target"
        for event in events:
            if (
                event.wheel
                and by.get(event.wheel) != "another tire"
                and event.follows(self._read_at(said, event.wheel))
            ):
                by[event.wheel] = event.words
        return by

    def _read_at(self, said: Mapping[str, LastWord], own: str) -> dt.datetime:
        """When a wheel was read last, as far as that is known."""
        word = said.get(own)
        read_again = self.again_at if word is not None and (word.rig, word.code) in self.again else None
        return read_again or self.read_at

    def _another_tire(self, word: LastWord, now: OnNow) -> bool:
        if word.tire is not None:
            return now.tire != word.tire
        # The tire that was there may have been written down since; one that was fitted that day or later may be another.
        return now.since is not None and now.since >= self.read_at.date()

    def renewed(self, part: "LastRound") -> "LastRound":
        """The same, with what a round of just some wheels said of them since."""
        if part.read_at <= self.read_at:
            return self
        newer = {(w.rig, w.code): w for w in part.words}
        words = tuple(newer.get((w.rig, w.code), w) for w in self.words)
        return replace(
            self, words=words, gauges=self.gauges + part.gauges, again=frozenset(newer), again_at=part.read_at
        )

    def before(self, leaves: dt.date | None) -> "LastRound":
        """The same, with the next check before a trip that begins on a day."""
        if self.next_on is None:
            return self
        check = before_trip(NextCheck(self.next_on, self.next_why), self.read_at.date(), leaves)
        return replace(self, next_on=check.on, next_why=check.words)

    def leaks(self, rig: int, on: dict[int, str], names: dict[str, str]) -> tuple[Leaking, ...]:
        """Named leaks of one vehicle at the wheels where the tires are now; of tires that were taken off none.

        `on`: the wheel of each tire that is on, `names`: of each wheel.
        """
        leaking: dict[str, Leaking] = {}
        for leak in (w.leak for w in self.of(rig) if w.leak):
            # Where no tire was recorded it is the wheel's, until one is fitted there.
            code = on.get(leak.tire) if leak.tire else leak.wheel if leak.wheel not in on.values() else None
            if code and code in names:
                leaking[code] = Leaking(code, names[code], leak.kpa_day)
        return tuple(leaking.values())


def _same(one: float | None, other: float | None) -> bool:
    return one == other or (one is not None and other is not None and abs(one - other) <= _SAME_KPA)


@dataclass(frozen=True)
class ReadWith:
    """The gauge that a rig was last read with, and the last day on which its comparison stands; None: it was never compared."""

    label: str
    due_on: dt.date | None


@dataclass(frozen=True)
class Ticket:
    """The weighing in force: when, what is over, when to weigh again and why, and how it came about."""

    weighed_on: dt.date
    over: tuple[Phrase, ...]
    again: Due
    again_words: Dated
    load_state: str = ""
    made_up: bool = False
    worked_out: bool = False


@dataclass(frozen=True)
class AxleAim:
    """An axle of the targets in force: its name, its target [kPa], and how that is known."""

    name: str
    target_kpa: float | None
    no_pressure: bool = False
    provisional: bool = False
    trial: bool = False


@dataclass(frozen=True)
class AirAhead:
    """What the air does to the targets in force, in words: of each axle whether every dawn before the next check stays above
    its floor and below its ceiling (None: not known); `old`: the air was typed too long ago to go by."""

    words: Phrase
    axles: tuple[tuple[bool | None, bool | None], ...]
    old: bool

    @property
    def leaves_band(self) -> bool:
        return any(leaves_band(*axle) for axle in self.axles)

    @property
    def all_hold(self) -> bool:
        """Nothing is fine of which something is not known."""
        return bool(self.axles) and all(above for above, _ in self.axles)


@dataclass(frozen=True)
class Facts:
    """A rig today. `aims` None: no targets are in force; `stale`: why those in force no longer fit."""

    today: dt.date
    axles: int
    tires: int
    ticket: Ticket | None
    aims: tuple[AxleAim, ...] | None
    stale: tuple[str, ...] = ()
    last: LastRound | None = None
    said: tuple[LastWord, ...] = ()
    leaks: tuple[Leaking, ...] = ()
    open_round: bool = False
    read_with: ReadWith | None = None
    findings: Sequence[Finding] = ()
    # The day from which on other things are found, by its tires' age alone; None: never.
    ages_on: dt.date | None = None
    retorque: Phrase | None = None
    # Why a rotation is due, in words; None: it is not, or that is not known.
    rotate: Phrase | None = None
    # Entries that came for sealed rounds, in words; None: none wait.
    late: Phrase | None = None
    air: AirAhead | None = None
    laid_up: LaidUp | None = None
    # That it is out of service, in words; None: it may roll.
    out: Phrase | None = None
    # An open ground plan, in words, and whether it must be seen to now; None: none is open.
    ground: Phrase | None = None
    ground_loud: bool = False
    words: Counter[str] = field(init=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "words", Counter(w.word for w in self.said))

    @property
    def last_on(self) -> dt.date | None:
        return self.last.read_at.date() if self.last else None

    @property
    def resting(self) -> bool:
        """Laid up: what is due waits."""
        return self.laid_up is not None and self.laid_up.stands(self.last_on, self.today) == "resting"

    @property
    def next_on(self) -> dt.date | None:
        """The day of the next check; None: not known, or never done."""
        if self.laid_up is not None and self.laid_up_words is not None:
            return self.laid_up.until
        return self.last.next_on if self.last else None

    @property
    def laid_up_words(self) -> Phrase | None:
        return self.laid_up.words(self.last_on, self.today) if self.laid_up else None
