"""Sensors of a rig: what it has, the alarms from its targets, and numbers read off a display."""

from uuid import UUID

from django.http import HttpResponse, HttpResponseNotModified
from django.utils.cache import get_conditional_response
from django.utils.http import quote_etag
from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.columns import BeginIn, SliceIn, TakenOut
from ballast.server.edge.files import attachment, csv_streamed
from ballast.server.edge.problems import answers
from ballast.server.sensors import drives, imports, lamp, paper, receivers, schemas, services
from ballast.server.sensors.road import road

router = Router(tags=["sensors"])
work = Router(tags=["work"])


@work.post("/lamp", response=answers(schemas.LampStep))
def work_lamp(request: ActorRequest, data: schemas.WorkLampIn):
    """The lamp came on: the next step by what was answered so far. Nothing is saved."""
    return lamp.work(request.auth, data.rig, data)


@work.post("/numbers", response=answers(schemas.NumbersLook))
def work_numbers(request: ActorRequest, data: schemas.WorkNumbersIn):
    """How a file of numbers would be read. Nothing is saved."""
    return imports.work(request.auth, data)


@router.get("/rigs/{rig_id}/sensors", response=answers(schemas.SensorsOut))
def rig_sensors(request: ActorRequest, rig_id: int):
    """The system, the alarms of every axle from its target, and every wheel's state by what was heard of it."""
    return services.present(request.auth, rig_id)


@router.put("/rigs/{rig_id}/sensors", response=answers(schemas.SensorsOut))
def keep_system(request: ActorRequest, rig_id: int, data: schemas.SystemIn):
    return services.keep_system(request.auth, rig_id, data)


@router.put("/rigs/{rig_id}/glances/{uuid}", response=answers(schemas.SensorsOut))
def glance(request: ActorRequest, rig_id: int, uuid: UUID, data: schemas.GlanceIn):
    """Numbers read off a display. Sent again they are simply there."""
    return services.glance(request.auth, rig_id, uuid, data)


@router.delete("/rigs/{rig_id}/glances/{uuid}", response=answers(schemas.SensorsOut))
def withdraw(request: ActorRequest, rig_id: int, uuid: UUID):
    return services.withdraw(request.auth, rig_id, uuid)


@router.get("/rigs/{rig_id}/lamp", response=answers(schemas.LampCarried))
def carry_lamp(request: ActorRequest, rig_id: int):
    """The lamp's guided way as data, for a phone that may have no network when it comes on."""
    return lamp.carried(request.auth, rig_id)


@router.put("/rigs/{rig_id}/lamps/{uuid}", response=answers(schemas.SensorsOut))
def keep_lamp(request: ActorRequest, rig_id: int, uuid: UUID, data: schemas.LampKeptIn):
    """What a lamp came to, from the light to its cause."""
    lamp.keep(request.auth, rig_id, uuid, data)
    return services.present(request.auth, rig_id)


@router.get("/rigs/{rig_id}/alarms.csv", response=answers(str))
def alarms_csv(request: ActorRequest, rig_id: int):
    """Every threshold of every axle, to type into a receiver."""
    return attachment(paper.alarms_csv(request.auth, rig_id), f"alarms-{rig_id}.csv", "text/csv")


@router.get("/rigs/{rig_id}/alarms.pdf", response=answers(str))
def alarms_pdf(request: ActorRequest, rig_id: int):
    return attachment(paper.alarms_pdf(request.auth, rig_id), f"alarms-{rig_id}.pdf", "application/pdf")


@router.post("/receivers/messages", response=answers(schemas.TakenOut), auth=receivers.ByKey())
def take_messages(request: receivers.ReceiverRequest, data: schemas.SentIn):
    """What a receiver sends, with its key. Sent again, late, or in another order they come to the same."""
    return receivers.take(request.auth, data)


@router.post("/rigs/{rig_id}/receivers", response=answers(schemas.ReceiverPaired))
def pair(request: ActorRequest, rig_id: int, data: schemas.ReceiverIn):
    """A receiver more. Its key is told in this answer and never again."""
    return receivers.pair(request.auth, rig_id, data)


