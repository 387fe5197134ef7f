"""A network of trenches: runs between nodes, and the pits of manholes at the nodes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from ...findings import Finding
from ...refusals import BadEntry
from ..cut_and_fill import rising
from ..haulage import Haulage, Soil, haulage
from ..surface import Surface
from .kind import BACKFILL, DUG, PIPE, Reinstatement, Surround
from .node import Node
from .pit import PitQuantities, pit_of
from .run import Run, RunQuantities, quantities_of

DEPTH_BANDS = (0.0, 1.0, 2.0, 4.0)


@dataclass(frozen=True)
class Network:
    """What a network comes to."""

    runs: tuple[RunQuantities, ...]
    pits: tuple[PitQuantities, ...]
    findings: tuple[Finding, ...]

    @cached_property
    def volumes(self) -> dict[str, float]:
        """Of all runs and pits together, in m³."""
        total = dict[str, float]()
        for run in self.runs:
            for name, volume in run.volumes.items():
                total[name] = total.get(name, 0.0) + volume
        for pit in self.pits:
            for name, volume in {
                DUG: pit.dug,
                "manhole": pit.manhole,
                PIPE: pit.pipes,
                BACKFILL: pit.backfill,
                **pit.restored,
            }.items():
                total[name] = total.get(name, 0.0) + volume
        return total

    @property
    def tonnes(self) -> dict[str, float]:
        """What is bought of each layer that is brought in, in t."""
        found = dict[str, float]()
        for run in self.runs:
            layers: list[Surround | Reinstatement] = [*run.run.kind.surrounds, *run.run.kind.reinstatements]
            for layer in layers:
                found[layer.name] = found.get(layer.name, 0.0) + layer.material.tonnes(
                    run.volumes[layer.name]
                )
        kinds = {run.run.kind.name: run.run.kind for run in self.runs}
        restored = {layer.name: layer.material for kind in kinds.values() for layer in kind.reinstatements}
        for pit in self.pits:
            for name, volume in pit.restored.items():
                found[name] += restored[name].tonnes(volume)
        return found

    def surplus(self, soil: Soil) -> Haulage:
        """What becomes of what is dug, when the backfill is made of it."""
        return haulage(self.volumes.get(DUG, 0.0), self.volumes.get(BACKFILL, 0.0), soil)


def network(
    nodes: Sequence[Node],
    runs: Sequence[Run],
    ground: Surface | None = None,
    limits: Sequence[float] = DEPTH_BANDS,
) -> Network:
    """What a network of trenches comes to.

    A trench ends at the pits of the manholes it meets, or at the middle of a node without one. A run or a pit
    that can't be reckoned (a node isn't known or has no level, a run has no length, pits leave no trench
    between them) is left out, which is put to the findings.

    Args:
        nodes: where runs meet or end.
        runs: the trenches.
        ground: the surface they are dug from; else levels at nodes, and along runs, are needed.
        limits: of the depth bands, in m.

    Raises:
        BadEntry: two nodes have one name, or the limits don't rise.
    """
    rising(limits)
    known = {node.name: node for node in nodes}
    if len(known) < len(nodes):
        raise BadEntry("Two nodes have one name.", field="nodes")
    findings = list[Finding]()
    made, pits = list[RunQuantities](), list[PitQuantities]()
    for at, run in enumerate(runs):
        try:
            made.append(quantities_of(run, at, known, ground, limits, findings))
        except BadEntry as refusal:
            findings.append(_left_out(refusal, at))
    sound = [each.run for each in made]
    for node in nodes:
        try:
            pit = pit_of(node, sound, ground, findings)
        except BadEntry as refusal:
            findings.append(_left_out(refusal, -1))
        else:
            pits += [pit] if pit is not None else []
    return Network(tuple(made), tuple(pits), tuple(findings))


def _left_out(refusal: BadEntry, line: int) -> Finding:
    says = f"{refusal.sentence} It is not counted. {refusal.remedy}".strip()
    return Finding(says, line, refusal.field, wrong=True, code="left-out")
