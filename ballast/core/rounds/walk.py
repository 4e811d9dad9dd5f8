"""The one walking order: of a combination, as it is kept."""

from collections.abc import Sequence
from typing import Protocol, TypeVar

from ballast.core.refusal import Refusal


class Walked(Protocol):
    """A wheel that can be walked to: its code in the combination, its side and whether it hangs as a spare."""

    @property
    def code(self) -> str: ...
    @property
    def side(self) -> object: ...
    @property
    def axle(self) -> int | None: ...


W = TypeVar("W", bound=Walked)
_RIGHT = (1, "R")


def walk(vehicles: Sequence[Sequence[W]], kept: Sequence[str] = ()) -> tuple[W, ...]:
    """The wheels of a combination, each vehicle's own in its walking order: down the left side of all, up the right, spares.

    `kept`: the codes in the order in which somebody walks; wheels that are not among them follow in the usual one.

    >>> from ballast.core.rigs import Wheel
    >>> car = (Wheel("1L", "", 1, "L"), Wheel("2L", "", 2, "L"), Wheel("2R", "", 2, "R"), Wheel("1R", "", 1, "R"))
    >>> towed = (Wheel("T1L", "", 1, "L"), Wheel("T1R", "", 1, "R"), Wheel("TS1", "", None, None))
    >>> " ".join(w.code for w in walk((car, towed)))
    '1L 2L T1L T1R 2R 1R TS1'
    >>> " ".join(w.code for w in walk((car, towed), ("1R", "1L")))
    '1R 1L 2L T1L T1R 2R TS1'
    """
    left = [w for own in vehicles for w in own if w.axle is not None and w.side not in _RIGHT]
    right = [w for own in reversed(vehicles) for w in own if w.axle is not None and w.side in _RIGHT]
    spares = [w for own in vehicles for w in own if w.axle is None]
    place = {code: i for i, code in enumerate(kept)}
    return tuple(sorted((*left, *right, *spares), key=lambda w: place.get(w.code, len(place))))


def just(walked: Sequence[W], codes: Sequence[str]) -> tuple[W, ...]:
    """Some of the wheels, by their codes; without codes all of them. Raises Refusal for a wheel that there is not."""
    known = {w.code for w in walked}
    strange = next((c for c in codes if c not in known), None)
    if strange is not None:
        raise Refusal(f"There is no wheel {strange} on it. It has {', '.join(w.code for w in walked)}.", "only")
    return tuple(w for w in walked if not codes or w.code in codes)
