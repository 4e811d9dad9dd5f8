"""A made-up weather service: deterministic, for made-up places only.

Temperature at a place and moment is a yearly course, a daily course with its low near dawn, a slow wander from day to
day, and now and then a cold snap over all places, drawn from hashes of place and day; nothing is stored or asked.
"""

import datetime as dt
import hashlib
import math
from dataclasses import dataclass
from functools import lru_cache

from ballast.server.weather.service import Place

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


# A snap begins in some of these stretches of days, lasts three, and is this deep [°C].
SNAP_EVERY_DAYS, SNAP_CHANCE, SNAP_DAYS = 12, 0.4, 3.0
SNAP_C = (7.0, 17.0)


@lru_cache(maxsize=20_000)
def _draw(key: str, day: int) -> float:
    """A number from −1 to 1 that belongs to a place and day for good."""
    digest = hashlib.sha256(f"{key}:{day}".encode()).digest()
    return int.from_bytes(digest[:8], "big") / 2**63 - 1


def snap_c(days: float) -> float:
    """How much a cold snap takes off [°C] at a moment, in days since the calendar began: in and out over three days."""
    block = math.floor(days / SNAP_EVERY_DAYS)
    taken = 0.0
    for b in (block - 1, block):
        if (_draw("snap", b) + 1) / 2 < SNAP_CHANCE:
            begins = b * SNAP_EVERY_DAYS + (_draw("begins", b) + 1) / 2 * (SNAP_EVERY_DAYS - SNAP_DAYS)
            into = (days - begins) / SNAP_DAYS
            if 0 < into < 1:
                low, high = SNAP_C
                taken += (low + (high - low) * (_draw("deep", b) + 1) / 2) * math.sin(math.pi * into) ** 2
    return taken


class SimulatedWeather:
    made_up = True

    def places(self) -> list[Place]:
        return [place for place, _ in _PLACES.values()]

    def outside_c(self, key: str, at: dt.datetime) -> float:
        """Temperature [°C] at a moment. Raises KeyError for a place that is not of this world."""
        place, climate = _PLACES[key]
        local = at.astimezone(dt.UTC).replace(tzinfo=None) + _OFFSET
        day = local.toordinal()
        hour = local.hour + local.minute / 60
        # Coldest in mid-January, and at dawn.
        year = -math.cos(2 * math.pi * (local.timetuple().tm_yday - 15) / 365.25)
        daily = -math.cos(2 * math.pi * (hour - DAWN_HOUR) / 24)
        blend = (1 - math.cos(math.pi * hour / 24)) / 2
        wander = _draw(place.key, day) * (1 - blend) + _draw(place.key, day + 1) * blend
        course = climate.mean_c + climate.yearly_c * year + climate.daily_c * daily + climate.wander_c * wander
        return round(course - snap_c(day + hour / 24), 1)

    def hourly(self, key: str, start: dt.datetime, hours: int) -> list[float | None]:
        return [self.outside_c(key, start + dt.timedelta(hours=h)) for h in range(hours)]
