"""The change log: every write of a person, row by row, what was and what is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any, TypeVar

from peewee import BlobField, DateField, DecimalField

from .database import database
from .models import Change, ChangeEntry, Project, ProjectRow, Row, table_named
from .spans import spans

R = TypeVar("R", bound=Row)
Snapshot = dict[str, Any]


@dataclass(frozen=True)
class Entry:
    """One row touched: what it was (None: it was not there) and what it is (None: it is gone)."""

    table: str
    row_id: int
    before: Snapshot | None
    after: Snapshot | None


class ChangeLog:
    """Writes rows and keeps what was and what is, for one action in one transaction.

    Args:
        project: the project written in.
        person_id: who acts; None for the application itself.
        label: the action in words, as history and undo show it.
    """

    def __init__(self, project: Project, person_id: int | None, label: str) -> None:
        self.project, self.person_id, self.label = project, person_id, label
        self.entries: list[Entry] = []

    @property
    def grown(self) -> int:
        """How many rows more there are than before."""
        return sum((entry.before is None) - (entry.after is None) for entry in self.entries)

    def insert(self, model: type[R], **fields: Any) -> R:
        """A new row of this project."""
        row = model.create(project=self.project.id, **fields)
        self.entries.append(Entry(_table(model), row.id, None, snapshot(row)))
        return row

    def insert_all(self, model: type[R], rows: Sequence[dict[str, Any]]) -> list[R]:
        """Many new rows of one table of this project."""
        made = [model(project=self.project.id, **fields) for fields in rows]
        for row, row_id in zip(made, model.add([row.__data__ for row in made]), strict=True):
            row.id = row_id
        self.entries += [Entry(_table(model), row.id, None, snapshot(row)) for row in made]
        return made

    def update(self, row: Row, **fields: Any) -> bool:
        """Change fields of a row; tells whether anything was different."""
        before = snapshot(row)
        for name, value in fields.items():
            setattr(row, name, value)
        after = snapshot(row)
        if before == after:
            return False
        row.version += 1
        names = [*(name for name in before if before[name] != after[name]), "version"]
        columns = [row._meta.fields[name] for name in names]
        type(row).keep(columns, [(row.id, *(row.__data__[name] for name in names))])
        self.entries.append(Entry(_table(type(row)), row.id, before, after))
        return True

    def delete(self, row: ProjectRow) -> None:
        """Take a row out."""
        self.entries.append(Entry(_table(type(row)), row.id, snapshot(row), None))
        row.delete_instance()

    def delete_all(self, rows: Sequence[R]) -> None:
        """Take many rows of one table out."""
        if rows:
            model = type(rows[0])
            self.entries += [Entry(_table(model), row.id, snapshot(row), None) for row in rows]
            model.delete().where(model.id << [row.id for row in rows]).execute()

    def apply(self, entry: Entry) -> None:
        """Bring a row from an entry's ``before`` to its ``after``, for undo and redo. Columns that came since
        it was logged stay as they are, and of a row that was gone are as a new one's.

        Raises:
            Conflict: the row is no longer as ``before`` says.
        """
        model = table_named(entry.table)
        row = model.one(entry.row_id)
        stands = snapshot(row) if row else None
        if not _agree(stands, entry.before):
            raise Conflict(entry, stands)
        if entry.after is None:
            row.delete_instance()
        elif row is None:
            model.insert(id=entry.row_id, **restored(model, entry.after)).execute()
        else:
            for name, value in restored(model, entry.after).items():
                setattr(row, name, value)
            row.version += 1
            row.save()
        self.entries.append(entry)

    def write(
        self,
        bill_after: Decimal,
        *,
        kind: str = "do",
        of: int | None = None,
        moved: dict[str, set[int]] | None = None,
    ) -> Change:
        """Keep the change with its entries, and the ids of the derived figures it moved, by node."""
        change = Change(
            project=self.project.id,
            person=self.person_id,
            label=self.label,
            kind=kind,
            of=of,
            state="done",
            bill_before=self.project.bill_total,
            bill_after=bill_after,
            moved={node: _runs(ids) for node, ids in (moved or {}).items()},
        )
        (change.id,) = Change.add([change.__data__])
        rows = [
            {
                "change": change.id,
                "table_name": e.table,
                "row_id": e.row_id,
                "before": e.before,
                "after": e.after,
            }
            for e in self.entries
        ]
        ChangeEntry.add(rows)
        return change


class Conflict(Exception):
    """A row was changed since by someone else; carries the entry and the row as it is now."""

    def __init__(self, entry: Entry, now: Snapshot | None) -> None:
        super().__init__(entry.table)
        self.entry, self.now = entry, now


def entries_of(change: Change) -> list[Entry]:
    """A change's entries, in the order written."""
    return [Entry(e.table_name, e.row_id, e.before, e.after) for e in change.entries.order_by(ChangeEntry.id)]


