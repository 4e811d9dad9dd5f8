"""A made-up weather service: deterministic, for made-up places only.

Temperature at a place and moment is a yearly course, a daily course with its low near dawn, and a
slow wander from day to day drawn from a hash of place and day; nothing is stored and nothing asked.
"""

import datetime as dt
import hashlib
import math
from dataclasses import dataclass

from ballast.server.weather.service import Outlook, Place

# Etc/GMT+7 is seven hours behind UTC; it names no real place.
ZONE = "Etc/GMT+7"
_OFFSET = dt.timedelta(hours=-7)
DAWN_HOUR = 6.0


@dataclass(frozen=True)
class Climate:
    """Yearly mean, yearly swing, daily swing and wander [°C], each half a width."""

    mean_c: float
    yearly_c: float
    daily_c: float
    wander_c: float


_PLACES: dict[str, tuple[Place, Climate]] = {
    p.key: (p, c)
    for p, c in (
        (Place("tarn-hollow", "Tarn Hollow", 410, ZONE), Climate(11, 10, 6, 4)),
        (Place("ember-lake", "Ember Lake", 640, ZONE), Climate(10, 11, 6, 4)),
        (Place("quill-dunes", "Quill Dunes", 55, ZONE), Climate(15, 7, 5, 3)),
        (Place("saltgrass-flat", "Saltgrass Flat", 1310, ZONE), Climate(8, 13, 10, 5)),
        (Place("marrow-pass", "Marrow Pass", 2650, ZONE), Climate(0, 10, 7, 5)),
    )
}


def _draw(key: str, day: int) -> float:
    """A number from −1 to 1 that belongs to a place and day for good."""
    digest = hashlib.sha256(f"{key}:{day}".encode()).digest()
    return int.from_bytes(digest[:8], "big") / 2**63 - 1


class SimulatedWeather:
    def places(self) -> list[Place]:
        return [place for place, _ in _PLACES.values()]

    def outside_c(self, key: str, at: dt.datetime) -> float:
        place, climate = _PLACES[key]
        local = at.astimezone(dt.UTC).replace(tzinfo=None) + _OFFSET
        day = local.toordinal()
        hour = local.hour + local.minute / 60
        # Coldest in mid-January, and at dawn.
        year = -math.cos(2 * math.pi * (local.timetuple().tm_yday - 15) / 365.25)
        daily = -math.cos(2 * math.pi * (hour - DAWN_HOUR) / 24)
        blend = (1 - math.cos(math.pi * hour / 24)) / 2
        wander = _draw(place.key, day) * (1 - blend) + _draw(place.key, day + 1) * blend
        return round(climate.mean_c + climate.yearly_c * year + climate.daily_c * daily + climate.wander_c * wander, 1)

    def outlook(self, key: str, at: dt.datetime) -> Outlook:
        place, _ = _PLACES[key]
        local = at.astimezone(dt.UTC) + _OFFSET
        dawn = local.replace(hour=int(DAWN_HOUR), minute=0, second=0, microsecond=0)
        last = dawn if dawn <= local else dawn - dt.timedelta(days=1)
        coming = last + dt.timedelta(days=1)
        return Outlook(
            place=place,
            at=at,
            outside_c=self.outside_c(key, at),
            morning_c=self.outside_c(key, last - _OFFSET),
            dawn_c=self.outside_c(key, coming - _OFFSET),
            dawn_at=coming - _OFFSET,
        )
