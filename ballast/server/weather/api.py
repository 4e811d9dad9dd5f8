import datetime as dt
from typing import Annotated

from ninja import Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.files import attachment
from ballast.server.edge.problems import answers
from ballast.server.edge.quantities import Elevation, Name, Words
from ballast.server.edge.schema import FileIn, Out
from ballast.server.weather import records, services

router = Router(tags=["weather"])


class PlaceOut(Out):
    key: str
    name: str
    elevation_m: float
    time_zone: str


class DayOut(Out):
    """A day at a place, by its own clock: dawn low and high with their times."""

    date: dt.date
    dawn_at: dt.datetime
    dawn_c: float
    high_at: dt.datetime | None
    high_c: float | None


class OutlookOut(Out):
    place: PlaceOut
    at: dt.datetime
    outside_c: float
    morning_c: float | None
    # The service is a simulation.
    made_up: bool
    week: list[DayOut]


class RecordIn(FileIn):
    """Hourly temperatures of a place, as CSV."""

    place: Name
    elevation_m: Elevation
    time_zone: Annotated[str, Words(40, 1)]


class RecordOut(Out):
    id: int
    key: str
    name: str
    hours: int
    start: dt.datetime


@router.get("/weather/places", response=answers(list[PlaceOut]))
def places(request: ActorRequest):
    return services.places(request.auth)


@router.get("/weather/places/{key}", response=answers(OutlookOut))
def outlook(request: ActorRequest, key: str):
    return services.outlook(request.auth, key)


@router.get("/weather/records/blank.csv", response=answers(str))
def blank_record(request: ActorRequest):
    return attachment(records.blank(), "weather-blank.csv", "text/csv")


@router.post("/weather/records", response=answers(RecordOut, 201))
def bring_record(request: ActorRequest, data: RecordIn):
    """Hourly temperatures of one's own for a place; a record of the same place is replaced."""
    row = records.bring(request.auth, data.place, data.elevation_m.value, data.time_zone, data.content)
    key = f"{records.PREFIX}{row.pk}"
    return Status(201, {"id": row.pk, "key": key, "name": row.name, "hours": len(row.hours), "start": row.start})


@router.delete("/weather/records/{record_id}", response=answers(None, 204))
def drop_record(request: ActorRequest, record_id: int):
    records.drop(request.auth, record_id)
    return Status(204, None)
