"""What is read of packages: their list, what another can hold, and two of them held against one another."""

from __future__ import annotations

from peewee import fn

from ...store.models import Bill, IssuedPackage, StoredFile
from ..keeping.acting import Actor, find
from .choices import documents
from .views import (
    DocumentChoice,
    DocumentPair,
    IssuedDocument,
    PackagesCompared,
    PackagesView,
    PackageView,
    Told,
    ToldPair,
)


def packages_view(actor: Actor) -> PackagesView:
    """The packages that were issued, and the documents that there are for another."""
    order = (IssuedPackage.number, IssuedPackage.id)
    rows = IssuedPackage.those(IssuedPackage.project, [actor.project_id], *order)
    choices = [
        DocumentChoice(key=each.key, title=each.title, forms=list(each.writes)) for each in documents(actor)
    ]
    return PackagesView(packages=[_view(row) for row in reversed(rows)], choices=choices)


def _view(row: IssuedPackage) -> PackageView:
    bill = Bill.get_by_id(row.bill_id)
    file = StoredFile.select(StoredFile.name, fn.OCTET_LENGTH(StoredFile.content).alias("bytes"))
    kept = file.where(StoredFile.id == row.file_id).get()
    return PackageView(
        id=row.id, version=row.version, number=row.number, title=row.title, note=row.note,
        recipient=row.recipient, issued_by=row.issued_by, issued_on=row.issued_on, bill=bill.id,
        total=bill.total, currency=bill.currency, file=kept.name, bytes=kept.bytes,
        documents=[IssuedDocument(**each) for each in row.contents],
    )  # fmt: skip


def compared(actor: Actor, before: int, after: int) -> PackagesCompared:
    """Two packages: which documents each holds, and which of the numbers they tell differ."""
    first, second = (_view(find(IssuedPackage, actor, each)) for each in (before, after))
    was, now = _told(first), _told(second)
    return PackagesCompared(
        before=first, after=second,
        documents=[
            DocumentPair(
                title=title, before=title in was, after=title in now,
                differs=_differ(was[title], now[title]) if title in was and title in now else [],
            )
            for title in dict.fromkeys([*was, *now])
        ],
    )  # fmt: skip


def _told(package: PackageView) -> dict[str, list[Told]]:
    """The numbers of each document, by its title."""
    found: dict[str, list[Told]] = {}
    for document in package.documents:
        found.setdefault(document.title, []).extend(document.told)
    return found


def _differ(was: list[Told], now: list[Told]) -> list[ToldPair]:
    before, after = ({(t.name, t.unit): t.value for t in told} for told in (was, now))
    return [
        ToldPair(name=name, unit=unit, before=before.get((name, unit), ""), after=after.get((name, unit), ""))
        for name, unit in dict.fromkeys([*before, *after])
        if before.get((name, unit)) != after.get((name, unit))
    ]
