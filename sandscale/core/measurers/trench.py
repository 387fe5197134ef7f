"""A network of trenches as a measurer: what is dug, laid, filled, put back, and the pits of its manholes."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace

from ..findings import Finding
from ..ground.haulage import Soil
from ..ground.surface import Surface
from ..ground.trench.kind import BACKFILL, DUG, PIPE, Material, Reinstatement, Surround
from ..ground.trench.network import Network, network
from ..ground.trench.node import Node
from ..ground.trench.run import Run, RunQuantities
from ..numbers.systems import METRIC, System
from ..numbers.units import unit
from ..numbers.working import Working, shown
from ..refusals import BadEntry
from .measurer import Measured, QuantityLine
from .sized import Splits, sized

SECTION = "Trenches"
NO_STAGE = "in no stage"


@dataclass(frozen=True)
class Asked:
    """What is asked of a network: where it runs, what it is dug from, how its dig is split and carted.

    Attributes:
        limits: of depth bands, in m.
        places: the row of each run.
        findings: of rows that are none yet.
    """

    nodes: Sequence[Node]
    runs: Sequence[Run]
    ground: Surface | None
    limits: Sequence[float]
    soil: Soil
    places: Sequence[int]
    findings: tuple[Finding, ...] = ()

    def reckoned(self) -> Network:
        """What it comes to, its findings by their rows.

        Raises:
            BadEntry: two nodes have one name.
        """
        net = network(self.nodes, self.runs, self.ground, self.limits)
        placed = (
            replace(each, line=self.places[each.line]) if each.line >= 0 else each for each in net.findings
        )
        return replace(net, findings=(*self.findings, *placed))


@dataclass(frozen=True)
class Given:
    """What was entered for a network.

    Attributes:
        print: of all it is reckoned from: the same while that is the same.
        asked: reads it.
        made: what it comes to now, kept while that is the same.
        note: what was entered, in words, with the date of its last change.
        ref: what a reference to one of its runs begins with.
        system: the unit system its quantities are in.
    """

    print: str
    asked: Callable[[], Asked] = field(repr=False, compare=False)
    made: Callable[[], tuple[Network, Soil]] = field(repr=False, compare=False)
    note: Callable[[], str] = field(repr=False, compare=False)
    ref: str = ""
    system: System = METRIC


@dataclass(frozen=True)
class TrenchMeasured(Measured):
    """What a network comes to.

    Attributes:
        network: run by run.
    """

    network: Network | None = None


class Trenches:
    """The measurer of networks of trenches."""

    key = "trench"
    slow = True

    def measure(self, given: Given, progress: Callable[[float], None] = lambda _: None) -> TrenchMeasured:
        """Reckon it; takes long.

        Raises:
            BadEntry: a run has no length, no ground, or a node that isn't there.
        """
        asked = given.asked()
        progress(0.1)
        net = asked.reckoned()
        progress(0.8)
        return TrenchMeasured(tuple(lines_of(net, asked.soil, given.system)), DUG, net.findings, network=net)

    def working(self, given: Given, output: str, name: str) -> Working:
        """How one quantity came about, run by run."""
        net, soil = given.made()
        line = next((each for each in lines_of(net, soil, given.system) if each.output == output), None)
        if line is None:
            raise BadEntry("There is no such quantity.", field="output")
        told = _told(net, soil, output, given.system)
        parts = tuple(
            replace(part, link=f"{given.ref}:{part.link}:{output}") if part.link else part
            for part in told.parts
        )
        return Working(name, line.net, line.unit, told.expression, told.figures, (), parts, given.note())

    def bar_working(self, given: Given, key: str, name: str) -> Working:
        """It has no bars.

        Raises:
            BadEntry: always.
        """
        raise BadEntry("A trench has no bars.", field="key")

    def needs(self, given: Given) -> tuple[str, ...]:
        """It takes no dimension lines."""
        return ()


def slug(name: str) -> str:
    """A name as it stands in the key of an output, short enough for what stands before and after it."""
    return re.sub(r"\W+", "_", name.lower()).strip("_")[:24] or "layer"


def run_working(run: RunQuantities, output: str) -> Working:
    """The arithmetic of one quantity of a run, in m, as trenches are set out.

    Raises:
        BadEntry: it has no such quantity by spans.
    """
    names = {DUG: DUG, BACKFILL: BACKFILL, "pipe_volume": PIPE}
    names |= {f"laid_{slug(layer.name)}": layer.name for layer in run.run.kind.surrounds}
    names |= {f"restored_{slug(layer.name)}_volume": layer.name for layer in run.run.kind.reinstatements}
    if output in names:
        return run.working(names[output])
    if output == "length" or output.startswith("pipe_"):
        length = run.length if output == "length" else run.pipe_length
        return Working(f"Length, {run.run.name}", length, "m", "between the ends of its pits")
    if output == "support":
        spans = f"Σ (depth + depth) × length, over {shown(run.length)} m"
        return Working(f"Sides, {run.run.name}", run.sides_area, "m²", spans)
    for layer in run.run.kind.reinstatements:
        if output == f"restored_{slug(layer.name)}":
            area, name = run.surface_area(layer), f"{layer.name}, {run.run.name}"
            return Working(name, area, "m²", "(width at the top + overlaps) × length")
    raise BadEntry(f"Run {run.run.name} has no such quantity.", field="output")


@dataclass(frozen=True)
class Laid:
    """A layer of a network, over all its runs and pits.

    Attributes:
        name: of it.
        volumes: of each run, in m³.
        areas: of each run on which it is put back, in m²; none where it is laid in the trench.
        pits: round manholes, in m³.
        bought: with what is allowed for compaction and loss, in m³.
        mass: of what is bought, in kg.
    """

    name: str
    volumes: list[float]
    areas: list[float] | None
    pits: float
    bought: float
    mass: float


def layers_of(net: Network) -> list[Laid]:
    """The layers of a network in the order in which its runs name them, each once whatever the kind."""
    materials = dict[str, dict[int, Material]]()
    restored = set[str]()
    for at, run in enumerate(net.runs):
        layers: list[Surround | Reinstatement] = [*run.run.kind.surrounds, *run.run.kind.reinstatements]
        for layer in layers:
            materials.setdefault(layer.name, {})[at] = layer.material
        restored |= {layer.name for layer in run.run.kind.reinstatements}
    found = []
    for name, by_run in materials.items():
        volumes = [run.volumes.get(name, 0.0) if at in by_run else 0.0 for at, run in enumerate(net.runs)]
        areas = [_area(run, name) for run in net.runs] if name in restored else None
        of_pits = next(iter(by_run.values()))
        pits = sum(pit.restored.get(name, 0.0) for pit in net.pits)
        amounts = [(volumes[at], material) for at, material in by_run.items()] + [(pits, of_pits)]
        bought = sum(volume * (1 + material.extra / 100) for volume, material in amounts)
        mass = sum(material.tonnes(volume) for volume, material in amounts) * 1000
        found.append(Laid(name, volumes, areas, pits, bought, mass))
    return found


def _area(run: RunQuantities, name: str) -> float:
    return sum(run.surface_area(layer) for layer in run.run.kind.reinstatements if layer.name == name)


def lines_of(net: Network, soil: Soil, system: System) -> Iterable[QuantityLine]:
    """The quantity lines of a network, the same ones for the same kinds."""
    cubic, square, linear, mass = (sized(each, system, SECTION) for each in ("m³", "m²", "m", "t"))
    piped = sized("m", system, SECTION, "pipes")
    runs = net.runs

    def by(values: Sequence[float], bands: Iterable[tuple[str, float]] = ()) -> Splits:
        return {"band": tuple(bands), "kind": _kinds(runs, values), "stage": _staged(runs, values)}

    dug = [run.volumes[DUG] for run in runs]
    bands = _banded(band for run in runs for band in run.dug_bands)
    yield cubic(DUG, "Trenches dug", sum(dug), "Excavate trenches", by(dug, bands))
    lengths = [run.length for run in runs]
    yield linear("length", "Length of trench", sum(lengths), "", by(lengths))
    held = [run.sides_area if run.run.kind.supported else 0.0 for run in runs]
    yield square("support", "Sides to be supported", sum(held), "Support sides of trenches", by(held))
    for layer in layers_of(net):
        key, whole = slug(layer.name), sum(layer.volumes) + layer.pits
        if layer.areas is None:
            words = f"{layer.name[:1].upper()}{layer.name[1:]} round pipes in trenches"
            yield cubic(f"laid_{key}", f"{layer.name}, laid", whole, words, by(layer.volumes), layer.bought)
        else:
            areas = sum(layer.areas)
            words = f"Reinstate {layer.name} over trenches"
            yield square(f"restored_{key}", f"{layer.name}, put back", areas, words, by(layer.areas))
            yield cubic(f"restored_{key}_volume", f"{layer.name}, volume", whole, bought=layer.bought)
        if layer.mass:
            yield mass(f"{key}_tonnes", f"{layer.name}, bought", layer.mass)
    for name in dict.fromkeys(run.run.kind.pipe.name for run in runs if run.run.kind.pipe):
        laid = [_pipe_length(run, name) for run in runs]
        yield piped(f"pipe_{slug(name)}", f"Pipe {name}", sum(laid), f"Pipe {name} laid in trench", by(laid))
    yield cubic("pipe_volume", "Taken off for pipes", sum(run.volumes[PIPE] for run in runs))
    filled = [run.volumes[BACKFILL] for run in runs]
    words = "Backfill trenches with what was dug, compacted in layers"
    yield cubic(BACKFILL, "Backfill", sum(filled), words, by(filled))
    yield cubic(
        "pits", "Pits dug for manholes", sum(pit.dug for pit in net.pits), "Excavate pits for manholes"
    )
    around = sum(pit.backfill for pit in net.pits)
    yield cubic("pit_backfill", "Backfill round manholes", around, "Backfill round manholes")
    deep = [(_depth_named(net, pit.depth), 1.0) for pit in net.pits]
    number = sized("nr", system, SECTION)
    yield number("manholes", "Manholes", float(len(net.pits)), "Manholes", {"band": _merged(deep)})
    haul = net.surplus(soil)
    brought = haul.imported * soil.compacted
    yield cubic("imported", "Backfill brought in", brought, "Extra for backfill brought to the site")
    yield cubic("surplus", "Surplus, in place", haul.exported, "Cart surplus away, measured in place")
    yield cubic("surplus_loose", "Surplus, loose", haul.exported_loose)
    if soil.lorry:
        yield number("loads", "Loads away", float(haul.export_loads))


def _pipe_length(run: RunQuantities, name: str) -> float:
    pipe = run.run.kind.pipe
    return run.pipe_length if pipe is not None and pipe.name == name else 0.0


def _merged(values: Iterable[tuple[str, float]]) -> list[tuple[str, float]]:
    found = dict[str, float]()
    for name, value in values:
        found[name] = found.get(name, 0.0) + value
    return list(found.items())


def _kinds(runs: Sequence[RunQuantities], values: Sequence[float]) -> list[tuple[str, float]]:
    return _merged((run.run.kind.name, value) for run, value in zip(runs, values, strict=True))


def _staged(runs: Sequence[RunQuantities], values: Sequence[float]) -> list[tuple[str, float]]:
    if not any(run.run.stage for run in runs):
        return []
    return _merged((run.run.stage or NO_STAGE, value) for run, value in zip(runs, values, strict=True))


def band_name(low: float, high: float) -> str:
    """A band of depth in words."""
    return f"{low:g} to {high:g} m" if high != float("inf") else f"over {low:g} m"


def _banded(bands: Iterable[tuple[float, float, float]]) -> list[tuple[str, float]]:
    found = dict[tuple[float, float], float]()
    for low, high, volume in bands:
        found[low, high] = found.get((low, high), 0.0) + volume
    return [(band_name(*band), found[band]) for band in sorted(found)]


def _depth_named(net: Network, depth: float) -> str:
    limits = net.runs[0].limits if net.runs else (0.0,)
    low = max((limit for limit in limits if limit < depth), default=limits[0])
    high = min((limit for limit in limits if limit >= depth and limit > low), default=float("inf"))
    return band_name(low, high)


def _told(net: Network, soil: Soil, output: str, system: System) -> Working:
    """The arithmetic behind one of its quantities, a part for each run, in the system's units."""
    runs = net.runs
    layers = layers_of(net)
    for layer in layers:
        key = slug(layer.name)
        if output == f"{key}_tonnes":
            made = Working("Volume", sum(layer.volumes) + layer.pits, "m³")
            return Working("", 0.0, expression="Σ volume × density × (1 + allowance)", parts=(made,))
        if output in (f"laid_{key}", f"restored_{key}_volume"):
            return _by_run("Σ of the runs, and round manholes", runs, layer.volumes, "m³", system, layer.pits)
        if output == f"restored_{key}" and layer.areas is not None:
            return _by_run("Σ (width at the top + overlaps) × length", runs, layer.areas, "m²", system)
    simple: dict[str, tuple[str, list[float], str]] = {
        DUG: ("Σ of the runs: L / 6 × (A1 + 4 × A middle + A2)", [r.volumes[DUG] for r in runs], "m³"),
        BACKFILL: ("dug − pipe − layers, run by run", [r.volumes[BACKFILL] for r in runs], "m³"),
        "pipe_volume": ("area of the pipe outside × length", [r.volumes[PIPE] for r in runs], "m³"),
        "length": ("between the pits at the ends", [r.length for r in runs], "m"),
        "support": (
            "2 × depth × length", [r.sides_area if r.run.kind.supported else 0.0 for r in runs], "m²",
        ),
    }  # fmt: skip
    if output in simple:
        expression, values, symbol = simple[output]
        return _by_run(expression, runs, values, symbol, system)
    if output.startswith("pipe_"):
        name = next(
            p.name for r in runs if (p := r.run.kind.pipe) is not None and f"pipe_{slug(p.name)}" == output
        )
        laid = [_pipe_length(run, name) for run in runs]
        return _by_run("between the inside faces of manholes", runs, laid, "m", system)
    if output in ("pits", "pit_backfill", "manholes"):
        return _of_pits(net, output, system)
    return _of_surplus(net, soil, output, system)


