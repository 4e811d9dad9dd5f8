"""JSON that is long and seldom searched, kept compressed: with a dictionary of what the texts of rounds have in common.

What is kept names its dictionary by number and cannot be read without it: a dictionary is never changed, and another one gets
another number. What was kept before there was one is a stream of zlib.
"""

import json
import threading
import zlib
from pathlib import Path
from typing import Any

import zstandard
from django.core.serializers.json import DjangoJSONEncoder
from django.db import models

# Number 1, trained on the demo's rounds.
_DICTIONARY = zstandard.ZstdCompressionDict(Path(__file__).with_name("packed.zdict").read_bytes())
# From here on it finds what repeats in numbers too; beyond it takes ever longer for nothing.
_LEVEL = 15
# How a stream of zlib begins.
_ZLIB = b"\x78"


# One of each for all threads, which take turns: one is done in a thousandth of a second, and keeps two megabytes.
_PACK = zstandard.ZstdCompressor(level=_LEVEL, dict_data=_DICTIONARY)
_UNPACK = zstandard.ZstdDecompressor(dict_data=_DICTIONARY)
_turn = threading.Lock()


def pack(value: Any) -> bytes:
    """A value as it is kept; the text of a round takes about a fifteenth of what it is."""
    text = json.dumps(value, cls=DjangoJSONEncoder, separators=(",", ":")).encode()
    with _turn:
        return _PACK.compress(text)


def unpack(kept: bytes) -> Any:
    """A value that was packed, now or by an older version."""
    kept = bytes(kept)
    if kept.startswith(_ZLIB):
        return json.loads(zlib.decompress(kept))
    with _turn:
        text = _UNPACK.decompress(kept)
    return json.loads(text)


class PackedField(models.BinaryField):  # type: ignore[type-arg]
    """A field of JSON values; None is null. It is not searched."""

    def get_db_prep_value(self, value: Any, connection: Any, prepared: bool = False) -> Any:
        return super().get_db_prep_value(None if value is None else pack(value), connection, prepared)

    def from_db_value(self, value: Any, *_: Any) -> Any:
        return None if value is None else unpack(value)

    def to_python(self, value: Any) -> Any:
        return value
