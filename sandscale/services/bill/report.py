"""A bill by what one asks of it: by section, location, element, sheet, family, kind of cost, resource, stage
or stretch; each a table of its own that adds up to the bill."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from ...core.pricing.bill import AFTER, KIND_WORDS, SET_ASIDE, SUMS, Adjusted, in_unit, summary
from ...core.pricing.build_up import GROUPS
from ...core.pricing.shares import GroupedBy, spread
from ...core.refusals import Refusal
from ...store.models import (
    Bill,
    Drawing,
    Element,
    Figure,
    ItemLink,
    Location,
    Project,
    QuantityLine,
    QuantityPart,
    Resource,
    Revision,
    Sheet,
)
from ..keeping.acting import Actor
from ..order.explosion import Takes, exploded
from .compared import paths_of, stood, stood_view
from .quantities import core_links
from .reading import adjustments_of, bill_of, core_adjustment, currency_of, ordered_sections
from .views import MostRow, MostView, ReportRow, ReportTable, ReportView

UNMEASURED, UNSPLIT = "not measured", "not split"
REST, KNOWN = "percentages and mark-up", "known costs and typed rates"
MOST_OF_IT, MOST_TOLD = 0.8, 60
_Weights = dict[str, Decimal]  # by the name of a group


@dataclass(frozen=True)
class _Money:
    """What counts of an item, and whether it is a sum set aside."""

    item: int
    amount: Decimal
    aside: bool


def report(
    actor: Actor, by: Sequence[GroupedBy], bill_id: int | None = None, *, adjustments: Iterable[int] = (),
    subcontract: bool = True,
) -> ReportView:  # fmt: skip
    """A bill by one or several things, each as a table.

    Args:
        by: what it is grouped by, a table for each.
        bill_id: which bill; the project's own when none is named.
        adjustments: those at its foot whose money is put on each row; taken on what counts here.
        subcontract: whether what is done by subcontract counts.
    """
    bill, project = bill_of(actor, bill_id), Project.get_by_id(actor.project_id)
    of_items, kinds = exploded(project, bill.id), _resources(project.id)
    items = [_Money(i.id, i.amount, i.kind in SET_ASIDE) for i in stood(bill)]
    if not subcontract:
        items = [replace(each, amount=_without(each, of_items, kinds)) for each in items]
        let = {each for each, row in kinds.items() if row.kind == "subcontract"}
        of_items = {i: {r: t for r, t in own.items() if r not in let} for i, own in of_items.items()}
    chosen = _chosen(bill, set(adjustments), items)
    grouped = _Grouping(bill, items, of_items, kinds)
    return ReportView(
        bill=bill.title, currency=currency_of(bill), adjustments=[a.adjustment.name for a in chosen],
        subcontract=subcontract, tables=[_table(grouped, each, chosen) for each in by],
    )  # fmt: skip


def most(actor: Actor, bill_id: int | None = None, share: float = MOST_OF_IT) -> MostView:
    """The few items of a bill that make most of its money, the largest first, each with how much of it they
    make together."""
    items = [each for each in stood(bill_of(actor, bill_id)) if each.amount > 0]
    whole = sum((each.amount for each in items), Decimal(0))
    told, together = list[MostRow](), Decimal(0)
    for each in sorted(items, key=lambda item: -item.amount)[:MOST_TOLD]:
        if whole and together / whole >= Decimal(str(share)):
            break
        together += each.amount
        own = stood_view(each)
        assert own is not None
        told.append(MostRow(item=own, share=float(each.amount / whole), together=float(together / whole)))
    return MostView(items=told, of=len(items), share=float(together / whole) if whole else 0.0)


def shares_of(bill: Bill, by: GroupedBy) -> dict[int, _Weights]:
    """How much of each item of a bill belongs to each group, in shares of 1; the groups in their order."""
    grouped, found = _Grouping(bill, [], {}, {}), dict[int, _Weights]()
    for item in grouped.items:
        weights = grouped.weights(by, item)
        whole = sum(weights.values(), Decimal(0))
        found[item] = {name: weight / whole for name, weight in weights.items()}
    return found


def _chosen(bill: Bill, ids: set[int], items: Iterable[_Money]) -> tuple[Adjusted, ...]:
    """The chosen adjustments, taken on what counts; one that is taken after another that isn't chosen is
    taken on the total so far."""
    core = [core_adjustment(row) for row in adjustments_of(bill.id) if row.id in ids]
    names = {AFTER + each.name for each in core}
    based = [
        replace(each, base="running") if each.base.startswith(AFTER) and each.base not in names else each
        for each in core
    ]
    counted = list(items)
    total = sum((each.amount for each in counted), Decimal(0))
    aside = sum((each.amount for each in counted if each.aside), Decimal(0))
    return summary(total, based, aside).adjustments


def _table(grouped: _Grouping, by: GroupedBy, chosen: Sequence[Adjusted]) -> ReportTable:
    amounts, work = dict[str, Decimal](), dict[str, Decimal]()
    for money in grouped.money:
        weights = grouped.weights(by, money.item)
        for name, part in zip(weights, spread(money.amount, list(weights.values())), strict=True):
            amounts[name] = amounts.get(name, Decimal(0)) + part
            work[name] = work.get(name, Decimal(0)) + (0 if money.aside else part)
    names = sorted((name for name in amounts if amounts[name]), key=grouped.order(by))
    added = [
        spread(each.adds, [max(on[name], Decimal(0)) for name in names])
        for each in chosen
        for on in (work if each.adjustment.base == "work" else amounts,)
    ]
    whole = sum(amounts.values(), Decimal(0)) + sum((each.adds for each in chosen), Decimal(0))
    rows = []
    for at, name in enumerate(names):
        own = [each[at] for each in added]
        total = amounts[name] + sum(own, Decimal(0))
        share = float(total / whole) if whole else 0.0
        rows.append(ReportRow(name=name, amount=amounts[name], added=own, total=total, share=share))
    return ReportTable(by=by, rows=rows, amount=sum(amounts.values(), Decimal(0)), total=whole)


def _without(
    money: _Money, of_items: Mapping[int, Mapping[int, Takes]], kinds: Mapping[int, Resource]
) -> Decimal:
    """An item's amount without what is done by subcontract, and what was put on that."""
    own = of_items.get(money.item, {})
    let = sum((t.money for r, t in own.items() if kinds[r].kind == "subcontract"), Decimal(0))
    cost = sum((t.money for t in own.values()), Decimal(0))
    return money.amount - spread(money.amount, [let, cost - let])[0] if let and cost else money.amount


