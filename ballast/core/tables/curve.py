"""A table that checks itself: ln(load) lies on a straight line of ln(pressure), and a mistyped cell does not."""

import math
from dataclasses import dataclass

from ballast.core.rigs import Row
from ballast.core.tables.lookup import LoadTable
from ballast.core.working import Phrase, say

BELOW_INDEX = 0.03
CURVE_TOLERANCE = 0.015
EXPONENTS = (0.45, 1.0)


@dataclass(frozen=True)
class Suspicion:
    """A cell that does not fit, and what its neighbors suggest [kg]."""

    row: Row
    index: int
    load_kg: float
    suggested_kg: float
    words: Phrase


@dataclass(frozen=True)
class Curve:
    """The line ln(load [kg]) = start + exponent × ln(pressure [kPa]) through the cells that agree."""

    row: Row
    exponent: float
    start: float

    def load_kg(self, pressure_kpa: float) -> float:
        return math.exp(self.start + self.exponent * math.log(pressure_kpa))


def _fit(points: list[tuple[float, float]]) -> tuple[float, float]:
    """Slope and intercept of the least-squares line through (x, y) points."""
    n = len(points)
    mx = sum(x for x, _ in points) / n
    my = sum(y for _, y in points) / n
    slope = sum((x - mx) * (y - my) for x, y in points) / sum((x - mx) ** 2 for x, _ in points)
    return slope, my - slope * mx


def _off_line(xs: list[float], loads: tuple[float, ...], rounding_kg: float) -> tuple[list[int], Curve]:
    """The cells off the line through the others, and that line.

    The worst cell is dropped and the line fitted again, until the rest lies within 1.5 % plus rounding.
    """
    ys = [math.log(v) for v in loads]
    keep = list(range(len(loads)))
    out: list[int] = []
    while len(keep) > 3:
        worst, off = -1, 0.0
        for i in keep:
            slope, start = _fit([(xs[k], ys[k]) for k in keep if k != i])
            gap = abs(ys[i] - (start + slope * xs[i])) / (CURVE_TOLERANCE + rounding_kg / loads[i])
            if gap > off:
                worst, off = i, gap
        if off <= 1:
            break
        keep.remove(worst)
        out.append(worst)
    slope, start = _fit([(xs[k], ys[k]) for k in keep])
    return sorted(out), Curve("single", slope, start)


def _slip(xs: list[float], loads: tuple[float, ...], rounding_kg: float) -> int | None:
    """Where the loads jump by about a column, though each side is smooth: from this column on they belong to another.

    A common exponent with its own start on each side of every gap; the jump must beat 1.5 % plus rounding by a
    column's rise, and explain what a single line leaves over.
    """
    n = len(loads)
    if n < 6:
        return None
    ys = [math.log(v) for v in loads]
    slope, start = _fit(list(zip(xs, ys, strict=True)))
    whole = max(abs(y - start - slope * x) for x, y in zip(xs, ys, strict=True))
    best: tuple[float, int] | None = None
    for k in range(2, n - 1):
        left, right = range(k), range(k, n)
        mean = {True: (0.0, 0.0), False: (0.0, 0.0)}
        for side, own in ((True, left), (False, right)):
            mean[side] = (sum(xs[i] for i in own) / len(own), sum(ys[i] for i in own) / len(own))
        at = [mean[i < k] for i in range(n)]
        common = sum((xs[i] - at[i][0]) * (ys[i] - at[i][1]) for i in range(n)) / sum(
            (xs[i] - at[i][0]) ** 2 for i in range(n)
        )
        rest = max(abs(ys[i] - at[i][1] - common * (xs[i] - at[i][0])) for i in range(n))
        jump = abs((mean[False][1] - mean[True][1]) - common * (mean[False][0] - mean[True][0]))
        allowed = CURVE_TOLERANCE + 2 * rounding_kg / loads[k]
        if jump > allowed and rest < 0.4 * whole and (best is None or rest < best[0]):
            best = (rest, k)
    return best[1] if best else None


def curves(table: LoadTable, rounding_kg: float) -> list[Curve]:
    """The line of each row, through the cells that agree."""
    xs = [math.log(p) for p in table.steps_kpa]
    fitted = []
    for row, loads in (("single", table.single_kg), ("dual", table.dual_kg)):
        if loads is not None:
            _, line = _off_line(xs, loads, rounding_kg)
            fitted.append(Curve(row, line.exponent, line.start))  # type: ignore[arg-type]
    return fitted


def inspect(
    table: LoadTable, index_kg: tuple[float | None, float | None], rounding_kg: float
) -> tuple[list[Suspicion], list[Phrase]]:
    """Cells off the straight line of ln(load) on ln(pressure) through the others, and what else is odd.

    `index_kg` are the loads of the load index, single and dual; `rounding_kg` is how far the printed loads are rounded.
    """
    cells: list[Suspicion] = []
    odd: list[Phrase] = []
    xs = [math.log(p) for p in table.steps_kpa]
    for row, loads, limit in (("single", table.single_kg, index_kg[0]), ("dual", table.dual_kg, index_kg[1])):
        if loads is None:
            continue
        if limit is not None and loads[-1] < limit * (1 - BELOW_INDEX):
            odd.append(say(f"The last {row} load is more than 3 % below the load index. Is the last column missing?"))
        out, line = _off_line(xs, loads, rounding_kg)
        for i in out:
            cells.append(
                Suspicion(
                    row,  # type: ignore[arg-type]
                    i,
                    loads[i],
                    line.load_kg(table.steps_kpa[i]),
                    say("Off the curve its neighbors draw: check this cell."),
                )
            )
        if not out and (slip := _slip(xs, loads, rounding_kg)) is not None:
            odd.append(
                say(f"From column {slip + 1} on the {row} loads sit beside the curve: was a column skipped or doubled?")
            )
        if not EXPONENTS[0] <= line.exponent <= EXPONENTS[1]:
            odd.append(say(f"The {row} loads rise unusually with pressure. Check the units of both."))
    return cells, odd
