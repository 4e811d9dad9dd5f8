"""A tire that is not cold: what it would read, how to top it up, and what its rise says. Never a reason to let air out."""

from dataclasses import dataclass
from typing import Literal

from ballast.core.air.cold import ESTIMATE_SHARE, Standing, cold_equivalent
from ballast.core.gas import Air, carry
from ballast.core.refusal import Refusal
from ballast.core.units import PSI_KPA, both
from ballast.core.working import Line, Phrase, celsius, kpa, say

# A tire that has run long enough stands this far above today's air [°C], a light one and a heavy one; so much more is high,
# beyond that it is to be stopped for.
HOT_OVER_C = {"light": (10.0, 30.0), "heavy": (15.0, 40.0)}
HOT_HIGH_C = 15.0
# Readings of one gauge, one after the other, by a person who does not know better [kPa].
READING_KPA = PSI_KPA
LET_NOTHING_OUT = "Let nothing out of a warm tire: read it again cold."


@dataclass(frozen=True)
class TopUp:
    """One way to top up a warm tire: its cold equivalent, what to fill it to while warm, ± uncertainty [kPa]."""

    way: Literal["temperature", "time", "shortfall"]
    cold_kpa: float
    fill_to_kpa: float
    add_kpa: float
    uncertainty_kpa: float
    words: Phrase
    working: tuple[Line, ...]


def _words(cold: float, fill: float, add: float, uncertainty: float, wanted: float, full: bool) -> Phrase:
    if full:
        return say("Warm, it stands at the ceiling or above: no air now. Wait until it is cold, and read it again.")
    if add <= 0:
        over = "It is at its target or over" if cold >= wanted else "It needs nothing"
        return say(f"{over}, by this way: {{0}} cold, ± {{1}}. {LET_NOTHING_OUT}", kpa(cold), kpa(uncertainty, "up"))
    return say(
        "Add {0}, to {1} warm: an estimate, ± {2}. Read it again cold.", kpa(add), kpa(fill), kpa(uncertainty, "up")
    )


def _of(  # noqa: PLR0913, the parts of one answer
    way: Literal["temperature", "time", "shortfall"],
    reading: float,
    cold: float,
    fill: float,
    uncertainty: float,
    wanted: float,
    working: list[Line],
    ceiling: float | None,
) -> TopUp:
    """A way, never an advice to let air out, never to fill above what tire and wheel allow."""
    if ceiling is not None and wanted > ceiling:
        raise Refusal(
            f"{both('pressure', wanted)} is above the ceiling of {both('pressure', ceiling)}. Enter the cold target.",
            "target_kpa",
        )
    if ceiling is not None and fill > ceiling:
        working.append(Line(say("not above the ceiling, warm either: finish when it is cold"), kpa(ceiling, "down")))
        fill = ceiling
    add = max(0.0, fill - reading)
    full = ceiling is not None and reading >= ceiling
    return TopUp(
        way, cold, max(fill, reading), add, uncertainty, _words(cold, fill, add, uncertainty, wanted, full), tuple(working)
    )  # fmt: skip


def by_temperature(
    reading_kpa: float, tire_c: float, here: Air, target_kpa: float, ceiling_kpa: float | None = None
) -> TopUp:
    """By the tire's own measured temperature: the gas law, ± 40 % of the correction at least.

    Raises Refusal outside −60 to 150 °C, and for a tire colder than the air.
    """
    if tire_c < here.temperature_c - 1.0:
        raise Refusal(
            f"{both('temperature', tire_c)} is colder than the air's {both('temperature', here.temperature_c)}: "
            "that is no warm tire. Check both.",
            "tire_c",
        )
    warm = Air(tire_c, here.elevation_m, here.station_kpa)
    cold, fill = carry(reading_kpa, warm, here), carry(target_kpa, here, warm)
    lines = [
        Line(say("read at {0}, the same air at {1} reads", celsius(tire_c), celsius(here.temperature_c)), kpa(cold)),
        Line(say("the target of {0}, brought to {1}", kpa(target_kpa), celsius(tire_c)), kpa(fill)),
    ]
    uncertainty = ESTIMATE_SHARE * abs(reading_kpa - cold)
    return _of("temperature", reading_kpa, cold, fill, uncertainty, target_kpa, lines, ceiling_kpa)


def by_time(
    reading_kpa: float, stood: Standing, here: Air, target_kpa: float, ceiling_kpa: float | None = None
) -> TopUp:
    """By the time parked: the tire's temperature is itself an estimate, ± 40 % of the correction."""
    cold, uncertainty = cold_equivalent(reading_kpa, stood, here)
    warm = Air(stood.tire_c, here.elevation_m, here.station_kpa)
    fill = carry(target_kpa, here, warm)
    lines = [
        Line(say("by the time parked, the tire is at about"), celsius(stood.tire_c)),
        Line(say("the same air at {0} reads", celsius(here.temperature_c)), kpa(cold)),
        Line(say("the target of {0}, brought to {1}", kpa(target_kpa), celsius(stood.tire_c)), kpa(fill)),
    ]
    return _of("time", reading_kpa, cold, fill, uncertainty, target_kpa, lines, ceiling_kpa)


