"""The target here and now, and what the dawns to come do to it."""

import math
from dataclasses import dataclass
from typing import Literal

from ballast.core.air.readings import thumb_rule
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
    return max([carry(floor_kpa + loss_kpa, dawn, here) for dawn in dawns])


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


def limits(
    floor_kpa: float | None, ceiling_kpa: float | None, target_kpa: float, dawn: Ahead, here: Air
) -> tuple[float, float]:
    """The least and the most [kPa] that may be set here so that a dawn stays inside the band.

    What a sound tire may lose until then is asked for on top; nothing lost is held against the ceiling.
    """
    low = 0.0
    if floor_kpa is not None:
        low = look_ahead(floor_kpa, (dawn.air,), here, ordinary_loss(target_kpa, dawn.days))
    return low, math.inf if ceiling_kpa is None else carry(ceiling_kpa, dawn.air, here)


def within(wanted_kpa: float, need_kpa: float, most_kpa: float, step_kpa: float) -> float:
    """A pressure where it fits between two limits, else the practical step nearest to it that does, else the limit."""
    if need_kpa <= wanted_kpa <= most_kpa:
        return wanted_kpa
    if wanted_kpa > most_kpa:
        down = math.floor(most_kpa / step_kpa + 1e-9) * step_kpa
        return down if down >= need_kpa else most_kpa
    up = math.ceil(need_kpa / step_kpa - 1e-9) * step_kpa
    return up if up <= most_kpa else most_kpa


@dataclass(frozen=True)
class TargetHere:
    """The target here and now [kPa]. `raised` or `lowered` for a dawn, `capped` at the ceiling; `holds` is whether every
    dawn does.

    `hold_from_kpa`: a reading from here on up is left as it is, under the policy that sets and leaves. `out_to_kpa`: down to
    here nothing more is let out, as the coldest dawn before the next check brings it to the target. `dawn_kpa`: below here a
    dawn before the next check takes it under its floor, even if nothing is lost until then; never above `kpa`.
    """

    kpa: float
    raised: bool
    capped: bool
    holds: bool
    notes: tuple[Phrase, ...]
    working: tuple[Line, ...]
    hold_from_kpa: float | None = None
    lowered: bool = False
    out_to_kpa: float = 0.0
    dawn_kpa: float | None = None


def leaves_band(above_floor: bool | None, below_ceiling: bool | None) -> bool:
    """Whether a dawn is known to leave the band; what is not known does not."""
    return above_floor is False or below_ceiling is False


def set_in(policy: TemperaturePolicy, here: Air, morning: Air | None) -> Air:
    """In which air a target's own number is set: by policy 20 °C at this elevation, or this morning's air.

    Without a morning's the air here is taken for it.
    """
    if policy == "hold 20":
        return Air(REFERENCE_C, here.elevation_m, here.station_kpa)
    return here if morning is None else morning


def _brought_back(
    target: float, value: float, ceiling: float | None, here: Air, dawns: tuple[Ahead, ...], policy: TemperaturePolicy
) -> float:  # fmt: skip
    """Up to where the coldest dawn before the next check brings a tire back to its target [kPa]; a warm one changes nothing.

    Held at 20 °C the target falls with the dawn, so nothing is brought back.
    """
    if policy == "hold 20":
        return value
    most = max([value, *(carry(target, d.air, here) for d in dawns)])
    return most if ceiling is None else min(most, max(value, ceiling))


def _own(target: float, here: Air, morning: Air | None, policy: TemperaturePolicy) -> tuple[float, list[Line]]:
    """The target by its policy, before any dawn is asked."""
    lines = [Line(say("Target in force"), kpa(target, "up"))]
    before = set_in(policy, here, morning)
    if policy == "set and leave" or before == here:
        return target, lines
    value = carry(target, before, here)
    words = "set at the reference of {0}, a tire reads here at {1}"
    if policy == "morning":
        words = "set this morning at {0}, a tire reads here at {1}"
    lines.append(Line(say(words, celsius(before.temperature_c), celsius(here.temperature_c)), kpa(value)))
    return value, lines


