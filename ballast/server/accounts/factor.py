"""The second factor: a device that shows another six digits every thirty seconds (RFC 6238), and codes in its place."""

import datetime as dt
import secrets
import time
from dataclasses import dataclass

import pyotp
from django.contrib.auth.signals import user_login_failed
from django.http import HttpRequest

from ballast.core.refusal import Refusal
from ballast.server.accounts.models import Person, RecoveryCode, SecondFactor
from ballast.server.edge import clock
from ballast.server.edge.keys import hash_of
from ballast.server.edge.problems import Conflict
from ballast.server.edge.squares import qr_rows
from ballast.server.edge.writing import over_workspaces

_STEP_S = 30
# A clock may be so many steps off, before and after.
_OFF = 1
_CODES = 10
_LETTERS = "abcdefghjkmnpqrstuvwxyz23456789"


@dataclass(frozen=True)
class FactorState:
    """Whether a second factor is asked for, since when, and how many codes in its place are left."""

    on: bool
    since: dt.datetime | None
    codes: int


@dataclass(frozen=True)
class FactorBegun:
    """What is typed into the device, or seen by its camera: the squares of a QR code, row by row, "1" dark."""

    secret: str
    address: str
    squares: list[str]


def state(person: Person) -> FactorState:
    row = SecondFactor.objects.filter(person=person).exclude(confirmed_at=None).first()
    left = RecoveryCode.objects.filter(person=person, used_at=None).count()
    return FactorState(row is not None, row.confirmed_at if row else None, left if row else 0)


@over_workspaces()
def begin(person: Person) -> FactorBegun:
    """A new secret; it counts for nothing until a code of it was seen. Raises Conflict where one counts already."""
    if state(person).on:
        raise Conflict("A second factor is in use. Take it off first, then set up another.")
    secret = pyotp.random_base32()
    SecondFactor.objects.update_or_create(person=person, defaults={"secret": secret, "last_step": 0})
    address = pyotp.TOTP(secret).provisioning_uri(name=person.username, issuer_name="Gentle Ballast")
    return FactorBegun(secret, address, list(qr_rows(address)))


@over_workspaces()
def confirm(person: Person, code: str) -> list[str]:
    """From here on it is asked for; the codes in its place, which are told once. Raises Refusal, Conflict."""
    row = SecondFactor.objects.select_for_update().filter(person=person, confirmed_at=None).first()
    if row is None:
        raise Conflict("There is nothing to confirm. Begin anew.")
    if not _taken(row, code):
        raise Refusal("These are not the digits of now. Look at the device's clock, and type the next ones.", "code")
    row.confirmed_at = clock.now()
    row.save()
    return new_codes(person)


@over_workspaces()
def off(person: Person) -> None:
    """It is asked for no more, and its codes are good for nothing."""
    SecondFactor.objects.filter(person=person).delete()
    RecoveryCode.objects.filter(person=person).delete()


@over_workspaces()
def new_codes(person: Person) -> list[str]:
    """Codes in the place of the device's, each good once; the ones of before are good no more. Raises Conflict."""
    if not state(person).on:
        raise Conflict("No second factor is in use.")
    RecoveryCode.objects.filter(person=person).delete()
    codes = ["-".join("".join(secrets.choice(_LETTERS) for _ in range(5)) for _ in range(3)) for _ in range(_CODES)]
    RecoveryCode.objects.bulk_create(RecoveryCode(person=person, key_hash=hash_of(c)) for c in codes)
    return codes


def must_show(request: HttpRequest, person: Person, code: str) -> None:
    """Raises Refusal for `code` unless it is the device's of now, or one in its place. A wrong one counts as a wrong try."""
    row = SecondFactor.objects.filter(person=person).exclude(confirmed_at=None).first()
    if row is None:
        return
    if not code:
        raise Refusal("Type the six digits that your device shows now, or a recovery code.", "code")
    with over_workspaces():
        locked = SecondFactor.objects.select_for_update().get(pk=row.pk)
        if _taken(locked, code) or _used_up(person, code):
            return
    user_login_failed.send(sender=__name__, credentials={"username": person.username}, request=request)
    raise Refusal("These are not the digits of now, nor a recovery code that is left. Try again.", "code")


def _taken(row: SecondFactor, code: str) -> bool:
    """Whether these are the digits of now, and nobody used them yet; from here on somebody did."""
    digits = "".join(code.split())
    now = int(time.time()) // _STEP_S
    for step in range(now - _OFF, now + _OFF + 1):
        if step > row.last_step and secrets.compare_digest(pyotp.TOTP(row.secret).at(step * _STEP_S), digits):
            row.last_step = step
            row.save(update_fields=["last_step"])
            return True
    return False


def _used_up(person: Person, code: str) -> bool:
    unused = RecoveryCode.objects.filter(person=person, key_hash=hash_of(code.strip().lower()), used_at=None)
    return bool(unused.update(used_at=clock.now()))
