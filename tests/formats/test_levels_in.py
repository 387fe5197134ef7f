"""Levels from a file of any kind: seen first, put right, then taken; and what is kept of them, strictly read again."""

from __future__ import annotations

import io
import json
import random
import unittest
from typing import Any

import ezdxf
import numpy as np
from openpyxl import Workbook

from sandscale.core.ground.decided import Taken
from sandscale.core.ground.survey import Survey, SurveyLine
from sandscale.core.refusals import Refusal
from sandscale.formats import dxf, geojson, landxml, levels_in
from sandscale.formats.levels_in import How, Seen
from sandscale.formats.packed import pack, unpack
from sandscale.services.ground.kept import taken_of, taken_packed
from tests.cases.test_ground import grid_surface


def read(content: bytes | str, name: str = "levels.csv", **how: Any) -> Seen:
    return levels_in.read(content.encode() if isinstance(content, str) else content, name, How(**how))


def points(seen: Seen, role: str = "ground") -> list[list[float]]:
    found: list[list[float]] = seen.taken[role].survey.points.tolist()
    return found


class Tables(unittest.TestCase):
    def test_columns_are_seen_by_their_heads_or_their_numbers(self) -> None:
        named = read("Pt;Northing;Easting;RL;Feature\n1;20,5;10,5;3,25;kerb\n2;21;11;3,5;kerb\n")
        self.assertEqual(named.columns, ("", "north", "east", "level", "code"))
        self.assertEqual((named.heads[1], named.decimal), ("Northing", "comma"))
        self.assertEqual(points(named), [[10.5, 20.5, 3.25], [11, 21, 3.5]])
        self.assertEqual(named.taken["ground"].survey.codes, ("kerb", "kerb"))
        bare = read("10 20 3\n11 21 4\n12 22 5\n")
        self.assertEqual((bare.columns, bare.heads), (("east", "north", "level"), ()))
        counted = read("1,10.5,20.5,3.2\n2,11.5,21.5,3.3\n")
        self.assertEqual(counted.columns, ("", "east", "north", "level"))

    def test_what_was_put_right_is_kept_to(self) -> None:
        text = "a,b,c\n10,20,3\n11,21,4\n"
        first = read(text)  # heads that say nothing: the first three numbers are taken for it
        self.assertEqual((points(first), first.heads), ([[10, 20, 3], [11, 21, 4]], ("a", "b", "c")))
        said = read("a,b\n1,x\n2,y\n")
        self.assertEqual(said.taken, {})
        self.assertIn("No column is east and none is north and none is level", said.says)
        right = read(text, columns=("north", "east", "level"))
        self.assertEqual(points(right), [[20, 10, 3], [21, 11, 4]])
        self.assertEqual(
            len(points(read(text, columns=("north", "east", "level"), header=False))), 2
        )  # words are no level
        headless = read("1,2,3\n4,5,6\n", header=True)
        self.assertEqual((headless.heads, points(headless)), (("1", "2", "3"), [[4, 5, 6]]))
        sign = read("10,5;20,5;3,5\n", decimal="point")
        self.assertEqual(sign.decimal, "point")

    def test_rows_that_cannot_be_read_are_told_and_the_others_taken(self) -> None:
        seen = read("E,N,Z\n1,2,3\nx,2,3\n4,5,\n\n6,7,8\n")
        self.assertEqual(len(points(seen)), 3)
        self.assertTrue(np.isnan(seen.taken["ground"].survey.points[1, 2]))
        self.assertEqual(
            [f.says for f in seen.findings], ["Row 3 “x” is no number for east; it is left out."]
        )
        self.assertEqual(seen.taken["ground"].survey.rows.tolist(), [2, 4, 6])

    def test_a_workbook_by_its_sheets(self) -> None:
        book = Workbook()
        book.active.title = "Cover"
        book.active["A1"] = "Site survey"
        sheet = book.create_sheet("Levels")
        for row in (("Easting", "Northing", "Level"), (1.5, 2.5, 10.25), (3, 4, None), (5, 6, 11)):
            sheet.append(row)
        out = io.BytesIO()
        book.save(out)
        seen = read(out.getvalue(), "site.xlsx", sheet="Levels")
        self.assertEqual((seen.kind, seen.sheet), ("workbook", "Levels"))
        self.assertEqual(set(seen.sheets), {"Cover", "Levels"})
        self.assertEqual(points(seen)[0], [1.5, 2.5, 10.25])
        self.assertEqual(seen.sample[0], ("1.5", "2.5", "10.25"))
        with self.assertRaises(Refusal):
            read(out.getvalue(), "site.xlsx", sheet="Other")


