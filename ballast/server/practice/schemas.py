import datetime as dt
from typing import Annotated, Literal

from ballast.core.practice import Stage
from ballast.core.working import Line, Phrase
from ballast.server.edge.quantities import Code, Words
from ballast.server.edge.schema import Out, Strict
from ballast.server.edge.words import PairOut

Key = Annotated[str, Words(12, 1)]


class ExerciseOut(Out):
    """An exercise, and how it went for whoever asks: `best` of 0 to 1, null: it was never judged."""

    key: str
    name: str
    goal: str
    stage: Stage
    minutes: Literal[2, 10]
    tries: int
    done: bool
    best: float | None


class JudgementOut(Out):
    """How it came out, and what was behind it."""

    right: bool
    reason_right: bool
    earned: float
    words: str
    comes_to: str
    reason: str
    working: list[Line]
    # What was on record, to stand beside it.
    left: list[Line]


class TryOut(Out):
    """The try in hand. `hints` are those taken, `left` how many there are besides; `wheels` where a gauge can be put."""

    exercise: ExerciseOut
    workspace: int
    rig: int
    begun_at: dt.datetime
    facts: list[Phrase]
    hints: list[str]
    hints_left: int
    hint_costs: float
    reasons: list[PairOut]
    gauges: list[str]
    wheels: list[str]
    pads: list[str]
    # Its tires are warm, and a night can be let pass.
    warm: bool
    judgement: JudgementOut | None


class PracticeOut(Out):
    exercises: list[ExerciseOut]
    done: int
    # The exercise of an open try, to go on with; and where it is.
    open: str
    workspace: int | None


class PractisedOut(Out):
    """What a manager sees of somebody: which exercises are done, and nothing else."""

    name: str
    done: list[str]


class TryIn(Strict):
    """`again`: with the same numbers as last time."""

    exercise: Key
    again: bool = False


class LookIn(Strict):
    """A gauge put on a wheel by its label; without one, a pad put under it."""

    wheel: Code
    gauge: Annotated[str, Words(40)] = ""


class LookOut(Out):
    """What it shows: a gauge [kPa], or a pad [kg]."""

    kpa: float | None
    kg: float | None


class JudgeIn(Strict):
    reason: Key
