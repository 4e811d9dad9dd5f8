"""Passwords that are long and still guessed."""

import itertools
import re

from django.contrib.auth.models import AbstractBaseUser
from django.core.exceptions import ValidationError

_FEWEST = 5


class Guessable:
    """Refuses a few characters over and over, one word again and again, and rows of neighbors."""

    def validate(self, password: str, user: AbstractBaseUser | None = None) -> None:
        plain = re.sub(r"[\W_]+", "", password.lower())
        steps = {ord(b) - ord(a) for a, b in itertools.pairwise(plain)}
        if len(set(password.lower())) < _FEWEST or re.fullmatch(r"(.+?)\1+", plain) or len(steps) == 1:
            raise ValidationError(self.get_help_text())

    def get_help_text(self) -> str:
        return "This is one thing over and over, and is guessed early. Take a few words that do not belong together."
