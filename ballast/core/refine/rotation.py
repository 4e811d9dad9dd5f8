"""Rotation: when it is due, which patterns these tires allow, and the air that the moved ones want."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ballast.core.working import Measure, Phrase, say

COARSE_KM, USUAL_KM = 8000.0, 12000.0
# Axles that differ by so much are rotated whatever the distance [mm].
APART_MM = 1.5


@dataclass(frozen=True)
class Turned:
    """A tire at a wheel, as rotation takes it: its axle and side (L, R; None: a spare), size, whether it runs one way only."""

    code: str
    axle: int | None
    side: str | None
    size: str = ""
    directional: bool = False
    full_size: bool = True


@dataclass(frozen=True)
class PatternMove:
    """A pattern: its name, and to where each tire goes."""

    name: str
    moves: Mapping[str, str]


def _allowed(tires: Mapping[str, Turned], moves: Mapping[str, str]) -> bool:
    """Directional tires stay on their side, sizes on their axle's size, spares move only where full-size."""
    for start, end in moves.items():
        tire, place = tires[start], tires[end]
        if tire.size != place.size:
            return False
        if tire.directional and tire.side is not None and place.side is not None and tire.side != place.side:
            return False
        if (tire.axle is None or place.axle is None) and not (tire.full_size and place.full_size):
            return False
    return bool(moves)


def patterns(tires: Sequence[Turned]) -> tuple[PatternMove, ...]:
    """The patterns that the tires of a rig on two single axles allow; of others none is usual, one's own is drawn.

    >>> four = [Turned(c, int(c[0]), c[1], "265/70R17", directional=True) for c in ("1L", "1R", "2L", "2R")]
    >>> [p.name for p in patterns(four)]
    ['Front to back']
    """
    at = {t.code: t for t in tires}
    codes = [t.code for t in tires if t.axle is not None]
    if sorted(codes) != ["1L", "1R", "2L", "2R"]:
        return ()
    usual = [
        PatternMove("Front to back", {"1L": "2L", "2L": "1L", "1R": "2R", "2R": "1R"}),
        PatternMove("Crosswise", {"1L": "2R", "2R": "1L", "1R": "2L", "2L": "1R"}),
        PatternMove("Back straight, front across", {"2L": "1L", "2R": "1R", "1L": "2R", "1R": "2L"}),
        PatternMove("Side to side", {"1L": "1R", "1R": "1L", "2L": "2R", "2R": "2L"}),
    ]
    spare = next((t.code for t in tires if t.axle is None), None)
    if spare is not None:
        usual.append(PatternMove("Spare taken in", {"1L": "2L", "2L": "1R", "1R": "2R", "2R": spare, spare: "1L"}))
    return tuple(p for p in usual if _allowed(at, p.moves))


def due(since_km: float | None, coarse: bool, apart_mm: float | None) -> Phrase | None:
    """Why a rotation is due; None: it is not, or nothing is known.

    >>> due(13000, False, None).show("metric")
    'Rotate: 13,000 km since the last.'
    """
    if apart_mm is not None and apart_mm >= APART_MM:
        return say(f"Rotate: the axles differ by {apart_mm:.1f} mm of tread.")
    if since_km is not None and since_km >= (COARSE_KM if coarse else USUAL_KM):
        return say("Rotate: {0} since the last.", Measure("distance", since_km))
    return None


@dataclass(frozen=True)
class AirJob:
    """A tire that was moved: the target stays with the axle, so it goes from one to the other [kPa]."""

    code: str
    from_kpa: float
    to_kpa: float


def air_jobs(moves: Mapping[str, str], targets_kpa: Mapping[str, float | None]) -> tuple[AirJob, ...]:
    """The wheels whose tire came from another target, by where they are now; an unknown target is no job and no zero."""
    jobs = []
    for start, end in sorted(moves.items(), key=lambda m: m[1]):
        before, after = targets_kpa.get(start), targets_kpa.get(end)
        if before is not None and after is not None and abs(before - after) > 0.05:
            jobs.append(AirJob(end, before, after))
    return tuple(jobs)
