"""JSON that is long and seldom read, kept compressed."""

import json
import zlib
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder
from django.db import models


def pack(value: Any) -> bytes:
    """A value as it is kept; the text of a round takes about a ninth of what it is."""
    return zlib.compress(json.dumps(value, cls=DjangoJSONEncoder, separators=(",", ":")).encode())


def unpack(kept: bytes) -> Any:
    return json.loads(zlib.decompress(kept))


class PackedField(models.BinaryField):  # type: ignore[type-arg]
    """A field of JSON values; None is null. It is not searched."""

    def get_db_prep_value(self, value: Any, connection: Any, prepared: bool = False) -> Any:
        return super().get_db_prep_value(None if value is None else pack(value), connection, prepared)

    def from_db_value(self, value: Any, *_: Any) -> Any:
        return None if value is None else unpack(value)

    def to_python(self, value: Any) -> Any:
        return value
