"""Paper: a canvas with a pen that goes down the page, in the font that the page uses."""

import datetime as dt
from pathlib import Path
from typing import Any, Literal

from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from ballast.core import units, working
from ballast.core.working import Phrase

FONTS = Path(__file__).parent / "fonts"
REGULAR, BOLD = "Card", "Card-Bold"
INK, SOFT, HAIR, RUST, FILL = 0.09, 0.36, 0.75, (0.64, 0.23, 0.11), 0.93
MARGIN = 9 * mm


def fonts() -> None:
    if REGULAR not in pdfmetrics.getRegisteredFontNames():
        for name, file in ((REGULAR, "Regular"), (BOLD, "Bold")):
            pdfmetrics.registerFont(TTFont(name, FONTS / f"AtkinsonHyperlegibleNext-{file}.ttf"))


class Sheet:
    """A canvas with a pen that goes down the page; begins a new one where it must."""

    def __init__(
        self, canvas: Canvas, size: tuple[float, float], system: units.System, title: str, row: float
    ) -> None:  # fmt: skip
        self.canvas, self.system, self.title, self.row = canvas, system, title, row
        self.width, self.height = float(size[0]), float(size[1])
        self.y = self.height - MARGIN

    @property
    def right(self) -> float:
        return float(self.width - MARGIN)

    def room(self, height: float) -> None:
        """Turns the page where less than `height` is left."""
        if self.y - height < MARGIN:
            self.canvas.showPage()
            self.y = self.height - MARGIN
            self.text(f"{self.title}, continued", 9, bold=True)
            self.down(14)

    def down(self, by: float) -> None:
        self.y -= by

    def pen(self, size: float, bold: bool = False, grey: float | tuple[float, float, float] = INK) -> None:
        self.canvas.setFont(BOLD if bold else REGULAR, size)
        if isinstance(grey, tuple):
            self.canvas.setFillColorRGB(*grey)
        else:
            self.canvas.setFillGray(grey)

    def text(
        self, text: str, size: float, x: float | None = None, bold: bool = False,
        grey: float | tuple[float, float, float] = INK, align: Literal["left", "right", "center"] = "left", most: float | None = None,
    ) -> None:  # fmt: skip
        """A line at the pen's height, shortened to `most` points wide."""
        font = BOLD if bold else REGULAR
        if most is not None and pdfmetrics.stringWidth(text, font, size) > most:
            while text and pdfmetrics.stringWidth(text + "…", font, size) > most:
                text = text[:-1]
            text += "…"
        self.pen(size, bold, grey)
        draw = {
            "left": self.canvas.drawString,
            "right": self.canvas.drawRightString,
            "center": self.canvas.drawCentredString,
        }[align]
        draw(MARGIN if x is None else x, self.y, text)

    def lines(
        self, text: str, size: float, width: float, grey: float | tuple[float, float, float] = SOFT, bold: bool = False
    ) -> None:
        """A paragraph, broken at words."""
        font = BOLD if bold else REGULAR
        line = ""
        for word in text.split():
            tried = f"{line} {word}".strip()
            if pdfmetrics.stringWidth(tried, font, size) > width and line:
                self.text(line, size, grey=grey, bold=bold)
                self.down(size * 1.25)
                line = word
            else:
                line = tried
        self.text(line, size, grey=grey, bold=bold, most=width)
        self.down(size * 1.25)

    def rule(self, grey: float = HAIR) -> None:
        self.canvas.setStrokeGray(grey)
        self.canvas.setLineWidth(0.6)
        self.canvas.line(MARGIN, self.y, self.right, self.y)

    def shown(self, kind: units.Kind, value: float | None, toward: units.Toward = "nearest") -> str:
        """A figure without its unit, in the person's; a dash where it is not known."""
        return "–" if value is None else units.show(kind, value, self.system, toward).rsplit(" ", 1)[0]


def said(words: Any, system: units.System) -> str:
    """A phrase of the card in the person's units; stored ones come as dicts."""
    if isinstance(words, Phrase):
        return words.show(system)
    values = [units.show(v["kind"], v["value"], system, v["toward"]) for v in words["values"]]
    return str(words["text"].format(*values))


def day(value: dt.date | None) -> str:
    """A date as it is said everywhere; a dash where it is not known."""
    return working.day(value) if value else "–"
