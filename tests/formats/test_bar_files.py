"""Files of bars: how sizes and heads are written, the exchange text there and back, and files that are too much."""

from __future__ import annotations

import io
import random
import unittest
import zipfile

from openpyxl import Workbook

from sandscale.core.bars.columns import fields_of, recognise
from sandscale.core.bars.detailing import standard
from sandscale.core.bars.schedule import BarLine, scheduled
from sandscale.core.bars.shapes import SHAPES, between
from sandscale.core.refusals import BadEntry
from sandscale.formats import bvbs, table
from sandscale.services.bars.entered import size_read


class Written(unittest.TestCase):
    def test_sizes_however_they_are_written(self) -> None:
        for text, size in (
            ("16", "16"), ("H16", "16"), ("ø 8", "8"), ("08", "8"), ("T08", "8"), ("12 mm", "12"), ("B12mm", "12"), ("#5", "#5"), (" #11 ", "#11"),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(size_read(text), size)
        for text in ("", "0", "-16", "16²", "²", "١٦", "17", "#12", "16.5", "9" * 5000, "H", "1e1", "mm"):
            with self.subTest(text[:20]), self.assertRaisesRegex(BadEntry, "There is no bar of size"):
                size_read(text)

    def test_heads_as_people_write_them(self) -> None:
        row = ["RW1", "07", "H16", "2", "13", "3.2", "11", "0.4", "2850", "B", "back face"]
        expected = {
            "member": "RW1", "mark": "07", "size": "H16", "members": "2", "each": "13", "length": "3.2 m", "shape": "11", "A": "0.4 m", "B": "2850",
            "revision": "B", "note": "back face",
        }  # fmt: skip
        for heads in (
            "Member|Bar mark|Type & size|No. of mbrs|No. in each|Length (m)|Shape code|A [m]|B mm|Rev letter|Remarks",
            "ELEMENT|Pos.|Dia.|Number of members|per member|Cut length m|code|A (m)|B (mm)|Revision|Where",
            "location|mark|⌀ mm|Nr of members|each|Cutting length of each bar (m)|SHAPE|a m|b|Rev.|Notes",
        ):
            with self.subTest(heads):
                known = recognise([["Sheet 3 of 9"], heads.split("|"), row])
                self.assertEqual((known.first, fields_of(row, known)), (2, expected))
        # Of two columns that say the same the first counts; what is said by hand counts before both.
        known = recognise([["Mark", "Size", "Code", "A", "A"], []])
        self.assertEqual(known.columns, ("mark", "size", "shape", "A", ""))
        known = recognise([["Mark", "Size", "Code", "A", "A"], []], ["mark", "", "shape", "B", "A"])
        self.assertEqual(
            fields_of(["1", "16", "11", "300", "400"], known),
            {"mark": "1", "shape": "11", "B": "300", "A": "400"},
        )

    def test_straight_bars_at_random_there_and_back(self) -> None:
        chance, lines = random.Random(8), []
        for code in [code for code, shape in SHAPES.items() if shape.straight and code != "01"] * 12:
            legs = {letter: chance.randrange(150, 1800) / 1000 for letter in SHAPES[code].legs}
            size = chance.choice(("8", "12", "20"))
            bar = BarLine(
                f"M{len(lines) % 7}", f"{len(lines):03}", size, 1, chance.randrange(1, 40), code, legs, "H"
            )
            try:
                line = scheduled(bar, standard())
            except BadEntry:
                continue
            if not line.findings:
                lines.append(line)
        self.assertGreater(len(lines), 60)
        read = list(bvbs.read_bars(bvbs.write_bars(lines, "Ferrin Weir", "B"), "x.abs"))
        self.assertEqual(len(read), len(lines))
        for line, (number, fields, says) in zip(lines, read, strict=True):
            with self.subTest(line.bar, number=number, fields=fields):
                self.assertEqual(says, "")
                self.assertEqual(
                    (fields["member"], fields["mark"], fields["size"], float(fields["each"])),
                    (line.bar.member, line.bar.mark, line.bar.size, line.total),
                )
                if "corners" in fields:
                    points = [
                        tuple(float(n) / 1000 for n in each.split(","))
                        for each in fields["corners"].split(";")
                    ]
                    legs = between([(x, y) for x, y in points])[0]
                else:
                    told = {letter: float(fields[letter]) / 1000 for letter in SHAPES[fields["shape"]].legs}
                    again = scheduled(
                        BarLine("M", "1", line.bar.size, 1, 1, fields["shape"], told, "H"), standard()
                    )
                    legs = between(again.outline)[0]
                bent = between(line.outline)[0]
                for one, other in zip(sorted(legs.values()), sorted(bent.values()), strict=True):
                    self.assertAlmostEqual(one, other, delta=0.005)


class TooMuch(unittest.TestCase):
    def refused(self, content: bytes, says: str) -> None:
        with self.assertRaisesRegex(table.UnreadableTable, says):
            table.cells(content, "bars")

    def test_files_that_are_too_much_or_none(self) -> None:
        self.refused(b"a;b\n" * 21_000, "has more than 20000 rows")
        self.refused(b"x" * (table.LARGEST + 1), "is larger than 4 MB")
        self.refused(b"\n\n \n", "holds no rows|is empty")
        self.refused(b"PK\x03\x04 and nothing more", "is broken or no XLSX workbook")
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("xl/workbook.xml", b"0" * (table.LARGEST_UNPACKED + 1))
        self.refused(packed.getvalue(), "would unpack to more than 64 MB")
        book, file = Workbook(), io.BytesIO()
        book.active.append([f"{'9' * 900}", *range(200)])
        book.create_sheet("Second").append(["not read"])
        book.save(file)
        rows = table.cells(file.getvalue(), "bars")
        self.assertEqual(
            [(len(row), len(row[0])) for row in rows], [(table.MOST_COLUMNS, table.LONGEST_CELL)]
        )


if __name__ == "__main__":
    unittest.main()
