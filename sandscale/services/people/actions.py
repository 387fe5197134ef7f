"""People signing in and out. Passwords are kept as argon2 hashes, sessions as hashes of their token."""

from __future__ import annotations

import hashlib
import re
import secrets
from datetime import timedelta

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from ...core.refusals import BadEntry, Refusal
from ...settings import demonstration
from ...store.database import database
from ...store.models import Invitation, Membership, Person, Session, SignInFailure, now
from .views import InvitationView

LASTS = timedelta(days=14)


SHORTEST_PASSWORD = 10


INVITED_FOR = timedelta(days=14)


MOST_FAILURES, FAILURES_WITHIN = 8, timedelta(minutes=10)


_hasher = PasswordHasher()


# Checked when no such person exists, so that the answer takes as long as for a wrong password.
_NOBODY = _hasher.hash(secrets.token_urlsafe(16))


class TooManyTries(Refusal):
    """Someone is guessing."""


class SignInRefused(Refusal):
    """The address and password don't go together."""


def add_person(name: str, email: str, password: str, *, published: bool = False) -> Person:
    """A new person who can sign in.

    Args:
        published: whether the password is known to all, as the demonstration's is.

    Raises:
        BadEntry: the address is no e-mail address or taken, or the password too short.
    """
    email = address(email)
    _check_password(password)
    if not name.strip():
        raise BadEntry("A person needs a name.", field="name")
    if Person.get_or_none(Person.email == email):
        raise BadEntry(f"{email} is already known.", field="email", remedy="Sign in, or use another address.")
    return Person.create(
        name=name.strip()[:120], email=email, password_hash=_hasher.hash(password), published=published
    )


def _check_password(password: str) -> None:
    if len(password) < SHORTEST_PASSWORD:
        raise BadEntry(f"A password has at least {SHORTEST_PASSWORD} characters.", field="password")


def change_password(session: Session, now_: str, new: str) -> None:
    """Give the person of a session another password; their other sessions end.

    Raises:
        BadEntry: the password they have isn't the one given, or the new one is too short.
    """
    person = session.person
    try:
        _hasher.verify(person.password_hash, now_)
    except (VerifyMismatchError, InvalidHashError):
        raise BadEntry(
            "That is not the password you have.", field="password", remedy="Type it again."
        ) from None
    _check_password(new)
    with database.atomic():
        Person.update(password_hash=_hasher.hash(new)).where(Person.id == person.id).execute()
        others = (Session.person == person.id) & (Session.token_hash != session.token_hash)
        Session.delete().where(others).execute()


def address(email: str) -> str:
    """An e-mail address as it is kept.

    Raises:
        BadEntry: it is none.
    """
    written = email.strip().lower()
    if not re.fullmatch(r"[^@\s]+@[^@\s]+", written) or len(written) > 200:
        raise BadEntry(f"“{email.strip()[:60]}” is not an e-mail address.", field="email")
    return written


def invite(project_id: int, email: str, role: str) -> InvitationView:
    """Keep a place in a project for someone who has no account yet; an earlier invitation is replaced."""
    token = secrets.token_urlsafe(24)
    with database.atomic():
        Invitation.delete().where((Invitation.project == project_id) & (Invitation.email == email)).execute()
        Invitation.create(
            project=project_id, email=email, role=role, token_hash=_hash(token), expires=now() + INVITED_FOR
        )
    return InvitationView(email=email, token=token)


def accept(token: str, name: str, password: str) -> tuple[str, Session]:
    """Make the account an invitation was for, with the place it keeps and no other, and sign in.

    Anyone may invite any address to a project of their own and reads that token: it must open nothing else.

    Raises:
        SignInRefused: the invitation has lapsed, was taken back or was used.
        BadEntry: the name or password doesn't fit.
    """
    found = Invitation.get_or_none((Invitation.token_hash == _hash(token)) & (Invitation.expires > now()))
    if found is None:
        raise SignInRefused("This invitation no longer holds.", remedy="Ask for a new one.")
    with database.atomic():
        person = add_person(name, found.email, password)
        Membership.create(project=found.project_id, person=person, role=found.role)
        Invitation.delete().where(Invitation.id == found.id).execute()
    return sign_in(found.email, password)


def sign_in(email: str, password: str) -> tuple[str, Session]:
    """A new session for a person: its secret token, and its row.

    Raises:
        SignInRefused: the address and password don't go together.
        TooManyTries: the address was tried too often of late.
    """
    email, since = email.strip().lower()[:200], now() - FAILURES_WITHIN
    if (
        SignInFailure.select().where((SignInFailure.email == email) & (SignInFailure.at > since)).count()
        >= MOST_FAILURES
    ):
        raise TooManyTries(
            "Too many wrong passwords for that address.",
            field="password",
            remedy="Wait ten minutes and try again.",
        )
    person = Person.get_or_none(Person.email == email)
    try:
        _hasher.verify(person.password_hash if person else _NOBODY, password)
    except (VerifyMismatchError, InvalidHashError):
        person = None
    if person is not None and person.published and not demonstration():
        person = None
    if person is None:
        SignInFailure.delete().where(SignInFailure.at < since).execute()
        SignInFailure.create(email=email)
        raise SignInRefused(
            "That e-mail address and password don't go together.",
            field="password",
            remedy="Check both and try again.",
        )
    token = secrets.token_urlsafe(32)
    with database.atomic():
        Session.delete().where(Session.expires < now()).execute()
        session = Session.create(
            token_hash=_hash(token),
            person=person,
            csrf_token=secrets.token_urlsafe(24),
            expires=now() + LASTS,
        )
    return token, session


def session_of(token: str | None) -> Session | None:
    """The running session of a token."""
    if not token:
        return None
    return (
        Session.select(Session, Person)
        .join(Person)
        .where((Session.token_hash == _hash(token)) & (Session.expires > now()))
        .first()
    )


def sign_out(token: str) -> None:
    """End the session of a token."""
    Session.delete().where(Session.token_hash == _hash(token)).execute()


def role_in(person_id: int, project_id: int) -> str | None:
    """A person's role in a project; None for a project they don't belong to."""
    return (
        Membership.select(Membership.role)
        .where((Membership.person == person_id) & (Membership.project == project_id))
        .scalar()
    )


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
