"""Build-ups: the analysis of each unit rate from resources and other build-ups."""

from __future__ import annotations

import re
from decimal import Decimal
from itertools import chain, count
from typing import Any, get_args

from ...core.numbers.entry import read_entry, typed
from ...core.numbers.units import unit
from ...core.pricing.build_up import AddedOn
from ...core.refusals import BadEntry
from ...store.models import BuildUp, BuildUpLine, RateBand, RatePart, ReferenceSize
from ..keeping.acting import Actor, InUse, check_version, find
from ..keeping.naming import refuse_twin, stripped
from ..keeping.recording import action, recording
from ..keeping.views import Saved
from .banded import limit_in
from .lines import refuse_once_in_gang

HEAD_FIELDS = (
    "unit", "heading", "output", "hours", "kind", "added", "added_on", "note", "sized_by", "sized_in",
    "source", "year",
)  # fmt: skip
_GANG = {"unit": "h", "output": "1", "hours": "1"}
_TAKEN = ("output_taken", "output_key", "hours_taken", "hours_key")


@action
def add_build_up(actor: Actor, fields: dict[str, Any]) -> Saved:
    """A new build-up.

    Raises:
        BadEntry: the name is empty or taken, or the unit, output or hours don't fit.
    """
    fields = _checked(actor, fields)
    with recording(actor, f"Rate {fields['name']}") as log:
        row = log.insert(BuildUp, **fields)
    return log.saved(row)


