"""The bars as PDF: the bending schedule with every shape drawn to its legs, its summary, and the cutting."""

from __future__ import annotations

from collections.abc import Sequence

from reportlab.lib.colors import HexColor

from ..core.numbers.ways import ways
from ..core.numbers.working import shown
from ..typefaces import BOLD, MONO, SANS
from .bars import BarRow, BarsDocument, PlanBlock, SumRow
from .paper import BAD, INK, LEFT, QUIET, RIGHT, SIZE, Column, Heading, Pages, Progress

STEEL, FILL = HexColor("#5B4A78"), HexColor("#ECE8F3")
HIGH = 30.0  # points, of a row with its shape
_SHAPE = (LEFT + 268, 76.0)  # where the shape stands, and how wide
_LEGS = LEFT + 350
_MOST_PATTERNS = 400


def write(document: BarsDocument, progress: Progress) -> bytes:
    """The document's bytes."""
    note = f"Rules: {document.rules}" + (f", revision {document.revision}" if document.revision else "")
    heading = Heading(document.project, document.client, "Bending schedule", note)
    letters = document.letters[:7]
    pages = Pages(heading, _schedule_columns(letters))
    for number, row in enumerate(document.rows):
        if number % 100 == 0:
            progress(0.7 * number / max(len(document.rows), 1))
        _bar(pages, row, letters)
    if not document.rows:
        pages.words("The schedule has no bars.", color=QUIET)
    _summary(pages, document)
    progress(0.8)
    if document.plans:
        _cutting(pages, document.plans)
    return pages.finish()


def _schedule_columns(letters: Sequence[str]) -> tuple[Column, ...]:
    wide = (RIGHT - _LEGS) / len(letters)
    here = ways().system.symbol("m")
    return (
        Column("Member", LEFT, 44), Column("Mark", LEFT + 46, 28), Column("Size", LEFT + 76, 26),
        Column("Nr of", LEFT + 100, 26, True), Column("In each", LEFT + 130, 30, True),
        Column("Total", LEFT + 162, 30, True), Column(f"Length {here}", LEFT + 194, 40, True),
        Column("Code", LEFT + 240, 22), Column("Shape", _SHAPE[0], _SHAPE[1]),
        *(Column(f"{letter}", _LEGS + at * wide, wide - 4, True) for at, letter in enumerate(letters)),
    )  # fmt: skip


def _leg(mm: float) -> str:
    metric = ways().system.key == "metric"
    return shown(mm if metric else mm / 25.4, 0, 0 if metric else 2)


def _length(metres: float, least: int = 3, most: int = 3) -> str:
    return shown(metres * ways().system.size("m"), least, most)


def _bar(pages: Pages, row: BarRow, letters: Sequence[str]) -> None:
    lines = (HIGH + 3 + 10 * len(row.findings)) / 11.5
    pages.room(lines)
    canvas, top = pages.canvas, pages.y
    base = top - HIGH / 2 - SIZE / 3
    cells = [
        row.member, row.mark, f"{row.grade}{row.size}", shown(row.members, 0), shown(row.each, 0),
        shown(row.total, 0), _length(row.cut), row.shape, "",
        *(_leg(row.legs[letter]) if letter in row.legs else "" for letter in letters),
    ]  # fmt: skip
    canvas.setFillColor(BAD if row.total < 0 else INK)
    for at, (words, column) in enumerate(zip(cells, pages.columns, strict=True)):
        canvas.setFont(BOLD if at == 0 else MONO if column.number else SANS, SIZE)
        if column.number:
            canvas.drawRightString(column.left + column.width, base, words)
        else:
            canvas.drawString(column.left, base, words)
    if row.revision:
        canvas.setFont(SANS, 6.5)
        canvas.setFillColor(QUIET)
        canvas.drawString(LEFT + 46, base - 9, f"rev {row.revision}")
    _shape(pages, row, top)
    pages.y -= HIGH
    for says in row.findings:
        canvas.setFont(SANS, 7)
        canvas.setFillColor(BAD)
        canvas.drawString(LEFT + 46, pages.y - 6, says[:130])
        pages.y -= 10
    canvas.setStrokeColor(HexColor("#E3DCCF"))
    canvas.setLineWidth(0.5)
    canvas.line(LEFT, pages.y, RIGHT, pages.y)
    pages.y -= 3


