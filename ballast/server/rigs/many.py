"""Something done to many rigs at once: told whole, and taken back by its opposite."""

from django.db import transaction
from django.db.models import Count, Q, QuerySet

from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.problems import Conflict
from ballast.server.rigs import services
from ballast.server.rigs.models import Rig, Tag
from ballast.server.rigs.schemas import ArchiveIn, ManyOut, NotDoneOut, TagIn, TagOut


def of(actor: Actor, which: list[int], rows: QuerySet[Rig] | None = None) -> list[Rig]:
    """`rows`: the workspace's, with what is to be at hand of each. Raises Refusal where one of them is not of this workspace."""
    ours = Rig.objects.of(actor.workspace) if rows is None else rows
    found = list(ours.filter(pk__in=which).order_by("fleet_number", "name", "id"))
    if len(found) != len(set(which)):
        raise Refusal("One of these rigs is not in this workspace. Choose anew.", "rigs")
    return found


def tags(actor: Actor) -> list[TagOut]:
    """The tags of a workspace, each with how many rigs have it that are not archived."""
    actor.must(May.READ)
    rows = Tag.objects.of(actor.workspace).annotate(n=Count("rigs", Q(rigs__archived=False)))
    return [TagOut(id=t.pk, name=t.name, rigs=t.n) for t in rows]


@transaction.atomic
def tag(actor: Actor, data: TagIn) -> ManyOut:
    """Puts a tag on some rigs, or takes it off; those that had it already, or not, are not changed. Raises Refusal."""
    actor.must(May.RIGS)
    which = of(actor, data.rigs)
    rows = Tag.objects.of(actor.workspace)
    row = rows.filter(name__iexact=data.name).first()
    if row is None and data.on:
        row = Tag.objects.create(workspace=actor.workspace, name=data.name)
    has = set(row.rigs.filter(pk__in=[r.pk for r in which]).values_list("pk", flat=True)) if row else set()
    changed = [r.pk for r in which if (r.pk in has) is not data.on]
    if row is not None:
        (row.rigs.add if data.on else row.rigs.remove)(*changed)
        if not row.rigs.exists():
            row.delete()
    return ManyOut(changed=changed, not_done=[])


@transaction.atomic
def archive(actor: Actor, data: ArchiveIn) -> ManyOut:
    """Takes rigs out of the Yard, or brings them back; what cannot be is told. Raises Refusal."""
    actor.must(May.RIGS)
    changed, not_done = [], []
    for rig in of(actor, data.rigs):
        if rig.archived is data.archived:
            continue
        try:
            services.archive(actor, rig.pk, data.archived)
        except Conflict as no:
            not_done.append(NotDoneOut(rig=rig.pk, name=rig.shown_name, words=no.message))
        else:
            changed.append(rig.pk)
    return ManyOut(changed=changed, not_done=not_done)
