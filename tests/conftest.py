"""What holds for every test."""

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from django.core.files import locks
from hypothesis import settings

from tests.browser.serving import DemoServer, copy_of

# No test passes or fails by the clock: a busy machine is no bug.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")

HERE = Path(__file__).parent
# A worker takes a file at a time. This one is first: it builds the demo world while the others do without.
BUILDS = HERE / "browser/test_interface.py"
# What needs that world too is last, the longest files before the rest.
LAST = (
    HERE / "server/test_demo.py",
    *(
        HERE / f"browser/test_{name}.py"
        for name in ("resilience", "targets", "weighing", "offline", "rounds", "journey")
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


@pytest.fixture(scope="session")
def built(tmp_path_factory: pytest.TempPathFactory) -> DemoServer:
    """A built demo world, not served: to be copied. One for all workers of a run."""
    run = os.environ.get("PYTEST_XDIST_TESTRUNUID")
    base = tmp_path_factory.getbasetemp()
    folder = base.parent / f"demo-{run}" if run else base / "demo"
    folder.mkdir(exist_ok=True)
    server = DemoServer(folder)
    with (folder / "lock").open("w") as lock:
        locks.lock(lock, locks.LOCK_EX)
        if not (folder / "built").exists():
            server.build()
            (folder / "built").touch()
    return server


@pytest.fixture
def own_server(built: DemoServer, tmp_path: Path) -> Iterator[DemoServer]:
    """A server of its own for a test that kills it, or that needs it to itself."""
    own = copy_of(built, tmp_path)
    own.start()
    yield own
    own.kill()
