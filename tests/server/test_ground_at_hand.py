"""What the ground has at hand of a combination from key to key: never what stood there before."""

from collections.abc import Callable
from typing import Any

import pytest

from ballast.server.accounts.models import Workspace
from ballast.server.ground import wheels
from ballast.server.rigs.models import Rig
from ballast.server.weighing.models import Weighing
from tests.server.conftest import Fleet, combinations, readers
from tests.server.test_ground import pulled

CHANGES: dict[str, Callable[[Fleet], Any]] = {
    "a target": lambda f: f.api.ok("POST", f"/rigs/{f.rig}/targets", {"own": ["44 psi"]}),
    "the maker's word": lambda f: f.api.ok(
        "PUT", f"/rigs/{f.rig}/ground/axles/2", {"role": "driven", "least_kpa": "30 psi", "words": "letter of Mar 3"}
    ),
    "a policy of the workspace": lambda f: Workspace.objects.filter(name="Ours").update(step="5 kPa"),
    "a weighing, by a statement": lambda f: Weighing.objects.all().update(hitch_kg=100),
    "a placard": lambda f: Rig.objects.get(pk=f.rig).axles.update(placard_kpa=300),
    "an unhitching": lambda f: f.api.ok("PUT", f"/rigs/{f.table}/hitch", {"behind": None}),
}


@pytest.mark.parametrize("change", CHANGES)
def test_what_is_at_hand_is_what_stands_there(api: Any, change: str) -> None:
    fleet = pulled(api)
    fleet.api.ok("POST", "work/ground", {"rig": fleet.rig, "chain": ["soft"]})
    (actor,) = [reader for reader in readers() if reader.workspace.name == "Ours"]
    before = wheels.as_typed(actor, fleet.rig)
    assert wheels.as_typed(actor, fleet.rig).wheels is before.wheels
    CHANGES[change](fleet)
    (actor,) = [reader for reader in readers() if reader.workspace.name == "Ours"]
    assert wheels.as_typed(actor, fleet.rig).wheels is not before.wheels
    assert combinations(actor) == []


def test_the_air_is_never_at_hand(api: Any) -> None:
    fleet = pulled(api)
    body = {"rig": fleet.rig, "chain": ["soft"], "standing_h": 0, "driven": "highway"}

    def shown() -> float:
        steps = api.ok("POST", "work/ground", body)["steps"]
        return next(float(j["goal"]["shows_kpa"]) for j in steps[0]["jobs"] if j["code"] == "1L")

    # Just off the highway 42 °C above the air: 218.536 kPa absolute × 340.15/298.15, then × 325.15/283.15, less 101.325.
    assert shown() == pytest.approx(147.996, abs=0.01)
    api.ok("PUT", f"/rigs/{fleet.rig}/air", {"outside_c": 10, "elevation_m": 0})
    assert shown() == pytest.approx(149.627, abs=0.01)
