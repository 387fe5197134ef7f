"""Figures that take long: worked out by jobs, outside the project's lock, and handed in if nothing has
changed since.

Meanwhile the row stands in ``being_worked_out``: screens say so, and nothing old is shown as if it were
fresh.
"""

from __future__ import annotations

from collections.abc import Iterable

from ...store.changes import ChangeLog
from ...store.database import database
from ...store.models import BeingWorkedOut, Project
from . import jobs
from .graph import Ids, Node, nodes, settle_after

KIND = "worked_out"


def put_off(project_id: int, node: Node, ids: Ids) -> Ids:
    """Ask for those of some rows that take long to be worked out by jobs; gives them."""
    assert node.slow is not None
    late = node.slow.which(ids)
    gone = ids - late
    if gone:
        BeingWorkedOut.delete().where(
            (BeingWorkedOut.node == node.name) & (BeingWorkedOut.row_id << list(gone))
        ).execute()
    asked = (
        {row.row_id: row for row in BeingWorkedOut.select().where(_these(node.name, late))} if late else {}
    )
    for row_id in sorted(late):
        print_ = node.slow.fingerprint(row_id)
        if row_id in asked and asked[row_id].fingerprint == print_:
            continue
        job = jobs.begin_for_all(project_id, KIND, {"node": node.name, "row": row_id, "fingerprint": print_})
        BeingWorkedOut.delete().where(_these(node.name, [row_id])).execute()
        BeingWorkedOut.create(
            project=project_id, node=node.name, row_id=row_id, fingerprint=print_, job=job.id
        )
    return late


def _these(node: str, ids: Iterable[int]) -> object:
    return (BeingWorkedOut.node == node) & (BeingWorkedOut.row_id << list(ids))


def being_worked_out(node: str, ids: Iterable[int]) -> Ids:
    """Those of some rows of a node that are still being worked out."""
    rows = BeingWorkedOut.select(BeingWorkedOut.row_id).where(_these(node, ids))
    return {row_id for (row_id,) in rows.tuples()}


def work_out(project_id: int, name: str, row_id: int, fingerprint: str) -> None:
    """A job's work: reckon a row outside the lock, and hand it in if it is still what was asked for.

    What is handed in is a change without a person, so that every tab hears of it and the history tells it.
    """
    node = nodes()[name]
    slow = node.slow
    assert slow is not None
    if not _wanted(name, row_id, fingerprint) or slow.fingerprint(row_id) != fingerprint:
        return
    reckoned = slow.reckon(row_id)
    with database.atomic():
        project = Project.select().where(Project.id == project_id).for_update().get()
        if not _wanted(name, row_id, fingerprint) or slow.fingerprint(row_id) != fingerprint:
            return
        BeingWorkedOut.delete().where(_these(name, [row_id])).execute()
        slow.hand_in(row_id, reckoned)
        log = ChangeLog(project, None, f"{slow.called(row_id)} worked out")
        moved = settle_after(project_id, name, {row_id})
        log.write(Project.get_by_id(project_id).bill_total, kind="worked", moved=moved)


def _wanted(name: str, row_id: int, fingerprint: str) -> bool:
    asked = BeingWorkedOut.select().where(
        _these(name, [row_id]) & (BeingWorkedOut.fingerprint == fingerprint)
    )
    return bool(asked.exists())
