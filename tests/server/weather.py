"""Weather services for tests: one that never changes, one that does not answer."""

import datetime as dt

from ballast.server.weather.service import Outlook, Place, WeatherUnavailable

PLACE = Place("still-water", "Still Water", 410.0, "Etc/GMT+7")


class Still:
    """Ten degrees now and this morning, two at the coming dawn."""

    def places(self) -> list[Place]:
        return [PLACE]

    def outlook(self, key: str, at: dt.datetime) -> Outlook:
        if key != PLACE.key:
            raise KeyError(key)
        return Outlook(PLACE, at, 10.0, 10.0, 2.0, dt.datetime(2026, 11, 26, 13, tzinfo=dt.UTC))

    def outside_c(self, key: str, at: dt.datetime) -> float:
        return 10.0


class Silent(Still):
    """A service that does not answer."""

    def places(self) -> list[Place]:
        raise WeatherUnavailable("The weather service does not answer. Enter the air by hand.")

    def outlook(self, key: str, at: dt.datetime) -> Outlook:
        raise WeatherUnavailable("The weather service does not answer. Enter the air by hand.")
