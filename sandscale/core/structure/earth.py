"""Excavation to concrete: pits and trenches with batters, split by depth, and carting away."""

from __future__ import annotations

from ..numbers.formula import NamedFormula

EARTH_RULES = (
    NamedFormula(
        "pit_volume",
        ("length", "width", "depth", "batter"),
        "prismoid(length, width, length + 2*batter*depth, width + 2*batter*depth, depth)",
        "h/6 (A top + 4 A middle + A bottom); batter is horizontal to 1 vertical",
    ),
    NamedFormula(
        "pit_band",
        ("length", "width", "depth", "batter", "upper", "lower"),
        "pit_volume(length + 2*batter*max(0, depth - lower), width + 2*batter*max(0, depth - lower), "
        "min(lower, depth) - min(upper, depth), batter)",
        "The part of a pit between two depths below the surface",
    ),
    NamedFormula(
        "trench_section",
        ("width", "depth", "batter"),
        "(width + batter*depth) * depth",
        "Trapezium of a trench",
    ),
    NamedFormula(
        "trench_band",
        ("length", "width", "depth", "batter", "upper", "lower"),
        "length * trench_section(width + 2*batter*max(0, depth - lower), min(lower, "
        "depth) - min(upper, depth), batter)",
        "The part of a trench between two depths below the surface",
    ),
    NamedFormula(
        "loads", ("volume", "lorry"), "ceil(volume / lorry)", "Whole lorry loads of a bulked volume"
    ),
)
