"""How fast the machine is while it is measured on: a figure in seconds says nothing without it."""

import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from os import cpu_count
from pathlib import Path

from tests.bench.figures import tell

_LOOP = "import time; s = time.perf_counter()\nfor n in range(10_000_000): pass\nprint(time.perf_counter() - s)"


def pace_s() -> float:
    """What an empty loop of ten million turns takes on all processors at once [s], the slowest of them."""
    loops = [subprocess.Popen([sys.executable, "-c", _LOOP], stdout=subprocess.PIPE) for _ in range(cpu_count() or 1)]
    return max(float(loop.communicate()[0]) for loop in loops)


def _processors() -> list[int]:
    """What the processors did since the system began, by kind; the eighth: others had them who share the machine."""
    return [int(ticks) for ticks in Path("/proc/stat").read_text().splitlines()[0].split()[1:9]]


@contextmanager
def told_beside() -> Iterator[None]:
    """Tells what the machine was like while something was measured."""
    before, start = _processors(), time.monotonic()
    yield
    did = [now - then for then, now in zip(before, _processors(), strict=True)]
    share, took = did[7] / max(1, sum(did)), time.monotonic() - start
    tell(f"  in {took:.0f} s others had of the processors", f"{share:.0%}", None, "")
    tell("  ten million turns of an empty loop on all of them", f"{pace_s():.2f} s", None, "")
