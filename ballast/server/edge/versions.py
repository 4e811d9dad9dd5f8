"""What a form saw when it was filled in: whoever saves over somebody else's change is told both values first."""

import hashlib
import json
from collections.abc import Mapping
from typing import Any

from ballast.core import units
from ballast.server.edge.problems import FieldProblem, Stale

KIND_BY_SUFFIX: dict[str, units.Kind] = {
    "kg": "mass", "kpa": "pressure", "m": "length", "kmh": "speed", "c": "temperature", "km": "distance",
}  # fmt: skip


def shown(name: str, value: Any, system: units.System) -> str:
    """A column's value in words, its unit by its name."""
    if value is None or value == "":
        return "not known"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return "; ".join(str(v) for v in value)
    kind = KIND_BY_SUFFIX.get(name.rsplit("_", 1)[-1])
    return units.show(kind, value, system) if kind and isinstance(value, float) else str(value)


def version_of(state: Mapping[str, object]) -> str:
    """A short name of a state, the same for the same values."""
    return hashlib.sha256(json.dumps(state, sort_keys=True, default=str).encode()).hexdigest()[:16]


def must_match(seen: str, stored: Mapping[str, object], wanted: Mapping[str, object], system: units.System) -> None:
    """Raises Stale where the person saw another state than is stored, with what is stored beside every field that differs.

    `seen` is empty where a caller has no form; `system` is that of the person's units.
    """
    if not seen or seen == version_of(stored):
        return
    fields = [
        FieldProblem(field=name, message=f"By now: {shown(name, stored.get(name), system)}.")
        for name in {**stored, **wanted}
        if stored.get(name) != wanted.get(name)
    ]
    raise Stale(version_of(stored), fields)
