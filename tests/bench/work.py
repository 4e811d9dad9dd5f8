"""What is worked out at every key, in processor time of a server beside a call that asks for nothing.

Run with `make bench`.
"""

from collections.abc import Mapping
from functools import partial
from statistics import median
from typing import Any

from ballast.demo.rigs import COACH
from tests.bench.figures import in_turn, processor, tell
from tests.bench.line import Line, cookies_of
from tests.bench.served import served
from tests.browser.serving import DemoServer

TIMES = 200


def _against_empty(server: DemoServer, line: Line, asked: Mapping[str, Any], of: str = "", most: float = 3) -> None:
    """Each call in turn with an empty one; how far the two halves of the run are from each other is told beside it."""
    runs = {path: partial(line.ok, "POST", path, body) for path, body in asked.items()}
    took = in_turn({"empty": partial(line.ok, "POST", "work/nothing", {})} | runs, processor(server), TIMES)
    for path in asked:
        each = [one / empty for one, empty in zip(took[path], took["empty"], strict=True)]
        ratio, early, late = median(each), median(each[: TIMES // 2]), median(each[TIMES // 2 :])
        tell(f"{path}{of}, beside an empty call", f"{ratio:.2f} ×", ratio <= most, f"at most {most:g} ×")
        apart = abs(early - late) / ratio
        tell("  two halves of the run apart", f"{apart:.0%}", apart <= 0.1, "at most a tenth")


def work_calls(server: DemoServer) -> None:
    """Each work call, as typed, against an empty signed-in call of the same server."""
    line = Line(server, cookies_of(server))
    gauge = next(g["id"] for g in line.ok("GET", "gauges") if g["label"] == "G1")
    rig = next(r["id"] for r in line.ok("GET", "rigs") if r["fleet_number"] == "CF-01")
    opening = {"gauge": gauge, "standing_h": 12, "outside_c": 10, "elevation_m": 410}
    round_id = line.ok("POST", f"rigs/{rig}/rounds", opening)["id"]
    ends = [{"left_kg": "1690 kg", "right_kg": "1700 kg"}, {"left_kg": "3160 kg", "right_kg": "3410 kg"}]
    _against_empty(
        server,
        line,
        {
            "work/rigs": COACH,
            "work/weighing": {"rig": rig, "axles": ends},
            "work/targets": {"rig": rig},
            "work/ground": {"rig": rig, "chain": ["gravel", "soft"]},
            "work/air": {"rig": rig, "outside_c": 12, "dawn_c": -6, "elevation_m": 410},
            "work/rounds": {"round": round_id, "wheel": "2Ri", "pressure": "93.4 psi"},
        },
    )
    line.ok("DELETE", f"rounds/{round_id}")


def nine_axles(server: DemoServer) -> None:
    """A rig of nine axles, every end weighed, against one of two: as typed, through the same server."""
    line = Line(server, cookies_of(server))
    tire = {"tire_size": "295/75R22.5 144/141L G", "sidewall_max_kpa": "760 kPa", "track_m": 1.85, "gawr_kg": "9000 kg"}

    def body(count: int) -> dict[str, Any]:
        axles = [tire | {"position_m": 0}] + [tire | {"position_m": 3 + 1.3 * i, "dual": True} for i in range(1, count)]
        return {
            "kind": "coach",
            "name": f"Of {count}",
            "fleet_number": f"N-{count}",
            "gvwr_kg": "90000 kg",
            "axles": axles,
        }

    def asked(count: int) -> list[tuple[str, Any]]:
        rig = line.ok("POST", "rigs", body(count))["id"]
        steps = line.ok("POST", "work/weighing/guide", {"rig": rig, "way": "left"})
        passes = [
            {"on": s["on"], "kg": f"{(i % count + 1) * (7000 if i < count else 3400)} kg"} for i, s in enumerate(steps)
        ]
        ticket = {
            "load_state": "trip-ready",
            "weighed_on": "2026-10-01",
            "scale": "Pads",
            "way": "left",
            "passes": passes,
        }
        line.ok("POST", f"rigs/{rig}/weighings", ticket)
        put = [{"what": "cargo", "mass": "50 kg", "rig": rig, "x": 2, "y": 0}]
        return [
            ("work/rigs", body(count)),
            ("work/weighing", {"rig": rig, "axles": [{"left_kg": "3400 kg", "right_kg": "3500 kg"}] * count}),
            ("work/weighing by passes", {"rig": rig, "way": "left", "passes": passes}),
            ("work/weighing/what-if", {"rig": rig, "placed": put, "at_rig": rig, "at_x": 2, "at_y": 0}),
        ]

    for (path, small), (_, large) in zip(asked(2), asked(9), strict=True):
        address = path.split(" ")[0]
        took = in_turn(
            {"two": partial(line.ok, "POST", address, small), "nine": partial(line.ok, "POST", address, large)},
            processor(server),
            TIMES,
        )
        ratio = median(nine / two for nine, two in zip(took["nine"], took["two"], strict=True))
        tell(f"{path}, nine axles against two", f"{ratio:.2f} ×", ratio <= 1.5, "at most 1.5 ×")


def air_and_targets(server: DemoServer) -> None:
    """A combination of nine axles and 34 wheels: its air with a week of dawns, its schools, and a trip of 50 legs."""
    line = Line(server, cookies_of(server))
    tire = {
        "tire_size": "295/75R22.5 144/141L G", "sidewall_max_kpa": "760 kPa", "track_m": 1.85, "gawr_kg": "9000 kg",
        "placard_kpa": "100 psi", "placard_light_kpa": "90 psi",
    }  # fmt: skip

    def rig(kind: str, name: str, count: int, steers: bool) -> int:
        axles = [tire | {"position_m": 1.3 * i, "dual": not (steers and i == 0)} for i in range(count)]
        body = {"kind": kind, "name": name, "fleet_number": name, "gvwr_kg": "90000 kg", "coupler_m": 3, "axles": axles}
        made: int = line.ok("POST", "rigs", body)["id"]
        ends = [{"left_kg": "2300 kg" if steers and i == 0 else "4200 kg", "right_kg": "2300 kg"} for i in range(count)]
        ticket = {"load_state": "trip-ready", "weighed_on": "2026-10-01", "scale": "Pads", "axles": ends}
        line.ok("POST", f"rigs/{made}/weighings", ticket)
        line.ok("POST", f"rigs/{made}/targets", {})
        return made

    tow, trailer = rig("straight_truck", "Nine front", 5, True), rig("full_trailer", "Nine rear", 4, False)
    line.ok("PUT", f"rigs/{trailer}/hitch", {"behind": tow})
    legs = [{"elevation_m": 50 * (i % 30), "dawn_c": (i * 7) % 30 - 12, "high_c": 20} for i in range(50)]
    air = {"rig": tow, "whole": True, "place_key": "tarn-hollow"}
    _against_empty(
        server, line, {"work/air": air, "work/targets": {"rig": tow}}, " of nine axles, a week of dawns, six schools"
    )
    _against_empty(server, line, {"work/air/trip": air | {"legs": legs}}, " of 34 wheels and 50 legs", 5)


def main() -> None:
    with served() as server:
        work_calls(server)
        nine_axles(server)
        air_and_targets(server)


if __name__ == "__main__":
    main()
