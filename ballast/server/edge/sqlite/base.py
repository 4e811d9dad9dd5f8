"""Django's engine for SQLite, in which those who write wait at the door for as long as they have patience.

SQLite's own waiting looks again after longer and longer naps, up to a tenth of a second, each waiting connection for itself; what is
stored takes a few hundredths, so the file lay idle half of the time while many waited. Here one thread of a process stands at the
door and looks every millisecond, and the others stand behind it.
"""

import fcntl
import os
import sqlite3
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache
from typing import Any, cast

from django.db.backends.sqlite3 import base

from ballast.server.edge import writing

_AGAIN_S = 0.001
_door = threading.Lock()


# Longer statements are put together for many rows at once, and hardly asked again [characters].
_SHORT = 4_000


@lru_cache(maxsize=1024)
def _with_its_marks(query: str) -> str:
    return base.SQLiteCursorWrapper.convert_query(cast(Any, None), query)


class Cursor(base.SQLiteCursorWrapper):
    """Django's, which finds the places of a statement's parameters once, and not each time it is asked."""

    def convert_query(self, query: str, *, param_names: Any = None) -> str:
        if param_names is None and len(query) <= _SHORT:
            return _with_its_marks(query)
        return super().convert_query(query, param_names=param_names)


class DatabaseWrapper(base.DatabaseWrapper):
    def create_cursor(self, name: Any = None) -> Any:
        return self.connection.cursor(factory=Cursor)

    def _start_transaction_under_autocommit(self) -> None:
        end = time.monotonic() + writing.patience_ms() / 1000
        with self.wrap_database_errors:
            self.connection.execute("PRAGMA busy_timeout = 0")
            try:
                if not self._has_begun(end):
                    writing.stand_aside()
                    self._wait(end)
            finally:
                self.connection.execute(f"PRAGMA busy_timeout = {writing.PATIENCE_MS}")

    @contextmanager
    def alone(self) -> Iterator[bool]:
        """As `writing.alone` says: by the lock of a file beside the database."""
        if self.is_in_memory_db():
            yield True
            return
        with open(os.open(f"{self.settings_dict['NAME']}-alone", os.O_RDWR | os.O_CREAT, 0o600)) as file:
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except BlockingIOError:
                fcntl.flock(file, fcntl.LOCK_SH)
                yield False
            else:
                yield True

    def _wait(self, end: float) -> None:
        first = _door.acquire(timeout=max(0.0, end - time.monotonic()))
        try:
            while not self._has_begun(end):
                time.sleep(_AGAIN_S)
        finally:
            if first:
                _door.release()

    def _has_begun(self, end: float) -> bool:
        """Raises the engine's own refusal where the patience is over, or where it is no queue that it stands in."""
        try:
            self.connection.execute("BEGIN IMMEDIATE")
        except sqlite3.OperationalError as no:
            if no.sqlite_errorname != "SQLITE_BUSY" or time.monotonic() >= end:
                raise
            return False
        return True
