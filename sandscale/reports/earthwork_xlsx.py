"""The proof of an earthwork as a workbook with live formulas: squares, sections by trapezia, volumes between
them, prisms; totals are formulas over what stands in the sheets."""

from __future__ import annotations

import io
from collections.abc import Sequence

import numpy as np
import shapely
import xlsxwriter
from xlsxwriter.utility import xl_rowcol_to_cell as cell
from xlsxwriter.worksheet import Worksheet

from ..core.ground.areas import Span, Volume
from ..core.ground.classes import ORDINARY
from ..core.ground.cut_and_fill import depth
from ..core.measurers.earthwork import METHOD_WORDS
from ..core.numbers.ways import ways
from .earthwork import EarthDocument
from .measured import cubic, unit
from .paper import Progress

SUMMARY, AREAS, VOLUMES, SECTIONS, SQUARES, PRISMS = (
    "Summary", "Areas", "Volumes", "Sections", "Squares", "Prisms",
)  # fmt: skip
MOST_PRISMS = 60_000
Formats = dict[str, object]


def write(document: EarthDocument, progress: Progress) -> bytes:
    """The workbook's bytes; words are written as words, whatever they begin with."""
    out = io.BytesIO()
    book = xlsxwriter.Workbook(
        out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    )
    base = {"font_name": "Arial", "font_size": 10, "valign": "top"}
    formats: Formats = {
        "plain": book.add_format(base), "bold": book.add_format({**base, "bold": True}),
        "title": book.add_format({**base, "bold": True, "font_size": 14}),
        "head": book.add_format({**base, "bold": True, "bottom": 1, "text_wrap": True}),
        "level": book.add_format({**base, "num_format": "#,##0.000"}),
        "number": book.add_format({**base, "num_format": "#,##0.00"}),
        "sum": book.add_format({**base, "bold": True, "top": 1, "num_format": "#,##0.00"}),
    }  # fmt: skip
    summary = book.add_worksheet(SUMMARY)
    totals: dict[str, tuple[str, str]] = {}
    if "sections" in document.parts or "areas" in document.parts or "volumes" in document.parts:
        places = _areas(book, document, formats)
        progress(0.3)
        totals["grid sections"] = _volumes(book.add_worksheet(VOLUMES), document, formats, places)
    if "squares" in document.parts:
        totals["square grid"] = _squares(book.add_worksheet(SQUARES), document, formats)
    progress(0.6)
    if "prisms" in document.parts:
        totals["exact"] = _prisms(book.add_worksheet(PRISMS), document, formats)
    _summary(summary, document, formats, totals)
    for sheet in book.worksheets():
        sheet.set_paper(9)
        sheet.fit_to_pages(1, 0)
        sheet.set_column(0, 0, 30)
        sheet.set_column(1, 12, 14)
    book.close()
    progress(1.0)
    return out.getvalue()


def _heads(sheet: Worksheet, row: int, words: Sequence[str], formats: Formats) -> None:
    for column, word in enumerate(words):
        sheet.write_string(row, column, word, formats["head"])
    sheet.freeze_panes(row + 1, 1)


def _cube() -> str:
    """What cubic base units are divided by for the project's volume unit; nothing where it is the same."""
    size = ways().system.size(unit("m³"))
    return "" if size == 1 else f"/{size:g}"


