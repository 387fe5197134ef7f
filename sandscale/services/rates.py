"""Build-ups: the analysis of each unit rate from resources and other build-ups."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from peewee import fn

from ..core.numbers.entry import read_entry
from ..core.numbers.formula import in_order
from ..core.numbers.units import unit
from ..core.pricing.build_up import GROUPS, analyse
from ..core.refusals import BadEntry, BadFormula
from ..store.models import BuildUp, BuildUpLine, Resource
from .acting import Actor, InUse, check_version, find
from .recompute import core_lines, nesting, output_of
from .recording import action, recording
from .views import BuildUpBrief, BuildUpLineView, BuildUpView, GroupTotal, Saved

_CENT = Decimal("0.0001")


def build_ups(actor: Actor) -> list[BuildUpBrief]:
    """The project's build-ups by heading."""
    query = BuildUp.select().where(BuildUp.project == actor.project_id).order_by(BuildUp.heading, BuildUp.id)
    return [BuildUpBrief.model_validate(row) for row in query]


def build_up_view(actor: Actor, build_up_id: int) -> BuildUpView:
    """A build-up with every line worked out and its groups' subtotals."""
    row = find(BuildUp, actor, build_up_id)
    lines = list(row.lines.order_by(BuildUpLine.position, BuildUpLine.id))
    analysis = analyse(core_lines(row), *output_of(row))
    worked = analysis.lines
    return BuildUpView(
        id=row.id, version=row.version, name=row.name, unit=row.unit, heading=row.heading, rate=row.rate, output=row.output, hours=row.hours,
        lines=[
            BuildUpLineView(
                id=line.id, version=line.version, group=line.group, basis=line.basis, resource=line.resource_id, nested=line.nested_id,
                name=a.line.name, unit=a.line.unit, quantity=line.quantity, allowance=line.allowance, escalation=line.escalation,
                price=a.line.price, total_quantity=_kept(a.total_quantity), amount=_kept(a.amount), unit_quantity=_kept(a.unit_quantity),
                unit_price=_kept(a.unit_price),
            )
            for line, a in zip(lines, worked, strict=True)
        ],
        groups=[
            GroupTotal(group=g, amount=_kept(sum((a.amount for a in worked if a.line.group == g), Decimal(0))), unit_price=_kept(analysis.groups[g]))
            for g in GROUPS
            if any(a.line.group == g for a in worked)
        ],
        findings=list(analysis.findings), items=row.items.count(),
    )  # fmt: skip


def _kept(value: Decimal) -> Decimal:
    return value.quantize(_CENT)


@action
def add_build_up(actor: Actor, fields: dict[str, Any]) -> Saved:
    """A new build-up.

    Raises:
        BadEntry: the name is empty or taken, or the unit, output or hours don't fit.
    """
    fields = _checked(actor, fields)
    with recording(actor, f"Rate {fields['name']}") as log:
        row = log.insert(BuildUp, **fields)
    return Saved(label=log.label, id=row.id, version=1, bill_total=log.bill_total)


