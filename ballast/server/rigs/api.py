from uuid import UUID

from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.files import attachment
from ballast.server.edge.problems import answers
from ballast.server.edge.quantities import Find
from ballast.server.edge.schema import FileIn
from ballast.server.edge.writing import stand_aside
from ballast.server.rigs import (
    arrivals,
    combinations,
    fittings,
    imports,
    laid_up,
    many,
    out_of_service,
    schemas,
    services,
)

router = Router(tags=["rigs"])
work = Router(tags=["work"])


@work.post("/rigs", response=answers(schemas.RigDraft))
def work_rigs(request: ActorRequest, data: schemas.RigIn):
    """What a rig as typed means: sizes in words, wheels, cautions. Nothing is saved."""
    return services.draft_out(services.read_draft(data), data)


@work.post("/rigs/size", response=answers(schemas.SizeRead))
def work_size(request: ActorRequest, data: schemas.NewTireIn):
    """What a size marking says, and a date code if there is one. Nothing is saved."""
    return services.read_marking(data)


@work.post("/rigs/import", response=answers(schemas.ImportOut))
def preview_import(request: ActorRequest, data: FileIn):
    """What a fleet file would add, row by row, every refused row told. Nothing is saved."""
    return imports.run(request.auth, data.content, save=False)


@router.post("/rigs/import", response=answers(schemas.ImportOut))
def import_rigs(request: ActorRequest, data: FileIn):
    """Adds a fleet from a file, all or nothing."""
    return imports.run(request.auth, data.content, save=True)


@router.put("/fleets/{uuid}", response=answers(None, 204))
def begin_fleet(request: ActorRequest, uuid: UUID, data: schemas.FleetFileIn):
    """A long fleet file on its way in: its first row, then its slices, then step by step its rigs, then its end."""
    arrivals.begin(request.auth, uuid, data)
    return Status(204, None)


@router.put("/fleets/{uuid}/slices/{number}", response=answers(None, 204))
def take_fleet(request: ActorRequest, uuid: UUID, number: int, data: schemas.FleetSliceIn):
    arrivals.take(request.auth, uuid, number, data.text)
    return Status(204, None)


@router.put("/fleets/{uuid}/steps/{number}", response=answers(schemas.FleetStepOut))
def fleet_step(request: ActorRequest, uuid: UUID, number: int):
    """Works some of its rigs out, from step 0 on: what is wrong with their rows, else they stand ready. Nothing counts yet."""
    stand_aside()
    return arrivals.step(request.auth, uuid, number)


@router.post("/fleets/{uuid}/finish", response=answers(schemas.FleetDoneOut))
def finish_fleet(request: ActorRequest, uuid: UUID):
    """All of it is there from here on, by one short write, or nothing."""
    return arrivals.finish(request.auth, uuid)


@router.delete("/fleets/{uuid}", response=answers(None, 204))
def leave_fleet(request: ActorRequest, uuid: UUID):
    """Leaves a file that is on its way in; nothing of it stays."""
    arrivals.leave(request.auth, uuid)
    return Status(204, None)


@router.get("/rigs/import.csv", response=answers(str))
def blank_import(request: ActorRequest):
    """A file to start from: every column, with an example of each kind of row."""
    return attachment(imports.blank(), "fleet.csv", "text/csv")


@router.get("/rigs", response=answers(list[schemas.RigOut]))
def rigs(request: ActorRequest, archived: bool = False):
    return [services.present(r) for r in services.rigs(request.auth).filter(archived=archived)]


@router.post("/rigs", response=answers(schemas.RigOut, 201))
def add_rig(request: ActorRequest, data: schemas.RigIn):
    return Status(201, services.present(services.save_rig(request.auth, data)))


@router.get("/rigs/{rig_id}", response=answers(schemas.RigOut))
def rig(request: ActorRequest, rig_id: int):
    return services.present(services.rig(request.auth, rig_id))


@router.put("/rigs/{rig_id}", response=answers(schemas.RigOut))
def change_rig(request: ActorRequest, rig_id: int, data: schemas.RigIn):
    return services.present(services.save_rig(request.auth, data, rig_id))


@router.delete("/rigs/{rig_id}", response=answers(schemas.RigOut))
def archive_rig(request: ActorRequest, rig_id: int):
    return services.present(services.archive(request.auth, rig_id, True))


@router.post("/rigs/{rig_id}/restore", response=answers(schemas.RigOut))
def restore_rig(request: ActorRequest, rig_id: int):
    return services.present(services.archive(request.auth, rig_id, False))


@router.get("/rigs/{rig_id}/history", response=answers(list[schemas.ChangeOut]))
def rig_history(request: ActorRequest, rig_id: int):
    return services.changes(request.auth, rig_id)


