"""What a sensor says of a wheel, how old it is, and what it comes to cold."""

import datetime as dt
from collections.abc import Collection
from dataclasses import dataclass, replace
from typing import Literal

from ballast.core.air import COLD_AFTER_H
from ballast.core.gas import REFERENCE, Air, carry
from ballast.core.working import Phrase, say

Kind = Literal["wheel", "cap", "speed"]
KINDS: dict[Kind, str] = {
    "wheel": "In the wheel",
    "cap": "On the valve",
    "speed": "By wheel speed: which tire is low, and no number",
}
# Rolling past this without a number, a wheel is not heard [min].
HEARD_MIN = 15.0
# A number older than this is not taken for now.
OLD = dt.timedelta(days=1)
# The air of now is that of a number of so long ago.
SAME_AIR = dt.timedelta(hours=1)
# Without a temperature a tire that rolled this long [min] is taken to be so far over the air [°C], light and heavy.
WARM_AFTER_MIN = 20.0
WARM_OVER_C = {"light": 10.0, "heavy": 15.0}
# No warmer over the air than this, a tire is cold [°C].
COLD_WITHIN_C = 3.0
OVERNIGHT_H = 12.0


@dataclass(frozen=True)
class Lately:
    """What it did before its numbers were read off: stood [h] or rolled [min]; both None: not known."""

    name: str
    stood_h: float | None = None
    rolled_min: float | None = None


# Until somebody says, it is not known.
LATELY = (
    Lately("Not sure"),
    Lately("Stood overnight", stood_h=OVERNIGHT_H),
    Lately("Rolled 20 minutes or more", rolled_min=30.0),
)


@dataclass(frozen=True)
class Sample:
    """A number of a sensor as it was measured: pressure [kPa], its tire's temperature [°C], None where it sends none.

    `rolled_min`: how long the rig had rolled by then, `stood_h`: how long it had stood; None: not known. `fresh`: the sensor
    sent it then; False: the receiver shows it again, and it judges nothing. `lacks_kpa`: so much it may show too little, where
    nobody knows whether it is sealed.
    """

    wheel: str
    at: dt.datetime
    kpa: float
    air: Air
    tire_c: float | None = None
    rolled_min: float | None = None
    stood_h: float | None = None
    fresh: bool = True
    lacks_kpa: float = 0.0

    @property
    def rolling(self) -> bool:
        return bool(self.rolled_min)


def cold_equivalent(sample: Sample, heavy: bool) -> float:
    """What a number comes to in the air it is read in, its tire as warm as it was or is taken to be [kPa].

    Without a temperature, from 20 minutes of rolling on, 10 °C (light) or 15 °C (heavy) over the air; before that as cold. Where
    it is not known whether it rolled, it may be warm and is taken so: warm air must not hide a low tire.

    >>> round(cold_equivalent(Sample("1L", dt.datetime(2026, 11, 28), 540, Air(18, 0), 54), True), 2)
    469.43
    """
    tire_c = sample.tire_c
    if tire_c is None:
        unknown = sample.rolled_min is None and sample.stood_h is None
        rolled = unknown or (sample.rolled_min or 0.0) >= WARM_AFTER_MIN
        tire_c = sample.air.temperature_c + (WARM_OVER_C["heavy" if heavy else "light"] if rolled else 0.0)
    return carry(sample.kpa, Air(tire_c, sample.air.elevation_m, sample.air.station_kpa), sample.air)


def is_cold(sample: Sample, heavy: bool) -> bool:
    """Whether a number is of a cold tire: no warmer than the air by its own temperature, else known to have stood long enough."""
    if sample.tire_c is not None:
        return sample.tire_c <= sample.air.temperature_c + COLD_WITHIN_C and not sample.rolling
    stood = sample.stood_h is not None and sample.stood_h >= COLD_AFTER_H["heavy" if heavy else "light"]
    return stood and not sample.rolling


def air_then(
    age: dt.timedelta,
    here: Air | None,
    outside_c: float | None = None,
    elevation_m: float | None = None,
    station_kpa: float | None = None,
) -> Air | None:
    """The air that a number of some age was measured in: as it was said, else that of now for an hour; None: not known.

    >>> air_then(dt.timedelta(hours=2), Air(20, 300)), air_then(dt.timedelta(hours=2), Air(20, 300), outside_c=12)
    (None, Air(temperature_c=12, elevation_m=300, station_kpa=None))
    """
    height = elevation_m if elevation_m is not None else here.elevation_m if here else None
    if outside_c is not None:
        return Air(outside_c, height, station_kpa) if height is not None else None
    if here is None or age > SAME_AIR:
        return None
    return here if elevation_m is None else replace(here, elevation_m=elevation_m, station_kpa=station_kpa)


def sealed_low(sealed: bool | None, air: Air) -> float:
    """What a sensor shows less than a gauge [kPa]: a sealed one knows no other air than that at the sea. Not known: nothing.

    Up in the hills it then shows too little, which hides no low tire.

    >>> round(sealed_low(True, Air(20, 1500)), 1), sealed_low(None, Air(20, 1500))
    (16.8, 0.0)
    """
    return REFERENCE.absolute_kpa - air.absolute_kpa if sealed else 0.0


def sampled(sample: Sample, sealed: bool | None) -> Sample:
    """What a sensor shows, as a gauge would read it."""
    lacks = 0.0 if sealed is not None else max(0.0, sealed_low(True, sample.air))
    return replace(sample, kpa=sample.kpa + sealed_low(sealed, sample.air), lacks_kpa=lacks)


def hears(wheels: Collection[str], spare_heard: bool | None, wheel: str, spare: bool) -> bool | None:
    """Whether a receiver hears a wheel; `wheels` empty: all that roll. A spare by its own answer, None where nobody said.

    >>> hears((), None, "1L", False), hears(("1R",), True, "1L", False), hears((), None, "S1", True)
    (True, False, None)
    """
    return spare_heard if spare else not wheels or wheel in wheels


def is_old(at: dt.datetime, now: dt.datetime) -> bool:
    """Whether a number is too old to be taken for now: older than a day."""
    return now - at > OLD


def since_words(sample: Sample, now: dt.datetime) -> Phrase:
    """How old a number is, and what its tire had done by then.

    >>> at = dt.datetime(2026, 11, 28, 6)
    >>> since_words(Sample("1L", at, 540, Air(18, 0), rolled_min=40), at + dt.timedelta(hours=3)).text
    '3 h ago, rolled 40 min by then'
    """
    minutes = (now - sample.at) / dt.timedelta(minutes=1)
    hours = minutes / 60
    ago = (
        f"{minutes:.0f} min ago"
        if minutes < 90
        else f"{hours:.0f} h ago"
        if hours < 48
        else f"{hours / 24:.0f} days ago"
    )
    if sample.rolling:
        return say(f"{ago}, rolled {sample.rolled_min:.0f} min by then")
    if sample.stood_h:
        return say(f"{ago}, stood {sample.stood_h:.0f} h by then")
    known = sample.rolled_min is not None or sample.tire_c is not None
    return say(ago if known else f"{ago}, nobody said whether it had rolled")
