"""Prices that are worked out: their inputs, typed or drawn from other resources."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import Any

from ...core.findings import Finding
from ...core.numbers.entry import kept, read_entry
from ...core.numbers.formula import refuse_deeper
from ...core.numbers.rounding import exact
from ...core.numbers.working import Working
from ...core.numbers.written import written
from ...core.pricing import worked_out
from ...core.pricing.quotes import Price
from ...core.pricing.worked_out import INPUTS, WAYS, Asked, Input, Way
from ...core.refusals import BadEntry, BadFormula
from ...store.models import PriceDraw, Resource
from ..keeping.acting import Actor, check_version, find
from ..keeping.recording import action, in_words, recording
from ..keeping.views import Saved
from .views import WorkedInput, WorkedView

DEEPEST = 20  # prices that rest on prices that rest on prices …


def usual_way(resource: Resource) -> Way:
    """How a resource's price is worked out where nobody said."""
    return "labour" if resource.kind == "labour" else "hire"


def way_of(resource: Resource) -> Way:
    """How a resource's price is worked out."""
    return resource.worked.get("way") or usual_way(resource)


def _numbers(worked: Mapping[str, Any]) -> dict[str, Decimal]:
    return {key: exact(read_entry(text, "", field=key)) for key, text in worked.get("inputs", {}).items()}


def inputs_of(resource: Resource) -> dict[str, Input]:
    """The inputs of a resource's price: what was typed, and what is drawn from others as it is now."""
    asked = {each.key for each in INPUTS[way_of(resource)]}
    found = {key: Input(value) for key, value in _numbers(resource.worked).items() if key in asked}
    for draw in PriceDraw.those(PriceDraw.resource, [resource.id]):
        found.pop(draw.input, None)  # what was typed before it was drawn
        if draw.input in asked and draw.source.price is not None:
            found[draw.input] = Input(draw.source.price, f"resource:{draw.source_id}")
    return found


def working_of(resource: Resource, currency: str) -> Working:
    """How a resource's price is worked out.

    Raises:
        BadEntry: an input is missing, or it is too large.
    """
    return worked_out.price(way_of(resource), inputs_of(resource), currency)


def worked_price(resource: Resource) -> Price:
    """A resource's price as it is worked out; what keeps it from that as a finding."""
    said = tuple(
        Finding(f"{draw.source.name} has no price, so it counts nothing.", wrong=True, code="no-price")
        for draw in PriceDraw.those(PriceDraw.resource, [resource.id])
        if draw.source.price is None and any(each.key == draw.input for each in INPUTS[way_of(resource)])
    )
    try:
        return Price(Decimal(working_of(resource, "").value), (), said)
    except BadEntry as refusal:
        return Price(None, (), (Finding(refusal.sentence, wrong=True, code="not-worked-out"),))


def worked_view(resource: Resource) -> WorkedView:
    """What is asked for a resource's price, and what was told."""
    way, typed = way_of(resource), resource.worked.get("inputs", {})
    draws = {each.input: each for each in PriceDraw.those(PriceDraw.resource, [resource.id])}
    return WorkedView(
        way=way,
        inputs=[
            WorkedInput(
                key=each.key, label=each.label, unit=each.unit, value=written(typed.get(each.key, "")),
                needed=each.usual is None, draws=each.draws,
                source=draws[each.key].source_id if each.key in draws else None,
                drawn=draws[each.key].source.price if each.key in draws else None,
            )
            for each in INPUTS[way]
        ],
    )  # fmt: skip


@action
def change_worked(
    actor: Actor, resource_id: int, version: int, way: str | None, inputs: Mapping[str, str],
    draws: Mapping[str, int | None],
) -> Saved:  # fmt: skip
    """Change how a resource's price is worked out.

    Args:
        way: another way; the same where it is None.
        inputs: numbers typed, by input; empty for what isn't told.
        draws: resources whose prices inputs are, by input; None for those that are typed again.

    Raises:
        BadEntry: a number can't be, an input can't be drawn, or prices would rest on one another in a ring.
        Stale: someone else changed it meanwhile.
    """
    row = find(Resource, actor, resource_id)
    told = {key: kept(text, "", field=key) for key, text in inputs.items()}
    now = {**row.worked.get("inputs", {}), **told}
    made = checked_worked(
        {"way": way or way_of(row), "inputs": {key: text for key, text in now.items() if text}}
    )
    check_version(row, version, {"worked": made})
    drawn = {each.input: each for each in row.draws}
    for key, source in draws.items():
        asked = check_draw(key)
        if source is not None:
            drawn_from = find(Resource, actor, source)
            _refuse_unit(asked, drawn_from)
            _refuse_ring(actor, row, drawn_from)
    with recording(actor, f"{row.name}: {in_words((*told, *draws)) or way}") as log:
        log.update(row, worked=made)
        for key, source in draws.items():
            if key in drawn:
                log.delete(drawn[key])
            if source is not None:
                log.insert(PriceDraw, resource=row.id, source=source, input=key)
    return log.saved(row)


def checked_worked(worked: Mapping[str, Any]) -> dict[str, Any]:
    """How a price is worked out, as it is kept; inputs of other ways are kept until they are asked for again.

    Raises:
        BadEntry: a number can't be, or there is no such way or input.
    """
    if not worked:
        return {}
    way, inputs = worked.get("way"), worked.get("inputs", {})
    if way not in WAYS or not isinstance(inputs, dict) or set(worked) - {"way", "inputs"}:
        raise BadEntry("A price is worked out as labour, from hire, or as owned plant.", field="way")
    known = {each.key: other for other in WAYS for each in INPUTS[other]}
    for key, value in _numbers({"inputs": inputs}).items():
        mine = way if key in {each.key for each in INPUTS[way]} else known.get(key, way)
        worked_out.check(mine, {key: value})
    return {"way": way, "inputs": dict(inputs)}


def check_draw(key: str) -> Asked:
    """The input of a key, which must be one that may be another resource's price.

    Raises:
        BadEntry: it isn't.
    """
    for asked in INPUTS.values():
        for each in asked:
            if each.key == key and each.draws:
                return each
    raise BadEntry(f"“{key[:40]}” isn't taken from another resource.", field=key)


def _refuse_unit(asked: Asked, source: Resource) -> None:
    """Refuse a price of another unit than the input's.

    Raises:
        BadEntry: it is that.
    """
    wanted = asked.unit.removeprefix("money/")
    if source.unit != wanted:
        raise BadEntry(
            f"“{asked.label}” is told per {wanted}; {source.name} is priced per {source.unit}.",
            field=asked.key, remedy=f"Take it from a resource in {wanted}, or type it.",
        )  # fmt: skip


def _refuse_ring(actor: Actor, row: Resource, source: Resource) -> None:
    """Refuse a draw by which prices would rest on one another in a ring.

    Raises:
        BadEntry: they would; its path is named.
    """
    uses = drawing(actor.project_id)
    uses.setdefault(row.name, []).append(source.name)
    try:
        refuse_deeper(uses, "Prices", DEEPEST)
    except BadFormula as error:
        raise BadEntry(error.sentence, field="source", remedy=error.remedy) from None


def drawing(project_id: int) -> dict[str, list[str]]:
    """For each resource whose price is worked out, the resources it draws on, by name."""
    names = {row.id: row.name for row in Resource.those(Resource.project, [project_id])}
    uses: dict[str, list[str]] = {name: [] for name in names.values()}
    for draw in PriceDraw.those(PriceDraw.project, [project_id]):
        uses[names[draw.resource_id]].append(names[draw.source_id])
    return uses
