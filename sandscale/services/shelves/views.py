"""What is read of shelves."""

from __future__ import annotations

from datetime import datetime

from ...core.shelf import ShelfKind
from ..keeping.views import View


class ShelfDocumentView(View):
    kind: ShelfKind
    key: str
    name: str
    about: str
    number: int
    by: str
    at: datetime
    source: str


class ShelfView(View):
    """A shelf the person belongs to, with the latest of each document on it."""

    id: int
    name: str
    about: str
    people: list[str]
    documents: list[ShelfDocumentView]
