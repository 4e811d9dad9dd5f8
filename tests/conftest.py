"""What holds for every test."""

import os
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TypeVar

import pytest
from django.core.files import locks
from hypothesis import settings

from tests.browser.serving import DemoServer, EmptyServer, copy_of

# No test passes or fails by the clock: a busy machine is no bug.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")

HERE = Path(__file__).parent
# A worker takes a file at a time. This one is first: it builds the demo world while the others do without.
BUILDS = HERE / "browser/test_interface.py"
# What needs that world too is last, the longest files before the rest.
LAST = (
    HERE / "server/test_demo.py",
    HERE / "server/test_archive.py",
    *(
        HERE / f"browser/test_{name}.py"
        for name in ("thumb", "resilience", "newcomer", "targets", "offline", "ground", "persons", "rounds", "journey")
    ),
)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    def turn(item: pytest.Item) -> int:
        if item.path == BUILDS:
            return 0
        if item.path in LAST:
            return 2 + LAST.index(item.path)
        return 99 if HERE / "browser" in item.path.parents else 1

    items.sort(key=turn)


S = TypeVar("S", bound=DemoServer)


def _once(server: S, build: Callable[[S], None]) -> S:
    """Builds what a server stands on, once for all workers of a run."""
    with (server.folder / "lock").open("w") as lock:
        locks.lock(lock, locks.LOCK_EX)
        if not (server.folder / "built").exists():
            build(server)
            (server.folder / "built").touch()
    return server


def _shared(factory: pytest.TempPathFactory, name: str) -> Path:
    """A folder for all workers of a run."""
    run = os.environ.get("PYTEST_XDIST_TESTRUNUID")
    base = factory.getbasetemp()
    folder = base.parent / f"{name}-{run}" if run else base / name
    folder.mkdir(exist_ok=True)
    return folder


@pytest.fixture(scope="session")
def migrated(tmp_path_factory: pytest.TempPathFactory) -> EmptyServer:
    """A database with all its tables and nobody in it, not served: to be copied."""
    return _once(EmptyServer(_shared(tmp_path_factory, "empty")), EmptyServer.build)


@pytest.fixture(scope="session")
def built(tmp_path_factory: pytest.TempPathFactory, migrated: EmptyServer) -> DemoServer:
    """A built demo world, not served: to be copied."""

    def fill(server: DemoServer) -> None:
        copy_of(migrated, server)
        server.manage("demo")

    return _once(DemoServer(_shared(tmp_path_factory, "demo")), fill)


def _served(server: S) -> Iterator[S]:
    try:
        server.start()
        yield server
    finally:
        server.kill()


@pytest.fixture
def empty(tmp_path: Path, migrated: EmptyServer) -> Iterator[EmptyServer]:
    """The application for real, starting with nobody."""
    yield from _served(copy_of(migrated, EmptyServer(tmp_path)))


@pytest.fixture
def own_server(built: DemoServer, tmp_path: Path) -> Iterator[DemoServer]:
    """A server of its own for a test that kills it, or that needs it to itself."""
    yield from _served(copy_of(built, DemoServer(tmp_path)))
