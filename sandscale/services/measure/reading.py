"""Elements with what they come to, figures on a sheet, and the make-ups there are."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from peewee import fn

from ...core.makeups.document import Input
from ...core.makeups.makeup import MakeUp, built_in, built_in_source, words
from ...core.makeups.measurer import Entered
from ...core.makeups.run import Line, Size, drawn
from ...core.numbers.entry import as_typed
from ...core.numbers.ways import ways
from ...core.numbers.working import shown, shown_in
from ...core.numbers.written import written
from ...core.refusals import BadShape
from ...store.models import (
    LINE_FIELDS,
    LINE_SIZES,
    DimensionLine,
    Element,
    Figure,
    Item,
    ItemLink,
    Location,
    OwnMakeUp,
    QuantityLine,
    QuantityPart,
    Sheet,
    Shelf,
)
from ..bill.reading import refs_of
from ..keeping.acting import Actor, find
from ..keeping.slow import being_worked_out
from ..sheets.views import FigureView
from ..shelves.actions import latest_numbers
from .draws import draws_of
from .entered import BY_DRAWING, TAKEN_AS, lines_of, makeup_of, number_units
from .measurers import given, measurer_of
from .measuring import as_area, measured, scale_under, with_scale_areas
from .views import (
    DrawnView,
    ElementBrief,
    ElementMoved,
    ElementPage,
    ElementView,
    FunctionView,
    InputView,
    LineView,
    LocationView,
    MakeUpView,
    MakeUpWords,
    OfferView,
    PartView,
    QuantityView,
    SharedPart,
    SketchPart,
    SketchSize,
    SketchView,
)

MOST_ELEMENTS = 400  # in one window


def locations(actor: Actor) -> list[LocationView]:
    """The project's locations in order, with how many elements each holds."""
    mine = Element.select(Element.location, fn.COUNT(Element.id)).where(Element.project == actor.project_id)
    holds = dict(mine.group_by(Element.location).tuples())
    rows = Location.select().where(Location.project == actor.project_id)
    return [
        LocationView(id=row.id, version=row.version, name=row.name, holds=holds.get(row.id, 0))
        for row in rows.order_by(Location.position, Location.id)
    ]


def elements(actor: Actor, first: int = 0, most: int = MOST_ELEMENTS, find_text: str = "") -> ElementPage:
    """A window of the elements by location; of those whose mark, description or location holds some words."""
    query = Element.select(Element.id).join(Location).where(Element.project == actor.project_id)
    for word in find_text.split():
        query = query.where(
            Element.mark.contains(word) | Element.description.contains(word) | Location.name.contains(word)
        )
    ordered = query.order_by(Location.position, Location.id, Element.position, Element.id)
    ids = [element_id for (element_id,) in ordered.offset(first).limit(min(most, MOST_ELEMENTS)).tuples()]
    return ElementPage(elements=element_briefs(ids), first=first, total=query.count())


def element_briefs(ids: list[int]) -> list[ElementBrief]:
    """Elements as lists show them, in the order given."""
    rows = {row.id: row for row in Element.those(Element.id, ids)}
    heads = (QuantityLine.element << ids) & QuantityLine.headline
    headline = {q.element_id: q for q in QuantityLine.select().where(heads)}
    waiting = being_worked_out("quantities", ids)
    made = _makeups_of(row for row in rows.values() if row.measurer == "make-up")
    near = near_changes(ids)
    return [
        _brief(row, headline.get(row.id), made.get(row.source), waiting=row.id in waiting, near=near[row.id])
        for row in (rows[each] for each in ids if each in rows)
    ]


def near_changes(ids: Iterable[int]) -> Counter[int]:
    """How many figures of elements lie near a change of their drawing and weren't looked at yet."""
    mine = (Figure.element << list(ids)) & Figure.near
    return Counter(element for (element,) in Figure.select(Figure.element).where(mine).tuples())


