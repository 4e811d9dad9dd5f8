"""Who is at work and who waits: hands of a process, and the door of a file that one writes at a time."""

import io
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from threading import BoundedSemaphore, Event

import pytest
from django.db import OperationalError, connection
from django.http import HttpResponse
from django.test import RequestFactory

from ballast.server.edge import writing
from ballast.server.edge.middleware import Turns
from ballast.server.edge.problems import storage
from ballast.server.edge.sqlite.base import DatabaseWrapper

Two = tuple[DatabaseWrapper, DatabaseWrapper]


def test_who_waits_gives_the_hand_to_others_and_it_is_given_back_once() -> None:
    hands = BoundedSemaphore(1)
    with writing.at_work(hands):
        assert not hands.acquire(blocking=False)
        writing.stand_aside()
        assert hands.acquire(blocking=False)
        # Somebody else's by now: whoever stood aside takes nothing of theirs.
        writing.stand_aside()
        hands.release()
    with writing.at_work(hands):
        assert not hands.acquire(blocking=False)
    # Outside of a call there is none to give.
    writing.stand_aside()


def test_a_body_that_is_long_in_coming_holds_nobody_up() -> None:
    turns = Turns(lambda request: HttpResponse(request.body if not turns.hands.acquire(blocking=False) else b""))
    turns.hands = BoundedSemaphore(1)

    class Coming(io.BytesIO):
        def read(self, size: int | None = -1) -> bytes:
            with turns.hands:
                return super().read(size)

    ask = RequestFactory().put
    kind = "application/json"
    request = ask("/api/v1/rigs/1", b"{}", kind, **{"wsgi.input": Coming(b"{}")})  # type: ignore[arg-type]
    assert turns(request).content == b"{}"


@pytest.fixture
def two(tmp_path: Path, db: None) -> Iterator[Two]:
    """Two connections to a file of their own."""
    name = {"NAME": str(tmp_path / "door.sqlite3")}
    settings = connection.settings_dict | name
    settings["OPTIONS"] = {"init_command": "PRAGMA journal_mode=WAL;", "check_same_thread": False}
    made = DatabaseWrapper(settings, "one"), DatabaseWrapper(settings, "two")
    for each in made:
        each.inc_thread_sharing()
        each.ensure_connection()
    yield made
    for each in made:
        each.close()


def begin(one: DatabaseWrapper) -> None:
    one.set_autocommit(False, force_begin_transaction_with_broken_autocommit=True)


def test_at_the_door_one_waits_until_the_other_is_done(two: Two) -> None:
    one, other = two
    begin(one)
    taken, begun = Event(), Event()
    hands = BoundedSemaphore(1)

    def write() -> bool:
        with writing.at_work(hands):
            taken.set()
            begin(other)
            begun.set()
            return bool(other.connection.in_transaction)

    with ThreadPoolExecutor(1) as pool:
        waiting = pool.submit(write)
        # It waits, and its hand is another's meanwhile.
        assert taken.wait(5)
        assert hands.acquire(timeout=5)
        assert not begun.is_set()
        one.rollback()
        assert waiting.result(timeout=5)
        hands.release()


def test_one_works_it_out_and_the_others_wait_until_that_is_done(two: Two) -> None:
    one, other = two

    def wait() -> bool:
        with other.alone() as first:
            return first

    with ThreadPoolExecutor(1) as pool:
        with one.alone() as first:
            waiting = pool.submit(wait)
            assert first
            with pytest.raises(TimeoutError):
                waiting.result(timeout=0.2)
        assert waiting.result(timeout=5) is False
        assert pool.submit(wait).result(timeout=5) is True
    with one.alone() as first:
        assert first


def test_whose_patience_is_over_is_told_and_nothing_is_begun(two: Two, monkeypatch: pytest.MonkeyPatch) -> None:
    one, other = two
    begin(one)
    monkeypatch.setattr(writing, "patience_ms", lambda: 5)
    with pytest.raises(OperationalError) as no:
        begin(other)
    assert (storage(no.value) or (0,))[0] == 503
    assert not other.connection.in_transaction
    # What stands outside of a transaction waits by itself, as long as ever.
    assert other.connection.execute("PRAGMA busy_timeout").fetchone() == (5000,)
