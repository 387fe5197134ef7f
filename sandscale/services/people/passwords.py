"""Passwords: how strong they must be, and their hashes. Hashing costs a processor, so one is worked out at a
time in each process, and whoever waits too long for theirs is sent away."""

from __future__ import annotations

import secrets
import threading
from collections.abc import Iterable, Iterator
from contextlib import contextmanager

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from zxcvbn import zxcvbn

from ...core.refusals import BadEntry, Refusal

SHORTEST, LONGEST = 8, 200
STRENGTH = 3  # of 4: beyond what a determined guesser without the hash gets to
LOOKED_AT = 72  # characters; looking at more takes long and adds nothing
LONGEST_WAIT = 5.0  # seconds

_hasher = PasswordHasher(time_cost=2, memory_cost=32 * 1024, parallelism=1)
# Checked when no such person exists, so that the answer takes as long as for a wrong password.
NOBODY = _hasher.hash(secrets.token_urlsafe(16))
_turn = threading.BoundedSemaphore(1)


class TooManyTries(Refusal):
    """Someone is guessing, or many sign in at once; ``numbers["wait"]`` are the seconds to wait."""


def check(password: str, known: Iterable[str] = (), field: str = "password") -> None:
    """Refuse a password that is easily guessed.

    Args:
        known: words that a guesser of this person's would try first.

    Raises:
        BadEntry: it is too short, too long or too weak; the sentence says why.
    """
    if not SHORTEST <= len(password) <= LONGEST:
        raise BadEntry(f"A password has {SHORTEST} to {LONGEST} characters.", field=field)
    found = zxcvbn(password[:LOOKED_AT], user_inputs=[*known, "sand", "scale", "sandscale"])
    if found["score"] < STRENGTH:
        why = found["feedback"]["warning"] or "It would be among the first that are tried."
        remedy = "Use several words that don't belong together."
        raise BadEntry(f"That password is easily guessed. {why}", field=field, remedy=remedy)


def hashed(password: str) -> str:
    """The hash to keep of a password."""
    with _one_at_a_time():
        return _hasher.hash(password)


def is_right(kept: str, password: str) -> bool:
    """Whether a password is the one a hash was kept of."""
    with _one_at_a_time():
        try:
            return _hasher.verify(kept, password)
        except (VerificationError, InvalidHashError):
            return False


def wants_hashing_anew(kept: str) -> bool:
    """Whether a hash was made with other costs than today's."""
    return _hasher.check_needs_rehash(kept)


@contextmanager
def _one_at_a_time() -> Iterator[None]:
    if not _turn.acquire(timeout=LONGEST_WAIT):
        raise TooManyTries("Many people are signing in just now.", remedy="Try again.", numbers={"wait": 2})
    try:
        yield
    finally:
        _turn.release()
