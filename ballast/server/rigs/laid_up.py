"""Laid up until a day, and rolling again."""

from django.db import transaction

from ballast.core import standing
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.rigs import services
from ballast.server.rigs.models import Rig
from ballast.server.rigs.schemas import LaidUpIn


def of(rig: Rig) -> standing.LaidUp | None:
    """How a rig is or was last laid up, as the rules take it."""
    if rig.laid_up_on is None or rig.laid_up_until is None:
        return None
    return standing.LaidUp(rig.laid_up_on, rig.laid_up_until, rig.laid_up_kpa, rig.laid_up_why)


@transaction.atomic
def lay_up(actor: Actor, rig_id: int, data: LaidUpIn) -> None:
    """Lays a rig up, or says anew until when, at what and why. Raises Refusal for a day or a pressure that cannot be."""
    actor.must(May.RIGS)
    row, today = services.rig(actor, rig_id), clock.today()
    tires = [axle.tire for axle in services.rig_of(row).axles if axle.tire]
    kept = data.kept.value if data.kept else None
    standing.check_laid_up(data.until, kept, [k for t in tires for k in (t.sidewall_max_kpa, t.wheel_max_kpa)], today)
    before = of(row)
    if before is None or before.until <= today:
        row.laid_up_on = today
    row.laid_up_until, row.laid_up_kpa, row.laid_up_why = data.until, kept, data.why
    row.save()


@transaction.atomic
def end(actor: Actor, rig_id: int) -> None:
    """It rolls again from today; laid up today, it is as if it had not been. Raises Conflict where it is not laid up."""
    actor.must(May.RIGS)
    row, today = services.rig(actor, rig_id), clock.today()
    before = of(row)
    if before is None or before.until <= today:
        raise Conflict("It is not laid up.")
    if before.on == today:
        row.laid_up_on = row.laid_up_until = row.laid_up_kpa = None
        row.laid_up_why = ""
    else:
        row.laid_up_until = today
    row.save()
