"""How an answer becomes JSON: by the serializer that has looked at it already, which is faster than the standard one."""

from functools import cache
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja.renderers import BaseRenderer
from pydantic import TypeAdapter
from pydantic_core import to_json


class JsonRenderer(BaseRenderer):
    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        # What is no number is unknown: JSON knows only null for it.
        return to_json(data, inf_nan_mode="null")


@cache
def _form(kind: type) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


def written(answer: Any) -> HttpResponse:
    """An answer that is long, written at once from the form it was checked into, or was made in; NaN is null as above."""
    kind: Any = type(answer)
    return HttpResponse(_form(kind).dump_json(answer), content_type=JsonRenderer.media_type)
