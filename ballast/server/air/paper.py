"""The pressure card on paper: one A5 or half-letter sheet, a second one only where a long combination needs it."""

import io

from reportlab.lib.pagesizes import A5
from reportlab.lib.units import inch, mm
from reportlab.pdfgen.canvas import Canvas

from ballast.core import units
from ballast.core.working import toward
from ballast.server.air.card import Card, CardVehicle
from ballast.server.edge.paper import INK, MARGIN, RUST, SOFT, Sheet, day, fonts, said

# A line of the card is at least and at most this high.
ROWS = (15.0, 30.0)
PAPERS = {"a5": A5, "half-letter": (5.5 * inch, 8.5 * inch)}


def pdf(card: Card, paper: str, system: units.System) -> bytes:
    """The card as a PDF document, in the units of a system."""
    fonts()
    out = io.BytesIO()
    size = PAPERS[paper]
    canvas = Canvas(out, pagesize=size, pageCompression=1, invariant=1)
    canvas.setTitle(f"Pressure card: {card.title}")
    canvas.setAuthor("Gentle Ballast")
    canvas.setSubject("; ".join(card.stamps) or "Cold tire pressures")
    lines = sum(len(v.axles) + len(v.spares) for v in card.vehicles)
    # A short card is set wider, so that it can be read from the driver's seat.
    free = size[1] - 2 * MARGIN - 170 - 62 * len(card.vehicles)
    row = min(ROWS[1], max(ROWS[0], free / max(1, lines)))
    sheet = Sheet(canvas, size, system, card.title, row)
    _head(sheet, card)
    for vehicle in card.vehicles:
        _vehicle(sheet, vehicle, card)
    _foot(sheet, card)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _head(sheet: Sheet, card: Card) -> None:
    side = 25 * mm
    _qr(sheet, card.qr, sheet.right - side, sheet.height - MARGIN - side, side)
    width = sheet.right - side - MARGIN - 4 * mm
    sheet.down(12)
    sheet.text(card.title, 15, bold=True, most=width)
    sheet.down(14)
    unit = units.SHOWN[sheet.system]["pressure"]
    sheet.text(f"Cold tire pressures in {unit}", 9.5, grey=SOFT)
    sheet.down(12)
    place = f" at {card.place}" if card.place else ""
    height = units.rounded(units.from_canonical(card.elevation_m, units.SHOWN[sheet.system]["length"]), 0)
    sheet.text(
        f"Set at {units.show('temperature', card.set_in_c, sheet.system)}{place}, {height} {units.SHOWN[sheet.system]['length']}",
        8.5, grey=SOFT, most=width,
    )  # fmt: skip
    sheet.down(11)
    sheet.text(f"Made {day(card.made_on)}", 8.5, grey=SOFT)
    for stamp in card.stamps:
        sheet.down(13)
        sheet.text(stamp, 9.5, bold=True, grey=RUST, most=width)
    sheet.y = min(sheet.y - 10, sheet.height - MARGIN - side - 4)


def _vehicle(sheet: Sheet, vehicle: CardVehicle, card: Card) -> None:
    rows = len(vehicle.axles) + len(vehicle.spares)
    sheet.room(58 + sheet.row * rows)
    sheet.rule(INK)
    sheet.down(13)
    name = vehicle.shown_name
    sheet.text(name, 11, bold=True, most=sheet.width * 0.45)
    how = f"{vehicle.load_state}, weighed {day(vehicle.weighed_on)}" if vehicle.weighed_on else "not weighed"
    sheet.text(how, 8.5, x=sheet.right, align="right", grey=SOFT, most=sheet.width * 0.45)
    sheet.down(6)
    _band_table(sheet, vehicle, card)
    for words in vehicle.over:
        sheet.lines(said(words, sheet.system), 8.5, sheet.right - MARGIN, RUST, bold=True)
    told = [
        f"{a.name}: {said(a.words, sheet.system)}" for a in vehicle.axles if a.target_kpa is None
    ]  # fmt: skip
    if vehicle.provisional:
        told.append("Provisional: not weighed, or without a table.")
    told += [f"A trial below the placard: {why}" for why in vehicle.trials]
    told += [said(words, sheet.system) for words in vehicle.unlike]
    if vehicle.out_of_date:
        told.append(f"Out of date: {', '.join(vehicle.out_of_date)}.")
    if vehicle.unchecked:
        told.append(f"Not checked by a second person: {'; '.join(vehicle.unchecked)}.")
    for line in told:
        sheet.lines(line, 8, sheet.right - MARGIN, RUST)
    if vehicle.tables:
        sheet.lines(
            f"By {'; '.join(vehicle.tables)}. In force since {day(vehicle.put_at)}, {vehicle.put_by}.",
            7.5,
            sheet.right - MARGIN,
        )
    sheet.down(4)


