"""Who waits for whom: writers of one workspace queue, readers wait for nobody."""

from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from contextvars import ContextVar
from typing import Any

from django.conf import settings
from django.db import connection, transaction

_SOON_MS = 100

_workspace: ContextVar[int | None] = ContextVar("workspace", default=None)
_patience: ContextVar[int] = ContextVar("patience", default=settings.PATIENCE_MS)


def workspace() -> int | None:
    """The workspace that transactions decide on from here; None: on what workspaces share, so all of them wait."""
    return _workspace.get()


def patience_ms() -> int:
    return _patience.get()


def set_workspace(key: int | None) -> None:
    """From here to the end of the request transactions decide on this workspace's rows alone."""
    _workspace.set(key)


@contextmanager
def _being(kept: ContextVar[Any], value: Any) -> Iterator[None]:
    token = kept.set(value)
    try:
        yield
    finally:
        kept.reset(token)


def no_workspace() -> AbstractContextManager[None]:
    """Inside no workspace is in hand, until somebody is found who has one: threads serve one request after the other."""
    return _being(_workspace, None)


@contextmanager
def over_workspaces() -> Iterator[None]:
    """A transaction that decides on what workspaces share: people and what lets them in, practice, new workspaces."""
    with no_workspace(), transaction.atomic():
        yield


@contextmanager
def soon_or_not() -> Iterator[None]:
    """A transaction of a call that only reads: where others write it gives up at once, for readers wait for no writer.

    Raises OperationalError where it did.
    """
    if connection.vendor != "sqlite":
        with _being(_patience, _SOON_MS), transaction.atomic():
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
