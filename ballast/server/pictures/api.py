"""Pictures of labels, sidewalls, tickets and wheels."""

from uuid import UUID

from django.http import FileResponse, HttpResponse
from ninja import Router

from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.pictures import files, schemas, services

router = Router(tags=["pictures"])


@router.get("/rigs/{rig_id}/pictures", response=answers(schemas.PicturesOut))
def rig_pictures(request: ActorRequest, rig_id: int):
    return services.of_rig(request.auth, rig_id)


@router.put("/rigs/{rig_id}/pictures/{uuid}", response=answers(schemas.PictureOut))
def keep_picture(request: ActorRequest, rig_id: int, uuid: UUID, data: schemas.PictureIn):
    return services.present(request.auth, services.keep(request.auth, rig_id, uuid, data))


@router.get("/pictures/{uuid}/file", response=answers(str))
def picture_file(request: ActorRequest, uuid: UUID) -> HttpResponse | FileResponse:
    """The picture, a JPEG that was made here."""
    picture = services.pictures(request.auth).get(pk=uuid)
    try:
        data = files.path_of(picture.content).open("rb")
    except FileNotFoundError:
        raise Refusal("The picture's file is missing on the server. Put it back from a copy.", "uuid") from None
    reply = FileResponse(data, content_type="image/jpeg")
    # Of one content for ever, and nobody else's.
    reply["Cache-Control"] = "private, max-age=31536000, immutable"
    return reply


@router.delete("/pictures/{uuid}", response=answers(schemas.PictureOut))
def take_picture_off(request: ActorRequest, uuid: UUID):
    return services.present(request.auth, services.take_off(request.auth, uuid, True))


@router.post("/pictures/{uuid}/restore", response=answers(schemas.PictureOut))
def put_picture_back(request: ActorRequest, uuid: UUID):
    return services.present(request.auth, services.take_off(request.auth, uuid, False))
