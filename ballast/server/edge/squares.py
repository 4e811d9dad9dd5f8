"""Two-dimensional codes, for cameras."""

from reportlab.graphics.barcode.qrencoder import QRCode, QRErrorCorrectLevel


def qr_rows(text: str) -> tuple[str, ...]:
    """A QR code as rows of 0 and 1, the dark ones 1, without its quiet zone."""
    code = QRCode(None, QRErrorCorrectLevel.M)
    code.addData(text)
    code.make()
    cells = range(code.moduleCount)
    return tuple("".join("1" if code.isDark(r, c) else "0" for c in cells) for r in cells)
