"""Walking the bill."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from ...core.numbers.working import Working, shown
from ...core.pricing import bill as bill_rules
from ...core.pricing import composed
from ...store.models import Bill, Element, Item, Section
from ..keeping.acting import Actor, find
from ..keeping.views import WalkLink, WalkView
from ..keeping.walking import Step, currency_of, link_to, view_of
from ..measure.measurers import notes_of
from ..rates.priced import SIZED, Priced
from .quantities import core_links
from .rating import core_parts, parts_of
from .reading import (
    Place,
    bill_outline,
    item_views,
    ordered_sections,
    own_bill,
    ref_of,
    typed_amount,
)
from .views import BillOutline

MOST_TOLD = 30  # items whose amounts a section's sum is told with


def _item(actor: Actor, ref: str, item_id: str) -> WalkView:
    item, currency = find(Item, actor, int(item_id)), currency_of(actor)
    name = f"Amount of {ref_of(item)} {item.description}"
    if item.kind in bill_rules.SUMS and (typed := typed_amount(item)) is not None:
        working = Working(
            name,
            item.amount,
            currency,
            f"{bill_rules.KIND_WORDS[item.kind]}, typed",
            shown(typed),
            source=item.typed_reason or "typed",
        )
    elif item.kind in ("rate_only", "heading"):
        working = Working(name, item.amount, currency, bill_rules.KIND_WORDS[item.kind])
    else:
        once = item.kind in bill_rules.SUMS
        figures = (
            shown(item.rate or Decimal(0))
            if once
            else f"{shown(item.quantity)} × {shown(item.rate or Decimal(0))}"
        )
        working = Working(
            name, item.amount, currency, "rate, once" if once else "quantity × rate, to the cent", figures
        )
    comes = (
        [link_to(f"item-quantity:{item.id}", "Quantity", item.quantity, item.unit, "bill", item.id)]
        if item.kind in bill_rules.MEASURED
        else []
    )
    comes += _rate_links(item, currency)
    section = item.section
    goes = [
        link_to(
            f"section:{section.id}",
            section.title,
            _place(section).total,
            currency,
            "bill",
            section.id,
        ),
        _bill_link(section.bill, currency),
    ]
    return view_of(
        ref,
        working,
        comes,
        goes,
        ["It adds nothing to the bill yet."]
        if item.amount == 0 and item.kind not in ("rate_only", "heading")
        else [],
    )


def _rate_links(item: Item, currency: str) -> list[WalkLink]:
    """Where an item's rate is walked to: to how it is composed, or to why it was typed; to its build-up, of
    one that costs by a size as it is read there."""
    unit = f"{currency}/{item.unit}"
    if item.typed_rate or item.parts.count():
        name = "Rate, typed" if item.typed_rate else "Rate, composed"
        return [link_to(f"item-rate:{item.id}", name, item.rate, unit, "bill", item.id)]
    if not item.build_up_id:
        return []
    sized = item.build_up.kind in SIZED
    ref = f"item-size:{item.id}" if sized else f"build-up:{item.build_up_id}"
    return [link_to(ref, item.build_up.name, item.rate, unit, "rates", item.build_up_id)]


def _item_rate(actor: Actor, ref: str, item_id: str) -> WalkView:
    """The rate of an item that is typed, or composed of several."""
    item, currency = find(Item, actor, int(item_id)), currency_of(actor)
    goes = [link_to(f"item:{item.id}", f"Amount of {ref_of(item)}", item.amount, currency, "bill", item.id)]
    name, rate = f"Rate of {item.description}", item.rate or Decimal(0)
    if item.typed_rate or not (rows := parts_of([item.id]).get(item.id)):
        working = Working(
            name, rate, f"{currency}/{item.unit}", "typed", item.typed_rate, source=item.rate_reason
        )
        return view_of(ref, working, [], goes, [])
    priced = Priced(row.build_up_id for row in rows)
    parts = core_parts(rows, priced)
    comes = [
        link_to(part.link, part.name, part.price, f"{currency}/{part.unit}", "rates", row.build_up_id)
        for row, part in zip(rows, parts, strict=True)
    ]
    says = [f"{part.name} has no rate yet, so it counts nothing." for part in parts if part.price is None]
    return view_of(ref, composed.working(name, parts, rate, item.unit, currency), comes, goes, says)


def _bill_link(bill: Bill, currency: str) -> WalkLink:
    ref = "bill" if bill.kind == "own" else f"bill-of:{bill.id}"
    return link_to(ref, "Bill total", Decimal(bill.total), currency, "bill", None)


def _place(section: Section) -> Place:
    return next(p for p in ordered_sections(section.bill_id) if p.section.id == section.id)


def _item_quantity(actor: Actor, ref: str, item_id: str) -> WalkView:
    item = find(Item, actor, int(item_id))
    ref_number, name = ref_of(item), f"Quantity of {item.description}"
    goes = [
        link_to(
            f"item:{item.id}", f"Amount of {ref_number}", item.amount, currency_of(actor), "bill", item.id
        )
    ]
    links = core_links([item.id])[item.id]
    drawn = bill_rules.quantity_working(name, links, item.unit, item.quantity)
    if item.kind == "time" and not links and not item.typed_quantity.strip():
        period = item.section.bill.period
        working = Working(name, item.quantity, item.unit, "how long the work lasts", period)
    elif item.typed_quantity.strip():
        working = Working(
            name,
            item.quantity,
            item.unit,
            "typed",
            item.typed_quantity,
            source=item.typed_reason,
            parts=drawn.parts,
        )
    else:
        # What was entered stands on the item it feeds, as it is now.
        fed = sorted({int(link.link.split(":")[1]) for link in links})
        working = replace(drawn, source="\n".join(notes_of(Element.those(Element.id, fed, Element.id))))
    comes = [
        link_to(link.link, link.name, link.net, link.unit, "measure", int(link.link.split(":")[1]))
        for link in links
    ]
    return view_of(ref, working, comes, goes, [] if links or item.typed_quantity else ["No quantity yet."])


def _section(actor: Actor, ref: str, section_id: str) -> WalkView:
    row, currency = find(Section, actor, int(section_id)), currency_of(actor)
    place = _place(row)
    items = item_views(Item.column(Item.id, Item.section, [row.id]))
    inner = [p for p in ordered_sections(row.bill_id) if p.section.parent_id == row.id]
    comes = [
        link_to(f"item:{i.id}", f"{i.ref} {i.description}", i.amount, currency, "bill", i.id) for i in items
    ]
    comes += [_section_link(each, currency) for each in inner]
    told = " + ".join(link.value for link in comes[:MOST_TOLD])
    figures = told + (" + …" if len(comes) > MOST_TOLD else "")
    working = Working(f"{place.ref} {row.title}", place.total, currency, "sum of its items", figures)
    return view_of(ref, working, comes, [_bill_link(row.bill, currency)])


def _section_link(place: Place, currency: str) -> WalkLink:
    section, name = place.section, f"{place.ref} {place.section.title}"
    return link_to(f"section:{section.id}", name, place.total, currency, "bill", section.id)


def _apart(outline: BillOutline, currency: str) -> tuple[Working, ...]:
    """What the items come to by how they are priced; nothing where all are priced alike."""
    named = {
        "Items of one rate": outline.items_total
        - outline.composite - outline.preliminaries - outline.set_aside,
        "Composite items": outline.composite, "Preliminaries": outline.preliminaries,
        "Provisional and prime cost sums": outline.set_aside,
    }  # fmt: skip
    told = tuple(Working(name, total, currency) for name, total in named.items() if total)
    return told if len(told) > 1 else ()


def _bill(actor: Actor, ref: str, bill_id: str = "") -> WalkView:
    bill = find(Bill, actor, int(bill_id)) if bill_id else own_bill(actor.project_id)
    outline, currency = bill_outline(actor, bill.id), currency_of(actor)
    parts = [Working("Sum of the items", outline.items_total, currency, parts=_apart(outline, currency))]
    for a in outline.adjustments:
        percent = f"{a.percent.normalize():f} %"
        base = f"on the {bill_rules.base_words(a.base)}"
        parts.append(Working(f"{a.name} {percent}", a.adds, currency, base, f"{shown(a.on)} × {percent}"))
    expression = "items" + "".join(f" + {a.name.lower()}" for a in outline.adjustments)
    figures = " + ".join(shown(part.value) for part in parts)
    working = Working("Bill total", outline.total, currency, expression, figures, parts=tuple(parts))
    tops = [place for place in ordered_sections(bill.id) if place.depth == 0]
    findings = (
        [f"{shown(outline.resting)} of it rests on figures that are being worked out."]
        if outline.resting
        else []
    )
    return view_of(ref, working, [_section_link(place, currency) for place in tops], [], findings)


STEPS = {
    "item": Step(1, _item, Item),
    "item-quantity": Step(1, _item_quantity, Item),
    "item-rate": Step(1, _item_rate, Item),
    "section": Step(1, _section, Section),
    "bill": Step(0, _bill),
    "bill-of": Step(1, _bill, Bill),
}
