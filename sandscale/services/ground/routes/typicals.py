"""What can be done with typical sections: written, put on shelves and taken from them; and lists of names."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from ....core.ground.route.document import (
    LENGTHS,
    PART_LENGTHS,
    TypicalDocument,
    read_typical,
    read_typical_source,
    typical_of,
)
from ....core.ground.route.names import NamesDocument, read_names
from ....core.numbers.entry import kept, read_entry
from ....core.refusals import BadEntry
from ....store.models import NamedQuantity, TypicalSection
from ...keeping.acting import Actor, InUse, check_version, find
from ...keeping.recording import Recording, action, recording
from ...keeping.views import Saved
from ...shelves import actions as shelves
from .actions import replace_rows, route_of

MOST_TYPICALS = 100


def typical_kept(given: Mapping[str, Any]) -> dict[str, Any]:
    """A typical section as it is kept: read, its lengths written plainly, and proved.

    Raises:
        BadFormula, BadEntry: it is none, or can't be.
    """
    made = read_typical(dict(given)).model_dump()
    for name in LENGTHS:
        made[name] = kept(made[name], "m", field=name)
    for part, names in PART_LENGTHS.items():
        for n, each in enumerate(made[part]):
            for name in names:
                each[name] = kept(each[name], "m", field=f"{part}.{n}.{name}")
    typical_of(TypicalDocument(**made))
    return made


def _fresh_name(actor: Actor, name: str, own: int = 0) -> None:
    for row in TypicalSection.those(TypicalSection.project, [actor.project_id]):
        if row.name.lower() == name.lower() and row.id != own:
            raise BadEntry(f"There is a typical section “{name}” already.", field="name")


@action
def add_typical(actor: Actor, given: Mapping[str, Any]) -> Saved:
    """A typical section.

    Raises:
        BadFormula, BadEntry: it is none, can't be, or its name is taken.
    """
    made = typical_kept(given)
    _fresh_name(actor, made["name"])
    with recording(actor, f"Typical section {made['name']}") as log:
        row = _insert(log, actor, made)
    return log.saved(row)


def _insert(log: Recording, actor: Actor, made: dict[str, Any], **more: Any) -> TypicalSection:
    rows = TypicalSection.those(TypicalSection.project, [actor.project_id])
    if len(rows) >= MOST_TYPICALS:
        raise BadEntry(f"A project has {MOST_TYPICALS} typical sections at most.", field="name")
    position = max((row.position for row in rows), default=-1) + 1
    row: TypicalSection = log.insert(
        TypicalSection, name=made["name"], position=position, document=made, **more
    )
    return row


@action
def change_typical(actor: Actor, typical_id: int, version: int, given: Mapping[str, Any]) -> Saved:
    """Change a typical section; every route built like it is worked out again.

    Raises:
        BadFormula, BadEntry: it is none, can't be, or its name is taken.
        Stale: someone else changed it meanwhile.
    """
    row = find(TypicalSection, actor, typical_id)
    made = typical_kept({**row.document, **given})
    _fresh_name(actor, made["name"], row.id)
    fields = {"name": made["name"], "document": made}
    check_version(row, version, fields)
    words = ", ".join(name for name in given if made[name] != row.document.get(name))
    with recording(actor, f"Typical section {row.name}: {words.replace('_', ' ') or 'as it was'}") as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete_typical(actor: Actor, typical_id: int) -> Saved:
    """Take a typical section out.

    Raises:
        InUse: a route is built like it.
    """
    row = find(TypicalSection, actor, typical_id)
    change = row.changes.first()
    if change is not None:
        raise InUse(
            f"Route {change.route.element.mark} is built like “{row.name}” from chainage "
            f"{change.chainage or 'its beginning'}.",
            remedy="Build it like another first.",
        )
    with recording(actor, f"Typical section {row.name} deleted") as log:
        log.delete(row)
    return log.saved()


@action
def put_typical_on_shelf(actor: Actor, typical_id: int, shelf_id: int) -> Saved:
    """Put a typical section on a shelf as its next number there; the project goes on from that."""
    row = find(TypicalSection, actor, typical_id)
    source = json.dumps(row.document, ensure_ascii=False, indent=1)
    there = shelves.put(actor.person_id, shelf_id, "typical section", source)
    with recording(actor, f"Typical section {row.name} put on a shelf, number {there.number}") as log:
        log.update(row, shelf=shelf_id, shelf_number=there.number)
    return log.saved(row)


@action
def take_typical_from_shelf(actor: Actor, shelf_id: int, key: str) -> Saved:
    """Take a typical section from a shelf; one taken from there before goes on to its latest number.

    Raises:
        BadEntry: another one has its name.
    """
    there = shelves.latest(actor.person_id, shelf_id, "typical section", key)
    made = read_typical_source(there.source).model_dump()
    rows = TypicalSection.those(TypicalSection.project, [actor.project_id])
    row = next((each for each in rows if each.shelf == shelf_id and each.name == made["name"]), None)
    with recording(actor, f"Typical section {made['name']}, number {there.number} of its shelf") as log:
        if row is None:
            _fresh_name(actor, made["name"])
            row = _insert(log, actor, made, shelf=shelf_id, shelf_number=there.number)
        else:
            log.update(row, name=made["name"], document=made, shelf_number=there.number)
    return log.saved(row)


@action
def put_names_on_shelf(actor: Actor, element_id: int, shelf_id: int, name: str) -> Saved:
    """Put a route's list of named quantities on a shelf under a name, such as the client's.

    Raises:
        BadEntry: it has none, or the name is empty.
    """
    row = route_of(actor, element_id)
    rows = NamedQuantity.those(NamedQuantity.route, [row.id], NamedQuantity.position, NamedQuantity.id)
    if not rows or not name.strip():
        raise BadEntry("A list of names needs a name of its own, and names in it.", field="name")
    listed = [
        {"name": r.name, "layers": r.layers, **{n: _plain(getattr(r, n)) for n in ("density", "extra")}}
        for r in rows
    ]
    document = NamesDocument(name=name.strip(), named=listed)
    shelves.put(actor.person_id, shelf_id, "names", document.model_dump_json(indent=1))
    with recording(actor, f"Names of {row.element.mark} put on a shelf") as log:
        pass
    return log.saved(row)


def _plain(entry: str) -> str:
    """A number as every project reads it."""
    return f"{read_entry(entry, 'nr'):g}" if entry.strip() else ""


@action
def match_names(actor: Actor, element_id: int, shelf_id: int, key: str) -> Saved:
    """Gather a route's layers under the names of a list on a shelf, matched by their names. Names that count
    nothing, and layers under no name, are told once it is worked out."""
    row = route_of(actor, element_id)
    there = shelves.latest(actor.person_id, shelf_id, "names", key)
    made = read_names(there.source)
    with recording(actor, f"{row.element.mark}: names of {made.name}") as log:
        replace_rows(log, row, "named", [each.model_dump() for each in made.named])
    return log.saved(row)
