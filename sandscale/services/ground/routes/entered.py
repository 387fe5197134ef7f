"""What was entered for routes, as the core takes it."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping, Sequence
from datetime import datetime
from functools import lru_cache
from itertools import pairwise
from typing import Any

import numpy as np
from peewee import fn

from ....core.findings import Finding
from ....core.ground.areas import Rule
from ....core.ground.haulage import Soil
from ....core.ground.route.centreline import Centreline, LongSection, along_arcs, through
from ....core.ground.route.centreline import Element as LineElement
from ....core.ground.route.document import read_typical, typical_of, typical_told
from ....core.ground.route.imported import SectionLines
from ....core.ground.route.reckoned import NamedQuantity, Reckoned, Stretch
from ....core.ground.route.sections import Change as Begun
from ....core.ground.route.sections import GroundAcross
from ....core.ground.route.sections import Route as Way
from ....core.measurers.route import Asked, Given, RouteMeasured
from ....core.numbers.entry import read_entry
from ....core.numbers.systems import SYSTEMS
from ....core.refusals import BadEntry
from ....store.models import (
    Change,
    ChangeEntry,
    DimensionLine,
    Element,
    Figure,
    ImportedSection,
    Project,
    Route,
    RouteChange,
    RouteCorner,
    RouteLevel,
    RouteMade,
    RouteStretch,
    TypicalSection,
)
from ....store.models import NamedQuantity as NamedRow
from ..entered import soil_of
from ..on_sheets import known_of, on_ground
from ..surfaces import surface_now, surface_print
from .kept import reckoned_of, reckoned_packed

MOST_TOLD = 6  # typical sections in a note


def route_entries(elements: Sequence[Element], _lines: Mapping[int, list[DimensionLine]]) -> dict[int, Given]:
    """What was entered for routes, by their elements' ids."""
    projects = {p.id: p for p in Project.those(Project.id, {e.project_id for e in elements})}
    rows = {row.element_id: row for row in Route.those(Route.element, [e.id for e in elements])}
    found = {}
    for element in elements:
        entered = Entered(rows.get(element.id))
        found[element.id] = Given(
            entered.print, entered.asked, _last(element.id), entered.soil, entered.note,
            f"route-section:{element.id}", SYSTEMS[projects[element.project_id].unit_system],
        )  # fmt: skip
    return found


def _last(element_id: int) -> Callable[[], Reckoned]:
    return lambda: last_made(element_id)


