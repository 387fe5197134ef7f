"""The dimension sheets as PDF: each element's lines squared, its make-up, what it comes to, what looked
wrong."""

from __future__ import annotations

from collections.abc import Mapping

from ..core.makeups.document import Input
from ..core.makeups.measurer import Entered
from ..core.makeups.run import Line, run
from ..core.measurers.measurer import QuantityLine
from ..core.numbers.entry import as_typed
from ..core.numbers.ways import ways
from ..core.numbers.working import shown
from .bill_xlsx import BillDocument, ElementBlock
from .paper import BAD, INK, LEFT, QUIET, RIGHT, Column, Heading, Pages, Progress


def _columns() -> tuple[Column, ...]:
    length, area = (ways().system.symbol(each) for each in ("m", "m²"))
    return (
        Column("Times", LEFT, 48, True), Column("Note", LEFT + 56, 190),
        Column(f"Length {length}", LEFT + 250, 50, True), Column(f"Width {length}", LEFT + 304, 46, True),
        Column(f"Height {length}", LEFT + 354, 46, True), Column(f"Area {area}", LEFT + 404, 46, True),
        Column("Squared", LEFT + 454, RIGHT - LEFT - 454, True),
    )  # fmt: skip


def write(document: BillDocument, sources: Mapping[str, str], progress: Progress) -> bytes:
    """The document's bytes.

    Args:
        sources: where a line came from, by its link: the drawing and page of a figure.
    """
    note = f"Prices on {document.price_date:%d %b %Y}"
    pages = Pages(Heading(document.project, document.client, "Dimension sheets", note), _columns())
    for number, block in enumerate(document.elements):
        progress(number / max(len(document.elements), 1))
        _element(pages, block, sources)
    return pages.finish()


def _element(pages: Pages, block: ElementBlock, sources: Mapping[str, str]) -> None:
    pages.room(7)
    pages.y -= 10
    pages.words(block.called(block.location), bold=True, size=10.5)
    shown_quantities = list(block.quantities)
    if isinstance(block.entered, Entered):
        headline = _lines(pages, block.entered, sources)
        shown_quantities = [q for q in block.quantities if q.output != headline]
    for quantity in shown_quantities:
        if quantity.net or quantity.always:
            _quantity(pages, quantity)
    for says in block.findings:
        pages.words(says, color=BAD)


def _lines(pages: Pages, entered: Entered, sources: Mapping[str, str]) -> str:
    """A make-up's entries and its lines squared; gives the output they are squared in."""
    makeup = entered.makeup
    told = [
        f"{field.label.lower()} {_entry(field, entered.entries[field.key])}"
        for field in makeup.inputs.values()
        if field.key in entered.entries
    ]
    pages.words(f"{makeup.name}" + (f": {', '.join(told)}" if told else ""), color=QUIET)
    result = run(makeup, entered.entries, entered.lines)
    headline = next(q for q in result.quantities if q.output.key == makeup.document.headline)
    for line, squared in zip(entered.lines, headline.each, strict=True):
        _line(pages, line, float(squared), sources.get(line.link, ""))
    total = f"{shown(headline.net, most=2)} {headline.output.unit}"
    pages.row(("", headline.output.label, "", "", "", "", total), bold=True)
    return headline.output.key


def _entry(field: Input, entry: str) -> str:
    return as_typed(entry, field.unit) if field.is_number else entry


def _quantity(pages: Pages, quantity: QuantityLine) -> None:
    bought = f", {quantity.pack}" if quantity.pack else ""
    gross = f"{shown(quantity.gross, most=2)} with {shown(quantity.waste, least=0)} % waste"
    waste = f", {gross}" if quantity.waste else ""
    number = f"{shown(quantity.net, most=2)} {quantity.unit}"
    pages.row(("", f"{quantity.label}{waste}{bought}", "", "", "", "", number), line=False)
    for part in quantity.parts:
        name = f"   {part.split} {part.name}"
        pages.row(("", name, "", "", "", f"{shown(part.net, most=2)} {quantity.unit}", ""), line=False)


def _line(pages: Pages, line: Line, squared: float, source: str) -> None:
    here = ways().system

    def size(value: float | None, symbol: str = "m") -> str:
        return "" if value is None else shown(value * here.size(symbol), least=2, most=4)

    times = f"{'ddt ' if line.deduct else ''}{line.times_shown}".strip()
    note = ", ".join(filter(None, (" ".join(line.note.split()), source)))
    pages.row(
        (
            times,
            note,
            size(line.length),
            size(line.width),
            size(line.height),
            size(line.area, "m²"),
            shown(squared, most=3),
        ),
        color=QUIET if line.deduct else INK,
    )
