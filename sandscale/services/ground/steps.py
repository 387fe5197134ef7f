"""The part of the walk that is the ground: surveys, surfaces, formations, sections and squares."""

from __future__ import annotations

from collections.abc import Iterable

from ...core.ground.areas import Span
from ...core.numbers.entry import as_typed, read_entry
from ...core.numbers.units import unit
from ...core.numbers.ways import ways
from ...core.numbers.working import Working, shown
from ...store.models import (
    Earthwork,
    Element,
    Formation,
    GroundSurface,
    StoredFile,
    SurfaceMade,
    SurfaceSurvey,
    Survey,
    SurveyLooked,
)
from ..keeping.acting import Actor, Missing, find
from ..keeping.views import WalkLink, WalkView
from ..keeping.walking import Step, link_to, view_of
from .actions.earthworks import earthwork_of
from .links import levelled
from .reading.earthworks import cells_of, rows_of
from .routes.steps import STEPS as ROUTE_STEPS
from .trenches.steps import STEPS as TRENCH_STEPS


def _survey(actor: Actor, ref: str, survey_id: str) -> WalkView:
    row = find(Survey, actor, int(survey_id))
    seen = SurveyLooked.get_or_none(SurveyLooked.survey == row.id)
    number, used = (seen.number, seen.used) if seen is not None else (0, 0)
    doubts = seen.doubts if seen is not None else []
    parts = tuple(
        Working(
            says.partition(":")[0], count, "nr", source=f"{undecided} undecided" if undecided else "decided"
        )
        for _, says, count, undecided in doubts
        if count
    )
    working = Working(
        f"Levels used of {row.name}", used, "nr", "levels − left out",
        f"{shown(number, 0)} − {shown(number - used, 0)}", parts=parts, source=_origin(row),
    )  # fmt: skip
    goes = [
        link_to(f"surface:{each.id}", f"Surface {each.name}", None, "", "ground", None)
        for each in GroundSurface.those(
            GroundSurface.id, SurfaceSurvey.column(SurfaceSurvey.surface, SurfaceSurvey.survey, [row.id])
        )
    ]
    return view_of(ref, working, [], goes, [says for _, says, _, undecided in doubts if undecided])


def _origin(row: Survey) -> str:
    name = StoredFile.select(StoredFile.name).where(StoredFile.id == row.source_id).scalar()
    return {"typed": "typed", "sheet": "picked off a sheet"}.get(row.origin) or f"file {name}"


def _surface(actor: Actor, ref: str, surface_id: str) -> WalkView:
    row = find(GroundSurface, actor, int(surface_id))
    fields = [field for field in SurfaceMade._meta.sorted_fields if field.name != "packed"]
    made = SurfaceMade.select(*fields).where(SurfaceMade.surface == row.id).first()
    here = ways().system
    m2 = here.symbol("m²")
    area = (made.plan_area or 0.0) / unit(m2).size if made else 0.0
    true = (made.true_area or 0.0) / unit(m2).size if made else 0.0
    figures = f"{shown(made.triangles, 0)} triangles between {shown(made.number, 0)} levels" if made else ""
    parts = [Working("True area", true, m2, source="on the slope")]
    if made is not None and made.lowest is not None:
        m = here.symbol("m")
        parts += [
            Working("Lowest", made.lowest * here.size("m"), m),
            Working("Highest", made.highest * here.size("m"), m),
        ]
    working = Working(
        f"Plan area of {row.name}", area, m2, "Σ plan area of its triangles", figures, parts=tuple(parts)
    )
    chosen = SurfaceSurvey.column(SurfaceSurvey.survey, SurfaceSurvey.surface, [row.id])
    comes = list(_surveys(chosen))
    works = [*row.earthworks, *(each.earthwork for each in row.formations)]
    goes = [
        link_to(
            f"quantity:{w.element_id}:cut", f"Earthwork {w.element.mark}", None, "", "ground", w.element_id
        )
        for w in {work.id: work for work in works}.values()
    ]
    goes += [
        link_to(f"quantity:{n.id}:dug", f"Trenches {n.mark}", None, "", "ground", n.id)
        for n in (network.element for network in row.networks)
    ]
    goes += [
        link_to(f"quantity:{r.id}:cut", f"Route {r.mark}", None, "", "ground", r.id)
        for r in (route.element for route in row.routes)
    ]
    findings = [says for says, *_ in made.findings] if made else ["It is still being made."]
    return view_of(ref, working, comes, goes, [*findings, *([made.says] if made and made.says else [])])


