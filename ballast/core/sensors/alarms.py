"""Alarms of the wheels of an axle as a fold over what was measured, in the order in which it was measured.

What sets at one number clears at a higher one, so two wheels alike can stand in different states: the history decides, and
`why_apart` says so. Late and doubled numbers end in the same state.
"""

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from ballast.core.sensors.numbers import HEARD_MIN, Sample, cold_equivalent, is_cold
from ballast.core.sensors.thresholds import FAST_KPA, UNDER_MATE, Aim, Thresholds, thresholds
from ballast.core.working import Phrase, celsius, kpa, plain, say

Grade = Literal["clear", "low", "very low"]
What = Literal["low", "very low", "high", "heat", "fast loss"]
_MINUTE = dt.timedelta(minutes=1)
# What is no difference [kPa].
_NOTHING_KPA = 1e-6
# Beyond this two numbers say nothing of how fast air was lost between them.
_FAST_WITHIN = dt.timedelta(minutes=5)


@dataclass(frozen=True)
class Filled:
    """Air was logged at a wheel: what was low is asked anew."""

    wheel: str
    at: dt.datetime


@dataclass(frozen=True)
class Told:
    """An alarm that set or cleared, and by which number [kPa; heat °C]."""

    wheel: str
    what: What
    set: bool
    at: dt.datetime
    by: float


@dataclass(frozen=True)
class Alarm:
    """The state of a wheel. None of `cold_kpa`: nothing that judges was heard of it; it is then not known, and not clear."""

    pressure: Grade = "clear"
    high: bool = False
    heat: bool = False
    fast: bool = False
    cold_kpa: float | None = None
    kpa: float | None = None
    at: dt.datetime | None = None
    # Very low was told already since it was last clear.
    told_very_low: bool = False

    @property
    def known(self) -> bool:
        return self.cold_kpa is not None

    @property
    def loud(self) -> bool:
        return self.pressure != "clear" or self.high or self.heat or self.fast


@dataclass(frozen=True)
class Fold:
    """The wheels of an axle after all that was measured, and what was told on the way, oldest first.

    `recent`: by wheel what was read rolling in the last minute [kPa], and the newest before it: what a fast loss is told by.
    """

    wheels: Mapping[str, Alarm]
    told: tuple[Told, ...] = ()
    recent: Mapping[str, tuple[tuple[dt.datetime, float], ...]] = field(default_factory=dict)


@dataclass
class _Going:
    alarms: dict[str, Alarm]
    told: list[Told] = field(default_factory=list)
    recent: dict[str, tuple[tuple[dt.datetime, float], ...]] = field(default_factory=dict)


def fold(aim: Aim, wheels: Sequence[str], events: Sequence[Sample | Filled], start: Fold | None = None) -> Fold:
    """The state of an axle's wheels by everything that was measured. What is not fresh, doubled, or of another wheel is nothing.

    `start` is what all before came to, of the same wheels; what is late for that asks for everything again.

    >>> from ballast.core.gas import Air
    >>> at = dt.datetime(2026, 11, 28, 6)
    >>> read = [Sample("1L", at + dt.timedelta(hours=i), p, Air(20, 0), stood_h=9.0) for i, p in enumerate((290, 255, 281, 282))]
    >>> [fold(Aim(290, Air(20, 0), False), ["1L"], read[: n + 1]).wheels["1L"].pressure for n in range(4)]
    ['clear', 'low', 'low', 'clear']
    """
    before = start.wheels if start else {}
    going = _Going(
        {w: before.get(w, Alarm()) for w in wheels},
        list(start.told) if start else [],
        dict(start.recent) if start else {},
    )
    once: dict[tuple[str, dt.datetime, bool], Sample | Filled] = {}
    for e in events:
        if e.wheel in going.alarms and (isinstance(e, Filled) or e.fresh):
            once.setdefault((e.wheel, e.at, isinstance(e, Filled)), e)
    # Of one moment: air first, then numbers, wheel by wheel.
    for e in sorted(once.values(), key=lambda e: (e.at, isinstance(e, Sample), e.wheel)):
        if isinstance(e, Filled):
            going.alarms[e.wheel] = replace(going.alarms[e.wheel], pressure="clear", fast=False, told_very_low=False)
            going.recent.pop(e.wheel, None)
        else:
            _take(going, aim, e)
    return Fold(going.alarms, tuple(going.told), going.recent)


def _take(going: _Going, aim: Aim, s: Sample) -> None:
    at, was = thresholds(aim, s.air), going.alarms[s.wheel]
    cold = cold_equivalent(s, aim.heavy)
    grade = _grade(at, was.pressure, cold, is_cold(s, aim.heavy), _under_mate(going, s, cold), aim)
    high = s.kpa >= at.high_kpa or (was.high and s.kpa > at.high_clears_kpa)
    heat = was.heat
    if s.tire_c is not None:
        heat = s.tire_c >= at.heat_c or (was.heat and s.tire_c > at.heat_clears_c)
    fast = _fast(going, s) or (was.fast and not (grade == "clear" and is_cold(s, aim.heavy)))
    now = Alarm(grade, high, heat, fast, cold, s.kpa, s.at, was.told_very_low and grade != "clear")
    going.alarms[s.wheel] = _tell(going, s, was, now)
    if s.rolling:
        before = going.recent.get(s.wheel, ())
        newest_before = max((i for i, (at_, _) in enumerate(before) if s.at - at_ > _MINUTE), default=0)
        going.recent[s.wheel] = (*before[newest_before:], (s.at, s.kpa))
    else:
        going.recent.pop(s.wheel, None)


