"""What a route comes to: volumes of cut, fill and each layer along it, by stretch and by stage."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ...findings import Finding
from ...refusals import BadEntry
from ..areas import Rule, Volume, volume
from ..pieces import Floats
from ..table import Table, table
from .sections import Section

_LEAST = 1e-9  # m²: less is no layer


@dataclass(frozen=True)
class AreaRow:
    """The areas of one section.

    Attributes:
        chainage: in m.
        areas: name → m²; a name that isn't there has none.
        middles: name → the offset of the area's middle, in m, to the right above zero.
        curvature: of the centreline, in 1/m, above zero to the left.
    """

    chainage: float
    areas: Mapping[str, float]
    middles: Mapping[str, float] = field(default_factory=dict)
    curvature: float = 0.0


@dataclass(frozen=True)
class RouteQuantities:
    """Volumes along a route.

    Attributes:
        rows: the areas of its sections, chainages not falling.
        rule: how volumes between sections are reckoned.
        curved: whether they are corrected for curves: × (1 + e / R) where the area's middle lies e outside
            the centreline.
    """

    rows: tuple[AreaRow, ...]
    rule: Rule = "mean area"
    curved: bool = True

    @property
    def names(self) -> tuple[str, ...]:
        """What there is anywhere, in order of first appearance."""
        return tuple(dict.fromkeys(name for row in self.rows for name in row.areas))

    @property
    def chainages(self) -> Floats:
        """In m."""
        return np.array([row.chainage for row in self.rows])

    def areas(self, name: str) -> Floats:
        """At each section, in m²."""
        return np.array([row.areas.get(name, 0.0) for row in self.rows])

    def volume(self, name: str) -> Volume:
        """Along the whole route, with a span for each step of its sections."""
        factors = [
            1 + row.curvature * row.middles.get(name, 0.0) if self.curved else 1.0 for row in self.rows
        ]
        return volume(self.chainages, self.areas(name), self.rule, factors)

    @property
    def totals(self) -> dict[str, float]:
        """Of each, in m³."""
        return {name: self.volume(name).total for name in self.names}

    @property
    def area_table(self) -> Table:
        """A row for each section: its chainage, then each area."""
        return table(
            "Areas",
            ("chainage", "m", self.chainages),
            *((name, "m²", self.areas(name)) for name in self.names),
        )

    def cumulative(self, name: str) -> tuple[Floats, Floats]:
        """Chainages and the volume up to each, in m³."""
        spans = self.volume(name).spans
        ends = [span.end for span in spans]
        return np.array([self.rows[0].chainage, *ends]), np.cumsum([0.0, *(span.volume for span in spans)])

    def within(self, begin: float, end: float) -> RouteQuantities:
        """The part between two chainages; where there is no section at one, areas between its neighbours
        are taken."""
        if not begin < end:
            raise BadEntry("A stretch ends beyond its beginning.", field="stretch")
        inner = [row for row in self.rows if begin - 1e-9 <= row.chainage <= end + 1e-9]
        # Of two sections at one end, the one that belongs to the stretch.
        while len(inner) > 1 and inner[1].chainage <= begin + 1e-9:
            inner.pop(0)
        while len(inner) > 1 and inner[-2].chainage >= end - 1e-9:
            inner.pop()
        low, high = self.rows[0].chainage, self.rows[-1].chainage
        if (not inner or inner[0].chainage > begin + 1e-9) and low < begin < high:
            inner.insert(0, self._between(begin))
        if inner[-1:] and inner[-1].chainage < end - 1e-9 and low < end < high:
            inner.append(self._between(end))
        return RouteQuantities(tuple(inner), self.rule, self.curved)

    def _between(self, chainage: float) -> AreaRow:
        at = next(n for n, row in enumerate(self.rows) if row.chainage > chainage)
        before, after = self.rows[at - 1], self.rows[at]
        share = (chainage - before.chainage) / (after.chainage - before.chainage)

        def mixed(one: Mapping[str, float], other: Mapping[str, float]) -> dict[str, float]:
            return {
                name: one.get(name, 0.0) * (1 - share) + other.get(name, 0.0) * share
                for name in {**one, **other}
            }

        curvature = before.curvature * (1 - share) + after.curvature * share
        return AreaRow(
            chainage, mixed(before.areas, after.areas), mixed(before.middles, after.middles), curvature
        )

    def by_stage(
        self, stages: Mapping[str, Sequence[tuple[float, float]]]
    ) -> tuple[dict[str, dict[str, float]], tuple[Finding, ...]]:
        """Volumes of each stage, made of stretches (from, to), in m³, and under an empty name what is in
        none.

        Returns:
            The volumes, and stretches that overlap.
        """
        found = {stage: dict.fromkeys(self.names, 0.0) for stage in stages}
        findings, taken = list[Finding](), list[tuple[float, float, str]]()
        for stage, stretches in stages.items():
            for begin, end in stretches:
                for other_begin, other_end, other in taken:
                    if min(end, other_end) - max(begin, other_begin) > 1e-9:
                        findings.append(
                            Finding(
                                f"Stages {other} and {stage} overlap from {max(begin, other_begin):g} "
                                f"to {min(end, other_end):g}.",
                                field="stages",
                                wrong=True,
                                code="stages-overlap",
                            )
                        )
                taken.append((begin, end, stage))
                for name, total in self.within(begin, end).totals.items():
                    found[stage][name] += total
        found[""] = {
            name: total - sum(found[stage][name] for stage in stages) for name, total in self.totals.items()
        }
        return found, tuple(findings)

    def missing(self, names: Sequence[str]) -> tuple[Finding, ...]:
        """Layers of a list that have no area anywhere, or none at some chainages: never silence."""
        findings = []
        for name in names:
            there = self.areas(name) > _LEAST
            if not there.any():
                findings.append(
                    Finding(
                        f"{name.capitalize()} has no area at any chainage.",
                        field=name,
                        wrong=True,
                        code="layer-missing",
                    )
                )
            elif not there.all():
                where = ", ".join(_range(self.chainages, begin, end) for begin, end in _gaps(there))
                findings.append(
                    Finding(f"{name.capitalize()} has no area at {where}.", field=name, code="layer-gaps")
                )
        return tuple(findings)


def of_sections(
    sections: Sequence[Section], rule: Rule = "mean area", *, curved: bool = True
) -> RouteQuantities:
    """What cross-sections come to."""
    return RouteQuantities(
        tuple(AreaRow(s.chainage, s.areas, s.middles, s.curvature) for s in sections), rule, curved
    )


def _gaps(there: np.ndarray[tuple[int], np.dtype[np.bool_]]) -> list[tuple[int, int]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[True], there, [True]]).astype(int)))
    return [(int(begin), int(end) - 1) for begin, end in edges.reshape(-1, 2)]


def _range(chainages: Floats, begin: int, end: int) -> str:
    first, last = chainages[begin], chainages[end]
    return f"chainage {first:g}" if first == last else f"chainages {first:g} to {last:g}"
