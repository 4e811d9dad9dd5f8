"""From passes over a scale to axles, ends and hitch loads.

Every pass weighs the sum of what stands on the scale, so a ticket is a set of linear equations. Whatever they
determine is known, whatever they do not stays unknown; readings that say the same thing twice check each other.
Least squares after the singular values: Golub and Van Loan, Matrix Computations, 5.5.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Literal, NamedTuple, get_args

import numpy as np

from ballast.core.refusal import Refusal
from ballast.core.units import both
from ballast.core.weighing.loads import AxleReading
from ballast.core.working import Line, Phrase, kg, say

# Cumulative passes over a platform; axle by axle; a platform and then its left wheels only; every end on its pad.
Way = Literal["passes", "axles", "left", "pads"]
WAYS: tuple[Way, ...] = get_args(Way)
_ZERO = 1e-9


class Spot(NamedTuple):
    """A place on the road: vehicle from the front (0 tows), axle number, side. Axle 0 is a trailer's jack."""

    vehicle: int
    axle: int
    side: Literal["L", "R", "C"]


def _ends(vehicle: int, axle: int, wheels: int) -> tuple[Spot, ...]:
    """Where an axle stands: left and right, or the one wheel that it has."""
    return tuple(Spot(vehicle, axle, side) for side in ("C" if wheels == 1 else "LR"))  # type: ignore[arg-type]


@dataclass(frozen=True)
class Vehicle:
    """A vehicle as the scale sees it: its axles as (number, name, wheels), and whether part of it is carried in front."""

    name: str
    axles: tuple[tuple[int, str, int], ...]
    pulled: bool = False

    def spots(self, index: int) -> tuple[Spot, ...]:
        return tuple(spot for number, _, wheels in self.axles for spot in _ends(index, number, wheels))


@dataclass(frozen=True)
class Pass:
    """What stood on the scale and what it said [kg]. `apart`: 0 all coupled; k with vehicle k and behind uncoupled."""

    on: frozenset[Spot]
    kg: float
    apart: int = 0


@dataclass(frozen=True)
class Step:
    """A pass to do next: where to stand, in words and on the plan."""

    key: str
    words: str
    on: tuple[Spot, ...]
    apart: int = 0


@dataclass(frozen=True)
class Solved:
    """What the passes tell. `hitch_kg` by vehicle behind; `doubt` names readings (by index) that the others contradict."""

    axles: dict[tuple[int, int], AxleReading]
    hitch_kg: dict[int, float | None]
    unknown: tuple[str, ...]
    next: Step | None
    next_tells: str
    doubt: tuple[int, ...]
    notes: tuple[Phrase, ...]
    working: tuple[Line, ...]


def hitch_by_vehicle(vehicles: tuple[Vehicle, ...], hitch_kg: dict[int, float | None]) -> tuple[float | None, ...]:
    """The hitch load that each vehicle is judged by: a pulled trailer's own, else what hangs on it."""
    return tuple(hitch_kg.get(i if v.pulled else i + 1) for i, v in enumerate(vehicles))


