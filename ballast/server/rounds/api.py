from typing import Any
from uuid import UUID

from django.http import HttpResponse, HttpResponseNotModified
from django.utils.cache import get_conditional_response
from django.utils.http import quote_etag
from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.files import attachment
from ballast.server.edge.problems import answers
from ballast.server.edge.words import slug
from ballast.server.rounds import (
    amend,
    entries,
    equipment,
    marks,
    offline,
    paper,
    quick,
    rows,
    schemas,
    seal,
    sealed,
    services,
    sheet,
    value,
)

router = Router(tags=["rounds"])
work = Router(tags=["work"])


@work.post("/rounds", response=answers(schemas.AnswerOut))
def work_rounds(request: ActorRequest, data: schemas.WorkReadingIn):
    """What a reading as typed means in an open round. Nothing is saved."""
    return entries.work_answer(request.auth, data.round, data)


@work.post("/rounds/standing", response=answers(schemas.StandingOut))
def work_standing(request: ActorRequest, data: schemas.StandingIn):
    """Whether a rig that stood so is cold, by its own way. Nothing is saved."""
    return services.work_standing(request.auth, data)


@router.post("/rigs/{rig_id}/rounds", response=answers(schemas.RoundOut, 201))
def begin_round(request: ActorRequest, rig_id: int, data: schemas.ConditionsIn):
    return Status(201, value.of(services.begin(request.auth, rig_id, data)))


@router.post("/rigs/{rig_id}/rounds/quick", response=answers(schemas.RoundOut, 201))
def quick_round(request: ActorRequest, rig_id: int, data: schemas.QuickIn):
    """A whole round from a sheet that was filled in by hand: all of it or nothing."""
    return Status(201, value.of(quick.quick(request.auth, rig_id, data)))


@router.get("/rigs/{rig_id}/walk", response=answers(schemas.WalkOut))
def walk(request: ActorRequest, rig_id: int):
    """The order in which a rig and what is behind it is walked."""
    return sheet.walk_of(request.auth, rig_id)


@router.put("/rigs/{rig_id}/walk", response=answers(schemas.WalkOut))
def change_walk(request: ActorRequest, rig_id: int, data: schemas.WalkIn):
    """The order in which a rig is walked, from its next round on; an empty one goes back to the usual."""
    return sheet.keep_walk(request.auth, rig_id, data.codes, data.version)


@router.get("/rigs/{rig_id}/rounds/left", response=answers(schemas.LeftOut))
def rounds_left(request: ActorRequest, rig_id: int):
    """What rounds left to be seen to: one that was abandoned, and entries that came late for a sealed one."""
    return services.left(request.auth, rig_id)


@router.get("/gauges/{gauge_id}/use", response=answers(schemas.GaugeUseOut))
def gauge_use(request: ActorRequest, gauge_id: int):
    """A gauge among the rigs: the pressures it is for, what it was not compared near, what a display learned."""
    return equipment.use_of(request.auth, gauge_id)


@router.get("/rigs/{rig_id}/rounds/blank.pdf", response=answers(str))
def blank_sheet(request: ActorRequest, rig_id: int):
    """A blank sheet of the round, for those who write first, in the person's units."""
    system: Any = request.auth.person.units
    title, document = paper.blank(request.auth, [rig_id], system)
    return attachment(document, f"{slug(title)}-round.pdf", "application/pdf")


@router.get("/rounds/{round_id}", response=answers(schemas.RoundOut))
def round_(request: ActorRequest, round_id: int, response: HttpResponse):
    """A round. Asked again with its ETag an open one answers 304 until something of it changed, at little cost."""
    if mark := marks.of(request.auth, round_id):
        response["ETag"] = etag = quote_etag(str(mark))
        if isinstance(same := get_conditional_response(request, etag=etag), HttpResponseNotModified):
            return same
    return value.of(services.round_(request.auth, round_id))


@router.get("/rounds/{round_id}/offline", response=answers(schemas.OfflineOut))
def offline_round(request: ActorRequest, round_id: int):
    """The round with all its answers as data, for a page that loses the network."""
    return offline.bundle(services.round_(request.auth, round_id))


