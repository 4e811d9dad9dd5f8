"""This morning: what every tire reads before anyone kneels, and how good that has been."""

import datetime as dt
import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from ballast.core.air import ordinary_loss
from ballast.core.gas import Air
from ballast.core.lookback.evidence import (
    HAND_KPA,
    MONTH,
    THERMOMETER,
    Evidence,
    Floats,
    Told,
)
from ballast.core.working import Phrase, day, kpa, say


@dataclass(frozen=True)
class Rate:
    """Loss of a tire [kPa a day at 20 °C, negative when falling] with its standard error. `measured`: not only the usual."""

    kpa_day: float
    error_kpa_day: float
    measured: bool


def rate(evidence: Evidence) -> Rate:
    """What a tire loses a day: its own ordinary loss as learned, and of a named leak what it loses beyond, since it began."""
    loss, error = evidence.loss_kpa_day, evidence.loss_error_kpa_day
    if evidence.named and evidence.rate_kpa_day is not None:
        return Rate(loss + min(0.0, evidence.rate_kpa_day), max(evidence.error_kpa_day or 0.0, error), True)
    return Rate(loss, error, evidence.since_day is not None)


def noise_kpa(pressure_kpa: float, absolute_kpa: float, told: Told | None = None) -> float:
    """How far the next reading of a tire scatters around what is foretold [kPa, one standard deviation], losses and gauges
    apart: twice the hand, and the thermometers of both rounds, as its rig has shown them; of none, as is usual."""
    hand, thermometer = (HAND_KPA, THERMOMETER) if told is None else (told.hand_kpa, told.thermometer)
    return math.sqrt(2.0) * math.hypot(hand, thermometer * (pressure_kpa + absolute_kpa))


def noise_all(pressure_kpa: Floats, absolute_kpa: Floats) -> Floats:
    """The usual `noise_kpa` for arrays of one length."""
    usual: Floats = math.sqrt(2.0) * np.hypot(HAND_KPA, THERMOMETER * (pressure_kpa + absolute_kpa))
    return usual


def loss_words(rate: Rate, pressure_kpa: float, since: dt.date | None) -> Phrase:
    """What a tire loses, in words; `since`: the day on which a named leak began."""
    month, error = kpa(-rate.kpa_day * MONTH), kpa(2 * rate.error_kpa_day * MONTH)
    if since is not None:
        on = day(since)
        return say(f"Leaks: loses {{0}} a month, give or take {{1}}, since about {on}.", month, error)
    if not rate.measured:
        return say("Too few rounds yet to say what it loses; the usual {0} a month is taken.", month)
    if -rate.kpa_day > ordinary_loss(pressure_kpa, 1):
        return say("Loses {0} a month, give or take {1}: more than a sound tire.", month, error)
    return say("Loses {0} a month, give or take {1}: usual.", kpa(max(0.0, month.value)), error)


def leak_words(wheel: str, kpa_day: float) -> Phrase:
    """A named leak beside other matters of its rig; `kpa_day`: what is lost a day [kPa], below zero."""
    return say(f"{wheel} leaks: {{0}} a month. Have it found and mended", kpa(-kpa_day * MONTH))


@dataclass(frozen=True)
class Predicted:
    """Cold pressures [kPa] and their half-widths at 95 % [kPa], one for each tire."""

    kpa: Floats
    uncertainty_kpa: Floats


def carried(
    last_kpa: Floats,
    last_c: Floats,
    last_absolute_kpa: Floats,
    rate_kpa_day: Floats,
    days: Floats,
    now_c: Floats,
    now_absolute_kpa: Floats,
) -> Floats:
    """Pressures [kPa] carried into other air by the gas law, less what is lost by then; never below zero. As for `predict`."""
    warm = (now_c + 273.15) / (last_c + 273.15)
    loss = (now_c + 273.15) / 293.15
    pressure = (last_kpa + last_absolute_kpa) * warm + rate_kpa_day * days * loss - now_absolute_kpa
    return np.maximum(pressure, 0.0)


