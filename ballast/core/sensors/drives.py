"""A drive: what a receiver sends while a rig rolls, taken as it comes; late and doubled messages end in the same drive."""

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from ballast.core.air import HOT_OVER_C, HotRise, hot_rise
from ballast.core.gas import Air
from ballast.core.sensors.alarms import Alarm, Fold, Told, fold, loud_words, state_words, word_of
from ballast.core.sensors.numbers import HEARD_MIN, WARM_AFTER_MIN, Sample, cold_equivalent, sampled
from ballast.core.sensors.thresholds import Aim, Thresholds, thresholds
from ballast.core.working import Phrase, celsius, plain, say

# A tire that rolled so long is as hot as the road makes it [min].
HOT_AFTER_MIN = 45.0
# A receiver that was silent for so long has dropped.
DROPPED = dt.timedelta(minutes=2)
_MINUTE = dt.timedelta(minutes=1)


@dataclass(frozen=True)
class Said:
    """What a wheel said: pressure [kPa], None by wheel speed, which knows `low` alone; temperature [°C]."""

    wheel: str
    kpa: float | None
    tire_c: float | None = None
    fresh: bool = True
    low: bool | None = None


@dataclass(frozen=True)
class Message:
    """What a receiver sends at one moment, numbered by it. Without the air of then it is kept, and judges nothing.

    `sealed`: whether its sensors are, and show less than a gauge up in the hills; None: not known.
    """

    number: int
    at: dt.datetime
    wheels: tuple[Said, ...]
    air: Air | None = None
    rolled_min: float | None = None
    stood_h: float | None = None
    km_h: float | None = None
    sealed: bool | None = False

    @property
    def samples(self) -> tuple[Sample, ...]:
        """The numbers that can be judged."""
        if self.air is None:
            return ()
        return tuple(
            sampled(
                Sample(w.wheel, self.at, w.kpa, self.air, w.tire_c, self.rolled_min, self.stood_h, w.fresh), self.sealed
            )
            for w in self.wheels
            if w.kpa is not None
        )


@dataclass(frozen=True)
class Group:
    """Wheels that are judged side by side, an axle's or a spare, and what they are held to; None: no target."""

    wheels: tuple[str, ...]
    aim: Aim | None


@dataclass(frozen=True)
class Shown:
    """What a wheel said last, judged or not: when, what [kPa, °C], and how long it had rolled [min]."""

    at: dt.datetime
    kpa: float
    tire_c: float | None
    rolled_min: float | None


@dataclass(frozen=True)
class Drive:
    """A drive as far as it was heard of.

    `first` and `last`: the first and the last fresh number of each wheel; `telling`: the numbers at which a state changed, which
    with the last ones bring whoever folds them to the same state.
    """

    # All messages up to this number were taken, and those beyond it: what lies between is missing.
    through: int = 0
    beyond: tuple[int, ...] = ()
    up_to: Message | None = None
    folds: tuple[Fold, ...] = ()
    # What set and cleared, oldest first.
    told: tuple[Told, ...] = ()
    first: Mapping[str, Sample] = field(default_factory=dict)
    last: Mapping[str, Sample] = field(default_factory=dict)
    shown: Mapping[str, Shown] = field(default_factory=dict)
    telling: tuple[Sample, ...] = ()
    # Said low by wheel speed, and since when.
    by_speed: Mapping[str, dt.datetime] = field(default_factory=dict)
    # How long each wheel has rolled since it was heard; at rest silence says nothing, and makes nothing good [min].
    quiet_min: Mapping[str, float] = field(default_factory=dict)

    @property
    def alarms(self) -> dict[str, Alarm]:
        return {w: a for f in self.folds for w, a in f.wheels.items()}

    def kept(self) -> list[Sample]:
        """Few numbers that stand for all of them in a later fold."""
        once = {(s.wheel, s.at): s for s in (*self.first.values(), *self.telling, *self.last.values())}
        return sorted(once.values(), key=lambda s: (s.at, s.wheel))


def is_late(drive: Drive, messages: Sequence[Message]) -> bool:
    """Whether a message was measured before what was taken already: then all of them are to be followed anew."""
    new = fresh_of(drive, messages)
    return drive.up_to is not None and bool(new) and new[0].at < drive.up_to.at


