"""What is put in force of many rigs at once, without somebody looking at each answer."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ballast.core.targets.axle import AxleTarget
from ballast.core.working import Phrase, join, plain, say

# Closer than that two numbers of an axle are one [kPa].
_SAME_KPA = 1e-6


@dataclass(frozen=True)
class Before:
    """What is in force of an axle: its target [kPa], and whether somebody chose for it: a pressure of their own, a trial, a range,
    or another table than would be looked up now."""

    target_kpa: float | None
    chosen: bool = False


def contradicts(
    axles: Sequence[AxleTarget], before: Mapping[int, Before], across: Sequence[Phrase], over: bool
) -> Phrase | None:  # fmt: skip
    """What speaks against putting targets in force without looking at them; None: nothing does.

    `before` by the axle's number; `across`: what is said of the axles together; `over`: a rating is exceeded.
    """
    if over:
        return say("It is over a rating: take load off, and weigh it again.")
    for axle in axles:
        if axle.state != "target":
            return join(say(f"{plain(axle.name)}:"), axle.words)
        if axle.estimate or axle.at_least:
            return say(f"{plain(axle.name)}: its floor is an estimate.")
        objection = next((f.objection for f in axle.flags if f.school == axle.school and f.objection), None)
        if objection is not None:
            return join(say(f"{plain(axle.name)}:"), objection)
        if axle.number in before and before[axle.number].chosen:
            return say(f"{plain(axle.name)}: somebody chose for it what is in force. Look at it there.")
    return across[0] if across else None


def changes(axles: Sequence[AxleTarget], before: Mapping[int, Before]) -> bool:
    """Whether an axle gets another target than is in force."""
    return any(_differ(a.target_kpa, before[a.number].target_kpa if a.number in before else None) for a in axles)


def _differ(one: float | None, other: float | None) -> bool:
    if one is None or other is None:
        return one is not other
    return abs(one - other) > _SAME_KPA
