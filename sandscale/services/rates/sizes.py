"""The sizes of references: typed, changed, taken out."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from ...core.pricing.reference import PARTS
from ...core.refusals import BadEntry
from ...store.models import BuildUp, ReferenceSize
from ..keeping.acting import Actor, check_version, find
from ..keeping.recording import action, in_words, recording
from ..keeping.views import Saved
from .references import kept_size, size_in


@action
def add_size(actor: Actor, build_up_id: int, fields: dict[str, Any]) -> Saved:
    """A size that a reference tells of, with what it costs there.

    Raises:
        BadEntry: a value doesn't fit, or it tells of that size already.
    """
    row = reference(actor, build_up_id)
    fields = _checked_size(row, fields)
    with recording(actor, f"{row.name} at {fields['size']}") as log:
        size = log.insert(ReferenceSize, build_up=row.id, **fields)
    return log.saved(size)


@action
def change_size(actor: Actor, size_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a size of a reference, or what it costs there.

    Raises:
        BadEntry: a value doesn't fit.
        Stale: someone else changed it meanwhile.
    """
    size = find(ReferenceSize, actor, size_id)
    fields = _checked_size(size.build_up, fields, size.id)
    check_version(size, version, fields)
    with recording(actor, f"{size.build_up.name} at {size.size}: {in_words(fields)}") as log:
        log.update(size, **fields)
    return log.saved(size)


@action
def delete_size(actor: Actor, size_id: int) -> Saved:
    """Take a size out of a reference."""
    size = find(ReferenceSize, actor, size_id)
    with recording(actor, f"{size.build_up.name} without {size.size}") as log:
        log.delete(size)
    return log.saved()


def reference(actor: Actor, build_up_id: int) -> BuildUp:
    """A rate that tells of sizes.

    Raises:
        BadEntry: it is of another kind.
        Missing: it isn't there.
    """
    row = find(BuildUp, actor, build_up_id)
    if row.kind != "reference":
        raise BadEntry(f"“{row.name}” is no reference.", field="size")
    return row


def _checked_size(row: BuildUp, fields: dict[str, Any], size_id: int = 0) -> dict[str, Any]:
    if "size" in fields:
        fields = {**fields, "size": kept_size(fields["size"], row.sized_in)}
        there = {size_in(each.size, row.sized_in) for each in row.sizes if each.id != size_id}
        if check_size(fields, row.sized_in) in there:
            raise BadEntry(f"It tells of {fields['size']} already.", field="size")
    check_size(fields, row.sized_in)
    return fields


def check_size(fields: dict[str, Any], symbol: str) -> Decimal | None:
    """The size typed, where one is; its costs are looked at.

    Raises:
        BadEntry: a value doesn't fit.
    """
    for name in (*PARTS, "whole"):
        value = fields.get(name)
        if value is not None and not (value.is_finite() and 0 <= value < Decimal("1e9")):
            raise BadEntry(f"{value} can't be a cost.", field=name, remedy="Type a number from zero up.")
    if "size" not in fields:
        return None
    if not fields["size"]:
        raise BadEntry("A size is a number.", field="size", remedy="Type it like 175 mm.")
    return size_in(fields["size"], symbol)
