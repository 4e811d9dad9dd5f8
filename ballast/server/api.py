"""The API: every room's routes under one roof, one way of saying no."""

import json
from functools import cache

from django.http import HttpRequest, HttpResponse
from ninja import Router

from ballast.server.accounts.actors import ByApiKey, SignedIn
from ballast.server.accounts.api import router as accounts
from ballast.server.air import api as air
from ballast.server.archive.api import router as archive
from ballast.server.assignments import api as assignments
from ballast.server.card.api import router as card
from ballast.server.earlier import api as earlier
from ballast.server.edge.parsing import StrictParser
from ballast.server.edge.problems import Api, answers, install
from ballast.server.edge.rendering import JsonRenderer
from ballast.server.edge.schema import Out
from ballast.server.gauges import api as gauges
from ballast.server.ground import api as ground
from ballast.server.lookback.api import router as lookback
from ballast.server.pictures.api import router as pictures
from ballast.server.practice.api import router as practice
from ballast.server.refine import api as refine
from ballast.server.report.api import router as report
from ballast.server.rigs import api as rigs
from ballast.server.rounds import api as rounds
from ballast.server.schedule.api import router as schedule
from ballast.server.sensors import api as sensors
from ballast.server.tables import api as tables
from ballast.server.targets import api as targets
from ballast.server.weather.api import router as weather
from ballast.server.weighing import api as weighing
from ballast.server.yard.api import router as yard

api = Api(
    title="Gentle Ballast",
    version="1",
    description="Pressures in kPa (gauge), weights in kg, temperatures in °C, lengths in m.",
    auth=[ByApiKey(), SignedIn()],
    parser=StrictParser(),
    renderer=JsonRenderer(),
    docs_url=None,
    # Whoever is signed in may read how it is called.
    openapi_url=None,
)
install(api)


@cache
def _described() -> str:
    return json.dumps(api.get_openapi_schema(path_prefix="/api/v1/"))


@api.get("/openapi.json", include_in_schema=False)
def described(request: HttpRequest) -> HttpResponse:
    return HttpResponse(_described(), content_type="application/json")


class Nothing(Out):
    pass


work = Router(tags=["work"])


@work.post("/nothing", response=answers(Nothing))
def work_nothing(request: HttpRequest, data: Nothing):
    """An empty signed-in call: what the others are measured against."""
    return data


# Records: what is saved. In the order of the work line.
for records in (
    accounts, rigs.router, weather, gauges.router, tables.router, weighing.router, targets.router, air.router, ground.router, refine.router, card, rounds.router, assignments.router,
    sensors.router, earlier.router, lookback, pictures, yard, schedule, report, practice, archive,
):  # fmt: skip
    api.add_router("", records)

# Work: inputs in, answer and working out, nothing saved.
for room in (rigs, gauges, tables, weighing, targets, air, ground, refine, rounds, assignments, sensors, earlier):
    api.add_router("/work", room.work)
api.add_router("/work", work)
