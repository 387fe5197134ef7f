"""The bars as a workbook with live formulas: the schedule, its summary by size, the cutting and its order."""

from __future__ import annotations

import io
from collections.abc import Sequence

import xlsxwriter
from xlsxwriter.worksheet import Worksheet

from ..core.bars.sizes import mass_per_metre
from .bars import BarsDocument, PlanBlock
from .paper import Progress

SCHEDULE, SUMMARY, CUTTING = "Schedule", "Summary", "Cutting"
_FIRST = 3  # the row of the first bar


def write(document: BarsDocument, progress: Progress) -> bytes:
    """The workbook's bytes. Totals, lengths in all and masses are formulas over what stands beside them;
    words are written as words, whatever they begin with."""
    out = io.BytesIO()
    book = xlsxwriter.Workbook(
        out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    )
    base = {"font_name": "Arial", "font_size": 10, "valign": "top"}
    formats = {
        "plain": book.add_format(base), "bold": book.add_format({**base, "bold": True}),
        "title": book.add_format({**base, "bold": True, "font_size": 14}),
        "head": book.add_format({**base, "bold": True, "bottom": 1, "text_wrap": True}),
        "whole": book.add_format({**base, "num_format": "#,##0.##"}),
        "length": book.add_format({**base, "num_format": "#,##0.000"}),
        "mass": book.add_format({**base, "num_format": "#,##0.0"}),
        "sum": book.add_format({**base, "bold": True, "top": 1, "num_format": "#,##0.0"}),
    }  # fmt: skip
    sheets = {name: book.add_worksheet(name) for name in (SCHEDULE, SUMMARY, CUTTING)}
    for sheet in sheets.values():
        sheet.set_landscape()
        sheet.set_paper(9)
        sheet.fit_to_pages(1, 0)
    last = _schedule(sheets[SCHEDULE], document, formats, progress)
    _summary(sheets[SUMMARY], document, formats, last)
    _cutting(sheets[CUTTING], document.plans, formats)
    book.close()
    return out.getvalue()


def _heads(sheet: Worksheet, row: int, words: Sequence[str], formats: dict[str, object]) -> None:
    for column, word in enumerate(words):
        sheet.write_string(row, column, word, formats["head"])


def _schedule(
    sheet: Worksheet, document: BarsDocument, formats: dict[str, object], progress: Progress
) -> int:
    """The lines of the schedule; gives the last row."""
    title = f"{document.project}: bending schedule" + (
        f", revision {document.revision}" if document.revision else ""
    )
    sheet.write_string(0, 0, title, formats["title"])
    letters = document.letters
    heads = (
        "Member", "Mark", "Size", "Nr of", "In each", "Total", "Length m", "Code",
        *(f"{letter} mm" for letter in letters), "kg/m", "In all m", "kg", "Rev", "What looks wrong",
    )  # fmt: skip
    _heads(sheet, 2, heads, formats)
    sheet.freeze_panes(_FIRST, 2)
    sheet.set_column(0, 0, 12)
    first_leg = 8
    mass_at = first_leg + len(letters)
    for at, row in enumerate(document.rows):
        if at % 500 == 0:
            progress(0.8 * at / max(len(document.rows), 1))
        y = _FIRST + at
        for column, words in enumerate((row.member, row.mark, f"{row.grade}{row.size}")):
            sheet.write_string(y, column, words, formats["plain"])
        sheet.write_number(y, 3, row.members, formats["whole"])
        sheet.write_number(y, 4, row.each, formats["whole"])
        sheet.write_formula(y, 5, f"=D{y + 1}*E{y + 1}", formats["whole"], row.total)
        sheet.write_number(y, 6, row.cut, formats["length"])
        sheet.write_string(y, 7, row.shape, formats["plain"])
        for column, letter in enumerate(letters, start=first_leg):
            if letter in row.legs:
                sheet.write_number(y, column, row.legs[letter], formats["whole"])
        length, kg = row.total * row.cut, mass_per_metre(row.size)
        sheet.write_number(y, mass_at, kg, formats["length"])
        sheet.write_formula(y, mass_at + 1, f"=F{y + 1}*G{y + 1}", formats["length"], length)
        cells = (_cell(y, mass_at), _cell(y, mass_at + 1))
        sheet.write_formula(y, mass_at + 2, f"={cells[1]}*{cells[0]}", formats["mass"], row.mass)
        sheet.write_string(y, mass_at + 3, row.revision, formats["plain"])
        sheet.write_string(y, mass_at + 4, " ".join(row.findings), formats["plain"])
    last = _FIRST + max(len(document.rows), 1) - 1
    whole = sum(row.mass for row in document.rows)
    column = _letters(mass_at + 2)
    sheet.write_string(last + 1, 0, "All", formats["bold"])
    sheet.write_formula(
        last + 1, mass_at + 2, f"=SUM({column}{_FIRST + 1}:{column}{last + 1})", formats["sum"], whole
    )
    return last


