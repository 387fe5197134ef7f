"""What is read along routes: sections, tables by chainage, long sections, mass haul."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from itertools import pairwise
from typing import Any

import numpy as np

from ....core.ground.areas import Trapezia, trapezia
from ....core.ground.pieces import Floats
from ....core.ground.route.imported import FORMATION, GROUND, SectionLines
from ....core.ground.route.mass_haul import mass_haul
from ....core.ground.route.reckoned import UNITS, Reckoned
from ....core.ground.route.sections import CUT, FILL, Route, Section, cross_sections
from ....core.ground.route.typical import finished_line
from ....core.measurers.route import keys_of
from ....core.numbers.entry import read_entry
from ....core.refusals import BadEntry, Refusal
from ....reports import route_xlsx
from ...keeping.acting import Actor, Missing
from ..surfaces import surface_now, surface_print
from .actions import route_of
from .entered import Entered, ground_across, last_made
from .reading import ring_area
from .views import HaulView, LongMark, RouteLong, RouteSection, RouteSections, RouteShape, RouteTable

MOST_SECTIONS, MOST_TABLE = 40, 400


def sections_view(actor: Actor, element_id: int, first: int, most: int) -> RouteSections:
    """Sections of a route as they were last worked out, from a place in the row of its chainages on.

    Raises:
        Missing: it was never worked out.
        BadEntry: what was entered can't be read any more.
    """
    entered = Entered(route_of(actor, element_id))
    made = last_made(element_id)
    along = made.quantities.chainages
    begin = min(max(first, 0), max(len(along) - 1, 0))
    wanted = along[begin : begin + min(most, MOST_SECTIONS)]
    if entered.imported:
        return RouteSections(first=begin, sections=_imported(entered, wanted, begin))
    return RouteSections(first=begin, sections=_built(entered, made, wanted, begin))


def _built(entered: Entered, made: Reckoned, wanted: Floats, begin: int) -> list[RouteSection]:
    row = entered.row
    if row is None or row.ground_id is None:
        raise Missing("It has no ground yet.")
    way, _ = entered.way()
    ground = ground_across(row.ground_id, surface_print(row.ground_id))
    inside = [c for c in wanted.tolist() if way.centreline.begin <= c <= way.centreline.end]
    by_chainage = dict[float, list[Section]]()
    for section in cross_sections(way, ground, np.unique(inside))[0]:
        by_chainage.setdefault(round(section.chainage, 6), []).append(section)
    found = []
    for at, chainage in enumerate(wanted.tolist(), start=begin):
        # Where one typical section ends and another begins, two sections have one chainage.
        twins = by_chainage.get(round(chainage, 6), [])
        before = at > 0 and abs(made.quantities.chainages[at - 1] - chainage) < 1e-6
        if twins:
            found.append(_drawn(twins[-1] if before else twins[0], way, at))
    return found


def _drawn(section: Section, way: Route, at: int) -> RouteSection:
    twin = way.typical_at(section.chainage, before=True)
    typical = twin if twin is not None and twin.name == section.typical else way.typical_at(section.chainage)
    finished = finished_line(typical, section.level) if typical is not None else []
    shapes = [
        RouteShape(name=name, rings=[_rounded(ring) for ring in rings], area=section.areas[name])
        for name, rings in section.layers.items()
        if section.areas[name]
    ]
    stripped = section.ground[:, 1] - section.topsoil
    earth = _earth_shapes(section.between, section.ground[:, 0], stripped)
    return RouteSection(
        at=at, chainage=section.chainage, typical=section.typical, level=section.level,
        ground=_rounded(section.ground), formation=_rounded(section.formation), finished=_rounded(finished),
        shapes=[*earth, *shapes],
    )  # fmt: skip


def _rounded(line: Any) -> list[list[float]]:
    return np.asarray(line, dtype=float).reshape(-1, 2).round(4).tolist()


def _earth_shapes(between: Trapezia, offsets: Floats, levels: Floats) -> list[RouteShape]:
    """Cut and fill as outlines, from the trapezia their areas were taken from."""
    upper = np.interp(between.offsets, offsets, levels)
    rings: dict[str, list[list[list[float]]]] = {CUT: [], FILL: []}
    for n, area in enumerate(between.areas.tolist()):
        if not area:
            continue
        name = CUT if area > 0 else FILL
        x1, x2 = between.offsets[n], between.offsets[n + 1]
        t1, t2 = upper[n], upper[n + 1]
        b1, b2 = t1 - between.heights[n], t2 - between.heights[n + 1]
        rings[name].append([[x1, t1], [x2, t2], [x2, b2], [x1, b1]])
    sums = {CUT: between.above, FILL: between.below}
    return [
        RouteShape(name=name, rings=[_rounded(ring) for ring in each], area=sums[name])
        for name, each in rings.items()
        if each
    ]


def _imported(entered: Entered, wanted: Floats, begin: int) -> list[RouteSection]:
    """Sections that came from elsewhere, at the chainages there are some."""
    there = {round(each.chainage, 6): each for each in entered.section_lines()}
    order = [
        each.strip() for each in (entered.row.from_top if entered.row else "").split(";") if each.strip()
    ]
    found = []
    for at, chainage in enumerate(wanted.tolist(), start=begin):
        section = there.get(round(chainage, 6))
        if section is not None:
            found.append(_lines_drawn(section, order, at))
    return found


def _lines_drawn(section: SectionLines, order: Sequence[str], at: int) -> RouteSection:
    lines = section.lines
    shapes = []
    for upper, lower in pairwise([name for name in order if name in lines]):
        ring = _ring_between(lines[upper], lines[lower])
        if ring:
            shapes.append(RouteShape(name=upper, rings=[ring], area=ring_area(ring)))
    if {GROUND, FORMATION} <= set(lines):
        top, bottom = lines[GROUND], lines[FORMATION]
        marks = np.unique(np.concatenate([top[:, 0], bottom[:, 0]]))
        marks = marks[(marks >= max(top[0, 0], bottom[0, 0])) & (marks <= min(top[-1, 0], bottom[-1, 0]))]
        if len(marks) > 1:
            heights = np.interp(marks, *top.T) - np.interp(marks, *bottom.T)
            shapes = [*_earth_shapes(trapezia(marks, heights), top[:, 0], top[:, 1]), *shapes]
    named = [
        lines.get(GROUND, []),
        lines.get(FORMATION, []),
        lines[order[0]] if order and order[0] in lines else [],
    ]
    return RouteSection(
        at=at, chainage=section.chainage, typical="", level=None, ground=_rounded(named[0]),
        formation=_rounded(named[1]), finished=_rounded(named[2]), shapes=shapes,
    )  # fmt: skip


def _ring_between(top: Floats, bottom: Floats) -> list[list[float]]:
    low, high = max(top[0, 0], bottom[0, 0]), min(top[-1, 0], bottom[-1, 0])
    if not low < high:
        return []
    rings = []
    for line in (top, bottom):
        inner = line[(line[:, 0] > low) & (line[:, 0] < high)]
        ends = [[x, float(np.interp(x, line[:, 0], line[:, 1]))] for x in (low, high)]
        rings.append([ends[0], *inner.tolist(), ends[1]])
    return _rounded([*rings[0], *reversed(rings[1])])


def table_view(actor: Actor, element_id: int, first: int, most: int) -> RouteTable:
    """A window of a route's table by chainage: cut, fill, and each named quantity.

    Raises:
        Missing: it was never worked out.
    """
    route_of(actor, element_id)
    made = last_made(element_id)
    along = made.quantities.chainages
    columns = columns_of(made)
    begin = min(max(first, 0), max(len(along) - 1, 0))
    window = slice(begin, begin + min(most, MOST_TABLE))
    return RouteTable(
        first=begin, whole=len(along), keys=keys_of(name for name, *_ in columns),
        names=[name for name, *_ in columns],
        units=[unit for _, unit, *_ in columns], chainages=along[window].round(4).tolist(),
        typicals=list(made.typicals[window]) if len(made.typicals) == len(along) else [],
        areas=[_plain(areas[window]) for _, _, areas, _ in columns],
        volumes=[_plain(volumes[window]) for _, _, _, volumes in columns],
        running=[np.nancumsum(volumes)[window].round(6).tolist() for _, _, _, volumes in columns],
        totals=[float(np.nansum(volumes)) for _, _, _, volumes in columns],
    )  # fmt: skip


def columns_of(made: Reckoned) -> list[tuple[str, str, Floats, Floats]]:
    """Name, unit, what there is at each section, and the volume up to it from the one before, for
    each named quantity, cut, fill and the like."""
    nothing = np.zeros(len(made.quantities.rows))
    return [
        (
            each.name, UNITS[each.kind],
            sum((made.sizes(each.kind, part) for part in each.parts), nothing),
            sum((_steps(made, made.volume(each.kind, part)) for part in each.parts), nothing),
        )
        for each in made.told
    ]  # fmt: skip


def _steps(made: Reckoned, along: Any) -> Floats:
    """What lies between each section and the one before; nothing where it is told farther on."""
    chainages = made.quantities.chainages
    found = np.full(len(chainages), np.nan)
    for span in along.spans:
        # Of two sections at one chainage the first closes the span.
        found[int(np.searchsorted(chainages, span.end - 1e-9))] = span.volume
    if len(found):
        found[0] = 0.0
    return found


def _plain(values: Floats) -> list[float | None]:
    return [round(value, 6) if value == value else None for value in values.tolist()]


def long_view(actor: Actor, element_id: int) -> RouteLong:
    """The long section of a route over its ground.

    Raises:
        BadEntry: it has no centreline.
    """
    entered = Entered(route_of(actor, element_id))
    row, line = entered.row, entered.centreline()
    assert row is not None
    every = np.unique(np.concatenate([line.changes, np.linspace(line.begin, line.end, 401)]))
    ground = np.full(len(every), np.nan)
    if row.ground_id is not None:
        try:
            places, _, _ = line.at(every)
            ground = surface_now(row.ground_id).levels_at(places)
        except Refusal:
            pass
    points, levels = list[LongMark](), np.full(len(every), np.nan)
    try:
        given = entered.long_section()
        levels = given.levels(every)
        points = [LongMark(chainage=c, level=z, name=f"{v:g}" if v else "") for c, z, v in given.points]
    except BadEntry:
        typed = [e for e in entered.levels if e.chainage.strip() and e.level.strip()]
        points = [
            LongMark(chainage=read_entry(e.chainage, "m"), level=read_entry(e.level, "m"), name="")
            for e in typed
        ]
    changes = [
        LongMark(
            chainage=read_entry(e.chainage, "m") if e.chainage.strip() else line.begin, level=0.0,
            name=entered.typicals[e.typical_id].name,
        )
        for e in entered.changes
        if e.typical_id in entered.typicals
    ]  # fmt: skip
    built = [[round(float(c), 3), round(float(z), 4)] for c, z in zip(every, levels, strict=True) if z == z]
    under = [
        [round(float(c), 3), round(float(z), 4) if z == z else None]
        for c, z in zip(every, ground, strict=True)
    ]
    return RouteLong(
        ground=under,
        line=built, points=points, changes=changes, begins=line.begin, ends=line.end,
    )  # fmt: skip


def haul_view(actor: Actor, element_id: int) -> HaulView:
    """The mass haul diagram of a route.

    Raises:
        Missing: it was never worked out.
    """
    row = route_of(actor, element_id)
    made = last_made(element_id)
    free = read_entry(row.free, "m", field="free") if row.free.strip() else 0.0
    found = mass_haul(made.quantities, Entered(row).soil().compacted, free)
    return HaulView(
        chainages=found.chainages.round(3).tolist(), ordinates=found.ordinates.round(4).tolist(),
        balances=list(found.balances), haul=found.haul, free=found.free, overhaul=found.overhaul,
        moved=found.moved, left_over=found.left_over, free_distance=free,
    )  # fmt: skip


def file_of(actor: Actor, element_id: int, kind: str, names: Sequence[str]) -> tuple[str, bytes]:
    """A route's table by chainage as XLSX with live formulas, or as CSV; a file's name and content.

    Args:
        names: of the quantities it holds; all where empty.

    Raises:
        Missing: it was never worked out, or there is no such kind of file.
    """
    row = route_of(actor, element_id)
    made = last_made(element_id)
    title = f"{row.element.mark} {row.element.description}".strip()
    if kind == "xlsx":
        return f"{title}.xlsx", route_xlsx.write(title, made, names, Entered(row).note())
    if kind != "csv":
        raise Missing("A route is written as XLSX or CSV.")
    columns = [each for each in columns_of(made) if not names or each[0] in names]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    across = {"m³": "m²", "m²": "m", "m": "nr"}
    heads = [[f"{name} {across[unit]}", f"{name} {unit}"] for name, unit, *_ in columns]
    writer.writerow(["chainage m", *(head for pair in heads for head in pair)])
    for at, chainage in enumerate(made.quantities.chainages.tolist()):
        cells = [value for _, _, sizes, steps in columns for value in (sizes[at], steps[at])]
        writer.writerow([f"{chainage:.3f}", *("" if v != v else f"{v:.6f}" for v in cells)])
    return f"{title}.csv", out.getvalue().encode("utf-8-sig")
