"""What is read along routes: sections, tables by chainage, long sections, mass haul."""

from __future__ import annotations

from typing import Any

import numpy as np

from ....core.ground.pieces import Floats
from ....core.ground.route.drawn import DrawnSection, drawn_lines, drawn_section
from ....core.ground.route.mass_haul import mass_haul
from ....core.ground.route.reckoned import UNITS, Reckoned
from ....core.ground.route.sections import Section, cross_sections
from ....core.measurers.route import keys_of
from ....core.numbers.entry import read_entry
from ....core.refusals import BadEntry, Refusal
from ...keeping.acting import Actor, Missing
from ..surfaces import surface_now, surface_print
from .actions import route_of
from .entered import Entered, ground_across, last_made, names_in
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
    drawn = sections_of(entered, made, wanted, begin)
    return RouteSections(first=begin, sections=[_section_view(at, each) for at, each in drawn])


def sections_of(
    entered: Entered, made: Reckoned, wanted: Floats, begin: int
) -> list[tuple[int, DrawnSection]]:
    """Sections as they are drawn, each with its place in the row of chainages.

    Args:
        wanted: chainages that follow one another there, in m.
        begin: the place of the first.

    Raises:
        Missing: it has no ground yet.
        BadEntry: what was entered can't be read any more.
    """
    if entered.imported:
        return _imported(entered, wanted, begin)
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
            found.append((at, drawn_section(twins[-1] if before else twins[0], way)))
    return found


def _imported(entered: Entered, wanted: Floats, begin: int) -> list[tuple[int, DrawnSection]]:
    """Sections that came from elsewhere, at the chainages there are some."""
    there = {round(each.chainage, 6): each for each in entered.section_lines()}
    order = names_in(entered.row.from_top if entered.row else "")
    return [
        (at, drawn_lines(there[round(chainage, 6)], order))
        for at, chainage in enumerate(wanted.tolist(), start=begin)
        if round(chainage, 6) in there
    ]


def _section_view(at: int, drawn: DrawnSection) -> RouteSection:
    return RouteSection(
        at=at, chainage=drawn.chainage, typical=drawn.typical, level=drawn.level,
        ground=_rounded(drawn.ground), formation=_rounded(drawn.formation),
        finished=_rounded(drawn.finished),
        shapes=[
            RouteShape(name=each.name, rings=[_rounded(ring) for ring in each.rings], area=each.area)
            for each in drawn.shapes
        ],
    )  # fmt: skip


def _rounded(line: Floats) -> list[list[float]]:
    found: list[list[float]] = line.round(4).tolist()
    return found


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
