"""Levels, lines, surfaces and sections in files: written and read again, met as people have them, and spoilt."""

from __future__ import annotations

import io
import json
import math
import random
import re
import unittest
import zipfile
from collections.abc import Callable
from typing import Any, ClassVar

import ezdxf
import numpy as np
from openpyxl import Workbook

from sandscale.core.ground.route.centreline import Centreline, Element, LongSection
from sandscale.core.ground.route.imported import SectionLines
from sandscale.core.ground.surface import of_faces, surface
from sandscale.core.ground.survey import Survey, SurveyLine
from sandscale.core.refusals import Refusal
from sandscale.formats import dxf, geojson, landxml, levels_csv, levels_xlsx, sections_csv
from sandscale.formats.level_file import Columns, UnreadableLevels, number

CHANCE = np.random.default_rng(5)
POINTS = np.column_stack(
    [CHANCE.uniform(0, 90, (40, 2)) + np.array([512_000, 5_401_000]), CHANCE.uniform(99, 104, 40)]
)
CODES = tuple("kerb" if at % 3 else "" for at in range(40))
RING = np.column_stack([POINTS[[0, 5, 9, 12], :2], np.full(4, math.nan)])
LINES = (SurveyLine("breakline", POINTS[[3, 8, 21]], "kerb line"), SurveyLine("boundary", RING))
SURVEY = Survey(POINTS, CODES, np.arange(1, 41), LINES)
GROUND = surface(POINTS, [POINTS[[3, 8, 21]].tolist()])


def workbook(*rows: tuple) -> bytes:
    book, out = Workbook(), io.BytesIO()
    for row in rows:
        book.active.append(row)  # type: ignore[union-attr]
    book.save(out)
    return out.getvalue()


def alignment() -> landxml.Alignment:
    spiral = Element((40.0, 0.0), 0.0, 30.0, 0.0, -1 / 60)
    end, turned = spiral.places(np.array([30.0]))[0], float(spiral.directions(np.array([30.0]))[0])
    arc = Element((float(end[0]), float(end[1])), turned, 50.0, -1 / 60, -1 / 60)
    line = Centreline((Element((0.0, 0.0), 0.0, 40.0), spiral, arc), 100.0)
    profile = LongSection(((100.0, 10.0, 0.0), (150.0, 11.0, 20.0), (220.0, 10.0, 0.0)))
    section = SectionLines(
        120.0,
        {
            "ground": np.array([(-5.0, 10.5), (5.0, 10.1)]),
            "top": np.array([(-3.0, 10.0), (0.0, 10.1), (3.0, 10.0)]),
        },
    )
    return landxml.Alignment(line, profile, (section,))


