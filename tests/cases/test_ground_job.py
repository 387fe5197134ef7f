"""A whole job of earthwork: from the surveyor's files to volumes, loads and a drawing, and what is told on the way."""

from __future__ import annotations

import unittest

import numpy as np

from sandscale.core.ground.classes import Layer, dig
from sandscale.core.ground.cut_and_fill import cut_and_fill
from sandscale.core.ground.formation import Batter, Platform
from sandscale.core.ground.haulage import Soil, haulage
from sandscale.core.ground.methods import side_by_side
from sandscale.core.ground.surface import of_faces
from sandscale.core.ground.survey import check
from sandscale.formats import dxf, landxml, levels_csv

from .test_ground import square


def terrace(x: float, y: float) -> float:
    """A river terrace: a flat, a bank of 1 in 4 between y = 30 and y = 42, and a flat 3 m higher."""
    return 100 + min(max((y - 30) / 4, 0), 3)


def survey_file() -> bytes:
    """The terrace as a surveyor sends it: point numbers, decimal commas, a repeated point, a level without its hundreds."""
    rows = ["Nr;Rechtswert;Hochwert;Höhe;Code"]
    for number, (x, y) in enumerate(
        ((x, y) for x in range(0, 81, 5) for y in (0, 6, 12, 18, 24, 30, 36, 42, 48, 54, 60, 66, 72)), start=1
    ):
        level = terrace(x, y) - (100 if number == 60 else 0)
        rows.append(
            f"{number};{512_300 + x:.3f};{5_401_700 + y:.3f};{level:.3f};{'kante' if y in (30, 42) else 'gel'}".replace(
                ".", ","
            )
        )
    return "\r\n".join([*rows, rows[7], "999;x;5401700,0;100,0;gel"]).encode("cp1252")


class EarthworkJob(unittest.TestCase):
    def test_from_the_survey_to_loads_and_a_drawing(self) -> None:
        survey, unread = levels_csv.read_levels(survey_file(), "terrasse.csv")
        self.assertEqual([f.says for f in unread], ["Row 224 “x” is no number for east; it is left out."])
        looked = check(survey)
        found = {doubt.kind: doubt for doubt in looked.doubts}
        self.assertEqual(set(found), {"duplicate", "spike"})
        self.assertEqual([int(survey.rows[at]) for at in found["spike"].which], [61])
        # The level that lost its hundreds is put right; the repeated point stays left out.
        survey.points[found["spike"].which, 2] += 100
        ground = survey.surface()
        self.assertEqual([f.field for f in ground.findings], ["duplicate"])
        self.assertEqual((ground.lowest, ground.highest), (100, 103))
        self.assertAlmostEqual(ground.plan_area, 80 * 72)

        # A platform of 40 × 20 at 101.00 across the bank: cut 1 in 1, filled 1 in 2.
        platform = Platform(square(40, 20, 101.0, 512_320, 5_401_724), cut=Batter(1), fill=Batter(2))
        earth = cut_and_fill(ground, platform)
        # On the platform: filled from y = 24 to the crossing at 34, 1.0 deep to 30 and then thinning out; cut from there, to 2.0 at 42 and 44.
        inside = earth.within(cut_and_fill(ground, Platform(platform.outline)).footprint)
        self.assertAlmostEqual(inside.fill, 40 * (6 * 1.0 + 4 * 1.0 / 2), places=6)
        self.assertAlmostEqual(inside.cut, 40 * (8 * 2.0 / 2 + 2 * 2.0), places=6)
        self.assertEqual({round(y - 5_401_700, 6) for line in inside.zero_lines for y in line[:, 1]}, {34})
        self.assertGreater(earth.cut, inside.cut)
        methods = side_by_side(earth, 2, 0.25)
        for method in methods[1:]:
            self.assertLess(
                abs(method.cut_off) + abs(method.fill_off), 0.02 * (earth.cut + earth.fill), method.name
            )

        classes = dig(earth, [Layer("topsoil", 0.15)])
        self.assertAlmostEqual(classes.volume("topsoil"), 0.15 * earth.area, places=6)
        self.assertAlmostEqual(classes.dug - classes.fill, earth.net, places=6)
        hauled = haulage(classes.volume("ordinary"), classes.fill, Soil(1.25, 0.9, 12))
        self.assertAlmostEqual(hauled.reused + hauled.imported, classes.fill / 0.9)
        self.assertEqual(
            hauled.export_loads + hauled.import_loads,
            int(np.ceil((hauled.exported_loose + hauled.imported_loose) / 12)),
        )

        drawing = dxf.write_dxf(
            {"ground": ground},
            None,
            {"zero": earth.zero_lines, "contours": [c.line for c in ground.contours(0.5)]},
        )
        again = of_faces(dxf.read_levels(drawing, "out.dxf", layers=["ground"]).faces)
        self.assertAlmostEqual(cut_and_fill(again, platform).cut, earth.cut, places=6)
        sent = landxml.read_landxml(landxml.write_landxml({"ground": ground}), "out.xml").surfaces["ground"]
        self.assertAlmostEqual(cut_and_fill(sent, platform).fill, earth.fill, places=9)


if __name__ == "__main__":
    unittest.main()