def _makeups_of(rows: Iterable[Element]) -> dict[str, MakeUp]:
    """The make-ups that some elements of one project have, by their keys."""
    return {key: makeup_of(project, key) for project, key in {(row.project_id, row.source) for row in rows}}


def _brief(
    element: Element, quantity: QuantityLine | None, makeup: MakeUp | None, *, waiting: bool, near: int
) -> ElementBrief:
    return ElementBrief(
        id=element.id, version=element.version, location=element.location_id, mark=element.mark,
        description=element.description, made_by=makeup.name if makeup else element.measurer,
        allowance=makeup is not None and makeup.is_allowance,
        family=quantity.family if quantity else "concrete",
        value=quantity.net if quantity else None, unit=quantity.unit if quantity else "",
        findings=len(element.findings), waiting=waiting, near=near,
    )  # fmt: skip


def allowances(actor: Actor) -> list[ElementBrief]:
    """The project's allowances in order."""
    own = OwnMakeUp.select(OwnMakeUp.key).where(
        (OwnMakeUp.project == actor.project_id) & (OwnMakeUp.kind == "allowance")
    )
    rules = [made.key for made in built_in().values() if made.is_allowance]
    rules += [key for (key,) in own.tuples()]
    mine = (Element.project == actor.project_id) & (Element.measurer == "make-up") & (Element.source << rules)
    query = Element.select(Element.id).where(mine).order_by(Element.position, Element.id)
    return element_briefs([element for (element,) in query.tuples()])


def element_view(actor: Actor, element_id: int) -> ElementView:
    """An element with its inputs, its dimension lines squared, its quantity lines and what looks wrong."""
    element = find(Element, actor, element_id)
    rows = lines_of([element.id])[element.id]
    entered = given([element], {element.id: rows})[element.id]
    head = element_head(element, entered, rows)
    return ElementView(**head, lines=line_views(element, entered, rows))


@dataclass(frozen=True)
class ElementNow:
    """An element as it is, with what its views are made of."""

    element: Element
    entered: Any
    rows: list[DimensionLine]
    head: dict[str, Any]


def element_now(element_id: int) -> ElementNow | None:
    """An element as it is now, unless it is gone."""
    element = Element.one(element_id)
    if element is None:
        return None
    rows = lines_of([element.id])[element.id]
    entered = given([element], {element.id: rows})[element.id]
    return ElementNow(element, entered, rows, element_head(element, entered, rows))


def element_moved(now: ElementNow, written: Iterable[int], *, whole: bool, asked: bool) -> ElementMoved:
    """An element after a change, with those of its dimension lines that were written; with what its make-up
    asks where that may stand otherwise."""
    wanted = set(written)
    # Where junctions go by the drawing, one run moves what another comes to.
    whole = whole or now.element.inputs.get(BY_DRAWING) == "as drawn"
    lines = [] if whole else line_views(now.element, now.entered, now.rows, wanted)
    gone = wanted - {row.id for row in now.rows}
    head = now.head if asked else {**now.head, "inputs": None}
    return ElementMoved(**head, lines=lines, gone=sorted(gone), line_says=_said(now.element), whole=whole)


def element_head(element: Element, entered: Any, rows: Sequence[DimensionLine]) -> dict[str, Any]:
    """What an element's views share: all but its lines."""
    quantities = QuantityLine.those(QuantityLine.element, [element.id], QuantityLine.position)
    head = next((q for q in quantities if q.headline), None)
    makeup = entered.makeup if isinstance(entered, Entered) else None
    waiting = bool(being_worked_out("quantities", [element.id]))
    brief = _brief(element, head, makeup, waiting=waiting, near=near_changes([element.id])[element.id])
    numbered = {row.id: f"Line {at}: " for at, row in enumerate(rows, start=1)}
    form = _form(element, entered)
    return {
        **brief.model_dump(), **form,
        "measurer": element.measurer, "detailing": element.detailing,
        "needs": list(measurer_of(element).needs(entered)),
        "headline": head.label if head else "",
        "quantities": _quantity_views(element, quantities),
        "says": [f"{numbered.get(line_id, '')}{says}" for line_id, says, *_ in element.findings],
    }  # fmt: skip