class RoundTrips(unittest.TestCase):
    def test_csv(self) -> None:
        missing = Survey(np.vstack([POINTS, [1.5, 2.25, math.nan]]), (*CODES, "=SUM(A1)"))
        content = levels_csv.write_levels(missing)
        survey, findings = levels_csv.read_levels(content, "levels.csv")
        np.testing.assert_array_equal(survey.points, missing.points)
        self.assertEqual((survey.codes, findings), ((*CODES, "'=SUM(A1)"), ()))  # no spreadsheet works it out
        self.assertEqual(survey.rows[0], 2)

    def test_dxf(self) -> None:
        found = dxf.read_levels(
            dxf.write_dxf({"ground": GROUND}, SURVEY, {"zero line": [POINTS[:4, :2]]}, {"zero line": 101.5}),
            "levels.dxf",
        )
        np.testing.assert_array_equal(found.survey.points, POINTS)
        self.assertEqual(found.survey.codes, tuple(code or "levels" for code in CODES))
        again = of_faces(found.faces)
        self.assertEqual(len(again.triangles), len(GROUND.triangles))
        self.assertAlmostEqual(again.true_area, GROUND.true_area, places=6)
        layers = {line.layer: line.corners for line in found.survey.lines}
        np.testing.assert_array_equal(layers["kerb line"], POINTS[[3, 8, 21]])
        np.testing.assert_array_equal(layers["zero line"][:, 2], 101.5)
        self.assertEqual(found.layers["ground breaklines"], len(GROUND.edges))
        self.assertEqual(
            [f.says for f in found.findings], ["1 lines and texts without a level are left out."]
        )  # the open line drawn flat

    def test_an_outline_drawn_flat_in_a_dxf_is_a_boundary(self) -> None:
        drawing = ezdxf.new()
        for x, y, level in ((0, 0, 100), (20, 0, 101), (20, 20, 102), (0, 20, 101)):
            drawing.modelspace().add_point((x, y, level))
        drawing.modelspace().add_lwpolyline([(0, 0), (10, 0), (10, 10), (0, 10)], close=True)
        out = io.StringIO()
        drawing.write(out)
        found = dxf.read_levels(out.getvalue().encode(), "flat.dxf")
        self.assertEqual([line.kind for line in found.survey.lines], ["boundary"])
        self.assertIn("boundary", [f.code for f in found.findings])
        self.assertAlmostEqual(found.survey.surface().plan_area, 100)

    def test_a_level_written_beside_its_point_in_a_dxf_is_one(self) -> None:
        drawing = ezdxf.new()
        space = drawing.modelspace()
        for at, (level, drawn) in enumerate(((100.25, 100.25), (101.5, 0.0), (102.0, 99.0))):
            space.add_point((10 * at, 5, drawn))
            space.add_text(f"{level}", dxfattribs={"insert": (10 * at, 5, 0)})
        out = io.StringIO()
        drawing.write(out)
        found = dxf.read_levels(out.getvalue().encode(), "twice.dxf")
        levels = sorted(found.survey.points[:, 2])
        self.assertEqual(levels, [99.0, 100.25, 101.5, 102.0])  # two that differ stay two, to be decided
        self.assertIn("told-twice", [f.code for f in found.findings])

    def test_landxml(self) -> None:
        found = landxml.read_landxml(
            landxml.write_landxml({"ground": GROUND}, {"road": alignment()}, {"ground": SURVEY}), "site.xml"
        )
        self.assertEqual(found.findings, [])
        np.testing.assert_array_equal(found.surfaces["ground"].points, GROUND.points)
        np.testing.assert_array_equal(found.surfaces["ground"].triangles, GROUND.triangles)
        survey = found.surveys["ground"]
        np.testing.assert_array_equal(survey.points, POINTS)
        kinds = [line.kind for line in survey.lines]
        self.assertEqual((kinds.count("boundary"), kinds.count("breakline")), (1, 1 + len(GROUND.edges)))
        road, own = found.alignments["road"], alignment()
        chainages = np.linspace(100, 220, 50)
        for read, written in zip(road.centreline.at(chainages), own.centreline.at(chainages), strict=True):
            np.testing.assert_allclose(read, written, atol=1e-9)
        self.assertEqual(road.long_section, own.long_section)
        for name, line in own.sections[0].lines.items():
            np.testing.assert_array_equal(road.sections[0].lines[name], line)

    def test_geojson(self) -> None:
        found = geojson.read_levels(
            geojson.write_geojson(SURVEY, {"ground": GROUND}, {"zero": [POINTS[:3, :2]]}), "levels.geojson"
        )
        np.testing.assert_array_equal(found.survey.points, POINTS)
        self.assertEqual(found.survey.codes, CODES)
        kinds = {line.kind: line for line in found.survey.lines}
        np.testing.assert_array_equal(kinds["breakline"].corners, POINTS[[3, 8, 21]])
        np.testing.assert_array_equal(kinds["boundary"].corners[:-1], RING)
        self.assertAlmostEqual(of_faces(found.faces).plan_area, GROUND.plan_area, places=6)
        self.assertEqual(
            [f.says for f in found.findings], ["Feature 44 is a line without levels; it is left out."]
        )

    def test_sections_csv(self) -> None:
        sections = [
            alignment().sections[0],
            SectionLines(140.0, {"ground": np.array([(-5.0, 10.5), (5.0, 10.1)])}),
        ]
        found, findings = sections_csv.read_sections(sections_csv.write_sections(sections), "sections.csv")
        self.assertEqual(([s.chainage for s in found], findings), ([120, 140], ()))
        np.testing.assert_array_equal(found[0].lines["top"], sections[0].lines["top"])