def _shape(pages: Pages, row: BarRow, top: float) -> None:
    """The bar to its legs, within its cell; a leg too small to be seen is drawn as long as can be."""
    if len(row.outline) < 2:
        return
    xs, ys = [p[0] for p in row.outline], [p[1] for p in row.outline]
    wide, high = max(xs) - min(xs), max(ys) - min(ys)
    room = (_SHAPE[1] - 12, HIGH - 8)
    scale = min(room[0] / wide if wide else 1e9, room[1] / high if high else 1e9)
    across, up = (max(scale, 4 / size) if size else scale for size in (wide, high))
    x0 = _SHAPE[0] + (_SHAPE[1] - wide * across) / 2
    y0 = top - HIGH / 2 - high * up / 2
    path = pages.canvas.beginPath()
    for at, (x, y) in enumerate(zip(xs, ys, strict=True)):
        place = (x0 + (x - min(xs)) * across, y0 + (y - min(ys)) * up)
        path.moveTo(*place) if at == 0 else path.lineTo(*place)
    pages.canvas.setStrokeColor(STEEL)
    pages.canvas.setLineWidth(1.4)
    pages.canvas.setLineJoin(1)
    pages.canvas.drawPath(path)


def _mass(kg: float) -> str:
    here = ways().system
    return shown(kg * here.size("kg"), 1, 1)


def _tonnes(kg: float) -> str:
    here = ways().system
    return shown(kg / 1000 * here.size("t") / here.size(here.symbol("t")), 3, 3)


def _summary(pages: Pages, document: BarsDocument) -> None:
    kg = ways().system.symbol("kg")
    pages.room(14)
    pages.y -= 14
    pages.words("Summary by size", bold=True, size=10.5)
    columns = (
        Column("Size", LEFT, 60), Column("", LEFT + 60, 40), Column("Bars", LEFT + 110, 70, True),
        Column(f"Length {ways().system.symbol('m')}", LEFT + 190, 90, True), Column(kg, LEFT + 290, 90, True),
        Column(ways().system.symbol("t"), LEFT + 390, 80, True),
    )  # fmt: skip
    pages.go_on(columns)
    for size in document.sizes:
        name = f"{document.grades.get(size.size, '')}{size.size}"
        length = _length(size.length, 2, 2)
        pages.row((name, "", shown(size.number, 0), length, _mass(size.mass), _tonnes(size.mass)))
    whole = sum(size.mass for size in document.sizes)
    pages.row(("All", "", "", "", _mass(whole), _tonnes(whole)), bold=True)
    for title, rows in (("By location", document.locations), ("By member", document.members)):
        _sums(pages, title, rows, document)


def _sums(pages: Pages, title: str, rows: Sequence[SumRow], document: BarsDocument) -> None:
    shown_sizes = document.sizes[:7]
    wide = (RIGHT - LEFT - 220) / max(len(shown_sizes), 1)
    kg = ways().system.symbol("kg")
    pages.room(10)
    pages.y -= 14
    pages.words(title, bold=True, size=10.5)
    columns = (
        Column(title.removeprefix("By ").capitalize(), LEFT, 116), Column("", LEFT + 118, 2),
        *(
            Column(f"{document.grades.get(s.size, '')}{s.size}", LEFT + 120 + at * wide, wide - 4, True)
            for at, s in enumerate(shown_sizes)
        ),
        Column(f"All, {kg}", RIGHT - 96, 52, True), Column("kg/m³", RIGHT - 40, 40, True),
    )  # fmt: skip
    pages.go_on(columns)
    for row in rows:
        masses = [_mass(mass) if mass else "" for mass in row.masses[: len(shown_sizes)]]
        off = bool(row.ratio and row.band and not row.band[0] <= row.ratio <= row.band[1])
        ratio = shown(row.ratio, 0, 0) if row.ratio else ""
        pages.row((row.name, "", *masses, _mass(sum(row.masses)), ratio), color=BAD if off else INK)


