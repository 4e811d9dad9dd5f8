"""A wheel of a round: its readings and notes, which of them stand, what that means, and what it leaves open."""

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from ballast.core.air import Ahead, Standing, TemperaturePolicy, fill_to, in_sun, target_here
from ballast.core.gas import Air
from ballast.core.gauges import AGREE_KPA, Corrected, Gauge, shows, suits, sure_at
from ballast.core.lookback import today
from ballast.core.refine import Tread
from ballast.core.rounds.answer import Answer, WheelGoal, answer, likely, mate_of, mate_stopped, stop_at
from ballast.core.rounds.line import SIDES, WheelLine
from ballast.core.rounds.mates import retake
from ballast.core.working import Line, Phrase, kpa, plain, say

Sunny = Literal["", "left", "right"]
_SUNNY_SIDE = {"left": SIDES["L"], "right": SIDES["R"]}

Leak = Literal["none", "heard", "bubbled"]
Cap = Literal["on", "missing", "fitted"]
Valve = Literal["good", "damaged"]
FOUND_LEAKS: tuple[Leak, ...] = ("heard", "bubbled")


@dataclass(frozen=True)
class Reading:
    """A reading as it was entered, and what is true by its gauge [kPa]. `order` rises with what came in later.

    `saw`: the newest reading of this wheel that the person had before them; `at` by the clock of the page.
    """

    uuid: str
    typed: str
    raw_kpa: float
    corrected_kpa: float
    uncertainty_kpa: float
    gauge: str
    not_rolled: bool
    by: str
    at: dt.datetime
    by_id: int | None = None
    wheel: str = ""
    after: bool = False
    gauge_id: int = 0
    outside: bool = False
    saw: str | None = None
    order: int = 0
    received_at: dt.datetime | None = None

    def corrected(self, least_kpa: float = 0.0) -> Corrected:
        """As the rules take it; no surer than `least_kpa`."""
        return Corrected(self.corrected_kpa, max(self.uncertainty_kpa, least_kpa), self.outside)


@dataclass(frozen=True)
class Note:
    """What was seen at a wheel beside its pressure. None: nothing was said of that."""

    leak: Leak | None = None
    cap: Cap | None = None
    valve: Valve | None = None
    tread: Tread | None = None
    damage: str | None = None
    sensor_kpa: float | None = None
    display_kpa: float | None = None
    display_rolled: bool | None = None
    display_gauge: int | None = None
    display_label: str | None = None
    display_true_kpa: float | None = None
    note: str | None = None
    skipped: str | None = None
    inspected: str | None = None


@dataclass(frozen=True)
class Noted:
    """A note with its wheel, its person and when it came in."""

    wheel: str
    says: Note
    by: str
    received_at: dt.datetime


@dataclass(frozen=True)
class Seen:
    """All that was noted at a wheel, put together: of each kind the newest word. Empty: nothing was said of that."""

    leak: Leak | Literal[""] = ""
    cap: Cap | Literal[""] = ""
    valve: Valve | Literal[""] = ""
    tread: Tread | None = None
    damage: str = ""
    sensor_kpa: float | None = None
    display_kpa: float | None = None
    display_rolled: bool | None = None
    display_gauge: int | None = None
    display_label: str = ""
    display_true_kpa: float | None = None
    note: str = ""
    skipped: str = ""
    inspected: str = ""
    inspected_by: str = ""
    words: tuple[Phrase, ...] = ()


@dataclass(frozen=True)
class Conditions:
    """What all wheels of a round share: the air, how the rig stands, whether it rolled since, the gauge in hand."""

    at: dt.datetime
    here: Air
    morning: Air | None
    dawns: tuple[Ahead, ...]
    temperature: TemperaturePolicy
    standing: Standing
    rolled: bool
    sunny: Sunny
    gauge_id: int
    gauges: Mapping[int, Gauge]
    # Of an open round a reading is no surer than its gauge is by now: it may have been dropped since.
    still_open: bool = True

    @property
    def gauge(self) -> Gauge:
        return self.gauges[self.gauge_id]

    def stands(self, line: WheelLine) -> Standing:
        """A spare has not rolled, so it is cold; a wheel on the sunny side is warmer than the air."""
        if line.spare:
            return Standing(True, self.here.temperature_c, 0.0)
        if line.side and line.side == _SUNNY_SIDE.get(self.sunny):
            return in_sun(self.standing, self.here.temperature_c)
        return self.standing

    def corrected(self, reading: Reading) -> Corrected:
        return reading.corrected(self.gauges[reading.gauge_id].least_kpa if self.still_open else 0.0)


