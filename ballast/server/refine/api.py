"""Refined by what tires show: chalk trials."""

from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.refine import schemas, services

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
