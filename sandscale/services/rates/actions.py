"""Build-ups: the analysis of each unit rate from resources and other build-ups."""

from __future__ import annotations

import re
from decimal import Decimal
from itertools import chain, count
from typing import Any, get_args

from ...core.numbers.entry import read_entry, typed
from ...core.numbers.formula import refuse_deeper
from ...core.numbers.units import unit
from ...core.pricing.build_up import BASES, GROUPS, AddedOn
from ...core.pricing.reference import PARTS
from ...core.refusals import BadEntry, BadFormula
from ...store.models import BuildUp, BuildUpLine, RateBand, RatePart, ReferenceSize, Resource
from ..keeping.acting import Actor, InUse, check_version, find
from ..keeping.naming import refuse_twin, stripped
from ..keeping.recording import action, in_words, recording
from ..keeping.views import Saved
from .banded import kept_limit, limit_in
from .reading import MOST_NESTED, nesting_told, quantity_in
from .references import kept_size, size_in

HEAD_FIELDS = (
    "unit", "heading", "output", "hours", "kind", "added", "added_on", "note", "sized_by", "sized_in",
    "source", "year",
)  # fmt: skip
_TAKEN = ("output_taken", "output_key", "hours_taken", "hours_key")
_UNTOLD = ("resource", "nested", "taken", "taken_key")  # of a line, in what a change of it is called


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
def move_build_up_line(actor: Actor, line_id: int, by: int) -> Saved:
    """Put a line earlier (below zero) or later among those of its group."""
    row = find(BuildUpLine, actor, line_id)
    lines = list(row.build_up.lines.order_by(BuildUpLine.position, BuildUpLine.id))
    places = [at for at, line in enumerate(lines) if line.group == row.group]
    own = next(n for n, at in enumerate(places) if lines[at].id == row.id)
    other = places[min(max(own + by, 0), len(places) - 1)]
    lines.insert(other, lines.pop(places[own]))
    with recording(actor, f"{row.build_up.name}: line moved") as log:
        for position, line in enumerate(lines):
            log.update(line, position=position)
    return log.saved(row)


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
        fields |= {"unit": "h", "output": "1", "hours": "1"}
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


@action
def add_build_up_line(actor: Actor, build_up_id: int, fields: dict[str, Any]) -> Saved:
    """A new line: a resource of the project, or another build-up as a resource.

    Raises:
        BadEntry: a value doesn't fit.
        BadFormula: build-ups would nest in a loop; its path is named.
    """
    row = find(BuildUp, actor, build_up_id)
    if row.kind == "reference":
        raise BadEntry("A reference holds sizes, not lines.", field="basis", remedy="Draw on it in a rate.")
    if row.kind == "banded":
        raise BadEntry("A banded rate holds bands, not lines.", field="basis", remedy="Type a band.")
    if fields.get("basis") == "percent":
        return _add_percentage(actor, row, fields)
    source = _source(actor, row, fields)
    gang = isinstance(source, BuildUp) and source.kind == "gang"
    group = fields.get("group") or (
        source.kind if isinstance(source, Resource) else "labour" if gang else "material"
    )
    basis = fields.get("basis") or ("output" if group in ("labour", "plant") else "unit")
    fields = {
        "quantity": "1",
        "allowance": Decimal(0),
        "escalation": Decimal(0),
        **fields,
        "group": group,
        "basis": basis,
    }
    fields |= typed(fields, "quantity")
    fields |= size_of(fields, source)
    check_line(fields, source.unit)
    refuse_once_in_gang(row.kind, basis)
    position = max((line.position for line in row.lines), default=-1) + 1
    with recording(actor, f"{row.name}: {source.name}") as log:
        line = log.insert(BuildUpLine, build_up=row.id, position=position, **fields)
    return log.saved(line)


def _source(actor: Actor, row: BuildUp, fields: dict[str, Any]) -> Resource | BuildUp:
    """What a line of a build-up is to draw on.

    Raises:
        BadEntry: it isn't one resource or one rate, or rates would nest in a loop.
    """
    resource, nested = fields.get("resource"), fields.get("nested")
    if (resource is None) == (nested is None):
        raise BadEntry("A line draws on a resource or on another rate.", field="resource")
    source = find(Resource, actor, resource) if resource is not None else find(BuildUp, actor, nested or 0)
    refuse_loop(actor, row, nested)
    return source


def _add_percentage(actor: Actor, row: BuildUp, fields: dict[str, Any]) -> Saved:
    fields |= typed(fields, "quantity")
    told = {
        "quantity": fields.get("quantity", "5"),
        "percent_of": fields.get("percent_of") or "labour",
        "group": fields.get("group") or "sundries",
        "note": fields.get("note", ""),
    }
    check_line({**told, "basis": "percent"}, "%")
    position = max((line.position for line in row.lines), default=-1) + 1
    with recording(actor, f"{row.name}: {told['quantity']} % of {told['percent_of']}") as log:
        line = log.insert(BuildUpLine, build_up=row.id, position=position, basis="percent", **told)
    return log.saved(line)