def fresh_of(drive: Drive, messages: Sequence[Message]) -> list[Message]:
    """The messages that were not taken yet, each once, in the order in which they were measured."""
    once = {m.number: m for m in messages if m.number > drive.through and m.number not in drive.beyond}
    return sorted(once.values(), key=lambda m: (m.at, m.number))


def follow(groups: Sequence[Group], messages: Sequence[Message], so_far: Drive | None = None) -> Drive:
    """A drive after some more messages. Raises ValueError for a late one: follow all of them anew, see `is_late`.

    >>> air, at = Air(20, 0), dt.datetime(2026, 11, 28, 9)
    >>> sent = [Message(n, at + dt.timedelta(seconds=10 * n), (Said("1L", kpa),), air, 1 + n / 6) for n, kpa in enumerate((290, 280, 270), 1)]
    >>> follow([Group(("1L",), Aim(290, air, False))], sent).alarms["1L"].fast
    True
    """
    drive = so_far or Drive()
    if is_late(drive, messages):
        raise ValueError("A message is late: follow all of them anew.")
    going = [_begun(g, drive) for g in groups]
    first, last, shown, by_speed = dict(drive.first), dict(drive.last), dict(drive.shown), dict(drive.by_speed)
    quiet, before_it = dict(drive.quiet_min), drive.up_to
    telling, told = {(s.wheel, s.at): s for s in drive.telling}, list(drive.told)
    new = fresh_of(drive, messages)
    for m in new:
        samples = [s for s in m.samples if s.fresh]
        for i, group in enumerate(groups):
            own = [s for s in samples if s.wheel in group.wheels]
            if group.aim is None or not own:
                continue
            was, now = going[i], fold(group.aim, group.wheels, own, going[i])
            going[i] = replace(now, told=())
            told.extend(now.told)
            if now.told or any(was.wheels[w].pressure != a.pressure for w, a in now.wheels.items()):
                # With what the axle read just before: a tire can be low by its mate.
                before = (last[w] for w in group.wheels if w in last)
                telling.update(((s.wheel, s.at), s) for s in (*before, *own))
        rolled = _rolled_since(m, before_it)
        quiet = {w: quiet.get(w, 0.0) + rolled for g in groups for w in g.wheels}
        before_it = m
        for s in samples:
            first.setdefault(s.wheel, s)
            last[s.wheel] = s
            quiet[s.wheel] = 0.0
        for w in m.wheels:
            if w.kpa is not None and w.fresh:
                shown[w.wheel] = Shown(m.at, w.kpa, w.tire_c, m.rolled_min)
            if w.kpa is None and w.fresh and w.low is not None:
                if w.low:
                    by_speed.setdefault(w.wheel, m.at)
                else:
                    by_speed.pop(w.wheel, None)
    beyond, through = {*drive.beyond, *(m.number for m in new)}, drive.through
    while through + 1 in beyond:
        through += 1
        beyond.remove(through)
    up_to = new[-1] if new else drive.up_to
    return Drive(
        through, tuple(sorted(beyond)), up_to, tuple(going), tuple(told), first, last, shown, tuple(telling.values()), by_speed, quiet,
    )  # fmt: skip


def _rolled_since(m: Message, before: Message | None) -> float:
    """How long it has rolled since the message before [min]; where nobody knows whether it rolls, no time."""
    rolled = m.rolled_min or 0.0
    return rolled if before is None else min(rolled, (m.at - before.at) / _MINUTE)


def missing(drive: Drive) -> list[int]:
    """The numbers of messages that did not arrive, so far as later ones tell."""
    return [n for n in range(drive.through + 1, max(drive.beyond, default=0)) if n not in drive.beyond]


def _begun(group: Group, drive: Drive) -> Fold:
    """The wheels of a group where the drive left them, whatever they were held to by then."""
    before = drive.alarms
    recent = {w: r for f in drive.folds for w, r in f.recent.items() if w in group.wheels}
    return Fold({w: before.get(w, Alarm()) for w in group.wheels}, (), recent)


def silent(drive: Drive, wheels: Sequence[str]) -> list[str]:
    """The wheels that are not heard: rolled for 15 minutes without a number. They stay so at rest, until they are heard again."""
    return [w for w in wheels if drive.quiet_min.get(w, 0.0) > HEARD_MIN]


@dataclass(frozen=True)
class OnDrive:
    """A wheel of a drive as it is looked at. `old`: its number judges nothing; `at`: where its alarms set in the air of its number."""

    shown: Shown | None
    old: bool
    loud: bool
    word: Literal["stop", "add", "hold", "not_checked"]
    short: str
    words: Phrase
    at: Thresholds | None