def _spoken(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _called(vehicle: Vehicle, name: str, many: bool) -> str:
    short = name[0].lower() + name[1:]
    axle = short if short.startswith("axle") else f"{short} axle"
    return f"{axle} of {vehicle.name}" if many else axle


def _the(called: str) -> str:
    return called if called.startswith("axle") else f"the {called}"


def guide(vehicles: tuple[Vehicle, ...], way: Way, hitch: bool) -> tuple[Step, ...]:
    """The passes to do on a scale, in the order in which they are quickest.

    With `hitch` and a trailer that is pulled, passes without the trailer follow: the tow vehicle alone gives the
    hitch load, the trailer alone checks it.
    """
    many = len(vehicles) > 1
    steps = _rolling(vehicles, way, many)
    for k, vehicle in enumerate(vehicles):
        if not (hitch and k and vehicle.pulled):
            continue
        front = vehicles[:k]
        names = _spoken([v.name for v in front])
        spots = [s for i, v in enumerate(front) for s in v.spots(i)]
        if way in ("passes", "left"):
            steps.append(
                Step(f"apart{k}", f"Uncouple {vehicle.name}. {names} alone, all axles on the scale", tuple(spots), k)
            )
        else:
            for i, v in enumerate(front):
                steps += [
                    Step(f"apart{k}:{i}:{number}", f"{vehicle.name} uncoupled: {_called(v, axle, many)}",
                         _ends(i, number, wheels), k)
                    for number, axle, wheels in v.axles
                ]  # fmt: skip
        if all(not v.pulled for v in vehicles[k + 1 :]):
            steps.append(
                Step(f"alone{k}", f"As a check: {vehicle.name} alone on the scale, its jack too",
                     (*vehicle.spots(k), Spot(k, 0, "C")), k)
            )  # fmt: skip
    return tuple(steps)


def _rolling(vehicles: tuple[Vehicle, ...], way: Way, many: bool) -> list[Step]:
    steps: list[Step] = []
    on: list[Spot] = []
    left: list[Spot] = []
    names: list[str] = []
    lefts: list[Step] = []
    for i, vehicle in enumerate(vehicles):
        for number, axle, wheels in vehicle.axles:
            spots = _ends(i, number, wheels)
            called = _called(vehicle, axle, many)
            key = f"{i}:{number}"
            if way == "pads":
                for spot in spots:
                    side = {"L": "left end, ", "R": "right end, ", "C": ""}[spot.side]
                    words = f"{called}, {side}on its pad".replace(", on", " on")
                    steps.append(Step(f"{key}{spot.side}", words[0].upper() + words[1:], (spot,)))
                continue
            if way == "axles":
                steps.append(Step(key, f"Only {_the(called)} on the scale", spots))
                continue
            on += spots
            names.append(called)
            words = (
                f"Only {_the(called)} on the scale" if len(names) == 1 else f"Roll on until {_the(called)} is on too"
            )
            steps.append(Step(key, words, tuple(on)))
            if way == "left" and wheels > 1:
                left.append(spots[0])
                said = "Left wheels only, the right ones beside the scale: "
                lefts.append(
                    Step(f"{key}L", said + (_the(called) if len(left) == 1 else f"on to {_the(called)}"), tuple(left))
                )
    return steps + lefts


def _rows(
    vehicles: tuple[Vehicle, ...], passes: Iterable[Pass | Step]
) -> tuple[np.ndarray, dict[tuple[int, Spot], int]]:
    """The passes as rows over the unknown loads: one column for every spot, coupled and uncoupled."""
    columns: dict[tuple[int, Spot], int] = {}
    for apart in range(len(vehicles)):
        for i, v in enumerate(vehicles):
            if apart == 0 or i < apart:
                for spot in v.spots(i):
                    columns[(apart, spot)] = len(columns)
    rows = []
    for p in passes:
        row = np.zeros(len(columns))
        if _alone(p):
            # A trailer alone weighs its axles as they roll and its hitch load, which its jack carries.
            k = p.apart
            for spot in vehicles[k].spots(k):
                row[columns[(0, spot)]] = 1.0
            row += _hitch_row(vehicles, columns, k)
        else:
            for spot in p.on:
                row[columns[(p.apart, spot)]] = 1.0
        rows.append(row)
    return np.array(rows).reshape(len(rows), len(columns)), columns


def _alone(p: Pass | Step) -> bool:
    """A trailer by itself, its jack on the scale too."""
    return p.apart > 0 and any(s.vehicle >= p.apart for s in p.on)


def _hitch_row(vehicles: tuple[Vehicle, ...], columns: dict[tuple[int, Spot], int], k: int) -> np.ndarray:
    """Hitch load of vehicle k: everything in front of it coupled, less the same uncoupled."""
    row = np.zeros(len(columns))
    for i in range(k):
        for spot in vehicles[i].spots(i):
            row[columns[(0, spot)]] += 1.0
            row[columns[(k, spot)]] -= 1.0
    return row


def check_passes(vehicles: tuple[Vehicle, ...], passes: tuple[Pass, ...]) -> None:
    """Raises Refusal (field "passes.<index>") for spots that are not there, and for a pass that falls.

    With more on the scale it cannot weigh less; so an end is never heavier than its axle.
    """
    there = {s for i, v in enumerate(vehicles) for s in v.spots(i)}
    for i, p in enumerate(passes):
        jack = {Spot(p.apart, 0, "C")} if p.apart else set()
        if not p.on or not p.on <= there | jack or not 0 <= p.apart < max(1, len(vehicles)):
            raise Refusal(
                "This pass has wheels on the scale that the rig has not. Read the ticket again.", f"passes.{i}"
            )
        mixed = {s.vehicle >= p.apart for s in p.on} if p.apart else {False}
        alone = frozenset(vehicles[p.apart].spots(p.apart)) | jack if p.apart else frozenset()
        if len(mixed) > 1 or (True in mixed and p.on != alone):
            raise Refusal(
                "Uncoupled, either the front vehicles or the whole trailer with its jack stand on the scale.",
                f"passes.{i}",
            )
    for i, p in enumerate(passes):
        for j, q in enumerate(passes):
            if p.kg < q.kg and p.apart == q.apart and q.on < p.on:
                later = max(i, j)
                raise Refusal(
                    f"{both('mass', p.kg)} with more on the scale than in pass {j + 1}, {both('mass', q.kg)}: it cannot fall. "
                    "Weigh one of the two again.",
                    f"passes.{later}",
                )


def solve(vehicles: tuple[Vehicle, ...], passes: tuple[Pass, ...], way: Way, resolution_kg: float) -> Solved:
    """Axles, ends and hitch loads [kg] as far as the passes determine them, as the combination rolls.

    Readings that repeat each other must agree within resolution × √n of the n readings involved; where they
    do not, the one that the rest contradicts most is named. Raises Refusal as `check_passes` does.
    """
    check_passes(vehicles, passes)
    rows, columns = _rows(vehicles, passes)
    read = np.array([p.kg for p in passes])
    inverse = np.linalg.pinv(rows, rcond=1e-10)
    known = _told_by(passes, rows, read, inverse)

    parts = [(i, v, *axle, _ends(i, axle[0], axle[2])) for i, v in enumerate(vehicles) for axle in v.axles]
    # Of each axle both ends, the left and the right one.
    sums = np.zeros((len(parts), 3, len(columns)))
    for at, (*_, own) in enumerate(parts):
        for part, spots in enumerate((own, own[:1], own[-1:])):
            sums[at, part, [columns[(0, spot)] for spot in spots]] = 1.0
    weighs = iter(known(sums.reshape(-1, len(columns))))
    missing: list[tuple[str, np.ndarray]] = []
    axles: dict[tuple[int, int], AxleReading] = {}
    for at, (i, v, number, name, wheels, _) in enumerate(parts):
        called = _the(_called(v, name, len(vehicles) > 1))
        whole, *ends = (next(weighs), next(weighs), next(weighs))
        left, right = (None, None) if wheels == 1 else ends
        _must_weigh(called, whole, left, right, len(passes) - 1)
        axles[(i, number)] = AxleReading(None if left is not None and right is not None else whole, left, right)
        if whole is None:
            missing.append((called, sums[at, 0]))
        if wheels > 1 and left is None:
            missing.append((f"the ends of {called}", sums[at, 1]))
    hitch: dict[int, float | None] = {}
    for k, v in enumerate(vehicles):
        if k and v.pulled:
            row = _hitch_row(vehicles, columns, k)
            [hitch[k]] = known(row[np.newaxis])
            if hitch[k] is None:
                missing.append((f"the load of {v.name} on the hitch", row))
    step, tells = _one_more(vehicles, way, rows, missing, {(p.on, p.apart) for p in passes})
    doubt, notes = _agreement(rows, read, inverse, resolution_kg)
    return Solved(
        axles=axles, hitch_kg=hitch, unknown=tuple(words for words, _ in missing), next=step, next_tells=tells,
        doubt=doubt, notes=notes, working=_working(vehicles, axles, hitch, passes),
    )  # fmt: skip


def _inside(sums: np.ndarray, space: np.ndarray) -> np.ndarray:
    """Which sums of spots passes determine: they are left as they are by the projection on what these tell."""
    return np.asarray(np.abs(sums @ space - sums).max(axis=1) <= _ZERO)


def _told_by(
    passes: tuple[Pass, ...], rows: np.ndarray, read: np.ndarray, inverse: np.ndarray
) -> Callable[[np.ndarray], list[float | None]]:
    """What sums of spots, a row each, weigh [kg] by the passes, where they determine it.

    A trailer weighed alone checks the rest; it gives values only where the rest does not.
    """
    rolling = [i for i, p in enumerate(passes) if not _alone(p)]
    solved = [(inverse @ rows, inverse @ read)] if passes else []
    if rolling and len(rolling) < len(passes):
        coupled = np.linalg.pinv(rows[rolling], rcond=1e-10)
        solved.insert(0, (coupled @ rows[rolling], coupled @ read[rolling]))

    def known(sums: np.ndarray) -> list[float | None]:
        found: list[float | None] = [None] * len(sums)
        for space, weighs in solved:
            for i in np.flatnonzero(_inside(sums, space)):
                if found[i] is None:
                    found[i] = round(float(sums[i] @ weighs), 3) + 0.0
        return found

    return known


def _must_weigh(called: str, whole: float | None, left: float | None, right: float | None, newest: int) -> None:
    """Raises Refusal where readings leave nothing, or less, for what stands there."""
    for what, kilograms in (
        (called, whole),
        (f"the left end of {called}", left),
        (f"the right end of {called}", right),
    ):
        if kilograms is not None and kilograms <= 0:
            raise Refusal(
                f"By these readings {what} carries {both('mass', kilograms)}, and what stands weighs something. Check them.",
                f"passes.{newest}.kg",
            )


def _one_more(
    vehicles: tuple[Vehicle, ...],
    way: Way,
    rows: np.ndarray,
    missing: list[tuple[str, np.ndarray]],
    done: set[tuple[frozenset[Spot], int]],
) -> tuple[Step | None, str]:
    """The pass that would tell most of what is still unknown, and what it would tell."""
    if not missing:
        return None, ""
    best: tuple[int, Step, list[str]] | None = None
    steps = [s for w in dict.fromkeys((way, "left")) for s in guide(vehicles, w, hitch=True)]
    for step in steps:
        if (frozenset(step.on), step.apart) in done:
            continue
        more = np.vstack([rows, _rows(vehicles, [step])[0]])
        space = np.linalg.pinv(more, rcond=1e-10) @ more
        tells = [words for words, row in missing if _inside(row[np.newaxis], space)[0]]
        if tells and (best is None or len(tells) > best[0]):
            best = (len(tells), step, tells)
    return (best[1], _spoken(best[2])) if best else (None, "")


def _agreement(
    rows: np.ndarray, read: np.ndarray, inverse: np.ndarray, resolution_kg: float
) -> tuple[tuple[int, ...], tuple[Phrase, ...]]:
    """Where readings repeat each other: how far apart they are, and which one to doubt.

    For a reading i that the others determine, `residual_i / m_ii` is how far it lies from what they say, and
    resolution × √n of the rule is resolution / √m_ii, m being the projection on what is left over.
    """
    if not len(read):
        return (), ()
    left_over = np.eye(len(read)) - rows @ inverse
    residual = left_over @ read
    spare = np.diag(left_over)
    judged = [i for i in range(len(read)) if spare[i] > 1e-7]
    if not judged:
        return (), ()
    score = {i: abs(residual[i]) / np.sqrt(spare[i]) for i in judged}
    apart = {i: float(residual[i] / spare[i]) for i in judged}
    worst = max(score.values())
    spread = max(abs(a) for a in apart.values())
    # Half a kilogram covers readings typed in another unit.
    if worst <= max(resolution_kg, 0.5) + _ZERO:
        return (), (say("Readings that repeat each other agree within {0}.", kg(spread)),)
    doubt = tuple(i for i in judged if score[i] > worst - max(1e-6, worst * 1e-6))
    if len(doubt) == 1:
        i = doubt[0]
        words = say(
            f"Doubt pass {i + 1}: it says {{0}}, the others together say {{1}}. Weigh it again.",
            kg(float(read[i])), kg(float(read[i]) - apart[i]),
        )  # fmt: skip
    else:
        named = _spoken([str(i + 1) for i in doubt])
        words = say(
            f"Passes {named} contradict each other by {{0}}, more than the scale's step allows. Weigh again.",
            kg(spread),
        )
    return doubt, (words,)


def _working(
    vehicles: tuple[Vehicle, ...],
    axles: dict[tuple[int, int], AxleReading],
    hitch: dict[int, float | None],
    passes: tuple[Pass, ...],
) -> tuple[Line, ...]:
    lines: list[Line] = []
    weighed: dict[tuple[int, int], float] = {}
    for (i, number), read in axles.items():
        name = next(n for a, n, _ in vehicles[i].axles if a == number)
        called = _called(vehicles[i], name, len(vehicles) > 1)
        ends = (read.left_kg, read.right_kg)
        whole = ends[0] + ends[1] if ends[0] is not None and ends[1] is not None else read.whole_kg
        if whole is not None:
            weighed[(i, number)] = whole
            lines.append(Line(say(called[0].upper() + called[1:]), kg(whole)))
    for k, load in hitch.items():
        trailer = vehicles[k]
        if load is not None:
            lines.append(
                Line(say(f"On the hitch of {trailer.name}: all axles in front coupled, less the same alone"), kg(load))
            )
        own = [weighed.get((k, number)) for number, _, _ in trailer.axles]
        for p in passes:
            if p.apart == k and _alone(p) and None not in own:
                other = p.kg - sum(w for w in own if w is not None)
                lines.append(Line(say(f"The same by {trailer.name} alone, less its axles coupled"), kg(other)))
    return tuple(lines)
