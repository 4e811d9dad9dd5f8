"""A spare is a tire too, with a pressure of its own."""

import math
from dataclasses import dataclass

from ballast.core.tables import Step
from ballast.core.working import Line, Phrase, kpa, say, share

# Kept so much over, a spare still has its pressure when it is needed.
SPARE_OVER = 0.05


@dataclass(frozen=True)
class SpareTarget:
    """The pressure of a spare [kPa]. `offered_kpa` is 5 % more, where the ceiling allows it. None: not known."""

    number: int
    name: str
    target_kpa: float | None
    required_kpa: float | None
    offered_kpa: float | None
    ceiling_kpa: float | None
    words: Phrase
    working: tuple[Line, ...] = ()


def spare_target(
    number: int,
    name: str,
    required_kpa: float | None,
    sidewall_max_kpa: float | None,
    wheel_max_kpa: float | None,
    over: bool,
    step: Step,
) -> SpareTarget:
    """A spare's own required pressure; with `over`, 5 % more in whole steps, never above tire or wheel."""
    known = [v for v in (sidewall_max_kpa, wheel_max_kpa) if v is not None]
    ceiling = min(known) if known else None
    if required_kpa is None:
        words = say("Its pressure is not known: read it off the placard or the tire, and enter it with the rig.")
        return SpareTarget(number, name, None, None, None, ceiling, words)
    lines = [Line(say("required, by placard or marking"), kpa(required_kpa))]
    if ceiling is not None and required_kpa > ceiling:
        words = say(
            "It asks for {0}, above the ceiling of {1}: check the labels.", kpa(required_kpa), kpa(ceiling, "down")
        )
        return SpareTarget(number, name, None, required_kpa, None, ceiling, words, tuple(lines))
    # Downward to a step, so that it never promises more than 5 %; none where no step lies between.
    offered: float | None = math.floor(required_kpa * (1 + SPARE_OVER) / step.kpa + 1e-9) * step.kpa
    if offered is not None and ceiling is not None and offered > ceiling:
        offered = math.floor(ceiling / step.kpa + 1e-9) * step.kpa
    if ceiling is None or offered is None or offered <= required_kpa:
        offered = None
    target = offered if over and offered is not None else required_kpa
    if offered is not None:
        lines.append(Line(say("up to {0} more, under the ceiling, in whole steps", share(SPARE_OVER)), kpa(offered)))
    words = say("{0}", kpa(target, "up"))
    if over and offered is None:
        words = say("{0}: no room for more under its ceiling.", kpa(target, "up"))
    return SpareTarget(number, name, target, required_kpa, offered, ceiling, words, tuple(lines))
