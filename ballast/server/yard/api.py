from django.http import HttpRequest
from ninja import Router

from ballast.server.edge.problems import answers
from ballast.server.yard import services
from ballast.server.yard.schemas import SheetOut, YardOut

router = Router(tags=["yard"])


@router.get("/yard", response=answers(YardOut))
def yard(request: HttpRequest):
    return services.yard(request.auth)


@router.get("/yard/{rig_id}", response=answers(SheetOut))
def sheet(request: HttpRequest, rig_id: int):
    return services.sheet(request.auth, rig_id)
