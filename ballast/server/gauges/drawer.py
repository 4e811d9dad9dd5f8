"""The drawer as it is looked for: searched, counted and ordered by what is kept of each gauge, a page of it read."""

import datetime as dt
from collections.abc import Iterator
from contextlib import suppress

from django.db import IntegrityError, OperationalError
from django.db.models import Count, F, Q, QuerySet
from django.db.models.expressions import OrderBy

from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.files import Listed, in_units
from ballast.server.edge.ready import Ready
from ballast.server.edge.writing import soon_or_not
from ballast.server.gauges.models import DrawerLine, Gauge
from ballast.server.gauges.schemas import DrawerIn, DrawerOut, GaugeOut
from ballast.server.gauges.services import compared, present

# So many are shown, or read for a file, at a time.
PAGE = 50
_SAID = ("retired", "label", "words", "asks", "due_on", "within_kpa")
_HOLDS = ("known", "day", "until")
_OF = Ready[Gauge](lambda workspace, which: Gauge.objects.of(workspace).filter(pk__in=which))


def _counts(today: dt.date) -> Q:
    """The lines that hold today as they are kept."""
    return Q(known=F("marks"), day__lte=today) & (Q(until=None) | Q(until__gte=today))


def _line(row: Gauge, known: int, today: dt.date) -> DrawerLine:
    said = present(row)
    # Once it is overdue no day changes what is said of it.
    until = said.due_on if said.due_on is not None and today <= said.due_on else None
    return DrawerLine(
        gauge=row, workspace_id=row.workspace_id, known=known, day=today, until=until, retired=said.retired, label=said.label,
        words=f"{said.label} {said.kind_name} {said.keeper}".lower(), asks=said.condition is not None, due_on=said.due_on,
        within_kpa=said.uncertainty_kpa,
    )  # fmt: skip


def renew(actor: Actor) -> None:
    """Works out anew the lines that no longer count. Where others write at this moment it is left to the next who reads."""
    today = clock.today()
    lines = DrawerLine.objects.filter(workspace=actor.workspace)
    # The marks are read before the rows: what is written from here on marks anew.
    marks = dict(lines.exclude(_counts(today)).values_list("gauge", "marks"))
    if not marks:
        return
    rows = [_line(r, marks[r.pk], today) for r in compared(_OF(actor.workspace.pk, list(marks)))]
    with suppress(OperationalError, IntegrityError), soon_or_not():
        DrawerLine.objects.bulk_create(
            rows, update_conflicts=True, unique_fields=["gauge"], update_fields=[*_SAID, *_HOLDS]
        )


def differing(actor: Actor) -> list[str]:
    """The gauges of which another line is kept, as one that counts, than is worked out now; none is as it must be."""
    today = clock.today()
    lines = {one.pk: one for one in DrawerLine.objects.filter(_counts(today), workspace=actor.workspace)}
    anew = [_line(r, lines[r.pk].known, today) for r in compared(_OF(actor.workspace.pk, list(lines)))]
    return [
        f"{line.label}: {name} is kept as {getattr(lines[line.pk], name)!r} and is {getattr(line, name)!r}"
        for line in anew
        for name in (*_SAID, "until")
        if getattr(line, name) != getattr(lines[line.pk], name)
    ]


def _fit(find: str) -> Q:
    """The lines in which every word that is looked for stands, and those of which it is not known."""
    fit = Q()
    for word in find.lower().split():
        fit &= Q(words__contains=word) | ~_counts(clock.today())
    return fit


def _asking() -> Q:
    """Before which something must be said, or it is not known whether; never a retired one."""
    return Q(retired=False) & (Q(asks=True) | ~_counts(clock.today()))


_ORDERS: dict[str, tuple[str | OrderBy, ...]] = {
    "label": (),
    # What is not known before all.
    "due": (F("due_on").asc(nulls_first=True),),
    "doubt": ("-within_kpa",),
}


def _found(actor: Actor, of: DrawerIn) -> QuerySet[DrawerLine]:
    """Those that are asked for, in their order, retired ones after all."""
    lines = DrawerLine.objects.filter(_fit(of.find), workspace=actor.workspace)
    return (lines.filter(_asking()) if of.asks else lines).order_by("retired", *_ORDERS[of.sort], "label")


def _read(actor: Actor, which: list[int]) -> list[GaugeOut]:
    """Some gauges, in the order in which they are named."""
    rows = {r.pk: r for r in compared(_OF(actor.workspace.pk, which))}
    return [present(rows[pk]) for pk in which if pk in rows]


def page(actor: Actor, of: DrawerIn) -> DrawerOut:
    """A page of the gauges that fit."""
    actor.must(May.READ)
    renew(actor)
    fit = _fit(of.find)
    counted = DrawerLine.objects.filter(workspace=actor.workspace).aggregate(
        total=Count("pk"), fit=Count("pk", filter=fit), asking=Count("pk", filter=fit & _asking())
    )
    which = _found(actor, of).values_list("pk", flat=True)[of.first : of.first + PAGE]
    return DrawerOut(
        gauges=_read(actor, list(which)), page=PAGE, total=counted["total"], asking=counted["asking"],
        found=counted["asking"] if of.asks else counted["fit"],
    )  # fmt: skip


_COLUMNS = (
    "gauge", "kind", "low_kpa", "high_kpa", "resolution_kpa", "uncertainty_kpa", "compared_on", "due_on", "said", "keeper", "retired",
)  # fmt: skip


def as_rows(actor: Actor, of: DrawerIn) -> Listed:
    """The whole list as it is asked for, as a file of rows."""
    actor.must(May.READ)
    renew(actor)
    which = list(_found(actor, of).values_list("pk", flat=True))
    return in_units(_COLUMNS, _rows(actor, which), actor.person.units)


def _rows(actor: Actor, which: list[int]) -> Iterator[dict[str, object]]:
    for first in range(0, len(which), PAGE):
        for g in _read(actor, which[first : first + PAGE]):
            yield {
                "gauge": g.label, "kind": g.kind_name, "low_kpa": g.low_kpa, "high_kpa": g.high_kpa,
                "resolution_kpa": g.resolution_kpa, "uncertainty_kpa": g.uncertainty_kpa, "compared_on": g.compared_on,
                "due_on": g.due_on, "said": g.condition.show(actor.person.units) if g.condition else "", "keeper": g.keeper,
                "retired": g.retired,
            }  # fmt: skip
