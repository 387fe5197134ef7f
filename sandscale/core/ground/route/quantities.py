"""What a route comes to: volumes of cut, fill and each layer along it, by stretch and by stage."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ...findings import Finding
from ..areas import Rule, Span, Volume, volume
from ..pieces import Floats
from ..table import Table, table
from .sections import Extents, Section

_LEAST = 1e-9  # m²: less is no layer


@dataclass(frozen=True)
class AreaRow:
    """The areas of one section.

    Attributes:
        chainage: in m.
        areas: name → m²; a name that isn't there has none.
        middles: name → the offset of the area's middle, in m, to the right above zero.
        curvature: of the centreline, in 1/m, above zero to the left.
        extents: (kind, name) → its width in m, or how many edges there are, and the offset of its middle.
    """

    chainage: float
    areas: Mapping[str, float]
    middles: Mapping[str, float] = field(default_factory=dict)
    curvature: float = 0.0
    extents: Extents = field(default_factory=dict)


@dataclass(frozen=True)
class RouteQuantities:
    """Volumes along a route.

    Attributes:
        rows: the areas of its sections, chainages not falling.
        rule: how volumes between sections are reckoned.
        curved: whether they are corrected for curves: × (1 + e / R) where the area's middle lies e outside
            the centreline.
        breaks: chainages over which no volume reaches, such as the ends of stretches: a rule that takes three
            sections begins anew there.
    """

    rows: tuple[AreaRow, ...]
    rule: Rule = "mean area"
    curved: bool = True
    breaks: tuple[float, ...] = ()

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
        return self._along(self.areas(name), self.rule, self.factors(name))

    def factors(self, name: str) -> list[float]:
        """1 + e / R at each section: what lies outside of a curve is longer than the centreline."""
        return [1 + row.curvature * row.middles.get(name, 0.0) if self.curved else 1.0 for row in self.rows]

    def _along(self, sizes: Floats, rule: Rule, factors: Sequence[float]) -> Volume:
        along, spans, findings = self.chainages, list[Span](), dict[Finding, None]()
        edges = [
            (int(np.searchsorted(along, at - 1e-9)), int(np.searchsorted(along, at + 1e-9)) - 1)
            for at in sorted(self.breaks)
        ]
        begins = [0, *(last for first, last in edges if first <= last)]
        ends = [*(first for first, last in edges if first <= last), len(along) - 1]
        for begin, end in zip(begins, ends, strict=True):
            if begin < end:
                part = slice(begin, end + 1)
                found = volume(along[part], sizes[part], rule, factors[part])
                spans += found.spans
                findings |= dict.fromkeys(found.findings)
        return Volume(tuple(spans), tuple(findings))

    @property
    def extents(self) -> tuple[tuple[str, str], ...]:
        """What has a width or a length anywhere, in order of first appearance."""
        return tuple(dict.fromkeys(key for row in self.rows for key in row.extents))

    def extent(self, key: tuple[str, str]) -> Volume:
        """The surface of what has a width, in m², or the length of what is counted by it, in m; by the mean
        of two sections times their distance."""
        return self._along(self.sizes(key), "mean area", self.extent_factors(key))

    def sizes(self, key: tuple[str, str]) -> Floats:
        """How wide it is at each section in m, or how many edges there are."""
        return np.array([row.extents.get(key, (0.0, 0.0))[0] for row in self.rows])

    def extent_factors(self, key: tuple[str, str]) -> list[float]:
        """1 + e / R of it at each section."""
        middles = [row.extents.get(key, (0.0, 0.0))[1] for row in self.rows]
        curvatures = [row.curvature if self.curved else 0.0 for row in self.rows]
        return [1 + curvature * middle for curvature, middle in zip(curvatures, middles, strict=True)]

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

    def broken(self, chainages: Sequence[float]) -> RouteQuantities:
        """With breaks at chainages, and a section at each that has none: between its neighbours."""
        rows = list(self.rows)
        for at in sorted(set(chainages)):
            if len(rows) > 1 and rows[0].chainage + 1e-9 < at < rows[-1].chainage - 1e-9:
                after = next(n for n, row in enumerate(rows) if row.chainage > at - 1e-9)
                if rows[after].chainage > at + 1e-9:
                    rows.insert(after, self._between(at))
        return replace(self, rows=tuple(rows), breaks=tuple(sorted(set(chainages))))

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
        nothing = (0.0, 0.0)
        extents = {
            key: (one[0] * (1 - share) + other[0] * share, one[1] * (1 - share) + other[1] * share)
            for key in {**before.extents, **after.extents}
            for one, other in [(before.extents.get(key, nothing), after.extents.get(key, nothing))]
        }
        return AreaRow(
            chainage,
            mixed(before.areas, after.areas),
            mixed(before.middles, after.middles),
            curvature,
            extents,
        )

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
        tuple(AreaRow(s.chainage, s.areas, s.middles, s.curvature, s.extents) for s in sections), rule, curved
    )


def _gaps(there: np.ndarray[tuple[int], np.dtype[np.bool_]]) -> list[tuple[int, int]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[True], there, [True]]).astype(int)))
    return [(int(begin), int(end) - 1) for begin, end in edges.reshape(-1, 2)]


def _range(chainages: Floats, begin: int, end: int) -> str:
    first, last = chainages[begin], chainages[end]
    return f"chainage {first:g}" if first == last else f"chainages {first:g} to {last:g}"
