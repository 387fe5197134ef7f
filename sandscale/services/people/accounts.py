"""Accounts: made by whoever runs the application or by an invitation, changed and given up by their
person."""

from __future__ import annotations

import re

from peewee import fn

from ...core.refusals import BadEntry
from ...store.database import database
from ...store.models import (
    Invitation,
    Membership,
    Person,
    Project,
    Session,
    Shelf,
    ShelfMember,
    SignInTry,
)
from ..keeping.acting import InUse
from . import passwords


def add_person(name: str, email: str, password: str, *, published: bool = False) -> Person:
    """A new person who can sign in.

    Args:
        published: whether the password is known to all, as the demonstration's is.

    Raises:
        BadEntry: the address is no e-mail address or taken, or the password too weak.
    """
    email, name = address(email), checked_name(name)
    if not published:
        passwords.check(password, [name, email])
    if Person.get_or_none(Person.email == email):
        raise BadEntry(f"{email} is already known.", field="email", remedy="Sign in, or use another address.")
    return Person.create(
        name=name, email=email, password_hash=passwords.hashed(password), published=published
    )


def person_of(email: str) -> Person:
    """The person of an address.

    Raises:
        BadEntry: nobody signs in with it.
    """
    found = Person.get_or_none(Person.email == email.strip().lower())
    if found is None:
        raise BadEntry(f"Nobody signs in as {email.strip()[:60]}.", field="email")
    return found


def address(email: str) -> str:
    """An e-mail address as it is kept.

    Raises:
        BadEntry: it is none.
    """
    written = email.strip().lower()
    if not re.fullmatch(r"[^@\s<>,;\x00-\x1f]+@[^@\s<>,;\x00-\x1f]+", written) or len(written) > 200:
        raise BadEntry(f"“{email.strip()[:60]}” is not an e-mail address.", field="email")
    return written


def checked_name(name: str) -> str:
    """A person's name as it is kept.

    Raises:
        BadEntry: it is empty.
    """
    if not name.strip():
        raise BadEntry("A person needs a name.", field="name")
    return name.strip()[:120]


def change_password(session: Session, present: str, new: str) -> None:
    """Give the person of a session another password; their other sessions end.

    Raises:
        BadEntry: the password they have isn't the one given, or the new one is too weak.
    """
    person = session.person
    check_password(person, present)
    passwords.check(new, [person.name, person.email], field="new")
    kept = passwords.hashed(new)
    with database.atomic():
        Person.update(password_hash=kept).where(Person.id == person.id).execute()
        others = (Session.person == person.id) & (Session.token_hash != session.token_hash)
        Session.delete().where(others).execute()


def check_password(person: Person, given: str) -> None:
    """Refuse whoever doesn't know the password of the account they are signed in to.

    Raises:
        BadEntry: it isn't the one.
    """
    if not passwords.is_right(person.password_hash, given):
        raise BadEntry("That is not the password you have.", field="password", remedy="Type it again.")


def remove_person(person: Person) -> None:
    """Take an account away with what is theirs alone: projects and shelves nobody else belongs to, sessions,
    invitations. What they did in the projects of others stays there, without their name.

    Raises:
        InUse: others belong to a project that they alone own.
    """
    with database.atomic():
        owned = (
            Membership.select(Membership.project)
            .where((Membership.person == person.id) & (Membership.role == "owner"))
        )  # fmt: skip
        held = list(
            Project.select(Project, fn.COUNT(Membership.id).alias("people"), _owners().alias("owners"))
            .join(Membership).where(Project.id << owned).group_by(Project.id)
        )  # fmt: skip
        if orphaned := [p.name for p in held if p.people > 1 and p.owners < 2]:
            raise InUse(
                f"Others work in “{orphaned[0]}”, which would have no owner.",
                remedy="Make one of them its owner, or delete the project, first.",
            )
        Project.delete().where(Project.id << [p.id for p in held if p.people == 1]).execute()
        for row in (Invitation, SignInTry):
            row.delete().where(row.email == person.email).execute()
        Person.delete().where(Person.id == person.id).execute()
        Shelf.delete().where(~(Shelf.id << ShelfMember.select(ShelfMember.shelf))).execute()


def _owners() -> fn:
    return fn.COUNT(Membership.id).filter(Membership.role == "owner")
