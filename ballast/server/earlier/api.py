"""Earlier readings, out of files of one's own."""

from uuid import UUID

from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.earlier import schemas, services
from ballast.server.edge.columns import SliceIn, TakenOut
from ballast.server.edge.files import csv_streamed
from ballast.server.edge.problems import answers
from ballast.server.edge.writing import stand_aside

router = Router(tags=["earlier"])
work = Router(tags=["work"])


@work.post("/earlier", response=answers(schemas.EarlierLook))
def work_earlier(request: ActorRequest, data: schemas.WorkEarlierIn):
    """How a file of earlier readings would be read. Nothing is saved."""
    return services.work(request.auth, data)


@router.get("/earlier", response=answers(schemas.EarlierListOut))
def earlier(request: ActorRequest):
    return schemas.EarlierListOut(files=services.listed(request.auth))


@router.get("/earlier.csv", response=answers(str))
def earlier_csv(request: ActorRequest, rig: int | None = None):
    """Every earlier reading, of a rig or of all."""
    return csv_streamed(services.COLUMNS, services.export(request.auth, rig), "earlier-readings.csv")


@router.get("/rigs/{rig_id}/earlier", response=answers(schemas.EarlierOfRig))
def earlier_of_rig(request: ActorRequest, rig_id: int):
    """What was read of a rig before; nothing is judged by it."""
    return schemas.EarlierOfRig(wheels=services.of_wheels(request.auth, rig_id))


@router.put("/earlier/{uuid}", response=answers(TakenOut))
def begin_earlier(request: ActorRequest, uuid: UUID, data: schemas.EarlierIn):
    """A file on its way in: its columns, then its slices, then its end. Nothing counts before that."""
    return services.begin(request.auth, uuid, data)


@router.put("/earlier/{uuid}/slices/{number}", response=answers(TakenOut))
def take_earlier(request: ActorRequest, uuid: UUID, number: int, data: SliceIn):
    stand_aside()
    return services.take(request.auth, uuid, number, data)


@router.post("/earlier/{uuid}/finish", response=answers(schemas.EarlierFileOut))
def finish_earlier(request: ActorRequest, uuid: UUID):
    """All or nothing: a single fault, and nothing of it is there."""
    return services.finish(request.auth, uuid)


@router.delete("/earlier/{uuid}", response=answers(None, 204))
def take_earlier_back(request: ActorRequest, uuid: UUID):
    """On its way in it is left; brought in, it counts no more."""
    services.take_back(request.auth, uuid)
    return Status(204, None)
