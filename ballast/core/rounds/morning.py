"""This morning, of many tires at once: what each is held to, what it stood at last, and what that foretells in today's air."""

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from typing import Any

import numpy as np

from ballast.core.air import POLICIES, TemperaturePolicy, target_here
from ballast.core.gas import Air
from ballast.core.lookback import predict
from ballast.core.rounds.answer import foretell_all, wanted_below
from ballast.core.sensors import Glimpse, beside
from ballast.core.working import Phrase, join, number, say

_DAY_S = 86_400.0


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
    held = [
        held_here(
            (known(b["target_kpa"]), known(b["range_kpa"])), known(b["floor_kpa"]), known(b["ceiling_kpa"]), float(b["step_kpa"]),
            bool(b["spare"]), airs[b["air"]], POLICIES[b["policy"]],
        )
        for b in np.frombuffer(b"".join(different), dtype=_BAND)
    ]  # fmt: skip
    return held, whose


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
