"""What is read of people."""

from __future__ import annotations

from datetime import date

from ...core.words import Role
from ..keeping.views import View


class PersonView(View):
    id: int
    name: str
    email: str


class SessionView(View):
    """Who is signed in; whether this server sends letters to those who are invited."""

    person: PersonView | None
    csrf_token: str
    letters: bool


class InvitedView(View):
    """An invitation that waits for the person signed in."""

    id: int
    project: str
    role: Role
    by: str
    expires: date
