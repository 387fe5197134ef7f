"""Shelves: make-ups, tables and rules shared across projects. They belong to people, so no project
stands in their addresses."""

from __future__ import annotations

from typing import Any

from flask import Blueprint
from pydantic import RootModel

from ..services.shelves import actions as shelves
from ..services.shelves.views import ShelfView
from .api import answers, api, signed_in
from .schemas import NewShelf, ShelfPut, ShelfShare

blueprint = Blueprint("shelves", __name__, url_prefix="/api/shelves")


class Shelves(RootModel[list[ShelfView]]):
    """The person's shelves."""


@blueprint.get("")
@api.validate(resp=answers(Shelves))
def listed() -> Any:
    """The shelves of the person signed in."""
    return Shelves(shelves.shelves_of(signed_in()))


@blueprint.post("")
@api.validate(resp=answers(ShelfView))
def new(json: NewShelf) -> ShelfView:
    """Make a shelf."""
    return shelves.add_shelf(signed_in(), json.name, json.about)


@blueprint.post("/<int:shelf>/people")
@api.validate(resp=answers(ShelfView))
def share(shelf: int, json: ShelfShare) -> ShelfView:
    """Let another person onto a shelf."""
    return shelves.share_shelf(signed_in(), shelf, json.email)


@blueprint.post("/<int:shelf>/documents")
@api.validate(resp=answers(ShelfView))
def put(shelf: int, json: ShelfPut) -> ShelfView:
    """Put a document on a shelf."""
    return shelves.put_there(signed_in(), shelf, json.kind, json.source)
