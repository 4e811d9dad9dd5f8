"""Checks: who read what with which gauge when, over a whole workspace, without any round's text."""

import datetime as dt
from collections.abc import Iterator

from django.db.models import Count, OuterRef, QuerySet, Subquery
from django.db.models.functions import Coalesce

from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import person_name
from ballast.server.edge import clock
from ballast.server.edge.finding import every_word, in_turn
from ballast.server.lookback.schemas import CheckLine, ChecksIn, ChecksOut
from ballast.server.rigs.models import shown_name
from ballast.server.rounds.models import Round, Service

PAGE = 60
COLUMNS = (
    "sealed_at_utc",
    "read_at_utc",
    "rig",
    "sealed_by",
    "gauge",
    "place",
    "outside_c",
    "tires",
    "partial",
    "summary",
)


def _found(actor: Actor, of: ChecksIn, last: Round | None = None) -> QuerySet[Round]:
    actor.must(May.READ)
    rows = Round.objects.filter(rig__workspace=actor.workspace, abandoned_at=None).exclude(sealed_at=None)
    rows = every_word(rows, of.find, "rig__name", "rig__fleet_number", "summary", "place")
    if of.member is not None:
        rows = rows.filter(sealed_by__memberships=of.member, sealed_by__memberships__workspace=actor.workspace)
    if of.gauge is not None:
        rows = rows.filter(gauge=of.gauge)
    if of.since is not None:
        rows = rows.filter(opened_at__gte=clock.midnight(of.since))
    if of.until is not None:
        rows = rows.filter(opened_at__lt=clock.midnight(of.until) + dt.timedelta(days=1))
    return in_turn(rows, "opened_at", of.sort == "oldest", last)


def _lines(rows: QuerySet[Round]) -> Iterator[CheckLine]:
    tires = Service.objects.filter(round=OuterRef("pk")).order_by().values("round").annotate(n=Count("pk")).values("n")
    fields = (
        "pk", "rig", "rig__fleet_number", "rig__name", "sealed_at", "opened_at", "sealed_by__first_name", "sealed_by__username",
        "gauge__label", "place", "outside_c", "partial", "summary",
    )  # fmt: skip
    for row in rows.annotate(tires=Coalesce(Subquery(tires), 0)).values(*fields, "tires").iterator(500):
        yield CheckLine(
            id=row["pk"], rig=row["rig"], name=shown_name(row["rig__fleet_number"], row["rig__name"]),
            sealed_at=row["sealed_at"], read_at=row["opened_at"], gauge=row["gauge__label"], place=row["place"],
            by=person_name(row["sealed_by__first_name"], row["sealed_by__username"]), outside_c=row["outside_c"],
            tires=row["tires"], partial=row["partial"], summary=row["summary"],
        )  # fmt: skip


def checks(actor: Actor, of: ChecksIn) -> ChecksOut:
    """A page of the sealed rounds of a workspace, those past one of them. Raises DoesNotExist for one of another workspace."""
    last = None if of.past is None else Round.objects.get(rig__workspace=actor.workspace, pk=of.past)
    listed = list(_lines(_found(actor, of, last)[: PAGE + 1]))
    return ChecksOut(checks=listed[:PAGE], more=len(listed) > PAGE)


def export(actor: Actor, of: ChecksIn) -> Iterator[dict[str, object]]:
    """All that fit, row by row: nothing of it is held."""
    for line in _lines(_found(actor, of)):
        yield {
            "sealed_at_utc": line.sealed_at.isoformat(), "read_at_utc": line.read_at.isoformat(), "rig": line.name,
            "sealed_by": line.by, "gauge": line.gauge, "place": line.place, "outside_c": line.outside_c,
            "tires": line.tires, "partial": line.partial, "summary": line.summary,
        }  # fmt: skip
