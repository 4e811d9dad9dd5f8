"""A round on paper: the blank sheet to write on, the sealed round to file, and its rows for a spreadsheet."""

import datetime as dt
import io
from zoneinfo import ZoneInfo

from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import Canvas

from ballast.core import rounds as core
from ballast.core import units
from ballast.core import weighing as core_weighing
from ballast.core.working import Phrase, join, plain, say, toward
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.paper import MARGIN, RUST, SOFT, Sheet, day, fonts, said
from ballast.server.edge.words import phrase_of
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import ledger, sheet
from ballast.server.rounds.sealed import Mended, Sealed
from ballast.server.targets import in_force
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetSet
from ballast.server.weather.service import MADE_UP
from ballast.server.weighing import services as weighing

_ROW = 26.0


def _begin(title: str, system: units.System) -> tuple[io.BytesIO, Sheet]:
    fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, pageCompression=1, invariant=1)
    canvas.setTitle(title)
    canvas.setAuthor("Gentle Ballast")
    return out, Sheet(canvas, A4, system, title, _ROW)


def _end(out: io.BytesIO, page: Sheet) -> bytes:
    page.canvas.showPage()
    page.canvas.save()
    return out.getvalue()


def _columns(page: Sheet, heads: tuple[tuple[str, float], ...]) -> None:
    """Column heads at their places, a share of the width each."""
    page.down(10)
    for text, x in heads:
        page.text(text, 7.5, MARGIN + x * (page.right - MARGIN), grey=SOFT)
    page.down(4)
    page.rule()


def blank(actor: Actor, rig_id: int, system: units.System) -> tuple[str, bytes]:
    """The title and the sheet of a round to fill in by hand: every wheel in walking order with its target."""
    actor.must(May.READ)
    train = rigs.train(actor, rig_id)
    bands = in_force.each_in_force(in_force.sets(actor, *train))
    sets = [bands.get(v.pk) for v in train]
    lines = sheet.of(actor, train, sets, ledger.newest(train))
    title = train[0].shown_name
    if len(train) > 1:
        title += " with " + ", ".join(v.name for v in train[1:])
    out, page = _begin(f"Round: {title}", system)
    page.down(14)
    page.text(f"Round: {title}", 15, bold=True)
    page.down(26)
    unit = units.SHOWN[system]["pressure"]
    for words in (
        "Date and time ______________    Place ______________________    Gauge __________    By ______________________",
        f"Outside ________ {units.SHOWN[system]['temperature']}    Stood for ________ h    Odometer ____________    "
        "Sun on   left   right   none    Rolled since the last round   yes   no",
    ):
        page.text(words, 9)
        page.down(22)
    for vehicle, row in zip(train, sets, strict=True):
        for told in _said_of(vehicle, row, len(train) > 1):
            page.lines(said(told, system), 9, page.right - MARGIN, RUST, bold=True)
    heads = (
        ("Wheel", 0),
        (f"Target cold, {unit}", 0.3),
        ("Found", 0.44),
        ("Left", 0.56),
        ("Leak", 0.68),
        ("Cap", 0.74),
        ("Note", 0.8),
    )
    _columns(page, heads)
    for line in lines:
        page.room(_ROW)
        page.down(_ROW - 8)
        page.text(f"{line.name} · {line.code}", 10, bold=True, most=0.29 * (page.right - MARGIN))
        shown = page.shown("pressure", line.aim.target_kpa, toward(line.aim.target_kpa or 0.0, line.aim.ceiling_kpa))
        page.text(shown, 12, MARGIN + 0.36 * (page.right - MARGIN), align="right")
        page.down(8)
        page.rule()
    page.down(18)
    page.room(70)
    page.lines(
        "At or below 80 % of its target, and it may have rolled so: no air. Inspect it; heavy and dual tires come off, "
        "deflated first, for a licensed tire service. Never let air out of a warm tire. Park level, brake on, wheels "
        "chocked, away from traffic.",
        9, page.right - MARGIN,
    )  # fmt: skip
    page.down(16)
    page.text("Signed ______________________________", 9)
    stamps = [p for s in sets if s for p in targets.made_from(list(s.tables.all()), s.weighing).stamps]
    page.text("; ".join(dict.fromkeys(stamps)), 9, page.right, bold=True, grey=RUST, align="right")
    return title, _end(out, page)


