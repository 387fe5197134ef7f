"""What is drawn up once and built many times: kinds of trench, typical sections. A project holds them by
name; shelves hold them by numbers."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ...core.numbers.entry import kept
from ...core.refusals import BadEntry
from ...core.shelf import ShelfKind
from ...store.models import ProjectRow
from ..keeping.acting import Actor, InUse, check_version, find
from ..keeping.naming import refuse_twin
from ..keeping.recording import Recording, action, recording
from ..keeping.views import Saved
from ..shelves import actions as shelves

MOST = 100
Document = dict[str, Any]


@dataclass(frozen=True)
class DrawnUp:
    """Something that is drawn up once.

    Attributes:
        table: whose rows hold it.
        called: what one is called in a sentence, and ``several``.
        shelf: what shelves call it.
        kept: one as it is kept: read, written plainly, and proved.
        read: one as a shelf's text tells it.
        built: what is built like one and why that can't be taken out; None where nothing is.
    """

    table: type[ProjectRow]
    called: str
    several: str
    shelf: ShelfKind
    kept: Callable[[Mapping[str, Any]], Document]
    read: Callable[[str], Document]
    built: Callable[[Any], InUse | None]

    def rows(self, actor: Actor) -> list[Any]:
        """Those of a project."""
        return self.table.those(self.table.project, [actor.project_id])

    def said(self, name: str, more: str = "") -> str:
        """What a change of one is called."""
        return f"{self.called[0].upper()}{self.called[1:]} {name}{more}"


def lengths_kept(made: Document, own: tuple[str, ...], in_parts: Mapping[str, tuple[str, ...]]) -> None:
    """Write plainly the lengths of what is drawn up, its own and those in its parts.

    Raises:
        BadEntry: one can't be read; its field is named.
    """
    for name in own:
        made[name] = kept(made[name], "m", field=name)
    for part, names in in_parts.items():
        for n, each in enumerate(made.get(part, ())):
            for name in names:
                each[name] = kept(each[name], "m", field=f"{part}.{n}.{name}")


def _insert(log: Recording, actor: Actor, of: DrawnUp, made: Document, **more: Any) -> Any:
    refuse_twin(actor.project_id, of.table, of.called, made["name"])
    rows = of.rows(actor)
    if len(rows) >= MOST:
        raise BadEntry(f"A project has {MOST} {of.several} at most.", field="name")
    position = max((row.position for row in rows), default=-1) + 1
    return log.insert(of.table, name=made["name"], position=position, document=made, **more)


@action
def add(actor: Actor, given: Mapping[str, Any], *, of: DrawnUp) -> Saved:
    """One more.

    Raises:
        BadFormula, BadEntry: it is none, can't be, or its name is taken.
    """
    made = of.kept(given)
    with recording(actor, of.said(made["name"])) as log:
        row = _insert(log, actor, of, made)
    return log.saved(row)


@action
def change(actor: Actor, row_id: int, version: int, given: Mapping[str, Any], *, of: DrawnUp) -> Saved:
    """Change one; all that is built like it is worked out again.

    Raises:
        BadFormula, BadEntry: it is none, can't be, or its name is taken.
        Stale: someone else changed it meanwhile.
    """
    row: Any = find(of.table, actor, row_id)
    made = of.kept({**row.document, **given})
    refuse_twin(actor.project_id, of.table, of.called, made["name"], row.id)
    fields = {"name": made["name"], "document": made}
    check_version(row, version, fields)
    words = ", ".join(name for name in given if made.get(name) != row.document.get(name))
    with recording(actor, of.said(row.name, f": {words.replace('_', ' ') or 'as it was'}")) as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete(actor: Actor, row_id: int, *, of: DrawnUp) -> Saved:
    """Take one out.

    Raises:
        InUse: something is built like it.
    """
    row: Any = find(of.table, actor, row_id)
    if in_use := of.built(row):
        raise in_use
    with recording(actor, of.said(row.name, " deleted")) as log:
        log.delete(row)
    return log.saved()


@action
def put_on_shelf(actor: Actor, row_id: int, shelf_id: int, *, of: DrawnUp) -> Saved:
    """Put one on a shelf as its next number there; the project goes on from that.

    Raises:
        Missing: the shelf isn't the actor's.
    """
    row: Any = find(of.table, actor, row_id)
    source = json.dumps(row.document, ensure_ascii=False, indent=1)
    there = shelves.put(actor.person_id, shelf_id, of.shelf, source)
    with recording(actor, of.said(row.name, f" put on a shelf, number {there.number}")) as log:
        log.update(row, shelf=shelf_id, shelf_number=there.number)
    return log.saved(row)


@action
def take_from_shelf(actor: Actor, shelf_id: int, key: str, *, of: DrawnUp) -> Saved:
    """Take the latest of one from a shelf; one taken from there before goes on to it.

    Raises:
        Missing: the shelf isn't the actor's, or has no such.
        BadEntry: the project has one of that name that isn't from this shelf.
    """
    there = shelves.latest(actor.person_id, shelf_id, of.shelf, key)
    made = of.read(there.source)
    row = next((r for r in of.rows(actor) if r.shelf == shelf_id and r.name == made["name"]), None)
    with recording(actor, of.said(made["name"], f", number {there.number} of its shelf")) as log:
        if row is None:
            row = _insert(log, actor, of, made, shelf=shelf_id, shelf_number=there.number)
        else:
            log.update(row, name=made["name"], document=made, shelf_number=there.number)
    return log.saved(row)