def by_shortfall(
    reading_kpa: float, cold_reading_kpa: float, here: Air, target_kpa: float, ceiling_kpa: float | None = None
) -> TopUp:
    """By the shortfall known from this morning's cold reading: no temperature is asked for.

    Absolute pressures of the same air stay in proportion, so fill to
    (target + p_atm)(warm + p_atm)/(cold + p_atm) − p_atm; both readings' uncertainty goes in.
    Raises Refusal where the tire reads less warm than cold.
    """
    if reading_kpa < cold_reading_kpa:
        raise Refusal(
            "It reads less warm than it did cold: it has lost air, or the two were mixed up. Check both.", "cold_kpa"
        )
    air = here.absolute_kpa
    rise = (reading_kpa + air) / (cold_reading_kpa + air)
    fill = (target_kpa + air) * rise - air
    shortfall = target_kpa - cold_reading_kpa
    lines = [
        Line(say("short by, cold"), kpa(shortfall)),
        Line(say("as much warmer as it reads now, that is"), kpa(fill - reading_kpa)),
    ]
    uncertainty = READING_KPA * (1 + rise**2) ** 0.5
    return _of("shortfall", reading_kpa, cold_reading_kpa, fill, uncertainty, target_kpa, lines, ceiling_kpa)


@dataclass(frozen=True)
class HotRise:
    """What a tire should read hot [kPa], from `low_kpa` to `high_kpa`; `verdict` where a hot reading is given.

    `cold_kpa`: of a reading below that, what it comes to as if cold at the least rise, to be judged as a round judges.
    """

    low_kpa: float
    high_kpa: float
    # "run low": as if cold so low that it may have rolled flat, which the answer of a round says.
    verdict: Literal["", "as it should", "high", "stop", "low", "run low"]
    words: Phrase
    working: tuple[Line, ...]
    cold_kpa: float | None = None


def hot_rise(
    set_kpa: float,
    set_in: Air,
    now: Air,
    hot_kpa: float | None = None,
    heavy: bool = False,
    own_kpa: float | None = None,
) -> HotRise:
    """The gas law for a tire 10 to 30 °C above today's air (heavy: 15 to 40), from the air in which it is set cold.

    `own_kpa`: what it read cold itself, in that air; a rise beyond the window from there is told too.
    """
    least, most = HOT_OVER_C["heavy" if heavy else "light"]

    def at(cold: float, over: float) -> float:
        return carry(cold, set_in, Air(now.temperature_c + over, now.elevation_m, now.station_kpa))

    low, high, stop = at(set_kpa, least), at(set_kpa, most), at(set_kpa, most + HOT_HIGH_C)
    working = (
        Line(say("set cold at {0}, {1}", kpa(set_kpa), celsius(set_in.temperature_c)), None),
        Line(say("hot at {0}", celsius(now.temperature_c + least)), kpa(low)),
        Line(say("hot at {0}", celsius(now.temperature_c + most)), kpa(high)),
        Line(say("thumb rule beside it: 4 psi over cold, right at about 35 psi"), kpa(set_kpa + 4 * PSI_KPA)),
    )
    if hot_kpa is None:
        return HotRise(low, high, "", say("Hot it should read {0} to {1}.", kpa(low), kpa(high)), working)
    if hot_kpa > stop:
        words = say(
            "Far more than {0}: overloaded, or set high. Stop, let it cool, check the load. Let nothing out.", kpa(high)
        )
        return HotRise(low, high, "stop", words, working)
    if own_kpa is not None and hot_kpa > at(own_kpa, most):
        words = say("It rose more than it should from its own {0} cold: it started low, or is overloaded. Let nothing out; "
                    "check it cold, and the load.", kpa(own_kpa))  # fmt: skip
        return HotRise(low, high, "high", words, working)
    if hot_kpa > high:
        words = say("High, more than {0}: look at it again at the next stop. Let nothing out.", kpa(high))
        return HotRise(low, high, "high", words, working)
    if hot_kpa < low:
        warm = Air(now.temperature_c + least, now.elevation_m, now.station_kpa)
        cold = carry(hot_kpa, warm, now)
        words = say(
            "Less than {0}: low until shown otherwise, or not hot yet. As if cold it is about {1}.", kpa(low), kpa(cold)
        )
        return HotRise(low, high, "low", words, working, cold)
    return HotRise(low, high, "as it should", say("Between {0} and {1}: as it should.", kpa(low), kpa(high)), working)
