"""Load-inflation tables: what a tire carries at each cold pressure."""

import math
from dataclasses import dataclass

from ballast.core.refusal import Refusal
from ballast.core.rigs import Row
from ballast.core.units import BY_SYMBOL, both, to_canonical
from ballast.core.working import Phrase, say

# Above the load index by more than this is a wrong table; below by more than that is odd.
ABOVE_INDEX = 0.005
BELOW_INDEX = 0.03
CURVE_TOLERANCE = 0.015
EXPONENTS = (0.45, 1.0)
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
        if load_kg > loads[-1]:
            return None
        if load_kg <= loads[0]:
            return self.steps_kpa[0]
        for i in range(1, len(loads)):
            if load_kg <= loads[i]:
                p0, p1 = self.steps_kpa[i - 1], self.steps_kpa[i]
                return p0 + (p1 - p0) * (load_kg - loads[i - 1]) / (loads[i] - loads[i - 1])
        raise AssertionError("rising loads end at the last one")


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
    if load_kg > loads[-1]:
        return Column(None, None, required, None, "overloaded")
    if required > loads[-1]:
        return Column(table.last_kpa, loads[-1], required, loads[-1] / required - 1, "reserve not reached")
    i = next(k for k, carried in enumerate(loads) if carried >= required)
    note = "column"
    if loads[i] < required * (1 + edge):
        if i + 1 < len(loads):
            i, note = i + 1, "next column"
        else:
            note = "no next column"
    return Column(table.steps_kpa[i], loads[i], required, loads[i] / required - 1, note)


@dataclass(frozen=True)
class Suspicion:
    """A cell that does not fit, and what its neighbors suggest [kg]."""

    row: Row
    index: int
    load_kg: float
    suggested_kg: float
    words: Phrase


def build(
    steps: tuple[float, ...],
    single: tuple[float, ...],
    dual: tuple[float, ...] | None,
    pressure_unit: str,
    mass_unit: str,
    load_index_single: int | None = None,
    load_index_dual: int | None = None,
    index_kg: tuple[float | None, float | None] = (None, None),
) -> LoadTable:
    """Makes a table of numbers as printed. `index_kg` are the loads of the load index, single and dual.

    Raises Refusal naming the cell: empty, not rising, dual above single, last load above the index.
    """
    if len(steps) < 2:
        raise Refusal("A table needs at least two columns. Enter the pressures as printed.", "steps")
    rows: list[tuple[str, tuple[float, ...]]] = [("steps", steps), ("single", single)]
    if dual is not None:
        rows.append(("dual", dual))
    for name, cells in rows:
        if len(cells) != len(steps):
            raise Refusal(f"{len(steps)} pressures but {len(cells)} loads. Every column needs one.", name)
        for i in range(1, len(cells)):
            if cells[i] <= cells[i - 1]:
                unit = pressure_unit if name == "steps" else mass_unit
                raise Refusal(
                    f"{cells[i]:g} {unit} does not rise from {cells[i - 1]:g} before it. Check both cells.",
                    f"{name}.{i}",
                )
    kpa = tuple(to_canonical(s, pressure_unit) for s in steps)
    if not kpa[0] >= 30 or not kpa[-1] <= 1400:
        index = 0 if kpa[0] < 30 else len(kpa) - 1
        raise Refusal(
            f"{steps[index]:g} {pressure_unit} is outside {both('pressure', 30)} to {both('pressure', 1400)}. Check the unit.",
            f"steps.{index}",
        )
    kgs = tuple(to_canonical(v, mass_unit) for v in single)
    if kgs[0] <= 0:
        raise Refusal("A load must be above zero.", "single.0")
    dual_kg = None if dual is None else tuple(to_canonical(v, mass_unit) for v in dual)
    if dual_kg is not None:
        if dual_kg[0] <= 0:
            raise Refusal("A load must be above zero.", "dual.0")
        for i, (d, s) in enumerate(zip(dual_kg, kgs, strict=True)):
            if d > s:
                raise Refusal("A dual tire carries no more than a single one. Are the rows swapped?", f"dual.{i}")
    for name, loads, limit in (("single", kgs, index_kg[0]), ("dual", dual_kg, index_kg[1])):
        if loads is not None and limit is not None and loads[-1] > limit * (1 + ABOVE_INDEX):
            raise Refusal(
                f"The last {name} load is {both('mass', loads[-1])}, above the load index's {both('mass', limit)}. "
                "This table is for another tire, or a cell is wrong.",
                f"{name}.{len(loads) - 1}",
            )
    return LoadTable(kpa, kgs, dual_kg)


