"""A yard of two thousand rigs, built by multiplying the demo's rows: how long its lists take, beside calls that ask for nothing.

Run with `make bench`. The big world is built once and kept beside the database of the tests, by what it was built from.
"""

import re
import sqlite3
from collections.abc import Iterable
from pathlib import Path

COPIES = 200
_APART = 1_000_000
# What belongs to a rig, and what that belongs to; the gauges, tables and people are the same for all.
_TABLES = (
    "rigs_rig", "rigs_axle", "rigs_spare", "rigs_tire", "rigs_fitting", "rigs_torque", "weighing_loadstate", "weighing_weighing",
    "weighing_axleweight", "targets_rigpolicy", "targets_targetset", "targets_targetset_tables", "targets_targetaxle", "air_rigair",
    "air_rigtrip", "ground_groundplan", "ground_groundpart", "ground_groundentry", "rounds_round", "rounds_roundtext",
    "rounds_roundpart", "rounds_reading", "rounds_wheelnote", "rounds_service", "rounds_treaddepth", "sensors_sensorsystem",
)  # fmt: skip


def _shifted(text: str | None, by: int) -> str | None:
    """Stored words with the numbers of other rigs and tires."""
    if text is None:
        return None
    return re.sub(r'("(?:rig|tire)": ?)(\d+)', lambda m: f"{m[1]}{int(m[2]) + by}", text)


def _copied(db: sqlite3.Connection, table: str, workspace: int) -> str:
    """The statement that copies the rows of a table for one more fleet, `:by` apart and numbered `:k`."""
    to = {row[3]: row[2] for row in db.execute(f"PRAGMA foreign_key_list({table})")}
    cells = []
    for _, name, kind, _, _, key in db.execute(f"PRAGMA table_info({table})").fetchall():
        if (key and name not in to) or to.get(name) in _TABLES:
            cells.append(f'"{name}" + :by')
        elif name == "uuid" or kind == "char(32)":
            cells.append("lower(hex(randomblob(16)))")
        elif (table, name) == ("rigs_rig", "fleet_number"):
            cells.append("fleet_number || '-' || :k")
        elif name == "last_words":
            cells.append("shifted(last_words, :by)")
        else:
            cells.append(f'"{name}"')
    return f"INSERT INTO {table} SELECT {', '.join(cells)} FROM {table} AS t WHERE {_ours(db, table, workspace)}"


def _ours(db: sqlite3.Connection, table: str, workspace: int) -> str:
    """Which rows of a table are of the rigs that are multiplied."""
    first = {row[2]: row[3] for row in db.execute(f"PRAGMA foreign_key_list({table})")}
    if "accounts_workspace" in first:
        return f"workspace_id = {workspace} AND id < {_APART}"
    for owner in ("rigs_rig", "rounds_round", "weighing_weighing", "targets_targetset", "ground_groundplan"):
        if owner in first:
            return f"{first[owner]} IN (SELECT id FROM {owner} AS o WHERE {_ours(db, owner, workspace)})"
    raise ValueError(table)


def multiply(path: Path, workspace: int, numbers: Iterable[int] = range(1, COPIES)) -> None:
    """Copies all rigs of a workspace with all that belongs to them, once for each number."""
    with sqlite3.connect(path) as db:
        db.create_function("shifted", 2, _shifted, deterministic=True)
        db.execute("PRAGMA foreign_keys = OFF")
        statements = [_copied(db, table, workspace) for table in _TABLES]
        for k in numbers:
            for statement in statements:
                db.execute(statement, {"by": k * _APART, "k": k})
