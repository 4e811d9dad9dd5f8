"""The time it is. Practice has a clock of its own, so that faster than life never stamps a real record."""

import datetime as dt
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from django.http import HttpRequest, HttpResponse
from django.utils import timezone

_ahead: ContextVar[dt.timedelta] = ContextVar("ahead", default=dt.timedelta())


def now() -> dt.datetime:
    """The moment it is, by the clock in hand."""
    return timezone.now() + _ahead.get()


def today() -> dt.date:
    """The day it is in UTC, by the clock in hand."""
    return now().date()


def midnight(day: dt.date) -> dt.datetime:
    """The moment a day begins in UTC."""
    return dt.datetime.combine(day, dt.time(), dt.UTC)


def set_ahead(by: dt.timedelta) -> None:
    """From here to the end of the request it is so much later than it is."""
    _ahead.set(by)


@contextmanager
def ahead(by: dt.timedelta) -> Iterator[None]:
    """Inside it is so much later than it is by the real clock; with less than nothing, earlier."""
    token = _ahead.set(by)
    try:
        yield
    finally:
        _ahead.reset(token)


class RealTime:
    """Every request begins by the real clock: threads serve one after the other."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        with ahead(dt.timedelta()):
            return self.get_response(request)
