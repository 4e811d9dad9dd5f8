"""How a rolling tire warms: a model for stand-ins and practice only, never for a judgement of a real tire."""

import math
from dataclasses import dataclass, replace

from ballast.core.gas import Air, carry

# Over the air at 100 km/h, full load and its target [°C]; how fast it gets there and back [min], rolling and parked.
OVER_C = {"light": 28.0, "heavy": 36.0}
ROLLING_MIN = 25.0
PARKED_MIN = {"light": 50.0, "heavy": 90.0}
SUN_C = 8.0


@dataclass(frozen=True)
class Rolling:
    """What a tire goes through for a while: speed [km/h], its load as a share of rated, the air, sun on it while parked.

    `brake_c`: what a dragging brake adds [°C]; `loses_kpa_min`: what a hole lets out, as cold pressure [kPa a minute].
    """

    km_h: float
    load_share: float
    air: Air
    sunny: bool = False
    brake_c: float = 0.0
    loses_kpa_min: float = 0.0


@dataclass(frozen=True)
class Moving:
    """A tire on the road: what it holds, cold in the air it was set in [kPa], its target, class, and temperature [°C]."""

    cold_kpa: float
    set_in: Air
    target_kpa: float
    heavy: bool
    tire_c: float

    def reads(self, here: Air) -> float:
        """What is in it, as warm as it is [kPa]."""
        return carry(self.cold_kpa, self.set_in, Air(self.tire_c, here.elevation_m, here.station_kpa))


def roll(tire: Moving, through: Rolling, minutes: float, step_min: float = 0.25) -> Moving:
    """A tire after some minutes: dT/dt = (T_amb + ΔT_eq − T)/τ, ΔT_eq = c (v/100 km/h)(load/rated)(target/p).

    A tire under its target runs hotter. About 35 → 39 psi light, 85 → 95 psi heavy after an hour at 100 km/h, full load.

    >>> car = Moving(241.32, Air(20, 0), 241.32, False, 20.0)
    >>> round(roll(car, Rolling(100, 1, Air(20, 0)), 60).tire_c, 1)
    43.2
    """
    kind = "heavy" if tire.heavy else "light"
    left = minutes
    while left > 1e-9:
        step = min(step_min, left)
        left -= step
        if through.km_h > 0:
            soft = tire.target_kpa / max(tire.reads(through.air), 1.0)
            over, slow = OVER_C[kind] * through.km_h / 100 * through.load_share * soft + through.brake_c, ROLLING_MIN
        else:
            over, slow = SUN_C if through.sunny else 0.0, PARKED_MIN[kind]
        toward = through.air.temperature_c + over
        warmer = toward + (tire.tire_c - toward) * math.exp(-step / slow)
        held = max(0.0, tire.cold_kpa - through.loses_kpa_min * step)
        tire = replace(tire, tire_c=min(warmer, 149.0), cold_kpa=held)
    return tire
