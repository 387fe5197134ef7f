"""Bills held against one another."""

from __future__ import annotations

from decimal import Decimal

from ...core.pricing import comparing
from ...core.pricing.comparing import Stood
from ...store.models import Bill, Item
from ..keeping.acting import Actor, find
from .reading import bill_brief, foot_of, ordered_sections
from .views import ComparedView, FootPair, PairView, StoodView

MOST_PAIRS = 2_000  # told; the counts are of all

_OF_ITEMS = (
    Item.id, Item.section, Item.position, Item.kind, Item.number, Item.description, Item.unit,
    Item.quantity, Item.rate, Item.amount,
)  # fmt: skip


def stood(bill: Bill) -> list[Stood]:
    """The items of a bill in order, with the sections they lie in; without its headings."""
    places = ordered_sections(bill.id)
    paths = paths_of(bill)
    held: dict[int, list[Stood]] = {}
    counts: dict[int, int] = {}
    refs = {place.section.id: place.ref for place in places}
    rows = Item.some(_OF_ITEMS, Item.section, list(refs), Item.section, Item.position, Item.id)
    for row in rows:
        section = row.section_id
        counts[section] = counts.get(section, 0) + 1
        if row.kind != "heading":
            held.setdefault(section, []).append(
                Stood(
                    row.id, f"{refs[section]}.{counts[section]}", paths[section], row.number, row.description,
                    row.unit, row.kind, row.quantity, row.rate, row.amount,
                )
            )  # fmt: skip
    return [item for place in places for item in held.get(place.section.id, [])]


def paths_of(bill: Bill) -> dict[int, tuple[str, ...]]:
    """The titles of the sections that each section of a bill lies in, its own last."""
    paths: dict[int, tuple[str, ...]] = {}
    for place in ordered_sections(bill.id):
        section = place.section
        paths[section.id] = (*paths.get(section.parent_id or 0, ()), section.title)
    return paths


def compared(actor: Actor, before_id: int, after_id: int) -> ComparedView:
    """Two bills item by item: what the second has more, less and otherwise than the first, and by how much.

    Raises:
        Missing: one of them isn't there.
    """
    before, after = find(Bill, actor, before_id), find(Bill, actor, after_id)
    pairs = comparing.compare(stood(before), stood(after))
    differing = [pair for pair in pairs if pair.before is None or pair.after is None or pair.differs]
    changed = [pair for pair in differing if pair.before and pair.after]
    return ComparedView(
        before=bill_brief(before), after=bill_brief(after), same=len(pairs) - len(differing),
        added=sum(pair.before is None for pair in differing),
        removed=sum(pair.after is None for pair in differing), changed=len(changed),
        moved=sum((pair.moved for pair in differing), Decimal(0)), told=len(differing[:MOST_PAIRS]),
        pairs=[_pair_view(pair) for pair in differing[:MOST_PAIRS]], foot=_foot_pairs(before, after),
    )  # fmt: skip


def _pair_view(pair: comparing.Pair) -> PairView:
    return PairView(
        before=stood_view(pair.before), after=stood_view(pair.after), differs=list(pair.differs),
        moved=pair.moved,
    )  # fmt: skip


def stood_view(item: Stood | None) -> StoodView | None:
    """An item as it stands in a bill; None where it doesn't."""
    if item is None:
        return None
    return StoodView(
        id=item.id, ref=item.number or item.ref, section=" / ".join(item.section),
        description=item.description, unit=item.unit, kind=item.kind, quantity=item.quantity, rate=item.rate,
        amount=item.amount,
    )  # fmt: skip


def _foot_pairs(before: Bill, after: Bill) -> list[FootPair]:
    """The feet of two bills beside one another: items, adjustments by their names, total."""
    feet = [foot_of(bill.id) for bill in (before, after)]
    added = [{a.name: a.adds for a in foot.adjustments} for foot in feet]
    names = dict.fromkeys([*added[0], *added[1]])
    return [
        FootPair(name="Sum of the items", before=feet[0].items_total, after=feet[1].items_total),
        *(FootPair(name=name, before=added[0].get(name), after=added[1].get(name)) for name in names),
        FootPair(name="Total", before=feet[0].total, after=feet[1].total),
    ]
