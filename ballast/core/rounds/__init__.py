"""The round: `answer` (what a reading means at a wheel), `sheet` (all of that as data, for a page without a network)."""

from ballast.core.rounds.answer import (
    RECHECK_DAYS,
    Answer,
    Foretold,
    Mates,
    Stands,
    WheelGoal,
    Word,
    add_below,
    answer,
    check_again_at,
    differ,
    foretell,
    likely,
    mate_of,
    mate_stopped,
    mates,
    mates_words,
    retake,
    stop_at,
    stop_without_target,
)
from ballast.core.rounds.sheet import Knot, Sheet, Stretch, decision_sheet

__all__ = [
    "RECHECK_DAYS", "Answer", "Foretold", "Knot", "Mates", "Sheet", "Stands", "Stretch", "WheelGoal", "Word", "add_below", "answer", "check_again_at",
    "decision_sheet", "differ", "foretell", "likely", "mate_of", "mate_stopped", "mates", "mates_words", "retake", "stop_at", "stop_without_target",
]  # fmt: skip
