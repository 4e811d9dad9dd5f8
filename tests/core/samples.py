"""Made-up tables and rigs that several tests of the core start from."""

import json
from pathlib import Path
from typing import Any

from ballast.core.rigs import Axle, Rig, Tire, read_size
from ballast.core.tables import LoadTable

CASES: dict[str, Any] = json.loads((Path(__file__).parent / "cases.json").read_text())
FIELD: dict[str, Any] = json.loads((Path(__file__).parent / "field.json").read_text())

TABLE = LoadTable(
    (450, 485, 520, 550, 585, 620, 655, 690, 725, 760),
    (1510, 1590, 1670, 1740, 1815, 1890, 1965, 2035, 2110, 2180),
    (1425, 1505, 1580, 1645, 1715, 1785, 1855, 1925, 1995, 2060),
)


def tire(text: str = "245/70R19.5 135/133M", **more: Any) -> Tire:
    size = read_size(text)
    given: dict[str, Any] = {
        "load_index_single": size.load_index_single,
        "load_index_dual": size.load_index_dual,
        "sidewall_max_kpa": 760.0,
    } | more
    return Tire(size=size, **given)


def coach(**more: Any) -> Rig:
    """A coach with single front wheels and dual rear ones."""
    axles = (
        Axle(1, 0.0, 2.08, 2, 4200.0, tire(placard_kpa=586.0)),
        Axle(2, 6.1, 1.85, 4, 7600.0, tire(placard_kpa=641.0)),
    )
    return Rig(**({"kind": "coach", "axles": axles, "gvwr_kg": 11_800.0, "wheelbase_m": 6.1} | more))
