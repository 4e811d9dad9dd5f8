from ninja import Router, Status

from ballast.server.accounts.actors import Actor, ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.edge.rendering import written
from ballast.server.edge.schema import Strict
from ballast.server.tables.schemas import TableIn
from ballast.server.targets import chalk, editions, in_force, many, policies, schemas, services
from ballast.server.targets.models import TargetSet
from ballast.server.weighing import services as weighing

router = Router(tags=["targets"])
work = Router(tags=["work"])


class WithdrawIn(Strict):
    withdrawn: bool


@work.post("/targets", response=answers(schemas.WorkTargetsOut))
def work_targets(request: ActorRequest, data: schemas.WorkTargetsIn):
    """Floor, target and ceiling of every axle, every school, with the working. Nothing is saved."""
    worked = services.work(request.auth, policies.rig_of(request.auth, data.rig), data)
    return written(schemas.WorkTargetsOut.model_validate(services.worked_out(worked)))


@work.post("/targets/what-if", response=answers(list[schemas.Needed]))
def work_what_if_targets(request: ActorRequest, data: schemas.WorkWhatIfTargetsIn):
    """The target of every axle with masses put aboard, beside what it is now. Nothing is saved."""
    return services.what_if(request.auth, data.rig, data)


@work.post("/targets/edition", response=answers(list[schemas.Changed]))
def work_edition(request: ActorRequest, data: TableIn):
    """Which targets in force a new edition of a table would change, and by how much. Nothing is saved."""
    return editions.impact(request.auth, data)


def _set(actor: Actor, row: TargetSet, rig_id: int) -> services.PutInForce:
    rig = policies.rig_of(actor, rig_id)
    return services.present(row, rig, weighing.in_force(actor, rig), actor)


@router.get("/rigs/{rig_id}/targets", response=answers(list[schemas.TargetSetOut]))
def targets(request: ActorRequest, rig_id: int):
    """Every set of targets that was put in force, the newest first, with those that were taken back."""
    rig = policies.rig_of(request.auth, rig_id)
    newest = weighing.in_force(request.auth, rig)
    rows = in_force.sets(request.auth, rig, withdrawn=True).prefetch_related("weighing__axles")
    return [services.present(s, rig, newest, request.auth) for s in rows]


@router.post("/rigs/{rig_id}/targets", response=answers(schemas.TargetSetOut, 201))
def put_targets(request: ActorRequest, rig_id: int, data: schemas.TargetsIn):
    row = services.put_in_force(request.auth, rig_id, data)
    return Status(201, _set(request.auth, row, rig_id))


@router.get("/rigs/{rig_id}/policy", response=answers(policies.Way))
def way(request: ActorRequest, rig_id: int):
    return policies.way_of(request.auth, policies.rig_of(request.auth, rig_id))


@router.put("/rigs/{rig_id}/policy", response=answers(policies.Way))
def change_way(request: ActorRequest, rig_id: int, data: schemas.WayIn):
    """How a rig's targets are chosen and kept; what is given is kept, null goes back to the workspace's way."""
    given = data.model_dump(exclude_unset=True)
    return policies.way_of(request.auth, policies.change(request.auth, rig_id, given))


@work.post("/targets/many", response=answers(schemas.LookManyOut))
def work_many_targets(request: ActorRequest, data: schemas.LookManyIn):
    """What the targets of many rigs would be, worked out anew, and what contradicts. Nothing is saved."""
    return many.look(request.auth, data)


@router.post("/targets/many", response=answers(schemas.PutManyOut))
def put_many_targets(request: ActorRequest, data: schemas.PutManyIn):
    """Puts the targets of many rigs in force as they were told, where nothing contradicts."""
    return many.put_in_force(request.auth, data)


@router.post("/targets/withdrawn", response=answers(schemas.WithdrawManyOut))
def withdraw_many_targets(request: ActorRequest, data: schemas.WithdrawManyIn):
    """Takes sets of targets back that are in force: what was before is in force again."""
    return many.withdraw(request.auth, data)


@router.post("/check-days", response=answers(schemas.CheckEveryOut))
def check_every(request: ActorRequest, data: schemas.CheckEveryIn):
    """Gives many rigs so many days between their checks."""
    return many.check_every(request.auth, data)


@router.get("/rigs/{rig_id}/chalk", response=answers(list[schemas.ChalkOut]))
def chalk_results(request: ActorRequest, rig_id: int):
    return chalk.results(request.auth, rig_id)


@router.put("/rigs/{rig_id}/chalk/{result_id}", response=answers(list[schemas.ChalkOut]))
def withdraw_chalk(request: ActorRequest, rig_id: int, result_id: int, data: WithdrawIn):
    """Takes a result back, or takes that back."""
    return chalk.withdraw(request.auth, rig_id, result_id, data.withdrawn)
