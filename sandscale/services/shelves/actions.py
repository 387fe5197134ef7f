"""Shelves: named collections of make-ups, tables and rules that people share across projects, each document
with its numbered versions.

A shelf belongs to people, not to a project. What a project took stays as it was until someone moves it on.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from peewee import fn

from ...core.refusals import BadEntry
from ...core.shelf import ShelfKind, read_shelved
from ...store.database import database
from ...store.models import Membership, Person, Shelf, ShelfDocument, ShelfMember
from ..keeping.acting import Missing
from .views import ShelfDocumentView, ShelfView


def shelves_of(person_id: int) -> list[ShelfView]:
    """The shelves a person belongs to, each with the latest of its documents."""
    mine = ShelfMember.select(ShelfMember.shelf).where(ShelfMember.person == person_id)
    return [_view(shelf) for shelf in Shelf.select().where(Shelf.id << mine).order_by(Shelf.name)]


def _view(shelf: Shelf) -> ShelfView:
    newest = (
        ShelfDocument.select(fn.MAX(ShelfDocument.id))
        .where(ShelfDocument.shelf == shelf.id)
        .group_by(ShelfDocument.kind, ShelfDocument.key)
    )
    rows = (
        ShelfDocument.select(ShelfDocument, Person)
        .left_outer_join(Person)
        .where(ShelfDocument.id << newest)
        .order_by(ShelfDocument.kind, ShelfDocument.key)
    )
    people = [
        m.person.email
        for m in ShelfMember.select(ShelfMember, Person)
        .join(Person)
        .where(ShelfMember.shelf == shelf.id)
        .order_by(ShelfMember.id)
    ]
    listed = [
        ShelfDocumentView(
            kind=row.kind, key=row.key, name=row.name, about=row.about, number=row.number,
            by=row.person.name if row.person_id else "", at=row.at, source=row.source,
        )
        for row in rows
    ]  # fmt: skip
    return ShelfView(id=shelf.id, name=shelf.name, about=shelf.about, people=people, documents=listed)


def add_shelf(person_id: int, name: str, about: str) -> ShelfView:
    """A new shelf, with its maker on it.

    Raises:
        BadEntry: the name is empty.
    """
    if not name.strip():
        raise BadEntry("A shelf needs a name, such as the client or authority it is for.", field="name")
    with database.atomic():
        shelf = Shelf.create(name=name.strip()[:120].strip(), about=about.strip()[:500])
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


def put(person_id: int, shelf_id: int, kind: ShelfKind, source: str) -> ShelfDocument:
    """Put a document on a shelf as its next number; the same text again stays at its number.

    Raises:
        Missing: the shelf isn't the person's.
        BadFormula: the document doesn't hold.
    """
    told = read_shelved(kind, source)
    with database.atomic():
        shelf = Shelf.select().where(Shelf.id == _mine(person_id, shelf_id).id).for_update().get()
        last = _numbers(shelf, kind, told.key).first()
        if last is not None and last.source == source:
            return last  # type: ignore[no-any-return]
        return ShelfDocument.create(
            shelf=shelf, kind=kind, key=told.key, number=last.number + 1 if last else 1, source=source,
            person=person_id, name=told.name, about=told.about,
        )  # fmt: skip


def put_there(person_id: int, shelf_id: int, kind: ShelfKind, source: str) -> ShelfView:
    """Put a document on a shelf; gives the shelf.

    Raises:
        Missing: the shelf isn't the person's.
        BadFormula: the document doesn't hold.
    """
    put(person_id, shelf_id, kind, source)
    return _view(_mine(person_id, shelf_id))


def latest(person_id: int, shelf_id: int, kind: ShelfKind, key: str) -> ShelfDocument:
    """The latest number of a document on a shelf.

    Raises:
        Missing: the shelf isn't the person's, or has no such document.
    """
    shelf = _mine(person_id, shelf_id)
    row = _numbers(shelf, kind, key).first()
    if row is None:
        raise Missing(f"There is no “{key}” on “{shelf.name}”.")
    return row  # type: ignore[no-any-return]


def _numbers(shelf: Shelf, kind: str, key: str) -> Any:
    these = (ShelfDocument.shelf == shelf) & (ShelfDocument.kind == kind) & (ShelfDocument.key == key)
    return ShelfDocument.select().where(these).order_by(ShelfDocument.number.desc())


def latest_numbers(kind: ShelfKind, shelf_ids: Iterable[int]) -> dict[tuple[int, str], int]:
    """The latest number of every document of a kind on some shelves, by shelf and key."""
    query = ShelfDocument.select(ShelfDocument.shelf, ShelfDocument.key, fn.MAX(ShelfDocument.number)).where(
        (ShelfDocument.shelf << list(shelf_ids)) & (ShelfDocument.kind == kind)
    )
    return {
        (shelf, key): number
        for shelf, key, number in query.group_by(ShelfDocument.shelf, ShelfDocument.key).tuples()
    }


def _mine(person_id: int, shelf_id: int) -> Shelf:
    if (
        not ShelfMember.select()
        .where((ShelfMember.shelf == shelf_id) & (ShelfMember.person == person_id))
        .exists()
    ):
        raise Missing("There is no such shelf, or it is not shared with you.")
    return Shelf.get_by_id(shelf_id)
