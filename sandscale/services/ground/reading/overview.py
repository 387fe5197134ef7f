"""What the ground stage holds, as its list shows it."""

from __future__ import annotations

from typing import Any

from peewee import fn

from ....store.models import (
    EarthworkMade,
    Element,
    GroundSurface,
    RouteChange,
    RouteMade,
    SurfaceMade,
    Survey,
    SurveyLooked,
    TrenchKind,
    TrenchMade,
    TrenchRun,
    TypicalSection,
)
from ...keeping.acting import Actor
from ...keeping.one_reading import one_reading
from ...keeping.slow import being_worked_out
from ..nodes import LEVELS, SURFACES
from ..views import (
    EarthworkBrief,
    GroundView,
    KindBrief,
    NetworkBrief,
    RouteBrief,
    State,
    SurfaceBrief,
    SurveyBrief,
    TypicalBrief,
)


def ground_view(actor: Actor) -> GroundView:
    """Surveys, surfaces, earthworks, trenches and routes of a project, and what they are built like, in their
    order."""
    with one_reading():
        surveys = Survey.those(Survey.project, [actor.project_id], Survey.position, Survey.id)
        surfaces = GroundSurface.those(
            GroundSurface.project, [actor.project_id], GroundSurface.position, GroundSurface.id
        )
        works, networks, routes = (
            Element.those(Element.project, [actor.project_id], Element.position, Element.id, measurer=key)
            for key in ("earthwork", "trench", "route")
        )
        return GroundView(
            surveys=survey_briefs(surveys), surfaces=surface_briefs(surfaces), earthworks=work_briefs(works),
            networks=network_briefs(networks), kinds=_kinds(actor), routes=route_briefs(routes),
            typicals=_typicals(actor),
        )  # fmt: skip


def state_of(waiting: set[int], row_id: int, kept: Any) -> State:
    """How a figure stands: being worked out, there, or not there at all."""
    return "working" if row_id in waiting else "fresh" if kept is not None else "none"


def survey_briefs(rows: list[Survey]) -> list[SurveyBrief]:
    """Surveys as the list shows them."""
    ids = [row.id for row in rows]
    fields = (SurveyLooked.survey, SurveyLooked.number, SurveyLooked.used, SurveyLooked.undecided)
    seen = {row.survey_id: row for row in SurveyLooked.select(*fields).where(SurveyLooked.survey << ids)}
    waiting = being_worked_out(LEVELS, ids)
    return [
        SurveyBrief(
            id=row.id, version=row.version, name=row.name, origin=row.origin,
            number=seen[row.id].number if row.id in seen else 0,
            used=seen[row.id].used if row.id in seen else 0,
            undecided=seen[row.id].undecided if row.id in seen else 0,
            state=state_of(waiting, row.id, seen.get(row.id)),
        )
        for row in rows
    ]  # fmt: skip


def surface_briefs(rows: list[GroundSurface]) -> list[SurfaceBrief]:
    """Surfaces as the list shows them."""
    ids = [row.id for row in rows]
    fields = (
        SurfaceMade.surface, SurfaceMade.number, SurfaceMade.lowest, SurfaceMade.highest, SurfaceMade.says
    )  # fmt: skip
    made = {row.surface_id: row for row in SurfaceMade.select(*fields).where(SurfaceMade.surface << ids)}
    waiting = being_worked_out(SURFACES, ids)
    return [
        SurfaceBrief(
            id=row.id, version=row.version, name=row.name,
            number=made[row.id].number if row.id in made else 0,
            lowest=made[row.id].lowest if row.id in made else None,
            highest=made[row.id].highest if row.id in made else None,
            says=made[row.id].says if row.id in made else "",
            state=state_of(waiting, row.id, made.get(row.id)),
        )
        for row in rows
    ]  # fmt: skip


def work_briefs(rows: list[Element]) -> list[EarthworkBrief]:
    """Earthworks as the list shows them."""
    ids = [row.id for row in rows]
    made = dict(
        EarthworkMade.select(EarthworkMade.element, EarthworkMade.result)
        .where(EarthworkMade.element << ids)
        .tuples()
    )
    waiting = being_worked_out("quantities", ids)
    return [
        EarthworkBrief(
            id=row.id, version=row.version, location=row.location_id, mark=row.mark,
            description=row.description, **_volumes(made.get(row.id)), findings=len(row.findings),
            state=state_of(waiting, row.id, made.get(row.id)),
        )
        for row in rows
    ]  # fmt: skip


def network_briefs(rows: list[Element]) -> list[NetworkBrief]:
    """Networks of trenches as the list shows them."""
    ids = [row.id for row in rows]
    made = dict(
        TrenchMade.select(TrenchMade.element, TrenchMade.result).where(TrenchMade.element << ids).tuples()
    )
    waiting = being_worked_out("quantities", ids)
    return [
        NetworkBrief(
            id=row.id, version=row.version, location=row.location_id, mark=row.mark,
            description=row.description, length=made[row.id]["length"] if row.id in made else None,
            dug=made[row.id]["dug"] if row.id in made else None, findings=len(row.findings),
            state=state_of(waiting, row.id, made.get(row.id)),
        )
        for row in rows
    ]  # fmt: skip


def route_briefs(rows: list[Element]) -> list[RouteBrief]:
    """Routes as the list shows them."""
    ids = [row.id for row in rows]
    made = dict(
        RouteMade.select(RouteMade.element, RouteMade.result).where(RouteMade.element << ids).tuples()
    )
    waiting = being_worked_out("quantities", ids)
    return [
        RouteBrief(
            id=row.id, version=row.version, location=row.location_id, mark=row.mark,
            description=row.description, length=made[row.id]["length"] if row.id in made else None,
            findings=len(row.findings), state=state_of(waiting, row.id, made.get(row.id)),
        )
        for row in rows
    ]  # fmt: skip


def _typicals(actor: Actor) -> list[TypicalBrief]:
    rows = TypicalSection.those(
        TypicalSection.project, [actor.project_id], TypicalSection.position, TypicalSection.id
    )
    used = dict[int, set[int]]()
    changes = RouteChange.those(RouteChange.typical, [row.id for row in rows])
    for change in changes:
        used.setdefault(change.typical_id, set()).add(change.route_id)
    return [
        TypicalBrief(id=r.id, version=r.version, name=r.name, routes=len(used.get(r.id, ()))) for r in rows
    ]


def _kinds(actor: Actor) -> list[KindBrief]:
    rows = TrenchKind.those(TrenchKind.project, [actor.project_id], TrenchKind.position, TrenchKind.id)
    count = fn.COUNT(TrenchRun.id)
    of = dict(
        TrenchRun.select(TrenchRun.kind, count)
        .where(TrenchRun.kind << [row.id for row in rows])
        .group_by(TrenchRun.kind)
        .tuples()
    )
    return [KindBrief(id=r.id, version=r.version, name=r.name, runs=of.get(r.id, 0)) for r in rows]


def _volumes(result: dict[str, Any] | None) -> dict[str, float | None]:
    """What lies between stripped ground and formation, by the method that is billed."""
    if result is None:
        return {"cut": None, "fill": None}
    cut, fill = next((cut, fill) for name, cut, fill, _ in result["methods"] if name == result["method"])
    return {"cut": cut, "fill": fill}
