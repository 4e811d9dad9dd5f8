"""A kept connection to a served API, as a page in use has one."""

import http.client
import json
import time
from typing import Any

from tests.browser.serving import DemoServer, Visitor


class Line:
    """Somebody who is signed in, on one connection of their own."""

    def __init__(self, server: DemoServer, cookies: dict[str, str]) -> None:
        self.cookies = cookies
        self.line = http.client.HTTPConnection("127.0.0.1", server.port, timeout=30)

    def call(self, method: str, path: str, body: Any = None, mark: str = "") -> tuple[int, bytes, str]:
        """Status, answer and ETag; a line that the server closed in its silence is opened anew, as a browser does."""
        headers = {
            "Content-Type": "application/json",
            "Host": "localhost",
            "Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()),
            "X-CSRFToken": self.cookies["csrftoken"],
        }
        if mark:
            headers["If-None-Match"] = mark
        for last in (False, True):
            try:
                self.line.request(method, f"/api/v1/{path}", None if body is None else json.dumps(body), headers)
                reply = self.line.getresponse()
                return reply.status, reply.read(), reply.headers.get("ETag", "")
            except (ConnectionError, http.client.HTTPException):
                self.line.close()
                if last:
                    raise
        raise AssertionError

    def ok(self, method: str, path: str, body: Any = None) -> Any:
        """The answer to what is done."""
        status, text, _ = self.call(method, path, body)
        assert status < 300, (path, status, text)
        return json.loads(text) if text else None


def bring(line: Line, path: str, body: dict[str, Any], rows: list[str], slice_of: int) -> tuple[Any, float]:
    """A file of rows as a page brings it: its columns, its slices, its end. What came of it, and rows a second."""
    start = time.monotonic()
    line.ok("PUT", path, body)
    for n, k in enumerate(range(0, len(rows), slice_of), 1):
        line.ok("PUT", f"{path}/slices/{n}", {"first": 2 + k, "text": "\n".join(rows[k : k + slice_of])})
    came = line.ok("POST", f"{path}/finish")
    return came, len(rows) / (time.monotonic() - start)


def cookies_of(server: DemoServer, person: str = "fleet-maintainer") -> dict[str, str]:
    """Of somebody who signs in."""
    return {c.name: c.value or "" for c in Visitor(server, person).jar}
