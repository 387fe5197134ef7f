"""The bill of quantities: sections, items, what each item draws on, and the adjustments at its foot."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from ...core.numbers.entry import kept, read_entry, typed
from ...core.numbers.units import unit
from ...core.pricing.bill import AFTER, KIND_WORDS, SUMS
from ...core.refusals import BadEntry
from ...store.models import (
    Adjustment,
    Bill,
    BuildUp,
    Element,
    InputDraw,
    Item,
    ItemLink,
    QuantityLine,
    QuantityPart,
    Section,
)
from ..keeping.acting import Actor, InUse, check_version, find
from ..keeping.recording import Recording, action, recording
from ..keeping.views import Saved
from ..measure.draws import refuse_ring
from ..rates.banded import kept_limit, limit_in
from .reading import MOST_DEEP, adjustments_of, bill_of, ordered_sections, own_bill

_FIELD_WORDS = {
    "build_up": "rate",
    "typed_quantity": "quantity",
    "typed_reason": "reason",
    "typed_amount": "amount",
}


@action
def add_section(actor: Actor, title: str, parent: int | None = None, bill_id: int | None = None) -> Saved:
    """A new section at the end of a bill (the project's own when none is named), or inside another
    section."""
    bill = bill_of(actor, bill_id)
    if parent is not None:
        above = find(Section, actor, parent)
        bill = above.bill
        _refuse_deep(above, 0)
    _refuse_issued(bill)
    with recording(actor, f"Section {title.strip()}") as log:
        row = _new_section(log, bill, title, parent)
    return log.saved(row)


def _new_section(log: Recording, bill: Bill, title: str, parent: int | None) -> Section:
    if not title.strip():
        raise BadEntry("A section needs a title.", field="title")
    position = Section.select().where(Section.bill == bill.id).count()
    return log.insert(
        Section, bill=bill.id, title=title.strip()[:120].strip(), parent=parent, position=position
    )


def _refuse_deep(above: Section, reach: int) -> None:
    """Refuse what would lie too deep within a section; ``reach`` is how deep it goes itself."""
    depth: int = next(p.depth for p in ordered_sections(above.bill_id) if p.section.id == above.id)
    if depth + 1 + reach > MOST_DEEP:
        raise BadEntry(f"Sections lie up to {MOST_DEEP} deep within one another.", field="parent")


def _reach(section_id: int, depths: dict[int, int]) -> int:
    """How deep the sections within one go below it."""
    deepest, layer = 0, [section_id]
    while layer:
        inner = Section.select(Section.id).where(Section.parent << layer).tuples()
        layer = [each for (each,) in inner]
        deepest = max([deepest, *(depths[each] - depths[section_id] for each in layer)])
    return deepest


def _open(section: Section) -> Section:
    """A section that may be written in.

    Raises:
        InUse: its bill was issued.
    """
    _refuse_issued(section.bill)
    return section


def _refuse_issued(bill: Bill) -> None:
    if bill.kind == "issued":
        raise InUse(
            f"“{bill.title}” was issued and stays as it was.", remedy="Change the project's own bill."
        )


@action
def change_section(actor: Actor, section_id: int, version: int, title: str) -> Saved:
    """Give a section another title."""
    row = _open(find(Section, actor, section_id))
    if not title.strip():
        raise BadEntry("A section needs a title.", field="title")
    check_version(row, version, {"title": title.strip()})
    with recording(actor, f"Section {row.title} renamed") as log:
        log.update(row, title=title.strip()[:120].strip())
    return log.saved(row)


@action
def delete_section(actor: Actor, section_id: int) -> Saved:
    """Take an empty section out.

    Raises:
        InUse: it holds items or sections.
    """
    row = _open(find(Section, actor, section_id))
    if row.items.count() or row.children.count():
        raise InUse(f"Section “{row.title}” is not empty.", remedy="Move or delete what it holds first.")
    with recording(actor, f"Section {row.title} deleted") as log:
        log.delete(row)
    return log.saved()


def item_for(log: Recording, section_title: str, description: str, unit_symbol: str) -> Item:
    """The item of those words, unit and section; made, with its section, where the bill has none."""
    bill = own_bill(log.project.id)
    section = (
        Section.select()
        .where((Section.bill == bill.id) & (Section.title == section_title))
        .order_by(Section.id)
        .first()
    )
    section = section or _new_section(log, bill, section_title, None)
    found = (
        Item.select()
        .where((Item.section == section.id) & (Item.description == description) & (Item.unit == unit_symbol))
        .first()
    )
    return found or log.insert(
        Item,
        section=section.id,
        description=description,
        unit=unit_symbol,
        position=_next_position(section.id),
    )


def _next_position(section_id: int) -> int:
    last = Item.select(Item.position).where(Item.section == section_id).order_by(Item.position.desc()).first()
    return last.position + 1 if last else 0


@action
def add_item(actor: Actor, section_id: int, fields: dict[str, Any]) -> Saved:
    """A new item at the end of a section.

    Raises:
        BadEntry: the description is empty, the unit unknown, or a typed quantity has no reason.
    """
    section = _open(find(Section, actor, section_id))
    after = fields.pop("after", None)
    fields = _checked_item(
        actor, {"typed_quantity": "", "typed_reason": "", "typed_amount": "", **fields}, {"kind": "measured"}
    )
    with recording(actor, f"Item {fields['description']}") as log:
        row = log.insert(Item, section=section.id, position=_next_position(section.id), **fields)
        if after is not None and any(item.id == after for item in section.items):
            order = [i.id for i in section.items.order_by(Item.position, Item.id) if i.id != row.id]
            _arrange(log, Item, [*order[: order.index(after) + 1], row.id, *order[order.index(after) + 1 :]])
    return log.saved(row)


@action
def change_item(actor: Actor, item_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change an item's words, unit, typed quantity, rate or section.

    Raises:
        BadEntry: a value doesn't fit.
        Refusal: a quantity line it draws on has no such unit.
        Stale: someone else changed it meanwhile.
    """
    row = find(Item, actor, item_id)
    _open(row.section)
    fields = _checked_item(actor, fields, row.__data__)
    check_version(row, version, fields)
    with recording(
        actor, f"Item {row.description}: {', '.join(_FIELD_WORDS.get(name, name) for name in fields)}"
    ) as log:
        log.update(row, **fields)
    return log.saved(row)


def checked_item(fields: dict[str, Any], kept: dict[str, Any]) -> dict[str, Any]:
    """What was typed of an item, as it is kept; ``kept`` are its other fields.

    Raises:
        BadEntry: a value doesn't fit.
    """
    fields = {name: value.strip() if isinstance(value, str) else value for name, value in fields.items()}
    now = {**kept, **fields}
    if not now.get("description"):
        raise BadEntry("An item needs a description.", field="description")
    fields |= {"unit": unit(fields["unit"]).symbol} if "unit" in fields else {}
    if fields.get("kind", "measured") not in KIND_WORDS:
        raise BadEntry(
            f"“{fields['kind']}” is no kind of item.",
            field="kind",
            remedy=f"Use one of {', '.join(KIND_WORDS.values())}.",
        )
    if now.get("typed_amount"):
        if now["kind"] not in SUMS:
            if fields.get("typed_amount"):
                raise BadEntry(
                    "Only a sum has its amount typed.",
                    field="typed_amount",
                    remedy="Make it a lump, provisional or prime cost sum.",
                )
            fields["typed_amount"] = ""
        else:
            read_entry(now["typed_amount"], "", field="amount")
    if now.get("typed_quantity"):
        read_entry(now["typed_quantity"], now["unit"], field="quantity")
        if not now.get("typed_reason"):
            raise BadEntry(
                "A typed quantity needs its reason.",
                field="typed_reason",
                remedy="Say where it comes from, such as “clause 2.14”.",
            )
    if now.get("typed_rate"):
        read_entry(now["typed_rate"], "", field="rate", minimum=0)
    return fields


def _checked_item(actor: Actor, fields: dict[str, Any], kept: dict[str, Any]) -> dict[str, Any]:
    fields = checked_item({**fields, **typed(fields, "typed_quantity", "typed_amount", "typed_rate")}, kept)
    now = {**kept, **fields}
    if fields.get("section"):
        into = find(Section, actor, fields["section"])
        if kept.get("section") and Section.get_by_id(kept["section"]).bill_id != into.bill_id:
            raise BadEntry("That section is in another bill.", field="section")
    if fields.get("size"):
        fields["size"] = _checked_size(actor, fields["size"], now.get("build_up"))
    if fields.get("build_up"):
        build_up = find(BuildUp, actor, fields["build_up"])
        if build_up.kind == "reference":
            raise BadEntry(
                f"“{build_up.name}” is read at a size.",
                field="build_up",
                remedy="Draw on it in a rate, at its size.",
            )
        if build_up.unit != now.get("unit"):
            raise BadEntry(
                f"“{build_up.name}” is a rate per {build_up.unit}; this item is in {now.get('unit')}.",
                field="build_up",
                remedy="Choose a rate in the item's unit.",
            )
    elif (
        "unit" in fields
        and kept.get("build_up")
        and BuildUp.get_by_id(kept["build_up"]).unit != fields["unit"]
    ):
        raise BadEntry(
            f"Its rate is per {BuildUp.get_by_id(kept['build_up']).unit}.",
            field="unit",
            remedy="Take the rate off first.",
        )
    return fields


def _checked_size(actor: Actor, size: str, build_up_id: int | None) -> str:
    """What picks the band of an item's rate, as it is kept.

    Raises:
        BadEntry: its rate isn't banded, or it can't be read.
    """
    build_up = find(BuildUp, actor, build_up_id) if build_up_id else None
    if build_up is None or build_up.kind != "banded":
        raise BadEntry(
            "Only a banded rate asks for a size.", field="size", remedy="Choose such a rate first."
        )
    size = kept_limit(size, build_up.sized_in)
    limit_in(size, build_up.sized_in)
    return size


@action
def delete_item(actor: Actor, item_id: int) -> Saved:
    """Take an item out, with its links."""
    row = find(Item, actor, item_id)
    _open(row.section)
    if drawn := InputDraw.those(InputDraw.item, [row.id]):
        raise InUse(
            f"{drawn[0].element.mark} draws on “{row.description}”.", remedy="Take it out of there first."
        )
    with recording(actor, f"Item {row.description} deleted") as log:
        for link in row.links:
            log.delete(link)
        log.delete(row)
    return log.saved()


@action
def add_link(
    actor: Actor,
    item_id: int,
    element_id: int,
    output: str,
    factor: str = "1",
    split: str = "",
    part: str = "",
) -> Saved:
    """Let an item draw on a quantity line, or on a named part of it.

    Raises:
        BadEntry: the element has no such quantity line, it is linked already, or the factor can't be read.
        Refusal: the units are of different kinds.
    """
    item, element = find(Item, actor, item_id), find(Element, actor, element_id)
    _open(item.section)
    factor = kept(factor, "", field="factor")
    read_entry(factor, "", field="factor")
    mine = (QuantityLine.element == element.id) & (QuantityLine.output == output)
    if not QuantityLine.select().where(mine).exists():
        raise BadEntry(f"{element.mark} has no quantity line “{output}”.", field="output")
    if part:
        _check_part(element, output, split, part)
    drawn = ItemLink.select().where((ItemLink.item == item.id) & (ItemLink.element == element.id))
    links = [link for link in drawn if link.output == output]
    if any((link.split, link.part) == (split, part) for link in links):
        raise BadEntry("This item draws on that quantity line already.", field="output")
    if any(not link.part or not part or link.split != split for link in links):
        says = "This item draws on that quantity already, by another split or as a whole."
        raise BadEntry(says, field="part", remedy="Take that off first, or it would count twice.")
    with recording(actor, f"Item {item.description} draws on {element.mark}") as log:
        drawn_on = {"output": output, "split": split if part else "", "part": part}
        row = log.insert(ItemLink, item=item.id, element=element.id, factor=factor, **drawn_on)
        refuse_ring(actor.project_id)
    return log.saved(row)


def _check_part(element: Element, output: str, split: str, part: str) -> None:
    known = (QuantityPart.element == element.id) & (QuantityPart.output == output)
    if (
        not QuantityPart.select()
        .where(known & (QuantityPart.split == split) & (QuantityPart.part == part))
        .exists()
    ):
        raise BadEntry(
            f"{output} of {element.mark} has no part “{part}” by {split or 'anything'}.", field="part"
        )


@action
def delete_link(actor: Actor, link_id: int) -> Saved:
    """Let an item no longer draw on a quantity line."""
    row = find(ItemLink, actor, link_id)
    _open(row.item.section)
    with recording(actor, f"Item {row.item.description} no longer draws on {row.element.mark}") as log:
        log.delete(row)
    return log.saved()


@action
def move_item(actor: Actor, item_id: int, section_id: int, before: int | None = None) -> Saved:
    """Put an item before another, or at the end of a section.

    Raises:
        BadEntry: the other item isn't in that section.
    """
    row, section = find(Item, actor, item_id), _open(find(Section, actor, section_id))
    if _open(row.section).bill_id != section.bill_id:
        raise BadEntry("That section is in another bill.", field="section")
    order = [i.id for i in section.items.order_by(Item.position, Item.id) if i.id != row.id]
    if before is not None and before not in order:
        raise BadEntry("The item to stand before is not in that section.", field="before")
    at = order.index(before) if before is not None else len(order)
    with recording(actor, f"Item {row.description} moved") as log:
        log.update(row, section=section.id)
        _arrange(log, Item, [*order[:at], row.id, *order[at:]])
    return log.saved(row)


@action
def move_section(actor: Actor, section_id: int, parent_id: int | None, before: int | None = None) -> Saved:
    """Put a section before another of its level, or at the end of another section.

    Raises:
        BadEntry: it would lie within itself, or the other doesn't stand there.
    """
    row = _open(find(Section, actor, section_id))
    above = find(Section, actor, parent_id) if parent_id is not None else None
    if above is not None and above.bill_id != row.bill_id:
        raise BadEntry("That section is in another bill.", field="parent")
    each = above
    while each is not None:
        if each.id == row.id:
            raise BadEntry("A section can't lie within itself.", field="parent")
        each = each.parent
    if above is not None:
        within = {place.section.id: place.depth for place in ordered_sections(row.bill_id)}
        _refuse_deep(above, _reach(row.id, within))
    level = (Section.bill == row.bill_id) & (
        Section.parent.is_null() if parent_id is None else Section.parent == parent_id
    )
    order = [
        s.id
        for s in Section.select().where(level & (Section.id != row.id)).order_by(Section.position, Section.id)
    ]
    if before is not None and before not in order:
        raise BadEntry("The section to stand before is not on that level.", field="before")
    at = order.index(before) if before is not None else len(order)
    with recording(actor, f"Section {row.title} moved") as log:
        log.update(row, parent=parent_id)
        _arrange(log, Section, [*order[:at], row.id, *order[at:]])
    return log.saved(row)


def _arrange(log: Recording, model: Any, ids: list[int]) -> None:
    """Number rows in an order; those that stand right already are not written."""
    rows = {row.id: row for row in model.select().where(model.id << ids)}
    for position, row_id in enumerate(ids):
        log.update(rows[row_id], position=position)


@action
def add_adjustment(actor: Actor, name: str, percent: str, base: str) -> Saved:
    """A new adjustment at the foot of the bill, after the others.

    Raises:
        BadEntry: the name is empty or taken, the percentage or base doesn't fit.
    """
    bill = own_bill(actor.project_id)
    fields = _checked_adjustment(bill, {"name": name, "percent": percent, "base": base})
    position = max((a.position for a in adjustments_of(bill.id)), default=-1) + 1
    with recording(actor, f"{fields['name']} {fields['percent']:f} %") as log:
        row = log.insert(Adjustment, bill=bill.id, position=position, **fields)
    return log.saved(row)


@action
def change_adjustment(actor: Actor, adjustment_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change an adjustment's name, percentage or base; those taken after it keep to it by its new name.

    Raises:
        BadEntry: a value can't be read, or the percentage is out of −100 to 1000.
        Refusal: its base doesn't stand before it.
    """
    row = find(Adjustment, actor, adjustment_id)
    bill = row.bill
    _refuse_issued(bill)
    fields = _checked_adjustment(bill, fields, row.id)
    check_version(row, version, fields)
    old = row.name
    with recording(actor, f"{fields.get('name', row.name)} {fields.get('percent', row.percent):f} %") as log:
        log.update(row, **fields)
        for other in adjustments_of(bill.id):
            if other.base == AFTER + old:
                log.update(other, base=AFTER + row.name)
    return log.saved(row)


@action
def move_adjustment(actor: Actor, adjustment_id: int, by: int) -> Saved:
    """Put an adjustment earlier (below zero) or later in their order.

    Raises:
        Refusal: one would be taken on an adjustment that no longer stands before it.
    """
    row = find(Adjustment, actor, adjustment_id)
    bill = row.bill
    _refuse_issued(bill)
    order = [a.id for a in adjustments_of(bill.id) if a.id != row.id]
    at = min(max([a.id for a in adjustments_of(bill.id)].index(row.id) + by, 0), len(order))
    with recording(actor, f"{row.name} moved") as log:
        _arrange(log, Adjustment, [*order[:at], row.id, *order[at:]])
    return log.saved(row)


@action
def delete_adjustment(actor: Actor, adjustment_id: int) -> Saved:
    """Take an adjustment off.

    Raises:
        InUse: another is taken after it.
    """
    row = find(Adjustment, actor, adjustment_id)
    bill = row.bill
    _refuse_issued(bill)
    if taken := [a.name for a in adjustments_of(bill.id) if a.base == AFTER + row.name]:
        raise InUse(
            f"{taken[0]} is taken on the total after {row.name}.", remedy="Give it another base first."
        )
    with recording(actor, f"{row.name} taken off") as log:
        log.delete(row)
    return log.saved()


def _checked_adjustment(bill: Bill, fields: dict[str, Any], adjustment_id: int = 0) -> dict[str, Any]:
    checked: dict[str, Any] = {}
    others = [a.name for a in adjustments_of(bill.id) if a.id != adjustment_id]
    if "name" in fields:
        checked["name"] = fields["name"].strip()[:60].strip()
        if not checked["name"]:
            raise BadEntry("An adjustment needs a name.", field="name")
        if checked["name"].lower() in (name.lower() for name in others):
            raise BadEntry(f"There is {checked['name']} already.", field="name")
    if "percent" in fields:
        percent = read_entry(fields["percent"].strip().rstrip("%"), "", field="percent")
        checked["percent"] = checked_percent(Decimal(str(round(percent, 4))))
    if "base" in fields:
        if fields["base"] not in ("items", "work", "running", *(AFTER + name for name in others)):
            raise BadEntry(
                "An adjustment is taken on the items, the work, the total so "
                "far, or the total after another.",
                field="base",
            )
        checked["base"] = fields["base"]
    return checked


def checked_percent(percent: Decimal) -> Decimal:
    """A percentage as an adjustment may have it.

    Raises:
        BadEntry: it is out of range.
    """
    if not -100 <= percent <= 1000:
        raise BadEntry(
            f"{percent} % is out of range.",
            field="percent",
            remedy="Type a percentage between −100 and 1000.",
        )
    return percent
