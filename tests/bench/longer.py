"""A rig of the big world beside the same rig with as many rounds in a world of ten rigs: what it takes to open its pages, and to
open, read and seal a round of it, must not grow with the fleet.

Run with `make bench`.
"""

import time
from collections.abc import Callable
from statistics import median
from typing import Any
from uuid import uuid4

from tests.bench import fleet
from tests.bench.figures import tell
from tests.bench.served import served, settled
from tests.browser.serving import DemoServer

FLEET_NUMBER, TIMES, ROUNDS = "CF-03", 60, 25


class World:
    """A server, somebody on it, and the rig."""

    def __init__(self, server: DemoServer) -> None:
        self.line = settled(server)
        found = self.line.ok("GET", f"finder?find={FLEET_NUMBER.lower()}")
        self.rig = next(r["id"] for r in found if r["fleet_number"] == FLEET_NUMBER)
        self.gauge = next(g["id"] for g in self.line.ok("GET", "gauges") if g["label"] == "G1")
        self.round: dict[str, Any] = {}

    def page(self, path: str) -> None:
        self.line.ok("GET", path.format(rig=self.rig))

    def open(self) -> None:
        opening = {"gauge": self.gauge, "standing_h": 12, "outside_c": 10, "elevation_m": 410}
        self.round = self.line.ok("POST", f"rigs/{self.rig}/rounds", opening)

    def read(self, at: int) -> None:
        wheel = self.round["wheels"][at]
        body = {"wheel": wheel["code"], "pressure": f"{wheel['expected_kpa'] or 600:.0f} kPa"}
        self.line.ok("PUT", f"rounds/{self.round['id']}/readings/{uuid4()}", body)

    def seal(self) -> None:
        self.line.ok("POST", f"rounds/{self.round['id']}/seal", {"unread_reason": "dark", "without_target": True})


def _ratio(small: World, large: World, do: Callable[[World], Any]) -> float:
    """How many times as long it takes in the large world."""
    took = []
    for world in (small, large):
        start = time.perf_counter()
        do(world)
        took.append(time.perf_counter() - start)
    return took[1] / took[0]


def _say(what: str, ratios: list[float]) -> None:
    # The first of each are not counted: nothing is at hand yet.
    ratio = median(ratios[3:])
    tell(f"{what}, beside the same rig in a world of ten", f"{ratio:.2f} ×", ratio <= 1.3, "at most 1.3 ×")


def pages(small: World, large: World) -> None:
    for name, path in (
        ("rig sheet", "yard/{rig}"),
        ("its rounds", "lookback/{rig}/rounds"),
        ("Look back", "lookback/{rig}"),
        ("its targets", "rigs/{rig}/targets"),
        ("its ground", "rigs/{rig}/ground"),
        ("its morning", "rigs/{rig}/morning"),
    ):
        _say(name, [_ratio(small, large, lambda world, p=path: world.page(p)) for _ in range(TIMES)])  # type: ignore[misc]


def rounds(small: World, large: World) -> None:
    took: dict[str, list[float]] = {"opening a round": [], "a reading": [], "sealing it": []}
    for _ in range(ROUNDS):
        took["opening a round"].append(_ratio(small, large, World.open))
        for at in range(len(small.round["wheels"])):
            took["a reading"].append(_ratio(small, large, lambda world, at=at: world.read(at)))  # type: ignore[misc]
        took["sealing it"].append(_ratio(small, large, World.seal))
    for name, ratios in took.items():
        _say(name, ratios)


def main() -> None:
    fleet.build()
    with served(fleet.SMALL) as small, served(fleet.FOLDER) as large:
        worlds = World(small), World(large)
        pages(*worlds)
        rounds(*worlds)


if __name__ == "__main__":
    main()
