"""A copy of a project within the database, with all that was worked out of it: what many tests begin with,
far sooner than it is taken in from its file."""

from __future__ import annotations

from typing import Any

from peewee import ForeignKeyField

from sandscale.services.keeping.graph import nodes
from sandscale.services.keeping.trying import renumbered as renumbered_try
from sandscale.services.keeping.walking import renumbered
from sandscale.store.database import database
from sandscale.store.models import (
    DERIVED_TABLES,
    PROJECT_TABLES,
    BarLine,
    BeingWorkedOut,
    EarthworkMade,
    FormCell,
    Membership,
    PageContent,
    Project,
    Resource,
    RouteMade,
    Row,
    SurfaceMade,
    SurveyLooked,
    TrenchMade,
    TrialChange,
)

COPIED = [Project, *PROJECT_TABLES, *(model for model in DERIVED_TABLES if model is not BeingWorkedOut)]
# What took long, of which rows it is, and the node that makes it.
MADE = (
    (SurveyLooked, "survey", "levels"), (SurfaceMade, "surface", "surfaces"), (EarthworkMade, "element", "quantities"),
    (TrenchMade, "element", "quantities"), (RouteMade, "element", "quantities"),
)  # fmt: skip
# Columns that tell a row's id without being a reference to it.
TOLD = (Resource.chosen, BarLine.line, BarLine.typed)
# Of a shelf, which is not part of a project; what a rate takes tells ids, and is made anew when asked for.
LEFT = ("shelf", "shelf_number", "takes")
# Behind the numbers of all tables, so that one distance leads from each row to its copy; a bit further, for
# whoever takes a number meanwhile.
_BEHIND = "SELECT MAX(last_value) + 1000 FROM pg_sequences WHERE schemaname = current_schema()"


def copy_of(project_id: int, person_id: int) -> Project:
    """A project equal to another, with the person as its owner; a shelf is not part of a project."""
    with database.atomic():
        shift = database.execute_sql(_BEHIND).fetchone()[0]
        for model in COPIED:  # first of all: what others write meanwhile goes on behind the copy
            _in(
                model,
                project_id,
                "SELECT setval(pg_get_serial_sequence('{table}', 'id'), MAX(id) + {shift})",
                shift,
            )
        for model in COPIED:
            taken = {field.column_name: _taken(model, field, shift) for field in model._meta.sorted_fields}
            columns, values = ", ".join(f'"{name}"' for name in taken), ", ".join(taken.values())
            _in(model, project_id, f'INSERT INTO "{{table}}" ({columns}) SELECT {values}', shift)
        for model, again in ((FormCell, renumbered), (TrialChange, renumbered_try)):
            for row in model.select().where(model.project == project_id + shift):
                ref = again(row.ref, lambda _, named: named and named + shift)
                model.update(ref=ref).where(model.id == row.id).execute()
        # What took long is fresh by a fingerprint, which rests on ids too.
        for model, of, node in MADE:
            slow = nodes()[node].slow
            assert slow is not None
            for row in model.select().where(model.project == project_id + shift):
                now = slow.fingerprint(row.__data__[of])
                model.update(fingerprint=now).where(model.id == row.id).execute()
        Membership.create(project=project_id + shift, person=person_id, role="owner")
    return Project.get_by_id(project_id + shift)


def _in(model: type[Row], project_id: int, statement: str, shift: int) -> None:
    """Execute a statement over a table's rows of a project."""
    table = model._meta.table_name
    whose = {Project: "id = %s", PageContent: "file_id IN (SELECT id FROM stored_file WHERE project_id = %s)"}
    said = statement.format(table=table, shift=shift)
    database.execute_sql(f'{said} FROM "{table}" WHERE {whose.get(model, "project_id = %s")}', (project_id,))


def _taken(model: type[Row], field: Any, shift: int) -> str:
    """What a column of the copy holds, in SQL."""
    if field.name == "version":
        return "1"
    if field.name in LEFT:
        return "NULL"
    if field.primary_key or isinstance(field, ForeignKeyField) or any(field is each for each in TOLD):
        return f'"{field.column_name}" + {shift}'
    if field is BarLine.key:  # of a typed bar, its number
        return f"CASE WHEN typed IS NULL THEN key ELSE CAST(typed + {shift} AS text) END"
    return f'"{field.column_name}"'
