"""Time travel for the demo: its history is entered through the same services, only earlier."""

import datetime as dt
from collections.abc import Iterator
from contextlib import contextmanager
from unittest.mock import patch


@contextmanager
def at(moment: dt.datetime) -> Iterator[None]:
    """Everything inside happens at `moment`: stamps, histories and the weather asked for."""
    with patch("django.utils.timezone.now", return_value=moment):
        yield
