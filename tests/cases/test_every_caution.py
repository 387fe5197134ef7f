"""Every caution of every built-in make-up: a line that is warned of, and one a step away from it that isn't."""

from __future__ import annotations

import unittest

from sandscale.core.makeups.makeup import built_in
from sandscale.core.makeups.run import Line, run

Sizes = tuple[float | None, float | None, float | None]
# make-up, the caution's words begin, sizes and entries that bring it, sizes and entries just short of it
CASES: tuple[tuple[str, str, Sizes, dict[str, str], Sizes, dict[str, str]], ...] = (
    ("beam", "The slab is as deep", (5, 0.3, 0.5), {"slab": "500"}, (5, 0.3, 0.5), {"slab": "499"}),
    ("beam", "A beam this large", (5, 0.3, 3.01), {}, (5, 2.0, 3.0), {}),
    ("beam", "The cover leaves no width", (5, 0.11, 0.5), {}, (5, 0.12, 0.5), {}),
     # 2 × 25 + 4 × 10 and 2 × 10
    ("blockwork", "A wall this large", (5, None, 3), {"thickness": "601"}, (5, None, 12),
        {"thickness": "600"}),
    ("column-round", "What it carries", (None, 0.5, 3), {"carried": "3000"}, (None, 0.5, 3),
        {"carried": "2999"}),
    ("column-round", "The cover leaves no width", (None, 0.07, 3), {}, (None, 0.071, 3), {}),
    ("column-round", "A main bar with its lap", (None, 0.5, 11.3), {}, (None, 0.5, 11.2), {}),
     # a lap of 0.8 to 12
    ("column", "What it carries", (0.4, 0.4, 3), {"carried": "3000"}, (0.4, 0.4, 3), {"carried": "2999"}),
    ("column", "A main bar with its lap", (0.4, 0.4, 11.3), {}, (0.4, 0.4, 11.2), {}),
    ("column", "A column this large", (3.01, 0.4, 3), {}, (3, 3, 3), {}),
    ("column", "The cover leaves no width", (0.4, 0.11, 3), {}, (0.4, 0.12, 3), {}),
    ("ground-beam", "A ground beam this large", (5, 2.01, 0.5), {}, (5, 2, 3), {}),
    ("ground-beam", "The lap is as long", (5, 0.4, 0.5), {"stock": "1", "bottom": "25"}, (5, 0.4, 0.5),
        {"stock": "1"}),
    ("ground-beam", "The cover leaves no width", (5, 0.13, 0.5), {}, (5, 0.14, 0.5), {}),
    ("pad-footing-stepped", "More is built in", (1, 1, 0.3),
        {"step_length": "3", "step_width": "3", "dig_depth": "0.6"}, (1, 1, 0.3), {"dig_depth": "0.6"}),
    ("ground-beam", "A dig this deep", (5, 0.4, 0.5), {"dig_depth": "6.1"}, (5, 0.4, 0.5),
        {"dig_depth": "6"}),
    ("ground-slab", "A slab this thick", (5, 4, 1.51), {}, (5, 4, 1.5), {}),
    *((each, "The cover leaves no width", (5, 0.08, 0.2), {}, (5, 0.09, 0.2), {}) for each in ("ground-slab",
        "suspended-slab")),
    ("ground-slab", "The thickened edge", (5, 4, 0.2), {"edge_depth": "200"}, (5, 4, 0.2),
        {"edge_depth": "200", "edge_width": "300"}),
    ("ground-slab", "The fabric's lap", (5, 4, 0.2), {"steel": "fabric, one layer", "fabric_lap": "2400"},
        (5, 4, 0.2), {"steel": "fabric, one layer", "fabric_lap": "2399"}),
    ("ground-slab", "The lap is as long", (5, 4, 0.2), {"main": "25", "stock": "1"}, (5, 4, 0.2),
        {"main": "20", "stock": "1"}),
    ("lintel", "The cover leaves no width", (1.2, None, None), {"wall": "60", "cover": "25"},
        (1.2, None, None), {"wall": "63", "cover": "25"}),
    ("retaining-wall", "The cover leaves no width", (5, None, 3), {"stem_top": "85", "cover": "35"},
        (5, None, 3), {"stem_top": "87", "cover": "35"}),
    ("lintel", "It lies outside every band", (3.6, None, None), {}, (3.59, None, None), {}),
    ("mix-by-mass", "The parts come to", (1, 1, 1), {"stone_content": "1641"}, (1, 1, 1),
        {"stone_content": "1470"}),
    ("pipe-trench", "The pipe is as wide", (5, 0.3, 2), {}, (5, 0.31, 2), {}),
    ("pipe-trench", "Pipe and beds stand", (5, 0.6, 0.39), {}, (5, 0.6, 0.41), {}),
    ("pipe-trench", "The surround reaches", (5, 0.6, 1), {"flare_width": "1", "flare_depth": "0.8"},
        (5, 0.6, 1), {"flare_width": "1", "flare_depth": "0.7"}),
    ("pipe-trench", "A dig this deep", (5, 0.6, 6.1), {}, (5, 0.6, 6), {}),
    ("pad-footing-sloped", "The top of the taper", (0.59, 2, 0.3), {}, (0.6, 0.5, 0.3), {}),
    ("pad-footing-stepped", "The step is larger", (2, 0.99, 0.3), {}, (1, 1, 0.3), {}),
    ("pad-footing-stepped", "The second step", (2, 2, 0.3), {"top_length": "1.01"}, (2, 2, 0.3),
        {"top_length": "1", "top_width": "1"}),
    ("pad-footing", "The footing is no deeper", (2, 2, 0.05), {}, (2, 2, 0.051), {}),
    ("pad-footing", "A pad footing this large", (12.1, 2, 0.5), {}, (12, 12, 4), {}),
    *((each, "Bars go by the number shown", (2, 2, 0.5), {"told_by": "number as shown", "number_along": "9"},
        (2, 2, 0.5),
        {"told_by": "number as shown", "number_along": "9",
            "ways": "along the length"}) for each in ("pad-footing", "pad-footing-sloped",
            "pad-footing-stepped", "pile-cap")),
    *((each, "The cover leaves no width for bars", (2, 0.116, 0.5), {}, (2, 0.117, 0.5),
        {}) for each in ("pad-footing", "pad-footing-sloped", "pad-footing-stepped", "pile-cap")),
    *((each, "The leg is under", (2, 2, 0.5), {"leg": "129"}, (2, 2, 0.5),
        {"leg": "130"}) for each in ("pad-footing", "pad-footing-sloped", "pad-footing-stepped", "pile-cap")),
    *((each, "A bar is longer", (11.5, 2, 0.5), {}, (11.4, 2, 0.5), {}) for each in ("pad-footing",
        "pad-footing-sloped", "pad-footing-stepped", "pile-cap")),
    *((each, "A dig this deep", (2, 2, 0.5), {"dig_depth": "6.1"}, (2, 2, 0.5),
        {"dig_depth": "6"}) for each in ("pad-footing", "pad-footing-sloped", "pad-footing-stepped",
        "pile-cap", "strip-footing")),
    ("pile-cap", "The pile heads", (2, 2, 0.075), {}, (2, 2, 0.076), {}),
    ("pile-cap", "The piles are larger", (0.8, 0.79, 0.5), {}, (0.8, 0.8, 0.5), {}),  # four of 0.159
    ("pile", "The cage is longer", (9, None, None), {"cage": "9.1"}, (9, None, None), {"cage": "9"}),
    ("pile", "The cover leaves no width", (9, None, None), {"diameter": "169"}, (9, None, None),
        {"diameter": "171"}),
    ("pile", "A pile this long", (60.1, None, None), {}, (60, None, None), {}),
    ("pit", "A pit this deep", (3, 3, 8.1), {}, (3, 3, 8), {}),
    ("render", "A coat this thick", (5, 3, None), {"thickness": "81"}, (5, 3, None), {"thickness": "80"}),
    ("retaining-wall", "Toe and stem", (9, None, 3), {"toe": "1851"}, (9, None, 3), {"toe": "1850"}),
    ("retaining-wall", "The stem is thicker", (9, None, 3), {"stem_top": "351"}, (9, None, 3),
        {"stem_top": "350"}),
    ("retaining-wall", "An upright bar is longer", (9, None, 10.2), {}, (9, None, 10), {}),
    ("retaining-wall", "A retaining wall this high", (9, None, 12.1), {}, (9, None, 12), {}),
    ("retaining-wall", "A dig this deep", (9, None, 3), {"dig_depth": "6.1"}, (9, None, 3),
        {"dig_depth": "6"}),
    ("screed", "A screed this thick", (5, 3, None), {"thickness": "201"}, (5, 3, None), {"thickness": "200"}),
    ("stair", "Twice the riser", (None, 1.2, None), {"riser": "134"}, (None, 1.2, None), {"riser": "135"}),
    ("stair", "The cover leaves no width", (None, 0.062, None), {}, (None, 0.063, None), {}),
    ("stair", "A bar along is longer", (None, 1.2, None), {"landing_length": "7200"}, (None, 1.2, None),
        {"landing_length": "7100"}),
    ("stair", "A flight this wide", (None, 6.1, None), {}, (None, 6, None), {}),
    ("strip-footing", "The cover leaves no width", (5, 0.112, 0.3), {}, (5, 0.113, 0.3), {}),
    ("strip-footing", "The junctions take off", (3, 1, 0.3), {"junctions": "6"}, (3, 1, 0.3),
        {"junctions": "5"}),
    ("strip-footing", "A strip this large", (5, 4.1, 0.3), {}, (5, 4, 3), {}),
    ("strip-footing", "The lap is as long", (5, 1, 0.3), {"main": "25", "stock": "1"}, (5, 1, 0.3),
        {"main": "20", "stock": "1"}),
    ("suspended-slab", "A suspended slab this thick", (5, 4, 1.21), {}, (5, 4, 1.2), {}),
    ("suspended-slab", "The drops are larger", (4, 1.9, 0.2), {"drops": "2"}, (4, 2, 0.2), {"drops": "2"}),
    ("suspended-slab", "The beams under it", (5, 4, 0.2), {"beams": "20.1"}, (5, 4, 0.2), {"beams": "20"}),
    ("items-along-a-run", "The spacing is longer", (1.4, None, None), {}, (1.5, None, None), {}),
    ("paved-area", "Paving this thick", (5, 4, None), {"base_thickness": "1401"}, (5, 4, None),
        {"base_thickness": "1399"}),
    ("area-on-a-slope", "A slope of more than 89", (5, 4, None), {"given": "degrees", "slope": "89.5"},
        (5, 4, None), {"given": "degrees", "slope": "89"}),
    ("area-on-a-slope", "A ratio of 1 in 0", (5, 4, None), {"slope": "0"}, (5, 4, None), {"slope": "0.1"}),
    ("area-on-a-slope", "A slope this steep", (5, 4, None), {"slope": "0.33"}, (5, 4, None),
        {"slope": "0.34"}),
    *((each, "A slope of more than 89", (5, None, None), {"given": "degrees", "slope": "89.5"},
        (5, None, None), {"given": "degrees", "slope": "89"}) for each in ("kerb", "plain-length")),
    *((each, "A slope this steep", (5, None, None), {"slope": "0.33"}, (5, None, None),
        {"slope": "0.34"}) for each in ("kerb", "plain-length")),
    ("mix-over-an-area", "A mix laid this thick", (5, 4, None), {"thickness": "301"}, (5, 4, None),
        {"thickness": "300"}),
    *((each, "The fabric's lap", (5, 4, 0.5), {"layers": "1", "fabric_lap": "2400"}, (5, 4, 0.5),
        {"layers": "1", "fabric_lap": "2399"}) for each in ("screed", "paved-area", "pad-footing", "stair",
        "pad-footing-sloped", "pad-footing-stepped", "pile-cap", "strip-footing")),
    ("wall", "The fabric's lap", (5, None, 3), {"faces": "with fabric, one face", "fabric_lap": "2400"},
        (5, None, 3), {"faces": "with fabric, one face", "fabric_lap": "2399"}),
    ("steel-sections", "A section longer", (18.1, None, None), {}, (18, None, None), {}),
    ("steel-sections", "The surface goes by", (5, None, None), {"own_mass": "30", "painted": "all round"},
        (5, None, None), {"own_mass": "30"}),
    ("suspended-slab", "The fabric's lap", (5, 4, 0.2), {"steel": "fabric, one layer", "fabric_lap": "2400"},
        (5, 4, 0.2), {"steel": "fabric, one layer", "fabric_lap": "2399"}),
    ("suspended-slab", "The lap is as long", (5, 4, 0.2), {"main": "25", "stock": "1"}, (5, 4, 0.2),
        {"main": "20", "stock": "1"}),
    ("road-cleaning", "Heavy haulage takes more", (), {"own_hours": "53", "heavy_hours": "9"}, (),
        {"own_hours": "54", "heavy_hours": "9"}),
    ("wall", "The wall is thicker", (5, None, 3), {"top_thickness": "251"}, (5, None, 3),
        {"top_thickness": "250"}),
    ("wall", "A wall this large", (5, None, 15.1), {}, (5, None, 15), {}),
    ("wall", "The cover leaves no width", (5, None, 3), {"thickness": "82"}, (5, None, 3),
        {"thickness": "83"}),
)  # fmt: skip


