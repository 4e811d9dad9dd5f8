"""What an operator copies: a proxy, a service and a timer that fit the application; and no deployment warning is left."""

import configparser
import re
from pathlib import Path
from typing import Any

import pytest

from ballast.server.edge.middleware import LARGEST_BODY
from tests.server.test_security import in_fresh_place

ROOT = Path(__file__).parents[2]
DEPLOY = ROOT / "docs" / "deploy"


def directives(text: str) -> list[Any]:
    """A configuration of words, semicolons and braces: each directive its words, and of a block what is in it."""
    words = re.findall(r"[{};]|[^\s{};]+", re.sub(r"#.*", "", text))
    stack: list[list[Any]] = [[]]
    said: list[str] = []
    for word in words:
        if word == ";":
            stack[-1].append((said, None))
            said = []
        elif word == "{":
            stack[-1].append((said, []))
            stack.append(stack[-1][-1][1])
            said = []
        elif word == "}":
            assert not said
            assert len(stack) > 1
            stack.pop()
        else:
            said.append(word)
    assert len(stack) == 1
    assert not said
    return stack[0]


def test_the_proxy_buffers_redirects_and_takes_no_more_than_the_application() -> None:
    read = directives((DEPLOY / "proxy.conf").read_text())
    plain, tls = [body for words, body in read if words == ["server"]]
    assert (["return", "301", "https://$host$request_uri"], None) in plain
    said = {words[0]: words[1:] for words, body in tls if body is None}
    assert said["client_max_body_size"] == [f"{LARGEST_BODY // 2**20}m"]
    assert said["proxy_request_buffering"] == said["proxy_buffering"] == ["on"]
    assert said["ssl_protocols"] == ["TLSv1.2", "TLSv1.3"]
    headers = {words[1]: words[2] for words, _ in tls if words[0] == "proxy_set_header"}
    assert headers["X-Forwarded-Proto"] == "$scheme"
    assert headers["X-Forwarded-For"] == "$proxy_add_x_forwarded_for"
    zones = {words[2].split(":")[0].removeprefix("zone=") for words, _ in read if words[0] == "limit_req_zone"}
    places = {words[-1]: {w[0]: w[1:] for w, _ in body} for words, body in tls if words[0] == "location"}
    assert all(place["limit_req"][0].removeprefix("zone=") in zones for place in places.values())
    # Doors have limits of their own, and the key of a calendar is in no log.
    doors = next(re.compile(path) for path in places if path.startswith("^"))
    assert [bool(doors.search(f"/api/v1/{p}")) for p in ("session", "join", "yard")] == [True, True, False]
    assert places["/api/v1/calendar/"]["access_log"] == ["off"]


@pytest.mark.parametrize("name", ["gentle-ballast", "gentle-ballast-daily"])
def test_services_run_what_there_is(name: str) -> None:
    unit = configparser.ConfigParser(strict=False)
    unit.optionxform = str  # type: ignore[assignment,method-assign]
    unit.read(DEPLOY / f"{name}.service")
    run = unit["Service"]["ExecStart"]
    assert unit["Service"]["User"] == "ballast"
    if name == "gentle-ballast":
        assert run.split()[-1] in re.findall(r"^(\w+):", (ROOT / "Makefile").read_text(), re.MULTILINE)
        assert unit["Service"]["UMask"] == "0077"
    else:
        assert (ROOT / "ballast/server/schedule/management/commands" / f"{run.split()[-1]}.py").exists()


def test_no_deployment_warning_is_left(tmp_path: Path) -> None:
    code = (
        "import django; django.setup(); from django.core import checks; "
        "print([m.id for m in checks.run_checks(include_deployment_checks=True) if not m.is_silenced()])"
    )
    assert in_fresh_place(tmp_path, code, BALLAST_HTTPS="1", BALLAST_HOSTS="yard.example") == "[]"