@router.get("/rigs/{rig_id}/hitch", response=answers(schemas.HitchableOut))
def hitchable(request: ActorRequest, rig_id: int, find: Find = ""):
    return combinations.hitchable(request.auth, rig_id, find)


@router.put("/rigs/{rig_id}/hitch", response=answers(list[schemas.VehicleOut]))
def hitch_rig(request: ActorRequest, rig_id: int, data: schemas.HitchIn):
    """Hitches a trailer behind a vehicle, or drops it; answers the combination that it is part of now."""
    return [services.vehicle_out(r) for r in combinations.hitch(request.auth, rig_id, data.behind)]


@router.get("/tags", response=answers(list[schemas.TagOut]))
def tags(request: ActorRequest):
    return many.tags(request.auth)


@router.post("/tags", response=answers(schemas.ManyOut))
def tag(request: ActorRequest, data: schemas.TagIn):
    """Puts a tag on rigs, or takes it off them."""
    return many.tag(request.auth, data)


@router.post("/archived", response=answers(schemas.ManyOut))
def archive_many(request: ActorRequest, data: schemas.ArchiveIn):
    """Takes rigs out of the Yard, or brings them back."""
    return many.archive(request.auth, data)


@router.put("/rigs/{rig_id}/out-of-service", response=answers(None, 204))
def take_out_of_service(request: ActorRequest, rig_id: int, data: schemas.OutIn):
    """It must not roll until it is signed off."""
    out_of_service.take_out(request.auth, rig_id, data)
    return Status(204, None)


@router.post("/rigs/{rig_id}/sign-off", response=answers(None, 204))
def sign_off(request: ActorRequest, rig_id: int, data: schemas.SignOffIn):
    """It may roll again, by the name of whoever signs."""
    out_of_service.sign_off(request.auth, rig_id, data)
    return Status(204, None)


@router.get("/rigs/{rig_id}/sign-offs", response=answers(list[schemas.SignOffOut]))
def sign_offs(request: ActorRequest, rig_id: int):
    return out_of_service.sign_offs(request.auth, rig_id)


@router.put("/rigs/{rig_id}/laid-up", response=answers(None, 204))
def lay_up(request: ActorRequest, rig_id: int, data: schemas.LaidUpIn):
    """Lays a rig up until a day: its dues rest until then."""
    laid_up.lay_up(request.auth, rig_id, data)
    return Status(204, None)


@router.delete("/rigs/{rig_id}/laid-up", response=answers(None, 204))
def end_laid_up(request: ActorRequest, rig_id: int):
    """Ends it today, and a round is asked for; what was laid up today was not."""
    laid_up.end(request.auth, rig_id)
    return Status(204, None)


@router.get("/rigs/{rig_id}/tires", response=answers(schemas.TiresOut))
def rig_tires(request: ActorRequest, rig_id: int):
    return fittings.present(request.auth, rig_id)


@router.post("/rigs/{rig_id}/fittings", response=answers(None, 204))
def fit_tire(request: ActorRequest, rig_id: int, data: schemas.FitIn):
    fittings.fit(request.auth, services.rig(request.auth, rig_id), data)
    return Status(204, None)


@router.post("/rigs/{rig_id}/fittings/described", response=answers(None, 204))
def fit_described(request: ActorRequest, rig_id: int, data: schemas.FitAllIn):
    """Tires as the rig is described, at every wheel where none is entered."""
    fittings.fit_all(request.auth, services.rig(request.auth, rig_id), data)
    return Status(204, None)


@router.put("/tires/{tire_id}/marks", response=answers(None, 204))
def mark_tire(request: ActorRequest, tire_id: int, data: schemas.TireMarksIn):
    """What tells a tire apart, and how its tread is."""
    fittings.mark(request.auth, tire_id, data)
    return Status(204, None)


@router.post("/rigs/{rig_id}/torques", response=answers(None, 204))
def torque_wheels(request: ActorRequest, rig_id: int, data: schemas.TorqueIn):
    fittings.torque(request.auth, services.rig(request.auth, rig_id), data)
    return Status(204, None)


@router.put("/rigs/{rig_id}/odometer", response=answers(None, 204))
def correct_odometer(request: ActorRequest, rig_id: int, data: schemas.OdometerIn):
    fittings.correct_odometer(request.auth, services.rig(request.auth, rig_id), data)
    return Status(204, None)


@router.post("/tires/{tire_id}/remove", response=answers(None, 204))
def remove_tire(request: ActorRequest, tire_id: int, data: schemas.RemoveIn):
    fittings.remove(request.auth, tire_id, data)
    return Status(204, None)


@router.post("/tires/{tire_id}/restore", response=answers(None, 204))
def restore_tire(request: ActorRequest, tire_id: int):
    fittings.bring_back(request.auth, tire_id)
    return Status(204, None)
