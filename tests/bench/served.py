"""Servers that a figure is measured on, killed when it is told."""

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from tests.bench.line import Line, cookies_of
from tests.browser.serving import DemoServer, copy_of


@contextmanager
def served(built: Path | None = None) -> Iterator[DemoServer]:
    """A server on a demo world of its own, or on a copy of one that was built."""
    with tempfile.TemporaryDirectory() as folder:
        server = DemoServer(Path(folder))
        if built is None:
            server.build()
        else:
            copy_of(DemoServer(built), server)
        server.start()
        try:
            yield server
        finally:
            server.kill()


def settled(server: DemoServer) -> Line:
    """Somebody on it, once all is worked out that was kept of rigs by other code, or fell due since."""
    line = Line(server, cookies_of(server))
    while line.ok("GET", "yard")["anew"]:
        pass
    return line
