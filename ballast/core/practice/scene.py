"""What a situation is played on: a made-up rig with what stands on its wheels, and what is in the drawer and aboard."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import pairwise

from ballast.core.gas import Air, carry
from ballast.core.sensors import Kind
from ballast.core.tables import STEPS, StepName, standard_pressure, steps_up
from ballast.core.units import PSI_KPA

RESERVE = 0.08
_EXPONENT = 0.7
FRONT = ("1L", "1R")
FOUR = ("1L", "1R", "2L", "2R")
SPARE = "S1"
# The gauge that is there where an exercise is not about gauges: compared, and right.
GAUGE = "G1"


@dataclass(frozen=True)
class Made:
    """A made-up tire: the most it carries single and dual [kg], at its sidewall's pressure [kPa]; `marking` as its sidewall reads."""

    marking: str
    single_kg: float
    dual_kg: float
    max_kpa: float

    def needs(self, load_kg: float, dual: bool = False, reserve: float = RESERVE) -> float:
        """The pressure in whole psi that carries a load with a reserve [kPa]; up, never down."""
        return steps_up(self.bare(load_kg * (1 + reserve), dual), STEPS["1 psi"])

    def bare(self, load_kg: float, dual: bool = False) -> float:
        return standard_pressure(load_kg, self.dual_kg if dual else self.single_kg, self.max_kpa, _EXPONENT)

    def carries(self, kpa: float, dual: bool = False) -> float:
        """What it carries at a pressure [kg], by the same curve."""
        share: float = (kpa / self.max_kpa) ** _EXPONENT
        return (self.dual_kg if dual else self.single_kg) * share

    def table(self) -> list[tuple[float, float, float]]:
        """Its sheet: pressure [kPa] up to its most, and what it carries there single and dual [kg]."""
        steps = [self.max_kpa - 25 * n for n in range(int((self.max_kpa - 150) // 25), -1, -1)]
        return [(p, self.carries(p), self.carries(p, dual=True)) for p in steps]


TIRES = (
    Made("225/75R16C 120/117Q", 1400, 1285, 550), Made("235/85R16C 126/123Q", 1700, 1550, 655),
    Made("265/70R19.5 142/139M", 2650, 2430, 760), Made("295/80R22.5 148/145L", 3150, 2900, 830),
)  # fmt: skip


@dataclass(frozen=True)
class AxleScene:
    """An axle: its tire; what its ends were weighed with, or its whole [kg]; what its placard asks for [kPa]. None: nothing is known."""

    tire: Made
    ends_kg: tuple[float, float] | None = None
    total_kg: float | None = None
    placard_kpa: float | None = None
    dual: bool = False


@dataclass(frozen=True)
class Pump:
    """An inflator: what it reaches [kPa], what it draws and what its socket gives [A] (None: clamped to the battery)."""

    max_kpa: float
    draws_a: float | None = None
    socket_a: float | None = None


@dataclass(frozen=True)
class Shown:
    """What a receiver showed a while ago, by wheel [kPa], and what it had done before; not `fresh`: it only shows it again."""

    minutes_ago: float
    kpa: Mapping[str, float]
    rolled_min: float | None = None
    stood_h: float | None = None
    fresh: bool = True


@dataclass(frozen=True)
class Scene:
    """A rig and what is true of it.

    `stands`: what each wheel holds now, as a gauge that is right shows it [kPa]; `over_c`: how much warmer its tires are than the air
    outside, off the road [°C]; `pads`: what a pad under it would show [kg];
    `gauges`: how far each reads over [kPa], of which `compared` are known; `earlier`: set so [kPa] in that air [°C] two weeks
    ago, and read by somebody this morning; `marks`: of the chalk, on a front axle at what it stands at; `let_out`: on the sand;
    `sensors`: what sort it has, and what those `shown`.
    """

    kind: str
    axles: tuple[AxleScene, ...]
    stands: Mapping[str, float]
    outside_c: float = 15.0
    dawn_c: float | None = None
    spare_kpa: float | None = None
    over_c: float = 0.0
    pads: Mapping[str, float] = field(default_factory=dict)
    gauges: Mapping[str, float] = field(default_factory=lambda: {GAUGE: 0.0})
    compared: frozenset[str] = frozenset((GAUGE,))
    pumps: Mapping[str, Pump] = field(default_factory=dict)
    earlier: tuple[float, float] | None = None
    marks: tuple[str, str, str] | None = None
    let_out: bool = False
    sensors: Kind | None = None
    shown: tuple[Shown, ...] = ()
    # In which steps targets are set there.
    step: StepName = "1 psi"

    def shows(self, gauge: str, wheel: str, left_kpa: float | None = None, cooled: bool = False) -> float:
        """What a gauge shows at a wheel [kPa]: of what it stands at, or was left at since; `cooled`: a night after that.

        Raises KeyError for one that is not there.
        """
        true = self.stands[wheel] if left_kpa is None else left_kpa
        if cooled:
            true = carry(true, Air(self.outside_c + self.over_c, 0), Air(self.outside_c, 0))
        return true + self.gauges[gauge]


def by_placard(
    wanted: float, stands: Mapping[str, float], *, heavy: bool = False, spare_kpa: float | None = None
) -> Scene:
    """Four wheels whose placard asks for the same everywhere [kPa], on a tire that has room above it."""
    tire = next(t for t in TIRES[2 * heavy :] if t.max_kpa >= 1.05 * max(wanted, spare_kpa or 0.0))
    axles = (AxleScene(tire, placard_kpa=wanted), AxleScene(tire, placard_kpa=wanted))
    return Scene("straight_truck" if heavy else "van", axles, stands, spare_kpa=spare_kpa)


def weighed(tire: Made, front_kg: float, front_kpa: float) -> Scene:
    """Two axles weighed at each end: the heavier end of the front given [kg], the rear at what it needs."""
    rear = round(0.8 * front_kg / 10) * 10.0
    axles = (AxleScene(tire, (front_kg, front_kg - 20)), AxleScene(tire, (rear - 20, rear)))
    behind = tire.needs(rear)
    return Scene("van", axles, dict(zip(FOUR, (front_kpa, front_kpa, behind, behind), strict=True)))


def apart(*kpa: float, by_psi: float = 3.75) -> bool:
    """Whether pressures can be told apart with a gauge, each from each."""
    return all(b - a > by_psi * PSI_KPA for a, b in pairwise(sorted(kpa)))
