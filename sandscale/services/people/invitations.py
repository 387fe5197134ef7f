"""Invitations into a project. Whoever has an account takes theirs up signed in; whoever has none gets a
letter, whose token goes to that address and nowhere else: it proves the address, and admits to this one
project."""

from __future__ import annotations

import secrets
from datetime import timedelta

from peewee import IntegrityError

from ...settings import mail, public_address
from ...store.database import database
from ...store.models import Invitation, Membership, Person, Project, Session, now
from ..keeping import jobs
from ..keeping.acting import Actor, Missing
from . import passwords
from .accounts import address, checked_name
from .letters import send
from .signing_in import SignInRefused, hash_of, new_session
from .views import InvitedView

LASTS = timedelta(days=14)
LETTER = "letter"  # the job that sends one


def invite(actor: Actor, email: str, role: str) -> None:
    """Keep a place in the actor's project for an address; an earlier invitation of it is replaced."""
    email = address(email)
    with database.atomic():
        mine = (Invitation.project == actor.project_id) & (Invitation.email == email)
        Invitation.delete().where(mine).execute()
        fields = {"project": actor.project_id, "email": email, "role": role, "expires": now() + LASTS}
        row = Invitation.create(**fields, invited_by=actor.person_id)
        if mail():
            jobs.begin(actor, LETTER, {"invitation": row.id})


def send_letter(invitation_id: int) -> None:
    """Write to whoever is invited; a job's work. Written again, the letter before is worth nothing."""
    row = Invitation.get_or_none(Invitation.id == invitation_id)
    if row is None:
        return
    token = secrets.token_urlsafe(24)
    Invitation.update(token_hash=hash_of(token)).where(Invitation.id == row.id).execute()
    by = f"{row.invited_by.name} invites you" if row.invited_by_id else "You are invited"
    send(
        row.email,
        f"Invitation to “{row.project.name}”",
        f"{by} into the project “{row.project.name}” as its {row.role}.\n\n"
        f"If you have an account, sign in: the invitation waits there.\n{public_address()}\n\n"
        f"If you have none, make one here. This link is for you alone and holds until "
        f"{row.expires:%d %b %Y}:\n{public_address()}/invited/{token}\n",
    )


def waiting_for(person: Person) -> list[InvitedView]:
    """The invitations of a person who has an account."""
    query = (
        Invitation.select(Invitation, Project)
        .join(Project)
        .where(_open() & (Invitation.email == person.email))
    )
    return [
        InvitedView(
            id=row.id, project=row.project.name, role=row.role,
            by=row.invited_by.name if row.invited_by_id else "", expires=row.expires.date(),
        )
        for row in query.order_by(Invitation.id)
    ]  # fmt: skip


def take_up(person: Person, invitation_id: int) -> int:
    """Take up an invitation of one's own; gives the project. It serves once, however often it is tried.

    Raises:
        Missing: it has lapsed, was taken back, was used, or is someone else's.
    """
    with database.atomic():
        return _taken(person, (Invitation.id == invitation_id) & (Invitation.email == person.email))


def decline(person: Person, invitation_id: int) -> None:
    """Turn an invitation of one's own down."""
    mine = (Invitation.id == invitation_id) & (Invitation.email == person.email)
    if not Invitation.delete().where(mine).execute():
        raise Missing("That invitation no longer holds.")


def accept(token: str, name: str, password: str) -> tuple[str, Session]:
    """Make the account that a letter invites to, with the place it keeps and no other, and sign in.

    Raises:
        SignInRefused: the invitation has lapsed, was taken back or was used; or the address has an account.
        BadEntry: the name or password doesn't fit.
    """
    mine = (Invitation.token_hash == hash_of(token)) & _open()
    found = Invitation.get_or_none(mine)
    if found is None:
        raise SignInRefused("This invitation no longer holds.", remedy="Ask for a new one.")
    if Person.select().where(Person.email == found.email).exists():
        raise SignInRefused(
            f"{found.email} has an account already.",
            remedy="Sign in; the invitation waits in your list of projects.", code="has-account",
        )  # fmt: skip
    name = checked_name(name)
    passwords.check(password, [name, found.email])
    kept = passwords.hashed(password)
    try:
        with database.atomic():
            person = Person.create(name=name, email=found.email, password_hash=kept)
            _taken(person, mine)
    except (IntegrityError, Missing):
        raise SignInRefused("This invitation no longer holds.", remedy="Ask for a new one.") from None
    return new_session(person)


def _open() -> object:
    return Invitation.expires > now()


def _taken(person: Person, which: object) -> int:
    """The project that one invitation admits a person to, if nobody took it before; within a transaction."""
    row = Invitation.delete().where(which & _open()).returning(Invitation.project, Invitation.role).execute()  # type: ignore[operator]
    found = next(iter(row), None)
    if found is None:
        raise Missing("That invitation no longer holds.", remedy="Ask for a new one.")
    try:
        with database.atomic():
            Membership.create(project=found.project_id, person=person, role=found.role)
    except IntegrityError:
        Membership.update(role=found.role).where(
            (Membership.project == found.project_id) & (Membership.person == person.id)
        ).execute()
    return int(found.project_id)
