"""A fleet's month, put together from what rounds keep of themselves: no round's text is read."""

import calendar
import datetime as dt
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from django.db.models import Avg, Case, Count, F, Q, QuerySet, Value, When, Window
from django.db.models.functions import Lag

from ballast.core import lookback as core
from ballast.core import standing
from ballast.core.rounds import WORDS
from ballast.core.working import Phrase, day, plain, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import person_name
from ballast.server.edge import clock
from ballast.server.report.schemas import DoneByOut, MonthIn, ReportOut, RigMonthOut, SaidOut
from ballast.server.rigs.models import Rig
from ballast.server.rounds import found_out
from ballast.server.rounds.models import Round, RoundPart, Service
from ballast.server.schedule import services as schedule

# A check that falls due in a month was read at most so long before, and so long before a leak was named or not.
_BACK = dt.timedelta(days=70)
COLUMNS = (
    "rig", "rounds", "checks_on_time", "checks_late", "checks_missed", "tires_read", "tires_out_of_bounds", "leaks_found",
    "leaks_mended", "tires_filled", "weighing_due",
)  # fmt: skip
# What is out of bounds: whatever asks for air, or for less of it.
_ASKS = [word for word, use in WORDS.items() if use.asks_for_air]


@dataclass(frozen=True)
class _Span:
    """A month in UTC, by its days."""

    first: dt.date
    last: dt.date

    @property
    def within(self) -> tuple[dt.datetime, dt.datetime]:
        return clock.midnight(self.first), clock.midnight(self.last) + dt.timedelta(days=1)


@dataclass
class _Rig:
    """What is counted of a rig."""

    rounds: int = 0
    kept: core.Kept = field(default_factory=core.Kept)
    read: int = 0
    out: int = 0
    found: int = 0
    mended: int = 0
    filled: int = 0


def _sealed(actor: Actor) -> QuerySet[Round]:
    rows = Round.objects.filter(rig__workspace=actor.workspace, abandoned_at=None, partial=False)
    return rows.exclude(sealed_at=None)


def _of(first: dt.date) -> _Span:
    return _Span(first, first.replace(day=calendar.monthrange(first.year, first.month)[1]))


def _span(actor: Actor, month: str) -> _Span:
    """A month that is named; else the one it is, or while nothing was sealed in it the one before."""
    if month:
        return _of(dt.date.fromisoformat(f"{month}-01"))
    this = _of(clock.today().replace(day=1))
    if _sealed(actor).filter(opened_at__gte=this.within[0]).exists():
        return this
    return _of((this.first - dt.timedelta(days=1)).replace(day=1))


def _checks(actor: Actor, span: _Span, rigs: dict[int, _Rig]) -> None:
    """The rounds of each rig, and how its checks were kept; a round is one of every vehicle in it."""
    start, end = span.within
    parts = RoundPart.objects.filter(round__in=_sealed(actor).filter(opened_at__gte=start - _BACK, opened_at__lt=end))
    of: dict[int, list[tuple[dt.date, dt.date | None]]] = {}
    rows = parts.order_by("round__opened_at", "round_id").values_list("rig", "round__opened_at", "round__next_on")
    for rig, at, due in rows.iterator(2000):
        of.setdefault(rig, []).append((at.date(), due))
    for rig, checks in of.items():
        if rig in rigs:
            rigs[rig].rounds = sum(span.first <= on <= span.last for on, _ in checks)
            rigs[rig].kept = core.kept(checks, span.first, span.last, clock.today())


def _tires(actor: Actor, span: _Span, rigs: dict[int, _Rig]) -> None:
    """What was said of each rig's tires, what was filled, and which leaks turned."""
    start, end = span.within
    services = Service.objects.filter(rig__workspace=actor.workspace, at__lt=end)
    month = services.filter(at__gte=start).order_by()
    for rig, read, out, filled in month.values_list("rig").annotate(
        read=Count("pk"), out=Count("pk", Q(word__in=_ASKS)), filled=Count("pk", Q(left_kpa__gt=F("found_kpa")))
    ):
        if rig in rigs:
            rigs[rig].read, rigs[rig].out, rigs[rig].filled = read, out, filled
    # A tire through its rotations; where none is recorded, its wheel.
    unknown = [Case(When(tire=None, then=F(name)), default=Value(None)) for name in ("rig", "wheel")]
    before = Window(Lag("named"), partition_by=[F("tire"), *unknown], order_by=[F("at").asc(), F("pk").asc()])
    turns: dict[int, list[tuple[bool | None, bool]]] = {}
    followed = services.filter(at__gte=start - _BACK).annotate(before=before).filter(Q(before=True) | Q(named=True))
    for rig, at, was, now in followed.order_by().values_list("rig", "at", "before", "named"):
        # Not in the database: there it would take away what was before, too.
        if at >= start:
            turns.setdefault(rig, []).append((was, now))
    for rig, named in turns.items():
        if rig in rigs:
            of = core.turned(named)
            rigs[rig].found, rigs[rig].mended = of.found, of.mended


