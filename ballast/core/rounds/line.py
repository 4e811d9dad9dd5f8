"""A wheel as a round takes it down when it is opened, with all that it is held against; later changes to its rig are not its."""

import datetime as dt
from dataclasses import dataclass, field
from typing import Literal

from ballast.core.gas import Air
from ballast.core.ground import Number
from ballast.core.lookback import Last, Rate, noise_kpa
from ballast.core.rounds.answer import stop_without_target
from ballast.core.targets import FloorFrom
from ballast.core.working import Phrase, say

# −1 left, 1 right, 0 neither.
Side = Literal[-1, 0, 1]
SIDES: dict[str | None, Side] = {"L": -1, "R": 1}


@dataclass(frozen=True)
class Left:
    """A tire as its last service left it, at a moment: true and cold [kPa], in what air, losing how much [kPa a day].

    `gauge_kpa`: the half-width of that gauge at 95 %; `noise_kpa` None: it scatters as is usual.
    """

    kpa: float
    noise_kpa: float | None
    air: Air
    at: dt.datetime
    rate_kpa_day: float
    rate_error: float
    gauge: int = 0
    gauge_kpa: float = 0.0

    def on(self, now: dt.datetime) -> Last:
        """The same, as it is asked for later."""
        days = max(0.0, (now - self.at) / dt.timedelta(days=1))
        noise = self.noise_kpa or noise_kpa(self.kpa, self.air.absolute_kpa)
        return Last(
            self.kpa, noise, self.air, days, Rate(self.rate_kpa_day, self.rate_error, True), self.gauge, self.gauge_kpa
        )


@dataclass(frozen=True)
class Aim:
    """The band of a wheel, cold [kPa], `range_kpa` the other end of its range. Without a target `stop_kpa` is what it is stopped at, `missing` what would give one."""

    target_kpa: float | None = None
    floor_kpa: float | None = None
    ceiling_kpa: float | None = None
    floor_from: FloorFrom = "load"
    stop_kpa: float | None = None
    missing: Phrase | None = None
    range_kpa: float | None = None


@dataclass(frozen=True)
class Bare:
    """An axle without a target number: why, and what is known of where it may stand otherwise [kPa]."""

    missing: Phrase
    known_kpa: tuple[float | None, ...]
    sidewall_max_kpa: float | None


def aim_of_spare(band: Aim | None, required_kpa: float | None, sidewall_max_kpa: float | None) -> Aim:
    """What a spare is held against: its target in force, else what is required of it under its sidewall's maximum."""
    aim = band or Aim(required_kpa, None, sidewall_max_kpa)
    if aim.target_kpa is None:
        return Aim(None, None, aim.ceiling_kpa, missing=say("Its pressure is not known: enter it with the rig."))
    return aim


def aim_of_axle(band: Aim | None, bare: Bare | None, small: bool) -> Aim:
    """What the wheels of an axle are held against; without a target number, the stop and the ceiling that are known.

    `small`: a light trailer or a motorcycle.
    """
    aim = band or Aim()
    if bare is None:
        return aim
    ceiling = bare.sidewall_max_kpa if aim.ceiling_kpa is None else aim.ceiling_kpa
    stop = stop_without_target(bare.known_kpa, bare.sidewall_max_kpa, small)
    return Aim(aim.target_kpa, aim.floor_kpa, ceiling, aim.floor_from, stop, bare.missing, aim.range_kpa)


def aim_on_ground(road: Aim, number: Number) -> Aim:
    """What a wheel is held against while a ground plan is kept: the plan's number and floor, under the same ceiling."""
    return Aim(number.kpa, min(number.floor_kpa, number.kpa), road.ceiling_kpa, "ground")


@dataclass(frozen=True)
class WheelLine:
    """A wheel of a combination, by its code and name there; `own` is its code on its own vehicle `rig`.

    `heavy_or_dual` tires are for a tire service once they rolled low. `step_kpa`: in what steps its pressures are set.
    `on_ground`: what it is held against where an open ground plan was kept. `anew`: air was let out or put in since its last
    service beside any round, so its history starts anew.
    """

    code: str
    name: str
    own: str
    rig: int
    axle: int | None
    side: Side = 0
    dual: bool = False
    inner: bool = False
    heavy_or_dual: bool = False
    tire: int | None = None
    step_kpa: float = 1.0
    aim: Aim = field(default_factory=Aim)
    last: Left | None = None
    on_ground: Aim | None = None
    anew: bool = False

    @property
    def spare(self) -> bool:
        return self.axle is None
