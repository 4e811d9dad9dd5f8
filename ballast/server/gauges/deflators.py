"""Preset deflators of the drawer: kept, and compared by what they left in a tire."""

from django.db import transaction

from ballast.core import gauges as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.versions import must_match, version_of
from ballast.server.gauges import services as gauges
from ballast.server.gauges.labels import must_be_free
from ballast.server.gauges.models import Deflators
from ballast.server.gauges.schemas import ClosingIn, DeflatorsIn, DeflatorsOut

# Where a set closes goes by what it did the last times, so many.
_LAST = 8
_STATE = ("label", "count", "set_kpa", "role", "surface", "retired")


def sets(actor: Actor) -> list[Deflators]:
    actor.must(May.READ)
    return list(Deflators.objects.of(actor.workspace))


def one(actor: Actor, set_id: int) -> Deflators:
    """One set of the workspace. Raises DoesNotExist for any other."""
    actor.must(May.READ)
    row: Deflators = Deflators.objects.of(actor.workspace).get(pk=set_id)
    return row


def state_of(row: Deflators) -> dict[str, object]:
    """All that the form of a set shows and writes."""
    return {f: getattr(row, f) for f in _STATE}


@transaction.atomic
def save(actor: Actor, data: DeflatorsIn, set_id: int | None = None) -> Deflators:
    """Adds or changes a set. Set to another pressure it was not compared there. Raises Conflict, Refusal, Stale."""
    actor.must(May.GAUGES)
    row = Deflators(workspace=actor.workspace) if set_id is None else one(actor, set_id)
    must_be_free(Deflators.objects.of(actor.workspace).exclude(pk=row.pk), data.label, "a set")
    if data.set_kpa.value <= 0:
        raise Refusal("Where they close is above zero.", "set_kpa")
    stored = state_of(row)
    if row.pk and abs(row.set_kpa - data.set_kpa.value) > 1e-6:
        row.closings = []
    row.label, row.count, row.set_kpa = data.label, data.count, data.set_kpa.value
    row.role, row.surface, row.retired = data.role, data.surface, data.retired
    if row.pk:
        must_match(data.version, stored, state_of(row), actor.person.units)
    row.save()
    return row


@transaction.atomic
def compare(actor: Actor, set_id: int, data: ClosingIn) -> Deflators:
    """Keeps what a set left in a tire, true by the gauge that read it."""
    actor.must(May.GAUGES)
    row = one(actor, set_id)
    gauge = gauges.usable(actor, data.gauge)
    true = core.correct(gauges.gauge_of(gauge), data.pressure.value)
    closing = {
        "kpa": true.kpa, "sure_kpa": true.uncertainty_kpa, "typed": data.pressure.typed, "gauge": gauge.label,
        "on": clock.today().isoformat(),
    }  # fmt: skip
    row.closings = [*row.closings, closing][-_LAST:]
    row.save()
    return row


def value_of(row: Deflators) -> core.Deflators:
    closings = [core.Closing(c["kpa"], c["sure_kpa"]) for c in row.closings]
    return core.deflators(row.label, row.count, row.set_kpa, closings)


def present(row: Deflators) -> DeflatorsOut:
    value = value_of(row)
    return DeflatorsOut.model_validate(
        state_of(row)
        | {
            "id": row.pk, "version": version_of(state_of(row)), "closings": row.closings, "closes_kpa": value.closes_kpa,
            "within_kpa": value.within_kpa, "compared": value.compared,
        }
    )  # fmt: skip
