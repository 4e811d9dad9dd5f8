"""Gauges beside each other on one tire; and displays that learn their offset from rounds in which both were read."""

import math
import statistics
from dataclasses import dataclass
from typing import Literal

from ballast.core.gauges.gauge import Corrected
from ballast.core.refusal import Refusal
from ballast.core.units import PSI_KPA
from ballast.core.working import Line, Phrase, kpa, plain, say

AGREE_KPA, WATCH_KPA = 2 * PSI_KPA, 4 * PSI_KPA
# Two-sided 95 % of Student's t by degrees of freedom (1 to 30; beyond, 2).
_T = (
    12.71, 4.30, 3.18, 2.78, 2.57, 2.45, 2.36, 2.31, 2.26, 2.23, 2.20, 2.18, 2.16, 2.14, 2.13, 2.12, 2.11, 2.10, 2.09, 2.09,
    2.08, 2.07, 2.07, 2.06, 2.06, 2.06, 2.05, 2.05, 2.05, 2.04,
)  # fmt: skip
FEWEST_TO_LEARN = 3


@dataclass(frozen=True)
class Beside:
    """What gauges on one tire say of each other.

    `odd` names the one off the median where three or more were read; `apart_kpa` is the widest difference of true
    pressures. `barred`: those that log nothing until compared with a master.
    """

    verdict: Literal["agree", "watch", "apart"]
    words: Phrase
    apart_kpa: float
    odd: str | None
    barred: tuple[str, ...]
    working: tuple[Line, ...]


def beside(read: dict[str, Corrected]) -> Beside:
    """Two gauges or more on one tire, each by label with its corrected reading.

    Within 2 psi they agree, 2 to 4 is to be watched, from 4 on neither logs until compared. Raises Refusal for fewer than
    two.
    """
    if len(read) < 2:
        raise Refusal("Read one tire with two gauges at least.", "readings")
    middle = statistics.median(r.kpa for r in read.values())
    low, high = min(read, key=lambda g: read[g].kpa), max(read, key=lambda g: read[g].kpa)
    apart = read[high].kpa - read[low].kpa
    working = tuple(
        Line(say(f"{plain(label)}, corrected, sure within {{0}}", kpa(r.uncertainty_kpa)), kpa(r.kpa))
        for label, r in read.items()
    )
    if apart < AGREE_KPA:
        return Beside("agree", say("They agree within {0}.", kpa(apart, "up")), apart, None, (), working)
    odd = None
    if len(read) > 2:
        odd = max(read, key=lambda g: abs(read[g].kpa - middle))
        off = read[odd].kpa - middle
        lower = "lower" if off < 0 else "higher"
        if abs(off) >= AGREE_KPA:
            barred = (odd,) if abs(off) >= WATCH_KPA else ()
            verdict: Literal["watch", "apart"] = "apart" if barred else "watch"
            end = "it logs nothing until compared with a master." if barred else "watch it, and compare it soon."
            words = say(f"{plain(odd)} is the odd one, {{0}} {lower} than the middle: {end}", kpa(abs(off)))
            return Beside(verdict, words, apart, odd, barred, working)
        odd = None
    explained = math.hypot(read[low].uncertainty_kpa, read[high].uncertainty_kpa)
    if apart < WATCH_KPA or len(read) > 2:
        why = "what is known of them explains it" if apart <= explained else "more than is known of them explains"
        return Beside("watch", say(f"{{0}} apart, {why}: watch them.", kpa(apart)), apart, odd, (), working)
    words = say("{0} apart: neither logs until compared with a master.", kpa(apart))
    return Beside("apart", words, apart, None, (low, high), working)


@dataclass(frozen=True)
class Learned:
    """What a display shows over the truth [kPa], with its half-width at 95 %, from so many readings side by side."""

    offset_kpa: float
    uncertainty_kpa: float
    count: int
    words: Phrase


def learned_offset(pairs: tuple[tuple[float, float], ...], step_kpa: float) -> Learned | None:
    """The offset of a display from like pairs (true, shown) [kPa] of rounds in which both were read; None for fewer than three.

    `step_kpa` is what it shows in: half of it stays open however often the two agree.
    """
    if len(pairs) < FEWEST_TO_LEARN:
        return None
    gaps = [shown - true for true, shown in pairs]
    mean, n = statistics.fmean(gaps), len(gaps)
    half = math.hypot((_T[n - 2] if n - 2 < len(_T) else 2.0) * statistics.stdev(gaps) / math.sqrt(n), step_kpa / 2)
    way = "high" if mean > 0 else "low"
    words = say(f"Shows {{0}} too {way}, give or take {{1}}, by {n} readings side by side.", kpa(abs(mean)), kpa(half))
    if abs(mean) <= half:
        words = say(
            f"No offset is proven: {{0}} {way}, give or take {{1}}, by {n} readings.", kpa(abs(mean)), kpa(half)
        )
    return Learned(mean, half, n, words)
