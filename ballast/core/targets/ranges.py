"""A target kept as a range: another end beside its number, inside the same bounds, and how it felt."""

from dataclasses import replace

from ballast.core.targets.axle import AxleTarget, limits_of_own
from ballast.core.targets.case import FAR_ABOVE_PLACARD, AxleCase
from ballast.core.working import Phrase, aimed, kpa, plain, say


def range_refused(case: AxleCase, answer: AxleTarget, to_kpa: float) -> Phrase | None:
    """Why a range may not reach to a pressure, with the bound; None: it may. `answer` has the number beside it."""
    if answer.target_kpa is None:
        return say(f"{case.name}: there is no target to keep a range beside. Weigh it, or enter its placard.")
    return limits_of_own(case, answer, to_kpa)


def range_words(target_kpa: float, to_kpa: float, ceiling_kpa: float | None, feel: str) -> Phrase:
    """What is held, and how it felt.

    >>> range_words(250, 280, None, "280 is harsh").show("metric")
    'Held anywhere from 250 kPa to 280 kPa: 280 is harsh.'
    """
    low, high = sorted((target_kpa, to_kpa))
    why = f": {plain(feel).rstrip('.')}" if feel else ""
    return say(f"Held anywhere from {{0}} to {{1}}{why}.", aimed(low, ceiling_kpa), aimed(high, ceiling_kpa))


def ranged(case: AxleCase, answer: AxleTarget, to_kpa: float, feel: str) -> AxleTarget:
    """The answer of an axle with its range: filled to its number, held anywhere up or down to the other end."""
    assert answer.target_kpa is not None
    notes = [*answer.notes, range_words(answer.target_kpa, to_kpa, answer.ceiling_kpa, feel)]
    if case.placard_is_floor and case.placard_kpa and to_kpa > FAR_ABOVE_PLACARD * case.placard_kpa:
        text = "The range goes more than 20 % above the placard of {0}: grip and handling change."
        notes.append(say(text, kpa(case.placard_kpa)))
    return replace(answer, range_kpa=to_kpa, feel=feel, notes=tuple(notes))
