"""Build-ups in a workbook: lines worked out by live formulas, subtotals of their groups in every column."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

from xlsxwriter.utility import xl_rowcol_to_cell as cell
from xlsxwriter.worksheet import Worksheet

from ..core.numbers.units import unit
from ..core.pricing.build_up import GROUPS, Analysis, BuildUpLine, LineAnalysis, Terms, analyse

_HEADS = (
    "Resource", "Group", "Basis", "Quantity", "Unit", "Allowance %", "Price", "Escalation %",
    "Total quantity", "Amount", "Quantity per {}", "per {}", "Note",
)  # fmt: skip
_WORDS = {"output": "by output", "unit": "by unit", "day": "by day", "fixed": "by all that is billed"}
_TOTAL, _AMOUNT, _EACH, _PRICE, _NOTE = 8, 9, 10, 11, 12


@dataclass(frozen=True)
class RateBlock:
    """A build-up; its lines' ``link`` names their resource or build-up, ``notes`` are by their rows.

    ``taken`` are the quantity lines that a line's quantity (by its row), the ``output`` or the ``hours`` are
    taken from, by element and output."""

    id: int
    name: str
    unit: str
    terms: Terms
    lines: Sequence[BuildUpLine]
    rate: Decimal | None
    note: str
    notes: Mapping[int, str]
    taken: Mapping[int | str, tuple[int, str]]


@dataclass(frozen=True)
class Cells:
    """Where what build-ups draw on stands: prices by their resources, quantities by element and output with
    the unit of each."""

    prices: Mapping[int, str]
    quantities: Mapping[tuple[object, ...], str]
    units: Mapping[tuple[object, ...], str]

    def quantity(self, key: tuple[int, str] | None, symbol: str) -> str:
        """The formula of a quantity line in a unit; empty where there is none."""
        if key not in self.quantities:
            return ""
        share = unit(self.units[key]).size / unit(symbol).size
        return f"={self.quantities[key]}" + (f"*{share!r}" if share != 1 else "")


@dataclass(frozen=True)
class Looks:
    """Formats of the workbook."""

    plain: object
    bold: object
    quiet: object
    head: object
    number: object
    sum: object
    total: object


def write_rates(
    sheet: Worksheet, blocks: Sequence[RateBlock], looks: Looks, cells: Cells
) -> tuple[dict[int, str], dict[int, str]]:
    """Write build-ups below one another; gives the cells of rates and of what they cost unrounded, by their
    ids. Blocks may draw on later ones, so their places come first."""
    row, starts, costs, rates = 1, dict[int, int](), dict[int, str](), dict[int, str]()
    for block in blocks:
        starts[block.id] = row + 1
        under = starts[block.id] + 2 + len(block.lines) + len(_groups(block.lines))
        costs[block.id] = f"{sheet.get_name()}!{cell(under, _PRICE, row_abs=True, col_abs=True)}"
        rates[block.id] = f"{sheet.get_name()}!{cell(under + 2, _PRICE, row_abs=True, col_abs=True)}"
        row = under + 3
    for block in blocks:
        _Block(sheet, block, looks, cells, costs).write(starts[block.id])
    return rates, costs


def _groups(lines: Sequence[BuildUpLine]) -> list[str]:
    return [group for group in GROUPS if any(line.group == group for line in lines)]


@dataclass
class _Block:
    sheet: Worksheet
    block: RateBlock
    looks: Looks
    cells: Cells
    costs: Mapping[int, str]

    def write(self, row: int) -> None:
        sheet, block, looks, terms = self.sheet, self.block, self.looks, self.block.terms
        sheet.write_string(row, 0, f"{block.name}, per {block.unit}", looks.bold)
        for column, words, value, taken in (
            (1, f"Output {block.unit}", terms.output, self._taken("output", block.unit)),
            (3, "in hours", terms.hours, self._taken("hours", "h")),
            (5, "hours a day", terms.day, ""), (7, f"billed {block.unit}", terms.billed, ""),
        ):  # fmt: skip
            if value is not None:
                sheet.write_string(row, column, words, looks.quiet)
                self._number(row, column + 1, value, taken)
        if block.note:
            sheet.write_string(row, _NOTE, block.note, looks.quiet)
        for column, words in enumerate(_HEADS):
            sheet.write_string(row + 1, column, words.format(block.unit), looks.head)
        self.output, self.hours, self.day, self.billed = (
            cell(row, at, row_abs=True, col_abs=True) for at in (2, 4, 6, 8)
        )
        analysis = analyse(block.lines, terms)
        self.first, self.last = row + 3, row + 2 + len(analysis.lines)
        at = row + 2
        for worked in analysis.lines:
            if worked.line.basis == "percent":
                self._percentage(at, worked)
            else:
                self._line(at, worked)
            if note := block.notes.get(worked.line.row, ""):
                sheet.write_string(at, _NOTE, note, looks.plain)
            at += 1
        at = self._subtotals(at, analysis)
        self._foot(at, analysis)

    def _taken(self, what: int | str, symbol: str) -> str:
        return self.cells.quantity(self.block.taken.get(what), symbol)

    def _number(self, row: int, column: int, value: Decimal, formula: str) -> None:
        if formula:
            self.sheet.write_formula(row, column, formula, self.looks.number, float(value))
        else:
            self.sheet.write_number(row, column, float(value), self.looks.number)

    def _line(self, at: int, worked: LineAnalysis) -> None:
        sheet, looks, line, r = self.sheet, self.looks, worked.line, at + 1
        for column, words in ((0, line.name), (1, line.group), (2, _WORDS[line.basis]), (4, line.unit)):
            sheet.write_string(at, column, words, looks.plain)
        self._number(at, 3, line.quantity, self._taken(line.row, line.unit))
        for column, value in ((5, line.allowance), (7, line.escalation)):
            sheet.write_number(at, column, float(value), looks.number)
        kind, _, row_id = line.link.partition(":")
        known = {"resource": self.cells.prices, "build-up": self.costs}.get(kind)
        price = known.get(int(row_id)) if known else None  # a reading of a reference is a number here
        if price:
            sheet.write_formula(at, 6, f"=N({price})", looks.number, float(line.price or 0))
        else:
            sheet.write_number(at, 6, float(line.price or 0), looks.number)
        times = {
            "output": f"*{self.hours}" if line.timed else "", "unit": f"*{self.output}",
            "day": f"*{self.hours}/{self.day}",
            "fixed": f"*{self.output}/{self.billed}" if self.block.terms.billed else "*0",
        }[line.basis]  # fmt: skip
        for column, formula, value in (
            (_TOTAL, f"=D{r}*(1+F{r}/100){times}", worked.total_quantity),
            (_AMOUNT, f"=I{r}*G{r}*(1+H{r}/100)", worked.amount),
            (_EACH, f"=I{r}/{self.output}", worked.unit_quantity),
            (_PRICE, f"=J{r}/{self.output}", worked.unit_price),
        ):
            sheet.write_formula(at, column, formula, looks.number, float(value))

    def _percentage(self, at: int, worked: LineAnalysis) -> None:
        """A line that is a percentage of a group: of the group's lines that are none themselves."""
        sheet, looks, line = self.sheet, self.looks, worked.line
        for column, words in ((0, line.name), (1, line.group), (2, "percentage"), (4, "%")):
            sheet.write_string(at, column, words, looks.plain)
        sheet.write_number(at, 3, float(line.quantity), looks.number)
        for column, letter, value in ((_AMOUNT, "J", worked.amount), (_PRICE, "L", worked.unit_price)):
            groups, kinds = self._reach("B"), self._reach("C")
            of = f'SUMIFS({self._reach(letter)},{groups},"{line.percent_of}",{kinds},"by *")'
            sheet.write_formula(at, column, f"={of}*D{at + 1}/100", looks.number, float(value))

    def _reach(self, letter: str) -> str:
        return f"{letter}{self.first}:{letter}{self.last}"

    def _subtotals(self, at: int, analysis: Analysis) -> int:
        """The subtotal of each group in every column; gives the row below."""
        for group in _groups([a.line for a in analysis.lines]):
            found = analysis.of_group(group)
            self.sheet.write_string(at, 0, f"{group.capitalize()} together", self.looks.quiet)
            self.sheet.write_string(at, 4, found.unit, self.looks.quiet)
            for column, letter, value in (
                (_TOTAL, "I", found.total_quantity), (_AMOUNT, "J", found.amount),
                (_EACH, "K", found.unit_quantity), (_PRICE, "L", found.unit_price),
            ):  # fmt: skip
                if value is not None:
                    formula = f'=SUMIFS({self._reach(letter)},{self._reach("B")},"{group}")'
                    self.sheet.write_formula(at, column, formula, self.looks.number, float(value))
            at += 1
        return at

    def _foot(self, at: int, analysis: Analysis) -> None:
        sheet, looks, terms, r = self.sheet, self.looks, self.block.terms, at + 1
        sheet.write_string(at, 0, "Unrounded, as other rates take it", looks.quiet)
        reach = self._reach("L") if analysis.lines else "0"
        sheet.write_formula(at, _PRICE, f"=SUM({reach})", looks.sum, float(analysis.cost))
        on_cost = terms.added_on == "cost"
        sheet.write_string(at + 1, 0, "Mark-up on cost, %" if on_cost else "Margin on price, %", looks.quiet)
        sheet.write_number(at + 1, 3, float(terms.added), looks.number)
        share = f"L{r}*D{r + 1}/100" if on_cost else f"L{r}*D{r + 1}/(100-D{r + 1})"
        sheet.write_formula(at + 1, _PRICE, f"={share}", looks.number, float(analysis.added))
        sheet.write_string(at + 2, 0, "Rate", looks.bold)
        rate = f"=ROUND(L{r}+L{r + 1},{terms.places})"
        sheet.write_formula(at + 2, _PRICE, rate, looks.total, float(self.block.rate or 0))
