"""Scanned drawings, and what a PDF's page holds: its line work and words, as the page is seen."""

from __future__ import annotations

import io
import struct
import unittest
import zlib

import numpy as np
from PIL import Image
from reportlab.pdfgen.canvas import Canvas

from sandscale.formats import drawing_file, image, pdf
from sandscale.formats.page import UnreadableDrawing


def picture(
    kind: str, size: tuple[int, int] = (600, 400), dpi: int | None = 100, pages: int = 1, exif: bool = False
) -> bytes:
    out = io.BytesIO()
    frames = [Image.new("L", size, 255 - 60 * page) for page in range(pages)]
    frames[0].paste(0, (0, 0, 60, 40))
    more: dict[str, object] = {"dpi": (dpi, dpi)} if dpi else {}
    if exif:
        turned = Image.Exif()
        turned[0x0112] = 6
        more["exif"] = turned
    frames[0].save(
        out, kind, **more, **({"save_all": True, "append_images": frames[1:]} if pages > 1 else {})
    )
    return out.getvalue()


class Pictures(unittest.TestCase):
    def test_a_picture_is_as_large_as_its_resolution_says(self) -> None:
        for kind, dpi, width in (
            ("PNG", 100, 432),
            ("JPEG", 200, 216),
            ("TIFF", 100, 432),
            ("PNG", None, 288),
        ):
            _, (page,) = drawing_file.read_pages(picture(kind, dpi=dpi), "scan")
            self.assertAlmostEqual(page.width, width, delta=0.1, msg=kind)
        self.assertEqual(
            [p.number for p in drawing_file.read_pages(picture("TIFF", pages=3), "scan")[1]], [1, 2, 3]
        )
        _, (turned,) = drawing_file.read_pages(picture("JPEG", exif=True), "scan")
        self.assertLess(turned.width, turned.height)

    def test_tiles_show_the_picture_and_white_beyond_it(self) -> None:
        content = picture("PNG")
        tile = Image.open(io.BytesIO(drawing_file.tile(content, "image/png", "k", 1, 2, 0, 0))).convert("L")
        self.assertEqual(tile.size, (256, 256))
        self.assertLess(tile.getpixel((10, 10)), 30)  # 60 × 40 pixels at 100 dpi are 43 × 29 sheet units
        self.assertGreater(tile.getpixel((100, 100)), 225)
        corner = Image.open(io.BytesIO(drawing_file.tile(content, "image/png", "k", 1, 2, 1, 1))).convert("L")
        self.assertGreater(corner.getpixel((250, 250)), 250)
        with self.assertRaises(UnreadableDrawing):
            drawing_file.tile(content, "image/png", "k", 1, 2, 9, 9)

    def test_hostile_and_broken_pictures_are_refused(self) -> None:
        header = b"\x89PNG\r\n\x1a\n" + b"".join(
            struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
            for kind, data in (
                (b"IHDR", struct.pack(">IIBBBBB", 60_000, 60_000, 8, 0, 0, 0, 0)),
                (b"IDAT", zlib.compress(b"\0" * 100)),
                (b"IEND", b""),
            )
        )
        good = picture("PNG", (1200, 900))
        for content, said in (
            (header, "would unfold into more than 180 million pixels"),
            (good[: len(good) // 2], "is broken"),
            (b"\xff\xd8\xff\xe0 no picture", "is broken and can't be opened"),
            (b"II*\x00" + b"\xff" * 40, "is broken"),
            (b"GIF89a...", "is not a PDF, DXF, PNG, JPEG or TIFF"),
        ):
            with self.subTest(said), self.assertRaises(UnreadableDrawing) as refused:
                drawing_file.read_pages(content, "scan")
            self.assertIn(said, refused.exception.sentence)
        self.assertEqual(image.MOST_PIXELS, 180_000_000)


class PageContents(unittest.TestCase):
    def page(self, rotation: int = 0) -> pdf.PageContent:
        out = io.BytesIO()
        canvas = Canvas(out, pagesize=(400, 300))
        canvas.line(50, 60, 250, 60)
        canvas.rect(100, 100, 80, 40)
        canvas.circle(300, 200, 20)
        canvas.saveState()
        canvas.translate(10, 20)
        canvas.scale(2, 2)
        canvas.line(0, 0, 50, 0)
        canvas.restoreState()
        canvas.beginForm("detail")
        canvas.line(0, 0, 30, 0)
        canvas.endForm()
        canvas.saveState()
        canvas.translate(200, 250)
        canvas.doForm("detail")
        canvas.restoreState()
        canvas.drawString(60, 200, "Pad PF2 below")
        canvas.setPageRotation(rotation)
        canvas.save()
        return pdf.page_content(out.getvalue(), "x", 1)

    def has(self, content: pdf.PageContent, *line: float) -> bool:
        ends = np.array(line)
        return bool((np.abs(content.segments - ends).max(axis=1) < 0.05).any())

    def test_lines_of_paths_transforms_and_forms_and_curves_as_chords(self) -> None:
        content = self.page()
        for line in ((50, 60, 250, 60), (10, 20, 110, 20), (200, 250, 230, 250)):
            self.assertTrue(self.has(content, *line), line)
        self.assertEqual(
            sum(
                self.has(content, *line)
                for line in (
                    (100, 100, 180, 100),
                    (180, 100, 180, 140),
                    (180, 140, 100, 140),
                    (100, 140, 100, 100),
                    (100, 100, 100, 140),
                    (100, 140, 180, 140),
                    (180, 140, 180, 100),
                    (180, 100, 100, 100),
                )
            ),
            4,
        )
        around = content.segments[np.hypot(content.segments[:, 0] - 300, content.segments[:, 1] - 200) < 21]
        self.assertEqual(len(around), 32)

    def test_words_have_their_boxes(self) -> None:
        words = {word[0]: word[1:] for word in self.page().words}
        self.assertEqual(list(words), ["Pad", "PF2", "below"])
        self.assertAlmostEqual(words["Pad"][0], 60, delta=2)
        self.assertAlmostEqual(words["Pad"][1], 200, delta=2)

    def test_a_turned_page_is_read_as_it_is_seen(self) -> None:
        # Turned by a quarter to the right, (x, y) on a page 300 wide and 400 high is seen at (y, 300 − x).
        self.assertTrue(self.has(self.page(90), 60, 250, 60, 50))
        self.assertTrue(self.has(self.page(180), 350, 240, 150, 240))
        self.assertTrue(self.has(self.page(270), 340, 50, 340, 250))


if __name__ == "__main__":
    unittest.main()
