"""A line by mail at dawn, for whoever wants one, where whoever runs the server has set up mail."""

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.mail import send_mail
from django.core.validators import validate_email
from django.db import transaction

from ballast.core import standing
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import Membership
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.schedule.models import Notice
from ballast.server.schedule.schemas import NoticeIn, NoticeOut
from ballast.server.schedule.services import KINDS, dues
from ballast.server.yard import day


def present(actor: Actor) -> NoticeOut:
    row = Notice.objects.of(actor.workspace).filter(person=actor.person).first()
    return NoticeOut(
        possible=bool(settings.MAIL_FROM), email=row.email if row else "", sent_on=row.sent_on if row else None
    )


@transaction.atomic
def keep(actor: Actor, data: NoticeIn) -> NoticeOut:
    """Where the line goes, or that none does. Raises Conflict where no mail is sent from here, Refusal."""
    actor.must_be_here()
    rows = Notice.objects.of(actor.workspace).filter(person=actor.person)
    if data.email is None:
        rows.delete()
    elif not settings.MAIL_FROM:
        raise Conflict("No mail is sent from here: whoever runs the server has not set it up.", "email")
    else:
        try:
            validate_email(data.email)
        except ValidationError:
            raise Refusal("This is no address for mail. Check it.", "email") from None
        Notice.objects.update_or_create(workspace=actor.workspace, person=actor.person, defaults={"email": data.email})
    return present(actor)


def words(actor: Actor) -> str:
    """The line: the person's own rounds, and what is due in the workspace."""
    today = clock.today()
    every, anew = dues(actor)
    due = [d for d in every if standing.due_by(d.on, today)]
    counts = [(name, sum(d.kind == key for d in due)) for key, name in KINDS.items()]
    listed = ", ".join(f"{name.lower()}: {n}" for name, n in counts if n) or "nothing"
    own = day.day(actor).words.show(actor.person.units)
    unknown = f" Of {anew} rigs it is not known just now." if anew else ""
    return f"{own}. Due in {actor.workspace.name} by today: {listed}.{unknown}"


def send() -> int:
    """Sends each line that was not sent today; how many. Sending again sends nothing twice."""
    if not settings.MAIL_FROM:
        return 0
    sent = 0
    for row in Notice.objects.select_related("person", "workspace"):
        today = clock.today()
        member = Membership.objects.filter(person=row.person, workspace=row.workspace, off_at=None).first()
        # Marked before it is sent: a line that is lost is lost, and none comes twice.
        fresh = Notice.objects.filter(pk=row.pk).exclude(sent_on=today).update(sent_on=today)
        if member is None or not fresh:
            continue
        actor = Actor(row.person, row.workspace, member.role)
        send_mail(f"{row.workspace.name}: tires today", words(actor), settings.MAIL_FROM, [row.email])
        sent += 1
    return sent
