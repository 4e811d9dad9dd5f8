"""This morning: what every tire reads before anyone kneels, and how good that has been."""

import datetime as dt
import math
from dataclasses import dataclass, replace

import numpy as np

from ballast.core.air import ordinary_loss
from ballast.core.gas import SEA_LEVEL_KPA, Air
from ballast.core.lookback.evidence import (
    HAND_KPA,
    LOSS_SPREAD_MONTH,
    MONTH,
    THERMOMETER,
    USUAL_LOSS_MONTH,
    Evidence,
    Floats,
    Seen,
)
from ballast.core.lookback.series import leak_rate, normalized, segments
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, kpa, say

# Before a tire has shown its own loss, it may be anything up to the ordinary one [share a month, one standard deviation].
UNKNOWN_SPREAD_MONTH = USUAL_LOSS_MONTH / 2


@dataclass(frozen=True)
class Rate:
    """Loss of a tire [kPa a day at 20 °C, negative when falling] with its standard error. `measured`: not only the usual."""

    kpa_day: float
    error_kpa_day: float
    measured: bool


def rate(seen: tuple[Seen, ...], evidence: Evidence | None) -> Rate:
    """What a tire loses a day, from its own sealed readings (oldest first, one at least) and what speaks for a leak.

    A named leak counts as measured, since it began. Any other slope is weighed against the usual loss of a sound tire by
    their errors, so that the noise of a few readings makes no leak.
    """
    pressure = normalized(seen[-1].found_kpa, seen[-1].air)
    usual = -USUAL_LOSS_MONTH / MONTH * pressure
    if evidence is not None and evidence.named and evidence.rate_kpa_day is not None:
        own = evidence.error_kpa_day or 0.0
        return Rate(usual + evidence.rate_kpa_day, max(own, LOSS_SPREAD_MONTH / MONTH * pressure), True)
    spread = UNKNOWN_SPREAD_MONTH / MONTH * pressure
    try:
        slope = leak_rate(segments(seen))
    except Refusal:
        return Rate(usual, spread, False)
    # The scatter of three readings may be nil by chance: hands and thermometers are never better than they are.
    least = math.hypot(HAND_KPA, THERMOMETER * (pressure + SEA_LEVEL_KPA)) / slope.reach
    weight, prior = 1 / max(slope.standard_error, least) ** 2, 1 / spread**2
    return Rate((usual * prior + slope.kpa_per_day * weight) / (prior + weight), (prior + weight) ** -0.5, True)


def loss_words(rate: Rate, pressure_kpa: float, since: dt.date | None) -> Phrase:
    """What a tire loses, in words; `since`: the day on which a named leak began."""
    month, error = kpa(-rate.kpa_day * MONTH), kpa(2 * rate.error_kpa_day * MONTH)
    if since is not None:
        day = f"{since:%d %b %Y}".lstrip("0")
        return say(f"Leaks: loses {{0}} a month, give or take {{1}}, since about {day}.", month, error)
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


def predict(
    last_kpa: Floats,
    last_c: Floats,
    last_absolute_kpa: Floats,
    rate_kpa_day: Floats,
    days: Floats,
    now_c: Floats,
    now_absolute_kpa: Floats,
    gauge_kpa: Floats,
    rate_error_kpa_day: Floats,
) -> Predicted:
    """Pressures here and now from each tire's last service: gas law, loss since, today's air. Arrays of one length.

    `gauge_kpa` is the last reading's half-width at 95 %. Its half, the hand, both thermometers and the rate's error add in
    squares; a gauge shows nothing below zero.
    """
    last = last_kpa + last_absolute_kpa
    warm = (now_c + 273.15) / (last_c + 273.15)
    loss = (now_c + 273.15) / 293.15
    pressure = last * warm + rate_kpa_day * days * loss - now_absolute_kpa
    one = (
        ((gauge_kpa / 2) ** 2 + HAND_KPA**2) * warm**2
        + (rate_error_kpa_day * days * loss) ** 2
        + 2 * (THERMOMETER * (pressure + now_absolute_kpa)) ** 2
    )
    return Predicted(np.maximum(pressure, 0.0), 2 * np.sqrt(one))


@dataclass(frozen=True)
class Record:
    """How good predictions have been: how many were measured, the share inside the range, the usual miss and lean [kPa]."""

    measured: int
    inside: float | None
    typical_kpa: float | None
    lean_kpa: float | None


def record(predicted: Predicted, found_kpa: Floats, gauge_kpa: Floats) -> Record:
    """Predictions against what the next round read; the reading's own gauge and hand count in its favor."""
    if not len(found_kpa):
        return Record(0, None, None, None)
    missed = found_kpa - predicted.kpa
    allowed = np.sqrt(predicted.uncertainty_kpa**2 + gauge_kpa**2 + (2 * HAND_KPA) ** 2)
    return Record(
        len(missed), float((np.abs(missed) <= allowed).mean()), float(np.median(np.abs(missed))), float(np.median(missed))
    )  # fmt: skip


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
    """A tire as its last service left it: true cold pressure [kPa] with its half-width, in what air, so many days ago."""

    kpa: float
    uncertainty_kpa: float
    air: Air
    days: float
    rate: Rate


def today(last: Last, here: Air) -> tuple[float, float]:
    """What one tire reads here and now, and the half-width at 95 % [kPa]: `predict` for one."""
    found = predict(
        *(
            np.array([x])
            for x in (
                last.kpa, last.air.temperature_c, last.air.absolute_kpa, last.rate.kpa_day, last.days, here.temperature_c,
                here.absolute_kpa, last.uncertainty_kpa, last.rate.error_kpa_day,
            )
        )
    )  # fmt: skip
    return float(found.kpa[0]), float(found.uncertainty_kpa[0])


def by_weather(last: Last, here: Air) -> float:
    """What the weather and the usual loss alone make of a last service here and now [kPa], whatever the tire leaks."""
    usual = -USUAL_LOSS_MONTH / MONTH * normalized(last.kpa, last.air)
    return today(replace(last, rate=Rate(usual, 0.0, False)), here)[0]
