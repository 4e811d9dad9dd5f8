"""Keys that are told once: what is stored of one is its hash, which is good for nothing but to know it again."""

import hashlib
import secrets

# Of what is told: enough that no one guesses it, and that no slow hash is needed.
_BYTES = 24


def new_key(begins: str = "") -> str:
    """A key that nobody had before."""
    return begins + secrets.token_urlsafe(_BYTES)


def hash_of(key: str) -> str:
    """What is stored of a key."""
    return hashlib.sha256(key.encode()).hexdigest()
