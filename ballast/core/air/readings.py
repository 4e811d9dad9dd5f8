"""Cold readings by temperature, and the thumb rules beside the law."""

from dataclasses import dataclass

from ballast.core.gas import Air, carry
from ballast.core.units import PSI_KPA
from ballast.core.working import Line, kpa, number, say

# Between these thumb rules, 1 psi and 2 psi per 10 °F, lies about this pressure [kPa].
THUMB_TURNS_KPA = 60 * PSI_KPA
TEMPERATURES_C = tuple(float(t) for t in range(-20, 45, 5))


@dataclass(frozen=True)
class Reading:
    """What the same air reads [kPa] at a temperature, and whether that still carries the load."""

    temperature_c: float
    kpa: float
    above_floor: bool | None
    below_ceiling: bool | None


def readings(
    set_kpa: float,
    set_in: Air,
    floor_kpa: float | None,
    ceiling_kpa: float | None,
    temperatures_c: tuple[float, ...] = TEMPERATURES_C,
    elevation_m: float | None = None,
) -> tuple[Reading, ...]:
    """Cold readings [kPa] of a tire that was set in some air, by temperature, at `elevation_m` (where it was set)."""
    read = []
    for c in temperatures_c:
        there = Air(c, set_in.elevation_m if elevation_m is None else elevation_m)
        value = carry(set_kpa, set_in, there)
        read.append(
            Reading(
                c,
                value,
                None if floor_kpa is None else value >= floor_kpa - 1e-9,
                None if ceiling_kpa is None else value <= ceiling_kpa + 1e-9,
            )
        )
    return tuple(read)


def _thumb_psi(pressure_kpa: float) -> int:
    return 1 if pressure_kpa < THUMB_TURNS_KPA else 2


def thumb_rule(pressure_kpa: float, degrees_c: float) -> Line:
    """The change [kPa] that the usual thumb rule gives: 1 psi per 10 °F below about 60 psi, 2 above. To stand beside the law."""
    per_ten_f = _thumb_psi(pressure_kpa)
    change = per_ten_f * PSI_KPA * degrees_c * 1.8 / 10
    return Line(say("thumb rule beside it: {0} psi per 10 °F", number(per_ten_f)), kpa(change))


@dataclass(frozen=True)
class Parting:
    """Law and thumb rule at a temperature [kPa], and how far the thumb rule is off."""

    temperature_c: float
    law_kpa: float
    thumb_kpa: float
    off_kpa: float


def parts_most(parts: tuple[Parting, ...]) -> Parting:
    """Where the thumb rule is off the most."""
    return max(parts, key=lambda p: abs(p.off_kpa))


def parting(
    set_kpa: float, set_in: Air, temperatures_c: tuple[float, ...] = TEMPERATURES_C
) -> tuple[Parting, ...]:  # fmt: skip
    """Where the thumb rule for a pressure parts from the law, by temperature."""
    per_c = _thumb_psi(set_kpa) * PSI_KPA * 1.8 / 10
    partings = []
    for c in temperatures_c:
        law = carry(set_kpa, set_in, Air(c, set_in.elevation_m))
        thumb = set_kpa + per_c * (c - set_in.temperature_c)
        partings.append(Parting(c, law, thumb, thumb - law))
    return tuple(partings)
