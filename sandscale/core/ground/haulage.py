"""What becomes of what is dug: bulking, compaction, what to bring in and cart away, loads, and the level
that balances."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from scipy.optimize import brentq

from ..numbers.rounding import ceil_guarded
from ..numbers.working import Working, shown
from ..refusals import BadEntry
from .cut_and_fill import CutFill
from .measures import positive, sound

_CLOSE = 1e-7  # m


@dataclass(frozen=True)
class Soil:
    """How a material changes its volume.

    Attributes:
        bulking: loose m³ per m³ in the ground.
        compacted: m³ in place in a fill per m³ in the ground (below 1 where it shrinks).
        lorry: what a load carries, in loose m³; no loads where it is 0.
    """

    bulking: float = 1.25
    compacted: float = 0.90
    lorry: float = 0.0


@dataclass(frozen=True)
class Haulage:
    """The balance of a dig and a fill.

    Attributes:
        reused: what goes from cut to fill, in m³ in the ground.
        exported: what is carted away, in m³ in the ground.
        imported: what is brought in, in m³ in the ground.
        exported_loose: in loose m³.
        imported_loose: in loose m³.
        export_loads: whole loads.
        import_loads: whole loads.
    """

    reused: float
    exported: float
    imported: float
    exported_loose: float
    imported_loose: float
    export_loads: int
    import_loads: int
    working: tuple[Working, ...]


def haulage(cut: float, fill: float, soil: Soil, unsuitable: float = 0.0) -> Haulage:
    """What becomes of a cut and a fill.

    Args:
        cut: dug, in m³ in the ground.
        fill: to be filled, in m³ in place.
        soil: how it changes its volume.
        unsuitable: the part of the cut that can't be filled with, in m³ in the ground.

    Raises:
        BadEntry: a volume is below zero, a factor not above it, or more is unsuitable than is dug.
    """
    if not (sound(cut, fill, unsuitable) and unsuitable <= cut + 1e-9):
        raise BadEntry(
            "Cut, fill and what is unsuitable can't be below zero, and no more "
            "can be unsuitable than is dug.",
            field="cut",
        )
    if not (positive(soil.bulking, soil.compacted) and sound(soil.lorry)):
        raise BadEntry(
            "Bulking and compaction factors are above zero, and a lorry's load not below it.", field="bulking"
        )
    needed, usable = fill / soil.compacted, cut - unsuitable
    reused = min(needed, usable)
    exported, imported = cut - reused, needed - reused
    loose = (exported * soil.bulking, imported * soil.bulking)
    loads = [int(ceil_guarded(volume / soil.lorry)) if soil.lorry else 0 for volume in loose]
    steps = (
        Working(
            "Needed for the fill",
            needed,
            "m³",
            "fill / compacted",
            f"{shown(fill)} / {shown(soil.compacted)}",
        ),
        Working(
            "Reused",
            reused,
            "m³",
            "the lesser of needed and usable",
            f"{shown(needed)} and {shown(cut)} − {shown(unsuitable)}",
        ),
        Working(
            "Carted away, loose",
            loose[0],
            "m³",
            "(cut − reused) × bulking",
            f"({shown(cut)} − {shown(reused)}) × {shown(soil.bulking)}",
        ),
        Working(
            "Brought in, loose",
            loose[1],
            "m³",
            "(needed − reused) × bulking",
            f"({shown(needed)} − {shown(reused)}) × {shown(soil.bulking)}",
        ),
        Working(
            "Loads away",
            loads[0],
            "nr",
            "loose / lorry, whole loads",
            f"{shown(loose[0])} / {shown(soil.lorry)}",
        ),
        Working(
            "Loads in",
            loads[1],
            "nr",
            "loose / lorry, whole loads",
            f"{shown(loose[1])} / {shown(soil.lorry)}",
        ),
    )
    return Haulage(
        reused, exported, imported, loose[0], loose[1], loads[0], loads[1], steps if soil.lorry else steps[:4]
    )


@dataclass(frozen=True)
class Balance:
    """The level at which a dig and a fill balance: cut × compacted = fill."""

    level: float
    earth: CutFill
    working: Working


def balance_level(
    formed: Callable[[float], CutFill], low: float, high: float, compacted: float = 1.0
) -> Balance:
    """The formation level at which what is dug, once compacted, makes the fill.

    Args:
        formed: the cut and fill at a formation level, in m.
        low: a level at which there is too much cut.
        high: a level at which there is too much fill.
        compacted: m³ in a fill per m³ in the ground.

    Raises:
        BadEntry: there is no balance between the two levels.
    """

    def over(level: float) -> float:
        earth = formed(level)
        return earth.cut * compacted - earth.fill

    below, above = over(low), over(high)
    if below < 0 or above > 0:
        raise BadEntry(
            f"Cut and fill don't balance between {low:.2f} and {high:.2f}: "
            f"{'fill is short' if above > 0 else 'cut is short'} all the way.",
            field="level",
            remedy="Try levels farther apart.",
        )
    level = low if below == 0 else high if above == 0 else float(brentq(over, low, high, xtol=_CLOSE))
    earth = formed(level)
    figures = (
        f"{shown(earth.cut)} × {shown(compacted)} = {shown(earth.cut * compacted)}; fill {shown(earth.fill)}"
    )
    return Balance(level, earth, Working("Balance level", level, "m", "cut × compacted = fill", figures))
