"""A trench network or a route as PDF: what it comes to, tables by chainage, its plan, sections along and
across."""

from __future__ import annotations

import numpy as np

from ..core.numbers.working import shown
from ..typefaces import BOLD, SANS
from .across_pdf import draw_across
from .along_pdf import draw_along, draw_haul
from .drawing import Frame, label, scale_bar, stroke
from .paper import BOTTOM, INK, LEFT, QUIET, RIGHT, TOP, Column, Heading, Pages, Progress
from .tables_pdf import set_table
from .works import WorkDocument

_NUMBERS = (
    Column("Quantity", LEFT, 180), Column("", LEFT + 185, 170), Column("net", LEFT + 350, 75, True),
    Column("gross", LEFT + 435, 76, True),
)  # fmt: skip


def write(document: WorkDocument, progress: Progress) -> bytes:
    """The document's bytes."""
    heading = Heading(document.project, document.client, document.title, "Quantities")
    pages = Pages(heading, _NUMBERS if document.lines else ())
    _numbers(pages, document)
    if document.findings is not None:
        pages.room(6)
        pages.y -= 6
        pages.words("What was found", bold=True, size=10)
        for says in document.findings or ["Nothing looks wrong."]:
            pages.words(says)
    progress(0.1)
    pages.columns = ()
    for table in document.tables:
        set_table(pages, table)
    progress(0.3)
    if document.plan:
        _plan(pages, document)
    for along in document.along:
        draw_along(pages, along)
    if document.haul is not None:
        draw_haul(pages, document.haul)
    progress(0.4)
    if document.across:
        draw_across(pages, document, progress)
    progress(1.0)
    return pages.finish()


def _numbers(pages: Pages, document: WorkDocument) -> None:
    for what, how in document.told:
        pages.words(f"{what}: {how}", color=QUIET)
    pages.y -= 4
    for each in document.lines:
        least = 0 if each.unit == "nr" else 2
        gross = "" if each.gross == each.net else shown(each.gross, least, 2)
        pages.row((each.label, each.unit, shown(each.net, least, 2), gross))
        for split in dict.fromkeys(split for split, _, _ in each.parts):
            for name, net in ((name, net) for s, name, net in each.parts if s == split):
                pages.row(("", f"{name}, {split}", shown(net, least, 2), ""), color=QUIET, line=False)


def _plan(pages: Pages, document: WorkDocument) -> None:
    pages.turn()
    canvas = pages.canvas
    every = np.concatenate([line.places for line in document.plan])
    low, high = every.min(axis=0), every.max(axis=0)
    margin = max(float((high - low).max()) * 0.05, 1.0)
    bounds = [*(low - margin).tolist(), *(high + margin).tolist()]
    frame = Frame(bounds, LEFT, BOTTOM + 24, RIGHT - LEFT, TOP - BOTTOM - 48)
    label(canvas, LEFT, TOP - 12, f"Plan, 1:{frame.ratio}", BOLD)
    for line in document.plan:
        main = line.kind != "edge"
        stroke(canvas, frame, line.places, INK if main else QUIET, 0.9 if main else 0.4)
    taken = list[tuple[float, float]]()
    for east, north, name in document.places:
        x, y = frame((east, north))
        canvas.setFillColor(INK)
        canvas.circle(x, y, 1.2, stroke=0, fill=1)
        if all(abs(x - a) > 6 * len(name) or abs(y - b) > 9 for a, b in taken):
            label(canvas, x + 3, y + 3, name, SANS, 6.5)
            taken.append((x, y))
    scale_bar(canvas, frame)
    pages.y = BOTTOM
