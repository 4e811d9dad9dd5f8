"""What marks a rig's standing: triggers of the database, so that no way of writing goes past them.

They run in the transaction of the write itself. `{0}` stands for the row that was written.
"""

from collections.abc import Iterator
from typing import Any

from django.db import connections

_IN_WORKSPACE = "SELECT rig_id FROM yard_standing WHERE workspace_id = {0}."
# Also where somebody else of a round has it in hand, had it, or it was named after the seal.
_READ_BY = ("rounds_round", "rounds_take", "rounds_reading", "rounds_amendment")
_HAS_READ = f"({' OR '.join(f'EXISTS (SELECT 1 FROM {of} WHERE gauge_id = {{0}})' for of in _READ_BY)})"
_OF_ROUND = "SELECT rig_id FROM rounds_roundpart WHERE round_id = {0}."
_OF_PLAN = "SELECT rig_id FROM ground_groundpart WHERE plan_id = {0}."
_OF_SET = "SELECT rig_id FROM targets_targetset WHERE id = {0}."

# The tables that a standing is worked out from, each with the rigs that a row of it speaks of.
WATCHED = {
    "accounts_workspace": _IN_WORKSPACE + "id",
    # What is hitched to it, and what it is hitched to.
    "rigs_rig": "SELECT id FROM rigs_rig WHERE id IN ({0}.id, {0}.head_id) OR head_id IN ({0}.id, {0}.head_id)",
    "rigs_outofservice": "{0}.rig_id",
    "rigs_axle": "{0}.rig_id",
    "rigs_spare": "{0}.rig_id",
    "rigs_fitting": "{0}.rig_id",
    "rigs_tire": "SELECT rig_id FROM rigs_fitting WHERE tire_id = {0}.id AND removed_on IS NULL",
    "refine_tireevent": "SELECT rig_id FROM rigs_fitting WHERE tire_id = {0}.tire_id AND removed_on IS NULL",
    "rigs_torque": "{0}.rig_id",
    "tables_table": _IN_WORKSPACE + "workspace_id",
    "weighing_loadstate": "{0}.rig_id",
    "weighing_weighing": "{0}.rig_id",
    "weighing_axleweight": "SELECT rig_id FROM weighing_weighing WHERE id = {0}.weighing_id",
    "targets_rigpolicy": "{0}.rig_id",
    "targets_chalkresult": "{0}.rig_id",
    "targets_targetset": "{0}.rig_id",
    "targets_targetaxle": _OF_SET + "target_set_id",
    "targets_targetset_tables": _OF_SET + "targetset_id",
    "air_rigtrip": "SELECT id FROM rigs_rig WHERE id = {0}.rig_id OR head_id = {0}.rig_id",
    "ground_groundplan": _OF_PLAN + "id",
    "ground_groundpart": "{0}.rig_id",
    "ground_groundentry": _OF_PLAN + "plan_id",
    # What befalls a gauge may speak of any rig that it read.
    "gauges_gauge": _IN_WORKSPACE + "workspace_id AND " + _HAS_READ.format("{0}.id"),
    "gauges_calibration": "SELECT rig_id FROM yard_standing WHERE workspace_id IN (SELECT workspace_id FROM gauges_gauge "
    "WHERE id = {0}.gauge_id) AND " + _HAS_READ.format("{0}.gauge_id"),
    "sensors_alarmtold": "{0}.rig_id",
    "sensors_lampcase": "{0}.rig_id",
    "rounds_round": _OF_ROUND + "id",
    "rounds_roundpart": "{0}.rig_id",
    "rounds_late": "SELECT rig_id FROM rounds_round WHERE id = {0}.round_id",
}  # fmt: skip
_ROWS = {"insert": ("NEW",), "update": ("NEW", "OLD"), "delete": ("OLD",)}
_NEW_RIG = (
    "INSERT INTO yard_standing (rig_id, workspace_id, marks, known, urgency, asks, about, number, name, words, line, morning, tires, measured) SELECT id, "
    "workspace_id, 0, -1, 0, {no}, '', lower(CASE WHEN fleet_number = '' THEN name ELSE fleet_number END), "
    "lower(fleet_number || ' ' || name), '', '{{}}', '{{}}', {none}, {none} FROM rigs_rig WHERE "
)


def _new_rig(vendor: str, which: str) -> str:
    no, none = ("false", "''::bytea") if vendor == "postgresql" else ("0", "x''")
    return _NEW_RIG.format(no=no, none=none) + which


def _triggers(vendor: str) -> Iterator[tuple[str, str, str, str]]:
    """Each trigger: its name, its table, what it waits for, and what it does then."""
    yield "yard_new_rig", "rigs_rig", "insert", _new_rig(vendor, "id = NEW.id")
    # A fleet that arrived is another workspace's from then on.
    moved = "UPDATE yard_standing SET workspace_id = NEW.workspace_id WHERE rig_id = NEW.id AND workspace_id <> NEW.workspace_id"
    yield "yard_moved_rig", "rigs_rig", "update", moved
    for table, rigs in WATCHED.items():
        for event, rows in _ROWS.items():
            named = " OR ".join(f"rig_id IN ({rigs.format(row)})" for row in rows)
            yield f"yard_{table}_{event}", table, event, f"UPDATE yard_standing SET marks = marks + 1 WHERE {named}"


def names() -> set[str]:
    return {name for name, *_ in _triggers("sqlite")}


def drop(using: str = "default", **_: Any) -> None:
    """Takes them away, for migrations."""
    with connections[using].cursor() as cursor:
        for name, table, *_rest in _triggers(connections[using].vendor):
            on = f" ON {table}" if connections[using].vendor == "postgresql" else ""
            cursor.execute(f"DROP TRIGGER IF EXISTS {name}{on}")


def create(using: str = "default", **_: Any) -> None:
    """Sets them up, and gives a rig of before a standing that knows nothing yet."""
    vendor = connections[using].vendor
    with connections[using].cursor() as cursor:
        if "yard_standing" not in connections[using].introspection.table_names(cursor):
            # Migrated back to before it.
            return
        for name, table, event, does in _triggers(vendor):
            if vendor == "postgresql":
                body = f"BEGIN {does}; RETURN NULL; END"
                cursor.execute(f"CREATE OR REPLACE FUNCTION {name}() RETURNS trigger LANGUAGE plpgsql AS $${body}$$")
                cursor.execute(
                    f"CREATE OR REPLACE TRIGGER {name} AFTER {event} ON {table} FOR EACH ROW EXECUTE FUNCTION {name}()"
                )
            else:
                cursor.execute(f"CREATE TRIGGER IF NOT EXISTS {name} AFTER {event} ON {table} BEGIN {does}; END")
        cursor.execute(_new_rig(vendor, "id NOT IN (SELECT rig_id FROM yard_standing)"))
