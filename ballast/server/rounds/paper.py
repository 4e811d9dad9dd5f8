"""A round on paper: the blank sheet to write on, and the sealed round to file."""

import datetime as dt
from collections.abc import Sequence
from zoneinfo import ZoneInfo

from ballast.core import rounds as core
from ballast.core import units
from ballast.core import weighing as core_weighing
from ballast.core.working import Phrase, day, join, plain, say, toward
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.document import Document, and_more
from ballast.server.edge.words import phrase_of
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import ledger, sheet
from ballast.server.rounds.schemas import Mended
from ballast.server.rounds.sealed import Sealed
from ballast.server.targets import in_force
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetSet
from ballast.server.weather.service import MADE_UP
from ballast.server.weighing import services as weighing

# A line that is written on by hand [points].
_ROW = 26.0
_CAUTION = (
    "At or below 80 % of its target, and it may have rolled so: no air. Inspect it; heavy and dual tires come off, "
    "deflated first, for a licensed tire service. Never let air out of a warm tire. Park level, brake on, wheels "
    "chocked, away from traffic."
)


def blank(actor: Actor, rig_ids: Sequence[int], system: units.System) -> tuple[str, bytes]:
    """The title and the sheets of rounds to fill in by hand, a page for each: every wheel in walking order with its target."""
    actor.must(May.READ)
    trains = [rigs.train(actor, pk) for pk in rig_ids]
    titles = [_title(train) for train in trains]
    page = Document(f"Round: {and_more(titles)}", system)
    for title, train in zip(titles, trains, strict=True):
        page.begin(f"Round: {title}")
        page.text(f"Round: {title}", 15, bold=True)
        _blank(page, actor, train)
    return and_more(titles), page.built()


def _title(train: list[Rig]) -> str:
    return " with ".join(filter(None, (train[0].shown_name, ", ".join(v.name for v in train[1:]))))


def _blank(page: Document, actor: Actor, train: list[Rig]) -> None:
    system = page.system
    bands = in_force.each_in_force(in_force.sets(actor, *train))
    sets = [bands.get(v.pk) for v in train]
    lines = sheet.of(actor, train, sets, ledger.newest(train))
    degrees = units.shown_in(system)["temperature"]
    page.gap()
    for words in (
        "Date and time ______________\u00a0\u00a0\u00a0 Place ______________________\u00a0\u00a0\u00a0 Gauge __________\u00a0\u00a0\u00a0 By ______________________",
        f"Outside ________ {degrees}\u00a0\u00a0\u00a0 Stood for ________ h\u00a0\u00a0\u00a0 Odometer ____________\u00a0\u00a0\u00a0 Sun on left / right / none",
        "Rolled since the last round\u00a0\u00a0 yes / no",
    ):
        page.text(words)
        page.gap()
    for vehicle, row in zip(train, sets, strict=True):
        for remark in _said_of(vehicle, row, len(train) > 1):
            page.text(page.said(remark), bold=True, tone="rust")
    page.table(
        ("Wheel", f"Target cold, {units.shown_in(system)['pressure']}", "Found", "Left", "Leak", "Cap", "Note"),
        (0.34, 0.13, 0.12, 0.12, 0.06, 0.06, 0.17),
        [_to_fill_in(page, line) for line in lines],
        _ROW,
        (1,),
    )
    since = len(page.story)
    page.gap(12)
    page.text(_CAUTION, tone="soft")
    page.gap()
    page.text("Signed ______________________________")
    stamps = [p for s in sets if s for p in targets.made_from(list(s.tables.all()), s.weighing).stamps]
    for stamp in dict.fromkeys(stamps):
        page.text(stamp, bold=True, tone="rust")
    page.together(since)


def _to_fill_in(page: Document, line: core.WheelLine) -> list[object]:
    target = line.aim.target_kpa
    shown = page.figure("pressure", target, toward(target or 0.0, line.aim.ceiling_kpa))
    name = page.line(f"{line.name} · {line.code}", 10, bold=True)
    return [name, page.line(shown, 12, right=True), "", "", "", "", ""]


