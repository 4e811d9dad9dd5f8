"""A copy of the database while it is written to, a kill, a restore; and a database that cannot be written to for now."""

import contextlib
import os
import sqlite3
import stat
import subprocess
import sys
import threading
from base64 import b64encode
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from django.core.management import CommandError, call_command
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext

from ballast.server.rigs.models import Rig, Tire
from ballast.server.upkeep.copies import LOGS, NotDone, checked
from tests.browser.serving import CLUSTER, ROOT, DemoServer, EmptyServer, Visitor
from tests.server.conftest import COACH, Api

# Of the file, of copies of it, and of a disk that it cannot be written to.
pytestmark = pytest.mark.skipif(CLUSTER, reason="of the file of SQLite")


def run(server: DemoServer, *command: str, mode: str = "demo") -> subprocess.CompletedProcess[str]:
    env = server.env | {"BALLAST_MODE": mode}
    return subprocess.run([sys.executable, "manage.py", *command], cwd=ROOT, env=env, capture_output=True, text=True)


def round_of(visitor: Visitor, rig: int) -> int:
    gauge = visitor.call("GET", "/gauges")[1][0]["id"]
    conditions = {"gauge": gauge, "standing_h": 12, "outside_c": 10, "elevation_m": 100}
    status, found, _ = visitor.call("POST", f"/rigs/{rig}/rounds", conditions)
    assert status == 201, found
    return int(found["id"])


def read(visitor: Visitor, at: int, wheel: str = "1L") -> tuple[str, int]:
    uuid = str(uuid4())
    body = {"wheel": wheel, "pressure": "100 psi"}
    return uuid, visitor.call("PUT", f"/rounds/{at}/readings/{uuid}", body)[0]


def stored(path: Path) -> set[str]:
    with contextlib.closing(sqlite3.connect(path)) as file:
        found = file.execute("SELECT r.uuid FROM rounds_reading r").fetchall()
    return {u for (u,) in found}


def test_a_copy_made_under_writes_is_restored_after_a_kill(own_server: DemoServer, tmp_path: Path) -> None:
    visitor = Visitor(own_server, "technician")
    at = round_of(visitor, 1)
    acknowledged: list[str] = []
    stop = threading.Event()

    def write() -> None:
        while not stop.is_set():
            with contextlib.suppress(OSError):
                uuid, status = read(visitor, at)
                if status == 200:
                    acknowledged.append(uuid.replace("-", ""))

    writing = threading.Thread(target=write)
    writing.start()
    while len(acknowledged) < 5:
        stop.wait(0.05)
    before = set(acknowledged)
    copy = tmp_path / "copies" / "one.sqlite3"
    made = run(own_server, "backup", str(copy))
    assert made.returncode == 0, made.stderr
    while len(acknowledged) < len(before) + 10:
        stop.wait(0.05)
    held = run(own_server, "restore", str(copy))
    assert "A server has the database open: stop it first." in held.stderr
    own_server.kill()
    stop.set()
    writing.join()
    # What the copy holds was acknowledged, and all of before it is in; its key is beside; both are the owner's alone.
    copied = stored(copy)
    assert before <= copied
    key = copy.with_name("one.sqlite3.secret_key")
    assert key.read_text() == (own_server.folder / "secret_key").read_text()
    assert [stat.S_IMODE(p.stat().st_mode) for p in (copy, key)] == [0o600, 0o600]
    # After the kill the log of the live file holds what came since: it must not be played back into the copy.
    live = own_server.folder / "ballast.sqlite3"
    assert live.with_name("ballast.sqlite3-wal").stat().st_size > 0
    (own_server.folder / "secret_key").unlink()
    done = run(own_server, "restore", str(copy))
    assert done.returncode == 0, done.stderr
    assert "Restored and checked" in done.stdout
    assert stored(live) == copied
    checked(live)
    assert stat.S_IMODE(live.stat().st_mode) == 0o600
    assert (own_server.folder / "secret_key").read_text() == key.read_text()
    # What was there is not thrown away: with its log beside it, all that was acknowledged is in it.
    (aside,) = (p for p in own_server.folder.glob("ballast-before-*") if not p.name.endswith(LOGS))
    assert set(acknowledged) <= stored(aside)
    # Whoever was signed in still is, and the round goes on.
    own_server.start()
    assert read(visitor, at)[1] == 200


