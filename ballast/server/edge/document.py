"""Running text and tables on paper, laid out by the PDF library: what a line is, not where."""

import datetime as dt
import io
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Literal
from xml.sax.saxutils import escape

from reportlab.lib.colors import Color
from reportlab.lib.enums import TA_LEFT, TA_RIGHT
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    Flowable,
    KeepTogether,
    PageBreak,
    Paragraph,
    SimpleDocTemplate,
    Spacer,
    Table,
    TableStyle,
)

from ballast.core import units, working
from ballast.core.working import Phrase
from ballast.server.edge.writing import stand_aside

FONTS = Path(__file__).parent / "fonts"
REGULAR, BOLD = "Card", "Card-Bold"
INK, SOFT, HAIR, RUST = (
    Color(0.09, 0.09, 0.09),
    Color(0.36, 0.36, 0.36),
    Color(0.75, 0.75, 0.75),
    Color(0.64, 0.23, 0.11),
)
Tone = Literal["ink", "soft", "rust"]
_TONES = {"ink": INK, "soft": SOFT, "rust": RUST}


def fonts() -> None:
    """The page's own font, for paper too."""
    if REGULAR not in pdfmetrics.getRegisteredFontNames():
        for name, file in ((REGULAR, "Regular"), (BOLD, "Bold")):
            pdfmetrics.registerFont(TTFont(name, FONTS / f"AtkinsonHyperlegibleNext-{file}.ttf"))


def day(value: dt.date | None) -> str:
    """A date as it is said everywhere; a dash where it is not known."""
    return working.day(value) if value else "–"


def and_more(titles: Sequence[str]) -> str:
    """What a document of several parts is called.

    >>> and_more(["Syzygy"]), and_more(["Syzygy", "Umbra", "Perigee"])
    ('Syzygy', 'Syzygy and 2 more')
    """
    return titles[0] + (f" and {len(titles) - 1} more" if len(titles) > 1 else "")


class _Calls(Flowable):  # type: ignore[misc]
    """Takes no room, and calls something where it comes to stand."""

    def __init__(self, what: Callable[[], None]) -> None:
        super().__init__()
        self.what, self.width, self.height = what, 0, 0

    def draw(self) -> None:
        self.what()


class Document:
    """A document in a reader's units; `wide` is what a table may take, `high` what a page holds [points]."""

    def __init__(
        self, title: str, system: units.System, size: tuple[float, float] = A4, margin: float = 14 * mm
    ) -> None:  # fmt: skip
        fonts()
        self.title, self.system, self.size, self.margin = title, system, size, margin
        self.wide, self.high = size[0] - 2 * margin, size[1] - 2 * margin
        self.subject, self._part = "", title
        self.story: list[Flowable] = []

    def line(
        self, text: str, size: float = 9, bold: bool = False, tone: Tone = "ink", right: bool = False
    ) -> Paragraph:  # fmt: skip
        """A paragraph, to be put where it belongs."""
        style = ParagraphStyle(
            "line", fontName=BOLD if bold else REGULAR, fontSize=size, leading=size * 1.3, textColor=_TONES[tone],
            alignment=TA_RIGHT if right else TA_LEFT,
        )  # fmt: skip
        return Paragraph(escape(text), style)

    def text(self, text: str, size: float = 9, bold: bool = False, tone: Tone = "ink", right: bool = False) -> None:
        self.story += [self.line(text, size, bold, tone, right), Spacer(0, 3)]

    def gap(self, height: float = 8) -> None:
        self.story.append(Spacer(0, height))

    def together(self, since: int) -> None:
        """Keeps what came since on one page."""
        self.story[since:] = [KeepTogether(self.story[since:])]

    def table(
        self, heads: Sequence[str], shares: Sequence[float], rows: Sequence[Sequence[object]], row_height: float | None = None, figures: Sequence[int] = ()
    ) -> None:  # fmt: skip
        """A table whose heads stand again on every page; `shares` of the width for each column, `figures` are set right."""
        head = [self.line(h, 7.5, tone="soft", right=i in figures) for i, h in enumerate(heads)]
        widths = [share * self.wide for share in shares]
        made = Table(
            [head, *rows], widths, [None, *[row_height] * len(rows)], repeatRows=1, hAlign="LEFT"
        )  # fmt: skip
        made.setStyle(
            TableStyle(
                [
                    ("LINEBELOW", (0, 0), (-1, -1), 0.6, HAIR),
                    ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                    ("LEFTPADDING", (0, 0), (-1, -1), 0),
                    ("RIGHTPADDING", (0, 0), (-1, -1), 6),
                    ("TOPPADDING", (0, 0), (-1, -1), 3),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 4),
                ]
            )
        )
        self.story.append(made)

    def said(self, words: Phrase) -> str:
        return words.show(self.system)

    def figure(self, kind: units.Kind, value: float | None, toward: units.Toward = "nearest") -> str:
        """A figure without its unit; a dash where it is not known."""
        return "–" if value is None else units.show(kind, value, self.system, toward).rsplit(" ", 1)[0]

    def amount(self, kind: units.Kind, value: float | None) -> str:
        return "–" if value is None else units.show(kind, value, self.system)

    def begin(self, title: str) -> None:
        """A part of its own, on a new page: from here on every sheet after its first says that it is of this."""
        if self.story:
            # The page that comes next is a first one.
            self.story += [_Calls(lambda: self._of("")), PageBreak()]
        self.story.append(_Calls(lambda: self._of(title)))

    def _of(self, title: str) -> None:
        self._part = title

    def built(self) -> bytes:
        stand_aside()
        out = io.BytesIO()
        # The library's frame keeps six points to itself on every side.
        margin = self.margin - 6
        SimpleDocTemplate(
            out, pagesize=self.size, leftMargin=margin, rightMargin=margin, topMargin=margin, bottomMargin=margin,
            title=self.title, author="Gentle Ballast", subject=self.subject, lang="en", pageCompression=1, invariant=1,
        ).build(self.story, onLaterPages=self._continued)  # fmt: skip
        return out.getvalue()

    def _continued(self, canvas: Canvas, _: object) -> None:
        """Every sheet after the first says what it is of."""
        if self._part:
            canvas.setFont(BOLD, 9)
            canvas.setFillColor(INK)
            canvas.drawString(self.margin, self.size[1] - self.margin + 8, f"{self._part}, continued")