@dataclass(frozen=True)
class Held:
    """A wheel's target in the air of the round [kPa]; None: it has none."""

    here_kpa: float | None = None
    hold_from_kpa: float | None = None
    out_to_kpa: float | None = None
    working: tuple[Line, ...] = ()
    notes: tuple[Phrase, ...] = ()
    # The other end of its range, in the same air.
    range_kpa: float | None = None
    # Below it a dawn before the next check takes it under its floor.
    dawn_kpa: float | None = None


def held(at: Conditions, line: WheelLine) -> Held:
    aim = line.aim
    if aim.target_kpa is None:
        return Held()
    here = target_here(
        aim.target_kpa, aim.floor_kpa, aim.ceiling_kpa, at.here, at.morning, at.dawns, line.step_kpa, at.temperature
    )
    # What speaks against this gauge at this pressure belongs beside it.
    notes = (*here.notes, *suits(at.gauge, here.kpa, line.inner).notes)
    range_here = None
    if aim.range_kpa is not None:
        range_here = target_here(
            aim.range_kpa, aim.floor_kpa, aim.ceiling_kpa, at.here, at.morning, at.dawns, line.step_kpa, at.temperature
        ).kpa
    return Held(here.kpa, here.hold_from_kpa, here.out_to_kpa, here.working, notes, range_here, here.dawn_kpa)


def goal(at: Conditions, line: WheelLine, of: Held, may_have_rolled: bool, gauge: Gauge) -> WheelGoal:
    """What a wheel is held against, read with a gauge. A spare, and a rig that stood since, have not rolled low."""
    aim = line.aim
    return WheelGoal(
        target_kpa=of.here_kpa,
        hold_from_kpa=of.hold_from_kpa,
        out_to_kpa=of.out_to_kpa,
        floor_kpa=aim.floor_kpa,
        floor_from=aim.floor_from,
        ceiling_kpa=aim.ceiling_kpa,
        may_have_rolled=may_have_rolled and at.rolled and not line.spare,
        heavy_or_dual=line.heavy_or_dual,
        stop_kpa=aim.stop_kpa if aim.target_kpa is None else stop_at(aim.target_kpa),
        sure_kpa=sure_at(gauge, of.here_kpa) if of.here_kpa is not None else 0.0,
        missing=aim.missing,
        range_kpa=of.range_kpa,
        dawn_kpa=of.dawn_kpa,
    )


def should_show(at: Conditions, line: WheelLine, of: Held, gauge: Gauge, fill_kpa: float | None) -> float | None:
    """What a gauge must show at a wheel [kPa]: what an answer fills it to, else its target at the tire's own temperature."""
    if fill_kpa is None:
        if of.here_kpa is None:
            return None
        fill_kpa = fill_to(of.here_kpa, line.aim.ceiling_kpa, at.stands(line), at.here)
    return shows(gauge, fill_kpa)


def expected(
    at: Conditions, line: WheelLine, gauge: Gauge | None = None, gauge_id: int | None = None
) -> tuple[float | None, float | None]:
    """What a wheel's last service lets expect here and now [kPa], give or take, read with a gauge (the round's where none is
    named); unknown where there was none."""
    if line.last is None:
        return None, None
    last = line.last.on(at.at)
    return today(last, at.here, gauge_id or at.gauge_id, sure_at(gauge or at.gauge, last.kpa))


