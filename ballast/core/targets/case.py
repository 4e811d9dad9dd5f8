"""All that the target of an axle depends on."""

from dataclasses import dataclass
from functools import cached_property

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


# On a light rig more than this times the placard changes grip and handling; without a weight it is the most.
FAR_ABOVE_PLACARD = 1.20


@dataclass(frozen=True)
class AxleCase:
    """All that the target of an axle depends on. Unknown is None.

    The tire's own fields are as in `TireCase`; `others` are further kinds of tires on the same axle; `unlike` says of those
    that are fitted in what they are not the tire described. `placard_is_floor` on light vehicles; `placard_floor_kpa` is
    what the fitted size needs to carry as the placard's did, and None where the placard is for that size or cannot be
    carried over; `placard_words` says of a placard for another size what was done. `over` are the ratings exceeded;
    `lamp_kpa` is where the vehicle's own lamp lights; `speed_kmh` and `holds_kmh` are how fast it is driven and how fast
    its tires and tables hold. `own_kpa` is a pressure that a person asks for, `trial` their reason to go below the placard.
    `one_wheel`: a single wheel carries the axle, it has no ends. `light_row`: the load state goes by the placard's row for a
    light load. `gvwr_known`: else no trial.
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
    unlike: tuple[Phrase, ...] = ()
    trial: str = ""
    one_wheel: bool = False
    gawr_kg: float | None = None
    light_row: bool = False
    gvwr_known: bool = True

    @cached_property
    def tires(self) -> tuple[TireCase, ...]:
        own = TireCase(self.size, self.table, self.load_divisor, self.tire_max_kg, self.sidewall_max_kpa, self.exponent)
        return (own, *self.others)

    @property
    def placard_here_kpa(self) -> float | None:
        """The placard's pressure for the size that is fitted, where it is known: its own, or carried over [kPa]."""
        if self.placard_floor_kpa is not None:
            return self.placard_floor_kpa
        return self.placard_kpa if self.placard_words is None else None
