"""What there is to say of rigs, as it is kept: for lists, searches and counts that ask for none of the rows it comes from."""

import datetime as dt
import re
from contextlib import suppress
from typing import TYPE_CHECKING, Any, TypedDict

from django.db import IntegrityError, OperationalError
from django.db.models import BooleanField, Case, F, Q, QuerySet, Value, When

from ballast.core import rigs as core_rigs
from ballast.core import standing
from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import Membership, Workspace
from ballast.server.edge import clock
from ballast.server.edge.finding import anywhere
from ballast.server.edge.ready import Ready
from ballast.server.edge.words import kept, phrase_of
from ballast.server.edge.writing import alone, soon_or_not, stand_aside
from ballast.server.rigs.models import Rig
from ballast.server.yard.facts import Said, hitched, said_of
from ballast.server.yard.models import Standing

if TYPE_CHECKING:
    from django_stubs_ext import WithAnnotations

# So many are worked out for one reader, and what is hitched to them; the next takes the next.
SLICE = 25
# What just This morning reads.
_MORNING = ("morning", "tires", "measured")
# What is kept of what is said, and of how long it holds.
_SAID = ("urgency", "asks", "about", "number", "name", "words", "weighed_on", "last_round", "line", *_MORNING)
_HOLDS = ("known", "made_at", "until")


def order(rig: Rig) -> str:
    """What a rig is ordered by: its number, else its name, in which 9 comes before 10."""
    return re.sub(r"\d+", lambda m: m[0].zfill(12), (rig.fleet_number or rig.name).lower())[:200]


def line_of(said: Said) -> dict[str, Any]:
    """What of it the Yard shows, as it is stored: the words hold on every day."""
    rig, facts = said.rig, said.facts
    return bare(rig) | {
        "wheels": facts.tires, "round_open": facts.open_round, "behind": rig.head.name if rig.head else "",
        "next_check_on": facts.next_on.isoformat() if facts.next_on else None,
        "tires": [{"code": w.code, "word": w.word} for w in facts.said],
        "said": [
            {"state": m.state, "words": kept(m.words), "since": m.since.isoformat() if m.since else None}
            for m in said.matters
        ],
        "dues": [
            {"kind": d.kind, "on": d.on.isoformat() if d.on else None, "why": kept(d.why)} for d in said.dues
        ],
    }  # fmt: skip


def bare(rig: Rig) -> dict[str, Any]:
    """The line of a rig of which nothing that was worked out counts: what stands in its own row."""
    return {
        "name": rig.name, "fleet_number": rig.fleet_number, "kind_name": rig.get_kind_display(), "wheels": None,
        "round_open": False, "next_check_on": None, "head": rig.head_id, "behind": "",
        "trailer": rig.kind in core_rigs.TRAILERS, "tires": [],
    }  # fmt: skip


def matters_of(line: dict[str, Any], today: dt.date) -> list[standing.Matter]:
    """What a stored line says, in the words of a day."""
    since = [dt.date.fromisoformat(m["since"]) if m["since"] else None for m in line["said"]]
    return [
        standing.Matter(m["state"], phrase_of(m["words"]), since=on).on(today)
        for m, on in zip(line["said"], since, strict=True)
    ]


def dues_of(line: dict[str, Any]) -> list[standing.DueOn]:
    """What is due by a stored line."""
    return [
        standing.DueOn(d["kind"], dt.date.fromisoformat(d["on"]) if d["on"] else None, phrase_of(d["why"]))
        for d in line["dues"]
    ]


def _row(said: Said, workspace: int, known: int, now: dt.datetime) -> Standing:
    rig, facts = said.rig, said.facts
    name = " ".join((rig.fleet_number, rig.name, rig.get_kind_display()))
    words = re.sub(r"\{\w+\}", "", " ".join(m.words.text for m in said.matters))
    return Standing(
        rig=rig, workspace_id=workspace, known=known, made_at=now, until=said.until,
        urgency=standing.urgency(said.matters), asks=said.matters[0].asks,
        about=f" {' '.join(dict.fromkeys(m.about for m in said.matters if m.about))} ", number=order(rig), name=name.lower(), words=words.lower(), line=line_of(said),
        morning=said.awaited.said, tires=said.awaited.tires, measured=said.awaited.measured,
        weighed_on=facts.ticket.weighed_on if facts.ticket else None, last_round=facts.last.read_at if facts.last else None,
    )  # fmt: skip