@router.delete("/rigs/{rig_id}/receivers/{receiver_id}", response=answers(list[schemas.ReceiverOut]))
def unpair(request: ActorRequest, rig_id: int, receiver_id: int):
    return receivers.unpair(request.auth, rig_id, receiver_id)


@router.get("/rigs/{rig_id}/drives", response=answers(schemas.DrivesOut))
def rig_drives(request: ActorRequest, rig_id: int):
    """The drives of a rig, the receivers that may send for it, and what a simulated road offers where there is one."""
    there = road(request.auth.practices)
    return schemas.DrivesOut(
        drives=drives.lines(request.auth, rig_id), receivers=receivers.receivers(request.auth, rig_id),
        road=schemas.RoadOut(there.scenes, there.faults) if there else schemas.RoadOut({}, {}),
    )  # fmt: skip


@router.put("/rigs/{rig_id}/drives/{uuid}", response=answers(schemas.DriveOut))
def simulate(request: ActorRequest, rig_id: int, uuid: UUID, data: schemas.SimulateIn):
    """Sends a rig over a simulated road, where there is one."""
    return drives.simulate(request.auth, rig_id, uuid, data)


@router.get("/rigs/{rig_id}/drives/{uuid}", response=answers(schemas.DriveOut))
def drive(request: ActorRequest, rig_id: int, uuid: UUID, response: HttpResponse):
    """A drive as far as it was heard of. Asked again with its ETag it answers 304 until there is more."""
    etag = quote_etag(drives.mark(request.auth, rig_id, uuid))
    response["ETag"] = etag
    response["Cache-Control"] = "private, no-cache"
    if isinstance(unchanged := get_conditional_response(request, etag=etag), HttpResponseNotModified):
        return unchanged
    return drives.present(request.auth, rig_id, uuid)


@router.put("/rigs/{rig_id}/drives/{uuid}/pace", response=answers(schemas.DriveOut))
def pace(request: ActorRequest, rig_id: int, uuid: UUID, data: schemas.PaceIn):
    return drives.pace(request.auth, rig_id, uuid, data.pace)


@router.post("/rigs/{rig_id}/drives/{uuid}/end", response=answers(schemas.DriveOut))
def end_drive(request: ActorRequest, rig_id: int, uuid: UUID):
    return drives.end(request.auth, rig_id, uuid)


@router.get("/rigs/{rig_id}/drives/{uuid}/series", response=answers(schemas.DriveSeries))
def drive_series(request: ActorRequest, rig_id: int, uuid: UUID):
    return drives.series(request.auth, rig_id, uuid)


@router.get("/rigs/{rig_id}/drives/{uuid}/numbers.csv", response=answers(str))
def drive_csv(request: ActorRequest, rig_id: int, uuid: UUID):
    """Every number of a drive as it was sent, row by row."""
    return csv_streamed(*drives.rows(request.auth, rig_id, uuid), f"drive-{uuid}.csv")


@router.put("/rigs/{rig_id}/numbers/{uuid}", response=answers(TakenOut))
def begin_numbers(request: ActorRequest, rig_id: int, uuid: UUID, data: BeginIn):
    """A file of numbers on its way in: its columns, then its slices, then its end. Nothing counts before that."""
    return imports.begin(request.auth, rig_id, uuid, data)


@router.put("/rigs/{rig_id}/numbers/{uuid}/slices/{number}", response=answers(TakenOut))
def take_slice(request: ActorRequest, rig_id: int, uuid: UUID, number: int, data: SliceIn):
    return imports.take(request.auth, rig_id, uuid, number, data)


@router.post("/rigs/{rig_id}/numbers/{uuid}/finish", response=answers(schemas.NumbersDone))
def finish_numbers(request: ActorRequest, rig_id: int, uuid: UUID):
    """All or nothing: a single fault, and nothing of it is there."""
    return imports.finish(request.auth, rig_id, uuid)


@router.delete("/rigs/{rig_id}/numbers/{uuid}", response=answers(None, 204))
def cancel_numbers(request: ActorRequest, rig_id: int, uuid: UUID):
    imports.cancel(request.auth, rig_id, uuid)
    return Status(204, None)
