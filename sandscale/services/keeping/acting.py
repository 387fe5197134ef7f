"""Who acts, in which project and as what; and what can be refused to them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

from ...core.refusals import Refusal
from ...store.changes import Snapshot, last_writer, snapshot, snapshot_of, state_at
from ...store.models import Project, ProjectRow, Row

R = TypeVar("R", bound=ProjectRow)


WRITERS = ("owner", "editor")


_WORDS = {
    "DimensionLine": "dimension line", "BuildUp": "build-up", "BuildUpLine": "line of the build-up",
    "StoredFile": "file",
    "OwnMakeUp": "make-up", "ItemLink": "link", "TypedBar": "bar", "OwnDetailing": "set of rules",
    "OffCut": "off-cut", "GroundSurface": "surface", "GroundLine": "line", "LevelDecision": "decision",
    "EarthClass": "class", "EarthStage": "stage", "SurfaceSurvey": "survey of a surface",
    "TrenchKind": "kind of trench", "TrenchNetwork": "network", "TrenchNode": "node", "TrenchRun": "run",
    "TypicalSection": "typical section", "Route": "route", "RouteCorner": "corner", "RouteLevel": "level",
    "RouteChange": "change of section", "RouteStretch": "stretch", "NamedQuantity": "named quantity",
    "EnquiryLine": "line of the enquiry", "EnquirySupplier": "supplier of the enquiry",
    "IssuedPackage": "package", "OwnForm": "form", "FormCell": "cell of the form",
    "TrialChange": "value of the trial",
}  # fmt: skip


@dataclass(frozen=True)
class Actor:
    """A signed-in person in one project."""

    person_id: int
    project_id: int
    role: str


class Missing(Refusal):
    """What was asked for is not in this project (any more)."""


class Forbidden(Refusal):
    """The person's role doesn't allow it."""


class InUse(Refusal):
    """It can't be deleted while something draws on it."""


class Stale(Refusal):
    """Someone else changed it meanwhile; carries both values of every field at odds."""

    def __init__(self, sentence: str, yours: dict[str, Any], theirs: dict[str, Any], version: int) -> None:
        super().__init__(sentence, remedy="Keep theirs, or write yours over it.")
        self.yours, self.theirs, self.version = yours, theirs, version


def require_writer(actor: Actor) -> None:
    """Refuse a person who may only look.

    Raises:
        Forbidden: the role is viewer.
    """
    if actor.role not in WRITERS:
        raise Forbidden(
            "You can look at this project, but not change it.", remedy="Ask its owner to make you an editor."
        )


def find(model: type[R], actor: Actor, row_id: int) -> R:
    """A row of the actor's project.

    Raises:
        Missing: there is none of that id in the project.
    """
    row = next(iter(model.those(model.id, [row_id], project=actor.project_id)), None)
    if row is None:
        who = last_writer(model, row_id, actor.project_id)
        raise Missing(
            f"That {word_for(model)} is not in this project any more.",
            remedy=f"{who} deleted it; undoing that brings it back."
            if who
            else "It may have been deleted; undo brings it back.",
        )
    return row


def word_for(model: type[Row]) -> str:
    """What a table's rows are called in a sentence."""
    return _WORDS.get(model.__name__, model.__name__.lower())


def check_version(
    row: Row, version: int, fields: dict[str, Any], read: Callable[[Snapshot], Snapshot] = dict
) -> None:
    """Refuse a write over something its writer hasn't seen: a field that changed since, to something else.

    Args:
        row: the row as it stands.
        version: the version its writer saw.
        fields: what is to be written.
        read: picks the values out of a row's snapshot; its columns when not given.

    Raises:
        Stale: both values of each field at odds are given.
    """
    if row.version == version:
        return
    now, seen = read(snapshot(row)), state_at(row, version)
    was = None if seen is None else read(seen)
    written = read({**snapshot(row), **snapshot_of(type(row), fields)})
    odds = [
        name
        for name in fields
        if now.get(name) != written.get(name) and (was is None or was.get(name) != now.get(name))
    ]
    if odds:
        yours, theirs = ({name: values.get(name) for name in odds} for values in (written, now))
        project = row.id if isinstance(row, Project) else row.project_id
        who = last_writer(type(row), row.id, project) or "Someone"
        raise Stale(
            f"{who} changed this {word_for(type(row))} while you were typing.", yours, theirs, row.version
        )
