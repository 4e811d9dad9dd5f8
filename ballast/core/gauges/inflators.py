"""Inflators: able or not, what to dial, how long with rests, and in which order."""

import itertools
import math
from dataclasses import dataclass, replace
from typing import Literal

from ballast.core.gas import SEA_LEVEL_KPA
from ballast.core.refusal import Refusal
from ballast.core.units import both
from ballast.core.working import Line, Phrase, kpa, number, plain, say

Supply = Literal["battery", "socket", "clamps", "tank"]
SUPPLIES: dict[str, str] = {
    "battery": "Its own battery",
    "socket": "A vehicle socket",
    "clamps": "Clamps on the battery",
    "tank": "A tank or shop line",
}
# An inflator must reach this much over the set-point.
SPARE_SHARE = 0.05
# Air in a tire against the box of its outline: the crown is round and the rim takes part of it.
_FULL = 0.85
# Where a size does not say how much air a tire holds, that of a large one [L].
LARGE_TIRE_L = 150.0


@dataclass(frozen=True)
class Inflator:
    """An inflator or a supply of air.

    `max_kpa`: where it stalls; of a tank, what stands in it. Flow falls linearly from `free_l_min`, free air at the inlet's
    pressure, to nil there, or follows the maker's `points` (kPa, L/min). Losses are measured: `hose_loss_kpa` leaves when
    the hose comes off, `settling_kpa` fades as the tire cools from filling. `on_min`, `rest_min`: its duty cycle.
    """

    max_kpa: float
    free_l_min: float | None
    supply: str
    points: tuple[tuple[float, float], ...] = ()
    hose_loss_kpa: float = 0.0
    settling_kpa: float = 0.0
    on_min: float | None = None
    rest_min: float | None = None
    draws_a: float | None = None
    socket_a: float | None = None
    tank_l: float | None = None


@dataclass(frozen=True)
class ToFill:
    """A tire to fill: from what stands in it to the target here [kPa], its volume [L]; `urgent`: below its floor."""

    name: str
    from_kpa: float
    to_kpa: float
    volume_l: float
    urgent: bool = False


@dataclass(frozen=True)
class Fill:
    """One tire of a job: able or why not, the set-point to dial [kPa], minutes of running."""

    name: str
    able: bool
    set_point_kpa: float
    minutes: float | None
    words: Phrase
    working: tuple[Line, ...]


@dataclass(frozen=True)
class Job:
    """Tires in the order to fill them, with the minutes of running and those with rests; None where one is unknown."""

    fills: tuple[Fill, ...]
    running_min: float | None
    whole_min: float | None
    words: Phrase


def air_volume_l(width_mm: float, diameter_mm: float, rim_in: float) -> float:
    """About how much air a tire holds [L], from its outline. An estimate, good to a tenth or so."""
    rim_mm = rim_in * 25.4
    return math.pi / 4 * (diameter_mm**2 - rim_mm**2) * width_mm * _FULL / 1e6


def set_point(inflator: Inflator, target_kpa: float) -> float:
    """The pressure [kPa] to fill to so that the target is left once the hose is off and the tire has settled."""
    return target_kpa + inflator.hose_loss_kpa + inflator.settling_kpa


def _curve(inflator: Inflator) -> list[tuple[float, float]]:
    if inflator.points:
        return sorted(inflator.points)
    assert inflator.free_l_min is not None
    return [(0.0, inflator.free_l_min), (inflator.max_kpa, 0.0)]


def fill_minutes(
    inflator: Inflator, volume_l: float, from_kpa: float, to_kpa: float, outside_kpa: float = SEA_LEVEL_KPA
) -> float | None:
    """Minutes of running to bring `volume_l` from one pressure to another [kPa].

    V/p_atm ∫ dp/q(p), q straight between the points: for one line V ps/(p_atm q0) ln((ps − p1)/(ps − p2)). None where the
    flow is not known. Raises Refusal where it stalls, or where the points end, below the goal.
    """
    if to_kpa <= from_kpa:
        return 0.0
    if not inflator.points and inflator.free_l_min is None:
        return None
    points = _curve(inflator)
    if to_kpa >= points[-1][0] and (points[-1][1] <= 0 or to_kpa > points[-1][0]):
        raise Refusal(
            f"This inflator stalls at {both('pressure', points[-1][0])}, below {both('pressure', to_kpa)}. "
            "Take a stronger one.",
            "max_kpa",
        )
    total = 0.0
    for (p0, q0), (p1, q1) in itertools.pairwise(points):
        low, high = max(p0, from_kpa), min(p1, to_kpa)
        if high <= low:
            continue

        def flow(p: float, p0: float = p0, q0: float = q0, p1: float = p1, q1: float = q1) -> float:
            return q0 + (q1 - q0) * (p - p0) / (p1 - p0)

        start, end = flow(low), flow(high)
        mean = start if abs(start - end) < 1e-9 else (start - end) / math.log(start / end)
        total += (high - low) / mean
    if points[0][0] > from_kpa:
        total += (min(points[0][0], to_kpa) - from_kpa) / points[0][1]
    return volume_l / outside_kpa * total


