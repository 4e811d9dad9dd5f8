"""Looking a load up: what a tire carries at each cold pressure, and what it needs for a load."""

import math
from dataclasses import dataclass
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.rigs import Row
from ballast.core.units import BY_SYMBOL

SAMPLE_STAMP = "Sample table: made up, not for the road"


@dataclass(frozen=True)
class LoadTable:
    """Cold pressures [kPa] and the load per tire [kg] at each, single and, where printed, dual."""

    steps_kpa: tuple[float, ...]
    single_kg: tuple[float, ...]
    dual_kg: tuple[float, ...] | None = None

    def row(self, row: Row) -> tuple[float, ...]:
        """Loads of a row. Raises Refusal where the table has no dual row: a single one is no stand-in."""
        if row == "single":
            return self.single_kg
        if self.dual_kg is None:
            raise Refusal("This table has no dual row, and a dual tire may not be looked up as a single.", "dual_kg")
        return self.dual_kg

    @property
    def last_kpa(self) -> float:
        return self.steps_kpa[-1]

    def load_at(self, row: Row, pressure_kpa: float) -> float | None:
        """Load carried [kg] at a pressure: straight line between columns, the last column's above it.

        None below the first column: a table says nothing there.
        """
        loads = self.row(row)
        if pressure_kpa < self.steps_kpa[0]:
            return None
        for i in range(1, len(loads)):
            p0, p1 = self.steps_kpa[i - 1], self.steps_kpa[i]
            if pressure_kpa <= p1:
                return loads[i - 1] + (loads[i] - loads[i - 1]) * (pressure_kpa - p0) / (p1 - p0)
        return loads[-1]

    def floor(self, row: Row, load_kg: float) -> float | None:
        """The pressure [kPa] at which the table just carries a bare load; None: no pressure carries it.

        Straight line between columns (it asks for slightly more than the true curve); below the
        first column the first column, never less.
        """
        loads = self.row(row)
        if beyond(load_kg, loads[-1]):
            return None
        if load_kg <= loads[0]:
            return self.steps_kpa[0]
        for i in range(1, len(loads)):
            if load_kg <= loads[i]:
                p0, p1 = self.steps_kpa[i - 1], self.steps_kpa[i]
                return p0 + (p1 - p0) * (load_kg - loads[i - 1]) / (loads[i] - loads[i - 1])
        return self.steps_kpa[-1]


# Pressures are printed in steps of 5 kPa at most: half of that is what rounding may have moved them [kPa].
_PRINTED_KPA = 2.5
# Makers round to one of these, in the unit as printed.
_ROUNDED_TO = (100.0, 50.0, 25.0, 20.0, 10.0, 5.0, 2.0, 1.0, 0.5, 0.1, 0.05)


def rounding_of(cells: tuple[float, ...]) -> float:
    """How far rounding may have moved printed numbers: half the coarsest step of which all are multiples.

    >>> rounding_of((1510, 1590, 1665))
    2.5
    """
    for step in _ROUNDED_TO:
        if all(abs(c / step - round(c / step)) < 1e-6 for c in cells):
            return step / 2
    return 0.0


def beyond(load_kg: float, most_kg: float) -> bool:
    """Over is over, but not by what dividing and multiplying by 1.10 leaves behind."""
    return load_kg > most_kg * (1 + 1e-9)


@dataclass(frozen=True)
class Column:
    """The column that was taken, [kPa] and its load [kg]; `left` is what it carries over `required_kg`, as a share."""

    kpa: float | None
    load_kg: float | None
    required_kg: float
    left: float | None
    note: str


