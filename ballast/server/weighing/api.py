from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.files import attachment
from ballast.server.edge.problems import answers
from ballast.server.edge.rendering import written
from ballast.server.rigs import services as rigs
from ballast.server.weighing import drift, schemas, services, tickets, whatif

router = Router(tags=["weighing"])
work = Router(tags=["work"])


@work.post("/weighing", response=answers(schemas.LoadsOut))
def work_weighing(request: ActorRequest, data: schemas.LoadsIn):
    """Loads and margins of weights as typed, by ticket or by passes. Nothing is saved."""
    return written(schemas.LoadsOut.model_validate(services.read_out(services.read(request.auth, data.rig, data))))


@work.post("/weighing/guide", response=answers(list[schemas.StepOut]))
def work_guide(request: ActorRequest, data: schemas.GuideIn):
    """The passes to do on the scale that is there, in order. Nothing is saved."""
    return services.guide(request.auth, data)


@work.post("/weighing/what-if", response=answers(schemas.WhatIfOut))
def work_what_if(request: ActorRequest, data: schemas.WorkWhatIfIn):
    """Loads and margins with masses put aboard, and what may still go to a place. Nothing is saved."""
    return whatif.what_if_out(whatif.imagine(request.auth, data.rig, data), data)


@work.post("/weighing/ticket", response=answers(schemas.TicketOut))
def work_ticket(request: ActorRequest, data: schemas.TicketIn):
    """Reads a scale ticket from a file. Nothing is saved."""
    return tickets.read_ticket(request.auth, data.rig, data.content)


@work.post("/weighing/scale", response=answers(schemas.ScaleReadingOut))
def work_scale(request: ActorRequest, data: schemas.ScaleIn):
    """What a connected scale shows now. Nothing is saved."""
    return tickets.read_scale(request.auth, data)


@work.post("/weighing/scale-ticket", response=answers(schemas.ScaleTicketOut))
def work_scale_ticket(request: ActorRequest, data: schemas.ScaleTicketIn):
    """A ticket as a connected scale issues it. Nothing is saved."""
    return tickets.scale_ticket(request.auth, data)


@router.get("/scales", response=answers(list[schemas.ScaleOut]))
def scales(request: ActorRequest):
    return tickets.setups(request.auth)


@router.get("/rigs/{rig_id}/weighings", response=answers(list[schemas.WeighingOut]))
def weighings(request: ActorRequest, rig_id: int):
    rig = rigs.rig(request.auth, rig_id)
    return [services.present(w, rig) for w in services.weighings(request.auth, rig)]


@router.post("/rigs/{rig_id}/weighings", response=answers(schemas.WeighingOut, 201))
def add_weighing(request: ActorRequest, rig_id: int, data: schemas.WeighingIn):
    row = services.save_weighing(request.auth, rig_id, data)
    return Status(201, services.present(row, rigs.rig(request.auth, rig_id)))


@router.post("/rigs/{rig_id}/worked-out", response=answers(schemas.WeighingOut, 201))
def save_worked_out(request: ActorRequest, rig_id: int, data: schemas.SaveWhatIfIn):
    """Keeps what was imagined as a load state that is worked out, not weighed."""
    row = whatif.save_worked_out(request.auth, rig_id, data)
    return Status(201, services.present(row, rigs.rig(request.auth, rig_id)))


@router.get("/rigs/{rig_id}/drift", response=answers(schemas.DriftOut))
def rig_drift(request: ActorRequest, rig_id: int):
    return drift.drift(request.auth, rigs.rig(request.auth, rig_id))


@router.get("/rigs/{rig_id}/weighings/{weighing_id}/ticket.json", response=answers(str))
def ticket_json(request: ActorRequest, rig_id: int, weighing_id: int):
    return attachment(
        tickets.export_json(request.auth, rig_id, weighing_id), f"ticket-{weighing_id}.json", "application/json"
    )


@router.get("/rigs/{rig_id}/weighings/{weighing_id}/ticket.csv", response=answers(str))
def ticket_csv(request: ActorRequest, rig_id: int, weighing_id: int):
    return attachment(tickets.export_csv(request.auth, rig_id, weighing_id), f"ticket-{weighing_id}.csv", "text/csv")


@router.get("/rigs/{rig_id}/load-states", response=answers(list[schemas.LoadStateOut]))
def load_states(request: ActorRequest, rig_id: int):
    return services.states(request.auth, rigs.rig(request.auth, rig_id))


@router.post("/rigs/{rig_id}/load-states", response=answers(list[schemas.LoadStateOut], 201))
def add_load_state(request: ActorRequest, rig_id: int, data: schemas.LoadStateIn):
    return Status(201, services.add_state(request.auth, rig_id, data.name))


@router.put("/rigs/{rig_id}/placard-row", response=answers(list[schemas.LoadStateOut]))
def choose_placard_row(request: ActorRequest, rig_id: int, data: schemas.RowIn):
    """Which of the label's two rows the load state in force goes by."""
    return services.choose_row(request.auth, rig_id, data.light)


@router.post("/rigs/{rig_id}/load-states/{state_id}/use", response=answers(list[schemas.LoadStateOut]))
def use_load_state(request: ActorRequest, rig_id: int, state_id: int):
    return services.use_state(request.auth, rig_id, state_id)


@router.delete("/rigs/{rig_id}/load-states/{state_id}", response=answers(list[schemas.LoadStateOut]))
def drop_load_state(request: ActorRequest, rig_id: int, state_id: int):
    return services.drop_state(request.auth, rig_id, state_id)
