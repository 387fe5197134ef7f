"""The checks of a project, gathered: the rules are in the core, what they look at is read here."""

from __future__ import annotations

from collections.abc import Iterator

from peewee import fn

from ..core.checks.bar_mass import bar_masses
from ..core.checks.check import Check
from ..core.checks.measured import measured
from ..core.checks.quoted import quoted
from ..core.checks.scale_proof import scale_proof
from ..core.checks.unpriced import unpriced
from ..core.checks.unscaled import unscaled
from ..core.checks.waste_band import BANDS, waste_band
from ..core.makeups.makeup import read_makeup
from ..core.numbers.entry import read_entry
from ..store.models import (
    BuildUpLine,
    Drawing,
    Element,
    Figure,
    Item,
    OwnMakeUp,
    QuantityLine,
    Resource,
    Revision,
    Sheet,
)
from .acting import Actor
from .bill import refs
from .measuring import scale_of
from .views import CheckView

MOST = 500
_STAGES = {
    "sheet": "sheets",
    "line": "measure",
    "quantity": "measure",
    "item": "bill",
    "resource": "prices",
    "makeup": "make-ups",
}
# Where to go for a check: the stage's own page, and the row it opens.
Place = tuple[Check, int | None, str]


def checks(actor: Actor) -> list[CheckView]:
    """Everything that looks wrong in the project, what stops the bill first."""
    found = [
        *_sheets(actor),
        *_measure(actor),
        *_wastes(actor),
        *_prices(actor),
        *_makeups(actor),
        *_items(actor),
    ]
    found.sort(key=lambda place: place[0].severity != "stop")
    return [
        CheckView(
            severity=check.severity, rule=check.rule, says=check.says, ref=check.ref,
            stage=_STAGES[check.ref.split(":")[0]], target=target, place=where
        )
        for check, target, where in found[:MOST]
    ]  # fmt: skip


def _sheets(actor: Actor) -> Iterator[Place]:
    drawn = dict(
        Figure.select(Figure.sheet, fn.COUNT(Figure.id))
        .where((Figure.project == actor.project_id) & (Figure.kind != "count"))
        .group_by(Figure.sheet)
        .tuples()
    )
    for sheet in (
        Sheet.select(Sheet, Revision, Drawing)
        .join(Revision)
        .join(Drawing)
        .where(Sheet.project == actor.project_id)
    ):
        name, ref = f"{sheet.revision.drawing.number} p. {sheet.page}", f"sheet:{sheet.id}"
        found = unscaled(name, ref, drawn.get(sheet.id, 0), scaled=sheet.metres_per_unit is not None)
        if sheet.proof and sheet.metres_per_unit:
            known = read_entry(sheet.proof["length"], "m")
            found += scale_proof(
                name, ref, scale_of(sheet), tuple(sheet.proof["first"]), tuple(sheet.proof["second"]), known
            )
        yield from ((check, sheet.id, name) for check in found)


def _measure(actor: Actor) -> Iterator[Place]:
    query = Element.select(Element.id, Element.mark, Element.findings).where(
        (Element.project == actor.project_id) & (fn.jsonb_array_length(Element.findings) > 0)
    )
    for element in query.order_by(Element.position, Element.id).limit(MOST):
        for line, says, wrong in element.findings:
            ref = f"line:{line}" if line else f"quantity:{element.id}:"
            yield measured(element.mark, says, ref, wrong=wrong), element.id, element.mark


def _wastes(actor: Actor) -> Iterator[Place]:
    beyond = (QuantityLine.project == actor.project_id) & (
        QuantityLine.waste > min(high for _, high in BANDS.values())
    )
    for line in (
        QuantityLine.select(QuantityLine, Element.id, Element.mark).join(Element).where(beyond).limit(MOST)
    ):
        ref = f"quantity:{line.element_id}:{line.output}"
        yield from (
            (c, line.element_id, line.element.mark)
            for c in waste_band(f"{line.label} in {line.element.mark}", ref, line.family, line.waste)
        )


def _prices(actor: Actor) -> Iterator[Place]:
    used = {
        row[0]
        for row in BuildUpLine.select(BuildUpLine.resource)
        .where(BuildUpLine.project == actor.project_id)
        .distinct()
        .tuples()
    }
    for row in (
        Resource.select()
        .where((Resource.project == actor.project_id) & (fn.jsonb_array_length(Resource.findings) > 0))
        .limit(MOST)
    ):
        for says in row.findings:
            yield (
                quoted(row.name, says, f"resource:{row.id}", stops=row.id in used and row.price is None),
                row.id,
                row.name,
            )


def _makeups(actor: Actor) -> Iterator[Place]:
    for own in OwnMakeUp.select().where(OwnMakeUp.project == actor.project_id):
        makeup = read_makeup(own.source)
        for finding in bar_masses(makeup):
            yield (
                Check("look", "bar mass", f"{makeup.name}, {finding.says}", f"makeup:{own.key}"),
                None,
                makeup.name,
            )


def _items(actor: Actor) -> Iterator[Place]:
    empty = (Item.amount == 0) & (Item.kind != "heading")
    rows = list(
        Item.select()
        .where((Item.project == actor.project_id) & empty)
        .order_by(Item.section, Item.position)
        .limit(MOST)
    )
    numbers = refs(actor.project_id) if rows else {}
    for item in rows:
        name = f"{numbers[item.id]} {item.description}"
        yield from (
            (c, item.id, numbers[item.id])
            for c in unpriced(name, f"item:{item.id}", item.kind, item.quantity, item.rate, item.amount)
        )