def _band_table(sheet: Sheet, vehicle: CardVehicle, card: Card) -> None:
    """The plan at the left, then target, floor and ceiling of each axle, and its readings by temperature."""
    temperatures = card.temperatures_c
    plan = 20 * mm
    names = MARGIN + plan + 2 * mm
    first = names + 17 * mm
    columns = [first + 12 * mm, first + 21 * mm, first + 30 * mm]
    wide = (sheet.right - columns[-1] - 2 * mm) / len(temperatures)
    grid = [columns[-1] + 2 * mm + wide * (i + 1) for i in range(len(temperatures))]
    sheet.down(9)
    for x, word in zip(columns, ("target", "floor", "ceiling"), strict=True):
        sheet.text(word, 7, x=x, align="right", grey=SOFT)
    degrees = units.SHOWN[sheet.system]["temperature"]
    for i, (x, c) in enumerate(zip(grid, temperatures, strict=True)):
        shown = sheet.shown("temperature", c)
        sheet.text(shown if i + 1 < len(grid) else f"{shown} {degrees}", 7, x=x, align="right", grey=SOFT)
    heights = [sheet.y - sheet.row * (i + 1) + 4 for i in range(len(vehicle.axles))]
    for axle in vehicle.axles:
        sheet.down(sheet.row)
        sheet.text(axle.name, 9, x=names, bold=True, most=15 * mm)
        if axle.target_kpa is None:
            sheet.text("No pressure: see below", 7.5, x=first - 1 * mm, grey=RUST, bold=True)
            continue
        target, floor, ceiling = axle.target_kpa, axle.floor_kpa, axle.ceiling_kpa
        shown = sheet.shown("pressure", target, toward(target, ceiling))
        sheet.text(shown, _large(sheet), x=columns[0], bold=True, align="right")
        if floor is not None:
            shown = sheet.shown("pressure", floor, toward(floor, target))
            sheet.text(shown, 8, x=columns[1], align="right", grey=SOFT)
        sheet.text(sheet.shown("pressure", axle.ceiling_kpa, "down"), 8, x=columns[2], align="right", grey=SOFT)
        for x, reading in zip(grid, axle.readings, strict=True):
            # A reading outside the band stands in brackets, so that it is one in grey too.
            shown = sheet.shown("pressure", reading.kpa)
            out = reading.above_floor is False or reading.below_ceiling is False
            marked = f"({shown})" if reading.above_floor is False else f"[{shown}]" if out else shown
            sheet.text(marked, 8, x=x, align="right", grey=SOFT if out else INK)
    for spare in vehicle.spares:
        sheet.down(sheet.row)
        sheet.text(spare.name, 9, x=names, bold=True, most=15 * mm)
        if spare.target_kpa is None:
            sheet.text(said(spare.words, sheet.system), 7, x=first - 1 * mm, grey=RUST, most=sheet.right - first)
        else:
            shown = sheet.shown("pressure", spare.target_kpa, toward(spare.target_kpa, spare.ceiling_kpa))
            sheet.text(shown, _large(sheet), x=columns[0], bold=True, align="right")
            sheet.text(sheet.shown("pressure", spare.ceiling_kpa, "down"), 8, x=columns[2], align="right", grey=SOFT)
    _plan(sheet, vehicle, MARGIN + plan / 2, plan, heights)
    sheet.down(12)
    every = [r for a in vehicle.axles for r in a.readings]
    told = [
        words
        for words, out in (
            ("(below the floor)", any(r.above_floor is False for r in every)),
            ("[above the ceiling]", any(r.below_ceiling is False for r in every)),
        )
        if out
    ]
    if told:
        sheet.text(f"{' '.join(told)}: set it again there", 7, x=sheet.right, align="right", grey=SOFT)
        sheet.down(10)


def _large(sheet: Sheet) -> float:
    """The size of a target: the largest thing near it."""
    return 12 + (sheet.row - ROWS[0]) * 0.35


def _plan(sheet: Sheet, vehicle: CardVehicle, middle: float, width: float, heights: list[float]) -> None:
    """The rig from above beside its lines, nose up: each axle at the height of its line, its tires in place."""
    canvas = sheet.canvas
    canvas.setStrokeGray(SOFT)
    canvas.setLineWidth(0.8)
    canvas.line(middle, heights[0] + sheet.row * 0.3, middle, heights[-1] - sheet.row * 0.3)
    tire_h, tire_w = min(16.0, sheet.row * 0.75), 5.0
    half = width * 0.36
    for axle, at in zip(vehicle.axles, heights, strict=True):
        canvas.line(middle - half, at, middle + half, at)
        canvas.setFillGray(INK)
        places = {1: (0.0,), 2: (-half, half), 4: (-half - 3, -half + 3, half - 3, half + 3)}[axle.wheels]
        for offset in places:
            canvas.rect(middle + offset - tire_w / 2, at - tire_h / 2, tire_w, tire_h, stroke=0, fill=1)


def _qr(sheet: Sheet, rows: tuple[str, ...], x: float, y: float, side: float) -> None:
    cell = side / len(rows)
    sheet.canvas.setFillGray(0)
    for r, row in enumerate(rows):
        for c, dark in enumerate(row):
            if dark == "1":
                # A hair larger than its place, so that no white line shows between two dark cells.
                sheet.canvas.rect(x + c * cell, y + side - (r + 1) * cell, cell + 0.05, cell + 0.05, stroke=0, fill=1)


def _foot(sheet: Sheet, card: Card) -> None:
    sheet.room(46)
    sheet.y = MARGIN + 44
    sheet.rule()
    sheet.down(10)
    for line in card.cautions:
        sheet.lines(line, 7.5, sheet.right - MARGIN)
    sheet.text(f"The code leads to its round: {card.address}", 6.5, grey=SOFT, most=sheet.right - MARGIN)
