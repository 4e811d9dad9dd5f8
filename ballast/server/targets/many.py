"""The rhythm of many rigs' rounds at once: told whole, and taken back by what it was."""

from collections import defaultdict

from django.db import transaction

from ballast.server.accounts.actors import Actor, May
from ballast.server.rigs import many
from ballast.server.targets import policies
from ballast.server.targets.models import RigPolicy
from ballast.server.targets.schemas import CheckedEvery, CheckEveryIn, CheckEveryOut


@transaction.atomic
def check_every(actor: Actor, data: CheckEveryIn) -> CheckEveryOut:
    """Gives rigs so many days between their checks, from the next round of each on; null: as the workspace has it.

    Raises Refusal where one of them is not of this workspace.
    """
    actor.must(May.TARGETS)
    which = many.of(actor, data.rigs)
    own = dict(RigPolicy.objects.filter(rig__in=which).values_list("rig", "check_days"))
    usual = actor.workspace.check_days
    wanted = None if data.days == usual else data.days
    changed = [rig for rig in which if own.get(rig.pk) != wanted]
    policies.keep_all(actor, changed, {"check_days": wanted or usual})
    were = defaultdict[int | None, list[int]](list)
    for rig in changed:
        were[own.get(rig.pk)].append(rig.pk)
    return CheckEveryOut(were=[CheckedEvery(days=days, rigs=rigs) for days, rigs in were.items()])