def _form(element: Element, entered: Any) -> dict[str, Any]:
    """What a make-up asks, with its sketch at the sizes of the first line; nothing for other measurers."""
    if not isinstance(entered, Entered):
        return {
            "makeup": "",
            "about": "",
            "inputs": [],
            "figures": [],
            "sketch": SketchView(parts=[], sizes=[]),
            "offer": None,
        }
    makeup = entered.makeup
    asked = input_views(makeup, entered.entries)
    if makeup.is_allowance:
        asked = _with_draws(element, makeup, asked)
    typed = [line for line in entered.lines if not line.deduct and _has(line, makeup.needs)]
    return {
        "makeup": makeup.key, "about": makeup.about, "inputs": asked,
        "figures": list(makeup.document.figures),
        "sketch": sketch_view(makeup, entered.entries, typed[0] if typed else Line()),
        "offer": _junctions_offered(element, entered),
    }  # fmt: skip


def _with_draws(element: Element, makeup: MakeUp, asked: list[InputView]) -> list[InputView]:
    """What an allowance asks, with what its inputs draw."""
    units = {element.id: number_units(makeup)}
    drawn: dict[str, list[DrawnView]] = {}
    for row, told in draws_of([element.id], units):
        view = DrawnView(
            resource=row.resource_id, item=row.item_id, element=row.taken_id, output=row.taken_key,
            name=told.name, value=float(told.value), unit=told.unit, ref=told.link,
        )  # fmt: skip
        drawn.setdefault(row.input, []).append(view)
    return [view.model_copy(update={"drawn": drawn.get(view.key, [])}) for view in asked]


def _junctions_offered(element: Element, entered: Entered) -> OfferView | None:
    """Junctions of its drawn runs, until it was said whether they are taken off."""
    drawn = sum(line.drawn_junctions for line in entered.lines)
    if not drawn or {BY_DRAWING, "junctions"} & set(element.inputs):
        return None
    found = "1 T junction is" if drawn == 1 else f"{drawn} T junctions are"
    return OfferView(
        says=f"{found} drawn where runs of {element.mark} meet; none is taken off yet.",
        take={BY_DRAWING: "as drawn"}, leave={BY_DRAWING: "as entered"},
    )  # fmt: skip


def _has(line: Line, needs: Iterable[str]) -> bool:
    """Whether a line has the dimensions a make-up needs; an area also by its length and width."""
    has = {name for name in ("length", "width", "height", "area") if getattr(line, name) is not None}
    return all(need in has or (need == "area" and {"length", "width"} <= has) for need in needs)


def _quantity_views(element: Element, quantities: Sequence[QuantityLine]) -> list[QuantityView]:
    links = ItemLink.those(ItemLink.element, [element.id])
    taken = {link.output: link.item_id for link in links}
    numbers = refs_of(Item.those(Item.id, {link.item_id for link in links}))
    parts: dict[str, list[PartView]] = {}
    for row in QuantityPart.those(QuantityPart.element, [element.id], QuantityPart.id):
        parts.setdefault(row.output, []).append(PartView.model_validate(row))
    return [
        QuantityView(
            output=q.output, label=q.label, unit=q.unit, family=q.family, net=q.net, waste=q.waste,
            gross=q.gross,
            item=taken.get(q.output), item_ref=numbers.get(taken.get(q.output, 0), ""),
            billed=bool(q.item), pack=q.pack, parts=parts.get(q.output, []),
        )
        for q in quantities
        if q.net or q.always
    ]  # fmt: skip


def _said(element: Element) -> dict[int, list[str]]:
    """What is said of each dimension line."""
    said: dict[int, list[str]] = {}
    for line_id, says, *_ in element.findings:
        if line_id:
            said.setdefault(line_id, []).append(says)
    return said


