"""Reading drawings: pages, tiles, and files that can't be taken."""

from __future__ import annotations

import io
import unittest

import pypdfium2 as pdfium
from PIL import Image
from pypdfium2 import raw
from reportlab.lib.pdfencrypt import StandardEncryption
from reportlab.pdfgen.canvas import Canvas

from sandscale.demo import plan
from sandscale.demo.drawings import foundation_drawing
from sandscale.formats import pdf
from tests import scene


def locked() -> bytes:
    out = io.BytesIO()
    canvas = Canvas(out, encrypt=StandardEncryption("secret"))
    canvas.drawString(100, 100, "locked")
    canvas.save()
    return out.getvalue()


def rotated() -> bytes:
    document = pdfium.PdfDocument(scene.pdf(size=(1000, 800)))
    document[0].set_rotation(90)
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def picture(content: bytes, *tile: int) -> Image.Image:
    return Image.open(io.BytesIO(pdf.tile(content, str(hash(content)), *tile))).convert("L")


class Pages(unittest.TestCase):
    def test_every_page_has_its_size_as_printed(self) -> None:
        self.assertEqual(
            [(p.number, p.width, p.height) for p in pdf.read_pages(scene.pdf(3), "a.pdf")],
            [(n, 1000, 800) for n in (1, 2, 3)],
        )
        self.assertEqual([(p.width, p.height) for p in pdf.read_pages(rotated(), "a.pdf")], [(800, 1000)])

    def test_files_that_cannot_be_taken_say_why(self) -> None:
        good = scene.pdf()
        for content, said in (
            (b"", "is not a PDF"),
            (b"PK\x03\x04 a zip", "is not a PDF"),
            (b"%PDF-1.7\n" + b"\x00garbage" * 500, "is broken"),
            (good[:90], "is broken"),
            (locked(), "is locked with a password"),
            (scene.pdf(pdf.MOST_PAGES + 1, (100, 100)), f"has {pdf.MOST_PAGES + 1} pages"),
            (scene.pdf(size=(20_000, 100)), "is 278 × 1 inches"),
            (b"%PDF-" + b" " * pdf.LARGEST_FILE, "is larger than 80 MB"),
        ):
            with self.subTest(said), self.assertRaises(pdf.UnreadablePdf) as refused:
                pdf.read_pages(content, "plan.pdf")
            self.assertIn(said, refused.exception.sentence)
            self.assertIn("plan.pdf", refused.exception.sentence)

    def test_a_damaged_file_is_read_or_refused_never_worse(self) -> None:
        content = bytearray(scene.pdf(2))
        for at in range(0, len(content), 37):
            hurt = bytes(content[:at] + bytes([content[at] ^ 0xFF]) + content[at + 1 :])
            try:
                for page in pdf.read_pages(hurt, "hurt.pdf"):
                    pdf.tile(hurt, f"hurt{at}", page.number, 0, 0, 0)
            except pdf.UnreadablePdf:
                continue


class Tiles(unittest.TestCase):
    def test_tiles_put_together_are_the_page(self) -> None:
        content = scene.pdf()
        # At zoom 2 a sheet unit is a pixel: the rectangle's left edge at x 100 is pixel 100, its top at y 400 is 800 − 400 down.
        whole = Image.new("L", (1024, 1024), 255)
        for column in range(4):
            for row in range(4):
                whole.paste(picture(content, 1, 2, column, row), (column * 256, row * 256))
        self.assertLess(min(whole.getpixel((x, 600)) for x in (99, 100)), 160)
        self.assertLess(min(whole.getpixel((300, y)) for y in (399, 400)), 160)
        self.assertEqual(whole.getpixel((300, 500)), 255)
        self.assertLess(min(whole.getpixel((x, 500)) for x in (599, 600)), 160)

    def test_a_tile_off_the_page_or_a_page_off_the_file_is_refused(self) -> None:
        content = scene.pdf()
        for tile in ((2, 2, 0, 0), (1, 2, 4, 0), (1, 2, 0, 4), (1, 9, 0, 0), (0, 2, 0, 0)):
            with self.subTest(tile), self.assertRaises(pdf.UnreadableDrawing):
                pdf.tile(content, "off", *tile)

    def test_an_edge_tile_is_padded_white(self) -> None:
        edge = picture(scene.pdf(), 1, 2, 3, 3)
        self.assertEqual(edge.size, (256, 256))
        self.assertEqual(edge.getpixel((255, 255)), 255)


class Demonstration(unittest.TestCase):
    """The plan is a real drawing: its lines lie where the demonstration's figures are."""

    def test_it_is_an_a1_plan_with_a_sheet_of_sections(self) -> None:
        pages = pdf.read_pages(foundation_drawing(), "FW-S-101.pdf")
        self.assertEqual(
            [(round(p.width / plan.MM), round(p.height / plan.MM)) for p in pages], [(841, 594), (841, 594)]
        )

    def test_the_slab_and_every_footing_are_drawn_where_they_are_measured(self) -> None:
        page = pdfium.PdfDocument(foundation_drawing())[0]
        boxes = [item.get_bounds() for item in page.get_objects(filter=[raw.FPDF_PAGEOBJ_PATH])]
        rings = [plan.SLAB, plan.SUMP] + [
            plan.square(centre, f.length, f.width) for f in plan.FOOTINGS for centre in f.centres()
        ]
        self.assertEqual(len(rings), 2 + 6 + 4)
        for ring in rings:
            corners = plan.ring_on_sheet(ring)
            wanted = (
                min(x for x, _ in corners),
                min(y for _, y in corners),
                max(x for x, _ in corners),
                max(y for _, y in corners),
            )
            self.assertTrue(
                any(all(abs(a - b) < 2 for a, b in zip(box, wanted, strict=True)) for box in boxes), ring
            )


if __name__ == "__main__":
    unittest.main()