@router.get("/rounds/{round_id}/sealed", response=answers(schemas.SealedOut))
def sealed_round(request: ActorRequest, round_id: int):
    return sealed.of(services.round_(request.auth, round_id))


@router.get("/rounds/{round_id}/round.pdf", response=answers(str))
def round_on_paper(request: ActorRequest, round_id: int):
    """A sealed round to print and file, in the person's units."""
    row = services.round_(request.auth, round_id)
    system: Any = request.auth.person.units
    return attachment(paper.sealed(sealed.of(row), system), f"round-{row.pk}.pdf", "application/pdf")


@router.get("/rounds/{round_id}/round.csv", response=answers(str))
def round_as_rows(request: ActorRequest, round_id: int):
    """A sealed round as CSV, a line a wheel, in kPa and °C, with what was put right since."""
    row = services.round_(request.auth, round_id)
    return attachment(rows.of_round(sealed.of(row), request.auth.person.units), f"round-{row.pk}.csv", "text/csv")


@router.put("/rounds/{round_id}", response=answers(schemas.RoundOut))
def change_round(request: ActorRequest, round_id: int, data: schemas.ConditionsIn):
    return value.of(services.change_conditions(request.auth, round_id, data))


@router.delete("/rounds/{round_id}", response=answers(None, 204))
def abandon_round(request: ActorRequest, round_id: int):
    services.abandon(request.auth, round_id)
    return Status(204, None)


@router.post("/rounds/{round_id}/back", response=answers(schemas.RoundOut))
def bring_back(request: ActorRequest, round_id: int):
    """The undo of abandoning."""
    return value.of(services.bring_back(request.auth, round_id))


@router.put("/rounds/{round_id}/readings/{uuid}", response=answers(schemas.EnteredOut))
def read_wheel(request: ActorRequest, round_id: int, uuid: UUID, data: schemas.ReadingIn):
    return entries.read(request.auth, round_id, uuid, data)


@router.delete("/rounds/{round_id}/readings/{uuid}", response=answers(schemas.EnteredOut))
def take_back(request: ActorRequest, round_id: int, uuid: UUID):
    """Takes one's own last entry back; it stays stored, and counts for nothing."""
    return entries.take_back(request.auth, round_id, uuid)


@router.put("/rounds/{round_id}/notes/{uuid}", response=answers(schemas.EnteredOut))
def note_wheel(request: ActorRequest, round_id: int, uuid: UUID, data: schemas.WheelNoteIn):
    return entries.note(request.auth, round_id, uuid, data)


@router.put("/rounds/{round_id}/take", response=answers(schemas.RoundOut))
def take_wheels(request: ActorRequest, round_id: int, data: schemas.TakeIn):
    return value.of(services.take(request.auth, round_id, data))


@router.post("/rounds/{round_id}/radio", response=answers(schemas.RadioOut))
def hear_device(request: ActorRequest, round_id: int, data: schemas.RadioIn):
    """What a device within reach shows at a wheel. Nothing is saved."""
    return equipment.hear(request.auth, round_id, data)


@router.post("/rounds/{round_id}/seal", response=answers(schemas.RoundOut))
def seal_round(request: ActorRequest, round_id: int, data: schemas.SealIn):
    return value.of(seal.seal(request.auth, round_id, data.unread_reason, data.signed, data.without_target))


@router.post("/rounds/{round_id}/amendments", response=answers(schemas.SealedOut, 201))
def amend_round(request: ActorRequest, round_id: int, data: schemas.AmendIn):
    return Status(201, sealed.of(amend.amend(request.auth, round_id, data)))


@router.put("/rounds/{round_id}/late/{uuid}", response=answers(schemas.SealedOut))
def settle_late(request: ActorRequest, round_id: int, uuid: UUID, data: schemas.LateIn):
    """Takes an entry that came when the round was sealed into it, or leaves it out."""
    return sealed.of(amend.settle_late(request.auth, round_id, uuid, data))
