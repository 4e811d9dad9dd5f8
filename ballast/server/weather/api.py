import datetime as dt

from ninja import Router

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.edge.schema import Out
from ballast.server.weather import services

router = Router(tags=["weather"])


class PlaceOut(Out):
    key: str
    name: str
    elevation_m: float
    time_zone: str


class OutlookOut(Out):
    place: PlaceOut
    at: dt.datetime
    outside_c: float
    morning_c: float
    dawn_c: float
    dawn_at: dt.datetime


@router.get("/weather/places", response=answers(list[PlaceOut]))
def places(request: ActorRequest):
    return services.places(request.auth)


@router.get("/weather/places/{key}", response=answers(OutlookOut))
def outlook(request: ActorRequest, key: str):
    return services.outlook(request.auth, key)
