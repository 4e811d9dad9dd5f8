"""Leak or weather: what changed since a tire's previous service, taken apart into weather, shared and own."""

import math
import statistics
from dataclasses import dataclass
from typing import Literal

from ballast.core.gas import Air, carry
from ballast.core.lookback.evidence import HAND_KPA, MONTH, SEPARABLE, THERMOMETER, USUAL_LOSS_MONTH, level_of, parted
from ballast.core.working import Phrase, celsius, join, kpa, plain, say

# What two readings by hand and two thermometers explain, at 95 %.
OWN_KPA = 2 * HAND_KPA * 2**0.5
SHARED = 2 * THERMOMETER * 2**0.5
# Absolute pressures must differ by this share before a gauge can be told from a thermometer.
_SPREAD = 0.12
_WARMER_C = 5.0

Likeness = Literal["temperature", "gauge", "either"]


@dataclass(frozen=True)
class Step:
    """A tire from its previous sealed service to this one: true cold pressures [kPa] with the air of each."""

    name: str
    before_kpa: float
    before: Air
    found_kpa: float
    now: Air
    days: float
    spare: bool = False
    side: int = 0


@dataclass(frozen=True)
class Part:
    """What changed at one tire [kPa], by cause. `stands_out`: its own part is more than two readings by hand explain."""

    name: str
    changed_kpa: float
    weather_kpa: float
    usual_kpa: float
    shared_kpa: float
    own_kpa: float
    stands_out: bool


@dataclass(frozen=True)
class Circumstances:
    """What is known of a round and speaks for a cause that all tires share."""

    gauge_changed: bool = False
    # The weather service's temperature, where it was asked and the round's own was entered by hand [°C].
    service_c: float | None = None
    # Air was let out or put in off the road since the last round: such tires are not taken apart.
    anew: bool = False


@dataclass(frozen=True)
class Split:
    """A round taken apart, and the two sentences that say it. `shared` is a share of absolute pressure."""

    parts: tuple[Part, ...]
    shared: float | None
    odd: bool
    like: Likeness | None
    sides_kpa: float | None
    words: tuple[Phrase, ...]

    @property
    def shared_kpa(self) -> float | None:
        """What all road tires gained beyond weather and loss, in the middle of them [kPa]; None: nothing is shared."""
        return statistics.median(p.shared_kpa for p in self.parts) if self.shared is not None else None


def split(steps: tuple[Step, ...], circumstances: Circumstances | None = None) -> Split:
    """`d = Δ ln(p + p_atm)` normalised, plus the usual loss for the days between; the median over the road wheels is shared.

    With three road wheels or fewer nothing is shared: each is held against its own history, and that is said.
    """
    if not steps:
        why = "this is the first sealed round"
        if circumstances is not None and circumstances.anew:
            why = "air was let out or put in off the road since the last one"
        return Split((), None, False, None, None, (say(f"Nothing to compare with yet: {why}."),))
    road = [s for s in steps if not s.spare]
    apart = {id(s): _beyond_weather(s) for s in steps}
    separable = len(road) >= SEPARABLE
    shared = statistics.median(apart[id(s)] for s in road) if separable else None
    sides = _sides(road, apart) if separable else None
    parts = tuple(_part(s, apart[id(s)], shared or 0.0, sides) for s in steps)
    odd = shared is not None and abs(shared) > SHARED
    like = _like(road, apart) if odd else None
    words = (
        _weather(road or list(steps), shared, odd, like, circumstances or Circumstances()),
        _own(parts, separable, sides),
    )
    return Split(parts, shared, odd, like, sides, words)


def _beyond_weather(s: Step) -> float:
    """Change of level beyond the weather, the usual loss given back."""
    share = s.found_kpa / (s.found_kpa + s.now.absolute_kpa)
    return level_of(s.found_kpa, s.now) - level_of(s.before_kpa, s.before) + USUAL_LOSS_MONTH / MONTH * s.days * share


def _part(s: Step, beyond: float, shared: float, sides: float | None) -> Part:
    absolute = s.found_kpa + s.now.absolute_kpa
    weather = carry(s.before_kpa, s.before, s.now) - s.before_kpa
    usual = -USUAL_LOSS_MONTH / MONTH * s.days * s.found_kpa
    side = 0.0 if sides is None else sides / 2 * s.side / absolute
    own = -math.expm1(-(beyond - shared - side)) * absolute
    changed = s.found_kpa - s.before_kpa
    common = changed - weather - usual - own
    return Part(s.name, changed, weather, usual, common, own, abs(own) > OWN_KPA)


def _sides(road: list[Step], apart: dict[int, float]) -> float | None:
    """What the right wheels read over the left [kPa] where every wheel of one side lies above the other's."""
    left, right = (
        [apart[id(s)] * (s.found_kpa + s.now.absolute_kpa) for s in road if s.side == side] for side in (-1, 1)
    )
    gaps = parted(left, right)
    if gaps is None or gaps[0] < OWN_KPA or gaps[1] < HAND_KPA:
        return None
    return statistics.fmean(right) - statistics.fmean(left)


