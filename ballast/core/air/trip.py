"""A trip as one calculation: the fill now that stays inside the band at every dawn, or where to stop and set it again."""

import math
from dataclasses import dataclass
from functools import cached_property

from ballast.core.air.ahead import Ahead, at_dawn, limits, ordinary_loss, within
from ballast.core.gas import Air, carry
from ballast.core.working import Phrase, celsius, kpa, meters, plain, say

MOST_LEGS = 200


@dataclass(frozen=True)
class Leg:
    """One night of a trip: where, its dawn low and, where known, its day's high. `day` counts from the setting."""

    name: str
    dawn: Air
    high_c: float | None
    day: float

    @cached_property
    def high(self) -> Air | None:
        """The air of the day's high, for every axle the same."""
        return None if self.high_c is None else Air(self.high_c, self.dawn.elevation_m)


@dataclass(frozen=True)
class LegReading:
    """What an axle reads at a leg [kPa]. The day's high warms a standing tire too: shown, not judged."""

    leg: int
    dawn_kpa: float
    high_kpa: float | None
    above_floor: bool | None
    below_ceiling: bool | None


@dataclass(frozen=True)
class Stretch:
    """Legs that one fill holds, set at the dawn of leg `at` (None: here and now) to `set_kpa`.

    Anything from `need_kpa` to `most_kpa` would do there; `rules` is the leg that asks for most (None: none does).
    """

    at: int | None
    legs: tuple[int, ...]
    need_kpa: float
    most_kpa: float | None
    set_kpa: float
    rules: int | None


@dataclass(frozen=True)
class Trip:
    """An axle along a trip. One stretch: one fill holds everywhere. `clash`: two legs that no fill holds together,
    the first None where it is the place and moment of setting itself."""

    stretches: tuple[Stretch, ...]
    readings: tuple[LegReading, ...]
    clash: tuple[int | None, int] | None
    words: Phrase
    notes: tuple[Phrase, ...]


@dataclass(frozen=True)
class _Band:
    """What an axle's fill is held against [kPa]; unknown is None."""

    target: float
    floor: float | None
    ceiling: float | None
    step: float

    def bounds(self, leg: Leg, air: Air, day: float) -> tuple[float, float]:
        """The least and the most that may be set in `air` on `day` for a leg."""
        return limits(self.floor, self.ceiling, self.target, Ahead(leg.dawn, max(0.0, leg.day - day)), air)


def _stretch(
    band: _Band, air: Air, day: float, at: int | None, first: int, legs: tuple[Leg, ...]
) -> tuple[Stretch, tuple[int | None, int] | None]:
    """As many legs from `first` on as one fill set in `air` holds, and what ends it."""
    need, most = band.floor or 0.0, math.inf if band.ceiling is None else band.ceiling
    rules: int | None = None
    limits: int | None = None
    clash: tuple[int | None, int] | None = None
    held: list[int] = []
    for i in range(first, len(legs)):
        low, high = band.bounds(legs[i], air, day)
        if max(need, low) > min(most, high) + 1e-9 and i != at:
            clash = (limits if low > most else rules, i)
            break
        if low > need:
            need, rules = low, i
        if high < most:
            most, limits = high, i
        held.append(i)
    upper = None if most == math.inf else most
    return Stretch(at, tuple(held), need, upper, within(band.target, need, most, band.step), rules), clash


def plan_trip(
    target_kpa: float,
    floor_kpa: float | None,
    ceiling_kpa: float | None,
    here: Air,
    legs: tuple[Leg, ...],
    step_kpa: float,
) -> Trip:
    """One fill here and now that holds floor and ceiling at every dawn [kPa]; else as few stops as there must be.

    Each stretch goes as far as one fill holds, where it is set included; the next begins at the dawn that it no longer
    holds, and is set there. What is lost on the way (up to 3 % a month) is asked for on top. Dawns alone are judged.
    """
    band = _Band(target_kpa, floor_kpa, ceiling_kpa, step_kpa)
    stretches: list[Stretch] = []
    clash: tuple[int | None, int] | None = None
    at: int | None = None
    first, air, day = 0, here, 0.0
    while first < len(legs):
        stretch, ended = _stretch(band, air, day, at, first, legs)
        stretches.append(stretch)
        clash = clash or ended
        first += len(stretch.legs)
        if first < len(legs):
            at, air, day = first, legs[first].dawn, legs[first].day
    words, notes = _told(stretches, legs, clash, target_kpa)
    return Trip(tuple(stretches), _read(stretches, legs, here, band), clash, words, notes)


def _read(stretches: list[Stretch], legs: tuple[Leg, ...], here: Air, band: _Band) -> tuple[LegReading, ...]:
    nights = []
    for stretch in stretches:
        air, day = (here, 0.0) if stretch.at is None else (legs[stretch.at].dawn, legs[stretch.at].day)
        for i in stretch.legs:
            leg = legs[i]
            loss = ordinary_loss(band.target, max(0.0, leg.day - day))
            dawn = at_dawn(stretch.set_kpa, air, leg.dawn, band.floor, band.ceiling, loss)
            high = None if leg.high is None else carry(stretch.set_kpa, air, leg.high)
            nights.append(LegReading(i, dawn.kpa, high, dawn.above_floor, dawn.below_ceiling))
    return tuple(nights)


def _told(
    stretches: list[Stretch], legs: tuple[Leg, ...], clash: tuple[int | None, int] | None, target: float
) -> tuple[Phrase, tuple[Phrase, ...]]:
    notes: list[Phrase] = []
    if clash is None:
        (only,) = stretches
        if only.set_kpa > target + 1e-9 and only.rules is not None:
            leg = legs[only.rules]
            why = f"Raised for the dawn at {plain(leg.name)}: {{0}}, {{1}}."
            notes.append(say(why, celsius(leg.dawn.temperature_c), meters(leg.dawn.elevation_m)))
        elif only.set_kpa < target - 1e-9:
            notes.append(say("Less than the target of {0}: on the way the same air reads more.", kpa(target, "up")))
        return say("Set {0} now: it holds at every dawn of the trip.", kpa(only.set_kpa, "up")), tuple(notes)
    one, other = clash
    dawn = legs[other].dawn
    there = (celsius(dawn.temperature_c), meters(dawn.elevation_m))
    if one is None:
        words = say(f"No fill set here holds at {plain(legs[other].name)} ({{0}}, {{1}}).", *there)
    else:
        first = legs[one].dawn
        words = say(
            f"No one fill holds: {plain(legs[one].name)} ({{2}}, {{3}}) and {plain(legs[other].name)} ({{0}}, {{1}}) clash.",
            *there, celsius(first.temperature_c), meters(first.elevation_m),
        )  # fmt: skip
    for stretch in stretches:
        value = kpa(stretch.set_kpa, "up")
        if stretch.at is None:
            notes.append(say("Set {0} now.", value))
        else:
            leg = legs[stretch.at]
            stop = f"Stop at {plain(leg.name)}, and set {{0}} there at dawn ({{1}})."
            notes.append(say(stop, value, celsius(leg.dawn.temperature_c)))
    return words, tuple(notes)
