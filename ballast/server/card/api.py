from typing import Any

from ninja import Router

from ballast.server.accounts.actors import ActorRequest
from ballast.server.card import paper, schemas, services
from ballast.server.edge.files import attachment
from ballast.server.edge.problems import answers
from ballast.server.edge.words import slug

router = Router(tags=["card"])


def _card(request: ActorRequest, rig_id: int) -> schemas.Card:
    return services.card(request.auth, rig_id, request.build_absolute_uri(f"/rigs/{rig_id}/rounds"))


@router.get("/rigs/{rig_id}/card", response=answers(schemas.Card))
def pressure_card(request: ActorRequest, rig_id: int):
    return _card(request, rig_id)


@router.get("/rigs/{rig_id}/card.pdf", response=answers(str))
def pressure_card_pdf(request: ActorRequest, rig_id: int, paper_size: schemas.Paper = "a5"):
    """The pressure card, one A5 or half-letter sheet, in the person's units."""
    made = _card(request, rig_id)
    system: Any = request.auth.person.units
    name = slug(made.title)
    return attachment(paper.pdf([made], paper_size, system), f"{name}-pressure-card.pdf", "application/pdf")
