"""The alarms of an axle, from its target: judged on the cold equivalent, and as raw numbers for receivers that know no other."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from ballast.core.air import HOT_OVER_C
from ballast.core.gas import Air, carry
from ballast.core.refusal import Refusal
from ballast.core.sensors.numbers import sealed_low
from ballast.core.working import Line, Measure, Phrase, celsius, kpa, say

# Low at so much under the target: the usual share, and between what it may be chosen.
LOW_SHARE, LOW_SHARES = 0.12, (0.10, 0.20)
VERY_LOW_AT, CLEARS_AT = 0.80, 0.97
# So much under the highest tire of its axle is low too.
UNDER_MATE = 0.07
HIGH_AT, HIGH_CLEARS_AT = 1.05, 0.97
HEAT_C, HEAT_CLEARS_C = 80.0, 72.0
# Lost within a minute of rolling [kPa].
FAST_KPA = 14.0


@dataclass(frozen=True)
class Aim:
    """What an axle's wheels are held to: a target or the number of a ground plan, cold [kPa], and the air it is set in.

    `floor_kpa`: of the surface in a plan; low is never under it.
    """

    target_kpa: float
    set_in: Air
    heavy: bool
    low_share: float = LOW_SHARE
    floor_kpa: float | None = None


@dataclass(frozen=True)
class Thresholds:
    """Where the alarms of a wheel set and clear: pressures low as cold equivalents, high as read [kPa], heat [°C]."""

    low_kpa: float
    low_clears_kpa: float
    very_low_kpa: float
    high_kpa: float
    high_clears_kpa: float
    heat_c: float = HEAT_C
    heat_clears_c: float = HEAT_CLEARS_C


@dataclass(frozen=True)
class Limit:
    """A limit of an alarm as it is told; `at` None: not known."""

    name: str
    at: Measure | None


def low_limit(name: str, at_kpa: float | None) -> Limit:
    """Told rather early: rounded up."""
    return Limit(name, None if at_kpa is None else kpa(at_kpa, "up"))


def high_limit(name: str, at_kpa: float | None) -> Limit:
    """Told rather early: rounded down."""
    return Limit(name, None if at_kpa is None else kpa(at_kpa, "down"))


def check_low_share(share: float) -> None:
    """Raises Refusal outside 10 to 20 %."""
    low, high = LOW_SHARES
    if not low <= share <= high:
        raise Refusal(f"Low is set at {low:.0%} to {high:.0%} under the target. Choose a share in there.", "low_share")


# A drive asks again and again in the same air.
@lru_cache(maxsize=1024)
def thresholds(aim: Aim, now: Air) -> Thresholds:
    """Where the alarms stand in the air of now.

    Low at the target less its share, in a plan never under the surface's floor; clears at −3 %, and always well above where
    it sets. High at 1.05 × the target carried from the air it is set in to the upper end of its class's hot window.

    >>> t = thresholds(Aim(290, Air(12, 0), False), Air(25, 0))
    >>> round(t.low_kpa, 1), round(t.high_kpa, 2), round(t.high_clears_kpa, 2)
    (255.2, 366.46, 355.47)
    """
    check_low_share(aim.low_share)
    low = max(aim.target_kpa * (1 - aim.low_share), aim.floor_kpa or 0.0)
    hottest = now.temperature_c + HOT_OVER_C["heavy" if aim.heavy else "light"][1]
    hot = carry(aim.target_kpa, aim.set_in, Air(hottest, now.elevation_m, now.station_kpa))
    clears = max(aim.target_kpa * CLEARS_AT, low + aim.target_kpa * (1 - CLEARS_AT))
    return Thresholds(
        low, clears, aim.target_kpa * VERY_LOW_AT, HIGH_AT * hot, HIGH_CLEARS_AT * HIGH_AT * hot
    )  # fmt: skip


@dataclass(frozen=True)
class Receiver:
    """What to type into a receiver that compares raw numbers [kPa], and what those numbers then hide, in words."""

    low_kpa: float
    high_kpa: float
    heat_c: float
    hides: tuple[Phrase, ...]
    working: tuple[Line, ...]

    @property
    def limits(self) -> tuple[Limit, ...]:
        return low_limit("Low", self.low_kpa), high_limit("High", self.high_kpa)


def limits(at: Thresholds | None, hot: bool) -> tuple[Limit, ...]:
    """Those of an axle, None: it has no target; `hot`: the air of now is known, on which the high one hangs.

    >>> [(l.name, l.at and l.at.show("metric")) for l in limits(thresholds(Aim(290, Air(12, 0), False), Air(25, 0)), True)]
    [('Very low', '232 kPa'), ('Low', '256 kPa'), ('Clears', '282 kPa'), ('High, hot', '366 kPa')]
    """
    return (
        low_limit("Very low", at.very_low_kpa if at else None), low_limit("Low", at.low_kpa if at else None),
        low_limit("Clears", at.low_clears_kpa if at else None), high_limit("High, hot", at.high_kpa if at and hot else None),
    )  # fmt: skip


def for_receiver(aim: Aim, now: Air, dawns: Sequence[Air], sealed: bool | None = False) -> Receiver:
    """Raw thresholds that stay quiet at the coldest dawn ahead and hot running; none ahead known: as the air is now.

    In the receiver's own numbers: those of `sealed` sensors are less than a gauge's where the air is thin. At the dawn a sound tire reads less than at noon, so the raw number lies lower, and a hot tire may have lost more before
    it reads as little.
    """
    at = thresholds(aim, now)
    coldest = min((*dawns, now), key=lambda a: carry(aim.target_kpa, aim.set_in, a))
    low = min(at.low_kpa, carry(at.low_kpa, now, coldest))
    hottest = Air(
        now.temperature_c + HOT_OVER_C["heavy" if aim.heavy else "light"][1], now.elevation_m, now.station_kpa
    )
    as_cold = carry(low, hottest, now)
    share = Measure("share", 1 - as_cold / aim.target_kpa, "up")
    hides = [
        say("Hot, at {0} in the tire, it stays silent down to {1} as if cold: {2} under the target.",
            celsius(hottest.temperature_c), kpa(as_cold, "down"), share),
        say("So a cold reading counts before each start, not its silence."),
    ]  # fmt: skip
    if coldest is not now:
        hides.insert(0, say("Set for a dawn of {0}, where the alarm of {1} reads {2}.", celsius(coldest.temperature_c), kpa(at.low_kpa), kpa(low)))  # fmt: skip
    less = sealed_low(sealed, now)
    if less:
        hides.append(
            say(
                "Its sensors are sealed: here they show {0} less than a gauge, and these numbers are theirs.", kpa(less)
            )
        )
    working = (
        Line(say("the target less its share, in the air of now"), kpa(at.low_kpa)),
        Line(say("the same at {0}", celsius(coldest.temperature_c)), kpa(low)),
        Line(say("1.05 × the target, hot at {0}", celsius(hottest.temperature_c)), kpa(at.high_kpa)),
    )
    return Receiver(low - sealed_low(sealed, coldest), at.high_kpa - less, at.heat_c, tuple(hides), working)
