"""The bill of quantities as PDF: items by section, a total at the foot of each page, a collection, the
summary."""

from __future__ import annotations

from decimal import Decimal

from ..core.numbers.working import shown
from ..core.pricing.bill import APART_WORDS, KIND_WORDS, SUMS, base_words
from .bill_xlsx import BillDocument, ItemRow
from .paper import INK, LEFT, QUIET, RIGHT, Column, Heading, Pages, Progress, money

_COLUMNS = (
    Column("Item", LEFT, 42), Column("Description", LEFT + 46, 226), Column("Quantity", LEFT + 276, 66, True),
    Column("Unit", LEFT + 348, 30),
    Column("Rate", LEFT + 380, 58, True), Column("Amount", LEFT + 444, RIGHT - LEFT - 444, True),
)  # fmt: skip


def write(document: BillDocument, progress: Progress) -> bytes:
    """The document's bytes; progress from 0 to 1 is told as it goes."""
    note = f"Amounts in {document.currency}, prices on {document.price_date:%d %b %Y}"
    pages = Pages(
        Heading(document.project, document.client, "Bill of quantities", note),
        _COLUMNS,
        total_words="To collection",
    )
    for number, section in enumerate(document.sections):
        progress(number / max(len(document.sections), 1) * 0.9)
        pages.room(4)
        pages.row(
            (section.ref, section.title, "", "", "", ""),
            bold=True,
            line=False,
            above=8,
            indent=section.depth * 8,
        )
        for item in section.items:
            _item(pages, item)
        if section.items:
            own = sum((i.amount for i in section.items), Decimal(0))
            pages.row(("", f"{section.title}, total of items", "", "", "", money(own)), bold=True)
    collected = [*pages.totals, (pages.number, pages.page_total)]
    _collection(pages, collected, document)
    return pages.finish()


def _item(pages: Pages, item: ItemRow) -> None:
    if item.kind == "heading":
        pages.row((item.ref, item.description, "", "", "", ""), bold=True, line=False, above=4)
        return
    words = item.description if item.kind == "measured" else f"{item.description} ({KIND_WORDS[item.kind]})"
    words = f"{words}. {item.note}" if item.note else words
    quantity = (
        "" if item.kind in SUMS else shown(item.quantity, least=0 if item.unit in ("nr", "kg") else 2, most=3)
    )
    rate = shown(item.rate, 2, 4) if item.rate is not None and item.kind not in SUMS else ""
    pages.row(
        (
            item.ref,
            words,
            quantity,
            "" if item.kind in SUMS else item.unit,
            rate,
            "rate only" if item.kind == "rate_only" else money(item.amount),
        )
    )
    pages.count(item.amount)  # after its row, which may have turned the page


def _collection(pages: Pages, collected: list[tuple[int, Decimal]], document: BillDocument) -> None:
    """Page totals carried together, then the adjustments and the total; the pages' sum is the items' sum."""
    pages.turn()
    pages.total_words = ""
    pages.words("Collection", bold=True, size=12)
    for page, total in collected:
        pages.row(("", f"Page {page}", "", "", "", money(total)))
    items = [item for section in document.sections for item in section.items]
    apart = {each: sum((i.amount for i in items if i.apart == each), Decimal(0)) for each in APART_WORDS}
    for each, total in apart.items():
        if total and total != document.summary.items:
            pages.row(("", f"of that {APART_WORDS[each]}", "", "", "", money(total)), color=QUIET)
    pages.row(("", "Sum of the items", "", "", "", money(document.summary.items)), bold=True)
    pages.room(len(document.summary.adjustments) + 6)
    pages.y -= 14
    pages.words("Summary", bold=True, size=12)
    for section in document.sections:
        if section.depth == 0:
            pages.row((section.ref, section.title, "", "", "", money(section.total)))
    for worked in document.summary.adjustments:
        percent = f"{shown(worked.adjustment.percent, least=0)} %"
        words = (
            f"{worked.adjustment.name}, {percent} of the {base_words(worked.adjustment.base)}, "
            f"{money(worked.on)}"
        )
        pages.row(("", words, "", "", "", money(worked.adds)), color=QUIET if worked.adds == 0 else INK)
    pages.rule()
    pages.row(("", f"Total, {document.currency}", "", "", "", money(document.summary.total)), bold=True)
