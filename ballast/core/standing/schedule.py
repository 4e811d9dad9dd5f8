"""What is due of a rig and on which day, each with its reason."""

import datetime as dt
from dataclasses import dataclass
from typing import Literal

from ballast.core.standing.due import round_due
from ballast.core.standing.facts import Facts
from ballast.core.working import Phrase, plain, say

DueKind = Literal["round", "weigh", "trip", "rolls", "age"]
DUE_KINDS: dict[DueKind, str] = {
    "round": "Round", "weigh": "Weighing", "trip": "Trip begins", "rolls": "Rolls again", "age": "Tire age",
}  # fmt: skip


@dataclass(frozen=True)
class DueOn:
    """Something due of a rig; `on` None: now, for it was never done or what was done says nothing any more."""

    kind: DueKind
    on: dt.date | None
    why: Phrase

    def stands(self, today: dt.date) -> bool:
        """Whether it is still due: a trip that has begun is not, whatever else is past is."""
        return self.kind != "trip" or not past(self.on, today)

    def at_once(self, asked: Phrase | None, today: dt.date) -> "DueOn":
        """The same; a round that is not due yet is due now where something ahead asks for it."""
        if asked is None or self.kind != "round" or due_by(self.on, today):
            return self
        return DueOn("round", None, asked)


def due_by(on: dt.date | None, day: dt.date) -> bool:
    """Whether something is due on a day, or was before it; what was never done is."""
    return on is None or on <= day


def past(on: dt.date | None, today: dt.date) -> bool:
    """Whether the day on which something was due is over."""
    return on is None or on < today


def dues(rig: Facts, leaves: dt.date | None = None) -> tuple[DueOn, ...]:
    """All that is due of a rig, the next first; while it rests neither its round nor its weighing.

    `leaves`: when the trip that is kept begins. A round is due at the latest then.
    """
    found: list[DueOn] = []
    if rig.laid_up is not None and rig.laid_up_words is not None:
        found.append(DueOn("rolls", rig.laid_up.until, say("Every tire is read before it rolls")))
    elif rig.aims is not None:
        found.append(_round(rig))
    if rig.ticket is not None and not rig.resting:
        found.append(
            DueOn("weigh", rig.ticket.again.on, say("A year after the last weighing, or what was put aboard since"))
        )
    if leaves is not None:
        found.append(DueOn("trip", leaves, say("The trip that is kept begins")))
    if rig.ages_on is not None:
        found.append(DueOn("age", rig.ages_on, say("A tire grows old enough to be looked at, or replaced")))
    return tuple(sorted(found, key=lambda d: d.on or dt.date.min))


def _round(rig: Facts) -> DueOn:
    if rig.last is None:
        return DueOn("round", None, say("Never done"))
    if rig.last.overtaken:
        return DueOn("round", None, say(f"Since the last: {plain(', '.join(rig.last.overtaken))}"))
    due = round_due(rig.last.read_at.date(), rig.last.next_on, rig.today)
    return DueOn("round", due.on, say(plain(rig.last.next_why or "A week after the last")))
