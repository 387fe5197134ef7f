"""A DXF as a sheet: laid on paper at a usual ratio, its layers apart, words as words."""

from __future__ import annotations

import io
import unittest
from typing import Any

import ezdxf
import numpy as np
from ezdxf.enums import TextEntityAlignment
from PIL import Image
from reportlab.pdfbase.pdfmetrics import stringWidth

from sandscale.core.figures.line_drawing import LineDrawing, Stroke, Text
from sandscale.formats import dxf_sheet, pdf, pdf_layers
from sandscale.formats.dxf_file import is_dxf
from sandscale.formats.page import UnreadableDrawing
from sandscale.reports import line_drawing_pdf
from sandscale.typefaces import SANS


def dxf(
    *,
    unit: int = 4,
    empty: bool = False,
    door: bool = False,
    old: int = 3,
    more: Any = None,
    kind: str = "asc",
) -> bytes:
    """A room of 5 × 4 m in mm, a block in it, its name, and lines on a layer that is off."""
    document = ezdxf.new("R2010", units=unit, setup=True)
    for name in ("walls", "notes", "old"):
        document.layers.add(name)
    document.layers.get("old").off()
    column = document.blocks.new("column")
    column.add_lwpolyline([(-150, -150), (150, -150), (150, 150), (-150, 150)], close=True)
    space = document.layout("Layout1") if empty else document.modelspace()
    space.add_line((10_000, 20_000), (15_000, 20_000), {"layer": "walls"})
    space.add_lwpolyline(
        [(15_000, 20_000), (15_000, 24_000), (10_000, 24_000), (10_000, 20_000)],
        dxfattribs={"layer": "walls"},
    )
    for x in (11_000, 12_500, 14_000):
        space.add_blockref("column", (x, 22_000), {"layer": "walls"})
    space.add_text("WALL 240", height=200, dxfattribs={"layer": "notes"}).set_placement(
        (12_500, 23_000), align=TextEntityAlignment.MIDDLE_CENTER
    )
    space.add_circle((12_500, 21_000), 400, {"layer": "notes"})
    for at in range(old):
        space.add_line((10_500, 20_500 + 300 * at), (11_500, 20_600 + 300 * at), {"layer": "old"})
    if door:
        space.add_arc((12_000, 20_000), 900, 0, 90, {"layer": "walls"})
        space.add_text("DOOR", height=200, dxfattribs={"layer": "notes", "insert": (12_100, 20_200)})
    if more:
        more(space)
    out: Any = io.StringIO() if kind == "asc" else io.BytesIO()
    document.write(out, fmt=kind)
    content = out.getvalue()
    return content.encode() if isinstance(content, str) else content


def read(content: bytes) -> LineDrawing:
    reading = dxf_sheet.read(content, "plan.dxf")
    shares = []
    while True:
        try:
            shares.append(next(reading))
        except StopIteration as end:
            assert shares == sorted(shares) and shares[-1] == 1.0, shares
            return end.value


class Sheets(unittest.TestCase):
    def test_words_are_measured_by_the_typeface_they_are_written_in_on_any_machine(self) -> None:
        line_drawing_pdf.fonts()
        name = next(part for part in read(dxf()).parts if isinstance(part, Text))
        capital = 0.698  # of the size, as the typeface says itself
        self.assertAlmostEqual(
            name.width / stringWidth(name.text, SANS, name.height / capital), 1, delta=0.03
        )

    def test_it_lies_on_paper_at_the_largest_usual_ratio_that_fits_with_its_scale_known(self) -> None:
        for unit, metres in ((4, 5.0), (5, 50.0), (6, 5000.0), (1, 127.0)):
            drawing = read(dxf(unit=unit))
            (x1, _, x2, _) = max(drawing.segments(1000)[0].tolist(), key=lambda s: abs(s[0] - s[2]))
            self.assertAlmostEqual((x2 - x1) * (drawing.metres_per_unit or 0), metres, 3)
            self.assertLessEqual(max(drawing.width, drawing.height), 1189 * 72 / 25.4 + 61)
        self.assertAlmostEqual((read(dxf()).metres_per_unit or 0) / (0.0254 / 72), 5)
        self.assertIsNone(read(dxf(unit=0)).metres_per_unit)
        self.assertIsNone(read(dxf(unit=7)).metres_per_unit)  # 5,000 km at no scale of a drawing

    def test_layers_blocks_words_and_binary_files(self) -> None:
        drawing = read(dxf())
        self.assertEqual(
            {(layer.name, layer.shown) for layer in drawing.layers},
            {("walls", True), ("notes", True), ("old", False)},
        )
        self.assertEqual([word[0] for word in drawing.words()], ["WALL", "240"])
        walls = [layer.name for layer in drawing.layers].index("walls")
        _, of = drawing.segments(1000)
        self.assertEqual(int((of == walls).sum()), 1 + 3 + 3 * 4)
        longest, _ = drawing.segments(2)
        self.assertEqual((len(longest), drawing.line_count), (2, len(of)))
        binary = read(dxf(kind="bin"))
        self.assertTrue(np.array_equal(binary.segments(1000)[0], drawing.segments(1000)[0]))

    def test_its_pdf_has_the_same_lines_and_words_and_layers_that_go(self) -> None:
        drawing = read(dxf())
        content = line_drawing_pdf.write(drawing)
        page = pdf.page_content(content, "plan", 1)
        self.assertEqual([word[0] for word in page.words], ["WALL", "240"])
        for ours, theirs in zip(drawing.words(), page.words, strict=True):
            for one, other in zip(ours[1:5], theirs[1:], strict=True):
                self.assertAlmostEqual(one, other, delta=0.4 * ours[4])
        strokes = sum(len(part.path) - 1 for part in drawing.parts if isinstance(part, Stroke))
        self.assertEqual(len(page.segments), strokes)
        without = pdf_layers.without(content, ["walls", "notes"])
        whole, bare = (
            np.asarray(Image.open(io.BytesIO(pdf.tile(each, name, 1, 0, 1, 1))).convert("L"))
            for each, name in ((content, "whole"), (without, "bare"))
        )
        self.assertLess(whole.min(), 60)  # black stays black on paper
        self.assertGreater((whole < 200).sum(), (bare < 200).sum() + 100)

    def test_what_lies_far_off_or_outside_the_file_is_left_out_and_told(self) -> None:
        def more(space: Any) -> None:
            space.add_line((9e9, 9e9), (9e9 + 10, 9e9), {"layer": "walls"})
            definition = space.doc.add_image_def("/etc/passwd", (10, 10))
            space.add_image(definition, (10_000, 20_000), (1000, 1000))

        drawing = read(dxf(more=more))
        self.assertAlmostEqual((drawing.metres_per_unit or 0) / (0.0254 / 72), 5)
        self.assertIn("1 pictures", drawing.said)
        self.assertIn("1 lines and words far off the drawing", drawing.said)

    def test_hostile_files_are_refused(self) -> None:
        self.assertTrue(is_dxf(b"999\r\nby hand\r\n  999\nagain\n" + dxf()))
        self.assertFalse(is_dxf(b"999\n\n\n\n" * 500))  # comments that could be read in 3 to the 500th ways
        for content, says in (
            (dxf()[:-3000], "cut off"), (dxf(kind="bin")[:-300], "cut off"),
            (dxf(empty=True), "nothing in its model space"),
            (b"  0\nSECTION\n\xff\xfe\0EOF", "broken or no DXF"),
        ):  # fmt: skip
            with self.assertRaisesRegex(UnreadableDrawing, says):
                read(content)
