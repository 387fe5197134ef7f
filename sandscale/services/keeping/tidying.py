"""Clearing away what nothing needs any more."""

from __future__ import annotations

from datetime import timedelta

from peewee import fn

from ...store.models import (
    PROJECT_TABLES,
    ChangeEntry,
    Invitation,
    Job,
    PageContent,
    StoredFile,
    now,
)
from ..answers import tellings
from ..people import signing_in
from . import jobs, quotas

# An upload's file is kept for redo while the change log still tells of a row that held it.
_UNDER_WAY = timedelta(hours=1)


def tidy() -> None:
    """Clear away sessions and invitations that lapsed, old tries to sign in, jobs that ended, and
    orphan files."""
    signing_in.clear()
    tellings.clear()
    Invitation.delete().where(Invitation.expires < now()).execute()
    jobs.clear()
    _orphan_files()


def _orphan_files() -> None:
    """Files that no row holds, and that no undo or redo could bring a row back to."""
    holders = [
        field for model in PROJECT_TABLES for field in model._meta.refs if field.rel_model is StoredFile
    ]
    size = fn.OCTET_LENGTH(StoredFile.content).alias("size")
    for file in StoredFile.select(StoredFile.id, StoredFile.project, size):
        held = any(field.model.select().where(field == file.id).exists() for field in holders)
        if not held and not _awaited(file.id) and not any(_logged(field, file.id) for field in holders):
            PageContent.delete().where(PageContent.file == file.id).execute()
            StoredFile.delete().where(StoredFile.id == file.id).execute()
            quotas.let_go(file.project_id, file.size)


def _awaited(file_id: int) -> bool:
    """Whether a job is still to bring a file in."""
    of_file = Job.arguments.contains({"brought": file_id})
    return bool(Job.select().where(of_file & (Job.state << jobs.UNFINISHED)).exists())


def _logged(field: object, file_id: int) -> bool:
    mine = ChangeEntry.table_name == field.model._meta.table_name  # type: ignore[attr-defined]
    name = field.name  # type: ignore[attr-defined]
    holding = {name: file_id}
    in_log = ChangeEntry.before.contains(holding) | ChangeEntry.after.contains(holding)
    return bool(ChangeEntry.select().where(mine & in_log).exists())
