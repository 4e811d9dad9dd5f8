"""What a load needs of each tire that carries it, and the most that each carries at all."""

from dataclasses import dataclass
from typing import Literal

from ballast.core.tables import beyond, proportion, ratio_floor
from ballast.core.targets.case import AxleCase, TireCase
from ballast.core.weighing import ASSUMED_HEAVIER
from ballast.core.working import Line, Measure, Phrase, kg, kpa, say

# Where a floor comes from: a table's load; its first column, below which it says nothing; the sidewall by proportion; the
# least that the road asks of a sidewall.
FloorFrom = Literal["load", "first column", "proportion", "road", "ground"]


def ceiling_of(case: AxleCase) -> tuple[float | None, str]:
    """min(sidewall maximum, wheel rating) over all tires; a table's last column only where the sidewall's is unknown."""
    known: list[tuple[float, str]] = []
    for tire in case.tires:
        if tire.sidewall_max_kpa is not None:
            known.append((tire.sidewall_max_kpa, "sidewall"))
        elif tire.table is not None:
            known.append((tire.table.last_kpa, "table's last column, the sidewall's maximum is unknown"))
    if case.wheel_max_kpa is not None:
        known.append((case.wheel_max_kpa, "wheel"))
    return min(known) if known else (None, "")


@dataclass(frozen=True)
class Need:
    """What a load needs of one tire [kPa], and what gave it."""

    kpa: float
    source: FloorFrom
    working: tuple[Line, ...]


def need_of(case: AxleCase, tire: TireCase, per_tire_kg: float) -> Need | None:
    """The pressure that just carries a load on a tire that carries it at all, by its table, else by proportion.

    The road's least yields to a placard for the fitted size. None: neither table nor sidewall and load are known.
    Raises Refusal where its table lacks the row.
    """
    named = f"{tire.name}: " if case.others else ""
    load = per_tire_kg * tire.load_divisor
    if tire.table is not None:
        value = tire.table.floor(case.row, load)
        assert value is not None  # `least_of` was asked first
        lines = []
        if tire.load_divisor != 1.0:
            lines.append(Line(say(f"{named}passenger tires on this kind of rig: looked up as × 1.10"), kg(load)))
        first = load <= tire.table.row(case.row)[0]
        words = "below its first column, so that column" if first else f"{case.row} row, straight line between columns"
        lines.append(Line(say(f"{named}{words}: the floor"), kpa(value, "up")))
        return Need(value, "first column" if first else "load", tuple(lines))
    if tire.tire_max_kg is None or tire.sidewall_max_kpa is None:
        return None
    value = proportion(per_tire_kg, tire.tire_max_kg, tire.sidewall_max_kpa)
    line = Line(
        say(f"{named}no table: load ÷ maximum load × sidewall's pressure, an estimate of the floor"), kpa(value, "up")
    )
    least = road_least(case, tire.sidewall_max_kpa)
    if least <= value:
        return Need(value, "proportion", (line,))
    return Need(least, "road", (line, Line(say(f"{named}not below the least for the road"), kpa(least, "up"))))


def road_least(case: AxleCase, sidewall_max_kpa: float) -> float:
    """The least for the road by a sidewall [kPa]; a placard for the fitted size goes before it."""
    least, placard = ratio_floor(sidewall_max_kpa), case.placard_here_kpa
    return least if placard is None else min(least, placard)


@dataclass(frozen=True)
class Least:
    """The most that the weakest tire of an axle carries [kg], None: not known of any.

    `tires_kg` by load index and last column alone, whatever the ceiling. `hopeless`: no unloading helps, a tire asks for
    more than the ceiling at no load at all.
    """

    kg: float | None
    tires_kg: float | None
    hopeless: bool


