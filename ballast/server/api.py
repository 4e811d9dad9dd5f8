"""The API: every room's routes under one roof, one way of saying no."""

from django.http import HttpRequest
from ninja import NinjaAPI, Schema

from ballast.server.accounts.actors import SignedIn
from ballast.server.accounts.api import router as accounts
from ballast.server.air.api import router as air
from ballast.server.edge.parsing import StrictParser
from ballast.server.edge.problems import answers, install
from ballast.server.gauges.api import router as gauges
from ballast.server.lookback.api import router as lookback
from ballast.server.rigs.api import router as rigs
from ballast.server.rounds.api import router as rounds
from ballast.server.tables.api import router as tables
from ballast.server.targets.api import router as targets
from ballast.server.weather.api import router as weather
from ballast.server.weighing.api import router as weighing
from ballast.server.yard.api import router as yard

api = NinjaAPI(
    title="Gentle Ballast",
    version="1",
    description="Pressures in kPa (gauge), weights in kg, temperatures in °C, lengths in m.",
    auth=SignedIn(),
    parser=StrictParser(),
    docs_url=None,
)
install(api)


class Nothing(Schema):
    pass


@api.post("/work/nothing", response=answers(Nothing), tags=["work"])
def work_nothing(request: HttpRequest, data: Nothing):
    """An empty signed-in call: what the others are measured against."""
    return data


for router in (accounts, rigs, weather, gauges, tables, weighing, targets, air, rounds, lookback, yard):
    api.add_router("", router)
