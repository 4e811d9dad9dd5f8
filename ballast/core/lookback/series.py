"""Readings over time: brought to the same air, and what they lose."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from ballast.core.gas import REFERENCE, Air, carry
from ballast.core.lookback.evidence import Floats
from ballast.core.refusal import Refusal


def normalized(pressure_kpa: float, air: Air) -> float:
    """A true cold pressure [kPa] as it would read at 20 °C and sea level, so that months compare."""
    return carry(pressure_kpa, air, REFERENCE)


def normalized_all(pressure_kpa: Floats, absolute_kpa: Floats, temperature_c: Floats) -> Floats:
    """`normalized` for arrays of one length; what is not a number stays so."""
    warm = (REFERENCE.temperature_c + 273.15) / (temperature_c + 273.15)
    return np.maximum((pressure_kpa + absolute_kpa) * warm - REFERENCE.absolute_kpa, 0.0)


_T = TypeVar("_T")


def thinned(of: Sequence[_T], most: int) -> list[_T]:
    """At most so many, evenly through them, the first and the last among them.

    >>> thinned([0, 1, 2, 3, 4, 5, 6], 4), thinned([0, 1], 4)
    ([0, 2, 4, 6], [0, 1])
    """
    if len(of) <= most:
        return list(of)
    return [of[round(i * (len(of) - 1) / (most - 1))] for i in range(most)]


@dataclass(frozen=True)
class Leak:
    """Pressure per day [kPa], negative when falling, with its standard error; `reach` is √Σ(x − x̄)² of its days."""

    kpa_per_day: float
    standard_error: float
    reach: float = 0.0


def leak_rate(segments: tuple[tuple[tuple[float, float], ...], ...]) -> Leak:
    """Common slope of (day, normalized kPa) segments between top-ups, each with its own start.

    Least squares; standard error from the residuals with n − segments − 1 degrees of freedom.
    Raises Refusal for fewer readings than that needs.

    >>> leak_rate((((0, 100.0), (10, 99.0), (20, 98.0)),)).kpa_per_day
    -0.1
    """
    sxx = sxy = 0.0
    centered: list[tuple[float, float]] = []
    for segment in segments:
        mean_x = sum(x for x, _ in segment) / len(segment)
        mean_y = sum(y for _, y in segment) / len(segment)
        for x, y in segment:
            sxx += (x - mean_x) ** 2
            sxy += (x - mean_x) * (y - mean_y)
            centered.append((x - mean_x, y - mean_y))
    freedom = len(centered) - len(segments) - 1
    if freedom < 1 or sxx == 0:
        raise Refusal("Too few readings between top-ups for a leak rate: three in one stretch at least.", "segments")
    slope = sxy / sxx
    residual = sum((y - slope * x) ** 2 for x, y in centered)
    return Leak(slope, math.sqrt(residual / freedom / sxx), math.sqrt(sxx))
