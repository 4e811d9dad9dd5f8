"""Days as people mean them, whatever their time zone."""

import datetime as dt

from ballast.server.edge import clock

# Clocks of phones and devices may be ahead by so much.
CLOCKS_APART = dt.timedelta(minutes=5)


def is_ahead(at: dt.datetime) -> bool:
    """Whether a moment lies in the future, by more than a clock may be off."""
    return at > clock.now() + CLOCKS_APART


def latest_day() -> dt.date:
    """The date where it is latest on Earth: nobody's today lies in the future."""
    return (clock.now() + dt.timedelta(hours=14)).date()
