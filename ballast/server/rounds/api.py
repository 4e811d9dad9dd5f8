from uuid import UUID

from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.rounds import services
from ballast.server.rounds.schemas import AnswerOut, ConditionsIn, ReadingIn, RoundOut, SealIn, WorkReadingIn

router = Router(tags=["rounds"])
work = Router(tags=["work"])


@work.post("/rounds", response=answers(AnswerOut))
def work_rounds(request: ActorRequest, data: WorkReadingIn):
    """What a reading as typed means in an open round. Nothing is saved."""
    return services.work_answer(request.auth, data.round, data)


@router.post("/rigs/{rig_id}/rounds", response=answers(RoundOut, 201))
def begin_round(request: ActorRequest, rig_id: int, data: ConditionsIn):
    return Status(201, services.present(services.begin(request.auth, rig_id, data)))


@router.get("/rounds/{round_id}", response=answers(RoundOut))
def round_(request: ActorRequest, round_id: int):
    return services.present(services.round_(request.auth, round_id))


@router.put("/rounds/{round_id}", response=answers(RoundOut))
def change_round(request: ActorRequest, round_id: int, data: ConditionsIn):
    return services.present(services.change_conditions(request.auth, round_id, data))


@router.delete("/rounds/{round_id}", response=answers(None, 204))
def abandon_round(request: ActorRequest, round_id: int):
    services.abandon(request.auth, round_id)
    return Status(204, None)


@router.put("/rounds/{round_id}/readings/{uuid}", response=answers(RoundOut))
def read_wheel(request: ActorRequest, round_id: int, uuid: UUID, data: ReadingIn):
    return services.present(services.read(request.auth, round_id, uuid, data))


@router.post("/rounds/{round_id}/seal", response=answers(RoundOut))
def seal_round(request: ActorRequest, round_id: int, data: SealIn):
    return services.present(services.seal(request.auth, round_id, data.unread_reason))