class AsPeopleHaveThem(unittest.TestCase):
    def test_numbers_as_written(self) -> None:
        for text, comma, value in [
            ("1 234.5", False, 1234.5), ("1'234.50", False, 1234.5), ("1.234,5", False, 1234.5), ("1,234.5", False, 1234.5), ("−2,5", False, -2.5),
            ("12,5", True, 12.5), ("1.234", True, 1234.0), (7, False, 7.0), ("1e3", False, 1000.0), ("abc", False, None), ("", False, None),
            ("0x10", False, None), ("nan", False, None), (None, False, None), (True, False, None), ("1 2", False, None),
        ]:  # fmt: skip
            self.assertEqual(number(text, comma), value, text)

    def test_texts_in_columns(self) -> None:
        cases: dict[str, tuple[str, list[tuple[float, float, float]], tuple[str, ...]]] = {
            "decimal comma, no header": (
                "12,5;100,25;99,123\n13,5;101;98,2\n",
                [(12.5, 100.25, 99.123), (13.5, 101, 98.2)],
                ("", ""),
            ),
            "header in another order": (
                "Pt,Northing (m),Easting (m),RL,Code\n1,100,200,99.5,TB\n2,110,210,98,\n",
                [(200, 100, 99.5), (210, 110, 98)],
                ("TB", ""),
            ),
            "blanks, with numbers": (
                "1 100.5 200.5 99.25 grd\n2 101 201 99.5 grd\n",
                [(100.5, 200.5, 99.25), (101, 201, 99.5)],
                ("grd", "grd"),
            ),
            "blanks, with a code in numbers": (
                "100.5 200.5 99.25 101\n101.5 201 99.5 102\n",
                [(100.5, 200.5, 99.25), (101.5, 201, 99.5)],
                ("101", "102"),
            ),
            "tabs and thousands": ("E\tN\tZ\n1 234.5\t2'345.25\t-1.5\n", [(1234.5, 2345.25, -1.5)], ("",)),
            "remarks and blank rows": ("# survey\n\nx,y,z\n# more\n1,2,3\n\n", [(1, 2, 3)], ("",)),
            "names first": ("P1,10,20,5\nP2,11,21,6\n", [(10, 20, 5), (11, 21, 6)], ("", "")),
            "quoted": ('"x";"y";"z";"code"\n"1,5";"2";"3";"a;b"\n', [(1.5, 2, 3)], ("a;b",)),
        }
        for name, (text, points, codes) in cases.items():
            for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
                survey, findings = levels_csv.read_levels(text.encode(encoding), name)
                self.assertEqual(
                    (survey.points.tolist(), survey.codes, findings),
                    ([list(p) for p in points], codes, ()),
                    f"{name} in {encoding}",
                )

    def test_chosen_columns_and_units(self) -> None:
        text = b"z,feature,y,x\n32.8084,a,2000,1000\n"
        survey, _ = levels_csv.read_levels(text, "t", columns=Columns(3, 2, 0, 1), unit="mm", level_unit="ft")
        np.testing.assert_allclose(survey.points, [(1, 2, 10)], atol=1e-5)
        self.assertEqual(survey.codes, ("a",))
        with self.assertRaisesRegex(Refusal, "“cubit” is not a unit"):
            levels_csv.read_levels(text, "t", unit="cubit")

    def test_rows_that_cannot_be_read_are_told_and_missing_levels_kept(self) -> None:
        survey, findings = levels_csv.read_levels(
            b"x,y,z\n1,2,3\nabc,2,3\n4,5,\n,1,2\n7,8,1e300\n" + b"?,1,2\n" * 60, "t"
        )
        self.assertEqual(len(survey.points), 2)
        self.assertTrue(math.isnan(survey.points[1, 2]))
        self.assertEqual(
            [f.says for f in findings[:3]],
            [
                "Row 3 “abc” is no number for east; it is left out.",
                "Row 5 has no number for east; it is left out.",
                "Row 6 1e+300 is too large for level; it is left out.",
            ],
        )
        self.assertEqual(
            (findings[0].line, len(findings), findings[-1].says),
            (2, 51, "13 more like these, which are not told one by one."),
        )

    def test_workbooks(self) -> None:
        content = workbook(
            ("Survey of the terrace",),
            (),
            ("Point", "E", "N", "Level", "Code"),
            (1, 10.5, 20, 99.5, "g"),
            (2, "11,5", 21, None, None),
            (3, "x", 1, 1, ""),
        )
        survey, findings = levels_xlsx.read_levels(content, "levels.xlsx")
        np.testing.assert_array_equal(survey.points, [(10.5, 20, 99.5), (11.5, 21, math.nan)])
        self.assertEqual(survey.rows.tolist(), [4, 5])
        self.assertEqual(
            [f.says for f in findings],
            [
                "Row 1 holds no levels yet; it is left out.",
                "Row 6 “x” is no number for east; it is left out.",
            ],
        )
        with self.assertRaisesRegex(UnreadableLevels, "no sheet “Other”. It has Sheet."):
            levels_xlsx.read_levels(content, "levels.xlsx", sheet="Other")

    def test_a_drawing_with_texts_blocks_arcs_and_units(self) -> None:
        document = ezdxf.new("R2010", units=4)  # millimetres
        space = document.modelspace()
        space.add_text("+101,25", dxfattribs={"insert": (1000, 2000), "layer": "levels"})
        space.add_mtext("100.5 m", dxfattribs={"insert": (3000, 4000), "layer": "levels"})
        space.add_text("Manhole 3", dxfattribs={"insert": (0, 0), "layer": "levels"})
        block = document.blocks.new("LEVEL")
        block.add_attdef("ELEV", (0, 0))
        space.add_blockref("LEVEL", (5000, 6000), dxfattribs={"layer": "spots"}).add_attrib("ELEV", "99.75")
        space.add_lwpolyline(
            [(0, 0, 1), (2000, 0, 0)], format="xyb", dxfattribs={"elevation": 98_000, "layer": "bank"}
        )
        space.add_line((0, 0, 1000), (1000, 0, 2000), dxfattribs={"layer": "bank"})
        space.add_3dface(
            [(0, 0, 0), (1000, 0, 0), (1000, 1000, 0), (0, 1000, 0)], dxfattribs={"layer": "faces"}
        )
        out = io.StringIO()
        document.write(out)
        found = dxf.read_levels(out.getvalue().encode(), "site.dxf")
        # Levels are written in m on a drawing in mm, and the drawing's own points are not.
        np.testing.assert_allclose(found.survey.points, [(1, 2, 101.25), (3, 4, 100.5), (5, 6, 99.75)])
        self.assertIn(
            "The drawing isn't in m; its 3 written levels are read in m.", [f.says for f in found.findings]
        )
        self.assertEqual(found.survey.codes, ("levels", "levels", "spots"))
        arc, line = (each.corners for each in found.survey.lines)
        np.testing.assert_allclose(np.hypot(arc[:, 0] - 1, arc[:, 1]), 1, atol=1e-9)
        self.assertEqual((set(arc[:, 2]), line.tolist()), ({98.0}, [[0, 0, 1], [1, 0, 2]]))
        self.assertEqual(len(found.faces), 2)
        chosen = dxf.read_levels(out.getvalue().encode(), "site.dxf", layers=["faces"])
        self.assertEqual((len(chosen.survey.points), chosen.survey.lines, len(chosen.faces)), (0, (), 2))
        self.assertEqual(chosen.layers, found.layers)
        with self.assertRaisesRegex(UnreadableLevels, "It has layers bank, faces, levels"):
            dxf.read_levels(out.getvalue().encode(), "site.dxf", layers=["none"])

    def test_a_drawing_in_every_unit(self) -> None:
        """A point 12.5 m east at 3 m, and a level of 101.5 written beside it in m, or in feet where the drawing is."""
        foot, survey_foot = 0.3048, 1200 / 3937
        for unit, size, written in (
            (1, 0.0254, foot),
            (2, foot, foot),
            (4, 0.001, 1),
            (5, 0.01, 1),
            (6, 1, 1),
            (10, 0.9144, foot),
            (14, 0.1, 1),
            (21, survey_foot, survey_foot),
        ):
            document = ezdxf.new("R2010", units=unit)
            document.modelspace().add_point((12.5 / size, 0, 3 / size))
            document.modelspace().add_text(f"{101.5 / written:.4f}", dxfattribs={"insert": (0, 7 / size)})
            out = io.StringIO()
            document.write(out)
            found = dxf.read_levels(out.getvalue().encode(), "site.dxf")
            np.testing.assert_allclose(
                found.survey.points, [(12.5, 0, 3), (0, 7, 101.5)], atol=2e-5, err_msg=str(unit)
            )
            self.assertEqual(
                any("written levels are read in" in f.says for f in found.findings), size != written, unit
            )

    def test_only_attributes_of_levels_are_levels(self) -> None:
        document = ezdxf.new("R2010", units=6)
        document.blocks.new("SPOT").add_attdef("Z", (0, 0))
        for at, (tag, text) in enumerate(
            (("NR", "17"), ("Z", "99.5"), ("elevation", "98,25"), ("HEIGHT", "high"), ("SIZE", "300"))
        ):
            document.modelspace().add_blockref("SPOT", (at, 0), dxfattribs={"layer": "spots"}).add_attrib(
                tag, text
            )
        out = io.StringIO()
        document.write(out)
        self.assertEqual(
            dxf.read_levels(out.getvalue().encode(), "site.dxf").survey.points.tolist(),
            [[1, 0, 99.5], [2, 0, 98.25]],
        )
        with self.assertRaisesRegex(UnreadableLevels, "no levels in the chosen layers"):
            dxf.read_levels(out.getvalue().encode(), "site.dxf", layers=["0"])

    def test_a_broken_number_of_a_drawing_is_told(self) -> None:
        content = dxf.write_dxf(survey=Survey(np.array([(1.5, 2.5, 99.0043)]))).replace(
            b"99.0043", b"99.00x3"
        )
        found = dxf.read_levels(content, "site.dxf")
        self.assertEqual(found.survey.points.tolist(), [[1.5, 2.5, 99.0]])
        self.assertIn(
            "Broken numbers of “site.dxf” were read as far as they go",
            " ".join(f.says for f in found.findings),
        )

    def test_landxml_in_feet_with_parts_that_are_broken(self) -> None:
        content = b"""<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units><Imperial linearUnit="foot"/></Units>
        <Surfaces><Surface name="s"><Definition surfType="TIN"><Pnts><P id="1">0 0 10</P><P id="2">0 100 10</P><P id="3">100 0 20</P></Pnts>
        <Faces><F>1 3 2</F><F>1 2 9</F><F i="1">1 2 3</F></Faces></Definition></Surface></Surfaces>
        <Alignments><Alignment name="a" staStart="0"><CoordGeom><Line><Start>0 0</Start><End>x</End></Line></CoordGeom></Alignment></Alignments></LandXML>"""
        found = landxml.read_landxml(content, "site.xml")
        made = found.surfaces["s"]
        self.assertAlmostEqual(made.plan_area, 5000 * 0.3048**2)
        np.testing.assert_allclose(made.points[1], (30.48, 0, 3.048))  # the file's order is north, east
        self.assertEqual(
            [f.says for f in found.findings],
            [
                "1 faces name points that there aren't and are left out.",
                "Alignment “a” is broken and left out.",
            ],
        )

    def test_landxml_with_points_contours_voids_and_all_kinds_of_curves(self) -> None:
        content = b"""<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units><Metric linearUnit="meter"/></Units>
        <CgPoints><CgPoint code="kerb">10 20 99.5</CgPoint><CgPoint>11 21</CgPoint><CgPoint>x y z</CgPoint></CgPoints>
        <Surfaces><Surface name="s"><SourceData><DataPoints><PntList3D>0 0 1 0 10 2 10 0 3 10 10 4</PntList3D></DataPoints>
        <Contours><Contour elev="2.5"><PntList2D>0 5 10 5</PntList2D></Contour></Contours>
        <Boundaries><Boundary bndType="outer"><PntList2D>0 0 0 10 10 10 10 0</PntList2D></Boundary>
        <Boundary bndType="void"><PntList2D>4 4 4 6 6 6</PntList2D></Boundary><Boundary><PntList2D>1</PntList2D></Boundary></Boundaries></SourceData></Surface></Surfaces>
        <Alignments><Alignment name="a" staStart="50"><CoordGeom><Curve rot="cw"><Start>0 0</Start><Center>-10 0</Center><End>-10 10</End></Curve>
        <Spiral rot="cw" length="5" radiusStart="10" radiusEnd="INF" spiType="cubic"><Start>-10 10</Start><PI>-12 10</PI><End>-15 10</End></Spiral>
        <IrregularLine/><Line><Start>-20 10</Start><End>-30 10</End></Line></CoordGeom>
        <Profile><ProfAlign><PVI>50 10</PVI><CircCurve length="6" radius="300">60 11</CircCurve><UnsymParaCurve lengthIn="2" lengthOut="3">70 11</UnsymParaCurve><PVI>80 10</PVI>
        </ProfAlign></Profile></Alignment></Alignments></LandXML>"""
        found = landxml.read_landxml(content, "site.xml")
        own = found.surveys[""]
        self.assertEqual((own.points[0].tolist(), own.codes), ([20, 10, 99.5], ("kerb", "")))
        self.assertTrue(math.isnan(own.points[1, 2]))
        lines = [(line.kind, len(line.corners)) for line in found.surveys["s"].lines]
        self.assertEqual(lines, [("contour", 2), ("boundary", 4), ("hole", 3)])
        made = found.surveys["s"].surface()
        self.assertAlmostEqual(made.plan_area, 100 - 2)
        self.assertAlmostEqual(
            float(made.levels_at(np.array([[5.0, 5.0 - 1.5]]))[0]), 2.5
        )  # the contour is an edge
        road = found.alignments["a"]
        np.testing.assert_allclose(
            road.centreline.changes, [50, 50 + 5 * math.pi, 55 + 5 * math.pi, 65 + 5 * math.pi]
        )
        self.assertEqual([point[2] for point in road.long_section.points], [0, 6, 4, 0])
        says = " ".join(f.says for f in found.findings)
        for words in (
            "A CgPoint is broken",
            "fewer than two points",
            "type cubic",
            "IrregularLine is no kind",
            "has a gap of",
            "CircCurve of the long",
            "UnsymParaCurve of",
        ):
            self.assertIn(words, says)

    def test_geojson_of_every_shape(self) -> None:
        for document, points, lines in [
            (
                {
                    "type": "Feature",
                    "properties": {"level": "99,5"},
                    "geometry": {"type": "Point", "coordinates": [500, 600]},
                },
                [[500, 600, 99.5]],
                [],
            ),
            (
                {"type": "MultiPoint", "coordinates": [[500, 600, 1], [501, 600, 2]]},
                [[500, 600, 1], [501, 600, 2]],
                [],
            ),
            (
                {
                    "type": "MultiLineString",
                    "coordinates": [[[0, 0, 1], [900, 0, 2]], [[0, 5, 1], [9, 5, 2]]],
                },
                [],
                ["breakline", "breakline"],
            ),
            (
                {
                    "type": "GeometryCollection",
                    "geometries": [{"type": "Point", "coordinates": [500, 1, 2]}, {"type": "Circle"}],
                },
                [[500, 1, 2]],
                [],
            ),
            (
                {
                    "type": "MultiPolygon",
                    "coordinates": [[[[0, 0], [900, 0], [9, 9], [0, 0]], [[1, 1], [2, 1], [2, 2], [1, 1]]]],
                },
                [],
                ["boundary", "hole"],
            ),
        ]:
            found = geojson.read_levels(json.dumps(document).encode(), "any.geojson")
            self.assertEqual(found.survey.points.tolist(), points)
            self.assertEqual([line.kind for line in found.survey.lines], lines)
        for document in (
            {
                "type": "FeatureCollection",
                "features": [None, 5, {"geometry": {"type": "Point", "coordinates": "x"}}],
            },
            {},
            [],
            7,
            None,
        ):
            with self.assertRaises(UnreadableLevels):
                geojson.read_levels(json.dumps(document).encode(), "none.geojson")

    def test_dxf_meshes_splines_and_3d_polylines(self) -> None:
        document = ezdxf.new("R2010")
        space = document.modelspace()
        space.add_polyline3d([(0, 0, 1), (9, 0, 2), (9, 9, 3)], close=True)
        space.add_spline([(0, 0, 5), (5, 5, 5), (10, 0, 5)])
        space.add_polyline2d([(0, 0), (4, 0)], dxfattribs={"elevation": (0, 0, 7)})
        mesh = space.add_polyface()
        mesh.append_face([(0, 0, 1), (1, 0, 1), (1, 1, 2), (0, 1, 2)])
        space.add_polymesh((3, 3))
        space.add_point((1e9, 0, 0))
        space.add_circle((0, 0), 5)
        out = io.StringIO()
        document.write(out)
        found = dxf.read_levels(out.getvalue().encode(), "mesh.dxf")
        self.assertEqual([len(line.corners) for line in found.survey.lines][::2], [4, 2])
        np.testing.assert_allclose(found.survey.lines[1].corners[:, 2], 5)
        self.assertEqual((len(found.faces), found.survey.lines[2].corners[0, 2]), (2, 7))
        says = [f.says for f in found.findings]
        self.assertEqual(
            says,
            [
                "Entity 5 is a mesh of polygons, which is not read.",
                "Entity 6 has a coordinate that is not a number or too large; it is left out.",
            ],
        )

    def test_geojson_in_degrees_is_refused(self) -> None:
        content = json.dumps(
            {"type": "MultiPoint", "coordinates": [[7.123, 51.2, 100], [7.124, 51.21, 101]]}
        ).encode()
        with self.assertRaisesRegex(UnreadableLevels, "look like degrees"):
            geojson.read_levels(content, "wgs.geojson")


