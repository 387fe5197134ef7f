"""Rules of reinforcement as named formulas, which make-ups call by name.

Sources: steel density 7850 kg/m³ (EN 10080); shape codes, legs and bend deductions (BS 8666 /
ISO 3766), with r the former radius and d the bar diameter, outside dimensions.
"""

from __future__ import annotations

from ..numbers.formula import NamedFormula

STEEL_DENSITY = 7850.0  # kg/m³, EN 10080

_RULES = (
    NamedFormula("bar_mass", ("d",), f"pi / 4 * d**2 * {STEEL_DENSITY} * kg / m3", "EN 10080, 7850 kg/m³"),
    NamedFormula(
        "bar_intervals",
        ("width", "cover", "d", "spacing"),
        "max(0, (width - 2*cover - d) / spacing)",
        "Bars over a width with cover each side",
    ),
    NamedFormula(
        "bar_count",
        ("intervals", "rounds_up", "end_bar"),
        "(ceil(intervals) if rounds_up > 0 else floor(intervals)) + end_bar",
        "Counting rule of the detailing rules: ceil + 1, floor + 1, or ceil alone",
    ),
    NamedFormula("shape_00", ("A",), "A", "BS 8666 shape code 00"),
    NamedFormula("shape_11", ("A", "B", "r", "d"), "A + B - 0.5*r - d", "BS 8666 shape code 11"),
    NamedFormula("shape_21", ("A", "B", "C", "r", "d"), "A + B + C - r - 2*d", "BS 8666 shape code 21"),
    NamedFormula("shape_51", ("A", "B", "C", "r", "d"), "2*(A + B + C) - 2.5*r - 5*d", "BS 8666 shape code 51"),
)

BAR_RULES = {rule.name: rule for rule in _RULES}
