"""The proof of an earthwork on paper, in the workbook and in the drawing, without services: what each tells is what
was reckoned, in metric and in US customary units, by every rule."""

from __future__ import annotations

import io
import re
import unittest
from typing import Any

import ezdxf
import numpy as np
import pypdfium2 as pdfium
from openpyxl import load_workbook

from sandscale.core.ground.earthwork import (
    METHODS,
    PROOF_PARTS,
    Asked,
    grid_cells,
    grid_rows,
    laid,
    reckoned,
    row_section,
)
from sandscale.core.numbers.ways import held
from sandscale.reports import earthwork_dxf, earthwork_pdf, earthwork_xlsx
from sandscale.reports.earthwork import EarthDocument
from sandscale.reports.measured import cubic, volume
from tests.cases.test_earthwork_at_random import Site
from tests.services.test_issue import recalculated

LONG = "Platform for the pump house and its yard, brought to one level over all of the terrace between the weir and the lane "


def document(seed: int = 11, **other: Any) -> EarthDocument:
    """An earthwork of a site thrown by dice; ``rule``, ``spacing`` and ``angle`` are its grid's."""
    grid = {
        "rule": "mean area",
        "spacing": 5.0,
        "angle": 0.0,
        **{k: other.pop(k) for k in ("rule", "spacing", "angle") if k in other},
    }
    site = Site.thrown(seed, battered=True)
    asked = Asked(**{**vars(site.asked()), **grid})
    work = laid(asked)
    rows = grid_rows(work, asked.spacing, asked.rule, asked.angle, asked.breaks)
    given = {
        "project": "Ferrin Weir Pumping Station", "client": "Marl Valley Water Board", "mark": "E1", "name": "Platform",
        "told": [("Ground", "Ground"), ("Grid", "5 m at 0°")], "reckoned": reckoned(asked, work), "work": work,
        "rings": [("Platform", site.outline())], "contours": asked.ground.contours(0.5),
        "cells": grid_cells(work, asked.spacing, asked.angle), "rows": rows,
        "sections": [row_section(work, rows, at) for at in range(len(rows.sections))],
        "names": {"ground": "Ground", "top": "Topsoil", "rock": "Rock", "ordinary": "Ordinary digging", "formation": "Formation"},
        "findings": ["12.00 m² lie in no stage."], "decided": ["Survey A: 565 of 569 levels used."],
        "zero_lines": work.between.zero_lines, **other,
    }  # fmt: skip
    return EarthDocument(**given)


def pages_of(told: EarthDocument) -> list[pdfium.PdfPage]:
    return list(pdfium.PdfDocument(io.BytesIO(earthwork_pdf.write(told, lambda _: None))))


def words_of(pages: list[pdfium.PdfPage]) -> str:
    return " ".join(" ".join(page.get_textpage().get_text_bounded() for page in pages).split())


class OnPaper(unittest.TestCase):
    def test_every_number_of_it_is_told(self) -> None:
        told = document()
        words = words_of(pages_of(told))
        made = told.reckoned
        for share in made.shares:
            self.assertIn(f"{share.name} over", words)
            for value in (share.volume, *(v for _, v in share.bands), *(v for _, v in share.stages)):
                self.assertIn(volume(value), words, share.name)
        for method in made.methods:
            self.assertIn(f"cut {volume(method.cut)}, fill {volume(method.fill)}", words, method.name)
        self.assertIn("12.00 m² lie in no stage.", words)
        self.assertIn("565 of 569 levels used", words)
        for at in range(1, len(told.sections) + 1):
            self.assertIn(f"Row {at}", words)

    def test_nothing_runs_off_the_page_whatever_it_is_called(self) -> None:
        name = LONG * 3
        told = document(
            12, name=name, project=LONG, client=LONG, findings=[LONG * 8], told=[(LONG, LONG * 2)]
        )
        for number, page in enumerate(pages_of(told), start=1):
            wide, high = page.get_size()
            text = page.get_textpage()
            for at in range(text.count_rects()):
                left, bottom, right, top = text.get_rect(at)
                self.assertGreaterEqual(
                    left, 20, f"page {number}: {text.get_text_bounded(left, bottom, right, top)}"
                )
                self.assertLessEqual(
                    right, wide - 20, f"page {number}: {text.get_text_bounded(left, bottom, right, top)}"
                )
                self.assertTrue(bottom > 10 and top < high - 10, f"page {number}")
        self.assertIn("between the weir and the lane", words_of(pages_of(told)))

    def test_sections_stand_so_many_to_a_page_and_parts_are_chosen(self) -> None:
        told = document()
        for per_page in (1, 3, 8):
            pages = pages_of(document(per_page=per_page, parts=frozenset({"sections"})))
            drawn = [len(re.findall(r"Row \d+, at", words_of([page]))) for page in pages]
            self.assertLessEqual(max(drawn), per_page)
            self.assertEqual(sum(drawn), len(told.sections))
        whole = len(pages_of(told))
        for part in PROOF_PARTS:
            self.assertLess(len(pages_of(document(parts=frozenset({part})))), whole, part)

    def test_in_feet_and_cubic_yards(self) -> None:
        with held("us"):
            told = document()
            words = words_of(pages_of(told))
            self.assertIn("yd³", words)
            self.assertNotIn("m³", words)
            self.assertAlmostEqual(cubic(), 1 / (0.9144**3), places=9)
            self.assertIn(volume(told.reckoned.shares[0].volume), words)


