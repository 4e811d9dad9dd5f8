"""A real server on a demo world of its own, as `make demo` starts it; killed and started again at will."""

import contextlib
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

ROOT = Path(__file__).parents[2]
CHROMIUM = shutil.which("chromium") or shutil.which("chromium-browser") or "/usr/bin/chromium"
CHROMIUM_FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]


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

    @property
    def url(self) -> str:
        return f"http://localhost:{self.port}"

    def manage(self, *command: str) -> None:
        subprocess.run([sys.executable, "manage.py", *command], cwd=ROOT, env=self.env, check=True, capture_output=True)

    def build(self) -> None:
        self.manage("migrate", "--verbosity", "0")
        self.manage("demo")

    def start(self) -> None:
        log = (self.folder / "server.log").open("ab")
        command = [sys.executable, "-m", "gunicorn", "ballast.server.wsgi", "--bind", f"127.0.0.1:{self.port}"]
        command += ["--workers", "2", "--threads", "4", "--no-control-socket"]
        # A group of its own, so that a kill takes master and workers alike.
        self.process = subprocess.Popen(command, cwd=ROOT, env=self.env, stdout=log, stderr=log, start_new_session=True)
        for _ in range(150):
            with contextlib.suppress(OSError), urllib.request.urlopen(f"{self.url}/api/v1/session", timeout=2):
                return
            time.sleep(0.1)
        raise RuntimeError((self.folder / "server.log").read_text())

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
        self.manage("migrate", "--verbosity", "0")


def copy_of(built: DemoServer, folder: Path) -> DemoServer:
    """Another server on a copy of a built world."""
    for path in built.folder.iterdir():
        if path.name.startswith(("ballast.sqlite3", "secret_key")):
            shutil.copy(path, folder / path.name)
    return DemoServer(folder)
