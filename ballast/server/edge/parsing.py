"""JSON as it should be: no NaN, no infinities, told plainly when it is not JSON at all."""

import json
from typing import Any

from django.http import HttpRequest
from ninja.errors import HttpError
from ninja.parser import Parser


def _never(constant: str) -> Any:
    raise HttpError(400, f"{constant} is not a number. Enter digits.")


class StrictParser(Parser):
    def parse_body(self, request: HttpRequest) -> Any:
        try:
            return json.loads(request.body, parse_constant=_never)
        except (ValueError, RecursionError):
            raise HttpError(400, "The body is not JSON. Send one JSON object, in UTF-8.") from None
