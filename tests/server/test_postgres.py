"""On a cluster alone (`make test-postgres`): who waits for whom, and which database is taken."""

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor

import pytest
from django.core.checks import Tags, run_checks
from django.db import OperationalError, connection, connections, transaction

from ballast.server.edge import writing
from ballast.server.edge.problems import storage
from tests.browser.serving import CLUSTER, DemoServer, in_cluster, run_in_cluster

pytestmark = [pytest.mark.skipif(not CLUSTER, reason="needs a cluster"), pytest.mark.django_db(transaction=True)]


@pytest.fixture
def other() -> Iterator[ThreadPoolExecutor]:
    """Somebody else, with a connection of their own."""
    with ThreadPoolExecutor(1) as pool:
        yield pool
        pool.submit(connections.close_all).result()


def write(workspace: int | None) -> str:
    """What becomes of a transaction of somebody else that gives up at once where it would have to wait."""
    writing.set_workspace(workspace)
    try:
        with writing.soon_or_not(), connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except OperationalError as no:
        status, words = storage(no) or (0, "")
        assert not connection.in_atomic_block
        return f"{status} {words[:36]}"
    return "done"


@pytest.mark.parametrize(("mine", "theirs", "waits"), [(1, 1, True), (1, 2, False), (1, None, True), (None, 2, True)])
def test_those_who_write_in_one_workspace_queue(
    mine: int | None, theirs: int | None, waits: bool, other: ThreadPoolExecutor
) -> None:
    writing.set_workspace(mine)
    with transaction.atomic():
        # What is within a transaction is in line already.
        with transaction.atomic(), writing.over_workspaces():
            told = other.submit(write, theirs).result()
        assert told == ("503 Somebody else is writing something l" if waits else "done")
    assert other.submit(write, theirs).result() == "done"
    writing.set_workspace(None)


def test_a_database_that_sorts_otherwise_is_refused(own_server: DemoServer) -> None:
    assert run_checks(tags=[Tags.database], databases=["default"]) == []
    run_in_cluster("CREATE DATABASE of_bytes TEMPLATE template0 ENCODING 'SQL_ASCII' LOCALE 'C'")
    own_server.env["DATABASE_URL"] = in_cluster("of_bytes")
    with pytest.raises(Exception, match="returned non-zero") as no:
        own_server.manage("migrate")
    assert "The database is in SQL_ASCII" in no.value.stderr.decode()  # type: ignore[attr-defined]
    run_in_cluster("DROP DATABASE of_bytes")
