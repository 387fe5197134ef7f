"""A route as a workbook with live formulas: a sheet by chainage for each quantity, and their sums."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from xlsxwriter.utility import xl_rowcol_to_cell as cell
from xlsxwriter.worksheet import Worksheet

from ..core.ground.areas import Span, Volume
from ..core.ground.pieces import Floats
from ..core.ground.route.reckoned import UNITS, Gathered, Reckoned
from .book import Book, Looks, divided
from .measured import cubic, sized, unit

_HEAD = 3  # the row the columns' heads stand in
_ACROSS = {"m³": "m²", "m²": "m", "m": "nr"}


def write(title: str, made: Reckoned, names: Sequence[str], how: str) -> bytes:
    """The workbook's bytes, in the project's units.

    Args:
        title: of the route.
        names: of the quantities it holds, in their order; all of them where empty.
        how: how it was reckoned, in words.
    """
    book = Book()
    summary, looks = book.sheet("Summary"), book.looks
    summary.write_string(0, 0, title, looks["title"])
    summary.write_string(1, 0, how, looks["plain"])
    for column, word in enumerate(("Quantity", "Unit", "Whole", "t/m³", "t")):
        summary.write_string(_HEAD, column, word, looks["head"])
    row = _HEAD + 1
    for each in made.told:
        if names and each.name not in names:
            continue
        unit_ = UNITS[each.kind]
        sheet = book.sheet(each.name)
        whole = _by_chainage(sheet, made, each, looks)
        summary.write_string(row, 0, each.name, looks["plain"])
        summary.write_string(row, 1, unit(unit_), looks["plain"])
        summary.write_formula(row, 2, f"='{sheet.get_name()}'!{whole[0]}", looks["number"], whole[1])
        if each.density:
            summary.write_number(row, 3, each.density, looks["number"])
            mass = f"={cell(row, 2)}*{cell(row, 3)}/{cubic():.10g}"
            summary.write_formula(row, 4, mass, looks["number"], whole[1] * each.density / cubic())
        row += 1
    summary.set_column(0, 0, 34)
    summary.set_column(1, 4, 12)
    return book.content()


def _by_chainage(sheet: Worksheet, made: Reckoned, each: Gathered, looks: Looks) -> tuple[str, float]:
    """One quantity section by section; gives where its whole stands, and what it is."""
    metric = UNITS[each.kind]
    here, across = unit(metric), unit(_ACROSS[metric])
    sheet.write_string(0, 0, each.name, looks["title"])
    heads = [f"Chainage {unit('m')}"]
    for part in each.parts:
        heads += [f"{part} {across}", "1 + e / R", f"{part} {here}"]
    for column, word in enumerate([*heads, f"{each.name} {here}", f"up to here {here}"]):
        sheet.write_string(_HEAD, column, word, looks["head"])
    sheet.freeze_panes(_HEAD + 1, 1)
    sheet.set_column(0, len(heads) + 1, 14)
    chainages = made.quantities.chainages.tolist()
    first = _HEAD + 1
    for n, chainage in enumerate(chainages):
        sheet.write_number(first + n, 0, sized(chainage, "m"), looks["size"])
    volumes = []
    for n, part in enumerate(each.parts):
        sizes, factors = made.sizes(each.kind, part), made.factors(each.kind, part)
        column = 1 + 3 * n
        for at, (size, factor) in enumerate(zip(sizes.tolist(), factors.tolist(), strict=True)):
            sheet.write_number(first + at, column, sized(size, _ACROSS[metric]), looks["size"])
            sheet.write_number(first + at, column + 1, factor, looks["factor"])
        along = made.volume(each.kind, part)
        _spans(sheet, (first, column), chainages, along, metric, looks)
        volumes.append(along)
    total, running, ups = len(heads), 0.0, _ends(chainages, volumes, metric)
    for at in range(len(chainages)):
        row = first + at
        parts = "+".join(cell(row, 3 + 3 * n) for n in range(len(each.parts)))
        running += ups[at]
        sheet.write_formula(row, total, f"={parts}", looks["number"], ups[at])
        before = f"{cell(row - 1, total + 1)}+" if at else ""
        sheet.write_formula(row, total + 1, f"={before}{cell(row, total)}", looks["number"], running)
    last = first + len(chainages)
    sheet.write_string(last, 0, "Whole", looks["sum"])
    reach = f"{cell(first, total)}:{cell(last - 1, total)}"
    sheet.write_formula(last, total, f"=SUM({reach})", looks["sum"], running)
    return cell(last, total, row_abs=True, col_abs=True), running


def _ends(chainages: Sequence[float], volumes: Sequence[Volume], metric: str) -> list[float]:
    found = [0.0] * len(chainages)
    for along in volumes:
        for span in along.spans:
            found[_row_of(chainages, span.end, first=True)] += sized(span.volume, metric)
    return found


def _row_of(chainages: Sequence[float], chainage: float, *, first: bool) -> int:
    """Of two sections at one chainage the first closes a span, and the last begins one."""
    along: Floats = np.asarray(chainages)
    if first:
        return int(np.searchsorted(along, chainage - 1e-9))
    return int(np.searchsorted(along, chainage + 1e-9)) - 1


def _spans(
    sheet: Worksheet,
    place: tuple[int, int],
    chainages: Sequence[float],
    along: Volume,
    metric: str,
    looks: Looks,
) -> None:
    first, column = place
    ended = set[int]()
    for span in along.spans:
        begin = first + _row_of(chainages, span.begin, first=False)
        end = first + _row_of(chainages, span.end, first=True)
        ended.add(end)
        formula = f"{_formula(span, begin, end, column)}{divided(metric)}"
        sheet.write_formula(end, column + 2, formula, looks["number"], sized(span.volume, metric))
    for at in range(len(chainages)):
        if first + at not in ended:
            sheet.write_number(first + at, column + 2, 0.0, looks["number"])


def _formula(span: Span, begin: int, end: int, column: int) -> str:
    def area(row: int) -> str:
        return f"{cell(row, column)}*{cell(row, column + 1)}"

    length = f"({cell(end, 0)}-{cell(begin, 0)})"
    if span.rule == "prismoidal":
        return f"=({area(begin)}+4*{area(begin + 1)}+{area(end)})*{length}/6"
    if span.rule == "frustum":
        return f"=({area(begin)}+{area(end)}+SQRT({area(begin)}*{area(end)}))*{length}/3"
    return f"=({area(begin)}+{area(end)})/2*{length}"
