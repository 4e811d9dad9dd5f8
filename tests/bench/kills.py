"""SIGKILL to all of a server while something is written, two hundred times: what was acknowledged is there, and nothing is half.

Run with `make bench`. Each kill is at a moment of its own; afterwards it is looked at what stands in the database.
"""

import contextlib
import http.client
import json
import random
import sqlite3
import threading
import time
from collections.abc import Callable, Iterator
from typing import Any
from uuid import uuid4

from tests.bench.figures import tell
from tests.bench.served import served
from tests.browser.serving import DemoServer, Visitor

READINGS, SEALS, FLEETS, ARCHIVES = 60, 60, 60, 20
RIGS_OF_A_FILE = 30
_GONE = (OSError, http.client.HTTPException, json.JSONDecodeError)
OPENING = {"standing_h": 12, "outside_c": 10, "elevation_m": 410}
HEAD = "row,rig,kind,name,gvwr_kg,position_m,track_m,wheels,tire_size,sidewall_max_kpa,wheel"


class Killed:
    """A server that is killed while something is asked of it, and what was acknowledged, lost and half."""

    def __init__(self, server: DemoServer) -> None:
        self.server, self.chance = server, random.Random(16)
        self.acknowledged = self.lost = self.half = 0

    def during(self, longest_s: float, do: Callable[[Visitor], bool]) -> bool:
        """Does it, kills the server at some moment of that, and starts it again; whether it was acknowledged before."""
        visitor, told = Visitor(self.server, "fleet-maintainer"), [False]

        def ask() -> None:
            with contextlib.suppress(*_GONE):
                told[0] = do(visitor)

        at_it = threading.Thread(target=ask)
        at_it.start()
        time.sleep(self.chance.uniform(0, longest_s))
        self.server.kill()
        at_it.join()
        self.server.start()
        self.acknowledged += told[0]
        return told[0]

    @contextlib.contextmanager
    def rows(self) -> Iterator[sqlite3.Connection]:
        with contextlib.closing(sqlite3.connect(self.server.folder / "ballast.sqlite3")) as db:
            yield db

    def number(self, sql: str, *of: object) -> int:
        with self.rows() as db:
            return int(db.execute(sql, of).fetchone()[0] or 0)

    def say(self, what: str, times: int) -> None:
        tell(f"{times} kills, {what}: acknowledged {self.acknowledged}, lost", f"{self.lost}", self.lost == 0, "none")
        tell("  half there", f"{self.half}", self.half == 0, "none")


def _asked(server: DemoServer) -> tuple[Visitor, int, int]:
    visitor = Visitor(server, "fleet-maintainer")
    gauge = next(g["id"] for g in visitor.call("GET", "/gauges")[1] if g["label"] == "G1")
    rig = next(r["id"] for r in visitor.call("GET", "/rigs")[1] if r["fleet_number"] == "CF-10")
    return visitor, gauge, rig


def _opened(server: DemoServer) -> dict[str, Any]:
    visitor, gauge, rig = _asked(server)
    if open_round := visitor.call("GET", f"/yard/{rig}")[1]["open_round"]:
        return visitor.call("GET", f"/rounds/{open_round}")[1]  # type: ignore[no-any-return]
    return visitor.call("POST", f"/rigs/{rig}/rounds", OPENING | {"gauge": gauge})[1]  # type: ignore[no-any-return]


def readings(server: DemoServer) -> None:
    """Every acknowledged reading is there."""
    killed, round_ = Killed(server), _opened(server)
    wheel, sent = round_["wheels"][0]["code"], set[str]()

    def type_on(visitor: Visitor) -> bool:
        while True:
            uuid = str(uuid4())
            body = {"wheel": wheel, "pressure": "90 psi"}
            if visitor.call("PUT", f"/rounds/{round_['id']}/readings/{uuid}", body)[0] == 200:
                sent.add(uuid.replace("-", ""))

    for _ in range(READINGS):
        killed.during(0.3, type_on)
    with killed.rows() as db:
        kept = {u for (u,) in db.execute("SELECT uuid FROM rounds_reading WHERE round_id = ?", (round_["id"],))}
    killed.acknowledged, killed.lost = len(sent), len(sent - kept)
    killed.say("readings", READINGS)


