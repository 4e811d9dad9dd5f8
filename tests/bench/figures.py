"""How a figure is measured and told."""

import statistics
import time
from collections.abc import Callable
from typing import Any


def seconds(run: Callable[[], Any], times: int = 40) -> float:
    """The median of several runs, after one to warm up."""
    run()
    found = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def tell(what: str, figure: str, held: bool | None, wanted: str) -> None:
    mark = {True: "held", False: "NOT HELD", None: ""}[held]
    print(f"{what:<58} {figure:>16}  {wanted:<22} {mark}", flush=True)
