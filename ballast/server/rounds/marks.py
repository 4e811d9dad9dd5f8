"""What the answer about an open round hangs on, as one short mark: whoever asks again and again is told whether it changed."""

from dataclasses import dataclass
from typing import Any
from uuid import UUID

from django.db.models import Aggregate, Count, Manager, Max, OuterRef, Subquery, Sum
from django.db.models.expressions import Combinable

from ballast.server.accounts.actors import Actor
from ballast.server.edge import clock
from ballast.server.edge.ready import Ready
from ballast.server.rounds.models import Reading, Round, RoundPart, Take, WheelNote


def _of(rows: Manager[Any], counted: Aggregate | Combinable) -> Subquery:
    """A number of a round's rows of some kind; null: there are none."""
    of_one = rows.filter(round=OuterRef("pk")).order_by().values("round")
    return Subquery(of_one.annotate(counted=counted).values("counted"))


def _newest(rows: Manager[Any]) -> Subquery:
    return Subquery(rows.filter(round=OuterRef("pk")).order_by("-pk").values("uuid")[:1])


# Of its rigs the changes that the database itself counts, of whatever is said of them, its gauges and its own row; of who took
# wheels the newest and how many; of what is entered the newest, and how much was taken back. What comes later has a higher number:
# whoever writes in a workspace has it to himself.
_COUNTED = Ready[tuple[Any, ...]](
    lambda workspace, pk: Round.objects.filter(
        rig__workspace=workspace, pk=pk, sealed_at=None, abandoned_at=None
    ).values_list(
        "opened_at",
        _of(RoundPart.objects, Sum("rig__standing__marks")),
        _of(Take.objects, Max("pk")),
        _of(Take.objects, Count("pk")),
        _newest(Reading.every),
        _of(Reading.every, Count("withdrawn_at")),
        _newest(WheelNote.objects),
    )
)


@dataclass(frozen=True)
class Mark:
    """What an open round's answer hangs on: all but its entries, its newest reading and note, and how many were taken back.

    The names of people are not in it: a new one is seen with the next change. The day is, for a comparison grows old, and when
    the round was opened, for its number alone may be another's in a database that was restored.
    """

    around: str
    reading: UUID | None
    withdrawn: int
    note: UUID | None

    def __str__(self) -> str:
        reading, note = (uuid.hex if uuid else "" for uuid in (self.reading, self.note))
        return f"{self.around}-{self.withdrawn}-{reading}-{note}"


def of(actor: Actor, round_id: int) -> Mark | None:
    """The mark of an open round, another one as soon as its answer is; None: none such is open."""
    told = _COUNTED.first(actor.workspace.pk, round_id)
    if told is None:
        return None
    opened_at, *counted, reading, withdrawn, note = told
    around = [f"{clock.now():%y%m%d}", f"{opened_at.timestamp():.0f}", *(str(n or 0) for n in counted)]
    return Mark("-".join(around), reading, withdrawn or 0, note)
