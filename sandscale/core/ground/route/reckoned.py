"""What a route comes to under the names of a bill: its layers and parts gathered, by stretch and stage."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from ...findings import Finding
from ..areas import Span, Volume
from ..pieces import Floats
from .quantities import RouteQuantities
from .sections import EARTH, EDGE, STRIP

NO_STRETCH, NO_STAGE = "in no stretch", "in no stage"
AT_END = 0.01  # m: nearer to an end of the route, a stretch reaches it
Kind = Literal["layer", "edge", "strip"]
UNITS: Mapping[Kind, str] = {"layer": "m³", "edge": "m", "strip": "m²"}
_OF_KIND: Mapping[Kind, str] = {"edge": EDGE, "strip": STRIP}


@dataclass(frozen=True)
class Stretch:
    """A part of a route between two chainages, in m, and the stage in which it is built."""

    name: str
    begin: float
    end: float
    stage: str = ""


@dataclass(frozen=True)
class NamedQuantity:
    """What layers of a route are gathered under; or edges counted by their length, or strips.

    Attributes:
        name: of it.
        layers: the names of what it gathers.
        density: in t/m³, where it is billed by its mass.
        extra: percent more of it for compaction and loss.
    """

    name: str
    layers: tuple[str, ...]
    density: float = 0.0
    extra: float = 0.0


@dataclass(frozen=True)
class Gathered:
    """A named quantity with what it gathers of a route.

    Attributes:
        name: of it.
        kind: of its parts.
        parts: their names, as the route has them.
        density, extra: as of the named quantity.
        own: whether it is a layer that is under no name, counted as itself.
    """

    name: str
    kind: Kind
    parts: tuple[str, ...]
    density: float = 0.0
    extra: float = 0.0
    own: bool = False


@dataclass(frozen=True)
class Reckoned:
    """What a route comes to.

    Attributes:
        quantities: along it, its stretches' ends among its breaks.
        gathered: its named quantities that gather anything, then layers under no name.
        stretches: those that lie on it, none over another.
        findings: what was found on the way.
        levels: of the centreline at each section, in m; empty where sections came from elsewhere.
        typicals: the name of the typical section of each.
    """

    quantities: RouteQuantities
    gathered: tuple[Gathered, ...]
    stretches: tuple[Stretch, ...]
    findings: tuple[Finding, ...] = ()
    levels: tuple[float, ...] = field(default=())
    typicals: tuple[str, ...] = field(default=())

    @property
    def told(self) -> list[Gathered]:
        """What tables by chainage tell: what is gathered under names, then cut, fill and the like."""
        return [*self.gathered, *(Gathered(n, "layer", (n,)) for n in EARTH if n in self.quantities.names)]

    @property
    def length(self) -> float:
        """From the first section to the last, in m."""
        along = self.quantities.chainages
        return float(along[-1] - along[0]) if len(along) else 0.0

    def volume(self, kind: Kind, name: str) -> Volume:
        """Of one layer in m³ (cut, fill and the topsoil strip too), edge in m, or strip in m²."""
        if kind == "layer":
            return self.quantities.volume(name)
        return self.quantities.extent((_OF_KIND[kind], name))

    def sizes(self, kind: Kind, name: str) -> Floats:
        """What there is of one layer at each section, in m²; of an edge how many, of a strip how wide."""
        if kind == "layer":
            return self.quantities.areas(name)
        return self.quantities.sizes((_OF_KIND[kind], name))

    def factors(self, kind: Kind, name: str) -> Floats:
        """1 + e / R of it at each section; 1 where curves aren't heeded."""
        of = self.quantities
        return np.array(of.factors(name) if kind == "layer" else of.extent_factors((_OF_KIND[kind], name)))

    def along(self, gathered: Gathered) -> list[Volume]:
        """What it gathers, part by part."""
        return [self.volume(gathered.kind, part) for part in gathered.parts]

    def by_stretch(self, volumes: Iterable[Volume]) -> list[tuple[str, float]]:
        """What falls to each stretch, and to none; nothing where there are no stretches."""
        return self._by(volumes, lambda stretch: stretch.name, NO_STRETCH) if self.stretches else []

    def by_stage(self, volumes: Iterable[Volume]) -> list[tuple[str, float]]:
        """What falls to each stage, and to none; nothing where no stretch has one."""
        if not any(stretch.stage for stretch in self.stretches):
            return []
        return self._by(volumes, lambda stretch: stretch.stage or NO_STAGE, NO_STAGE)

    def _by(
        self, volumes: Iterable[Volume], name: Callable[[Stretch], str], rest: str
    ) -> list[tuple[str, float]]:
        found = dict[str, float]()
        for volume in volumes:
            for span in volume.spans:
                stretch = self.stretch_of(span)
                key = name(stretch) if stretch is not None else rest
                found[key] = found.get(key, 0.0) + span.volume
        return list(found.items())

    def stretch_of(self, span: Span) -> Stretch | None:
        """The stretch a span lies in."""
        middle = (span.begin + span.end) / 2
        return next((each for each in self.stretches if each.begin <= middle <= each.end), None)


