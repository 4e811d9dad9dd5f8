"""What is put in force of many rigs at once, without somebody looking at each answer."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ballast.core.targets.axle import AxleTarget
from ballast.core.working import Phrase, join, plain, say

# Closer than that two numbers of an axle are one [kPa].
_SAME_KPA = 1e-6


@dataclass(frozen=True)
class Before:
    """What is in force of an axle: its target, a pressure of one's own, the other end of a range [kPa], why it is a trial,
    whether it is by another table than would be looked up now (a newer edition is the same one), and its ceiling [kPa]."""

    target_kpa: float | None
    own_kpa: float | None = None
    range_kpa: float | None = None
    trial: str = ""
    another_table: bool = False
    ceiling_kpa: float | None = None

    @property
    def chosen(self) -> bool:
        """Whether somebody chose what is in force."""
        return self.own_kpa is not None or self.range_kpa is not None or bool(self.trial) or self.another_table


def contradicts(
    axles: Sequence[AxleTarget], before: Mapping[int, Before], across: Sequence[Phrase], over: bool, unchecked: bool
) -> Phrase | None:  # fmt: skip
    """What speaks against putting targets in force without looking at them; None: nothing does.

    `before` by the axle's number; `across`: what is said of the axles together; `over`: a rating is exceeded; `unchecked`: nobody but
    who entered a table has read it against its source.
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
    if across:
        return across[0]
    return say("Nobody has checked its table: have it read against its source first.") if unchecked else None


def changes(axles: Sequence[AxleTarget], before: Mapping[int, Before]) -> bool:
    """Whether an axle gets another target than is in force."""
    return any(_differ(a.target_kpa, before[a.number].target_kpa if a.number in before else None) for a in axles)


def _differ(one: float | None, other: float | None) -> bool:
    if one is None or other is None:
        return one is not other
    return abs(one - other) > _SAME_KPA
