"""Situations to make mistakes in: drawn by a seed, with a hidden truth, judged by what somebody's work left on record.

`scene` (the rig it is played on), `exercise` (what an exercise is, and the judgement), then the exercises: `load` (whose number
it is), `air`, `tools`, `sensing`, `ground`.
"""

from ballast.core.practice import air, ground, load, sensing, tools
from ballast.core.practice.exercise import (
    HINT_COSTS,
    LET_OUT_KPA,
    OPEN,
    Drawn,
    Exercise,
    Judgement,
    Left,
    Mistake,
    Stage,
    because,
    judge,
    left_lines,
    said,
)
from ballast.core.practice.scene import GAUGE, AxleScene, Made, Pump, Scene, Shown

EXERCISES: dict[str, Exercise] = {e.key: e for room in (load, air, tools, sensing, ground) for e in room.EXERCISES}

__all__ = [
    "EXERCISES",
    "GAUGE",
    "HINT_COSTS",
    "LET_OUT_KPA",
    "OPEN",
    "AxleScene",
    "Drawn",
    "Exercise",
    "Judgement",
    "Left",
    "Made",
    "Mistake",
    "Pump",
    "Scene",
    "Shown",
    "Stage",
    "because",
    "judge",
    "left_lines",
    "said",
]
