"""The lines of build-ups: what each draws on, and how much of it."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from ...core.numbers.entry import typed
from ...core.numbers.formula import refuse_deeper
from ...core.pricing.build_up import BASES, GROUPS
from ...core.refusals import BadEntry, BadFormula
from ...store.models import BuildUp, BuildUpLine, Resource
from ..keeping.acting import Actor, check_version, find
from ..keeping.recording import action, in_words, recording
from ..keeping.views import Saved
from .banded import kept_limit
from .reading import MOST_NESTED, nesting_told, quantity_in
from .references import kept_size, size_in

_UNTOLD = ("resource", "nested", "taken", "taken_key")  # in what a change of a line is called


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
    if (fields.get("basis", row.basis) == "percent") != (row.basis == "percent"):
        raise BadEntry(
            "A percentage is a line of its own, which draws on nothing.", field="basis",
            remedy="Add a line for the other, and take this one out.",
        )  # fmt: skip
    if row.basis == "percent":
        fields = {
            name: value
            for name, value in fields.items()
            if name in ("quantity", "group", "percent_of", "note")
        }
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
    share = fields.get("basis") == "percent"
    if fields.get("percent_of") and not share:
        raise BadEntry(
            "Only a percentage is taken of a group.",
            field="percent_of",
            remedy="Leave it out, or make the line a percentage.",
        )
    if share and fields.get("percent_of", GROUPS[0]) not in GROUPS:
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
def delete_build_up_line(actor: Actor, line_id: int) -> Saved:
    """Take a line out of its build-up."""
    row = find(BuildUpLine, actor, line_id)
    with recording(actor, f"{row.build_up.name}: line deleted") as log:
        log.delete(row)
    return log.saved()
