"""A route as a measurer: its cut and fill, the named quantities its layers are gathered under, what is
trimmed."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field

from ..findings import Finding
from ..ground.areas import Rule, Volume
from ..ground.haulage import Haulage, Soil, haulage
from ..ground.route.imported import SectionLines, areas_of
from ..ground.route.quantities import AreaRow, RouteQuantities, of_sections
from ..ground.route.reckoned import (
    AT_END,
    UNITS,
    Gathered,
    NamedQuantity,
    Reckoned,
    Stretch,
    gather,
    laid_out,
)
from ..ground.route.sections import (
    BESIDE,
    CUT,
    EDGE,
    FILL,
    FORMATION,
    SLOPES,
    STRIP,
    TOP,
    TOPSOIL,
    TRIMMED,
    GroundAcross,
    Route,
    cross_sections,
)
from ..numbers.systems import METRIC, System
from ..numbers.units import unit
from ..numbers.working import Working, shown
from ..refusals import BadEntry
from .measurer import Measured, QuantityLine, Split
from .sized import Splits, sized
from .trench import slug

SECTION = "Routes"
_EARTH = {
    CUT: ("Cut", "Excavate to formation, ordinary material"),
    FILL: ("Fill", "Fill to formation, compacted in layers"),
    TOPSOIL: ("Topsoil stripped", "Strip topsoil and set aside"),
    BESIDE: ("Filled beside the layers", "Fill beside layers, compacted in layers"),
}
_TRIMMED = {
    FORMATION: ("Formation trimmed", "Trim and compact formation"),
    SLOPES: ("Side slopes trimmed", "Trim slopes of cuttings and fillings"),
}
_TOGETHER = 50  # spans shown one by one; more are told hundred metres by hundred metres


@dataclass(frozen=True)
class Asked:
    """What is asked of a route.

    Attributes:
        route: built over the ground; None where its sections came from elsewhere.
        lines: those sections, and the order of their layers from the top down.
        ground: across it.
        interval: between sections, in m.
        named: quantities its layers are gathered under.
        findings: of rows that are none yet.
    """

    route: Route | None
    lines: tuple[Sequence[SectionLines], Sequence[str]]
    ground: GroundAcross | None
    interval: float
    rule: Rule
    curved: bool
    stretches: Sequence[Stretch]
    named: Sequence[NamedQuantity]
    findings: tuple[Finding, ...] = ()

    def reckoned(self) -> Reckoned:
        """What it comes to.

        Raises:
            BadEntry: there is no ground, nothing is built along it, or too many sections are asked for.
        """
        quantities, levels, typicals, findings = self._along()
        if not quantities.rows:
            raise BadEntry(
                findings[0].says if findings else "It has no section that can be reckoned.",
                field="route",
                remedy="See that the ground reaches as far as the route, and is given its typical section.",
            )
        first, last = quantities.rows[0].chainage, quantities.rows[-1].chainage
        stretches, laid = laid_out(self.stretches, first, last)
        quantities = quantities.broken([at for each in stretches for at in (each.begin, each.end)])
        gathered, told = gather(quantities, self.named)
        return Reckoned(
            quantities, gathered, stretches, (*self.findings, *findings, *laid, *told), levels, typicals
        )

    def _along(
        self,
    ) -> tuple[RouteQuantities, tuple[float, ...], tuple[str, ...], tuple[Finding, ...]]:
        if self.route is None:
            sections, order = self.lines
            rows, findings = areas_of(sections, order)
            return RouteQuantities(tuple(rows), self.rule, self.curved), (), (), findings
        if self.ground is None:
            raise BadEntry(
                "It has no ground yet.", field="ground", remedy="Say which surface it is built over."
            )
        own = self.route.centreline
        limits = [at for each in self.stretches for at in (each.begin, each.end)]
        more = [at for at in limits if own.begin + AT_END < at < own.end - AT_END]
        along = self.route.chainages(self.interval, more)
        made, findings = cross_sections(self.route, self.ground, along)
        quantities = of_sections(made, self.rule, curved=self.curved)
        return quantities, tuple(s.level for s in made), tuple(s.typical for s in made), findings


@dataclass(frozen=True)
class Given:
    """What was entered for a route.

    Attributes:
        print: of all it is reckoned from: the same while that is the same.
        asked: reads it.
        made: what it came to when it was last worked out.
        note: what was entered, in words, with the date of its last change.
        ref: what a reference to one of its parts begins with.
        system: the unit system its quantities are in.
    """

    print: str
    asked: Callable[[], Asked] = field(repr=False, compare=False)
    made: Callable[[], Reckoned] = field(repr=False, compare=False)
    soil: Callable[[], Soil] = field(repr=False, compare=False)
    note: Callable[[], str] = field(repr=False, compare=False)
    ref: str = ""
    system: System = METRIC


@dataclass(frozen=True)
class RouteMeasured(Measured):
    """What a route comes to.

    Attributes:
        reckoned: along it.
    """

    reckoned: Reckoned | None = None


class Routes:
    """The measurer of routes."""

    key = "route"
    slow = True

    def measure(self, given: Given, progress: Callable[[float], None] = lambda _: None) -> RouteMeasured:
        """Reckon it; takes long.

        Raises:
            BadEntry: there is no ground, or nothing is built along it.
        """
        asked = given.asked()
        progress(0.1)
        made = asked.reckoned()
        progress(0.8)
        lines = tuple(lines_of(made, given.soil(), given.system))
        return RouteMeasured(lines, CUT, made.findings, reckoned=made)

    def working(self, given: Given, output: str, name: str) -> Working:
        """How one quantity came about: part by part, stretch by stretch, section to section."""
        made, soil = given.made(), given.soil()
        line = next((each for each in lines_of(made, soil, given.system) if each.output == output), None)
        if line is None:
            raise BadEntry("There is no such quantity.", field="output")
        told = _told(made, soil, output, given.system)
        return Working(name, line.net, line.unit, told.expression, told.figures, (), told.parts, given.note())

    def bar_working(self, given: Given, key: str, name: str) -> Working:
        """It has no bars.

        Raises:
            BadEntry: always.
        """
        raise BadEntry("A route has no bars.", field="key")

    def needs(self, given: Given) -> tuple[str, ...]:
        """It takes no dimension lines."""
        return ()


def surplus_of(made: Reckoned, soil: Soil) -> Haulage:
    """What becomes of what is dug, when the fill, that beside the layers too, is made of it."""
    of = made.quantities
    return haulage(of.volume(CUT).total, of.volume(FILL).total + of.volume(BESIDE).total, soil)


def lines_of(made: Reckoned, soil: Soil, system: System) -> Iterable[QuantityLine]:
    """The quantity lines of a route."""
    cubic, square, linear, mass = (sized(each, system, SECTION) for each in ("m³", "m²", "m", "t"))
    of = made.quantities

    def by(volumes: Sequence[Volume], layers: Sequence[str] = (), factor: float = 1.0) -> Splits:
        splits: dict[Split, list[tuple[str, float]]] = {
            "stretch": made.by_stretch(volumes), "stage": made.by_stage(volumes),
        }  # fmt: skip
        if len(layers) > 1:
            splits["layer"] = [(n, v.total) for n, v in zip(layers, volumes, strict=True)]
        return {split: [(name, value * factor) for name, value in parts] for split, parts in splits.items()}

    yield linear("length", "Length of the route", made.length)
    for key, (label, item) in _EARTH.items():
        if key in of.names:
            along = of.volume(key)
            yield cubic(slug(key), label, along.total, item, by([along]))
    extents, named = extent_keys(of), keys_of(each.name for each in made.gathered)
    makes = {"layer": cubic, "edge": linear, "strip": square}
    for each, own in zip(made.gathered, named, strict=True):
        volumes = made.along(each)
        whole, key = sum(v.total for v in volumes), f"named_{own}"
        splits = by(volumes, each.parts)
        bought = whole * (1 + each.extra / 100)
        heavy = each.kind == "layer" and each.density > 0
        words = "" if heavy else each.name
        yield makes[each.kind](key, each.name, whole, words, splits, bought)
        if heavy:
            # Of what is bought, in t: reckoned in kg.
            by_mass = by(volumes, each.parts, each.density * 1000)
            tonnes = whole * each.density * 1000
            more = tonnes * (1 + each.extra / 100)
            yield mass(f"{key}_tonnes", f"{each.name}, by mass", tonnes, each.name, by_mass, more)
    for (kind, name), label in _surfaces(of):
        along = of.extent((kind, name))
        yield square(extents[kind, name], label, along.total, "", by([along]))
    for kind, name in of.extents:
        if kind == EDGE and not any(name in g.parts for g in made.gathered if g.kind == "edge"):
            along = of.extent((kind, name))
            yield linear(extents[kind, name], f"{name}, along it", along.total, name, by([along]))
    for name, (label, item) in _TRIMMED.items():
        if (TRIMMED, name) in of.extents:
            along = of.extent((TRIMMED, name))
            yield square(f"trimmed_{name}", label, along.total, item, by([along]))
    haul = surplus_of(made, soil)
    brought = haul.imported * soil.compacted
    yield cubic("imported", "Fill brought in", brought, "Extra for fill brought to the site")
    yield cubic(
        "surplus", "Surplus, in place", haul.exported, "Cart excavated material away, measured in place"
    )
    yield cubic("surplus_loose", "Surplus, loose", haul.exported_loose)
    if soil.lorry:
        yield sized("nr", system, SECTION)("loads", "Loads away", float(haul.export_loads))


def keys_of(names: Iterable[str]) -> list[str]:
    """A key for each name, short enough for an output; names that read alike are numbered."""
    found = list[str]()
    for name in names:
        base = key = slug(name)
        number = 1
        while key in found:
            number += 1
            key = f"{base}_{number}"
        found.append(key)
    return found


def extent_keys(of: RouteQuantities) -> dict[tuple[str, str], str]:
    """The output of each strip, edge and top of a layer."""
    found = dict[tuple[str, str], str]()
    for kind in dict.fromkeys(kind for kind, _ in of.extents):
        own = [key for key in of.extents if key[0] == kind]
        keys = keys_of(name for _, name in own)
        found |= {key: f"{kind}_{end}" for key, end in zip(own, keys, strict=True)}
    return found


def _surfaces(of: RouteQuantities) -> Iterable[tuple[tuple[str, str], str]]:
    for kind, name in of.extents:
        if kind in (TOP, STRIP):
            yield (kind, name), f"{name}, its surface"


def _told(made: Reckoned, soil: Soil, output: str, system: System) -> Working:
    """The arithmetic behind one of its quantities, in the system's units."""
    of = made.quantities
    for key in _EARTH:
        if output == slug(key):
            return _spans(made, of.volume(key), "m³", system)
    for name in _TRIMMED:
        if output == f"trimmed_{name}":
            return _spans(made, of.extent((TRIMMED, name)), "m²", system)
    for (kind, name), key in extent_keys(of).items():
        if output == key:
            return _spans(made, of.extent((kind, name)), "m" if kind == EDGE else "m²", system)
    for each, own in zip(made.gathered, keys_of(each.name for each in made.gathered), strict=True):
        key = f"named_{own}"
        if output == key:
            return _gathered(made, each, system)
        if output == f"{key}_tonnes":
            volume = _gathered(made, each, system)
            whole = sum(v.total for v in made.along(each)) / unit(system.symbol("m³")).size
            part = Working("Volume", whole, system.symbol("m³"), volume.expression, "", (), volume.parts)
            figures = f"{shown(whole)} × {shown(each.density)}"
            return Working("", 0.0, "", "volume × density", figures, (), (part,))
    if output == "length":
        along = of.chainages
        return Working("", 0.0, expression="end − beginning", figures=f"{along[-1]:.2f} − {along[0]:.2f}")
    return _of_surplus(made, soil, output, system)


