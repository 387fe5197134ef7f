"""What is decided about levels that look wrong, and the surface that goes through those that are left."""

from __future__ import annotations

import unittest

import numpy as np

from sandscale.core.ground.decided import Decision, Looked, looked_through, surface_of
from sandscale.core.ground.survey import Survey, SurveyLine
from sandscale.core.refusals import BadShape

NONE = np.zeros((0, 3), np.int64)


def slope(side: int = 8, step: float = 5.0) -> np.ndarray:
    """Levels on a square grid that rise 1 in 10 to the east from 10."""
    return np.array([[x * step, y * step, 10 + x * step / 10] for x in range(side) for y in range(side)])


def looked(points: np.ndarray, *decisions: Decision, lines: tuple[SurveyLine, ...] = ()) -> Looked:
    return looked_through(Survey(points, (), np.arange(1, len(points) + 1), lines), decisions)


class Decisions(unittest.TestCase):
    def test_each_way_of_deciding_does_what_it_says(self) -> None:
        points = slope()
        points[27, 2] += 6
        found = looked(points)
        self.assertEqual(
            [(d.kind, d.which.tolist(), d.undecided.tolist()) for d in found.doubts], [("spike", [27], [27])]
        )
        self.assertTrue(found.usable[27])  # nothing is left out in silence
        kept = looked(points, Decision("spike", 27, "keep"))
        self.assertEqual(
            (kept.undecided, bool(kept.usable[27]), kept.told), (0, True, ("Out of line: 1 kept.",))
        )
        out = looked(points, Decision("spike", None, "leave out"))
        self.assertEqual(
            (out.undecided, bool(out.usable[27]), out.told), (0, False, ("Out of line: all 1 left out.",))
        )
        right = looked(points, Decision("spike", 27, "put right", 13.0))
        self.assertEqual(
            (right.undecided, right.survey.points[27, 2], right.told),
            (0, 13.0, ("Out of line: 1 put right.",)),
        )
        self.assertEqual(points[27, 2], slope()[27, 2] + 6)  # what came stays as it came
        self.assertEqual(len(out.used.points), len(points) - 1)

    def test_what_was_decided_of_one_goes_before_what_was_decided_of_its_kind(self) -> None:
        points = slope()
        points[[27, 44], 2] += 6
        found = looked(points, Decision("spike", None, "leave out"), Decision("spike", 44, "keep"))
        self.assertEqual((bool(found.usable[27]), bool(found.usable[44])), (False, True))
        self.assertEqual(found.told, ("Out of line: 1 kept, all 1 others left out.",))

    def test_of_two_levels_at_a_place_the_one_kept_counts(self) -> None:
        points = np.concatenate([slope(), [[10, 10, 15.0], [20, 20, 12.0]]])
        found = looked(points)
        self.assertEqual(
            {d.kind: d.which.tolist() for d in found.doubts}, {"duplicate": [65], "conflict": [64]}
        )
        self.assertEqual(found.undecided, 1)  # a level sent twice needs no deciding
        first = int(np.flatnonzero((points[:, :2] == [10, 10]).all(axis=1))[0])
        kept = looked(points, Decision("conflict", 64, "keep"))
        self.assertEqual((bool(kept.usable[first]), bool(kept.usable[64])), (False, True))
        gone = looked(points, Decision("conflict", None, "leave out"))
        self.assertEqual((bool(gone.usable[first]), bool(gone.usable[64]), gone.undecided), (True, False, 0))
        # Kept by kind, the first of both stays what it was: which of several would it be?
        self.assertFalse(looked(points, Decision("conflict", None, "keep")).usable[64])

    def test_a_missing_level_counts_only_once_it_is_put(self) -> None:
        points = slope()
        points[30, 2] = np.nan
        self.assertFalse(looked(points, Decision("missing", 30, "keep")).usable[30])
        put = looked(points, Decision("missing", 30, "put right", 11.5))
        self.assertTrue(put.usable[30])
        self.assertEqual(put.doubts, ())

    def test_a_doubt_about_all_is_open_until_it_is_decided(self) -> None:
        # The boundary lies the other way round.
        points = slope() + np.array([0, 100, 0])
        corners = np.array([[99, -1, np.nan], [140, -1, np.nan], [140, 40, np.nan], [99, 40, np.nan]])
        edge = (SurveyLine("boundary", corners),)
        found = looked(points, lines=edge)
        self.assertIn("swapped", [d.kind for d in found.doubts])
        general = next(d for d in found.doubts if d.kind == "swapped")
        self.assertEqual((len(general.which), len(general.undecided)), (0, 1))
        self.assertEqual(looked(points, Decision("swapped", None, "keep"), lines=edge).undecided, 0)

    def test_decisions_about_levels_that_are_gone_are_nothing(self) -> None:
        found = looked(slope(), Decision("spike", 999, "leave out"), Decision("spike", -1, "put right", 3.0))
        self.assertTrue(found.usable.all())

    def test_no_levels_at_all(self) -> None:
        found = looked(np.zeros((0, 3)))
        self.assertEqual((len(found.used.points), found.undecided), (0, 0))