def column(table: LoadTable, row: Row, load_kg: float, reserve: float, edge: float) -> Column:
    """First column that carries load × (1 + reserve); with less than `edge` left over it, the next one up.

    Where none carries the reserve but the last carries the load, the last. Overloaded: None.
    """
    loads = table.row(row)
    required = load_kg * (1 + reserve)
    if beyond(load_kg, loads[-1]):
        return Column(None, None, required, None, "overloaded")
    if beyond(required, loads[-1]):
        return Column(table.last_kpa, loads[-1], required, loads[-1] / required - 1, "reserve not reached")
    i = next((k for k, carried in enumerate(loads) if carried >= required), len(loads) - 1)
    note = "column"
    if loads[i] < required * (1 + edge):
        if i + 1 < len(loads):
            i, note = i + 1, "next column"
        else:
            note = "no next column"
    return Column(table.steps_kpa[i], loads[i], required, loads[i] / required - 1, note)


StepName = Literal["1 psi", "5 psi", "5 kPa", "0.1 bar"]


@dataclass(frozen=True)
class Step:
    """A practical step that people set pressures in."""

    name: StepName
    unit: str
    size: float

    @property
    def kpa(self) -> float:
        return self.size * BY_SYMBOL[self.unit].factor


STEPS: dict[str, Step] = {
    s.name: s
    for s in (Step("1 psi", "psi", 1), Step("5 psi", "psi", 5), Step("5 kPa", "kPa", 5), Step("0.1 bar", "bar", 0.1))
}


def steps_up(pressure_kpa: float, step: Step) -> float:
    """A pressure [kPa] rounded up to the next practical step."""
    return math.ceil(pressure_kpa / step.kpa - 1e-9) * step.kpa


def practical(table: LoadTable, row: Row, column_kpa: float, required_kg: float, step: Step) -> float:
    """The nearest practical step [kPa] if its interpolated load carries `required_kg`, else the next one up.

    Never above the last column, where no step lies between: that column itself. Nor a whole step above the first one where
    that is the nearest step as print rounds it (450 kPa is 65 psi): below a table's first column nothing is known.
    """
    k = round(column_kpa / step.kpa)
    rounded = min(rounding_of(table.steps_kpa), _PRINTED_KPA)
    if column_kpa == table.steps_kpa[0] and 0 < column_kpa - k * step.kpa <= rounded:
        return column_kpa
    while (table.load_at(row, k * step.kpa) or 0.0) < min(required_kg, table.row(row)[-1]):
        k += 1
    return min(k * step.kpa, table.last_kpa)


# On the road no ratio goes below this share of the sidewall's pressure, nor below this pressure [kPa].
RATIO_SHARE = 0.45
RATIO_KPA = 150.0


def ratio_floor(max_kpa: float) -> float:
    """The least pressure [kPa] that a ratio may give on the road."""
    return max(RATIO_SHARE * max_kpa, RATIO_KPA)


def proportion(load_kg: float, max_load_kg: float, max_kpa: float) -> float:
    """Pressure [kPa] in proportion to the load, whatever the road asks for: Pmax × load/Lmax."""
    return max_kpa * load_kg / max_load_kg


def ratio(load_kg: float, max_load_kg: float, max_kpa: float) -> float:
    """Pressure [kPa] in proportion to the load: Pmax × load/Lmax, not below 45 % of Pmax nor 150 kPa.

    It asks for more than the true curve, so it errs upward. Put the reserve into `load_kg`.
    """
    return max(proportion(load_kg, max_load_kg, max_kpa), ratio_floor(max_kpa))


def standard_exponent(service: str) -> float:
    """The exponent of a tire's standard curve: 0.65 for passenger tires, 0.7 for all others."""
    return 0.65 if service == "passenger" else 0.7


def standard_curve(max_load_kg: float, max_kpa: float, exponent: float, pressure_kpa: float) -> float:
    """Load [kg] of the standard curve Lmax (p/Pmax)^n. A second opinion, and where sample tables come from."""
    load: float = max_load_kg * (pressure_kpa / max_kpa) ** exponent
    return load


def standard_pressure(load_kg: float, max_load_kg: float, max_kpa: float, exponent: float) -> float:
    """Pressure [kPa] of the standard curve for a load: Pmax (load/Lmax)^(1/n)."""
    pressure: float = max_kpa * (load_kg / max_load_kg) ** (1 / exponent)
    return pressure
