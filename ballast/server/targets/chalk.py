"""What the chalk said: a result belongs to an axle and a load state, and is one of the schools."""

import datetime as dt

from django.db import transaction
from django.db.models import CharField, Exists, OuterRef
from django.db.models.functions import Cast

from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.ready import Ready
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Fitting
from ballast.server.targets.models import ChalkResult
from ballast.server.targets.schemas import ChalkOut


def results(actor: Actor, rig_id: int) -> list[ChalkOut]:
    """The chalk results of a rig that stand, newest first."""
    rig = rigs.rig(actor, rig_id)
    typed = rigs.rig_of(rig)
    rows = ChalkResult.objects.filter(rig=rig, withdrawn_at=None).select_related("load_state", "by")
    return [
        ChalkOut(
            id=r.pk, number=r.number, name=typed.axle_name(r.number), kpa=r.kpa, typed=r.typed,
            load_state=r.load_state.name, done_on=r.done_on, note=r.note, by=r.by.shown_name, even=r.even,
        )
        for r in rows
    ]  # fmt: skip


_OTHERS = Fitting.objects.filter(
    rig=OuterRef("rig"), wheel__startswith=Cast(OuterRef("number"), CharField()), fitted_on__gt=OuterRef("done_on")
)
_EVEN = Ready[tuple[int, int, float]](
    lambda states: (
        ChalkResult.objects.filter(~Exists(_OTHERS), load_state__in=states, withdrawn_at=None, even=True)
        .order_by("done_on", "id")
        .values_list("load_state_id", "number", "kpa")
    )
)


def chalk_of(state_id: int | None) -> dict[int, float]:
    """The newest even chalk result of every axle in a load state [kPa]."""
    return {} if state_id is None else chalk_in([state_id]).get(state_id, {})


def chalk_in(states: list[int]) -> dict[int, dict[int, float]]:
    """The newest even chalk results of several load states, by state and axle [kPa]; of tires that are still on."""
    by_rig: dict[int, dict[int, float]] = {}
    for state, number, kpa in _EVEN(states):
        by_rig.setdefault(state, {})[number] = kpa
    return by_rig


def fitted_since(rig_id: int, number: int, on: dt.date) -> bool:
    """Whether other tires came onto an axle after a day: what the chalk said was of those before."""
    return Fitting.objects.filter(rig=rig_id, wheel__startswith=str(number), fitted_on__gt=on).exists()


@transaction.atomic
def withdraw(actor: Actor, rig_id: int, result_id: int, withdrawn: bool) -> list[ChalkOut]:
    """Takes a result back, or takes that back."""
    actor.must(May.TARGETS)
    row = ChalkResult.objects.filter(rig=rigs.rig(actor, rig_id)).get(pk=result_id)
    row.withdrawn_at = clock.now() if withdrawn else None
    row.save()
    return results(actor, rig_id)
