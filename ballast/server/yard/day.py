"""A person's day, and who has what: the rounds that are given, each with what there is to say of its rig."""

import datetime as dt
from collections.abc import Sequence
from typing import Any

from ballast.core import standing
from ballast.server.accounts.actors import Actor, May
from ballast.server.assignments import services as assignments
from ballast.server.assignments.models import Assignment
from ballast.server.edge import clock
from ballast.server.rigs.models import shown_name
from ballast.server.rounds.models import Round
from ballast.server.yard import standings
from ballast.server.yard.schemas import BoardOut, DayOut, DayRoundOut, DoneOut, WhoOut

# So many of everybody's are listed at a time; what was done is listed of so many days.
LISTED, DONE_DAYS = 200, 7


def _lines(actor: Actor, rows: Sequence[Any]) -> list[DayRoundOut]:
    """Given rounds with what is said of their rigs: by their day, and of one day the most urgent first."""
    rigs = {row.rig_id for row in rows}
    today = clock.today()
    of_rigs = {s.rig_id: s for s in standings.kept_of(actor).filter(rig__in=rigs).select_related("rig")}
    round_open = dict(Round.objects.filter(rig__in=rigs, sealed_at=None, abandoned_at=None).values_list("rig", "pk"))
    made = []
    for row in rows:
        kept, rig = of_rigs.get(row.rig_id), row.rig
        first = standing.ANEW if kept is None or kept.old else standings.matters_of(kept.line, today)[0]
        made.append(
            (
                (max(row.on, today), kept.urgency if kept else 0, row.on, rig.fleet_number or rig.name),
                DayRoundOut(
                    **vars(assignments.present(row)), name=rig.name, fleet_number=rig.fleet_number,
                    kind_name=rig.get_kind_display(), words=first.words, state=first.state,
                    round_open=round_open.get(row.rig_id), today=row.on <= today,
                ),
            )
        )  # fmt: skip
    return [line for _, line in sorted(made, key=lambda pair: pair[0])]


def _done(rows: Sequence[Assignment]) -> list[DoneOut]:
    return [
        DoneOut(
            round=row.round.pk, rig=row.rig_id, name=row.rig.shown_name, to=row.to, at=row.ended_at,
            by=row.round.sealed_by.shown_name if row.round.sealed_by else "",
        )
        for row in rows
        if row.round is not None and row.ended_at is not None
    ]  # fmt: skip


def day(actor: Actor) -> DayOut:
    """What whoever asks has to do, alone or with a crew, and what of it was done today."""
    standings.renew(actor)
    rows = list(assignments.assignments(actor).filter(yours=True).select_related("rig", "person", "crew")[:LISTED])
    lines = _lines(actor, rows)
    now = [line for line in lines if line.today]
    done = Assignment.objects.of(actor.workspace).filter(round__sealed_by=actor.person, ended_at__date=clock.today())
    names = [shown_name(line.fleet_number, line.name) for line in now]
    return DayOut(
        words=standing.day_words(sum(line.over for line in now), names), rounds=now,
        later=[line for line in lines if not line.today],
        done=_done(list(done.select_related("rig", "person", "crew", "round__sealed_by").order_by("-ended_at"))),
    )  # fmt: skip


def board(actor: Actor, who: str) -> BoardOut:
    """Who has what; `who` (`m7` a member, `c3` a crew) has just theirs listed."""
    actor.must(May.READ)
    standings.renew(actor)
    members = {m.person_id: m.pk for m in actor.workspace.memberships.all()}
    rows = assignments.assignments(actor)
    today = clock.today()
    people: dict[str, WhoOut] = {}
    keys: dict[int, str] = {}
    for row in rows:
        key = f"c{row.crew_id}" if row.crew_id else f"m{members[row.person_id or 0]}"
        keys[row.pk] = key
        has = people.setdefault(key, WhoOut(key=key, name=row.to, rounds=0, over=0))
        has.rounds += 1
        has.over += standing.past(row.on, today)
    chosen = [row.pk for row in rows if not who or keys[row.pk] == who]
    listed = list(rows.filter(pk__in=chosen[:LISTED]).select_related("rig", "person", "crew"))
    since = clock.now() - dt.timedelta(days=DONE_DAYS)
    done = Assignment.objects.of(actor.workspace).filter(ended_at__gte=since).exclude(round=None)
    done = done.select_related("rig", "person", "crew", "round__sealed_by").order_by("-ended_at")
    return BoardOut(
        people=sorted(people.values(), key=lambda p: p.name.lower()), rounds=_lines(actor, listed), found=len(chosen),
        done=_done(list(done[:LISTED])),
    )  # fmt: skip
