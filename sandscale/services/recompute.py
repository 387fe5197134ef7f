"""Bringing derived figures up to date after a write: only what depends on what was touched.

dimension line → element → item → bill;  quote → resource → build-up → item → bill
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from decimal import Decimal
from functools import lru_cache
from typing import Any

from peewee import fn

from ..core.figures.shapes import overlaps
from ..core.makeups.makeup import MakeUp, built_in, read_makeup
from ..core.makeups.run import Line, Result, run
from ..core.numbers.entry import read_entry, read_times
from ..core.numbers.formula import in_order
from ..core.numbers.rounding import DEFAULT_PLACES, billed, exact
from ..core.numbers.working import shown
from ..core.pricing import bill as bill_rules
from ..core.pricing import build_up as rate_rules
from ..core.pricing import quotes as price_rules
from ..core.refusals import BadFormula
from ..store.changes import Entry
from ..store.models import (
    Adjustment,
    BuildUp,
    BuildUpLine,
    DimensionLine,
    Element,
    Figure,
    Item,
    ItemLink,
    OwnMakeUp,
    Project,
    QuantityLine,
    Quote,
    Resource,
    Section,
    Sheet,
)
from .measuring import as_area, astray, measured, with_scale_areas


def recompute(project_id: int, entries: Sequence[Entry]) -> Decimal:
    """Recompute all that depends on the rows touched; gives the bill's new total."""
    touched = _Touched(entries)
    elements = (
        touched.ids("element")
        | touched.fields("dimension_line", "element")
        | touched.fields("figure", "element")
    )
    if sheets := touched.ids("sheet") | touched.fields("scale_area", "sheet"):
        elements |= _column(Figure.select(Figure.element).where(Figure.sheet << sheets))
    if keys := touched.fields("own_make_up", "key"):
        elements |= _column(
            Element.select(Element.id).where((Element.project == project_id) & (Element.makeup << keys))
        )
    whole_project = bool(touched.ids("project"))
    items = touched.ids("item") | touched.fields("item_link", "item")
    items |= _measure(project_id, elements)
    resources = touched.ids("resource") | touched.fields("quote", "resource")
    if whole_project:
        resources |= _column(Resource.select(Resource.id).where(Resource.project == project_id))
        items |= _column(Item.select(Item.id).where(Item.project == project_id))
    build_ups = touched.ids("build_up") | touched.fields("build_up_line", "build_up")
    build_ups |= _price(project_id, resources)
    items |= _rate(project_id, build_ups)
    sections = _bill(project_id, items) | touched.ids("section") | touched.fields("item", "section")
    _sections(sections)
    return (
        _total(project_id)
        if sections or touched.ids("adjustment") or whole_project
        else Decimal(Project.get_by_id(project_id).bill_total)
    )


class _Touched:
    """What an action wrote, by table."""

    def __init__(self, entries: Sequence[Entry]) -> None:
        self.entries = entries

    def ids(self, table: str) -> set[int]:
        return {entry.row_id for entry in self.entries if entry.table == table}

    def fields(self, table: str, name: str) -> set[int]:
        """The values a column had or has in the rows touched."""
        sides = (
            side for entry in self.entries if entry.table == table for side in (entry.before, entry.after)
        )
        return {side[name] for side in sides if side and side[name] is not None}


def _column(query: object) -> set[int]:
    return {row[0] for row in query.tuples()}  # type: ignore[attr-defined]


def makeup_of(project_id: int, key: str) -> MakeUp:
    """The make-up of that key: the project's own, or a built-in one.

    Raises:
        Refusal: there is none.
    """
    own = OwnMakeUp.get_or_none((OwnMakeUp.project == project_id) & (OwnMakeUp.key == key))
    if own:
        return _read(own.source)
    if key in built_in():
        return built_in()[key]
    raise BadFormula(
        f"There is no make-up “{key}” in this project.", field="makeup", remedy="Choose another make-up."
    )


@lru_cache(maxsize=128)
def _read(source: str) -> MakeUp:
    return read_makeup(source)


def read_lines(lines: Iterable[DimensionLine]) -> list[Line]:
    """Dimension lines as the core takes them: entries read, figures measured at their sheet's scale."""
    return [_read_line(line) for line in lines]


def lines_of(element_ids: Iterable[int]) -> dict[int, list[DimensionLine]]:
    """The dimension lines of elements, in order, with their figures and sheets."""
    wanted = list(element_ids)
    found: dict[int, list[DimensionLine]] = {element_id: [] for element_id in wanted}
    rows = list(
        DimensionLine.select()
        .where(DimensionLine.element << wanted)
        .order_by(DimensionLine.position, DimensionLine.id)
    )
    # Figures come by a query of their own: most lines of a large project are typed.
    drawn = [row.figure_id for row in rows if row.figure_id]
    figures = (
        {figure.id: figure for figure in Figure.select(Figure, Sheet).join(Sheet).where(Figure.id << drawn)}
        if drawn
        else {}
    )
    for line in rows:
        if line.figure_id:
            line.figure = figures[line.figure_id]
        found[line.element_id].append(line)
    with_scale_areas(line.figure.sheet for lines in found.values() for line in lines if line.figure_id)
    return found


