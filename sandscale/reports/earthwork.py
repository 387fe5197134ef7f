"""What the proof of an earthwork tells: its numbers, its plan, its sections and squares, what was found and
decided. Lengths in m, areas in m², volumes in m³, whatever the documents are written in."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from ..core.ground.earthwork import PROOF_PARTS, CrossSection, Laid, ProofPart, Reckoned
from ..core.ground.grid import Cells, Rows
from ..core.ground.pieces import Floats
from ..core.ground.surface import Contour, Line


@dataclass(frozen=True)
class EarthDocument:
    """An earthwork with all that proves it.

    Attributes:
        project, client, mark, name: whose it is.
        told: (what, how) of what it goes by: ground, formation, grid, method.
        reckoned: its numbers.
        work: it laid against its ground.
        rings: (name, outline) of formations, classes and stages.
        contours: of the ground.
        cells: the squares of the grid.
        rows: the sections along it, and ``sections`` each as it is drawn.
        names: of the lines of sections, by key.
        findings: what looks wrong.
        decided: what was decided about its levels.
        parts: what is to be told.
        per_page: how many sections stand on a page.
    """

    project: str
    client: str
    mark: str
    name: str
    told: Sequence[tuple[str, str]]
    reckoned: Reckoned
    work: Laid
    rings: Sequence[tuple[str, Line]]
    contours: Sequence[Contour]
    cells: Cells
    rows: Rows
    sections: Sequence[CrossSection]
    names: dict[str, str]
    findings: Sequence[str]
    decided: Sequence[str]
    parts: frozenset[ProofPart] = frozenset(PROOF_PARTS)
    per_page: int = 4
    zero_lines: Sequence[Floats] = field(default=())

    @property
    def title(self) -> str:
        """What it is called."""
        return f"{self.mark} {self.name}".strip()