def _fresh(now: dt.datetime) -> Q:
    return Q(known=F("marks"), made_at__lte=now) & (Q(until=None) | Q(until__gt=now))


class Old(TypedDict):
    """Whether a standing is to be worked out anew."""

    old: bool


def kept_of(actor: Actor) -> "QuerySet[WithAnnotations[Standing, Old]]":
    """The standings of a workspace's rigs that are not archived, each with whether it is to be worked out anew (`old`)."""
    return kept_at(actor.workspace.pk, clock.now())


def kept_at(workspace: int, now: dt.datetime) -> "QuerySet[WithAnnotations[Standing, Old]]":
    """The same of a workspace, at a moment."""
    old = Case(When(_fresh(now), then=Value(False)), default=Value(True), output_field=BooleanField())
    rows = Standing.objects.filter(workspace=workspace, rig__archived=False)
    return rows.defer(*_MORNING).annotate(old=old)


_OLD = Ready[int](
    lambda workspace, now: (
        kept_at(workspace, now)
        .filter(old=True)
        .order_by("urgency", "number", "rig_id")
        .values_list("rig_id", flat=True)
    )
)


def kept_with(actor: Actor, find: str, words: bool = True) -> "QuerySet[WithAnnotations[Standing, Old]]":
    """What is kept of the rigs in whose number, name, kind or, if asked, words every word that is looked for stands."""
    rows = kept_of(actor)
    for word in find.lower().split():
        rows = rows.filter(_named(word) | Q(words__contains=word, old=False) if words else _named(word))
    return rows


def _named(word: str) -> Q:
    """In the number, name or kind as they were kept, or as somebody changed them since."""
    return Q(name__contains=word, old=False) | anywhere(word, "rig__name", "rig__fleet_number")


def renew(actor: Actor) -> int:
    """Works out anew what no longer counts, the most urgent first, a slice at a time, or waits while somebody does; returns how
    many were looked at.

    Where others write at this moment it is left to the next who reads: what is old is said to be.
    """
    now = clock.now()
    which = _OLD(actor.workspace.pk, now)[:SLICE]
    if not which:
        return 0
    # It takes as long as many readings do: none waits for it, and no other reader works out the same beside it.
    stand_aside()
    with alone() as first:
        return _work_out(actor, which, now) if first else len(which)


def _work_out(actor: Actor, which: list[int], now: dt.datetime) -> int:
    # The marks are read before the rows: what is written from here on marks anew.
    ours = Standing.objects.filter(hitched("rig__", which), workspace=actor.workspace)
    marks = dict(ours.values_list("rig_id", "marks"))
    rows = [_row(s, actor.workspace.pk, marks[s.rig.pk], now) for s in said_of(actor, which) if s.rig.pk in marks]
    with suppress(OperationalError, IntegrityError), soon_or_not():
        Standing.objects.bulk_create(
            rows, update_conflicts=True, unique_fields=["rig"], update_fields=[*_SAID, *_HOLDS]
        )
        return len(rows)
    return 0


def differing(actor: Actor) -> list[str]:
    """The rigs of which another line is kept, as one that counts, than is worked out now; none is as it must be."""
    rows = {row.rig_id: row for row in kept_of(actor).defer(None).filter(old=False)}
    now = clock.now()
    anew = [_row(s, actor.workspace.pk, rows[s.rig.pk].known, now) for s in said_of(actor, rows) if s.rig.pk in rows]
    return [
        f"{row.rig.shown_name}: {name} is kept as {getattr(rows[row.rig_id], name)!r} and is {getattr(row, name)!r}"
        for row in anew
        for name in _SAID
        if getattr(row, name) != getattr(rows[row.rig_id], name)
    ]


def reader(workspace: Workspace) -> Actor | None:
    """Somebody of a workspace, looking only; None: nobody is left in it."""
    member = workspace.memberships.select_related("person").first()
    return Actor(member.person, workspace, Membership.Role.VIEWER) if member else None
