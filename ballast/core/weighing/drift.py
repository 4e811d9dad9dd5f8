"""What crept up between two weighings."""

from dataclasses import dataclass
from typing import Literal

from ballast.core.weighing.loads import RigLoad


@dataclass(frozen=True)
class Drift:
    """The change of an axle or one of its ends, or (axle 0) of the gross, between two weighings [kg]."""

    axle: int
    name: str
    end: Literal["whole", "left", "right"]
    before_kg: float
    now_kg: float

    @property
    def change_kg(self) -> float:
        return self.now_kg - self.before_kg


def drifts(before: RigLoad, now: RigLoad) -> tuple[Drift, ...]:
    """What both weighings know, gross first, then each axle and its ends. What one of them does not know is left out."""
    known: list[tuple[int, str, Literal["whole", "left", "right"], float | None, float | None]] = [
        (0, "Gross", "whole", before.total_kg, now.total_kg)
    ]
    for old, new in zip(before.axles, now.axles, strict=False):
        known += [
            (new.number, new.name, "whole", old.total_kg, new.total_kg),
            (new.number, new.name, "left", old.left_kg, new.left_kg),
            (new.number, new.name, "right", old.right_kg, new.right_kg),
        ]
    return tuple(Drift(a, n, e, was, is_) for a, n, e, was, is_ in known if was is not None and is_ is not None)