def _by_run(
    expression: str,
    runs: Sequence[RunQuantities],
    values: Sequence[float],
    metric: str,
    system: System,
    pits: float = 0.0,
) -> Working:
    symbol = system.symbol(metric)
    size = unit(symbol).size
    parts = [
        Working(
            run.run.name, value / size, symbol, source=f"{run.run.kind.name}, {shown(run.length)} m long",
            link=str(at),
        )
        for at, (run, value) in enumerate(zip(runs, values, strict=True)) if value
    ]  # fmt: skip
    if pits:
        parts.append(Working("Round manholes", pits / size, symbol))
    return Working("", 0.0, expression=expression, parts=tuple(parts))


def _of_pits(net: Network, output: str, system: System) -> Working:
    m3 = system.symbol("m³")
    size = unit(m3).size
    if output == "manholes":
        parts = tuple(Working(pit.node.name, pit.depth, "m", source="depth of its pit") for pit in net.pits)
        return Working("", 0.0, expression="manholes that a run meets", parts=parts)
    if output == "pits":
        parts = tuple(
            Working(
                pit.node.name, pit.dug / size, m3, "area of the pit × depth",
                f"{shown(pit.dug / pit.depth if pit.depth else 0)} × {shown(pit.depth)}",
            )
            for pit in net.pits
        )  # fmt: skip
        return Working("", 0.0, expression="Σ of the pits", parts=parts)
    return Working("", 0.0, expression="Σ of the pits", parts=tuple(pit.working() for pit in net.pits))


def _of_surplus(net: Network, soil: Soil, output: str, system: System) -> Working:
    cubic = unit(system.symbol("m³")).size
    haul = net.surplus(soil)
    dug, filled = net.volumes.get(DUG, 0.0) / cubic, net.volumes.get(BACKFILL, 0.0) / cubic
    figures = f"{shown(dug)} − {shown(filled)} / {shown(soil.compacted)}"
    if output == "imported":
        needed = f"{shown(filled)} / {shown(soil.compacted)}"
        return Working(
            "", 0.0, expression="(backfill / compacted − dug) × compacted, where more is needed than dug",
            figures=f"({needed} − {shown(dug)}) × {shown(soil.compacted)}",
        )  # fmt: skip
    if output == "surplus":
        return Working("", 0.0, expression="dug − backfill / compacted", figures=figures)
    if output == "surplus_loose":
        return Working(
            "", 0.0, expression="(dug − backfill / compacted) × bulking",
            figures=f"({figures}) × {shown(soil.bulking)}",
        )  # fmt: skip
    loose = f"{shown(haul.exported_loose / cubic)} / {shown(soil.lorry / cubic)}"
    return Working("", 0.0, expression="loose / lorry, whole loads", figures=loose)
