"""Out of service, and back by a named person's sign-off."""

from collections.abc import Sequence

from django.db import transaction
from django.db.models import QuerySet

from ballast.core import standing
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor, May, roles_that_may
from ballast.server.accounts.models import Membership
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict, Denied
from ballast.server.rigs import services
from ballast.server.rigs.models import OutOfService, Rig, SignOff
from ballast.server.rigs.schemas import OutIn, OutOut, SignOffIn, SignOffOut

# Asked for along with a rig: whether it is out of service.
WITH_OUT = "out"


def of(rig: Rig) -> OutOfService | None:
    """That a rig is out of service, asked for along with it as `WITH_OUT`; None: it may roll."""
    return getattr(rig, WITH_OUT, None)


def words(rig: Rig) -> Phrase | None:
    """The same in words."""
    row = of(rig)
    return None if row is None else standing.out_of_service(row.since.date(), row.why)


def said_of(train: Sequence[Rig]) -> tuple[Phrase, ...]:
    """Of each of some rigs that is out of service, by its name; not asked for along with them."""
    rows = OutOfService.objects.filter(rig__in=train).select_related("rig").order_by("rig__place")
    return tuple(standing.out_of_service(r.since.date(), f"{r.why} ({r.rig.shown_name})") for r in rows)


def _signs(row: OutOfService, actor: Actor) -> bool:
    """Whether whoever acts is who may end it: who was named, as long as they are here and may, else any manager."""
    if actor.by_key or not actor.may(May.OUT):
        return False
    named = row.sign_off_id and _who_may(actor).filter(person=row.sign_off_id).exists()
    return actor.person.pk == row.sign_off_id if named else actor.may(May.SIGN)


def _who_may(actor: Actor) -> QuerySet[Membership]:
    """Those here who take rigs out of service, and may be named to sign one off."""
    return Membership.objects.filter(workspace=actor.workspace, off_at=None, role__in=roles_that_may(May.OUT))


def present(rig: Rig, actor: Actor) -> OutOut | None:
    row = of(rig)
    if row is None:
        return None
    return OutOut(
        words=standing.out_of_service(row.since.date(), row.why), why=row.why, since=row.since, by=row.by.shown_name,
        sign_off=row.sign_off.shown_name if row.sign_off else "", may_sign_off=_signs(row, actor),
    )  # fmt: skip


@transaction.atomic
def take_out(actor: Actor, rig_id: int, data: OutIn) -> None:
    """Takes a rig out of service, or says anew why and who signs it off. Raises Refusal for somebody who is not here."""
    actor.must(May.OUT)
    rig = services.rig(actor, rig_id)
    signs = None
    if data.sign_off is not None:
        signs = _who_may(actor).filter(pk=data.sign_off).select_related("person").first()
        if signs is None:
            raise Refusal("Choose a manager or a technician who is here.", "sign_off")
    before = OutOfService.objects.filter(rig=rig).first()
    if before is not None and not _signs(before, actor):
        raise Conflict("It is out of service already. Who signs it off may change why.")
    OutOfService.objects.update_or_create(
        rig=rig,
        defaults={"why": data.why, "sign_off": signs.person if signs else None},
        create_defaults={
            "why": data.why, "sign_off": signs.person if signs else None, "since": clock.now(), "by": actor.person,
        },
    )  # fmt: skip


@transaction.atomic
def sign_off(actor: Actor, rig_id: int, data: SignOffIn) -> None:
    """It may roll again, by the name of whoever acts. Raises Denied for anybody else than who was named, Conflict, Refusal."""
    actor.must(May.OUT)
    actor.must_be_here()
    rig = services.rig(actor, rig_id)
    row = OutOfService.objects.select_for_update(of=("self",)).filter(rig=rig).select_related("sign_off").first()
    if row is None:
        raise Conflict("It is not out of service.")
    if not _signs(row, actor):
        who = row.sign_off.shown_name if row.sign_off else f"a manager of {actor.workspace.name}"
        raise Denied(f"This is signed off by {who}, and nobody else.")
    if data.signed.casefold() != actor.person.shown_name.casefold():
        raise Refusal(f"Sign with your own name, as it stands here: {actor.person.shown_name}.", "signed")
    SignOff.objects.create(
        rig=rig, why=row.why, since=row.since, out_by_id=row.by_id, done=data.done, signed=data.signed, by=actor.person,
        at=clock.now(),
    )  # fmt: skip
    row.delete()


def sign_offs(actor: Actor, rig_id: int) -> list[SignOffOut]:
    """Every time a rig came back, the newest first."""
    rows = SignOff.objects.filter(rig=services.rig(actor, rig_id)).select_related("out_by", "by")
    return [
        SignOffOut(
            why=r.why, since=r.since, out_by=r.out_by.shown_name, done=r.done, signed=r.signed, by=r.by.shown_name, at=r.at
        )
        for r in rows
    ]  # fmt: skip
