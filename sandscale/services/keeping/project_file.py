"""The whole project out and in as one file."""

from __future__ import annotations

import base64
import binascii
import re
from collections.abc import Iterator
from decimal import InvalidOperation
from functools import reduce
from operator import or_
from typing import Any

from peewee import (
    BooleanField,
    CharField,
    DataError,
    ForeignKeyField,
    IntegrityError,
    ProgrammingError,
    TextField,
    fn,
)

from ...core.refusals import Refusal
from ...formats import project_json
from ...formats.project_json import ProjectDocument, UnreadableProject
from ...store.changes import restored, snapshot
from ...store.database import database
from ...store.models import (
    PROJECT_TABLES,
    Membership,
    Project,
    Resource,
    Revision,
    Section,
    Sheet,
    StoredFile,
)
from . import jobs
from .acting import Actor
from .graph import settle_afresh
from .stages import parts

# What the database says of values from a file that its columns don't take.
_NOT_TAKEN = (IntegrityError, DataError, ProgrammingError, TypeError, UnicodeError)


def file_name(name: str) -> str:
    """A name as a file may have it."""
    return re.sub(r"[^\w .-]+", "_", name).strip(" .") or "project"


def project_file(actor: Actor) -> tuple[str, bytes]:
    """The whole project as one JSON file, with its file name."""
    project = Project.get_by_id(actor.project_id)
    return f"{file_name(project.name)}.json", project_json.write(project_document(project.id))


def project_document(project_id: int) -> ProjectDocument:
    """The whole project as a document; its history and its people are not part of it."""
    numbers: dict[str, dict[int, int]] = {}
    tables: dict[str, list[dict[str, Any]]] = {}
    for model in PROJECT_TABLES:
        table = model._meta.table_name
        rows = list(_rows_of(model, project_id))
        numbers[table] = {row.id: number for number, row in enumerate(rows, start=1)}
        tables[table] = [_numbered(model, snapshot(row) | _content(row), numbers) for row in rows]
    for row in tables["resource"]:
        row["chosen"] = numbers["quote"].get(row["chosen"])
    for row in tables["own_make_up"]:
        row["shelf"] = row["shelf_number"] = None  # a shelf is not part of a project
    kept = snapshot(Project.get_by_id(project_id))
    return ProjectDocument(project=kept, tables=tables)


def _rows_of(model: Any, project_id: int) -> Any:
    """A table's rows in a project; of files only those some row uses (an undone upload leaves its file)."""
    query = model.select().where(model.project == project_id).order_by(model.id)
    if model is StoredFile:
        query = query.where(reduce(or_, (StoredFile.id << used for used in _uses(project_id))))
    return _outer_first(list(query)) if model is Section else query


def _uses(project_id: int) -> Iterator[Any]:
    """The files that rows of a project refer to: whatever holds a source file goes along with it."""
    for model in PROJECT_TABLES:
        for field in model._meta.refs:
            if field.rel_model is StoredFile:
                yield model.select(field).where((model.project == project_id) & field.is_null(False))


def _outer_first(sections: list[Section]) -> list[Section]:
    """Sections each after the one it lies in, as a file is read, whichever was made first."""
    inside: dict[int | None, list[Section]] = {}
    for section in sections:
        inside.setdefault(section.parent_id, []).append(section)

    def within(parent: int | None) -> list[Section]:
        return [each for section in inside.get(parent, []) for each in (section, *within(section.id))]

    return within(None)


def _content(row: Any) -> dict[str, str]:
    return {"content": base64.b64encode(bytes(row.content)).decode()} if isinstance(row, StoredFile) else {}


def _numbered(model: Any, kept: dict[str, Any], numbers: dict[str, dict[int, int]]) -> dict[str, Any]:
    """A row with its references as row numbers instead of ids, and without its project."""
    kept.pop("project")
    for name, field in model._meta.fields.items():
        if isinstance(field, ForeignKeyField) and name in kept and kept[name] is not None:
            kept[name] = numbers[field.rel_model._meta.table_name][kept[name]]
    return kept


