"""A yard of 20,000 tires on more than two thousand rigs with two million tire-rounds, built by multiplying the demo's rows: how long
its lists take, beside calls that ask for nothing.

Run with `make bench`. The big world is built once and kept, until the demo's code is another.
"""

import gzip
import hashlib
import json
import os
import resource
import shutil
import sqlite3
import subprocess
import sys
import time
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

FOLDER = Path("var/bench-fleet").resolve()
# Beside it the ten rigs alone, with as many rounds each.
SMALL = FOLDER / "small"
os.environ |= {
    "DJANGO_SETTINGS_MODULE": "ballast.server.settings",
    "BALLAST_VAR": str(FOLDER),
    "BALLAST_MODE": "demo",
}

import django  # noqa: E402
import numpy as np  # noqa: E402

django.setup()

from django.conf import settings  # noqa: E402
from django.core.management import call_command  # noqa: E402
from django.db import connection  # noqa: E402
from django.test import Client  # noqa: E402
from django.test.utils import CaptureQueriesContext  # noqa: E402

from ballast.core.lookback import predict  # noqa: E402
from ballast.core.standing import ROUND_EVERY_DAYS  # noqa: E402
from ballast.demo import world  # noqa: E402
from ballast.server.accounts.models import Person, Workspace  # noqa: E402
from ballast.server.edge.packed import pack, unpack  # noqa: E402
from ballast.server.memory import settle  # noqa: E402
from ballast.server.rounds.models import Service  # noqa: E402
from ballast.server.yard import marks  # noqa: E402
from tests.bench.figures import seconds, tell  # noqa: E402

# So many fleets of the demo have 20,000 tires, and with so many rounds each 2,000,000 tire-rounds.
COPIES, TIRE_ROUNDS = 334, 2_000_000
APART, _OLDER = 1_000_000, 500_000
# What belongs to a rig, and what that belongs to; the gauges, tables and people are the same for all.
_TABLES = (
    "rigs_rig", "rigs_axle", "rigs_spare", "rigs_tire", "rigs_fitting", "rigs_torque", "weighing_loadstate", "weighing_weighing",
    "weighing_axleweight", "targets_rigpolicy", "targets_targetset", "targets_targetset_tables", "targets_targetaxle", "air_rigair",
    "air_rigtrip", "ground_groundplan", "ground_groundpart", "ground_groundentry", "rounds_round", "rounds_roundtext",
    "rounds_roundpart", "rounds_reading", "rounds_wheelnote", "rounds_service", "rounds_treaddepth", "sensors_sensorsystem",
)  # fmt: skip


# Of those what belongs to a round.
_OF_ROUNDS = tuple(table for table in _TABLES if table.startswith("rounds_"))


def _shifted(kept: bytes | None, by: int) -> bytes | None:
    """Stored words with the numbers of other rigs and tires."""
    if kept is None:
        return None
    words = unpack(kept)
    for word in words["value"]:
        for name in ("rig", "tire"):
            word[name] = word[name] and word[name] + by
    return pack(words)


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
            # Words of long ago are read by nothing.
            cells.append("CASE WHEN id IN (SELECT id FROM late) THEN shifted(last_words, :by) ELSE last_words END")
        else:
            cells.append(f'"{name}"')
    return f"INSERT INTO {table} SELECT {', '.join(cells)} FROM {table} AS t WHERE {_ours(db, table, workspace)}"


def _ours(db: sqlite3.Connection, table: str, workspace: int) -> str:
    """Which rows of a table are of the rigs that are multiplied."""
    first = {row[2]: row[3] for row in db.execute(f"PRAGMA foreign_key_list({table})")}
    if "accounts_workspace" in first:
        return f"workspace_id = {workspace} AND id < {APART}"
    for owner in ("rigs_rig", "rounds_round", "weighing_weighing", "targets_targetset", "ground_groundplan"):
        if owner in first:
            return f"{first[owner]} IN (SELECT id FROM {owner} AS o WHERE {_ours(db, owner, workspace)})"
    raise ValueError(table)


