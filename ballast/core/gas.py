"""The air in a tire and the air around it."""

from dataclasses import dataclass
from functools import cached_property, lru_cache

from ballast.core.refusal import Refusal
from ballast.core.units import both

SEA_LEVEL_KPA = 101.325
ELEVATION_M = (-500.0, 9000.0)
OUTSIDE_C = (-60.0, 60.0)
TIRE_C = (-60.0, 150.0)
PRESSURE_KPA = (0.0, 1400.0)


@dataclass(frozen=True)
class Air:
    """Temperature [°C], elevation [m] and, where it was measured, station pressure [kPa absolute]."""

    temperature_c: float
    elevation_m: float
    station_kpa: float | None = None

    # Pressures are carried from and to the same air again and again.
    @cached_property
    def absolute_kpa(self) -> float:
        return station(self.station_kpa, self.elevation_m) if self.station_kpa else atmosphere(self.elevation_m)

    @cached_property
    def kelvin(self) -> float:
        """The temperature of a tire in it [K]. Raises Refusal outside −60 to 150 °C."""
        low, high = TIRE_C
        if not low <= self.temperature_c <= high:
            raise Refusal(
                f"{both('temperature', self.temperature_c)} is outside {both('temperature', low)} to "
                f"{both('temperature', high)}.",
                "temperature_c",
            )
        return self.temperature_c + 273.15


REFERENCE = Air(20.0, 0.0)


@lru_cache(maxsize=4096)
def atmosphere(elevation_m: float) -> float:
    """Absolute pressure [kPa] of the standard atmosphere at an elevation [m].

    p = 101.325 (1 − 2.25577e-5 h)^5.25588, ICAO standard atmosphere (ISO 2533), −500 to 9,000 m.
    Raises Refusal outside.

    >>> round(atmosphere(1310), 3)
    86.546
    """
    low, high = ELEVATION_M
    if not low <= elevation_m <= high:
        raise Refusal(
            f"{both('length', elevation_m)} is outside {both('length', low)} to {both('length', high)}.",
            "elevation_m",
        )
    standard: float = SEA_LEVEL_KPA * (1 - 2.25577e-5 * elevation_m) ** 5.25588
    return standard


def station(measured_kpa: float, elevation_m: float) -> float:
    """A measured station pressure [kPa absolute], checked against the elevation.

    Raises Refusal when it is more than 6 % off the standard one: it was probably reduced to sea level.
    """
    standard = atmosphere(elevation_m)
    if abs(measured_kpa - standard) > 0.06 * standard:
        raise Refusal(
            f"{measured_kpa:.1f} kPa is more than 6 % off the {standard:.1f} kPa usual at that elevation. "
            "It was probably reduced to sea level: enter the station pressure, or leave it out.",
            "station_kpa",
        )
    return measured_kpa


def carry(pressure_kpa: float, before: Air, after: Air) -> float:
    """Gauge pressure [kPa] of the same air in the same volume in other surroundings.

    (p2 + p_atm2)/(T2 + 273.15) = (p1 + p_atm1)/(T1 + 273.15): Gay-Lussac's law on absolute
    pressures. Tire temperatures −60 to 150 °C; raises Refusal outside. Below zero is kept as zero:
    a gauge shows nothing there.

    >>> round(carry(620, Air(18, 410), Air(-9, 2650)), 2)
    576.77
    """
    then = before.kelvin
    carried = (pressure_kpa + before.absolute_kpa) * (after.kelvin / then) - after.absolute_kpa
    return carried if carried > 0.0 else 0.0
