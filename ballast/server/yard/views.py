"""What somebody looks for in the Yard, kept under a name."""

from django.db import transaction

from ballast.server.accounts.actors import Actor, May
from ballast.server.yard.models import View
from ballast.server.yard.schemas import ViewIn, ViewOut


def views(actor: Actor) -> list[ViewOut]:
    """One's own."""
    actor.must(May.READ)
    rows = View.objects.of(actor.workspace).filter(person=actor.person)
    return [ViewOut(id=v.pk, name=v.name, query=v.query) for v in rows]


@transaction.atomic
def keep(actor: Actor, data: ViewIn) -> list[ViewOut]:
    """Keeps a view; one of that name is another from here on."""
    actor.must(May.READ)
    View.objects.update_or_create(
        workspace=actor.workspace, person=actor.person, name=data.name, defaults={"query": data.query}
    )
    return views(actor)


@transaction.atomic
def forget(actor: Actor, view_id: int) -> list[ViewOut]:
    """Raises DoesNotExist."""
    View.objects.of(actor.workspace).filter(person=actor.person).get(pk=view_id).delete()
    return views(actor)
