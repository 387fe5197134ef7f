"""Projects, who belongs to them, and taking a project file in."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, g, request
from pydantic import RootModel

from ..core.refusals import BadEntry
from ..formats.project_json import LARGEST_DOCUMENT
from ..services.answers import effects, finding, moved
from ..services.answers.effects import ChangeEffect
from ..services.answers.views import FoundView, PulseView
from ..services.keeping import checking, history, project_file, walking
from ..services.keeping.acting import Actor
from ..services.keeping.views import ChangeView, CheckCount, CheckView, HistoryStep, Saved, WalkView
from ..services.projects import actions as projects
from ..services.projects import reading as projects_reading
from ..services.projects.views import HereView, MemberView, ProjectBrief, ProjectView
from .api import answers, api, asks_once, signed_in, stage, writes
from .schemas import Address, Earlier, Known, Named, NewProject, ProjectChange, Share, Window

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


class Found(RootModel[list[FoundView]]):
    """What was found, the best first."""


class Steps(RootModel[list[HistoryStep]]):
    """What was done to a number, newest first."""


@blueprint.get("")
@api.validate(resp=answers(ProjectList))
def listed() -> Any:
    """The projects of the person signed in."""
    return ProjectList(projects_reading.projects_of(signed_in()))


@blueprint.post("")
@api.validate(resp=answers(ProjectView))
def new(json: NewProject) -> ProjectView:
    """Make a project."""
    person = signed_in()
    project = projects.new_project(person, **json.model_dump())
    return projects_reading.project_view(Actor(person, project.id, "owner"))


@blueprint.post("/from-file")
@api.validate(resp=answers(ProjectView))
def from_file() -> ProjectView:
    """Make a project from a project file, sent as the request's body."""
    person = signed_in()
    request.max_content_length = LARGEST_DOCUMENT + 1024
    if not request.content_length:
        raise BadEntry("No file was sent.", field="file")
    project = project_file.take_in(person, request.stream)
    return projects_reading.project_view(Actor(person, project.id, "owner"))


@one.get("")
@api.validate(resp=answers(ProjectView))
def view() -> ProjectView:
    """The project and how far its path is."""
    return projects_reading.project_view(g.actor)


@one.patch("")
@writes
def change(json: ProjectChange) -> Saved:
    """Change the project's settings."""
    return projects.change_project(g.actor, json.version, json.given())


@one.get("/people")
@api.validate(resp=answers(Members))
def people() -> Any:
    """Who belongs to the project."""
    return Members(projects_reading.members(g.actor))


@one.post("/people")
@api.validate(resp=answers(Members))
def share(json: Share) -> Any:
    """Invite a person, or change their role."""
    projects.share(g.actor, json.email, json.role)
    return Members(projects_reading.members(g.actor))


@one.post("/delete")
@api.validate(resp=answers(ProjectList))
def delete(json: Named) -> Any:
    """Delete the project with all that is in it; its name is typed, so that no slip does it."""
    projects.delete_project(g.actor, json.name)
    return ProjectList(projects_reading.projects_of(g.actor.person_id))


@one.post("/people/out")
@api.validate(resp=answers(Members))
def unshare(json: Address) -> Any:
    """Take someone out of the project, or an invitation back."""
    projects.unshare(g.actor, json.email)
    return Members(projects_reading.members(g.actor))


@one.get("/walk/<ref>")
@api.validate(resp=answers(WalkView))
def walked(ref: str) -> WalkView:
    """The working of a number, and where it comes from and goes to."""
    return walking.walk(g.actor, ref)


@one.post("/here")
@asks_once
@api.validate(resp=answers(HereView))
def here() -> HereView:
    """Say that the project is looked at, and ask who else does."""
    return projects_reading.here(g.actor)


@one.get("/pulse")
@asks_once
@api.validate(query=Known, resp=answers(PulseView))
def pulse(query: Known) -> PulseView:
    """The latest change, asked again and again; with what moved since the one known."""
    return moved.pulse(g.actor, query.since)


@one.get("/find")
@api.validate(query=Window, resp=answers(Found))
def find(query: Window) -> Any:
    """What is called by some words: elements, sheets, resources, rates, items."""
    return Found(finding.find_all(g.actor, query.find, min(query.most, 20)))


@one.get("/checks/count")
@api.validate(resp=answers(CheckCount))
def checks_counted() -> CheckCount:
    """How many things look wrong."""
    return checking.count(g.actor)


@one.get("/checks")
@api.validate(resp=answers(Checks))
def checked() -> Any:
    """Everything that looks wrong."""
    return Checks(checking.checks(g.actor))


@one.get("/changes/<int:change>/effect")
@api.validate(resp=answers(ChangeEffect))
def effect_of(change: int) -> ChangeEffect:
    """Which rates and items a change moved, and by how much."""
    return effects.effect_of(g.actor, change)


@one.get("/history/<ref>")
@api.validate(resp=answers(Steps))
def history_of(ref: str) -> Any:
    """What was done to a number."""
    return Steps(history.history_of(g.actor, ref))


@one.get("/history")
@api.validate(query=Earlier, resp=answers(History))
def changes(query: Earlier) -> Any:
    """A window of the changes, newest first."""
    return History(history.history(g.actor, query.before, query.most))


@one.post("/undo")
@writes
def undo() -> Saved:
    """Take back one's latest change."""
    return history.undo(g.actor)


@one.post("/redo")
@writes
def redo() -> Saved:
    """Do again what one took back."""
    return history.redo(g.actor)
