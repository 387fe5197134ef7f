"""Resources and their dated quotes."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from ...core.numbers.entry import kept
from ...core.numbers.units import unit
from ...core.pricing.build_up import GROUPS
from ...core.pricing.packs import density_of, holds
from ...core.pricing.quotes import BASES
from ...core.refusals import BadEntry
from ...store.models import Answer, BuildUp, BuildUpLine, EnquiryLine, InputDraw, PriceDraw, Quote, Resource
from ..keeping.acting import Actor, InUse, check_version, find
from ..keeping.naming import refuse_twin, stripped
from ..keeping.recording import action, in_words, recording
from ..keeping.views import Saved

_LARGEST_QUOTED = Decimal("1e9")
_SMALLEST = Decimal("0.000001")
_NUMBERS = (
    ("price", "price", Decimal(0)), ("contains", "content", _SMALLEST),
    ("least", "least quantity", _SMALLEST),
)  # fmt: skip
UNTOLD = ("pack-unread", "no-density")  # how much a quote's unit holds is told beside it, or later


@action
def add_resource(actor: Actor, fields: dict[str, Any]) -> Saved:
    """A new resource.

    Raises:
        BadEntry: the name is empty or taken, or the unit or kind unknown.
    """
    fields = _checked(actor, fields)
    with recording(actor, f"Resource {fields['name']}") as log:
        row = log.insert(Resource, **fields)
    return log.saved(row)


@action
def change_resource(actor: Actor, resource_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a resource's name, kind, unit, density, own norm, price basis or chosen quote.

    Raises:
        BadEntry: a value doesn't fit.
        InUse: its unit is changed while build-ups or prices that are worked out draw on it.
        Stale: someone else changed it meanwhile.
    """
    row = find(Resource, actor, resource_id)
    if {"norm_low", "norm_high"} & set(fields):  # a norm is looked at as a whole
        fields = {"norm_low": row.norm_low, "norm_high": row.norm_high, **fields}
    fields = _checked(actor, fields, row.id)
    check_hourly({"basis": row.basis, "unit": row.unit, **fields})
    if fields.get("unit", row.unit) != row.unit and (names := _used_in(row) or _drawn_by(row)):
        raise InUse(
            f"{row.name} is used in {names}, in {row.unit}.",
            field="unit",
            remedy="Make a second resource in the other unit.",
        )
    if fields.get("chosen") is not None and find(Quote, actor, fields["chosen"]).resource_id != row.id:
        raise BadEntry("That quote is for another resource.", field="chosen")
    check_version(row, version, fields)
    with recording(actor, f"{row.name}: {in_words(fields)}") as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete_resource(actor: Actor, resource_id: int) -> Saved:
    """Take a resource out, with its quotes.

    Raises:
        InUse: build-ups draw on it.
    """
    row = find(Resource, actor, resource_id)
    if drawn := _drawn_by(row):
        raise InUse(
            f"{row.name} is used in {drawn}.", remedy="Type that input, or take it from another resource."
        )
    if names := _used_in(row):
        raise InUse(f"{row.name} is used in {names}.", remedy="Take it out of there first.")
    if asked := InputDraw.those(InputDraw.resource, [row.id]):
        raise InUse(f"{asked[0].element.mark} draws on {row.name}.", remedy="Take it out of there first.")
    if line := row.order_lines.first():
        raise InUse(f"{row.name} is in order {line.order.number}.", remedy="Take it out of there first.")
    with recording(actor, f"Resource {row.name} deleted") as log:
        for model in (Quote, Answer, EnquiryLine, PriceDraw):
            log.delete_all(list(model.those(model.resource, [row.id])))
        log.delete(row)
    return log.saved()


def _used_in(row: Resource) -> str:
    names = [
        b.name
        for b in BuildUp.select()
        .join(BuildUpLine, on=(BuildUpLine.build_up == BuildUp.id))
        .where(BuildUpLine.resource == row.id)
        .distinct()
    ]
    return ", ".join(f"“{name}”" for name in names[:3]) + (
        f" and {len(names) - 3} more" if len(names) > 3 else ""
    )


def _drawn_by(row: Resource) -> str:
    drawn = row.drawn_by.first()
    return f"the price of {drawn.resource.name}" if drawn else ""


def _checked(actor: Actor, fields: dict[str, Any], resource_id: int = 0) -> dict[str, Any]:
    if "density" in fields:
        fields = {**fields, "density": kept(fields["density"], "kg/m³", field="density")}
    fields = checked_resource(fields)
    if "name" in fields:
        refuse_twin(actor.project_id, Resource, "resource", fields["name"], resource_id)
    return fields