class Drawings(unittest.TestCase):
    def drawing(self) -> bytes:
        document = ezdxf.new("R2010", units=6)
        space = document.modelspace()
        for name, colour in (("EG-POINTS", 3), ("DESIGN", 1), ("LIMIT", 5), ("CREST", 2), ("FRAME", 7)):
            document.layers.add(name, color=colour)
        for n in range(6):
            space.add_point((n * 10, n % 2 * 10, 5 + n), dxfattribs={"layer": "EG-POINTS"})
            space.add_point((n * 10, n % 2 * 10, 4), dxfattribs={"layer": "DESIGN"})
        space.add_lwpolyline([(0, 0), (50, 0), (50, 10), (0, 10)], close=True, dxfattribs={"layer": "LIMIT"})
        space.add_polyline3d([(0, 5, 6), (50, 5, 9)], dxfattribs={"layer": "CREST"})
        space.add_text("42.5", dxfattribs={"layer": "FRAME", "insert": (900, 900), "color": 6})
        out = io.StringIO()
        document.write(out)
        return out.getvalue().encode()

    def test_layers_are_told_apart_and_what_each_is_can_be_said(self) -> None:
        seen = read(self.drawing(), "site.dxf")
        self.assertEqual(
            {part.name: part.role for part in seen.parts},
            {
                "EG-POINTS": "ground",
                "DESIGN": "formation",
                "LIMIT": "boundary",
                "CREST": "breakline",
                "FRAME": "ground",
            },
        )
        roles = {"EG-POINTS": "ground", "DESIGN": "formation", "LIMIT": "boundary", "CREST": "breakline"}
        chosen = read(self.drawing(), "site.dxf", roles=roles)
        ground, formation = chosen.taken["ground"].survey, chosen.taken["formation"].survey
        self.assertEqual((len(ground.points), len(formation.points)), (6, 6))
        self.assertEqual(
            {(line.kind, line.layer) for line in ground.lines},
            {("boundary", "LIMIT"), ("breakline", "CREST")},
        )
        self.assertEqual(set(formation.points[:, 2]), {4})
        self.assertEqual(formation.lines, ())
        none = read(self.drawing(), "site.dxf", roles={"LIMIT": "boundary"})
        self.assertEqual(none.taken, {})
        self.assertIn("No part is taken for ground", none.says)

    def test_or_by_colour(self) -> None:
        seen = read(self.drawing(), "site.dxf", by="colour")
        self.assertEqual({p.name: p.holds for p in seen.parts}["colour 3"], 6)
        self.assertIn("colour 6", [p.name for p in seen.parts])  # its own, not its layer's
        found = read(self.drawing(), "site.dxf", by="colour", roles={"colour 3": "ground"})
        self.assertEqual(len(points(found)), 6)

    def test_triangles_come_with_their_corners(self) -> None:
        made = grid_surface(lambda x, y: 10 + x / 10 + 0 * y, 0, 20, 5)
        for content, name in (
            (dxf.write_dxf({"ground": made}), "a.dxf"), (geojson.write_geojson(surfaces={"ground": made}), "a.geojson"),
            (landxml.write_landxml({"ground": made}), "a.xml"),
        ):  # fmt: skip
            seen = read(content, name)
            taken = seen.taken["ground"]
            self.assertEqual(len(taken.triangles), len(made.triangles), name)
            self.assertEqual(len(taken.survey.points), len(made.points), name)

    def test_surfaces_of_a_landxml_file(self) -> None:
        ground, design = (grid_surface(lambda x, y, z=z: z + 0 * x * y, 0, 20, 5) for z in (10, 9))
        content = landxml.write_landxml({"Existing": ground, "Design": design})
        seen = read(content, "job.xml")
        self.assertEqual({p.name: p.role for p in seen.parts}, {"Existing": "ground", "Design": "formation"})
        self.assertEqual(set(seen.taken["formation"].survey.points[:, 2]), {9})
        other = read(content, "job.xml", roles={"Design": "ground"})
        self.assertEqual(set(other.taken["ground"].survey.points[:, 2]), {9})

    def test_kinds_are_told_by_what_a_file_holds(self) -> None:
        for content, name, kind in (
            (b"PK\x03\x04", "x.csv", "workbook"), (b"\xef\xbb\xbf<?xml", "x.csv", "landxml"), (b' {"type"', "x", "geojson"),
            (b"  0\r\nSECTION\r\n", "x.txt", "dxf"), (b"999\nmade\n0\nSECTION\n", "x", "dxf"), (b"1 2 3", "x.xyz", "text"),
        ):  # fmt: skip
            self.assertEqual(levels_in.kind_of(content, name), kind)

    def test_any_file_is_read_or_refused_in_words(self) -> None:
        dice = random.Random(5)
        good = [
            self.drawing(),
            b"E;N;Z\n1;2;3\n4;5;6\n7;8;9\n",
            landxml.write_landxml({"g": grid_surface(lambda x, y: 0 * x * y, 0, 10, 5)}),
        ]
        for number in range(150):
            content = bytearray(dice.choice(good))
            for _ in range(dice.randrange(1, 8)):
                at = dice.randrange(max(len(content), 1))
                content[at : at + dice.choice((1, 1, 20))] = bytes(
                    dice.randrange(256) for _ in range(dice.choice((0, 1, 9)))
                )
            name = dice.choice(("a.csv", "a.dxf", "a.xml"))
            try:
                seen = read(bytes(content), name)
            except Refusal as refusal:
                self.assertTrue(refusal.sentence, number)
            else:
                self.assertTrue(seen.taken or seen.says, number)


