"""What a kind of rig usually looks like from above: proposed to be confirmed, drawn where nobody measured, never computed with."""

from dataclasses import dataclass

# Axles as (behind the first [m], track [m], wheels across).
_OUTLINES: dict[str, tuple[tuple[float, float, int], ...]] = {
    "coach": ((0.0, 2.05, 2), (6.0, 1.85, 4)),
    "motorhome": ((0.0, 1.8, 2), (4.5, 1.6, 4)),
    "van": ((0.0, 1.7, 2), (3.6, 1.7, 2)),
    "pickup": ((0.0, 1.7, 2), (3.7, 1.7, 2)),
    "car": ((0.0, 1.55, 2), (2.7, 1.55, 2)),
    "motorcycle": ((0.0, 0.2, 1), (1.5, 0.2, 1)),
    "straight_truck": ((0.0, 2.05, 2), (5.0, 1.85, 4)),
    "tractor": ((0.0, 2.05, 2), (4.2, 1.85, 4), (5.5, 1.85, 4)),
    "semitrailer": ((0.0, 1.85, 4), (1.3, 1.85, 4)),
    "full_trailer": ((0.0, 1.85, 4), (5.0, 1.85, 4)),
    "trailer": ((0.0, 1.9, 2),),
    "camper": ((0.0, 1.9, 2),),
    "fifth_wheel": ((0.0, 2.0, 2), (0.9, 2.0, 2)),
}
# Between an axle that its kind does not usually have and the one before it.
_MORE_M = 1.3


@dataclass(frozen=True)
class Drawn:
    """Where an axle is drawn: meters behind the first, track [m], wheels across it."""

    position_m: float
    track_m: float
    wheels: int


def outline(kind: str) -> tuple[Drawn, ...]:
    """The axles that a kind usually has.

    >>> [a.wheels for a in outline("tractor")]
    [2, 4, 4]
    """
    return tuple(Drawn(*axle) for axle in _OUTLINES[kind])


def drawn(kind: str, axles: tuple[tuple[float | None, float | None, int], ...]) -> tuple[Drawn, ...]:
    """Where axles, as (position, track, wheels) with None for what nobody measured, are drawn.

    What is known stays; the rest lies as usual behind the axle before it, and ahead of the next that is known.

    >>> [a.position_m for a in drawn("coach", ((None, None, 2), (None, None, 4)))]
    [0.0, 6.0]
    >>> [a.position_m for a in drawn("tractor", ((0.0, None, 2), (None, None, 4), (4.0, None, 4)))]
    [0.0, 2.0, 4.0]
    """
    usual = _OUTLINES.get(kind, ())
    places: list[Drawn] = []
    for i, (position, track, wheels) in enumerate(axles):
        before = places[-1].position_m if places else None
        if position is None and before is None:
            position = 0.0
        elif position is None and before is not None:
            position = before + (usual[i][0] - usual[i - 1][0] if i < len(usual) else _MORE_M)
            ahead = next((p for p, _, _ in axles[i + 1 :] if p is not None), None)
            if ahead is not None and position >= ahead:
                position = (before + ahead) / 2
        if track is None:
            track = usual[min(i, len(usual) - 1)][1] if usual else 1.8
        places.append(Drawn(round(position or 0.0, 2), track, wheels))
    return tuple(places)
