from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.weather.outlook import Outlook
from ballast.server.weather.outlook import outlook as read_outlook
from ballast.server.weather.records import PREFIX, records
from ballast.server.weather.service import Place, WeatherService, WeatherUnavailable, service


def places(actor: Actor) -> list[Place]:
    """The places that the service knows, and those of the workspace's own records."""
    actor.must(May.READ)
    try:
        known = service().places()
    except WeatherUnavailable:
        known = []
    return known + records(actor).places()


def made_up(key: str) -> bool:
    """Whether a place's weather is simulated: the service's is, a record that somebody brought is not."""
    return not key.startswith(PREFIX) and bool(getattr(service(), "made_up", False))


def _service_for(actor: Actor, key: str) -> tuple[WeatherService, Place]:
    """The service that knows a place. Raises Refusal for an unknown one, WeatherUnavailable when there is none."""
    source: WeatherService = records(actor) if key.startswith(PREFIX) else service()
    place = next((p for p in source.places() if p.key == key), None)
    if place is None:
        raise Refusal("The weather service does not know that place. Choose one of its list.", "place_key")
    return source, place


def outlook(actor: Actor, key: str) -> Outlook:
    """The weather at a place, now and for a week. Raises Refusal for an unknown place, WeatherUnavailable when there is
    none."""
    actor.must(May.READ)
    source, place = _service_for(actor, key)
    return read_outlook(source, place, clock.now())


def try_outlook(actor: Actor, key: str) -> Outlook | None:
    """The weather at a place, or None where it cannot be had."""
    if not key:
        return None
    try:
        return outlook(actor, key)
    except (Refusal, WeatherUnavailable):
        return None