def _gauges(actor: Actor, due: Sequence[schedule.Due]) -> list[Phrase]:
    """What is to be said of gauges: found out by rounds, or due to be compared."""
    return found_out.named(actor) + [
        say(f"{plain(d.name)} is due to be compared since {day(d.on)}") for d in due if d.kind == "gauge" and d.on
    ]


def report(actor: Actor, of: MonthIn) -> ReportOut:
    """A fleet's month."""
    actor.must(May.READ)
    span, today = _span(actor, of.month), clock.today()
    start, end = span.within
    rows = Rig.objects.of(actor.workspace).filter(archived=False).order_by("fleet_number", "name", "id")
    listed = list(rows.only("pk", "fleet_number", "name"))
    rigs = {rig.pk: _Rig() for rig in listed}
    _checks(actor, span, rigs)
    _tires(actor, span, rigs)
    month = _sealed(actor).filter(opened_at__gte=start, opened_at__lt=end)
    who = Counter(person_name(*names) for names in month.values_list("sealed_by__first_name", "sealed_by__username"))
    on = Counter(at.date() for at in month.values_list("opened_at", flat=True))
    services = Service.objects.filter(rig__workspace=actor.workspace, rig__archived=False, at__gte=start, at__lt=end)
    said = dict(services.order_by().values_list("word").annotate(n=Count("pk")))
    filled = services.filter(left_kpa__gt=F("found_kpa")).aggregate(mean=Avg(F("left_kpa") - F("found_kpa")))
    every, anew = schedule.dues(actor)
    due = [d for d in every if standing.due_by(d.on, min(span.last, today))]
    weigh = {d.rig for d in due if d.kind == "weigh"}
    kept = sum((r.kept for r in rigs.values()), core.Kept())
    days = [span.first + dt.timedelta(days=n) for n in range((span.last - span.first).days + 1)]
    # What somebody should look at first: missed checks, then tires out of bounds, then leaks.
    listed.sort(key=lambda rig: (-rigs[rig.pk].kept.missed, -rigs[rig.pk].out, -rigs[rig.pk].found))
    return ReportOut(
        month=f"{span.first:%Y-%m}", first=span.first, last=span.last, workspace=actor.workspace.name, made_on=today,
        rounds=month.count(), on_time=kept.on_time, late=kept.late, missed=kept.missed, days=[on[d] for d in days],
        people=[DoneByOut(name=name, rounds=n) for name, n in who.most_common()],
        said=[SaidOut(word=w, name=WORDS[w].summary, count=said[w]) for w in WORDS if said.get(w)],
        found=sum(r.found for r in rigs.values()), mended=sum(r.mended for r in rigs.values()),
        filled=sum(r.filled for r in rigs.values()), filled_kpa=filled["mean"], weighings=len(weigh), gauges=_gauges(actor, due),
        rigs=[
            RigMonthOut(
                rig=rig.pk, name=rig.shown_name, rounds=of_rig.rounds, on_time=of_rig.kept.on_time, late=of_rig.kept.late,
                missed=of_rig.kept.missed, read=of_rig.read, out=of_rig.out, found=of_rig.found, mended=of_rig.mended,
                filled=of_rig.filled, weigh=rig.pk in weigh,
            )
            for rig in listed
            for of_rig in (rigs[rig.pk],)
        ],
        anew=anew,
    )  # fmt: skip


def rows(of: ReportOut) -> Iterator[dict[str, object]]:
    """A row a rig."""
    for r in of.rigs:
        yield {
            "rig": r.name, "rounds": r.rounds, "checks_on_time": r.on_time, "checks_late": r.late,
            "checks_missed": r.missed, "tires_read": r.read, "tires_out_of_bounds": r.out, "leaks_found": r.found,
            "leaks_mended": r.mended, "tires_filled": r.filled, "weighing_due": r.weigh,
        }  # fmt: skip
