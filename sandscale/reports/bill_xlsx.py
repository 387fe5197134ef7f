"""The bill as an XLSX workbook with live formulas.

Four sheets, each linked to the next, so that a reviewer can follow any amount: *Bill* takes its
quantities from *Dimensions* and its rates from *Rates*, which takes its prices from *Prices*. The
formulas of *Dimensions* are written from the make-ups' own formulas.
"""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, time
from decimal import Decimal
from functools import lru_cache
from typing import Any

import xlsxwriter
from xlsxwriter.format import Format
from xlsxwriter.utility import xl_cell_to_rowcol, xl_col_to_name
from xlsxwriter.utility import xl_rowcol_to_cell as cell
from xlsxwriter.worksheet import Worksheet

from ..core.makeups.makeup import MakeUp
from ..core.makeups.measurer import Entered
from ..core.makeups.run import Line, Quantity, Result, run_all
from ..core.measurers.measurer import QuantityLine
from ..core.numbers.entry import read_entry
from ..core.numbers.units import unit as unit_of
from ..core.numbers.ways import ways
from ..core.numbers.written import written
from ..core.pricing.bill import AFTER, APART_WORDS, KIND_WORDS, SUMS, Apart, ItemKind, Summary, base_words
from ..core.pricing.build_up import Terms
from ..core.pricing.quotes import BASES, Basis, Quote
from .rates_xlsx import Cells, Looks, RateBlock, write_rates

Progress = Callable[[float], None]
BILL, DIMENSIONS, RATES, PRICES = "Bill", "Dimensions", "Rates", "Prices"


@dataclass(frozen=True)
class Drawn:
    """What an item draws on: an output of an element, or the part of it by a split; the factor as typed."""

    element: int
    output: str
    factor: str
    split: str = ""
    part: str = ""


@dataclass(frozen=True)
class PartRow:
    """A rate that an item's is made of: how many of which build-up one unit takes, or of what a unit costs;
    and what is added to that."""

    nested: int | None
    factor: Decimal
    price: Decimal
    terms: Terms


@dataclass(frozen=True)
class Composed:
    """What an item's rate is made of where it isn't one build-up's, and to how many places it is rounded."""

    parts: Sequence[PartRow]
    priced: bool
    places: int


@dataclass(frozen=True)
class ItemRow:
    """A bill item with what it draws on."""

    ref: str
    kind: ItemKind
    description: str
    unit: str
    quantity: Decimal
    typed_quantity: str
    typed_reason: str
    typed_amount: Decimal | None
    build_up: int | None
    rate: Decimal | None
    amount: Decimal
    links: Sequence[Drawn]
    composed: Composed | None = None
    typed_rate: str = ""
    note: str = ""
    apart: Apart = "plain"


@dataclass(frozen=True)
class SectionRow:
    """A section with its own items; subsections follow it, one deeper."""

    ref: str
    depth: int
    title: str
    total: Decimal
    items: Sequence[ItemRow]


@dataclass(frozen=True)
class ElementBlock:
    """An element with what was entered for it and the quantity lines it comes to.

    A make-up over dimension lines is set out line by line with live formulas; what any other measurer gives,
    by its quantity lines and their parts."""

    id: int
    mark: str
    description: str
    location: str
    entered: Entered | object
    quantities: Sequence[QuantityLine]
    findings: Sequence[str] = ()

    def called(self, *more: str) -> str:
        """Its mark, what it is, and more; what is said twice is said once."""
        return ", ".join(dict.fromkeys(filter(None, (self.mark, self.description, *more))))


@dataclass(frozen=True)
class PriceBlock:
    """A resource with its quotes; ``used`` are the references of those its price is made of."""

    id: int
    name: str
    unit: str
    basis: Basis
    quotes: Sequence[Quote]
    used: Sequence[int]
    price: Decimal | None


@dataclass(frozen=True)
class BillDocument:
    """All that the workbook is written from."""

    project: str
    client: str
    currency: str
    price_date: date
    sections: Sequence[SectionRow]
    summary: Summary
    elements: Sequence[ElementBlock]
    rates: Sequence[RateBlock]
    prices: Sequence[PriceBlock]
    places: Mapping[str, int]


