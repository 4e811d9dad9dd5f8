from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.rigs import services as rigs
from ballast.server.targets import services
from ballast.server.targets.schemas import (
    TargetSetOut,
    TargetsIn,
    TargetsOut,
    WhatIfTargetOut,
    WorkTargetsIn,
    WorkWhatIfTargetsIn,
)
from ballast.server.weighing import services as weighing

router = Router(tags=["targets"])
work = Router(tags=["work"])


@work.post("/targets", response=answers(TargetsOut))
def work_targets(request: ActorRequest, data: WorkTargetsIn):
    """Floor, target and ceiling of every axle, with the working. Nothing is saved."""
    return services.worked_out(services.work(request.auth, rigs.rig_on_axles(request.auth, data.rig), data))


@work.post("/targets/what-if", response=answers(list[WhatIfTargetOut]))
def work_what_if_targets(request: ActorRequest, data: WorkWhatIfTargetsIn):
    """The target of every axle with masses put aboard, beside what it is now. Nothing is saved."""
    return services.what_if(request.auth, data.rig, data)


@router.get("/rigs/{rig_id}/targets", response=answers(list[TargetSetOut]))
def targets(request: ActorRequest, rig_id: int):
    rig = rigs.rig(request.auth, rig_id)
    newest = weighing.in_force(request.auth, rig)
    return [
        services.present(s, rig, newest) for s in services.sets(request.auth, rig).prefetch_related("weighing__axles")
    ]


@router.post("/rigs/{rig_id}/targets", response=answers(TargetSetOut, 201))
def put_targets(request: ActorRequest, rig_id: int, data: TargetsIn):
    row = services.put_in_force(request.auth, rig_id, data)
    rig = rigs.rig(request.auth, rig_id)
    return Status(201, services.present(row, rig, weighing.in_force(request.auth, rig)))