def _lengthen(db: sqlite3.Connection, workspace: int) -> None:
    """So many of the newest rounds once more, as if they had been before all others, that all copies have `TIRE_ROUNDS`."""
    services = f"SELECT round_id FROM rounds_service WHERE {_ours(db, 'rounds_service', workspace)}"
    ours = f"FROM ({services}) s JOIN rounds_round r ON r.id = s.round_id"
    (there,), wanted = db.execute(f"SELECT count(*) {ours}").fetchone(), TIRE_ROUNDS / COPIES
    db.execute("CREATE TEMP TABLE again (id INTEGER PRIMARY KEY)")
    for pk, count in db.execute(f"SELECT r.id, count(*) {ours} GROUP BY r.id ORDER BY r.opened_at DESC").fetchall():
        if there >= wanted:
            break
        db.execute("INSERT INTO again VALUES (?)", [pk])
        there += count
    days = db.execute("SELECT julianday(max(opened_at)) - julianday(min(opened_at)) + 7 FROM rounds_round").fetchone()
    for table in _OF_ROUNDS:
        to = {row[3]: row[2] for row in db.execute(f"PRAGMA foreign_key_list({table})")}
        cells = []
        for _, name, kind, _, _, key in db.execute(f"PRAGMA table_info({table})").fetchall():
            if (key and name not in to) or to.get(name) == "rounds_round":
                cells.append(f'"{name}" + {_OLDER}')
            elif name == "uuid":
                cells.append("lower(hex(randomblob(16)))")
            elif kind in ("date", "datetime"):
                cells.append(f"{kind}(\"{name}\", '-{round(days[0])} days')")
            else:
                cells.append("0" if name == "newest" else f'"{name}"')
        of = "id" if table == "rounds_round" else "round_id"
        db.execute(f"INSERT INTO {table} SELECT {', '.join(cells)} FROM {table} WHERE {of} IN (SELECT id FROM again)")


def multiply(path: Path, workspace: int, numbers: Iterable[int] = range(1, COPIES)) -> None:
    """Copies all rigs of a workspace with all that belongs to them, once for each number."""
    with sqlite3.connect(path) as db:
        db.create_function("shifted", 2, _shifted, deterministic=True)
        db.execute("PRAGMA foreign_keys = OFF")
        _lengthen(db, workspace)
        newest = "SELECT id, row_number() OVER (PARTITION BY rig_id ORDER BY opened_at DESC) AS nth FROM rounds_round"
        db.execute(f"CREATE TEMP TABLE late AS SELECT id FROM ({newest}) WHERE nth <= 12")
        statements = [_copied(db, table, workspace) for table in _TABLES]
        for k in numbers:
            for statement in statements:
                db.execute(statement, {"by": k * APART, "k": k})


def build() -> None:
    """The big world, unless it stands already."""
    # Also how rounds are kept: its size is a figure.
    made_by = [*sorted(Path("ballast/demo").glob("*.py")), Path("ballast/server/edge/packed.py"), Path(__file__)]
    code = b"".join(path.read_bytes() for path in made_by)
    made_of, stamp = hashlib.sha256(code).hexdigest(), FOLDER / "made_of"
    FOLDER.mkdir(parents=True, exist_ok=True)
    if stamp.exists() and stamp.read_text() == made_of:
        call_command("migrate", verbosity=0)
        return
    for left in FOLDER.glob("ballast.sqlite3*"):
        left.unlink()
    call_command("migrate", verbosity=0)
    world.build()
    file = Path(connection.settings_dict["NAME"])
    workspace = Workspace.objects.get(name__startswith="Copperfinch").pk
    connection.close()
    SMALL.mkdir(exist_ok=True)
    for path in (file, FOLDER / "secret_key"):
        shutil.copy(path, SMALL)
    multiply(SMALL / file.name, workspace, ())
    marks.WATCH.drop()
    connection.close()
    multiply(file, workspace)
    marks.WATCH.create()
    stamp.write_text(made_of)


