from typing import Any

from ninja import Router

from ballast.server.accounts.actors import Actor, ActorRequest
from ballast.server.air import services
from ballast.server.air.schemas import AirAnswerOut, AirIn, WorkAirIn
from ballast.server.edge.problems import answers
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.targets import services as targets

router = Router(tags=["air"])
work = Router(tags=["work"])


def _answer(actor: Actor, rig: Rig, air: dict[str, Any]) -> dict[str, Any]:
    typed = rigs.rig_of(rig)
    names = {a.number: typed.axle_name(a.number) for a in typed.axles}
    return services.answer(air, targets.bands_in_force(actor, rig), names)


@work.post("/air", response=answers(AirAnswerOut))
def work_air(request: ActorRequest, data: WorkAirIn):
    """What each target in force reads in this air and at the coming dawn. Nothing is saved."""
    rig = rigs.rig_on_axles(request.auth, data.rig)
    return _answer(request.auth, rig, services.read_air(request.auth, data))


@router.get("/rigs/{rig_id}/air", response=answers(AirAnswerOut))
def air(request: ActorRequest, rig_id: int):
    rig = rigs.rigs(request.auth).select_related("air").get(pk=rig_id)
    return _answer(request.auth, rig, services.air_of(request.auth, rig))


@router.put("/rigs/{rig_id}/air", response=answers(AirAnswerOut))
def set_air(request: ActorRequest, rig_id: int, data: AirIn):
    rig = services.set_air(request.auth, rig_id, data)
    return _answer(request.auth, rig, services.air_of(request.auth, rig))
