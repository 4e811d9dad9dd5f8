import re

from ninja import Router

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.files import attachment
from ballast.server.edge.problems import answers
from ballast.server.lookback import services
from ballast.server.lookback.schemas import SealedRoundOut
from ballast.server.rigs import services as rigs

router = Router(tags=["lookback"])


@router.get("/lookback/{rig_id}", response=answers(list[SealedRoundOut]))
def sealed_rounds(request: ActorRequest, rig_id: int):
    return services.sealed(request.auth, rigs.rig(request.auth, rig_id))


@router.get("/lookback/{rig_id}/rounds.csv", response=answers(str))
def export_rounds(request: ActorRequest, rig_id: int):
    """All sealed rounds as CSV, a line for every tire, in kPa and °C."""
    rig = rigs.rig(request.auth, rig_id)
    name = re.sub(r"[^A-Za-z0-9-]+", "-", f"{rig.fleet_number or rig.name}").strip("-") or "rig"
    return attachment(services.export(request.auth, rig), f"{name}-rounds.csv", "text/csv")
