"""Readings as fast as they go, and two hundred phones with a reading every five seconds, each asking for its round every four,
beside five desks on the Yard of two thousand rigs.

Run with `make bench`. The load generator shares the machine with the server.
"""

import json
import statistics
import threading
import time
from collections.abc import Callable
from typing import Any
from uuid import UUID, uuid4

from tests.bench.figures import tell
from tests.bench.line import Line, cookies_of
from tests.bench.machine import told_beside
from tests.bench.served import served, settled
from tests.browser.serving import DemoServer, Visitor

PHONES, READ_S, ASK_S, MINUTES = 200, 5.0, 4.0, 2
DESKS, LOOK_S = 5, 3.0
HANDS, SECONDS = 8, 10.0


class Phone(Line):
    """What became of its calls."""

    def __init__(self, server: DemoServer, cookies: dict[str, str]) -> None:
        super().__init__(server, cookies)
        self.stored: list[UUID] = []
        self.took_ms: list[float] = []
        self.errors = self.again = 0

    def read(self, round_id: int, wheel: str) -> dict[str, Any]:
        """A reading until it is stored, sent again where it was turned away; what it changed."""
        uuid, start = uuid4(), time.monotonic()
        for tries in range(6):
            status, text, _mark = self.call(
                "PUT", f"rounds/{round_id}/readings/{uuid}", {"wheel": wheel, "pressure": "90 psi"}
            )
            if status == 200:
                self.took_ms.append((time.monotonic() - start) * 1000)
                self.stored.append(uuid)
                return json.loads(text)  # type: ignore[no-any-return]
            self.again += 1
            # As the page waits.
            time.sleep(4 * 2**tries)
        self.errors += 1
        return {}


def _until(end: float, every_s: float, first_s: float, do: Callable[[], None]) -> None:
    turn = time.monotonic() + first_s
    while turn < end:
        time.sleep(max(0.0, turn - time.monotonic()))
        do()
        turn += every_s


def _phone(line: Phone, round_id: int, wheels: list[str], first_s: float, end: float) -> None:
    """A person at a rig: a reading, then the next, and what others did meanwhile asked for in between."""
    # No two of them open their round at the same moment.
    time.sleep(first_s)
    mark, turns = line.call("GET", f"rounds/{round_id}")[2], 0
    next_read, next_ask = time.monotonic() + READ_S / 2, time.monotonic() + ASK_S / 2
    while (turn := min(next_read, next_ask)) < end:
        time.sleep(max(0.0, turn - time.monotonic()))
        if turn == next_read:
            told = line.read(round_id, wheels[turns % len(wheels)])
            if told and mark.strip('W/"') == told["mark_before"]:
                mark = f'"{told["mark"]}"'
            turns, next_read = turns + 1, next_read + READ_S
        else:
            status, _, now = line.call("GET", f"rounds/{round_id}", mark=mark)
            line.errors += status not in (200, 304)
            mark, next_ask = now or mark, next_ask + ASK_S


def _desk(line: Phone, first_s: float, end: float) -> None:
    def look() -> None:
        start = time.monotonic()
        line.errors += line.call("GET", "yard")[0] != 200
        line.took_ms.append((time.monotonic() - start) * 1000)

    _until(end, LOOK_S, first_s, look)


def _hand(line: Phone, rounds: list[tuple[int, list[str]]], end: float) -> None:
    """One reading after the other, in rig after rig, a wheel of each."""
    turns = 0
    while time.monotonic() < end:
        round_id, wheels = rounds[turns % len(rounds)]
        line.read(round_id, wheels[turns // len(rounds) % len(wheels)])
        turns += 1


def _run(threads: list[threading.Thread]) -> None:
    for t in threads:
        t.start()
    for t in threads:
        t.join()


def _all_out(out: list[Phone], desks: list[Phone], rounds: list[tuple[int, list[str]]]) -> None:
    """Every phone at its round and every desk on the Yard, for some minutes; says how long it takes them."""
    end = time.monotonic() + 60 * MINUTES
    _run(
        [
            threading.Thread(target=_phone, args=(line, *of, i * READ_S / PHONES, end))
            for i, (line, of) in enumerate(zip(out, rounds, strict=True))
        ]
        + [threading.Thread(target=_desk, args=(d, i * LOOK_S / DESKS, end)) for i, d in enumerate(desks)]
    )
    took = statistics.quantiles([ms for line in out for ms in line.took_ms], n=100)
    tell(f"{PHONES} phones and {DESKS} desks: a reading, median", f"{took[49]:.0f} ms", None, "")
    tell("  of twenty the slowest but one", f"{took[94]:.0f} ms", took[94] <= 250, "at most 250 ms")
    yard = statistics.quantiles([ms for d in desks for ms in d.took_ms], n=100)
    tell("  the Yard beside them", f"{yard[49]:.0f}, {yard[94]:.0f} ms", None, "median, slowest but one")


def _lost(server: DemoServer, lines: list[Phone]) -> int:
    kept = {UUID(str(uuid)) for (uuid,) in server.sql("SELECT uuid FROM rounds_reading")}
    return sum(uuid not in kept for line in lines for uuid in line.stored)


def phones(server: DemoServer) -> None:
    """Says how many readings a second are stored, and how long one takes while two hundred phones are out."""
    person = Visitor(server, "fleet-maintainer")
    cookies = cookies_of(server)
    gauge = next(g["id"] for g in person.call("GET", "/gauges")[1] if g["label"] == "G1")
    settled(server)
    rounds: list[tuple[int, list[str]]] = []
    opening = {"gauge": gauge, "standing_h": 12, "outside_c": 10, "elevation_m": 410}
    first = 0
    while len(rounds) < PHONES:
        for rig in person.call("GET", f"/yard?sort=number&first={first}")[1]["rigs"]:
            status, round_, _ = person.call("POST", f"/rigs/{rig['id']}/rounds", opening)
            if status == 201 and len(rounds) < PHONES:
                rounds.append((round_["id"], [w["code"] for w in round_["wheels"]]))
        first += 50
    hands = [Phone(server, cookies) for _ in range(HANDS)]
    with told_beside():
        end = time.monotonic() + SECONDS
        _run([threading.Thread(target=_hand, args=(h, rounds[i::HANDS], end)) for i, h in enumerate(hands)])
        count = sum(len(h.stored) for h in hands) / SECONDS
        tell("readings stored a second, as fast as they go", f"{count:.0f}", count >= 150, "at least 150")
    out = [Phone(server, cookies) for _ in rounds]
    desks = [Phone(server, cookies) for _ in range(DESKS)]
    with told_beside():
        _all_out(out, desks, rounds)
    errors, again = sum(li.errors for li in out + desks), sum(li.again for li in out)
    tell(f"  errors; {again} were turned away and sent again", f"{errors}", errors == 0, "none")
    lost = _lost(server, hands + out)
    tell("  acknowledged readings that are not there", f"{lost}", lost == 0, "none")


def main() -> None:
    """On a copy of the big world."""
    from tests.bench import fleet

    fleet.build()
    with served(fleet.FOLDER) as server:
        phones(server)


if __name__ == "__main__":
    main()
