"""Signing in and out. Sessions are kept as hashes of their token.

Tries are counted by address and by where they come from, those under way too. Nobody is locked out: the more
tries failed, the longer the next one is held back, so that a guesser gets nowhere and whoever the
address belongs to gets in, if a little later.
"""

from __future__ import annotations

import hashlib
import ipaddress
import secrets
import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import timedelta

from peewee import fn

from ...core.refusals import Refusal
from ...settings import demonstration
from ...store.database import database
from ...store.models import Membership, Person, Session, SignInTry, now
from . import passwords
from .passwords import TooManyTries

LASTS, UNUSED_FOR = timedelta(days=14), timedelta(hours=24)
USE_KEPT_EVERY = timedelta(minutes=5)
COUNTED_FOR = timedelta(minutes=10)
# Failed tries before the next is held back, and the longest it is, in seconds: of an address from one origin,
# of an address from anywhere, of an origin for any address.
FREE, FREE_OF_ADDRESS, FREE_OF_ORIGIN = 5, 20, 30
LONGEST, LONGEST_OF_ADDRESS = 8.0, 3.0
HELD_OF_ORIGIN, HELD = 3, 8  # tries held back at once in a process

_held: Counter[str] = Counter()
_turn = threading.Lock()


class SignInRefused(Refusal):
    """The address and password don't go together."""


def sign_in(email: str, password: str, origin: str, old_token: str | None = None) -> tuple[str, Session]:
    """A new session for a person: its secret token, and its row; the browser's old one ends.

    Args:
        origin: the address the try came from.

    Raises:
        SignInRefused: the address and password don't go together.
        TooManyTries: too many tries from there are held back already.
    """
    email, origin = email.strip().lower()[:200], network(origin)
    attempt = SignInTry.create(email=email, origin=origin)
    _hold_back(_delay(attempt), origin)
    person = Person.get_or_none(Person.email == email)
    right = passwords.is_right(person.password_hash if person else passwords.NOBODY, password)
    if person is None or not right or (person.published and not demonstration()):
        raise SignInRefused(
            "That e-mail address and password don't go together.",
            field="password", remedy="Check both and try again.",
        )  # fmt: skip
    if passwords.wants_hashing_anew(person.password_hash):
        Person.update(password_hash=passwords.hashed(password)).where(Person.id == person.id).execute()
    SignInTry.delete().where((SignInTry.email == email) & (SignInTry.origin == origin)).execute()
    return new_session(person, old_token)


def network(origin: str) -> str:
    """What one customer of a network has: an address of the old kind, a range of the new."""
    try:
        found = ipaddress.ip_address(origin)
    except ValueError:
        return "unknown"
    return str(ipaddress.ip_network((found, 64), strict=False)) if found.version == 6 else str(found)


def _delay(attempt: SignInTry) -> float:
    """How long a try is held back, by those before it, in seconds."""
    earlier = (SignInTry.id < attempt.id) & (SignInTry.at > now() - COUNTED_FOR)
    same_address, same_origin = SignInTry.email == attempt.email, SignInTry.origin == attempt.origin

    def count(*conditions: object) -> int:
        query = SignInTry.select(fn.COUNT(SignInTry.id)).where(earlier, *conditions)
        return int(query.scalar())

    return max(
        _grown(count(same_address, same_origin), FREE, LONGEST),
        _grown(count(same_address), FREE_OF_ADDRESS, LONGEST_OF_ADDRESS),
        _grown(count(same_origin), FREE_OF_ORIGIN, LONGEST),
    )


def _grown(tries: int, free: int, longest: float) -> float:
    return 0.0 if tries < free else min(longest, 0.25 * 2.0 ** min(tries - free, 10))


def _hold_back(seconds: float, origin: str) -> None:
    if seconds:
        with _place(origin, seconds):
            time.sleep(seconds)


@contextmanager
def _place(origin: str, seconds: float) -> Iterator[None]:
    with _turn:
        if _held[origin] >= HELD_OF_ORIGIN or _held.total() >= HELD:
            raise TooManyTries(
                "Too many wrong passwords were tried of late.",
                field="password", remedy=f"Wait {seconds:.0f} seconds and try again.",
                numbers={"wait": seconds},
            )  # fmt: skip
        _held[origin] += 1
    try:
        yield
    finally:
        with _turn:
            _held[origin] -= 1


def new_session(person: Person, old_token: str | None = None) -> tuple[str, Session]:
    """A session of a person: its secret token, and its row; one that the browser had before ends."""
    token = secrets.token_urlsafe(32)
    with database.atomic():
        if old_token:
            sign_out(old_token)
        session = Session.create(
            token_hash=hash_of(token),
            person=person,
            csrf_token=secrets.token_urlsafe(24),
            expires=now() + LASTS,
        )
    return token, session


def session_of(token: str | None) -> Session | None:
    """The running session of a token, with its person."""
    if token is None or signed_in(token) is None:
        return None
    return Session.select(Session, Person).join(Person).where(Session.token_hash == hash_of(token)).first()


def _running() -> object:
    return (Session.expires > now()) & (Session.used > now() - UNUSED_FOR)


def sign_out(token: str) -> None:
    """End the session of a token."""
    Session.delete().where(Session.token_hash == hash_of(token)).execute()


def sign_out_everywhere(person_id: int) -> None:
    """End every session of a person, this one too."""
    Session.delete().where(Session.person == person_id).execute()


def clear() -> None:
    """Clear away sessions that ended, and tries that count no more."""
    Session.delete().where(~_running()).execute()  # type: ignore[operator]
    SignInTry.delete().where(SignInTry.at < now() - COUNTED_FOR).execute()


def hash_of(token: str) -> str:
    """What is kept of a secret token."""
    return hashlib.sha256(token.encode()).hexdigest()


@dataclass(frozen=True)
class SignedIn:
    """Who a browser is signed in as, and what they are in a project it asks of, with that one's ways; None
    where they don't belong to it."""

    person_id: int
    csrf_token: str
    role: str | None
    unit_system: str
    numbers: str
    working_day: float


# One statement for every request there is: written out, as building it each time costs more than asking it.
_SIGNED_IN = """
SELECT s.person_id, s.csrf_token, m.role, COALESCE(j.unit_system, 'metric'), COALESCE(j.numbers, ''),
    COALESCE(j.working_day, 8), s.used
FROM session s JOIN person p ON p.id = s.person_id
LEFT JOIN membership m ON m.person_id = s.person_id AND m.project_id = %s
LEFT JOIN project j ON j.id = m.project_id
WHERE s.token_hash = %s AND s.expires > %s AND s.used > %s AND (NOT p.published OR %s)"""


def signed_in(token: str | None, project_id: int | None = None) -> SignedIn | None:
    """Who a token's running session is of, and their role in a project; that it is used is kept, now and
    then."""
    if not token:
        return None
    moment, kept = now(), hash_of(token)
    asked = (project_id, kept, moment, moment - UNUSED_FOR, demonstration())
    row = database.execute_sql(_SIGNED_IN, asked).fetchone()
    if row is None:
        return None
    *found, used = row
    if used < moment - USE_KEPT_EVERY:
        Session.update(used=moment).where(Session.token_hash == kept).execute()
    return SignedIn(*found)


def role_in(person_id: int, project_id: int) -> str | None:
    """A person's role in a project; None for a project they don't belong to."""
    mine = (Membership.person == person_id) & (Membership.project == project_id)
    return Membership.select(Membership.role).where(mine).scalar()
