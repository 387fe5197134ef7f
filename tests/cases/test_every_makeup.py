"""Every output of every built-in make-up, reckoned a second time from the drawing: nothing here calls the make-ups' own rules.

Bars are to BS 8666 with laps of 40 diameters (C30/37), stock of 12 m, cut lengths up to 25 mm,
spaces counted up plus one.
"""

from __future__ import annotations

import math
import unittest

from sandscale.core.makeups.makeup import built_in, built_in_source, read_makeup
from sandscale.core.makeups.run import Line, run, working
from sandscale.core.refusals import BadEntry, BadFormula

NO_DIG = dict.fromkeys(("dig_1", "dig_2", "dig_4", "dig_more", "backfill", "disposal", "carted"), 0.0)
given: set[tuple[str, str]] = set()  # what came to something, of which make-up


def kg(metres: float, size: float) -> float:
    """Bars of a size in mm: 7850 kg/m³."""
    return metres * math.pi / 4 * (size / 1000) ** 2 * 7850


def up(length: float, step: float = 0.025) -> float:
    return math.ceil(round(length / step, 6)) * step


def bars(width: float, cover: float, size: float, spacing: float) -> int:
    return math.ceil(round((width - 2 * cover - size / 1000) / spacing, 6)) + 1


def lapped(run: float, size: float, stock: float = 12.0) -> float:
    """A run made up of stock lengths, each joint lapped by 40 diameters."""
    lap, laps = 40 * size / 1000, 0
    while stock + laps * (stock - lap) < run - 1e-9:
        laps += 1
    return run + laps * lap


def bobbed(leg: float, length: float, size: float) -> float:
    """Shape 21: both legs and the length between, less a former radius and two diameters."""
    d = size / 1000
    return up(2 * leg + length - (2 if size <= 16 else 3.5) * d - 2 * d)


def link(a: float, b: float, size: float, end: float) -> float:
    """Shape 51."""
    d = size / 1000
    return up(2 * (a + b + end) - 2.5 * 2 * d - 5 * d)


def dug(
    length: float, width: float, depth: float, batter: float, *, trench: bool = False
) -> dict[str, float]:
    """The bands of a pit, or of a trench with square ends, by integrating its plan from the bottom up."""

    def below(height: float) -> float:
        h, b = max(height, 0.0), 2 * batter
        if trench:
            return length * (width * h + b * h**2 / 2)
        return length * width * h + b * (length + width) * h**2 / 2 + b**2 * h**3 / 3

    reach = [below(depth - limit) for limit in (0, 1, 2, 4)]
    return {
        "dig_1": reach[0] - reach[1],
        "dig_2": reach[1] - reach[2],
        "dig_4": reach[2] - reach[3],
        "dig_more": reach[3],
    }


def earth(
    bands: dict[str, float], built_in_it: float, bulking: float = 1.25, times: float = 1.0
) -> dict[str, float]:
    found = {
        **bands,
        "backfill": sum(bands.values()) - built_in_it,
        "disposal": built_in_it,
        "carted": built_in_it * bulking,
    }
    return {name: times * value for name, value in found.items()}