def seals(server: DemoServer) -> None:
    """A round is sealed with its text, its last words and a row for every wheel that was read, or it is open with all readings."""
    killed = Killed(server)
    for _ in range(SEALS):
        round_ = _opened(server)
        at, visitor = round_["id"], Visitor(server, "fleet-maintainer")
        codes = [w["code"] for w in round_["wheels"]]
        for code in codes:
            visitor.call("PUT", f"/rounds/{at}/readings/{uuid4()}", {"wheel": code, "pressure": "36 psi"})

        def seal(v: Visitor, at: int = at) -> bool:
            return v.call("POST", f"/rounds/{at}/seal", {"unread_reason": "dark", "without_target": True})[0] == 200

        told = killed.during(0.5, seal)
        sealed = killed.number("SELECT count(*) FROM rounds_round WHERE id = ? AND sealed_at IS NOT NULL", at)
        parts = (
            killed.number("SELECT count(*) FROM rounds_roundtext WHERE round_id = ? AND result IS NOT NULL", at),
            killed.number("SELECT count(*) FROM rounds_round WHERE id = ? AND last_words IS NOT NULL", at),
            int(killed.number("SELECT count(*) FROM rounds_service WHERE round_id = ?", at) >= len(codes)),
        )
        read = killed.number("SELECT count(DISTINCT wheel) FROM rounds_reading WHERE round_id = ?", at)
        killed.lost += (told and not sealed) or read < len(codes)
        killed.half += set(parts) != {sealed}
    killed.say("a round being sealed", SEALS)


def _file(number: int) -> list[str]:
    size = "225/75R16C 121/120R,525 kPa"
    return [
        row
        for i in range(RIGS_OF_A_FILE)
        for row in (
            f"rig,K{number}-{i},van,Van,3500 kg",
            f"axle,K{number}-{i},,,,0,1.7,2,{size}",
            f"axle,K{number}-{i},,,,3.6,1.7,2,{size}",
            f"tire,K{number}-{i},,,,,,,,,1L",
        )
    ]


def fleets(server: DemoServer) -> None:
    """All rigs of a file are there, or none."""
    killed = Killed(server)
    ours = killed.number("SELECT workspace_id FROM rigs_rig WHERE fleet_number = 'CF-10'")
    for k in range(FLEETS):
        uuid, rows = uuid4(), _file(k)

        def bring(visitor: Visitor, uuid: Any = uuid, rows: list[str] = rows) -> bool:
            visitor.call("PUT", f"/fleets/{uuid}", {"name": "kills.csv", "heading": HEAD})
            visitor.call("PUT", f"/fleets/{uuid}/slices/1", {"text": "\n".join(rows)})
            for step in (0, 1):
                visitor.call("PUT", f"/fleets/{uuid}/steps/{step}")
            return visitor.call("POST", f"/fleets/{uuid}/finish")[0] == 200

        told = killed.during(1.2, bring)
        there = killed.number(
            "SELECT count(*) FROM rigs_rig WHERE workspace_id = ? AND fleet_number LIKE ?", ours, f"K{k}-%"
        )
        tires = killed.number(
            "SELECT count(*) FROM rigs_tire t JOIN rigs_fitting f ON f.tire_id = t.id JOIN rigs_rig r ON r.id = f.rig_id "
            "WHERE t.workspace_id = ? AND r.fleet_number LIKE ?", ours, f"K{k}-%",
        )  # fmt: skip
        killed.lost += told and there < RIGS_OF_A_FILE
        killed.half += (there, tires) not in ((0, 0), (RIGS_OF_A_FILE, RIGS_OF_A_FILE))
    killed.say("a fleet coming in", FLEETS)


def archives(server: DemoServer) -> None:
    """A workspace is empty, or all of its archive is there."""
    killed = Killed(server)
    visitor = Visitor(server, "fleet-maintainer")
    with visitor.opener.open(f"{visitor.url}/archive", timeout=120) as reply:
        archive = reply.read()
    rigs = len(visitor.call("GET", "/rigs")[1])
    for k in range(ARCHIVES):
        made = Visitor(server, "fleet-maintainer").call("POST", "/workspaces", {"name": f"Yard {k}"})[1]
        apart = made["workspace"]["id"]

        def bring(v: Visitor, apart: int = apart) -> bool:
            v.call("PUT", "/session/workspace", {"workspace": apart})
            return v.send("POST", "/archive", archive, "application/zip")[0] == 200

        told = killed.during(20.0, bring)
        there = killed.number("SELECT count(*) FROM rigs_rig WHERE workspace_id = ?", apart)
        killed.lost += told and there < rigs
        killed.half += there not in (0, rigs)
    killed.say("an archive coming in", ARCHIVES)


def main() -> None:
    with served() as server:
        for what in (readings, seals, fleets, archives):
            what(server)


if __name__ == "__main__":
    main()
