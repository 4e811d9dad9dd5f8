"""Plans as they are stored, to and from the core's values: the one place that knows their JSON and its version."""

from dataclasses import dataclass

from pydantic import TypeAdapter

from ballast.core import ground as core
from ballast.server.ground.models import GroundEntry, GroundPlan

VERSION = 1
Stored = dict[str, object]
# Where a chain names rows, and of what.
REFERS_TEXT = {"value.wheels[].rig": "rigs.Rig"}


@dataclass(frozen=True)
class PlanText:
    """A chain as it was opened: its stretches, how each is drawn, and the wheels as they stood on the road."""

    stretches: tuple[core.Stretch, ...]
    patterns: tuple[core.Pattern, ...]
    wheels: tuple[core.GroundWheel, ...]


_TEXT: TypeAdapter[PlanText] = TypeAdapter(PlanText)


def keep(text: PlanText) -> Stored:
    return {"version": VERSION, "value": _TEXT.dump_python(text, mode="json")}


def text_of(row: GroundPlan) -> PlanText:
    if row.text["version"] != VERSION:
        raise ValueError(f"A plan is stored in version {row.text['version']}; this is {VERSION}. Run the migrations.")
    return _TEXT.validate_python(row.text["value"])


def entry(row: GroundEntry) -> core.Entry:
    return core.Entry(row.wheel, row.step, row.done, row.done_at, row.kpa, row.sure_kpa, row.reason)  # type: ignore[arg-type]


def plan(row: GroundPlan, text: PlanText | None = None) -> core.Open:
    """An open plan as the rules take it; its entries at hand."""
    entries = tuple(entry(e) for e in row.entries.all() if e.withdrawn_at is None)
    stretches = (text or text_of(row)).stretches
    return core.Open(row.opened_at, stretches, row.at, entries, row.place, row.no_way_back)
