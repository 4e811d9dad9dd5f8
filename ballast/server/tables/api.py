from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.files import attachment
from ballast.server.edge.problems import answers
from ballast.server.edge.schema import FileIn
from ballast.server.tables import imports, schemas, services

router = Router(tags=["tables"])
work = Router(tags=["work"])


@work.post("/tables", response=answers(schemas.GridOut))
def work_tables(request: ActorRequest, data: schemas.GridIn):
    """What a grid as typed means, and which cells look wrong. Nothing is saved."""
    return services.grid_out(services.understand(request.auth, data))


@work.post("/tables/paste", response=answers(schemas.BlockOut))
def work_paste(request: ActorRequest, data: schemas.PasteIn):
    """What a pasted block says, cell by cell. Nothing is saved."""
    return services.paste(data)


@work.post("/tables/import", response=answers(schemas.TablesImportOut))
def work_import(request: ActorRequest, data: FileIn):
    """What the tables of a file mean, and which of them are refused. Nothing is saved."""
    return imports.run(request.auth, data.content, save=False)


@router.get("/tables", response=answers(list[schemas.TableOut]))
def tables(request: ActorRequest):
    return [services.present(t, request.auth) for t in services.tables(request.auth)]


@router.post("/tables", response=answers(schemas.TableOut, 201))
def add_table(request: ActorRequest, data: schemas.TableIn):
    return Status(201, services.present(services.save_table(request.auth, data), request.auth))


@router.post("/tables/import", response=answers(schemas.TablesImportOut))
def import_tables(request: ActorRequest, data: FileIn):
    """Saves the tables of a file, all or nothing."""
    return imports.run(request.auth, data.content, save=True)


@router.get("/tables/export.json", response=answers(str))
def export_json(request: ActorRequest):
    return attachment(imports.export_json(request.auth), "load-inflation-tables.json", "application/json")


@router.get("/tables/export.csv", response=answers(str))
def export_csv(request: ActorRequest):
    return attachment(imports.export_csv(request.auth), "load-inflation-tables.csv", "text/csv")


@router.get("/tables/blank.csv", response=answers(str))
def blank_csv(request: ActorRequest):
    return attachment(imports.blank(), "load-inflation-tables-blank.csv", "text/csv")


@router.get("/tables/samples", response=answers(list[schemas.SampleOut]))
def samples(request: ActorRequest):
    return services.samples(request.auth)


@router.post("/tables/samples", response=answers(schemas.TableOut, 201))
def take_sample(request: ActorRequest, data: schemas.SampleIn):
    return Status(201, services.present(services.take_sample(request.auth, data.key), request.auth))


@router.put("/tables/{table_id}/check", response=answers(schemas.TableOut))
def check_table(request: ActorRequest, table_id: int, data: schemas.CheckIn):
    """A second person has read it against its source, or takes that back."""
    return services.present(services.check_table(request.auth, table_id, data.checked), request.auth)