Reader = Callable[[bytes, str], Any]


class Spoilt(unittest.TestCase):
    """Whatever is done to a file, its reader gives what it read and what it found, or refuses it with a sentence."""

    files: ClassVar[dict[str, tuple[bytes, Reader]]] = {
        "csv": (levels_csv.write_levels(SURVEY), levels_csv.read_levels),
        "xlsx": (workbook(("E", "N", "Z"), *POINTS[:20].tolist()), levels_xlsx.read_levels),
        "dxf": (dxf.write_dxf({"ground": surface(POINTS[:6])}, SURVEY), dxf.read_levels),
        "landxml": (
            landxml.write_landxml({"ground": surface(POINTS[:6])}, {"road": alignment()}, {"ground": SURVEY}),
            landxml.read_landxml,
        ),
        "geojson": (geojson.write_geojson(SURVEY, {"ground": surface(POINTS[:6])}), geojson.read_levels),
        "sections": (sections_csv.write_sections(alignment().sections), sections_csv.read_sections),
    }

    def test_spoilt_files_of_every_format(self) -> None:
        chance = random.Random(20)
        for name, (content, read) in self.files.items():
            for _ in range(12 if name == "dxf" else 40):
                fed(read, spoilt(content, chance), name)

    def test_a_reader_of_another_format_refuses(self) -> None:
        for name, (content, _) in self.files.items():
            for other, (_, read) in self.files.items():
                if name != other and "csv" not in (name, other) and "sections" not in (name, other):
                    with self.assertRaises(UnreadableLevels, msg=f"{name} read as {other}"):
                        read(content, "file")
            for empty in (b"", b"  \n", b"\0\1\2" * 50):
                with self.assertRaises(UnreadableLevels, msg=name):
                    self.files[name][1](empty, "file")

    def test_whatever_number_of_parts_is_broken_all_are_told_or_counted(self) -> None:
        document = ezdxf.new("R2010", units=6)
        for at in range(70):
            document.modelspace().add_point((at, 0, 1e12))
        document.modelspace().add_point((5, 5, 5))
        out = io.StringIO()
        document.write(out)
        features = [{"type": "Point", "coordinates": [at, 1e12, 3]} for at in range(70)] + [
            {"type": "Point", "coordinates": [500, 600, 7]}
        ]
        lines = "".join(
            '<CrossSectSurf name="same"><PntList2D>0</PntList2D></CrossSectSurf>' for _ in range(70)
        )
        good = '<CrossSectSurf name="same"><PntList2D>0 1 2 3</PntList2D></CrossSectSurf>' * 2
        xml = f"""<LandXML><Alignments><Alignment name="a" staStart="0"><CoordGeom><Line><Start>0 0</Start><End>9 0</End></Line></CoordGeom>
        <CrossSects><CrossSect sta="5">{lines}{good}</CrossSect></CrossSects></Alignment></Alignments></LandXML>"""
        rows = "chainage,layer,offset,level\n" + "5,base,x,1\n" * 70 + "5,base,0,1\n5,base,2,1\n"
        road = landxml.read_landxml(xml.encode(), "a.xml")
        for findings in (
            dxf.read_levels(out.getvalue().encode(), "a.dxf").findings,
            geojson.read_levels(
                json.dumps({"type": "GeometryCollection", "geometries": features}).encode(), "a.geojson"
            ).findings,
            road.findings,
            sections_csv.read_sections(rows.encode(), "a.csv")[1],
        ):
            self.assertEqual(
                (len(findings), findings[-1].says, findings[-1].wrong),
                (51, "20 more like these, which are not told one by one.", True),
            )
        self.assertEqual(list(road.alignments["a"].sections[0].lines), ["same (71)", "same (72)"])

    def test_hostile_files_are_refused(self) -> None:
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as packed:
            packed.writestr("xl/worksheets/sheet1.xml", b" " * 1_100_000_000)
        entities = b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]><LandXML>&a;</LandXML>'
        for content, read, says in [
            (bomb.getvalue(), levels_xlsx.read_levels, "would unpack to more"),
            (entities, landxml.read_landxml, "defines entities"),
            (b"<LandXML>" + b"<a>" * 5000, landxml.read_landxml, "broken or no LandXML"),
            (b"[" * 100_000, geojson.read_levels, "broken or no GeoJSON"),
            (b"1;2;" + b"9" * 200_000 + b"\n", levels_csv.read_levels, "can't be read as columns"),
        ]:
            with self.assertRaisesRegex(UnreadableLevels, says):
                read(content, "hostile")


