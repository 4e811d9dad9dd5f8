"""What there is to say of the air in a line: whether it is known, and whether the dawns ahead hold every axle."""

from collections.abc import Sequence
from typing import Protocol

from ballast.core.working import Phrase, celsius, number, say


class AxleAhead(Protocol):
    """An axle's target before the coming dawns. `above_floor` is None where its floor is not known."""

    @property
    def raised(self) -> bool: ...
    @property
    def lowered(self) -> bool: ...
    @property
    def above_floor(self) -> bool | None: ...
    @property
    def leaves_band(self) -> bool: ...


def unknown_air(silent: bool) -> Phrase:
    """No air is set, or the service that should say it does not answer."""
    return say("weather service silent" if silent else "not set")


def in_a_line(outside_c: float | None, dawn_c: float | None, axles: Sequence[AxleAhead], aimed: int | None) -> Phrase:
    """The air [°C] of a rig, `aimed` of whose axles are to have a target (None: no targets are in force).

    No word of holding unless every axle's floor is known, and holds.

    >>> in_a_line(11.0, None, (), 2).text
    'dawn not known'
    """
    if outside_c is None:
        return unknown_air(silent=False)
    if aimed is None:
        return say("{0} outside", celsius(outside_c))
    if dawn_c is None:
        return say("dawn not known")
    if any(a.leaves_band for a in axles):
        return say("a dawn leaves the band")
    if any(a.raised for a in axles):
        return say("raised for the cold ahead")
    if any(a.lowered for a in axles):
        return say("lowered for the warmth ahead")
    if len(axles) < aimed or any(a.above_floor is None for a in axles):
        return say("the floor is not known")
    return say("the dawns hold the floor")


def trip_in_a_line(aimed: bool, one_fill: bool, stops: int) -> Phrase:
    """Whether one fill holds a trip, or at how many legs it is set anew."""
    if not aimed:
        return say("No target is in force: put one in force first.")
    if one_fill:
        return say("One fill holds the whole way.")
    return say("No one fill holds the whole way: {0} " + ("stop." if stops == 1 else "stops."), number(stops))
