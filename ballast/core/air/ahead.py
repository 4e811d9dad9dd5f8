"""The target here and now, and what the dawns to come do to it."""

import math
from dataclasses import dataclass
from typing import Literal

from ballast.core.gas import Air, carry
from ballast.core.working import Line, Phrase, celsius, kpa, meters, number, say

# Ordinary loss of a sound tire, a share of its pressure a month.
ORDINARY_LOSS_MONTH = 0.03

TemperaturePolicy = Literal["morning", "hold 20", "set and leave"]
POLICIES: tuple[TemperaturePolicy, ...] = ("morning", "hold 20", "set and leave")
NAMES: dict[TemperaturePolicy, str] = {
    "morning": "Reset at the morning's own temperature",
    "hold 20": "Hold a 20 °C reference",
    "set and leave": "Set it, and leave it while the floor holds",
}
REFERENCE_C = 20.0


def ordinary_loss(pressure_kpa: float, days: float) -> float:
    """What a sound tire may lose [kPa] in some days: up to 3 % a month."""
    return pressure_kpa * ORDINARY_LOSS_MONTH * days / 30


def look_ahead(floor_kpa: float, dawns: tuple[Air, ...], here: Air, loss_kpa: float = 0.0) -> float:
    """The least pressure here [kPa] that still holds the floor at every dawn.

    The floor is the same number in any air: floor + loss at the dawn, brought back to here.
    """
    return max(carry(floor_kpa + loss_kpa, dawn, here) for dawn in dawns)


@dataclass(frozen=True)
class Ahead:
    """A dawn to come, `days` from now."""

    air: Air
    days: float


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
    """A pressure set here, read at a dawn: less what may be lost until then against the floor, nothing lost against the
    ceiling."""
    full = carry(set_kpa, here, dawn)
    reading = full - loss_kpa
    return Dawn(
        dawn,
        reading,
        None if floor_kpa is None else reading >= floor_kpa - 1e-9,
        None if ceiling_kpa is None else full <= ceiling_kpa + 1e-9,
    )


@dataclass(frozen=True)
class TargetHere:
    """The target here and now [kPa]. `raised` for a dawn, `capped` at the ceiling; `holds` is whether every dawn does.

    `hold_from_kpa`: a reading from here on up is left as it is, under the policy that sets and leaves.
    """

    kpa: float
    raised: bool
    capped: bool
    holds: bool
    notes: tuple[Phrase, ...]
    working: tuple[Line, ...]
    hold_from_kpa: float | None = None


def _own(target: float, here: Air, morning: Air | None, policy: TemperaturePolicy) -> tuple[float, list[Line]]:
    """The target by its policy, before any dawn is asked."""
    lines = [Line(say("Target in force"), kpa(target, "up"))]
    before = Air(REFERENCE_C, here.elevation_m, here.station_kpa) if policy == "hold 20" else morning
    if policy == "set and leave" or before is None or before == here:
        return target, lines
    value = carry(target, before, here)
    words = "set at the reference of {0}, a tire reads here at {1}"
    if policy == "morning":
        words = "set this morning at {0}, a tire reads here at {1}"
    lines.append(Line(say(words, celsius(before.temperature_c), celsius(here.temperature_c)), kpa(value)))
    return value, lines


