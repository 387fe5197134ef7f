"""An earthwork as a whole: the ground brought to its formations, what is dug by class, by depth and by stage,
by the method that is billed, and what becomes of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from typing import Any, Literal, get_args

import numpy as np
import shapely

from ..findings import Finding
from ..refusals import BadEntry, Refusal
from .areas import Rule, trapezia
from .classes import ORDINARY, Dig, Layer, dig
from .contour_areas import contour_areas
from .cut_and_fill import CutFill, cut_and_fill, rising
from .formation import Formation
from .grid import Cells, Rows, rows, squares
from .haulage import Haulage, Soil, haulage
from .pieces import EMPTY, Floats, Pieces, Region, joined, united
from .surface import Line, Surface, ring_region

MethodName = Literal["exact", "square grid", "grid sections", "contour areas"]
METHODS: tuple[MethodName, ...] = get_args(MethodName)
ProofPart = Literal["plan", "sections", "areas", "volumes", "squares", "prisms", "findings"]
PROOF_PARTS: tuple[ProofPart, ...] = get_args(ProofPart)
NO_STAGE = "in no stage"
_NOTHING = 1e-9


@dataclass(frozen=True)
class Asked:
    """What an earthwork is reckoned from.

    Attributes:
        ground: the surface as it is.
        formations: what it is brought to; where two lie over one another, the first counts.
        layers: the classes from the top down, by their keys.
        reused: the keys of those stripped or dug that go into the fill.
        stages: name → outline; the first counts where two overlap.
        bands: limits of depth that rise from 0, in m.
        soil: what becomes of what is dug.
        method: which one is billed.
        spacing, angle: of the grid, in m and in degrees to the left of east.
        interval: between contour areas, in m.
        rule: for volumes between sections.
        outlines: of the formations, as regions; empty where one is the whole ground.
    """

    ground: Surface
    formations: Sequence[Formation]
    layers: Mapping[str, Layer]
    reused: frozenset[str]
    stages: Mapping[str, Line]
    bands: Sequence[float]
    soil: Soil
    method: MethodName
    spacing: float
    angle: float
    interval: float
    rule: Rule
    outlines: Sequence[Line] = ()

    @property
    def breaks(self) -> list[Line]:
        """The rings at which formation and classes break."""
        return [*self.outlines, *(each.outline for each in self.layers.values() if each.outline)]


@dataclass(frozen=True)
class Share:
    """What falls to one class.

    Attributes:
        key: its own; ``ordinary`` for what is left between the others.
        name, taken: see :class:`.classes.Layer`.
        exact: its volume between the surfaces, in m³.
        volume: as it is billed, in m³.
        area: the plan area it lies on, in m².
        bands: by depth, (words, m³), adding up to the volume.
        stages: by stage, the same.
        stage_areas: the plan area by stage.
    """

    key: str
    name: str
    taken: str
    exact: float
    volume: float
    area: float
    bands: tuple[tuple[str, float], ...]
    stages: tuple[tuple[str, float], ...]
    stage_areas: tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class Told:
    """What one method makes of the work between stripped ground and formation, in m³; ``says`` why it makes
    nothing."""

    name: MethodName
    cut: float
    fill: float
    says: str = ""


@dataclass(frozen=True)
class Reckoned:
    """An earthwork in numbers. Volumes in m³, areas in m².

    Attributes:
        shares: what is dug, by class from the top down.
        fill: as it is billed, with what is filled under formation again.
        fill_exact: between the surfaces.
        fill_stages: by stage.
        methods: side by side, the exact one first.
        method: the one billed.
        footprint: in plan.
        floor: of the formation within its outlines, in plan; ``floor_stages`` by stage.
        slopes: true area of batters.
        haul: (name, m³ or loads) of what becomes of it.
        findings: what looks wrong.
    """

    shares: tuple[Share, ...]
    fill: float
    fill_exact: float
    fill_stages: tuple[tuple[str, float], ...]
    methods: tuple[Told, ...]
    method: MethodName
    footprint: float
    floor: float
    floor_stages: tuple[tuple[str, float], ...]
    slopes: float
    haul: Mapping[str, float]
    soil: Soil
    findings: tuple[Finding, ...] = ()

    @property
    def cut(self) -> float:
        """What is dug between stripped ground and formation, as billed."""
        return sum(share.volume for share in self.shares if share.taken == "dug")

    def kept(self) -> dict[str, Any]:
        """The numbers as plain values."""
        return {
            "shares": [_plain(share) for share in self.shares],
            "fill": self.fill, "fill_exact": self.fill_exact, "fill_stages": _pairs(self.fill_stages),
            "methods": [[m.name, m.cut, m.fill, m.says] for m in self.methods], "method": self.method,
            "footprint": self.footprint, "floor": self.floor, "floor_stages": _pairs(self.floor_stages),
            "slopes": self.slopes, "haul": dict(self.haul),
            "soil": [self.soil.bulking, self.soil.compacted, self.soil.lorry],
            "findings": [[f.says, f.field, f.wrong, f.code] for f in self.findings],
        }  # fmt: skip

    @classmethod
    def from_kept(cls, kept: Mapping[str, Any]) -> Reckoned:
        """The numbers again."""
        shares = []
        for share in kept["shares"]:
            split = {name: _paired(share[name]) for name in ("bands", "stages", "stage_areas")}
            shares.append(Share(**{**share, **split}))
        findings = [Finding(says, -1, *rest) for says, *rest in kept["findings"]]
        whole = {
            **kept, "shares": tuple(shares), "methods": tuple(Told(*m) for m in kept["methods"]),
            "fill_stages": _paired(kept["fill_stages"]), "floor_stages": _paired(kept["floor_stages"]),
            "soil": Soil(*kept["soil"]), "findings": tuple(findings),
        }  # fmt: skip
        return cls(**whole)


def _plain(share: Share) -> dict[str, Any]:
    split = {name: _pairs(getattr(share, name)) for name in ("bands", "stages", "stage_areas")}
    return {**share.__dict__, **split}


def _pairs(values: Sequence[tuple[str, float]]) -> list[list[Any]]:
    return [[name, value] for name, value in values]


def _paired(values: Sequence[Sequence[Any]]) -> tuple[tuple[str, float], ...]:
    return tuple((name, value) for name, value in values)


@dataclass(frozen=True)
class Laid:
    """An earthwork laid against its ground.

    Attributes:
        dig: by class; its pieces hold every level there is.
        stripped: which of its values the work between begins from: ``ground``, or the lowest bottom stripped.
        footprint: in plan.
        floor: the formation within its outlines; what lies beyond are batters.
        findings: of the formation.
    """

    dig: Dig
    stripped: str
    footprint: Region
    floor: Region
    findings: tuple[Finding, ...] = ()

    @cached_property
    def between(self) -> CutFill:
        """Stripped ground against formation: what methods are laid over."""
        pieces = self.dig.pieces
        some = pieces.only("ground", "formation").with_value("ground", pieces[self.stripped])
        return CutFill(some, self.footprint)


def laid(asked: Asked) -> Laid:
    """Lay an earthwork against its ground.

    Raises:
        BadEntry, BadShape: a formation or a class can't be laid.
    """
    if not asked.formations:
        raise BadEntry(
            "What the ground is brought to isn't said yet.", field="formations", remedy="Add a formation."
        )
    earth = cut_and_fill(asked.ground, *asked.formations)
    if earth.area <= _NOTHING:
        raise BadEntry(
            "The formation lies outside the ground: they have no place in plan in common.",
            field="formations", remedy="Check its coordinates against the survey's.",
        )  # fmt: skip
    layers = [replace(layer, name=key) for key, layer in asked.layers.items()]
    floor = _floor(asked, earth.footprint)
    parts = [dig(CutFill(earth.pieces.within(floor), floor), layers)]
    beyond = earth.pieces.beyond(floor)
    if len(beyond):
        cut, fill = beyond.split(beyond["ground"] - beyond["formation"])
        # On the batter of a cutting what is stripped ends at the batter: it isn't filled up again.
        dug = [replace(layer, taken="dug") if layer.taken == "stripped" else layer for layer in layers]
        parts += [dig(CutFill(cut, floor), dug), dig(CutFill(fill, floor), layers)]
    whole = replace(parts[0], pieces=joined(*(part.pieces for part in parts)))
    upper = [layer.name for layer in layers if layer.taken == "stripped"]
    found = dict.fromkeys(finding for part in parts for finding in part.findings)
    return Laid(whole, upper[-1] if upper else "ground", earth.footprint, floor, (*earth.findings, *found))


def _floor(asked: Asked, footprint: Region) -> Region:
    """The formation within its outlines; all of it where it has none."""
    if not asked.outlines:
        return footprint
    inside = united([ring_region(ring, "outline of the formation") for ring in asked.outlines])
    made: Region = shapely.intersection(inside, footprint)
    return made


def reckoned(asked: Asked, work: Laid, progress: Callable[[float], None] = lambda _: None) -> Reckoned:
    """An earthwork in numbers.

    Args:
        work: it laid against its ground (see :func:`laid`).
        progress: is told how far it is, from 0 to 1.

    Raises:
        BadEntry: the bands don't rise, or soil factors can't be.
    """
    limits = rising([0.0, *asked.bands] if not asked.bands or asked.bands[0] > 0 else asked.bands)
    methods, progressed = list[Told](), 0.3
    for name in METHODS:
        methods.append(_by(name, asked, work.between))
        progressed += 0.1
        progress(progressed)
    billed = next(m for m in methods if m.name == asked.method)
    exact = methods[0]
    findings = [*work.findings]
    if billed.says:
        findings.append(Finding(billed.says, field="method", wrong=True, code="method"))
        billed = exact
    cut_by = billed.cut / exact.cut if exact.cut > _NOTHING else 1.0
    fill_by = billed.fill / exact.fill if exact.fill > _NOTHING else 1.0
    parts, stage_findings = _stages(asked.stages, work)
    findings += stage_findings
    shares = tuple(_share(key, asked, work, limits, cut_by, parts) for key in work.dig.classes)
    # What lies below formation is filled up to it again, exactly whatever the method.
    refilled = sum(share.exact for share in shares if share.taken == "below formation")
    fill_exact = work.between.fill + refilled
    fill = exact.fill * fill_by + refilled
    share_of = fill / fill_exact if fill_exact > _NOTHING else 1.0
    floor = work.floor
    hauled = _hauled(asked, shares, fill)
    progress(1.0)
    return Reckoned(
        shares, fill, fill_exact,
        tuple((name, part.fill * share_of) for name, part in parts.items()),
        tuple(methods), asked.method if billed.name == asked.method else "exact",
        work.dig.pieces.area, floor.area,
        tuple((name, part.pieces.within(floor).area) for name, part in parts.items()),
        _true_area(work.dig.pieces.beyond(floor)) if not floor.is_empty else 0.0,
        {name: value for name, value in vars(hauled).items() if name != "working"},
        asked.soil, tuple(findings),
    )  # fmt: skip


def _by(name: MethodName, asked: Asked, earth: CutFill) -> Told:
    try:
        if name == "exact":
            return Told(name, earth.cut, earth.fill)
        if name == "square grid":
            cells = squares(earth, asked.spacing, asked.angle)
            return Told(name, cells.cut, cells.fill)
        if name == "grid sections":
            made = rows(earth, asked.spacing, asked.rule, asked.angle, asked.breaks)
            return Told(name, made.cut, made.fill)
        slices = contour_areas(earth, asked.interval, asked.rule)
        return Told(name, slices.cut, slices.fill)
    except Refusal as refusal:
        return Told(name, 0.0, 0.0, str(refusal))


def _stages(stages: Mapping[str, Line], work: Laid) -> tuple[dict[str, Dig], list[Finding]]:
    """The dig inside each stage's outline, in order, and what is in none; no part counts twice."""
    if not stages:
        return {}, []
    taken, parts, findings = EMPTY, dict[str, Dig](), list[Finding]()
    for name, ring in stages.items():
        region = ring_region(ring, f"outline of stage {name}")
        twice = shapely.intersection(region, taken).area
        if twice > 1e-6:
            says = (
                f"Stage {name} overlaps those before it by {twice:.2f} m²; that part stays with the earlier."
            )
            findings.append(Finding(says, field="stages", code="stages-overlap"))
        parts[name] = replace(work.dig, pieces=work.dig.pieces.within(shapely.difference(region, taken)))
        taken = united([taken, region])
    rest = replace(work.dig, pieces=work.dig.pieces.beyond(taken))
    if rest.pieces.area > 1e-6:
        parts[NO_STAGE] = rest
        findings.append(
            Finding(f"{rest.pieces.area:.2f} m² lie in no stage.", field="stages", code="stage-missing")
        )
    return parts, findings


