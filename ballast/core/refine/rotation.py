"""Rotation: when it is due, where each tire may go, the patterns that are left, and the air that the moved ones want."""

import datetime as dt
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from ballast.core.refine.wear import LIMIT_MM, STEER_LIMIT_MM, depth
from ballast.core.refusal import Refusal
from ballast.core.rigs import TRAILERS, Axle, Rig, Row, walking_order
from ballast.core.working import Measure, Phrase, kg, kpa, plain, say

COARSE_KM, USUAL_KM = 8000.0, 12000.0
# Axles that differ by so much are rotated whatever the distance [mm].
APART_MM = 1.5
Moves = Mapping[str, str]


@dataclass(frozen=True)
class Place:
    """A wheel, and what it asks of whatever tire stands there: the size, the load on the heaviest tire of its axle [kg], the
    target [kPa], the least tread [mm]. Unknown is None; a spare has no axle."""

    code: str
    axle: int | None
    side: str | None
    size: str
    row: Row = "single"
    load_kg: float | None = None
    target_kpa: float | None = None
    least_mm: float = LIMIT_MM


@dataclass(frozen=True)
class Turned:
    """A tire by the wheel where it stands: its size, whether its tread runs one way only, what it may carry in either
    mounting [kg], the most that its sidewall bears [kPa], its least tread [mm]. Unknown is None."""

    code: str
    size: str
    one_way: bool | None = None
    single_kg: float | None = None
    dual_kg: float | None = None
    most_kpa: float | None = None
    tread_mm: float | None = None

    def carries_kg(self, row: Row) -> float | None:
        return self.single_kg if row == "single" else self.dual_kg


def least_mm(rig: Rig, axle: int | None) -> float:
    """The tread [mm] that a wheel asks for: more where it steers a heavy rig."""
    steers = axle == 1 and rig.kind not in TRAILERS and not rig.light
    return STEER_LIMIT_MM if steers else LIMIT_MM


def refused(tire: Turned, start: Place, end: Place) -> Phrase | None:
    """Why a tire may not go to a wheel; None: nothing that is known speaks against it."""
    its, there = plain(f"the tire at {tire.code}"), plain(end.code)
    if tire.size != end.size:
        return say(plain(f"{end.code} takes {end.size or 'an unknown size'}; {its} is {tire.size or 'unknown'}."))
    if tire.one_way and start.side is not None and end.side is not None and start.side != end.side:
        return say(f"{there} is on the other side; {its} runs one way only and stays on its own.")
    carries = tire.carries_kg(end.row)
    if carries is not None and end.load_kg is not None and carries < end.load_kg:
        return say(f"{there} asks {{0}} of a tire; {its} may carry {{1}} there.", kg(end.load_kg), kg(carries))
    if tire.most_kpa is not None and end.target_kpa is not None and end.target_kpa > tire.most_kpa:
        return say(f"{there} is kept at {{0}}; {its} bears {{1}} at most.", kpa(end.target_kpa), kpa(tire.most_kpa))
    if end.axle is not None and tire.tread_mm is not None and tire.tread_mm < end.least_mm:
        return say(f"{there} asks {depth(end.least_mm)} of tread; {its} has {depth(tire.tread_mm)}.")
    return None


def unsure(tire: Turned, start: Place, end: Place) -> tuple[Phrase, ...]:
    """What has to be looked at before a tire goes to a wheel, because it is not known."""
    phrases = []
    if tire.one_way is None and start.side is not None and end.side is not None and start.side != end.side:
        phrases.append(
            say(
                plain(
                    f"{tire.code} → {end.code}: look for an arrow first. A tread that runs one way stays on its side."
                )
            )
        )
    if end.axle is not None and end.axle != start.axle and (tire.carries_kg(end.row) is None or end.load_kg is None):
        phrases.append(say(plain(f"{tire.code} → {end.code}: whether it carries the load there is not known.")))
    return tuple(phrases)


@dataclass(frozen=True)
class Judged:
    """Moves held against what is known: what forbids them, and what to look at first."""

    refused: tuple[Phrase, ...]
    unsure: tuple[Phrase, ...]


def judge(moves: Moves, tires: Sequence[Turned], places: Sequence[Place]) -> Judged:
    """Every move of a rotation; of wheels or tires that there are not nothing is said here."""
    at, of = {p.code: p for p in places}, {t.code: t for t in tires}
    known = [(of[s], at[s], at[e]) for s, e in moves.items() if s in of and s in at and e in at]
    against = [phrase for move in known if (phrase := refused(*move)) is not None]
    return Judged(tuple(against), tuple(phrase for move in known for phrase in unsure(*move)))


def check_moves(judged: Judged, looked: bool) -> None:
    """Raises Refusal for moves that something known forbids, or about which something is not known and was not looked at."""
    if judged.refused:
        raise Refusal(judged.refused[0].in_both(), "moves")
    if judged.unsure and not looked:
        raise Refusal(f"Look first, and say that you did. {judged.unsure[0].in_both()}", "looked")


@dataclass(frozen=True)
class Pattern:
    """A usual rotation: from which wheel to which, and what to look at first."""

    key: Literal["sides", "front-rear", "cross", "cross-spare"]
    name: str
    moves: dict[str, str]
    unsure: tuple[Phrase, ...] = ()


def patterns(rig: Rig, tires: Sequence[Turned], places: Sequence[Place]) -> tuple[Pattern, ...]:
    """The usual patterns that nothing known forbids. Duals move as pairs, so that mates stay matched; a pattern that would
    take a wheel without a tire is left out."""
    fitted = {t.code for t in tires}
    allowed = []
    for pattern in _usual(rig, [p.code for p in places if p.axle is None]):
        said = judge(pattern.moves, tires, places)
        if pattern.moves and set(pattern.moves) <= fitted and not said.refused:
            allowed.append(Pattern(pattern.key, pattern.name, pattern.moves, said.unsure))
    return tuple(allowed)


