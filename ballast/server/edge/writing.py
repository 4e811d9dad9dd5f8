"""Writing that nobody waits for."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection, transaction

_SOON_MS = 100


@contextmanager
def soon_or_not() -> Iterator[None]:
    """A transaction of a call that only reads: where others write it gives up at once, for readers wait for no writer.

    Raises OperationalError where it did.
    """
    if connection.vendor != "sqlite":
        with transaction.atomic():
            yield
        return
    with connection.cursor() as cursor:
        (usual,) = cursor.execute("PRAGMA busy_timeout").fetchone()
        cursor.execute(f"PRAGMA busy_timeout = {_SOON_MS}")
        try:
            with transaction.atomic():
                yield
        finally:
            cursor.execute(f"PRAGMA busy_timeout = {usual}")
