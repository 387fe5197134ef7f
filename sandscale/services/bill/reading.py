"""The bills: in order, numbered, with their totals and their foot; whole, in outline, or a window of their
items."""

from __future__ import annotations

import contextlib
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from ...core.numbers.entry import read_entry
from ...core.numbers.rounding import exact
from ...core.numbers.written import written
from ...core.pricing import bill as bill_rules
from ...core.pricing.bill import base_words
from ...core.refusals import Refusal
from ...store.database import database
from ...store.models import (
    Adjustment,
    Bill,
    Item,
    ItemLink,
    Section,
    StoredFile,
)
from ..keeping.acting import Actor, find
from ..keeping.one_reading import once_a_reading
from ..rates.priced import Priced
from .quantities import core_links, places_of
from .rating import parts_of, size_told
from .views import (
    AdjustmentView,
    BillBrief,
    BillOutline,
    BillView,
    Foot,
    ItemView,
    LinkView,
    SectionHead,
    SectionView,
)

MOST_ITEMS = 400  # in one window

MOST_DEEP = 8  # sections within sections


@once_a_reading
def own_bill(project_id: int) -> Bill:
    """The project's own bill."""
    return Bill.those(Bill.project, [project_id], Bill.id, kind="own")[0]


def bill_of(actor: Actor, bill_id: int | None) -> Bill:
    """A bill of the project; its own when none is named.

    Raises:
        Missing: there is none of that id.
    """
    return own_bill(actor.project_id) if bill_id is None else find(Bill, actor, bill_id)


def bills(actor: Actor) -> list[BillBrief]:
    """The project's bills: its own first, then those received and issued."""
    rows = Bill.select().where(Bill.project == actor.project_id).order_by(Bill.position, Bill.id)
    files = {
        row.id: row.name
        for row in StoredFile.select(StoredFile.id, StoredFile.name).where(
            StoredFile.id << [row.file_id for row in rows if row.file_id]
        )
    }
    return [bill_brief(row, files.get(row.file_id, "")) for row in rows]


def bill_brief(row: Bill, file: str = "") -> BillBrief:
    """A bill in a list; ``file`` is the name of the client's workbook it came in."""
    return BillBrief(
        id=row.id, version=row.version, kind=row.kind, title=row.title, dated=row.dated,
        currency=currency_of(row), total=row.total, file=file,
    )  # fmt: skip


def currency_of(bill: Bill) -> str:
    """The currency a bill is in: its own, or the project's."""
    return str(bill.currency or bill.project.currency)


@dataclass(frozen=True)
class Place:
    """A section in its bill: its number, how deep it lies, and what it comes to with those inside it."""

    section: Section
    ref: str
    depth: int
    total: Decimal


@once_a_reading
def ordered_sections(bill_id: int) -> list[Place]:
    """The sections of a bill in order."""
    children: dict[int | None, list[Section]] = {}
    for section in Section.those(Section.bill, [bill_id], Section.position, Section.id):
        children.setdefault(section.parent_id, []).append(section)

    def visit(parent: int | None, before: str, depth: int) -> tuple[list[Place], Decimal]:
        places, total = list[Place](), Decimal(0)
        for number, section in enumerate(children.get(parent, []), start=1):
            inner, inside = visit(section.id, f"{before}{number}.", depth + 1)
            own = Decimal(section.items_total) + inside
            places += [Place(section, f"{before}{number}", depth, own), *inner]
            total += own
        return places, total

    return visit(None, "", 0)[0]


def bill_view(actor: Actor, bill_id: int | None = None) -> BillView:
    """A whole bill, with every item; for documents. Screens read its outline, and its items in windows."""
    bill = bill_of(actor, bill_id)
    outline = bill_outline(actor, bill.id)
    sections = [place.section.id for place in ordered_sections(bill.id)]
    shown = item_views(Item.column(Item.id, Item.section, sections))
    inside: dict[int, list[ItemView]] = {}
    for view in shown:
        inside.setdefault(view.section, []).append(view)
    heads = [
        SectionView(**{**head.model_dump(), "items": inside.get(head.id, [])}) for head in outline.sections
    ]
    return BillView(**{**outline.model_dump(), "sections": heads})


def bill_outline(actor: Actor, bill_id: int | None = None) -> BillOutline:
    """A bill's sections with their totals and how many items each holds, and its foot."""
    bill = bill_of(actor, bill_id)
    heads = [section_head(place) for place in ordered_sections(bill.id)]
    return BillOutline(
        **foot_of(bill.id).model_dump(), id=bill.id, version=bill.version, kind=bill.kind, title=bill.title,
        dated=bill.dated, currency=currency_of(bill), period=written(bill.period), file=_file_name(bill),
        sections=heads,
    )  # fmt: skip


