"""What is issued: the bill as XLSX with live formulas and as PDF, dimension sheets, measured sheets."""

from __future__ import annotations

import contextlib
from collections.abc import Sequence
from dataclasses import replace
from decimal import Decimal
from typing import Any

from ...core.figures.arcs import flattened
from ...core.measurers.measurer import Part, QuantityLine
from ...core.numbers.entry import kept, read_entry
from ...core.numbers.rounding import RATE, exact
from ...core.numbers.working import shown
from ...core.pricing import bill as bill_rules
from ...core.pricing.build_up import Terms
from ...core.refusals import BadEntry
from ...formats import apart, image
from ...reports import bill_pdf as bill_pdf_report
from ...reports import bill_xlsx
from ...reports import dimensions_pdf as dimensions_pdf_report
from ...reports import sheet_pdf as sheet_pdf_report
from ...reports.bill_xlsx import (
    BillDocument,
    Composed,
    Drawn,
    ElementBlock,
    ItemRow,
    PartRow,
    PriceBlock,
    Progress,
    SectionRow,
)
from ...reports.rates_xlsx import RateBlock
from ...reports.sheet_pdf import DrawnFigure, SheetDocument, Total
from ...store.models import (
    BuildUp,
    Drawing,
    Element,
    Figure,
    Item,
    ItemLink,
    Location,
    Project,
    QuantityPart,
    Quote,
    Resource,
    Revision,
    Sheet,
)
from ...store.models import QuantityLine as QuantityRow
from ..bill.quantities import places_of
from ..bill.rating import parts_of, taken_by
from ..bill.reading import bill_view, own_bill, summary_of
from ..bill.views import ItemView
from ..keeping.acting import Actor, find
from ..keeping.project_file import file_name
from ..measure.measurers import given
from ..measure.reading import figure_views
from ..prices.reading import price_of, usable
from ..rates.priced import Priced
from ..rates.reading import core_lines, lines_of, terms_of, told_of
from ..sheets import reading
from ..sheets.pages import printed
from ..sheets.views import FigureView


def _no_progress(_share: float) -> None:
    """Nobody waits for how far it is."""


def bill_workbook(actor: Actor, progress: Progress = _no_progress) -> tuple[str, bytes]:
    """The bill as XLSX: bill, dimension lines, build-ups and prices on sheets linked by formulas; with its
    file name."""
    document = bill_document(actor)
    return f"{file_name(document.project)} bill.xlsx", bill_xlsx.write(document, progress)


def bill_pdf(actor: Actor, progress: Progress = _no_progress) -> tuple[str, bytes]:
    """The bill as PDF with page totals and their collection; with its file name."""
    document = bill_document(actor)
    return f"{file_name(document.project)} bill.pdf", bill_pdf_report.write(document, progress)


def dimensions_pdf(actor: Actor, progress: Progress = _no_progress) -> tuple[str, bytes]:
    """The dimension sheets of every element as PDF; with its file name."""
    document = bill_document(actor)
    query = (
        Figure.select(Figure, Sheet, Revision, Drawing)
        .join(Sheet)
        .join(Revision)
        .join(Drawing)
        .where(Figure.project == actor.project_id)
    )
    sources = {f"figure:{f.id}": f"{f.sheet.revision.drawing.number} p. {f.sheet.page}" for f in query}
    return f"{file_name(document.project)} dimensions.pdf", dimensions_pdf_report.write(
        document, sources, progress
    )


def sheet_pdf(actor: Actor, sheet_id: int, _progress: Progress = _no_progress) -> tuple[str, bytes]:
    """A sheet as PDF with its figures and, where they were placed, its totals; with its file name."""
    sheet = find(Sheet, actor, sheet_id)
    content, is_picture = printed(sheet)
    name = f"{sheet.revision.drawing.number} p. {sheet.page}"
    totals = [Total(t.mark, t.family, t.label, f"{shown(t.net)} {t.unit}") for t in reading.totals(sheet)]
    if is_picture:
        content = apart.read(image.page_picture, content, sheet.page, sheet.revision.file.name)
    document = SheetDocument(
        title=name, width=sheet.width, height=sheet.height, page=sheet.page, is_picture=is_picture,
        figures=[_drawn(view) for view in figure_views(sheet)], totals=totals,
        totals_at=(sheet.tally_at[0], sheet.tally_at[1]) if sheet.tally_at else None,
    )  # fmt: skip
    return f"{file_name(name)} measured.pdf", apart.read(sheet_pdf_report.write, content, document)


def _drawn(view: FigureView) -> DrawnFigure:
    if view.kind == "count":
        return DrawnFigure(view.mark, view.family, view.shows, points=[(p[0], p[1]) for p in view.points])
    if view.kind == "run":
        line = flattened(view.points, closed=view.closed)
        return DrawnFigure(view.mark, view.family, view.shows, line=[*line, line[0]] if view.closed else line)
    return DrawnFigure(
        view.mark,
        view.family,
        view.shows,
        rings=[flattened(ring, closed=True) for ring in (view.points, *view.voids)],
    )


def bill_document(actor: Actor) -> BillDocument:
    """All that the documents of a bill are written from."""
    project = Project.get_by_id(actor.project_id)
    return BillDocument(
        project=project.name,
        client=project.client,
        currency=project.currency,
        price_date=project.price_date,
        sections=_section_rows(actor),
        summary=summary_of(own_bill(project.id).id),
        elements=_element_blocks(project.id),
        rates=_rate_blocks(project.id),
        prices=_price_blocks(project),
        places=places_of(project),
    )


