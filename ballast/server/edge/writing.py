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


@contextmanager
def one_moment() -> Iterator[None]:
    """Everything that is read within stands as it did at one moment, and nobody who writes waits for it."""
    if connection.in_atomic_block:
        yield
        return
    with connection.cursor() as cursor:
        # A transaction that only reads takes no lock; one of Django's own would take the writers' at once.
        cursor.execute("BEGIN" if connection.vendor == "sqlite" else "BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY")
        try:
            yield
        finally:
            cursor.execute("ROLLBACK")
