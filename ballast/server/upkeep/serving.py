"""What a server does before it answers: it looks whose world this is, and says that it has the files in use."""

import contextlib
import fcntl
import os
import sqlite3
import sys
from pathlib import Path
from typing import IO

from django.conf import settings
from django.db import DatabaseError, connection

from ballast.server.accounts.services import not_here

# Held as long as the process lives, and let go by its end, whichever way it ends.
_held: list[IO[str] | sqlite3.Connection] = []


def lock_file() -> Path:
    """Whoever serves the database beside it shares a lock on this file; whoever puts one back needs it alone."""
    return Path(settings.DATABASES["default"]["NAME"]).with_suffix(".lock")


def _opened(path: Path) -> IO[str]:
    return os.fdopen(os.open(path, os.O_RDWR | os.O_CREAT, 0o600), "w")


def begin() -> None:
    """Refuses to serve a database of another mode, and shares the lock on it.

    Ends the process with the reason where it must not be served, or is being restored.
    """
    try:
        no = not_here(settings.MODE)
    except DatabaseError:
        # Not migrated yet, or not readable: nothing is in it that could be shown.
        no = ""
    finally:
        connection.close()
    if no:
        sys.stderr.write(no + "\n")
        # The end of a worker that must not be started again.
        sys.exit(4)
    if connection.vendor != "sqlite":
        # The cluster keeps its own files.
        return
    try:
        lock = _opened(lock_file())
    except OSError:
        return
    try:
        fcntl.flock(lock, fcntl.LOCK_SH | fcntl.LOCK_NB)
    except OSError:
        sys.stderr.write("The database is being restored: start again when that is done.\n")
        sys.exit(4)
    _held.append(lock)
    # With one connection open the log stays where it is: no request has to make it anew, and on a disk that has become
    # read-only the database can still be read.
    kept = sqlite3.connect(settings.DATABASES["default"]["NAME"], check_same_thread=False)
    with contextlib.suppress(sqlite3.Error):
        kept.execute("SELECT 1 FROM django_migrations LIMIT 1").fetchall()
    _held.append(kept)


def alone() -> IO[str] | None:
    """The lock on the database for oneself; None while a server has it."""
    lock = _opened(lock_file())
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        lock.close()
        return None
    return lock
