"""Figures that take long: worked out by jobs, outside the project's lock, and handed in if nothing has
changed since.

Meanwhile the row stands in ``being_worked_out``: screens say so, and nothing old is shown as if it were
fresh.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable

from ...core.refusals import Refusal
from ...store.changes import ChangeLog
from ...store.database import database
from ...store.models import BeingWorkedOut, Project
from . import jobs
from .graph import Ids, Node, Slow, nodes, settle_after

KIND = "worked_out"
_WORKED_OUT = "DELETE FROM being_worked_out WHERE node = %s AND row_id = ANY(%s)"


def put_off(project_id: int, node: Node, ids: Ids) -> Ids:
    """Ask for those of some rows that take long to be worked out by jobs; gives them."""
    assert node.slow is not None
    late = node.slow.which(ids)
    gone = ids - late
    if gone:
        database.execute_sql(_WORKED_OUT, (node.name, list(gone)))
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
    return {row.row_id for row in BeingWorkedOut.those(BeingWorkedOut.row_id, ids, node=node)}


def work_out(
    project_id: int, name: str, row_id: int, fingerprint: str, progress: Callable[[float], None]
) -> None:
    """A job's work: reckon a row outside the lock, and hand it in if it is still what was asked for.

    What is handed in is a change without a person, so that every tab hears of it and the history tells it.
    """
    slow = _slow(name)
    if not _asked(name, row_id, fingerprint):
        return
    try:
        reckoned = slow.reckon(row_id, progress)
    except Refusal as refusal:
        return give_up(project_id, name, row_id, fingerprint, str(refusal))
    _settle(project_id, name, row_id, fingerprint, lambda: slow.hand_in(row_id, reckoned))


def work_out_now(project_id: int, names: Iterable[str]) -> None:
    """Work out here and now what a project's jobs would for some nodes; these then find it done."""
    for name in names:
        for row in BeingWorkedOut.select().where(
            (BeingWorkedOut.project == project_id) & (BeingWorkedOut.node == name)
        ):
            work_out(project_id, name, row.row_id, row.fingerprint, lambda _: None)


def give_up(project_id: int, name: str, row_id: int, fingerprint: str, says: str) -> None:
    """Say of a row why it can't be worked out, if it is still what was asked for."""
    slow = _slow(name)
    _settle(project_id, name, row_id, fingerprint, lambda: slow.give_up(row_id, says))


def _settle(project_id: int, name: str, row_id: int, fingerprint: str, keep: Callable[[], None]) -> None:
    with database.atomic():
        project = Project.select().where(Project.id == project_id).for_update().get()
        if not _asked(name, row_id, fingerprint):
            return
        BeingWorkedOut.delete().where(_these(name, [row_id])).execute()
        keep()
        log = ChangeLog(project, None, f"{_slow(name).called(row_id)} worked out")
        moved = settle_after(project_id, name, {row_id})
        log.write(Project.get_by_id(project_id).bill_total, kind="worked", moved=moved)


def _slow(name: str) -> Slow:
    slow = nodes()[name].slow
    assert slow is not None
    return slow


def _asked(name: str, row_id: int, fingerprint: str) -> bool:
    """Whether a row still waits for this very work: nothing it rests on has changed since it was asked
    for."""
    asked = BeingWorkedOut.select().where(
        _these(name, [row_id]) & (BeingWorkedOut.fingerprint == fingerprint)
    )
    return bool(asked.exists()) and _slow(name).fingerprint(row_id) == fingerprint