def _cell(row: int, column: int) -> str:
    return f"{_letters(column)}{row + 1}"


def _letters(column: int) -> str:
    return str(xlsxwriter.utility.xl_col_to_name(column))


def _summary(sheet: Worksheet, document: BarsDocument, formats: dict[str, object], last: int) -> None:
    sheet.write_string(0, 0, "Bars by size", formats["title"])
    _heads(sheet, 2, ("Size", "Bars", "Length m", "kg", "t"), formats)
    sheet.set_column(0, 6, 14)
    mass_at = 8 + len(document.letters)
    columns = {"size": "C", "total": "F", "length": _letters(mass_at + 1), "mass": _letters(mass_at + 2)}
    span = {name: f"{SCHEDULE}!${c}${_FIRST + 1}:${c}${last + 1}" for name, c in columns.items()}
    row = 3
    for size in document.sizes:
        name = f"{document.grades.get(size.size, '')}{size.size}"
        sheet.write_string(row, 0, name, formats["plain"])
        for column, key, value, form in (
            (1, "total", size.number, "whole"), (2, "length", size.length, "length"),
            (3, "mass", size.mass, "mass"),
        ):  # fmt: skip
            formula = f"=SUMIF({span['size']},A{row + 1},{span[key]})"
            sheet.write_formula(row, column, formula, formats[form], value)
        sheet.write_formula(row, 4, f"=D{row + 1}/1000", formats["length"], size.mass / 1000)
        row += 1
    whole = sum(size.mass for size in document.sizes)
    sheet.write_string(row, 0, "All", formats["bold"])
    if document.sizes:
        sheet.write_formula(row, 3, f"=SUM(D4:D{row})", formats["sum"], whole)
    row += 2
    for title, rows in (("Location", document.locations), ("Member", document.members)):
        names = [f"{document.grades.get(size.size, '')}{size.size}" for size in document.sizes]
        _heads(sheet, row, (title, *names, "All, kg", "kg/m³"), formats)
        for each in rows:
            row += 1
            sheet.write_string(row, 0, each.name, formats["plain"])
            for column, mass in enumerate(each.masses, start=1):
                sheet.write_number(row, column, mass, formats["mass"])
            end = len(each.masses)
            if end:
                sum_of = f"=SUM({_cell(row, 1)}:{_cell(row, end)})"
                sheet.write_formula(row, end + 1, sum_of, formats["mass"], sum(each.masses))
            if each.ratio:
                sheet.write_number(row, end + 2, each.ratio, formats["whole"])
        row += 2


def _cutting(sheet: Worksheet, plans: Sequence[PlanBlock], formats: dict[str, object]) -> None:
    sheet.write_string(0, 0, "Cutting, and whole bars to buy", formats["title"])
    sheet.set_column(0, 6, 13)
    sheet.set_column(7, 7, 60)
    heads = ("Cutting", "Size", "Stock m", "Bars", "Bought m", "Used m", "Left of each m", "Cut from each, m")
    _heads(sheet, 2, heads, formats)
    row = 3
    for plan in plans:
        first = row
        for pattern in plan.patterns:
            used = sum(length * number for length, number in pattern.cuts)
            sheet.write_string(row, 0, plan.cutting, formats["plain"])
            sheet.write_string(row, 1, plan.size, formats["plain"])
            sheet.write_number(row, 2, pattern.stock, formats["length"])
            sheet.write_number(row, 3, pattern.times, formats["whole"])
            bought = 0.0 if pattern.kept else pattern.stock * pattern.times
            told = "0" if pattern.kept else f"C{row + 1}*D{row + 1}"
            sheet.write_formula(row, 4, f"={told}", formats["length"], bought)
            each = "+".join(f"{number}*{length!r}" for length, number in pattern.cuts) or "0"
            sheet.write_formula(row, 5, f"=D{row + 1}*({each})", formats["length"], used * pattern.times)
            sheet.write_number(row, 6, pattern.offcut, formats["length"])
            words = ", ".join(f"{number} × {length:.3f}" for length, number in pattern.cuts)
            sheet.write_string(row, 7, words + (" (a piece kept)" if pattern.kept else ""), formats["plain"])
            row += 1
        if row > first:
            sheet.write_string(row, 0, "All", formats["bold"])
            number = sum(p.times for p in plan.patterns if not p.kept)
            kept = sum(p.times for p in plan.patterns if p.kept)
            minus = f"-{kept}" if kept else ""
            sheet.write_formula(row, 3, f"=SUM(D{first + 1}:D{row}){minus}", formats["sum"], number)
            sheet.write_formula(row, 4, f"=SUM(E{first + 1}:E{row})", formats["sum"], plan.bought)
            proof = f"no plan can use less than {plan.bound:.3f} m"
            sheet.write_string(
                row, 7, f"{'proven best' if plan.proven else 'not proven best'}: {proof}", formats["plain"]
            )
            row += 2
