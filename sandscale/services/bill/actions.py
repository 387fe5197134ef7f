"""The bill of quantities: sections, items, what each item draws on, and the adjustments at its foot."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ...core.numbers.entry import kept, read_entry, typed
from ...core.numbers.units import unit
from ...core.pricing.bill import KIND_WORDS, SUMS
from ...core.refusals import BadEntry
from ...store.models import (
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
from ..keeping.naming import stripped
from ..keeping.recording import Recording, action, recording
from ..keeping.views import Saved
from ..measure.draws import refuse_ring
from ..rates.priced import kept_size_of
from .reading import MOST_DEEP, bill_of, ordered_sections, own_bill

_FIELD_WORDS = {
    "build_up": "rate",
    "typed_rate": "rate",
    "rate_reason": "reason",
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
    refuse_issued(bill)
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


def open_section(section: Section) -> Section:
    """A section that may be written in.

    Raises:
        InUse: its bill was issued.
    """
    refuse_issued(section.bill)
    return section


def refuse_issued(bill: Bill) -> None:
    """Refuse to write in a bill that was issued.

    Raises:
        InUse: it was.
    """
    if bill.kind == "issued":
        raise InUse(
            f"“{bill.title}” was issued and stays as it was.", remedy="Change the project's own bill."
        )


@action
def change_section(actor: Actor, section_id: int, version: int, title: str) -> Saved:
    """Give a section another title."""
    row = open_section(find(Section, actor, section_id))
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
    row = open_section(find(Section, actor, section_id))
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
        position=next_position(section.id),
    )


def next_position(section_id: int) -> int:
    """Where an item stands at the end of a section."""
    last = Item.select(Item.position).where(Item.section == section_id).order_by(Item.position.desc()).first()
    return last.position + 1 if last else 0


@action
def add_item(actor: Actor, section_id: int, fields: dict[str, Any]) -> Saved:
    """A new item at the end of a section.

    Raises:
        BadEntry: the description is empty, the unit unknown, or a typed quantity has no reason.
    """
    section = open_section(find(Section, actor, section_id))
    after = fields.pop("after", None)
    fields = _checked_item(
        actor, {"typed_quantity": "", "typed_reason": "", "typed_amount": "", **fields}, {"kind": "measured"}
    )
    with recording(actor, f"Item {fields['description']}") as log:
        row = log.insert(Item, section=section.id, position=next_position(section.id), **fields)
        if after is not None and any(item.id == after for item in section.items):
            order = [i.id for i in section.items.order_by(Item.position, Item.id) if i.id != row.id]
            arrange(log, Item, [*order[: order.index(after) + 1], row.id, *order[order.index(after) + 1 :]])
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
    open_section(row.section)
    fields = _checked_item(actor, fields, row.__data__)
    check_version(row, version, fields)
    changed = dict.fromkeys(
        _FIELD_WORDS.get(name, name) for name in fields if fields[name] != getattr(row, name)
    )
    with recording(actor, f"Item {row.description}: {', '.join(changed) or 'as it was'}") as log:
        write_item(log, row, fields)
    return log.saved(row)


def write_item(log: Recording, row: Item, fields: dict[str, Any]) -> None:
    """Write checked fields of an item; a rate of one takes the place of several."""
    log.update(row, **fields)
    if fields.get("typed_rate") or fields.get("build_up"):
        log.delete_all(list(row.parts))


def checked_item(fields: dict[str, Any], kept: dict[str, Any]) -> dict[str, Any]:
    """What was typed of an item, as it is kept; ``kept`` are its other fields.

    Raises:
        BadEntry: a value doesn't fit.
    """
    fields = stripped(fields)
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
    if now.get("kind") == "time" and unit(now["unit"]).dimension != unit("h").dimension:
        raise BadEntry(
            f"A time-related charge goes by time, not by {now['unit']}.", field="unit",
            remedy="Give it per week, month, day or hour.",
        )  # fmt: skip
    return fields | _checked_rate(fields, now)


def _checked_rate(fields: dict[str, Any], now: dict[str, Any]) -> dict[str, Any]:
    """A rate is typed, with its reason, or a build-up's: what was said last takes the place of the other."""
    if fields.get("build_up") and not fields.get("typed_rate"):
        return {"typed_rate": "", "rate_reason": ""}
    if not now.get("typed_rate"):
        return {"rate_reason": ""} if "typed_rate" in fields else {}
    read_entry(now["typed_rate"], "", field="rate")  # one below zero is a credit
    if not now.get("rate_reason"):
        raise BadEntry(
            "A typed rate needs its reason.", field="rate_reason",
            remedy="Say where it comes from, such as “agreed with the client, 12 Nov”.",
        )  # fmt: skip
    return {"build_up": None, "size": ""}


