"""What was entered for elements, as the core takes it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import replace
from functools import lru_cache

from ...core.bars.detailing import rules_of
from ...core.figures.scale import Scale
from ...core.makeups.makeup import MakeUp, built_in_keys, built_in_makeup, read_makeup
from ...core.makeups.measurer import Entered
from ...core.makeups.run import Line, faced
from ...core.numbers.entry import read_entry, read_times
from ...core.numbers.systems import SYSTEMS, UnitSystem
from ...core.numbers.units import unit
from ...core.numbers.working import shown
from ...core.refusals import BadEntry, BadFormula, BadShape
from ...core.structure.junctions import Strip, branches
from ...store.models import (
    DimensionLine,
    Element,
    Figure,
    OwnMakeUp,
    Project,
    Sheet,
)
from ..bars.detailing import detailing_of, texts_of
from .draws import drawn_by
from .measuring import as_run, measured, scale_under, with_drawings, with_scale_areas
from .taken import taken_of

WORDS = "what"  # the question for the words of a bill item
BY_DRAWING = "junctions_by"  # the question whether junctions go by what is drawn
MOST_RUNS = 400  # on one sheet, that are looked through for junctions
# What a line takes from another element's output, by the output's unit.
TAKEN_AS = {"m": "length", "ft": "length", "m²": "area", "ft²": "area", "nr": "times"}


def makeup_of(project_id: int, key: str, detailing: str = "", unit_system: UnitSystem = "metric") -> MakeUp:
    """The make-up of that key: the project's own, or a built-in one.

    Args:
        detailing: the rules its bars follow, by key or as a text; the standard ones when empty.
        unit_system: the one it reckons in.

    Raises:
        Refusal: there is none.
    """
    for own in OwnMakeUp.those(OwnMakeUp.key, [key], project=project_id):
        return read_source(own.source, detailing, unit_system)
    if key in built_in_keys():
        return built_in_makeup(key, detailing, unit_system)
    raise BadFormula(
        f"There is no make-up “{key}” in this project.", field="makeup", remedy="Choose another make-up."
    )


@lru_cache(maxsize=128)
def read_source(source: str, detailing: str = "", unit_system: UnitSystem = "metric") -> MakeUp:
    """A make-up from its text, read and proved once while it is in use."""
    return read_makeup(source, rules_of(detailing), SYSTEMS[unit_system])


def makeup_entries(
    elements: Sequence[Element], rows: Mapping[int, list[DimensionLine]]
) -> dict[int, Entered]:
    """What was entered for elements that have a make-up, by their ids; with their dimension lines."""
    projects = {p.id: p for p in Project.those(Project.id, {e.project_id for e in elements})}
    followed = {e.id: detailing_of(e, projects[e.project_id]) for e in elements}
    rules = {p: texts_of(p, {followed[e.id] for e in elements if e.project_id == p}) for p in projects}
    wanted = {
        e.id: (e.project_id, e.source, _named(rules[e.project_id], followed[e.id]), p.unit_system)
        for e, p in ((e, projects[e.project_id]) for e in elements)
    }
    makeups = {each: makeup_of(*each) for each in set(wanted.values())}
    found = {e.id: _entered(e, makeups[wanted[e.id]], rows[e.id]) for e in elements}
    return found | _drawn({key: given for key, given in found.items() if given.makeup.is_allowance})


def number_units(makeup: MakeUp) -> dict[str, str]:
    """The units of what is entered as numbers, by input."""
    return {field.key: field.unit for field in makeup.inputs.values() if field.is_number}


def _drawn(allowances: dict[int, Entered]) -> dict[int, Entered]:
    """What was entered for allowances, with what their inputs draw from the project in place of it."""
    if not allowances:
        return {}
    units = {key: number_units(given.makeup) for key, given in allowances.items()}
    drawn = drawn_by(allowances, units)
    return {key: given.drawing(drawn.get(key, ())) for key, given in allowances.items()}


def _named(rules: Mapping[str, str], key: str) -> str:
    if key not in rules:
        raise BadEntry(f"There are no detailing rules “{key}” any more.", field="detailing")
    return rules[key]


def _entered(element: Element, makeup: MakeUp, rows: list[DimensionLine]) -> Entered:
    if makeup.is_allowance:
        return Entered(makeup, answers(element, makeup), (Line(),))
    lines = [faced(line, makeup.needs) for line in read_lines(rows)]
    if BY_DRAWING in makeup.inputs:
        for at, number in _drawn_junctions(rows, lines):
            lines[at] = replace(lines[at], drawn_junctions=number)
    return Entered(makeup, answers(element, makeup), tuple(lines))


def answers(element: Element, makeup: MakeUp) -> Mapping[str, str]:
    """What was entered for a make-up. One that asks what it is takes the element's description for it."""
    if WORDS in makeup.inputs and element.description:
        return {WORDS: element.description, **element.inputs}
    return element.inputs  # type: ignore[no-any-return]


