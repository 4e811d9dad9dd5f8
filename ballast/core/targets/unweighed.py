"""A pressure for an axle that nobody has weighed: the placard's row, as rated, or a pressure of one's own between bounds."""

from dataclasses import dataclass

from ballast.core.rigs import GAWR, PLACARD, Missing
from ballast.core.tables import Step, steps_up
from ballast.core.targets.case import FAR_ABOVE_PLACARD, AxleCase
from ballast.core.targets.needs import Rated, as_rated, ceiling_of, outweighed
from ballast.core.working import Phrase, kpa, say

_EPS = 1e-6


@dataclass(frozen=True)
class Bounds:
    """Between what a pressure of one's own may lie [kPa] without a weight. `low` without a reason, `least` as a trial.

    None: there is no such bound, and `why` says what is missing.
    """

    low: float | None
    least: float | None
    high: float | None
    why: Phrase | None = None


def row_of(case: AxleCase) -> float | None:
    """The placard's pressure by the load state's row [kPa], for the size that is fitted; None: not known."""
    if case.light_row and case.placard_light_kpa is not None and case.placard_words is None:
        return case.placard_light_kpa
    return case.placard_here_kpa


def lacking(case: AxleCase) -> tuple[Missing, ...]:
    """What nobody has read and would help an axle that is not weighed, with the place where it stands."""
    missing = []
    if case.placard_kpa is None:
        missing.append(PLACARD)
    if case.gawr_kg is None:
        missing.append(GAWR)
    elif as_rated(case) is None and not outweighed(case):
        place = f"axles.{case.number - 1}"
        missing.append(Missing(place, "load and maximum on the sidewall", "what is enough for all the axle may carry"))
    if not case.gvwr_known:
        missing.append(Missing("label", "gross rating, GVWR", "whether it is light: until then there is no trial"))
    return tuple(missing)


def rated_step(rated: Rated | None, step: Step, ceiling: float | None) -> float | None:
    """*As rated* up to the next step [kPa], never above the ceiling; None where the ceiling does not reach it."""
    if rated is None or (ceiling is not None and rated.kpa > ceiling + _EPS):
        return None
    up = steps_up(rated.kpa, step)
    return up if ceiling is None else min(up, ceiling)


def bounds(case: AxleCase) -> Bounds:
    """Where a pressure of one's own may lie for an axle that is not weighed.

    Light: from the placard's row to 1.2 times it; heavy: from *as rated* to the ceiling, below the placard as a trial. Never
    below *as rated*, never above the ceiling; unknown GVWR counts as light here, and has no trial.
    """
    if outweighed(case):
        words = f"{case.name}: it weighs more than it is rated for, so no pressure of one's own holds. Weigh its axles."
        return Bounds(None, None, None, say(words))
    ceiling, _ = ceiling_of(case)
    row, rated = row_of(case), as_rated(case)
    least = rated.kpa if rated else None
    light = case.placard_is_floor or not case.gvwr_known
    if light and row is not None:
        if ceiling is not None and row > ceiling + _EPS:
            words = f"{case.name}: the placard's {{0}} is above the ceiling of {{1}}. Check both labels."
            return Bounds(None, None, None, say(words, kpa(row), kpa(ceiling, "down")))
        high = FAR_ABOVE_PLACARD * row if ceiling is None else min(ceiling, FAR_ABOVE_PLACARD * row)
        return Bounds(row, least if case.gvwr_known else None, high)
    names = " and ".join(m.name for m in lacking(case) if m != PLACARD)
    if least is None:
        words = f"{case.name}: what is enough is not known without its {names or 'load'}. Enter it, or weigh the axle."
        return Bounds(row, None, ceiling, say(words)) if row is not None else Bounds(None, None, None, say(words))
    low = least if row is None else max(row, least)
    if light:
        high = FAR_ABOVE_PLACARD * least if ceiling is None else min(ceiling, FAR_ABOVE_PLACARD * least)
        return Bounds(low, least, high)
    if ceiling is None:
        words = f"{case.name}: without the sidewall's maximum there is no ceiling. Enter it."
        return Bounds(None, None, None, say(words))
    return Bounds(low, least if case.gvwr_known else None, ceiling)


def own_refused(case: AxleCase, wanted_kpa: float) -> Phrase | None:
    """Why a pressure of one's own will not do for an axle that is not weighed, with the bound; None: it will."""
    at = bounds(case)
    if at.low is None or at.high is None:
        return at.why or say(f"{case.name}: what the load needs is not known. Weigh it.")
    asked = kpa(wanted_kpa)
    if wanted_kpa > at.high + _EPS:
        ceiling, from_ = ceiling_of(case)
        if ceiling is not None and at.high >= ceiling - _EPS:
            words = f"{case.name}: {{0}} is above the ceiling of {{1}}, from the {from_}. Enter that or less."
        else:
            words = (
                f"{case.name}: {{0}} is more than a fifth above the placard, and nobody weighed it. "
                "Enter at most {1}, or weigh it."
            )
        return say(words, asked, kpa(at.high, "down"))
    if wanted_kpa >= at.low - _EPS:
        return None
    if at.least is None:
        names = " and ".join(m.name for m in lacking(case)) or "load"
        words = f"{case.name}: {{0}} is below {{1}}, and without its {names} there is no trial. Enter that or more."
        return say(words, asked, kpa(at.low, "up"))
    if wanted_kpa < at.least - _EPS:
        words = f"{case.name}: {{0}} is not enough for the axle's rating; not weighed, {{1}} is. Enter that or more, or weigh it."
        return say(words, asked, kpa(at.least, "up"))
    if not case.trial:
        words = f"{case.name}: {{0}} is below the placard's {{1}}. Enter that or more, or give the reason for a trial."
        return say(words, asked, kpa(at.low, "up"))
    return None
