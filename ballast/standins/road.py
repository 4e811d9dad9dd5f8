"""A simulated road: what the sensors of a rolling rig would send, with the faults of tires, brakes, cells and receivers."""

import datetime as dt
import random
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from ballast.core.gas import Air
from ballast.core.sensors import Message, Moving, Rolling, Said, roll
from ballast.server.sensors.road import Run, Tire

EVERY_S = 10
_MINUTE = dt.timedelta(minutes=1)
# What a sensor shows is in steps of so much, and off by so much [kPa, °C].
_STEP_KPA, _NOISE_KPA, _NOISE_C = 1.0, 0.4, 0.4
# Its scale ends here.
_HOTTEST_C = 140.0
_BEGINS_MIN = (12.0, 22.0)


@dataclass(frozen=True)
class _Stretch:
    """So many minutes at a speed [km/h]; by its end so much higher [m] and warmer [°C] than at the start of the drive."""

    minutes: float
    km_h: float
    up_m: float = 0.0
    warmer_c: float = 0.0
    sunny: bool = False


_SCENES = {
    "highway": (_Stretch(10, 60), _Stretch(50, 100, 0, 1), _Stretch(5, 40, 0, 1), _Stretch(10, 0, 0, 2, True)),
    "pass": (_Stretch(10, 70), _Stretch(35, 60, 1100, -6), _Stretch(15, 0, 1100, -6, True), _Stretch(30, 65, 200, -1)),
    "errands": tuple(
        s for _ in range(4) for s in (_Stretch(9, 45, 0, 1), _Stretch(8, 0, 0, 1, True), _Stretch(6, 60, 0, 2))
    ),
}


@dataclass(frozen=True)
class _Fault:
    """What goes wrong with a tire: air lost [kPa, or share of its target, a minute], heat of a brake [°C], or what its sensor does."""

    name: str
    loses_kpa_min: float = 0.0
    leaks_share_min: float = 0.0
    brake_c: float = 0.0
    silent: bool = False
    stale: bool = False


_FAULTS = {
    "leak": _Fault("A slow leak", leaks_share_min=0.004),
    "nail": _Fault("A nail", loses_kpa_min=24.0),
    "brake": _Fault("A dragging brake", brake_c=95.0),
    "dead": _Fault("A dead cell", silent=True),
    "stale": _Fault("A receiver that does not refresh", stale=True),
    "spare": _Fault("A spare fitted, which is not heard", silent=True),
}


class SimulatedRoad:
    scenes = {
        "highway": "An hour of highway",
        "pass": "Over a pass, with a rest on top",
        "errands": "Errands with stops",
    }
    faults = {key: f.name for key, f in _FAULTS.items()}

    def minutes(self, run: Run) -> float:
        return sum(s.minutes for s in _SCENES[run.scene])

    def messages(self, run: Run, after: int, until_min: float) -> list[Message]:
        """Worked out from its start each time: what was sent hangs on the run alone, never on when it was asked for."""
        until_min = min(until_min, self.minutes(run))
        count = int(until_min * 60 / EVERY_S)
        if count <= after:
            return []
        fault = _FAULTS[run.fault] if run.fault else _Fault("")
        begins = 0.0 if run.fault == "spare" else random.Random(f"{run.seed}:begins").uniform(*_BEGINS_MIN)
        tires = [Moving(t.cold_kpa, t.set_in, t.target_kpa, t.heavy, run.air.temperature_c) for t in run.tires]
        shown: dict[str, Said] = {}
        sent, rolled, stood = [], 0.0, 0.0
        for number in range(1, count + 1):
            at_min = number * EVERY_S / 60
            stretch, here = _where(run, at_min)
            going = stretch.km_h > 0
            rolled, stood = (rolled + EVERY_S / 60, 0.0) if going else (0.0, stood + EVERY_S / 3600)
            wheels = []
            for i, t in enumerate(run.tires):
                on = fault if t.wheel == run.wheel and at_min >= begins else _Fault("")
                lost, heat = on.loses_kpa_min + on.leaks_share_min * t.target_kpa, on.brake_c if going else 0.0
                through = Rolling(stretch.km_h, t.load_share, here, stretch.sunny and t.sunny, heat, lost)
                tires[i] = roll(tires[i], through, EVERY_S / 60)
                frozen = fault.stale and at_min >= begins and t.wheel in shown
                if on.silent:
                    continue
                said = replace(shown[t.wheel], fresh=False) if frozen else _said(run, number, t, tires[i], here)
                shown[t.wheel] = said
                wheels.append(said)
            if number > after:
                at = run.started_at + at_min * _MINUTE
                sent.append(Message(number, at, tuple(wheels), here, rolled, stood, stretch.km_h))
        return sent


def _said(run: Run, number: int, t: Tire, tire: Moving, here: Air) -> Said:
    if run.by_speed:
        # By wheel speed it learns only that one rolls smaller than it did.
        return Said(t.wheel, None, None, True, tire.cold_kpa < 0.75 * t.target_kpa)
    noise = random.Random(f"{run.seed}:{t.wheel}:{number}")
    reads = tire.reads(here) + noise.gauss(0, _NOISE_KPA)
    kpa = max(0.0, round(reads / _STEP_KPA) * _STEP_KPA)
    return Said(t.wheel, kpa, min(_HOTTEST_C, round(tire.tire_c + noise.gauss(0, _NOISE_C), 1)))


def _where(run: Run, at_min: float) -> tuple[_Stretch, Air]:
    """The stretch of a moment, and the air there."""
    ends = [0.0]
    stretches = _SCENES[run.scene]
    for s in stretches:
        ends.append(ends[-1] + s.minutes)
    i = next((i for i, (_, end) in enumerate(pairwise(ends)) if at_min <= end), len(stretches) - 1)
    up, warmer = _between(stretches, i, (at_min - ends[i]) / stretches[i].minutes)
    return stretches[i], Air(run.air.temperature_c + warmer, (run.air.elevation_m or 0.0) + up)


def _between(stretches: Sequence[_Stretch], i: int, share: float) -> tuple[float, float]:
    before = stretches[i - 1] if i else _Stretch(0, 0)
    now = stretches[i]
    return before.up_m + (now.up_m - before.up_m) * share, before.warmer_c + (now.warmer_c - before.warmer_c) * share
