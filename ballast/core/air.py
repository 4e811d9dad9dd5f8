"""The air around a standing tire: is it cold, what will it read at dawn, what must it read now.

Floors, targets and ceilings come in as numbers; where they come from is not asked here.
"""

import math
from dataclasses import dataclass
from typing import Literal

from ballast.core.gas import Air, carry
from ballast.core.refusal import Refusal
from ballast.core.working import Line, Phrase, celsius, kpa, meters, number, say

Driven = Literal["highway", "town"]

COLD_AFTER_H = {"light": 3.0, "heavy": 5.0}
# Tire over outside air just after driving [°C], and how it fades [minutes].
RISE_C = {"highway": 30.0, "town": 15.0}
FADE_MIN = {"light": 50.0, "heavy": 90.0}
ESTIMATE_SHARE = 0.40
# Ordinary loss of a sound tire, a share of its pressure a month.
ORDINARY_LOSS_MONTH = 0.03


@dataclass(frozen=True)
class Standing:
    """Whether a rig has stood long enough to be cold, and its tires' temperature [°C] if not."""

    cold: bool
    tire_c: float
    wait_h: float


def standing(hours: float, heavy: bool, driven: Driven, outside_c: float) -> Standing:
    """Cold after 3 h light, 5 h heavy. Younger: T = T_out + ΔT e^(−t/τ), an estimate.

    Raises Refusal for negative hours.
    """
    if hours < 0:
        raise Refusal("A rig cannot have stood for less than no time. Enter hours, 0 or more.", "standing_h")
    weight = "heavy" if heavy else "light"
    wait = COLD_AFTER_H[weight] - hours
    if wait <= 0:
        return Standing(True, outside_c, 0.0)
    return Standing(False, outside_c + RISE_C[driven] * math.exp(-hours * 60 / FADE_MIN[weight]), wait)


def cold_equivalent(reading_kpa: float, stood: Standing, here: Air) -> tuple[float, float]:
    """A true pressure as it would be at outside temperature [kPa], and what the estimate adds to its uncertainty."""
    if stood.cold:
        return reading_kpa, 0.0
    warm = Air(stood.tire_c, here.elevation_m, here.station_kpa)
    cold = carry(reading_kpa, warm, here)
    return cold, ESTIMATE_SHARE * abs(reading_kpa - cold)


def ordinary_loss(pressure_kpa: float, days: float) -> float:
    """What a sound tire may lose [kPa] in some days: up to 3 % a month."""
    return pressure_kpa * ORDINARY_LOSS_MONTH * days / 30


def look_ahead(floor_kpa: float, dawns: tuple[Air, ...], here: Air, loss_kpa: float = 0.0) -> float:
    """The least pressure here [kPa] that still holds the floor at every dawn.

    The floor is the same number in any air: floor + loss at the dawn, brought back to here.
    """
    return max(carry(floor_kpa + loss_kpa, dawn, here) for dawn in dawns)


@dataclass(frozen=True)
class Dawn:
    """What a pressure set here reads at a dawn [kPa], and whether that stays inside the band."""

    air: Air
    kpa: float
    above_floor: bool | None
    below_ceiling: bool | None


def at_dawn(
    set_kpa: float, here: Air, dawn: Air, floor_kpa: float | None, ceiling_kpa: float | None, loss_kpa: float = 0.0
) -> Dawn:
    """A pressure set here, read at a dawn, less what is lost until then."""
    reading = carry(set_kpa, here, dawn) - loss_kpa
    return Dawn(
        dawn,
        reading,
        None if floor_kpa is None else reading >= floor_kpa - 1e-9,
        None if ceiling_kpa is None else reading <= ceiling_kpa + 1e-9,
    )


@dataclass(frozen=True)
class TargetHere:
    """The target here and now [kPa]. `raised` for a dawn, `capped` at the ceiling; `holds` is whether the dawn does."""

    kpa: float
    raised: bool
    capped: bool
    holds: bool
    notes: tuple[Phrase, ...]
    working: tuple[Line, ...]


def target_here(
    target_kpa: float,
    floor_kpa: float | None,
    ceiling_kpa: float | None,
    here: Air,
    morning: Air | None = None,
    dawn: Air | None = None,
    loss_kpa: float = 0.0,
    step_kpa: float = 1.0,
) -> TargetHere:
    """The target's own number at the morning's air, carried to the air here and now.

    Raised, to the next practical step, where the coming dawn would drop below the floor; never
    above the ceiling. Without a morning the air here is taken as the morning's.
    """
    notes: list[Phrase] = []
    working = [Line(say("Target in force"), kpa(target_kpa, "up"))]
    value = target_kpa
    if morning is not None and morning != here:
        value = carry(target_kpa, morning, here)
        working.append(
            Line(
                say(
                    "set this morning at {0}, a tire reads here at {1}",
                    celsius(morning.temperature_c),
                    celsius(here.temperature_c),
                ),
                kpa(value),
            )
        )
    raised = capped = False
    holds = True
    if floor_kpa is not None and dawn is not None:
        need = look_ahead(floor_kpa, (dawn,), here, loss_kpa)
        working.append(
            Line(
                say(
                    "to hold the floor of {0} at dawn, {1} and {2}, less {3} lost until then",
                    kpa(floor_kpa, "up"), celsius(dawn.temperature_c), meters(dawn.elevation_m), kpa(loss_kpa),
                ),
                kpa(need, "up"),
            )
        )  # fmt: skip
        if need > value:
            raised = True
            value = math.ceil(need / step_kpa - 1e-9) * step_kpa
            notes.append(say("Raised so that the dawn at {0} stays above the floor.", celsius(dawn.temperature_c)))
        if ceiling_kpa is not None and need > ceiling_kpa:
            holds = False
            notes.append(
                say(
                    "Not even the ceiling holds the floor at {0}: set it again there, at dawn.",
                    celsius(dawn.temperature_c),
                )
            )
    if ceiling_kpa is not None and value > ceiling_kpa:
        value, capped = ceiling_kpa, True
        notes.append(say("Held at the ceiling of {0}. Finish when it is colder.", kpa(ceiling_kpa, "down")))
    if ceiling_kpa is not None and dawn is not None:
        later = carry(value, here, dawn)
        if later > ceiling_kpa + 1e-9:
            holds = False
            notes.append(say("At dawn it would read {0}, above the ceiling: set it again there.", kpa(later, "up")))
    if raised or capped:
        working.append(Line(say("Target here and now"), kpa(value, "up")))
    return TargetHere(value, raised, capped, holds, tuple(notes), tuple(working))


def thumb_rule(pressure_kpa: float, degrees_c: float) -> Line:
    """The change [kPa] that the usual thumb rule gives: 1 psi per 10 °F below about 60 psi, 2 above. To stand beside the law."""
    per_ten_f = 1 if pressure_kpa < 413.7 else 2
    change = per_ten_f * 6.894757293168361 * degrees_c * 1.8 / 10
    return Line(say("thumb rule beside it: {0} psi per 10 °F", number(per_ten_f)), kpa(change))
