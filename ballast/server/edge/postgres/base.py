"""Django's engine for PostgreSQL, in which those who write in one workspace queue.

What is decided upon is read in the transaction that writes it, so a transaction must see what the one before it stored:
SQLite lets one write at a time, here it is one of a workspace. A reading beside a seal, two takes of a wheel, two seals
and one UUID twice are thus the same races on both.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.db.backends.postgresql import base, operations
from psycopg.adapt import Loader
from psycopg.types.json import Json

from ballast.server.edge import writing

# Locks of this application among those of a cluster; any number does, if it stays. One for all workspaces, one for each, one for
# what a single one works out.
_ALL, _EACH, _ALONE = 0x6EA7, 0x6EA8, 0x6EA9


class DatabaseOperations(operations.DatabaseOperations):
    def adapt_json_value(self, value: Any, encoder: Any) -> Any:
        return Json(value, operations.get_json_dumps(encoder))


class _AsWritten(Loader):
    """JSON as its text: the field reads it, on every engine alike."""

    def load(self, data: Any) -> str:
        return bytes(data).decode()


class DatabaseWrapper(base.DatabaseWrapper):
    """A transaction holds its workspace's lock until its end; one of no workspace in hand holds it for all of them.

    JSON is kept as it was written, names in their order: as `jsonb` they would come back in another one.
    """

    data_types = {**base.DatabaseWrapper.data_types, "JSONField": "json"}
    ops_class = DatabaseOperations

    def get_new_connection(self, conn_params: dict[str, Any]) -> Any:
        made = super().get_new_connection(conn_params)
        made.adapters.register_loader("json", _AsWritten)
        return made

    def set_autocommit(self, autocommit: bool, force_begin_transaction_with_broken_autocommit: bool = False) -> Any:
        super().set_autocommit(autocommit, force_begin_transaction_with_broken_autocommit)
        # So begins every outermost `atomic`, and nothing else.
        if force_begin_transaction_with_broken_autocommit and not autocommit:
            try:
                self._queue()
            except BaseException:
                self.rollback()
                super().set_autocommit(True)
                raise

    @contextmanager
    def alone(self) -> Iterator[bool]:
        """As `writing.alone` says: by a lock of this database, which is let go with the connection at the latest."""
        with self.cursor() as cursor:
            cursor.execute("SELECT pg_try_advisory_lock(%s, 0)", [_ALONE])
            first, shared = cursor.fetchone()[0], ""
            if not first:
                shared = "_shared"
                cursor.execute("SELECT pg_advisory_lock_shared(%s, 0)", [_ALONE])
            try:
                yield first
            finally:
                cursor.execute(f"SELECT pg_advisory_unlock{shared}(%s, 0)", [_ALONE])

    def _queue(self) -> None:
        workspace = writing.workspace()
        locks = [("_shared", _ALL, 0), ("", _EACH, workspace)] if workspace is not None else [("", _ALL, 0)]
        with self.cursor() as cursor:
            cursor.execute(f"SET LOCAL lock_timeout = {writing.patience_ms()}")
            for shared, *key in locks:
                cursor.execute(f"SELECT pg_try_advisory_xact_lock{shared}(%s, %s)", key)
                if not cursor.fetchone()[0]:
                    writing.stand_aside()
                    cursor.execute(f"SELECT pg_advisory_xact_lock{shared}(%s, %s)", key)