def main() -> None:
    # By a process of its own: what building takes is not what a worker does.
    subprocess.run([sys.executable, "-c", "from tests.bench import fleet; fleet.build()"], check=True)
    settle()
    client = Client(HTTP_HOST="localhost")
    client.force_login(Person.objects.get(username="fleet-maintainer"), backend=settings.PEOPLE_BACKEND)

    def get(path: str, **more: Any) -> bytes:
        reply = client.get(f"/api/v1/{path}", **more)
        assert reply.status_code == 200, reply.content
        return bytes(reply.content)

    def sql_of(path: str) -> Callable[[], None]:
        with CaptureQueriesContext(connection) as seen:
            get(path)
        bare = [q["sql"] for q in seen.captured_queries if q["sql"].startswith("SELECT")]

        def alone() -> None:
            with connection.cursor() as cursor:
                for sql in bare:
                    cursor.execute(sql.replace("%", "%%")).fetchall()

        return alone

    size = Path(connection.settings_dict["NAME"]).stat().st_size / 1e9
    tell(f"a world of {Service.objects.count():,} tire-rounds", f"{size:.2f} GB", size <= 2.2, "at most 2.2 GB")
    start, slices = time.perf_counter(), 0
    while (yard := json.loads(get("yard")))["anew"]:
        slices += 1
    if slices:
        tell(
            f"all {yard['total']:,} rigs worked out, {slices} answers", f"{time.perf_counter() - start:.1f} s", None, ""
        )
    # Before anything is measured: that holds rows which no answer does.
    for path in (
        "session",
        "yard",
        "yard?find=umbra",
        "finder?find=cf-0",
        "morning",
        "morning/air",
        "schedule",
        "tires",
    ):
        get(path)
    used = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    tell("memory of a worker after all of them", f"{used:.0f} MB", used <= 250, "at most 250 MB")
    empty = seconds(lambda: get("session"))
    for name, path in (
        ("page of 50", "yard"),
        ("filter", "yard?find=umbra"),
        ("by last round, far down", "yard?sort=read&first=1500"),
    ):
        most = 2 * empty + 3 * seconds(sql_of(path))
        took = seconds(lambda p=path: get(p))  # type: ignore[misc]
        tell(
            f"Yard of {yard['total']:,}, {name}, of what it may take",
            f"{took / most:.2f} ×",
            took <= most,
            "at most 1 ×",
        )
    page = len(get("yard"))
    packed = len(gzip.compress(get("yard")))
    tell("  its size, and packed", f"{page / 1000:.0f} and {packed / 1000:.1f} kB", page <= 40_000, "at most 40 kB")
    took = seconds(lambda: get("finder?find=cf-0"))
    tell("finder, a key", f"{took * 1000:.0f} ms", took <= 0.03, "at most 30 ms")
    _morning(get, sql_of, empty)


def _morning(get: Callable[..., bytes], sql_of: Callable[[str], Callable[[], None]], empty: float) -> None:
    """This morning, a page of it, beside what its questions and the bare formula take: over as many tires, now and at each dawn of
    the days ahead."""
    told = json.loads(get("morning"))
    many = told["wanting"] + told["holding"] + told["unknown"]
    last, now = np.full(many, 600.0), np.full(many, 10.0)
    once = seconds(lambda: predict(last, now, last, now, now, now, last, now, now))
    formula = (1 + ROUND_EVERY_DAYS) * once
    took, most = seconds(lambda: get("morning")), 2 * empty + 3 * (formula + seconds(sql_of("morning")))
    tell(
        f"This morning of {many:,} tires, a page, of what it may take", f"{took / most:.2f} ×", took <= most, "at most 1 ×"
    )  # fmt: skip
    tell("  in seconds", f"{took:.2f} s", None, "")


if __name__ == "__main__":
    main()