def _share(
    key: str, asked: Asked, work: Laid, limits: Sequence[float], cut_by: float, parts: Mapping[str, Dig]
) -> Share:
    layer = asked.layers.get(key)
    taken = layer.taken if layer is not None else "dug"
    exact = work.dig.volume(key)
    by = cut_by if taken == "dug" else 1.0
    bands = _banded(work, key, limits, exact * by) if taken == "dug" else ()
    stages = tuple((name, part.volume(key) * by) for name, part in parts.items())
    areas = tuple((name, part.stripped_area[key]) for name, part in parts.items())
    name = layer.name if layer is not None else "Ordinary digging"
    return Share(key, name, taken, exact, exact * by, work.dig.stripped_area[key], bands, stages, areas)


def _banded(work: Laid, key: str, limits: Sequence[float], volume: float) -> tuple[tuple[str, float], ...]:
    """A class by depth below stripped ground, in the proportions of the exact volumes."""
    pieces, at = work.dig.pieces, work.dig.classes.index(key)
    top = work.dig.classes[at - 1] if at else "ground"
    below = [_deeper(pieces, work.stripped, top, key, limit) for limit in limits]
    whole = below[0]
    by = volume / whole if whole > _NOTHING else 0.0
    named = [
        (f"{low:g} to {high:g} m", (below[n] - below[n + 1]) * by)
        for n, (low, high) in enumerate(pairwise(limits))
    ]
    last = (f"over {limits[-1]:g} m", below[-1] * by)
    return tuple([*named, last] if below[-1] > _NOTHING else named)


