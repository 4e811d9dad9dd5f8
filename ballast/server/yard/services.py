import datetime as dt
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from django.db.models import Case, OuterRef, Prefetch, Subquery, Value, When, prefetch_related_objects
from django.db.models.functions import Coalesce
from django.utils import timezone

from ballast.core import rigs as core_rigs
from ballast.core import schedule
from ballast.core import targets as core_targets
from ballast.core import weighing as core_weighing
from ballast.core.lookback import leak_words
from ballast.core.working import Phrase, kpa, number, plain, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import services as air
from ballast.server.air import trips
from ballast.server.rigs import fittings
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import ledger
from ballast.server.rounds import services as rounds
from ballast.server.rounds.models import Round
from ballast.server.tables.models import Table
from ballast.server.targets import policies
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetAxle, TargetSet
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing

_RANK = {"attention": 0, "todo": 1, "quiet": 2, "fine": 3}


@dataclass(frozen=True)
class LastRound:
    """The newest sealed round of a rig: when it was read, the last word of every wheel and what is open there, the next check."""

    read_at: dt.datetime
    words: list[list[Any]]
    next_on: dt.date | None
    next_why: str

    def of(self, rig: Rig) -> list[tuple[str, str, str]]:
        """(wheel, word, what is open) of one vehicle; rounds of before told nothing open."""
        return [(w[0], w[1], w[3] if len(w) > 3 else "") for w in self.words if w[2] == rig.pk]

    def before_trip(self, rig: Rig) -> "LastRound":
        """The same, with the next check before the trip that is kept for the rig."""
        if self.next_on is None:
            return self
        check = ledger.next_for(rig, self.read_at.date(), self.next_on, self.next_why)
        return replace(self, next_on=check.on, next_why=check.words)

    def leaks(self, rig: Rig) -> dict[str, float]:
        """Named leaks of one vehicle [kPa a day], by the wheel at which the tire is now; of tires taken off none."""
        on = {f.tire_id: f.wheel for f in rigs.fitted_on(rig)}
        found: dict[str, float] = {}
        for named in (w[4] for w in self.words if w[2] == rig.pk and len(w) > 4 and w[4]):
            wheel, tire, loss = named
            # Where no tire was recorded it is the wheel's, until one is fitted there.
            now = on.get(tire) if tire else wheel if wheel not in on.values() else None
            if now:
                found[now] = loss
        return found


def _matters(
    rig: Rig,
    typed: core_rigs.Rig,
    ticket: Weighing | None,
    row: TargetSet | None,
    last: LastRound | None,
    open_: bool,
    today: dt.date,
    stale: list[str],
) -> list[tuple[str, Phrase]]:
    """What there is to say of a rig, the most urgent first: (state, words). `stale`: why its targets are out of date."""
    found: list[tuple[str, Phrase]] = []
    loads = weighing.loads_of(ticket, typed) if ticket else None
    if loads:
        found += [("attention", core_weighing.overload_words(c)) for c in loads.over]
    if row:
        beyond = [typed.axle_name(a.number).lower() for a in row.axles.all() if a.state in core_targets.NO_PRESSURE]
        if beyond:
            found.append(("attention", say(f"No pressure carries the load: {', '.join(beyond)}")))
    wheels = last.of(rig) if last else []
    words = Counter(word for _, word, _ in wheels)
    for word, state, text in (
        ("stop", "attention", "Stop: inspect {0} {tires}"),
        ("add", "attention", "Add air to {0} {tires}"),
        ("let_out", "todo", "Let air out of {0} {tires}, cold"),
        ("cannot_tell", "todo", "Read {0} {tires} again"),
        ("not_checked", "todo", "{0} {tires} not checked"),
    ):
        if words[word]:
            noun = "tire" if words[word] == 1 else "tires"
            found.append((state, say(text.replace("{tires}", noun), number(words[word]))))
    leaks = last.leaks(rig) if last else {}
    names = {w.code: w.name for w in rigs.wheels_of(rig)} if leaks else {}
    found += [("attention", leak_words(names[code], loss)) for code, loss in leaks.items() if code in names]
    for code, _, matter in wheels:
        if matter and matter != "not read":
            found.append(("todo", say(plain(f"{code} {matter}"))))
    if ticket is None:
        provisional = ", its target is provisional" if row else ""
        found.append(("todo", say(f"Not weighed{provisional}: weigh it as it travels")))
    elif row is None:
        found.append(("todo", say("No target in force")))
    elif any(a.state == "provisional" for a in row.axles.all()):
        found.append(("todo", say("Target provisional: enter the table of its tires")))
    if row and any(a.trial for a in row.axles.all()):
        found.append(("quiet", say("On trial below its placard")))
    if stale:
        found.append(("todo", say(f"Target out of date: {', '.join(stale)}")))
    due, why_due = weighing.again(ticket, typed, today)
    if ticket and due.now:
        found.append(("todo", why_due))
    sealed = last.read_at.date() if last else None
    if open_:
        found.append(("todo", say("A round is open")))
    elif row and schedule.round_due(sealed, last.next_on if last else None, today).now:
        why = (
            f": {plain(last.next_why)}"
            if last and last.next_on and schedule.sooner(last.read_at.date(), last.next_on)
            else ""
        )
        ago = f", last {schedule.ago(sealed, today)}" if sealed else ", never done"
        found.append(("todo", say(f"Round due{ago}{why}")))
    if ticket and ticket.made_up:
        found.append(("todo", say("Weighed by a simulated scale: made up, not for the road")))
    if ticket and ticket.way == weighing.WORKED_OUT:
        found.append(("todo", say(f"{ticket.load_state.name}: worked out, not weighed")))
    found += [("attention" if f.urgent else "quiet", say(f.words)) for f in fittings.findings(rig, today)]
    if torque := fittings.retorque(rig):
        found.append(("todo", torque))
    found.sort(key=lambda pair: _RANK[pair[0]])
    if not found and sealed:
        found.append(("fine", say(f"All hold, read {schedule.ago(sealed, today)}")))
    return found


