import datetime as dt
import json
import math
from typing import Any

from ballast.server.edge.rendering import JsonRenderer


def rendered(data: Any) -> Any:
    return json.loads(JsonRenderer().render(None, data, response_status=200))  # type: ignore[arg-type]


def test_what_is_no_number_is_null() -> None:
    text = JsonRenderer().render(None, [math.nan, math.inf, 0.0], response_status=200)  # type: ignore[arg-type]
    assert text == b"[null,null,0.0]"


def test_instants_keep_their_microseconds_and_their_zone() -> None:
    moment = dt.datetime(2026, 3, 5, 14, 30, 15, 250_001, tzinfo=dt.UTC)
    assert dt.datetime.fromisoformat(rendered({"at": moment})["at"]) == moment
    assert rendered(dt.date(2026, 3, 5)) == "2026-03-05"


def test_figures_come_back_as_they_were() -> None:
    figures = [0.1 + 0.2, 689.4757293168, 1e-9, -273.15]
    assert rendered(figures) == figures
    assert rendered({"text": "±2 °C"}) == {"text": "±2 °C"}
