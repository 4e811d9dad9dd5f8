"""The pressure card on paper: one A5 or half-letter sheet, a second one only where a long combination needs it."""

from collections.abc import Sequence

from reportlab.lib.pagesizes import A5
from reportlab.lib.units import inch, mm
from reportlab.platypus import Flowable, HRFlowable, Spacer, Table, TableStyle

from ballast.core import units
from ballast.core.air import Reading
from ballast.core.targets import SpareTarget
from ballast.core.working import toward
from ballast.server.card.schemas import Card, CardAxle, CardVehicle
from ballast.server.edge.document import HAIR, INK, SOFT, Document, and_more, day

# A line of the card is at least and at most this high [points].
ROWS = (15.0, 30.0)
PAPERS = {"a5": A5, "half-letter": (5.5 * inch, 8.5 * inch)}
_PLAN, _NAME, _CODE = 21 * mm, 16 * mm, 25 * mm
_BAND = (13 * mm, 9 * mm, 9.5 * mm)


class _Code(Flowable):  # type: ignore[misc]
    """The code that leads to the round."""

    def __init__(self, rows: tuple[str, ...]) -> None:
        super().__init__()
        self.rows, self.width, self.height = rows, _CODE, _CODE

    def draw(self) -> None:
        cell = self.width / len(self.rows)
        self.canv.setFillGray(0)
        for r, row in enumerate(self.rows):
            for c, dark in enumerate(row):
                if dark == "1":
                    # A hair larger than its place, so that no white line shows between two dark cells.
                    self.canv.rect(
                        c * cell, self.height - (r + 1) * cell, cell + 0.05, cell + 0.05, stroke=0, fill=1
                    )  # fmt: skip


class _Plan(Flowable):  # type: ignore[misc]
    """The rig from above beside its lines, nose up: each axle at the height of its line, its tires in place."""

    def __init__(self, axles: tuple[CardAxle, ...], rows: int, row: float) -> None:
        super().__init__()
        self.axles, self.row, self.width, self.height = axles, row, 20 * mm, rows * row

    def draw(self) -> None:
        heights = [self.height - self.row * (i + 0.5) for i in range(len(self.axles))]
        middle, half = self.width / 2, self.width * 0.36
        self.canv.setStrokeColor(SOFT)
        self.canv.setLineWidth(0.8)
        self.canv.line(middle, heights[0] + self.row * 0.3, middle, heights[-1] - self.row * 0.3)
        high, wide = min(16.0, self.row * 0.75), 5.0
        self.canv.setFillColor(INK)
        for axle, at in zip(self.axles, heights, strict=True):
            self.canv.line(middle - half, at, middle + half, at)
            places = {1: (0.0,), 2: (-half, half), 4: (-half - 3, -half + 3, half - 3, half + 3)}[axle.wheels]
            for offset in places:
                self.canv.rect(middle + offset - wide / 2, at - high / 2, wide, high, stroke=0, fill=1)


def pdf(cards: Sequence[Card], paper: str, system: units.System) -> bytes:
    """Cards as a PDF document, each on a page of its own, in the units of a system."""
    page = Document(f"Pressure card: {and_more([card.title for card in cards])}", system, PAPERS[paper], 9 * mm)
    page.subject = "; ".join(dict.fromkeys(s for card in cards for s in card.stamps)) or "Cold tire pressures"
    for card in cards:
        page.begin(f"Pressure card: {card.title}")
        _card(page, card)
    return page.built()


def _card(page: Document, card: Card) -> None:
    lines = sum(len(v.axles) + len(v.spares) for v in card.vehicles)
    # A short card is set wider, so that it can be read from the driver's seat.
    row = min(ROWS[1], max(ROWS[0], (page.high - 200 - 66 * len(card.vehicles)) / max(1, lines)))
    _head(page, card)
    for vehicle in card.vehicles:
        since = len(page.story)
        _vehicle(page, vehicle, card, row)
        page.together(since)
    since = len(page.story)
    page.story.append(HRFlowable("100%", 0.6, color=HAIR, spaceBefore=6, spaceAfter=4))
    for caution in card.cautions:
        page.text(caution, 7.5, tone="soft")
    page.text(f"The code leads to its round: {card.address}", 6.5, tone="soft")
    page.together(since)


def _head(page: Document, card: Card) -> None:
    shown = units.shown_in(page.system)
    place = f" at {card.place}" if card.place else ""
    height = units.rounded(units.from_canonical(card.elevation_m, shown["length"]), 0)
    lines = [
        page.line(card.title, 15, bold=True),
        page.line(f"Cold tire pressures in {shown['pressure']}", 9.5, tone="soft"),
        page.line(
            f"Set at {page.amount('temperature', card.set_in_c)}{place}, {height} {shown['length']}", 8.5, tone="soft"
        ),
        page.line(f"Made {day(card.made_on)}", 8.5, tone="soft"),
        *(page.line(page.said(words), 10.5, bold=True, tone="rust") for words in card.out),
        *([page.line(page.said(card.ground), 10.5, bold=True, tone="rust")] if card.ground else []),
        *(page.line(stamp, 9.5, bold=True, tone="rust") for stamp in card.stamps),
    ]
    page.story.append(
        Table([[lines, _Code(card.qr)]], [page.wide - _CODE - 2 * mm, _CODE + 2 * mm], style=_bare(("ALIGN", (1, 0), (1, 0), "RIGHT")))
    )  # fmt: skip


def _bare(*more: tuple[object, ...]) -> TableStyle:
    """A table with no lines and no room between its cells."""
    sides = [(f"{side}PADDING", (0, 0), (-1, -1), 0) for side in ("LEFT", "RIGHT", "TOP", "BOTTOM")]
    return TableStyle([*sides, ("VALIGN", (0, 0), (-1, -1), "TOP"), *more])