def gather(
    quantities: RouteQuantities, named: Sequence[NamedQuantity]
) -> tuple[tuple[Gathered, ...], tuple[Finding, ...]]:
    """Match named quantities to what a route has, by name.

    Returns:
        Those that gather something, then each layer under no name; and what was found: a name without a
        layer, a layer without a name, one under two names, one missing over some chainages.
    """
    layers = [name for name in quantities.names if name not in EARTH]
    there: dict[Kind, dict[str, str]] = {
        "layer": {name.lower(): name for name in layers},
        "edge": {name.lower(): name for kind, name in quantities.extents if kind == EDGE},
        "strip": {name.lower(): name for kind, name in quantities.extents if kind == STRIP},
    }
    made, findings, taken = list[Gathered](), list[Finding](), dict[tuple[Kind, str], str]()
    whole = _ends(quantities)
    for each in named:
        parts, kind = list[str](), None
        for wanted in each.layers or (each.name,):
            found = next((k for k in there if wanted.lower() in there[k]), None)
            if found is None:
                if each.layers:
                    says = f"{each.name} gathers “{wanted}”, but nothing of the route is so named: {whole}."
                    findings.append(Finding(says, field=each.name, wrong=True, code="layer-unknown"))
                continue
            part = there[found][wanted.lower()]
            if kind is not None and found != kind:
                says = f"{each.name} gathers {kind}s, which {part} is none of; it is left out of it."
                findings.append(Finding(says, field=each.name, wrong=True, code="kinds-mixed"))
                continue
            if (found, part) in taken:
                says = f"{part} is counted under {taken[found, part]} and {each.name} both."
                findings.append(Finding(says, field=each.name, wrong=True, code="counted-twice"))
            taken[found, part] = each.name
            kind = found
            parts.append(part)
        if kind is None:
            says = f"{each.name} counts nothing: {whole}."
            findings.append(Finding(says, field=each.name, wrong=True, code="counts-nothing"))
            continue
        made.append(Gathered(each.name, kind, tuple(dict.fromkeys(parts)), each.density, each.extra))
    for name in layers:
        if ("layer", name) not in taken:
            made.append(Gathered(name, "layer", (name,), own=True))
            if named:
                says = f"Layer {name} is under no name; it is counted as itself."
                findings.append(Finding(says, field=name, code="layer-unnamed"))
    return tuple(made), (*findings, *quantities.missing(layers))


def _ends(quantities: RouteQuantities) -> str:
    along = quantities.chainages
    return f"{along[0]:.2f} to {along[-1]:.2f}" if len(along) else "it has no section"


def laid_out(
    stretches: Sequence[Stretch], begin: float, end: float
) -> tuple[tuple[Stretch, ...], tuple[Finding, ...]]:
    """Stretches as they lie on a route from one chainage to another: what lies beyond its ends, or in a
    stretch before, is put to the findings and left out."""
    made, findings = list[Stretch](), list[Finding]()

    def find(says: str, at: int, code: str) -> None:
        findings.append(Finding(says, at, "stretch", True, code))

    for at, each in enumerate(stretches):
        told = f"Stretch {each.name}, {each.begin:.2f} to {each.end:.2f},"
        if not each.begin < each.end:
            find(f"{told} ends where it begins or before.", at, "stretch-backwards")
            continue
        low = begin if each.begin < begin + AT_END else each.begin
        high = end if each.end > end - AT_END else each.end
        if each.begin < begin - AT_END or each.end > end + AT_END:
            find(f"{told} lies outside the route, which goes from {begin:.2f} to {end:.2f}.", at, "outside")
        free = [(low, high)] if low < high else []
        for other in made:
            over = (max(low, other.begin), min(high, other.end))
            if over[1] - over[0] > 1e-6:
                says = f"Stretches {other.name} and {each.name} overlap from {over[0]:.2f} to {over[1]:.2f}."
                find(f"{says} That counts in {other.name}.", at, "stretches-overlap")
            free = [part for own in free for part in _without(own, (other.begin, other.end))]
        made += [replace(each, begin=a, end=b) for a, b in free]
    return tuple(sorted(made, key=lambda stretch: stretch.begin)), tuple(findings)


def _without(own: tuple[float, float], other: tuple[float, float]) -> list[tuple[float, float]]:
    parts = [(own[0], min(own[1], other[0])), (max(own[0], other[1]), own[1])]
    return [(a, b) for a, b in parts if b - a > 1e-9]
