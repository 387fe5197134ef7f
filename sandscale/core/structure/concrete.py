"""Concrete and formwork: volumes and faces the trade's formulas give."""

from __future__ import annotations

from ..numbers.formula import NamedFormula

CONCRETE_RULES = (
    NamedFormula(
        "prismoid",
        ("a", "b", "a1", "b1", "h"),
        "h/6 * (a*b + (a + a1)*(b + b1) + a1*b1)",
        "Prismoid between two parallel rectangles a × b and a1 × b1 a height h apart",
    ),
    NamedFormula(
        "taper_sides",
        ("a", "b", "a1", "b1", "h"),
        "(a + a1) * sqrt(h**2 + ((b - b1)/2)**2) + (b + b1) * sqrt(h**2 + ((a - a1)/2)**2)",
        "The four sloping sides of that prismoid, set centrally",
    ),
    NamedFormula("round_area", ("diameter",), "pi/4 * diameter**2", "Circle"),
    NamedFormula("slope_length", ("run", "rise"), "sqrt(run**2 + rise**2)", "Length on the slope"),
    NamedFormula(
        "true_area",
        ("plan", "gradient"),
        "plan * sqrt(1 + gradient**2)",
        "Plan area / cos θ, gradient = rise over run",
    ),
    NamedFormula(
        "mean_height", ("start", "end"), "(start + end) / 2", "Wall face of a run that rises evenly"
    ),
    NamedFormula(
        "along",
        ("length", "spacing", "rounds_up", "end_item"),
        "max(0, (ceil(length/spacing) if rounds_up > 0 else floor(length/spacing)) + end_item) "
        "if length > 0 else 0",
        "Items set out along a run: spaces, and an item more or less for its ends; none along nothing",
    ),
    NamedFormula(
        "centre_line",
        ("length", "width", "girth_sides"),
        "length + girth_sides * width",
        "Inside girth + 4 widths, outside girth − 4 widths",
    ),
    NamedFormula(
        "stair_steps",
        ("riser", "going", "width", "number"),
        "0.5 * riser * going * width * number",
        "Steps upon the waist of a flight",
    ),
)
