"""What is printed of many rigs at once: pressure cards, or blank sheets of their rounds, a combination once."""

from collections.abc import Callable, Sequence

from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.card import paper as cards
from ballast.server.card import schemas, services
from ballast.server.edge.document import and_more
from ballast.server.rigs.models import Rig
from ballast.server.rounds import paper as sheets

# So many at a time: it takes a moment for each.
MOST = 50


def _heads(actor: Actor, which: Sequence[int]) -> list[int]:
    """The combinations of some rigs, by number. Raises Refusal for none, too many, or one of elsewhere."""
    actor.must(May.READ)
    if not 0 < len(set(which)) <= MOST:
        raise Refusal(f"Choose 1 to {MOST} rigs to print, not {len(set(which))}.", "rigs")
    found = Rig.objects.of(actor.workspace).filter(pk__in=which).order_by("fleet_number", "name", "pk")
    heads = [head or pk for pk, head in found.values_list("pk", "head_id")]
    if len(heads) != len(set(which)):
        raise Refusal("One of these rigs is not in this workspace. Choose anew.", "rigs")
    return list(dict.fromkeys(heads))


def pressure_cards(
    actor: Actor, which: Sequence[int], size: schemas.Paper, address: Callable[[int], str]
) -> tuple[str, bytes]:
    """The title and the cards; `address`: where the round of a rig is. Raises Refusal."""
    made = [services.card(actor, pk, address(pk)) for pk in _heads(actor, which)]
    return and_more([card.title for card in made]), cards.pdf(made, size, actor.person.units)


def blank_sheets(actor: Actor, which: Sequence[int]) -> tuple[str, bytes]:
    """The title and the sheets. Raises Refusal."""
    return sheets.blank(actor, _heads(actor, which), actor.person.units)