@dataclass(frozen=True)
class Wheel:
    """A wheel of a round as it stands: what it is held against [kPa], what was read, what that means, what was seen."""

    code: str
    name: str
    own: str
    rig: int
    axle: int | None
    spare: bool
    floor_kpa: float | None
    target_kpa: float | None
    ceiling_kpa: float | None
    here_kpa: float | None
    shows_kpa: float | None
    target_working: tuple[Line, ...]
    target_notes: tuple[Phrase, ...]
    before: Reading | None
    after: Reading | None
    answer: Answer
    after_answer: Answer | None
    retakes: int
    side: int = 0
    missing: Phrase | None = None
    # Readings that nobody saw when the one that counts was entered: both are shown, a new one settles it.
    others: tuple[Reading, ...] = ()
    seen: Seen = field(default_factory=Seen)
    # No air before an inspection, or a reading that says otherwise.
    locked: bool = False
    may_have_rolled: bool = True
    # Who took it, with a gauge of their own.
    taken_by: str = ""
    taken_by_id: int | None = None
    expected_kpa: float | None = None
    expected_within_kpa: float | None = None
    # Cold pressures outside of which a first reading is asked back before it is kept; None: nothing is expected.
    likely_from_kpa: float | None = None
    likely_to_kpa: float | None = None
    # The other end of its range here; None: it is one number.
    range_kpa: float | None = None

    @property
    def stands(self) -> Answer:
        """The answer that stands: after air was added the second, else the first."""
        return self.after_answer or self.answer

    @property
    def wants_second(self) -> bool:
        """Air was asked for, may go in, and no second reading says that it did."""
        return self.before is not None and self.after is None and not self.locked and self.answer.asks_for_air

    @property
    def open_matter(self) -> str:
        """What it leaves open, in a few words; empty: nothing."""
        return ", ".join(_open(self))


def _open(wheel: Wheel) -> list[str]:
    seen = wheel.seen
    if wheel.before is None:
        return [f"not read: {seen.skipped}" if seen.skipped else "not read"]
    if wheel.locked:
        stopped = "locked until inspected"
    else:
        stopped = "to be looked at again within a day" if wheel.stands.word == "stop" else ""
    matters = [
        "two readings that did not know of each other" if wheel.others else "",
        "no target known" if wheel.here_kpa is None else "",
        stopped,
        f"leak {seen.leak}" if seen.leak in FOUND_LEAKS else "",
        f"damage: {seen.damage}" if seen.damage else "",
        "valve damaged" if seen.valve == "damaged" else "",
        "cap missing" if seen.cap == "missing" else "",
    ]
    return [words for words in matters if words]


def counting(own: Sequence[Reading]) -> tuple[Reading | None, Reading | None]:
    """The first and the second reading of a wheel that count: the newest; a new first one starts the wheel again."""
    firsts = [r for r in own if not r.after]
    if not firsts:
        return None, None
    seconds = [r for r in own if r.after and r.order > firsts[-1].order]
    return firsts[-1], seconds[-1] if seconds else None


def unseen(readings: Sequence[Reading]) -> tuple[Reading, ...]:
    """Readings of a wheel, of one kind, that whoever entered the newest had not seen."""
    if len(readings) < 2:
        return ()
    newest, missed = readings[-1], []
    for earlier in reversed(readings[:-1]):
        if newest.saw == earlier.uuid or (newest.saw is None and earlier.by_id == newest.by_id):
            break
        missed.append(earlier)
    return tuple(missed)


def put_together(notes: Sequence[Noted], before: Reading | None) -> tuple[Seen, dt.datetime | None]:
    """All that was noted at a wheel, and when its display's number was. An inspection counts for the reading it followed."""
    seen, display_at = Seen(), None
    for noted in notes:
        says = {name: value for name, value in vars(noted.says).items() if value is not None}
        if noted.says.inspected is not None:
            fresh = before is None or before.received_at is None or noted.received_at >= before.received_at
            says |= {"inspected": noted.says.inspected, "inspected_by": noted.by} if fresh else {"inspected": ""}
            if not fresh:
                says["inspected_by"] = ""
        if noted.says.display_kpa is not None:
            # A number of before belongs to what was read before: like is held against like.
            display_at = noted.received_at
        seen = replace(seen, **says)
    return (seen if before is None else replace(seen, skipped="")), display_at


def beside_display(own: Sequence[Reading], at: dt.datetime, rolled: bool | None) -> Reading | None:
    """The reading that a display's number, noted at a moment, is to be held against: the newest before it, where the tire has
    rolled since that number last changed; none where it has not, or nobody said so."""
    earlier = [r for r in own if r.received_at is not None and r.received_at <= at]
    return earlier[-1] if rolled and earlier else None


def _said(seen: Seen, display_at: dt.datetime | None, own: Sequence[Reading], at: Conditions) -> list[Phrase]:
    """What the notes of a wheel, and its readings together, give to say."""
    words: list[Phrase] = []
    if seen.leak in FOUND_LEAKS:
        words.append(say(f"Leak {seen.leak}: find it, and have it mended."))
    if seen.cap == "missing":
        words.append(say("Its cap is missing: fit one."))
    if seen.valve == "damaged":
        words.append(say("Its valve is damaged: have it changed."))
    if seen.damage:
        words.append(say("Damage: " + plain(seen.damage) + ". A tire service decides."))
    if seen.inspected:
        words.append(say(f"Inspected by {plain(seen.inspected_by)}: {plain(seen.inspected)}."))
    read = tuple(at.corrected(r) for r in own if not r.after)
    if (apart := retake(read)) is not None:
        words.append(say("Two readings differ by {0}, more than the gauge explains: read it once more.", kpa(apart)))
    return words + _beside(seen, display_at, own, at, read[-1] if read else None)


