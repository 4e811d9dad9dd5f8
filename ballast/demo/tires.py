"""Tires as they really behave, for the demo's history: the gas law, ordinary loss, a leak, gauge noise."""

import random
from dataclasses import dataclass, field

from ballast.core.gas import REFERENCE, Air, carry
from ballast.core.gauges import Gauge, shows


@dataclass
class TireFleet:
    """True pressures of one rig's tires, kept as they would be at 20 °C and sea level [kPa]."""

    seed: int
    loss_a_month: dict[str, float]
    leak_kpa_a_day: dict[str, float] = field(default_factory=dict)
    # The week in which leaks begin.
    leaks_from: int = 0
    true_kpa: dict[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.random = random.Random(self.seed)

    def set(self, wheel: str, pressure_kpa: float, air: Air) -> None:
        self.true_kpa[wheel] = carry(pressure_kpa, air, REFERENCE)

    def at_most(self, wheel: str, pressure_kpa: float, air: Air) -> None:
        """A tire has lost what was above a pressure."""
        self.true_kpa[wheel] = min(self.true_kpa[wheel], carry(pressure_kpa, air, REFERENCE))

    def swap(self, one: str, other: str) -> None:
        """Two tires change places."""
        self.true_kpa[one], self.true_kpa[other] = self.true_kpa[other], self.true_kpa[one]

    def pass_days(self, days: float, week: int) -> None:
        for wheel, kpa in self.true_kpa.items():
            lost = kpa * self.loss_a_month.get(wheel, 0.014) * days / 30
            leak = self.leak_kpa_a_day.get(wheel, 0.0) if week >= self.leaks_from else 0.0
            self.true_kpa[wheel] = kpa - lost - leak * days

    def reading(self, wheel: str, air: Air, gauge: Gauge, noise_kpa: float) -> float:
        """What the gauge shows [kPa], its error, its noise and its resolution included."""
        true = carry(self.true_kpa[wheel], REFERENCE, air)
        raw = shows(gauge, true) + self.random.gauss(0, noise_kpa)
        return round(raw / gauge.resolution_kpa) * gauge.resolution_kpa