def _file_name(bill: Bill) -> str:
    """The name of the client's workbook a bill came in; empty where it came otherwise."""
    if not bill.file_id:
        return ""
    return str(StoredFile.select(StoredFile.name).where(StoredFile.id == bill.file_id).scalar())


def foot_of(bill_id: int) -> Foot:
    """The foot of a bill: its adjustments one by one, and how much of it isn't known yet."""
    rows, (items, set_aside, composite, preliminaries) = adjustments_of(bill_id), _sums(bill_id)
    summary = bill_rules.summary(items, [core_adjustment(row) for row in rows], set_aside)
    return Foot(
        items_total=summary.items, set_aside=set_aside, composite=composite, preliminaries=preliminaries,
        total=summary.total,
        adjustments=_adjustment_views(rows, summary), resting=_resting(bill_id),
    )  # fmt: skip


def section_heads(project_id: int) -> list[SectionHead]:
    """The sections of a project's own bill in order, as lists show them."""
    return [section_head(place) for place in ordered_sections(own_bill(project_id).id)]


def section_head(place: Place) -> SectionHead:
    """A section as lists show it."""
    s = place.section
    return SectionHead(
        id=s.id, version=s.version, ref=place.ref, depth=place.depth, title=s.title, number=s.number,
        parent=s.parent_id, total=place.total, holds=s.items_held,
    )  # fmt: skip


def _adjustment_views(rows: list[Adjustment], summary: bill_rules.Summary) -> list[AdjustmentView]:
    return [
        AdjustmentView(
            id=a.id, version=a.version, name=a.name, percent=a.percent, base=a.base,
            base_words=base_words(a.base),
            on=w.on, adds=w.adds,
        )
        for a, w in zip(rows, summary.adjustments, strict=True)
    ]  # fmt: skip


# Items wait that draw on an element whose quantities are still being worked out.
_WAITING = """
SELECT l.item_id FROM being_worked_out w JOIN item_link l ON l.element_id = w.row_id
WHERE w.node = 'quantities'"""
_NEAR = """
SELECT DISTINCT l.item_id FROM item_link l JOIN figure f ON f.element_id = l.element_id AND f.near
WHERE l.item_id = ANY(%s)"""
_RESTING = f"""
SELECT COALESCE(SUM(i.amount), 0) FROM item i JOIN section s ON s.id = i.section_id
WHERE s.bill_id = %s AND i.id IN ({_WAITING})"""


def _resting(bill_id: int) -> Decimal:
    """How much of a bill rests on figures that are being worked out."""
    (amount,) = database.execute_sql(_RESTING, (bill_id,)).fetchone()
    return Decimal(amount)


def bill_items(actor: Actor, first: int, most: int, bill_id: int | None = None) -> list[ItemView]:
    """A window of a bill's items in its order, beginning with the ``first`` (0 is the bill's first)."""
    bill = bill_of(actor, bill_id)
    passed, left, views = 0, min(most, MOST_ITEMS), list[ItemView]()
    for place in ordered_sections(bill.id):
        holds = place.section.items_held
        skip = max(first - passed, 0)
        if left > 0 and skip < holds:
            ids = (
                Item.select(Item.id).where(Item.section == place.section.id).order_by(Item.position, Item.id)
            )
            window = [item_id for (item_id,) in ids.offset(skip).limit(left).tuples()]
            views += item_views(window)
            left -= len(window)
        passed += holds
    return views


def index_of(actor: Actor, item_id: int) -> int:
    """Where an item stands in its bill's order: 0 is the first."""
    item = find(Item, actor, item_id)
    earlier = (Item.position < item.position) | ((Item.position == item.position) & (Item.id < item.id))
    passed = 0
    for place in ordered_sections(item.section.bill_id):
        within = Item.select().where(Item.section == place.section.id)
        if place.section.id == item.section_id:
            return passed + within.where(earlier).count()
        passed += place.section.items_held
    raise AssertionError("a section is in its bill")


def other_bill_of(actor: Actor, item_id: int) -> int | None:
    """The bill an item is in; None where it is the project's own."""
    bill = find(Item, actor, item_id).section.bill
    return None if bill.kind == "own" else int(bill.id)


_LINKED = "SELECT item_id, COUNT(*) FROM item_link WHERE item_id = ANY(%s) GROUP BY item_id"