def on_drive(group: Group, drive: Drive, wheel: str, since: dt.timedelta) -> OnDrive:
    """A wheel by its last number. `since`: how long ago the drive's last message was measured.

    Old is what was not refreshed, is not heard any more, comes from a receiver that dropped, or was read in air that nobody knows.
    """
    alarm, last, shown = drive.alarms.get(wheel, Alarm()), drive.last.get(wheel), drive.shown.get(wheel)
    stale = drive.up_to is not None and any(w.wheel == wheel and not w.fresh for w in drive.up_to.wheels)
    old = last is None or stale or since > DROPPED or bool(silent(drive, [wheel]))
    by_speed = wheel in drive.by_speed
    words = state_words(alarm, group.aim, old)
    if shown and group.aim and not alarm.known:
        words = say("Read, and not judged: the air of then is not known")
    at = thresholds(group.aim, last.air if last else group.aim.set_in) if group.aim else None
    word = "stop" if by_speed else word_of(alarm, group.aim, old)
    return OnDrive(shown, old, alarm.loud or by_speed, word, loud_words(alarm).split(",")[0], words, at)


def rise(group: Group, drive: Drive, wheel: str) -> HotRise | None:
    """How hot a tire got, by its class; None: it was not heard hot, or is held to nothing.

    Where its temperature is known and under the class's window, it is not hot: nothing is concluded from what it lacks.
    """
    aim, now, before = group.aim, drive.last.get(wheel), drive.first.get(wheel)
    if aim is None or now is None or (now.rolled_min or 0.0) < HOT_AFTER_MIN:
        return None
    own = cold_equivalent(before, aim.heavy) if before and (before.rolled_min or 0.0) < WARM_AFTER_MIN else None
    judged = hot_rise(aim.target_kpa, aim.set_in, now.air, now.kpa, aim.heavy, own)
    least = HOT_OVER_C["heavy" if aim.heavy else "light"][0]
    if judged.verdict == "low" and now.tire_c is not None and now.tire_c < now.air.temperature_c + least:
        return replace(
            judged, verdict="", words=say("Not hot, at {0} in the tire.", celsius(now.tire_c)), cold_kpa=None
        )
    return judged


def words(
    groups: Sequence[Group],
    drive: Drive,
    names: Mapping[str, str],
    since: dt.timedelta,
    never: Sequence[str] = (),
) -> tuple[Phrase, bool]:
    """How it stands with a drive in a line, and whether it is loud. `since`: how long ago the last message was measured.

    A good word only where every wheel was heard, is held to a target, and is clear; `never`: spares that nothing hears, and said so.
    """
    alarms = {w: a for w, a in drive.alarms.items() if a.loud}
    if alarms:
        each = "; ".join(f"{names[w]}: {loud_words(a).lower()}" for w, a in alarms.items())
        stop = " Stop where it is safe." if any(word_of(a, None, False) == "stop" for a in alarms.values()) else ""
        return say(f"{plain(each)}.{stop}"), True
    if drive.by_speed:
        return say("Said low, by wheel speed alone: stop, and read every tire with a gauge."), True
    if drive.up_to is None:
        return say("Nothing was heard yet."), False
    if since > DROPPED:
        return say(f"Nothing was heard for {round(since / _MINUTE)} min: these numbers are old."), False
    spares = [w for w in never if w not in drive.last]
    wheels = [w for g in groups for w in g.wheels if w not in spares]
    unheard = [w for w in wheels if w not in drive.last]
    lost = [names[w] for w in silent(drive, wheels) if w not in unheard]
    untold = [names[w] for g in groups if g.aim is None for w in g.wheels if w not in spares]
    if lost:
        return say(f"Not heard any more: {plain(', '.join(lost))}."), False
    if drive.up_to.air is None:
        return say("The air outside is not known: numbers are kept, and not judged."), False
    if unheard:
        return say(f"Not heard: {plain(', '.join(names[w] for w in unheard))}."), False
    if untold:
        return say(f"Without a target, and not judged: {plain(', '.join(untold))}."), False
    beside = f" Not heard by what it has: {plain(', '.join(names[w] for w in spares).lower())}." if spares else ""
    return say(f"All {len(wheels)} heard, and none in alarm.{beside}"), False