class Entered:
    """A route's rows."""

    def __init__(self, row: Route | None) -> None:
        self.row = row
        own = [row.id] if row is not None else []
        self.corners = RouteCorner.those(RouteCorner.route, own, RouteCorner.position, RouteCorner.id)
        self.levels = RouteLevel.those(RouteLevel.route, own, RouteLevel.position, RouteLevel.id)
        self.changes = RouteChange.those(RouteChange.route, own, RouteChange.position, RouteChange.id)
        self.stretches = RouteStretch.those(RouteStretch.route, own, RouteStretch.position, RouteStretch.id)
        self.named = NamedRow.those(NamedRow.route, own, NamedRow.position, NamedRow.id)
        self.imported = ImportedSection.those(ImportedSection.route, own, ImportedSection.chainage)
        wanted = {change.typical_id for change in self.changes} - {None}
        kept = TypicalSection.those(TypicalSection.id, wanted, TypicalSection.position, TypicalSection.id)
        self.typicals = {each.id: each for each in kept}

    @property
    def print(self) -> str:
        """Of all that it is reckoned from."""
        if self.row is None:
            return ""
        left = ("id", "version", "shelf", "shelf_number")
        rows = [
            self.row, *self.corners, *self.levels, *self.changes, *self.stretches, *self.named,
            *self.imported, *self.typicals.values(),
        ]  # fmt: skip
        told: list[Any] = [{k: v for k, v in row.__data__.items() if k not in left} for row in rows]
        if self.row.figure_id is not None:
            figure = self.row.figure
            told.append((figure.geometry, [each.known for each in known_of(figure.sheet_id)]))
        ground = surface_print(self.row.ground_id) if self.row.ground_id is not None else ""
        return hashlib.sha256(repr((told, ground)).encode()).hexdigest()

    def asked(self) -> Asked:
        """All of it as the core takes it.

        Raises:
            BadEntry: an entry can't be read, or there is no centreline, long section or typical section yet.
        """
        row = self.row
        if row is None:
            raise BadEntry("There is no route.", field="route")
        way, findings = self.way() if not self.imported else (None, ())
        ground = None
        if way is not None and row.ground_id is not None:
            ground = ground_across(row.ground_id, surface_print(row.ground_id))
        rule: Rule = row.rule
        return Asked(
            way, (self.section_lines(), names_in(row.from_top)), ground, self.interval(), rule, row.curved,
            self.stretched(), [_named(each) for each in self.named], findings,
        )  # fmt: skip

    def interval(self) -> float:
        """Between sections, in m."""
        return read_entry((self.row.interval if self.row else "") or "20", "m", field="interval")

    def way(self) -> tuple[Way, tuple[Finding, ...]]:
        """The centreline with its levels and what is built along it.

        Raises:
            BadEntry: one of them is missing, or can't be.
        """
        centreline = self.centreline()
        long_section = self.long_section()
        changes, findings = self._begun()
        if not changes:
            raise BadEntry(
                "It has no typical section yet.", field="changes",
                remedy="Say which one is built from where.",
            )  # fmt: skip
        return Way(centreline, long_section, changes), findings

    def centreline(self) -> Centreline:
        """Along the run on a sheet, as a file had it, or through the corners.

        Raises:
            BadEntry: there is none yet, or its corners or radii can't be.
        """
        row = self.row
        assert row is not None
        begins = _size(row.begins, "begins")
        if row.figure_id is not None:
            return along_figure(row.figure, begins)
        if row.line:
            parts = tuple(LineElement((e[0], e[1]), *e[2:]) for e in row.line)
            return Centreline(parts, begins)
        typed = [each for each in self.corners if each.east.strip() and each.north.strip()]
        if len(typed) < 2:
            raise BadEntry(
                "It has no centreline yet.", field="corners",
                remedy="Draw it on the plan, type its corners, take it from a sheet or bring in a file.",
            )  # fmt: skip
        places = [(_size(each.east, "east"), _size(each.north, "north")) for each in typed]
        return through(places, [_size(each.radius, "radius") for each in typed[1:-1]], begins)

    def long_section(self) -> LongSection:
        """Its levels along.

        Raises:
            BadEntry: there are none yet, they go back, or vertical curves overlap.
        """
        typed = [each for each in self.levels if each.chainage.strip() and each.level.strip()]
        if len(typed) < 2:
            raise BadEntry(
                "It has no long section yet.", field="levels",
                remedy="Type two levels at least, or draw them over the ground.",
            )  # fmt: skip
        points = [tuple(_size(getattr(e, n), n) for n in ("chainage", "level", "curve")) for e in typed]
        for before, after in pairwise(points):
            if after[0] <= before[0]:
                raise BadEntry(
                    f"The long section goes back: chainage {after[0]:.2f} stands after {before[0]:.2f}.",
                    field="chainage", remedy="Put its rows in order.",
                )  # fmt: skip
        return LongSection([(a, b, c) for a, b, c in points])

    def _begun(self) -> tuple[tuple[Begun, ...], tuple[Finding, ...]]:
        typicals = {each.id: typical_of(read_typical(each.document)) for each in self.typicals.values()}
        found, findings = dict[float, Begun](), list[Finding]()
        for at, each in enumerate(self.changes):
            if each.typical_id not in typicals:
                says = f"From chainage {each.chainage or '…'} no typical section is chosen yet."
                findings.append(Finding(says, at, "typical", True, "no-typical"))
                continue
            chainage = _size(each.chainage or (self.row.begins if self.row else ""), "chainage")
            if chainage in found:
                raise BadEntry(
                    f"Two typical sections begin at chainage {chainage:.2f}.", field="chainage",
                    remedy="Take one out, or move it.",
                )  # fmt: skip
            found[chainage] = Begun(chainage, typicals[each.typical_id], _size(each.taper, "taper"))
        return tuple(found[at] for at in sorted(found)), tuple(findings)

    def section_lines(self) -> list[SectionLines]:
        """Sections that came from elsewhere."""
        return [
            SectionLines(e.chainage, {name: np.array(line, float) for name, line in e.lines.items()})
            for e in self.imported
        ]

    def stretched(self) -> list[Stretch]:
        """Its stretches that are typed whole."""
        return [
            Stretch(
                e.name or f"{e.begins} to {e.ends}", _size(e.begins, "begins"), _size(e.ends, "ends"), e.stage
            )
            for e in self.stretches
            if e.begins.strip() and e.ends.strip()
        ]  # fmt: skip

    def soil(self) -> Soil:
        """How what is dug changes its volume."""
        return soil_of(self.row) if self.row is not None else Soil()

    def note(self) -> str:
        """What was entered, in words, and when it was last changed."""
        if self.row is None:
            return ""
        rows = list(self.typicals.values())[:MOST_TOLD]
        names = [typical_told(typical_of(read_typical(row.document))) for row in rows]
        changed = self._changed()
        on = f", as entered on {changed.day} {changed:%B %Y}" if changed is not None else ""
        every = "sections brought in" if self.imported else f"a section every {self.interval():g} m"
        curved = ", corrected for curves" if self.row.curved else ""
        return f"By {self.row.rule}{curved}, {every}{on}. {'; '.join(names)}".strip()

    def _changed(self) -> datetime | None:
        tables: dict[str, list[int]] = {
            "route": [self.row.id] if self.row is not None else [], "typical_section": list(self.typicals),
            "route_corner": [e.id for e in self.corners], "route_level": [e.id for e in self.levels],
            "route_change": [e.id for e in self.changes], "route_stretch": [e.id for e in self.stretches],
            "named_quantity": [e.id for e in self.named],
        }  # fmt: skip
        times = [
            Change.select(fn.MAX(Change.at))
            .join(ChangeEntry)
            .where((ChangeEntry.table_name == table) & (ChangeEntry.row_id << ids))
            .scalar()
            for table, ids in tables.items()
            if ids
        ]
        return max((each for each in times if each is not None), default=None)


