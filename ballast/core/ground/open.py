"""A plan that is open: what stands in each wheel by now, how fast it may go, how loud it is, and what closes it."""

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from ballast.core.ground.numbers import Number
from ballast.core.units import Toward
from ballast.core.working import Measure, Phrase, join, kpa, plain, say

# After so long an open plan is louder [h].
LOUD_AFTER_H = 24.0
# Until then it is said in hours, then in days.
_HOURS_SAID = 72
# What differs less from its number is at it: the usual step of a gauge, and a share [kPa].
AT_KPA, AT_SHARE = 3.5, 0.02

Done = Literal["set", "left", "replaced", "unreadable"]
Beside = Literal["below", "at", "above"]


@dataclass(frozen=True)
class Entry:
    """What was done at a wheel of a plan: `set` to a true cold pressure [kPa] with how sure that is, or why it was not."""

    wheel: str
    step: int
    done: Done
    at: dt.datetime
    kpa: float | None = None
    sure_kpa: float = 0.0
    reason: str = ""


@dataclass(frozen=True)
class Stretch:
    """A stretch of an open plan as it was opened: its surface, its speed [km/h], whether it is the road, each wheel's number."""

    key: str
    name: str
    speed_kmh: float | None
    road: bool
    recovery: bool
    numbers: Mapping[str, Number]


@dataclass(frozen=True)
class Open:
    """An open plan: its stretches, which one is in hand, and what was done so far, oldest first."""

    opened_at: dt.datetime
    stretches: tuple[Stretch, ...]
    at: int
    entries: tuple[Entry, ...] = ()
    place: str = ""
    no_way_back: bool = False

    @property
    def stretch(self) -> Stretch:
        return self.stretches[self.at]

    @property
    def back(self) -> bool:
        """On its last stretch: the road."""
        return self.at == len(self.stretches) - 1

    def last(self, wheel: str) -> Entry | None:
        """The newest entry of a wheel."""
        return next((e for e in reversed(self.entries) if e.wheel == wheel), None)

    @property
    def stands_on(self) -> dict[str, int]:
        """By wheel the stretch whose number it was last brought to; −1, the last: it stands at its road target."""
        on = dict.fromkeys(self.stretch.numbers, -1)
        for e in self.entries:
            if e.wheel in on and e.done == "set":
                on[e.wheel] = e.step
        return on

    @property
    def speed_kmh(self) -> float | None:
        """The most that may be driven now: by the stretch in hand, and by the softest at which any wheel stands."""
        steps = [self.stretch, *(self.stretches[i] for i in self.stands_on.values() if i >= 0)]
        return min((s.speed_kmh for s in steps if s.speed_kmh is not None), default=None)

    @property
    def let_out(self) -> bool:
        """Whether anything was let out, or something at a wheel is not known."""
        return any(e.done != "left" for e in self.entries)

    @property
    def excused(self) -> dict[str, str]:
        """Wheels that are not read again for this plan: replaced, or not to be read, with the reason."""
        return {e.wheel: e.reason for e in self.entries if e.done in ("replaced", "unreadable")}

    @property
    def waiting(self) -> list[str]:
        """Wheels at which nothing was done yet for the stretch in hand."""
        return [code for code in self.stretch.numbers if not self._handled(code)]

    def _handled(self, code: str) -> bool:
        last = self.last(code)
        if last is not None and last.done in ("replaced", "unreadable"):
            return True
        if last is None or last.step != self.at:
            return self._there(code)
        return True

    def _stands_at(self, code: str) -> float:
        """The number at which a wheel stands [kPa]: of the stretch it was last brought to, else its road target."""
        return self.stretches[self.stands_on[code]].numbers[code].kpa

    def _there(self, code: str) -> bool:
        """Nothing is to be done: the number is the one at which it stands already."""
        return abs(self._stands_at(code) - self.stretch.numbers[code].kpa) < 1e-6

    def lets_out(self, code: str, step: int) -> bool:
        """Whether a stretch asks to let a wheel out, from where it stands."""
        return self.stretches[step].numbers[code].kpa < self._stands_at(code) - 1e-6

    def words(self) -> Phrase:
        """Where it stands, with its speed.

        >>> road = Stretch("highway", "Highway", None, True, False, {})
        >>> Open(dt.datetime(2026, 11, 28), (road,), 0).words().text
        'Highway'
        """
        fast = self.speed_kmh
        head = f"{self.stretch.name} at {self.place}" if self.place else self.stretch.name
        if fast is None:
            return say(plain(head))
        return say(f"{plain(head)}: at most {{0}}", Measure("speed", fast, "down"))


@dataclass(frozen=True)
class Around:
    """What makes an open plan loud: when it is, when a kept trip begins, a hitching since, whether it is on the highway."""

    now: dt.datetime
    trip_on: dt.date | None = None
    hitched: bool = False