def _like(road: list[Step], apart: dict[int, float]) -> Likeness:
    """Whether an odd round looks like a wrong temperature (alike in shares) or a wrong gauge (alike in kPa)."""
    absolutes = [s.found_kpa + s.now.absolute_kpa for s in road]
    if max(absolutes) / min(absolutes) - 1 < _SPREAD:
        return "either"
    shares = [apart[id(s)] for s in road]
    kilopascals = [d * a for d, a in zip(shares, absolutes, strict=True)]
    by_share = sum(((d - statistics.median(shares)) * a) ** 2 for d, a in zip(shares, absolutes, strict=True))
    by_kpa = sum((k - statistics.median(kilopascals)) ** 2 for k in kilopascals)
    # Told only where one explains it and the other leaves more than hands do.
    noise = 2 * HAND_KPA**2 * len(road)
    if by_share < by_kpa and by_kpa > 2 * noise:
        return "temperature"
    if by_kpa < by_share and by_share > 2 * noise:
        return "gauge"
    return "either"


def _weather(
    road: list[Step], shared: float | None, odd: bool, like: Likeness | None, known: Circumstances
) -> Phrase:  # fmt: skip
    """The first sentence: what the air did, and what all share beside."""
    then, now = road[0].before, road[0].now
    by_air = statistics.median(carry(s.before_kpa, s.before, s.now) - s.before_kpa for s in road)
    if abs(by_air) < 0.5 and abs(then.temperature_c - now.temperature_c) < 1:
        moved = say("The air was as it was the time before")
    else:
        verb = "took {0} off" if by_air < 0 else "added {0} to"
        moved = say(
            f"The air {verb} every tire since ({{1}} then, {{2}} now)",
            kpa(abs(by_air)), celsius(then.temperature_c), celsius(now.temperature_c),
        )  # fmt: skip
    if shared is None:
        few = say("with three road wheels or fewer, weather and loss cannot be told apart further.")
        return join(moved, few, by="; ")
    more = -math.expm1(-shared) * statistics.median(s.found_kpa + s.now.absolute_kpa for s in road)
    if abs(more) < 0.5:
        return join(moved, say("beyond that all tires together stayed as they were."), by="; ")
    lower = "lower" if more < 0 else "higher"
    beyond = join(moved, say(f"beyond that all tires together read {{0}} {lower}", kpa(abs(more))), by="; ")
    if not odd:
        return join(beyond, say("which thermometers and hands explain."), by=", ")
    return join(beyond, _cause(shared, like, known, now), by=": ")


def _cause(shared: float, like: Likeness | None, known: Circumstances, now: Air) -> Phrase:
    """What may lie behind an odd round."""
    degrees = math.expm1(shared) * (now.temperature_c + 273.15)
    fits = celsius(now.temperature_c + degrees)
    served = known.service_c
    typed_c, fitting_c = now.temperature_c, now.temperature_c + degrees
    if served is not None and abs(served - typed_c) > _WARMER_C > abs(served - fitting_c):
        words = "the temperature entered is wrong. It fits {0}, and the weather service says {1}."
        return say(words, fits, celsius(served))
    if known.gauge_changed and like != "temperature":
        return say("another gauge was used than before. Compare the two.")
    if like == "gauge":
        return say("by the same amount at every pressure, so the gauge, or the elevation, is off in this round.")
    if degrees > _WARMER_C:
        return say(
            "as if the tires stood at {0}. A heated shop, not cold yet, or a wrong temperature: read it again outside.",
            fits,
        )
    if like == "temperature":
        return say("as if the tires stood at {0}: a wrong temperature, most likely.", fits)
    return say("a wrong temperature (it fits {0}), another elevation, or the gauge. Check these three.", fits)


def _own(parts: tuple[Part, ...], separable: bool, sides: float | None) -> Phrase:
    """The second sentence: who stands out."""
    if sides is not None:
        warm = "right" if sides > 0 else "left"
        words = say(
            f"The {warm} side reads {{0}} over the other: the sun was on it, or it stood sheltered.", kpa(abs(sides))
        )
    out = sorted((p for p in parts if p.stands_out), key=lambda p: p.own_kpa)
    lowest = min(parts, key=lambda p: p.own_kpa)
    if not out:
        if sides is not None:
            return words
        if abs(lowest.own_kpa) < 0.5:
            return say("No tire stands out.")
        return say("No tire stands out: " + plain(lowest.name) + " went furthest on its own, {0}.", kpa(lowest.own_kpa))
    low = [p for p in out if p.own_kpa < 0]
    if low:
        p, others = low[0], len(low) - 1
        more = f", and {others} more" if others else ""
        against = "the others" if separable else "its own history"
        return say(
            f"{plain(p.name)} alone is {{0}} lower than {against} and usual loss explain{more}: a leak until shown otherwise.",
            kpa(-p.own_kpa),
        )
    p = out[-1]
    return say(
        f"{plain(p.name)} alone is {{0}} higher: air was added unrecorded, it was warm, or misread.", kpa(p.own_kpa)
    )
