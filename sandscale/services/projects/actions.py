"""Projects made and described, and who is let in."""

from __future__ import annotations

from datetime import date
from typing import Any, get_args

from ...core.numbers.rounding import RATE
from ...core.numbers.systems import UnitSystem
from ...core.numbers.units import menu
from ...core.numbers.ways import WORKING_DAY, Writing
from ...core.refusals import BadEntry
from ...core.words import Role
from ...store.database import database
from ...store.models import Adjustment, Bill, Invitation, Membership, Person, Project
from ..bars.detailing import checked_detailing
from ..keeping import quotas
from ..keeping.acting import Actor, Forbidden, check_version
from ..keeping.recording import action, recording
from ..keeping.views import Saved
from ..people import accounts, invitations

ROLES = get_args(Role)


def new_project(
    person_id: int, name: str, client: str, currency: str, price_date: date, **ways: Any
) -> Project:
    """A new project with its owner and the usual adjustments at nothing.

    Args:
        ways: its ``unit_system`` and how it writes ``numbers``, where they are said.

    Raises:
        BadEntry: the name is empty or the currency no three-letter code.
    """
    if ways.get("unit_system") == "us":
        ways["detailing"] = "imperial"
    said = {"name": name, "client": client, "currency": currency, "price_date": price_date, **ways}
    fields = checked(said)
    with database.atomic():
        project = Project.create(**fields)
        Membership.create(project=project, person=person_id, role="owner")
        bill = Bill.create(project=project, title="Bill of quantities")
        for position, (title, base) in enumerate((("Overheads", "items"), ("Profit", "running"))):
            fields = {"position": position, "name": title, "percent": 0, "base": base}
            Adjustment.create(project=project, bill=bill, **fields)
        quotas.count(project.id)
    return project


@action
def change_project(actor: Actor, version: int, fields: dict[str, Any]) -> Saved:
    """Change what a project is called and for whom, its currency, price date, rounding, working day, unit
    system or way of writing numbers.

    Raises:
        BadEntry: a value doesn't fit.
        Stale: someone else changed it meanwhile.
    """
    project = Project.get_by_id(actor.project_id)
    fields = checked(fields, project.id)
    check_version(project, version, fields)
    with recording(actor, "Project settings") as log:
        log.update(log.project, **fields)
    return log.saved(project)


def checked(fields: dict[str, Any], project_id: int | None = None) -> dict[str, Any]:
    """What was typed of a project, as it is kept.

    Raises:
        BadEntry: a value doesn't fit.
    """
    for name in ("name", "client"):
        if name in fields:
            fields[name] = fields[name].strip()
    if fields.get("name") == "":
        raise BadEntry("A project needs a name.", field="name")
    if "currency" in fields:
        fields["currency"] = fields["currency"].strip().upper()
        if len(fields["currency"]) != 3 or not fields["currency"].isalpha():
            raise BadEntry("A currency is three letters, such as EUR.", field="currency")
    for name, choices in (("unit_system", get_args(UnitSystem)), ("numbers", get_args(Writing))):
        if fields.get(name, choices[0]) not in choices:
            raise BadEntry(
                f"“{fields[name]}” is none of {', '.join(filter(None, choices))}.",
                field=name,
                remedy="Choose one of the list.",
            )
    if not 1 <= fields.get("working_day", WORKING_DAY) <= 24:
        raise BadEntry(
            f"A working day of {fields['working_day']:g} h can't be.",
            field="working_day",
            remedy="It has 1 to 24 hours.",
        )
    if "detailing" in fields:
        checked_detailing(fields["detailing"], project_id)
    for unit, places in fields.get("rounding", {}).items():
        least, most = (2, 4) if unit == RATE else (0, 6)
        if (unit not in menu() and unit != RATE) or not least <= places <= most:
            raise BadEntry(
                f"Rounding of “{unit}” to {places} decimals can't be kept.",
                field="rounding",
                remedy="Use a unit of the list and 0 to 6 decimals; a rate has 2 to 4.",
            )
    return fields


def share(actor: Actor, email: str, role: str) -> None:
    """Invite a person into the project, or change the role of one who belongs to it.

    Whether an address has an account is told by nothing here.

    Raises:
        Forbidden: the actor is not the owner.
        BadEntry: the address is none, or the role not known.
    """
    _require_owner(actor)
    if role not in ROLES:
        raise BadEntry(f"“{role}” is not a role.", field="role", remedy=f"Use one of {', '.join(ROLES)}.")
    address = accounts.address(email)
    member = _member(actor, address)
    if member is None:
        return invitations.invite(actor, address, role)
    if member.person_id == actor.person_id:
        raise BadEntry("The owner keeps their own role.", field="email")
    Membership.update(role=role).where(Membership.id == member.id).execute()


def _member(actor: Actor, address: str) -> Membership | None:
    """The one of that address who belongs to the project."""
    mine = (Membership.project == actor.project_id) & (Person.email == address)
    return Membership.select().join(Person).where(mine).first()


def unshare(actor: Actor, email: str) -> None:
    """Take someone out of the project, or an invitation back.

    Raises:
        Forbidden: the actor is not the owner.
        BadEntry: they don't belong to it, or are its owner.
    """
    _require_owner(actor)
    address = accounts.address(email)
    mine = (Invitation.project == actor.project_id) & (Invitation.email == address)
    taken = Invitation.delete().where(mine).execute()
    member = _member(actor, address)
    if member is not None and member.person_id == actor.person_id:
        raise BadEntry(
            "The owner can't leave their own project.",
            field="email",
            remedy="Make someone else its owner first.",
        )
    if member is not None:
        taken += Membership.delete().where(Membership.id == member.id).execute()
    if not taken:
        raise BadEntry(f"{address} doesn't belong to this project.", field="email")


def delete_project(actor: Actor, name: str) -> None:
    """Delete a project with all that is in it; nothing brings it back but a project file or a backup.

    Args:
        name: what it is called, typed, so that no slip does it.

    Raises:
        Forbidden: the actor is not the owner.
        BadEntry: the name is another.
    """
    _require_owner(actor)
    project = Project.get_by_id(actor.project_id)
    if name.strip() != project.name:
        raise BadEntry(
            "That is not what the project is called.", field="name", remedy=f"Type “{project.name}”."
        )
    with database.atomic():
        Project.select(Project.id).where(Project.id == project.id).for_update().get()
        Project.delete().where(Project.id == project.id).execute()


def _require_owner(actor: Actor) -> None:
    if actor.role != "owner":
        raise Forbidden("Only the owner does that.")
