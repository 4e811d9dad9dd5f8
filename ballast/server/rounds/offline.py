"""What a page needs to go on without a network: the round, and every answer as data."""

from typing import Any

from ballast.core import air as core_air
from ballast.core import rounds as core
from ballast.server.gauges import services as gauges
from ballast.server.rounds.conditions import Frame, goal_of, here_of
from ballast.server.rounds.models import Round
from ballast.server.rounds.views import present


def bundle(row: Round) -> dict[str, Any]:
    """An open round with its decision sheets: for the round's gauge and for each that somebody took; alike wheels share."""
    frame = Frame.of(row)
    in_hand = {row.gauge_id: row.gauge} | {t.gauge_id: t.gauge for t in row.takes.all()}
    held = {line["code"]: here_of(frame, line) for line in row.sheet}
    decisions = []
    for gauge_id, gauge in in_hand.items():
        typed = gauges.gauge_of(gauge)
        for rolled in (True, False):
            alike: dict[tuple[core.WheelGoal, core_air.Standing], list[str]] = {}
            for line in row.sheet:
                goal = goal_of(frame, line, held[line["code"]], rolled, typed)
                alike.setdefault((goal, frame.stands(line)), []).append(line["code"])
            for (goal, stands), codes in alike.items():
                found = core.decision_sheet(goal, typed, stands, frame.here)
                decisions.append(
                    vars(found) | {"wheels": codes, "gauge": gauge_id, "rolled": rolled, "estimate": not stands.cold}
                )
    codes_here = {line["code"] for line in row.sheet}
    mates = {code: mate for code in codes_here if (mate := core.mate_of(code)) in codes_here}
    return {"round": present(row), "decisions": decisions, "mates": mates}
