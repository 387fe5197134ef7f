"""The whole project out and in as one file, row by row.

What a file brings in is held to the rules of typing it: each stage names them in ``proof``, as ``RULES`` for
a row of a table, ``prove`` for what holds between rows, and ``prove_worked_out`` for what holds once all is
worked out.
"""

from __future__ import annotations

import base64
import binascii
import re
from collections.abc import Callable, Iterator
from decimal import InvalidOperation
from functools import lru_cache, reduce
from operator import or_
from typing import Any, BinaryIO

from peewee import DataError, ForeignKeyField, IntegrityError, ProgrammingError, fn

from ...core.refusals import Refusal
from ...formats import project_json
from ...formats.project_json import UnreadableProject
from ...store.changes import restored, snapshot
from ...store.database import database
from ...store.models import (
    PROJECT_TABLES,
    FormCell,
    Membership,
    Project,
    ProjectRow,
    Resource,
    Revision,
    Section,
    Sheet,
    StoredFile,
    TrialChange,
)
from . import jobs, quotas
from .acting import Actor
from .file_rows import check_row
from .files import take_what_is_known
from .graph import settle_afresh
from .proving import proofs, prove_worked_out
from .trying import renumbered as renumbered_try
from .walking import renumbered

Row = dict[str, Any]
# What the database says of values from a file that its columns don't take.
_NOT_TAKEN = (IntegrityError, DataError, ProgrammingError, TypeError, UnicodeError)
_AT_ONCE = 500  # rows read or written in one statement
# Rows that name another by a reference, and what gives it another number.
_REFERS: dict[Any, Callable[..., str]] = {FormCell: renumbered, TrialChange: renumbered_try}
_TABLES = {model._meta.table_name: model for model in PROJECT_TABLES}


def file_name(name: str) -> str:
    """A name as a file may have it."""
    return re.sub(r"[^\w .-]+", "_", name).strip(" .")[:120] or "project"


def write(actor: Actor, file: BinaryIO) -> str:
    """Write the whole project into a file, as it is at one moment; gives the name to offer it by.

    Its history and its people are not part of it.
    """
    with database.atomic("REPEATABLE READ"):
        project = Project.get_by_id(actor.project_id)
        project_json.write(file, snapshot(project), _tables(project.id))
    return f"{file_name(project.name)}.json"


def _tables(project_id: int) -> Iterator[tuple[str, Iterator[Row]]]:
    numbers: dict[str, dict[int, int]] = {}
    for model in PROJECT_TABLES:
        ids = _ids(model, project_id)
        numbers[model._meta.table_name] = {row_id: number for number, row_id in enumerate(ids, start=1)}
        if model is Resource:  # chooses among quotes, which come later
            quotes = _ids(_TABLES["quote"], project_id)
            numbers["chosen"] = {row_id: number for number, row_id in enumerate(quotes, start=1)}
        yield model._meta.table_name, _rows(model, ids, numbers)


def _ids(model: Any, project_id: int) -> list[int]:
    """A table's rows in a project; of files only those some row uses (an undone upload leaves its file)."""
    query = model.select(model.id).where(model.project == project_id).order_by(model.id)
    if model is StoredFile:
        query = query.where(reduce(or_, (StoredFile.id << used for used in _uses(project_id))))
    if model is Section:
        return _outer_first(list(query.select(Section.id, Section.parent).tuples()))
    return [row_id for (row_id,) in query.tuples()]


def _uses(project_id: int) -> Iterator[Any]:
    """The files that rows of a project refer to: whatever holds a source file goes along with it."""
    for model in PROJECT_TABLES:
        for field in model._meta.refs:
            if field.rel_model is StoredFile:
                yield model.select(field).where((model.project == project_id) & field.is_null(False))


def _outer_first(sections: list[tuple[int, int | None]]) -> list[int]:
    """Sections each after the one it lies in, as a file is read, whichever was made first."""
    inside: dict[int | None, list[int]] = {}
    for section, parent in sections:
        inside.setdefault(parent, []).append(section)
    ordered, waiting = list[int](), list(reversed(inside.get(None, [])))
    while waiting:
        ordered.append(waiting.pop())
        waiting += reversed(inside.get(ordered[-1], []))
    return ordered


