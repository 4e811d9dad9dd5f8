from ninja import Router, Status

from ballast.core.rigs import cautions, walking_order
from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.rigs import services
from ballast.server.rigs.schemas import ChangeOut, RigDraft, RigIn, RigOut

router = Router(tags=["rigs"])
work = Router(tags=["work"])


@work.post("/rigs", response=answers(RigDraft))
def work_rigs(request: ActorRequest, data: RigIn):
    """What a rig as typed means: sizes in words, wheels, cautions. Nothing is saved."""
    draft = services.read_draft(data)
    return {
        "sizes": [services.describe_size(s) for s in draft.sizes],
        "wheels": walking_order(draft.rig.axles, draft.rig.kind, len(data.spares)),
        "cautions": cautions(draft.rig),
    }


@router.get("/rigs", response=answers(list[RigOut]))
def rigs(request: ActorRequest, archived: bool = False):
    return [services.present(r) for r in services.rigs(request.auth).filter(archived=archived)]


@router.post("/rigs", response=answers(RigOut, 201))
def add_rig(request: ActorRequest, data: RigIn):
    return Status(201, services.present(services.save_rig(request.auth, data)))


@router.get("/rigs/{rig_id}", response=answers(RigOut))
def rig(request: ActorRequest, rig_id: int):
    return services.present(services.rig(request.auth, rig_id))


@router.put("/rigs/{rig_id}", response=answers(RigOut))
def change_rig(request: ActorRequest, rig_id: int, data: RigIn):
    return services.present(services.save_rig(request.auth, data, rig_id))


@router.delete("/rigs/{rig_id}", response=answers(RigOut))
def archive_rig(request: ActorRequest, rig_id: int):
    return services.present(services.archive(request.auth, rig_id, True))


@router.post("/rigs/{rig_id}/restore", response=answers(RigOut))
def restore_rig(request: ActorRequest, rig_id: int):
    return services.present(services.archive(request.auth, rig_id, False))


@router.get("/rigs/{rig_id}/history", response=answers(list[ChangeOut]))
def rig_history(request: ActorRequest, rig_id: int):
    return services.changes(request.auth, rig_id)