def target_here(
    target_kpa: float,
    floor_kpa: float | None,
    ceiling_kpa: float | None,
    here: Air,
    morning: Air | None = None,
    dawns: tuple[Ahead, ...] = (),
    step_kpa: float = 1.0,
    policy: TemperaturePolicy = "morning",
) -> TargetHere:
    """The target in the air here and now, by temperature policy, raised where a dawn before the next check asks for it.

    *Morning*: the target's own number at the morning's air (without one, the air here is taken as the morning's).
    *Hold 20*: carried from 20 °C at this elevation. *Set and leave*: its own number, and a reading is held while it is a
    practical step or more above the least that every dawn needs. All: raised, to the next practical step, where a dawn
    would drop below the floor, ordinary loss until then included; never above the ceiling here.
    """
    notes: list[Phrase] = []
    value, working = _own(target_kpa, here, morning, policy)
    raised = capped = False
    holds = True
    need = floor_kpa
    if floor_kpa is not None and dawns:
        asks = [
            (look_ahead(floor_kpa, (d.air,), here, ordinary_loss(target_kpa, d.days)), i) for i, d in enumerate(dawns)
        ]
        most, at = max(asks)
        need = max(floor_kpa, most)
        worst = dawns[at]
        working.append(
            Line(
                say(
                    "to hold the floor of {0} at the dawn {1} days ahead, {2} and {3}, less {4} lost until then",
                    kpa(floor_kpa, "up"), number(round(worst.days, 1)), celsius(worst.air.temperature_c),
                    meters(worst.air.elevation_m), kpa(ordinary_loss(target_kpa, worst.days)),
                ),
                kpa(most, "up"),
            )
        )  # fmt: skip
        if most > value:
            raised = True
            value = math.ceil(most / step_kpa - 1e-9) * step_kpa
            notes.append(say("Raised so that the dawn at {0} stays above the floor.", celsius(worst.air.temperature_c)))
        if ceiling_kpa is not None and most > ceiling_kpa:
            holds = False
            notes.append(
                say(
                    "Not even the ceiling holds the floor at {0}: set it again there, at dawn.",
                    celsius(worst.air.temperature_c),
                )
            )
    if floor_kpa is not None and value < floor_kpa:
        # Carried to colder air than the morning's, the number may fall below what the load needs: the floor does not.
        raised = True
        value = math.ceil(floor_kpa / step_kpa - 1e-9) * step_kpa
        notes.append(say("Raised to the floor: it is the same number in any air."))
    if ceiling_kpa is not None and value > ceiling_kpa:
        value, capped = ceiling_kpa, True
        notes.append(say("Held at the ceiling of {0}. Finish when it is colder.", kpa(ceiling_kpa, "down")))
    over = [d for d in dawns if ceiling_kpa is not None and carry(value, here, d.air) > ceiling_kpa + 1e-9]
    if over and ceiling_kpa is not None:
        holds = False
        worst = max(over, key=lambda d: carry(value, here, d.air))
        later = carry(value, here, worst.air)
        notes.append(say("At dawn it would read {0}, above the ceiling: set it again there.", kpa(later, "up")))
    if raised or capped:
        working.append(Line(say("Target here and now"), kpa(value, "up")))
    hold_from = None
    if policy == "set and leave" and need is not None and need + step_kpa < value:
        hold_from = need + step_kpa
    return TargetHere(value, raised, capped, holds, tuple(notes), tuple(working), hold_from)


def eaten(here_kpa: float, dawn_kpa: float, floor_kpa: float) -> float | None:
    """The share of what lies over the floor here and now that a dawn eats; over 1, it drops below the floor.

    None where nothing lies over the floor.
    """
    over = here_kpa - floor_kpa
    return None if over <= 1e-9 else max(0.0, (here_kpa - dawn_kpa) / over)


@dataclass(frozen=True)
class Setting:
    """What a gauge must show at a tire's own temperature and place [kPa], so that the target stands elsewhere."""

    kpa: float
    wanted_kpa: float
    capped: bool
    words: Phrase
    working: tuple[Line, ...]


def set_elsewhere(target_kpa: float, stands_in: Air, at: Air, ceiling_kpa: float | None) -> Setting:
    """A target that shall stand in one air, set in another: a heated shop, a hot afternoon, another elevation.

    `at` has the tire's own temperature. Above the ceiling there: the ceiling, and finish outside.
    """
    wanted = carry(target_kpa, stands_in, at)
    working = (
        Line(say("the target, at {0} and {1}", celsius(stands_in.temperature_c), meters(stands_in.elevation_m)), kpa(target_kpa)),
        Line(say("the same air at {0} and {1} reads", celsius(at.temperature_c), meters(at.elevation_m)), kpa(wanted)),
    )  # fmt: skip
    if ceiling_kpa is not None and wanted > ceiling_kpa:
        words = say(
            "Set {0}, the ceiling, here, and finish outside when the tire is as cold as the air.",
            kpa(ceiling_kpa, "down"),
        )
        return Setting(ceiling_kpa, wanted, True, words, working)
    return Setting(wanted, wanted, False, say("The gauge must show {0} there.", kpa(wanted)), working)