def _beside(
    seen: Seen, display_at: dt.datetime | None, own: Sequence[Reading], at: Conditions, newest: Corrected | None
) -> list[Phrase]:  # fmt: skip
    """What is to be said of a tire's own sensor and of a display, held against the gauge."""
    words: list[Phrase] = []
    label = plain(seen.display_label or "The display")
    like = beside_display(own, display_at, seen.display_rolled) if display_at else None
    if seen.display_kpa is not None and like is None:
        words.append(say(f"{label}: a number of before it has rolled judges nothing, and teaches nothing."))
    for name, shown, true in (
        ("Its own sensor", seen.sensor_kpa, newest),
        (label, seen.display_true_kpa, at.corrected(like) if like else None),
    ):
        gap = 0.0 if shown is None or true is None else shown - true.kpa
        if abs(gap) >= AGREE_KPA:
            way = "lower" if gap < 0 else "higher"
            words.append(say(f"{name} shows {{0}} {way} than the gauge.", kpa(abs(gap))))
    return words


def wheel(at: Conditions, line: WheelLine, readings: Sequence[Reading], notes: Sequence[Noted] = ()) -> Wheel:
    """A wheel with its readings and notes (those of others are passed over), oldest first, and what they mean."""
    own = [r for r in readings if r.wheel == line.code]
    before, after = counting(own)
    firsts = [r for r in own if not r.after]
    seconds = [r for r in own if r.after and before is not None and r.order > before.order]
    seen, display_at = put_together([n for n in notes if n.wheel == line.code], before)
    of, stood = held(at, line), at.stands(line)
    gauge = at.gauge if before is None else at.gauges[before.gauge_id]
    aimed = goal(at, line, of, not (before and before.not_rolled) and not seen.inspected, gauge)
    verdict = answer(aimed, at.corrected(before) if before else None, stood, at.here)
    second = None
    if after is not None:
        again = goal(at, line, of, False, at.gauges[after.gauge_id])
        second = answer(again, at.corrected(after), stood, at.here)
    expects, within = expected(at, line, gauge, before.gauge_id if before else None)
    low, high = None, None
    if expects is not None and within is not None and of.here_kpa is not None:
        low, high = likely(expects, within, of.here_kpa)
    return Wheel(
        code=line.code, name=line.name, own=line.own, rig=line.rig, axle=line.axle, spare=line.spare, side=line.side,
        floor_kpa=line.aim.floor_kpa, target_kpa=line.aim.target_kpa, ceiling_kpa=line.aim.ceiling_kpa,
        here_kpa=of.here_kpa, target_working=of.working, target_notes=of.notes,
        shows_kpa=should_show(at, line, of, gauge, verdict.fill_kpa),
        missing=aimed.missing if line.aim.target_kpa is None else None,
        before=before, after=after, others=unseen(firsts) + unseen(seconds), answer=verdict, after_answer=second,
        locked=verdict.locked, may_have_rolled=aimed.may_have_rolled, retakes=max(0, len(firsts) - 1),
        seen=replace(seen, words=tuple(_said(seen, display_at, own, at))),
        expected_kpa=expects, expected_within_kpa=within, likely_from_kpa=low, likely_to_kpa=high,
        range_kpa=of.range_kpa,
    )  # fmt: skip


def with_mates(wheels: Sequence[Wheel]) -> tuple[Wheel, ...]:
    """The wheels of a round with each dual stopped whose mate ran low: it carried the load of both."""
    at = {w.code: w for w in wheels}

    def beside(own: Wheel) -> Wheel:
        mate = at.get(mate_of(own.code) or "")
        if mate is None or own.before is None or not (mate.answer.ran_low and mate.may_have_rolled):
            return own
        stopped = mate_stopped(own.may_have_rolled, own.answer, mate.name)
        return replace(own, answer=stopped, locked=stopped.locked)

    return tuple(beside(w) for w in wheels)
