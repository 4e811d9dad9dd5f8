"""This morning, of many tires at once: what each is held to, what it stood at last, and what that foretells in today's air."""

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from functools import lru_cache
from typing import Any

import numpy as np

from ballast.core.air import POLICIES, Ahead, TemperaturePolicy, target_here
from ballast.core.gas import Air
from ballast.core.lookback import predict
from ballast.core.rounds.answer import foretell_all, wanted_below
from ballast.core.sensors import Glimpse, beside
from ballast.core.working import Phrase, celsius, day, join, number, plain, say

_DAY_S = 86_400.0
# Of more tires than that the number is said.
_NAMED = 4


@dataclass(frozen=True)
class Awaited:
    """A tire of which a morning asks: what its wheel is held to [kPa] by which policy, and how its last service, or what was let
    out or filled since, left it: when [s since 1970], at which true cold pressure [kPa] in which air, how the next reading
    scatters around it and what it loses (`lookback.predict`). `at_s` None: nothing foretells it.

    `off_road`: a ground plan is open. `named`: a leak was. `alarmed`: an alarm came since, so that only a newer number of its
    sensor foretells it.
    """

    policy: TemperaturePolicy = "morning"
    step_kpa: float = 1.0
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
    spare: bool = False
    off_road: bool = False
    named: bool = False
    alarmed: bool = False


# Many of them as an array: the same fields, NaN for what is not known, the policy by its place among all.
_KIND = {"policy": "u1"} | dict.fromkeys(("spare", "off_road", "named", "alarmed"), "?")
AWAITED = np.dtype([(f.name, _KIND.get(f.name, "<f8")) for f in fields(Awaited)])
_BAND = np.dtype(
    [(n, AWAITED[n]) for n in ("policy", "step_kpa", "target_kpa", "range_kpa", "floor_kpa", "ceiling_kpa", "spare")]
    + [("air", "<i8")]
)


def awaited(tires: Sequence[Awaited]) -> Any:
    """Tires as an array of `AWAITED`."""
    rows = [vars(t) | {"policy": POLICIES.index(t.policy)} for t in tires]
    return np.array([tuple(np.nan if v is None else v for v in row.values()) for row in rows], dtype=AWAITED)


def known(number: float) -> float | None:
    """A number of such an array; None where it is not known."""
    return None if np.isnan(number) else float(number)


@dataclass(frozen=True)
class HeldHere:
    """What a wheel is held to in the air here [kPa]: its target, the other end of its range, and below what it wants air."""

    target_kpa: float | None
    range_kpa: float | None
    low_kpa: float | None


# Vehicles alike in the air of one place are asked for one after the other, and again by whoever looks next.
@lru_cache(maxsize=4096)
def held_here(tire: Awaited, here: Air, dawns: tuple[Ahead, ...] = ()) -> HeldHere:
    """Target and other end of a wheel's range in the air here, some dawns asked; a spare's are its own numbers."""

    def end(own_kpa: float | None) -> tuple[float | None, float | None]:
        if own_kpa is None or tire.spare:
            return own_kpa, None
        found = target_here(own_kpa, tire.floor_kpa, tire.ceiling_kpa, here, None, dawns, tire.step_kpa, tire.policy)
        return found.kpa, found.dawn_kpa

    (target, dawn), (other, _) = end(tire.target_kpa), end(tire.range_kpa)
    return HeldHere(target, other, None if target is None else wanted_below(target, tire.floor_kpa, other, dawn))


def held_all(tires: Any, air: Any, airs: Sequence[Air]) -> tuple[list[HeldHere], list[int]]:
    """`held_here` of many tires (`AWAITED`), each in one of some airs by its place among them: what differs, and which is whose.

    The tires of an axle, and of vehicles alike, are held to the same.
    """
    bands = np.empty(len(tires), dtype=_BAND)
    for name in _BAND.names or ():
        bands[name] = air if name == "air" else tires[name]
    raw, size = bands.tobytes(), _BAND.itemsize
    different: dict[bytes, int] = {}
    whose = [different.setdefault(raw[i : i + size], len(different)) for i in range(0, len(raw), size)]
    return [held_here(_band(b), airs[b["air"]]) for b in np.frombuffer(b"".join(different), dtype=_BAND)], whose