def _rows(model: Any, ids: list[int], numbers: dict[str, dict[int, int]]) -> Iterator[Row]:
    step = 1 if model is StoredFile else _AT_ONCE
    for start in range(0, len(ids), step):
        wanted = ids[start : start + step]
        found = {row.id: row for row in model.select().where(model.id << wanted)}
        for row_id in wanted:
            kept = _numbered(model, snapshot(found[row_id]), numbers)
            if model is StoredFile:
                kept["content"] = base64.b64encode(found[row_id].content).decode("ascii")
            if model is Resource:
                kept["chosen"] = numbers["chosen"].get(kept["chosen"])
            if referred := _REFERS.get(model):  # a row that is gone has the number 0
                kept["ref"] = referred(
                    kept["ref"], lambda table, row: numbers[table._meta.table_name].get(row, 0)
                )
            if "shelf" in kept:
                kept["shelf"] = kept["shelf_number"] = None  # a shelf is not part of a project
            yield kept


def _numbered(model: Any, kept: Row, numbers: dict[str, dict[int, int]]) -> Row:
    """A row with its references as row numbers instead of ids, and without its project."""
    kept.pop("project")
    for name, field in model._meta.fields.items():
        if isinstance(field, ForeignKeyField) and name in kept and kept[name] is not None:
            kept[name] = numbers[field.rel_model._meta.table_name][kept[name]]
    return kept


def take_in(person_id: int, file: BinaryIO) -> Project:
    """A new project equal to the one a file was written from, with the person as its owner.

    Raises:
        UnreadableProject: the file is no project, or something in it doesn't hold; the row is named.
    """
    with database.atomic():
        arriving = _Arriving(person_id)
        for what, table, row in project_json.read(file):
            if what == "project":
                arriving.begin(row)
            elif what == "table":
                arriving.open(table)
            else:
                arriving.add(row)
        project = arriving.finish()
        _prove(project.id)
        quotas.count(project.id)
        owner = Actor(person_id, project.id, "owner")
        of_file = Sheet.select(Revision.file, fn.MAX(Sheet.page)).join(Revision)
        for content, pages in of_file.where(Sheet.project == project.id).group_by(Revision.file).tuples():
            if take_what_is_known(content) < pages:
                jobs.begin(owner, "page_content", {"file": content, "page": 1, "of": pages})
    return project