def says(makeup: str, lines: list[Line], entries: dict[str, str]) -> list[str]:
    return [finding.says for finding in run(built_in()[makeup], entries, lines).findings]


class EveryCaution(unittest.TestCase):
    def test_each_is_given_and_not_a_step_before(self) -> None:
        for makeup, words, over, bring, under, leave in CASES:
            with self.subTest(makeup, caution=words):
                self.assertTrue(
                    any(said.startswith(words) for said in says(makeup, [Line(1, *over)], bring)),
                    says(makeup, [Line(1, *over)], bring),
                )
                self.assertFalse(
                    any(said.startswith(words) for said in says(makeup, [Line(1, *under)], leave))
                )

    def test_an_opening_or_void_larger_than_what_it_is_in(self) -> None:
        for makeup in ("wall", "blockwork", "brickwork-cavity", "ground-slab", "suspended-slab"):
            whole = [Line(length=6, width=5, height=2.5), Line(length=8, width=5, height=2)]
            for hole, told in (
                (Line(length=8.1, width=1, height=1, deduct=True), True),
                (Line(length=8, width=1, height=2.5, deduct=True), False),
            ):
                found = [
                    said
                    for said in says(makeup, [*whole, hole], {})
                    if said.startswith(("The opening is larger", "The void is longer"))
                ]
                self.assertEqual(bool(found), told, makeup)

    def test_none_is_left_out(self) -> None:
        tried = {(makeup, words) for makeup, words, *_ in CASES}
        for makeup in built_in().values():
            for caution, _ in makeup.cautions:
                if caution.on == "adds" and not caution.says.startswith(
                    "More is built in"
                ):  # of any dig: tried once
                    self.assertTrue(
                        any(name == makeup.key and caution.says.startswith(words) for name, words in tried),
                        f"{makeup.key}: {caution.says}",
                    )


if __name__ == "__main__":
    unittest.main()