def _columns(table: str) -> list[str]:
    """The parts of a table's statement, each column and constraint, in the order of their letters."""
    inside, parts, depth, start = table[table.index("(") + 1 : table.rindex(")")], [], 0, 0
    for at, letter in enumerate(f"{inside},"):
        depth += (letter == "(") - (letter == ")")
        if letter == "," and not depth:
            parts.append(inside[start:at].strip())
            start = at + 1
    return sorted(parts)


def test_a_database_made_as_it_stands_is_the_one_that_all_its_steps_make(migrated: EmptyServer, tmp_path: Path) -> None:
    steps = EmptyServer(tmp_path)
    # With something in it each step is gone.
    steps.manage("migrate", "contenttypes")
    steps.manage("migrate")

    def made(server: EmptyServer) -> dict[tuple[str, str], Any]:
        rows = server.sql(
            "SELECT type, name, sql FROM sqlite_master WHERE sql IS NOT NULL AND name NOT LIKE 'sqlite_%'"
        )
        there = {(t, name): _columns(sql) if t == "table" else sql for t, name, sql in rows}
        held = {("rows", n): server.sql(f"SELECT count(*) FROM {n}") for t, n in there if t == "table"}
        gone = {("steps", ""): server.sql("SELECT app, name FROM django_migrations ORDER BY app, name")}
        return there | held | gone

    whole, by_steps = made(migrated), made(steps)
    assert len(whole) > 500
    assert {k: whole.get(k) for k in whole | by_steps if whole.get(k) != by_steps.get(k)} == {}


def test_what_is_no_copy_is_not_put_back(own_server: DemoServer, tmp_path: Path) -> None:
    own_server.kill()
    live = own_server.folder / "ballast.sqlite3"
    for name, content in (("text", b"no database"), ("other", b"")):
        path = tmp_path / name
        path.write_bytes(content)
        no = run(own_server, "restore", str(path))
        assert "is not a database of this application" in no.stderr, no.stderr
    damaged = tmp_path / "damaged.sqlite3"
    whole = bytearray(live.read_bytes())
    whole[8192:28672] = bytes(20480)
    damaged.write_bytes(whole)
    assert run(own_server, "restore", str(damaged)).returncode == 1
    assert "There is no file" in run(own_server, "restore", str(tmp_path / "nowhere")).stderr
    with pytest.raises(NotDone):
        checked(damaged)
    assert checked(live).startswith("4 people, 12 rigs")


def test_a_database_is_served_in_the_mode_in_which_it_was_begun(own_server: DemoServer) -> None:
    own_server.kill()
    env = own_server.env | {"BALLAST_MODE": "production"}
    command = [
        sys.executable,
        "-m",
        "gunicorn",
        "ballast.server.wsgi",
        "--bind",
        "127.0.0.1:0",
        "--preload",
        "--no-control-socket",
    ]
    done = subprocess.run(command, cwd=ROOT, env=env, capture_output=True, text=True, timeout=300)
    assert done.returncode != 0
    assert "This database was begun as “demo” and is not opened as “production”" in done.stderr


@pytest.mark.django_db
def test_the_demo_does_not_move_into_a_real_world(settings: Any) -> None:
    person = {"workspace": "Home", "name": "Owner", "username": "owner", "password": "a long pass phrase"}
    nobody = Api(Client())
    nobody.ok("POST", "/first-run", person)
    settings.DEMO, settings.MODE = True, "demo"
    with pytest.raises(CommandError, match="begun as “production”"):
        call_command("demo")
    assert "no demo people" in nobody.no("POST", "/session/demo", {"username": "owner"}, 403)


