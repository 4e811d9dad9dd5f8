"""The gauge drawer with its comparisons, and the inflators."""

from ninja import Query, Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.files import attachment, csv_streamed
from ballast.server.edge.problems import answers
from ballast.server.gauges import deflators, inflators, schemas, services
from ballast.server.gauges import drawer as drawers

router = Router(tags=["gauges"])
work = Router(tags=["work"])


@router.get("/gauges", response=answers(list[schemas.GaugeOut]))
def gauges(request: ActorRequest):
    return [services.present(g) for g in services.gauges(request.auth)]


@router.get("/gauges/drawer", response=answers(schemas.DrawerOut))
def drawer(request: ActorRequest, of: Query[schemas.DrawerIn]):
    """A page of the gauges, as they are looked for."""
    return drawers.page(request.auth, of)


@router.get("/gauges/drawer.csv", response=answers(str))
def drawer_csv(request: ActorRequest, of: Query[schemas.DrawerIn]):
    """The whole list as it is looked for."""
    return csv_streamed(*drawers.as_rows(request.auth, of), "gauges.csv")


@router.post("/gauges", response=answers(schemas.GaugeOut, 201))
def add_gauge(request: ActorRequest, data: schemas.GaugeIn):
    return Status(201, services.present(services.save_gauge(request.auth, data)))


@router.get("/gauges/comparisons.csv", response=answers(str))
def export_gauges(request: ActorRequest):
    """Every comparison of every gauge as CSV, a line for each pair, in kPa."""
    return attachment(services.export(request.auth), "gauge-comparisons.csv", "text/csv")


@router.get("/gauges/devices", response=answers(list[schemas.DeviceOut]))
def radio_devices(request: ActorRequest):
    """What is heard over the radio link."""
    return services.devices(request.auth)


@router.get("/gauges/beside", response=answers(list[schemas.BesideOut]))
def gauges_beside(request: ActorRequest):
    return services.besides(request.auth)


@router.post("/gauges/beside", response=answers(schemas.BesideOut, 201))
def record_beside(request: ActorRequest, data: schemas.BesideIn):
    return Status(201, services.record_beside(request.auth, data))


@router.get("/gauges/{gauge_id}", response=answers(schemas.GaugeSheetOut))
def gauge(request: ActorRequest, gauge_id: int):
    return services.sheet(services.gauge(request.auth, gauge_id))


@router.put("/gauges/{gauge_id}", response=answers(schemas.GaugeOut))
def change_gauge(request: ActorRequest, gauge_id: int, data: schemas.GaugeIn):
    return services.present(services.save_gauge(request.auth, data, gauge_id))


@router.put("/gauges/{gauge_id}/suspicion", response=answers(schemas.GaugeOut))
def suspect_gauge(request: ActorRequest, gauge_id: int, data: schemas.SuspectIn):
    return services.present(services.suspect(request.auth, gauge_id, data))


@router.post("/gauges/{gauge_id}/calibrations", response=answers(schemas.GaugeSheetOut, 201))
def compare_gauge(request: ActorRequest, gauge_id: int, data: schemas.CalibrationIn):
    return Status(201, services.sheet(services.compare(request.auth, gauge_id, data)))


@router.post("/gauges/{gauge_id}/bench", response=answers(schemas.BenchOut))
def bench_gauge(request: ActorRequest, gauge_id: int, data: schemas.BenchIn):
    """Master and gauge side by side on the bench, at a pressure. Nothing is saved."""
    return services.bench(request.auth, gauge_id, data)


@router.get("/inflators", response=answers(list[schemas.InflatorOut]))
def list_inflators(request: ActorRequest):
    return [inflators.present(i) for i in inflators.inflators(request.auth)]


@router.post("/inflators", response=answers(schemas.InflatorOut, 201))
def add_inflator(request: ActorRequest, data: schemas.InflatorIn):
    return Status(201, inflators.present(inflators.save(request.auth, data)))


@router.put("/inflators/{inflator_id}", response=answers(schemas.InflatorOut))
def change_inflator(request: ActorRequest, inflator_id: int, data: schemas.InflatorIn):
    return inflators.present(inflators.save(request.auth, data, inflator_id))


@router.get("/deflators", response=answers(list[schemas.DeflatorsOut]))
def list_deflators(request: ActorRequest):
    return [deflators.present(d) for d in deflators.sets(request.auth)]


@router.post("/deflators", response=answers(schemas.DeflatorsOut, 201))
def add_deflators(request: ActorRequest, data: schemas.DeflatorsIn):
    return Status(201, deflators.present(deflators.save(request.auth, data)))


@router.put("/deflators/{set_id}", response=answers(schemas.DeflatorsOut))
def change_deflators(request: ActorRequest, set_id: int, data: schemas.DeflatorsIn):
    return deflators.present(deflators.save(request.auth, data, set_id))


@router.post("/deflators/{set_id}/closings", response=answers(schemas.DeflatorsOut, 201))
def compare_deflators(request: ActorRequest, set_id: int, data: schemas.ClosingIn):
    """Keeps what a set left in a tire: where it closes goes by that from then on."""
    return Status(201, deflators.present(deflators.compare(request.auth, set_id, data)))


@work.post("/gauges", response=answers(schemas.CorrectionOut))
def work_gauges(request: ActorRequest, data: schemas.WorkPairsIn):
    """The curve that pairs as typed would give a gauge. Nothing is saved."""
    return services.work_curve(request.auth, data.gauge, data)


@work.post("/gauges/beside", response=answers(schemas.BesideOut))
def work_beside(request: ActorRequest, data: schemas.BesideIn):
    """What gauges on one tire say of each other, as typed. Nothing is saved."""
    return services.work_beside(request.auth, data)


@work.post("/gauges/job", response=answers(schemas.JobOut))
def work_job(request: ActorRequest, data: schemas.JobIn):
    """Whether an inflator does a job: the set-point, the time, the order. Nothing is saved."""
    return inflators.work_job(request.auth, data)