def _read_line(line: DimensionLine) -> Line:
    times, shown_times = read_times(line.times), line.times.strip().rstrip("/")
    figure = line.figure if line.figure_id else None

    def length(entry: str, name: str) -> float | None:
        return read_entry(entry, "m", field=name, minimum=0) if entry.strip() else None

    along, link = length(line.length, "length"), f"line:{line.id}"
    area, girth, void_girth = None, None, 0.0
    if figure is not None:
        drawn, link = measured(figure, figure.sheet), f"figure:{figure.id}"
        area, girth, void_girth = drawn.area, drawn.girth, drawn.void_girth
        along = along if drawn.length is None else drawn.length
        if drawn.number is not None:
            times *= drawn.number
            shown_times = f"{shown_times}/{drawn.number}" if shown_times else str(drawn.number)
    return Line(
        times, along, length(line.width, "width"), length(line.height, "height"), area, line.deduct,
        f"{shown_times}/" if shown_times else "", line.note, link, girth, void_girth,
    )  # fmt: skip


def _measure(project_id: int, element_ids: set[int]) -> set[int]:
    """Quantity lines of elements; gives the items that draw on those that moved."""
    moved: set[int] = set()
    elements = list(Element.select().where(Element.id << list(element_ids))) if element_ids else []
    rows = lines_of(e.id for e in elements)
    makeups = {key: makeup_of(project_id, key) for key in {e.makeup for e in elements}}
    for element in elements:
        lines = rows[element.id]
        result = run(makeups[element.makeup], element.inputs, read_lines(lines))
        if _keep_quantities(element, result):
            moved.add(element.id)
        findings = _findings(lines, result)
        if findings != element.findings:
            Element.update(findings=findings).where(Element.id == element.id).execute()
    if not moved:
        return set()
    return _column(ItemLink.select(ItemLink.item).where(ItemLink.element << list(moved)))


def _findings(lines: list[DimensionLine], result: Result) -> list[list[Any]]:
    """What looks wrong with an element's lines and figures: (line id or 0, sentence, whether a quantity is
    wrong by it)."""
    found = [[lines[f.line].id if 0 <= f.line < len(lines) else 0, f.says, f.wrong] for f in result.findings]
    drawn = [line for line in lines if line.figure_id]
    found += [[line.id, said, True] for line in drawn if (said := astray(line.figure, line.figure.sheet))]
    by_sheet: dict[int, list[DimensionLine]] = {}
    for line in drawn:
        if line.figure.kind == "area" and not line.deduct:
            by_sheet.setdefault(line.figure.sheet_id, []).append(line)
    for together in by_sheet.values():
        found += [
            [together[other].id, f.says, f.wrong]
            for _, other, f in overlaps([as_area(line.figure) for line in together])
        ]
    return found


def _keep_quantities(element: Element, result: Result) -> bool:
    """Write what a result differs in; tells whether anything moved."""
    kept = {q.output: q for q in QuantityLine.select().where(QuantityLine.element == element.id)}
    changed = False
    for quantity in result.quantities:
        output = quantity.output
        fields = {
            "label": output.label, "unit": output.unit, "family": quantity.family,
            "net": quantity.net, "waste": quantity.waste, "gross": quantity.gross,
        }  # fmt: skip
        row = kept.pop(output.key, None)
        if row is None:
            QuantityLine.create(project=element.project_id, element=element.id, output=output.key, **fields)
        elif any(row.__data__[name] != value for name, value in fields.items()):
            QuantityLine.update(**fields).where(QuantityLine.id == row.id).execute()
        else:
            continue
        changed = True
    if kept:
        QuantityLine.delete().where(QuantityLine.id << [row.id for row in kept.values()]).execute()
    return changed or bool(kept)


def core_quote(quote: Quote) -> price_rules.Quote:
    """A quote as the core takes it."""
    return price_rules.Quote(
        quote.id, quote.supplier, quote.price, quote.contains, quote.quoted_on, quote.valid_to
    )


def price_of(resource: Resource, quotes: Iterable[Quote], project: Project) -> price_rules.Price:
    """A resource's price on the project's price date."""
    return price_rules.price(
        [core_quote(q) for q in quotes], resource.basis, project.price_date, resource.chosen
    )


