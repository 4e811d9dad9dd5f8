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


class _Tools(threading.local):
    """A thread's own, for they are not to be shared."""

    def __init__(self) -> None:
        self.pack = zstandard.ZstdCompressor(level=_LEVEL, dict_data=_DICTIONARY)
        self.unpack = zstandard.ZstdDecompressor(dict_data=_DICTIONARY)


_tools = _Tools()


def pack(value: Any) -> bytes:
    """A value as it is kept; the text of a round takes about a fifteenth of what it is."""
    return _tools.pack.compress(json.dumps(value, cls=DjangoJSONEncoder, separators=(",", ":")).encode())


def unpack(kept: bytes) -> Any:
    """A value that was packed, now or by an older version."""
    kept = bytes(kept)
    return json.loads(zlib.decompress(kept) if kept.startswith(_ZLIB) else _tools.unpack.decompress(kept))


class PackedField(models.BinaryField):  # type: ignore[type-arg]
    """A field of JSON values; None is null. It is not searched."""

    def get_db_prep_value(self, value: Any, connection: Any, prepared: bool = False) -> Any:
        return super().get_db_prep_value(None if value is None else pack(value), connection, prepared)

    def from_db_value(self, value: Any, *_: Any) -> Any:
        return None if value is None else unpack(value)

    def to_python(self, value: Any) -> Any:
        return value