def line_views(
    element: Element, entered: Any, rows: Sequence[DimensionLine], wanted: set[int] | None = None
) -> list[LineView]:
    """An element's dimension lines with what each squares to; all, or those of some ids."""
    if not rows or wanted == set():
        return []
    result = measurer_of(element).measure(entered)
    said, none = (
        _said(element),
        [False] * len(rows),
    )  # an older file's line where none is taken counts nothing
    return [
        _line(row, squared, counted, said.get(row.id, []))
        for row, squared, counted in zip(rows, result.squared or none, result.counted or none, strict=True)
        if wanted is None or row.id in wanted
    ]


def _line(row: DimensionLine, squared: float, counted: bool, findings: list[str]) -> LineView:
    figure: Figure | None = row.figure if row.figure_id else None
    sheet = figure.sheet if figure else None
    source = "typed"
    if sheet:
        source = f"{sheet.revision.drawing.number} p. {sheet.page}"
    elif row.taken_from_id:
        source = f"taken from {row.taken.name if row.taken else row.taken_from.mark}"
    return LineView(
        id=row.id, version=row.version, position=row.position,
        **{name: _as_typed(name, getattr(row, name)) for name in LINE_FIELDS},
        squared=squared, counted=counted, figure=row.figure_id, sheet=sheet.id if sheet else None,
        figure_shows=shows(figure, sheet) if figure and sheet else "", **_measures(row),
        taken_from=row.taken_from_id, taken_output=row.taken_output, source=source, findings=findings,
    )  # fmt: skip


def _as_typed(name: str, kept: Any) -> Any:
    """A field of a line as it is typed in the project's ways."""
    if name in LINE_SIZES:
        return as_typed(kept, "m")
    return written(kept) if name == "times" else kept


def _measures(row: DimensionLine) -> dict[str, Any]:
    """What a line measures by its figure, or takes, and what that stands for."""
    if row.figure_id:
        drawn = measured(row.figure, row.figure.sheet)
        named = {"times": drawn.number, "length": drawn.length, "area": drawn.area}
        as_, value = next(((name, value) for name, value in named.items() if value is not None), (None, None))
        return {"measured_as": as_, "measures": value and _measured_here(as_, value)}
    if row.taken is not None:
        return {"measured_as": TAKEN_AS.get(row.taken.unit), "measures": row.taken.value}
    return {"measured_as": None, "measures": None}


def _measured_here(as_: str | None, value: float) -> float:
    """A length or an area of a figure in the project's unit; a number as it is."""
    here = ways().system
    return value * {"length": here.size("m"), "area": here.size("m²")}.get(as_ or "", 1.0)


def figure_views(sheet: Sheet, ids: Iterable[int] | None = None) -> list[FigureView]:
    """The figures of a sheet, each with the words it shows; all, or those of some ids."""
    query = (
        Figure.select(Figure, Element.mark, DimensionLine.id.alias("line"))
        .join(Element)
        .switch(Figure)
        .left_outer_join(DimensionLine, on=(DimensionLine.figure == Figure.id))
        .where(Figure.sheet == sheet.id)
        .order_by(Figure.id)
    )
    figures = list((query if ids is None else query.where(Figure.id << list(ids))).objects())
    families = families_of({figure.element_id for figure in figures})
    with_scale_areas([sheet])
    return [
        FigureView(
            id=f.id, version=f.version, sheet=sheet.id, kind=f.kind, element=f.element_id, mark=f.mark,
            line=f.line,
            family=families.get(f.element_id, "concrete"),
            points=f.geometry.get("points") or f.geometry.get("corners") or f.geometry["outline"],
            closed=f.kind == "area" or bool(f.geometry.get("closed")), voids=f.geometry.get("voids", []),
            shows=shows(f, sheet), near=f.near,
        )
        for f in figures
    ]  # fmt: skip


def families_of(element_ids: set[int]) -> dict[int, str]:
    """The family each element is drawn in: that of its headline."""
    mine = (QuantityLine.element << list(element_ids)) & QuantityLine.headline
    return dict(QuantityLine.select(QuantityLine.element, QuantityLine.family).where(mine).tuples())