def _price(project_id: int, resource_ids: set[int]) -> set[int]:
    """Prices of resources; gives the build-ups with a line of one that moved."""
    if not resource_ids:
        return set()
    project = Project.get_by_id(project_id)
    moved: list[int] = []
    for resource in Resource.select().where(Resource.id << list(resource_ids)):
        price = price_of(resource, resource.quotes, project)
        if list(price.findings) != resource.findings:
            Resource.update(findings=list(price.findings)).where(Resource.id == resource.id).execute()
        value = price.value
        value = None if value is None else value.quantize(Decimal("0.000001"))
        if value != resource.price:
            Resource.update(price=value).where(Resource.id == resource.id).execute()
            moved.append(resource.id)
    return (
        _column(BuildUpLine.select(BuildUpLine.build_up).where(BuildUpLine.resource << moved))
        if moved
        else set()
    )


def core_lines(build_up: BuildUp) -> list[rate_rules.BuildUpLine]:
    """A build-up's lines as the core takes them, with the prices they have now; a gang's as those who work
    in it."""
    return [part for line in lines_in(build_up.id) for part in core_parts(line)]


def lines_in(build_up_id: int) -> list[BuildUpLine]:
    """The rows of a build-up in order, with what they draw on."""
    nested = BuildUp.alias()
    query = (
        BuildUpLine.select(BuildUpLine, Resource, nested)
        .left_outer_join(Resource)
        .switch(BuildUpLine)
        .left_outer_join(nested, on=(BuildUpLine.nested == nested.id), attr="nested")
        .where(BuildUpLine.build_up == build_up_id)
        .order_by(BuildUpLine.position, BuildUpLine.id)
    )
    return list(query)


def core_parts(line: BuildUpLine) -> tuple[rate_rules.BuildUpLine, ...]:
    """A build-up's line as the core takes it: one, or one for each line of the gang it draws on."""
    own = core_line(line)
    if line.nested_id and line.nested.kind == "gang":
        return rate_rules.of_gang(own, [core_line(member) for member in lines_in(line.nested_id)])
    return (own,)


def core_line(line: BuildUpLine) -> rate_rules.BuildUpLine:
    """A build-up's line as the core takes it."""
    if line.basis == "percent":
        share = exact(read_entry(line.quantity, "", field="quantity"))
        name = f"{shown(share, least=0)} % of {line.percent_of}"
        return rate_rules.BuildUpLine(
            name, line.group, "percent", share, "%", Decimal(0), None, percent_of=line.percent_of, row=line.id
        )
    source, price = (
        (line.resource, line.resource.price) if line.resource_id else (line.nested, line.nested.rate)
    )
    link = f"resource:{line.resource_id}" if line.resource_id else f"build-up:{line.nested_id}"
    quantity = exact(read_entry(line.quantity, source.unit, field="quantity", minimum=0) / _size(source.unit))
    return rate_rules.BuildUpLine(
        source.name,
        line.group,
        line.basis,
        quantity,
        source.unit,
        line.allowance,
        price,
        line.escalation,
        link,
        row=line.id,
    )


def _size(symbol: str) -> float:
    return read_entry("1", symbol)


def output_of(build_up: BuildUp) -> tuple[Decimal, Decimal]:
    """A build-up's output and the hours it is done in."""
    return exact(read_entry(build_up.output, "", field="output")), exact(
        read_entry(build_up.hours, "", field="hours")
    )


def _rate(project_id: int, build_up_ids: set[int]) -> set[int]:
    """Rates of build-ups and of those they are nested in, inner first; gives the items priced by one that
    moved."""
    if not build_up_ids:
        return set()
    uses = nesting(project_id)
    names = {str(b.id): b for b in BuildUp.select().where(BuildUp.project == project_id)}
    dirty = {str(i) for i in build_up_ids}
    moved: list[int] = []
    for name in in_order(uses, "The build-ups"):
        if name not in names or (name not in dirty and not dirty.intersection(uses[name])):
            dirty.discard(name)
            continue
        build_up = names[name]
        rate = rate_rules.analyse(core_lines(build_up), *output_of(build_up)).rate
        if rate == build_up.rate:
            dirty.discard(name)
            continue
        BuildUp.update(rate=rate).where(BuildUp.id == build_up.id).execute()
        dirty.add(name)
        moved.append(build_up.id)
    return _column(Item.select(Item.id).where(Item.build_up << [*moved, *build_up_ids]))


def nesting(project_id: int) -> dict[str, list[str]]:
    """For each build-up of a project, the build-ups its lines draw on (ids as text)."""
    uses: dict[str, list[str]] = {
        str(i): [] for i in sorted(_column(BuildUp.select(BuildUp.id).where(BuildUp.project == project_id)))
    }
    lines = BuildUpLine.select(BuildUpLine.build_up, BuildUpLine.nested).where(
        (BuildUpLine.project == project_id) & BuildUpLine.nested.is_null(False)
    )
    for outer, inner in lines.tuples():
        uses[str(outer)].append(str(inner))
    return uses


