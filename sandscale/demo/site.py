"""The ground at Ferrin Weir: a river terrace as it was surveyed, with what goes wrong in surveys, and what is
made of it.

Places are on a grid of the site's own, in m.
"""

from __future__ import annotations

import math
import random
from itertools import pairwise

Place = tuple[float, float]

WEST, SOUTH, EAST, NORTH = 2400.0, 5100.0, 2560.0, 5220.0
STEP = 6.0
FILE = "FW-survey-2026-10.csv"
# The bank between the two flats of the terrace: its foot and its crest.
FOOT = ((2400.0, 5158.0), (2448.0, 5152.0), (2500.0, 5161.0), (2560.0, 5155.0))
CREST_BEHIND, BANK = 11.0, 2.9  # m north of the foot, and as much higher

PLATFORM_LEVEL, CHAMBER_LEVEL = "42.60", "39.90"
PLATFORM = ((2452.0, 5142.0), (2500.0, 5142.0), (2500.0, 5174.0), (2452.0, 5174.0))
CHAMBER = ((2522.0, 5130.0), (2528.2, 5130.0), (2528.2, 5135.2), (2522.0, 5135.2))
PAVING = ((2484.0, 5164.0), (2498.0, 5164.0), (2498.0, 5173.0), (2484.0, 5173.0))
SOFT = ((2455.0, 5144.0), (2467.0, 5144.0), (2467.0, 5152.0), (2455.0, 5152.0))
STAGES = (
    ("North half", ((2440.0, 5158.0), (2512.0, 5158.0), (2512.0, 5190.0), (2440.0, 5190.0))),
    ("South half", ((2440.0, 5124.0), (2512.0, 5124.0), (2512.0, 5158.0), (2440.0, 5158.0))),
)
BOUNDARY = ((2402.0, 5102.0), (2558.0, 5102.0), (2558.0, 5218.0), (2402.0, 5218.0))

# The rising main: its nodes from the valve chamber on, with chambers on it, and its kind.
MAIN_DEPTH = 1.55  # m to the invert, at the nodes
MAIN = (
    ("VC1", 2525.0, 5136.0, "1.2 x 0.9"), ("P1", 2545.0, 5151.0, ""), ("P2", 2545.0, 5157.0, ""),
    ("P3", 2545.0, 5168.0, ""), ("AV1", 2545.0, 5207.0, "1.0"), ("P4", 2413.0, 5207.0, ""),
    ("P5", 2413.0, 5168.0, ""),
    ("P6", 2413.0, 5157.0, ""), ("WO1", 2413.0, 5110.0, "1.0"),
)  # fmt: skip
RISING_MAIN = {
    "name": "Rising main DN 200", "about": "Plastic pressure pipe in sand over gravel",
    "pipe": "PE DN 200", "bore": "0.1764",
    "wall": "0.0118", "bed": "0.15", "sides": "flared", "upright": "1.25", "batter": "1:0.5",
    "cover": "0.9", "pumped": True,
    "layers": [
        {"name": "Gravel bed", "mark": "underside", "over": "-0.05", "density": "1.75", "extra": "8"},
        {"name": "Sand bed", "mark": "crown", "over": "0.15", "density": "1.65", "extra": "12"},
    ],
    "restored": [{"name": "Topsoil", "thickness": "0.15", "overlap": "0.1", "density": "", "extra": ""}],
}  # fmt: skip