def _fit(points: list[tuple[float, float]]) -> tuple[float, float]:
    """Slope and intercept of the least-squares line through (x, y) points."""
    n = len(points)
    mx = sum(x for x, _ in points) / n
    my = sum(y for _, y in points) / n
    slope = sum((x - mx) * (y - my) for x, y in points) / sum((x - mx) ** 2 for x, _ in points)
    return slope, my - slope * mx


def inspect(
    table: LoadTable, index_kg: tuple[float | None, float | None], rounding_kg: float
) -> tuple[list[Suspicion], list[Phrase]]:
    """Cells off the straight line of ln(load) on ln(pressure) through the others, and what else is odd.

    The worst cell is dropped and the line fitted again until the rest lies within 1.5 % plus rounding.
    """
    cells: list[Suspicion] = []
    odd: list[Phrase] = []
    xs = [math.log(p) for p in table.steps_kpa]
    for row, loads, limit in (("single", table.single_kg, index_kg[0]), ("dual", table.dual_kg, index_kg[1])):
        if loads is None:
            continue
        if limit is not None and loads[-1] < limit * (1 - BELOW_INDEX):
            odd.append(say(f"The last {row} load is more than 3 % below the load index. Is the last column missing?"))
        keep = list(range(len(loads)))
        out: list[int] = []
        while len(keep) > 3:
            worst, off = -1, 0.0
            for i in keep:
                slope, start = _fit([(xs[k], math.log(loads[k])) for k in keep if k != i])
                gap = abs(math.log(loads[i]) - (start + slope * xs[i])) / (CURVE_TOLERANCE + rounding_kg / loads[i])
                if gap > off:
                    worst, off = i, gap
            if off <= 1:
                break
            keep.remove(worst)
            out.append(worst)
        slope, start = _fit([(xs[k], math.log(loads[k])) for k in keep])
        for i in sorted(out):
            guess = math.exp(start + slope * xs[i])
            cells.append(
                Suspicion(row, i, loads[i], guess, say("Off the curve its neighbors draw: check this cell."))  # type: ignore[arg-type]
            )
        if not EXPONENTS[0] <= slope <= EXPONENTS[1]:
            odd.append(say(f"The {row} loads rise unusually with pressure. Check the units of both."))
    return cells, odd


@dataclass(frozen=True)
class Step:
    """A practical step that people set pressures in."""

    name: str
    unit: str
    size: float

    @property
    def kpa(self) -> float:
        return self.size * BY_SYMBOL[self.unit].factor


STEPS = {
    s.name: s
    for s in (Step("1 psi", "psi", 1), Step("5 psi", "psi", 5), Step("5 kPa", "kPa", 5), Step("0.1 bar", "bar", 0.1))
}


def practical(table: LoadTable, row: Row, column_kpa: float, required_kg: float, step: Step) -> float:
    """The nearest practical step [kPa] if its interpolated load carries `required_kg`, else the next one up."""
    k = round(column_kpa / step.kpa)
    while (table.load_at(row, k * step.kpa) or 0.0) < min(required_kg, table.row(row)[-1]):
        k += 1
    return k * step.kpa


def ratio(load_kg: float, max_load_kg: float, max_kpa: float) -> float:
    """Pressure [kPa] in proportion to the load: Pmax × load/Lmax, not below 45 % of Pmax nor 150 kPa.

    It asks for more than the true curve, so it errs upward. Put the reserve into `load_kg`.
    """
    return max(max_kpa * load_kg / max_load_kg, 0.45 * max_kpa, 150.0)


def standard_curve(max_load_kg: float, max_kpa: float, exponent: float, pressure_kpa: float) -> float:
    """Load [kg] of the standard curve Lmax (p/Pmax)^n. A second opinion, and where sample tables come from."""
    load: float = max_load_kg * (pressure_kpa / max_kpa) ** exponent
    return load