def _resources(project_id: int) -> dict[int, Resource]:
    return {row.id: row for row in Resource.select().where(Resource.project == project_id)}


class _Grouping:
    """Which groups the items of a bill belong to, and how much of each item."""

    def __init__(
        self, bill: Bill, money: Sequence[_Money], of_items: Mapping[int, Mapping[int, Takes]],
        resources: Mapping[int, Resource],
    ) -> None:  # fmt: skip
        self.money, self.of_items, self.resources = money, of_items, resources
        self.amounts = {each.item: each.amount for each in money}
        self.items = {each.id: each for each in stood(bill)}
        paths, items = paths_of(bill), list(self.items)
        places = ordered_sections(bill.id)
        self.places = {" / ".join(paths[place.section.id]): at for at, place in enumerate(places)}
        self.links = {item: list(links) for item, links in core_links(items).items()}
        self.rows: dict[int, list[ItemLink]] = {}
        for row in ItemLink.those(ItemLink.item, items, ItemLink.id):
            self.rows.setdefault(row.item_id, []).append(row)
        elements = {row.element_id for rows in self.rows.values() for row in rows}
        query = Element.select(Element, Location).join(Location).where(Element.id << list(elements))
        self.elements = {row.id: row for row in query}
        self.families = {
            (row.element_id, row.output): row.family
            for row in QuantityLine.those(QuantityLine.element, elements)
        }
        self.parts: dict[tuple[int, str, str], list[QuantityPart]] = {}
        for part in QuantityPart.those(QuantityPart.element, elements, QuantityPart.id):
            self.parts.setdefault((part.element_id, part.output, part.split), []).append(part)
        self.sheets = _sheets_of(elements)

    def order(self, by: GroupedBy) -> Any:
        """What the groups of a table stand in order by."""
        if by == "section":
            return lambda name: self.places.get(name, len(self.places))
        last = {UNMEASURED: 1, UNSPLIT: 1, KNOWN: 1, REST: 2, **dict.fromkeys(KIND_WORDS.values(), 3)}
        if by == "cost":
            return lambda name: (last.get(name, 0), (*GROUPS, name).index(name), name)
        return lambda name: (last.get(name, 0), name.casefold())

    def weights(self, by: GroupedBy, item: int) -> _Weights:
        """How much of an item's amount belongs to each group."""
        if by == "section":
            return {" / ".join(self.items[item].section): Decimal(1)}
        if by in ("cost", "resource"):
            return self._of_cost(by, item)
        found: _Weights = {}
        for row, link in zip(self.rows.get(item, ()), self.links.get(item, ()), strict=False):
            try:
                much = Decimal(str(abs(in_unit(link, self.items[item].unit) * link.factor)))
            except Refusal:
                continue
            for name, share in self._named(by, row).items():
                found[name] = found.get(name, Decimal(0)) + much * share
        return found if any(found.values()) else {UNMEASURED: Decimal(1)}

    def _named(self, by: GroupedBy, row: ItemLink) -> _Weights:
        element = self.elements[row.element_id]
        if by == "location":
            return {element.location.name: Decimal(1)}
        if by == "element":
            return {f"{element.mark}, {element.location.name}": Decimal(1)}
        if by == "sheet":
            return {self.sheets.get(element.id, "on no sheet"): Decimal(1)}
        if by == "family":
            return {self.families.get((element.id, row.output), UNMEASURED): Decimal(1)}
        if row.split == by:
            return {row.part: Decimal(1)}
        parts = self.parts.get((element.id, row.output, by), ())
        whole = sum(abs(part.net) for part in parts)
        if row.part or not whole:
            return {UNSPLIT: Decimal(1)}
        return {part.part: Decimal(str(abs(part.net) / whole)) for part in parts}

    def _of_cost(self, by: GroupedBy, item: int) -> _Weights:
        """By resources or their kinds what they cost, and the rest of the amount as such."""
        found: _Weights = {}
        for resource, takes in self.of_items.get(item, {}).items():
            row = self.resources[resource]
            name = row.kind if by == "cost" else row.name
            found[name] = found.get(name, Decimal(0)) + max(takes.money, Decimal(0))
        if not found:
            kind = self.items[item].kind
            return {KIND_WORDS[kind] if kind in SUMS else KNOWN: Decimal(1)}
        found[REST] = max(self.amounts[item] - sum(found.values(), Decimal(0)), Decimal(0))
        return found


def _sheets_of(elements: Iterable[int]) -> dict[int, str]:
    """The sheets that elements are measured on."""
    query = (
        Figure.select(Figure.element, Drawing.number, Sheet.page)
        .join(Sheet).join(Revision).join(Drawing)
        .where(Figure.element << list(elements)).distinct().order_by(Drawing.number, Sheet.page)
    )  # fmt: skip
    found: dict[int, list[str]] = {}
    for element, number, page in query.tuples():
        found.setdefault(element, []).append(f"{number} p. {page}")
    return {element: ", ".join(names) for element, names in found.items()}
