"""The demonstration's bills: preliminaries and composite items of our own, and a client's workbook, made by
code as a client's would be: merged heads, formulas, a hidden sheet, print areas."""

from __future__ import annotations

import io
from collections.abc import Sequence
from datetime import date

import xlsxwriter

from ..services.bill import actions as bill
from ..services.bill import bills, composing, matching, received
from ..services.issue import forms
from ..services.keeping.acting import Actor
from ..services.order import actions as ordering
from ..store.models import Bill, BuildUp, Resource, Section

PERIOD = "26 weeks"
OWN_LIST = "Sandhall Civil, own list of 2026"
# kind, words, unit, amount or rate, quantity where it isn't how long the work lasts
PRELIMINARIES = (
    ("fixed", "Site set up, fenced and cleared away", "nr", "6800", ""),
    ("time", "Site office, stores and welfare", "week", "245", ""),
    ("time", "Site agent, two days a week", "day", "410", "52"),
    ("fixed", "Setting out and as-built survey", "nr", "2150", ""),
)
# words, unit, quantity, where that comes from, rates with how many of each
COMPOSITES = (
    (
        "Pump plinth 1.20 × 0.90 × 0.80 with formwork and bars", "nr", "4", "FW-S-101, note 7",
        (
            ("Concrete placed in footings", "1.2*0.9*0.8"),
            ("Formwork to sides of footings", "(1.2+0.9)*2*0.8"), ("Bars fixed in footings", "62"),
        ),
    ),
    (
        "Upstand 150 × 300 round the roof, complete", "m", "52.4", "FW-S-101, note 9",
        (
            ("Concrete placed in ground slab", "0.15*0.3"), ("Formwork to sides of footings", "0.6"),
            ("Bars fixed in footings", "5.4"),
        ),
    ),
)  # fmt: skip
TITLE, DATED, FILE = "Weir Lane storm tank", date(2026, 11, 12), "MVWB-114 storm tank bill.xlsx"
_Row = tuple[str, str, str, float | None]
# number, words, unit, quantity; a row without a unit is a section
SUBSTRUCTURE: Sequence[_Row] = (
    ("1", "Excavation and earthwork", "", None),
    ("1.01", "Excavate to formation level, maximum depth 2 m", "m3", 412.0),
    ("1.02", "Cart excavated material away, measured in place", "m3", 318.5),
    ("1.03", "Granular sub-base 150 thick, compacted", "m3", 27.3),
    ("2", "Concrete work", "", None),
    ("", "Concrete C30/37 with 20 mm aggregate, cured for seven days", "", None),
    ("2.01", "Concrete C30/37 in ground slabs", "m3", 46.8),
    ("2.02", "Concrete C30/37 in retaining walls", "m3", 61.25),
    ("2.03", "Formwork to faces of retaining walls", "m2", 408.0),
    ("2.04", "Bars 16 mm, high yield, in retaining walls", "kg", 6420.0),
    ("2.05", "Power float top surface of slabs", "sqm", 187.0),
    ("2.06", "Waterstop 250 wide in joints", "m", 74.0),
)
FINISHES: Sequence[_Row] = (
    ("3", "Pipework and fittings", "", None),
    ("3.01", "Pipe PE DN 200 laid in trench", "lm", 38.0),
    ("3.02", "Manholes, 1 to 2 m deep", "No.", 2.0),
    ("4", "General", "", None),
    ("4.01", "Testing the tank for water-tightness", "item", 1.0),
    ("4.02", "Provisional sum for work on the existing outfall", "sum", 1.0),
)


def client_bill() -> bytes:
    """The Water Board's workbook: a cover, two bills with a formula for each amount, a summary, and a hidden
    sheet that theirs rests on."""
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out, {"in_memory": True})
    book.set_properties({"author": "Marl Valley Water Board", "created": DATED})
    looks = {
        "title": book.add_format({"bold": True, "font_size": 14, "align": "center", "bg_color": "#DCE6EA"}),
        "head": book.add_format({"bold": True, "border": 1, "text_wrap": True, "bg_color": "#EEF2F4"}),
        "section": book.add_format({"bold": True, "top": 1}), "words": book.add_format({"italic": True}),
        "text": book.add_format({"text_wrap": True, "valign": "top", "border": 1}),
        "number": book.add_format({"num_format": "#,##0.00", "border": 1}),
        "rate": book.add_format({"num_format": "#,##0.00", "border": 1, "bg_color": "#FFFBE6"}),
        "total": book.add_format({"bold": True, "num_format": "#,##0.00", "top": 1, "bottom": 6}),
    }  # fmt: skip
    cover = book.add_worksheet("Cover")
    cover.merge_range("A1:F1", "Marl Valley Water Board", looks["title"])
    cover.write("A3", "Contract MVWB-114: Weir Lane storm tank")
    cover.write("A4", "Rates and amounts are filled in the shaded column; nothing else may be altered.")
    totals = [
        _client_sheet(book, "Bill 1 Structure", SUBSTRUCTURE, looks),
        _client_sheet(book, "Bill 2 Pipes and general", FINISHES, looks),
    ]
    summary = book.add_worksheet("Summary")
    summary.merge_range("A1:C1", "Summary", looks["title"])
    for at, (name, cell) in enumerate(totals, start=2):
        summary.write(at, 0, f"Bill {at - 1}", looks["text"])
        summary.write_formula(at, 2, f"='{name}'!{cell}", looks["number"], 0)
    summary.write(4, 0, "Sum for comparison", looks["section"])
    summary.write_formula(4, 2, "=SUM(C3:C4)*(1+Terms!B2)", looks["total"], 0)
    terms = book.add_worksheet("Terms")
    terms.write_row("A1", ["Term", "Value"], looks["head"])
    terms.write("A2", "Contingency")
    terms.write("B2", 0.05)
    terms.hide()
    book.close()
    return out.getvalue()