def project_from_file(person_id: int, content: bytes) -> Project:
    """A new project equal to the one a file was written from, with the person as its owner.

    Raises:
        UnreadableProject: the file is no project, or something in it doesn't hold; the row is named.
    """
    document = project_json.read(content)
    known = {model._meta.table_name for model in PROJECT_TABLES}
    for table in set(document.tables) ^ known:
        raise UnreadableProject(
            f"The file {'has an unknown' if table in document.tables else 'lacks the'} table “{table}”.",
            field="file",
        )
    with database.atomic():
        try:
            project = Project.create(**_fields(Project, document.project, "project", 1))
        except _NOT_TAKEN:
            raise UnreadableProject("The project's own fields don't hold.", field="file") from None
        Membership.create(project=project, person=person_id, role="owner")
        ids: dict[str, list[int]] = {}
        for model in PROJECT_TABLES:
            ids[model._meta.table_name] = _insert_rows(
                model, document.tables[model._meta.table_name], project.id, ids
            )
        _restore_chosen(document, ids)
        _prove(project.id)
        for file, pages in (
            Sheet.select(Revision.file, fn.MAX(Sheet.page))
            .join(Revision)
            .where(Sheet.project == project.id)
            .group_by(Revision.file)
            .tuples()
        ):
            owner = Actor(person_id, project.id, "owner")
            jobs.begin(owner, "page_content", {"file": file, "page": 1, "of": pages})
    return project


def _insert_rows(
    model: Any, rows: list[dict[str, Any]], project_id: int, ids: dict[str, list[int]]
) -> list[int]:
    table, made = model._meta.table_name, []
    for number, kept in enumerate(rows, start=1):
        fields = _fields(model, kept, table, number)
        for name, field in model._meta.fields.items():
            if isinstance(field, ForeignKeyField) and name != "project" and fields.get(name) is not None:
                fields[name] = _id_of(field, fields[name], ids, made, table, number)
        try:
            made.append(model.create(project=project_id, **fields).id)
        except _NOT_TAKEN:
            raise UnreadableProject(f"Row {number} of “{table}” doesn't hold.", field="file") from None
    return made


def _id_of(field: Any, number: Any, ids: dict[str, list[int]], made: list[int], table: str, row: int) -> int:
    target = field.rel_model._meta.table_name
    known = made if target == table else ids[target]
    if not isinstance(number, int) or not 1 <= number <= len(known):
        raise UnreadableProject(
            f"Row {row} of “{table}” refers to row {str(number)[:20]} of “{target}”, which isn't there.",
            field="file",
        )
    return known[number - 1]


def _fields(model: Any, kept: dict[str, Any], table: str, number: int) -> dict[str, Any]:
    """A row's columns as the table takes them; exactly the columns a project file has."""
    expected = {
        n for n in model._meta.fields if n not in ("id", "version", "project") and n not in model.derived
    }
    if set(kept) != expected:
        odd = sorted(set(kept) ^ expected)[0]
        raise UnreadableProject(
            f"Row {number} of “{table}” {'has an unknown' if odd in kept else 'lacks the'} column “{odd}”.",
            field="file",
        )
    for name, value in kept.items():
        column = model._meta.fields[name]
        wanted = (
            bool
            if isinstance(column, BooleanField)
            else str
            if isinstance(column, TextField | CharField)
            else object
        )
        if not isinstance(value, wanted) or (isinstance(value, str) and "\x00" in value):
            raise UnreadableProject(
                f"Row {number} of “{table}” holds a value of the wrong kind in “{name}”.", field="file"
            )
    try:
        values = restored(model, kept)
        if model is StoredFile:
            values["content"] = base64.b64decode(kept["content"], validate=True)
        return values
    except (ValueError, TypeError, InvalidOperation, binascii.Error):
        raise UnreadableProject(
            f"Row {number} of “{table}” holds a value that can't be read.", field="file"
        ) from None


def _restore_chosen(document: ProjectDocument, ids: dict[str, list[int]]) -> None:
    for row_id, kept in zip(ids["resource"], document.tables["resource"], strict=True):
        if kept["chosen"] is not None:
            if kept["chosen"] not in range(1, len(ids["quote"]) + 1):
                raise UnreadableProject(
                    f"A resource chooses quote {kept['chosen']}, which isn't there.", field="file"
                )
            Resource.update(chosen=ids["quote"][kept["chosen"] - 1]).where(Resource.id == row_id).execute()


def _prove(project_id: int) -> None:
    """Check what the database can't, as each stage says in ``proof``; and work the whole project out.

    Raises:
        UnreadableProject: something doesn't hold.
    """
    try:
        for module in parts("proof"):
            module.prove(project_id)
        settle_afresh(project_id)
    except Refusal as error:
        raise UnreadableProject(f"The project file doesn't hold: {error.sentence}", field="file") from None
    except (LookupError, TypeError, ValueError, AttributeError):
        raise UnreadableProject("The project file holds a value of the wrong kind.", field="file") from None
