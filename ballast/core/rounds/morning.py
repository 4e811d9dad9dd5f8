"""This morning, of many tires at once: what each is held to, what it stood at last, and what that foretells in today's air."""

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from typing import Any

import numpy as np

from ballast.core.air import TemperaturePolicy, target_here
from ballast.core.gas import Air
from ballast.core.lookback import predict
from ballast.core.rounds.answer import foretell_all, wanted_below
from ballast.core.sensors import Glimpse, beside
from ballast.core.working import Phrase, join, number, say

_DAY_S = 86_400.0


@dataclass(frozen=True)
class Awaited:
    """A tire of which a morning asks: what its wheel is held to [kPa], and how its last service, or what was let out or filled
    since, left it: when [s since 1970], at which true cold pressure [kPa] in which air, how the next reading scatters around it
    and what it loses (`lookback.predict`). `at_s` None: nothing foretells it.

    `alarmed`: an alarm came since, so that only a newer number of its sensor foretells it.
    """

    code: str
    name: str
    spare: bool
    step_kpa: float
    target_kpa: float | None = None
    range_kpa: float | None = None
    floor_kpa: float | None = None
    ceiling_kpa: float | None = None
    at_s: float | None = None
    stood_kpa: float | None = None
    air_c: float | None = None
    absolute_kpa: float | None = None
    noise_kpa: float | None = None
    rate_kpa_day: float | None = None
    rate_error_kpa_day: float | None = None
    named: bool = False
    alarmed: bool = False


# Tires as they are kept: a column a field, all of one length.
Columns = Mapping[str, Sequence[Any]]


# How it was left, of which `foresee` makes what it reads now.
_LEFT = ("at_s", "stood_kpa", "air_c", "absolute_kpa", "rate_kpa_day", "noise_kpa", "rate_error_kpa_day")
AS_LEFT = (*_LEFT, "alarmed")


def columns_of(tires: Sequence[Awaited]) -> dict[str, list[Any]]:
    """Tires as columns, by the names of their fields."""
    return {f.name: [getattr(t, f.name) for t in tires] for f in fields(Awaited)}


@dataclass(frozen=True)
class HeldHere:
    """What a wheel is held to in the air here [kPa]: its target, the other end of its range, and below what it wants air."""

    target_kpa: float | None
    range_kpa: float | None
    low_kpa: float | None


def held_here(
    ends_kpa: tuple[float | None, float | None],
    floor_kpa: float | None,
    ceiling_kpa: float | None,
    step_kpa: float,
    spare: bool,
    here: Air,
    policy: TemperaturePolicy,
) -> HeldHere:
    """Target and other end of a wheel's range in the air here, no dawn asked; a spare's are its own numbers."""

    def end(own_kpa: float | None) -> float | None:
        if own_kpa is None or spare:
            return own_kpa
        return target_here(own_kpa, floor_kpa, ceiling_kpa, here, None, (), step_kpa, policy).kpa

    target, other = map(end, ends_kpa)
    return HeldHere(target, other, None if target is None else wanted_below(target, floor_kpa, other))


@dataclass(frozen=True)
class Morning:
    """Many tires of one moment, in arrays of one length: what each reads [kPa], give or take at 95 %, and whether that is known
    at all, it wants air, or holds."""

    kpa: Any
    within_kpa: Any
    known: Any
    wanting: Any
    holding: Any


def foresee(
    tires: Columns,
    low_kpa: Sequence[float | None],
    here: tuple[Any, Any],
    now: dt.datetime,
    heard: Mapping[int, Glimpse],
) -> Morning:
    """What many tires read here and now, in one computation over how each was left (the columns of `AS_LEFT`).

    `low_kpa`: below what each wants air, None where it has no target. `here`: the air at each, its temperature [°C] and absolute
    pressure [kPa], NaN where that is not known. `heard`: by its place among them the newest number of a tire's sensor.
    """
    at, stood, then_c, then_kpa, rate, noise, error = (np.array(tires[name], dtype=float) for name in _LEFT)
    days = np.maximum(0.0, (now.timestamp() - at) / _DAY_S)
    predicted = predict(stood, then_c, then_kpa, rate, days, *here, noise, error)
    kpa, within, known = predicted.kpa, predicted.uncertainty_kpa, ~np.array(tires["alarmed"], dtype=bool)
    for tire, glimpse in heard.items():
        if glimpse.at.timestamp() > at[tire]:
            kpa[tire], within[tire] = beside(float(kpa[tire]), float(within[tire]), glimpse)
            known[tire] = True
    known &= ~np.isnan(kpa)
    words = foretell_all(kpa, within, np.array(low_kpa, dtype=float))
    return Morning(kpa, within, known, known & (words == "add"), known & (words == "hold"))


def counted(wanting: int, holding: int, unknown: int) -> Phrase:
    """How many want air, hold, and are not known; that none wants air is said only where all are known."""
    parts = []
    if wanting:
        parts.append(say("{0} " + ("tire wants" if wanting == 1 else "tires want") + " air", number(wanting)))
    if unknown:
        parts.append(say("{0} not known", number(unknown)))
    if holding or not parts:
        parts.append(say("{0} " + ("holds" if holding == 1 else "hold") + ", by prediction", number(holding)))
    return join(*parts, by=", ") if wanting or unknown else say("No tire wants air, by prediction")
