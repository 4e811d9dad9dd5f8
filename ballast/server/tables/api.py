from django.http import HttpRequest
from ninja import Router

from ballast.server.edge.problems import answers
from ballast.server.tables import services
from ballast.server.tables.schemas import GridIn, GridOut, SampleIn, SampleOut, TableIn, TableOut

router = Router(tags=["tables"])


@router.post("/work/tables", response=answers(GridOut))
def work_tables(request: HttpRequest, data: GridIn):
    """What a grid as typed means, and which cells look wrong. Nothing is saved."""
    return services.grid_out(services.understand(data))


@router.get("/tables", response=answers(list[TableOut]))
def tables(request: HttpRequest):
    return [services.present(t) for t in services.tables(request.auth)]


@router.post("/tables", response=answers(TableOut, 201))
def add_table(request: HttpRequest, data: TableIn):
    return 201, services.present(services.save_table(request.auth, data))


@router.get("/tables/samples", response=answers(list[SampleOut]))
def samples(request: HttpRequest):
    return services.samples(request.auth)


@router.post("/tables/samples", response=answers(TableOut, 201))
def take_sample(request: HttpRequest, data: SampleIn):
    return 201, services.present(services.take_sample(request.auth, data.key))
