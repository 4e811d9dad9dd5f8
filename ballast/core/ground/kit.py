"""What rides with a rig, and what is missing of it for a plan, a trip or a round."""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ballast.core.working import Phrase, day, plain, say

KitKind = Literal["gauge", "inflator", "deflators", "plugs", "caps", "cores", "soap", "jack", "other"]
KIT_KINDS: dict[KitKind, str] = {
    "gauge": "Gauge",
    "inflator": "Inflator",
    "deflators": "Deflators",
    "plugs": "Plugs",
    "caps": "Valve caps",
    "cores": "Valve cores",
    "soap": "Soap for leaks",
    "jack": "Jack",
    "other": "Other",
}
Use = Literal["plan", "trip", "round"]
_NEEDS: dict[Use, tuple[KitKind, ...]] = {
    "plan": ("gauge", "inflator", "plugs", "caps", "cores", "jack"),
    "trip": ("gauge", "inflator", "plugs", "jack"),
    "round": ("gauge", "caps", "cores", "soap"),
}
_FOR: dict[Use, str] = {"plan": "Off the road", "trip": "On a trip", "round": "On a round"}
# A battery that was charged longer ago than this may be flat [days].
CHARGE_DAYS = 30
# Gauges that read by the same principle fail alike.
_PRINCIPLE = {"stick": "spring", "dial": "tube", "master": "tube", "digital": "cell", "inflator": "cell"}


@dataclass(frozen=True)
class KitItem:
    """A thing aboard. `principle`: a gauge's kind; `battery`: it runs on its own; dates None: not known."""

    kind: KitKind
    label: str
    count: int = 1
    principle: str = ""
    battery: bool = False
    charged_on: dt.date | None = None
    replace_by: dt.date | None = None


def lacking(use: Use, items: Sequence[KitItem], today: dt.date) -> tuple[Phrase, ...]:
    """What a plan, a trip or a round needs and the kit has not, or not surely.

    Where nothing is written down it is not known, and what is wanted is said.

    >>> lacking("round", [KitItem("gauge", "G1"), KitItem("caps", "", 4), KitItem("cores", "", 2)], dt.date(2026, 11, 28))[0].text
    'On a round its kit lacks: soap for leaks.'
    """
    if not items:
        wanted = ", ".join(KIT_KINDS[k].lower() for k in _NEEDS[use])
        return (say(f"What rides with it is not written down. Wanted {_FOR[use].lower()}: {wanted}."),)
    aboard = {i.kind for i in items if i.count > 0}
    missing = [KIT_KINDS[k].lower() for k in _NEEDS[use] if k not in aboard]
    said = [say(f"{_FOR[use]} its kit lacks: {', '.join(missing)}.")] if missing else []
    principles = {_PRINCIPLE.get(i.principle, i.principle) for i in items if i.kind == "gauge" and i.principle}
    if use != "round" and "gauge" in aboard and len(principles) < 2:
        said.append(say("One gauge alone cannot be doubted: take a second along that reads by another principle."))
    return (*said, *(words for i in items if (words := _doubtful(i, today)) is not None))


def _doubtful(item: KitItem, today: dt.date) -> Phrase | None:
    """What is to be said of an item's charge or battery."""
    name = plain(item.label or KIT_KINDS[item.kind])
    if item.replace_by is not None and item.replace_by <= today:
        return say(f"{name}: its battery was to be replaced by {day(item.replace_by)}.")
    if not item.battery:
        return None
    if item.charged_on is None:
        return say(f"{name} runs on its own battery: when it was charged is not known.")
    days = (today - item.charged_on).days
    return say(f"{name}: charged {days} days ago, charge it.") if days > CHARGE_DAYS else None
