"""Projects, who belongs to them, and taking a project file in."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, g, request
from pydantic import BaseModel, RootModel

from ..core.refusals import BadEntry
from ..formats.project_json import LARGEST_DOCUMENT
from ..services import checks, history, issue, projects, walk
from ..services.acting import Actor
from ..services.views import (
    ChangeView,
    CheckView,
    HistoryStep,
    InvitationView,
    MemberView,
    ProjectBrief,
    ProjectView,
    PulseView,
    Saved,
    WalkView,
)
from .api import answers, api, signed_in, stage
from .schemas import Address, NewProject, ProjectChange, Share

blueprint = Blueprint("projects", __name__, url_prefix="/api/projects")
one = stage("project")


class ProjectList(RootModel[list[ProjectBrief]]):
    """The person's projects."""


class Members(RootModel[list[MemberView]]):
    """Who belongs to a project."""


class History(RootModel[list[ChangeView]]):
    """Changes, newest first."""


class Checks(RootModel[list[CheckView]]):
    """What looks wrong, what stops the bill first."""


class Steps(RootModel[list[HistoryStep]]):
    """What was done to a number, newest first."""


class Shared(BaseModel):
    """Who belongs to the project now; and the invitation to hand on, where one was made."""

    invitation: InvitationView | None
    members: list[MemberView]


@blueprint.get("")
@api.validate(resp=answers(ProjectList))
def listed() -> Any:
    """The projects of the person signed in."""
    return ProjectList(projects.projects_of(signed_in()))


@blueprint.post("")
@api.validate(resp=answers(ProjectView))
def new(json: NewProject) -> ProjectView:
    """Make a project."""
    person = signed_in()
    project = projects.new_project(person, json.name, json.client, json.currency, json.price_date)
    return projects.project_view(Actor(person, project.id, "owner"))


@blueprint.post("/from-file")
@api.validate(resp=answers(ProjectView))
def from_file() -> ProjectView:
    """Make a project from a project file, sent as the request's body."""
    person = signed_in()
    request.max_content_length = LARGEST_DOCUMENT + 1024
    content = request.get_data(cache=False)
    if not content:
        raise BadEntry("No file was sent.", field="file")
    project = issue.project_from_file(person, content)
    return projects.project_view(Actor(person, project.id, "owner"))


@one.get("")
@api.validate(resp=answers(ProjectView))
def view() -> ProjectView:
    """The project and how far its path is."""
    return projects.project_view(g.actor)


@one.patch("")
@api.validate(resp=answers(Saved))
def change(json: ProjectChange) -> Saved:
    """Change the project's settings."""
    return projects.change_project(g.actor, json.version, json.given())


@one.get("/people")
@api.validate(resp=answers(Members))
def people() -> Any:
    """Who belongs to the project."""
    return Members(projects.members(g.actor))


@one.post("/people")
@api.validate(resp=answers(Shared))
def share(json: Share) -> Any:
    """Let a person in, or change their role; the invitation to hand on comes back for someone without an
    account."""
    return Shared(
        invitation=projects.share(g.actor, json.email, json.role), members=projects.members(g.actor)
    )


@one.post("/people/out")
@api.validate(resp=answers(Members))
def unshare(json: Address) -> Any:
    """Take someone out of the project, or an invitation back."""
    projects.unshare(g.actor, json.email)
    return Members(projects.members(g.actor))


@one.get("/walk/<ref>")
@api.validate(resp=answers(WalkView))
def walked(ref: str) -> WalkView:
    """The working of a number, and where it comes from and goes to."""
    return walk.walk(g.actor, ref)


@one.get("/pulse")
@api.validate(resp=answers(PulseView))
def pulse() -> PulseView:
    """The latest change, asked again and again."""
    return history.pulse(g.actor)


@one.get("/checks")
@api.validate(resp=answers(Checks))
def checked() -> Any:
    """Everything that looks wrong."""
    return Checks(checks.checks(g.actor))


@one.get("/history/<ref>")
@api.validate(resp=answers(Steps))
def history_of(ref: str) -> Any:
    """What was done to a number."""
    return Steps(history.history_of(g.actor, ref))


@one.get("/history")
@api.validate(resp=answers(History))
def changes() -> Any:
    """The latest changes."""
    return History(history.history(g.actor))


@one.post("/undo")
@api.validate(resp=answers(Saved))
def undo() -> Saved:
    """Take back one's latest change."""
    return history.undo(g.actor)


@one.post("/redo")
@api.validate(resp=answers(Saved))
def redo() -> Saved:
    """Do again what one took back."""
    return history.redo(g.actor)
