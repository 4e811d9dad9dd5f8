import csv
import io
from typing import Any

from ballast.core import lookback as core
from ballast.core.gas import Air
from ballast.server.accounts.actors import Actor
from ballast.server.edge.files import harmless
from ballast.server.rigs.models import Rig
from ballast.server.rounds import services as rounds

SHOWN_ROUNDS = 60


def sealed(actor: Actor, rig: Rig, most: int | None = SHOWN_ROUNDS) -> list[dict[str, Any]]:
    """Sealed rounds of a rig, newest first, with each tire's change since its previous service.

    Changes compare pressures brought to 20 °C and sea level: the earlier round's last reading with this one's first.
    """
    query = rounds.rounds(actor).filter(parts__rig=rig).exclude(sealed_at=None).order_by("-sealed_at", "-id")
    results = list(query.values_list("result", flat=True)[: None if most is None else most + 1])
    left_at: dict[str, float] = {}
    found: list[dict[str, Any]] = []
    for result in reversed(results):
        here = Air(result["outside_c"], result["elevation_m"])
        tires = []
        for wheel in result["wheels"]:
            # Of a combination's round, the tires of this rig, under their own codes.
            if wheel.get("rig", rig.pk) != rig.pk:
                continue
            line = _tire(wheel)
            if (cold := wheel["answer"]["cold_kpa"]) is not None:
                line["normalized_kpa"] = core.normalized(cold, here)
                if line["code"] in left_at:
                    line["change_kpa"] = line["normalized_kpa"] - left_at[line["code"]]
                last = (wheel["after_answer"] or wheel["answer"])["cold_kpa"]
                left_at[line["code"]] = core.normalized(last, here)
            tires.append(line)
        fields = (
            "id", "sealed_at", "sealed_by", "opened_at", "time_zone", "place", "outside_c", "elevation_m", "cold",
            "summary", "findings", "unread_reason",
        )  # fmt: skip
        found.append({f: result[f] for f in fields} | {"gauge": result["gauge_label"], "tires": tires})
    newest_first = list(reversed(found))
    return newest_first if most is None else newest_first[:most]


def _tire(wheel: dict[str, Any]) -> dict[str, Any]:
    before, after = wheel["before"], wheel["after"]
    return {
        "code": wheel.get("own", wheel["code"]),
        "name": wheel["name"],
        "word": wheel["answer"]["word"],
        "raw_kpa": before["raw_kpa"] if before else None,
        "corrected_kpa": before["corrected_kpa"] if before else None,
        "here_kpa": wheel["here_kpa"],
        "normalized_kpa": None,
        "change_kpa": None,
        "after_raw_kpa": after["raw_kpa"] if after else None,
        "after_kpa": after["corrected_kpa"] if after else None,
        "typed": before["typed"] if before else "",
        "by": before["by"] if before else "",
    }


_COLUMNS = (
    "rig", "sealed_at_utc", "time_zone", "sealed_by", "gauge", "place", "outside_c", "elevation_m", "cold", "wheel",
    "wheel_name", "read_by", "typed", "raw_kpa", "corrected_kpa", "target_here_kpa", "answer", "after_raw_kpa",
    "after_corrected_kpa", "normalized_kpa", "change_kpa", "not_read_because",
)  # fmt: skip


def export(actor: Actor, rig: Rig) -> str:
    """All sealed rounds of a rig as CSV (RFC 4180, UTF-8), a line for every tire, canonical units."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(_COLUMNS)
    name = " ".join(filter(None, (rig.fleet_number, rig.name)))

    def figure(value: float | None) -> str:
        return "" if value is None else f"{value:.2f}"

    for round_ in sealed(actor, rig, None):
        for tire in round_["tires"]:
            writer.writerow(
                [
                    harmless(name), round_["sealed_at"], round_["time_zone"], harmless(round_["sealed_by"]),
                    harmless(round_["gauge"]), harmless(round_["place"]), figure(round_["outside_c"]),
                    figure(round_["elevation_m"]), "yes" if round_["cold"] else "no", tire["code"], tire["name"],
                    harmless(tire["by"]), harmless(tire["typed"]), figure(tire["raw_kpa"]), figure(tire["corrected_kpa"]),
                    figure(tire["here_kpa"]), tire["word"], figure(tire["after_raw_kpa"]), figure(tire["after_kpa"]),
                    figure(tire["normalized_kpa"]), figure(tire["change_kpa"]),
                    harmless(round_["unread_reason"]) if tire["raw_kpa"] is None else "",
                ]
            )  # fmt: skip
    return out.getvalue()