def write(document: BillDocument, progress: Progress = lambda _share: None) -> bytes:
    """The workbook's bytes; progress from 0 to 1 is told as it goes."""
    out = io.BytesIO()
    workbook = xlsxwriter.Workbook(
        out, {"constant_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    )
    workbook.set_calc_mode("auto")
    writer = _Writer(workbook, document)
    writer.dimensions(progress)
    writer.prices()
    writer.rates()
    writer.bill()
    progress(0.8)
    workbook.close()
    return out.getvalue()


@dataclass
class _Places:
    """Where the numbers that other sheets draw on stand."""

    quantities: dict[tuple[Any, ...], str] = field(
        default_factory=dict
    )  # by element and output, or by a part of it
    units: dict[tuple[Any, ...], str] = field(default_factory=dict)
    rates: dict[int, str] = field(default_factory=dict)
    costs: dict[int, str] = field(default_factory=dict)
    prices: dict[int, str] = field(default_factory=dict)


class _Layout:
    """How the lines of a make-up are set out where only some of its outputs come to something.

    Attributes:
        kept: the outputs shown.
        derived: of the derived values those outputs need: key, column letter, formula with places for cells.
        outputs: the outputs with theirs.
        names: every name the formulas use.
        heads: the letters and heads of the columns.
    """

    def __init__(self, makeup: MakeUp, kept: tuple[str, ...]) -> None:
        self.kept = frozenset(kept)
        shown = [(output, formula) for output, formula in makeup.outputs if output.key in self.kept]
        needed = {name for _, formula in shown for name in formula.names}
        for derived, formula in reversed(makeup.derived):
            if derived.key in needed:
                needed |= formula.names
        self.names = needed
        places = {name: "{" + name + "}" for name in makeup.dimensions}
        values = [(derived, formula) for derived, formula in makeup.derived if derived.key in needed]
        self.derived = [
            (derived.key, xl_col_to_name(7 + at), formula.in_spreadsheet(places))
            for at, (derived, formula) in enumerate(values)
        ]
        start = 7 + len(values)
        self.outputs = [
            (
                output,
                xl_col_to_name(start + at),
                formula.in_spreadsheet(places) + _per_unit(makeup, output.unit),
            )
            for at, (output, formula) in enumerate(shown)
        ]
        length, area = makeup.system.symbol("m"), makeup.system.symbol("m²")
        sizes = [f"{name} {length}" for name in ("Length", "Width", "Height")]
        heads = ["Note", "Times", *sizes, f"Area {area}", "Add 1, ddt −1"]
        heads += [
            f"{derived.label} {makeup.system.symbol_of(makeup.dimensions[derived.key])}".strip()
            for derived, _ in values
        ]
        heads += [f"{output.label} {output.unit}" for output, _ in shown]
        self.heads = [(xl_col_to_name(at), words) for at, words in enumerate(heads)]


def _per_unit(makeup: MakeUp, symbol: str) -> str:
    size = makeup.system.size(symbol)
    return f"/{size!r}" if size != 1 else ""


def _results(elements: Sequence[ElementBlock]) -> list[Result | None]:
    """What every line of the elements with make-ups comes to, computed in bulk for each; None for the
    others."""
    found: dict[int, Result] = {}
    groups: dict[int, list[tuple[int, Entered]]] = {}
    for number, block in enumerate(elements):
        if isinstance(block.entered, Entered):
            groups.setdefault(id(block.entered.makeup), []).append((number, block.entered))
    for group in groups.values():
        worked = run_all(group[0][1].makeup, [(entered.entries, entered.lines) for _, entered in group])
        found.update(zip((number for number, _ in group), worked, strict=True))
    return [found.get(number) for number in range(len(elements))]


@dataclass(frozen=True, slots=True)
class _Cell:
    """A cell of a row: its column's letter, what stands in it, and the formula that gives it."""

    letter: str
    value: float | str
    style: Format
    formula: str = ""

    def write(self, sheet: Worksheet, row: int) -> None:
        column = _column(self.letter)
        if self.formula:
            sheet.write_formula(row, column, f"={self.formula}", self.style, self.value)
        elif isinstance(self.value, str):
            # Spreadsheets refuse a file with signs in it that can't be printed.
            shown = "".join(sign if sign.isprintable() or sign == "\n" else " " for sign in self.value)
            sheet.write_string(row, column, shown, self.style)
        else:
            sheet.write_number(row, column, self.value, self.style)


@lru_cache(maxsize=1024)
def _column(letter: str) -> int:
    return int(xl_cell_to_rowcol(f"{letter}1")[1])


class _Writer:
    def __init__(self, workbook: Any, document: BillDocument) -> None:
        self.document, self.at = document, _Places()
        self.drawn = {
            (link.element, link.output)
            for section in document.sections
            for item in section.items
            for link in item.links
        } | {key for block in document.rates for key in block.taken.values()}
        self.layouts: dict[tuple[int, tuple[str, ...]], _Layout] = {}
        self.sheets: dict[str, Worksheet] = {
            name: workbook.add_worksheet(name) for name in (BILL, DIMENSIONS, RATES, PRICES)
        }
        base = {"font_name": "Arial", "font_size": 10, "valign": "top"}
        rule = {"bottom": 1, "bottom_color": "#23211D"}
        self.plain = workbook.add_format(base)
        self.wrap = workbook.add_format({**base, "text_wrap": True})
        self.quiet = workbook.add_format({**base, "font_color": "#6A645A"})
        self.bold = workbook.add_format({**base, "bold": True})
        self.title = workbook.add_format({**base, "bold": True, "font_size": 14})
        self.head = workbook.add_format({**base, **rule, "bold": True, "text_wrap": True})
        # A spreadsheet writes the signs of its reader's language; whether thousands stand apart is the
        # project's.
        whole = "#,##0" if ways().thousands else "0"
        number, money = ({"num_format": f"{whole}.{decimals}"} for decimals in ("00##", "00"))
        self.number = workbook.add_format({**base, **number})
        self.money = workbook.add_format({**base, **money})
        self.rate = workbook.add_format({**base, "num_format": "#,##0.00##"})
        self.total = workbook.add_format({**base, "bold": True, "top": 1, **money})
        self.sum = workbook.add_format({**base, "bold": True, "top": 1, **number})
        self.day = workbook.add_format({**base, "num_format": "yyyy-mm-dd", "align": "left"})
        for name, widths in _WIDTHS.items():
            for column, width in enumerate(widths):
                self.sheets[name].set_column(column, column, width)
            self.sheets[name].set_landscape()
            self.sheets[name].set_paper(9)
            self.sheets[name].fit_to_pages(1, 0)

    def _heads(self, sheet: Worksheet, row: int, words: Sequence[str]) -> None:
        for column, word in enumerate(words):
            sheet.write_string(row, column, word, self.head)

    def dimensions(self, progress: Progress) -> None:
        """Per element: its inputs, then its lines with every derived value and output as a formula."""
        sheet, row = self.sheets[DIMENSIONS], 0
        sheet.write_string(
            row, 0, f"{self.document.project}: dimension lines and what they come to", self.title
        )
        row = 2
        results = _results(self.document.elements)
        for number, (block, result) in enumerate(zip(self.document.elements, results, strict=True)):
            if number % 50 == 0:
                progress(0.7 * number / len(results))
            if isinstance(block.entered, Entered) and result:
                row = self._element(sheet, row, block, block.entered, result) + 2
            else:
                row = self._quantities(sheet, row, block) + 2

    def _quantities(self, sheet: Worksheet, row: int, block: ElementBlock) -> int:
        """An element by its quantity lines and the parts of each."""
        sheet.write_string(row, 0, block.called(), self.bold)
        sheet.write_string(row, 1, block.location, self.quiet)
        for quantity in block.quantities:
            row = self._quantity(
                sheet, row + 1, (block.id, quantity.output), quantity.label, quantity, quantity.net
            )
            for part in quantity.parts:
                key = (block.id, quantity.output, part.split, part.name)
                row = self._quantity(sheet, row + 1, key, f"  {part.split} {part.name}", quantity, part.net)
        return row + 1

    def _quantity(
        self, sheet: Worksheet, row: int, key: tuple[Any, ...], label: str, of: QuantityLine, net: float
    ) -> int:
        sheet.write_string(row, 0, label, self.plain)
        sheet.write_number(row, 1, net, self.number)
        sheet.write_string(row, 2, of.unit, self.quiet)
        self.at.units[key] = of.unit
        self.at.quantities[key] = f"{DIMENSIONS}!$B${row + 1}"
        return row

    def _element(
        self, sheet: Worksheet, row: int, block: ElementBlock, entered: Entered, result: Result
    ) -> int:
        makeup = entered.makeup
        # What the bill draws on is set out, and what the element is first of all; materials are not part of a
        # bill.
        layout = self._layout(
            makeup,
            tuple(
                q.output.key
                for q in result.quantities
                if (block.id, q.output.key) in self.drawn or q.output.key == makeup.document.headline
            ),
        )
        title = block.called(makeup.name)
        self._row(sheet, row, [_Cell("A", title, self.bold), _Cell("B", block.location, self.quiet)])
        cells: dict[str, str] = {}
        row += 1
        values = makeup.values(entered.entries)
        for name, label, source in _input_rows(makeup, entered.entries, layout.names):
            told = [_Cell("A", label, self.quiet), _Cell("B", values[name], self.number)]
            self._row(sheet, row, [*told, _Cell("C", source, self.quiet)])
            cells[name] = f"$B${row + 1}"
            row += 1
        self._row(sheet, row, [_Cell(letter, words, self.head) for letter, words in layout.heads])
        first = row = row + 1
        quantities = [q for q in result.quantities if q.output.key in layout.kept]
        for number, line in enumerate(entered.lines):
            self._line(sheet, row, makeup, layout, cells, line, number, result, quantities)
            row += 1
        totals = [_Cell("A", "Total", self.bold)]
        for (_, letter, _), quantity in zip(layout.outputs, quantities, strict=True):
            span = f"{letter}{first + 1}:{letter}{row}" if entered.lines else "0"
            total = float(quantity.each.sum())
            totals.append(_Cell(letter, total, self.sum, f"SUM({span})"))
            self.at.units[block.id, quantity.output.key] = quantity.output.unit
            self.at.quantities[block.id, quantity.output.key] = f"{DIMENSIONS}!${letter}${row + 1}"
        self._row(sheet, row, totals)
        return self._by_hand(sheet, row, block.id, entered, layout)

    def _by_hand(self, sheet: Worksheet, row: int, element: int, entered: Entered, layout: _Layout) -> int:
        """What of an allowance was rounded by hand, and why, below what it comes to."""
        for output, letter, _ in layout.outputs:
            if found := entered.makeup.set_by_hand(output.key, entered.entries):
                row += 1
                net = found[0] / unit_of(output.unit).size
                label = f"{output.label} by hand: {found[1]}"
                self._row(sheet, row, [_Cell("A", label, self.quiet), _Cell(letter, net, self.sum)])
                self.at.quantities[element, output.key] = f"{DIMENSIONS}!${letter}${row + 1}"
        return row

    def _row(self, sheet: Worksheet, row: int, cells: Iterable[_Cell]) -> None:
        for each in cells:
            each.write(sheet, row)

    def _layout(self, makeup: MakeUp, kept: tuple[str, ...]) -> _Layout:
        key = (id(makeup), kept)
        if key not in self.layouts:
            self.layouts[key] = _Layout(makeup, kept)
        return self.layouts[key]

    def _line(
        self,
        sheet: Worksheet,
        row: int,
        makeup: MakeUp,
        layout: _Layout,
        inputs: Mapping[str, str],
        line: Line,
        number: int,
        result: Result,
        quantities: Sequence[Quantity],
    ) -> None:
        r = row + 1
        length, area = makeup.system.size("m"), makeup.system.size("m²")
        girth = repr(line.girth * length) if line.girth is not None else f"(2*($C{r}+$D{r}))"
        cells = {
            **inputs, "times": f"$B{r}", "length": f"$C{r}", "width": f"$D{r}", "height": f"$E{r}",
            "area": f"$F{r}",
            "girth": girth, "void_girth": repr(line.void_girth * length),
            "drawn_junctions": str(line.drawn_junctions), "deduct": f"(($G{r}<0)*1)",
        }  # fmt: skip
        style = self.number
        written = [_Cell("A", line.note, self.wrap)] if line.note else []
        sizes = ((line.times, 1.0), (line.length, length), (line.width, length), (line.height, length))
        for letter, (value, size) in zip("BCDE", sizes, strict=True):
            if value is not None:
                written.append(_Cell(letter, value * size, style))
        if line.area is not None:
            written.append(_Cell("F", line.area * area, style))
        elif line.length is not None and line.width is not None:
            written.append(_Cell("F", line.length * line.width * area, style, f"C{r}*D{r}"))
        written.append(_Cell("G", -1 if line.deduct else 1, self.plain))
        counted = bool(result.counted[number])
        for key, letter, template in layout.derived:
            if counted:
                value = float(result.values[key][number])
                written.append(_Cell(letter, value, style, template.format_map(cells)))
            cells[key] = f"${letter}{r}"
        for (output, letter, template), quantity in zip(layout.outputs, quantities, strict=True):
            if counted and output.takes(line.deduct) and not quantity.broken[number]:
                sign = f"$G{r}*" if output.deducts == "subtract" else ""
                value = float(quantity.each[number])
                written.append(_Cell(letter, value, style, sign + template.format_map(cells)))
            else:
                written.append(_Cell(letter, 0, style))
        self._row(sheet, row, written)

    def prices(self) -> None:
        """Per resource: its quotes, and the price they come to."""
        sheet, row = self.sheets[PRICES], 2
        sheet.write_string(
            0, 0, f"Prices in {self.document.currency} on {self.document.price_date:%d %b %Y}", self.title
        )
        self._heads(
            sheet,
            1,
            [
                "Resource, supplier",
                "Basis, quoted on",
                "Valid to",
                "Price",
                "Units in it",
                f"{self.document.currency} per unit",
                "",
            ],
        )
        for block in self.document.prices:
            sheet.write_string(row, 0, block.name, self.bold)
            sheet.write_string(row, 1, f"per {block.unit}, {BASES[block.basis]}", self.quiet)
            used = [
                f"F{row + 2 + at}" for at, quote in enumerate(block.quotes) if quote.reference in block.used
            ]
            if used:
                function = "MEDIAN" if block.basis == "median" else "AVERAGE"
                sheet.write_formula(
                    row, 5, f"=ROUND({function}({','.join(used)}),6)", self.sum, float(block.price or 0)
                )
            elif block.price is not None:
                sheet.write_number(row, 5, float(block.price), self.sum)
            else:
                sheet.write_string(row, 5, "no price", self.quiet)
            self.at.prices[block.id] = f"{PRICES}!{cell(row, 5, row_abs=True, col_abs=True)}"
            row += 1
            for quote in block.quotes:
                sheet.write_string(row, 0, quote.supplier, self.plain)
                sheet.write_datetime(row, 1, _midnight(quote.quoted_on), self.day)
                if quote.valid_to:
                    sheet.write_datetime(row, 2, _midnight(quote.valid_to), self.day)
                sheet.write_number(row, 3, float(quote.price), self.number)
                sheet.write_number(row, 4, float(quote.contains), self.number)
                sheet.write_formula(row, 5, f"=D{row + 1}/E{row + 1}", self.number, float(quote.per_unit))
                if quote.reference in block.used:
                    sheet.write_string(row, 6, "used", self.plain)
                row += 1
            row += 1

    def rates(self) -> None:
        """Per build-up: its lines, worked out, and the rate."""
        looks = Looks(self.plain, self.bold, self.quiet, self.head, self.number, self.sum, self.total)
        sheet = self.sheets[RATES]
        sheet.write_string(0, 0, f"Build-ups in {self.document.currency}", self.title)
        cells = Cells(self.at.prices, self.at.quantities, self.at.units)
        self.at.rates, self.at.costs = write_rates(sheet, self.document.rates, looks, cells)

    def bill(self) -> None:
        """The bill itself, with section totals, adjustments and the total."""
        sheet, document = self.sheets[BILL], self.document
        sheet.write_string(0, 0, document.project, self.title)
        sheet.write_string(
            1,
            0,
            f"{document.client}. Amounts in {document.currency}, prices on {document.price_date:%d %b %Y}",
            self.quiet,
        )
        self._heads(sheet, 3, ["Item", "Description", "Unit", "Quantity", "Rate", "Amount", "Quantity from"])
        sheet.freeze_panes(4, 0)
        sheet.repeat_rows(3)
        row, amounts = 4, dict[Apart, list[str]]()
        for section in document.sections:
            sheet.write_string(row, 0, section.ref, self.bold)
            sheet.write_string(row, 1, section.title, self.bold)
            row += 1
            for item in section.items:
                self._item(sheet, row, item)
                amounts.setdefault(item.apart, []).append(f"F{row + 1}")
                row += 1
            if section.items:
                sheet.write_string(row, 1, f"{section.title}, total of items", self.bold)
                total = float(sum(item.amount for item in section.items))
                sheet.write_formula(
                    row, 5, f"=SUM(F{row + 1 - len(section.items)}:F{row})", self.total, total
                )
                row += 2
        self._foot(sheet, row, amounts)

    def _item(self, sheet: Worksheet, row: int, item: ItemRow) -> None:
        words = (
            item.description
            if item.kind in ("measured", "heading")
            else f"{item.description} ({KIND_WORDS[item.kind]})"
        )
        style = self.bold if item.kind == "heading" else self.wrap
        for column, text, look in ((0, item.ref, self.plain), (1, words, style)):
            sheet.write_string(row, column, text, look)
        if item.kind == "heading":
            return
        sheet.write_string(row, 2, "" if item.kind in SUMS else item.unit, self.plain)
        if item.kind in SUMS:
            self._sum(sheet, row, item)
            return
        places = self.document.places.get(item.unit, 2)
        told = [f"typed: {item.typed_reason}"] if item.typed_quantity else []
        if item.typed_quantity or (item.kind == "time" and not item.links):
            sheet.write_number(row, 3, float(item.quantity), self.number)
            told += [] if item.typed_quantity else ["as long as the work lasts"]
        else:
            terms = [self._term(link, item.unit) for link in item.links]
            sheet.write_formula(
                row, 3, f"=ROUND({'+'.join(terms) or '0'},{places})", self.number, float(item.quantity)
            )
        if item.typed_rate:
            sheet.write_number(row, 4, float(item.rate or 0), self.rate)
        elif formula := self._rate(item):
            sheet.write_formula(row, 4, formula, self.rate, float(item.rate or 0))
        else:
            sheet.write_string(row, 4, "no rate", self.quiet)
        sheet.write_string(row, 6, "; ".join(filter(None, (*told, item.note))), self.wrap)
        if item.kind == "rate_only":
            sheet.write_string(row, 5, "rate only", self.quiet)
        else:
            sheet.write_formula(row, 5, f"=ROUND(D{row + 1}*N(E{row + 1}),2)", self.money, float(item.amount))

    def _rate(self, item: ItemRow) -> str:
        """The formula of an item's rate, rounded once; empty where it has none."""
        if item.composed is not None:
            parts = "+".join(self._part(part) for part in item.composed.parts)
            return f"=ROUND({parts},{item.composed.places})" if item.composed.priced else ""
        return f"={self.at.rates[item.build_up]}" if item.build_up is not None else ""

    def _part(self, part: PartRow) -> str:
        cost = f"N({self.at.costs[part.nested]})" if part.nested is not None else str(part.price)
        added = part.terms.added
        share = f"*(1+{added}/100)" if part.terms.added_on == "cost" else f"/(1-{added}/100)"
        times = f"{part.factor}*" if part.factor != 1 else ""
        return f"{times}{cost}{share if added else ''}"

    def _sum(self, sheet: Worksheet, row: int, item: ItemRow) -> None:
        """A sum: its amount as typed, or its rate once."""
        sheet.write_string(row, 6, "; ".join(filter(None, (item.typed_reason, item.note))), self.wrap)
        once = str(item.rate or 0) if item.typed_rate else self._rate(item).removeprefix("=") or "0"
        value = f"N({once})" if item.typed_amount is None else str(item.typed_amount)
        sheet.write_formula(row, 5, f"=ROUND({value},2)", self.money, float(item.amount))

    def _term(self, link: Drawn, item_unit: str) -> str:
        key = (link.element, link.output, *((link.split, link.part) if link.part else ()))
        if key not in self.at.quantities:  # a part that is no more
            return "0"
        share = read_entry(link.factor, "") * unit_of(self.at.units[key]).size / unit_of(item_unit).size
        return self.at.quantities[key] + (f"*{share!r}" if share != 1 else "")

    def _foot(self, sheet: Worksheet, row: int, amounts: Mapping[Apart, Sequence[str]]) -> None:
        """What the items come to, apart and together; adjustments, total."""
        summary = self.document.summary
        for apart, words in APART_WORDS.items() if len(amounts) > 1 else ():
            if apart in amounts:
                sheet.write_string(row, 1, words.capitalize(), self.plain)
                total = sum(i.amount for s in self.document.sections for i in s.items if i.apart == apart)
                sheet.write_formula(
                    row, 5, f"=SUM({','.join(_runs(amounts[apart]))})", self.money, float(total)
                )
                row += 1
        every = [each for cells in amounts.values() for each in cells]
        aside = amounts.get("set_aside", ())
        sheet.write_string(row, 1, "Sum of the items", self.bold)
        sheet.write_formula(
            row, 5, f"=SUM({','.join(_runs(every)) or '0'})", self.total, float(summary.items)
        )
        items = f"F{row + 1}"
        bases = {
            "items": items,
            "running": items,
            "work": f"({items}-SUM({','.join(_runs(aside))}))" if aside else items,
        }
        for worked in summary.adjustments:
            row += 1
            adjustment = worked.adjustment
            sheet.write_string(row, 1, adjustment.name, self.plain)
            sheet.write_number(row, 4, float(adjustment.percent), self.number)
            sheet.write_string(row, 6, f"% of the {base_words(adjustment.base)}", self.quiet)
            sheet.write_formula(
                row, 5, f"=ROUND(({bases[adjustment.base]})*E{row + 1}/100,2)", self.money, float(worked.adds)
            )
            bases["running"] += f"+F{row + 1}"
            bases[AFTER + adjustment.name] = bases["running"]
        sheet.write_string(row + 1, 1, f"Total, {self.document.currency}", self.bold)
        sheet.write_formula(row + 1, 5, f"={bases['running']}", self.total, float(summary.total))


_WIDTHS = {
    BILL: (8, 52, 7, 12, 12, 15, 30),
    DIMENSIONS: (34, 12, 12, 10, 10, 10, 12, *([14] * 24)),
    RATES: (34, 14, 11, 11, 7, 11, 12, 11, 13, 13, 13, 13, 30),
    PRICES: (34, 30, 12, 12, 12, 14, 8),
}


def _runs(cells: Sequence[str]) -> list[str]:
    """Cells of one column gathered into ranges, so that a long sum stays short."""
    numbers, spans = sorted(int(c[1:]) for c in cells), []
    for number in numbers:
        if spans and spans[-1][1] == number - 1:
            spans[-1][1] = number
        else:
            spans.append([number, number])
    return [f"F{low}:F{high}" for low, high in spans]


def _input_rows(makeup: MakeUp, entries: Mapping[str, str], used: set[str]) -> list[tuple[str, str, str]]:
    """The values the inputs set that formulas use, and every input as asked: its name, its label, and
    where it comes from."""
    rows = []
    for item in makeup.inputs.values():
        entry = entries.get(item.key, item.default)
        if item.choices:
            rows += [
                (name, f"{name}, by {item.label.lower()}", entry)
                for name in item.choices[0].sets
                if name in used
            ]
        elif not item.words and item.key in used:
            base = makeup.system.symbol_of(makeup.dimensions[item.key])
            told = f"{entry} {item.unit}" if entry.replace(".", "").isdecimal() else entry
            rows.append((item.key, f"{item.label}, {base}" if base else item.label, written(told)))
    return rows


def _midnight(day: date) -> datetime:
    return datetime.combine(day, time())
