"""The page's cases are what the core says; the page's own units are held against them by vitest."""

import json
from typing import Any

import pytest

from tests.core.page import FILE, cases

STORED: dict[str, Any] = json.loads(FILE.read_text())


def test_the_cases_of_the_page_are_what_the_core_says() -> None:
    made = cases()
    # Numbers may differ in their last digits from one machine to another.
    assert json.dumps(_rounded(made)) == json.dumps(_rounded(STORED))


def _rounded(value: Any) -> Any:
    if isinstance(value, float):
        return round(value, 6) + 0.0
    if isinstance(value, dict):
        return {k: _rounded(v) for k, v in value.items()}
    return [_rounded(v) for v in value] if isinstance(value, list) else value


@pytest.mark.parametrize(
    ("kind", "typed", "unit", "value"),
    # 100 psi and 690 kPa however they are written, a thousand and fifty with its comma, and what nobody can mean.
    [("pressure", "100 PSI", "psi", 689.4757), ("pressure", "690kPa", "psi", 690), ("pressure", "1,050", "kPa", 1050),
     ("pressure", "6,2 bar", "psi", 620), ("pressure", "90 kg", "psi", None), ("length", "24'", "m", 7.3152)],
)  # fmt: skip
def test_some_of_them_by_hand(kind: str, typed: str, unit: str, value: float | None) -> None:
    found = next(
        c for c in STORED["quantities"] if (c["kind"], c["typed"], c["unit"]) == (kind, typed, unit)
    )["value"]  # fmt: skip
    assert found == (None if value is None else pytest.approx(value, abs=1e-3))
