"""Pictures on the disk: made anew from what was sent, without what a camera adds, named by their content."""

import hashlib
import io
import os
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from PIL import Image, ImageOps, UnidentifiedImageError

from ballast.core.refusal import Refusal

LONG_EDGE = 1600
MOST_BYTES = 400_000
# More than any phone takes; a small file that unfolds to more is none.
MOST_PIXELS = 60_000_000
FORMATS = ("JPEG", "PNG", "WEBP")
_QUALITIES = (84, 74, 62, 48, 34, 20)


@dataclass(frozen=True)
class Made:
    """A picture as it is kept: a JPEG of at most 400,000 bytes, its edges [px]."""

    data: bytes
    width: int
    height: int

    @property
    def name(self) -> str:
        return hashlib.sha256(self.data).hexdigest()


def make(data: bytes, field: str = "content") -> Made:
    """What is kept of a picture that was sent: turned upright, long edge 1,600 px at most, nothing but its pixels.

    Raises Refusal for what is none, for a format that is not understood, and for one that unfolds to too much.
    """
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as sent:
            if sent.width * sent.height > MOST_PIXELS:
                raise Refusal(f"The picture has more than {MOST_PIXELS:,} pixels. Take it smaller.", field)
            upright = ImageOps.exif_transpose(sent)
            on_white = Image.new("RGB", upright.size, "white")
            layer = upright.convert("RGBA")
            on_white.paste(layer, mask=layer.getchannel("A"))
    except Refusal:
        raise
    except UnidentifiedImageError:
        raise Refusal(
            "That is no picture in JPEG, PNG or WebP. Save it as one of these and choose it again.", field
        ) from None
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise Refusal("The picture breaks off, or is damaged. Take or choose it again.", field) from None
    on_white.thumbnail((LONG_EDGE, LONG_EDGE))
    for quality in _QUALITIES:
        out = io.BytesIO()
        on_white.save(out, "JPEG", quality=quality, optimize=True)
        if out.tell() <= MOST_BYTES:
            break
    return Made(out.getvalue(), on_white.width, on_white.height)


def path_of(name: str) -> Path:
    return settings.PICTURES / name[:2] / f"{name}.jpg"


def write(made: Made) -> None:
    """Keeps a picture; one that is there already is not written again."""
    path = path_of(made.name)
    if path.exists():
        return
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    part = path.with_name(f"{path.name}.{os.getpid()}.part")
    try:
        with open(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
            out.write(made.data)
            out.flush()
            os.fsync(out.fileno())
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)