def _said_of(vehicle: Rig, row: TargetSet | None, several: bool) -> list[Phrase]:
    """What stands over every number of a vehicle: overloads, axles without a pressure, tires that are not as described."""
    typed = rigs.rig_of(vehicle)
    ticket = row.weighing if row else None
    words = [core_weighing.overload_words(c) for c in weighing.loads_of(ticket, typed).over] if ticket else []
    words += [phrase_of(a.answer["words"]) for a in row.axles.all() if a.target_kpa is None] if row else []
    words += typed.unlike
    return [join(say(plain(f"{vehicle.name}:")), w) if several else w for w in words]


def sealed(found: Sealed, system: units.System) -> bytes:
    """A sealed round as a PDF: conditions, every wheel, what is open, what was put right, the split, the signature."""
    out, page = _begin(f"Round of {found.rig_name}", system)
    width = page.right - MARGIN

    def amount(kind: units.Kind, value: float | None) -> str:
        return "–" if value is None else units.show(kind, value, system)

    page.down(14)
    page.text(f"Round of {found.rig_name}", 15, bold=True)
    page.text("; ".join(found.stamps), 9, page.right, bold=True, grey=RUST, align="right")
    page.down(18)
    page.lines(
        f"Sealed {_there(found.sealed_at or found.opened_at, found.time_zone)} by {found.sealed_by}. Gauge {found.gauge_label}. {found.summary.capitalize()}.",
        10,
        width,
    )
    stood = f"stood {found.standing_h:g} h" + ("" if found.cold else ", still warm: estimates")
    if found.shop_c is not None:
        stood = f"in a shop of {amount('temperature', found.shop_c)}: estimates"
    place = found.place or "by hand"
    page.lines(
        f"{place}: {amount('temperature', found.outside_c)}, {amount('length', found.elevation_m)}, {stood}"
        + (f", {amount('distance', found.odometer_km)}" if found.odometer_km else ""),
        10, width,
    )  # fmt: skip
    for words in (*found.over, *found.unlike):
        page.lines(said(words, system), 9, width, RUST, bold=True)
    if found.made_up_weather:
        page.lines(MADE_UP, 9, width, RUST, bold=True)
    for words in found.split:
        page.lines(said(words, system), 9, width)
    unit = units.SHOWN[system]["pressure"]
    _columns(
        page,
        (("Wheel", 0), (f"Target here, {unit}", 0.34), ("Found", 0.48), ("Left", 0.58), ("Answer", 0.68), ("By", 0.88)),
    )
    for w in found.wheels:
        page.room(_ROW)
        page.down(12)
        page.text(f"{w.name} · {w.code}", 9, bold=True, most=0.33 * width)
        for value, x in ((w.here_kpa, 0.42), (_true(w.before), 0.54), (_true(w.after), 0.64)):
            page.text(page.shown("pressure", value), 10, MARGIN + x * width, align="right")
        page.text(said(w.stands.words, system), 9, MARGIN + 0.68 * width, most=0.2 * width)
        page.text(w.before.by if w.before else "", 8, MARGIN + 0.88 * width, grey=SOFT, most=0.12 * width)
        page.down(5)
        for words in w.seen.words:
            page.down(9)
            page.text(said(words, system), 8, MARGIN + 8, grey=SOFT, most=width - 8)
            page.down(4)
        page.rule()
    page.down(16)
    for head, lines in (
        ("Open", found.open_matters),
        ("Findings", found.findings),
        ("Not read", [found.unread_reason] if found.unread_reason else []),
        ("Without a target", [found.without_target] if found.without_target else []),
        ("Put right since", [_amended(a, system) for a in found.amendments]),
    ):
        for i, text in enumerate(lines):
            page.room(24)
            page.lines(f"{head}: {text}" if not i else text, 9, width, bold=head == "Open")
    page.room(40)
    page.down(14)
    if found.next_check_on:
        page.text(f"Next check by {day(found.next_check_on)}: {found.next_check_words}.", 9, most=width)
        page.down(18)
    page.text(f"Signed {found.signed or '______________________________'}", 10)
    return _end(out, page)


def _there(at: dt.datetime, zone: str) -> str:
    """A moment by the clock of its place."""
    local = at.astimezone(ZoneInfo(zone))
    return f"{day(local)}, {local:%H:%M}" + (" UTC" if zone == "UTC" else " there")


def _true(reading: core.Reading | None) -> float | None:
    return reading.corrected_kpa if reading else None


def _amended(a: Mended, system: units.System) -> str:
    if a.kind != "reading":
        words = "; ".join(said(w, system) for w in a.words)
        return f"{a.name or 'The round'}, {words}: {a.reason} ({a.by}, {day(a.at)})"
    which = "left" if a.after else "found"
    return f"{a.name}, {which}: {a.was} to {a.typed}, {a.reason} ({a.by}, {day(a.at)})"