def least_of(case: AxleCase) -> Least:
    """Over all tires, the least of index, last column and what the ceiling carries."""
    ceiling, _ = ceiling_of(case)
    bare: list[float] = []
    held: list[float] = []
    hopeless = False
    for tire in case.tires:
        if tire.tire_max_kg is not None:
            bare.append(tire.tire_max_kg)
        if tire.table is not None:
            bare.append(tire.table.row(case.row)[-1] / tire.load_divisor)
            carried = None if ceiling is None else tire.table.load_at(case.row, ceiling)
            hopeless |= ceiling is not None and carried is None
            held += [] if carried is None else [carried / tire.load_divisor]
        elif tire.tire_max_kg is not None and tire.sidewall_max_kpa is not None and ceiling is not None:
            hopeless |= ceiling < road_least(case, tire.sidewall_max_kpa) - 1e-6
            held.append(tire.tire_max_kg * min(1.0, ceiling / tire.sidewall_max_kpa))
    every = bare + held
    return Least(min(every) if every else None, min(bare) if bare else None, hopeless)


@dataclass(frozen=True)
class Floor:
    """What the load needs [kPa] of the tire that needs most; None: of no tire is it known.

    `estimate`: a tire's need is not by its table. `unknown`: the names of tires of which nothing is known, so that the floor
    is at least this.
    """

    kpa: float | None
    source: FloorFrom
    estimate: bool
    unknown: tuple[str, ...]
    working: tuple[Line, ...]


def floor_of(case: AxleCase, load_kg: float | None = None) -> Floor:
    """The highest known need of an axle's tires for its bare load, or for another on each of them; it must be one that each known
    tire carries."""
    load_kg = case.per_tire_kg if load_kg is None else load_kg
    assert load_kg is not None
    needs = [(t, need_of(case, t, load_kg)) for t in case.tires]
    known = [need for _, need in needs if need is not None]
    unknown = tuple(dict.fromkeys(t.name for t, need in needs if need is None))
    lines = tuple(line for need in known for line in need.working)
    if not known:
        return Floor(None, "load", False, unknown, lines)
    most = max(known, key=lambda need: need.kpa)
    estimate = any(need.source in ("proportion", "road") for need in known)
    return Floor(most.kpa, most.source, estimate, unknown, lines)


def too_low(source: FloorFrom, floor: Measure) -> Phrase:
    """Why a pressure below a floor will not do: only a table's load is said to be what it does not carry."""
    return say(
        {
            "load": "below the floor of {0}: it does not carry the load",
            "first column": "below {0}, the table's first column: it says nothing there",
            "proportion": "below {0}, the floor as estimated by the sidewall",
            "road": "below {0}, the least for the road by the sidewall",
            "ground": "below {0}, the least on this surface",
        }[source],
        floor,
    )


@dataclass(frozen=True)
class Rated:
    """*As rated*: the pressure [kPa] for the axle's rating of `gawr_kg`, not for a load that was weighed.

    `estimate`: by proportion. `even`: the tires carry it evenly spread, a heavier end is not covered.
    """

    kpa: float
    gawr_kg: float
    estimate: bool
    even: bool
    words: Phrase


def outweighed(case: AxleCase) -> bool:
    """Whether it weighs more than its axle, its group or the whole is rated for: nothing is enough *as rated* then."""
    return any(c.what in ("gawr", "group", "gvwr") for c in case.over)


def as_rated(case: AxleCase) -> Rated | None:
    """The pressure for an axle's GAWR, 52.5 % of it on an end, by table or else by proportion; None: not known, or its
    tires do not carry half of it.

    Where they carry half but not 52.5 %, their full-load pressure.
    """
    if case.gawr_kg is None or outweighed(case) or floor_of(case, 0.0).unknown:
        return None
    ends = 1.0 if case.one_wheel else ASSUMED_HEAVIER
    least = least_of(case).tires_kg
    per_tire = case.gawr_kg * ends / case.tires_per_end
    even = False
    if least is not None and beyond(per_tire, least):
        if case.one_wheel or beyond(case.gawr_kg / 2 / case.tires_per_end, least):
            return None
        per_tire, even = least, True
    floor = floor_of(case, per_tire)
    assert floor.kpa is not None
    covered = " A heavier end is not covered." if even else ""
    words = say(f"Enough for {{0}}, the axle's rating; not weighed; not enough above it.{covered}", kg(case.gawr_kg))
    return Rated(floor.kpa, case.gawr_kg, floor.estimate, even, words)