def _gathered(made: Reckoned, each: Gathered, system: System) -> Working:
    volumes = made.along(each)
    if len(volumes) == 1:
        return _spans(made, volumes[0], UNITS[each.kind], system)
    symbol = system.symbol(UNITS[each.kind])
    size = unit(symbol).size
    parts = []
    for name, volume in zip(each.parts, volumes, strict=True):
        told = _spans(made, volume, UNITS[each.kind], system)
        parts.append(
            Working(name, volume.total / size, symbol, told.expression, told.figures, (), told.parts)
        )
    return Working("", 0.0, expression="Σ of what is gathered under it", parts=tuple(parts))


def _spans(made: Reckoned, along: Volume, metric: str, system: System) -> Working:
    """Section to section, by stretch where there are some. In m, as routes are set out, with the sum of each
    part in the system's units."""
    symbol = system.symbol(metric)
    size = unit(symbol).size
    names: list[tuple[str, list[Working], float]] = []
    for span in along.spans:
        stretch = made.stretch_of(span)
        name = stretch.name if stretch is not None else ""
        if not name and len(along.spans) > _TOGETHER:
            name = f"{span.begin // 100 * 100:g} to {span.begin // 100 * 100 + 100:g}"
        if not names or names[-1][0] != name:
            names.append((name, [], 0.0))
        name, spans, whole = names[-1]
        told = span.working()
        spans.append(Working(told.name, told.value, metric, _of(told.expression, metric), told.figures))
        names[-1] = (name, spans, whole + span.volume)
    expression = "Σ of the spans"
    if len(names) == 1:
        return Working("", 0.0, expression=expression, parts=tuple(names[0][1]))
    parts = tuple(
        Working(name or "between", whole / size, symbol, expression, "", (), tuple(spans))
        for name, spans, whole in names
    )
    return Working("", 0.0, expression="Σ along the route", parts=parts)


