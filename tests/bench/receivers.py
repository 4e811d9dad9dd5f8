"""Two hundred receivers, a message of each with all wheels every five seconds and then every second, and a file of a hundred
thousand numbers.

Run with `make bench`. The load generator shares the machine with the server.
"""

import datetime as dt
import http.client
import itertools
import json
import statistics
import threading
import time
from dataclasses import dataclass, field
from typing import Any
from uuid import uuid4

from tests.bench.figures import tell
from tests.bench.line import Line, bring, cookies_of
from tests.bench.served import served
from tests.browser.serving import DemoServer, Visitor

RECEIVERS, MINUTES = 200, 2
# How often each sends [s], and within what of twenty messages the slowest but one is acknowledged.
RHYTHMS = ((5.0, 250), (1.0, None))
# So many go together, and so many turns after its last a receiver tries to be rid of what waits.
_AT_ONCE, _PATIENCE = 50, 60
ROWS, SLICE = 100_000, 5_000


@dataclass
class Sent:
    """What became of all messages: how long each took until it was acknowledged [ms]."""

    took_ms: list[float] = field(default_factory=list)
    again: int = 0
    never: int = 0


@dataclass
class Device:
    """A receiver with its key, on a rig of some wheels that stand at a pressure."""

    rig: int
    key: str
    wheels: list[str]
    kpa: float

    def drive(self, server: DemoServer, drive: str, every_s: float, first_s: float, sent: Sent) -> None:
        """Sends in its own rhythm, and one tire loses air; what was not acknowledged goes along with the next."""
        connection = http.client.HTTPConnection("127.0.0.1", server.port, timeout=30)
        headers = {"Content-Type": "application/json", "Authorization": f"Bearer {self.key}"}
        begun, waiting = time.monotonic() + first_s, dict[int, tuple[float, dict[str, Any]]]()
        last = int(MINUTES * 60 / every_s)
        for number in itertools.count(1):
            if number > last + _PATIENCE or (number > last and not waiting):
                break
            time.sleep(max(0.0, begun + number * every_s - time.monotonic()))
            if number <= last:
                waiting[number] = (time.monotonic(), self._message(number, every_s))
            body = json.dumps({"drive": drive, "messages": [m for _, m in list(waiting.values())[:_AT_ONCE]]})
            try:
                connection.request("POST", "/api/v1/receivers/messages", body, headers)
                reply = connection.getresponse()
                reply.read()
            except (ConnectionError, http.client.HTTPException):
                # Closed meanwhile, as a server may after two seconds of silence: the next turn opens another.
                connection.close()
                continue
            if reply.status != 200:
                sent.again += 1
                continue
            for done in list(waiting)[:_AT_ONCE]:
                sent.took_ms.append((time.monotonic() - waiting.pop(done)[0]) * 1000)
        sent.never += len(waiting)

    def _message(self, number: int, every_s: float) -> dict[str, Any]:
        at, lost = dt.datetime.now(dt.UTC).isoformat(), min(0.5, 0.004 * number * every_s)
        said = [{"wheel": w, "kpa": self.kpa * (1 - lost * (w == self.wheels[0])), "tire_c": 30} for w in self.wheels]
        return {"number": number, "at": at, "wheels": said, "rolled_min": number * every_s / 60, "km_h": 80}


def _devices(manager: Visitor) -> list[Device]:
    devices: list[Device] = []
    rigs = [r["id"] for r in manager.call("GET", "/yard")[1]["rigs"]]
    axles = {rig: manager.call("GET", f"/rigs/{rig}/sensors")[1]["axles"] for rig in rigs}
    for i in range(RECEIVERS):
        rig = rigs[i % len(rigs)]
        key = manager.call("POST", f"/rigs/{rig}/receivers", {"name": f"Bench {i}"})[1]["key"]
        wheels = [w["code"] for a in axles[rig] for w in a["wheels"]]
        devices.append(Device(rig, key, wheels, axles[rig][0]["target_kpa"] or 500.0))
    return devices


def receivers(server: DemoServer) -> None:
    """Says how long messages take until they are acknowledged, and counts what is there afterwards."""
    manager = Visitor(server, "fleet-maintainer")
    devices = _devices(manager)
    for every_s, most_ms in RHYTHMS:
        sent, drives = Sent(), [str(uuid4()) for _ in devices]
        threads = [
            threading.Thread(target=d.drive, args=(server, drive, every_s, i * every_s / RECEIVERS, sent))
            for i, (d, drive) in enumerate(zip(devices, drives, strict=True))
        ]
        for t in threads:
            t.start()
        for t in threads:
            t.join()
        of_each = zip(devices, drives, strict=True)
        kept = sum(manager.call("GET", f"/rigs/{d.rig}/drives/{drive}")[1]["count"] for d, drive in of_each)
        cuts, lost = statistics.quantiles(sent.took_ms, n=100), len(sent.took_ms) + sent.never - kept
        tell(
            f"{RECEIVERS} receivers, a message every {every_s:g} s: of twenty the slowest but one", f"{cuts[94]:.0f} ms",
            None if most_ms is None else cuts[94] <= most_ms, f"at most {most_ms} ms" if most_ms else "",
        )  # fmt: skip
        tell(
            f"  lost of {len(sent.took_ms) + sent.never:,}; {sent.again} turned away at first",
            f"{lost}",
            lost == 0,
            "none",
        )


def file_of_numbers(server: DemoServer) -> None:
    """Says how fast a file of a hundred thousand numbers comes in, slices and all."""
    line = Line(server, cookies_of(server))
    wheels = [w["code"] for a in line.ok("GET", "rigs/5/sensors")["axles"] for w in a["wheels"]][:4]
    at = dt.datetime.now(dt.UTC) - dt.timedelta(days=20)
    rows = [
        f"{at + dt.timedelta(seconds=10 * (k // 4)):%Y-%m-%d %H:%M:%S},{wheels[k % 4]},{60 + k % 7 / 10},70,68"
        for k in range(ROWS)
    ]
    columns = [{"means": m} for m in ("at", "wheel", "pressure", "temperature", "outside")]
    body = {
        "columns": columns,
        "pressure_unit": "psi",
        "temperature_unit": "°F",
        "zone": "UTC",
        "names": {},
        "name": "bench.csv",
    }
    came, speed = bring(line, f"rigs/5/numbers/{uuid4()}", body, rows, SLICE)
    tell(f"a file of {came['numbers']:,} numbers, rows a second", f"{speed:,.0f}", speed >= 10_000, "at least 10,000")


def main() -> None:
    with served() as server:
        file_of_numbers(server)
        receivers(server)


if __name__ == "__main__":
    main()
