"""This morning, of many tires at once: what each is held to, what it stood at last, and what that foretells in today's air."""

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from functools import lru_cache
from typing import Any

import numpy as np

from ballast.core.air import POLICIES, Ahead, TemperaturePolicy, target_here
from ballast.core.gas import Air
from ballast.core.lookback import carried, predict
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

    `check_day`: on which day, as dates count them, its next check is due; None: on none. `off_road`: a ground plan is open.
    `named`: a leak was. `alarmed`: an alarm came since, so that only a newer number of its sensor foretells it.
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
    check_day: float | None = None
    spare: bool = False
    off_road: bool = False
    named: bool = False
    alarmed: bool = False


# Many of them as an array: the same fields, NaN for what is not known, the policy by its place among all.
_KIND = {"policy": "u1"} | dict.fromkeys(("spare", "off_road", "named", "alarmed"), "?")
AWAITED = np.dtype([(f.name, _KIND.get(f.name, "<f8")) for f in fields(Awaited)])
_BAND = np.dtype(
    [(n, AWAITED[n]) for n in ("policy", "step_kpa", "target_kpa", "range_kpa", "floor_kpa", "ceiling_kpa", "spare")]
    + [("around", "<i8")]
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


@dataclass(frozen=True)
class Around:
    """The air at a place, and the dawns ahead that are asked there, each with the day on which it comes, as dates count them."""

    here: Air
    dawns: tuple[Ahead, ...] = ()
    on: tuple[int, ...] = ()


def held_all(tires: Any, at: Any, around: Sequence[Around]) -> tuple[list[HeldHere], list[int]]:
    """`held_here` of many tires (`AWAITED`), each at one of some places by its number: what differs, and which is whose.

    The tires of an axle, and of vehicles alike, are held to the same.
    """
    bands = np.empty(len(tires), dtype=_BAND)
    for name in _BAND.names or ():
        bands[name] = at if name == "around" else tires[name]
    each = bands.view(f"V{_BAND.itemsize}").tolist()
    different = {band: i for i, band in enumerate(dict.fromkeys(each))}
    whose = [different[band] for band in each]
    places = [(b, around[b["around"]]) for b in np.frombuffer(b"".join(different), dtype=_BAND)]
    return [held_here(_band(b), place.here, place.dawns) for b, place in places], whose


def low_kpa(held: Sequence[HeldHere], whose: Sequence[int]) -> Any:
    """Of each tire of `held_all` below what it wants air, NaN where it has no target."""
    low = np.array([np.nan if h.low_kpa is None else h.low_kpa for h in held], dtype=float)
    return low[np.array(whose, dtype=int)]


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


def asking_dawn(tires: Any, morning: Morning, at: Any, around: Sequence[Around]) -> Any:
    """Of each of many tires (`AWAITED`) the dawn, by its place among those of where it stands, that asks for a round at once: the
    first that takes it to its floor by the best estimate, where it comes before its next check and a round now would give it
    air. -1: none does, or that is not known.

    A tire that a round would hold as it is asks for none: it would ask again as soon as it was sealed. `at`: where each stands,
    by its number among `around`.
    """
    # Dawns by place: temperature, pressure, in how many days, on which day; NaN where no more are foretold.
    dawns = np.full((4, max((len(a.dawns) for a in around), default=0), len(around)), np.nan)
    for i, place in enumerate(around):
        for n, (dawn, on) in enumerate(zip(place.dawns, place.on, strict=True)):
            dawns[:, n, i] = dawn.air.temperature_c, dawn.air.absolute_kpa, dawn.days, on
    here_c, here_kpa = np.array([(a.here.temperature_c, a.here.absolute_kpa) for a in around]).reshape(-1, 2).T
    asked = np.flatnonzero(morning.foretold & ~np.isnan(tires["floor_kpa"]))
    place, floor, rate, due = (
        at[asked],
        *(np.array(tires[n][asked]) for n in ("floor_kpa", "rate_kpa_day", "check_day")),
    )
    reads, here_c, here_kpa = morning.kpa[asked], here_c[place], here_kpa[place]
    # A check that is due on no day comes after every dawn.
    due[np.isnan(due)] = np.inf
    taken, first, before = np.full(len(tires), -1), np.full(len(asked), -1), np.zeros(len(asked), dtype=int)
    for n in reversed(range(dawns.shape[1])):
        dawn_c, absolute_kpa, days, on = np.take(dawns[:, n], place, axis=1)
        first[carried(reads, here_c, here_kpa, rate, days, dawn_c, absolute_kpa) <= floor] = n
        before += on <= due
    asks = np.flatnonzero((first >= 0) & (first < before))
    # Of each place as many of its dawns as come before the check.
    until = list(zip(place[asks].tolist(), before[asks].tolist(), strict=True))
    places = {key: i for i, key in enumerate(dict.fromkeys(until))}
    those = [Around(around[p].here, around[p].dawns[:n]) for p, n in places]
    which = np.array([places[key] for key in until], dtype=int)
    wants = asks[reads[asks] < low_kpa(*held_all(tires[asked[asks]], which, those))]
    taken[asked[wants]] = first[wants]
    return taken


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
