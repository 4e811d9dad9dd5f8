from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.rigs import services as rigs
from ballast.server.weighing import services
from ballast.server.weighing.schemas import LoadsIn, LoadsOut, WeighingIn, WeighingOut

router = Router(tags=["weighing"])
work = Router(tags=["work"])


@work.post("/weighing", response=answers(LoadsOut))
def work_weighing(request: ActorRequest, data: LoadsIn):
    """Loads and margins of weights as typed. Nothing is saved."""
    rig = rigs.rig_on_axles(request.auth, data.rig)
    resolution = data.resolution_kg.value if data.resolution_kg else 0.0
    return services.loads_out(services.weigh(rig, data.axles, resolution))


@router.get("/rigs/{rig_id}/weighings", response=answers(list[WeighingOut]))
def weighings(request: ActorRequest, rig_id: int):
    rig = rigs.rig(request.auth, rig_id)
    typed = rigs.rig_of(rig)
    return [services.present(w, typed) for w in services.weighings(request.auth, rig)]


@router.post("/rigs/{rig_id}/weighings", response=answers(WeighingOut, 201))
def add_weighing(request: ActorRequest, rig_id: int, data: WeighingIn):
    row = services.save_weighing(request.auth, rig_id, data)
    return Status(201, services.present(row, rigs.rig_of(rigs.rig(request.auth, rig_id))))
