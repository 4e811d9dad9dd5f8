"""A simulated scale: a public platform and a set of wheel pads, with the faults that real ones have."""

import datetime as dt
import random

from ballast.server.weighing.scale import ScaleReading, ScaleSetup

_SETUPS = (
    ScaleSetup("platform", "Simulated platform scale", ("passes", "axles", "left"), 20.0, True),
    ScaleSetup("pads", "Simulated wheel pads", ("pads", "axles"), 10.0, True),
)
# A platform that was not set to zero before the first axle.
TARE_DRIFT_KG = 140.0
# An approach that is not level lifts part of the axle off, or presses it down.
NOT_LEVEL = 0.04
HALF_OFF = 0.55


class SimulatedScale:
    """Shows what it is told stands there, in its steps. The same load always shows the same."""

    def setups(self) -> list[ScaleSetup]:
        return list(_SETUPS)

    def read(self, key: str, standing_kg: tuple[float, ...], fault: str, at: dt.datetime) -> ScaleReading:
        setup = {s.key: s for s in _SETUPS}[key]
        noise = random.Random(f"{key}:{[round(kg, 1) for kg in standing_kg]}")
        loads = list(standing_kg)
        steady, remark = True, ""
        if fault == "half off" and loads:
            loads[-1] *= HALF_OFF
            steady, remark = False, "The last wheels do not stand wholly on the plate."
        total = sum(loads)
        if fault == "tare drift":
            total += TARE_DRIFT_KG
        if fault == "not level":
            total *= 1 + NOT_LEVEL
            steady, remark = False, "The rig leans: the reading creeps."
        shown = total + noise.gauss(0, setup.resolution_kg / 6)
        return ScaleReading(round(shown / setup.resolution_kg) * setup.resolution_kg, steady, remark, at)