@action
def change_build_up(actor: Actor, build_up_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a build-up's name, heading, unit, output or hours.

    Raises:
        BadEntry: a value doesn't fit, or it holds what a build-up of another kind doesn't.
        InUse: its unit or its kind is changed while items or other build-ups use it.
        Stale: someone else changed it meanwhile.
    """
    row = find(BuildUp, actor, build_up_id)
    fields = _checked(actor, fields, row.id)
    if fields.get("kind", row.kind) != row.kind:
        _refuse_kind(row, fields["kind"])
    elif row.kind == "gang" and any(fields.get(name, hour) != hour for name, hour in _GANG.items()):
        raise BadEntry(
            "A gang works by the hour.", field="unit", remedy="Draw on it in a rate, which has the output."
        )
    for name in ("output", "hours"):  # typed over what was taken
        if name in fields:
            fields |= {f"{name}_taken": None, f"{name}_key": ""}
    if fields.get("unit", row.unit) != row.unit and (_is_used(row)):
        raise InUse(
            f"“{row.name}” is used per {row.unit}.",
            field="unit",
            remedy="Make a second build-up in the other unit.",
        )
    if (symbol := fields.get("sized_in", row.sized_in)) != row.sized_in:
        # They are read in it from then on.
        for each in (*row.sizes, *row.used_in, *row.items, *row.composing):
            if each.size:
                limit_in(each.size, symbol)
        for band in row.bands:
            for limit in (band.low, band.below):
                limit_in(limit, symbol)
    check_version(row, version, fields)
    with recording(actor, f"Rate {row.name}: {_told(fields)}") as log:
        log.update(row, **fields)
    return log.saved(row)


def _refuse_kind(row: BuildUp, kind: str) -> None:
    """Refuse to make another kind of a build-up: lines, sizes and bands stay what they are."""
    if {kind, row.kind} == {"rate", "gang"}:
        for line in row.lines:
            refuse_once_in_gang(kind, line.basis)
        return
    for what, rows in (("lines", row.lines), ("sizes", row.sizes), ("bands", row.bands)):
        if rows.exists():
            raise BadEntry(f"“{row.name}” has {what}.", field="kind", remedy="Take them out first.")
    if _is_used(row):
        raise InUse(
            f"“{row.name}” is used as a {row.kind}.",
            field="kind",
            remedy="Make a second one of the other kind.",
        )


def _told(fields: dict[str, Any]) -> str:
    """What is changed, in words; what is no longer taken goes without saying."""
    said = {name: value for name, value in fields.items() if name not in _TAKEN}
    return ", ".join(f"{name.replace('_', ' ')} {value}" for name, value in said.items())


def _is_used(row: BuildUp) -> bool:
    uses = (row.items, row.composing, row.used_in, row.banded_in, row.bands)
    return any(each.exists() for each in uses)


@action
def copy_build_up(actor: Actor, build_up_id: int) -> Saved:
    """Another build-up with the same lines, under a name of its own."""
    row = find(BuildUp, actor, build_up_id)
    taken = {
        name.lower()
        for (name,) in BuildUp.select(BuildUp.name).where(BuildUp.project == actor.project_id).tuples()
    }
    names = chain([f"{row.name}, copy"], (f"{row.name}, copy {number}" for number in count(2)))
    name = next(each for each in names if each.lower() not in taken)
    head = {each: row.__data__[each] for each in (*HEAD_FIELDS, *_TAKEN)}
    columns = (
        "position", "group", "basis", "percent_of", "quantity", "allowance", "escalation", "size", "note",
        "taken", "taken_key",
    )  # fmt: skip
    with recording(actor, f"Rate {name}") as log:
        twin = log.insert(BuildUp, name=name, **head)
        for line in row.lines.order_by(BuildUpLine.position, BuildUpLine.id):
            log.insert(
                BuildUpLine, build_up=twin.id, resource=line.resource_id, nested=line.nested_id,
                **{each: line.__data__[each] for each in columns},
            )  # fmt: skip
        told = ("size", "labour", "plant", "material", "whole")
        log.insert_all(
            ReferenceSize,
            [
                {"build_up": twin.id, **{n: getattr(each, n) for n in told}}
                for each in row.sizes.order_by(ReferenceSize.id)
            ],
        )
        log.insert_all(
            RateBand,
            [
                {"build_up": twin.id, **{n: each.__data__[n] for n in ("low", "below", "nested", "price")}}
                for each in row.bands.order_by(RateBand.id)
            ],
        )
    return log.saved(twin)


@action
def delete_build_up(actor: Actor, build_up_id: int) -> Saved:
    """Take a build-up out, with its lines.

    Raises:
        InUse: items or other build-ups use it.
    """
    row = find(BuildUp, actor, build_up_id)
    outer = [line.build_up.name for line in row.used_in]
    composed = RatePart.column(RatePart.item, RatePart.build_up, [row.id])
    if number := row.items.count() + len(composed):
        raise InUse(
            f"“{row.name}” prices {number} item{'s' if number > 1 else ''} of the bill.",
            remedy="Give them another rate first.",
        )
    if outer:
        raise InUse(f"“{row.name}” is a line of “{outer[0]}”.", remedy="Take it out of there first.")
    if band := row.banded_in.first():
        raise InUse(
            f"“{row.name}” is a band of “{band.build_up.name}”.", remedy="Take it out of there first."
        )
    with recording(actor, f"Rate {row.name} deleted") as log:
        for line in row.lines:
            log.delete(line)
        log.delete_all([*row.sizes, *row.bands])
        log.delete(row)
    return log.saved()


def _checked(actor: Actor, fields: dict[str, Any], build_up_id: int = 0) -> dict[str, Any]:
    fields = checked_build_up({**fields, **typed(fields, "output", "hours")})
    if "name" in fields:
        refuse_twin(actor.project_id, BuildUp, "rate", fields["name"], build_up_id)
    return fields


def checked_build_up(fields: dict[str, Any]) -> dict[str, Any]:
    """What was typed of a build-up, as it is kept.

    Raises:
        BadEntry: a value doesn't fit.
    """
    fields = stripped(fields)
    if fields.get("name") == "":
        raise BadEntry("A rate needs a name.", field="name")
    if "unit" in fields:
        fields["unit"] = unit(fields["unit"]).symbol
    if fields.get("kind") == "gang":
        fields |= _GANG
    if fields.get("kind") == "reference" or fields.get("sized_in"):
        fields["sized_in"] = unit(fields.get("sized_in") or "mm").symbol
    if not re.fullmatch(r"(\d{4})?", fields.get("year", "")):
        raise BadEntry(f"“{fields['year'][:20]}” is no year.", field="year", remedy="Type it like 2025.")
    if fields.get("added_on", "cost") not in get_args(AddedOn):
        raise BadEntry("What is added is a percentage of the cost or of the price.", field="added_on")
    if "added" in fields and not Decimal(-100) < fields["added"] <= 1000:
        raise BadEntry(
            f"{fields['added']} % can't be added to a cost.", field="added",
            remedy="Type a percentage between −100 and 1000; a margin is less than 100.",
        )  # fmt: skip
    if fields.get("added_on") == "price" and fields.get("added", 0) >= 100:
        raise BadEntry("A margin is less than 100 % of the price.", field="added")
    for name, symbol in (("output", ""), ("hours", "h")):
        if name in fields and read_entry(fields[name], symbol, field=name) <= 0:
            raise BadEntry(
                f"{name.capitalize()} must be above zero.",
                field=name,
                remedy="Type how many units are done in the period.",
            )
    return fields
