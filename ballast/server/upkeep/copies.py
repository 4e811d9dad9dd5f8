"""Copies of the database while it is in use, and putting one back.

A copy is one file that holds all that was acknowledged, checked, with the secret key beside it; both are their owner's
alone; pictures stand in a folder beside it. What is replaced is never thrown away: it stands beside with its log files, under the moment at which it was replaced.
"""

import contextlib
import os
import shutil
import sqlite3
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings
from django.db import connection

from ballast.server.edge import clock
from ballast.server.upkeep.serving import alone

# What the engine keeps beside a database: of another database they would be played back into the wrong one.
LOGS = ("-wal", "-shm", "-journal")
# Tables whose rows are counted, in the words in which they are told.
# What a copy holds, by table; of practice nothing counts: `{0}` are its workspaces.
_OF_PRACTICE = "rig_id IN (SELECT id FROM rigs_rig WHERE workspace_id IN ({0}))"
_COUNTED = {
    "people": "accounts_person",
    "rigs": "rigs_rig WHERE workspace_id NOT IN ({0})",
    "rounds": f"rounds_round WHERE NOT {_OF_PRACTICE}",
    "readings": f"rounds_reading WHERE round_id NOT IN (SELECT id FROM rounds_round WHERE {_OF_PRACTICE})",
}


class NotDone(Exception):
    """A copy was not made, or not put back; the database in use is as it was."""


def database() -> Path:
    """The file of the database. Raises NotDone where a cluster keeps it."""
    if connection.vendor != "sqlite":
        raise NotDone(
            "The database is PostgreSQL's: copy it with pg_dump and put it back with pg_restore. "
            "The secret key and the pictures are kept beside: docs/operating.md says where."
        )
    return Path(settings.DATABASES["default"]["NAME"])


def key_of(copy: Path) -> Path:
    """Where the secret key of a copy stands."""
    return copy.with_name(copy.name + ".secret_key")


def pictures_of(copy: Path) -> Path:
    """Where the pictures of a copy stand."""
    return copy.with_name(copy.name + ".pictures")


def copy_pictures(source: Path, to: Path) -> int:
    """Copies what is not there yet: a picture is named by its content and never changes. Gives how many there are."""
    there = [p for p in source.glob("*/*.jpg") if p.is_file()]
    for picture in there:
        place = to / picture.parent.name / picture.name
        if place.exists():
            continue
        place.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        part = place.with_name(place.name + ".part")
        _private(part)
        part.write_bytes(picture.read_bytes())
        _synced(part)
        part.replace(place)
    return len(there)


def stamp() -> str:
    return f"{clock.now():%Y%m%d-%H%M%S}"


@contextlib.contextmanager
def _opened(path: Path, writable: bool = False) -> Iterator[sqlite3.Connection]:
    mode = "rw" if writable else "ro"
    with contextlib.closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode={mode}", uri=True, timeout=30)) as file:
        yield file


def _private(path: Path) -> None:
    os.close(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600))
    path.chmod(0o600)


def _synced(path: Path) -> None:
    """Waits until a file, or the names in a folder, are on the disk."""
    at = os.open(path, os.O_RDONLY)
    try:
        os.fsync(at)
    finally:
        os.close(at)


def checked(path: Path) -> str:
    """Looks a database through and says what is in it. Raises NotDone where it is not a sound one of this application."""
    try:
        with _opened(path) as file:
            verdict = file.execute("PRAGMA integrity_check").fetchone()[0]
            orphans = file.execute("PRAGMA foreign_key_check").fetchall()
            if verdict != "ok" or orphans:
                raise NotDone(f"{path} is damaged ({verdict}, {len(orphans)} broken references): take another copy.")
            return counted(file)
    except sqlite3.Error as no:
        raise NotDone(f"{path} is not a database of this application ({no}): take another file.") from None


def counted(file: sqlite3.Connection) -> str:
    """What is in a database, in a line, without what is practice; one of before there was any has none."""
    columns = {row[1] for row in file.execute("PRAGMA table_info(accounts_workspace)")}
    which = "practice_of_id IS NOT NULL" if "practice_of_id" in columns else "0"
    practice = f"SELECT id FROM accounts_workspace WHERE {which}"
    if file.execute("SELECT 1 FROM sqlite_master WHERE name = 'rigs_fleetfile'").fetchone():
        # Nor is what is on its way in.
        practice += " UNION SELECT apart_id FROM rigs_fleetfile WHERE apart_id IS NOT NULL"
    counts = [
        f"{file.execute(f'SELECT count(*) FROM {rows.format(practice)}').fetchone()[0]} {name}"
        for name, rows in _COUNTED.items()
    ]
    return ", ".join(counts)


def backup(to: Path | None = None) -> tuple[Path, str]:
    """Copies the database while it is in use; gives where to, and what is in it.

    Raises NotDone where the file is there already, cannot be written, or does not pass the check.
    """
    source = database()
    made = (to or source.parent / "backups" / f"ballast-{stamp()}.sqlite3").absolute()
    if made.exists():
        raise NotDone(f"{made} is there already: name another file.")
    part = made.with_name(made.name + ".part")
    try:
        made.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        _private(part)
        with _opened(source) as live, _opened(part, writable=True) as copy:
            live.backup(copy)
            # One file, with no log beside it.
            copy.execute("PRAGMA journal_mode=DELETE")
        holds = checked(part)
        key = source.parent / "secret_key"
        if key.exists():
            _private(key_of(made))
            key_of(made).write_bytes(key.read_bytes())
        _synced(part)
        part.replace(made)
        # Pictures that come meanwhile are in no row of the copy; one that a row names was written before it.
        if count := copy_pictures(settings.PICTURES, pictures_of(made)):
            holds += f", {count} pictures"
        _synced(made.parent)
    except (OSError, sqlite3.Error) as no:
        raise NotDone(f"No copy was made: {no}.") from None
    finally:
        part.unlink(missing_ok=True)
    return made, holds


def restore(copy: Path) -> tuple[Path | None, str]:
    """Puts a copy in the place of the database; gives where the one of before stands now, and what is in the new one.

    Raises NotDone while a server has the database open, and for a file that is not a sound copy.
    """
    if not copy.is_file():
        raise NotDone(f"There is no file {copy}: name a copy that was made with backup.")
    checked(copy)
    place = database()
    place.parent.mkdir(parents=True, exist_ok=True)
    lock = alone()
    if lock is None:
        raise NotDone("A server has the database open: stop it first.")
    try:
        with lock:
            return _put_back(copy, place)
    except (OSError, sqlite3.Error) as no:
        raise NotDone(f"It was not put back: {no}.") from None


def _put_back(copy: Path, place: Path) -> tuple[Path | None, str]:
    part = place.with_name(place.name + ".part")
    _private(part)
    with copy.open("rb") as read, part.open("wb") as write:
        shutil.copyfileobj(read, write)
    _synced(part)
    checked(part)
    before = None
    if place.exists() and place.stat().st_size:
        before = place.with_name(f"{place.stem}-before-{stamp()}{place.suffix}")
        place.rename(before)
    for log in LOGS:
        left = place.with_name(place.name + log)
        if before is not None and left.exists():
            left.rename(before.with_name(before.name + log))
        left.unlink(missing_ok=True)
    part.replace(place)
    _synced(place.parent)
    if key_of(copy).exists():
        _private(place.parent / "secret_key")
        (place.parent / "secret_key").write_bytes(key_of(copy).read_bytes())
    copy_pictures(pictures_of(copy), settings.PICTURES)
    return before, checked(place)
