"""All answers as data: everything that a reading can mean at every wheel, for a page without a network.

Pressures are straight between the sheet's knots, and the answer is constant inside a stretch, so the page looks up and never
decides.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from ballast.core.air import Standing
from ballast.core.gas import Air
from ballast.core.gauges import Gauge, correct, shows
from ballast.core.rounds.answer import EXACT_KPA, WORDS, Answer, WheelGoal, Word, answer, mate_of
from ballast.core.rounds.line import WheelLine
from ballast.core.rounds.wheel import Conditions, goal, held
from ballast.core.working import Phrase

# Stretches are looked for this finely [of the gauge's range], and their ends found more closely than an answer's line is
# drawn: a number just on it has the same word here and there.
_GRID = 240
_CLOSE_KPA = EXACT_KPA / 10


@dataclass(frozen=True)
class Stretch:
    """From a reading on [kPa as the gauge shows it]: the word. `words` with `{0}` take the change: what to bring it to, less
    what is in it. `locked`: no air before an inspection, or a reading that says otherwise."""

    from_kpa: float
    word: Word
    words: Phrase
    changes: bool
    notes: tuple[Phrase, ...]
    locked: bool
    # By the best estimate it ran far too low: a dual beside it carried the load of both.
    stops_mate: bool = False

    @property
    def asks_for_air(self) -> bool:
        return WORDS[self.word].asks_for_air


@dataclass(frozen=True)
class Knot:
    """At a reading [kPa]: the corrected pressure, its cold equivalent with the half-width at 95 %, what to bring it to
    (None: nothing is added or let out), and what the gauge shows then."""

    reading_kpa: float
    true_kpa: float
    cold_kpa: float
    uncertainty_kpa: float
    fill_kpa: float | None
    shows_kpa: float | None


@dataclass(frozen=True)
class Sheet:
    """What readings of one gauge from `low_kpa` to `high_kpa` mean at a wheel whose target here is `here_kpa`."""

    low_kpa: float
    high_kpa: float
    here_kpa: float | None
    stretches: tuple[Stretch, ...]
    knots: tuple[Knot, ...]


@dataclass(frozen=True)
class Decision(Sheet):
    """A sheet with the wheels and the gauge that it is for. `rolled` is False once somebody said that it has not rolled so;
    `estimate`: the tires are still warm, or the sun is on them."""

    wheels: tuple[str, ...]
    gauge: int
    rolled: bool
    estimate: bool


def decisions(
    at: Conditions, lines: Sequence[WheelLine], gauges: Iterable[int], ways: Sequence[bool] = (True, False)
) -> tuple[Decision, ...]:
    """All answers of a round, for each of some gauges; wheels that are alike share a sheet. `ways`: rolled so, or somebody said not."""
    decided = []
    of = {line.code: held(at, line) for line in lines}
    for gauge_id in gauges:
        gauge = at.gauges[gauge_id]
        for rolled in ways:
            alike: dict[tuple[WheelGoal, Standing], list[str]] = {}
            for line in lines:
                alike.setdefault((goal(at, line, of[line.code], rolled, gauge), at.stands(line)), []).append(line.code)
            for (aimed, stood), codes in alike.items():
                sheet = decision_sheet(aimed, gauge, stood, at.here)
                of_wheels = {"wheels": tuple(codes), "gauge": gauge_id, "rolled": rolled, "estimate": not stood.cold}
                decided.append(Decision(**vars(sheet), **of_wheels))  # type: ignore[arg-type]
    return tuple(decided)


def mates_among(lines: Sequence[WheelLine]) -> dict[str, str]:
    """The mate of every dual wheel: where one ran low, the other is stopped with it."""
    codes = {line.code for line in lines}
    return {code: mate for code in codes if (mate := mate_of(code)) in codes and mate}


def decision_sheet(goal: WheelGoal, gauge: Gauge, stood: Standing, here: Air) -> Sheet:
    """All answers of a wheel for one gauge. What differs only in its measure of change is one stretch."""

    def at(reading: float) -> Answer:
        return answer(goal, correct(gauge, reading), stood, here)

    low, high = gauge.low_kpa, gauge.high_kpa
    stretches = _stretches(at, low, high)
    bends = {low, high} | {r for r, _ in gauge.points if low < r < high}
    # On both sides of where a stretch begins: what to bring it to may leap there.
    bends |= {edge for s in stretches[1:] for edge in (s.from_kpa - _CLOSE_KPA, s.from_kpa)}
    if at(low).cold_kpa == 0.0:
        # Nothing shows below zero: where a warm tire's cold equivalent begins to be something is a bend too.
        bends.add(_bisected(low, min(high, low + 50.0), lambda reading: not (at(reading).cold_kpa or 0.0) > 0)[0])
    knots = tuple(_knot(gauge, reading, at(reading)) for reading in sorted(bends) if low <= reading <= high)
    return Sheet(low, high, goal.target_kpa, tuple(stretches), knots)


def _same(one: Answer, other: Answer) -> bool:
    def of(a: Answer) -> tuple[object, ...]:
        return a.word, a.words.text, a.notes, a.locked, a.ran_low

    return of(one) == of(other)


def _bisected(a: float, b: float, still: Callable[[float], bool]) -> tuple[float, float]:
    """The last place that is `still` as at `a`, and the first that is not, closely."""
    while b - a > _CLOSE_KPA:
        middle = (a + b) / 2
        a, b = (middle, b) if still(middle) else (a, middle)
    return a, b


def _stretches(at: Callable[[float], Answer], low: float, high: float) -> list[Stretch]:
    step = (high - low) / _GRID
    stretches: list[Stretch] = []

    def begin(reading: float, verdict: Answer) -> None:
        changes = "{0}" in verdict.words.text
        words = Phrase(verdict.words.text) if changes else verdict.words
        stretches.append(Stretch(reading, verdict.word, words, changes, verdict.notes, verdict.locked, verdict.ran_low))

    before, before_at = at(low), low
    begin(low, before)
    for i in range(1, _GRID + 1):
        reading = low + i * step if i < _GRID else high
        now = at(reading)
        while not _same(before, now):
            held = before
            _, before_at = _bisected(before_at, reading, lambda r: _same(held, at(r)))  # noqa: B023
            before = at(before_at)
            begin(before_at, before)
        before_at = reading
    return stretches


def _knot(gauge: Gauge, reading: float, verdict: Answer) -> Knot:
    assert verdict.cold_kpa is not None
    assert verdict.uncertainty_kpa is not None
    shown = None if verdict.fill_kpa is None else shows(gauge, verdict.fill_kpa)
    true = correct(gauge, reading).kpa
    return Knot(reading, true, verdict.cold_kpa, verdict.uncertainty_kpa, verdict.fill_kpa, shown)