def item_views(ids: Iterable[int]) -> list[ItemView]:
    """Items as the screens show them, in the order of their sections' rows."""
    rows = Item.those(Item.id, ids, Item.section, Item.position, Item.id)
    if not rows:
        return []
    wanted = [row.id for row in rows]
    numbers = refs_of(rows)
    heads = Priced(row.build_up_id for row in rows).heads
    links = dict(database.execute_sql(_LINKED, (wanted,)).fetchall())
    parts = parts_of(wanted)
    measured = _measured([row for row in rows if row.typed_quantity and links.get(row.id)])
    waiting = {item for (item,) in database.execute_sql(f"{_WAITING} AND l.item_id = ANY(%s)", (wanted,))}
    near = {item for (item,) in database.execute_sql(_NEAR, (wanted,))}
    return [
        ItemView(
            id=item.id, version=item.version, section=item.section_id, ref=numbers[item.id], kind=item.kind,
            description=item.description, unit=item.unit, quantity=item.quantity,
            typed_quantity=written(item.typed_quantity), typed_reason=item.typed_reason,
            typed_amount=written(item.typed_amount),
            typed_rate=written(item.typed_rate), rate_reason=item.rate_reason, number=item.number,
            note=item.note, client_text=item.client_text, measured=measured.get(item.id),
            parts=len(parts.get(item.id, ())),
            build_up=item.build_up_id, build_up_name=heads[item.build_up_id].name if item.build_up_id else "",
            **size_told(heads.get(item.build_up_id), item.size),
            rate=item.rate, amount=item.amount, links=links.get(item.id, 0), waiting=item.id in waiting,
            near=item.id in near,
        )
        for item in rows
    ]  # fmt: skip


def _measured(items: list[Item]) -> dict[int, Decimal]:
    """What items draw on in which another quantity is typed; one in another kind of unit is missing."""
    if not items:
        return {}
    drawn, places = core_links([item.id for item in items]), places_of(items[0].project)
    found: dict[int, Decimal] = {}
    for item in items:
        with contextlib.suppress(Refusal):
            found[item.id] = bill_rules.item_quantity(drawn[item.id], item.unit, places)
    return found


_PLACED = """
SELECT id, ROW_NUMBER() OVER (PARTITION BY section_id ORDER BY position, id) FROM item
WHERE section_id = ANY(%s)"""


def refs_of(items: Iterable[Item]) -> dict[int, str]:
    """The numbers of some items in their bills; reads the sections they lie in, not the whole bill."""
    rows = list(items)
    sections = {row.section_id for row in rows}
    if not sections:
        return {}
    places = dict(database.execute_sql(_PLACED, (list(sections),)).fetchall())
    bills = Section.column(Section.bill, Section.id, sections)
    refs = {p.section.id: p.ref for bill_id in bills for p in ordered_sections(bill_id)}
    return {row.id: f"{refs[row.section_id]}.{places[row.id]}" for row in rows}


def ref_of(item: Item) -> str:
    """The number of an item in its bill."""
    return refs_of([item])[item.id]


def links(actor: Actor, item_id: int) -> list[LinkView]:
    """What an item draws on."""
    item = find(Item, actor, item_id)
    rows = list(item.links.order_by(ItemLink.id))
    worked = core_links([item.id])[item.id]
    return [
        LinkView(
            id=row.id, element=row.element_id, output=row.output, split=row.split, part=row.part,
            name=link.name,
            net=link.net, unit=link.unit, factor=written(row.factor),
        )
        for row, link in zip(rows, worked, strict=False)
    ]  # fmt: skip


def typed_amount(item: Item) -> Decimal | None:
    """The amount typed for a sum; None where none is."""
    return (
        exact(read_entry(item.typed_amount, "", field="amount"))
        if item.kind in bill_rules.SUMS and item.typed_amount.strip()
        else None
    )


def summary_of(bill_id: int) -> bill_rules.Summary:
    """The foot of a bill."""
    core = [core_adjustment(a) for a in adjustments_of(bill_id)]
    items, set_aside, *_ = _sums(bill_id)
    return bill_rules.summary(items, core, set_aside)


_SUMS = """
SELECT COALESCE(SUM(items_total), 0), COALESCE(SUM(set_aside), 0), COALESCE(SUM(composite_total), 0),
COALESCE(SUM(preliminary_total), 0) FROM section WHERE bill_id = %s"""


@once_a_reading
def _sums(bill_id: int) -> tuple[Decimal, Decimal, Decimal, Decimal]:
    """What a bill's items come to; of that what is set aside, is priced by several rates, and are
    preliminaries."""
    items, set_aside, composite, preliminaries = database.execute_sql(_SUMS, (bill_id,)).fetchone()
    return items, set_aside, composite, preliminaries


@once_a_reading
def adjustments_of(bill_id: int) -> list[Adjustment]:
    """The adjustments at the foot of a bill, in order."""
    return Adjustment.those(Adjustment.bill, [bill_id], Adjustment.position, Adjustment.id)


def core_adjustment(row: Adjustment) -> bill_rules.Adjustment:
    """An adjustment as the core takes it."""
    return bill_rules.Adjustment(row.name, row.percent, row.base)
