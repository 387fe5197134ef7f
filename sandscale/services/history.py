"""Undo and redo over the change log, and what was done."""

from __future__ import annotations

from peewee import IntegrityError

from ..core.refusals import Refusal
from ..store.changes import Conflict, Entry, entries_of
from ..store.models import Change, Person
from .acting import Actor
from .recording import action, recording
from .views import ChangeView, Saved


def history(actor: Actor, most: int = 100) -> list[ChangeView]:
    """The latest changes of the project, newest first, with what each did to the bill."""
    query = Change.select(Change, Person).left_outer_join(Person).where(Change.project == actor.project_id).order_by(Change.id.desc()).limit(most)
    return [
        ChangeView(id=c.id, at=c.at, person=c.person.name if c.person_id else "", label=c.label, kind=c.kind, state=c.state, moved=c.bill_after - c.bill_before)
        for c in query
    ]


@action
def undo(actor: Actor) -> Saved:
    """Take back the actor's latest change that stands.

    Raises:
        Refusal: there is none, or someone has changed the same since.
    """
    return _step(actor, "undo", "done", Change.id.desc())


@action
def redo(actor: Actor) -> Saved:
    """Do again the change the actor took back last.

    Raises:
        Refusal: there is none, or someone has changed the same since.
    """
    return _step(actor, "redo", "undone", Change.id.asc())


def _step(actor: Actor, kind: str, state: str, order: object) -> Saved:
    own = (Change.project == actor.project_id) & (Change.person == actor.person_id) & (Change.kind == "do")
    change = Change.select().where(own & (Change.state == state)).order_by(order).first()
    if change is None:
        raise Refusal("There is nothing of yours to undo here." if kind == "undo" else "There is nothing to redo.")
    entries = entries_of(change)
    if kind == "undo":
        entries = [Entry(e.table, e.row_id, e.after, e.before) for e in reversed(entries)]
    try:
        with recording(actor, f"{kind.capitalize()}: {change.label}") as log:
            log.kind, log.of = kind, change.id
            for entry in entries:
                log.apply(entry)
            Change.update(state="undone" if kind == "undo" else "done").where(Change.id == change.id).execute()
    except (Conflict, IntegrityError):
        raise Refusal(f"“{change.label}” can't be {'undone' if kind == 'undo' else 'done again'}: something it touched was changed since.") from None
    return Saved(label=log.label, change=log.change and log.change.id, bill_total=log.bill_total)
