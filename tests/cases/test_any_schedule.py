"""Schedules of any bars: sums that hold for all of them, and cut lengths against the geometry of the bent bar.

A bend of angle θ round a former of radius r takes 2·(r + d)·tan(θ/2) off two outside dimensions and gives an arc of
θ·(r + d/2) at the bar's axis: plain geometry, which the coefficients of BS 8666:2020 table 5 round.
"""

from __future__ import annotations

import math
import unittest
from dataclasses import replace
from itertools import pairwise
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from sandscale.core.bars.detailing import built_in_detailing, standard
from sandscale.core.bars.schedule import BarLine, schedule
from sandscale.core.bars.shapes import SHAPES
from sandscale.core.bars.sizes import diameter

SIZES = ("8", "10", "12", "16", "20", "25", "32", "40")


@st.composite
def bars(draw: st.DrawFn) -> BarLine:
    """A bar of any shape and size with legs that are long enough to be bent."""
    shape = SHAPES[draw(st.sampled_from(sorted(SHAPES)))]
    legs = {
        leg: float(draw(st.integers(1, 30))) if leg in shape.numbers else draw(st.integers(400, 3000)) / 1000
        for leg in shape.legs
    }
    return BarLine(
        "E1",
        draw(st.uuids()).hex,
        draw(st.sampled_from(SIZES)),
        draw(st.integers(0, 20)),
        draw(st.integers(0, 40)),
        shape.code,
        legs,
    )


def turns(points: list[tuple[float, float]]) -> list[float]:
    """The angle turned at each corner of a line, to the left above zero."""
    found = []
    for (ax, ay), (bx, by), (cx, cy) in zip(points, points[1:], points[2:], strict=False):
        first, second = math.atan2(by - ay, bx - ax), math.atan2(cy - by, cx - bx)
        found.append((second - first + math.pi) % (2 * math.pi) - math.pi)
    return found


class AnySchedule(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.lists(bars(), min_size=1, max_size=12))
    def test_the_mass_is_the_sum_of_the_bars_whichever_way_it_is_added(self, lines: list[BarLine]) -> None:
        for rules in built_in_detailing().values():
            known = set(rules.bars)
            read = [
                replace(line, size=line.size if line.size in known else sorted(known)[0]) for line in lines
            ]
            worked = schedule(read, rules)
            self.assertAlmostEqual(worked.mass, sum(size.mass for size in worked.sizes), places=6)
            self.assertEqual(
                sum(size.number for size in worked.sizes), sum(line.members * line.each for line in read)
            )
            for line, bar in zip(worked.lines, read, strict=True):
                if bar.size.isdigit():  # inch sizes have the masses of their standard
                    steel = math.pi / 4 * diameter(bar.size) ** 2 * 7850
                    self.assertAlmostEqual(
                        line.mass, bar.members * bar.each * line.cut_length * steel, places=6
                    )
                self.assertAlmostEqual(line.length, line.total * line.cut_length, places=9)
                self.assertEqual(line.working.value, line.cut_length)
                # Rounded up by less than one step, never down.
                exact = line.working.parts[0].value
                self.assertGreaterEqual(line.cut_length + 1e-9, exact)
                self.assertLess(line.cut_length - exact, 0.05)
                self.assertTrue(all(math.isfinite(c) for point in line.outline for c in point))

    @settings(max_examples=60, deadline=None)
    @given(bars(), st.integers(1, 500))
    def test_a_longer_leg_never_makes_a_shorter_bar(self, bar: BarLine, more: int) -> None:
        shape = SHAPES[bar.shape]
        before = schedule([bar], standard()).lines[0].cut_length
        for leg in shape.legs:
            if leg in shape.numbers or (leg in ("R", "C") and "R" in shape.legs):
                continue  # the radius of a bend of its own isn't a length of bar
            longer = replace(bar, legs={**bar.legs, leg: bar.legs[leg] + more / 1000})
            self.assertGreaterEqual(
                schedule([longer], standard()).lines[0].cut_length, before, f"{bar.shape} {leg}"
            )

    def test_cut_lengths_are_the_length_of_the_axis_of_the_bent_bar(self) -> None:
        checked: set[str] = set()
        for code, shape in SHAPES.items():
            arcs = any(len(part) > 2 for part in shape.outline)
            if arcs or shape.numbers or not shape.bends:
                continue
            for size in SIZES:
                d = diameter(size)
                r = standard().radius(d)
                legs = {leg: 0.9 + 0.17 * at for at, leg in enumerate(shape.legs)}
                points: list[Any] = list(shape.points(legs, d, r))
                corners = turns(points)
                if (
                    not corners
                    or any(abs(abs(turn) - math.pi / 2) > 0.01 for turn in corners)
                    or len({turn > 0 for turn in corners}) > 1
                ):
                    continue  # outside dimensions are measured to outside corners only where every bend turns one way
                sharp = sum(math.dist(a, b) for a, b in pairwise(points))
                axis = sharp - sum(2 * (r + d) * math.tan(abs(t) / 2) - abs(t) * (r + d / 2) for t in corners)
                worked = schedule([BarLine("E", "1", size, 1, 1, code, legs)], standard()).lines[0]
                if worked.findings:
                    continue  # legs that don't go together
                formula = worked.working.parts[0].value
                self.assertAlmostEqual(
                    formula, axis, delta=len(corners) * 0.35 * d, msg=f"shape {code}, {size} mm"
                )
                checked.add(code)
        self.assertLessEqual({"11", "21"}, checked)
        self.assertGreaterEqual(len(checked), 4, checked)


if __name__ == "__main__":
    unittest.main()
