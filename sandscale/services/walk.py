"""Walking a number: its arithmetic, what it comes from and what it goes to.

A reference names a number: ``line:3``, ``figure:3``, ``quantity:2:concrete``, ``item:5`` (its amount),
``item-quantity:5``, ``build-up:1``, ``build-up-line:4``, ``resource:7``, ``quote:9``, ``section:1``,
``bill``.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from decimal import Decimal

from ..core.figures.arcs import side_length, sides
from ..core.figures.scale import ratio_of
from ..core.makeups import run as makeup_run
from ..core.numbers.working import Number, Working, shown
from ..core.pricing import bill as bill_rules
from ..core.pricing import build_up as rate_rules
from ..core.pricing.quotes import BASES
from ..store.models import (
    BuildUp,
    BuildUpLine,
    DimensionLine,
    Element,
    Figure,
    Item,
    ItemLink,
    Project,
    QuantityLine,
    Quote,
    Resource,
    Section,
    Sheet,
)
from .acting import Actor, Missing, find
from .bill import bill_view, refs
from .figures import shows
from .measuring import as_area, as_run, astray, measured, scale_of, scale_under
from .recompute import (
    core_lines,
    core_links,
    core_quote,
    lines_of,
    makeup_of,
    output_of,
    price_of,
    read_lines,
    summary_of,
    typed_amount,
)
from .views import PaperRowView, WalkLink, WalkView, WorkingView


def walk(actor: Actor, ref: str) -> WalkView:
    """The working of a number and its neighbours.

    Raises:
        Missing: the reference names nothing in this project.
    """
    kind, *rest = ref.split(":")
    step = _STEPS.get(kind)
    if (
        step is None
        or (kind == "bill") != (not rest)
        or not all(part and len(part) < 50 for part in rest)
        or (rest and not rest[0].isdecimal())
    ):
        raise Missing(f"“{ref[:60]}” names no number of this project.")
    if len(rest) != (2 if kind == "quantity" else 1 if rest else 0):
        raise Missing(f"“{ref[:60]}” names no number of this project.")
    return step(actor, ref, *rest)


def _view(
    ref: str,
    working: Working,
    comes: Iterable[WalkLink],
    goes: Iterable[WalkLink],
    findings: Iterable[str] = (),
) -> WalkView:
    return WalkView(
        ref=ref,
        working=_working(working),
        comes_from=list(comes),
        goes_to=list(goes),
        findings=list(findings),
    )


def _working(working: Working) -> WorkingView:
    rows = [
        PaperRowView(
            times=r.times,
            dimensions=list(r.dimensions),
            squared=r.squared,
            deduct=r.deduct,
            note=r.note,
            link=r.link,
        )
        for r in working.rows
    ]
    parts = [_working(part) for part in working.parts]
    return WorkingView(
        name=working.name, value=float(working.value), unit=working.unit, expression=working.expression,
        figures=working.figures,
        source=working.source, link=working.link, rows=rows, parts=parts,
    )  # fmt: skip


def _link(
    ref: str, name: str, value: Number | str | None, unit: str, stage: str, target: int | None
) -> WalkLink:
    text = (
        value
        if isinstance(value, str)
        else ""
        if value is None
        else shown(value, most=4 if "/" in unit else 2)
    )
    return WalkLink(ref=ref, name=name, value=text, unit=unit, stage=stage, target=target)


def _currency(actor: Actor) -> str:
    return str(Project.get_by_id(actor.project_id).currency)


def _quantity(actor: Actor, ref: str, element_id: str, output: str = "") -> WalkView:
    element = find(Element, actor, int(element_id))
    makeup = makeup_of(actor.project_id, element.makeup)
    quantity = QuantityLine.get_or_none(
        (QuantityLine.element == element.id) & (QuantityLine.output == output)
    )
    if quantity is None:
        raise Missing(f"{element.mark} has no quantity “{output}”.")
    rows = lines_of([element.id])[element.id]
    lines = read_lines(rows)
    working = makeup_run.working(makeup, element.inputs, lines, output, f"{quantity.label} in {element.mark}")
    findings = [f.says for f in makeup_run.run(makeup, element.inputs, lines).findings]
    return _view(
        ref, working, _line_links(rows), _item_links(actor, element.id, output), dict.fromkeys(findings)
    )


def _line_links(rows: Iterable[DimensionLine]) -> Iterable[WalkLink]:
    for number, row in enumerate(rows, start=1):
        if row.figure_id:
            sheet: Sheet = row.figure.sheet
            name = f"{row.figure.kind.capitalize()} on {sheet.revision.drawing.number}, p. {sheet.page}"
            yield _link(
                f"figure:{row.figure_id}", name, shows(row.figure, sheet), "", "measure", row.element_id
            )
        else:
            typed = " × ".join(entry for entry in (row.times, row.length, row.width, row.height) if entry)
            yield _link(
                f"line:{row.id}", f"Line {number}, typed", typed or "empty", "", "measure", row.element_id
            )


def _item_links(actor: Actor, element_id: int, output: str) -> Iterable[WalkLink]:
    numbers = refs(actor.project_id)
    for link in (
        ItemLink.select(ItemLink, Item)
        .join(Item)
        .where((ItemLink.element == element_id) & (ItemLink.output == output))
    ):
        item = link.item
        yield _link(
            f"item-quantity:{item.id}",
            f"{numbers[item.id]} {item.description}",
            item.quantity,
            item.unit,
            "bill",
            item.id,
        )


def _line(actor: Actor, ref: str, line_id: str) -> WalkView:
    row = find(DimensionLine, actor, int(line_id))
    element = row.element
    makeup = makeup_of(actor.project_id, element.makeup)
    rows = [line for line in lines_of([element.id])[element.id] if line.id == row.id]
    lines = read_lines(rows)
    working = makeup_run.working(
        makeup, element.inputs, lines, makeup.document.headline, f"Line of {element.mark}, squared"
    )
    goes = [
        _link(
            f"quantity:{element.id}:{q.output}",
            f"{q.label} in {element.mark}",
            q.net,
            q.unit,
            "measure",
            element.id,
        )
        for q in element.quantities.order_by(QuantityLine.id)
    ]
    findings = [f.says for f in makeup_run.run(makeup, element.inputs, lines).findings]
    comes = [link for link in _line_links(rows) if link.ref != ref]
    return _view(ref, working, comes, goes, findings)


def _figure(actor: Actor, ref: str, figure_id: str) -> WalkView:
    figure = find(Figure, actor, int(figure_id))
    sheet, drawn = figure.sheet, measured(figure, figure.sheet)
    sheet_name = f"{sheet.revision.drawing.number}, p. {sheet.page}"
    name = f"{figure.kind.capitalize()} for {figure.element.mark}"
    lines = DimensionLine.select().where(DimensionLine.figure == figure.id)
    goes = [
        _link(f"line:{line.id}", f"Line of {figure.element.mark}", None, "", "measure", figure.element_id)
        for line in lines
    ]
    if drawn.number is not None:
        working = Working(name, float(drawn.number), "nr", "points on the sheet", str(drawn.number))
        return _view(ref, working, [_link(ref, sheet_name, "", "", "sheets", sheet.id)], goes)
    wrong = astray(figure, sheet)
    scale = scale_of(sheet) if wrong else scale_under(figure, sheet)
    ratio = f"1:{shown(ratio_of(scale.x), least=0, most=1)}" + (
        "" if scale.is_even else f" across, 1:{shown(ratio_of(scale.y), least=0, most=1)} up"
    )
    told = Working(
        "Scale it is measured at, one to",
        ratio_of(scale.x),
        "",
        source=sheet.scale_source if scale == scale_of(sheet) else "its scale area",
    )
    if drawn.length is not None:
        each = [
            side_length(side, scale) for side in sides(as_run(figure).corners, closed=as_run(figure).closed)
        ]
        figures = " + ".join(shown(side) for side in each[:12]) + (" + …" if len(each) > 12 else "")
        working = Working(name, drawn.length, "m", "its sides", figures, parts=(told,))
    else:
        shape = as_area(figure)
        gross, voids = shape.gross(scale), shape.void_areas(scale)
        rings = [
            Working(f"Void {at}, ddt" if area > 0 else f"Void {at}, counts again", abs(area), "m²")
            for at, area in enumerate(voids, start=1)
        ]
        expression = "outline" + "".join(" − void" if v > 0 else " + void" for v in voids)
        working = Working(
            name,
            drawn.area or 0.0,
            "m²",
            expression,
            _taken_off(gross, voids),
            parts=(Working("Outline", gross, "m²"), *rings, told),
        )
    return _view(
        ref, working, [_link(ref, sheet_name, ratio, "", "sheets", sheet.id)], goes, [wrong] if wrong else []
    )


def _taken_off(gross: float, voids: Sequence[float]) -> str:
    return shown(gross) + "".join(f" {'−' if void > 0 else '+'} {shown(abs(void))}" for void in voids)


def _item(actor: Actor, ref: str, item_id: str) -> WalkView:
    item, currency = find(Item, actor, int(item_id)), _currency(actor)
    name = f"Amount of {refs(actor.project_id)[item.id]} {item.description}"
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
        [_link(f"item-quantity:{item.id}", "Quantity", item.quantity, item.unit, "bill", item.id)]
        if item.kind == "measured"
        else []
    )
    if item.build_up_id:
        comes.append(
            _link(
                f"build-up:{item.build_up_id}",
                item.build_up.name,
                item.rate,
                f"{currency}/{item.unit}",
                "rates",
                item.build_up_id,
            )
        )
    section = item.section
    goes = [
        _link(
            f"section:{section.id}",
            section.title,
            _section_total(actor, section.id),
            currency,
            "bill",
            section.id,
        ),
        _bill_link(actor, currency),
    ]
    return _view(
        ref,
        working,
        comes,
        goes,
        ["It adds nothing to the bill yet."]
        if item.amount == 0 and item.kind not in ("rate_only", "heading")
        else [],
    )


def _bill_link(actor: Actor, currency: str) -> WalkLink:
    return _link("bill", "Bill total", summary_of(actor.project_id).total, currency, "bill", None)


def _section_total(actor: Actor, section_id: int) -> Decimal:
    return next(s.total for s in bill_view(actor).sections if s.id == section_id)


def _item_quantity(actor: Actor, ref: str, item_id: str) -> WalkView:
    item = find(Item, actor, int(item_id))
    ref_number, name = refs(actor.project_id)[item.id], f"Quantity of {item.description}"
    goes = [
        _link(f"item:{item.id}", f"Amount of {ref_number}", item.amount, _currency(actor), "bill", item.id)
    ]
    links = core_links([item.id])[item.id]
    drawn = bill_rules.quantity_working(name, links, item.unit, item.quantity)
    if item.typed_quantity.strip():
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
        working = drawn
    comes = [
        _link(link.link, link.name, link.net, link.unit, "measure", int(link.link.split(":")[1]))
        for link in links
    ]
    return _view(ref, working, comes, goes, [] if links or item.typed_quantity else ["No quantity yet."])


def _build_up(actor: Actor, ref: str, build_up_id: str) -> WalkView:
    row, currency = find(BuildUp, actor, int(build_up_id)), _currency(actor)
    lines, (output, hours) = core_lines(row), output_of(row)
    analysis = rate_rules.analyse(lines, output, hours)
    working = rate_rules.rate_working(row.name, analysis, output, hours, row.unit, currency)
    comes = [_source_link(line, currency) for line in lines if line.link]
    numbers = refs(actor.project_id)
    goes = [
        _link(f"item:{i.id}", f"{numbers[i.id]} {i.description}", i.amount, currency, "bill", i.id)
        for i in row.items
    ]
    goes += [
        _link(
            f"build-up:{o.build_up_id}",
            o.build_up.name,
            o.build_up.rate,
            f"{currency}/{o.build_up.unit}",
            "rates",
            o.build_up_id,
        )
        for o in row.used_in
    ]
    return _view(ref, working, comes, goes, analysis.findings)


def _source_link(line: rate_rules.BuildUpLine, currency: str) -> WalkLink:
    kind, row_id = line.link.split(":")
    return _link(
        line.link,
        line.name,
        line.price,
        f"{currency}/{line.unit}",
        "prices" if kind == "resource" else "rates",
        int(row_id),
    )


def _build_up_line(actor: Actor, ref: str, line_id: str) -> WalkView:
    row, currency = find(BuildUpLine, actor, int(line_id)), _currency(actor)
    outer = row.build_up
    output, hours = output_of(outer)
    worked = [a for a in rate_rules.analyse(core_lines(outer), output, hours).lines if a.line.row == row.id]
    told = [rate_rules.line_working(a, output, hours, outer.unit, currency) for a in worked]
    goes = [
        _link(f"build-up:{outer.id}", outer.name, outer.rate, f"{currency}/{outer.unit}", "rates", outer.id)
    ]
    if len(told) == 1:
        working = told[0]
    else:
        total = sum((a.unit_price for a in worked), Decimal(0))
        working = Working(
            row.nested.name,
            total,
            f"{currency}/{outer.unit}",
            "who works in it",
            " + ".join(shown(t.value) for t in told),
            parts=tuple(told),
        )
    comes = [_source_link(a.line, currency) for a in worked if a.line.link]
    return _view(
        ref,
        working,
        comes,
        goes,
        [f"{a.line.name} has no price yet." for a in worked if a.line.link and a.line.price is None],
    )


def _resource(actor: Actor, ref: str, resource_id: str) -> WalkView:
    row, project = find(Resource, actor, int(resource_id)), Project.get_by_id(actor.project_id)
    unit = f"{project.currency}/{row.unit}"
    price = price_of(row, row.quotes, project)
    figures = " ; ".join(shown(q.per_unit) for q in price.used)
    basis = f"{BASES[row.basis]} on {project.price_date:%d %b %Y}"
    working = Working(f"Price of {row.name}", price.value or Decimal(0), unit, basis, figures)
    comes = [
        _link(
            f"quote:{q.reference}",
            f"{q.supplier}, {q.quoted_on:%d %b %Y}",
            q.per_unit,
            unit,
            "prices",
            row.id,
        )
        for q in price.used
    ]
    lines = (
        BuildUpLine.select(BuildUpLine, BuildUp)
        .join(BuildUp, on=(BuildUpLine.build_up == BuildUp.id))
        .where(BuildUpLine.resource == row.id)
    )
    outer = {line.build_up.id: line.build_up for line in lines}
    goes = [
        _link(f"build-up:{b.id}", b.name, b.rate, f"{project.currency}/{b.unit}", "rates", b.id)
        for b in outer.values()
    ]
    return _view(ref, working, comes, goes, price.findings)


def _quote(actor: Actor, ref: str, quote_id: str) -> WalkView:
    row, currency = find(Quote, actor, int(quote_id)), _currency(actor)
    unit = f"{currency}/{row.resource.unit}"
    figures = f"{shown(row.price)} / {shown(row.contains, least=0)}"
    source = f"{row.source or 'no source noted'}; {row.quoted_on:%d %b %Y}" + (
        f", valid to {row.valid_to:%d %b %Y}" if row.valid_to else ""
    )
    working = Working(
        f"Quote of {row.supplier}",
        core_quote(row).per_unit,
        unit,
        f"price of one {row.unit} / {row.resource.unit} in it",
        figures,
        source=source,
    )
    goes = [
        _link(
            f"resource:{row.resource_id}",
            row.resource.name,
            row.resource.price,
            unit,
            "prices",
            row.resource_id,
        )
    ]
    return _view(ref, working, [], goes)


def _section(actor: Actor, ref: str, section_id: str) -> WalkView:
    row, currency = find(Section, actor, int(section_id)), _currency(actor)
    view = bill_view(actor)
    section = next(s for s in view.sections if s.id == row.id)
    inner = [s for s in view.sections if s.parent == row.id]
    comes = [
        _link(f"item:{i.id}", f"{i.ref} {i.description}", i.amount, currency, "bill", i.id)
        for i in section.items
    ]
    comes += [_link(f"section:{s.id}", f"{s.ref} {s.title}", s.total, currency, "bill", s.id) for s in inner]
    working = Working(
        f"{section.ref} {row.title}",
        section.total,
        currency,
        "sum of its items",
        " + ".join(link.value for link in comes[:12]) + (" + …" if len(comes) > 12 else ""),
    )
    return _view(ref, working, comes, [_bill_link(actor, currency)])


def _bill(actor: Actor, ref: str) -> WalkView:
    view, currency = bill_view(actor), _currency(actor)
    parts = [Working("Sum of the items", view.items_total, currency)]
    parts += [
        Working(
            f"{a.name} {a.percent.normalize():f} %",
            a.adds,
            currency,
            f"on the {bill_rules.base_words(a.base)}",
            f"{shown(a.on)} × {a.percent.normalize():f} %",
        )
        for a in view.adjustments
    ]
    figures = " + ".join(shown(part.value) for part in parts)
    working = Working(
        "Bill total",
        view.total,
        currency,
        "items" + "".join(f" + {a.name.lower()}" for a in view.adjustments),
        figures,
        parts=tuple(parts),
    )
    comes = [
        _link(f"section:{s.id}", f"{s.ref} {s.title}", s.total, currency, "bill", s.id)
        for s in view.sections
        if s.depth == 0
    ]
    return _view(ref, working, comes, [])


_STEPS: dict[str, Callable[..., WalkView]] = {
    "quantity": _quantity,
    "line": _line,
    "figure": _figure,
    "item": _item,
    "item-quantity": _item_quantity,
    "build-up": _build_up,
    "build-up-line": _build_up_line,
    "resource": _resource,
    "quote": _quote,
    "section": _section,
    "bill": _bill,
}