@action
def change_build_up(actor: Actor, build_up_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a build-up's name, heading, unit, output or hours.

    Raises:
        BadEntry: a value doesn't fit.
        InUse: its unit is changed while items or other build-ups use it.
        Stale: someone else changed it meanwhile.
    """
    row = find(BuildUp, actor, build_up_id)
    fields = _checked(actor, fields, row.id)
    if fields.get("unit", row.unit) != row.unit and (row.items.exists() or row.used_in.exists()):
        raise InUse(f"“{row.name}” is used per {row.unit}.", field="unit", remedy="Make a second build-up in the other unit.")
    check_version(row, version, fields)
    with recording(actor, f"Rate {row.name}: {', '.join(f'{k} {v}' for k, v in fields.items())}") as log:
        log.update(row, **fields)
    return Saved(label=log.label, id=row.id, version=row.version, change=log.change and log.change.id, bill_total=log.bill_total)


@action
def delete_build_up(actor: Actor, build_up_id: int) -> Saved:
    """Take a build-up out, with its lines.

    Raises:
        InUse: items or other build-ups use it.
    """
    row = find(BuildUp, actor, build_up_id)
    outer = [line.build_up.name for line in row.used_in]
    if number := row.items.count():
        raise InUse(f"“{row.name}” prices {number} item{'s' if number > 1 else ''} of the bill.", remedy="Give them another rate first.")
    if outer:
        raise InUse(f"“{row.name}” is a line of “{outer[0]}”.", remedy="Take it out of there first.")
    with recording(actor, f"Rate {row.name} deleted") as log:
        for line in row.lines:
            log.delete(line)
        log.delete(row)
    return Saved(label=log.label, bill_total=log.bill_total)


def _checked(actor: Actor, fields: dict[str, Any], build_up_id: int = 0) -> dict[str, Any]:
    fields = {name: value.strip() if isinstance(value, str) else value for name, value in fields.items()}
    if fields.get("name") == "":
        raise BadEntry("A rate needs a name.", field="name")
    if "name" in fields:
        twins = (BuildUp.project == actor.project_id) & (fn.LOWER(BuildUp.name) == fields["name"].lower()) & (BuildUp.id != build_up_id)
        if BuildUp.select().where(twins).exists():
            raise BadEntry(f"There is a rate “{fields['name']}” already.", field="name")
    if "unit" in fields:
        fields["unit"] = unit(fields["unit"]).symbol
    for name in ("output", "hours"):
        if name in fields and read_entry(fields[name], "", field=name) <= 0:
            raise BadEntry(f"{name.capitalize()} must be above zero.", field=name, remedy="Type how many units are done in the period.")
    return fields


@action
def add_build_up_line(actor: Actor, build_up_id: int, fields: dict[str, Any]) -> Saved:
    """A new line: a resource of the project, or another build-up as a resource.

    Raises:
        BadEntry: a value doesn't fit.
        BadFormula: build-ups would nest in a loop; its path is named.
    """
    row = find(BuildUp, actor, build_up_id)
    resource, nested = fields.get("resource"), fields.get("nested")
    if (resource is None) == (nested is None):
        raise BadEntry("A line draws on a resource or on another rate.", field="resource")
    source = find(Resource, actor, resource) if resource is not None else find(BuildUp, actor, nested or 0)
    _refuse_loop(actor, row, nested)
    group = fields.get("group") or (source.kind if isinstance(source, Resource) else "material")
    basis = fields.get("basis") or ("output" if group in ("labour", "plant") else "unit")
    fields = {"allowance": Decimal(0), "escalation": Decimal(0), **fields, "group": group, "basis": basis}
    _check_line(fields, source.unit)
    position = max((line.position for line in row.lines), default=-1) + 1
    with recording(actor, f"{row.name}: {source.name}") as log:
        line = log.insert(BuildUpLine, build_up=row.id, position=position, **fields)
    return Saved(label=log.label, id=line.id, version=1, change=log.change and log.change.id, bill_total=log.bill_total)


def _refuse_loop(actor: Actor, row: BuildUp, nested: int | None) -> None:
    if nested is None:
        return
    names = {str(b.id): b.name for b in BuildUp.select(BuildUp.id, BuildUp.name).where(BuildUp.project == actor.project_id)}
    uses = {names[outer]: [names[inner] for inner in inside] for outer, inside in nesting(actor.project_id).items()}
    uses[row.name] = [*uses[row.name], names[str(nested)]]
    try:
        in_order(uses, "Rates")
    except BadFormula as error:
        raise BadEntry(error.sentence, field="nested", remedy="A rate can't be built up from itself.") from None


@action
def change_build_up_line(actor: Actor, line_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a line's quantity, basis, group, allowance or escalation.

    Raises:
        BadEntry: a value doesn't fit.
        Stale: someone else changed it meanwhile.
    """
    row = find(BuildUpLine, actor, line_id)
    source = row.resource if row.resource_id else row.nested
    _check_line(fields, source.unit)
    check_version(row, version, fields)
    with recording(actor, f"{row.build_up.name}: {source.name}, {', '.join(f'{k} {v}' for k, v in fields.items())}") as log:
        log.update(row, **fields)
    return Saved(label=log.label, id=row.id, version=row.version, change=log.change and log.change.id, bill_total=log.bill_total)


def _check_line(fields: dict[str, Any], symbol: str) -> None:
    if "quantity" in fields:
        read_entry(fields["quantity"], symbol, field="quantity", minimum=0)
    if fields.get("group", GROUPS[0]) not in GROUPS or fields.get("basis", "unit") not in ("output", "unit"):
        raise BadEntry("A line is of one of the groups, by output or per unit.", field="group", remedy=f"Groups: {', '.join(GROUPS)}.")
    for name in ("allowance", "escalation"):
        if name in fields and not Decimal(-100) < fields[name] <= 1000:
            raise BadEntry(f"An {name} of {fields[name]} % is out of range.", field=name, remedy="Type a percentage above −100.")


@action
def delete_build_up_line(actor: Actor, line_id: int) -> Saved:
    """Take a line out of its build-up."""
    row = find(BuildUpLine, actor, line_id)
    with recording(actor, f"{row.build_up.name}: line deleted") as log:
        log.delete(row)
    return Saved(label=log.label, change=log.change and log.change.id, bill_total=log.bill_total)
