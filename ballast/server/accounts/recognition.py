"""Whose a cookie is: its session and its person, which every call asks for, by statements that stand ready."""

from typing import Any

from django.contrib.auth.backends import ModelBackend
from django.contrib.sessions.backends.db import SessionStore as Stored
from django.contrib.sessions.models import Session
from django.utils import timezone

from ballast.server.accounts.models import Person
from ballast.server.edge.ready import Ready

_SESSIONS = Ready[Session](lambda key: Session.objects.filter(session_key=key))
_PEOPLE = Ready[Person](lambda pk: Person.objects.filter(pk=pk))


class SessionStore(Stored):
    """Django's sessions in the database (SESSION_ENGINE)."""

    def _get_session_from_db(self) -> Session | None:
        row = _SESSIONS.first(self.session_key) if self.session_key else None
        if row is None or row.expire_date <= timezone.now():
            self._session_key = None
            return None
        return row


class KnownPeople(ModelBackend):
    """Django's people with a password (AUTHENTICATION_BACKENDS)."""

    def get_user(self, user_id: Any) -> Person | None:
        person = _PEOPLE.first(user_id)
        return person if person is not None and self.user_can_authenticate(person) else None