def checked_resource(fields: dict[str, Any]) -> dict[str, Any]:
    """What was typed of a resource, as it is kept.

    Raises:
        BadEntry: a value doesn't fit.
    """
    fields = stripped(fields)
    if fields.get("name") == "":
        raise BadEntry("A resource needs a name.", field="name")
    if "kind" in fields and fields["kind"] not in GROUPS:
        raise BadEntry(
            f"“{fields['kind']}” is no kind of resource.",
            field="kind",
            remedy=f"Use one of {', '.join(GROUPS)}.",
        )
    if "basis" in fields and fields["basis"] not in BASES:
        raise BadEntry(
            f"“{fields['basis']}” is no price basis.", field="basis", remedy=f"Use one of {', '.join(BASES)}."
        )
    if "unit" in fields:
        fields["unit"] = unit(fields["unit"]).symbol
    check_hourly(fields)
    if "density" in fields:
        density_of(fields["density"])
    low, high = fields.get("norm_low"), fields.get("norm_high")
    for value in (low, high):
        if value is not None and not (value.is_finite() and 0 <= value < _LARGEST_QUOTED):
            raise BadEntry(f"{value} can't be a norm.", field="norm", remedy="Type a price of one unit.")
    if high is not None and (low is None or high <= low):
        raise BadEntry(
            "A norm goes from its lower price to its higher one.",
            field="norm",
            remedy="Type it like 4.00 to 5.00.",
        )
    return fields


def check_hourly(fields: dict[str, Any]) -> None:
    """Refuse to work out a price of anything but hours.

    Raises:
        BadEntry: it is that.
    """
    if fields.get("basis") == "worked" and unit(fields.get("unit", "h")).symbol != "h":
        raise BadEntry("A price is worked out by the hour.", field="basis", remedy="Price it by its quotes.")


@action
def add_quote(actor: Actor, resource_id: int, fields: dict[str, Any]) -> Saved:
    """A new quote for a resource.

    Raises:
        BadEntry: a value doesn't fit.
    """
    resource = find(Resource, actor, resource_id)
    fields = {"unit": resource.unit, **fields}
    fields = checked_quote(fields, fields, resource)
    with recording(actor, f"Quote of {fields['supplier']} for {resource.name}") as log:
        row = log.insert(Quote, resource=resource.id, **fields)
    return log.saved(row)


@action
def change_quote(actor: Actor, quote_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a quote.

    Raises:
        BadEntry: a value doesn't fit.
        Stale: someone else changed it meanwhile.
    """
    row = find(Quote, actor, quote_id)
    fields = checked_quote(fields, {**row.__data__, **fields}, row.resource)
    check_version(row, version, fields)
    with recording(actor, f"Quote of {row.supplier} for {row.resource.name}: {in_words(fields)}") as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete_quote(actor: Actor, quote_id: int) -> Saved:
    """Take a quote out.

    Raises:
        InUse: it is the chosen one of its resource.
    """
    row = find(Quote, actor, quote_id)
    if row.resource.basis == "chosen" and row.resource.chosen == row.id:
        raise InUse(f"{row.resource.name} is priced by this quote.", remedy="Choose another one first.")
    with recording(actor, f"Quote of {row.supplier} for {row.resource.name} deleted") as log:
        for line in row.order_lines:  # which hold all of it
            log.update(line, quote=None)
        log.delete(row)
    return log.saved()


def checked_quote(fields: dict[str, Any], now: dict[str, Any], resource: Resource | None) -> dict[str, Any]:
    """What was typed of a quote, as it is kept; ``now`` are all its fields with those.

    A unit that doesn't tell how much it holds is kept: the number in it is typed beside it.

    Raises:
        BadEntry: a value doesn't fit.
    """
    fields = stripped(fields)
    if not str(now.get("supplier", "")).strip():
        raise BadEntry("A quote needs its supplier.", field="supplier")
    for name, what, least in _NUMBERS:
        value = fields.get(name)
        if value is None:
            continue
        if not (value.is_finite() and least <= value):
            raise BadEntry(
                f"{value} can't be the {what} of a quote.", field=name, remedy="Type a number above zero."
            )
        if not value < _LARGEST_QUOTED:
            raise BadEntry(
                f"{value} is too large for the {what} of a quote.",
                field=name,
                remedy="Check its unit and its zeros.",
            )
    if now.get("valid_to") and now["valid_to"] < now["quoted_on"]:
        raise BadEntry("A quote can't lapse before its own date.", field="valid_to")
    if resource is not None and "unit" in fields and now.get("contains") is None:
        try:
            holds(fields["unit"], resource.unit, density_of(resource.density))
        except BadEntry as refusal:
            if refusal.code not in UNTOLD:
                raise
    return fields