def _cutting(pages: Pages, plans: Sequence[PlanBlock]) -> None:
    metres = ways().system.symbol("m")
    head = Column(f"Cut from each bar, in {metres}", LEFT + 44, 300)
    pages.columns = (Column("Times", LEFT, 34, True), head)
    pages.turn()
    for plan in plans:
        number = sum(n for _, n in plan.order)
        stock = ", ".join(f"{n} × {_length(length, 0)} {metres}" for length, n in plan.order)
        pages.room(6)
        pages.y -= 6
        pages.words(f"{plan.cutting}, {plan.size}: {number} bars to buy", bold=True, size=10.5)
        proof = f"no plan can use less than {_length(plan.bound, 2, 2)} {metres}"
        best = "proven best" if plan.proven else "not proven best"
        bought, demand = (_length(each, 2, 2) for each in (plan.bought, plan.demand))
        told = f"{stock or 'nothing to buy'}; {bought} {metres} for {demand} {metres}"
        pages.words(f"{told}, off-cuts {shown(plan.waste, 1, 1)} %; {best}: {proof}.", color=QUIET)
        if not plan.fresh:
            pages.words("The schedule has moved on since this was cut.", color=BAD)
        for length, n in plan.too_long:
            says = f"{n} bars of {_length(length)} {metres} are longer than the stock and aren't cut."
            pages.words(says, color=BAD)
        longest = max((p.stock for p in plan.patterns), default=1.0)
        for pattern in plan.patterns[:_MOST_PATTERNS]:
            _pattern(pages, pattern.stock, pattern.cuts, pattern.times, longest, kept=pattern.kept)


def _pattern(
    pages: Pages, stock: float, cuts: Sequence[tuple[float, int]], times: int, longest: float, *, kept: bool
) -> None:
    pages.room(1.5)
    canvas, y = pages.canvas, pages.y - 13
    whole = RIGHT - LEFT - 60
    canvas.setFont(MONO, SIZE)
    canvas.setFillColor(INK)
    canvas.drawRightString(LEFT + 34, y + 3, f"{times} ×")
    x, scale = LEFT + 44, whole / longest
    canvas.setStrokeColor(STEEL)
    canvas.setLineWidth(0.6)
    canvas.setFont(MONO, 6.5)
    for length, number in cuts:
        wide, words = length * scale, _length(length)
        canvas.setFillColor(FILL)
        for at in range(number):
            canvas.rect(x + at * wide, y, wide, 12, stroke=1, fill=1)
        if wide > 28:
            told = [(x + (at + 0.5) * wide, words) for at in range(number)]
        else:  # too short to be told on each piece
            words = f"{number} × {words}"
            told = [(x + number * wide / 2, words)] if number * wide > 60 else []
            for middle, _ in told:
                canvas.rect(middle - 27, y + 1, 54, 10, stroke=0, fill=1)
        canvas.setFillColor(INK)
        for middle, _ in told:
            canvas.drawCentredString(middle, y + 3.5, words)
        x += number * wide
    end = LEFT + 44 + stock * scale
    if end - x > 0.5:
        canvas.setStrokeColor(QUIET)
        canvas.setDash(2, 2)
        canvas.rect(x, y, end - x, 12, stroke=1, fill=0)
        canvas.setDash()
    if kept:
        canvas.setFont(SANS, 6.5)
        canvas.setFillColor(QUIET)
        canvas.drawString(end + 3, y + 3.5, "kept")
    pages.y -= 16
