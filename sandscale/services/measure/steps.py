"""Walking the numbers of the measure."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Any

from ...core.figures.arcs import side_length, sides
from ...core.figures.scale import in_words, ratio_of
from ...core.makeups.measurer import Entered
from ...core.numbers.entry import as_typed
from ...core.numbers.ways import ways
from ...core.numbers.working import Working, shown
from ...store.models import (
    BuildUp,
    BuildUpLine,
    DimensionLine,
    Element,
    Figure,
    InputDraw,
    Item,
    ItemLink,
    QuantityLine,
    Sheet,
)
from ..bars.links import scheduled
from ..bill.reading import refs_of
from ..ground.links import earth_sources
from ..ground.routes.links import route_sources
from ..ground.trenches.links import trench_sources
from ..keeping.acting import Actor, Missing, find
from ..keeping.slow import being_worked_out
from ..keeping.views import WalkLink, WalkView
from ..keeping.walking import Step, currency_of, link_to, view_of
from .entered import lines_of
from .measurers import given, measurer_of
from .measuring import as_area, as_run, astray, measured, scale_of, scale_under
from .reading import shows


def _quantity(actor: Actor, ref: str, element_id: str, output: str) -> WalkView:
    element = find(Element, actor, int(element_id))
    mine = (QuantityLine.element == element.id) & (QuantityLine.output == output)
    quantity = QuantityLine.get_or_none(mine)
    if quantity is None:
        raise Missing(f"{element.mark} has no quantity “{output}”.")
    name = f"{quantity.label} in {element.mark}"
    rows = lines_of([element.id])[element.id]
    entered = given([element], {element.id: rows})[element.id]
    working = measurer_of(element).working(entered, output, name)
    findings = [says for _, says, *_ in element.findings]
    if being_worked_out("quantities", [element.id]):
        findings.insert(0, f"{element.mark} is being worked out: this number isn't what it comes to now.")
    comes = [
        *_drawn_links(entered),
        *_line_links(rows),
        *earth_sources(element),
        *trench_sources(element),
        *route_sources(element),
    ]
    goes = [
        *_item_links(element.id, output),
        *_rate_links(actor, element.id, output),
        *_taking_links(element.id, output),
        *scheduled(quantity),
    ]
    return view_of(ref, working, comes, goes, dict.fromkeys(findings))


def _drawn_links(entered: Any) -> Iterable[WalkLink]:
    """What the inputs of an allowance draw from the project."""
    for parts in entered.drawn.values() if isinstance(entered, Entered) else ():
        for part in parts:
            kind, row_id, *_ = part.link.split(":")
            stage = "bill" if kind.startswith("item") else "measure"
            yield link_to(part.link, part.name, part.value, part.unit, stage, int(row_id))


def _rate_links(actor: Actor, element_id: int, output: str) -> Iterable[WalkLink]:
    """The rates, and the inputs of allowances, that take a quantity line."""
    currency = currency_of(actor)
    for line in BuildUpLine.those(BuildUpLine.taken, [element_id], taken_key=output):
        rate = line.build_up
        unit = f"{currency}/{rate.unit}"
        yield link_to(f"build-up-line:{line.id}", f"A line of {rate.name}", rate.rate, unit, "rates", rate.id)
    for figure in ("output", "hours"):
        column = getattr(BuildUp, f"{figure}_taken")
        for rate in BuildUp.those(column, [element_id], **{f"{figure}_key": output}):
            name, unit = f"{figure.capitalize()} of {rate.name}", f"{currency}/{rate.unit}"
            yield link_to(f"build-up:{rate.id}", name, rate.rate, unit, "rates", rate.id)
    for draw in InputDraw.those(InputDraw.taken, [element_id], taken_key=output):
        mark = draw.element.mark
        yield link_to("", f"An input of {mark}", None, "", "measure", draw.element_id)


def _line_links(rows: Iterable[DimensionLine]) -> Iterable[WalkLink]:
    for number, row in enumerate(rows, start=1):
        if row.figure_id:
            sheet: Sheet = row.figure.sheet
            name = f"{row.figure.kind.capitalize()} on {sheet.revision.drawing.number}, p. {sheet.page}"
            shown_ = shows(row.figure, sheet)
            yield link_to(f"figure:{row.figure_id}", name, shown_, "", "measure", row.element_id)
        elif row.taken:
            name = f"Line {number}, taken from {row.taken_from.mark}"
            yield link_to(row.taken.link, name, row.taken.value, row.taken.unit, "measure", row.taken_from_id)
        else:
            sizes = (as_typed(entry, "m") for entry in (row.length, row.width, row.height))
            typed = " × ".join(filter(None, (row.times, *sizes)))
            name = f"Line {number}, typed"
            yield link_to(f"line:{row.id}", name, typed or "empty", "", "measure", row.element_id)


def _item_links(element_id: int, output: str) -> Iterable[WalkLink]:
    mine = (ItemLink.element == element_id) & (ItemLink.output == output)
    links = list(ItemLink.select(ItemLink, Item).join(Item).where(mine).order_by(ItemLink.id))
    numbers = refs_of(link.item for link in links)
    for link in links:
        item, name = link.item, f"{numbers[link.item.id]} {link.item.description}"
        yield link_to(f"item-quantity:{item.id}", name, item.quantity, item.unit, "bill", item.id)


def _taking_links(element_id: int, output: str) -> Iterable[WalkLink]:
    mine = (DimensionLine.taken_from == element_id) & (DimensionLine.taken_output == output)
    for row in (
        DimensionLine.select(DimensionLine, Element).join(Element, on=DimensionLine.element).where(mine)
    ):
        yield link_to(f"line:{row.id}", f"Line of {row.element.mark}", None, "", "measure", row.element_id)


def _line(actor: Actor, ref: str, line_id: str) -> WalkView:
    row = find(DimensionLine, actor, int(line_id))
    element = row.element
    rows = lines_of([element.id])[element.id]
    places = {line.id: place for place, line in enumerate(rows)}
    if row.id not in places:  # deleted while this was read
        raise Missing("That dimension line is not in this project any more.")
    at = places[row.id]
    entered = given([element], {element.id: rows})[element.id]
    alone = replace(entered, lines=(entered.lines[at],))
    measured_ = measurer_of(element).measure(alone)
    working = measurer_of(element).working(alone, measured_.headline, f"Line of {element.mark}, squared")
    goes = [
        link_to(
            f"quantity:{element.id}:{q.output}",
            f"{q.label} in {element.mark}",
            q.net,
            q.unit,
            "measure",
            element.id,
        )
        for q in element.quantities.order_by(QuantityLine.id)
    ]
    comes = [link for link in _line_links([rows[at]]) if link.ref != ref]
    return view_of(ref, working, comes, goes, [f.says for f in measured_.findings])


def _figure(actor: Actor, ref: str, figure_id: str) -> WalkView:
    figure = find(Figure, actor, int(figure_id))
    sheet, drawn = figure.sheet, measured(figure, figure.sheet)
    sheet_name = f"{sheet.revision.drawing.number}, p. {sheet.page}"
    name = f"{figure.kind.capitalize()} for {figure.element.mark}"
    lines = DimensionLine.select().where(DimensionLine.figure == figure.id)
    goes = [
        link_to(f"line:{line.id}", f"Line of {figure.element.mark}", None, "", "measure", figure.element_id)
        for line in lines
    ]
    if drawn.number is not None:
        working = Working(name, float(drawn.number), "nr", "points on the sheet", str(drawn.number))
        return view_of(ref, working, [link_to(ref, sheet_name, "", "", "sheets", sheet.id)], goes)
    wrong = astray(figure, sheet)
    scale = scale_of(sheet) if wrong else scale_under(figure, sheet)
    here = ways().system
    metres, area = here.size("m"), here.size("m²")
    words = in_words(ratio_of(scale.x), here)
    ratio = words if scale.is_even else f"{words} across, {in_words(ratio_of(scale.y), here)} up"
    told = Working(
        "Scale it is measured at, one to",
        ratio_of(scale.x),
        "",
        source=sheet.scale_source if scale == scale_of(sheet) else "its scale area",
    )
    if drawn.length is not None:
        each = [
            metres * side_length(side, scale)
            for side in sides(as_run(figure).corners, closed=as_run(figure).closed)
        ]
        figures = " + ".join(shown(side) for side in each[:12]) + (" + …" if len(each) > 12 else "")
        working = Working(name, drawn.length * metres, here.symbol("m"), "its sides", figures, parts=(told,))
    else:
        shape = as_area(figure)
        gross, voids = shape.gross(scale) * area, [each * area for each in shape.void_areas(scale)]
        symbol = here.symbol("m²")
        rings = [
            Working(f"Void {at}, ddt" if void > 0 else f"Void {at}, counts again", abs(void), symbol)
            for at, void in enumerate(voids, start=1)
        ]
        expression = "outline" + "".join(" − void" if v > 0 else " + void" for v in voids)
        working = Working(
            name,
            (drawn.area or 0.0) * area,
            symbol,
            expression,
            _taken_off(gross, voids),
            parts=(Working("Outline", gross, symbol), *rings, told),
        )
    return view_of(
        ref,
        working,
        [link_to(ref, sheet_name, ratio, "", "sheets", sheet.id)],
        goes,
        [wrong] if wrong else [],
    )


def _taken_off(gross: float, voids: Sequence[float]) -> str:
    return shown(gross) + "".join(f" {'−' if void > 0 else '+'} {shown(abs(void))}" for void in voids)


STEPS = {
    "quantity": Step(2, _quantity, Element),
    "line": Step(1, _line, DimensionLine),
    "figure": Step(1, _figure, Figure),
}
