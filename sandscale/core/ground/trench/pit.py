"""The pit of a manhole, with upright sides: what is dug, and what is taken off its backfill."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ...findings import Finding
from ...numbers.working import Working, shown
from ...refusals import BadEntry
from ..surface import Surface
from .node import Node
from .run import Run


@dataclass(frozen=True)
class PitQuantities:
    """What the pit of a manhole comes to, in m³."""

    node: Node
    depth: float
    dug: float
    manhole: float
    pipes: float
    restored: Mapping[str, float]

    @property
    def backfill(self) -> float:
        """Round the manhole, in m³."""
        return self.dug - self.manhole - self.pipes - sum(self.restored.values())

    def working(self) -> Working:
        """The arithmetic of its backfill."""
        pit, manhole = (
            shown(volume / self.depth) if self.depth else "0" for volume in (self.dug, self.manhole)
        )
        parts = (
            Working("Dug", self.dug, "m³", "area of the pit × depth", f"{pit} × {shown(self.depth)}"),
            Working(
                "Manhole", self.manhole, "m³", "outside area × depth", f"{manhole} × {shown(self.depth)}"
            ),
            Working("Pipes", self.pipes, "m³", "through the working space"),
            *(
                Working(name, volume, "m³", "area round the manhole × thickness")
                for name, volume in self.restored.items()
            ),
        )
        return Working(
            f"Backfill, {self.node.name}",
            self.backfill,
            "m³",
            "dug − " + " − ".join(part.name.lower() for part in parts[1:]),
            parts=parts,
        )


def pit_of(
    node: Node, runs: Sequence[Run], ground: Surface | None, findings: list[Finding]
) -> PitQuantities | None:
    """What the pit of a node's manhole comes to: as deep as the lowest run that meets it, put back at the top
    as the first of them is; None where there is no manhole, or none meets it, which is put to the findings.

    Raises:
        BadEntry: the ground level there isn't known.
    """
    hole = node.manhole
    if hole is None:
        return None
    met = [run for run in runs if node.name in (run.start, run.end)]
    if not met:
        findings.append(
            Finding(
                f"No run meets manhole {node.name}, so its depth is not known; it is not counted.",
                field="nodes",
                wrong=True,
                code="manhole-unmet",
            )
        )
        return None
    inverts = [run.start_invert if run.start == node.name else run.end_invert for run in met]
    level = (
        node.ground
        if node.ground is not None
        else float(ground.levels_at(np.array([[node.x, node.y]]))[0])
        if ground is not None
        else math.nan
    )
    if not math.isfinite(level):
        raise BadEntry(
            f"The ground level at manhole {node.name} is not known.",
            field="ground",
            remedy="Type the level of its node, or survey it.",
        )
    depth = max(level - (min(inverts) - hole.base), 0.0)
    pipes = sum(math.pi / 4 * run.kind.pipe.outside**2 * hole.working_space for run in met if run.kind.pipe)
    restored = {
        layer.name: (hole.pit_area - hole.outer_area) * layer.thickness
        for layer in met[0].kind.reinstatements
    }
    return PitQuantities(node, depth, hole.pit_area * depth, hole.outer_area * depth, pipes, restored)
