"""Plans that are open: what stands in each wheel, how loud they are, what rounds are held against, and what closes them."""

import datetime as dt
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import Prefetch, Q, QuerySet

from ballast.core import ground as core
from ballast.core.gas import Air
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import trips
from ballast.server.edge import clock
from ballast.server.edge.words import kept
from ballast.server.ground import stored
from ballast.server.ground.models import GroundEntry, GroundPart, GroundPlan
from ballast.server.rigs.models import Rig

_ENTRIES = Prefetch("entries", GroundEntry.objects.select_related("by", "gauge"))
_OPEN = Q(closed_at=None, undone_at=None)


def plans(actor: Actor) -> QuerySet[GroundPlan]:
    """The plans of the workspace, with their parts and entries at hand."""
    actor.must(May.READ)
    return (
        GroundPlan.objects.filter(rig__workspace=actor.workspace)
        .select_related("opened_by", "closed_by")
        .prefetch_related("parts", _ENTRIES)
    )


def of_any(which: Iterable[Rig | int]) -> QuerySet[GroundPart, Any]:
    """The keys of the plans that any of some rigs is part of, for a query of plans."""
    return GroundPart.objects.filter(rig__in=list(which)).values("plan")


def open_of(actor: Actor, train: Sequence[Rig]) -> GroundPlan | None:
    """The open plan of a combination, or of any vehicle of it."""
    return plans(actor).filter(_OPEN, parts__rig__in=train).first()


def open_at(actor: Actor, train: Sequence[Rig], when: dt.datetime | None) -> GroundPlan | None:
    """The plan that was open at a moment; None for the moment: now."""
    if when is None:
        return open_of(actor, train)
    then = Q(undone_at=None, opened_at__lte=when) & (Q(closed_at=None) | Q(closed_at__gt=when))
    return plans(actor).filter(then, parts__rig__in=train).first()


def reasons(row: GroundPlan, plan: core.Open, train: Sequence[Rig]) -> tuple[Phrase, ...]:
    """Why an open plan is loud. `train`: the combination by now, its kept trip at hand."""
    leaves = trips.leaves(train[0]) if train else None
    hitched = bool(train) and {p.rig_id for p in row.parts.all()} != {r.pk for r in train}
    return core.loud(plan, core.Around(clock.now(), leaves, hitched))


@dataclass(frozen=True)
class Strip:
    """An open plan as every screen of its rig shows it."""

    uuid: str
    rig: int
    opened_at: dt.datetime
    words: Phrase
    speed_kmh: float | None
    loud: bool
    at: int
    chain: tuple[str, ...]


def strip(row: GroundPlan, train: Sequence[Rig]) -> Strip:
    plan = stored.plan(row)
    why = reasons(row, plan, train)
    return Strip(
        str(row.uuid), row.rig_id, row.opened_at, core.open_words(plan, why), plan.speed_kmh, bool(why), plan.at,
        tuple(s.name for s in plan.stretches),
    )  # fmt: skip


def each_open(actor: Actor, rigs_here: Iterable[Rig]) -> dict[int, tuple[GroundPlan, Strip]]:
    """The open plans by every one of some rigs that is part of one, in a number of queries that does not grow.

    `rigs_here`: with their kept trips at hand; a combination is taken as it hangs together now.
    """
    heads: dict[int, list[Rig]] = {}
    for rig in sorted(rigs_here, key=lambda r: r.place):
        heads.setdefault(rig.head_id or rig.pk, []).append(rig)
    trains = {r.pk: train for train in heads.values() for r in train}
    return {
        part.rig_id: (row, strip(row, trains[part.rig_id]))
        for row in plans(actor).filter(_OPEN, pk__in=of_any(trains))
        for part in row.parts.all()
        if part.rig_id in trains
    }


# -- what a round is held against ------------------------------------------------------------------------


@dataclass(frozen=True)
class Touched:
    """What was last done to the air of a wheel beside any round: its true cold pressure [kPa] in an air, None: not known."""

    at: dt.datetime
    kpa: float | None
    sure_kpa: float
    air: Air | None


Places = Mapping[tuple[int, str], Touched]


def touched(
    train: Iterable[Rig], before: dt.datetime | None = None, since: dt.datetime | None = None
) -> dict[tuple[int, str], Touched]:
    """By vehicle and its own wheel what was last let out or filled on the ground, up to a moment; what lies before `since`
    may be left out."""
    entries = (
        GroundEntry.objects.filter(plan__in=of_any(train), plan__undone_at=None, withdrawn_at=None)
        .exclude(done="left")
        .select_related("plan")
        .order_by("done_at", "id")
    )
    if before is not None:
        entries = entries.filter(done_at__lte=before)
    if since is not None:
        entries = entries.filter(done_at__gte=since)
    places: dict[int, dict[str, tuple[int, str]]] = {}
    found: dict[tuple[int, str], Touched] = {}
    for e in entries:
        if e.plan_id not in places:
            places[e.plan_id] = {w.code: (w.rig, w.own) for w in stored.text_of(e.plan).wheels}
        where = places[e.plan_id].get(e.wheel)
        if where is not None:
            found[where] = Touched(e.done_at, e.kpa if e.done == "set" else None, e.sure_kpa, e.set_in)
    return found


def numbers(row: GroundPlan) -> dict[tuple[int, str], core.Number]:
    """By vehicle and its own wheel the number of the stretch in hand; wheels that were replaced or cannot be read are left out."""
    text = stored.text_of(row)
    plan = stored.plan(row, text)
    gone = plan.excused
    return {
        (w.rig, w.own): plan.stretch.numbers[w.code]
        for w in text.wheels
        if w.code in plan.stretch.numbers and w.code not in gone
    }


def codes(row: GroundPlan) -> dict[tuple[int, str], str]:
    """By vehicle and its own wheel its code in the plan."""
    return {(w.rig, w.own): w.code for w in stored.text_of(row).wheels}


def close(
    actor: Actor, plan_id: int, against_road: bool, wheels: Sequence[core.Checked], round_id: int
) -> tuple[Phrase, ...]:
    """Closes a plan by a sealed round, or says why it does not; one that is closed stays so."""
    row = plans(actor).get(pk=plan_id)
    if row.closed_at is not None or row.undone_at is not None:
        return ()
    why = core.still_open(stored.plan(row), against_road, wheels)
    row.why_open = [kept(words) for words in why]
    if not why:
        row.closed_at, row.closed_by, row.closed_round = clock.now(), actor.person, round_id
    row.save()
    return why