def with_rests(running_min: float, on_min: float | None, rest_min: float | None) -> float:
    """Minutes of a job with the rests that the duty cycle asks for between runs."""
    if not on_min or not rest_min:
        return running_min
    return running_min + max(0, math.ceil(running_min / on_min - 1e-9) - 1) * rest_min


def refusal(inflator: Inflator, tire: ToFill) -> Phrase | None:
    """Why this inflator must not, or cannot, do it; None: it can."""
    goal = set_point(inflator, tire.to_kpa)
    if inflator.supply == "socket" and inflator.draws_a and inflator.socket_a and inflator.draws_a > inflator.socket_a:
        return say(
            "It draws {0} A and the socket gives {1} A: its fuse goes. Take clamps on the battery.",
            number(inflator.draws_a), number(inflator.socket_a),
        )  # fmt: skip
    if inflator.max_kpa <= tire.from_kpa:
        return say(
            "It holds {0} and the tire {1}: connected, it lets air out of the tire.",
            kpa(inflator.max_kpa, "down"), kpa(tire.from_kpa),
        )  # fmt: skip
    if inflator.max_kpa < goal * (1 + SPARE_SHARE):
        return say(
            "It reaches {0}; a set-point of {1} takes {2}.",
            kpa(inflator.max_kpa, "down"), kpa(goal), kpa(goal * (1 + SPARE_SHARE), "up"),
        )  # fmt: skip
    return None


def _order(inflator: Inflator, tires: tuple[ToFill, ...]) -> list[ToFill]:
    """Below the floor first. From a tank then the highest first, while it holds the most; else the emptiest first."""
    if inflator.supply == "tank":
        return sorted(tires, key=lambda t: (not t.urgent, -t.to_kpa))
    return sorted(tires, key=lambda t: (not t.urgent, t.from_kpa / t.to_kpa if t.to_kpa else 1.0))


def job(inflator: Inflator, tires: tuple[ToFill, ...], outside_kpa: float = SEA_LEVEL_KPA) -> Job:
    """Whether an inflator does a job, what to dial at each tire, how long with rests, in which order.

    A tank's pressure falls by what every tire takes of it.
    """
    left, running = inflator, 0.0
    known = True
    fills: list[Fill] = []
    for tire in _order(inflator, tires):
        goal = set_point(inflator, tire.to_kpa)
        working = [Line(say("target here"), kpa(tire.to_kpa, "up"))]
        if inflator.hose_loss_kpa:
            working.append(Line(say("lost as the hose comes off"), kpa(inflator.hose_loss_kpa)))
        if inflator.settling_kpa:
            working.append(Line(say("settles as it cools from filling"), kpa(inflator.settling_kpa)))
        working.append(Line(say("fill to"), kpa(goal)))
        why = refusal(left, tire)
        if why is not None:
            fills.append(Fill(tire.name, False, goal, None, why, tuple(working)))
            continue
        minutes = fill_minutes(left, tire.volume_l, tire.from_kpa, goal, outside_kpa)
        if minutes is None:
            known = False
            words = say("Able; how long it takes is not known.")
        else:
            running += minutes
            words = say("About {0} min.", number(max(0.1, round(minutes, 1))))
            working.append(
                Line(
                    say(
                        "{0} L of air at about {1} in the tire before", number(round(tire.volume_l)), kpa(tire.from_kpa)
                    )
                )
            )
        fills.append(Fill(tire.name, True, goal, minutes, words, tuple(working)))
        if inflator.supply == "tank" and inflator.tank_l:
            left = replace(left, max_kpa=left.max_kpa - (goal - tire.from_kpa) * tire.volume_l / inflator.tank_l)
    unable = [f.name for f in fills if not f.able]
    if not fills:
        return Job((), 0.0, 0.0, say("No tire needs air."))
    whole = with_rests(running, inflator.on_min, inflator.rest_min) if known else None
    if unable:
        words = say("Not able: " + plain(", ".join(unable)) + ".")
    elif whole is None:
        words = say("Able.")
    elif whole > running + 1e-9:
        words = say("Able: about {0} min, rests of its duty cycle included.", number(math.ceil(whole)))
    else:
        words = say("Able: about {0} min.", number(math.ceil(whole)))
    return Job(tuple(fills), running if known else None, whole, words)