class EveryMakeUp(unittest.TestCase):
    def told(self, makeup: str, expected: dict[str, float], *lines: Line, **entries: str) -> None:
        result = run(built_in()[makeup], entries, lines)
        quantities = result.quantities
        self.assertEqual([f.says for f in result.findings if f.code == "no-number"], [], makeup)
        # What is optional and comes to nothing isn't shown.
        found = {
            q.output.key: q.net
            for q in quantities
            if q.net or q.output.key in expected or not q.output.optional
        }
        if "wire" in found and "wire" not in expected:  # 10 kg to a tonne of all bars
            steel = [q for q in quantities if q.family == "bars" and q.output.item and q.output.unit == "kg"]
            expected = {**expected, "wire": sum(q.net for q in steel) / 100}
        self.assertEqual(set(found), set(expected), f"outputs of {makeup}")
        for key, value in expected.items():
            self.assertAlmostEqual(
                found[key], value, delta=1e-9 * max(1.0, abs(value)), msg=f"{key} of {makeup}"
            )
        given.update((makeup, key) for key, net in found.items() if net)

    @classmethod
    def tearDownClass(cls) -> None:
        outputs = {(key, output.key) for key, made in built_in().items() for output, _ in made.outputs}
        assert given >= outputs, f"not reckoned: {sorted(outputs - given)}"

    def test_pad_footing(self) -> None:
        blinded = 2.3 * 1.8 * 0.075
        self.told(
            "pad-footing",
            {
                "concrete": 3 * 2.0 * 1.5 * 0.6, "formwork": 3 * 7.0 * 0.6, "blinding_concrete": 3 * blinded,
                "other_bars": 0, "bars": 3 * kg(8 * bobbed(0.4, 1.9, 20) + 11 * bobbed(0.4, 1.4, 20), 20),
                **earth(dug(2.8, 2.3, 1.8, 0.4), blinded + 1.8, 1.3, 3),
            },
            Line(times=3, length=2.0, width=1.5, height=0.6),
            bar="20", spacing="200", leg="400", blinding="75", projection="150", dig_depth="1.8",
            working_space="250", batter="0.4", bulking="1.3",
        )  # fmt: skip
        # Every second bar 0.3 m shorter: 8 and 11 bars of the same footing, 4 and 5 of them short.
        long, cross = bobbed(0.4, 1.9, 20), bobbed(0.4, 1.4, 20)
        metres = 4 * long + 4 * up(long - 0.3) + 6 * cross + 5 * up(cross - 0.3)
        staggered = run(
            built_in()["pad-footing"],
            {"bar": "20", "spacing": "200", "leg": "400", "stagger": "300"},
            [Line(length=2.0, width=1.5, height=0.6)],
        ).quantities
        self.assertAlmostEqual(next(q.net for q in staggered if q.output.key == "bars"), kg(metres, 20))
        # A dig that ends in the footing, one that ends in the blinding.
        found = {
            q.output.key: q.net
            for q in run(
                built_in()["pad-footing"], {"dig_depth": "0.4"}, [Line(length=2.0, width=1.5, height=0.6)]
            ).quantities
        }
        self.assertAlmostEqual(found["disposal"], 2.2 * 1.7 * 0.05 + 2.0 * 1.5 * 0.35)
        shallow = {"dig_depth": "0.04", "working_space": "0"}
        found = {
            q.output.key: q.net
            for q in run(
                built_in()["pad-footing"], shallow, [Line(length=2.0, width=1.5, height=0.6)]
            ).quantities
        }
        self.assertAlmostEqual(found["disposal"], 2.2 * 1.7 * 0.04)
        self.assertAlmostEqual(found["backfill"], 0)

    def test_sloped_footing(self) -> None:
        # The dig, 0.45, ends halfway up the taper: there it is 1.5 × 1.25.
        taper, half = 0.63, 4.8 * 0.15 - 12 * 0.15**2 + 10 * 0.15**3
        slopes = 2 * (2.4 + 0.6) / 2 * math.hypot(0.3, 0.75) + 2 * (2.0 + 0.5) / 2 * math.hypot(0.3, 0.9)
        self.told(
            "pad-footing-sloped",
            {
                "concrete": 2 * (1.2 + taper), "formwork": 2 * 8.8 * 0.25, "slope_formwork": 2 * slopes,
                "blinding_concrete": 2 * 2.6 * 2.2 * 0.05,
                "other_bars": 0,
                "bars": 2 * kg(bars(2.0, 0.05, 16, 0.15) * bobbed(0.2, 2.3, 16) + bars(2.4, 0.05, 16,
                    0.15) * bobbed(0.2, 1.9, 16), 16),
                **earth(dug(3.2, 2.8, 0.45, 0), 2.6 * 2.2 * 0.05 + 1.2 + half, times=2),
            },
            Line(times=2, length=2.4, width=2.0, height=0.25),
            taper="0.30", top_length="0.6", top_width="0.5", slopes="yes", leg="200", dig_depth="0.45",
        )  # fmt: skip

    def test_stepped_footing(self) -> None:
        # The dig, 1.05 with 0.05 of blinding, ends 0.2 up the second step.
        self.told(
            "pad-footing-stepped",
            {
                "concrete": 1.8 * 1.8 * 0.5 + 1.2 * 1.1 * 0.3 + 0.8 * 0.7 * 0.4,
                "formwork": 2 * (3.6 * 0.5 + 2.3 * 0.3 + 1.5 * 0.4), "blinding_concrete": 2.0 * 2.0 * 0.05,
                "other_bars": 0, "bars": kg(2 * bars(1.8, 0.05, 12, 0.125) * bobbed(0.35, 1.7, 12), 12),
                **earth(dug(2.6, 2.6, 1.05, 0.5), 2.0 * 2.0 * 0.05 + 1.62 + 0.396 + 0.8 * 0.7 * 0.2),
            },
            Line(length=1.8, width=1.8, height=0.5),
            step_length="1.2", step_width="1.1", step_height="0.3", top_length="0.8", top_width="0.7",
            top_height="0.4",
            bar="12", spacing="125", dig_depth="1.05", batter="0.5",
        )  # fmt: skip

    def test_strip_footing(self) -> None:
        # Outside girth 36 of 0.7 wide: centre line 33.2, less half a width at each of three junctions.
        net = 33.2 - 3 * 0.35
        self.told(
            "strip-footing",
            {
                "concrete": net * 0.7 * 0.35, "formwork": (2 * net - 3 * 0.7) * 0.35,
                "blinding_concrete": 31.85 * 0.9 * 0.05,
                "main_bars": kg(6 * lapped(net, 16), 16),
                "cross_bars": kg(bars(net, 0.05, 10, 0.25) * bobbed(0.15, 0.6, 10), 10),
                # Branches end at the face of the strip, of its blinding and of its trench.
                **earth(dug(31.25, 1.3, 1.4, 0.3, trench=True), 31.85 * 0.9 * 0.05 + net * 0.7 * 0.35),
            },
            Line(length=36, width=0.7, height=0.35),
            measured="an outside girth, closed", junctions="3", main="16", main_number="6", cross="10",
            cross_spacing="250", leg="150",
            dig_depth="1.4", working_space="200", batter="0.3",
        )  # fmt: skip
        # As drawn, each run knows its own: 2 of one, none of the other; what was entered doesn't count.
        drawn = run(
            built_in()["strip-footing"],
            {"junctions_by": "as drawn", "junctions": "5"},
            [
                Line(length=8, width=0.6, height=0.3, drawn_junctions=2),
                Line(length=40, width=0.6, height=0.3),
            ],
        ).quantities
        self.assertAlmostEqual(drawn[0].net, (48 - 2 * 0.3) * 0.18)
        straight = kg(bars(10, 0.05, 12, 0.2) * up(0.6), 12)  # no leg: straight bars
        plain = {
            "concrete": 10 * 0.7 * 0.35,
            "formwork": 7.0,
            "blinding_concrete": 0.45,
            "main_bars": kg(5 * 10, 12),
            "cross_bars": straight,
            **NO_DIG,
        }
        self.told("strip-footing", plain, Line(length=10, width=0.7, height=0.35), leg="0")

    def test_ground_beam(self) -> None:
        # Inside girth 24 of 0.4 wide: 25.6, less one junction; links over all but the cover at both ends, closer over 1 m at each.
        net = 25.6 - 0.2
        links = 2 * math.ceil(1.0 / 0.1) + math.ceil((net - 0.07 - 2.0) / 0.2) + 1
        self.told(
            "ground-beam",
            {
                "concrete": 2 * net * 0.4 * 0.6, "formwork": 2 * (2 * net - 0.4) * 0.6,
                "blinding_concrete": 2 * 25.3 * 0.6 * 0.05,
                "top_bars": 2 * kg(3 * lapped(net, 16), 16), "bottom_bars": 2 * kg(4 * lapped(net, 25), 25),
                "links": 2 * kg(links * link(0.53, 0.33, 8, 0.115), 8),
                **earth(dug(25.0, 1.2, 0.5, 0, trench=True), 25.3 * 0.6 * 0.05 + net * 0.4 * 0.45, times=2),
            },
            Line(times=2, length=24, width=0.4, height=0.6),
            measured="an inside girth, closed", junctions="1", top_number="3", bottom="25", bottom_number="4",
            link="8", zone="1000", dig_depth="0.5",
        )  # fmt: skip

    def test_retaining_wall(self) -> None:
        # Stem 3.2 high from 0.35 to 0.25, base 2.2 × 0.4, toe 0.6; dug to 0.9 below the ground: 0.45 of the stem stands in the trench.
        stem, base = 0.30 * 3.2, 0.88
        buried = (
            0.35 - 0.1 * 0.45 / 3.2 / 2
        )  # thick at the middle of what is buried; the drain stands beside it
        hook = up(3.2 + 0.4 - 0.07 + 1.565 - 0.016 - 0.016)  # shape 11: A + B − r/2 − d
        self.told(
            "retaining-wall",
            {
                "concrete": 14 * (stem + base), "stem_formwork": 14 * (3.2 + math.hypot(3.2, 0.1)),
                "base_formwork": 2 * 14 * 0.4,
                "blinding_concrete": 14 * 2.4 * 0.05,
                "upright_bars": kg(bars(14, 0.035, 16, 0.15) * hook, 16),
                "across_bars": kg(2 * bars(14, 0.035, 16, 0.2) * up(2.13), 16),
                "along_bars": kg(26 * lapped(14, 12), 12),
                "back_drain": 14 * 3.2 * 0.3, "weeps": math.ceil(14 / 1.5),
                **earth(dug(14, 3.0, 0.9, 0.25, trench=True),
                    14 * (2.4 * 0.05 + 0.88 + (buried + 0.3) * 0.45)),
            },
            Line(length=14, height=3.2),
            across_spacing="200", along_number="26", weep_spacing="1.5", dig_depth="0.9", batter="0.25",
        )  # fmt: skip
        # A heel too short to bend a bar round takes the least leg.
        short = run(built_in()["retaining-wall"], {"base_width": "700"}, [Line(length=14, height=3.2)])
        cut = up(3.2 + 0.4 - 0.07 + 0.13 - 0.032)
        found = next(q.net for q in short.quantities if q.output.key == "upright_bars")
        self.assertAlmostEqual(found, kg(bars(14, 0.035, 16, 0.15) * cut, 16))

    def test_pile_and_its_cap(self) -> None:
        # Ø 0.6, 14 m, a cage of 9 m and 0.8 into the cap, helix 10 at 0.15 on an outside diameter of 0.45.
        helix = 9 / 0.15 * math.hypot(math.pi * (0.45 - 0.010), 0.15)
        bored = math.pi * 0.09 * 14
        self.told(
            "pile",
            {
                "boring": 70, "concrete": 5 * math.pi * 0.09 * 14.5 * 1.08, "bars": 5 * kg(8 * 9.8, 20),
                "helices": 5 * kg(helix, 10),
                "cutting": 5, "disposal": 5 * bored, "carted": 5 * bored * 1.4,
            },
            Line(times=5, length=14),
            diameter="600", over_break="8", cut_off="500", bar="20", bar_number="8", cage="9",
            projecting="800", pitch="150", bulking="1.4",
        )  # fmt: skip
        whole = next(
            q.net
            for q in run(built_in()["pile"], {"cage": "0"}, [Line(length=14)]).quantities
            if q.output.key == "bars"
        )
        self.assertAlmostEqual(whole, kg(6 * lapped(14.6, 16), 16))
        heads = 3 * math.pi * 0.15**2 * 0.075
        self.told(
            "pile-cap",
            {
                "concrete": 2 * (1.6 * 1.5 * 0.7 - heads), "formwork": 2 * 6.2 * 0.7,
                "blinding_concrete": 2 * (1.8 * 1.7 - 3 * math.pi * 0.15**2) * 0.05,
                "other_bars": 0,
                "bars": 2 * kg(bars(1.5, 0.05, 16, 0.15) * bobbed(0.35, 1.5, 16) + bars(1.6, 0.05, 16,
                    0.15) * bobbed(0.35, 1.4, 16), 16),
                **earth(dug(2.4, 2.3, 0.5, 0), 1.8 * 1.7 * 0.05 + 1.6 * 1.5 * 0.45, times=2),
            },
            Line(times=2, length=1.6, width=1.5, height=0.7),
            piles="3", pile="300", dig_depth="0.5",
        )  # fmt: skip

    def test_columns(self) -> None:
        links = 2 * math.ceil(0.5 / 0.1) + math.ceil((2.95 - 1.0) / 0.2) + 1
        self.told(
            "column",
            {
                "concrete": 4 * 0.5 * 0.3 * 2.95, "formwork": 4 * 1.6 * 2.95,
                "bars": 4 * kg(6 * up(3.2 + 40 * 0.016), 16),
                "links": 4 * kg(links * link(0.45, 0.25, 10, 0.120), 10),
            },
            Line(times=4, length=0.5, width=0.3, height=3.2),
            carried="250", bar="16", bar_number="6", zone="500",
        )  # fmt: skip
        ring = up(math.pi * (0.45 - 0.010) + 0.4)
        self.told(
            "column-round",
            {
                "concrete": 2 * math.pi * 0.25**2 * 3.0, "formwork": 2 * math.pi * 0.5 * 3.0,
                "bars": 2 * kg(8 * up(3.3 + 0.8), 20),
                "rings": 2 * kg((math.ceil(3.0 / 0.175) + 1) * ring, 10),
            },
            Line(times=2, width=0.5, height=3.3),
            carried="300", bar_number="8", ring_spacing="175",
        )  # fmt: skip

    def test_beam(self) -> None:
        self.told(
            "beam",
            {
                "concrete": 3 * 12.5 * 0.3 * 0.4, "soffit": 3 * 12.5 * 0.3,
                "side_formwork": 3 * 12.5 * (0.4 + 0.6),
                "top_bars": 3 * kg(2 * lapped(13.3, 16), 16), "bottom_bars": 3 * kg(4 * lapped(13.3, 20), 20),
                "links": 3 * kg((math.ceil(12.5 / 0.25) + 1) * link(0.55, 0.25, 10, 0.120), 10),
            },
            Line(times=3, length=12.5, width=0.3, height=0.6),
            slab="200", sides="one side", support="400", bottom_number="4", link_spacing="250",
        )  # fmt: skip

    def test_wall(self) -> None:
        wall, door, hatch = (
            Line(length=20, height=3),
            Line(length=0.9, height=2.1, deduct=True),
            Line(length=0.4, height=0.4, deduct=True),
        )
        mean = 0.25  # from 0.3 to 0.2
        self.told(
            "wall",
            {
                "concrete": (18.8 * 3 - 0.9 * 2.1 - 0.16) * mean, "formwork": 2 * (18.8 * 3 - 0.9 * 2.1),
                "end_formwork": 2 * 3 * mean,
                "edge_formwork": 2 * (3.0 + 0.8) * mean,
                "upright_bars": kg(bars(18.8, 0.035, 12, 0.15) * up(3 + 0.48), 12),
                "level_bars": kg(bars(3, 0.035, 10, 0.2) * lapped(18.8, 10), 10),
            },
            wall, door, hatch,
            thickness="300", top_thickness="200", measured="an outside girth, closed", ends="2", small="0.2",
            faces="one face", upright_spacing="150",
        )  # fmt: skip
        both = {
            "upright_bars": kg(2 * bars(6, 0.035, 12, 0.2) * up(3.48), 12),
            "level_bars": kg(2 * bars(3, 0.035, 10, 0.2) * 6, 10),
        }
        self.told(
            "wall",
            {"concrete": 4.5, "formwork": 36, "end_formwork": 0, "edge_formwork": 0, **both},
            Line(length=6, height=3),
        )
        net, laid = 2 * (18 - 2), 2 * 16 * (4.8 * 2.4) / (4.4 * 2.0)
        self.told(
            "wall",
            {
                "concrete": 4, "formwork": 32, "end_formwork": 0, "edge_formwork": 6 * 0.25,
                "upright_bars": 0, "level_bars": 0,
                "fabric": net, "fabric_bought": laid, "fabric_mass": laid * 6.16, "chairs": 18 * 2 * 3,
                "wire": 0,
            },
            Line(length=6, height=3), Line(length=2, height=1, deduct=True), faces="with fabric, both faces",
            fabric="A393", chairs="3",
        )  # fmt: skip

    def test_ground_slab(self) -> None:
        slab, pit = Line(length=12, width=9, height=0.18), Line(length=2, width=1.5, height=0.18, deduct=True)
        middle = (0.45**2 / 2 + 0.1 * (0.45 + 0.2 / 3)) / (0.45 + 0.1)
        area, edge = 12 * 9 - 3, (42 - 8 * middle) * 0.35 * (0.45 + 0.1)
        steel = {
            "main_bars": 2 * kg(bars(9, 0.035, 16, 0.15) * 11.93 - 3 / 0.15, 16),
            "cross_bars": 2 * kg(bars(12, 0.035, 12, 0.25) * 8.93 - 3 / 0.25, 12),
            "top_main_bars": 0, "top_cross_bars": 0,
        }  # fmt: skip
        self.told(
            "ground-slab",
            {
                "concrete": area * 0.18 + edge, "edge_formwork": 42 * (0.18 + 0.35) + 7 * 0.18,
                "sub_base": area * 0.2, "membrane": area,
                "membrane_bought": area * 1.1, "finish": area, "joints": 2 * 108 / 4.5 - 21, **steel,
                "fabric": 0, "fabric_bought": 0, "fabric_mass": 0, "chairs": 3 * 108 * 2,
                "wire": sum(steel.values()) / 1000 * 12,
            },
            slab, pit,
            edge_width="450", edge_depth="350", edge_splay="200", sub_base="200", membrane_lap="10",
            bay="4.5", steel="bars, top and bottom",
            main="16", main_spacing="150", cross="12", cross_spacing="250", chairs="3", tying="12",
        )  # fmt: skip
        self.mats()

    def mats(self) -> None:
        """Mats counted over a rectangle, without laps where no bar is longer than its stock; a top mat of its own."""
        square = {"main": "16", "cross": "16", "main_spacing": "200", "cross_spacing": "200", "cover": "25"}
        number = bars(5, 0.025, 16, 0.2)
        self.assertEqual(number, 26)
        net = {
            q.output.key: q.net
            for q in run(built_in()["ground-slab"], square, [Line(length=5, width=5, height=0.2)]).quantities
        }
        self.assertAlmostEqual(net["main_bars"] + net["cross_bars"], kg(2 * 26 * 4.95, 16))
        own = {
            **square,
            "steel": "bars, top and bottom",
            "top_is": "bars of its own",
            "top_main": "12",
            "top_main_spacing": "150",
            "top_cross": "10",
        }
        net = {
            q.output.key: q.net
            for q in run(built_in()["suspended-slab"], own, [Line(length=15, width=5, height=0.2)]).quantities
        }
        self.assertAlmostEqual(net["main_bars"], kg(26 * lapped(14.95, 16), 16))
        self.assertAlmostEqual(net["top_main_bars"], kg(bars(5, 0.025, 12, 0.15) * lapped(14.95, 12), 12))
        self.assertAlmostEqual(net["top_cross_bars"], kg(bars(15, 0.025, 10, 0.2) * 4.95, 10))
        # Another outline, of the area and girth of a rectangle 20 × 4.
        drawn = {
            q.output.key: q.net
            for q in run(built_in()["ground-slab"], square, [Line(area=80, girth=48, height=0.2)]).quantities
        }
        self.assertAlmostEqual(drawn["main_bars"], kg(80 / 0.2 * lapped(20, 16) / 20, 16))
        self.assertAlmostEqual(drawn["cross_bars"], kg(80 / 0.2, 16))

    def some(self, makeup: str, expected: dict[str, float], *lines: Line, **entries: str) -> None:
        """Some of the outputs of a make-up."""
        found = {q.output.key: q.net for q in run(built_in()[makeup], entries, lines).quantities}
        for key, value in expected.items():
            self.assertAlmostEqual(found[key], value, places=9, msg=f"{key} of {makeup}")
            given.add((makeup, key))

    def test_chairs_in_every_make_up_with_bars(self) -> None:
        """Two to a m² of what is tied: mats and bases on plan, cages all round, faces of walls are tried with theirs."""
        slope = math.hypot(12 * 0.28, 12 * 0.17)
        for makeup, area, line in (
            *((each, 2.0 * 1.5, Line(length=2, width=1.5, height=0.6)) for each in ("pad-footing",
                "pad-footing-sloped", "pad-footing-stepped", "pile-cap")),
            ("strip-footing", 10 * 0.6, Line(length=10, width=0.6, height=0.3)),
            ("ground-beam", 10 * 0.4, Line(length=10, width=0.4, height=0.6)),
            ("beam", (5 + 2 * 0.3) * 0.3, Line(length=5, width=0.3, height=0.5)),
            ("column", 2 * (0.5 + 0.3) * 3, Line(length=0.5, width=0.3, height=3)),
            ("column-round", math.pi * 0.5 * 3, Line(width=0.5, height=3)),
            ("pile", math.pi * 0.45 * 8, Line(length=8)),
            ("retaining-wall", 10 * (2.2 + 2 * 3), Line(length=10, height=3)),
            ("stair", 1.2 * slope, Line(width=1.2)),
            ("lintel", (1.5 + 0.4) * 0.14, Line(length=1.5)),
        ):  # fmt: skip
            self.some(makeup, {"chairs": math.ceil(round(2 * area, 9))}, line, chairs="2")

    def test_fabric_in_bases_and_stairs(self) -> None:
        """Two layers of A393, laps of 0.3 m, over the area of each: a sheet of 4.8 × 2.4 covers 4.5 × 2.1."""
        slope, laid = math.hypot(12 * 0.28, 12 * 0.17), 4.8 * 2.4 / (4.5 * 2.1)
        for makeup, area, line in (
            *((each, 3 * 2.0 * 1.5, Line(times=3, length=2, width=1.5, height=0.6)) for each in
                ("pad-footing", "pad-footing-sloped", "pad-footing-stepped", "pile-cap")),
            ("strip-footing", 10 * 0.6, Line(length=10, width=0.6, height=0.3)),
            ("stair", 1.2 * (slope + 1.1), Line(width=1.2)),
        ):  # fmt: skip
            entries = {"layers": "2", "fabric": "A393", "fabric_lap": "300"}
            mats = {
                "fabric": 2 * area,
                "fabric_bought": 2 * area * laid,
                "fabric_mass": 2 * area * laid * 6.16,
            }
            more = {"landing_length": "1100"} if makeup == "stair" else {}
            self.some(makeup, mats, line, **entries, **more)

    def test_deep_digs_of_every_foundation(self) -> None:
        """5 m deep at a batter of 0.3: every band of depth, below a base of 2 × 1.5, a beam 10 × 0.4, a strip 10 × 0.6."""
        pit = dug(2.8, 2.3, 5, 0.3)
        for makeup in ("pad-footing", "pad-footing-sloped", "pad-footing-stepped", "pile-cap"):
            self.some(makeup, pit, Line(length=2, width=1.5, height=0.6), dig_depth="5", batter="0.3")
        for makeup, wide, line in (
            ("ground-beam", 0.4, Line(length=10, width=0.4, height=0.6)),
            ("strip-footing", 0.6, Line(length=10, width=0.6, height=0.3)),
            ("retaining-wall", 2.2, Line(length=10, height=3)),
        ):
            self.some(makeup, dug(10, wide + 0.8, 5, 0.3, trench=True), line, dig_depth="5", batter="0.3")

    def test_bars_along_the_width_of_their_own(self) -> None:
        steel = kg(bars(2, 0.05, 12, 0.2) * bobbed(0.3, 1.4, 12), 12)
        own = {"other_way": "of their own", "other": "12", "other_spacing": "200", "other_leg": "300"}
        for makeup in ("pad-footing", "pad-footing-sloped", "pad-footing-stepped", "pile-cap"):
            self.some(makeup, {"other_bars": steel}, Line(length=2, width=1.5, height=0.6), **own)

    def test_cement_in_bags_by_volume(self) -> None:
        by_volume = {"bags": "by volume"}
        wall = (1 - 0.39 * 0.19 / (0.4 * 0.2)) * 0.14  # of the default blocks, for a m²
        self.some(
            "blockwork",
            {"cement_loose": 10 * wall * 1.1 * 1.33 / 5, "cement": 0},
            Line(length=5, height=2),
            **by_volume,
        )
        leaves = 0.1025 * (1 - 0.215 * 0.065 / (0.225 * 0.075)) + 0.1 * (1 - 0.44 * 0.215 / (0.45 * 0.225))
        self.some(
            "brickwork-cavity",
            {"cement_loose": 10 * leaves * 1.1 * 1.33 / 5},
            Line(length=5, height=2),
            **by_volume,
        )
        self.some("render", {"cement_loose": 10 * 0.015 * 1.2 * 1.3 / 6}, Line(area=10), **by_volume)
        self.some(
            "screed", {"cement_loose": 10 * 0.065 * 1.1 * 1.33 / 5}, Line(area=10, girth=13), **by_volume
        )
        self.some(
            "mix-by-volume", {"cement_loose": 2 * 1.54 / 7}, Line(length=2, width=1, height=1), **by_volume
        )
        self.some("mix-over-an-area", {"cement": 10 * 0.015 * 1.33 / 6 * 1440}, Line(area=10))

    def test_what_slabs_screeds_and_walls_take_over(self) -> None:
        floor = Line(length=5, width=4, height=0.2)
        sheet = 4.8 * 2.4 / (4.4 * 2.0)
        laid = {"fabric": 20, "fabric_bought": 20 * sheet, "fabric_mass": 20 * sheet * 3.95}
        self.some("ground-slab", laid, floor, steel="fabric, one layer")
        self.some(
            "screed", {**laid, "membrane": 20, "membrane_bought": 23}, floor, layers="1", membrane_used="yes"
        )
        self.some(
            "retaining-wall",
            {"membrane": 30, "membrane_bought": 34.5},
            Line(length=10, height=3),
            membrane_used="yes",
        )
        cavity = Line(length=5, height=3), Line(length=1, height=2, deduct=True)
        self.some("brickwork-cavity", {"reveals": 5 * 0.1, "sills": 1}, *cavity, reveal="100", sills="yes")
        mats = {
            "steel": "bars, top and bottom",
            "top_is": "bars of its own",
            "top_main": "16",
            "top_cross": "12",
            "cover": "25",
        }
        steel = {
            "main_bars": kg(bars(4, 0.025, 12, 0.2) * 4.95, 12),
            "cross_bars": kg(bars(5, 0.025, 10, 0.2) * 3.95, 10),
            "top_main_bars": kg(bars(4, 0.025, 16, 0.2) * 4.95, 16),
            "top_cross_bars": kg(bars(5, 0.025, 12, 0.2) * 3.95, 12),
        }  # fmt: skip
        for slab in ("ground-slab", "suspended-slab"):
            self.some(slab, {**steel, "wire": sum(steel.values()) / 100}, floor, **mats)

    def test_pipe_trench(self) -> None:
        # 0.9 wide, 2.4 deep, flared to 1.5 over the top metre; the pipe half in its surround.
        dug, half = 0.9 * 1.4 + 1.2 * 1.0, math.pi * 0.2**2 / 2
        bed, surround, pipe = 0.9 * 0.15, 0.9 * 0.2 - half, 2 * half
        self.told(
            "pipe-trench",
            {
                "dig": 2 * 30 * dug, "laid": 60, "bed_below": 60 * bed, "surround": 60 * surround,
                "bed_mass": 60 * bed * 1.9 / 0.95,
                "surround_mass": 60 * surround * 1.6 / 0.95, "backfill": 60 * (dug - bed - surround - pipe),
                "disposal": 60 * (bed + surround + pipe), "carted": 60 * (bed + surround + pipe) * 1.3,
            },
            Line(times=2, length=30, width=0.9, height=2.4),
            flare_width="1.5", flare_depth="1", pipe="400", bed_1="150", bed_2="200", bed_1_density="1900",
            bed_2_density="1600",
            lies="95", bulking="1.3",
        )  # fmt: skip

    def test_items_along_a_run(self) -> None:
        # 13 spaces of 1.5, one of them short, ends at both; a gap of 4 takes off the 2 that stand inside it.
        self.told(
            "items-along-a-run",
            {"items": 2 * (2 * 14 - 2), "run": 2 * 18.4 - 4, "items_length": 2 * (2 * 14 - 2) * 1.2},
            Line(times=2, length=18.4), Line(length=4, deduct=True),
            spacing="1.5", stand="2", item_length="1.2", box="20",
        )  # fmt: skip

    def test_steel_sections(self) -> None:
        self.told(
            "steel-sections",
            {
                "mass": 4 * 6.5 * 22.4 / 1000, "pieces": 4, "length": 26,
                "fittings": 4 * 6.5 * 22.4 / 1000 * 0.06,
                "surface": 26 * (2 * 0.2 + 4 * 0.1 - 2 * 0.0056),
            },
            Line(times=4, length=6.5),
            fittings="6", painted="all round",
        )  # fmt: skip
        section = built_in()["steel-sections"].inputs["section"]
        for choice in section.choices:
            # Flanges and web of 7850 kg/m³ come to all of its mass but its fillets.
            deep, wide, web, flange, mass = (float(value.split()[0]) for value in choice.sets.values())
            share = (2 * wide * flange + (deep - 2 * flange) * web) * 7850e-6 / mass
            self.assertTrue(0.915 < share < 0.99, (choice.label, share))

    def test_paved_area(self) -> None:
        paved = 20 * 6 - 3 - 5
        self.told(
            "paved-area",
            {
                "area": paved, "surface_mass": paved * 0.04 * 2.4, "binder_area": paved,
                "binder_mass": paved * 0.06 * 2.35,
                "base_volume": paved * 0.2, "base_mass": paved * 0.2 * 2.2, "bed_volume": paved * 0.25,
                "bed_mass": paved * 0.25 * 1.9,
                "dig": paved * (0.04 + 0.06 + 0.2 + 0.25 - 0.1), "edge": 52 + 7 + 9, "membrane": paved,
                "membrane_bought": paved * 1.1,
                "fabric": paved, "fabric_bought": paved * (4.8 * 2.4) / (4.4 * 2.0),
                "fabric_mass": paved * (4.8 * 2.4) / (4.4 * 2.0) * 3.95,
            },
            Line(length=20, width=6), Line(area=3, girth=7, deduct=True), Line(area=5, girth=9, deduct=True),
            base_thickness="200", bed_thickness="250", bed_density="1900", above="100",
            membrane_used="yes", membrane_lap="10", layers="1",
        )  # fmt: skip

    def test_area_on_a_slope(self) -> None:
        for given, slope, cosine in (
            ("degrees", "30", math.cos(math.pi / 6)),
            ("percent", "75", 0.8),
            ("a ratio, 1 in", "0.75", 0.6),
        ):
            self.told(
                "area-on-a-slope",
                {"area": 94 / cosine, "plan": 94, "volume": 94 / cosine * 0.05},
                Line(length=12, width=8), Line(area=2, deduct=True),
                given=given, slope=slope, thickness="50",
            )  # fmt: skip

    def test_suspended_slab(self) -> None:
        slab, void, shaft = (
            Line(length=10, width=8, height=0.22),
            Line(length=0.5, width=0.4, height=0.22, deduct=True),
            Line(area=3, height=0.22, deduct=True, girth=7),
        )
        area, laid = 80 - 0.2 - 3, 4.8 * 2.4 / (4.5 * 2.1)
        self.told(
            "suspended-slab",
            {
                "concrete": area * 0.22 + 2 * 1.8 * 1.6 * 0.12, "soffit": 77,
                "edge_formwork": (36 + 1.8 + 7) * 0.22, "drop_formwork": 2 * 6.8 * 0.12,
                "main_bars": 0, "cross_bars": 0, "top_main_bars": 0, "top_cross_bars": 0, "fabric": 2 * area,
                "fabric_bought": 2 * area * laid, "fabric_mass": 2 * area * laid * 6.16,
                "chairs": math.ceil(2 * 80 * 2), "wire": 0,
            },
            slab, void, shaft,
            drops="2", drop_length="1800", drop_width="1600", drop_depth="120", small="0.25",
            steel="fabric, two layers", fabric="A393", fabric_lap="300",
        )  # fmt: skip

        bare = {
            **dict.fromkeys(
                (
                    "main_bars",
                    "cross_bars",
                    "top_main_bars",
                    "top_cross_bars",
                    "fabric",
                    "fabric_bought",
                    "fabric_mass",
                    "chairs",
                    "wire",
                    "drop_formwork",
                ),
                0.0,
            )
        }
        self.told(
            "suspended-slab",
            {"concrete": 6.2, "soffit": 31 - 2.4, "edge_formwork": (24 + 6) * 0.2, **bare},
            Line(area=31, height=0.2, girth=24, void_girth=6),
            steel="nothing",
            beams="2.4",  # two beams of 0.3 × 4
        )
        ground = {
            "concrete": 6.2,
            "edge_formwork": 30 * 0.2,
            "sub_base": 0,
            "membrane": 0,
            "membrane_bought": 0,
            "finish": 31,
            "joints": 0,
            **bare,
        }
        del ground["drop_formwork"]
        self.told(
            "ground-slab",
            ground,
            Line(area=31, height=0.2, girth=24, void_girth=6),
            steel="nothing",
            membrane_used="no",
            sub_base="0",
        )

    def test_stair(self) -> None:
        slope, steps = math.hypot(10 * 0.27, 10 * 0.18), 0.5 * 0.18 * 0.27 * 10
        self.told(
            "stair",
            {
                "concrete": 2 * 1.3 * (slope * 0.16 + steps + 1.4 * 0.2), "soffit": 2 * 1.3 * (slope + 1.4),
                "risers": 2 * 10 * 0.18 * 1.3,
                "strings": 2 * 2 * (slope * 0.16 + steps + 1.4 * 0.2),
                "main_bars": 2 * kg(bars(1.3, 0.025, 16, 0.125) * up(slope + 1.4 + 2 * 0.64), 16),
                "cross_bars": 2 * kg(bars(slope + 1.4, 0.025, 10, 0.2) * up(1.25), 10),
            },
            Line(times=2, width=1.3),
            steps="10", riser="180", going="270", waist="160", landing_length="1400", landing_depth="200",
            main="16", main_spacing="125",
        )  # fmt: skip

    def test_pit_by_itself(self) -> None:
        bands = dug(4.6, 3.6, 5.0, 0.25)
        self.told(
            "pit",
            {"dig": 2 * sum(bands.values()), **earth(bands, 0.4 * 4 * 3 * 5, 1.2, 2)},
            Line(times=2, length=4, width=3, height=5), working_space="300", batter="0.25", built_share="40",
            bulking="1.2",
        )  # fmt: skip

    def test_kerb(self) -> None:
        bed = 0.35 * 0.15 + 0.2 * 0.18 / 2
        self.told(
            "kerb", {"laid": 90, "units": 90 / 0.6, "concrete": 90 * bed, "formwork": 90 * 0.3},
            Line(times=2, length=45),
            unit_length="600", bed_width="350", haunch_width="200", haunch_height="180",
        )  # fmt: skip
        sloped = {
            "laid": 50,
            "units": 50 / 0.915,
            "concrete": 50 * (0.3 * 0.15 + 0.15**2 / 2),
            "formwork": 15,
        }
        self.told("kerb", sloped, Line(length=40), given="percent", slope="75")
        self.told("plain-length", {"net": 50}, Line(length=30), given="a ratio, 1 in", slope="0.75")

    def test_lintels(self) -> None:
        # 1.5 clear on the band of 3 bars of 12, depth 0.19; 3.0 clear on 4 bars of 16, depth 0.39; bearing 0.25 at each end.
        first, second = 2 * (1.5 + 0.5), 3.5
        links = [
            (math.ceil(length / 0.15) + 1) * up(2 * (depth - 0.05) + 2 * 0.15 + 0.15)
            for length, depth in ((2.0, 0.19), (3.5, 0.39))
        ]
        self.told(
            "lintel",
            {
                "number": 3, "length": first + second, "concrete": 0.2 * (first * 0.19 + second * 0.39),
                "formwork": 2 * (2 * 2.0 * 0.19 + 1.5 * 0.2) + 2 * 3.5 * 0.39 + 3.0 * 0.2,
                "bars": kg(2 * 3 * up(1.95), 12) + kg(4 * up(3.45), 16),
                "links": kg(2 * links[0] + links[1], 6),
            },
            Line(times=2, length=1.5), Line(length=3.0),
            wall="200", bearing="250", link_spacing="150",
        )  # fmt: skip

    def mortar(self, wet: float, sand: float, waste: float = 1.10) -> dict[str, float]:
        dry = wet * waste * 1.33
        return {"mortar": wet, "cement": dry / (1 + sand) * 1440, "sand": dry * sand / (1 + sand)}

    def test_blockwork(self) -> None:
        wall, door, vent = (
            Line(length=15, height=2.9),
            Line(times=2, length=1, height=2.1, deduct=True),
            Line(length=0.3, height=0.3, deduct=True),
        )
        face = 15 * 2.9 - 4.2
        wet = face * 0.2 * (1 - 0.44 * 0.215 / (0.45 * 0.225)) * 0.5
        self.told(
            "blockwork",
            {
                "area": face, "blocks": face / (0.45 * 0.225) - 3 * 13 - (2 * 7 + 2 * 10 + 2) / 2,
                **self.mortar(wet, 5), "fill": face * 0.2 * 0.44 * 0.215 / (0.45 * 0.225) * 0.4,
                "corner_units": 3 * 13, "half_units": 2 * 7 + 2 * 10 + 2,
                "cores": (math.ceil(15 / 1.2) + 1) * 0.02 * 2.9, "damp_course": 15,
                "bed_joint": 4 * 15 - 2 * 3 * 1 - 0,
                "reveals": 2 * (5.2 * 0.1) + 0.9 * 0.1, "sills": 2 * 1 + 0.3,
            },
            wall, door, vent,
            thickness="200", unit_length="440", unit_height="215", bedding="shell", hollow="40",
            specials="bought as such", mix="1:5", core_spacing="1.2", core_area="0.02", damp_course="yes",
            bed_joint="3", corners="3", stops="2", small="0.1", reveal="100", sills="yes",
        )  # fmt: skip

    def test_cavity_wall(self) -> None:
        wall, window = Line(length=9, height=2.7), Line(times=3, length=1.2, height=1.5, deduct=True)
        face = 9 * 2.7 - 3 * 1.8
        wet = face * (
            0.1025 * (1 - 0.215 * 0.065 / (0.225 * 0.075)) + 0.15 * (1 - 0.44 * 0.215 / (0.45 * 0.225))
        )
        self.told(
            "brickwork-cavity",
            {
                "area": face, "bricks": face / (0.225 * 0.075), "blocks": face / (0.45 * 0.225),
                "wall_ties": face * 2.5,
                "jamb_ties": 3 * 2 * math.ceil(1.5 * 3.33), "insulation": face, "closers": 3 * 3.0,
                "damp_course": 18, **self.mortar(wet, 4),
                "reveals": 0, "sills": 0,
            },
            wall, window, inner_thickness="150", damp_course="yes",
        )  # fmt: skip

    def test_finishes(self) -> None:
        face = 64 - 3.6
        dry = face * 0.018 * 1.25 * 1.3
        self.told(
            "render",
            {"area": face, "wet_volume": face * 0.018, "dry_volume": dry, "cement": dry / 4 * 1440,
                "sand": dry * 3 / 4},
            Line(area=64), Line(length=2, width=1.8, deduct=True), Line(length=0.4, width=0.5, deduct=True),
            thickness="18", uneven="25", mix="1:3", small="0.2",
        )  # fmt: skip
        drawn = {"area": 31, "edge": 24 + 6, **self.mortar(31 * 0.065, 4)}
        self.told("screed", drawn, Line(area=31, girth=24, void_girth=6))  # a figure with its void
        net = 30 - 1.5
        self.told(
            "screed",
            {"area": net, "edge": 22 + 5, **self.mortar(net * 0.075, 3)},
            Line(length=6, width=5), Line(length=1.5, width=1, deduct=True), thickness="75", mix="1:3",
        )  # fmt: skip

    def test_mixes(self) -> None:
        self.told(
            "mix-by-mass",
            {"wet": 3.2, "cement": 3.2 * 360, "sand": 3.2 * 0.7, "aggregate": 3.2 * 1.1,
                "water": 3.2 * 360 * 0.45},
            Line(times=2, length=4, width=2, height=0.2), cement_content="360", sand_content="700",
            stone_content="1100", water_ratio="0.45",
        )  # fmt: skip
        self.told(
            "mix-by-volume",
            {"wet": 3.2, "cement": 3.2 * 1.5 / 5.5 * 1440, "sand": 3.2 * 1.5 * 1.5 / 5.5,
                "aggregate": 3.2 * 1.5 * 3 / 5.5},
            Line(length=4, width=4, height=0.2), sand_part="1.5", stone_part="3", dry_factor="1.5",
        )  # fmt: skip
        dry = (10 * 4 - 4) * 0.05 * (1.4 + 0.12)
        self.told(
            "mix-over-an-area",
            {"area": 36, "wet": 1.8, "dry": dry, "cement_loose": dry / 6, "sand": dry * 2 / 6,
                "aggregate": dry * 3 / 6},
            Line(length=10, width=4), Line(area=4, deduct=True), thickness="50", sand_part="2",
            stone_part="3", dry_factor="1.4", added="12", bags="by volume",
        )  # fmt: skip

    def test_road_cleaning(self) -> None:
        """Trucks 640 h own and 180 h hired; 36 h of heavy haulage by six, the rest by three; days of 9 h, 3 h and 1.5 h of sweeping."""
        hauled = {"own_hours": "640", "hired_hours": "180", "heavy_hours": "36"}
        self.told("road-cleaning", {"cleaning": 46.5}, Line(), **hauled)
        self.told("road-cleaning", {"cleaning": 12}, Line(), own_hours="216", heavy_hours="36")
        self.told("road-cleaning", {"cleaning": 48}, Line(), **hauled, hand_cleaning="48: whole shifts")
        made = built_in()["road-cleaning"]
        told = working(made, {**hauled, "hand_cleaning": "48: whole shifts"}, [Line()], "cleaning", "Sweeper")
        self.assertEqual((told.value, told.source), (48, "by hand: whole shifts"))
        self.assertEqual(told.parts[0].figures, "4 × 3.00 + 23 × 1.50")
        with self.assertRaisesRegex(BadEntry, "isn't said why"):
            made.values({"hand_cleaning": "48"})
        over = run(made, {"own_hours": "10", "heavy_hours": "9"}, [Line()])
        self.assertEqual(
            [f.says for f in over.findings], ["Heavy haulage takes more hours of trucks than there are."]
        )
        source = built_in_source("road-cleaning").replace(
            "heavy_hours * heavy_trucks", "length * heavy_trucks"
        )
        with self.assertRaisesRegex(BadFormula, "“length”, which is not one of its values"):
            read_makeup(source)

    def test_plain_ones(self) -> None:
        taken = Line(times=2, length=1, width=0.5, height=0.5, deduct=True)
        for makeup, value in (
            ("plain-number", 3 - 2),
            ("plain-length", 12 - 2),
            ("plain-area", 24 - 1),
            ("plain-volume", 12 - 0.5),
        ):
            outputs = [output.key for output, _ in built_in()[makeup].outputs]
            self.told(
                makeup, dict.fromkeys(outputs, value), Line(times=3, length=4, width=2, height=0.5), taken
            )


if __name__ == "__main__":
    unittest.main()