def _tables_since(
    actor: Actor, mine: Sequence[Rig], typed: dict[int, core_rigs.Rig], sets: list[TargetSet]
) -> targets.Shelf | None:  # fmt: skip
    """The tables of all rigs' sizes, with those that had a part at hand; asked for only where one was entered since."""
    later = [row for row in sets if row.tables_since]  # type: ignore[attr-defined]
    if not later:
        return None
    prefetch_related_objects(later, Prefetch("tables", Table.objects.only("pk")))
    return targets.table_marks(actor, {size for r in mine for size in targets.sizes_of(r, typed[r.pk])})


def yard(actor: Actor) -> dict[str, Any]:
    """Every rig with its state in words, the most urgent first. The number of queries does not grow with the rigs."""
    actor.must(May.READ)
    newest_ticket = Weighing.objects.filter(rig=OuterRef("pk"), amended_by=None, load_state__in_force=True).order_by(
        "-weighed_on", "-id"
    )
    newest_set = TargetSet.objects.filter(rig=OuterRef("pk"), load_state__in_force=True).order_by("-id")
    done = Round.objects.filter(parts__rig=OuterRef("pk"), abandoned_at=None)
    newest_round = done.exclude(sealed_at=None).order_by("-opened_at", "-id")
    mine = list(
        fittings.with_wheels_off(rigs.rigs(actor))
        .filter(archived=False)
        .select_related("policy", *trips.WITH_TRIP)
        .annotate(
            ticket_id=Subquery(newest_ticket.values("pk")[:1]),
            set_id=Subquery(newest_set.values("pk")[:1]),
            round_id=Subquery(newest_round.values("pk")[:1]),
            late=rounds.LATE_WAITING,
            open_id=Subquery(done.filter(sealed_at=None).values("pk")[:1]),
        )
    )
    tickets = (
        Weighing.objects.select_related("load_state", "basis")
        .prefetch_related("axles", "basis__axles")
        .in_bulk([r.ticket_id for r in mine if r.ticket_id])
    )
    bands = Prefetch("axles", TargetAxle.objects.only("target_set_id", "number", "state", "trial"))
    sets = (
        TargetSet.objects.annotate(**targets.SINCE)
        .prefetch_related(bands)
        .in_bulk([r.set_id for r in mine if r.set_id])
    )
    done_last = Round.objects.filter(pk__in=[r.round_id for r in mine if r.round_id])
    last_rounds = {
        pk: LastRound(at, words, on, why)
        for pk, at, words, on, why in done_last.values_list("pk", "opened_at", "words", "next_on", "next_why")
        if at and words
    }
    today = timezone.now().date()
    typed_rigs = {r.pk: rigs.rig_of(r) for r in mine}
    shelf = _tables_since(actor, mine, typed_rigs, list(sets.values()))
    heads = {r.pk: r.name for r in mine}
    lines: list[dict[str, Any]] = []
    for rig in mine:
        ticket, last = tickets.get(rig.ticket_id), last_rounds.get(rig.round_id)
        last = last.before_trip(rig) if last else None
        typed, row = typed_rigs[rig.pk], sets.get(rig.set_id)
        stale = targets.out_of_date(row, rig, ticket, actor, shelf) if row else []
        matters = _matters(rig, typed, ticket, row, last, bool(rig.open_id), today, stale)
        if rig.late:
            matters.insert(0, ("attention", rounds.late_words(rig.late)))
        lines.append(
            {
                "id": rig.pk,
                "name": rig.name,
                "fleet_number": rig.fleet_number,
                "kind_name": rig.get_kind_display(),
                "wheels": sum(a.wheels for a in typed.axles) + len(rig.spares.all()),
                "state": matters[0][0] if matters else "quiet",
                "words": matters[0][1] if matters else say("Nothing to say yet"),
                "more": [words for _, words in matters[1:]],
                "weighed_on": ticket.weighed_on if ticket else None,
                "last_round": last.read_at if last else None,
                "round_open": bool(rig.open_id),
                "head": rig.head_id,
                "behind": heads.get(rig.head_id or 0, ""),
                "trailer": rig.kind in core_rigs.TRAILERS,
                "tires": [{"code": code, "word": word} for code, word, _ in last.of(rig)] if last else [],
                "next_check_on": last.next_on if last else None,
            }
        )
    lines.sort(key=lambda line: (_RANK[line["state"]], line["fleet_number"], line["name"]))
    return {"rigs": lines, "archived": rigs.rigs(actor).filter(archived=True).count()}