def _section_rows(actor: Actor) -> list[SectionRow]:
    links: dict[int, list[Drawn]] = {}
    for link in ItemLink.select().where(ItemLink.project == actor.project_id).order_by(ItemLink.id):
        drawn = Drawn(link.element_id, link.output, kept(link.factor, ""), link.split, link.part)
        links.setdefault(link.item_id, []).append(drawn)

    bill = bill_view(actor)
    items = [item for section in bill.sections for item in section.items]
    composing = parts_of([i.id for i in items if i.parts])
    priced = Priced(
        {i.build_up for i in items if i.sized_by}
        | {p.build_up_id for each in composing.values() for p in each}
    )
    rows = {row.id: row for row in Item.those(Item.id, [i.id for i in items])}
    places = places_of(Project.get_by_id(actor.project_id))[RATE]

    def row(i: ItemView) -> ItemRow:
        typed = exact(read_entry(kept(i.typed_amount, ""), "")) if i.typed_amount else None
        return ItemRow(
            i.ref,
            i.kind,
            i.description,
            i.unit,
            i.quantity,
            i.typed_quantity,
            i.typed_reason,
            typed,
            None if i.sized_by else i.build_up,
            i.rate,
            i.amount,
            links.get(i.id, []),
            _composed(priced, rows[i.id], composing.get(i.id, ()), places),
            kept(i.typed_rate, "") if i.typed_rate else "",
            "; ".join(filter(None, (i.rate_reason, i.note))),
            bill_rules.apart_of(i.kind, bool(i.parts)),
        )

    return [SectionRow(s.ref, s.depth, s.title, s.total, [row(i) for i in s.items]) for s in bill.sections]


def _composed(priced: Priced, item: Item, parts: Sequence[Any], places: int) -> Composed | None:
    """What an item's rate is made of where it isn't one build-up's: the parts of a composed one, or what a
    banded or a reference rate costs at its size."""
    if not parts and not priced.is_sized(item.build_up_id):
        return None
    return Composed([_part(priced, *taken) for taken in taken_by(item, parts)], item.rate is not None, places)


def _part(priced: Priced, build_up: int, size: str, factor: Decimal) -> PartRow:
    head = priced.heads[build_up]
    nested, price = priced.rate_within(build_up, size), Decimal(0)
    if nested is None:
        with contextlib.suppress(BadEntry):
            price = priced.at(build_up, size).total or Decimal(0)
    return PartRow(nested, factor, price, Terms(added=head.added, added_on=head.added_on))


def _element_blocks(project_id: int) -> list[ElementBlock]:
    mine = Element.select(Element, Location).join(Location).where(Element.project == project_id)
    elements = list(mine.order_by(Element.position, Element.id))
    kept: dict[int, list[QuantityLine]] = {}
    for row in QuantityRow.select().where(QuantityRow.project == project_id).order_by(QuantityRow.position):
        kept.setdefault(row.element_id, []).append(_quantity_line(row))
    split: dict[tuple[int, str], list[Part]] = {}
    for row in QuantityPart.select().where(QuantityPart.project == project_id).order_by(QuantityPart.id):
        part = Part(row.split, row.part, row.net, row.gross)
        split.setdefault((row.element_id, row.output), []).append(part)
    entered = given(elements)
    return [
        ElementBlock(
            e.id, e.mark, e.description, e.location.name, entered[e.id],
            [replace(q, parts=tuple(split.get((e.id, q.output), ()))) for q in kept.get(e.id, [])],
            [says for _, says, *_ in e.findings],
        )
        for e in elements
    ]  # fmt: skip


def _quantity_line(row: QuantityRow) -> QuantityLine:
    return QuantityLine(
        row.output, row.label, row.unit, row.family, row.net, row.waste, row.gross, row.item, row.section,
        row.pack,
        always=row.always,
    )  # fmt: skip


def _rate_blocks(project_id: int) -> list[RateBlock]:
    found = []
    query = BuildUp.select().where((BuildUp.project == project_id) & (BuildUp.kind << ("rate", "gang")))
    rows = list(query.order_by(BuildUp.heading, BuildUp.id))
    known = lines_of(row.id for row in rows)
    for row in rows:
        lines = core_lines(row, known)
        notes = {line.id: "; ".join(filter(None, (line.note, told_of(line)))) for line in known[row.id]}
        terms = terms_of(row, lines)
        taken: dict[int | str, tuple[int, str]] = {
            line.id: (line.taken_id, line.taken_key) for line in known[row.id] if line.taken_id
        }
        for figure in ("output", "hours"):
            if element := getattr(row, f"{figure}_taken_id"):
                taken[figure] = (element, getattr(row, f"{figure}_key"))
        found.append(RateBlock(row.id, row.name, row.unit, terms, lines, row.rate, row.note, notes, taken))
    return found


def _price_blocks(project: Project) -> list[PriceBlock]:
    blocks = []
    for row in Resource.select().where(Resource.project == project.id).order_by(Resource.name):
        quotes = list(row.quotes.order_by(Quote.quoted_on.desc(), Quote.id))
        price = price_of(row, quotes, project)
        blocks.append(
            PriceBlock(
                row.id,
                row.name,
                row.unit,
                row.basis,
                usable(row, quotes)[0],
                [q.reference for q in price.used],
                row.price,
            )
        )
    return blocks
