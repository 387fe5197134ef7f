"""What can be done with typical sections: written, put on shelves and taken from them; and lists of names."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
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
from ....core.numbers.entry import read_entry
from ....core.refusals import BadEntry
from ....store.models import NamedQuantity, TypicalSection
from ...keeping.acting import Actor, InUse
from ...keeping.recording import action, recording
from ...keeping.views import Saved
from ...shelves import actions as shelves
from .. import drawn_up
from .actions import replace_rows, route_of


def typical_kept(given: Mapping[str, Any]) -> dict[str, Any]:
    """A typical section as it is kept: read, its lengths written plainly, and proved.

    Raises:
        BadFormula, BadEntry: it is none, or can't be.
    """
    made = read_typical(dict(given)).model_dump()
    drawn_up.lengths_kept(made, LENGTHS, PART_LENGTHS)
    typical_of(TypicalDocument(**made))
    return made


def _built(row: TypicalSection) -> InUse | None:
    change = row.changes.first()
    return change and InUse(
        f"Route {change.route.element.mark} is built like “{row.name}” from chainage "
        f"{change.chainage or 'its beginning'}.",
        remedy="Build it like another first.",
    )


TYPICALS = drawn_up.DrawnUp(
    table=TypicalSection, called="typical section", several="typical sections", shelf="typical section",
    kept=typical_kept, read=lambda source: read_typical_source(source).model_dump(), built=_built,
)  # fmt: skip
add_typical = partial(drawn_up.add, of=TYPICALS)
change_typical = partial(drawn_up.change, of=TYPICALS)
delete_typical = partial(drawn_up.delete, of=TYPICALS)
put_typical_on_shelf = partial(drawn_up.put_on_shelf, of=TYPICALS)
take_typical_from_shelf = partial(drawn_up.take_from_shelf, of=TYPICALS)


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