class Kept(unittest.TestCase):
    def taken(self) -> Taken:
        lines = (
            SurveyLine("breakline", np.array([[0, 0, 1.0], [5, 5, 2]]), "CREST"),
            SurveyLine("boundary", np.zeros((4, 3)) * np.nan),
        )
        survey = Survey(
            np.array([[1.5, 2, np.nan], [3, 4, 5], [6, 7, 8]]), ("a", "", "a"), np.array([7, 9, 11]), lines
        )
        return Taken(survey, np.array([[0, 1, 2]]))

    def test_levels_come_back_as_they_were(self) -> None:
        was = self.taken()
        now = taken_of(taken_packed(was))
        np.testing.assert_array_equal(now.survey.points, was.survey.points)
        np.testing.assert_array_equal(now.triangles, was.triangles)
        self.assertEqual((now.survey.codes, now.survey.rows.tolist()), (("a", "", "a"), [7, 9, 11]))
        self.assertEqual(
            [(line.kind, line.layer, len(line.corners)) for line in now.survey.lines],
            [("breakline", "CREST", 2), ("boundary", "", 4)],
        )
        bare = taken_of(taken_packed(Taken(Survey(np.zeros((2, 3))), np.zeros((0, 3), np.int64))))
        self.assertEqual((bare.survey.codes, bare.survey.lines, bare.survey.rows.tolist()), ((), (), [1, 2]))

    def test_what_was_spoilt_is_refused(self) -> None:
        good = taken_packed(self.taken())
        dice = random.Random(2)
        refused = 0
        for _ in range(300):
            content = bytearray(good)
            what = dice.randrange(3)
            if what == 0:
                content = content[: dice.randrange(len(content))]
            elif what == 1:
                content += bytes(dice.randrange(1, 9))
            else:
                at = dice.randrange(min(400, len(content)))
                content[at] = dice.randrange(256)
            try:
                taken_of(bytes(content))
            except Refusal:
                refused += 1
        self.assertGreater(refused, 200)

    def test_sizes_and_kinds_are_held_to(self) -> None:
        arrays, words = unpack(
            pack({"a": np.arange(3.0), "b": np.zeros((0, 2), np.int32)}, {"told": [1, "x"]})
        )
        self.assertEqual(
            (arrays["a"].tolist(), arrays["b"].shape, words), ([0, 1, 2], (0, 2), {"told": [1, "x"]})
        )
        for header in (
            {"arrays": {"a": ["<f8", [10**12]]}, "words": {}}, {"arrays": {"a": ["|O", [1]]}, "words": {}}, {"arrays": {"a": ["<f8", [-1]]}, "words": {}},
            {"arrays": {"a": ["<f8", [1, 1, 1, 1]]}, "words": {}}, {"arrays": {}, "words": []}, {"words": {}}, {"arrays": {"a": ["<f8", ["x"]]}, "words": {}},
        ):  # fmt: skip
            told = json.dumps(header).encode()
            with self.assertRaises(Refusal):
                unpack(b"SSPK1\n" + len(told).to_bytes(4, "little") + told + bytes(8))
        for content in (b"", b"SSPK1\n", b"SSPK1\n\xff\xff\xff\xff", b"PK\x03\x04" * 9):
            with self.assertRaises(Refusal):
                unpack(content)

    def test_triangles_of_levels_that_are_not_there_are_refused(self) -> None:
        for faces in ([[0, 1, 3]], [[0, 1, -1]]):
            with self.assertRaises(Refusal):
                taken_of(taken_packed(Taken(self.taken().survey, np.array(faces))))


if __name__ == "__main__":
    unittest.main()
