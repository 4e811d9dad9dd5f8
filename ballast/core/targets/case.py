"""All that the target of an axle depends on."""

from dataclasses import dataclass

from ballast.core.rigs import Row
from ballast.core.tables import LoadTable
from ballast.core.weighing import Check
from ballast.core.working import Phrase


@dataclass(frozen=True)
class TireCase:
    """One kind of tire on an axle. `load_divisor` is 1.10 for passenger tires on a truck, van or trailer;
    `tire_max_kg` is already divided by it. `exponent` is of its standard curve."""

    name: str
    table: LoadTable | None = None
    load_divisor: float = 1.0
    tire_max_kg: float | None = None
    sidewall_max_kpa: float | None = None
    exponent: float = 0.7


@dataclass(frozen=True)
class AxleCase:
    """All that the target of an axle depends on. Unknown is None.

    The tire's own fields are as in `TireCase`; `others` are further kinds of tires on the same axle.
    `placard_is_floor` on light vehicles, where `placard_floor_kpa` is what the fitted size needs to carry as the
    placard's did (None: the placard itself); `placard_words` says of a placard for another size what was done.
    `over` are the ratings exceeded; `lamp_kpa` is where the vehicle's own lamp lights; `speed_kmh` and `holds_kmh`
    are how fast it is driven and how fast its tires and tables hold. `own_kpa` is a pressure that a person asks for.
    """

    number: int
    name: str
    row: Row
    tires_per_end: int
    per_tire_kg: float | None
    assumed: bool = False
    table: LoadTable | None = None
    load_divisor: float = 1.0
    tire_max_kg: float | None = None
    sidewall_max_kpa: float | None = None
    wheel_max_kpa: float | None = None
    placard_kpa: float | None = None
    placard_is_floor: bool = False
    over: tuple[Check, ...] = ()
    size: str = ""
    exponent: float = 0.7
    others: tuple[TireCase, ...] = ()
    placard_light_kpa: float | None = None
    placard_floor_kpa: float | None = None
    placard_words: Phrase | None = None
    chalk_kpa: float | None = None
    own_kpa: float | None = None
    lamp_kpa: float | None = None
    speed_kmh: float | None = None
    holds_kmh: float | None = None

    @property
    def tires(self) -> tuple[TireCase, ...]:
        own = TireCase(self.size, self.table, self.load_divisor, self.tire_max_kg, self.sidewall_max_kpa, self.exponent)
        return (own, *self.others)
