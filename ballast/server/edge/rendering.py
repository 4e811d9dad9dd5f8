"""How an answer becomes JSON: by the serializer that has looked at it already, which is faster than the standard one."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja.renderers import BaseRenderer
from pydantic import BaseModel
from pydantic_core import to_json


class JsonRenderer(BaseRenderer):
    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        # What is no number is unknown: JSON knows only null for it.
        return to_json(data, inf_nan_mode="null")


def written(answer: BaseModel) -> HttpResponse:
    """An answer that is long, written at once from the form it was checked into; NaN is null as above."""
    return HttpResponse(answer.model_dump_json(), content_type=JsonRenderer.media_type)