def sheet(actor: Actor, rig_id: int) -> dict[str, Any]:
    """All that the screens of one rig stand on."""
    train = rigs.train(actor, rig_id, also=("air", "policy", *trips.WITH_TRIP))
    rig = next(r for r in train if r.pk == rig_id)
    ticket = weighing.weighings(actor, rig).filter(amended_by=None, load_state__in_force=True).first()
    row = targets.in_force(actor, rig)
    if row and ticket and row.weighing_id == ticket.pk:
        row.weighing = ticket
    vehicle = air.Vehicle(rig, row, policies.way_of(actor, rig))
    surroundings = air.answer(air.air_of(actor, rig), [vehicle])
    done = Round.objects.filter(parts__rig=rig, abandoned_at=None)
    # Open ones first, then the newest sealed: both in one question.
    newest = done.order_by(
        Case(When(sealed_at=None, then=Value(0)), default=Value(1)), "-opened_at", "-id"
    ).values_list("pk", Coalesce("stands", "result"), "sealed_at", "opened_at", "words", "next_on", "next_why")[:2]
    open_round = next((pk for pk, _, sealed, *_ in newest if sealed is None), None)
    result, last = next(
        (
            (result, LastRound(at, words or [], on, why).before_trip(rig))
            for _, result, sealed, at, words, on, why in newest
            if sealed
        ),
        (None, None),
    )
    today = timezone.now().date()
    told = targets.present(row, rig, ticket, actor) if row else None
    return {
        "rig": rigs.present(rig),
        "train": [rigs.vehicle_out(r) for r in train],
        "stages": _stages(
            rig, ticket, row, surroundings, open_round, result, last, today, told["out_of_date"] if told else []
        ),
        "weighing": weighing.present(ticket, rig) if ticket else None,
        "targets": told,
        "way": policies.way_of(actor, rig),
        "air": surroundings,
        "open_round": open_round,
        "last_round": _last(result, rig.pk) if result else None,
    }


