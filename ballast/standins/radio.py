"""Simulated gauges and an inflator over a radio link, with the faults of real ones, and a bench to compare them on."""

import datetime as dt
import random
from dataclasses import dataclass
from typing import Literal

from ballast.server.gauges.radio import Device, Heard, RadioUnavailable


@dataclass(frozen=True)
class _Made:
    """How a simulated gauge errs: an offset, a bend that grows with pressure, a lag, noise and a step [kPa]."""

    name: str
    offset_kpa: float
    bend: float
    lag_kpa: float
    noise_kpa: float
    step_kpa: float
    inflates: bool = False
    # Where an inflator stalls, and what its hose loses as it comes off.
    stall_kpa: float = 0.0
    hose_kpa: float = 0.0


_GAUGES = {
    "radio-digital": _Made("Simulated digital gauge", 2.0, 4e-6, 0.0, 0.8, 0.6894757),
    "radio-dropped": _Made("Simulated gauge that was dropped", -22.0, 3e-5, 6.0, 3.0, 6.894757),
    "radio-inflator": _Made("Simulated inflator", 9.0, 0.0, 0.0, 2.0, 3.4473787, True, 850.0, 5.0),
}
BENCH = "bench"


class SimulatedRadio:
    """Shows what it is told presses there. The same pressure at the same moment always shows the same."""

    def devices(self) -> list[Device]:
        devices_here = [Device(key, g.name, g.inflates, False, True) for key, g in _GAUGES.items()]
        return [*devices_here, Device(BENCH, "Simulated bench", False, True, True)]

    def read(self, key: str, pressing_kpa: float, at: dt.datetime) -> Heard:
        return Heard(self._shows(_GAUGES[key], pressing_kpa, at, 0.0), True, "", at)

    def inflate(self, key: str, pressing_kpa: float, set_point_kpa: float, at: dt.datetime) -> Heard:
        made = _GAUGES[key]
        if not made.inflates:
            raise RadioUnavailable(f"{made.name} does not inflate.")
        if set_point_kpa > made.stall_kpa:
            reached = self._shows(made, made.stall_kpa, at, 0.0)
            return Heard(reached, False, "It stalls before the set-point.", at)
        # It stops where its own display says so; the hose takes its part as it comes off.
        true = set_point_kpa - made.offset_kpa - made.hose_kpa
        return Heard(self._shows(made, max(true, pressing_kpa), at, 0.0), True, "", at)

    def hold(self, key: str, set_kpa: float, way: Literal["up", "down"], at: dt.datetime) -> tuple[Heard, Heard]:
        made = _GAUGES[key]
        noise = random.Random(f"{BENCH}:{round(set_kpa, 1)}:{way}:{at.isoformat()}")
        held = set_kpa + noise.gauss(0, 1.0)
        shown = self._shows(made, held, at, made.lag_kpa / 2 * (1 if way == "down" else -1))
        return Heard(round(held, 1), True, "", at), Heard(shown, True, "", at)

    def _shows(self, made: _Made, true_kpa: float, at: dt.datetime, lag_kpa: float) -> float:
        noise = random.Random(f"{made.name}:{round(true_kpa, 1)}:{at.isoformat()}")
        raw = true_kpa + made.offset_kpa + made.bend * true_kpa**2 + lag_kpa + noise.gauss(0, made.noise_kpa)
        return max(0.0, round(raw / made.step_kpa) * made.step_kpa)
