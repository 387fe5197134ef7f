"""Projects: made, listed, described, and who belongs to them."""

from __future__ import annotations

from datetime import date
from typing import Any

from peewee import fn

from ..core.numbers.rounding import DEFAULT_PLACES
from ..core.numbers.units import menu
from ..core.refusals import BadEntry
from ..store.database import database
from ..store.models import (
    Adjustment,
    BuildUp,
    Element,
    Invitation,
    Item,
    Membership,
    Person,
    Project,
    QuantityLine,
    Resource,
    Sheet,
    now,
)
from . import people
from .acting import Actor, Forbidden, Missing, check_version
from .recording import action, recording
from .views import InvitationView, MemberView, ProjectBrief, ProjectView, Saved, StageView

ROLES = ("owner", "editor", "viewer")


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


def new_project(person_id: int, name: str, client: str, currency: str, price_date: date) -> Project:
    """A new project with its owner and the usual adjustments at nothing.

    Raises:
        BadEntry: the name is empty or the currency no three-letter code.
    """
    fields = _checked({"name": name, "client": client, "currency": currency, "price_date": price_date})
    with database.atomic():
        project = Project.create(**fields)
        Membership.create(project=project, person=person_id, role="owner")
        for position, (title, base) in enumerate((("Overheads", "items"), ("Profit", "running"))):
            Adjustment.create(project=project, position=position, name=title, percent=0, base=base)
    return project


@action
def change_project(actor: Actor, version: int, fields: dict[str, Any]) -> Saved:
    """Change a project's name, client, currency, price date or rounding.

    Raises:
        BadEntry: a value doesn't fit.
        Stale: someone else changed it meanwhile.
    """
    project = Project.get_by_id(actor.project_id)
    fields = _checked(fields)
    check_version(project, version, fields)
    with recording(actor, "Project settings") as log:
        log.update(log.project, **fields)
    return Saved(label=log.label, id=project.id, version=log.project.version, bill_total=log.bill_total)


def _checked(fields: dict[str, Any]) -> dict[str, Any]:
    for name in ("name", "client"):
        if name in fields:
            fields[name] = fields[name].strip()
    if fields.get("name") == "":
        raise BadEntry("A project needs a name.", field="name")
    if "currency" in fields:
        fields["currency"] = fields["currency"].strip().upper()
        if len(fields["currency"]) != 3 or not fields["currency"].isalpha():
            raise BadEntry("A currency is three letters, such as EUR.", field="currency")
    for unit, places in fields.get("rounding", {}).items():
        if unit not in menu() or not 0 <= places <= 6:
            raise BadEntry(
                f"Rounding of “{unit}” to {places} decimals can't be kept.",
                field="rounding",
                remedy="Use a unit of the list and 0 to 6 decimals.",
            )
    return fields


def project_view(actor: Actor) -> ProjectView:
    """A project with how far each stage of its path is."""
    project = Project.get_or_none(Project.id == actor.project_id)
    if project is None:
        raise Missing("That project is gone.")
    return ProjectView(
        id=project.id, version=project.version, name=project.name, client=project.client,
        currency=project.currency,
        price_date=project.price_date, rounding={**DEFAULT_PLACES, **project.rounding}, role=actor.role,
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
    items, priced = count(Item), count(Item, Item.amount != 0)
    return [
        StageView(stage="sheets", done=count(Sheet, Sheet.metres_per_unit.is_null(False)), of=count(Sheet)),
        StageView(stage="measure", done=measured, of=count(Element)),
        StageView(stage="prices", done=count(Resource, Resource.price.is_null(False)), of=count(Resource)),
        StageView(stage="rates", done=count(BuildUp, BuildUp.rate > 0), of=count(BuildUp)),
        StageView(stage="bill", done=priced, of=items),
        StageView(stage="issue", done=int(bool(items) and priced == items), of=1),
    ]


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


def share(actor: Actor, email: str, role: str) -> InvitationView | None:
    """Let another person into the project, or change their role; someone without an account is invited.

    Returns:
        The invitation to hand on, for someone who has no account yet.

    Raises:
        Forbidden: the actor is not the owner.
        BadEntry: the address is none, or the role not known.
    """
    _require_owner(actor)
    if role not in ROLES:
        raise BadEntry(f"“{role}” is not a role.", field="role", remedy=f"Use one of {', '.join(ROLES)}.")
    address = people.address(email)
    person = Person.get_or_none(Person.email == address)
    if person is None:
        return people.invite(actor.project_id, address, role)
    if person.id == actor.person_id:
        raise BadEntry("The owner keeps their own role.", field="email")
    with database.atomic():
        member, made = Membership.get_or_create(
            project=actor.project_id, person=person, defaults={"role": role}
        )
        if not made:
            Membership.update(role=role).where(Membership.id == member.id).execute()
    return None


def unshare(actor: Actor, email: str) -> None:
    """Take someone out of the project, or an invitation back.

    Raises:
        Forbidden: the actor is not the owner.
        BadEntry: they don't belong to it, or are its owner.
    """
    _require_owner(actor)
    address = people.address(email)
    taken = (
        Invitation.delete()
        .where((Invitation.project == actor.project_id) & (Invitation.email == address))
        .execute()
    )
    person = Person.get_or_none(Person.email == address)
    if person is not None and person.id == actor.person_id:
        raise BadEntry(
            "The owner can't leave their own project.",
            field="email",
            remedy="Make someone else its owner first.",
        )
    if person is not None:
        taken += (
            Membership.delete()
            .where((Membership.project == actor.project_id) & (Membership.person == person.id))
            .execute()
        )
    if not taken:
        raise BadEntry(f"{address} doesn't belong to this project.", field="email")


def _require_owner(actor: Actor) -> None:
    if actor.role != "owner":
        raise Forbidden("Only the owner lets people into a project.")