def _summary(
    sheet: Worksheet, document: EarthDocument, formats: Formats, totals: dict[str, tuple[str, str]]
) -> None:
    made, by = document.reckoned, cubic()
    sheet.write_string(0, 0, f"{document.project}: earthwork {document.title}", formats["title"])
    row = 2
    for what, how in document.told:
        sheet.write_string(row, 0, what, formats["plain"])
        sheet.write_string(row, 1, how, formats["plain"])
        row += 1
    row += 1
    _heads(
        sheet,
        row,
        ("Method", f"Cut {unit('m³')}", f"Fill {unit('m³')}", "Net", "", "as reckoned: cut", "fill"),
        formats,
    )
    billed = 0
    for each in made.methods:
        row += 1
        billed = row if each.name == made.method else billed
        sheet.write_string(row, 0, METHOD_WORDS[each.name].capitalize(), formats["plain"])
        if each.says:
            sheet.write_string(row, 1, each.says, formats["plain"])
            continue
        for column, (value, formula) in enumerate(
            zip((each.cut * by, each.fill * by), totals.get(each.name, ("", "")), strict=True), start=1
        ):
            if formula:
                sheet.write_formula(row, column, f"={formula}", formats["number"], value)
            else:
                sheet.write_number(row, column, value, formats["number"])
            sheet.write_number(row, column + 4, value, formats["number"])
        net = f"={cell(row, 1)}-{cell(row, 2)}"
        sheet.write_formula(row, 3, net, formats["number"], (each.cut - each.fill) * by)
    row += 2
    _heads(sheet, row, ("Class", unit("m³"), f"on {unit('m²')}"), formats)
    square = ways().system.size("m") ** 2
    first = row + 1
    own, dug_too, below = 0, list[str](), list[str]()
    for share in made.shares:
        row += 1
        sheet.write_string(row, 0, share.name, formats["plain"])
        sheet.write_number(row, 1, share.volume * by, formats["number"])
        sheet.write_number(row, 2, share.area * square, formats["number"])
        if share.key == ORDINARY:
            own = row
        elif share.taken != "stripped":
            (below if share.taken == "below formation" else dug_too).append(cell(row, 1))
    # What is ordinary is what the method billed leaves; the fill has what lies below formation too.
    ordinary = next(share.volume for share in made.shares if share.key == ORDINARY)
    rest = "-".join([cell(billed, 1), *dug_too])
    sheet.write_formula(own, 1, f"={rest}", formats["number"], ordinary * by)
    row += 1
    sheet.write_string(row, 0, "Dug in all", formats["bold"])
    dug = sum(share.volume for share in made.shares) * by
    sheet.write_formula(row, 1, f"=SUM({cell(first, 1)}:{cell(row - 1, 1)})", formats["sum"], dug)
    row += 1
    sheet.write_string(row, 0, "Fill", formats["bold"])
    sheet.write_formula(row, 1, f"={'+'.join([cell(billed, 2), *below])}", formats["sum"], made.fill * by)
    for title, said in (("What was found", document.findings), ("What was decided", document.decided)):
        if "findings" in document.parts and said:
            row += 2
            sheet.write_string(row, 0, title, formats["bold"])
            for says in said:
                row += 1
                sheet.write_string(row, 0, says, formats["plain"])


def _areas(book: xlsxwriter.Workbook, document: EarthDocument, formats: Formats) -> dict[float, int]:
    """The sections by their points, and the sheet of their areas; gives the row of each chainage there."""
    areas, sections = book.add_worksheet(AREAS), book.add_worksheet(SECTIONS)
    size = ways().system.size("m")
    m, m2 = unit("m"), unit("m²")
    _heads(
        sections,
        0,
        ("Section", f"Offset {m}", f"Height {m}, cut above 0", f"Area to the next {m2}", "Cut", "Fill"),
        formats,
    )
    _heads(areas, 0, ("Section", f"At {m}", f"Cut {m2}", f"Fill {m2}"), formats)
    row, places = 1, dict[float, int]()
    for at, (drawn, made) in enumerate(zip(document.sections, document.rows.sections, strict=True), start=1):
        begin, trapezia = row, made.area
        for n, (offset, height) in enumerate(zip(trapezia.offsets, trapezia.heights, strict=True)):
            if not (np.isfinite(offset) and np.isfinite(height)):
                continue
            sections.write_string(row, 0, drawn.name, formats["plain"])
            sections.write_number(row, 1, float(offset) * size, formats["level"])
            sections.write_number(row, 2, float(height) * size, formats["level"])
            last = n + 1 >= len(trapezia.offsets) or not np.isfinite(trapezia.offsets[n + 1])
            value = 0.0 if last else float(trapezia.areas[n]) * size**2
            between = f"=({cell(row, 2)}+{cell(row + 1, 2)})/2*({cell(row + 1, 1)}-{cell(row, 1)})"
            if not last:
                sections.write_formula(row, 3, between, formats["number"], value)
                sections.write_formula(row, 4, f"=MAX({cell(row, 3)},0)", formats["number"], max(value, 0))
                sections.write_formula(row, 5, f"=MAX(-{cell(row, 3)},0)", formats["number"], max(-value, 0))
            row += 1
        areas.write_string(at, 0, drawn.name, formats["plain"])
        areas.write_number(at, 1, drawn.chainage * size, formats["number"])
        for column, value in ((2, drawn.cut), (3, drawn.fill)):
            span = f"{SECTIONS}!{cell(begin, column + 2)}:{cell(max(row - 1, begin), column + 2)}"
            areas.write_formula(at, column, f"=SUM({span})", formats["number"], value * size**2)
        places[drawn.chainage] = at
    return places