def _surveys(ids: Iterable[int]) -> Iterable[WalkLink]:
    fields = (SurveyLooked.survey, SurveyLooked.number, SurveyLooked.used)
    seen = {
        row.survey_id: row for row in SurveyLooked.select(*fields).where(SurveyLooked.survey << list(ids))
    }
    for row in Survey.those(Survey.id, ids, Survey.position):
        told = f"{seen[row.id].used} of {seen[row.id].number}" if row.id in seen else ""
        yield link_to(f"survey:{row.id}", row.name, told, "levels", "ground", None)


def _formation(actor: Actor, ref: str, formation_id: str) -> WalkView:
    row = find(Formation, actor, int(formation_id))
    here, element = ways().system, row.earthwork.element
    level = read_entry(row.level, "m", field="level") * here.size("m") if row.level.strip() else 0.0
    told = [
        ("Rise to the east", row.grade_east), ("Rise to the north", row.grade_north),
        ("Batter in cut", row.cut_batter), ("Batter in fill", row.fill_batter),
    ]  # fmt: skip
    parts = tuple(Working(name, 0.0, "", source=entry) for name, entry in told if entry.strip())
    corners = [corner for corner in row.outline if corner[2] is not None]
    parts += tuple(
        Working(f"Corner at {levelled(corner[0])}, {levelled(corner[1])}", corner[2] * here.size("m"), "m")
        for corner in corners[:20]
    )
    working = Working(
        f"{row.name or 'Formation'} of {element.mark}", level, here.symbol("m"), source="typed",
        figures=as_typed(row.level, "m"), parts=parts,
    )  # fmt: skip
    goes = [
        link_to(f"quantity:{element.id}:cut", f"Earthwork {element.mark}", None, "", "ground", element.id)
    ]
    return view_of(ref, working, [], goes)


def _work(actor: Actor, element_id: str) -> tuple[Element, Earthwork]:
    row = earthwork_of(actor, int(element_id))
    return row.element, row


def _row(actor: Actor, ref: str, element_id: str, at: str) -> WalkView:
    """A section along the grid: its areas in trapezia, and the volumes to the next. In m, whatever the
    project's units, as sections are set out."""
    element, row = _work(actor, element_id)
    _, made = rows_of(row)
    if not at.isdecimal() or int(at) >= len(made.sections):
        raise Missing(f"{element.mark} has no such section.")
    section = made.sections[int(at)]
    spans = [
        _span_told(side, span)
        for side, volume in (("Cut", made.cut_volume), ("Fill", made.fill_volume))
        for span in volume.spans
        if span.begin == section.chainage
    ]
    name = f"Row {int(at) + 1} of {element.mark}"
    working = Working(
        f"{name}, cut", section.area.above, "m²", "Σ trapezia",
        parts=(
            *section.area.working("Cut").parts,
            section.area.working("Fill", below=True),
            *spans,
        ),
    )  # fmt: skip
    goes = [link_to(f"quantity:{element.id}:cut", f"Cut of {element.mark}", None, "", "ground", element.id)]
    return view_of(ref, working, [], goes)


def _span_told(side: str, span: Span) -> Working:
    told = span.working()
    return Working(f"{side} to the next, {told.name}", told.value, told.unit, told.expression, told.figures)


def _block(actor: Actor, ref: str, element_id: str, at: str) -> WalkView:
    element, row = _work(actor, element_id)
    made = cells_of(row)
    if not at.isdecimal() or int(at) >= len(made.outlines):
        raise Missing(f"{element.mark} has no such square.")
    goes = [link_to(f"quantity:{element.id}:cut", f"Cut of {element.mark}", None, "", "ground", element.id)]
    return view_of(ref, made.block(int(at)), [], goes)


STEPS = {
    "survey": Step(1, _survey, Survey),
    "surface": Step(1, _surface, GroundSurface),
    "formation": Step(1, _formation, Formation),
    "earth-row": Step(2, _row),
    "earth-block": Step(2, _block),
    **TRENCH_STEPS,
    **ROUTE_STEPS,
}
