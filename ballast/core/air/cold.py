"""Is it cold yet: how long a rig has stood, and how warm its tires still are."""

import math
from dataclasses import dataclass
from typing import Literal

from ballast.core.gas import Air, carry
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, celsius, number, say

Driven = Literal["highway", "town"]

COLD_AFTER_H = {"light": 3.0, "heavy": 5.0}
# What a workspace may call cold instead [h]: half an hour, an hour, or overnight.
COLD_CHOICES_H = (0.5, 1.0, 8.0)
# Tire over outside air just after driving [°C], and how it fades [minutes].
RISE_C = {"highway": 30.0, "town": 15.0}
FADE_MIN = {"light": 50.0, "heavy": 90.0}
ESTIMATE_SHARE = 0.40


@dataclass(frozen=True)
class Standing:
    """Whether a rig has stood long enough to be cold, and its tires' temperature [°C] if not."""

    cold: bool
    tire_c: float
    wait_h: float


def standing(
    hours: float, heavy: bool, driven: Driven, outside_c: float, cold_after_h: float | None = None
) -> Standing:
    """Cold after 3 h light, 5 h heavy, or `cold_after_h`. Younger: T = T_out + ΔT e^(−t/τ), an estimate.

    Raises Refusal for negative hours.
    """
    if hours < 0:
        raise Refusal("A rig cannot have stood for less than no time. Enter hours, 0 or more.", "standing_h")
    weight = "heavy" if heavy else "light"
    wait = (COLD_AFTER_H[weight] if cold_after_h is None else cold_after_h) - hours
    if wait <= 0:
        return Standing(True, outside_c, 0.0)
    return Standing(False, outside_c + RISE_C[driven] * math.exp(-hours * 60 / FADE_MIN[weight]), wait)


# Low sun on a parked tire: about so much warmer than the air [°C], give or take as for any estimate.
SUN_C = 8.0


def in_sun(stood: Standing, outside_c: float) -> Standing:
    """A wheel with the sun on it, however long it stood: an estimate, so that it is never let out."""
    return Standing(False, max(stood.tire_c, outside_c + SUN_C), stood.wait_h)


def in_shop(shop_c: float) -> Standing:
    """A rig that stood in a heated shop: its tires are as warm as that, an estimate, and no waiting there makes them cold."""
    return Standing(False, shop_c, 0.0)


def cold_equivalent(reading_kpa: float, stood: Standing, here: Air) -> tuple[float, float]:
    """A true pressure as it would be at outside temperature [kPa], and what the estimate adds to its uncertainty."""
    if stood.cold:
        return reading_kpa, 0.0
    warm = Air(stood.tire_c, here.elevation_m, here.station_kpa)
    cold = carry(reading_kpa, warm, here)
    return cold, ESTIMATE_SHARE * abs(reading_kpa - cold)


def estimate_kpa(reading_kpa: float, stood: Standing, here: Air) -> float:
    """What the warmth of a tire adds to the uncertainty of a reading [kPa], of which only the cold equivalent is given."""
    if stood.cold:
        return 0.0
    warm = Air(stood.tire_c, here.elevation_m, here.station_kpa)
    return ESTIMATE_SHARE * abs(carry(reading_kpa, here, warm) - reading_kpa)


def fill_to(target_kpa: float, ceiling_kpa: float | None, stood: Standing, here: Air) -> float:
    """What must stand in a tire now [kPa] so that its cold target is there once it is as cold as the air.

    The target carried to the tire's own temperature, never above the ceiling.

    >>> round(fill_to(690, None, Standing(False, 31, 1), Air(5, 410)), 2)
    763.52
    """
    warm = Air(stood.tire_c, here.elevation_m, here.station_kpa)
    wanted = target_kpa if stood.cold else carry(target_kpa, here, warm)
    return wanted if ceiling_kpa is None else min(wanted, ceiling_kpa)


def stands_words(stood: Standing) -> Phrase:
    """How a rig stands, beside the hours, in a few words."""
    if stood.cold:
        return say("cold")
    if stood.wait_h <= 0:
        return say("as warm as the shop: answers are estimates")
    return say("still warm: answers are estimates for {0} h more", number(math.ceil(stood.wait_h * 10 - 1e-9) / 10))


def waits(stood: Standing, outside_c: float) -> Phrase:
    """Is it cold yet, in words, with the time to wait."""
    if stood.cold:
        return say("Cold: it has stood long enough. Read it now.")
    return say(
        "Not cold yet: wait {0} h more. The tires are at about {1} in air of {2}, an estimate.",
        number(math.ceil(stood.wait_h * 10 - 1e-9) / 10),
        celsius(stood.tire_c),
        celsius(outside_c),
    )