@lru_cache(maxsize=4)
def ground_across(surface_id: int, _print: str) -> GroundAcross:
    """The ground across routes over a surface, surveyed once for all that is changed of them."""
    return GroundAcross(surface_now(surface_id))


def along_figure(figure: Figure, begins: float) -> Centreline:
    """A centreline along a run measured on a sheet, where its sheet lies on the ground.

    Raises:
        BadEntry: no two points of the sheet are known, or the run is closed.
    """
    corners = figure.geometry["corners"]
    places = on_ground(figure.sheet, corners)
    bulges = [float(corner[2]) if len(corner) > 2 else 0.0 for corner in corners]
    return along_arcs([(*place, bulge) for place, bulge in zip(places.tolist(), bulges, strict=True)], begins)


def names_in(text: str) -> list[str]:
    """Names as they are typed one after another."""
    return [each.strip() for each in text.split(";") if each.strip()]


def _named(row: NamedRow) -> NamedQuantity:
    return NamedQuantity(
        row.name, tuple(names_in(row.layers)),
        read_entry(row.density or "0", "nr", field="density", minimum=0),
        read_entry(row.extra or "0", "nr", field="extra", minimum=0),
    )  # fmt: skip


def _size(text: str, field: str) -> float:
    return read_entry(text, "m", field=field) if text.strip() else 0.0


def fresh(element_id: int, fingerprint: str) -> bool:
    """Whether what is kept of a route is of what was entered as it is now."""
    mine = (RouteMade.element == element_id) & (RouteMade.fingerprint == fingerprint)
    return bool(RouteMade.select(RouteMade.id).where(mine).exists())


def keep(element: Element, fingerprint: str, measured: RouteMeasured | None) -> None:
    """Keep what a route came to; or that it comes to nothing."""
    RouteMade.delete().where(RouteMade.element == element.id).execute()
    if measured is not None and measured.reckoned is not None:
        made = measured.reckoned
        result = {"length": made.length, "sections": len(made.quantities.rows)}
        RouteMade.create(
            project=element.project_id, element=element.id, fingerprint=fingerprint, result=result,
            packed=reckoned_packed(made),
        )  # fmt: skip


def last_made(element_id: int) -> Reckoned:
    """A route as it last came out.

    Raises:
        BadEntry: it was never worked out.
    """
    row = RouteMade.select(RouteMade.id, RouteMade.fingerprint).where(RouteMade.element == element_id).first()
    if row is None:
        raise BadEntry("This route is still being worked out.", field="element", remedy="Wait a moment.")
    return _made(row.id, row.fingerprint)


@lru_cache(maxsize=6)
def _made(row_id: int, _fingerprint: str) -> Reckoned:
    return reckoned_of(bytes(RouteMade.get_by_id(row_id).packed))
