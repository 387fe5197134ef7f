"""What a change moved, read as it stands now: the same for the one who wrote it and for colleagues' tabs."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any

from ...store.changes import Snapshot, moved_by
from ...store.database import database
from ...store.models import (
    BuildUp,
    BuildUpLine,
    Change,
    DimensionLine,
    Earthwork,
    Figure,
    ItemLink,
    Quote,
    Resource,
    Route,
    RouteChange,
    Sheet,
    TrenchNetwork,
    TrenchRun,
    now,
)
from ..bill.reading import foot_of, item_views, own_bill, section_heads
from ..bill.views import Foot
from ..keeping.acting import Actor, Missing
from ..keeping.one_reading import one_reading
from ..keeping.views import Saved
from ..measure.reading import element_moved, element_now, figure_views
from ..prices.reading import resource_views
from ..rates.views import BuildUpBrief
from . import tellings
from .views import Answer, FigureGone, Kind, Moved, PulseView, RowMoved

WRITER_TELLS_WITHIN = timedelta(seconds=3)
_OF_ROUTES = (
    "route_corner", "route_level", "route_change", "route_stretch", "named_quantity", "imported_section",
)  # fmt: skip
MOST_CHANGES, MOST_ROWS = 50, 400
MOST_ELEMENTS, MOST_FIGURES, MOST_ITEMS, MOST_PRICES, MOST_BARRED = 12, 60, 40, 30, 60
# Fields of an element that leave its dimension lines as they are.
_WORDS = {"mark", "description", "location", "position"}


def answered(actor: Actor, saved: Saved, known: int = 0) -> Answer:
    """The answer to an action, with all that moved since the change its writer knew; or by the action
    alone. What the action moved is kept for colleagues' tabs."""
    told = Moved.nothing(0)
    if saved.change:
        told = own = tellings.keep(since(actor, 0, only=saved.change))
        if 0 < known < saved.change:
            between = tellings.after(actor.project_id, known, saved.change - 1, MOST_CHANGES + 1)
            earlier = [moved for *_, moved in between if moved is not None]
            whole = len(earlier) == len(between)
            told = _together(actor, known, [*earlier, own]) if whole else since(actor, known)
    return Answer(**saved.model_dump(), moved=told)


# Asked by every tab each second: written out, as building it each time costs more than asking it.
_PULSE = """
SELECT p.bill_total, c.id, c.person_id, c.label, who.name FROM project p
LEFT JOIN LATERAL (SELECT id, person_id, label FROM change WHERE project_id = p.id ORDER BY id DESC LIMIT 1) c
ON true LEFT JOIN person who ON who.id = c.person_id WHERE p.id = %s"""


def pulse(actor: Actor, known: int) -> PulseView:
    """The latest change of the project, cheap enough to be asked every second; with what moved since the
    one known, as far as it is told: what a colleague wrote this moment is told by their own tab's answer."""
    row = database.execute_sql(_PULSE, (actor.project_id,)).fetchone()
    if row is None:
        raise Missing("That project is gone.")
    total, change, by, label, name = row
    if change is None:
        return PulseView(change=0, by=None, person="", label="", bill_total=total, moved=None)
    moved = None
    if known < change:
        moved = _told(actor, known, change) if known else since(actor, known)
        change = moved.change if moved else known
    return PulseView(change=change, by=by, person=name or "", label=label, bill_total=total, moved=moved)


def _told(actor: Actor, known: int, change: int) -> Moved | None:
    """What moved between two changes, up to the first that its writer is still telling of."""
    told, read = list[Moved](), 0
    for each, kind, at, moved in tellings.after(actor.project_id, known, change, MOST_CHANGES + 1):
        if moved is None:
            if kind != "worked" and at > now() - WRITER_TELLS_WITHIN:
                break
            read += 1
            if read > 1:  # a tab that slept: read all at once, not change by change
                return since(actor, known)
            moved = tellings.keep(since(actor, 0, only=each))
        told.append(moved)
    return _together(actor, known, told) if told else None


def _together(actor: Actor, known: int, told: list[Moved]) -> Moved:
    """What several changes moved. Where they are many, or the bill was put in another order after some, so
    that what these told carries numbers of before, it is read instead."""
    if len(told) > MOST_CHANGES or any(moved.outline for moved in told[1:]):
        return since(actor, known)
    return tellings.together(told)