def loud(plan: Open, around: Around) -> tuple[Phrase, ...]:
    """Why an open plan must be seen to now; empty: it is just open.

    >>> road = Stretch("highway", "Highway", None, True, False, {})
    >>> at = dt.datetime(2026, 11, 27, 6)
    >>> loud(Open(at, (road,), 0), Around(at + dt.timedelta(hours=30)))[0].text
    'open for 30 h'
    """
    reasons = []
    hours = (around.now - plan.opened_at) / dt.timedelta(hours=1)
    if hours >= LOUD_AFTER_H:
        reasons.append(say(f"open for {hours:.0f} h" if hours < _HOURS_SAID else f"open for {hours / 24:.0f} days"))
    if around.trip_on is not None and around.trip_on <= around.now.date() + dt.timedelta(days=1):
        reasons.append(say("a trip begins"))
    if around.hitched:
        reasons.append(say("something was hitched or unhitched since"))
    if plan.stretch.road and plan.let_out:
        reasons.append(say("on the highway: every tire cold at its road number, by a sealed round"))
    if plan.stretch.recovery:
        reasons.append(say("in recovery: air up before anything else"))
    return tuple(reasons)


def changes_at(opened_at: dt.datetime, now: dt.datetime) -> dt.datetime:
    """The first moment after now at which an open plan reads otherwise by the clock alone: louder, hours older, a trip nearer.

    >>> changes_at(dt.datetime(2026, 11, 27, 6), dt.datetime(2026, 11, 28, 10, 40))
    datetime.datetime(2026, 11, 28, 11, 30, 1)
    """
    open_for = now - opened_at
    hour, day = dt.timedelta(hours=1), dt.timedelta(days=1)
    tomorrow = now.replace(hour=0, minute=0, second=0, microsecond=0) + day
    if open_for < LOUD_AFTER_H * hour:
        return min(tomorrow, opened_at + LOUD_AFTER_H * hour)
    step = hour if open_for < _HOURS_SAID * hour else day
    # What is said is rounded: it goes on half a step later, and a second, for the half itself is rounded either way.
    said_until = opened_at + (open_for / step + 0.5) // 1 * step + step / 2 + dt.timedelta(seconds=1)
    return min(tomorrow, said_until, *([opened_at + _HOURS_SAID * hour] if step is hour else []))


def open_words(plan: Open, reasons: Sequence[Phrase]) -> Phrase:
    """What stands of an open plan on every screen of its rig."""
    head = join(say("Ground plan open:"), plan.words())
    return join(head, *reasons, by="; ") if reasons else head


# -- what a reading means there --------------------------------------------------------------------------


@dataclass(frozen=True)
class Bounds:
    """Between which true pressures [kPa, in the tire as it is] a wheel is at its number; `goal_kpa` in the middle."""

    goal_kpa: float
    low_kpa: float
    high_kpa: float


def bounds(goal_kpa: float) -> Bounds:
    """At its number within a step of a gauge or 2 %, whichever is more.

    >>> bounds(110.0).low_kpa
    106.5
    """
    within = max(AT_KPA, AT_SHARE * goal_kpa)
    return Bounds(goal_kpa, goal_kpa - within, goal_kpa + within)


# What is said of a reading below, at and above its number where nothing can be worked out: on a phone without a network.
BESIDE_NUMBER: dict[str, str] = {
    "below": "Below its number: air back in",
    "at": "At its number: keep it",
    "above": "Let out more",
}


def beside(true_kpa: float, of: Bounds) -> Beside:
    """Where a true pressure in the tire as it is lies beside its number."""
    return "below" if true_kpa < of.low_kpa else "above" if true_kpa > of.high_kpa else "at"


def reading_words(true_kpa: float, of: Bounds) -> Phrase:
    """What is to be done at a wheel on the ground, by a true pressure in the tire as it is."""
    where = beside(true_kpa, of)
    if where == "below":
        return say("Add {0}: below its number", kpa(of.goal_kpa - true_kpa, _UP))
    if where == "above":
        return say("Let out {0} more", kpa(true_kpa - of.goal_kpa))
    return say(BESIDE_NUMBER["at"])


_UP: Toward = "up"


# -- closing ---------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Checked:
    """A wheel of a sealed round as a plan takes it: whether it was read, cold, and found at its road number or above."""

    code: str
    read: bool
    cold: bool
    at_road: bool


def still_open(plan: Open, against_road: bool, wheels: Sequence[Checked]) -> tuple[Phrase, ...]:
    """Why a sealed round does not close a plan; empty: it does.

    Only cold, against road numbers, with every wheel of the plan read and at its number; what was replaced or cannot be
    read is excused by its reason.
    """
    if not against_road:
        return (say("it was held against the plan, not against road numbers"),)
    found = {w.code: w for w in wheels}
    asked = [code for code in plan.stretches[-1].numbers if code not in plan.excused]
    unread = [c for c in asked if c not in found or not found[c].read]
    warm = [c for c in asked if c not in unread and not found[c].cold]
    low = [c for c in asked if c not in unread and c not in warm and not found[c].at_road]
    reasons = []
    for codes, words in ((unread, "not read"), (warm, "read warm"), (low, "not at the road number")):
        if codes:
            reasons.append(say(f"{plain(', '.join(codes))} {words}"))
    return tuple(reasons)
