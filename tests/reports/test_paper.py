"""The bill and the dimension sheets on paper: page totals, the collection, words of any length and script."""

from __future__ import annotations

import io
import re
import unittest
from datetime import date
from decimal import Decimal

import pypdfium2 as pdfium

from sandscale.core.makeups.makeup import built_in
from sandscale.core.makeups.measurer import Entered, OverLines
from sandscale.core.makeups.run import Line
from sandscale.core.pricing.bill import Adjustment, summary
from sandscale.reports import bill_pdf, dimensions_pdf
from sandscale.reports.bill_xlsx import BillDocument, ElementBlock, ItemRow, SectionRow
from sandscale.reports.paper import RIGHT, SANS, SIZE, fonts, wrapped

LONG = "Concrete C30/37 in ground beams, placed against the face of existing work and vibrated in layers of 300, "


def pages_of(content: bytes) -> list[str]:
    return [
        page.get_textpage().get_text_bounded().replace("\r\n", "\n")
        for page in pdfium.PdfDocument(io.BytesIO(content))
    ]


def amount(text: str) -> Decimal:
    return Decimal(re.sub(r"[\s\u00a0]", "", text).replace("−", "-"))


def item(ref: str, description: str, cents: int, kind: str = "measured") -> ItemRow:
    money = Decimal(cents) / 100
    return ItemRow(
        ref,
        kind,
        description,
        "m³",
        Decimal("1.5"),
        "",
        "",
        money if kind == "provisional" else None,
        None,
        money,
        money,
        [],
    )  # type: ignore[arg-type]


def document(
    items: list[ItemRow],
    elements: list[ElementBlock] | None = None,
    project: str = "Ferrin Weir Pumping Station",
) -> BillDocument:
    total = sum((i.amount for i in items), Decimal(0))
    section = SectionRow("1", 0, "Concrete <b>& more</b>", total, items)
    foot = summary(total, [Adjustment("Overheads", Decimal("8.5"), "items")])
    return BillDocument(
        project,
        "Marl Valley Water Board",
        "EUR",
        date(2026, 11, 2),
        [section],
        foot,
        elements or [],
        [],
        [],
        {},
    )


class Bill(unittest.TestCase):
    def test_each_page_totals_the_items_on_it_and_the_collection_carries_them(self) -> None:
        # Descriptions of one to four lines, so that pages are turned at every kind of row.
        items = [item(f"1.{n}", f"Item {n} " + LONG * (n % 3), n * 101) for n in range(1, 161)]
        pages = pages_of(bill_pdf.write(document(items), lambda _share: None))
        self.assertGreater(len(pages), 6)
        collected = [
            amount(match) for match in re.findall(r"^Page \d+ ([\d\s\u00a0.,−]+?)$", pages[-1], re.MULTILINE)
        ]
        self.assertEqual(len(collected), len(pages) - 1)
        seen = 0
        for number, page in enumerate(pages[:-1]):
            shown = [int(n) for n in re.findall(r"^1\.\d+ Item (\d+) ", page, re.MULTILINE)]
            self.assertTrue(shown)
            seen += len(shown)
            foot = re.search(r"To collection ([\d\s\u00a0.]+?)$", page, re.MULTILINE)
            assert foot is not None
            self.assertEqual(amount(foot[1]), Decimal(sum(shown) * 101) / 100, f"page {number + 1}")
            self.assertEqual(collected[number], amount(foot[1]))
        self.assertEqual(seen, 160)
        self.assertIn("Sum of the items 13\u00a0008.80", pages[-1].replace(" 008", "\u00a0008"))
        self.assertIn("Concrete <b>& more</b>", pages[0])

    def test_words_longer_than_a_page_go_on_over_the_pages_and_none_is_lost(self) -> None:
        words = " ".join(f"word{n}" for n in range(3000))
        pages = pages_of(
            bill_pdf.write(
                document([item("1.1", words, 100), item("1.2", "After it", 250, "provisional")]),
                lambda _share: None,
            )
        )
        self.assertEqual(re.findall(r"word\d+", " ".join(pages)), words.split())
        self.assertIn("After it (provisional sum)", " ".join(pages))

    def test_a_long_project_name_leaves_room_for_the_title_and_scripts_are_kept(self) -> None:
        (first, _) = pages_of(
            bill_pdf.write(
                document([item("1.1", "Бетон у темељу, Θεμέλιο, grūnts, żwir", 100)], project="Weir " * 60),
                lambda _share: None,
            )
        )
        self.assertIn("…", first.split("\n")[0])
        self.assertIn("Бетон у темељу, Θεμέλιο, grūnts, żwir", first)

    def test_lines_are_never_wider_than_they_may_be(self) -> None:
        fonts()
        from reportlab.pdfbase.pdfmetrics import stringWidth

        for text in ("", " ", "one", LONG * 3, "x" * 500, f"short {'y' * 300} short"):
            lines = wrapped(text, SANS, SIZE, 120)
            self.assertTrue(all(stringWidth(line, SANS, SIZE) <= 120 for line in lines), text)
            self.assertEqual("".join("".join(lines).split()), "".join(text.split()))


class Dimensions(unittest.TestCase):
    def block(self, **entries: str) -> ElementBlock:
        line = Line(
            times=4, times_shown="4", length=1.8, width=1.8, height=0.5, note="Grid 2/A", link="figure:7"
        )
        entered = Entered(built_in()["pad-footing"], entries, (line,))
        measured = OverLines().measure(entered)
        said = [f.says for f in measured.findings]
        return ElementBlock(1, "PF2", "", "Pump house", entered, measured.quantities, said)

    def test_lines_quantities_and_where_they_were_measured(self) -> None:
        (page,) = pages_of(
            dimensions_pdf.write(
                document([], [self.block()]), {"figure:7": "FW-S-101 p. 1"}, lambda _share: None
            )
        )
        self.assertIn("4 Grid 2/A, FW-S-101 p. 1 1.80 1.80 0.50 6.48", page.replace("4/ ", "4 "))
        for words in (
            "Concrete 6.48 m³",
            "Formwork to sides 14.40 m²",
            "Bars, 397.32 with 3 % waste 385.75 kg",
        ):
            self.assertIn(words, page)

    def test_long_findings_and_inputs_stay_on_the_paper(self) -> None:
        entries = {
            "spacing": "1500",
            "cover": "75",
            "grade": "C30/37",
            "projection": "150",
            "stock": "12",
            "working_space": "450",
            "bulking": "1.25",
        }
        content = dimensions_pdf.write(document([], [self.block(**entries)] * 30), {}, lambda _share: None)
        text = " ".join(pages_of(content)).replace("\n", " ")
        self.assertEqual(text.count("are the bar and spacing right?"), 30)
        for page in pdfium.PdfDocument(io.BytesIO(content)):
            for found in page.get_objects():
                self.assertLessEqual(found.get_bounds()[2], RIGHT + 1)


if __name__ == "__main__":
    unittest.main()