_ENTRIES = """
SELECT table_name, row_id, before, after FROM change_entry WHERE change_id = ANY(%s) ORDER BY id LIMIT %s"""


def since(actor: Actor, known: int, only: int | None = None) -> Moved:
    """What moved in the project after a change, or by the one named; everything, where that is too much to
    tell."""
    if only is None:
        mine = (Change.project == actor.project_id) & (Change.id > known)
        rows = list(Change.select().where(mine).order_by(Change.id).limit(MOST_CHANGES + 1))
    else:
        rows = Change.those(Change.id, [only], project=actor.project_id)
    if not rows:
        return Moved.nothing(known)
    entries = database.execute_sql(_ENTRIES, ([row.id for row in rows], MOST_ROWS + 1)).fetchall()
    last = rows[-1].id
    if len(rows) > MOST_CHANGES or len(entries) > MOST_ROWS:
        return Moved.nothing(last, "all")
    figures: dict[str, set[int]] = {}
    for row in rows:
        for node, ids in moved_by(row).items():
            figures.setdefault(node, set()).update(ids)
    with one_reading():
        return _Telling(actor, _Touched(entries), figures).told(last)


@dataclass
class _Touched:
    """The rows written, by table: what each was before, and what it became."""

    entries: list[tuple[str, int, Snapshot | None, Snapshot | None]]
    _by_table: dict[str, list[tuple[int, Snapshot | None, Snapshot | None]]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for table, row_id, before, after in self.entries:
            self._by_table.setdefault(table, []).append((row_id, before, after))

    def ids(self, table: str) -> set[int]:
        return {row_id for row_id, _, _ in self._by_table.get(table, [])}

    def values(self, table: str, name: str) -> set[int]:
        """What a column was and is."""
        sides = (side for _, *both in self._by_table.get(table, []) for side in both if side)
        return {side[name] for side in sides if side.get(name) is not None}

    def differ(self, table: str, names: Iterable[str] = ()) -> bool:
        """Whether a row came or went, or differs in one of some columns."""
        return any(
            before is None or after is None or any(before.get(n) != after.get(n) for n in names)
            for _, before, after in self._by_table.get(table, [])
        )

    def rows(self) -> list[RowMoved]:
        last = {(table, row_id): after is None for table, row_id, _, after in self.entries}
        return [RowMoved(table=table, id=row_id, gone=gone) for (table, row_id), gone in last.items()]


@dataclass
class _Telling:
    """Reads what moved as it is now."""

    actor: Actor
    touched: _Touched
    moved: dict[str, set[int]]
    again: list[Kind] = field(default_factory=list)

    def told(self, change: int) -> Moved:
        touched = self.touched
        wide = bool(touched.ids("project") or touched.ids("own_make_up") or touched.ids("own_detailing"))
        placed = touched.differ("element", ("location", "position"))
        return Moved(
            change=change,
            rows=touched.rows(),
            elements=self._elements(),
            order=placed or touched.differ("location", ("position", "name")),
            figures=self._figures(),
            figures_gone=self._figures_gone(),
            sheets=self._sheets(),
            totals=self._totals(),
            bars=self._bars(),
            cut=bool(
                self.moved.get("cuttings") or any(map(touched.ids, ("cutting", "cut_member", "off_cut")))
            ),
            ground=self._ground(),
            resources=self._resources(),
            build_ups=self._build_ups(),
            items=self._items(),
            sections=self._sections(),
            foot=self._foot(),
            outline=touched.differ("item", ("section", "position")) or bool(touched.ids("section")),
            again=["all"] if wide else self.again,
        )

    def _few(self, ids: set[int], most: int, kind: Kind) -> list[int]:
        if len(ids) <= most:
            return sorted(ids)
        self.again.append(kind)
        return []

    def _elements(self) -> list[Any]:
        touched = self.touched
        written = touched.ids("element")
        by_lines = touched.values("dimension_line", "element") | touched.values("figure", "element")
        linked = touched.values("item_link", "element")  # what draws on it is shown with it
        drawing = touched.values("input_draw", "element")
        moved = self.moved.get("quantities", set())
        ids = self._few(moved | written | by_lines | linked | drawing, MOST_ELEMENTS, "elements")
        lines: dict[int, set[int]] = {element: set() for element in ids}
        if figures := list(touched.ids("figure")):
            fed = (DimensionLine.element << ids) & (DimensionLine.figure << figures)
            for line, element in (
                DimensionLine.select(DimensionLine.id, DimensionLine.element).where(fed).tuples()
            ):
                lines[element].add(line)
        for line, before, after in touched._by_table.get("dimension_line", []):
            for side in (before, after):
                if side and side["element"] in lines:
                    lines[side["element"]].add(line)
        found = {each: element_now(each) for each in ids}
        return [
            element_moved(
                now, lines[each], whole=self._whole(each, by_lines), asked=each in written | drawing
            )
            for each, now in found.items()
            if now is not None
        ]

    def _whole(self, element: int, by_lines: set[int]) -> bool:
        """Whether all lines of an element may have moved: what it goes by was written, or what they rest
        on."""
        for row_id, before, after in self.touched._by_table.get("element", []):
            if row_id == element and (before is None or after is None):
                return True
            if row_id == element and before and after:
                return any(before.get(n) != after.get(n) for n in after if n not in _WORDS)
        return element in self.moved.get("quantities", set()) and element not in by_lines

    def _figures(self) -> list[Any]:
        ids = self._few(self.touched.ids("figure"), MOST_FIGURES, "figures")
        sheets = Figure.column(Figure.sheet, Figure.id, ids)
        return [view for sheet in Sheet.those(Sheet.id, sheets) for view in figure_views(sheet, ids)]

    def _figures_gone(self) -> list[FigureGone]:
        gone = []
        for row_id, before, after in self.touched._by_table.get("figure", []):
            if after is None and before:
                gone.append(FigureGone(sheet=before["sheet"], id=row_id))
        return gone

    def _sheets(self) -> list[int]:
        """Sheets whose scale was written, or that show something of an element that was."""
        touched = self.touched
        named = touched.ids("element") if touched.differ("element", ("mark", "source", "inputs")) else set()
        here = Figure.column(Figure.sheet, Figure.element, named)
        return sorted(here | touched.ids("sheet") | touched.values("scale_area", "sheet"))

    def _totals(self) -> list[int]:
        moved = self.moved.get("quantities", set()) | self.touched.ids("element")
        return sorted(
            Figure.column(Figure.sheet, Figure.element, moved) | self.touched.values("figure", "sheet")
        )

    def _bars(self) -> list[int]:
        """Elements whose lines of the schedule moved; all are read again where members came, went or stand in
        another order, or the schedule was issued."""
        touched = self.touched
        if touched.differ("element", ("mark", "location", "position")) or touched.ids("bar_issue"):
            self.again.append("bars")
        by_rows = touched.values("typed_bar", "element") | touched.values("bar_mark", "element")
        return self._few(self.moved.get("bars", set()) | by_rows, MOST_BARRED, "bars")

    def _ground(self) -> list[str]:
        """Surveys, surfaces, earthworks, trenches and routes, and what these are built like, that were
        written or moved."""
        touched, moved = self.touched, self.moved
        surveys = moved.get("levels", set()) | touched.ids("survey")
        for table in ("level", "level_decision", "ground_line"):
            surveys |= touched.values(table, "survey")
        surfaces = moved.get("surfaces", set()) | touched.ids("ground_surface")
        for table in ("surface_survey", "ground_line"):
            surfaces |= touched.values(table, "surface")
        works = touched.values("earthwork", "element")
        parts = {
            w for t in ("formation", "earth_class", "earth_stage") for w in touched.values(t, "earthwork")
        }
        works |= Earthwork.column(Earthwork.element, Earthwork.id, parts)
        measured = moved.get("quantities", set()) | touched.ids("element")
        works |= Earthwork.column(Earthwork.element, Earthwork.element, measured)
        networks = touched.values("trench_network", "element")
        ends = {n for t in ("trench_node", "trench_run") for n in touched.values(t, "network")}
        ends |= TrenchRun.column(TrenchRun.network, TrenchRun.kind, touched.ids("trench_kind"))
        networks |= TrenchNetwork.column(TrenchNetwork.element, TrenchNetwork.id, ends)
        networks |= TrenchNetwork.column(TrenchNetwork.element, TrenchNetwork.element, measured)
        kinds = touched.ids("trench_kind")
        routes = touched.values("route", "element")
        rows = {n for t in _OF_ROUTES for n in touched.values(t, "route")}
        typicals = touched.ids("typical_section")
        rows |= RouteChange.column(RouteChange.route, RouteChange.typical, typicals)
        routes |= Route.column(Route.element, Route.id, rows)
        routes |= Route.column(Route.element, Route.element, measured)
        named = (
            ("survey", surveys), ("surface", surfaces), ("earthwork", works), ("trench", networks),
            ("kind", kinds), ("route", routes), ("typical", typicals),
        )  # fmt: skip
        return [f"{kind}:{each}" for kind, ids in named for each in sorted(ids)]

    def _resources(self) -> list[Any]:
        touched = self.touched
        ids = self.moved.get("prices", set()) | touched.ids("resource") | touched.values("quote", "resource")
        used = touched.values("build_up_line", "resource")  # how many rates draw on it is shown with it
        if self._needs_moved() and self._heeds_least():
            self.again.append("resources")
        wanted = self._few(ids | used, MOST_PRICES, "resources")
        return resource_views(self.actor, Resource.those(Resource.id, wanted)) if wanted else []

    def _needs_moved(self) -> bool:
        """Whether the bill may need other amounts of resources."""
        written = ("item", "item_link", "rate_part", "build_up_line", "build_up", "rate_band")
        return bool(self.moved.get("item-quantities")) or any(map(self.touched.ids, written))

    def _heeds_least(self) -> bool:
        """Whether a quote has a least quantity, which is held against what the bill needs."""
        return (
            Quote.select()
            .where((Quote.project == self.actor.project_id) & Quote.least.is_null(False))
            .exists()
        )

    def _build_ups(self) -> list[BuildUpBrief]:
        touched = self.touched
        ids = (
            self.moved.get("rates", set())
            | touched.ids("build_up")
            | touched.values("build_up_line", "build_up")
            | touched.values("rate_band", "build_up")
        )
        if len(ids) <= MOST_PRICES:
            ids |= self._drawing()
        wanted = self._few(ids, MOST_PRICES, "build-ups")
        return [BuildUpBrief.model_validate(row) for row in BuildUp.those(BuildUp.id, wanted)]

    def _drawing(self) -> set[int]:
        """Rates whose lines draw on what moved."""
        quantities = self.moved.get("quantities", set())
        ids = BuildUpLine.column(BuildUpLine.build_up, BuildUpLine.taken, quantities)
        for figure in (BuildUp.output_taken, BuildUp.hours_taken):
            ids |= BuildUp.column(BuildUp.id, figure, quantities)
        prices = self.moved.get("prices", set())
        return ids | BuildUpLine.column(BuildUpLine.build_up, BuildUpLine.resource, prices)

    def _items(self) -> list[Any]:
        touched = self.touched
        ids = self.moved.get("items", set()) | self.moved.get("item-quantities", set())
        for table in ("item_link", "rate_part"):
            ids |= touched.values(table, "item")
        ids |= touched.ids("item")
        drawn = set(self.moved.get("quantities", set()))
        if touched.differ("figure", ("near",)):
            drawn |= touched.values("figure", "element")
        ids |= ItemLink.column(ItemLink.item, ItemLink.element, drawn)
        return item_views(self._few(ids, MOST_ITEMS, "items"))

    def _sections(self) -> list[Any]:
        moved = self.moved.get("sections", set())
        if not moved:
            return []
        heads = section_heads(self.actor.project_id)
        above = {head.id: head.parent for head in heads}
        wanted = set(moved)
        for section in moved:
            while (section := above.get(section)) is not None:  # type: ignore[assignment]
                wanted.add(section)
        return [head for head in heads if head.id in wanted]

    def _foot(self) -> Foot | None:
        # With a link, what rests on figures that are being worked out.
        touched = self.touched.ids("adjustment") | self.touched.ids("item_link")
        if not (touched or any(map(self.moved.get, ("totals", "sections", "quantities")))):
            return None
        return foot_of(own_bill(self.actor.project_id).id)
