import datetime as dt
from typing import Any
from uuid import UUID

from django.conf import settings
from django.db import transaction
from django.db.models import QuerySet, Sum

from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.files import read_bytes
from ballast.server.edge.problems import Conflict, Denied, Unavailable
from ballast.server.pictures import files
from ballast.server.pictures.models import Picture
from ballast.server.pictures.schemas import PictureIn, PictureOut, PicturesOut, What
from ballast.server.rigs import services as rigs
from ballast.server.rounds.models import Round
from ballast.server.weighing.models import Weighing

WHAT: dict[What, str] = {
    "label": "Label", "sidewall": "Sidewall", "ticket": "Ticket", "damage": "Damage", "chalk": "Chalk", "wear": "Wear",
    "other": "Picture",
}  # fmt: skip
# So long a picture that was taken off can be put back.
KEPT_DAYS = 14


def pictures(actor: Actor) -> QuerySet[Picture]:
    """The pictures that the actor may see, those that were taken off too."""
    actor.must(May.READ)
    return Picture.objects.of(actor.workspace)


def used(actor: Actor) -> int:
    """Bytes of the workspace's pictures, those too that can be put back; one that is kept twice counts once."""
    once = pictures(actor).order_by().values("content", "size").distinct()
    return int(once.aggregate(sum=Sum("size"))["sum"] or 0)


def _where(actor: Actor, rig_id: int, data: PictureIn) -> dict[str, Any]:
    """The rows that a picture belongs to. Raises Refusal for a weighing or a round that is not the rig's."""
    row = rigs.rig(actor, rig_id)
    if data.weighing is not None and not Weighing.objects.filter(pk=data.weighing, rig=row).exists():
        raise Refusal("There is no such weighing of this rig. Choose one of its list.", "weighing")
    if data.round is not None:
        heads = [pk for pk in (row.pk, row.head_id) if pk]
        if not Round.objects.filter(pk=data.round, rig__in=heads).exists():
            raise Refusal("There is no such round of this rig. Open it first.", "round")
    return {"rig": row, "weighing_id": data.weighing, "round_id": data.round}


@transaction.atomic
def keep(actor: Actor, rig_id: int, uuid: UUID, data: PictureIn) -> Picture:
    """Keeps a picture; sent twice it is kept once.

    Raises DoesNotExist for another's rig, Refusal for what is no picture, Conflict where the workspace's quota is used up.
    """
    actor.must(May.ROUNDS)
    there = pictures(actor).filter(pk=uuid).first()
    if there is not None:
        return there
    where = _where(actor, rig_id, data)
    made = files.make(read_bytes(data.content))
    _forget(actor, clock.now() - dt.timedelta(days=KEPT_DAYS))
    if used(actor) + len(made.data) > settings.PICTURES_QUOTA:
        # Room is worth more than what was taken off.
        _forget(actor, clock.now())
    if used(actor) + len(made.data) > settings.PICTURES_QUOTA:
        raise Conflict(
            f"The pictures of this workspace fill the {settings.PICTURES_QUOTA / 1e9:g} GB it may use. Take some off first.",
            "content",
        )
    try:
        files.write(made)
    except OSError as no:
        raise Unavailable(
            f"The server cannot write the picture to its disk ({no.strerror}). Look at the disk there."
        ) from None
    return Picture.objects.create(
        uuid=uuid, workspace=actor.workspace, what=data.what, place=data.place, wheel=data.wheel, content=made.name,
        size=len(made.data), width=made.width, height=made.height, taken_by=actor.person, **where,
    )  # fmt: skip


def _forget(actor: Actor, before: dt.datetime) -> None:
    """What was taken off before a moment goes, and its file where no other picture is the same, once that is stored."""
    old = pictures(actor).filter(removed_at__lt=before)
    names = set(old.values_list("content", flat=True))
    old.delete()
    unlink_unused(names)


def unlink_unused(names: set[str]) -> None:
    """Once what is being done is stored, takes the files away that no picture has any more."""

    def unlink() -> None:
        for name in names - set(Picture.objects.filter(content__in=names).values_list("content", flat=True)):
            files.path_of(name).unlink(missing_ok=True)

    if names:
        transaction.on_commit(unlink)


def take_off(actor: Actor, uuid: UUID, off: bool) -> Picture:
    """Takes a picture off, or puts it back: one's own, or with the right to rigs. Raises DoesNotExist, Denied."""
    actor.must(May.ROUNDS)
    picture: Picture = pictures(actor).select_related("taken_by").get(pk=uuid)
    if not _own(actor, picture):
        raise Denied(f"{picture.taken_by.shown_name} took it. Ask a manager of {actor.workspace.name} to take it off.")
    picture.removed_at = clock.now() if off else None
    picture.save(update_fields=["removed_at"])
    return picture


def _own(actor: Actor, picture: Picture) -> bool:
    return actor.may(May.RIGS) or (actor.may(May.ROUNDS) and picture.taken_by_id == actor.person.pk)


def present(actor: Actor, picture: Picture) -> PictureOut:
    return PictureOut(
        uuid=picture.uuid, what=picture.what, name=WHAT[picture.what], place=picture.place, wheel=picture.wheel,  # type: ignore[index]
        weighing=picture.weighing_id, round=picture.round_id, width=picture.width, height=picture.height,
        taken_at=picture.taken_at, taken_by=picture.taken_by.shown_name, own=_own(actor, picture),
    )  # fmt: skip


def of_rig(actor: Actor, rig_id: int) -> PicturesOut:
    """The pictures of a rig, the oldest first. Raises DoesNotExist."""
    row = rigs.rig(actor, rig_id)
    there = pictures(actor).filter(rig=row, removed_at=None).select_related("taken_by")
    return PicturesOut(pictures=[present(actor, p) for p in there], used=used(actor), quota=settings.PICTURES_QUOTA)
