"""A hundred thousand earlier readings out of a file, beside somebody who reads on: how fast they come in, and how long the other waits.

Run with `make bench`. The load generator shares the machine with the server.
"""

import datetime as dt
import threading
import time
from uuid import uuid4

from tests.bench.figures import tell
from tests.bench.line import Line, bring, cookies_of
from tests.bench.served import served
from tests.browser.serving import DemoServer

ROWS, SLICE, PAUSE_S = 100_000, 5_000, 0.05


def _rows(line: Line) -> list[str]:
    """A reading of every wheel of the first rigs each half hour, back into the past, some of unknown air."""
    rigs = [r for r in line.ok("GET", "yard")["rigs"] if r["fleet_number"]][:5]
    wheels = [
        (r["fleet_number"], w["code"])
        for r in rigs
        for a in line.ok("GET", f"rigs/{r['id']}/sensors")["axles"]
        for w in a["wheels"]
    ]
    newest, minute = dt.datetime.now(dt.UTC) - dt.timedelta(days=400), dt.timedelta(minutes=30)
    made = []
    for k in range(ROWS):
        rig, wheel = wheels[k % len(wheels)]
        at, air = newest - minute * (k // len(wheels)), "" if k % 10 == 0 else str(40 + k % 30)
        made.append(f"{at:%Y-%m-%d %H:%M},{rig},{wheel},{85 + k % 70 / 10},{air},1300")
    return made


def _read_on(server: DemoServer, until: threading.Event, took_s: list[float]) -> None:
    """A technician on a round meanwhile."""
    line = Line(server, cookies_of(server, "technician"))
    gauge = line.ok("GET", "gauges")[0]["id"]
    opening = {"gauge": gauge, "standing_h": 12, "outside_c": 10, "elevation_m": 410}
    at = line.ok("POST", "rigs/5/rounds", opening)["id"]
    while not until.is_set():
        start = time.monotonic()
        line.ok("PUT", f"rounds/{at}/readings/{uuid4()}", {"wheel": "1L", "pressure": "52 psi"})
        took_s.append(time.monotonic() - start)
        time.sleep(PAUSE_S)


def history(server: DemoServer) -> None:
    line = Line(server, cookies_of(server))
    rows, until, took_s = _rows(line), threading.Event(), list[float]()
    meanwhile = threading.Thread(target=_read_on, args=(server, until, took_s))
    meanwhile.start()
    columns = [{"means": m} for m in ("at", "rig", "wheel", "pressure", "outside", "elevation")]
    units = {"pressure_unit": "psi", "temperature_unit": "°F", "length_unit": "ft", "zone": "UTC", "names": {}}
    came, speed = bring(line, f"earlier/{uuid4()}", units | {"columns": columns, "name": "bench.csv"}, rows, SLICE)
    until.set()
    meanwhile.join()
    tell(
        f"a file of {came['readings']:,} earlier readings, rows a second",
        f"{speed:,.0f}",
        speed >= 10_000,
        "at least 10,000",
    )
    longest = max(took_s)
    tell(
        f"  the longest of {len(took_s)} readings stored meanwhile",
        f"{longest * 1000:.0f} ms",
        longest <= 1,
        "at most 1 s",
    )


def main() -> None:
    with served() as server:
        history(server)


if __name__ == "__main__":
    main()
