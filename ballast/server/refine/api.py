"""Refined by what tires show: chalk trials, wear, rotation, and the tires themselves."""

from uuid import UUID

from ninja import Query, Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.files import csv_streamed
from ballast.server.edge.problems import answers
from ballast.server.refine import rotation, schemas, services, tires

router = Router(tags=["refine"])
work = Router(tags=["work"])


@work.post("/refine/chalk", response=answers(schemas.VerdictOut))
def work_chalk(request: ActorRequest, data: schemas.WorkChalkPassIn):
    """What a pass as it is marked would say. Nothing is saved."""
    return services.work(request.auth, data)


@router.get("/rigs/{rig_id}/trials", response=answers(schemas.TrialsOut))
def chalk_trials(request: ActorRequest, rig_id: int):
    return services.trials(request.auth, rig_id)


@router.post("/rigs/{rig_id}/trials", response=answers(schemas.TrialsOut, 201))
def begin_trial(request: ActorRequest, rig_id: int, data: schemas.TrialIn):
    return Status(201, services.begin(request.auth, rig_id, data))


@router.post("/trials/{trial_id}/passes", response=answers(schemas.TrialsOut, 201))
def keep_pass(request: ActorRequest, trial_id: int, data: schemas.KeepChalkPassIn):
    """Keeps a pass. Sent again it is simply there."""
    return Status(201, services.keep(request.auth, trial_id, data))


@router.post("/trials/{trial_id}/end", response=answers(schemas.TrialsOut))
def end_trial(request: ActorRequest, trial_id: int, data: schemas.EndIn):
    """Ends a trial by feel, or leaves it: a note, never a school."""
    return services.end(request.auth, trial_id, data)


@work.post("/refine/rotation", response=answers(schemas.RotationWork))
def work_rotation(request: ActorRequest, data: schemas.WorkRotationIn):
    """What a rotation would come to: what forbids it, what to look at first, its air. Nothing is saved."""
    return rotation.work(request.auth, data)


@router.get("/rigs/{rig_id}/wear", response=answers(schemas.RigWearOut))
def rig_wear(request: ActorRequest, rig_id: int):
    """The treads of a rig, whether a rotation is due, and which its tires allow."""
    return rotation.present(request.auth, rig_id)


@router.post("/rigs/{rig_id}/moves", response=answers(schemas.RotationWork, 201))
def rotate(request: ActorRequest, rig_id: int, data: schemas.RotateIn):
    """Moves tires in one act; answers what is to be done now."""
    return Status(201, rotation.rotate(request.auth, rig_id, data))


@router.post("/rotations/{rotation_id}/learned", response=answers(None, 204))
def sensors_learned(request: ActorRequest, rotation_id: int):
    """The receiver has learned where its sensors are."""
    rotation.learned(request.auth, rotation_id)
    return Status(204, None)


@router.get("/tires", response=answers(schemas.TirePageOut))
def all_tires(request: ActorRequest, asked: Query[schemas.TiresIn]):
    """A page of all tires of the workspace."""
    return tires.page(request.auth, asked)


@router.get("/tires.csv", response=answers(str))
def all_tires_csv(request: ActorRequest, asked: Query[schemas.TiresIn]):
    """The whole list as it is asked for."""
    return csv_streamed(*tires.as_rows(request.auth, asked), "tires.csv")


@router.get("/tires/{tire_id}", response=answers(schemas.TireOut))
def one_tire(request: ActorRequest, tire_id: int):
    """A tire with its whole history."""
    return tires.one(request.auth, tire_id)


@router.post("/tires/{tire_id}/events", response=answers(schemas.TireOut, 201))
def add_event(request: ActorRequest, tire_id: int, data: schemas.EventIn):
    """Something that was done to a tire, or happened to it. Sent again it is simply there."""
    return Status(201, tires.add_event(request.auth, tire_id, data))


@router.delete("/tires/{tire_id}/events/{uuid}", response=answers(schemas.TireOut))
def take_back_event(request: ActorRequest, tire_id: int, uuid: UUID):
    return tires.take_back_event(request.auth, tire_id, uuid)
