"""The dimension sheets as PDF: each element's lines squared, its make-up, what it comes to, what looked
wrong."""

from __future__ import annotations

from collections.abc import Mapping

from ..core.makeups.run import Line, run
from ..core.numbers.working import shown
from .bill_xlsx import BillDocument, ElementBlock
from .paper import BAD, INK, LEFT, QUIET, RIGHT, Column, Heading, Pages, Progress

_COLUMNS = (
    Column("Times", LEFT, 48, True), Column("Note", LEFT + 56, 190), Column("Length m", LEFT + 250, 50, True),
    Column("Width " "" "m", LEFT + 304, 46, True),
    Column("Height m", LEFT + 354, 46, True), Column("Area m²", LEFT + 404, 46, True),
    Column("Squared", LEFT + 454, RIGHT - LEFT - 454, True),
)  # fmt: skip


def write(document: BillDocument, sources: Mapping[str, str], progress: Progress) -> bytes:
    """The document's bytes.

    Args:
        sources: where a line came from, by its link: the drawing and page of a figure.
    """
    note = f"Prices on {document.price_date:%d %b %Y}"
    pages = Pages(Heading(document.project, document.client, "Dimension sheets", note), _COLUMNS)
    for number, block in enumerate(document.elements):
        progress(number / max(len(document.elements), 1))
        _element(pages, block, sources)
    return pages.finish()


def _element(pages: Pages, block: ElementBlock, sources: Mapping[str, str]) -> None:
    result = run(block.makeup, block.entries, block.lines)
    headline = next(q for q in result.quantities if q.output.key == block.makeup.document.headline)
    pages.room(7)
    pages.y -= 10
    pages.words(f"{block.mark}, {block.location}", bold=True, size=10.5)
    entered = [
        f"{field.label.lower()} {block.entries[field.key]}"
        for field in block.makeup.inputs.values()
        if field.key in block.entries
    ]
    pages.words(f"{block.makeup.name}" + (f": {', '.join(entered)}" if entered else ""), color=QUIET)
    for line, squared in zip(block.lines, headline.each, strict=True):
        _line(pages, line, float(squared), sources.get(line.link, ""))
    pages.row(
        ("", headline.output.label, "", "", "", "", f"{shown(headline.net, most=2)} {headline.output.unit}"),
        bold=True,
    )
    for quantity in result.quantities:
        if quantity is headline or (quantity.output.optional and not quantity.net):
            continue
        bought = f", {quantity.pack.number} × {quantity.pack.words}" if quantity.pack else ""
        waste = (
            f", {shown(quantity.gross, most=2)} with {shown(quantity.waste, least=0)} % waste"
            if quantity.waste
            else ""
        )
        pages.row(
            (
                "",
                f"{quantity.output.label}{waste}{bought}",
                "",
                "",
                "",
                "",
                f"{shown(quantity.net, most=2)} {quantity.output.unit}",
            ),
            line=False,
        )
    for finding in result.findings:
        pages.words(finding.says, color=BAD)


def _line(pages: Pages, line: Line, squared: float, source: str) -> None:
    def size(value: float | None) -> str:
        return "" if value is None else shown(value, least=2, most=4)

    times = f"{'ddt ' if line.deduct else ''}{line.times_shown}".strip()
    note = ", ".join(filter(None, (" ".join(line.note.split()), source)))
    pages.row(
        (
            times,
            note,
            size(line.length),
            size(line.width),
            size(line.height),
            size(line.area),
            shown(squared, most=3),
        ),
        color=QUIET if line.deduct else INK,
    )
