from typing import Any

from django.db import transaction
from django.db.models import Exists, OuterRef, QuerySet

from ballast.core import rigs as core_rigs
from ballast.core import weighing as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.days import latest_day
from ballast.server.edge.problems import Conflict
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.weighing.models import AxleWeight, Weighing
from ballast.server.weighing.schemas import AxleWeightIn, WeighingIn

_ENDS = ("whole_kg", "left_kg", "right_kg")


def limits_of(rig: core_rigs.Rig) -> tuple[core.AxleLimits, ...]:
    """What each axle is held against."""
    return tuple(
        core.AxleLimits(
            axle.number,
            rig.axle_name(axle.number),
            axle.wheels,
            axle.track_m,
            axle.gawr_kg,
            axle.tire.max_kg(axle.row, rig.kind) if axle.tire else None,
        )
        for axle in rig.axles
    )


def weigh(rig: Rig, given: list[AxleWeightIn], resolution_kg: float) -> core.RigLoad:
    """Weights as typed, held against a rig. Raises Refusal, also where more axles are weighed than there are."""
    typed = rigs.rig_of(rig)
    if len(given) > len(typed.axles):
        raise Refusal(
            f"{rig.name} has {len(typed.axles)} axles, {len(given)} are weighed. Leave out what is not its own.",
            f"axles.{len(typed.axles)}",
        )
    reads = {
        i + 1: core.AxleReading(*(entry.value if (entry := getattr(axle, end)) else None for end in _ENDS))
        for i, axle in enumerate(given)
    }
    return core.weigh_rig(limits_of(typed), reads, typed.gvwr_kg, resolution_kg)


def loads_of(row: Weighing, rig: core_rigs.Rig) -> core.RigLoad:
    """The loads of a stored weighing against the rig as it is now."""
    reads = {a.number: core.AxleReading(a.whole_kg, a.left_kg, a.right_kg) for a in row.axles.all()}
    return core.weigh_rig(limits_of(rig), reads, rig.gvwr_kg, row.resolution_kg)


def weighings(actor: Actor, rig: Rig) -> QuerySet[Weighing]:
    """Weighings of a rig, newest first, each with whether a later one amends it."""
    actor.must(May.READ)
    later = Exists(Weighing.objects.filter(amends=OuterRef("pk")))
    return (
        Weighing.objects.filter(rig=rig, rig__workspace=actor.workspace)
        .annotate(amended=later)
        .select_related("entered_by")
        .prefetch_related("axles")
    )


def in_force(actor: Actor, rig: Rig) -> Weighing | None:
    """The newest weighing that is not amended, with its axles alone at hand."""
    actor.must(May.READ)
    mine = Weighing.objects.filter(rig=rig, rig__workspace=actor.workspace, amended_by=None)
    return mine.prefetch_related("axles").first()


@transaction.atomic
def save_weighing(actor: Actor, rig_id: int, data: WeighingIn) -> Weighing:
    """Stores a ticket. Raises Refusal for what contradicts itself, a date ahead, or a ticket with nothing on it."""
    actor.must(May.WEIGH)
    rig = rigs.rig(actor, rig_id)
    if data.weighed_on > latest_day():
        raise Refusal("The date lies in the future. Check it.", "weighed_on")
    resolution = data.resolution_kg.value if data.resolution_kg else 0.0
    weigh(rig, data.axles, resolution)
    if not any(getattr(axle, end) for axle in data.axles for end in _ENDS):
        raise Refusal("Nothing is weighed yet. Enter at least one axle, by its ends or as a whole.", "axles.0.whole_kg")
    for i, axle in enumerate(data.axles):
        for end in _ENDS:
            entry = getattr(axle, end)
            if entry is not None and end == "whole_kg" and entry.value == 0:
                raise Refusal(
                    "A whole axle weighs more than nothing. Leave it empty if it was not weighed.", f"axles.{i}.{end}"
                )
    old = None
    if data.amends is not None:
        old = weighings(actor, rig).filter(pk=data.amends).first()
        if old is None:
            raise Refusal("There is no such weighing of this rig to amend.", "amends")
        if old.amended:  # type: ignore[attr-defined]
            raise Conflict("That weighing has been amended already. Amend the newer one.", "amends")
    row = Weighing.objects.create(
        rig=rig,
        load_state=data.load_state,
        weighed_on=data.weighed_on,
        scale=data.scale,
        resolution_kg=resolution,
        note=data.note,
        amends=old,
        entered_by=actor.person,
    )
    AxleWeight.objects.bulk_create(
        AxleWeight(
            weighing=row,
            number=i + 1,
            typed={end: entry.typed for end in _ENDS if (entry := getattr(axle, end))},
            **{end: entry.value for end in _ENDS if (entry := getattr(axle, end))},
        )
        for i, axle in enumerate(data.axles)
    )
    return weighings(actor, rig).get(pk=row.pk)


def loads_out(loads: core.RigLoad) -> dict[str, Any]:
    return {
        "axles": loads.axles,
        "total_kg": loads.total_kg,
        "checks": loads.checks,
        "notes": loads.notes,
        "over": [core.overload_words(c) for c in loads.over],
        "caution": core.OVERLOAD_CAUTION if loads.over else "",
    }


def present(row: Weighing, rig: core_rigs.Rig) -> dict[str, Any]:
    fields = ("id", "load_state", "weighed_on", "scale", "resolution_kg", "note", "entered_at")
    return {f: getattr(row, f) for f in fields} | {
        "amends": row.amends_id,
        "amended": row.amended,  # type: ignore[attr-defined]
        "by": row.entered_by.shown_name,
        "typed": [a.typed for a in row.axles.all()],
        "loads": loads_out(loads_of(row, rig)),
    }
