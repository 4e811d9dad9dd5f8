"""Tow vehicles and trailers: hitched, unhitched, one plan for the whole."""

from django.db import transaction
from django.db.models import Exists, F, OuterRef, Q

from ballast.core import rigs as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.finding import every_word
from ballast.server.edge.problems import Conflict
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rigs.schemas import HitchableOut, HitchRigOut

LONGEST = len(rigs.PREFIXES)
# So many are named to choose from; what is typed finds the others.
NAMED = 24


def hitchable(actor: Actor, rig_id: int, find: str) -> HitchableOut:
    """What a rig may be hitched to: the front that it looks for is the last of a combination, a trailer a loose one."""
    actor.must(May.READ)
    train = rigs.train(actor, rig_id)
    looks_for = core.looks_for([r.kind for r in train])
    follows = Rig.objects.filter(Q(head=OuterRef("pk")) | Q(head=OuterRef("head")), place=OuterRef("place") + 1)
    rows = rigs.rigs(actor).filter(archived=False).exclude(pk__in=[r.pk for r in train])
    if looks_for == "front":
        rows = rows.exclude(Q(kind__in=core.TRAILERS) & Q(head=None)).filter(~Exists(follows))
    else:
        rows = rows.filter(kind__in=core.TRAILERS, head=None)
    rows = every_word(rows, find, "name", "fleet_number")
    named = rows.prefetch_related(None).annotate(behind=F("head__name")).order_by("fleet_number", "name", "id")[:NAMED]
    return HitchableOut(
        looks_for=looks_for, found=rows.count(),
        rigs=[
            HitchRigOut(id=r.pk, name=r.name, fleet_number=r.fleet_number, kind_name=r.get_kind_display(), behind=r.behind or "")
            for r in named
        ],
    )  # fmt: skip


@transaction.atomic
def hitch(actor: Actor, rig_id: int, behind_id: int | None) -> list[Rig]:
    """Hitches a trailer, with all that hangs on it, behind another rig, or drops it; returns the combination.

    Raises Refusal (field "behind") for what cannot be hitched, Conflict where the place is taken.
    """
    actor.must(May.FIT)
    train = rigs.train(actor, rig_id)
    at = next(i for i, r in enumerate(train) if r.pk == rig_id)
    moved, trailer = train[at:], train[at]
    if behind_id is None:
        if at:
            _place(moved, None, 0)
        return rigs.train(actor, rig_id)
    try:
        front = rigs.train(actor, behind_id)
    except Rig.DoesNotExist:
        raise Refusal("There is no such rig in this workspace. Choose one of its list.", "behind") from None
    itself = behind_id in {r.pk for r in moved}
    core.check_hitching((trailer.kind, trailer.name), (front[0].kind, front[0].name), itself)
    if front[-1].pk != behind_id:
        taken = front[next(i for i, r in enumerate(front) if r.pk == behind_id) + 1]
        if taken.pk == rig_id:
            return front
        raise Conflict(f"{taken.name} is hitched there already. Unhitch it first.", "behind")
    if any(r.archived for r in (*moved, *front)):
        raise Conflict("One of the two is archived. Bring it back first.", "behind")
    if len(front) + len(moved) > LONGEST:
        raise Refusal(f"A combination has at most {LONGEST} vehicles here.", "behind")
    _place(moved, front[0], len(front))
    return rigs.train(actor, rig_id)


def _place(vehicles: list[Rig], head: Rig | None, first: int) -> None:
    """Puts vehicles in a row behind `head` from place `first`, or the first of them alone with the others behind it."""
    lead = head or vehicles[0]
    # Front to back when moving up, back to front when moving down: no place is held twice on the way.
    for i, row in enumerate(vehicles):
        row.head = None if row.pk == lead.pk else lead
        row.place = first + i
        row.save()
