"""Cut and fill, exactly: the ground and a formation cut into pieces where one crosses the other."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
import shapely

from ..findings import Finding
from ..numbers.working import Working, shown
from ..refusals import BadEntry
from .formation import Formation
from .measures import sound
from .pieces import EMPTY, Floats, Pieces, Region, joined, none, united
from .surface import Line, Surface, ring_region, zero_lines
from .table import Table, table


@dataclass(frozen=True)
class CutFill:
    """The ground against its formation.

    Attributes:
        pieces: all of it, with ``ground`` and ``formation`` levels, in m.
        footprint: what they cover in plan.
        findings: where the formation couldn't be laid.
    """

    pieces: Pieces
    footprint: Region
    findings: tuple[Finding, ...] = ()

    @cached_property
    def _sides(self) -> tuple[Pieces, Pieces]:
        return self.pieces.split(self.pieces["ground"] - self.pieces["formation"])

    @property
    def cut_pieces(self) -> Pieces:
        """The parts where the ground is above the formation."""
        return self._sides[0]

    @property
    def fill_pieces(self) -> Pieces:
        """The parts where it is below."""
        return self._sides[1]

    @cached_property
    def cut_volumes(self) -> Floats:
        """The volume of each cut piece in m³."""
        return self.cut_pieces.volumes(depth(self.cut_pieces))

    @cached_property
    def fill_volumes(self) -> Floats:
        """The volume of each fill piece in m³."""
        return self.fill_pieces.volumes(-depth(self.fill_pieces))

    @cached_property
    def cut(self) -> float:
        """In m³, exact."""
        return float(self.cut_volumes.sum())

    @cached_property
    def fill(self) -> float:
        """In m³, exact."""
        return float(self.fill_volumes.sum())

    @property
    def net(self) -> float:
        """Cut less fill, in m³."""
        return self.cut - self.fill

    @property
    def area(self) -> float:
        """What it covers in plan, in m²."""
        return self.pieces.area

    @cached_property
    def zero_lines(self) -> list[Floats]:
        """The lines between cut and fill, each n × 2."""
        height = depth(self.pieces)
        # A fill piece that only touches zero lies at a zero line where there is cut beyond it, and at
        # daylight elsewhere.
        edge = np.flatnonzero((height.max(axis=1) == 0) & ((height == 0).sum(axis=1) == 2))
        tip = self.pieces.plan[edge, height[edge].argmin(axis=1)]
        middle = (self.pieces.plan[edge].sum(axis=1) - tip) / 2
        ground, formation = self.levels_at(middle + (middle - tip) * 1e-6)
        drawn = np.ones(len(self.pieces), bool)
        drawn[edge[~(ground > formation)]] = False
        return zero_lines(self.pieces.picked(drawn), height[drawn])

    def levels_at(self, places: Floats) -> tuple[Floats, Floats]:
        """Ground and formation levels at places (k × 2), NaN off the footprint."""
        found = self.pieces.values_at(places)
        return found[:, self.pieces.names.index("ground")], found[:, self.pieces.names.index("formation")]

    def deeper_than(self, level: float) -> float:
        """The volume of cut that lies more than ``level`` m below the ground, in m³."""
        deep, _ = (
            self.cut_pieces.split(depth(self.cut_pieces) - level) if level > 0 else (self.cut_pieces, None)
        )
        return float(deep.volumes(depth(deep) - level).sum())

    def depth_bands(self, limits: Sequence[float]) -> list[tuple[float, float, float]]:
        """The cut by depth below the ground: (from, to, m³) for each two limits, and below the last where
        there is some.

        Raises:
            BadEntry: the limits don't rise from zero or above.
        """
        below = [self.deeper_than(limit) for limit in rising(limits)]
        bands = [(limits[at], limits[at + 1], below[at] - below[at + 1]) for at in range(len(limits) - 1)]
        return [*bands, (limits[-1], np.inf, below[-1])] if below[-1] > 0 else bands

    def within(self, region: Region) -> CutFill:
        """The part in a region."""
        return CutFill(self.pieces.within(region), shapely.intersection(self.footprint, region))

    def by_stage(self, stages: Mapping[str, Line]) -> tuple[dict[str, CutFill], tuple[Finding, ...]]:
        """The parts inside each stage's ring, in order, and under an empty name what is in none; no part
        counts twice.

        Returns:
            The parts, and what was found: stages that overlap, and what lies outside all.
        """
        taken, parts, findings = EMPTY, dict[str, CutFill](), list[Finding]()
        for name, ring in stages.items():
            region = ring_region(ring, f"outline of stage {name}")
            twice = shapely.intersection(region, taken).area
            if twice > 1e-6:
                findings.append(
                    Finding(
                        f"Stage {name} overlaps the stages before it by {twice:.2f} m²; "
                        "that part stays with the earlier.",
                        field="stages",
                        code="stages-overlap",
                    )
                )
            parts[name] = self.within(shapely.difference(region, taken))
            taken = united([taken, region])
        rest = CutFill(self.pieces.beyond(taken), shapely.difference(self.footprint, taken))
        if rest.area > 1e-6:
            findings.append(
                Finding(
                    f"{rest.area:.2f} m² lie in no stage: cut {rest.cut:.2f} m³, fill {rest.fill:.2f} m³.",
                    field="stages",
                    code="stage-missing",
                )
            )
        return {**parts, "": rest}, tuple(findings)

    def centres(self) -> tuple[Floats | None, Floats | None]:
        """The middle of the cut and of the fill in plan, by volume; None where there is none."""
        return _middle(self.cut_pieces, self.cut_volumes), _middle(self.fill_pieces, self.fill_volumes)

    def table(self, side: str = "cut") -> Table:
        """The prisms of the cut or the fill: their middles, areas, three heights and volumes."""
        some, volumes, sign = (
            (self.cut_pieces, self.cut_volumes, 1)
            if side == "cut"
            else (self.fill_pieces, self.fill_volumes, -1)
        )
        middles, heights = some.plan.mean(axis=1), sign * depth(some)
        return table(
            side.capitalize(),
            ("east", "m", middles[:, 0]),
            ("north", "m", middles[:, 1]),
            ("area", "m²", some.areas),
            *((f"height {corner + 1}", "m", heights[:, corner]) for corner in range(3)),
            ("volume", "m³", volumes),
        )

    def working(self, side: str = "cut") -> Working:
        """The arithmetic of the cut or the fill; its parts are found by :meth:`block`."""
        total, some = (self.cut, self.cut_pieces) if side == "cut" else (self.fill, self.fill_pieces)
        return Working(
            side.capitalize(),
            total,
            "m³",
            "Σ plan area × mean height of three corners",
            f"{len(some)} prisms over {shown(some.area)} m²",
            source="two surfaces",
        )

    def block(self, side: str, at: int) -> Working:
        """The arithmetic of one prism, 0-based in the order of ``cut_pieces`` or ``fill_pieces``."""
        some, volumes, sign = (
            (self.cut_pieces, self.cut_volumes, 1)
            if side == "cut"
            else (self.fill_pieces, self.fill_volumes, -1)
        )
        heights, area = sign * depth(some)[at], float(some.areas[at])
        middle = some.plan[at].mean(axis=0)
        ground, formation = some["ground"][at], some["formation"][at]
        parts = tuple(
            Working(
                f"Height {n}",
                float(h),
                "m",
                "ground − formation" if sign > 0 else "formation − ground",
                " − ".join(shown(float(v), 3) for v in (g, f)[::sign]),
            )
            for n, (h, g, f) in enumerate(zip(heights, ground, formation, strict=True), start=1)
        )
        return Working(
            f"{side.capitalize()} at {middle[0]:.2f}, {middle[1]:.2f}",
            float(volumes[at]),
            "m³",
            "area × (h1 + h2 + h3) / 3",
            f"{shown(area)} × ({' + '.join(shown(float(h), 3) for h in heights)}) / 3",
            parts=(Working("Area in plan", area, "m²"), *parts),
        )


def depth(some: Pieces) -> Floats:
    """How far the ground is above the formation at corners, n × 3."""
    return some["ground"] - some["formation"]


def cut_and_fill(ground: Surface, *formations: Formation) -> CutFill:
    """The ground brought to formations; where several lie over one another, the first counts.

    Raises:
        BadShape, BadEntry: a formation can't be laid.
    """
    laid, taken, findings = [none("ground", "formation")], EMPTY, list[Finding](ground.findings)
    for at, formation in enumerate(formations):
        shaped = formation.against(ground)
        findings += shaped.findings
        laid.append(shaped.pieces.beyond(taken) if at else shaped.pieces)
        taken = united([taken, shaped.region])
    return CutFill(joined(*laid), taken, tuple(findings))


def rising(limits: Sequence[float]) -> Sequence[float]:
    """Limits of bands, if they rise from zero or above.

    Raises:
        BadEntry: they don't.
    """
    if len(limits) < 2 or not sound(*limits) or any(not low < high for low, high in pairwise(limits)):
        raise BadEntry("The limits of bands must rise from zero, such as 0, 1, 2, 4.", field="bands")
    return limits


def _middle(some: Pieces, volumes: Floats) -> Floats | None:
    total = volumes.sum()
    if not total > 0:
        return None
    heights = np.abs(depth(some))
    # A prism's middle leans to its higher corners: ∫ x·h = A/12 · (Σx·Σh + Σ x·h).
    moments = (
        some.areas[:, None]
        / 12
        * (some.plan.sum(axis=1) * heights.sum(axis=1)[:, None] + np.einsum("nck,nc->nk", some.plan, heights))
    )
    return np.asarray(moments.sum(axis=0) / total)