def spoilt(content: bytes, chance: random.Random) -> bytes:
    """A file with something done to it: bytes changed, parts cut out, doubled or exchanged; numbers and words made others, which leaves it well formed."""
    found = bytearray(content)
    for _ in range(chance.randint(1, 6)):
        at = chance.randrange(len(found) or 1)
        length = chance.choice([1, 2, 8, 60, 400])
        what = chance.randrange(10)
        if what == 0:
            found[at : at + 1] = bytes([chance.randrange(256)])
        elif what == 1:
            del found[at : at + length]
        elif what == 2:
            found[at:at] = found[at : at + length]
        elif what == 3:
            found[at : at + length] = chance.choice(
                [
                    b"nan",
                    b"1e999",
                    b"-1",
                    b"",
                    b'"',
                    b"\n",
                    b",,",
                    b"\xff\xfe",
                    b"<",
                    b"&lt;",
                    b"null",
                    b"{}",
                    b"0\n",
                    b"999999999999",
                ]
            )
        elif what == 4:
            del found[at:]
        elif what > 5 and (
            token := re.compile(rb"[A-Za-z]{2,}" if what == 9 else rb"-?\d+(\.\d+)?").search(found, at)
        ):
            others = (
                re.findall(rb"[A-Za-z]{2,}", content)
                if what == 9
                else [b"nan", b"1e999", b"-1", b"0", b"1e9", b"x", b"", b"99999999999999999999"]
            )
            found[token.start() : token.end()] = chance.choice(others)
        else:
            other = chance.randrange(len(found) or 1)
            found[at : at + length], found[other : other + length] = (
                found[other : other + length],
                found[at : at + length],
            )
    return bytes(found)


def fed(read: Reader, content: bytes, name: str) -> None:
    """Read a file that may be anything: only a refusal may come of it, and what is read is sound."""
    try:
        found = read(content, name)
    except Refusal as refusal:
        assert refusal.sentence
        return
    for part in found if isinstance(found, tuple) else (found,):
        survey = getattr(part, "survey", part)
        if isinstance(survey, Survey):
            assert np.isfinite(survey.points[:, :2]).all() and len(survey.codes) == len(survey.points) == len(
                survey.rows
            ), name


if __name__ == "__main__":
    unittest.main()
