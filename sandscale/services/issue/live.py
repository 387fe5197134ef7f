"""Live tables: read by whoever knows their address, as CSV that a spreadsheet can refresh, until their key is
withdrawn."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta
from functools import lru_cache

from peewee import fn

from ...core.numbers.ways import held
from ...core.refusals import BadEntry, Refusal
from ...formats.table import as_csv
from ...reports.works import ChainageTable
from ...store.database import database
from ...store.models import Change, LiveTable, Person, Project, now
from ..keeping.acting import Actor, Missing, require_writer
from ..people.signing_in import hash_of, role_in
from .tables import TABLES
from .views import LiveTableView

MOST = 60  # live tables of a project, those withdrawn too
READ_KEPT_EVERY = timedelta(minutes=1)


class Withdrawn(Refusal):
    """A key that was withdrawn."""


@dataclass(frozen=True)
class LiveFile:
    """A live table as it is now: its file's name and content, and a mark that another state hasn't."""

    name: str
    content: bytes
    mark: str


def live_tables(actor: Actor) -> list[LiveTableView]:
    """The live tables of a project, the last made first; only those who may write see them."""
    require_writer(actor)
    query = (
        LiveTable.select(LiveTable, Person).join(Person)
        .where(LiveTable.project == actor.project_id).order_by(LiveTable.id.desc())
    )  # fmt: skip
    return [_view(row) for row in query]


def _view(row: LiveTable, key: str = "") -> LiveTableView:
    return LiveTableView(
        id=row.id, what=row.what, name=row.name, by=row.person.name, made=row.made, withdrawn=row.withdrawn,
        read=row.read, path=f"/api/live/{key}/{row.what}.csv" if key else "",
    )  # fmt: skip


def open_table(actor: Actor, what: str, name: str) -> LiveTableView:
    """Give a table an address of its own; its key is told now and never again.

    Raises:
        Forbidden: the person may only look.
        BadEntry: there is no such table, or there are many already.
    """
    require_writer(actor)
    if what not in TABLES:
        raise BadEntry(
            f"There is no table “{what[:40]}”.", field="what", remedy=f"Choose {', '.join(TABLES)}."
        )
    if LiveTable.select().where(LiveTable.project == actor.project_id).count() >= MOST:
        raise BadEntry(f"A project has up to {MOST} live tables.", field="what", remedy="Take old ones out.")
    key = secrets.token_urlsafe(32)
    row = LiveTable.create(
        project=actor.project_id, person=actor.person_id, what=what, key_hash=hash_of(key),
        name=name.strip()[:120] or TABLES[what].title,
    )  # fmt: skip
    return _view(row, key)


def withdraw(actor: Actor, table_id: int) -> LiveTableView:
    """Withdraw a table's key: whoever reads it is told so. One that was withdrawn is taken out of the list.

    Raises:
        Missing: the project has no such live table.
    """
    require_writer(actor)
    row = LiveTable.get_or_none((LiveTable.id == table_id) & (LiveTable.project == actor.project_id))
    if row is None:
        raise Missing("That live table is not in this project any more.")
    if row.withdrawn is None:
        row.withdrawn = now()
        LiveTable.update(withdrawn=row.withdrawn).where(LiveTable.id == row.id).execute()
    else:
        row.delete_instance()
    return _view(row)


def read(key: str, what: str) -> LiveFile:
    """A live table as it is now.

    Raises:
        Withdrawn: its key was withdrawn, or whoever made it left the project.
        Missing: there is no such key.
    """
    row = LiveTable.get_or_none((LiveTable.key_hash == hash_of(key[:100])) & (LiveTable.what == what))
    if row is None:
        raise Missing(
            "No table has this address.", remedy="Ask whoever gave it to you for the whole address."
        )
    role = role_in(row.person_id, row.project_id)
    if row.withdrawn is not None or role is None:
        raise Withdrawn("The key of this table was withdrawn.", remedy="Ask for another address.")
    moment = now()
    if row.read is None or row.read < moment - READ_KEPT_EVERY:
        LiveTable.update(read=moment).where(LiveTable.id == row.id).execute()
    project = Project.get_by_id(row.project_id)
    with (
        database.atomic("REPEATABLE READ"),
        held(project.unit_system, project.numbers, project.working_day),
    ):
        last = Change.select(fn.MAX(Change.id)).where(Change.project == project.id).scalar() or 0
        mark = f"{row.what}-{project.id}-{last}-{moment:%Y%m%d}"
        content = _content(row.what, Actor(row.person_id, project.id, role), mark)
    return LiveFile(f"{row.name}.csv", content, mark)


@lru_cache(maxsize=8)
def _content(what: str, actor: Actor, _mark: str) -> bytes:
    """A table's content, worked out once for each state of the project."""
    make: Callable[[Actor], ChainageTable] = TABLES[what].make
    return as_csv(make(actor).rows())