def _deeper(pieces: Pieces, start: str, top: str, bottom: str, limit: float) -> float:
    some = pieces.with_value("from", pieces[start] - limit).lower("from", top, "upper")
    height = some["upper"] - some[bottom]
    deep, _ = some.split(height)
    return float(deep.volumes(deep["upper"] - deep[bottom]).sum())


def _true_area(some: Pieces) -> float:
    """Of the formation on its slope, in m²."""
    corners = np.concatenate([some.plan, some["formation"][:, :, None]], axis=2)
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    return float(np.sqrt((normals**2).sum(axis=1)).sum() / 2)


def _hauled(asked: Asked, shares: Sequence[Share], fill: float) -> Haulage:
    """Ordinary digging and the classes that are used again go into the fill; the others are carted away."""
    dug = sum(share.volume for share in shares)
    usable = sum(s.volume for s in shares if s.key == ORDINARY or s.key in asked.reused)
    return haulage(dug, fill, asked.soil, dug - usable)


@dataclass(frozen=True)
class CrossSection:
    """A section to look at. Lengths in m, areas in m².

    Attributes:
        name: where it lies.
        chainage: across the rows; 0 of one drawn.
        offsets: k, along it; NaN between parts that don't hang together.
        lines: levels by name, from the top down, k each.
        cut, fill: its areas.
        ends: its two ends in plan.
    """

    name: str
    chainage: float
    offsets: Floats
    lines: Mapping[str, Floats]
    cut: float
    fill: float
    ends: tuple[tuple[float, float], tuple[float, float]]


