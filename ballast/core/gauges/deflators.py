"""Preset deflators: where a set closes, as it was set or as it was compared."""

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass

from ballast.core.units import PSI_KPA
from ballast.core.working import Phrase, kpa, plain, say

# A spring that was never compared closes within this of its mark, half a width at 95 % [kPa]; one closing alone tells no
# better than a psi.
NEVER_COMPARED_KPA = 2.0 * PSI_KPA
ONE_CLOSING_KPA = 1.0 * PSI_KPA


@dataclass(frozen=True)
class Closing:
    """What a set left in a tire once [kPa], true by a gauge that is sure within `sure_kpa`."""

    kpa: float
    sure_kpa: float


@dataclass(frozen=True)
class Deflators:
    """A set of preset deflators: how many, where they close by how they were set or compared [kPa], and within what."""

    label: str
    count: int
    closes_kpa: float
    within_kpa: float
    compared: bool = False

    @property
    def near_kpa(self) -> float:
        """The least that they may leave in a tire."""
        return self.closes_kpa - self.within_kpa


def deflators(label: str, count: int, set_kpa: float, closings: Sequence[Closing] = ()) -> Deflators:
    """A set as it closes: at its mark until it was compared, then where it was found to, with the spread of what was found.

    >>> found = deflators("D1", 4, 124.0, [Closing(120.0, 3.0), Closing(124.0, 3.0)])
    >>> found.closes_kpa, round(found.within_kpa, 2)
    (122.0, 6.4)
    """
    if not closings:
        return Deflators(label, count, set_kpa, NEVER_COMPARED_KPA)
    values = [c.kpa for c in closings]
    # Two standard deviations of what is left in one tire, beside the gauge's own half-width.
    spread = 2 * statistics.stdev(values) if len(values) > 1 else ONE_CLOSING_KPA
    sure = max(c.sure_kpa for c in closings)
    return Deflators(label, count, statistics.fmean(values), math.hypot(spread, sure), True)


def deflators_refused(of: Deflators, floor_kpa: float) -> Phrase | None:
    """Why a set must not be used where the floor is so high; None: it may."""
    if of.near_kpa >= floor_kpa - 1e-6:
        return None
    return say(
        f"{plain(of.label)} may close at {{0}}, below the floor of {{1}}. Set it higher, or let out by the valve.",
        kpa(of.near_kpa, "down"), kpa(floor_kpa, "up"),
    )  # fmt: skip
