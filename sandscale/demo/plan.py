"""The pump house's foundations in metres, and where they lie on the foundation plan."""

from __future__ import annotations

from dataclasses import dataclass

Point = tuple[float, float]
Ring = list[Point]

MM = 72 / 25.4  # sheet units
SHEET = (841 * MM, 594 * MM)  # A1, landscape
PLAN_SCALE, SECTION_SCALE = 100, 20
ORIGIN = (215.0, 235.0)  # mm on the paper: grid 1/A

GRID_X = {"1": 0.0, "2": 9.0, "3": 18.0, "4": 27.0}
GRID_Y = {"A": 0.0, "B": 7.2, "C": 14.4}


@dataclass(frozen=True)
class Footing:
    """A kind of pad footing: its size in m and the grid crossings it stands on."""

    mark: str
    length: float
    width: float
    depth: float
    bars: str
    at: tuple[str, ...]

    def centres(self) -> Ring:
        """The footings' centres in m."""
        return [(GRID_X[crossing[0]], GRID_Y[crossing[1]]) for crossing in self.at]


FOOTINGS = (
    Footing("PF1", 1.40, 1.40, 0.45, "16 at 150 both ways", ("1A", "1B", "1C", "4A", "4B", "4C")),
    Footing("PF2", 1.80, 1.80, 0.50, "16 at 150 both ways", ("2A", "3A", "2C", "3C")),
)
# What revision B of the plan has otherwise: larger footings and their size, moved ones and by how much, in m.
LARGER, LARGER_SIZE = ("2A", "3A"), 2.20
MOVED = {"4B": (0.0, 0.90)}
SLAB: Ring = [(-0.4, -0.4), (27.4, -0.4), (27.4, 14.8), (-0.4, 14.8)]
SUMP: Ring = [(11.7, 6.0), (15.3, 6.0), (15.3, 8.4), (11.7, 8.4)]
SLAB_THICK = 0.20
BEAM: Ring = [(0.0, 0.0), (27.0, 0.0), (27.0, 14.4), (0.0, 14.4)]  # centre line of ground beam GB1
BEAM_WIDTH, BEAM_DEPTH = 0.40, 0.60
COLUMN, COLUMN_HEIGHT = 0.40, 3.85
TOTALS_AT = (34.5, 3.2)  # where the totals stand, below the notes
# The valve chamber's bars, as the engineer's schedule has them: legs in mm.
CHAMBER_COLUMNS = ("member", "mark", "size", "members", "each", "shape", "legs")
CHAMBER_BARS: tuple[tuple[object, ...], ...] = (
    ("VC1", "01", "12", "1", "34", "21", {"A": "300", "B": "2900", "C": "300"}),
    ("VC1", "02", "12", "1", "52", "11", {"A": "400", "B": "2250"}),
    ("VC1", "03", "10", "1", "44", "00", {"A": "2900"}),
    ("VC1", "04", "10", "4", "9", "26", {"A": "700", "B": "420", "C": "900", "D": "210"}),
    ("VC1", "05", "8", "1", "26", "51", {"A": "240", "B": "340", "C": "115"}),
)


def on_sheet(point: Point) -> Point:
    """A point of the plan in sheet units (1/72 inch from the lower left corner)."""
    return tuple((o + p * 1000 / PLAN_SCALE) * MM for o, p in zip(ORIGIN, point, strict=True))  # type: ignore[return-value]


def ring_on_sheet(ring: Ring) -> Ring:
    """A ring of the plan in sheet units."""
    return [on_sheet(point) for point in ring]


def square(centre: Point, length: float, width: float) -> Ring:
    """The outline of a footing around its centre, in m."""
    (x, y), a, b = centre, length / 2, width / 2
    return [(x - a, y - b), (x + a, y - b), (x + a, y + b), (x - a, y + b)]
