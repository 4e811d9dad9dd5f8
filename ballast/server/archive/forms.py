"""What an archive holds: which rows, whose they are, and where the number of a row stands in other than its own column."""

import base64
import datetime as dt
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cache
from typing import Any

from django.apps import apps
from django.db import models
from django.db.migrations.loader import MigrationLoader

from ballast.server.accounts.models import Person, Workspace
from ballast.server.ground import stored as plans
from ballast.server.rounds import stored as rounds

FORMAT = "gentle-ballast/workspace"
VERSION = 1
MANIFEST, PEOPLE, PICTURES = "manifest.json", "people.jsonl", "pictures/"
# Ways in and secrets, what is on its way in or worked out from the rest, and practice, which counts nowhere.
STAYS = frozenset({
    "accounts.Link", "accounts.SecondFactor", "accounts.RecoveryCode", "accounts.OpenSession", "accounts.ApiKey",
    "schedule.Feed", "schedule.Notice", "sensors.NumbersImport", "sensors.ImportSlice",
    "rigs.FleetFile", "rigs.FleetSlice", "rigs.FleetStep", "yard.Standing", "gauges.DrawerLine",
    "practice.Try",
})  # fmt: skip
# Rows that are numbered in JSON, or in a plain number: by model and field, where in it, and of what.
REFERS: dict[str, dict[str, dict[str, str]]] = {
    "rounds.Round": {"last_words": rounds.REFERS_WORDS},
    "rounds.RoundText": {
        "sheet": rounds.REFERS_LINES, "result": rounds.REFERS_ROUND, "stands": rounds.REFERS_ROUND,
    },
    "rounds.WheelNote": {"says": rounds.REFERS_NOTE},
    "rounds.Amendment": {"says": rounds.REFERS_NOTE},
    "rounds.Late": {"body": rounds.REFERS_LATE},
    "ground.GroundPlan": {"text": plans.REFERS_TEXT, "closed_round": {"": "rounds.Round"}},
    "gauges.Beside": {"readings": {"[].gauge": "gauges.Gauge"}},
    "weighing.Weighing": {"placed": {"[].rig": "rigs.Rig"}},
    "sensors.LampCase": {"answers": {"gauge": "gauges.Gauge"}},
}  # fmt: skip
# Where a name that a page gave a row stands in JSON: it is given another, so that both can be in one installation. And
# where a reading's number stands for nothing but its turn.
UUID, ORDER = "uuid", "order"

Row = dict[str, Any]


@dataclass(frozen=True)
class Kept:
    """A kind of row that is in an archive, and how its workspace is found."""

    model: type[models.Model]
    of_workspace: str

    @property
    def label(self) -> str:
        return self.model._meta.label

    @property
    def name(self) -> str:
        return f"rows/{self.label}.jsonl"

    @property
    def is_history(self) -> bool:
        return hasattr(self.model, "history_id")

    def rows(self, workspace: Workspace) -> models.QuerySet[Any]:
        own = self.model._base_manager.filter(**{self.of_workspace: workspace.pk})
        return own.order_by("pk")


def _way(model: type[models.Model], seen: tuple[type[models.Model], ...] = ()) -> str | None:
    """The look-up from a row to its workspace; None: it has none."""
    ahead: list[Any] = [
        f for f in model._meta.concrete_fields if f.is_relation and f.related_model not in (*seen, model, Person)
    ]
    for f in ahead:
        if f.related_model is Workspace:
            return str(f.name)
    # What must be there tells it surely.
    for f in sorted(ahead, key=lambda f: f.null):
        if further := _way(f.related_model, (*seen, model)):
            return f"{f.name}__{further}"
    return None


@cache
def kept() -> tuple[Kept, ...]:
    """Every kind of row of a workspace, but for what stays: rows before their histories."""
    found = []
    for model in apps.get_models():
        ours = model.__module__.startswith("ballast.server.") and model is not Workspace
        if not ours or model._meta.label in STAYS:
            continue
        way = "id" if model is Workspace.history.model else _way(model)
        if way is not None:
            found.append(Kept(model, way))
    return tuple(sorted(found, key=lambda k: k.is_history))


def newest() -> dict[str, str]:
    """In which form rows are kept here: by room its newest migration."""
    ours = {k.model._meta.app_label for k in kept()}
    return {app: name for app, name in sorted(MigrationLoader(None).graph.leaf_nodes()) if app in ours}


def plain(value: Any) -> str:
    """What JSON has no form for: times by ISO 8601, bytes in base64, names of rows as text."""
    if isinstance(value, dt.date):
        return value.isoformat()
    return base64.b64encode(bytes(value)).decode() if isinstance(value, bytes | memoryview) else str(value)


def out(kind: Kept, workspace: Workspace) -> Iterator[Row]:
    """The rows of a kind, every column by its name, and the numbers of those that a row is tied to many of."""
    names = [f.attname for f in kind.model._meta.concrete_fields]
    ties = {m.name: _tied(m, kind, workspace) for m in kind.model._meta.local_many_to_many}
    for values in kind.rows(workspace).values_list(*names).iterator(chunk_size=2000):
        said = dict(zip(names, values, strict=True))
        yield said | {name: tied.get(said["id"], []) for name, tied in ties.items()}


def _tied(field: Any, kind: Kept, workspace: Workspace) -> dict[int, list[int]]:
    """The numbers of those that each row of a kind is tied to, by its own."""
    one, other = f"{field.m2m_field_name()}_id", f"{field.m2m_reverse_field_name()}_id"
    rows = field.remote_field.through._base_manager.filter(**{f"{one}__in": kind.rows(workspace).values("pk")})
    tied: dict[int, list[int]] = {}
    for row, to in rows.order_by(one, other).values_list(one, other).iterator(chunk_size=2000):
        tied.setdefault(row, []).append(to)
    return tied


def people_in(model: type[models.Model]) -> tuple[str, ...]:
    """The columns of a model that name people."""
    each = (*model._meta.concrete_fields, *model._meta.local_many_to_many)
    return tuple(f.name if f.many_to_many else f.attname for f in each if f.related_model is Person)


def refers_to() -> frozenset[str]:
    """The kinds of rows that others name."""
    tied = {
        f.related_model._meta.label  # type: ignore[union-attr]
        for k in kept()
        for f in (*k.model._meta.concrete_fields, *k.model._meta.local_many_to_many)
        if f.is_relation
    }
    told = {of for fields in REFERS.values() for ways in fields.values() for of in ways.values()}
    histories = {k.model.instance_type._meta.label for k in kept() if k.is_history}  # type: ignore[attr-defined]
    return frozenset((tied | told | histories) & {k.label for k in kept()})


def put(value: Any, way: str, new: Callable[[Any], Any]) -> Any:
    """A JSON value with what stands at `way` ("value[].rig") replaced; what is not there, or null, stays."""
    if not way:
        return value if value is None else new(value)
    if way.startswith("[]"):
        return [put(v, way[2:].removeprefix("."), new) for v in value] if isinstance(value, list) else value
    cut = min((i for i in (way.find("."), way.find("[")) if i >= 0), default=len(way))
    key, rest = way[:cut], way[cut:].removeprefix(".")
    if not isinstance(value, dict) or key not in value:
        return value
    return value | {key: put(value[key], rest, new)}
