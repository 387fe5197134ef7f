"""Shapes known again from where their corners lie, tables by their heads, and bars in the exchange text."""

from __future__ import annotations

import random
import unittest

from sandscale.core.bars.columns import fields_of, recognise
from sandscale.core.bars.cutting import cut_from_stock
from sandscale.core.bars.detailing import standard
from sandscale.core.bars.recognition import recognised
from sandscale.core.bars.schedule import BarLine, scheduled
from sandscale.core.bars.shapes import SHAPES, between
from sandscale.core.refusals import BadEntry
from sandscale.formats import bvbs

STRAIGHT = ("00", "11", "14", "15", "21", "23", "24", "26", "29", "31", "32", "34", "35", "36", "41", "44", "46", "51", "56", "63", "64")  # fmt: skip


class KnownAgain(unittest.TestCase):
    def test_every_straight_shape_at_random_legs(self) -> None:
        chance, known = random.Random(5), 0
        for code in STRAIGHT:
            shape = SHAPES[code]
            for _ in range(40):
                legs = {letter: chance.randrange(100, 1500) / 1000 for letter in shape.legs}
                if shape.findings(legs, 0.012, 0.024, 0.0):
                    continue
                outline = [(round(x, 3), round(y, 3)) for x, y in shape.points(legs, 0.012, 0.024)]
                found, again = recognised(outline)
                with self.subTest(code, legs=legs, found=found, again=again):
                    self.assertNotEqual(found, "99")
                    drawn = SHAPES[found].points(again, 0.012, 0.024)
                    lengths = [sorted(between(points)[0].values()) for points in (outline, drawn)]
                    for one, other in zip(*lengths, strict=True):
                        self.assertAlmostEqual(one, other, delta=0.004)
                    known += found == code
        self.assertGreater(known, 400)

    def test_what_is_none_of_them_has_its_corners(self) -> None:
        self.assertEqual(recognised([(0, 0), (1, 0), (1.2, 0.9), (0.4, 1.3), (0.1, 0.2)]), ("99", {}))
        with self.assertRaisesRegex(BadEntry, "2 to 13 corners"):
            between([(0, 0)])

    def test_a_table_without_a_head_has_the_order_of_the_standards_form(self) -> None:
        rows = [["RW1", "01", "H16", "2", "40", "80", "3.2", "11", "400", "2850", "", "", "", "B"]]
        known = recognise(rows)
        self.assertEqual(fields_of(rows[0], known)["each"], "40")
        self.assertEqual((known.first, fields_of(rows[0], known)["revision"]), (0, "B"))
        metres = [["Member", "Mark", "Size", "Qty", "Code", "A (m)"], ["W1", "1", "12", "4", "00", "2.5"]]
        self.assertEqual(fields_of(metres[1], recognise(metres))["A"], "2.5 m")

    def test_the_exchange_text_tells_what_is_bent_and_nothing_round(self) -> None:
        bars = [
            BarLine("PF@2", "01", "16", 4, 26, "21", {"A": 0.35, "B": 1.7, "C": 0.35}, "H"),
            BarLine("P1", "02", "10", 1, 1, "75", {"A": 0.5, "B": 0.2}, "H"),
        ]
        text = bvbs.write_bars([scheduled(bar, standard()) for bar in bars], "Ferrin Weir", "A").decode()
        head = "BF2D@HjFerrin Weir@rPF 2@iA@p01@l2350@n104@e3.709@d16@gH@G"
        self.assertTrue(text.startswith(f"{head}l350@w90@l1700@w90@l350@w0@C"), text)
        self.assertEqual(text.count("BF2D"), 1)
        sign = text[: text.rindex("C") + 1]
        self.assertEqual(int(text.rstrip()[len(sign) : -1]), 96 - sum(sign.encode()) % 32)
        for spoilt, says in (
            ("BF3D@Hr1@", "of the kind BF3D isn't read"), ("BF2D@Hp1@Glx@", "is no number"), ("BF2D@Hp1@", "no geometry"),
            ("BF2D@Hp1@Gl100@r50@w90@", "has an arc"), ("BF2D@Hp1@Gl1e9@w0@", "too large"),
        ):  # fmt: skip
            self.assertIn(says, next(bvbs.read_bars(spoilt.encode(), "x.abs"))[2])


class Cut(unittest.TestCase):
    def test_many_lengths_come_within_half_a_percent_of_the_bound(self) -> None:
        chance, wanted = random.Random(3), dict[float, int]()
        for _ in range(160):
            length = round(chance.triangular(0.6, 6.5, 1.8) * 40) / 40
            wanted[length] = wanted.get(length, 0) + 1
        told: list[float] = []
        plan = cut_from_stock(wanted, [12.0], tick=told.append)
        self.assertLessEqual(plan.gap, 0.5)
        cut: dict[float, int] = {}
        for pattern in plan.patterns:
            self.assertLessEqual(sum(length * number for length, number in pattern.cuts.items()), 12.0 + 1e-9)
            for length, number in pattern.cuts.items():
                cut[length] = cut.get(length, 0) + number * pattern.times
        self.assertEqual(cut, wanted)
        self.assertEqual((told, max(told) <= 1), (sorted(told), True))

    def test_thousands_of_lengths_are_fitted_and_the_bound_told(self) -> None:
        chance = random.Random(1)
        wanted = {round(chance.uniform(0.6, 11.9), 3): chance.randint(1, 30) for _ in range(3000)}
        plan = cut_from_stock(wanted, [12.0, 9.0], 0.003, kept={3.0: 5})
        cut: dict[float, int] = {}
        for pattern in plan.patterns:
            self.assertLessEqual(
                sum((each + 0.003) * n for each, n in pattern.cuts.items()), pattern.stock + 0.0031
            )
            for length, number in pattern.cuts.items():
                cut[length] = cut.get(length, 0) + number * pattern.times
        self.assertEqual(cut, wanted)
        self.assertLess(plan.gap, 2)
        self.assertGreaterEqual(plan.bought, plan.bound)

    def test_what_kept_pieces_give_is_not_bought(self) -> None:
        plan = cut_from_stock({2.0: 7}, [6.0], 0.005, kept={2.0: 1, 4.1: 2, 1.0: 9})
        kept = [(p.stock, dict(p.cuts), p.times) for p in plan.patterns if p.kept]
        self.assertEqual(kept, [(2.0, {2.0: 1}, 1), (4.1, {2.0: 2}, 2)])
        self.assertEqual((plan.order, plan.demand), ({6.0: 1}, 4.0))
        whole = cut_from_stock({2.0: 3}, [6.0], kept={6.0: 5})
        self.assertEqual((whole.order, whole.bound, len(whole.patterns)), ({}, 0.0, 1))


if __name__ == "__main__":
    unittest.main()
