"""Shelves: named collections of make-ups that people share across projects, each make-up with its numbered
versions.

A shelf belongs to people, not to a project. What a project took stays as it was until someone moves it on.
"""

from __future__ import annotations

from collections.abc import Iterable

from peewee import fn

from ...core.makeups.makeup import read_makeup
from ...core.refusals import BadEntry
from ...store.database import database
from ...store.models import Membership, Person, Shelf, ShelfMakeUp, ShelfMember
from ..keeping.acting import Missing
from .views import ShelfMakeUpView, ShelfView


def shelves_of(person_id: int) -> list[ShelfView]:
    """The shelves a person belongs to, each with the latest of its make-ups."""
    mine = ShelfMember.select(ShelfMember.shelf).where(ShelfMember.person == person_id)
    return [_view(shelf) for shelf in Shelf.select().where(Shelf.id << mine).order_by(Shelf.name)]


def _view(shelf: Shelf) -> ShelfView:
    newest = (
        ShelfMakeUp.select(fn.MAX(ShelfMakeUp.id))
        .where(ShelfMakeUp.shelf == shelf.id)
        .group_by(ShelfMakeUp.key)
    )
    rows = (
        ShelfMakeUp.select(ShelfMakeUp, Person)
        .left_outer_join(Person)
        .where(ShelfMakeUp.id << newest)
        .order_by(ShelfMakeUp.key)
    )
    people = [
        m.person.email
        for m in ShelfMember.select(ShelfMember, Person)
        .join(Person)
        .where(ShelfMember.shelf == shelf.id)
        .order_by(ShelfMember.id)
    ]
    listed = [
        ShelfMakeUpView(
            key=row.key, name=row.name, about=row.about, number=row.number,
            by=row.person.name if row.person_id else "", at=row.at, source=row.source,
        )
        for row in rows
    ]  # fmt: skip
    return ShelfView(id=shelf.id, name=shelf.name, about=shelf.about, people=people, makeups=listed)


def add_shelf(person_id: int, name: str, about: str) -> ShelfView:
    """A new shelf, with its maker on it.

    Raises:
        BadEntry: the name is empty.
    """
    if not name.strip():
        raise BadEntry("A shelf needs a name, such as the client or authority it is for.", field="name")
    with database.atomic():
        shelf = Shelf.create(name=name.strip()[:120], about=about.strip()[:500])
        ShelfMember.create(shelf=shelf, person=person_id)
    return _view(shelf)


def share_shelf(person_id: int, shelf_id: int, email: str) -> ShelfView:
    """Let a colleague onto a shelf: someone of a project of one's own.

    Whether anyone else's address has an account is told by nothing here.

    Raises:
        BadEntry: nobody of that address works in a project of the person's.
        Missing: the shelf isn't the person's.
    """
    shelf = _mine(person_id, shelf_id)
    own = Membership.select(Membership.project).where(Membership.person == person_id)
    colleague = (Person.email == email.strip().lower()) & (Membership.project << own)
    other = Person.select().join(Membership).where(colleague).first()
    if other is None:
        raise BadEntry(
            f"Nobody of the address {email.strip()[:60]} works in a project of yours.",
            field="email", remedy="Invite them into one first.",
        )  # fmt: skip
    ShelfMember.get_or_create(shelf=shelf, person=other)
    return _view(shelf)


def put(person_id: int, shelf_id: int, key: str, source: str) -> ShelfMakeUp:
    """Put a make-up on a shelf as its next number; the same text again stays at its number.

    Raises:
        Missing: the shelf isn't the person's.
    """
    shelf = Shelf.select().where(Shelf.id == _mine(person_id, shelf_id).id).for_update().get()
    last = (
        ShelfMakeUp.select()
        .where((ShelfMakeUp.shelf == shelf.id) & (ShelfMakeUp.key == key))
        .order_by(ShelfMakeUp.number.desc())
        .first()
    )
    if last is not None and last.source == source:
        return last
    makeup, number = read_makeup(source), last.number + 1 if last else 1
    return ShelfMakeUp.create(
        shelf=shelf, key=key, number=number, source=source, person=person_id,
        name=makeup.name, about=makeup.about,
    )  # fmt: skip


def latest(person_id: int, shelf_id: int, key: str) -> ShelfMakeUp:
    """The latest number of a make-up on a shelf.

    Raises:
        Missing: the shelf isn't the person's, or has no such make-up.
    """
    shelf = _mine(person_id, shelf_id)
    row = (
        ShelfMakeUp.select()
        .where((ShelfMakeUp.shelf == shelf.id) & (ShelfMakeUp.key == key))
        .order_by(ShelfMakeUp.number.desc())
        .first()
    )
    if row is None:
        raise Missing(f"There is no make-up “{key}” on “{shelf.name}”.")
    return row


def latest_numbers(shelf_ids: Iterable[int]) -> dict[tuple[int, str], int]:
    """The latest number of every make-up on some shelves, by shelf and key."""
    query = ShelfMakeUp.select(ShelfMakeUp.shelf, ShelfMakeUp.key, fn.MAX(ShelfMakeUp.number)).where(
        ShelfMakeUp.shelf << list(shelf_ids)
    )
    return {
        (shelf, key): number
        for shelf, key, number in query.group_by(ShelfMakeUp.shelf, ShelfMakeUp.key).tuples()
    }


def _mine(person_id: int, shelf_id: int) -> Shelf:
    if (
        not ShelfMember.select()
        .where((ShelfMember.shelf == shelf_id) & (ShelfMember.person == person_id))
        .exists()
    ):
        raise Missing("There is no such shelf, or it is not shared with you.")
    return Shelf.get_by_id(shelf_id)
