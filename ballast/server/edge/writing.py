"""Who waits for whom: writers of one workspace queue, readers wait for nobody."""

from collections.abc import Iterator
from contextlib import AbstractContextManager, ExitStack, contextmanager
from contextvars import ContextVar
from threading import BoundedSemaphore
from typing import Any

from django.conf import settings
from django.db import connection, transaction

PATIENCE_MS: int = settings.PATIENCE_MS
_SOON_MS = 100

_workspace: ContextVar[int | None] = ContextVar("workspace", default=None)
_hand: ContextVar[ExitStack | None] = ContextVar("hand", default=None)
_patience: ContextVar[int] = ContextVar("patience", default=PATIENCE_MS)


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
def at_work(hands: BoundedSemaphore) -> Iterator[None]:
    """Inside one of the hands of a process is taken, until its end, or until it has to wait for something else."""
    hands.acquire()
    with ExitStack() as taken:
        taken.callback(hands.release)
        with _being(_hand, taken):
            yield


def stand_aside() -> None:
    """Gives the hand that this call took to others, before it waits for a writer, a device, a service or a large file, or works
    for seconds: none waits for it too."""
    if taken := _hand.get():
        taken.close()


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
    # Too short a wait to give the hand away for: without one it would go on beside all others.
    with _being(_hand, None), _being(_patience, _SOON_MS), transaction.atomic():
        yield


def alone() -> AbstractContextManager[bool]:
    """Whether nobody else works out what is kept of all, in whatever process; where somebody does, it waits for their end first."""
    engine: Any = connection
    there: AbstractContextManager[bool] = engine.alone()
    return there


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