@dataclass(frozen=True)
class _Limit:
    """One end of what may be set here, and the dawn that sets it; None: the band itself, here and now."""

    kpa: float
    dawn: Ahead | None


# A band, the airs around it and a policy: grouped they would be taken apart again at every call.
def target_here(  # noqa: PLR0913
    target_kpa: float,
    floor_kpa: float | None,
    ceiling_kpa: float | None,
    here: Air,
    morning: Air | None = None,
    dawns: tuple[Ahead, ...] = (),
    step_kpa: float = 1.0,
    policy: TemperaturePolicy = "morning",
) -> TargetHere:
    """The target in the air here and now, by temperature policy, moved where a dawn before the next check asks for it.

    *Morning*: the target's own number at the morning's air (without one, the air here is taken as the morning's).
    *Hold 20*: carried from 20 °C at this elevation. *Set and leave*: its own number, and a reading is held while it is a
    practical step or more above the least that every dawn needs. All: raised, to the next practical step, where a dawn
    would drop below the floor (ordinary loss until then included), lowered where one would rise above the ceiling, never
    outside the band here. Where no value holds every dawn, the load comes first, and the dawns that clash are named.
    """
    wanted, working = _own(target_kpa, here, morning, policy)
    need, most = _Limit(floor_kpa or 0.0, None), _Limit(math.inf if ceiling_kpa is None else ceiling_kpa, None)
    coldest: tuple[float, Ahead] | None = None
    for dawn in dawns:
        low, high = limits(floor_kpa, ceiling_kpa, target_kpa, dawn, here)
        if floor_kpa is not None and (coldest is None or low > coldest[0]):
            coldest = (low, dawn)
        if low > need.kpa:
            need = _Limit(low, dawn)
        if high < most.kpa:
            most = _Limit(high, dawn)
    if coldest is not None and floor_kpa is not None:
        working.append(_asks(floor_kpa, target_kpa, *coldest))
    holds = need.kpa <= most.kpa + 1e-9
    value = within(wanted, need.kpa, most.kpa, step_kpa) if holds else wanted
    if not holds and value < need.kpa:
        value = math.ceil(need.kpa / step_kpa - 1e-9) * step_kpa
    capped = ceiling_kpa is not None and value > ceiling_kpa
    if ceiling_kpa is not None and (capped or (most.dawn is None and value < wanted)):
        # At the ceiling itself, not a step under it.
        value, capped = ceiling_kpa, True
    raised, lowered = value > wanted, value < wanted and not capped
    notes = _moved(need, most, raised, lowered, capped, ceiling_kpa)
    if not holds:
        notes += _clash(need, most, value, here, dawns, ceiling_kpa)
    if value != wanted:
        working.append(Line(say("Target here and now"), kpa(value, "up")))
    hold_from = None
    if policy == "set and leave" and floor_kpa is not None and need.kpa + step_kpa < value:
        hold_from = need.kpa + step_kpa
    out_to = _brought_back(target_kpa, value, ceiling_kpa, here, dawns, policy)
    lowest = None
    if floor_kpa is not None and dawns:
        lowest = min(value, look_ahead(floor_kpa, tuple(d.air for d in dawns), here))
    return TargetHere(value, raised, capped, holds, tuple(notes), tuple(working), hold_from, lowered, out_to, lowest)


def _asks(floor: float, target: float, low: float, dawn: Ahead) -> Line:
    """What the most demanding dawn asks for here."""
    return Line(
        say(
            "to hold the floor of {0} at the dawn {1} days ahead, {2} and {3}, less {4} lost until then",
            kpa(floor, "up"), number(round(dawn.days, 1)), celsius(dawn.air.temperature_c), meters(dawn.air.elevation_m),
            kpa(ordinary_loss(target, dawn.days)),
        ),
        kpa(low, "up"),
    )  # fmt: skip


