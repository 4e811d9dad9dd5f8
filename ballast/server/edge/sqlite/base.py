"""Django's engine for SQLite, in which those who write wait at the door for as long as they have patience.

SQLite's own waiting looks again after longer and longer naps, up to a tenth of a second, each waiting connection for itself; what is
stored takes a few hundredths, so the file lay idle half of the time while many waited. Here one thread of a process stands at the
door and looks every millisecond, and the others stand behind it.
"""

import sqlite3
import threading
import time

from django.db.backends.sqlite3 import base

from ballast.server.edge import writing

_AGAIN_S = 0.001
_door = threading.Lock()


class DatabaseWrapper(base.DatabaseWrapper):
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
