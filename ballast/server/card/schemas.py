import datetime as dt
from dataclasses import dataclass
from typing import Literal

from ballast.core import air as core
from ballast.core.targets import SpareTarget
from ballast.core.working import Phrase


@dataclass(frozen=True)
class CardAxle:
    """An axle of the card: its band [kPa], and what it reads cold at each temperature."""

    name: str
    wheels: int
    size: str
    target_kpa: float | None
    floor_kpa: float | None
    ceiling_kpa: float | None
    words: Phrase
    provisional: bool
    readings: tuple[core.Reading, ...]


@dataclass(frozen=True)
class CardVehicle:
    """A vehicle of the card, with all that must be said of its pressures."""

    rig: int
    name: str
    fleet_number: str
    shown_name: str
    trailer: bool
    load_state: str
    weighed_on: dt.date | None
    put_at: dt.datetime | None
    put_by: str
    tables: tuple[str, ...]
    stamps: tuple[str, ...]
    unchecked: tuple[str, ...]
    out_of_date: tuple[str, ...]
    trials: tuple[str, ...]
    ranges: tuple[Phrase, ...]
    unlike: tuple[Phrase, ...]
    over: tuple[Phrase, ...]
    axles: tuple[CardAxle, ...]
    spares: tuple[SpareTarget, ...]
    provisional: bool


@dataclass(frozen=True)
class Card:
    """The pressure card of a rig, or of a combination. `qr` are the rows of the code, 1 is dark."""

    title: str
    vehicles: tuple[CardVehicle, ...]
    temperatures_c: tuple[float, ...]
    set_in_c: float
    elevation_m: float
    place: str
    made_on: dt.date
    address: str
    qr: tuple[str, ...]
    cautions: tuple[str, ...]
    # That one of them is out of service.
    out: tuple[Phrase, ...]
    # The ground plan that is open: these are road numbers, and not what stands in the tires.
    ground: Phrase | None
    stamps: tuple[str, ...]


Paper = Literal["a5", "half-letter"]
