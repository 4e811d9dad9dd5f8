"""Rounds given to people and crews."""

from uuid import UUID

from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.assignments import services
from ballast.server.assignments.schemas import AssignedOut, CrewIn, CrewOut, GiveIn, GivenOut, GiveOnceIn, HandIn
from ballast.server.edge.problems import answers

router = Router(tags=["assignments"])
work = Router(tags=["work"])


@work.post("/assignments", response=answers(GivenOut))
def work_assignments(request: ActorRequest, data: GiveIn):
    """What giving these rounds would come to. Nothing is saved."""
    return services.work(request.auth, data)


@router.post("/assignments", response=answers(GivenOut, 201))
def give(request: ActorRequest, data: GiveOnceIn):
    """Gives rounds to somebody. Sent again they are simply there."""
    return Status(201, services.give(request.auth, data))


@router.delete("/assignments/batches/{uuid}", response=answers(None, 204))
def take_back(request: ActorRequest, uuid: UUID):
    """Takes back what was given in one act."""
    services.take_back(request.auth, uuid)
    return Status(204, None)


@router.put("/assignments/{assignment_id}", response=answers(AssignedOut))
def hand_over(request: ActorRequest, assignment_id: int, data: HandIn):
    """Over to another, or for another day."""
    return services.hand_over(request.auth, assignment_id, data)


@router.delete("/assignments/{assignment_id}", response=answers(None, 204))
def end_assignment(request: ActorRequest, assignment_id: int):
    services.end(request.auth, assignment_id)
    return Status(204, None)


@router.get("/rigs/{rig_id}/assigned", response=answers(list[AssignedOut]))
def assigned(request: ActorRequest, rig_id: int):
    """Who has a rig's round to do."""
    return services.of_rig(request.auth, rig_id)


@router.get("/crews", response=answers(list[CrewOut]))
def crews(request: ActorRequest):
    return services.crews(request.auth)


@router.post("/crews", response=answers(list[CrewOut], 201))
def add_crew(request: ActorRequest, data: CrewIn):
    return Status(201, services.keep_crew(request.auth, data))


@router.put("/crews/{crew_id}", response=answers(list[CrewOut]))
def change_crew(request: ActorRequest, crew_id: int, data: CrewIn):
    return services.keep_crew(request.auth, data, crew_id)


@router.delete("/crews/{crew_id}", response=answers(list[CrewOut]))
def disband(request: ActorRequest, crew_id: int):
    return services.disband(request.auth, crew_id)