# Columns of one length, one each.
def predict(  # noqa: PLR0913
    last_kpa: Floats,
    last_c: Floats,
    last_absolute_kpa: Floats,
    rate_kpa_day: Floats,
    days: Floats,
    now_c: Floats,
    now_absolute_kpa: Floats,
    noise_kpa: Floats,
    rate_error_kpa_day: Floats,
    gauges_kpa: Floats | float = 0.0,
) -> Predicted:
    """Readings here and now from each tire's last service: gas law, loss since, today's air. Arrays of one length.

    `noise_kpa` as the function of that name; `gauges_kpa` is the half-width at 95 % of last and next gauge together, nil
    where they are the same one: its constant error cancels. They and the rate's error add in squares; a gauge shows nothing
    below zero.
    """
    pressure = carried(last_kpa, last_c, last_absolute_kpa, rate_kpa_day, days, now_c, now_absolute_kpa)
    loss = (now_c + 273.15) / 293.15
    one = noise_kpa**2 + (rate_error_kpa_day * days * loss) ** 2 + (gauges_kpa / 2) ** 2
    return Predicted(pressure, 2 * np.sqrt(one))


@dataclass(frozen=True)
class Record:
    """How good predictions have been: how many were measured, the share inside the range, the usual miss and lean [kPa]."""

    measured: int
    inside: float | None
    typical_kpa: float | None
    lean_kpa: float | None


@dataclass(frozen=True)
class Misses:
    """Predictions that a round measured: by how much each was missed [kPa, positive where more was found], and which lay inside
    their range; arrays of one length."""

    kpa: Floats
    inside: Any

    @property
    def record(self) -> Record:
        if not len(self.kpa):
            return Record(0, None, None, None)
        return Record(len(self.kpa), float(self.inside.mean()), _median(np.abs(self.kpa)), _median(self.kpa))


def _median(of: Floats) -> float:
    """As `np.median`, which sorts out both middle ones at once and takes six times as long."""
    half = len(of) // 2
    found = np.partition(of, half)
    return float(found[half] if len(of) % 2 else (found[:half].max() + found[half]) / 2)


def misses(predicted: Predicted, found_kpa: Floats) -> Misses:
    """Predictions against what the next round read."""
    missed = found_kpa - predicted.kpa
    return Misses(missed, np.abs(missed) <= predicted.uncertainty_kpa)


def record(predicted: Predicted, found_kpa: Floats) -> Record:
    """How good predictions were, by what the next round read."""
    return misses(predicted, found_kpa).record


def days_until(pressure_kpa: float, limit_kpa: float, rate: Rate) -> tuple[float | None, float | None]:
    """Days until a limit: as it falls, and by the near end of the range; None: it is not falling. Zero: it is there."""
    if pressure_kpa <= limit_kpa:
        return 0.0, 0.0
    likely, near = (
        None if slope >= 0 else (limit_kpa - pressure_kpa) / slope
        for slope in (rate.kpa_day, rate.kpa_day - 2 * rate.error_kpa_day)
    )
    return likely, near


@dataclass(frozen=True)
class Last:
    """A tire as its last service left it: true cold pressure [kPa], how far the next scatters around it (`noise_kpa`), in
    what air, so many days ago; with which gauge, and that one's half-width at 95 % [kPa]."""

    kpa: float
    noise_kpa: float
    air: Air
    days: float
    rate: Rate
    gauge: int = 0
    gauge_kpa: float = 0.0


def asks(wanting: Any, unknown: Any, off_road: Any, dawn: Any) -> Any:
    """Whether a rig asks for somebody in the morning: a tire that wants air or of which nothing is known, an open ground plan, or a
    dawn ahead that takes a tire to its floor. Of many rigs at once, arrays of one length; of one, plain numbers.

    >>> asks(0, 0, False, False), asks(0, 1, False, False), asks(0, 0, False, True)
    (False, True, True)
    """
    return (wanting > 0) | (unknown > 0) | off_road | dawn


def today(last: Last, here: Air, gauge: int | None = None, gauge_kpa: float = 0.0) -> tuple[float, float]:
    """What one tire reads here and now, and the half-width at 95 % [kPa]: `predict` for one.

    By another gauge than its last service both gauges' half-widths count; without one named, the same is meant.
    """
    both = 0.0 if gauge is None or gauge == last.gauge else math.hypot(last.gauge_kpa, gauge_kpa)
    predicted = predict(
        *(
            np.array([x])
            for x in (
                last.kpa, last.air.temperature_c, last.air.absolute_kpa, last.rate.kpa_day, last.days, here.temperature_c,
                here.absolute_kpa, last.noise_kpa, last.rate.error_kpa_day, both,
            )
        )
    )  # fmt: skip
    return float(predicted.kpa[0]), float(predicted.uncertainty_kpa[0])