def _moved(
    need: _Limit, most: _Limit, raised: bool, lowered: bool, capped: bool, ceiling: float | None
) -> list[Phrase]:  # fmt: skip
    """Why the target here is not its own number."""
    notes: list[Phrase] = []
    if raised and need.dawn is not None:
        notes.append(say("Raised so that the dawn at {0} stays above the floor.", celsius(need.dawn.air.temperature_c)))
    elif raised:
        # Carried to colder air than the morning's, the number may fall below what the load needs.
        notes.append(say("Raised to the floor: it is the same number in any air."))
    if lowered and most.dawn is not None:
        notes.append(
            say("Lowered so that the dawn at {0} stays under the ceiling.", celsius(most.dawn.air.temperature_c))
        )
    if capped and ceiling is not None:
        notes.append(say("Held at the ceiling of {0}. Finish when it is colder.", kpa(ceiling, "down")))
    return notes


def _clash(
    need: _Limit, most: _Limit, value: float, here: Air, dawns: tuple[Ahead, ...], ceiling: float | None
) -> list[Phrase]:  # fmt: skip
    """Which dawns no pressure set here holds together."""
    notes: list[Phrase] = []
    if need.dawn is not None and most.dawn is None:
        notes.append(
            say(
                "Not even the ceiling holds the floor at {0}: set it again there, at dawn.",
                celsius(need.dawn.air.temperature_c),
            )
        )
    elif need.dawn is not None and most.dawn is not None:
        notes.append(
            say(
                "No pressure set here holds every dawn: {0} needs {1} here, {2} allows {3}.",
                celsius(need.dawn.air.temperature_c), kpa(need.kpa, "up"), celsius(most.dawn.air.temperature_c),
                kpa(most.kpa, "down"),
            )
        )  # fmt: skip
    later = max((carry(value, here, d.air) for d in dawns), default=0.0)
    if ceiling is not None and later > ceiling + 1e-9:
        notes.append(say("At dawn it would read {0}, above the ceiling: set it again there.", kpa(later, "up")))
    return notes


def until_check(dawns: tuple[Ahead, ...], check_days: float) -> tuple[Ahead, ...]:
    """The dawns before the next check: those are judged."""
    return tuple(d for d in dawns if d.days <= check_days)


@dataclass(frozen=True)
class Judged:
    """What the dawns before the next check make of a pressure set here. None: no dawn, floor or ceiling is known.

    `eaten` is the share of what lies over the floor here and now that the coldest eats; over 1, it drops below the floor.
    """

    coldest_kpa: float | None
    eaten: float | None
    above_floor: bool | None
    below_ceiling: bool | None
    words: Phrase
    working: tuple[Line, ...]


def judge(set_kpa: float, floor_kpa: float | None, here: Air, dawns: tuple[Dawn, ...]) -> Judged:
    """Dawns as `at_dawn` gives them, judged together."""
    if not dawns:
        return Judged(None, None, None, None, say("The coming dawn is not known."), ())
    coldest, mildest = min(dawns, key=lambda d: d.kpa), max(dawns, key=lambda d: d.kpa)
    above = None if coldest.above_floor is None else all(d.above_floor for d in dawns)
    below = None if coldest.below_ceiling is None else all(d.below_ceiling for d in dawns)
    at = (celsius(coldest.air.temperature_c), kpa(coldest.kpa))
    if above is False:
        words = say("At the coldest dawn, {0}, it reads {1}: below the floor.", *at)
    elif below is False:
        words = say("At the mildest dawn it reads {0}: above the ceiling.", kpa(mildest.kpa))
    elif above is None:
        words = say("At the coldest dawn, {0}, it reads {1}; the floor is not known.", *at)
    else:
        words = say("At the coldest dawn, {0}, it reads {1}: the floor holds.", *at)
    working = (
        Line(say("set here, it reads at the coldest dawn, losses until then taken off"), kpa(coldest.kpa)),
        thumb_rule(set_kpa, here.temperature_c - coldest.air.temperature_c),
    )
    eats = None if floor_kpa is None else eaten(set_kpa, coldest.kpa, floor_kpa)
    return Judged(coldest.kpa, eats, above, below, words, working)


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
