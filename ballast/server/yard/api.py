from ninja import Router

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.yard import services
from ballast.server.yard.schemas import SheetOut, YardOut

router = Router(tags=["yard"])


@router.get("/yard", response=answers(YardOut))
def yard(request: ActorRequest):
    return services.yard(request.auth)


@router.get("/yard/{rig_id}", response=answers(SheetOut))
def sheet(request: ActorRequest, rig_id: int):
    return services.sheet(request.auth, rig_id)
