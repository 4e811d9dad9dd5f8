from ninja import Router

from ballast.core import air as core
from ballast.server.accounts.actors import Actor, ActorRequest
from ballast.server.air import now, schemas, services, trips, warm
from ballast.server.edge.files import attachment
from ballast.server.edge.problems import answers
from ballast.server.edge.rendering import written
from ballast.server.edge.schema import FileIn

router = Router(tags=["air"])
work = Router(tags=["work"])


@work.post("/air", response=answers(schemas.AirAnswerOut))
def work_air(request: ActorRequest, data: schemas.WorkAirIn):
    """What each target in force reads in this air, at the coming dawns and highs, and what to set now. Nothing is saved."""
    vehicles = services.vehicles(request.auth, data.rig, data.whole)
    answer = services.answer(now.read_air(request.auth, data), vehicles, data.temperature, data.check_days)
    return written(schemas.AirAnswerOut.model_validate(answer))


@work.post("/air/forecast", response=answers(core.ForecastRead))
def work_forecast(request: ActorRequest, data: schemas.ForecastIn):
    """What a pasted forecast, or one from a file, says day by day, and every line that was not understood. Nothing is saved."""
    return now.read_forecast(request.auth, data)


@work.post("/air/elsewhere", response=answers(list[schemas.Elsewhere]))
def work_elsewhere(request: ActorRequest, data: schemas.ElsewhereIn):
    """What a gauge must show in a heated shop, a hot afternoon or another place. Nothing is saved."""
    return warm.elsewhere(request.auth, data)


@work.post("/air/warm", response=answers(schemas.Warm))
def work_warm(request: ActorRequest, data: schemas.WarmIn):
    """Is it cold yet, how to top up a warm tire, what it should read hot. Nothing is saved."""
    return warm.warm(request.auth, data)


@work.post("/air/readings", response=answers(schemas.Readings))
def work_readings(request: ActorRequest, data: schemas.ReadingsIn):
    """Cold readings by temperature, with the thumb rule beside the law. Nothing is saved."""
    return warm.readings(request.auth, data)


@work.post("/air/trip", response=answers(schemas.Trip))
def work_trip(request: ActorRequest, data: schemas.WorkTripIn):
    """The one fill that holds along a trip, or where to stop and set again. Nothing is saved."""
    return written(trips.plan(request.auth, data))


@work.post("/air/trip-file", response=answers(list[schemas.LegTypedOut]))
def work_trip_file(request: ActorRequest, data: FileIn):
    """The legs of a CSV, as typed. Nothing is saved."""
    return trips.read_file(request.auth, data.content)


@router.get("/trip-blank.csv", response=answers(str))
def trip_blank(request: ActorRequest):
    return attachment(trips.blank(), "trip-blank.csv", "text/csv")


def _air(actor: Actor, rig_id: int) -> services.AirAnswer:
    vehicles = services.vehicles(actor, rig_id)
    return services.answer(now.air_of(actor, vehicles[0].rig), vehicles)


@router.get("/rigs/{rig_id}/air", response=answers(schemas.AirAnswerOut))
def air(request: ActorRequest, rig_id: int):
    return _air(request.auth, rig_id)


@router.put("/rigs/{rig_id}/air", response=answers(schemas.AirAnswerOut))
def set_air(request: ActorRequest, rig_id: int, data: schemas.AirKeptIn):
    now.set_air(request.auth, rig_id, data)
    return _air(request.auth, rig_id)


@router.post("/rigs/{rig_id}/air/confirm", response=answers(schemas.AirAnswerOut))
def confirm_air(request: ActorRequest, rig_id: int):
    """What was typed by hand still holds: it is now again."""
    now.confirm_air(request.auth, rig_id)
    return _air(request.auth, rig_id)


@router.get("/rigs/{rig_id}/trip", response=answers(schemas.TripStoredOut))
def trip(request: ActorRequest, rig_id: int):
    return trips.kept(request.auth, rig_id)


@router.put("/rigs/{rig_id}/trip", response=answers(schemas.TripStoredOut))
def keep_trip(request: ActorRequest, rig_id: int, data: schemas.TripIn):
    """Keeps the trip of a rig as typed."""
    return trips.keep(request.auth, rig_id, data)
