"""Many items of a bill written at once, as a spreadsheet pastes them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ...core.numbers.entry import typed
from ...core.refusals import BadEntry
from ...store.models import BuildUp, Item, Section
from ..keeping.acting import Actor, Missing, check_version, find
from ..keeping.recording import action, recording
from ..keeping.views import Saved
from ..rates.priced import kept_size_of
from .actions import checked_item, next_position, open_section, write_item

MOST_AT_ONCE = 5_000
PASTED = "from a spreadsheet"


@dataclass(frozen=True)
class ItemEdit:
    """A change of one item within a block; ``item`` is None for a new one."""

    item: int | None
    version: int
    fields: dict[str, Any]


@action
def change_items(actor: Actor, section_id: int, edits: list[ItemEdit]) -> Saved:
    """Many items changed, or added at the end of a section, as one change.

    A rate is known by its name, or is a number and so typed; what is typed without saying why is from a
    spreadsheet. A new row with nothing but words is a heading, one with an amount but no quantity a lump sum.

    Raises:
        BadEntry: an entry doesn't fit; its field names the place in the block, as ``3.unit``.
        Stale: someone else changed one of the items meanwhile.
    """
    section = open_section(find(Section, actor, section_id))
    rows = {
        row.id: row
        for row in Item.those(Item.id, [edit.item for edit in edits if edit.item], project=actor.project_id)
    }
    rates = _Rates(actor.project_id)
    changed, fresh = list[tuple[Item, dict[str, Any], int]](), list[dict[str, Any]]()
    position = next_position(section.id)
    for at, edit in enumerate(edits):
        try:
            if edit.item is None:
                fields = _new(edit.fields, rates)
                fresh.append({**fields, "section": section.id, "position": position + len(fresh)})
            elif row := rows.get(edit.item):
                open_section(row.section)
                changed.append((row, _fields(edit.fields, row.__data__, rates), edit.version))
            else:
                raise Missing("An item that was to be changed is gone.", remedy="Look again, then repeat it.")
        except BadEntry as error:
            raise BadEntry(
                f"Row {at + 1} of the block: {error.sentence}", field=f"{at}.{error.field}",
                remedy=error.remedy,
            ) from None  # fmt: skip
    said = [(len(fresh), "added"), (len(changed), "changed")]
    words = ", ".join(f"{n} item{'s' if n != 1 else ''} {what}" for n, what in said if n)
    with recording(actor, f"{section.title}: {words}") as log:
        for row, fields, version in changed:
            check_version(row, version, fields)
            write_item(log, row, fields)
        made = log.insert_all(Item, fresh)
    return log.saved(made[-1] if made else None)


class _Rates:
    """The rates of a project, by their names without case, and by their ids."""

    def __init__(self, project_id: int) -> None:
        rows = BuildUp.those(BuildUp.project, [project_id])
        self.by_name = {" ".join(row.name.casefold().split()): row for row in rows}
        self.by_id: dict[Any, BuildUp] = {row.id: row for row in rows}


_EMPTY = {
    "kind": "measured", "description": "", "unit": "nr", "typed_quantity": "", "typed_reason": "",
    "typed_amount": "", "typed_rate": "", "rate_reason": "", "number": "", "note": "", "build_up": None,
}  # fmt: skip


def _new(fields: dict[str, Any], rates: _Rates) -> dict[str, Any]:
    told = {name: text for name, text in fields.items() if text}
    if not told.keys() - {"description", "number", "note"}:
        told["kind"] = "heading"
    elif not told.get("typed_quantity"):
        told.setdefault("kind", "lump_sum" if told.get("typed_amount") else "measured")
    if told.get("kind") != "lump_sum":
        told.pop("typed_amount", None)  # what a quantity and a rate come to is reckoned
    return {**_EMPTY, **_fields(told, _EMPTY, rates)}


def _fields(fields: dict[str, Any], kept: dict[str, Any], rates: _Rates) -> dict[str, Any]:
    told = dict(fields)
    if isinstance(named := told.pop("rate", None), str):
        told |= _rate(named, rates)
    if told.get("typed_quantity") and not (told.get("typed_reason") or kept.get("typed_reason")):
        told["typed_reason"] = PASTED
    if told.get("typed_rate") and not (told.get("rate_reason") or kept.get("rate_reason")):
        told["rate_reason"] = PASTED
    entries = typed(told, "typed_quantity", "typed_amount", "typed_rate")
    checked = checked_item({**told, **entries}, kept)
    rate, symbol = checked.get("build_up", kept.get("build_up")), checked.get("unit", kept.get("unit"))
    priced = rates.by_id.get(rate)
    if priced is not None and priced.unit != symbol:
        raise BadEntry(
            f"“{priced.name}” is a rate per {priced.unit}; this item is in {symbol}.", field="build_up",
            remedy="Choose a rate in the item's unit.",
        )  # fmt: skip
    if checked.get("size"):
        if priced is None:
            raise BadEntry("It has no rate that asks for a size.", field="size", remedy="Choose one first.")
        checked["size"] = kept_size_of(priced, checked["size"])
    return checked


def _rate(text: str, rates: _Rates) -> dict[str, Any]:
    """What stands in a rate's cell: nothing, the name of a rate, or a number."""
    words = " ".join(text.casefold().split())
    if not words:
        return {"build_up": None, "size": ""}
    if found := rates.by_name.get(words):
        return {"build_up": found.id, "size": ""}
    if any(sign.isdigit() for sign in words):
        return {"typed_rate": text}
    raise BadEntry(f"There is no rate “{text[:60]}”.", field="rate", remedy="Type a number, or its name.")
