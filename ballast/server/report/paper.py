"""A fleet's month on paper: its rounds day by day, how its checks were kept, and a line a rig."""

from reportlab.graphics.charts.barcharts import HorizontalBarChart, VerticalBarChart
from reportlab.graphics.shapes import Drawing

from ballast.core import units
from ballast.server.edge.document import HAIR, INK, REGULAR, RUST, SOFT, Document, day
from ballast.server.report.schemas import ReportOut

_HEADS = ("Rig", "Rounds", "On time", "Late", "Missed", "Read", "Out", "Leaks", "Mended", "Filled", "Weigh")
_HIGH = 110


def _days(of: ReportOut, wide: float) -> Drawing:
    """Rounds sealed on each day of the month."""
    drawing = Drawing(wide, _HIGH)
    chart = VerticalBarChart()
    chart.x, chart.y, chart.width, chart.height = 22, 16, wide - 26, _HIGH - 24
    chart.data = [of.days]
    chart.bars[0].fillColor, chart.bars[0].strokeColor = INK, None
    chart.categoryAxis.categoryNames = [str(n) for n in range(1, len(of.days) + 1)]
    chart.valueAxis.valueMin, chart.valueAxis.valueMax = 0, max(4, *of.days)
    for axis in (chart.categoryAxis, chart.valueAxis):
        axis.labels.fontName, axis.labels.fontSize, axis.labels.fillColor, axis.strokeColor = REGULAR, 7, SOFT, HAIR
    drawing.add(chart)
    return drawing


def _kept(of: ReportOut, wide: float) -> Drawing:
    """Checks that fell due: on time, late, missed."""
    drawing = Drawing(wide, 58)
    chart = HorizontalBarChart()
    chart.x, chart.y, chart.width, chart.height = 60, 4, wide - 100, 50
    chart.data = [[of.missed, of.late, of.on_time]]
    for place, color in enumerate((RUST, SOFT, INK)):
        chart.bars[0, place].fillColor, chart.bars[0, place].strokeColor = color, None
    chart.barLabelFormat, chart.barLabels.fontName, chart.barLabels.fontSize = "%d", REGULAR, 8
    chart.barLabels.dx, chart.barLabels.boxAnchor = 8, "w"
    chart.categoryAxis.categoryNames = ["missed", "late", "on time"]
    chart.categoryAxis.labels.fontName, chart.categoryAxis.labels.fontSize = REGULAR, 8
    chart.categoryAxis.strokeColor, chart.valueAxis.visible = HAIR, False
    chart.valueAxis.valueMin, chart.valueAxis.valueMax = 0, max(4, of.missed, of.late, of.on_time)
    drawing.add(chart)
    return drawing


def pdf(of: ReportOut, system: units.System) -> bytes:
    """The report, in a reader's units."""
    paper = Document(f"{of.workspace}: tires in {of.first:%B %Y}", system)
    paper.text(paper.title, 15, bold=True)
    paper.text(f"Made {day(of.made_on)}. From sealed rounds, by their days in UTC.", tone="soft")
    paper.text(f"{of.rounds} rounds", 12, bold=True)
    paper.story.append(_days(of, paper.wide))
    paper.text(f"{of.on_time + of.late + of.missed} checks fell due", 12, bold=True)
    paper.story.append(_kept(of, paper.wide))
    said = ", ".join(f"{s.name} {s.count}" for s in of.said) or "none"
    paper.text(f"Tires as they were found: {said}.")
    amount = f", {paper.amount('pressure', of.filled_kpa)} in the mean" if of.filled_kpa is not None else ""
    paper.text(f"{of.filled} times a tire got air{amount}. Leaks found {of.found}, mended {of.mended}.")
    paper.text(f"Weighings due: {of.weighings}.", tone="rust" if of.weighings else "ink")
    if of.anew:
        paper.text(f"Of {of.anew} rigs it is not known just now whether their weighing is due.", tone="rust")
    for words in of.gauges:
        paper.text(f"{paper.said(words)}.", tone="rust")
    for person in of.people:
        paper.text(f"{person.name}: {person.rounds} {'round' if person.rounds == 1 else 'rounds'}", 8)
    paper.gap()
    cells = [
        [
            paper.line(r.name, 8, bold=True),
            *(paper.line(str(n), 8, right=True, tone="rust" if rust and n else "ink") for n, rust in (
                (r.rounds, False), (r.on_time, False), (r.late, False), (r.missed, True), (r.read, False), (r.out, False),
                (r.found, False), (r.mended, False), (r.filled, False),
            )),
            paper.line("due" if r.weigh else "", 8, right=True, tone="rust"),
        ]
        for r in of.rigs
    ]  # fmt: skip
    paper.table(_HEADS, (0.28, *[0.072] * 10), cells, figures=range(1, 11))
    return paper.built()
