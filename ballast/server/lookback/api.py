"""Sealed rounds through time."""

from ninja import Query, Router

from ballast.server.accounts.actors import ActorRequest, May
from ballast.server.air import trips
from ballast.server.edge.files import csv_streamed
from ballast.server.edge.problems import answers
from ballast.server.edge.rendering import written
from ballast.server.edge.words import slug
from ballast.server.lookback import checks, services
from ballast.server.lookback.schemas import ChecksIn, ChecksOut, LookBackOut, SealedIn, SealedRoundsOut
from ballast.server.rigs import services as rigs
from ballast.server.rounds import found_out
from ballast.server.rounds.schemas import GaugeSaidOut
from ballast.server.sensors.held import WITH_HEARD

router = Router(tags=["lookback"])


@router.get("/lookback/{rig_id}", response=answers(LookBackOut))
def look_back(request: ActorRequest, rig_id: int):
    """Every tire through its services, the rounds taken apart, and how good predictions were."""
    past = services.look_back(
        request.auth, rigs.rig_on_wheels(request.auth, rig_id, also=(*trips.WITH_TRIP, *WITH_HEARD))
    )
    return written(LookBackOut.model_validate(past))


@router.get("/lookback/{rig_id}/rounds", response=answers(SealedRoundsOut))
def listed_rounds(request: ActorRequest, rig_id: int, of: Query[SealedIn]):
    """The sealed rounds as they are looked for: of their places, results, gauges and people; so many at a time as Look back brings."""
    return services.rounds_of(request.auth, rigs.rig(request.auth, rig_id), of)


@router.get("/lookback/{rig_id}/rounds.csv", response=answers(str))
def export_rounds(request: ActorRequest, rig_id: int):
    """All sealed rounds as CSV, a line for every tire, in kPa and °C."""
    rig = rigs.rig(request.auth, rig_id)
    name = slug(rig.fleet_number or rig.name)
    return csv_streamed(*services.export(request.auth, rig), f"{name}-rounds.csv")


@router.get("/checks", response=answers(ChecksOut))
def all_checks(request: ActorRequest, of: Query[ChecksIn]):
    """Who read what with which gauge when, over all rigs."""
    return checks.checks(request.auth, of)


@router.get("/checks.csv", response=answers(str))
def export_checks(request: ActorRequest, of: Query[ChecksIn]):
    """All that fit, as CSV, sent row by row."""
    request.auth.must(May.READ)
    return csv_streamed(checks.COLUMNS, checks.export(request.auth, of), "checks.csv")


@router.get("/gauges-by-rounds", response=answers(list[GaugeSaidOut]))
def gauges_by_rounds(request: ActorRequest):
    """What rounds say of each gauge, where enough of them changed from one to another."""
    return found_out.said(request.auth)
