"""Projects listed, how far each is, and who belongs to it."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from peewee import fn

from ...core.numbers.rounding import DEFAULT_PLACES
from ...core.numbers.units import menu
from ...store.models import (
    BarLine,
    Bill,
    BuildUp,
    Change,
    Earthwork,
    EarthworkMade,
    Element,
    GroundSurface,
    Invitation,
    Item,
    Membership,
    Person,
    Project,
    PurchaseOrder,
    QuantityLine,
    Resource,
    Route,
    RouteMade,
    Section,
    Sheet,
    SurfaceMade,
    TrenchMade,
    TrenchNetwork,
    now,
)
from ..keeping.acting import Actor, Missing
from .views import HereView, MemberView, ProjectBrief, ProjectView, StageView

HERE_FOR = timedelta(seconds=40)  # a page says every 15 that it is looked at


def projects_of(person_id: int) -> list[ProjectBrief]:
    """The projects a person belongs to, the newest first."""
    query = (
        Membership.select(Membership, Project)
        .join(Project)
        .where(Membership.person == person_id)
        .order_by(Project.id.desc())
    )
    elements = _counts(Element)
    sheets = _counts(Sheet)
    return [
        ProjectBrief(
            id=m.project.id, name=m.project.name, client=m.project.client, currency=m.project.currency,
            role=m.role,
            bill_total=m.project.bill_total, elements=elements.get(m.project.id, 0),
            sheets=sheets.get(m.project.id, 0),
        )
        for m in query
    ]  # fmt: skip


def _counts(model: Any) -> dict[int, int]:
    return dict(model.select(model.project, fn.COUNT(model.id)).group_by(model.project).tuples())


def project_view(actor: Actor) -> ProjectView:
    """A project with how far each stage of its path is."""
    project = Project.get_or_none(Project.id == actor.project_id)
    if project is None:
        raise Missing("That project is gone.")
    latest = Change.select(fn.COALESCE(fn.MAX(Change.id), 0)).where(Change.project == project.id).scalar()
    return ProjectView(
        detailing=project.detailing, change=latest,
        id=project.id, version=project.version, name=project.name, client=project.client,
        currency=project.currency,
        price_date=project.price_date, unit_system=project.unit_system, numbers=project.numbers,
        working_day=project.working_day,
        rounding={**DEFAULT_PLACES, **project.rounding}, role=actor.role,
        bill_total=project.bill_total, path=_path(project.id), units=list(menu()),
    )  # fmt: skip


def _path(project_id: int) -> list[StageView]:
    def count(model: Any, *conditions: Any) -> int:
        query = model.select().where(model.project == project_id, *conditions)
        return int(query.count())

    measured = (
        QuantityLine.select(QuantityLine.element)
        .where((QuantityLine.project == project_id) & (QuantityLine.net != 0))
        .distinct()
        .count()
    )
    own = Section.select(Section.id).join(Bill).where((Section.project == project_id) & (Bill.kind == "own"))
    ours = (Item.section << own) & Item.kind.not_in(("heading", "rate_only"))
    items, priced = count(Item, ours), count(Item, ours, Item.amount != 0)
    return [
        StageView(stage="sheets", done=count(Sheet, Sheet.metres_per_unit.is_null(False)), of=count(Sheet)),
        StageView(stage="measure", done=measured, of=count(Element)),
        StageView(
            stage="bars", done=count(BarLine, fn.jsonb_array_length(BarLine.findings) == 0), of=count(BarLine)
        ),
        StageView(
            stage="ground",
            done=count(EarthworkMade)
            + count(TrenchMade)
            + count(RouteMade)
            + count(SurfaceMade, SurfaceMade.says == ""),
            of=count(Earthwork) + count(TrenchNetwork) + count(Route) + count(GroundSurface),
        ),
        StageView(stage="prices", done=count(Resource, Resource.price.is_null(False)), of=count(Resource)),
        StageView(stage="rates", done=count(BuildUp, BuildUp.rate > 0), of=count(BuildUp)),
        StageView(stage="bill", done=priced, of=items),
        StageView(
            stage="order",
            done=count(PurchaseOrder, PurchaseOrder.ordered_on.is_null(False)),
            of=count(PurchaseOrder),
        ),
        StageView(stage="issue", done=int(bool(items) and priced == items), of=1),
    ]


def here(actor: Actor) -> HereView:
    """Who else looks at the project just now; and that the actor does is kept, for the others."""
    moment = now()
    mine = (Membership.project == actor.project_id) & (Membership.person == actor.person_id)
    Membership.update(seen=moment).where(mine).execute()
    others = (
        (Membership.project == actor.project_id)
        & (Membership.person != actor.person_id)
        & (Membership.seen > moment - HERE_FOR)
    )
    query = Membership.select(Membership, Person).join(Person).where(others).order_by(Membership.id)
    return HereView(names=[member.person.name for member in query])


def members(actor: Actor) -> list[MemberView]:
    """Who belongs to the project, in the order they came; then who is invited."""
    query = (
        Membership.select(Membership, Person)
        .join(Person)
        .where(Membership.project == actor.project_id)
        .order_by(Membership.id)
    )
    invited = (
        Invitation.select()
        .where((Invitation.project == actor.project_id) & (Invitation.expires > now()))
        .order_by(Invitation.id)
    )
    return [
        *(MemberView(name=m.person.name, email=m.person.email, role=m.role) for m in query),
        *(MemberView(name="", email=i.email, role=i.role, invited=True) for i in invited),
    ]