def moved_by(change: Change) -> dict[str, set[int]]:
    """The ids of the derived figures that a change moved, by node."""
    found: dict[str, set[int]] = {}
    for node, runs in change.moved.items():
        found[node] = {each for each in runs if isinstance(each, int)}
        for first, last in (each for each in runs if not isinstance(each, int)):
            found[node].update(range(first, last + 1))
    return found


def _runs(ids: set[int]) -> list[int | list[int]]:
    """Ids as they are kept: spans of them, and single ones."""
    return [first if first == last else [first, last] for first, last in spans(ids)]


def snapshot(row: Row) -> Snapshot:
    """A row's logged columns as JSON values: not its id, version or derived columns."""
    return snapshot_of(type(row), {name: row.__data__.get(name) for name in logged(type(row))})


def logged(model: type[Row]) -> list[str]:
    """The columns of a table that the log keeps."""
    fields = model._meta.fields.items()
    return [
        name
        for name, field in fields
        if name not in ("id", "version") and name not in model.derived and not isinstance(field, BlobField)
    ]


def snapshot_of(model: type[Row], values: dict[str, Any]) -> Snapshot:
    """Column values as JSON values."""
    kept: Snapshot = {}
    for name, value in values.items():
        if isinstance(model._meta.fields.get(name), DecimalField) and value is not None:
            value = f"{Decimal(value).normalize():f}"
        elif isinstance(value, date):
            value = value.isoformat()
        kept[name] = value
    return kept


_LAST = """
SELECT p.name FROM change_entry e JOIN change c ON c.id = e.change_id LEFT JOIN person p ON p.id = c.person_id
WHERE e.table_name = %s AND e.row_id = %s AND c.project_id = %s ORDER BY e.id DESC LIMIT 1"""


def last_writer(model: type[Row], row_id: int, project_id: int) -> str:
    """Who wrote a row of a project last, or took it out; empty where nobody is known."""
    found = database.execute_sql(_LAST, (_table(model), row_id, project_id)).fetchone()
    return str(found[0] or "") if found else ""


def state_at(row: Row, version: int) -> Snapshot | None:
    """A row as it was at an earlier version; None when the log doesn't reach back to it.

    Every change of a row raises its version by one and leaves one entry.
    """
    steps = row.version - version
    if steps <= 0:
        return None
    own = (ChangeEntry.table_name == _table(type(row))) & (ChangeEntry.row_id == row.id)
    entries = list(
        ChangeEntry.select(ChangeEntry.before).where(own).order_by(ChangeEntry.id.desc()).limit(steps)
    )
    return entries[-1].before if len(entries) == steps else None


def _agree(stands: Snapshot | None, logged: Snapshot | None) -> bool:
    """Whether a row is as it was logged, in the columns that there were then."""
    if stands is None or logged is None:
        return stands is logged
    return all(value == logged[name] for name, value in stands.items() if name in logged)


def restored(model: type[Row], kept: Snapshot) -> dict[str, Any]:
    """A snapshot's values as the model's columns take them."""
    values: dict[str, Any] = {}
    for name, value in kept.items():
        field = model._meta.fields[name]
        if value is not None and isinstance(field, DecimalField):
            value = Decimal(value)
        elif value is not None and isinstance(field, DateField):
            value = date.fromisoformat(value)
        values[name] = value
    return values


def _table(model: type[Row]) -> str:
    return str(model._meta.table_name)
