"""Drawings that hang or swell their reader: killed and told, while others are read as if nothing were."""

from __future__ import annotations

import io
import struct
import threading
import time
import unittest
import zlib
from unittest.mock import patch

import numpy as np
from PIL import Image

from sandscale.formats import apart, drawing_file, pdf
from sandscale.formats.page import UnreadableDrawing
from tests import scene

SHORT, LONG = apart.Limits(2, 400, calls=12), apart.Limits(8, 400, calls=5)


def written(objects: list[str]) -> bytes:
    """A PDF of these objects, the first its catalogue."""
    out, places = "%PDF-1.7\n", []
    for number, body in enumerate(objects, 1):
        places.append(len(out))
        out += f"{number} 0 obj{body}endobj\n"
    table = "".join(f"{at:010} 00000 n \n" for at in places)
    end = f"xref\n0 {len(objects) + 1}\n0000000000 65535 f \n{table}"
    return f"{out}{end}trailer<</Root 1 0 R/Size {len(objects) + 1}>>\nstartxref\n{len(out)}\n%%EOF".encode()


def stream(said: str, words: str) -> str:
    return f"<<{words}/Length {len(said)}>>stream\n{said}\nendstream "


def page(resources: str, said: str) -> list[str]:
    return [
        "<</Type/Catalog/Pages 2 0 R>>",
        "<</Type/Pages/Kids[3 0 R]/Count 1>>",
        f"<</Type/Page/Parent 2 0 R/MediaBox[0 0 600 600]/Resources<<{resources}>>/Contents 4 0 R>>",
        stream(said, ""),
    ]


def tiling() -> bytes:
    """A page filled with a pattern whose tiles are repeated each ten thousandth of a sheet unit."""
    pattern = "/Type/Pattern/PatternType 1/PaintType 1/TilingType 1/BBox[0 0 1 1]/XStep 0.0001/YStep 0.0001/Resources<<>>"
    return written(
        [
            *page("/Pattern<</P 5 0 R>>", "/Pattern cs /P scn 0 0 600 600 re f"),
            stream("0 0 1 1 re f", pattern),
        ]
    )


def nested(depth: int = 9, wide: int = 12) -> bytes:
    """Forms within forms, each drawn a dozen times in the one around it."""
    forms = [
        stream(f"/F Do {'1 0 0 1 1 1 cm /F Do ' * (wide - 1)}", f"/Type/XObject/Subtype/Form/BBox[0 0 600 600]/Resources<</XObject<</F {at + 6} 0 R>>>>")
        for at in range(depth)
    ]  # fmt: skip
    last = stream("0 0 m 600 600 l S", "/Type/XObject/Subtype/Form/BBox[0 0 600 600]")
    return written([*page("/XObject<</F 5 0 R>>", "/F Do"), *forms, last])


class Apart(unittest.TestCase):
    def setUp(self) -> None:
        self.readers = apart.Readers()
        self.addCleanup(self.readers.end)

    def tile(self, content: bytes, key: str) -> bytes:
        return self.readers.call(
            drawing_file.tile, lambda: content, key, drawing_file.PDF, key, 1, 2, 0, 0, limits=SHORT, page=1
        )

    def test_a_page_that_never_ends_is_killed_told_and_not_tried_again_while_others_are_drawn(self) -> None:
        good = scene.pdf()
        self.tile(good, "good")
        for name, content in (("tiling", tiling()), ("nested", nested())):
            self.assertLess(len(content), 4000)
            refused: list[str] = []

            def ask(content: bytes = content, name: str = name, refused: list[str] = refused) -> None:
                try:
                    self.tile(content, name)
                except UnreadableDrawing as refusal:
                    refused.append(refusal.code)

            stuck = [threading.Thread(target=ask) for _ in range(6)]
            with patch.object(apart.Reader, "end", autospec=True, side_effect=apart.Reader.end) as killed:
                for one in stuck:
                    one.start()
                time.sleep(0.3)
                self.assertEqual(self.tile(good, "good")[:4], b"\x89PNG")
                self.assertEqual(len(refused), 0, f"{name} was no trouble")
                for one in stuck:
                    one.join()
            self.assertEqual(refused, ["drawing-too-heavy"] * 6)
            self.assertLessEqual(
                killed.call_count, 2
            )  # once, or once more where memory ran out; not six times
        self.assertTrue(all(each.process.poll() is None for each in self.readers.all))

    def test_a_reader_that_was_killed_is_replaced_and_a_file_that_can_not_be_had_spoils_nothing(self) -> None:
        good = scene.pdf()
        self.tile(good, "good")
        for reader in self.readers.all:
            reader.process.kill()
            reader.process.wait()
        self.assertEqual(self.tile(good, "good")[:4], b"\x89PNG")

        def nothing() -> bytes:
            raise LookupError("the database is away")

        with self.assertRaises(LookupError):
            self.readers.call(
                drawing_file.tile, nothing, "away", drawing_file.PDF, "away", 1, 2, 0, 0, limits=SHORT
            )
        for key in ("away", "good"):
            self.assertEqual(self.tile(good, key)[:4], b"\x89PNG")
        self.assertFalse(self.readers.given_up)

    def test_one_file_holds_some_places_and_no_more(self) -> None:
        content = tiling()
        answers: list[type] = []

        def ask() -> None:
            try:
                self.tile(content, "one")
            except (UnreadableDrawing, apart.Busy) as refusal:
                answers.append(type(refusal))

        asking = [threading.Thread(target=ask) for _ in range(apart.MOST_CALLS_OF_A_FILE + 3)]
        for one in asking:
            one.start()
        for one in asking:
            one.join()
        self.assertEqual(answers.count(apart.Busy), 3)
        self.assertFalse(self.readers.waiting)

    def test_files_that_hang_while_they_are_read_leave_room_for_tiles_of_others(self) -> None:
        good, hostile, answers = scene.pdf(), nested(14), list[type]()
        self.tile(good, "good")

        def ask(key: str) -> None:
            try:
                self.readers.call(pdf.page_content, lambda: hostile, key, "x", 1, limits=LONG)
            except (UnreadableDrawing, apart.Busy) as refusal:
                answers.append(type(refusal))

        asking = [threading.Thread(target=ask, args=(f"hostile {at}",)) for at in range(12)]
        for one in asking:
            one.start()
        time.sleep(2.5)  # by now those that may be at work are stuck
        self.assertEqual(answers.count(apart.Busy), 12 - LONG.calls)
        self.assertEqual(self.tile(good, "good")[:4], b"\x89PNG")
        self.assertEqual(len(answers), 12 - LONG.calls)  # and none has ended
        for one in asking:
            one.join()

    def test_reading_a_page_has_an_end_too(self) -> None:
        with self.assertRaises(UnreadableDrawing):
            apart.read(pdf.page_content, nested(14), "x", 1, limits=SHORT, page=1)

    def test_a_file_without_one_of_its_pages_is_refused(self) -> None:
        whole = page("", "0 0 m 9 9 l S")
        whole[1] = "<</Type/Pages/Kids[3 0 R 9 0 R]/Count 2>>"
        with self.assertRaisesRegex(UnreadableDrawing, "Page 2 of “plan.pdf” is missing"):
            drawing_file.read_pages(written(whole), "plan.pdf")