def grid_rows(work: Laid, spacing: float, rule: Rule, angle: float, breaks: Sequence[Line]) -> Rows:
    """The sections along the rows of a grid; ``breaks`` are rings at which its levels break."""
    return rows(work.between, spacing, rule, angle, breaks)


def grid_cells(work: Laid, spacing: float, angle: float) -> Cells:
    """The squares of a grid."""
    return squares(work.between, spacing, angle)


def row_section(work: Laid, made: Rows, at: int) -> CrossSection:
    """A row of the grid as it is drawn, with every class's bottom."""
    row = made.sections[at]
    lines = _levels_along(work, row.plan)
    inside = row.plan[np.isfinite(row.plan).all(axis=1)]
    ends = (tuple(inside[0]), tuple(inside[-1])) if len(inside) else ((0.0, 0.0), (0.0, 0.0))
    return CrossSection(
        f"Row {at + 1}",
        row.chainage,
        row.offsets,
        lines,
        row.area.above,
        row.area.below,
        ends,
    )


def _levels_along(work: Laid, plan: Floats) -> dict[str, Floats]:
    # A place on the very edge takes the levels just inside it.
    found = work.dig.pieces.values_at(plan)
    return {
        name: found[:, work.dig.pieces.names.index(name)]
        for name in ("ground", *work.dig.classes, "formation")
    }


def across(work: Laid, line: Line, ground: Surface) -> CrossSection:
    """A section across any line: the ground all along it, the work where it lies.

    Raises:
        BadShape: the line has no length.
    """
    profile = ground.profile(line)
    step = max(float(profile.chainages[-1]) / 400, 0.01)
    offsets = np.union1d(profile.chainages, np.arange(0, profile.chainages[-1], step))
    corners = np.asarray(line, dtype=float)[:, :2]
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(corners, axis=0).T))])
    plan = np.column_stack([np.interp(offsets, along, corners[:, axis]) for axis in (0, 1)])
    lines = _levels_along(work, plan)
    lines["ground"] = ground.levels_at(plan)
    height = work_height(work, plan)
    inside = np.isfinite(height)
    area = trapezia(np.where(inside, offsets, np.nan), np.where(inside, height, np.nan))
    ends = (tuple(corners[0]), tuple(corners[-1]))
    return CrossSection("Across", 0.0, offsets, lines, area.above, area.below, ends)


def work_height(work: Laid, plan: Floats) -> Floats:
    """How far stripped ground is above formation at places; NaN off the work."""
    ground, formation = work.between.levels_at(plan)
    return np.asarray(ground - formation)
