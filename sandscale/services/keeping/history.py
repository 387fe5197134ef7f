"""Undo and redo over the change log, and what was done."""

from __future__ import annotations

from functools import reduce
from operator import or_

from peewee import IntegrityError

from ...core.refusals import Refusal
from ...store.changes import Conflict, Entry, entries_of
from ...store.models import Change, ChangeEntry, DimensionLine, Person, PriceDraw, ReferenceSize
from .acting import Actor, Missing
from .proving import proofs, prove_worked_out
from .recording import action, recording
from .views import ChangeView, HistoryStep, Saved


def history(actor: Actor, before: int = 2**31 - 1, most: int = 50) -> list[ChangeView]:
    """A window of the project's changes, newest first, with what each did to the bill: those before a
    change."""
    query = (
        Change.select(Change, Person)
        .left_outer_join(Person)
        .where((Change.project == actor.project_id) & (Change.id < before))
        .order_by(Change.id.desc())
        .limit(most)
    )
    return [
        ChangeView(
            id=c.id, at=c.at, person=c.person.name if c.person_id else "", label=c.label, kind=c.kind,
            state=c.state,
            moved=c.bill_after - c.bill_before,
        )
        for c in query
    ]  # fmt: skip


def history_of(actor: Actor, ref: str, most: int = 40) -> list[HistoryStep]:
    """What was done to a number of the project: every change of the rows it is typed in, newest first.

    Raises:
        Missing: the reference names nothing that is typed.
    """
    rows = _rows_behind(actor, ref)
    own = [
        (ChangeEntry.table_name == table) & (ChangeEntry.row_id << ids) for table, ids in rows.items() if ids
    ]
    if not own:
        return []
    query = (
        ChangeEntry.select(ChangeEntry, Change, Person)
        .join(Change)
        .left_outer_join(Person)
        .where((Change.project == actor.project_id) & reduce(or_, own))
        .order_by(ChangeEntry.id.desc())
        .limit(most)
    )
    return [step for entry in query for step in _steps(entry)][:most]


def _rows_behind(actor: Actor, ref: str) -> dict[str, list[int]]:
    """The rows a number is typed in, by table."""
    kind, _, rest = ref.partition(":")
    number = rest.partition(":")[0]
    if kind not in _TABLES or not number.isdecimal():
        raise Missing(f"“{ref[:60]}” names no number that is typed.")
    row_id = int(number)
    rows = {_TABLES[kind]: [row_id]}
    if kind == "quantity":
        lines = DimensionLine.select(DimensionLine.id, DimensionLine.figure).where(
            (DimensionLine.project == actor.project_id) & (DimensionLine.element == row_id)
        )
        pairs = list(lines.tuples())
        rows |= {
            "dimension_line": [line for line, _ in pairs],
            "figure": [figure for _, figure in pairs if figure],
        }
    if kind in ("build-up", "reference"):
        rows["reference_size"] = list(
            ReferenceSize.column(ReferenceSize.id, ReferenceSize.build_up, [row_id])
        )
    if kind == "resource":
        rows["price_draw"] = list(PriceDraw.column(PriceDraw.id, PriceDraw.resource, [row_id]))
    return rows


_TABLES = {
    "line": "dimension_line", "figure": "figure", "quantity": "element", "item": "item",
    "item-quantity": "item", "build-up": "build_up",
    "build-up-line": "build_up_line", "resource": "resource", "quote": "quote", "section": "section",
    "answer": "answer", "reference": "build_up",
}  # fmt: skip


_UNTOLD = {
    "project",
    "position",
    "element",
    "geometry",
    "resource",
    "build_up",
    "section",
    "figure",
    "nested",
}


def _steps(entry: ChangeEntry) -> list[HistoryStep]:
    change, before, after = entry.change, entry.before, entry.after
    told = {"at": change.at, "person": change.person.name if change.person_id else "", "label": change.label}
    if before is None or after is None:
        return [
            HistoryStep(
                **told,
                field="",
                before="" if before is None else "there",
                after="" if after is None else "there",
            )
        ]
    fields = [name for name in after if before.get(name) != after.get(name)]
    steps = [
        HistoryStep(**told, field=name, before=_words(before.get(name)), after=_words(after.get(name)))
        for name in fields
        if name not in _UNTOLD
    ]
    return steps or [
        HistoryStep(**told, field=fields[0].replace("_", " ") if fields else "", before="", after="")
    ]


def _words(value: object) -> str:
    if isinstance(value, dict):
        return ", ".join(f"{key} {_words(entry)}" for key, entry in value.items())
    if isinstance(value, bool):
        return "yes" if value else "no"
    return "" if value is None else str(value)


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
        raise Refusal(
            "There is nothing of yours to undo here." if kind == "undo" else "There is nothing to redo."
        )
    entries = entries_of(change)
    if kind == "undo":
        entries = [Entry(e.table, e.row_id, e.after, e.before) for e in reversed(entries)]
    try:
        with recording(actor, f"{kind.capitalize()}: {change.label}") as log:
            log.kind, log.of = kind, change.id
            for entry in entries:
                log.apply(entry)
            Change.update(state="undone" if kind == "undo" else "done").where(
                Change.id == change.id
            ).execute()
    except (Conflict, IntegrityError):
        raise Refusal(f"{_cant(kind, change)}: something it touched was changed since.") from None
    try:
        _prove_beside(change, {entry.table for entry in entries})
    except Refusal as odd:
        raise Refusal(f"{_cant(kind, change)} beside what was changed since: {odd.sentence}") from None
    return log.saved()


def _cant(kind: str, change: Change) -> str:
    return f"“{change.label}” can't be {'undone' if kind == 'undo' else 'done again'}"


def _prove_beside(change: Change, tables: set[str]) -> None:
    """Refuse rows that held as they were and don't beside what colleagues wrote since, such as one of their
    name.

    Raises:
        Refusal: something doesn't hold.
    """
    colleagues = Change.person.is_null() | (Change.person != change.person_id)
    since = (Change.project == change.project_id) & (Change.id > change.id) & (Change.kind != "worked")
    beside = ChangeEntry.select(ChangeEntry.table_name).join(Change).where(since & colleagues).distinct()
    if written := {name for (name,) in beside.tuples()}:
        for module in proofs(tables | written):
            module.prove(change.project_id)
        prove_worked_out(change.project_id, tables | written)
