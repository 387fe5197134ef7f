"""One action: a transaction in which rows are written, what depends on them worked out, and the change
logged."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from decimal import Decimal
from functools import wraps
from typing import Concatenate, ParamSpec, TypeVar

from ...core.numbers.ways import held
from ...store.changes import ChangeLog
from ...store.database import database
from ...store.models import Change, Project, ProjectRow
from ...store.shadow import in_shadow
from .acting import Actor, Missing, require_writer
from .graph import settle
from .quotas import check_rows
from .views import Saved

# In every action: written out.
_WAYS = "SELECT unit_system, numbers, working_day FROM project WHERE id = %s"
_HOLD = f"{_WAYS} FOR UPDATE"
_DROP = "UPDATE change SET state = 'dropped' WHERE project_id = %s AND person_id = %s AND state = 'undone'"
P = ParamSpec("P")
T = TypeVar("T")


_whole: ContextVar[Recording | None] = ContextVar("whole", default=None)


class Recording(ChangeLog):
    """A change log that also answers what it did, once its block is left."""

    def __init__(self, project: Project, person_id: int | None, label: str) -> None:
        super().__init__(project, person_id, label)
        self.kind = "do"
        self.of: int | None = None
        self.change: Change | None = None
        self.bill_total = Decimal(0)

    def saved(self, row: ProjectRow | Project | int | None = None) -> Saved:
        """The answer to the action: about the row it was for, or about a number of rows."""
        about = {"id": row} if isinstance(row, int) or row is None else {"id": row.id, "version": row.version}
        change = self.change.id if self.change else None
        return Saved(label=self.label, change=change, bill_total=self.bill_total, **about)


def action(function: Callable[Concatenate[Actor, P], T]) -> Callable[Concatenate[Actor, P], T]:
    """Make a function an action of a person: one transaction that begins by locking the project's row, in the
    project's ways of measuring and writing.

    So actions in one project follow one another, and each reads what the one before it wrote. What is only
    tried locks nothing.

    Raises:
        Forbidden: the person may only look.
    """

    @wraps(function)
    def acting(actor: Actor, /, *arguments: P.args, **named: P.kwargs) -> T:
        require_writer(actor)
        with database.atomic():
            own = database.execute_sql(_WAYS if in_shadow() else _HOLD, (actor.project_id,)).fetchone()
            if own is None:
                raise Missing("That project is gone.")
            with held(*own):
                return function(actor, *arguments, **named)

    return acting


def in_words(fields: Iterable[str]) -> str:
    """The fields that an action changes, in words for its label: “quoted on, price”."""
    return ", ".join(fields).replace("_", " ")


@contextmanager
def recording(actor: Actor, label: str) -> Iterator[Recording]:
    """Write rows inside an action; what depends on them is worked out and the change logged as it ends, or
    as the whole does that it is part of."""
    if (whole := _whole.get()) is not None:
        yield whole
        return
    with database.atomic():
        project = Project.get_by_id(actor.project_id)
        log = Recording(project, actor.person_id, label)
        yield log
        log.bill_total = project.bill_total
        if not log.entries:
            return
        if grown := log.grown:
            check_rows(project, grown)
            Project.update(rows_held=Project.rows_held + grown).where(Project.id == project.id).execute()
        moved = settle(project.id, log.entries)
        log.bill_total = Project.get_by_id(project.id).bill_total
        if log.kind == "do":
            database.execute_sql(_DROP, (project.id, actor.person_id))
        log.change = log.write(log.bill_total, kind=log.kind, of=log.of, moved=moved)


@contextmanager
def as_one(actor: Actor, label: str) -> Iterator[Recording]:
    """Several actions within one as one change, undone as one; what depends on them is worked out once."""
    with recording(actor, label) as log:
        token = _whole.set(log)
        try:
            yield log
        finally:
            _whole.reset(token)