def core_links(item_ids: Iterable[int]) -> dict[int, list[bill_rules.Link]]:
    """What items draw on, as the core takes it."""
    wanted = list(item_ids)
    found: dict[int, list[bill_rules.Link]] = {item_id: [] for item_id in wanted}
    query = (
        ItemLink.select(
            ItemLink.item,
            ItemLink.factor,
            ItemLink.output,
            Element.id,
            Element.mark,
            QuantityLine.label,
            QuantityLine.unit,
            QuantityLine.net,
        )
        .join(Element)
        .join(
            QuantityLine, on=((QuantityLine.element == Element.id) & (QuantityLine.output == ItemLink.output))
        )
        .where(ItemLink.item << wanted)
        .order_by(ItemLink.id)
    )
    for item, factor, output, element, mark, label, unit, net in query.tuples():
        found[item].append(
            bill_rules.Link(
                net, unit, read_entry(factor, ""), f"{label} in {mark}", f"quantity:{element}:{output}"
            )
        )
    return found


def places_of(project: Project) -> dict[str, int]:
    """A project's rounding rules: decimal places per unit."""
    return {**DEFAULT_PLACES, **project.rounding}


def _bill(project_id: int, item_ids: set[int]) -> set[int]:
    """Quantities, rates and amounts of items; gives the sections with one whose amount moved."""
    if not item_ids:
        return set()
    moved = set()
    places = places_of(Project.get_by_id(project_id))
    links = core_links(item_ids)
    for item in Item.select(Item, BuildUp).left_outer_join(BuildUp).where(Item.id << list(item_ids)):
        rate = item.build_up.rate if item.build_up_id else None
        quantity = _item_quantity(item, links[item.id], places)
        amount = bill_rules.amount(quantity, rate, item.kind, typed_amount(item))
        if (quantity, rate, amount) != (item.quantity, item.rate, item.amount):
            Item.update(quantity=quantity, rate=rate, amount=amount).where(Item.id == item.id).execute()
            moved.add(item.section_id)
    return moved


def _sections(section_ids: set[int]) -> None:
    """The sums of sections, each of its own items."""
    if not section_ids:
        return
    aside = fn.COALESCE(fn.SUM(Item.amount).filter(Item.kind << list(bill_rules.SET_ASIDE)), 0)
    query = (
        Section.select(Section.id, fn.COALESCE(fn.SUM(Item.amount), 0), aside)
        .left_outer_join(Item, on=(Item.section == Section.id))
        .where(Section.id << list(section_ids))
        .group_by(Section.id)
    )
    for section_id, total, set_aside in query.tuples():
        Section.update(items_total=total, set_aside=set_aside).where(Section.id == section_id).execute()


def _item_quantity(item: Item, links: list[bill_rules.Link], places: dict[str, int]) -> Decimal:
    if item.kind not in ("measured", "rate_only"):
        return Decimal(0)
    if item.typed_quantity.strip():
        return billed(
            read_entry(item.typed_quantity, item.unit, field="quantity") / _size(item.unit), item.unit, places
        )
    return bill_rules.item_quantity(links, item.unit, places)


def typed_amount(item: Item) -> Decimal | None:
    """The amount typed for a sum; None where none is."""
    return (
        exact(read_entry(item.typed_amount, "", field="amount"))
        if item.kind in bill_rules.SUMS and item.typed_amount.strip()
        else None
    )


def summary_of(project_id: int) -> bill_rules.Summary:
    """The foot of a project's bill."""
    sums = fn.COALESCE(fn.SUM(Section.items_total), 0), fn.COALESCE(fn.SUM(Section.set_aside), 0)
    items, set_aside = Section.select(*sums).where(Section.project == project_id).tuples().get()
    return bill_rules.summary(
        Decimal(items), [core_adjustment(a) for a in adjustments_of(project_id)], Decimal(set_aside)
    )


def adjustments_of(project_id: int) -> list[Adjustment]:
    """The adjustments at the foot of a bill, in order."""
    return list(
        Adjustment.select()
        .where(Adjustment.project == project_id)
        .order_by(Adjustment.position, Adjustment.id)
    )


def core_adjustment(row: Adjustment) -> bill_rules.Adjustment:
    """An adjustment as the core takes it."""
    return bill_rules.Adjustment(row.name, row.percent, row.base)


def _total(project_id: int) -> Decimal:
    total = summary_of(project_id).total
    Project.update(bill_total=total).where(Project.id == project_id).execute()
    return total
