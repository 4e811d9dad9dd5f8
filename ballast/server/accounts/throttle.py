"""How often a wrong sign-in may be tried: by name and by address, each wait twice the one before.

An honest person is never locked out by another address: what counts is what came from where they are.
"""

import datetime as dt

from axes.handlers.base import AxesHandler
from axes.models import AccessFailureLog, AccessLog
from django.contrib.auth.models import AbstractBaseUser
from django.http import HttpRequest

from ballast.server.edge import clock
from ballast.server.edge.address import address_of

# Wrong tries that cost no wait: of a name from one address; of that, once the name is tried from everywhere, where it never
# got in; of all names from one address.
FREE, FREE_STRANGER, FREE_ADDRESS = 5, 1, 30
# From so many wrong tries of a name on, wherever they come from, it is being tried from everywhere.
EVERYWHERE = 25
FIRST, LONGEST = dt.timedelta(seconds=10), dt.timedelta(minutes=15)
REMEMBERED, KNOWN = dt.timedelta(days=1), dt.timedelta(days=90)


def _after(failures: int, free: int) -> dt.timedelta:
    """How long is waited after so many wrong tries."""
    beyond = failures - free
    return dt.timedelta() if beyond < 0 else min(LONGEST, FIRST * 2 ** min(beyond, 12))


def wait(username: str, address: str) -> dt.timedelta:
    """How long this name is not tried again from this address; nothing: it may be tried now."""
    now, name = clock.now(), username.lower()
    recent = AccessFailureLog.objects.filter(attempt_time__gt=now - REMEMBERED).order_by("-attempt_time")
    of_pair = list(recent.filter(username=name, ip_address=address or None).values_list("attempt_time", flat=True)[:20])
    from_here = recent.filter(ip_address=address or None)
    free = FREE
    if recent.filter(username=name).count() >= EVERYWHERE:
        been = AccessLog.objects.filter(username=name, ip_address=address or None, attempt_time__gt=now - KNOWN)
        free = FREE if been.exists() else FREE_STRANGER
    until = [of_pair[0] + _after(len(of_pair), free)] if of_pair else []
    if (count := from_here.count()) >= FREE_ADDRESS:
        until.append(from_here.values_list("attempt_time", flat=True)[0] + _after(count, FREE_ADDRESS))
    return max((max(until, default=now) - now), dt.timedelta())


class Throttle(AxesHandler):  # type: ignore[misc]  # the package has no types
    """What the sign-in asks before it looks at a password, and tells afterwards."""

    def is_locked(self, request: HttpRequest, credentials: dict[str, str] | None = None) -> bool:
        waits = wait((credentials or {}).get("username") or "", address_of(request))
        request.ballast_waits = waits  # type: ignore[attr-defined]
        return bool(waits)

    def user_login_failed(
        self, sender: object, credentials: dict[str, str], request: HttpRequest | None = None, **_: object
    ) -> None:
        # What is turned away before it is looked at is no try.
        if request is None or getattr(request, "axes_locked_out", False):
            return
        AccessFailureLog.objects.create(**_row(request, credentials.get("username") or ""))

    def user_logged_in(self, sender: object, request: HttpRequest, user: AbstractBaseUser, **_: object) -> None:
        row = _row(request, user.get_username())
        AccessLog.objects.create(**row)
        AccessFailureLog.objects.filter(username=row["username"], ip_address=row["ip_address"]).delete()


def _row(request: HttpRequest, username: str) -> dict[str, object]:
    return {
        "username": username.lower()[:255],
        "ip_address": address_of(request) or None,
        "user_agent": "",
        "path_info": "",
    }


def forget() -> int:
    """Takes away what counts no more; how many rows."""
    now = clock.now()
    old, _ = AccessFailureLog.objects.filter(attempt_time__lt=now - REMEMBERED).delete()
    older, _ = AccessLog.objects.filter(attempt_time__lt=now - KNOWN).delete()
    return int(old + older)
