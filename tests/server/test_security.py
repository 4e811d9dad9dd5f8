"""Headers, cookies, keys and plain answers: from the first day."""

import os
import stat
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings as django_settings
from django.test import Client

from ballast.server import web

ROOT = Path(__file__).parents[2]


@pytest.fixture
def built_page(tmp_path: Path, settings: Any) -> None:
    (tmp_path / "index.html").write_text("<!doctype html><title>built</title>")
    settings.WEB_DIST = tmp_path
    web._index.cache_clear()
    yield
    web._index.cache_clear()


def test_scripts_and_styles_come_from_here_alone(db: None, built_page: None) -> None:
    policy = Client().get("/").headers["Content-Security-Policy"]
    assert "unsafe" not in policy
    assert "script-src 'self'" in policy
    assert "default-src 'none'" in policy
    assert "frame-ancestors 'none'" in policy


def test_every_address_of_the_page_gives_the_page(db: None, built_page: None) -> None:
    for path in ("/", "/rigs/7/rounds", "/tables", "/anything"):
        reply = Client().get(path)
        assert reply.status_code == 200
        assert b"built" in reply.content
    assert Client().post("/").status_code == 405


def test_cookies_are_kept_from_scripts_and_other_sites(people: dict[str, Any], built_page: None, settings: Any) -> None:
    settings.DEMO = True
    entered = Client().post("/api/v1/session/demo", {"username": "manager"}, content_type="application/json")
    cookie = entered.cookies[django_settings.SESSION_COOKIE_NAME]
    assert cookie["httponly"]
    assert cookie["samesite"] == "Lax"
    assert Client().get("/").cookies["csrftoken"]["samesite"] == "Lax"


def test_plain_headers(db: None, built_page: None) -> None:
    headers = Client().get("/").headers
    assert headers["X-Frame-Options"] == "DENY"
    assert headers["X-Content-Type-Options"] == "nosniff"
    assert headers["Referrer-Policy"] == "same-origin"


def test_unknown_calls_answer_in_json(db: None) -> None:
    reply = Client().get("/api/v1/nothing-here")
    assert reply.status_code == 404
    assert reply.json()["message"] == "There is no such call."
    assert Client().get("/api/v2/rigs").status_code == 404


def test_what_breaks_shows_no_trace(api: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*_: Any) -> None:
        raise RuntimeError("secret detail")

    monkeypatch.setattr("ballast.server.yard.services.yard", broken)
    api.client.raise_request_exception = False
    reply = api.call("GET", "/yard")
    assert reply.status_code == 500
    assert b"secret detail" not in reply.content
    assert b"try again" in reply.content


def test_no_page_without_a_build_says_what_to_do(db: None, tmp_path: Path, settings: Any) -> None:
    settings.WEB_DIST = tmp_path
    web._index.cache_clear()
    reply = Client().get("/")
    web._index.cache_clear()
    assert reply.status_code == 503
    assert b"make build" in reply.content


def in_fresh_place(tmp_path: Path, code: str, **env: str) -> str:
    """Runs code with the settings as they are in another folder and mode."""
    clean = {k: v for k, v in os.environ.items() if not k.startswith(("BALLAST", "DATABASE", "DJANGO"))}
    done = subprocess.run(
        [sys.executable, "-c", f"from django.conf import settings as s; {code}"],
        env=clean | {"BALLAST_VAR": str(tmp_path), "DJANGO_SETTINGS_MODULE": "ballast.server.settings"} | env,
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=True,
    )
    return done.stdout.strip()


def test_the_secret_key_is_made_once_and_is_the_owners_alone(tmp_path: Path) -> None:
    first = in_fresh_place(tmp_path, "print(s.SECRET_KEY)")
    assert len(first) > 40
    assert in_fresh_place(tmp_path, "print(s.SECRET_KEY)") == first
    mode = stat.S_IMODE((tmp_path / "secret_key").stat().st_mode)
    assert mode == 0o600


@pytest.mark.parametrize(("mode", "debug"), [("production", "False"), ("demo", "False"), ("dev", "True")])
def test_debug_pages_only_in_development(tmp_path: Path, mode: str, debug: str) -> None:
    assert in_fresh_place(tmp_path, "print(s.DEBUG)", BALLAST_MODE=mode) == debug


def test_behind_tls_cookies_are_secure(tmp_path: Path) -> None:
    code = "print(s.SESSION_COOKIE_SECURE, s.CSRF_COOKIE_SECURE, s.SECURE_HSTS_SECONDS > 0)"
    assert in_fresh_place(tmp_path, code, BALLAST_HTTPS="1") == "True True True"
    assert in_fresh_place(tmp_path, code) == "False False False"


def test_the_database_survives_a_crash_and_no_other_engine_is_taken(tmp_path: Path) -> None:
    code = (
        "import django; django.setup(); from django.db import connection as c; k = c.cursor(); "
        "print([k.execute(f'PRAGMA {p}').fetchone()[0] for p in ('journal_mode', 'synchronous', 'foreign_keys', 'busy_timeout')])"
    )
    assert in_fresh_place(tmp_path, code) == "['wal', 2, 1, 5000]"
    assert stat.S_IMODE((tmp_path / "ballast.sqlite3").stat().st_mode) == 0o600
    engine = "print(s.DATABASES['default']['ENGINE'])"
    # Those who write in one workspace queue there too.
    assert in_fresh_place(tmp_path, engine, DATABASE_URL="postgres://a:b@localhost/c") == "ballast.server.edge.postgres"
    with pytest.raises(subprocess.CalledProcessError) as no:
        in_fresh_place(tmp_path, engine, DATABASE_URL="mysql://a:b@localhost/c")
    assert "neither SQLite nor PostgreSQL" in no.value.stderr.splitlines()[-1]