def _client_sheet(
    book: xlsxwriter.Workbook, name: str, rows: Sequence[_Row], looks: dict[str, xlsxwriter.format.Format]
) -> tuple[str, str]:
    """A bill on a sheet; gives its name and the cell of its total."""
    sheet = book.add_worksheet(name)
    sheet.merge_range("A1:F1", f"Weir Lane storm tank: {name}", looks["title"])
    sheet.write_row("A3", ["Item", "Description", "Unit", "Qty", "Rate EUR", "Amount EUR"], looks["head"])
    sheet.set_column("B:B", 58)
    sheet.set_column("C:F", 13)
    at = 4
    for number, words, unit, quantity in rows:
        if not unit:
            sheet.write(at, 0, number, looks["section"])
            sheet.write(at, 1, words, looks["section" if number else "words"])
        else:
            for column, value in enumerate((number, words, unit, quantity)):
                sheet.write(at, column, value, looks["number" if column == 3 else "text"])
            sheet.write_blank(at, 4, None, looks["rate"])
            sheet.write_formula(at, 5, f"=ROUND(D{at + 1}*E{at + 1},2)", looks["number"], 0)
        at += 1
    sheet.write(at + 1, 1, f"Total of {name}, carried to summary", looks["section"])
    sheet.write_formula(at + 1, 5, f"=SUM(F5:F{at})", looks["total"], 0)
    sheet.print_area(0, 0, at + 1, 5)
    sheet.repeat_rows(2)
    sheet.freeze_panes(3, 0)
    return name, f"F{at + 2}"


FORM = "Tender form.xlsx"
# The cells of the form: a name and the number that stands beside it, by what it is tied to.
_FORM_ROWS = (
    ("Tender sum", "bill"), ("Concrete", "Concrete"), ("Masonry", "Masonry"),
    ("Preliminaries", "Preliminaries"),
)  # fmt: skip


def tender_form() -> bytes:
    """A form of our own: a sum, what makes it up, and shares that it reckons by itself."""
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out, {"in_memory": True})
    bold = book.add_format({"bold": True})
    money, share = (book.add_format({"num_format": look, "border": 1}) for look in ("#,##0.00", "0.0%"))
    sheet = book.add_worksheet("Tender")
    sheet.set_column("A:A", 26)
    sheet.set_column("B:C", 16)
    sheet.write_row("A1", ["Form of tender", "EUR", "of the sum"], bold)
    for at, (name, _) in enumerate(_FORM_ROWS, start=2):
        sheet.write(at, 0, name)
        sheet.write_blank(at, 1, None, money)
        sheet.write_formula(at, 2, f"=B{at + 1}/TenderSum", share, 0)
    book.define_name("TenderSum", "=Tender!$B$3")
    book.close()
    return out.getvalue()


def _fill_in(actor: Actor) -> None:
    form = forms.add_form(actor, tender_form(), FORM).id or 0
    own = Bill.get((Bill.project == actor.project_id) & (Bill.kind == "own"))
    sections = {row.title: row.id for row in Section.select().where(Section.bill == own)}
    for at, (_, what) in enumerate(_FORM_ROWS, start=3):
        ref = "bill" if what == "bill" else f"section:{sections[what]}"
        forms.tie_cell(actor, form, "TenderSum" if what == "bill" else f"Tender!B{at}", ref)


def load(actor: Actor) -> None:
    """Preliminaries and composite items into our own bill, and the client's workbook received and matched as
    far as it is sure; and a form of our own that is filled from it."""
    named = {b.name: b.id for b in BuildUp.select().where(BuildUp.project == actor.project_id)}
    own = Bill.get((Bill.project == actor.project_id) & (Bill.kind == "own"))
    bills.change_bill(actor, own.id, own.version, {"period": PERIOD})
    several = bill.add_section(actor, "Composite items").id or 0
    for words, unit, quantity, reason, parts in COMPOSITES:
        fields = {"description": words, "unit": unit, "typed_quantity": quantity, "typed_reason": reason}
        item = bill.add_item(actor, several, fields).id or 0
        for rate, factor in parts:
            composing.add_part(actor, item, named[rate], factor)
    section = bill.add_section(actor, "Preliminaries").id or 0
    for kind, words, unit, money, quantity in PRELIMINARIES:
        fields = {"kind": kind, "description": words, "unit": unit}
        if kind == "fixed":
            fields |= {"typed_amount": money, "typed_reason": OWN_LIST}
        else:
            fields |= {"typed_rate": money, "rate_reason": OWN_LIST}
            fields |= {"typed_quantity": quantity, "typed_reason": "FW programme, rev. B"} if quantity else {}
        bill.add_item(actor, section, fields)
    wanted = ("Cement", "Sharp sand", "Coarse aggregate 20 mm")
    resources = {row.name: row.id for row in Resource.select().where(Resource.project == actor.project_id)}
    order = ordering.order_resources(actor, [resources[name] for name in wanted]).id or 0
    ordering.send_order(actor, order)
    theirs = received.receive_workbook(actor, TITLE, DATED, client_bill(), FILE).id or 0
    sure = {m.item.id: m.offered[0].id for m in matching.matches(actor, theirs) if m.sure and m.item}
    matching.take_matches(actor, theirs, sure)
    _fill_in(actor)
