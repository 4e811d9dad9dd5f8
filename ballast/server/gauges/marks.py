"""What marks a gauge's line of the drawer: its own row, and how it was compared."""

from collections.abc import Iterator

from ballast.server.edge.triggers import ROWS, Trigger, Watch

_LINES = (
    "INSERT INTO gauges_drawerline (gauge_id, workspace_id, marks, known, retired, label, words, asks, within_kpa) "
    "SELECT id, workspace_id, 0, -1, retired, label, '', {no}, 0 FROM gauges_gauge WHERE "
)


def _lines(vendor: str, which: str) -> str:
    return _LINES.format(no="false" if vendor == "postgresql" else "0") + which


def _triggers(vendor: str) -> Iterator[Trigger]:
    yield Trigger("gauges_new", "gauges_gauge", "insert", _lines(vendor, "id = NEW.id"))
    marked = "UPDATE gauges_drawerline SET marks = marks + 1{more} WHERE gauge_id IN ({which})"
    changed = marked.format(more=", workspace_id = NEW.workspace_id", which="NEW.id")
    yield Trigger("gauges_changed", "gauges_gauge", "update", changed)
    for event, rows in ROWS.items():
        which = ", ".join(f"{row}.gauge_id" for row in rows)
        yield Trigger(f"gauges_compared_{event}", "gauges_calibration", event, marked.format(more="", which=which))


def _of_before(vendor: str) -> str:
    return _lines(vendor, "id NOT IN (SELECT gauge_id FROM gauges_drawerline)")


WATCH = Watch("gauges_drawerline", _triggers, _of_before)
