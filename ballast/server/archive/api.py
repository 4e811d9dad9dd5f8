"""A workspace out as one file, and into an empty one."""

import shutil
import tempfile

from django.conf import settings
from django.http import FileResponse
from ninja import Router

from ballast.server.accounts.actors import ActorRequest
from ballast.server.archive import into, out
from ballast.server.archive.into import Brought
from ballast.server.archive.out import Holds
from ballast.server.edge import clock
from ballast.server.edge.problems import answers
from ballast.server.edge.words import slug
from ballast.server.edge.writing import stand_aside

router = Router(tags=["archive"])


@router.get("/archive/holds", response=answers(Holds))
def archive_holds(request: ActorRequest):
    """What an archive would hold, and whether this workspace is empty, so that one can be brought in."""
    return out.holds(request.auth)


@router.get("/archive", response=answers(str))
def archive_out(request: ActorRequest) -> FileResponse:
    """The whole workspace: a ZIP of JSON lines and pictures (docs/files.md). No password, key or secret address is in it."""
    stand_aside()
    made = tempfile.TemporaryFile(dir=settings.VAR)  # noqa: SIM115 - the answer closes it once it is sent
    try:
        out.write(request.auth, made)
    except BaseException:
        made.close()
        raise
    made.seek(0)
    name = f"{slug(request.auth.workspace.name)}-{clock.today().isoformat()}.zip"
    return FileResponse(made, as_attachment=True, filename=name, content_type="application/zip")


_ZIP = {"application/zip": {"schema": {"type": "string", "format": "binary"}}}


@router.post("/archive", response=answers(Brought), openapi_extra={"requestBody": {"required": True, "content": _ZIP}})
def archive_in(request: ActorRequest):
    """An archive into this workspace, which is empty; the body is the file (application/zip). All of it or nothing."""
    into.may_take(request.auth)
    stand_aside()
    with tempfile.TemporaryFile(dir=settings.VAR) as sent:
        shutil.copyfileobj(request, sent, 1 << 20)
        return into.bring_in(request.auth, sent)
