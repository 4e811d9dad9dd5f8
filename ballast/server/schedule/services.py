"""What is due over a whole workspace: queries over what is kept of each rig, and the gauges."""

import datetime as dt
from dataclasses import dataclass
from typing import Literal

from ballast.core import standing
from ballast.core.working import Phrase, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.finding import fits
from ballast.server.gauges import services as gauges
from ballast.server.rigs.models import shown_name
from ballast.server.schedule.schemas import DueOut, KindCountOut, ScheduleIn, ScheduleOut
from ballast.server.yard import morning, standings

PAGE = 100
Kind = standing.DueKind | Literal["gauge"]
KINDS: dict[Kind, str] = dict(standing.DUE_KINDS) | {"gauge": "Gauge comparison"}


@dataclass(frozen=True)
class Due:
    """Something due, of a rig or a gauge."""

    kind: Kind
    name: str
    on: dt.date | None
    why: Phrase
    made_at: dt.datetime
    rig: int | None = None
    gauge: int | None = None


def _of_rigs(actor: Actor, find: str, rig: int | None) -> tuple[list[Due], int]:
    """What is due of rigs, and of how many it is not known just now."""
    rows = standings.kept_with(actor, find) if rig is None else standings.kept_of(actor).filter(rig=rig)
    found, anew, today = [], 0, clock.today()
    dawns = morning.by_dawn(actor, find, None if rig is None else [rig])
    for pk, line, old, at in rows.values_list("rig_id", "line", "old", "made_at"):
        if old or at is None:
            anew += 1
            continue
        name = shown_name(line["fleet_number"], line["name"])
        for due in (d.at_once(dawns.get(pk), today) for d in standings.dues_of(line)):
            if due.stands(today):
                found.append(Due(due.kind, name, due.on, due.why, at, rig=pk))
    return found, anew


def _of_gauges(actor: Actor, find: str) -> list[Due]:
    return [
        Due("gauge", g.label, g.due_on, say("Compared with a master at its interval"), clock.now(), gauge=g.id)
        for g in map(gauges.present, gauges.gauges(actor))
        if not g.retired and g.due_on is not None and fits(find, g.label)
    ]


def dues(actor: Actor, find: str = "", rig: int | None = None) -> tuple[list[Due], int]:
    """All that is due, the first first, and of how many rigs that is not known just now."""
    actor.must(May.READ)
    standings.renew(actor)
    found, anew = _of_rigs(actor, find, rig)
    every = [*found, *(_of_gauges(actor, find) if rig is None else [])]
    return sorted(every, key=lambda d: (d.on or dt.date.min, d.name, d.kind)), anew


def schedule(actor: Actor, of: ScheduleIn) -> ScheduleOut:
    """A page of what is due by some day, and how much of each kind there is."""
    every, anew = dues(actor, of.find)
    today = clock.today()
    last = today + dt.timedelta(days=of.days)
    within = [d for d in every if standing.due_by(d.on, last)]
    chosen = [d for d in within if not of.kinds or d.kind in of.kinds]
    counts = {key: sum(d.kind == key for d in within) for key in KINDS}
    return ScheduleOut(
        dues=[
            DueOut(
                kind=d.kind, kind_name=KINDS[d.kind], rig=d.rig, gauge=d.gauge, name=d.name, on=d.on,
                over=standing.past(d.on, today), why=d.why,
            )
            for d in chosen[of.first : of.first + PAGE]
        ],
        page=PAGE, found=len(chosen), over=sum(standing.past(d.on, today) for d in chosen), anew=anew,
        kinds=[KindCountOut(key=k, name=KINDS[k], count=n) for k, n in counts.items() if n or k in of.kinds],
    )  # fmt: skip
