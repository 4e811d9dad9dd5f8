"""Two hundred receivers, a message of each with all wheels every five seconds, and a file of a hundred thousand numbers.

Run with `make bench`. The load generator shares the machine with the server.
"""

import datetime as dt
import http.client
import json
import statistics
import threading
import time
from dataclasses import dataclass, field
from uuid import uuid4

from tests.browser.serving import DemoServer, Visitor

RECEIVERS, EVERY_S, MINUTES = 200, 5.0, 2
_TRIES = 20
ROWS, SLICE = 100_000, 5_000


@dataclass
class Sent:
    """What became of all messages: how long each took until it was acknowledged [ms]."""

    took_ms: list[float] = field(default_factory=list)
    again: int = 0


def _device(
    server: DemoServer, key: str, wheels: list[str], kpa: float, first_s: float, sent: Sent, drive: str
) -> None:
    """Sends in its own rhythm; one that nails a tire half way; what is turned away is sent again."""
    connection = http.client.HTTPConnection("127.0.0.1", server.port, timeout=30)
    headers = {"Content-Type": "application/json", "Authorization": f"Bearer {key}"}
    begun = time.monotonic() + first_s
    for number in range(1, int(MINUTES * 60 / EVERY_S) + 1):
        time.sleep(max(0.0, begun + number * EVERY_S - time.monotonic()))
        at = dt.datetime.now(dt.UTC).isoformat()
        said = [{"wheel": w, "kpa": kpa * (1 - (0.02 * number if w == wheels[0] else 0)), "tire_c": 30} for w in wheels]
        message = {"number": number, "at": at, "wheels": said, "rolled_min": number * EVERY_S / 60, "km_h": 80}
        body = json.dumps({"drive": drive, "messages": [message]})
        start = time.monotonic()
        for _ in range(_TRIES):
            try:
                connection.request("POST", "/api/v1/receivers/messages", body, headers)
                reply = connection.getresponse()
                reply.read()
                if reply.status == 200:
                    break
            except (ConnectionError, http.client.HTTPException):
                # Closed meanwhile, as a server may after two seconds of silence: the next try opens another, at once.
                connection.close()
                continue
            sent.again += 1
            time.sleep(0.2)
        sent.took_ms.append((time.monotonic() - start) * 1000)


def receivers(server: DemoServer) -> None:
    """Says how long messages take until they are acknowledged, and counts what is there afterwards."""
    manager = Visitor(server, "fleet-maintainer")
    rigs = [r["id"] for r in manager.call("GET", "/yard")[1]["rigs"]]
    sent, threads, drives = Sent(), [], []
    for i in range(RECEIVERS):
        rig = rigs[i % len(rigs)]
        key = manager.call("POST", f"/rigs/{rig}/receivers", {"name": f"Bench {i}"})[1]["key"]
        axles = manager.call("GET", f"/rigs/{rig}/sensors")[1]["axles"] if i < len(rigs) else drives[i % len(rigs)][2]
        wheels = [w["code"] for a in axles for w in a["wheels"]]
        drives.append((rig, str(uuid4()), axles))
        arguments = (server, key, wheels, axles[0]["target_kpa"] or 500.0, i * EVERY_S / RECEIVERS, sent, drives[-1][1])
        threads.append(threading.Thread(target=_device, args=arguments))
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    kept = sum(manager.call("GET", f"/rigs/{rig}/drives/{drive}")[1]["count"] for rig, drive, _ in drives)
    cuts = statistics.quantiles(sent.took_ms, n=100)
    print(
        f"receivers: {RECEIVERS}, a message every {EVERY_S:g} s: p50 {cuts[49]:.0f} ms, p95 {cuts[94]:.0f} ms (asked 250), "
        f"most {max(sent.took_ms):.0f} ms; {len(sent.took_ms) - kept} of {len(sent.took_ms)} lost (asked 0), {sent.again} sent again"
    )


def file_of_numbers(server: DemoServer) -> None:
    """Says how fast a file of a hundred thousand numbers comes in, slices and all."""
    manager = Visitor(server, "fleet-maintainer")
    path = f"/rigs/5/numbers/{uuid4()}"
    wheels = [w["code"] for a in manager.call("GET", "/rigs/5/sensors")[1]["axles"] for w in a["wheels"]][:4]
    at = dt.datetime.now(dt.UTC) - dt.timedelta(days=20)
    lines = [
        f"{at + dt.timedelta(seconds=10 * (k // 4)):%Y-%m-%d %H:%M:%S},{wheels[k % 4]},{60 + k % 7 / 10},70,68"
        for k in range(ROWS)
    ]
    columns = [{"means": m} for m in ("at", "wheel", "pressure", "temperature", "outside")]
    body = {"columns": columns, "pressure_unit": "psi", "temperature_unit": "°F", "zone": "UTC", "names": {}}
    start = time.monotonic()
    manager.call("PUT", path, body | {"name": "bench.csv"})
    for n, k in enumerate(range(0, ROWS, SLICE), 1):
        manager.call("PUT", f"{path}/slices/{n}", {"first": 2 + k, "text": "\n".join(lines[k : k + SLICE])})
    kept = manager.call("POST", f"{path}/finish")[1]["numbers"]
    took = time.monotonic() - start
    print(f"a file of numbers: {kept} of {ROWS} rows, {ROWS / took:.0f} a second (asked 10,000)")
