"""What a page needs to go on without a network: the round, and every answer as data."""

from dataclasses import dataclass

from ballast.core import rounds as core
from ballast.server.rounds import stored, value
from ballast.server.rounds.models import Round


@dataclass(frozen=True)
class Bundle:
    """An open round with its decisions, and the mate of every dual wheel."""

    round: core.Round
    decisions: tuple[core.Decision, ...]
    mates: dict[str, str]


def bundle(row: Round) -> Bundle:
    """An open round with all its answers, for the round's gauge and for each that somebody took."""
    at, lines = value.conditions(row), stored.lines(row)
    in_hand = dict.fromkeys((row.gauge_id, *(t.gauge_id for t in row.takes.all())))
    return Bundle(value.of(row), core.decisions(at, lines, in_hand), core.mates_among(lines))
