"""Tires as they really behave, for the demo's history: the gas law, ordinary loss, a leak, gauge noise."""

import random
from dataclasses import dataclass, field, replace

from ballast.core.gas import REFERENCE, Air, carry
from ballast.core.gauges import Gauge, shows
from ballast.core.lookback import LOSS_SPREAD_MONTH, USUAL_LOSS_MONTH

# How far a round's tires are off the air that is noted, one standard deviation [°C].
THERMOMETER_C = 0.6


@dataclass
class TireFleet:
    """True pressures of one rig's tires, kept as they would be at 20 °C and sea level [kPa].

    Each loses its own 1.5 ± 0.5 % a month; a round's tires are a little warmer or colder together than the air that is noted.
    """

    seed: int
    leak_kpa_a_day: dict[str, float] = field(default_factory=dict)
    # The week in which leaks begin.
    leaks_from: int = 0
    true_kpa: dict[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.random = random.Random(self.seed)
        self.loss_a_month: dict[str, float] = {}
        self.warmer_c = 0.0

    def loss(self, wheel: str) -> float:
        """What a tire loses a month, as its own seed has it, whatever was read before."""
        if wheel not in self.loss_a_month:
            own = random.Random(f"{self.seed}:{wheel}").gauss(USUAL_LOSS_MONTH, LOSS_SPREAD_MONTH)
            self.loss_a_month[wheel] = max(0.002, own)
        return self.loss_a_month[wheel]

    def _stands_in(self, air: Air) -> Air:
        return replace(air, temperature_c=air.temperature_c + self.warmer_c)

    def set(self, wheel: str, pressure_kpa: float, air: Air) -> None:
        self.true_kpa[wheel] = carry(pressure_kpa, self._stands_in(air), REFERENCE)

    def at_most(self, wheel: str, pressure_kpa: float, air: Air) -> None:
        """A tire has lost what was above a pressure."""
        self.true_kpa[wheel] = min(self.true_kpa[wheel], carry(pressure_kpa, self._stands_in(air), REFERENCE))

    def swap(self, one: str, other: str) -> None:
        """Two tires change places."""
        self.true_kpa[one], self.true_kpa[other] = self.true_kpa[other], self.true_kpa[one]

    def pass_days(self, days: float, week: int) -> None:
        self.warmer_c = self.random.gauss(0, THERMOMETER_C)
        for wheel, kpa in self.true_kpa.items():
            lost = kpa * self.loss(wheel) * days / 30
            leak = self.leak_kpa_a_day.get(wheel, 0.0) if week >= self.leaks_from else 0.0
            self.true_kpa[wheel] = kpa - lost - leak * days

    def reading(self, wheel: str, air: Air, gauge: Gauge, noise_kpa: float) -> float:
        """What the gauge shows [kPa], its error, its noise and its resolution included."""
        true = carry(self.true_kpa[wheel], REFERENCE, self._stands_in(air))
        raw = shows(gauge, true) + self.random.gauss(0, noise_kpa)
        return round(raw / gauge.resolution_kpa) * gauge.resolution_kpa