def _vehicle(page: Document, vehicle: CardVehicle, card: Card, row: float) -> None:
    how = f"{vehicle.load_state}, weighed {day(vehicle.weighed_on)}" if vehicle.weighed_on else "not weighed"
    page.story += [
        HRFlowable("100%", 0.6, color=INK, spaceBefore=6, spaceAfter=3),
        Table(
            [[page.line(vehicle.shown_name, 11, bold=True), page.line(how, 8.5, tone="soft", right=True)]],
            [page.wide / 2] * 2, style=_bare(),
        ),
        _bands(page, vehicle, card, row),
        Spacer(0, 3),
    ]  # fmt: skip
    every = [r for a in vehicle.axles for r in a.readings]
    marks = [
        words
        for words, out in (
            ("(below the floor)", any(r.above_floor is False for r in every)),
            ("[above the ceiling]", any(r.below_ceiling is False for r in every)),
        )
        if out
    ]
    if marks:
        page.text(f"{' '.join(marks)}: set it again there", 7, tone="soft", right=True)
    for words in vehicle.over:
        page.text(page.said(words), 8.5, bold=True, tone="rust")
    remarks = [f"{a.name}: {page.said(a.words)}" for a in vehicle.axles if a.target_kpa is None]
    if vehicle.provisional:
        remarks.append("Provisional: not weighed, or without a table.")
    remarks += [f"A trial below the placard: {why}" for why in vehicle.trials]
    remarks += [page.said(words) for words in vehicle.unlike]
    if vehicle.out_of_date:
        remarks.append(f"Out of date: {', '.join(vehicle.out_of_date)}.")
    if vehicle.unchecked:
        remarks.append(f"Not checked by a second person: {'; '.join(vehicle.unchecked)}.")
    for line in remarks:
        page.text(line, 8, tone="rust")
    for words in vehicle.ranges:
        page.text(page.said(words), 8)
    if vehicle.tables:
        page.text(
            f"By {'; '.join(vehicle.tables)}. In force since {day(vehicle.put_at)}, {vehicle.put_by}.",
            7.5, tone="soft",
        )  # fmt: skip


def _bands(page: Document, vehicle: CardVehicle, card: Card, row: float) -> Table:
    """The plan at the left, then target, floor and ceiling of each axle, and its readings by temperature."""
    degrees = units.shown_in(page.system)["temperature"]
    heads = ["target", "floor", "ceiling", *(page.figure("temperature", c) for c in card.temperatures_c)]
    heads[-1] = f"{heads[-1]} {degrees}"
    rows = [
        *(_axle(page, a, row) for a in vehicle.axles),
        *(_spare(page, s, row) for s in vehicle.spares),
    ]
    plan = _Plan(vehicle.axles, len(rows), row) if vehicle.axles else ""
    free = (page.wide - _PLAN - _NAME - sum(_BAND)) / len(card.temperatures_c)
    # What cannot be told in figures takes the place of them.
    wide = [("SPAN", (2, i + 1), (-1, i + 1)) for i, (_, *cells) in enumerate(rows) if len(cells) == 1]
    return Table(
        [
            ["", "", *(page.line(h, 7, tone="soft", right=True) for h in heads)],
            *([plan if i == 0 else "", *line, *[""] * (len(heads) + 1 - len(line))] for i, line in enumerate(rows)),
        ],
        [_PLAN, _NAME, *_BAND, *[free] * len(card.temperatures_c)],
        [11, *[row] * len(rows)],
        style=_bare(("SPAN", (0, 1), (0, -1)), ("VALIGN", (1, 1), (-1, -1), "MIDDLE"), *wide),
    )


def _large(row: float) -> float:
    """The size of a target: the largest thing near it."""
    return 12 + (row - ROWS[0]) * 0.35


def _axle(page: Document, axle: CardAxle, row: float) -> list[object]:
    name = page.line(axle.name, 9, bold=True)
    if axle.target_kpa is None:
        return [name, page.line("No pressure: see below", 7.5, bold=True, tone="rust")]
    floor = axle.floor_kpa
    return [
        name,
        page.line(
            page.figure("pressure", axle.target_kpa, toward(axle.target_kpa, axle.ceiling_kpa)), _large(row), bold=True, right=True
        ),
        page.line(
            "" if floor is None else page.figure("pressure", floor, toward(floor, axle.target_kpa)), 8, tone="soft", right=True
        ),
        page.line(page.figure("pressure", axle.ceiling_kpa, "down"), 8, tone="soft", right=True),
        *(_reading(page, r) for r in axle.readings),
    ]  # fmt: skip


def _reading(page: Document, reading: Reading) -> Flowable:
    """A reading outside the band stands in brackets, so that it is one in grey too."""
    shown = page.figure("pressure", reading.kpa)
    out = reading.above_floor is False or reading.below_ceiling is False
    marked = f"({shown})" if reading.above_floor is False else f"[{shown}]" if out else shown
    return page.line(marked, 8, tone="soft" if out else "ink", right=True)


def _spare(page: Document, spare: SpareTarget, row: float) -> list[object]:
    name = page.line(spare.name, 9, bold=True)
    if spare.target_kpa is None:
        return [name, page.line(page.said(spare.words), 7, tone="rust")]
    target = page.figure("pressure", spare.target_kpa, toward(spare.target_kpa, spare.ceiling_kpa))
    return [
        name,
        page.line(target, _large(row), bold=True, right=True),
        "",
        page.line(page.figure("pressure", spare.ceiling_kpa, "down"), 8, tone="soft", right=True),
    ]
