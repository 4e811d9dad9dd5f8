"""The round: `line` (a wheel and what it is held against), `walk` (the walking order), `answer` (what a reading means),
`wheel` (which readings stand, what is open), `state` (the round as a value, may it be sealed), `decisions` (all answers as data),
`morning` (what many tires read before anyone kneels).
"""

from ballast.core.refine import Tread
from ballast.core.rounds.answer import (
    AT_TARGET,
    RECHECK_DAYS,
    WORDS,
    Answer,
    Foretold,
    WheelGoal,
    Word,
    add_below,
    answer,
    check_again_at,
    foretell,
    foretell_all,
    likely,
    mate_of,
    mate_stopped,
    stop_at,
    stop_without_target,
    touched_by,
)
from ballast.core.rounds.decisions import (
    Decision,
    Knot,
    Sheet,
    Stretch,
    decision_sheet,
    decisions,
    mates_among,
)
from ballast.core.rounds.line import SIDES, Aim, Bare, Left, Side, WheelLine, aim_of_axle, aim_of_spare, aim_on_ground
from ballast.core.rounds.mates import Mates, Stands, differ, mates, mates_words, retake
from ballast.core.rounds.morning import (
    AWAITED,
    NOT_FORETOLD,
    Around,
    Awaited,
    HeldHere,
    Morning,
    asking_dawn,
    awaited,
    counted,
    dawn_words,
    foresee,
    held_all,
    held_here,
    known,
    low_kpa,
)
from ballast.core.rounds.state import (
    BROUGHT_BACK_WITHIN_DAYS,
    ENTERED_WITHIN_DAYS,
    LastWord,
    NamedLeak,
    Round,
    State,
    Taken,
    last_words,
    must_be_sealable,
    state,
    together,
    without_target,
)
from ballast.core.rounds.walk import just, walk
from ballast.core.rounds.wheel import (
    Cap,
    Conditions,
    Held,
    Leak,
    Note,
    Noted,
    Reading,
    Seen,
    Sunny,
    Valve,
    Wheel,
    beside_display,
    counting,
    expected,
    goal,
    held,
    should_show,
    wheel,
)

__all__ = [
    "AT_TARGET", "AWAITED", "BROUGHT_BACK_WITHIN_DAYS", "ENTERED_WITHIN_DAYS", "NOT_FORETOLD", "RECHECK_DAYS", "SIDES", "WORDS", "Aim",
    "Answer", "Around", "Awaited", "Bare", "Cap", "Conditions", "Decision", "Foretold", "Held", "HeldHere", "Knot", "LastWord", "Leak", "Left",
    "Mates", "Morning", "NamedLeak", "Note", "Noted", "Reading", "Round", "Seen", "Sheet", "Side", "Stands", "State", "Stretch", "Sunny",
    "Taken", "Tread", "Valve", "Wheel", "WheelGoal", "WheelLine", "Word", "add_below", "aim_of_axle", "aim_of_spare", "aim_on_ground",
    "answer", "asking_dawn", "awaited", "beside_display", "check_again_at", "counted", "counting", "dawn_words", "decision_sheet",
    "decisions", "differ", "expected", "foresee", "foretell", "foretell_all", "goal", "held", "held_all", "held_here",
    "just", "known", "last_words", "likely", "low_kpa", "mate_of", "mate_stopped", "mates", "mates_among", "mates_words", "must_be_sealable",
    "retake", "should_show", "state", "stop_at", "stop_without_target", "together", "touched_by", "walk", "wheel", "without_target",
]  # fmt: skip
