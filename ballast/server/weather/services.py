from django.utils import timezone

from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.weather.service import Outlook, Place, WeatherUnavailable, service


def places(actor: Actor) -> list[Place]:
    actor.must(May.READ)
    try:
        return service().places()
    except WeatherUnavailable:
        return []


def outlook(actor: Actor, key: str) -> Outlook:
    """The weather at a place now. Raises Refusal for an unknown place, WeatherUnavailable when there is none."""
    actor.must(May.READ)
    try:
        return service().outlook(key, timezone.now())
    except KeyError:
        raise Refusal("The weather service does not know that place. Choose one of its list.", "place_key") from None


def try_outlook(actor: Actor, key: str) -> Outlook | None:
    """The weather at a place, or None where it cannot be had."""
    if not key:
        return None
    try:
        return outlook(actor, key)
    except (Refusal, WeatherUnavailable):
        return None