# The access road: its centreline from the gate to the yard, with the radii of its bends, and where the grid
# crosses that the drawing shows lie.
ROAD = ((2412.0, 5200.0), (2512.0, 5196.0), (2512.0, 5124.0), (2423.5803, 5124.0))
ROAD_RADII = (25.0, 25.0)
ROAD_LEVELS = (("0", "45.25", ""), ("90", "45.25", "20"), ("140", "42.35", "20"), ("240", "41.10", ""))
CROSSES = ((2420.0, 5110.0), (2540.0, 5210.0))
_STRIPS = (
    {"name": "Carriageway", "width": "2.75", "fall": "2.5 %"},
    {"name": "Kerb", "width": "0.15", "step": "0.10", "linear": True},
    {"name": "Verge", "width": "1.00", "fall": "4 %"},
)
_UNDER_BOTH = ["Carriageway"]
KERBED = {
    "name": "Road, kerbed", "about": "Two bituminous courses on crushed base and frost layer",
    "right": list(_STRIPS),
    "layers": [
        {"name": "Wearing", "thickness": "40 mm", "under": _UNDER_BOTH},
        {"name": "Binder", "thickness": "60 mm", "under": _UNDER_BOTH},
        {"name": "Base", "thickness": "250 mm", "under": _UNDER_BOTH, "spread": "0.30"},
        {"name": "Sub-base", "thickness": "200 mm", "under": _UNDER_BOTH, "spread": "0.40"},
        {"name": "Kerb bed", "thickness": "200 mm", "under": ["Kerb"]},
    ],
    "cut": "1:1.5", "fill": "1:2", "topsoil": "0.15",
}  # fmt: skip
# In the bends the carriageway is wider on the inner side.
WIDENED = {
    **KERBED, "name": "Road, widened", "about": "As kerbed, 0.60 m wider inside the bends", "alike": False,
    "right": [{**_STRIPS[0], "width": "3.35"}, *_STRIPS[1:]], "left": list(_STRIPS),
}  # fmt: skip
ROAD_NAMES = (
    {"name": "Bituminous", "layers": "Wearing; Binder", "density": "2.4", "extra": "3"},
    {"name": "Crushed base", "layers": "Base"},
    {"name": "Frost layer", "layers": "Sub-base"},
    {"name": "Kerb concrete", "layers": "Kerb bed"},
    {"name": "Kerbs", "layers": "Kerb"},
)
STRETCHES = (("Gate to bend", "0", "96"), ("Bend to yard", "96", "240"))


def level(east: float, north: float) -> float:
    """The ground, in m: two flats that fall to the river in the south, and the bank between them."""
    foot = _foot(east)
    up = min(max((north - foot) / CREST_BEHIND, 0.0), 1.0)
    flat = 40.4 + 0.018 * (north - SOUTH) + 0.006 * (east - WEST)
    waves = 0.35 * math.sin((east - WEST) / 23) * math.cos((north - SOUTH) / 17)
    return flat + up * BANK + waves * (1 - 2.4 * up * (1 - up))


def _foot(east: float) -> float:
    for (x1, y1), (x2, y2) in pairwise(FOOT):
        if east <= x2:
            return y1 + (y2 - y1) * (max(east, x1) - x1) / (x2 - x1)
    return FOOT[-1][1]


def breaklines() -> list[list[tuple[float, float, float]]]:
    """The foot and the crest of the bank, with their levels."""
    lines = []
    for behind in (0.0, CREST_BEHIND):
        easts = [WEST + 2 + n * 6.0 for n in range(27)]
        lines.append([(x, _foot(x) + behind, round(level(x, _foot(x) + behind), 3)) for x in easts])
    return lines


def survey_file() -> bytes:
    """The survey as the surveyor sent it: point numbers, codes, and five faults: a level that lost its tens,
    one left empty, one of 0, a point sent twice, and one measured twice at different levels."""
    shaken = random.Random(5)
    rows, number = [], 0
    for across in range(int((EAST - WEST) / STEP) + 1):
        for up in range(int((NORTH - SOUTH) / STEP) + 1):
            inner = 0 < across * STEP < EAST - WEST and 0 < up * STEP < NORTH - SOUTH
            shift = 1.6 if inner else 0.0
            east = WEST + across * STEP + shaken.uniform(-shift, shift)
            north = SOUTH + up * STEP + shaken.uniform(-shift, shift)
            number += 1
            code = "bank" if 0 <= north - _foot(east) <= CREST_BEHIND else "ground"
            rows.append([number, f"{east:.3f}", f"{north:.3f}", f"{level(east, north):.3f}", code])
    rows[203][3] = rows[203][3][1:]  # 42.180 became 2.180
    rows[318][3] = ""
    rows[402][3] = "0.000"
    rows.append([number + 1, *rows[120][1:]])
    twice = list(rows[255])
    rows.append([number + 2, twice[1], twice[2], f"{float(str(twice[3])) + 0.24:.3f}", "check"])
    lines = ["Point;Easting;Northing;Level;Code", *(";".join(map(str, row)) for row in rows)]
    return ("\r\n".join(lines) + "\r\n").encode()