def test_a_held_lock_is_told_and_readers_go_on(own_server: DemoServer) -> None:
    visitor = Visitor(own_server, "technician")
    at = round_of(visitor, 1)
    with (
        contextlib.closing(sqlite3.connect(own_server.folder / "ballast.sqlite3", isolation_level=None)) as file,
        ThreadPoolExecutor(40) as pool,
    ):
        file.execute("BEGIN IMMEDIATE")
        waiting = [pool.submit(visitor.call, "PUT", f"/rounds/{at}/readings/{uuid4()}", READING) for _ in range(40)]
        # Forty writers wait or are turned away; whoever reads is answered before any lock is let go.
        assert [visitor.call("GET", "/yard")[0] for _ in range(5)] == [200] * 5
        # What the opened round marked cannot be kept meanwhile, and says so.
        assert visitor.call("GET", "/yard")[1]["anew"] > 0
        told = [w.result() for w in waiting]
        file.execute("ROLLBACK")
    assert {status for status, _, _ in told} == {503}
    assert {message["message"].split(".")[0] for _, message, _ in told} <= {
        "Somebody else is writing something long", "Many are writing at this moment",
    }  # fmt: skip
    assert all(int(headers["Retry-After"]) > 0 for _, _, headers in told)
    assert read(visitor, at)[1] == 200


READING = {"wheel": "1L", "pressure": "100 psi"}


@pytest.mark.parametrize(
    ("pragma", "undo", "status", "words"),
    [
        ("max_page_count = 1", "max_page_count = 1073741823", 507, "disk is full"),
        ("query_only = ON", "query_only = OFF", 503, "cannot write to its disk"),
    ],
)
def test_a_full_and_a_read_only_disk_are_told_and_reads_go_on(
    api: Api, pragma: str, undo: str, status: int, words: str
) -> None:
    api.ok("POST", "/rigs", COACH)
    long = {**COACH, "fleet_number": "", "note": "x" * 300}
    with connection.cursor() as cursor:
        cursor.execute(f"PRAGMA {pragma}")
    try:
        for _ in range(600):
            reply = api.call("POST", "/rigs", long)
            if reply.status_code != 201:
                break
        assert reply.status_code == status
        assert words in reply.json()["message"]
        assert int(reply["Retry-After"]) > 0
        assert len(api.ok("GET", "/rigs")) >= 1
    finally:
        with connection.cursor() as cursor:
            cursor.execute(f"PRAGMA {undo}")
    api.ok("POST", "/rigs", {**COACH, "fleet_number": "", "name": "After"})


def test_a_fleet_file_is_checked_without_a_lock_and_written_in_one_go(api: Api) -> None:
    rows = ["row,rig,kind,name,gvwr_kg,position_m,track_m,wheels,tire_size,wheel,date_code"]
    for k in range(120):
        rows += [f"rig,R-{k},van,Van {k},3500 kg"]
        rows += [f"axle,R-{k},,,,{x},1.7,2,225/75R16C 121/120R" for x in ("0", "3.6")]
        rows += [f"tire,R-{k},,,,,,,,{w},3524" for w in ("1L", "1R")]
    file = {"name": "fleet.csv", "content": b64encode("\n".join(rows).encode()).decode()}
    with CaptureQueriesContext(connection) as asked:
        assert api.ok("POST", "work/rigs/import", file)["refused"] == 0
    writes = [q["sql"] for q in asked if q["sql"].split()[0] in ("INSERT", "UPDATE", "DELETE", "BEGIN", "SAVEPOINT")]
    assert writes == []
    with CaptureQueriesContext(connection) as asked:
        assert api.ok("POST", "/rigs/import", file)["saved"] is True
    # The same few words to the database, however many rows.
    assert sum(q["sql"].startswith(("INSERT", "UPDATE")) for q in asked) < 40
    assert (Rig.objects.count(), Rig.history.count(), Tire.history.count()) == (120, 120, 240)


def test_the_files_are_their_owners_alone(own_server: DemoServer) -> None:
    Visitor(own_server, "technician")
    found = {p.name: stat.S_IMODE(p.stat().st_mode) for p in own_server.folder.glob("ballast.sqlite3*")}
    assert found == dict.fromkeys(("ballast.sqlite3", "ballast.sqlite3-wal", "ballast.sqlite3-shm"), 0o600)
    assert os.access(own_server.folder / "ballast.sqlite3", os.W_OK)