class _Arriving:
    """A project being taken in: rows are checked and kept as they come."""

    def __init__(self, person_id: int) -> None:
        self.person_id = person_id
        self.project: Project | None = None
        self.ids: dict[str, list[int]] = {}
        self.table, self.waiting = "", list[Row]()
        self.chosen: list[tuple[int, int]] = []  # row of a resource, row of the quote it chooses

    def begin(self, row: Row) -> None:
        """The project's own fields."""
        fields = self._fields(Project, row, 1)
        try:
            self.project = Project.create(**fields)
        except _NOT_TAKEN:
            raise UnreadableProject("The project's own fields don't hold.", field="file") from None
        Membership.create(project=self.project, person=self.person_id, role="owner")

    def open(self, table: str) -> None:
        """The beginning of a table."""
        self._keep()
        if table not in _TABLES or table in self.ids:
            how = "is there twice" if table in self.ids else "is unknown"
            raise UnreadableProject(f"The table “{table[:40]}” {how}.", field="file")
        self.table, self.ids[table] = table, []

    def add(self, row: Row) -> None:
        """A row of the table that was begun last."""
        model = _TABLES[self.table]
        number = len(self.ids[self.table]) + len(self.waiting) + 1
        fields = self._fields(model, row, number)
        if model is Resource and fields["chosen"] is not None:
            self.chosen.append((number, fields["chosen"]))
            fields["chosen"] = None
        if referred := _REFERS.get(model):
            fields["ref"] = referred(fields["ref"], lambda table, row: self._row_of(table, row, number))
        own = any(field.rel_model is model for field in model._meta.refs)
        for name, field in model._meta.fields.items():
            if isinstance(field, ForeignKeyField) and name != "project" and fields.get(name) is not None:
                fields[name] = self._id_of(field, fields[name], number)
        self.waiting.append(fields)
        if own or len(self.waiting) >= _AT_ONCE or model is StoredFile:
            self._keep()

    def finish(self) -> Project:
        """The project, once all of it has come."""
        self._keep()
        if missing := sorted(set(_TABLES) - set(self.ids)):
            raise UnreadableProject(f"The file lacks the table “{missing[0]}”.", field="file")
        for resource, quote in self.chosen:
            if not 1 <= quote <= len(self.ids["quote"]):
                raise UnreadableProject(f"A resource chooses quote {quote}, which isn't there.", field="file")
            mine = Resource.id == self.ids["resource"][resource - 1]
            Resource.update(chosen=self.ids["quote"][quote - 1]).where(mine).execute()
        assert self.project is not None
        return self.project

    def _keep(self) -> None:
        """Write the rows that wait."""
        if not self.waiting:
            return
        model, made = _TABLES[self.table], self.ids[self.table]
        rows = [{"project": self.project, **fields} for fields in self.waiting]
        try:
            with database.atomic():
                made += [row.id for row in model.insert_many(rows).returning(model.id).execute()]
        except _NOT_TAKEN:
            for row in rows:
                try:
                    with database.atomic():
                        made.append(model.create(**row).id)
                except _NOT_TAKEN:
                    raise _row_refused(self.table, len(made) + 1, "") from None
        self.waiting = []

    def _id_of(self, field: Any, number: Any, row: int) -> int:
        target = field.rel_model._meta.table_name
        known = self.ids.get(target, [])
        if not isinstance(number, int) or not 1 <= number <= len(known):
            told = f" It refers to row {str(number)[:20]} of “{target}”, which isn't there."
            raise _row_refused(self.table, row, told)
        return known[number - 1]

    def _row_of(self, table: type[ProjectRow], named: int, row: int) -> int:
        """The id of a row that a reference names; 0 where it was gone."""
        known = self.ids.get(table._meta.table_name, [])
        if named > len(known):
            raise _row_refused(self.table, row, f" It names row {named} of “{table._meta.table_name}”.")
        return known[named - 1] if named else 0

    def _fields(self, model: Any, kept: Row, number: int) -> Row:
        """A row's columns as the table takes them; exactly the columns a project file has."""
        table = model._meta.table_name
        expected = {
            n for n in model._meta.fields if n not in ("id", "version", "project") and n not in model.derived
        }
        if set(kept) != expected:
            odd = str(sorted(set(kept) ^ expected)[0])[:40]
            raise _row_refused(
                table, number, f" It {'has an unknown' if odd in kept else 'lacks the'} “{odd}”."
            )
        try:
            content = kept.pop("content") if model is StoredFile else None
            check_row(model, kept)
            values = restored(model, kept)
            if content is not None:
                values["content"] = base64.b64decode(content, validate=True)
            if rule := _rules().get(table):
                rule(values)
            return values
        except Refusal as refusal:
            raise _row_refused(table, number, f" {refusal.sentence}") from None
        except (ValueError, TypeError, AttributeError, LookupError, InvalidOperation, binascii.Error):
            raise _row_refused(table, number, " It holds a value that can't be read.") from None


@lru_cache(maxsize=1)
def _rules() -> dict[str, Callable[[Row], None]]:
    return {table: rule for module in proofs() for table, rule in module.RULES.items()}


def _row_refused(table: str, number: int, why: str) -> UnreadableProject:
    return UnreadableProject(f"Row {number} of “{table}” doesn't hold.{why}", field="file")


def _prove(project_id: int) -> None:
    """Check what holds between rows, as each stage says in ``proof``; and work the whole project out.

    Raises:
        UnreadableProject: something doesn't hold.
    """
    try:
        for module in proofs():
            module.prove(project_id)
        settle_afresh(project_id)
        prove_worked_out(project_id)
    except Refusal as error:
        raise UnreadableProject(f"The project file doesn't hold: {error.sentence}", field="file") from None
    except (LookupError, TypeError, ValueError, AttributeError):
        raise UnreadableProject("The project file holds a value of the wrong kind.", field="file") from None
