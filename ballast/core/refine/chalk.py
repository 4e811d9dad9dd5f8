"""The chalk trial: marks across the tread, driven straight, read after; the decision, and the next pressure inside its bounds."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ballast.core.lookback.evidence import HAND_KPA
from ballast.core.refusal import Refusal
from ballast.core.units import PSI_KPA, Toward
from ballast.core.working import Phrase, kpa, say

# What is left of the chalk on a rib.
Rib = Literal["gone", "faint", "left"]
RIBS: tuple[Rib, ...] = ("gone", "faint", "left")

# What must hold before a pass counts, each asked: key and words.
PRECONDITIONS: dict[str, str] = {
    "cold": "The tires are cold",
    "dry": "The tread is dry, and so is the lane",
    "smooth": "The tread is not cupped or feathered",
    "rim": "The rim is in the tire's approved range",
    "straight": "The lane is flat and straight, as long as last time",
    "loaded": "It is loaded as meant",
    "alike": "Both tires of the axle read the same, corrected",
}

Decision = Literal["even", "lower", "higher", "longer", "alignment", "differ", "void", "bound"]
# Steps below and from 50 psi [kPa]; halved after a reversal, and no smaller than what a gauge tells.
LOW_KPA = 50.0 * PSI_KPA
STEP_LOW_KPA, STEP_HIGH_KPA = 3.0 * PSI_KPA, 5.0 * PSI_KPA
# What a season may change before a result is asked again [°C], and the share of the tread.
SEASON_C, TREAD_SHARE = 20.0, 0.5


@dataclass(frozen=True)
class Marks:
    """What is left on a tire, as its tread is seen from above: left, centre, right."""

    left: Rib
    centre: Rib
    right: Rib

    @property
    def ribs(self) -> tuple[Rib, Rib, Rib]:
        return (self.left, self.centre, self.right)


@dataclass(frozen=True)
class Pass:
    """One drive: the pressure [kPa, cold, corrected], the marks of the left and of the right tire, what did not hold."""

    kpa: float
    left: Marks
    right: Marks
    missing: tuple[str, ...] = ()


@dataclass(frozen=True)
class Bounds:
    """Between what a trial moves [kPa]: floor or *as rated*, the ceiling, what the gauge tells apart; the lamp and the placard are
    said first."""

    least_kpa: float | None
    most_kpa: float | None
    tells_kpa: float
    step_kpa: float = PSI_KPA
    placard_kpa: float | None = None
    lamp_kpa: float | None = None


@dataclass(frozen=True)
class OnAxle:
    """What is known of an axle for a trial [kPa], `light` of its rig; `reason`: why it may go below the placard."""

    floor_kpa: float | None
    as_rated_kpa: float | None
    ceiling_kpa: float | None
    placard_kpa: float | None
    lamp_kpa: float | None
    light: bool
    reason: str = ""


def bounds_of(axle: OnAxle, tells_kpa: float, step_kpa: float) -> Bounds:
    """Between what a trial moves: from floor or *as rated*, on a light rig from the placard unless there is a reason, to the ceiling.

    Raises Refusal where nothing is known to stop at.
    """
    least = axle.floor_kpa if axle.floor_kpa is not None else axle.as_rated_kpa
    if least is None:
        raise Refusal(
            "What the load needs is not known for this axle, so the chalk has no floor to stop at. Put a target in force first.",
            "number",
        )
    placard = axle.placard_kpa if axle.light else None
    if placard is not None and not axle.reason:
        return Bounds(max(least, placard), axle.ceiling_kpa, tells_kpa, step_kpa, None, axle.lamp_kpa)
    return Bounds(least, axle.ceiling_kpa, tells_kpa, step_kpa, placard, axle.lamp_kpa)


def check_driven(one: Pass, bounds: Bounds) -> None:
    """Raises Refusal for a pass that would be driven below what the load needs."""
    if bounds.least_kpa is not None and one.kpa < bounds.least_kpa - bounds.tells_kpa and not one.missing:
        raise Refusal("Below what the load needs no pass is driven. Fill it, and read both tires again.", "pressure")


def check_asked(missing: Sequence[str]) -> None:
    """Raises Refusal for what is none of the preconditions."""
    unknown = [m for m in missing if m not in PRECONDITIONS]
    if unknown:
        raise Refusal(f"{unknown[0]} is none of what is asked. Choose of the list.", "missing")


@dataclass(frozen=True)
class Verdict:
    """What a series of passes says: the decision with its reason, and the next pressure [kPa] where there is one to try."""

    decision: Decision
    words: Phrase
    next_kpa: float | None = None
    done: bool = False
    notes: tuple[Phrase, ...] = ()


def tells(resolution_kpa: float, scatter_kpa: float) -> float:
    """What a gauge in a hand tells apart [kPa]: its step, its scatter, and how far two careful readings differ."""
    return max(resolution_kpa, scatter_kpa, HAND_KPA)


def of_tire(marks: Marks, rear: bool) -> Decision:
    """What one tire's marks say.

    >>> of_tire(Marks("left", "gone", "left"), False), of_tire(Marks("gone", "left", "gone"), False)
    ('lower', 'higher')
    """
    ribs = marks.ribs
    if all(r == "left" for r in ribs):
        return "longer"
    if all(r == "gone" for r in ribs):
        return "even"
    shoulders = (marks.left, marks.right)
    if marks.centre != "left" and all(r == "left" for r in shoulders):
        return "lower"
    if marks.centre == "left" and all(r != "left" for r in shoulders):
        return "higher"
    if shoulders[0] != shoulders[1] and "left" in shoulders and "gone" in shoulders:
        return "alignment"
    if marks.centre == "gone":
        # A faint edge on a rear axle rotation evens out; in front it is a little too much air.
        return "even" if rear else "lower"
    return "higher"


def usual_step(kpa_: float) -> float:
    """How far a trial moves at first [kPa].

    >>> round(usual_step(300) / PSI_KPA), round(usual_step(600) / PSI_KPA)
    (3, 5)
    """
    return STEP_LOW_KPA if kpa_ < LOW_KPA else STEP_HIGH_KPA


def _way(passes: Sequence[Pass], rear: bool) -> list[Decision]:
    return [judged for p in passes if (judged := _both(p, rear)) in ("lower", "higher")]


def _both(one: Pass, rear: bool) -> Decision:
    if one.missing:
        return "void"
    left, right = of_tire(one.left, rear), of_tire(one.right, rear)
    if "alignment" in (left, right):
        return "alignment"
    if left != right:
        return "longer" if "longer" in (left, right) else "differ"
    return left


_WORDS: dict[Decision, str] = {
    "even": "Even across both tires: done.",
    "longer": "Nothing is gone, or not on both: drive longer, the same way.",
    "alignment": "One shoulder alone: that is alignment, no pressure mends it. Stop here.",
    "differ": "Left and right tires say different things: a side load, or the gauge. Stop here.",
}


def verdict(passes: Sequence[Pass], bounds: Bounds, rear: bool) -> Verdict:
    """What the passes so far say, the newest last. It never proposes less than what the load needs, nor more than the ceiling."""
    if not passes:
        return Verdict("longer", say("Mark both treads across, and drive straight."), None, False, _said_first(bounds))
    newest = passes[-1]
    judged = _both(newest, rear)
    if judged == "void":
        missing = ", ".join(PRECONDITIONS[m].lower() for m in newest.missing if m in PRECONDITIONS)
        return Verdict("void", say(f"This pass does not count: not so that {missing}. Do it again."), newest.kpa)
    if judged == "even":
        if bounds.least_kpa is not None and newest.kpa < bounds.least_kpa - 1e-6:
            return _stopped(bounds, newest.kpa)
        return Verdict("even", say(_WORDS["even"]), None, True, _said_first(bounds))
    if judged in ("alignment", "differ"):
        return Verdict(judged, say(_WORDS[judged]), None, True)
    if judged == "longer":
        return Verdict("longer", say(_WORDS["longer"]), newest.kpa)
    return _next(passes, bounds, rear, judged)


def _said_first(bounds: Bounds) -> tuple[Phrase, ...]:
    said = []
    if bounds.lamp_kpa is not None:
        said.append(say("The lamp lights below {0}: a trial stays above it.", kpa(bounds.lamp_kpa, "up")))
    if bounds.placard_kpa is not None:
        said.append(say("Below the placard of {0} it is a trial, with its reason.", kpa(bounds.placard_kpa)))
    return tuple(said)


def _stopped(bounds: Bounds, at_kpa: float) -> Verdict:
    assert bounds.least_kpa is not None
    words = say("Even or not, below {0} the load is not carried. It goes no lower.", kpa(bounds.least_kpa, "up"))
    return Verdict("bound", words, bounds.least_kpa if at_kpa < bounds.least_kpa else None, True)


def _next(passes: Sequence[Pass], bounds: Bounds, rear: bool, judged: Decision) -> Verdict:
    """The next pressure: a step in the direction that the marks ask for, halved with each reversal."""
    newest, ways = passes[-1], _way(passes, rear)
    turns = sum(1 for a, b in itertools.pairwise(ways) if a != b)
    step = usual_step(newest.kpa) / 2**turns
    asks = "Centre gone, shoulders left: too high" if judged == "lower" else "Shoulders gone, centre left: too low"
    if step < bounds.tells_kpa:
        return Verdict("even", say(f"{asks}, by less than the gauge tells apart: done."), None, True)
    wanted = newest.kpa + (step if judged == "higher" else -step)
    wanted = round(wanted / bounds.step_kpa) * bounds.step_kpa
    if judged == "lower" and bounds.least_kpa is not None and wanted < bounds.least_kpa - 1e-6:
        if newest.kpa <= bounds.least_kpa + bounds.tells_kpa:
            words = say(
                f"{asks}; but below {{0}} the load is not carried. It goes no lower.", kpa(bounds.least_kpa, "up")
            )
            return Verdict("bound", words, None, True)
        wanted = bounds.least_kpa
    if judged == "higher" and bounds.most_kpa is not None and wanted > bounds.most_kpa + 1e-6:
        if newest.kpa >= bounds.most_kpa - bounds.tells_kpa:
            words = say(f"{asks}; but {{0}} is the ceiling. It goes no higher.", kpa(bounds.most_kpa, "down"))
            return Verdict("bound", words, None, True)
        wanted = bounds.most_kpa
    toward: Toward = "up" if wanted == bounds.least_kpa else "down" if wanted == bounds.most_kpa else "nearest"
    return Verdict(judged, say(f"{asks}. Next {{0}}.", kpa(wanted, toward)), wanted, False, _said_first(bounds))


@dataclass(frozen=True)
class Since:
    """What happened since an even result: air [°C] then and now, whether tires, rim or place changed, how much tread is left."""

    then_c: float | None = None
    now_c: float | None = None
    rotated: bool = False
    new_tires: bool = False
    other_rim: bool = False
    tread_left: float | None = None


def asked_again(since: Since) -> tuple[str, ...]:
    """Why an even result no longer stands, in words; empty: it does.

    >>> asked_again(Since(30.0, 5.0, rotated=True))
    ('rotated since', 'another season: 20 °C and more')
    """
    reasons = []
    if since.rotated:
        reasons.append("rotated since")
    if since.new_tires:
        reasons.append("other tires since")
    if since.other_rim:
        reasons.append("another rim since")
    if since.tread_left is not None and since.tread_left <= TREAD_SHARE:
        reasons.append("half of the tread is gone since")
    if since.then_c is not None and since.now_c is not None and abs(since.now_c - since.then_c) >= SEASON_C:
        reasons.append("another season: 20 °C and more")
    return tuple(reasons)