def _volumes(
    sheet: Worksheet, document: EarthDocument, formats: Formats, places: dict[float, int]
) -> tuple[str, str]:
    """The volumes between sections, over the areas; gives where the totals of cut and fill stand."""
    m, m3 = unit("m"), unit("m³")
    _heads(sheet, 0, ("Rule", f"From {m}", f"To {m}", f"Volume {m3}", f"In all {m3}"), formats)
    row, found = 1, []
    for words, made, column in (
        ("Cut", document.rows.cut_volume, 2), ("Fill", document.rows.fill_volume, 3)
    ):  # fmt: skip
        row, total = _spans(sheet, words, made, column, row, formats, places)
        found.append(total)
    return found[0], found[1]


def _spans(
    sheet: Worksheet,
    words: str,
    made: Volume,
    column: int,
    row: int,
    formats: Formats,
    places: dict[float, int],
) -> tuple[int, str]:
    size, by = ways().system.size("m"), cubic()
    sheet.write_string(row, 0, words, formats["bold"])
    row += 1
    first, running = row, 0.0
    for span in made.spans:
        running += span.volume * by
        sheet.write_string(row, 0, span.rule, formats["plain"])
        sheet.write_number(row, 1, span.begin * size, formats["number"])
        sheet.write_number(row, 2, span.end * size, formats["number"])
        sheet.write_formula(row, 3, _formula(span, row, column, places), formats["number"], span.volume * by)
        total = f"=SUM({cell(first, 3, row_abs=True)}:{cell(row, 3)})"
        sheet.write_formula(row, 4, total, formats["number"], running)
        row += 1
    sheet.write_string(row, 0, f"{words}, total", formats["bold"])
    sums = f"=SUM({cell(first, 3)}:{cell(max(row - 1, first), 3)})" if made.spans else "=0"
    sheet.write_formula(row, 3, sums, formats["sum"], running)
    return row + 2, f"{VOLUMES}!{cell(row, 3)}"


def _formula(span: Span, row: int, column: int, places: dict[float, int]) -> str:
    """The rule of a span over the areas of its sections."""
    known = sorted(places)
    inner = [at for at in known if span.begin - 1e-9 <= at <= span.end + 1e-9]
    # Of three sections the middle one; two at one chainage are a step, and the outer ones count.
    refs = [f"{AREAS}!{cell(places[at], column)}" for at in inner]
    one, last = refs[0], refs[-1]
    long = f"({cell(row, 2)}-{cell(row, 1)})"
    if span.rule == "prismoidal":
        return f"=({one}+4*{refs[len(refs) // 2]}+{last})*{long}/6{_cube()}"
    if span.rule == "frustum":
        return f"=({one}+{last}+SQRT({one}*{last}))*{long}/3{_cube()}"
    return f"=({one}+{last})/2*{long}{_cube()}"


