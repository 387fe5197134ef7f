"""A sheet with what is measured on it: laid over the page as it is seen, which stays lines and words."""

from __future__ import annotations

import io
import unittest
from dataclasses import replace

from reportlab.pdfgen.canvas import Canvas

from sandscale.formats import pdf
from sandscale.reports.sheet_pdf import DrawnFigure, SheetDocument, Total, write


def drawing(rotation: int) -> bytes:
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(400, 300))
    canvas.drawString(60, 200, "Terrace")
    canvas.setCropBox((20, 10, 380, 290))
    canvas.setPageRotation(rotation)
    canvas.save()
    return out.getvalue()


def places(content: bytes) -> dict[str, tuple[float, float]]:
    """Lower left corners of the words, as the page is seen."""
    return {word: (x, y) for word, x, y, *_ in pdf.page_content(content, "x", 1).words}


class MeasuredSheet(unittest.TestCase):
    def test_figures_and_totals_stand_where_they_were_drawn_on_pages_turned_any_way(self) -> None:
        for rotation in (0, 90, 180, 270):
            with self.subTest(rotation=rotation):
                content = drawing(rotation)
                (page,) = pdf.read_pages(content, "x")
                document = SheetDocument(
                    "x", page.width, page.height, 1, False,
                    [
                        DrawnFigure("S1", "concrete", "6.00m²", rings=[[(20, 20), (120, 20), (120, 80), (20, 80)], [(40, 30), (60, 30), (60, 50)]]),
                        DrawnFigure("F2", "earth", "9.40m", line=[(150, 150), (200, 150)]),
                        DrawnFigure("P3", "bars", "2nr", points=[(150, 30), (220, 30)]),
                    ],
                    [Total("S1", "concrete", "Slab", "5.80 m²")], (10, page.height - 10),
                )  # fmt: skip
                written = write(content, document)
                self.assertIn("Terrace", places(write(content, replace(document, figures=[], totals=[]))))
                (after,) = pdf.read_pages(written, "y")
                self.assertEqual((after.width, after.height), (page.width, page.height))
                words = places(written)
                self.assertLessEqual({"6.00m²", "9.40m", "ddt", "5.80"}, words.keys())
                for word, at in (
                    ("Terrace", places(content)["Terrace"]),
                    ("P3·1", (150, 40)),
                    ("P3·2", (220, 40)),
                    ("Measured", (18, page.height - 24)),
                ):
                    self.assertAlmostEqual(words[word][0], at[0], delta=2, msg=word)
                    self.assertAlmostEqual(words[word][1], at[1], delta=2, msg=word)