def lines_of(element_ids: Iterable[int]) -> dict[int, list[DimensionLine]]:
    """The dimension lines of elements, in order, with their figures and sheets, and with what they take."""
    wanted = list(element_ids)
    found: dict[int, list[DimensionLine]] = {element_id: [] for element_id in wanted}
    rows = DimensionLine.those(DimensionLine.element, wanted, DimensionLine.position, DimensionLine.id)
    # Figures come by a query of their own: most lines of a large project are typed.
    figures = {
        row.id: row for row in Figure.those(Figure.id, {row.figure_id for row in rows if row.figure_id})
    }
    sheets = {row.id: row for row in Sheet.those(Sheet.id, {row.sheet_id for row in figures.values()})}
    with_drawings(sheets.values())
    with_scale_areas(sheets.values())
    for figure in figures.values():
        figure.sheet = sheets[figure.sheet_id]
    taken = taken_of((row.taken_from_id, row.taken_output) for row in rows)
    for line in rows:
        if line.figure_id:
            line.figure = figures[line.figure_id]
        line.taken = taken.get((line.taken_from_id, line.taken_output))
        found[line.element_id].append(line)
    return found


def read_lines(lines: Iterable[DimensionLine]) -> list[Line]:
    """Dimension lines as the core takes them: entries read, figures measured at their sheet's scale."""
    return [_read_line(line) for line in lines]


def _drawn_junctions(rows: Sequence[DimensionLine], read: Sequence[Line]) -> Iterator[tuple[int, int]]:
    """Where the runs of an element meet on their sheet, at one scale: the line and how many ends of it."""
    drawn: dict[tuple[int, Scale], list[int]] = {}
    for at, row in enumerate(rows):
        if row.figure_id and row.figure.kind == "run" and not row.deduct and read[at].width:
            with suppress(BadShape):
                drawn.setdefault((row.figure.sheet_id, scale_under(row.figure, row.figure.sheet)), []).append(
                    at
                )
    for (_, scale), together in drawn.items():
        strips = [
            Strip(
                tuple((x * scale.x, y * scale.y) for x, y in as_run(rows[at].figure).path),
                read[at].width or 0.0,
            )
            for at in together
        ]
        if 1 < len(strips) <= MOST_RUNS:
            yield from ((at, number) for at, number in zip(together, branches(strips), strict=True) if number)


def _read_line(line: DimensionLine) -> Line:
    times, shown_times = read_times(line.times), line.times.strip().rstrip("/")
    figure = line.figure if line.figure_id else None

    def length(entry: str, name: str) -> float | None:
        return read_entry(entry, "m", field=name, minimum=0) if entry.strip() else None

    along, link = length(line.length, "length"), f"line:{line.id}"
    area, girth, void_girth = None, None, 0.0
    number: float | None = None
    if figure is not None:
        drawn, link = measured(figure, figure.sheet), f"figure:{figure.id}"
        area, girth, void_girth, number = drawn.area, drawn.girth, drawn.void_girth, drawn.number
        along = along if drawn.length is None else drawn.length
    elif line.taken is not None:
        link, as_ = line.taken.link, TAKEN_AS.get(line.taken.unit)
        value = line.taken.value * unit(line.taken.unit).size
        along, area, number = (value if as_ == each else was for each, was in zip(
            ("length", "area", "times"), (along, area, number), strict=True
        ))  # fmt: skip
    if number is not None:
        times *= number
        told = shown(number, least=0)
        shown_times = f"{shown_times}/{told}" if shown_times else told
    return Line(
        times, along, length(line.width, "width"), length(line.height, "height"), area, line.deduct,
        f"{shown_times}/" if shown_times else "", line.note, link, girth, void_girth,
    )  # fmt: skip