def _grade(at: Thresholds, was: Grade, cold: float, still: bool, under_mate: bool, aim: Aim) -> Grade:
    if cold <= at.very_low_kpa:
        return "very low"
    by_share = cold <= aim.target_kpa * (1 - aim.low_share)
    if by_share or cold < at.low_kpa - _NOTHING_KPA or under_mate:
        return "low"
    if was == "clear":
        return "clear"
    # Warming and silence never clear it: only a cold number well above does.
    return "clear" if still and cold >= at.low_clears_kpa else "low"


def _under_mate(going: _Going, s: Sample, cold: float) -> bool:
    """Far under another wheel of the axle that was heard of lately."""
    lately = [
        a.cold_kpa
        for w, a in going.alarms.items()
        if w != s.wheel and a.cold_kpa is not None and a.at is not None and s.at - a.at <= HEARD_MIN * _MINUTE
    ]
    return bool(lately) and cold <= max(lately) * (1 - UNDER_MATE)


def _fast(going: _Going, s: Sample) -> bool:
    """Whether it lost 14 kPa within a minute of rolling; between numbers further apart, at that rate."""
    if not s.rolling:
        return False
    before = [(at, kpa_) for at, kpa_ in going.recent.get(s.wheel, ()) if s.at - at <= _FAST_WITHIN]
    return any(kpa_ - s.kpa >= FAST_KPA * max(1.0, (s.at - at) / _MINUTE) for at, kpa_ in before)


def _tell(going: _Going, s: Sample, was: Alarm, now: Alarm) -> Alarm:
    def told(what: What, set_: bool, by: float) -> None:
        going.told.append(Told(s.wheel, what, set_, s.at, by))

    cold = now.cold_kpa or 0.0
    if now.pressure == "very low" and not now.told_very_low:
        told("very low", True, cold)
        now = replace(now, told_very_low=True)
    elif was.pressure == "clear" and now.pressure == "low":
        told("low", True, cold)
    elif was.pressure != "clear" and now.pressure == "clear":
        told("low", False, cold)
    for what, before, after, by in (
        ("high", was.high, now.high, s.kpa), ("heat", was.heat, now.heat, s.tire_c or 0.0), ("fast loss", was.fast, now.fast, s.kpa),
    ):  # fmt: skip
        if before != after:
            told(what, after, by)  # type: ignore[arg-type]
    return now


def why_apart(aim: Aim, of: Fold, low: str, clear: str) -> Phrase | None:
    """Why of two wheels with about the same number one is in alarm: the line that says so. None: they do not stand so."""
    one, other = of.wheels[low], of.wheels[clear]
    if one.pressure == "clear" or other.pressure != "clear" or one.cold_kpa is None or other.cold_kpa is None:
        return None
    at = thresholds(aim, aim.set_in)
    if not at.low_kpa < one.cold_kpa < at.low_clears_kpa:
        return None
    return say(
        f"{plain(low)} and {plain(clear)} read about alike, and {plain(low)} is low: it fell to {{0}} and clears at {{1}}, cold.",
        kpa(at.low_kpa, "up"), kpa(at.low_clears_kpa, "up"),
    )  # fmt: skip


def loud_words(alarm: Alarm) -> str:
    """What is loud of a wheel, the worst first; empty: nothing."""
    loud = [w for w, on in (("losing air fast", alarm.fast), ("very low", alarm.pressure == "very low"), ("low", alarm.pressure == "low"),
                            ("high", alarm.high), ("hot", alarm.heat)) if on]  # fmt: skip
    return ", ".join(loud).capitalize()


def word_of(alarm: Alarm, aim: Aim | None, old: bool) -> Literal["stop", "add", "hold", "not_checked"]:
    """The word that a wheel's shape and color go by; a good one only of what is known, and of now."""
    if alarm.fast or alarm.high or alarm.heat or alarm.pressure == "very low":
        return "stop"
    if alarm.pressure == "low":
        return "add"
    return "hold" if aim is not None and alarm.known and not old else "not_checked"


def state_words(alarm: Alarm, aim: Aim | None, old: bool) -> Phrase:
    """The state of a wheel in a line; no good word of what is old or not known."""
    if aim is None:
        return say("No target: not judged")
    if not alarm.known:
        return say("Not heard")
    head = loud_words(alarm)
    if alarm.fast or alarm.pressure == "very low":
        return say(f"{head}: stop, and look at it.")
    if alarm.pressure == "low":
        clears = thresholds(aim, aim.set_in).low_clears_kpa
        return say(
            f"{head}: {{0}} as if cold. Clears cold at {{1}}.", kpa(alarm.cold_kpa or 0.0, "down"), kpa(clears, "up")
        )
    if head:
        return say(f"{head}: let it cool, and look at it. Let nothing out.")
    by = ", by an old number" if old else ""
    return say(f"As if cold {{0}}{by}", kpa(alarm.cold_kpa or 0.0))


def told_words(told: Told) -> Phrase:
    """An alarm that set or cleared, in a line."""
    by = celsius(told.by) if told.what == "heat" else kpa(told.by)
    return say(f"{plain(told.wheel)}: {told.what} {'set' if told.set else 'cleared'} by {{0}}", by)