class Pictures(unittest.TestCase):
    def png(self, size: tuple[int, int], bits: int, colour: int, rows: bytes = b"") -> bytes:
        chunks = (
            (b"IHDR", struct.pack(">IIBBBBB", *size, bits, colour, 0, 0, 0)),
            (b"IDAT", rows or zlib.compress(b"\0" * (size[0] * 8 + 1) * size[1], 9)), (b"IEND", b""),
        )  # fmt: skip
        packed = (
            struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
            for kind, data in chunks
        )
        return b"\x89PNG\r\n\x1a\n" + b"".join(packed)

    def test_a_small_file_that_unfolds_into_more_bytes_than_pixels_tell_is_refused(self) -> None:
        empty = zlib.compress(b"")  # never decoded: refused by its header
        for bits, colour, says in ((16, 6, "160 million"), (16, 2, "160 million")):
            with self.assertRaisesRegex(UnreadableDrawing, says):
                drawing_file.read_pages(self.png((16_000, 10_000), bits, colour, empty), "scan")

    def test_sixteen_bits_keep_their_greys(self) -> None:
        grey = np.linspace(0, 65535, 256 * 64).astype(np.uint16).reshape(64, 256)
        out = io.BytesIO()
        Image.fromarray(grey).save(out, "PNG")
        tile = drawing_file.tile(out.getvalue(), "image/png", "sixteen", 1, 3, 0, 0)
        seen = np.asarray(Image.open(io.BytesIO(tile)).convert("L"))
        self.assertLess(seen[2, 2], 12)
        self.assertAlmostEqual(int(seen[30, 100]), 122, delta=12)

    def test_a_fax_is_seen_whole_and_in_its_proportions(self) -> None:
        # 1728 × 1143 at 204 × 98 dots an inch: 610 × 840 sheet units, as a page of paper is.
        fax = Image.new("1", (1728, 1143), 1)
        fax.paste(0, (864, 571, 1728, 1143))  # the lower right quarter is black
        for kind in ("TIFF", "PNG"):
            out = io.BytesIO()
            fax.save(out, kind, dpi=(204, 98))
            media_type, (found,) = drawing_file.read_pages(out.getvalue(), "fax")
            self.assertAlmostEqual(found.width, 609.9, delta=0.5)
            self.assertAlmostEqual(found.height, 839.8, delta=0.5)
            drawn = np.zeros((1024, 1024), np.uint8)
            for column in range(3):
                for row in range(4):
                    tile = drawing_file.tile(out.getvalue(), media_type, kind, 1, 2, column, row)
                    drawn[row * 256 : row * 256 + 256, column * 256 : column * 256 + 256] = np.asarray(
                        Image.open(io.BytesIO(tile)).convert("L")
                    )
            for x, y, black in (
                (150, 200, 0),
                (450, 200, 0),
                (150, 700, 0),
                (450, 700, 1),
                (600, 830, 1),
                (300, 415, 0),
                (310, 425, 1),
            ):
                self.assertEqual(drawn[y, x] < 128, bool(black), f"{kind} at {x}, {y}")


if __name__ == "__main__":
    unittest.main()
