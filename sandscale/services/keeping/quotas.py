"""How much a project may hold, so that no one project fills the database; and what it holds, counted as rows
and files come and go."""

from __future__ import annotations

from peewee import fn

from ...core.refusals import Refusal
from ...store.models import PROJECT_TABLES, Project, StoredFile

MOST_ROWS = 400_000
MOST_BYTES = 350 * 1024 * 1024  # of files: what a project file can still bring back


class Full(Refusal):
    """The project holds as much as one may."""


def check_rows(project: Project, more: int) -> None:
    """Refuse rows that a project has no room for.

    Raises:
        Full: it would hold more than it may.
    """
    if more > 0 and project.rows_held + more > MOST_ROWS:
        raise Full(
            f"The project would hold more than {MOST_ROWS:,} rows.",
            remedy="Delete what isn't needed, or go on in a second project.",
        )


def take_in(project_id: int, size: int) -> None:
    """Make room for a file of so many bytes.

    Raises:
        Full: the project's files would be larger together than they may.
    """
    room = (Project.id == project_id) & (Project.bytes_held + size <= MOST_BYTES)
    if not Project.update(bytes_held=Project.bytes_held + size).where(room).execute():
        raise Full(
            f"The drawings of a project are {MOST_BYTES // 2**20} MB together at most.",
            field="file", remedy="Delete drawings that aren't needed, or save this one smaller.",
        )  # fmt: skip


def let_go(project_id: int, size: int) -> None:
    """Give back the room of a file that was cleared away."""
    Project.update(bytes_held=Project.bytes_held - size).where(Project.id == project_id).execute()


def count(project_id: int) -> None:
    """Count what a project holds afresh."""
    tables = (model for model in PROJECT_TABLES if model is not StoredFile)  # whose bytes are counted
    rows = sum(model.select().where(model.project == project_id).count() for model in tables)
    sizes = StoredFile.select(fn.COALESCE(fn.SUM(fn.OCTET_LENGTH(StoredFile.content)), 0))
    size = sizes.where(StoredFile.project == project_id).scalar()
    Project.update(rows_held=rows, bytes_held=size).where(Project.id == project_id).execute()
