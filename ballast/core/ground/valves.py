"""The valve of a wheel: what is to be known of it before air is let out there, filled or read."""

import datetime as dt
from dataclasses import dataclass
from typing import Literal

from ballast.core.working import Phrase, day, kpa, plain, say

Stem = Literal["", "rigid", "rubber", "bent"]
# Rubber stems are commonly made for no more than this, 65 psi [kPa].
RUBBER_KPA = 450.0


@dataclass(frozen=True)
class Valve:
    """What somebody saw of a valve; empty and None: nobody looked. `flow_through`: it is read through its cap."""

    stem: Stem = ""
    flow_through: bool | None = None
    reachable: bool | None = None
    core_changed_on: dt.date | None = None
    note: str = ""


def valve_words(valve: Valve, target_kpa: float | None = None) -> Phrase | None:
    """What is said of a valve at its wheel, `target_kpa` the most that is asked of it cold; None: nothing to say.

    >>> valve_words(Valve("bent", reachable=False)).text
    'Valve: not in reach by hand, take a hose or a long foot along; bent stem.'
    >>> valve_words(Valve("rigid", reachable=True)) is None
    True
    """
    said = []
    if valve.reachable is False:
        said.append("not in reach by hand, take a hose or a long foot along")
    if valve.stem == "bent":
        said.append("bent stem")
    if valve.flow_through:
        said.append("read through its cap")
    if valve.core_changed_on is not None:
        said.append(f"core changed {day(valve.core_changed_on)}")
    if valve.note:
        said.append(plain(valve.note))
    above = valve.stem == "rubber" and target_kpa is not None and target_kpa > RUBBER_KPA
    if not above:
        return say(f"Valve: {'; '.join(said)}.") if said else None
    also = f" Also: {'; '.join(said)}." if said else ""
    return say(
        "Valve: a rubber stem at {0}. They are commonly made for no more than {1}: have a tire service see to it." + also,
        kpa(target_kpa or 0.0, "up"), kpa(RUBBER_KPA),
    )  # fmt: skip