def _band(tire: Any) -> Awaited:
    """What a tire of such an array is held to."""
    return Awaited(
        POLICIES[tire["policy"]], float(tire["step_kpa"]), known(tire["target_kpa"]), known(tire["range_kpa"]),
        known(tire["floor_kpa"]), known(tire["ceiling_kpa"]), spare=bool(tire["spare"]),
    )  # fmt: skip


@dataclass(frozen=True)
class Morning:
    """Many tires of one moment, in arrays of one length: what each reads [kPa], give or take at 95 %, and whether that is foretold
    at all, it wants air, or holds; and of which a number of its sensor counts beside its last service."""

    kpa: Any
    within_kpa: Any
    foretold: Any
    wanting: Any
    holding: Any
    beside: frozenset[int]


def foresee(tires: Any, low_kpa: Any, here: tuple[Any, Any], now: dt.datetime, heard: Mapping[int, Glimpse]) -> Morning:
    """What many tires (`AWAITED`) read here and now, in one computation.

    `low_kpa`: below what each wants air, NaN where it has no target. `here`: the air at each, its temperature [°C] and absolute
    pressure [kPa]. `heard`: by its place among them the newest number of a tire's sensor.
    """
    at = tires["at_s"]
    days = np.maximum(0.0, (now.timestamp() - at) / _DAY_S)
    predicted = predict(
        tires["stood_kpa"], tires["air_c"], tires["absolute_kpa"], tires["rate_kpa_day"], days, *here, tires["noise_kpa"],
        tires["rate_error_kpa_day"],
    )  # fmt: skip
    kpa, within, foretold = predicted.kpa, predicted.uncertainty_kpa, ~tires["alarmed"]
    newer = frozenset(tire for tire, glimpse in heard.items() if glimpse.at.timestamp() > at[tire])
    for tire in newer:
        kpa[tire], within[tire] = beside(float(kpa[tire]), float(within[tire]), heard[tire])
        foretold[tire] = True
    foretold &= ~np.isnan(kpa)
    words = foretell_all(kpa, within, low_kpa)
    return Morning(kpa, within, foretold, foretold & (words == "add"), foretold & (words == "hold"), newer)


def first_dawn(tires: Any, morning: Morning, here: tuple[Any, Any], dawns: Any) -> Any:
    """Of each of many tires (`AWAITED`) the first of some dawns, by its place among them, that takes it to its floor by the best
    estimate; -1: none does, or that is not known.

    `here` as for `foresee`; `dawns`, an array of dawns × 3 × tires: of each the same two, and in how many days it comes; NaN where
    none is foretold.
    """
    taken = np.full(len(tires), -1)
    for i in reversed(range(len(dawns))):
        dawn_c, absolute_kpa, days = dawns[i]
        there = predict(
            morning.kpa, *here, tires["rate_kpa_day"], days, dawn_c, absolute_kpa, tires["noise_kpa"], tires["rate_error_kpa_day"]
        ).kpa  # fmt: skip
        taken[morning.foretold & (there <= tires["floor_kpa"])] = i
    return taken


def asks_before(tire: Any, kpa: float, here: Air, dawns: tuple[Ahead, ...]) -> bool:
    """Whether a round now would give air to a tire (`AWAITED`) that reads so much [kPa], the dawns until its next check asked.

    A tire that a round would hold as it is asks for none: it would ask again as soon as it was sealed.
    """
    low = held_here(_band(tire), here, dawns).low_kpa
    return low is not None and kpa < low


def dawn_words(on: dt.date | None, dawn_c: float, codes: Sequence[str]) -> Phrase:
    """That a dawn takes some tires to their floors; `on` None: the coming one, typed without its day.

    >>> dawn_words(dt.date(2026, 12, 3), -12.0, ["1L", "1R"]).text
    'The dawn of Dec 3, 2026, {0}, takes 1L and 1R to their floors'
    """
    named = " and ".join(filter(None, (", ".join(codes[:-1]), codes[-1])))
    which = named if len(codes) <= _NAMED else f"{len(codes)} tires"
    whose = "its floor" if len(codes) == 1 else "their floors"
    which_dawn = f"The dawn of {day(on)}" if on else "The coming dawn"
    return say(f"{which_dawn}, {{0}}, takes {plain(which)} to {whose}", celsius(dawn_c))


NOT_FORETOLD = say("Not known: look at it")


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