def refuse_loop(actor: Actor, row: BuildUp, nested: int | None) -> None:
    """Refuse a rate that would draw on itself by another, or too deep.

    Raises:
        BadEntry: it would; the sentence names the path.
    """
    if nested is None:
        return
    uses = nesting_told(actor.project_id)
    uses[row.name] = [*uses[row.name], find(BuildUp, actor, nested).name]
    try:
        refuse_deeper(uses, "Rates", MOST_NESTED)
    except BadFormula as error:
        raise BadEntry(error.sentence, field="nested", remedy=error.remedy) from None


@action
def change_build_up_line(actor: Actor, line_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a line's quantity, basis, group, allowance, escalation or note, or what it draws on.

    Raises:
        BadEntry: a value doesn't fit.
        Stale: someone else changed it meanwhile.
    """
    row = find(BuildUpLine, actor, line_id)
    source = row.resource if row.resource_id else row.nested
    if row.basis == "percent" or fields.get("basis") == "percent":
        fields = {
            name: value
            for name, value in fields.items()
            if name in ("quantity", "group", "percent_of", "note")
        }
    elif fields.get("percent_of"):
        raise BadEntry("Only a percentage is taken of a group.", field="percent_of")
    if source is not None and (fields.get("resource") or fields.get("nested")):
        source = _source(actor, row.build_up, fields)
        fields |= {"resource": fields.get("resource"), "nested": fields.get("nested")}
    if "quantity" in fields or fields.get("resource") or fields.get("nested"):
        fields |= {"taken": None, "taken_key": ""}  # typed over what was taken
    fields |= typed(fields, "quantity")
    fields |= size_of(fields, source)
    basis = fields.get("basis") or row.basis
    if "basis" in fields and "quantity" not in fields:
        quantity_in(row.quantity, source.unit if source else "%", basis)
    check_line({**fields, "basis": basis}, source.unit if source else "%")
    refuse_once_in_gang(row.build_up.kind, basis)
    check_version(row, version, fields)
    with recording(
        actor,
        f"{row.build_up.name}: {source.name if source else 'percentage'}, "
        f"{', '.join(f'{in_words([k])} {v}' for k, v in fields.items() if k not in _UNTOLD) or 'another'}",
    ) as log:
        log.update(row, **fields)
    return log.saved(row)


def size_of(fields: dict[str, Any], source: Resource | BuildUp | None) -> dict[str, str]:
    """The size at which a line reads its reference, as it is kept; none of anything else.

    Raises:
        BadEntry: it can't be read, or is no size.
    """
    if not (isinstance(source, BuildUp) and source.kind in ("reference", "banded")):
        return {"size": ""} if fields.get("size") or fields.get("resource") or fields.get("nested") else {}
    if "size" not in fields:
        return {}
    if source.kind == "banded":
        return {"size": kept_limit(fields["size"], source.sized_in)}
    told = kept_size(fields["size"], source.sized_in)
    if told:
        size_in(told, source.sized_in)
    return {"size": told}


@action
def add_size(actor: Actor, build_up_id: int, fields: dict[str, Any]) -> Saved:
    """A size that a reference tells of, with what it costs there.

    Raises:
        BadEntry: a value doesn't fit, or it tells of that size already.
    """
    row = find(BuildUp, actor, build_up_id)
    if row.kind != "reference":
        raise BadEntry(f"“{row.name}” is no reference.", field="size")
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


def refuse_once_in_gang(kind: str, basis: str) -> None:
    """Refuse what is had once in a gang, by which nothing is billed.

    Raises:
        BadEntry: it is that.
    """
    if kind == "gang" and basis == "fixed":
        raise BadEntry(
            "Nothing is billed by a gang, so what is had once can't be spread in it.", field="basis",
            remedy="Put the line into the rate that draws on the gang.",
        )  # fmt: skip


def check_line(fields: dict[str, Any], symbol: str) -> None:
    """Refuse what can't be a line of a build-up; its quantity is in the unit of that symbol.

    Raises:
        BadEntry: a value doesn't fit.
    """
    if "quantity" in fields:
        quantity_in(fields["quantity"], symbol, fields.get("basis", "unit"))
    if fields.get("percent_of", GROUPS[0]) not in GROUPS:
        raise BadEntry(
            "A percentage is taken of one of the groups.",
            field="percent_of",
            remedy=f"Groups: {', '.join(GROUPS)}.",
        )
    if fields.get("group", GROUPS[0]) not in GROUPS or fields.get("basis", "unit") not in BASES:
        raise BadEntry(
            "A line is of one of the groups: by output, per unit, by day, or had once.",
            field="group",
            remedy=f"Groups: {', '.join(GROUPS)}.",
        )
    for name in ("allowance", "escalation"):
        if name in fields and not Decimal(-100) < fields[name] <= 1000:
            raise BadEntry(
                f"An {name} of {fields[name]} % is out of range.",
                field=name,
                remedy="Type a percentage between −100 and 1000.",
            )


@action
def delete_build_up_line(actor: Actor, line_id: int) -> Saved:
    """Take a line out of its build-up."""
    row = find(BuildUpLine, actor, line_id)
    with recording(actor, f"{row.build_up.name}: line deleted") as log:
        log.delete(row)
    return log.saved()