def shows(figure: Figure, sheet: Sheet) -> str:
    """What a figure measures, in words: “4 nr”, “24.00 m”, “57.60 m², ddt 1.44”."""
    drawn = measured(figure, sheet)
    if drawn.number is not None:
        return f"{drawn.number} nr"
    if drawn.length is not None:
        return shown_in(drawn.length, "m")
    try:
        off = sum(as_area(figure).void_areas(scale_under(figure, sheet)))
    except BadShape:
        off = 0.0
    ddt = shown_in(off, "m²").rpartition(" ")[0]
    return shown_in(drawn.area or 0.0, "m²") + (f", ddt {ddt}" if off else "")


def makeups(actor: Actor) -> list[MakeUpView]:
    """Every make-up of the project: built in first, then its own."""
    found = [
        MakeUpView(
            key=m.key, name=m.name, kind=m.document.kind, about=m.about, own=None, shelf="",
            shelf_number=None, newer=None, findings=[], version=None,
            source=built_in_source(m.key),
        )
        for m in built_in().values()
    ]  # fmt: skip
    rows = list(OwnMakeUp.select().where(OwnMakeUp.project == actor.project_id).order_by(OwnMakeUp.id))
    names = dict(
        Shelf.select(Shelf.id, Shelf.name)
        .where(Shelf.id << [row.shelf for row in rows if row.shelf])
        .tuples()
    )
    latest = latest_numbers("make-up", [row.shelf for row in rows if row.shelf])
    for row in rows:
        now = latest.get((row.shelf, row.key), 0)
        found.append(
            MakeUpView(
                key=row.key, name=row.name, kind=row.kind, about=row.about, own=row.id,
                shelf=names.get(row.shelf, ""), shelf_number=row.shelf_number,
                newer=now if row.shelf_number and now > row.shelf_number else None,
                findings=[says for says, *_ in row.findings],
                version=row.version, source=row.source,
            )
        )  # fmt: skip
    return found


def makeup_words() -> MakeUpWords:
    """What make-ups are written with."""
    found = words()
    return MakeUpWords(
        functions=[
            FunctionView(name=f.name, parameters=list(f.parameters), source=f.source) for f in found.functions
        ],
        families=list(found.families),
        parts=[SharedPart(name=name, gives=gives) for name, gives in found.parts.items()],
        steel=list(found.steel),
    )


def input_views(makeup: MakeUp, entered: dict[str, str]) -> list[InputView]:
    """The questions of a make-up with what was entered."""
    return [
        InputView(
            key=field.key, label=field.label, unit=makeup.system.symbol(field.unit),
            group=field.group, hint=field.hint,
            entry=_asked_as(field, entered.get(field.key, field.default)),
            entered=field.key in entered, words=field.words,
            choices=[choice.label for choice in field.choices], drawn=[],
        )
        for field in makeup.inputs.values()
    ]  # fmt: skip


def _asked_as(field: Input, entry: str) -> str:
    return as_typed(entry, field.unit) if field.is_number else entry


def sketch_view(makeup: MakeUp, entries: Mapping[str, str], line: Line) -> SketchView:
    """The make-up's sketch at the sizes of a line, with what was entered written on it."""
    sketch = drawn(makeup, entries, line)
    return SketchView(
        parts=[
            SketchPart(
                label=p.label, family=p.family, view=p.view, points=[list(point) for point in p.points],
                radius=p.radius, hollow=p.hollow,
            )
            for p in sketch.parts
        ],
        sizes=[_size(makeup, size) for size in sketch.sizes],
    )  # fmt: skip


def _size(makeup: MakeUp, size: Size) -> SketchSize:
    asked = makeup.inputs.get(size.name)
    symbol = makeup.system.symbol(asked.unit if asked else "m")
    return SketchSize(
        name=size.name, label=asked.label if asked else size.name.capitalize(),
        shows=shown(size.value / makeup.system.size(symbol), least=0 if asked else 2),
        unit=symbol, start=list(size.start), end=list(size.end), across=size.across,
    )  # fmt: skip