def _squares(sheet: Worksheet, document: EarthDocument, formats: Formats) -> tuple[str, str]:
    cells, size, by = document.cells, ways().system.size("m"), cubic()
    m, m2, m3 = unit("m"), unit("m²"), unit("m³")
    _heads(
        sheet,
        0,
        (
            "Square",
            f"E {m}",
            f"N {m}",
            f"Mean ground {m}",
            f"Mean formation {m}",
            f"Area {m2}",
            f"Volume {m3}",
        ),
        formats,
    )
    places = shapely.get_coordinates(shapely.point_on_surface(np.array(cells.outlines)))
    for at, (east, north) in enumerate(places, start=1):
        sheet.write_string(at, 0, str(at), formats["plain"])
        for column, value in enumerate(
            (east, north, float(cells.ground[at - 1]), float(cells.formation[at - 1])), start=1
        ):
            sheet.write_number(at, column, value * size, formats["level"])
        sheet.write_number(at, 5, float(cells.areas[at - 1]) * size**2, formats["number"])
        formula = f"=({cell(at, 3)}-{cell(at, 4)})*{cell(at, 5)}{_cube()}"
        sheet.write_formula(at, 6, formula, formats["number"], float(cells.volumes[at - 1]) * by)
    last = len(places)
    return _two_sums(sheet, SQUARES, last, 6, formats, (cells.cut * by, cells.fill * by))


def _two_sums(
    sheet: Worksheet, name: str, last: int, column: int, formats: Formats, values: tuple[float, float]
) -> tuple[str, str]:
    """Cut and fill as the sums of what is above and below zero in a column; gives where they stand."""
    span, found = f"{cell(1, column)}:{cell(last, column)}", []
    for at, (words, sign, value) in enumerate((("Cut", ">", values[0]), ("Fill", "<", values[1])), start=1):
        row = last + at
        sheet.write_string(row, 0, f"{words}, total", formats["bold"])
        formula = f'={"-" if sign == "<" else ""}SUMIF({span},"{sign}0")'
        sheet.write_formula(row, column, formula, formats["sum"], value)
        found.append(f"{name}!{cell(row, column)}")
    return found[0], found[1]


def _prisms(sheet: Worksheet, document: EarthDocument, formats: Formats) -> tuple[str, str]:
    """Every prism of cut and fill; where they are too many for a sheet, their totals only."""
    earth, size, by = document.work.between, ways().system.size("m"), cubic()
    m, m2, m3 = unit("m"), unit("m²"), unit("m³")
    _heads(
        sheet,
        0,
        ("Prism", f"E {m}", f"N {m}", f"Area {m2}", f"h1 {m}", f"h2 {m}", f"h3 {m}", f"Volume {m3}"),
        formats,
    )
    row = 0
    if len(earth.cut_pieces) + len(earth.fill_pieces) > MOST_PRISMS:
        sheet.write_string(1, 0, f"More than {MOST_PRISMS} prisms: their sums only.", formats["plain"])
        return "", ""
    for some in (earth.cut_pieces, earth.fill_pieces):
        middles, heights = some.plan.mean(axis=1), depth(some)
        for middle, square, three in zip(middles, some.areas, heights, strict=True):
            row += 1
            sheet.write_string(row, 0, str(row), formats["plain"])
            for column, value in enumerate(middle, start=1):
                sheet.write_number(row, column, float(value) * size, formats["number"])
            sheet.write_number(row, 3, float(square) * size**2, formats["level"])
            for column, value in enumerate(three, start=4):
                sheet.write_number(row, column, float(value) * size, formats["level"])
            formula = f"={cell(row, 3)}*SUM({cell(row, 4)}:{cell(row, 6)})/3{_cube()}"
            sheet.write_formula(row, 7, formula, formats["number"], float(square * three.mean()) * by)
    return _two_sums(sheet, PRISMS, max(row, 1), 7, formats, (earth.cut * by, earth.fill * by))
