"""Projects, who belongs to them, and taking a project file in."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, g, request
from pydantic import RootModel

from ..core.refusals import BadEntry
from ..formats.project_json import LARGEST_DOCUMENT
from ..services import history, issue, projects, walk
from ..services.acting import Actor
from ..services.views import ChangeView, MemberView, ProjectBrief, ProjectView, Saved, WalkView
from .api import answers, api, signed_in, stage
from .schemas import NewProject, ProjectChange, Share

blueprint = Blueprint("projects", __name__, url_prefix="/api/projects")
one = stage("project")


class ProjectList(RootModel[list[ProjectBrief]]):
    """The person's projects."""


class Members(RootModel[list[MemberView]]):
    """Who belongs to a project."""


class History(RootModel[list[ChangeView]]):
    """Changes, newest first."""


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
@api.validate(resp=answers(Members))
def share(json: Share) -> Any:
    """Let a person in, or change their role."""
    projects.share(g.actor, json.email, json.role)
    return Members(projects.members(g.actor))


@one.get("/walk/<ref>")
@api.validate(resp=answers(WalkView))
def walked(ref: str) -> WalkView:
    """The working of a number, and where it comes from and goes to."""
    return walk.walk(g.actor, ref)


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
