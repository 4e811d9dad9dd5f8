"""What the answer about an open round hangs on, as one short mark: whoever asks again and again is told whether it changed."""

from typing import Any

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


# Of its rigs the changes that the database itself counts, of whatever is said of them, its gauges and its own row; of what is
# entered how much came and how much was taken back, and of who took wheels the newest and how many.
_COUNTED = Ready[tuple[Any, ...]](
    lambda workspace, pk: Round.objects.filter(
        rig__workspace=workspace, pk=pk, sealed_at=None, abandoned_at=None
    ).values_list(
        "opened_at",
        _of(RoundPart.objects, Sum("rig__standing__marks")),
        _of(Reading.every, Count("pk") + Count("withdrawn_at")),
        _of(WheelNote.objects, Count("pk")),
        _of(Take.objects, Max("pk")),
        _of(Take.objects, Count("pk")),
    )
)


def of(actor: Actor, round_id: int) -> str:
    """The mark of an open round, another one as soon as its answer is; empty: none such is open.

    The names of people are not in it: a new one is seen with the next change. The day is, for a comparison grows old, and when
    the round was opened, for its number alone may be another's in a database that was restored.
    """
    told = _COUNTED.first(actor.workspace.pk, round_id)
    if told is None:
        return ""
    opened_at, *counted = told
    return "-".join([f"{clock.now():%y%m%d}", f"{opened_at.timestamp():.0f}", *(str(n or 0) for n in counted)])
