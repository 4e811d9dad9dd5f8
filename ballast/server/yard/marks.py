"""What marks a rig's standing. `{0}` stands for the row that was written."""

from collections.abc import Iterator

from ballast.server.edge.triggers import ROWS, Trigger, Watch

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
_NEW_RIG = (
    "INSERT INTO yard_standing (rig_id, workspace_id, marks, known, urgency, asks, about, number, name, words, line, morning, tires, measured) SELECT id, "
    "workspace_id, 0, -1, 0, {no}, '', lower(CASE WHEN fleet_number = '' THEN name ELSE fleet_number END), "
    "lower(fleet_number || ' ' || name), '', '{{}}', '{{}}', {none}, {none} FROM rigs_rig WHERE "
)


def _new_rig(vendor: str, which: str) -> str:
    no, none = ("false", "''::bytea") if vendor == "postgresql" else ("0", "x''")
    return _NEW_RIG.format(no=no, none=none) + which


def _triggers(vendor: str) -> Iterator[Trigger]:
    yield Trigger("yard_new_rig", "rigs_rig", "insert", _new_rig(vendor, "id = NEW.id"))
    # A fleet that arrived is another workspace's from then on.
    moved = "UPDATE yard_standing SET workspace_id = NEW.workspace_id WHERE rig_id = NEW.id AND workspace_id <> NEW.workspace_id"
    yield Trigger("yard_moved_rig", "rigs_rig", "update", moved)
    for table, rigs in WATCHED.items():
        for event, rows in ROWS.items():
            named = " OR ".join(f"rig_id IN ({rigs.format(row)})" for row in rows)
            marked = f"UPDATE yard_standing SET marks = marks + 1 WHERE {named}"
            yield Trigger(f"yard_{table}_{event}", table, event, marked)


def _of_before(vendor: str) -> str:
    return _new_rig(vendor, "id NOT IN (SELECT rig_id FROM yard_standing)")


WATCH = Watch("yard_standing", _triggers, _of_before)
