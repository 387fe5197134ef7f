"""Rules of reinforcement as named formulas, which make-ups call by name; the shapes' are in shapes.toml.

Sources: steel density 7850 kg/m³ (EN 10080); counts and laps as the trade works them.
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
    NamedFormula(
        "bars_over",
        ("width", "cover", "d", "spacing", "rounds_up", "end_bar"),
        "bar_count(bar_intervals(width, cover, d, spacing), rounds_up, "
        "end_bar) if width > 2*cover + d else 0",
        "Bars over a width; none where the cover leaves no room",
    ),
    NamedFormula(
        "lap_number",
        ("length", "stock", "lap"),
        "max(0, ceil((length - lap) / (stock - lap)) - 1)",
        "Laps of a run made up from stock lengths",
    ),
    NamedFormula(
        "lapped",
        ("length", "stock", "lap"),
        "length + lap_number(length, stock, lap) * lap",
        "A run of bars with its laps",
    ),
    NamedFormula(
        "zoned_links",
        ("length", "zone", "close", "wide"),
        "2 * ceil(min(zone, length / 2) / close) + ceil(max(0, length - 2*zone) / wide) + 1",
        "Links at a close spacing over a zone at each end and a wide one between",
    ),
    NamedFormula(
        "first_half", ("number",), "ceil(number / 2)", "Of staggered bars, those of the first length"
    ),
    NamedFormula(
        "second_half", ("number",), "floor(number / 2)", "Of staggered bars, those of the second length"
    ),
    NamedFormula(
        "sheet_share",
        ("long", "wide", "lap"),
        "long * wide / ((long - lap) * (wide - lap))",
        "Fabric sheets with a lap on one long and one short side",
    ),
)

BAR_RULES = {rule.name: rule for rule in _RULES}
