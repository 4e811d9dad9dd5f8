"""Running text and tables on paper, laid out by the PDF library: what a line is, not where."""

import io
from collections.abc import Sequence
from typing import Literal
from xml.sax.saxutils import escape

from reportlab.lib.colors import Color
from reportlab.lib.enums import TA_LEFT, TA_RIGHT
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from ballast.core import units
from ballast.core.working import Phrase
from ballast.server.edge.paper import BOLD, HAIR, INK, REGULAR, RUST, SOFT, fonts

Tone = Literal["ink", "soft", "rust"]
_TONES = {"ink": Color(INK, INK, INK), "soft": Color(SOFT, SOFT, SOFT), "rust": Color(*RUST)}
_MARGIN = 14 * mm


class Document:
    """An A4 document in a reader's units, its title over it; `wide` is what a table may take [points]."""

    wide = A4[0] - 2 * _MARGIN

    def __init__(self, title: str, system: units.System) -> None:
        fonts()
        self.title, self.system = title, system
        self.story: list[Flowable] = []
        self.text(title, 15, bold=True)

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
                    ("LINEBELOW", (0, 0), (-1, -1), 0.6, Color(HAIR, HAIR, HAIR)),
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

    def built(self) -> bytes:
        out = io.BytesIO()
        SimpleDocTemplate(
            out, pagesize=A4, leftMargin=_MARGIN, rightMargin=_MARGIN, topMargin=_MARGIN, bottomMargin=_MARGIN,
            title=self.title, author="Gentle Ballast", pageCompression=1, invariant=1,
        ).build(self.story)  # fmt: skip
        return out.getvalue()
