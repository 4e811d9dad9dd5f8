"""How a figure is measured and told."""

import statistics
import time
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

from tests.browser.serving import DemoServer


def seconds(run: Callable[[], Any], times: int = 40) -> float:
    """The median of several runs, after one to warm up."""
    return statistics.median(in_turn({"": run}, time.perf_counter, times)[""])


def in_turn(runs: Mapping[str, Callable[[], Any]], clock: Callable[[], float], times: int) -> dict[str, list[float]]:
    """How long each of several runs takes by a clock, so many times, one after the other in turn, after one to warm up: what slows
    the machine for a while slows them all."""
    for run in runs.values():
        run()
    took: dict[str, list[float]] = {name: [] for name in runs}
    for _ in range(times):
        for name, run in runs.items():
            start = clock()
            run()
            took[name].append(clock() - start)
    return took


def processor(server: DemoServer) -> Callable[[], float]:
    """A clock of the processor time that all workers of a server have taken [s]; what else the machine does is not in it."""
    assert server.process
    pid = server.process.pid
    workers = [int(child) for child in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]
    # As the system numbers the clock of another process.
    return lambda: sum(time.clock_gettime((~worker << 3) | 2) for worker in workers)


def tell(what: str, figure: str, held: bool | None, wanted: str) -> None:
    mark = {True: "held", False: "NOT HELD", None: ""}[held]
    print(f"{what:<70} {figure:>16}  {wanted:<22} {mark}", flush=True)
