"""Practice: exercises on made-up rigs, on the real screens, judged by what was left on record."""

from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.practice import schemas, services

router = Router(tags=["practice"])


@router.get("/practice", response=answers(schemas.PracticeOut))
def practice(request: ActorRequest):
    return services.practice(request.auth)


@router.delete("/practice", response=answers(schemas.PracticeOut))
def forget(request: ActorRequest):
    """Forgets how everything went, for whoever asks."""
    return services.forget(request, request.auth)


@router.get("/practice/people", response=answers(list[schemas.PractisedOut]))
def practised(request: ActorRequest):
    """Who has done which exercise; how it went only they see."""
    return services.practised(request.auth)


@router.post("/practice/tries", response=answers(schemas.TryOut, 201))
def begin(request: ActorRequest, data: schemas.TryIn):
    """Begins an exercise in a world of its own, and enters it."""
    return Status(201, services.begin(request, request.auth, data))


@router.get("/practice/try", response=answers(schemas.TryOut))
def the_try(request: ActorRequest):
    return services.present(request.auth)


@router.post("/practice/try/hint", response=answers(schemas.TryOut))
def hint(request: ActorRequest):
    return services.hint(request.auth)


@router.post("/practice/try/look", response=answers(schemas.LookOut))
def look(request: ActorRequest, data: schemas.LookIn):
    """What a gauge shows at a wheel, or a pad under it. Nothing is entered by it."""
    return services.look(request.auth, data)


@router.post("/practice/try/night", response=answers(schemas.TryOut))
def night(request: ActorRequest):
    return services.pass_night(request.auth)


@router.post("/practice/try/judge", response=answers(schemas.TryOut))
def judge(request: ActorRequest, data: schemas.JudgeIn):
    return services.judge(request.auth, data.reason)


@router.post("/practice/leave", response=answers(None, 204))
def leave(request: ActorRequest):
    services.leave(request, request.auth)
    return Status(204, None)
