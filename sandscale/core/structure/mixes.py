"""Mixes of concrete, mortar and render by volume: wet to dry, dry to parts, cement to mass."""

from __future__ import annotations

from ..numbers.formula import NamedFormula

CEMENT_DENSITY = 1440.0  # kg/m³, loose cement as batched by volume

MIX_RULES = (
    NamedFormula(
        "dry_part",
        ("wet", "dry_factor", "part", "parts"),
        "wet * dry_factor * part / parts",
        "Share of one part of the dry volume of a mix",
    ),
    NamedFormula(
        "cement_mass",
        ("wet", "dry_factor", "part", "parts"),
        f"dry_part(wet, dry_factor, part, parts) * {CEMENT_DENSITY} * kg / m3",
        "Cement of a mix by volume, 1440 kg/m³ loose",
    ),
)