class InTheWorkbook(unittest.TestCase):
    def test_another_program_comes_to_the_same_by_every_rule(self) -> None:
        for seed, rule, angle, system in (
            (11, "mean area", 0.0, "metric"), (13, "prismoidal", 30.0, "metric"), (14, "frustum", 0.0, "us"),
        ):  # fmt: skip
            with self.subTest(rule), held(system):
                told = document(seed, rule=rule, angle=angle)
                content = earthwork_xlsx.write(told, lambda _: None)
                book = recalculated(load_workbook(io.BytesIO(content)))
                rows = list(book["Summary"].iter_rows(values_only=True))
                found = {str(row[0]).lower(): row for row in rows if row[0]}
                by = cubic()
                for method in told.reckoned.methods:
                    name = {
                        "exact": "prisms between the surfaces",
                        "square grid": "squares",
                        "grid sections": "sections along a grid",
                    }.get(method.name, method.name)
                    row = next(row for key, row in found.items() if key.startswith(name[:8]))
                    self.assertAlmostEqual(row[1], method.cut * by, places=5, msg=method.name)
                    self.assertAlmostEqual(row[2], method.fill * by, places=5, msg=method.name)
                    self.assertAlmostEqual(row[3], (method.cut - method.fill) * by, places=5)
                dug = sum(share.volume for share in told.reckoned.shares)
                self.assertAlmostEqual(found["dug in all"][1], dug * by, places=5)
                self.assertAlmostEqual(found["fill"][1], told.reckoned.fill * by, places=5)
                for share in told.reckoned.shares:
                    self.assertAlmostEqual(
                        found[share.name.lower()][1], share.volume * by, places=5, msg=share.name
                    )

    def test_totals_are_formulas_over_what_stands_below_them(self) -> None:
        book = load_workbook(io.BytesIO(earthwork_xlsx.write(document(), lambda _: None)))
        for name, column in (("Squares", "G"), ("Volumes", "D"), ("Areas", "C")):
            cells = [cell.value for cell in book[name][column][1:] if cell.value is not None]
            self.assertTrue(all(str(value).startswith("=") for value in cells), name)
        rows = [row for row in book["Summary"].iter_rows(values_only=True) if row[0] and "!" in str(row[1])]
        self.assertGreaterEqual(len(rows), len(METHODS) - 1)


class InTheDrawing(unittest.TestCase):
    def test_what_lies_in_plan_lies_where_it_was_surveyed(self) -> None:
        told = document()
        drawing = ezdxf.read(io.StringIO(earthwork_dxf.write(told).decode()))
        self.assertEqual(drawing.units, 6)  # m
        space = drawing.modelspace()
        by_layer: dict[str, list[Any]] = {}
        for each in space:
            by_layer.setdefault(each.dxf.layer, []).append(each)
        squares = by_layer["squares"]
        area = sum(
            abs(np.dot(p[:, 0], np.roll(p[:, 1], 1)) - np.dot(p[:, 1], np.roll(p[:, 0], 1))) / 2
            for p in (np.array(list(each.get_points("xy"))) for each in squares)
        )
        self.assertAlmostEqual(area, told.work.footprint.area, delta=0.01 * area)
        corners = np.array(list(by_layer["outlines"][0].get_points("xy")))
        np.testing.assert_allclose(corners, told.rings[0][1], atol=1e-9)
        levels = {round(each.dxf.elevation, 6) for each in by_layer["contours"]}
        self.assertTrue(all(level * 2 % 1 == 0 for level in levels))
        texts = [each.dxf.text for each in by_layer["section texts"]]
        self.assertEqual(len(texts), len(told.sections))

    def test_only_what_is_asked_for_is_drawn(self) -> None:
        for parts, there, missing in (
            ({"plan"}, "footprint", "section ground"), ({"sections"}, "section ground", "footprint"), ({"plan"}, "outlines", "squares"),
        ):  # fmt: skip
            drawing = ezdxf.read(io.StringIO(earthwork_dxf.write(document(parts=frozenset(parts))).decode()))
            layers = {each.dxf.layer for each in drawing.modelspace()}
            self.assertIn(there, layers)
            self.assertNotIn(missing, layers)


if __name__ == "__main__":
    unittest.main()
