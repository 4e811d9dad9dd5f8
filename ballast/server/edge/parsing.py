"""JSON as it should be: no NaN, no infinities, told plainly when it is not JSON at all."""

import json
from typing import Any, Never

from django.http import HttpRequest
from ninja.parser import Parser


class Unreadable(ValueError):
    """A body that cannot be read, with what to do about it."""


def _never(constant: str) -> Never:
    raise Unreadable(f"{constant} is not a number. Enter digits.")


class StrictParser(Parser):
    def parse_body(self, request: HttpRequest) -> Any:
        try:
            return json.loads(request.body, parse_constant=_never)
        except Unreadable:
            raise
        except (ValueError, RecursionError):
            raise Unreadable("The body is not JSON. Send one JSON object, in UTF-8.") from None