def _said_of(vehicle: Rig, row: TargetSet | None, several: bool) -> list[Phrase]:
    """What stands over every number of a vehicle: overloads, axles without a pressure, tires that are not as described."""
    typed = rigs.rig_of(vehicle)
    ticket = row.weighing if row else None
    words = [core_weighing.overload_words(c) for c in weighing.loads_of(ticket, typed).over] if ticket else []
    words += [phrase_of(a.answer["words"]) for a in row.axles.all() if a.target_kpa is None] if row else []
    words += typed.unlike
    return [join(say(plain(f"{vehicle.name}:")), w) if several else w for w in words]


def sealed(value: Sealed, system: units.System) -> bytes:
    """A sealed round as a PDF: conditions, every wheel, what is open, what was put right, the split, the signature."""
    page = Document(f"Round of {value.rig_name}", system)
    page.text(page.title, 15, bold=True)
    for stamp in value.stamps:
        page.text(stamp, bold=True, tone="rust")
    at = _there(value.sealed_at or value.opened_at, value.time_zone)
    page.text(
        f"Sealed {at} by {value.sealed_by}. Gauge {value.gauge_label}. {value.in_short[:1].upper()}{value.in_short[1:]}.",
        10,
    )
    page.text(_read_in(page, value), 10)
    for words in (*value.over, *value.unlike):
        page.text(page.said(words), bold=True, tone="rust")
    if value.made_up_weather:
        page.text(MADE_UP, bold=True, tone="rust")
    for words in value.split:
        page.text(page.said(words))
    page.gap()
    page.table(
        ("Wheel", f"Target here, {units.shown_in(system)['pressure']}", "Found", "Left", "Answer", "By"),
        (0.34, 0.12, 0.09, 0.09, 0.24, 0.12),
        [_wheel(page, w) for w in value.wheels],
        figures=(1, 2, 3),
    )
    page.gap()
    for head, lines in (
        ("Open", value.open_matters),
        ("Findings", value.findings),
        ("Not read", (value.unread_reason,) if value.unread_reason else ()),
        ("Without a target", (value.without_target,) if value.without_target else ()),
        ("Put right since", [_amended(page, a) for a in value.amendments]),
    ):
        _listed(page, head, lines)
    since = len(page.story)
    page.gap()
    if value.next_check_on:
        page.text(f"Next check by {day(value.next_check_on)}: {value.next_check_words}.")
    page.gap()
    page.text(f"Signed {value.signed or '______________________________'}", 10)
    page.together(since)
    return page.built()


def _read_in(page: Document, value: Sealed) -> str:
    stood = f"stood {value.standing_h:g} h" + ("" if value.cold else ", still warm: estimates")
    if value.shop_c is not None:
        stood = f"in a shop of {page.amount('temperature', value.shop_c)}: estimates"
    air = f"{page.amount('temperature', value.outside_c)}, {page.amount('length', value.elevation_m)}"
    odometer = f", {page.amount('distance', value.odometer_km)}" if value.odometer_km else ""
    return f"{value.place or 'by hand'}: {air}, {stood}{odometer}"


def _wheel(page: Document, w: core.Wheel) -> list[object]:
    name = [page.line(f"{w.name} · {w.code}", bold=True)]
    name += [page.line(page.said(words), 8, tone="soft") for words in w.seen.words]
    values = (w.here_kpa, *(r.corrected_kpa if r else None for r in (w.before, w.after)))
    return [
        name,
        *(page.line(page.figure("pressure", value), 10, right=True) for value in values),
        page.line(page.said(w.stands.words)),
        page.line(w.before.by if w.before else "", 8, tone="soft"),
    ]


def _listed(page: Document, head: str, lines: Sequence[str]) -> None:
    for i, text in enumerate(lines):
        page.text(text if i else f"{head}: {text}", bold=head == "Open")


def _there(at: dt.datetime, zone: str) -> str:
    """A moment by the clock of its place."""
    local = at.astimezone(ZoneInfo(zone))
    return f"{day(local)}, {local:%H:%M}" + (" UTC" if zone == "UTC" else " there")


def _amended(page: Document, a: Mended) -> str:
    if a.kind != "reading":
        words = "; ".join(page.said(w) for w in a.words)
        return f"{a.name or 'The round'}, {words}: {a.reason} ({a.by}, {day(a.at)})"
    which = "left" if a.after else "found"
    return f"{a.name}, {which}: {a.was} to {a.typed}, {a.reason} ({a.by}, {day(a.at)})"
