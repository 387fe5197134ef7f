"""Masonry: units and mortar per area, courses, and the rule for small openings."""

from __future__ import annotations

from ..numbers.formula import NamedFormula

MASONRY_RULES = (
    NamedFormula(
        "units_per_area",
        ("length", "height", "joint"),
        "1 / ((length + joint) * (height + joint))",
        "Units laid with a joint all round",
    ),
    NamedFormula(
        "mortar_per_area",
        ("thickness", "length", "height", "joint"),
        "thickness * (1 - units_per_area(length, height, joint) * length * height)",
        "What the units leave of the wall: a solid bed",
    ),
    NamedFormula(
        "deducted",
        ("area", "limit", "is_deduct"),
        "0*m2 if is_deduct > 0 and area <= limit else area",
        "Openings at or below a size are not deducted",
    ),
    NamedFormula(
        "courses",
        ("height", "unit_height", "joint"),
        "ceil(height / (unit_height + joint))",
        "Courses of a wall",
    ),
)
