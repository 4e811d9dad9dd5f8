"""Off the road and back: surfaces, plans, what is done at each wheel, kit and valves."""

from uuid import UUID

from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.edge.rendering import written
from ballast.server.ground import kit, schemas, services, surfaces

router = Router(tags=["ground"])
work = Router(tags=["work"])


@work.post("/ground", response=answers(schemas.PlanOut))
def work_ground(request: ActorRequest, data: schemas.WorkGroundIn):
    """A chain of surfaces as it would be walked: numbers, speeds, minutes down and back. Nothing is saved."""
    return written(services.work(request.auth, data))


@router.get("/surfaces", response=answers(schemas.SurfacesOut))
def list_surfaces(request: ActorRequest):
    return surfaces.present(request.auth)


@router.put("/surfaces", response=answers(schemas.SurfacesOut))
def keep_surfaces(request: ActorRequest, data: schemas.SurfacesIn):
    """Keeps all rows of the workspace, hardest first; none goes back to those that ship."""
    return surfaces.keep(request.auth, data)


@router.get("/rigs/{rig_id}/ground", response=answers(schemas.GroundOut))
def ground(request: ActorRequest, rig_id: int, gauge: int | None = None):
    """Every wheel's number on every surface, as data, and the plan that is open."""
    return services.ground(request.auth, rig_id, gauge)


@router.post("/rigs/{rig_id}/ground", response=answers(schemas.GroundOut, 201))
def open_plan(request: ActorRequest, rig_id: int, data: schemas.OpenIn):
    return Status(201, services.open_plan(request.auth, rig_id, data))


@router.get("/rigs/{rig_id}/ground/past", response=answers(list[schemas.PastPlan]))
def past_plans(request: ActorRequest, rig_id: int):
    return services.past(request.auth, rig_id)


@router.put("/rigs/{rig_id}/ground/axles/{number}", response=answers(schemas.GroundOut))
def say_of_axle(request: ActorRequest, rig_id: int, number: int, data: schemas.AxleOnGroundIn):
    """The role of an axle where its kind does not say it, and its maker's word."""
    return services.say_of_axle(request.auth, rig_id, number, data)


@router.put("/ground/{uuid}/step", response=answers(schemas.GroundOut))
def take_step(request: ActorRequest, uuid: UUID, data: schemas.StepIn):
    return services.step(request.auth, uuid, data)


@router.put("/ground/{uuid}/entries/{entry}", response=answers(schemas.GroundOut))
def enter(request: ActorRequest, uuid: UUID, entry: UUID, data: schemas.EntryIn):
    """What was done at a wheel. Sent again it is simply there."""
    return services.enter(request.auth, uuid, entry, data)


@router.delete("/ground/{uuid}/entries/{entry}", response=answers(schemas.GroundOut))
def take_back_entry(request: ActorRequest, uuid: UUID, entry: UUID):
    return services.take_back(request.auth, uuid, entry)


@router.post("/ground/{uuid}/learned", response=answers(schemas.GroundOut, 201))
def learn(request: ActorRequest, uuid: UUID, data: schemas.LearnedIn):
    """How it went there: proposed at that place the next time."""
    return Status(201, services.learn(request.auth, uuid, data))


@router.delete("/ground/{uuid}", response=answers(schemas.GroundOut))
def undo(request: ActorRequest, uuid: UUID):
    """Undoes a plan in which nothing was let out."""
    return services.undo(request.auth, uuid)


@router.get("/rigs/{rig_id}/kit", response=answers(schemas.KitOut))
def rig_kit(request: ActorRequest, rig_id: int):
    return kit.kit(request.auth, rig_id)


@router.put("/rigs/{rig_id}/kit", response=answers(schemas.KitOut))
def keep_kit(request: ActorRequest, rig_id: int, data: schemas.KitIn):
    return kit.keep(request.auth, rig_id, data)


@router.get("/rigs/{rig_id}/valves", response=answers(schemas.ValvesOut))
def rig_valves(request: ActorRequest, rig_id: int):
    return kit.valves(request.auth, rig_id)


@router.put("/rigs/{rig_id}/valves", response=answers(schemas.ValvesOut))
def keep_valves(request: ActorRequest, rig_id: int, data: schemas.ValvesIn):
    return kit.keep_valves(request.auth, rig_id, data)