def _checked_item(actor: Actor, fields: dict[str, Any], kept: dict[str, Any]) -> dict[str, Any]:
    fields = checked_item({**fields, **typed(fields, "typed_quantity", "typed_amount", "typed_rate")}, kept)
    if fields.get("build_up") and fields["build_up"] != kept.get("build_up"):
        fields.setdefault("size", "")
    now = {**kept, **fields}
    if fields.get("section"):
        into = find(Section, actor, fields["section"])
        if kept.get("section") and Section.get_by_id(kept["section"]).bill_id != into.bill_id:
            raise BadEntry("That section is in another bill.", field="section")
    if fields.get("size"):
        fields["size"] = _checked_size(actor, fields["size"], now.get("build_up"))
    if fields.get("build_up"):
        build_up = find(BuildUp, actor, fields["build_up"])
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
    """At what an item's rate is read, as it is kept.

    Raises:
        BadEntry: its rate asks for no size, or it can't be read.
    """
    if not build_up_id:
        raise BadEntry(
            "Only a banded or a reference rate asks for a size.", field="size",
            remedy="Choose such a rate first.",
        )  # fmt: skip
    return kept_size_of(find(BuildUp, actor, build_up_id), size)


def refuse_drawn(items: Iterable[int]) -> None:
    """Refuse to take items out that an allowance's inputs draw on.

    Raises:
        InUse: one is; the sentence names both.
    """
    if drawn := InputDraw.those(InputDraw.item, items):
        raise InUse(
            f"{drawn[0].element.mark} draws on “{drawn[0].item.description}”.",
            remedy="Take it out of there first.",
        )


@action
def delete_item(actor: Actor, item_id: int) -> Saved:
    """Take an item out, with its links."""
    row = find(Item, actor, item_id)
    open_section(row.section)
    refuse_drawn([row.id])
    with recording(actor, f"Item {row.description} deleted") as log:
        for hung in (*row.links, *row.parts):
            log.delete(hung)
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
    open_section(item.section)
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
    open_section(row.item.section)
    with recording(actor, f"Item {row.item.description} no longer draws on {row.element.mark}") as log:
        log.delete(row)
    return log.saved()


@action
def move_item(actor: Actor, item_id: int, section_id: int, before: int | None = None) -> Saved:
    """Put an item before another, or at the end of a section.

    Raises:
        BadEntry: the other item isn't in that section.
    """
    row, section = find(Item, actor, item_id), open_section(find(Section, actor, section_id))
    if open_section(row.section).bill_id != section.bill_id:
        raise BadEntry("That section is in another bill.", field="section")
    order = [i.id for i in section.items.order_by(Item.position, Item.id) if i.id != row.id]
    if before is not None and before not in order:
        raise BadEntry("The item to stand before is not in that section.", field="before")
    at = order.index(before) if before is not None else len(order)
    with recording(actor, f"Item {row.description} moved") as log:
        log.update(row, section=section.id)
        arrange(log, Item, [*order[:at], row.id, *order[at:]])
    return log.saved(row)


@action
def move_section(actor: Actor, section_id: int, parent_id: int | None, before: int | None = None) -> Saved:
    """Put a section before another of its level, or at the end of another section.

    Raises:
        BadEntry: it would lie within itself, or the other doesn't stand there.
    """
    row = open_section(find(Section, actor, section_id))
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
        arrange(log, Section, [*order[:at], row.id, *order[at:]])
    return log.saved(row)


def arrange(log: Recording, model: Any, ids: list[int]) -> None:
    """Number rows in an order; those that stand right already are not written."""
    rows = {row.id: row for row in model.select().where(model.id << ids)}
    for position, row_id in enumerate(ids):
        log.update(rows[row_id], position=position)
