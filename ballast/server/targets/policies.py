"""How the targets of a rig are chosen and kept: its own way, else the workspace's."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction

from ballast.core.air import TemperaturePolicy
from ballast.core.tables import STEPS, Step, StepName
from ballast.core.targets import Between, Chosen, Policy
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.versions import must_match, version_of
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.targets.models import RigPolicy

# Choices by their name, as a form gives them: None is as it was before.
Choices = dict[str, object]
FIELDS = (
    "reserve", "edge", "step", "school", "between", "temperature", "check_days", "cold_after_h", "spare_over",
)  # fmt: skip


@dataclass(frozen=True)
class Way:
    """Every choice made. `own` names those that the rig has for itself."""

    reserve: float
    edge: float
    step: StepName
    school: Chosen
    between: Between
    temperature: TemperaturePolicy
    check_days: int
    cold_after_h: float | None
    spare_over: bool
    own: tuple[str, ...] = ()
    # Of all that the forms of it show and write.
    version: str = ""

    @property
    def step_of(self) -> Step:
        return STEPS[self.step]

    @property
    def state(self) -> dict[str, object]:
        """All that the forms of it show and write."""
        return {name: getattr(self, name) for name in FIELDS}

    def policy(self) -> Policy:
        """The rules' view of it."""
        return Policy(self.reserve, self.step_of, self.edge, self.school, self.between)


def of_workspace(actor: Actor) -> tuple[Any, ...]:
    """What the workspace chose, in the order of `FIELDS`."""
    return tuple(getattr(actor.workspace, name) for name in FIELDS)


def way_of(actor: Actor, rig: Rig, given: Choices | None = None) -> Way:
    """What counts for a rig: what is given now, else its own, else the workspace's."""
    stored = getattr(rig, "policy", None)
    choices: dict[str, Any] = {}
    own = []
    for name in FIELDS:
        value = (given or {}).get(name)
        if value is None and stored is not None:
            value = getattr(stored, name)
        if value is None:
            value = getattr(actor.workspace, name)
        elif value != getattr(actor.workspace, name):
            own.append(name)
        choices[name] = value
    return Way(**choices, own=tuple(own), version=version_of(choices))


def keep(actor: Actor, rig: Rig, given: Choices) -> None:
    """Keeps choices as the rig's own; one that is as in the workspace follows the workspace from now on."""
    keep_all(actor, [rig], given)


def keep_all(actor: Actor, of: Sequence[Rig], given: Choices) -> None:
    """The same for many rigs, by two statements."""
    if not given or not of:
        return
    fields = {
        name: None if value == getattr(actor.workspace, name) else value
        for name, value in given.items()
        if name in FIELDS
    }
    there = RigPolicy.objects.filter(rig__in=of)
    has = set(there.values_list("rig", flat=True))
    there.update(**fields, set_by=actor.person, set_at=clock.now())
    RigPolicy.objects.bulk_create(RigPolicy(rig=rig, set_by=actor.person, **fields) for rig in of if rig.pk not in has)


def rig_of(actor: Actor, rig_id: int) -> Rig:
    """One rig with its way at hand. Raises DoesNotExist."""
    return rigs.rig(actor, rig_id, also=("policy",))


@transaction.atomic
def change(actor: Actor, rig_id: int, given: Choices) -> Rig:
    """Changes how a rig's air and rounds are judged; null goes back to the workspace's way. Raises Stale."""
    actor.must(May.TARGETS)
    seen = str(given.pop("version", ""))
    before = way_of(actor, rig_of(actor, rig_id))
    wanted = {n: getattr(actor.workspace, n) if v is None else v for n, v in given.items()}
    must_match(seen, before.state, before.state | wanted, actor.person.units)
    keep(actor, rigs.rig(actor, rig_id), given)
    return rig_of(actor, rig_id)
