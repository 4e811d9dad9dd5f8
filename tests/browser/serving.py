"""A real server on a demo world of its own, as `make demo` starts it; killed and started again at will."""

import contextlib
import hashlib
import json
import os
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Mapping
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any, TypeVar

import psycopg

ROOT = Path(__file__).parents[2]
CHROMIUM = next(
    filter(None, map(shutil.which, ("chromium-headless-shell", "chromium", "chromium-browser"))), "chromium"
)
CHROMIUM_FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]

# Where a cluster of PostgreSQL is named, each server has a database of its own in it; else a file of SQLite in its folder.
CLUSTER = os.environ.get("DATABASE_URL", "").startswith("postgres")


def in_cluster(database: str) -> str:
    """The address of a database of the cluster."""
    return f"{os.environ['DATABASE_URL'].rpartition('/')[0]}/{database}"


def run_in_cluster(statement: str) -> None:
    with psycopg.connect(in_cluster("postgres"), autocommit=True) as cluster:
        cluster.execute(statement)


def made_in_cluster(database: str, template: str = "template1") -> None:
    """Makes a database, as a copy of another, in the place of what has its name."""
    run_in_cluster(f"DROP DATABASE IF EXISTS {database}")
    run_in_cluster(f"CREATE DATABASE {database} TEMPLATE {template}")


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class DemoServer:
    """Gunicorn over a folder with a built demo world."""

    mode = "demo"

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.port = free_port()
        self.process: subprocess.Popen[bytes] | None = None
        clean = {k: v for k, v in os.environ.items() if not k.startswith(("BALLAST", "DJANGO", "DATABASE"))}
        self.env = clean | {"BALLAST_MODE": self.mode, "BALLAST_VAR": str(folder)}
        self.database = f"ballast_{hashlib.sha1(str(folder).encode()).hexdigest()[:12]}"
        if CLUSTER:
            self.env["DATABASE_URL"] = in_cluster(self.database)

    @property
    def url(self) -> str:
        return f"http://localhost:{self.port}"

    def manage(self, *command: str) -> None:
        subprocess.run([sys.executable, "manage.py", *command], cwd=ROOT, env=self.env, check=True, capture_output=True)

    def migrate(self) -> None:
        """An empty database with all its tables."""
        if CLUSTER:
            made_in_cluster(self.database)
        self.manage("migrate", "--verbosity", "0")

    def build(self) -> None:
        self.migrate()
        self.manage("demo")

    def sql(self, statement: str) -> list[Any]:
        """The rows of a statement on the database as it stands, none where it only changes some."""
        if CLUSTER:
            with psycopg.connect(in_cluster(self.database), autocommit=True) as base:
                done = base.execute(statement)
                return done.fetchall() if done.description else []
        with contextlib.closing(sqlite3.connect(self.folder / "ballast.sqlite3", timeout=20)) as file, file:
            return file.execute(statement).fetchall()

    def start(self) -> None:
        log = (self.folder / "server.log").open("ab")
        command = [sys.executable, "-m", "gunicorn", "ballast.server.wsgi", "--bind", f"127.0.0.1:{self.port}"]
        command += ["--workers", "2", "--threads", "40", "--preload", "--no-control-socket"]
        # A group of its own, so that a kill takes master and workers alike.
        self.process = subprocess.Popen(command, cwd=ROOT, env=self.env, stdout=log, stderr=log, start_new_session=True)
        # It listens only once all is loaded, which on a machine that is busy with tests can take a minute.
        until = time.monotonic() + 180
        while time.monotonic() < until and self.process.poll() is None:
            with contextlib.suppress(OSError), urllib.request.urlopen(f"{self.url}/api/v1/session", timeout=10):
                return
            time.sleep(0.1)
        raise RuntimeError(f"It does not answer: {(self.folder / 'server.log').read_text()}")

    def kill(self) -> None:
        """As a power cut would: SIGKILL to every process of it."""
        if self.process is not None:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()
            self.process = None


class EmptyServer(DemoServer):
    """The application for real, starting with nobody."""

    mode = "production"

    def build(self) -> None:
        self.migrate()


S = TypeVar("S", bound=DemoServer)


def copy_of(built: DemoServer, server: S) -> S:
    """Another server on a copy of what one stands on."""
    if CLUSTER:
        made_in_cluster(server.database, built.database)
    for path in built.folder.iterdir():
        if path.name.startswith(("ballast.sqlite3", "secret_key")):
            shutil.copy(path, server.folder / path.name)
    return server


class Visitor:
    """Somebody who calls a served API without a page, signed in where a name of the demo is given."""

    def __init__(self, server: DemoServer, person: str = "") -> None:
        self.url = f"http://localhost:{server.port}/api/v1"
        self.jar = CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.call("GET", "/session")
        if person:
            self.call("POST", "/session/demo", {"username": person})

    def call(self, method: str, path: str, body: Any = None) -> tuple[int, Any, Mapping[str, str]]:
        """Status, answer and headers; a refusal is an answer too."""
        return self.send(method, path, None if body is None else json.dumps(body).encode())

    def send(
        self, method: str, path: str, body: bytes | None, kind: str = "application/json"
    ) -> tuple[int, Any, Mapping[str, str]]:
        """The same with a body as it is."""
        token = next((c.value or "" for c in self.jar if c.name == "csrftoken"), "")
        request = urllib.request.Request(
            f"{self.url}{path}",
            body,
            {"Content-Type": kind, "X-CSRFToken": token},
            method=method,
        )
        try:
            reply = self.opener.open(request, timeout=60)
        except urllib.error.HTTPError as no:
            reply = no
        with reply:
            text = reply.read()
            return reply.status, json.loads(text) if text else None, reply.headers
