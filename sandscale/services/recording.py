"""One action: a transaction in which rows are written, what depends on them recomputed, and the change logged."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from decimal import Decimal

from ..store.changes import ChangeLog
from ..store.database import database
from ..store.models import Change, Project
from .acting import Actor, require_writer
from .recompute import recompute


@dataclass
class Recording(ChangeLog):
    """A change log that also answers what it did, once its block is left."""

    def __init__(self, project: Project, person_id: int | None, label: str) -> None:
        super().__init__(project, person_id, label)
        self.kind = "do"
        self.of: int | None = None
        self.change: Change | None = None
        self.bill_total = Decimal(0)


@contextmanager
def recording(actor: Actor, label: str) -> Iterator[Recording]:
    """Write as one action of a person.

    The project's row is locked first, so that actions in one project follow one another.

    Raises:
        Forbidden: the person may only look.
    """
    require_writer(actor)
    with database.atomic():
        project = Project.select().where(Project.id == actor.project_id).for_update().get()
        log = Recording(project, actor.person_id, label)
        yield log
        log.bill_total = project.bill_total
        if not log.entries:
            return
        log.bill_total = recompute(project.id, log.entries)
        if log.kind == "do":
            undone = (Change.project == project.id) & (Change.person == actor.person_id) & (Change.state == "undone")
            Change.update(state="dropped").where(undone).execute()
        log.change = log.write(log.bill_total, kind=log.kind, of=log.of)
