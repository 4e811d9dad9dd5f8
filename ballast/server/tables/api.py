from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.tables import services
from ballast.server.tables.schemas import GridIn, GridOut, SampleIn, SampleOut, TableIn, TableOut

router = Router(tags=["tables"])
work = Router(tags=["work"])


@work.post("/tables", response=answers(GridOut))
def work_tables(request: ActorRequest, data: GridIn):
    """What a grid as typed means, and which cells look wrong. Nothing is saved."""
    return services.grid_out(services.understand(data))


@router.get("/tables", response=answers(list[TableOut]))
def tables(request: ActorRequest):
    return [services.present(t) for t in services.tables(request.auth)]


@router.post("/tables", response=answers(TableOut, 201))
def add_table(request: ActorRequest, data: TableIn):
    return Status(201, services.present(services.save_table(request.auth, data)))


@router.get("/tables/samples", response=answers(list[SampleOut]))
def samples(request: ActorRequest):
    return services.samples(request.auth)


@router.post("/tables/samples", response=answers(TableOut, 201))
def take_sample(request: ActorRequest, data: SampleIn):
    return Status(201, services.present(services.take_sample(request.auth, data.key)))
