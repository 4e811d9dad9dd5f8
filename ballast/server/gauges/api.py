from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.gauges import services
from ballast.server.gauges.schemas import CalibrationIn, GaugeIn, GaugeOut

router = Router(tags=["gauges"])


@router.get("/gauges", response=answers(list[GaugeOut]))
def gauges(request: ActorRequest):
    return [services.present(g) for g in services.gauges(request.auth)]


@router.post("/gauges", response=answers(GaugeOut, 201))
def add_gauge(request: ActorRequest, data: GaugeIn):
    return Status(201, services.present(services.save_gauge(request.auth, data)))


@router.put("/gauges/{gauge_id}", response=answers(GaugeOut))
def change_gauge(request: ActorRequest, gauge_id: int, data: GaugeIn):
    return services.present(services.save_gauge(request.auth, data, gauge_id))


@router.post("/gauges/{gauge_id}/calibrations", response=answers(GaugeOut, 201))
def compare_gauge(request: ActorRequest, gauge_id: int, data: CalibrationIn):
    return Status(201, services.present(services.compare(request.auth, gauge_id, data)))