class ThroughThem(unittest.TestCase):
    def test_lines_of_surveys_and_drawn_ones(self) -> None:
        edge = np.array([[2, 2, np.nan], [33, 2, np.nan], [33, 33, np.nan], [2, 33, np.nan]])
        within = SurveyLine("boundary", edge)
        made = surface_of([(looked(slope(), lines=(within,)), NONE)])
        self.assertAlmostEqual(made.plan_area, 31 * 31)
        # One drawn for the surface takes the place of what came with the levels, which is told.
        drawn = SurveyLine("boundary", edge * [0.5, 0.5, 1])
        hole = SurveyLine(
            "hole", np.array([[5, 5, np.nan], [10, 5, np.nan], [10, 10, np.nan], [5, 10, np.nan]])
        )
        made = surface_of([(looked(slope(), lines=(within,)), NONE)], [drawn, hole])
        self.assertAlmostEqual(made.plan_area, 15.5**2 - 25)
        self.assertEqual([f.code for f in made.findings], ["boundaries"])
        ridge = SurveyLine("breakline", np.array([[1, 17, 20.0], [34, 17, 20.0]]))
        self.assertEqual(surface_of([(looked(slope()), NONE)], [ridge]).highest, 20)
        bare = SurveyLine("breakline", np.array([[1, 17, np.nan], [34, 17, 20.0]]))
        self.assertEqual(
            [f.code for f in surface_of([(looked(slope()), NONE)], [bare]).findings], ["no-level"]
        )

    def test_triangles_that_came_stay_as_they_are(self) -> None:
        points = np.array([[0, 0, 0.0], [10, 0, 0], [10, 10, 5], [0, 10, 0], [20, 5, 1]])
        # The other diagonal than the one that would be chosen, and no triangle in the notch.
        faces = np.array([[0, 1, 3], [1, 2, 3]])
        made = surface_of([(looked(points), faces)])
        self.assertEqual((len(made.triangles), made.plan_area), (2, 100))
        self.assertAlmostEqual(float(made.levels_at(np.array([[4.0, 4.0]]))[0]), 0.0)
        # Left out, a corner takes its triangles with it.
        less = surface_of([(looked(points, Decision("", 0, "leave out")), faces)])
        self.assertEqual(less.plan_area, 50)
        # Among others they are edges that hold.
        both = surface_of([(looked(points), faces), (looked(slope() + np.array([0, 40, 0])), NONE)])
        self.assertAlmostEqual(float(both.levels_at(np.array([[4.0, 4.0]]))[0]), 0.0)
        bounded = surface_of(
            [(looked(points), faces)],
            [
                SurveyLine(
                    "boundary", np.array([[0, 0, np.nan], [5, 0, np.nan], [5, 5, np.nan], [0, 5, np.nan]])
                )
            ],
        )
        self.assertAlmostEqual(bounded.plan_area, 25)

    def test_what_cannot_be_made(self) -> None:
        for parts in (
            [],
            [(looked(slope()[:2]), NONE)],
            [(looked(np.array([[0, 0, 1.0], [1, 1, 2], [2, 2, 3]])), NONE)],
        ):
            with self.assertRaises(BadShape):
                surface_of(parts)

    def test_where_surveys_differ_the_earlier_counts(self) -> None:
        later = slope(4) + np.array([0, 0, 1])
        made = surface_of([(looked(slope()), NONE), (looked(later), NONE)])
        self.assertEqual(
            [f.says for f in made.findings],
            ["Where two surveys have a level at one place, 16 differ; the earlier survey's counts."],
        )
        self.assertEqual(made.highest, 13.5)


if __name__ == "__main__":
    unittest.main()