def _last(result: dict[str, Any], rig_id: int) -> dict[str, Any]:
    """The last sealed round as the plan shows it: of a combination every wheel; a trailer's by their own codes."""
    towed = result["rig"] != rig_id
    tires = []
    for wheel in result["wheels"]:
        if towed and wheel["rig"] != rig_id:
            continue
        answer = wheel["after_answer"] or wheel["answer"]
        tires.append(
            {
                "code": wheel["own"] if towed else wheel["code"],
                "kpa": answer["cold_kpa"],
                "floor_kpa": wheel["floor_kpa"],
                "here_kpa": wheel["here_kpa"],
                "ceiling_kpa": wheel["ceiling_kpa"],
                "answer": answer,
            }
        )
    return {"id": result["id"], "sealed_at": result["sealed_at"], "summary": result["summary"], "tires": tires}


def _stages(
    rig: Rig,
    ticket: Weighing | None,
    row: TargetSet | None,
    surroundings: dict[str, Any],
    open_round: int | None,
    result: dict[str, Any] | None,
    last: LastRound | None,
    today: dt.date,
    stale: list[str],
) -> list[dict[str, Any]]:
    """The work line: each stage in a few words."""
    wheels = rigs.wheels_of(rig)
    stages: list[dict[str, Any]] = []

    def stage(key: str, name: str, state: str, words: Phrase) -> None:
        stages.append({"key": key, "name": name, "state": state, "words": words})

    found = fittings.findings(rig, today)
    if found:
        words = say(f"{len(found)} {'finding' if len(found) == 1 else 'findings'} on its tires")
        stage("rig", "Rig", "attention" if any(f.urgent for f in found) else "todo", words)
    else:
        stage("rig", "Rig", "fine", say(f"{len(rig.axles.all())} axles, {len(wheels)} tires"))
    if ticket is None:
        stage("weighing", "Weigh", "todo", say("not weighed"))
    else:
        typed = rigs.rig_of(rig)
        over = weighing.loads_of(ticket, typed).over
        old = weighing.again(ticket, typed, today)[0].now
        how = "worked out" if ticket.way == weighing.WORKED_OUT else "weighed"
        words = (
            say("over a rating")
            if over
            else say(f"{how} {schedule.ago(ticket.weighed_on, today)}{', weigh again' if old else ''}")
        )
        stage("weighing", "Weigh", "attention" if over else "todo" if old else "fine", words)
    if row is None:
        stage("targets", "Target", "todo" if ticket else "quiet", say("none in force"))
    elif stale:
        stage("targets", "Target", "todo", say("out of date"))
    elif any(a.state == "provisional" for a in row.axles.all()):
        stage("targets", "Target", "todo", say("provisional"))
    else:
        values = [a.target_kpa for a in row.axles.all()]
        shown = list(dict.fromkeys(v for v in values if v is not None))
        if None in values:
            stage("targets", "Target", "attention", say("an axle has no pressure"))
        else:
            text = ", ".join(f"{{{i}}}" for i in range(min(3, len(shown))))
            stage("targets", "Target", "fine", say(text, *(kpa(v, "up") for v in shown[:3])))
    bad = any(a["above_floor"] is False or a["below_ceiling"] is False for a in surroundings["axles"])
    # Nothing is fine of which something is not known.
    holds = bool(surroundings["axles"]) and all(a["above_floor"] for a in surroundings["axles"])
    state = "attention" if bad else "todo" if surroundings["air"]["old"] else "fine" if holds else "quiet"
    if stale and state == "fine":
        # Floors of a target that is out of date are not what these tires need now.
        stage("air", "Air", "quiet", say("by a target out of date"))
    else:
        stage("air", "Air", state, surroundings["words"])
    if open_round is not None:
        stage("rounds", "Round", "todo", say("open: go on"))
    elif last is None:
        stage("rounds", "Round", "todo" if row else "quiet", say("never done"))
    else:
        sealed = last.read_at.date()
        due = schedule.round_due(sealed, last.next_on, today)
        words = (
            say(f"due, last {schedule.ago(sealed, today)}") if due.now else say(f"done {schedule.ago(sealed, today)}")
        )
        stage("rounds", "Round", "todo" if due.now else "fine", words)
    if last and (leaks := last.leaks(rig)):
        verb = "leaks" if len(leaks) == 1 else "leak"
        stage("lookback", "Look back", "attention", say(f"{', '.join(leaks)} {verb}"))
    else:
        stage("lookback", "Look back", "quiet", say(result["summary"]) if result else say("nothing sealed yet"))
    return stages
