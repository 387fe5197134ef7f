"""Bringing a database up to date: its tables, and then what is worked out from what they hold."""

from __future__ import annotations

from peewee import fn

from ...core.makeups.makeup import read_makeup
from ...core.refusals import Refusal
from ...store.database import connected, database, migrate
from ...store.models import PageContent, Project, Revision, Sheet, ShelfDocument
from . import jobs, quotas
from .graph import settle_afresh


def upgrade() -> list[str]:
    """Migrate the database and, where anything was migrated, work every project out anew and have read again
    what was never read; gives the migrations run.

    A project whose figures can't be worked out any more keeps those it had.
    """
    done = migrate()
    if done:
        with connected():
            for project in Project.select(Project.id):
                try:
                    with database.atomic():
                        settle_afresh(project.id)
                except Refusal as refusal:
                    done.append(f"Project {project.id} keeps the figures it had: {refusal.sentence}")
                quotas.count(project.id)
                _have_read(project.id)
            _name_shelves()
    return done


def _have_read(project_id: int) -> None:
    """Jobs for the files whose pages were brought in before anyone read what is on them."""
    files = (
        Sheet.select(Revision.file, fn.MAX(Sheet.page))
        .join(Revision)
        .where(Sheet.project == project_id)
        .group_by(Revision.file)
    )
    for file, pages in files.tuples():
        if PageContent.select().where(PageContent.file == file).count() < pages:
            jobs.begin_for_all(project_id, "page_content", {"file": file, "page": 1, "of": pages})


def _name_shelves() -> None:
    for row in ShelfDocument.select().where(ShelfDocument.name == ""):
        try:
            makeup = read_makeup(row.source)
            fields = {"name": makeup.name, "about": makeup.about}
        except Refusal as refusal:  # it held once; its text is still there to be put right
            fields = {"name": row.key, "about": refusal.sentence}
        ShelfDocument.update(**fields).where(ShelfDocument.id == row.id).execute()