def _usual(rig: Rig, spares: Sequence[str]) -> list[Pattern]:
    sides: dict[str, str] = {}
    for w in walking_order(rig.axles, rig.kind):
        if w.side in ("L", "R"):
            sides[w.code] = w.code.replace("L", "R") if w.side == "L" else w.code.replace("R", "L")
    usual = [Pattern("sides", "Left and right of each axle change places, duals as pairs", sides)]
    single = [a for a in rig.axles if a.row == "single" and a.wheels == 2]
    if len(single) == 2 and len(rig.axles) == 2:
        a, b = single
        across = _both(a, b, crossed=True)
        usual.append(Pattern("front-rear", "Front and rear change places, each on its side", _both(a, b)))
        usual.append(Pattern("cross", "Rear forward on its side, front back across", across))
        if len(spares) == 1 and rig.kind not in TRAILERS:
            turn = across | {spares[0]: f"{b.number}R", f"{a.number}L": spares[0]}
            usual.append(Pattern("cross-spare", "The same, the spare takes its turn", turn))
    elif len(single) >= 2 and rig.kind in TRAILERS:
        ends = _both(single[0], single[-1])
        usual.append(Pattern("front-rear", "First and last axle change places, each on its side", ends))
    return usual


def _both(a: Axle, b: Axle, crossed: bool = False) -> dict[str, str]:
    """Moves between the wheels of two single axles: forward on their side, back `crossed` or straight."""
    other = {"L": "R", "R": "L"}
    moves: dict[str, str] = {}
    for side in ("L", "R"):
        moves[f"{b.number}{side}"] = f"{a.number}{side}"
        moves[f"{a.number}{side}"] = f"{b.number}{other[side] if crossed else side}"
    return moves


def apart_mm(depths: Mapping[int, Sequence[float]]) -> float | None:
    """How far the axles differ in tread [mm], each by the mean of its tires; None: fewer than two are known.

    >>> apart_mm({1: (6.0, 6.4), 2: (8.0, 7.8)})
    1.7
    """
    means = [sum(of) / len(of) for of in depths.values() if of]
    return round(max(means) - min(means), 6) if len(means) > 1 else None


def coarse_of(treads: Iterable[bool | None]) -> bool | None:
    """Whether the treads of a rig count as coarse: where one is, all are rotated sooner; None: of one it is not known.

    >>> coarse_of((False, True)), coarse_of((False, None)), coarse_of((False,)), coarse_of(())
    (True, None, False, None)
    """
    said = set(treads)
    return True if True in said else None if None in said or not said else False


def stood_km(now_km: float | None, came_km: Iterable[float | None]) -> float | None:
    """How far a rig ran since the longest standing of its tires came to its wheel, by the odometer at which each came; None:
    that is not known.

    >>> stood_km(9000, (1000, None, 4000)), stood_km(9000, (None,))
    (8000, None)
    """
    known = [km for km in came_km if km is not None]
    return now_km - min(known) if known and now_km is not None else None


def due(since_km: float | None, coarse: bool | None, apart: float | None) -> Phrase | None:
    """Why a rotation is due; None: it is not, or nothing is known. A tread of which it is not known counts as coarse.

    >>> due(13000, False, None).show("metric")
    'Rotate: 13,000 km since the last.'
    """
    if apart is not None and apart >= APART_MM:
        return say(f"Rotate: the axles differ by {depth(apart)} of tread.")
    if since_km is not None and since_km >= (USUAL_KM if coarse is False else COARSE_KM):
        return say("Rotate: {0} since the last.", Measure("distance", since_km))
    return None


@dataclass(frozen=True)
class AirJob:
    """A tire that was moved: the target stays with the axle, so it goes from one to the other [kPa]. None: not known."""

    code: str
    from_kpa: float | None
    to_kpa: float | None


def air_jobs(moves: Moves, targets_kpa: Mapping[str, float | None]) -> tuple[AirJob, ...]:
    """The wheels whose tire came from another target, by where they are now. A target that is not known is no zero: its wheel
    is read too."""
    jobs = []
    for start, end in sorted(moves.items(), key=lambda m: m[1]):
        before, after = targets_kpa.get(start), targets_kpa.get(end)
        if before is None or after is None or abs(before - after) > 0.05:
            jobs.append(AirJob(end, before, after))
    return tuple(jobs)


@dataclass(frozen=True)
class Stay:
    """A tire on a rig, from a day until another; None: it is there now."""

    rig: int
    fitted_on: dt.date
    removed_on: dt.date | None


def unbroken_from(stays: Sequence[Stay], anew_on: dt.date | None = None) -> dt.date | None:
    """Since when a tire has run by one odometer, its stays oldest first: moved about on one rig it goes on, in the store or
    on another rig it does not, and where it was retreaded (`anew_on`) its tread is another. None: it is on no rig.

    >>> day = dt.date
    >>> unbroken_from((Stay(1, day(2025, 1, 1), day(2025, 6, 1)), Stay(1, day(2025, 6, 1), None)))
    datetime.date(2025, 1, 1)
    """
    if not stays or stays[-1].removed_on is not None:
        return None
    begun = stays[-1]
    for before in reversed(stays[:-1]):
        if before.rig != begun.rig or before.removed_on != begun.fitted_on:
            break
        begun = before
    return begun.fitted_on if anew_on is None else max(begun.fitted_on, anew_on)
