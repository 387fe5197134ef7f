"""Two revisions of a sheet of 20,000 lines: laid over one another wherever the drawing lies, every one of 40
planted changes found, and none where there is none."""

from __future__ import annotations

import cmath
import math
import unittest
from collections import Counter

import numpy as np

from sandscale.core.figures.differences import Place, Word, differences, near
from sandscale.core.figures.lay import Lay, Lines, lay_over
from sandscale.core.figures.pages import Signs, matched

WIDE, HIGH, LINES = 3370.0, 2384.0, 20_000  # an A0 sheet
SPOTS = [(100.0 + 400 * (k % 8), 100.0 + 440 * (k // 8)) for k in range(40)]
LAYS = {
    "as it lay": Lay(), "moved": Lay(1 + 0j, 31.2 - 17.5j), "turned by a quarter": Lay(1j, HIGH + 0j),
    "half as large and askew": Lay(cmath.rect(0.5, 0.02), 30 + 50j),
    "twice as large": Lay(2 + 0j, -400 - 300j),
}  # fmt: skip


def drawing(seed: int) -> tuple[Lines, list[Word]]:
    random = np.random.default_rng(seed)
    start = random.uniform((40, 40), (WIDE - 140, HIGH - 140), (LINES, 2))
    angle = random.choice((0.0, math.pi / 2, 0.3, 1.1), LINES)
    long = random.uniform(4, 110, LINES)[:, None]
    words = [
        (f"w{at % 700}", float(x), float(y), 20.0, 6.0)
        for at, (x, y) in enumerate(random.uniform(50, 2200, (2000, 2)))
    ]
    return np.hstack((start, start + long * np.column_stack((np.cos(angle), np.sin(angle))))), words


def redrawn(lines: Lines, words: list[Word], lay: Lay, seed: int) -> tuple[Lines, list[Word]]:
    """The same drawing written again by another hand: elsewhere, in another order, lines the other way round
    and in halves, numbers rounded."""
    random = np.random.default_rng(seed)
    lines = lay.lines(lines) + random.normal(0, 0.01, lines.shape)
    lines = random.permutation(lines)
    turned = random.random(len(lines)) < 0.5
    lines[turned] = lines[turned][:, [2, 3, 0, 1]]
    halved = random.random(len(lines)) < 0.2
    middle = (lines[halved, :2] + lines[halved, 2:]) / 2
    lines = np.vstack(
        (lines[~halved], np.hstack((lines[halved, :2], middle)), np.hstack((middle, lines[halved, 2:])))
    )
    return lines, [_on(word, lay) for word in words]


def _on(word: Word, lay: Lay) -> Word:
    text, left, bottom, wide, high = word
    ((x, y),) = lay.points(np.array([[left + wide / 2, bottom + high / 2]]))
    return (text, float(x) - wide / 2, float(y) - high / 2, wide, high)


def compared(before: tuple[Lines, list[Word]], after: tuple[Lines, list[Word]]) -> list[Place]:
    laid = lay_over(before[0].astype(np.float32), after[0].astype(np.float32))
    assert laid is not None
    return differences(before[0], after[0], before[1], after[1], laid)


class Revisions(unittest.TestCase):
    def test_nothing_is_told_where_nothing_changed_wherever_the_drawing_lies(self) -> None:
        base = drawing(1)
        for seed, (name, lay) in enumerate(LAYS.items()):
            with self.subTest(name):
                after = redrawn(*base, lay, seed)
                laid = lay_over(base[0], after[0])
                assert laid is not None
                self.assertLess(abs(laid.lay.turn - lay.turn) * WIDE, 0.05)
                self.assertLess(abs(laid.lay.shift - lay.shift), 0.05)
                self.assertEqual(compared(base, after), [])

    def test_each_of_forty_planted_changes_is_found_and_nothing_else(self) -> None:
        lines, words = drawing(2)
        for seed, (name, lay) in enumerate(LAYS.items()):
            # A line that comes, one that goes, one that is moved by 0.7 mm, a word that says something else.
            came = [(x, y, x + 9 + k, y + 7) for k, (x, y) in enumerate(SPOTS) if k % 4 == 0]
            gone = [(x, y, x + 60, y + 3.0) for k, (x, y) in enumerate(SPOTS) if k % 4 == 1]
            was = [(x, y, x + 50, y + 21.0) for k, (x, y) in enumerate(SPOTS) if k % 4 == 2]
            now = [(x, y + 2, x2, y2 + 2) for x, y, x2, y2 in was]
            says = [(f"{k}00", x, y, 20.0, 6.0) for k, (x, y) in enumerate(SPOTS) if k % 4 == 3]
            before = np.vstack((lines, gone, was)), [*words, *says]
            other = [(f"{word[0]}5", *word[1:]) for word in says]
            after = redrawn(np.vstack((lines, came, now)), [*words, *other], lay, seed)
            with self.subTest(name):
                places = compared(before, after)
                self.assertEqual(len(places), len(SPOTS))
                self.assertEqual([p.size for p in places], sorted((p.size for p in places), reverse=True))
                found = Counter()
                for place in places:
                    middle = complex((place.box[0] + place.box[2]) / 2, (place.box[1] + place.box[3]) / 2)
                    spot = (middle - lay.shift) / lay.turn
                    found[min(range(40), key=lambda k: abs(complex(*SPOTS[k]) - spot))] += 1
                self.assertEqual(set(found.values()), {1})
                kinds = Counter(
                    (bool(len(p.gone)), bool(len(p.came)), bool(p.words_gone), bool(p.words_came))
                    for p in places
                )
                self.assertEqual(
                    kinds,
                    {
                        (False, True, False, False): 10, (True, False, False, False): 10,
                        (True, True, False, False): 10, (False, False, True, True): 10,
                    },
                )  # fmt: skip

    def test_another_drawing_coincides_nowhere_and_too_few_lines_tell_nothing(self) -> None:
        one, other = drawing(3)[0], drawing(4)[0]
        laid = lay_over(one, other)
        assert laid is not None
        self.assertLess(laid.share, 0.01)
        self.assertIsNone(lay_over(one, other[:5]))

    def test_a_frame_that_stays_while_the_drawing_in_it_moves_is_no_change(self) -> None:
        lines, words = drawing(5)
        frame = np.array(
            [(10, 10, 3360, 10), (3360, 10, 3360, 2374), (3360, 2374, 10, 2374), (10, 2374, 10, 10)], float
        )
        lay = Lay(1 + 0j, 12 + 9j)
        moved, said = redrawn(lines, words, lay, 0)
        title: list[Word] = [("Board", 3000.0, 20.0, 60.0, 12.0)]
        places = compared(
            (np.vstack((lines, frame)), [*words, *title]), (np.vstack((moved, frame)), [*said, *title])
        )
        self.assertEqual(places, [])

    def test_pages_find_their_like_in_another_order(self) -> None:
        pages = [drawing(seed) for seed in (6, 7, 8)]
        pages = [
            (lines[:900], [(f"p{at}-{word[0]}", *word[1:]) for word in words])
            for at, (lines, words) in enumerate(pages)
        ]
        before = [Signs.of(lines, [word[0] for word in words]) for lines, words in pages]
        after = [Signs.of(*_signs(pages[at], LAYS["turned by a quarter"])) for at in (2, 0)]
        self.assertEqual(sorted(matched(before, after)), [(0, 1), (2, 0)])

    def test_near_is_what_lies_within_reach_of_a_line_that_went_not_of_its_place_alone(self) -> None:
        import shapely

        lines = np.array([(0, 0, 100, 0), (100, 0, 100, 100)], float)
        place = Place((0, 0, 100, 100), 200, lines, np.zeros((0, 4)), [], [])
        for point, is_near in (((50, 20), True), ((30, 60), False), ((100, 120), True), ((130, 130), False)):
            self.assertEqual(near(shapely.Point(point), [place], 24.0), is_near, point)
        self.assertTrue(near(shapely.box(20, -50, 400, 400), [place], 24.0))


def _signs(page: tuple[Lines, list[Word]], lay: Lay) -> tuple[Lines, list[str]]:
    lines, words = redrawn(*page, lay, 1)
    return lines, [word[0] for word in words]


if __name__ == "__main__":
    unittest.main()