def _of(expression: str, metric: str) -> str:
    """The expression of a volume as that of a surface or a length."""
    if metric == "m³":
        return expression
    return expression.replace("A1", "w1" if metric == "m²" else "n1").replace(
        "A2", "w2" if metric == "m²" else "n2"
    )


def _of_surplus(made: Reckoned, soil: Soil, output: str, system: System) -> Working:
    size = unit(system.symbol("m³")).size
    haul = surplus_of(made, soil)
    cut, *fills = (made.quantities.volume(name).total / size for name in (CUT, FILL, BESIDE))
    fill = sum(fills)
    away = f"{shown(cut)} − {shown(fill)} / {shown(soil.compacted)}"
    if output == "imported":
        figures = f"({shown(fill)} / {shown(soil.compacted)} − {shown(cut)}) × {shown(soil.compacted)}"
        expression = "(fill / compacted − cut) × compacted, where more is needed than dug"
        return Working("", 0.0, expression=expression, figures=figures)
    if output == "surplus":
        return Working("", 0.0, expression="cut − fill / compacted", figures=away)
    if output == "surplus_loose":
        figures = f"({away}) × {shown(soil.bulking)}"
        return Working("", 0.0, expression="(cut − fill / compacted) × bulking", figures=figures)
    loose = f"{shown(haul.exported_loose / size)} / {shown(soil.lorry / size)}"
    return Working("", 0.0, expression="loose / lorry, whole loads", figures=loose)


def area_row(made: Reckoned, chainage: float) -> AreaRow | None:
    """The row of the section at a chainage."""
    return next((row for row in made.quantities.rows if abs(row.chainage - chainage) <= 1e-6), None)
