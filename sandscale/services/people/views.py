"""What is read of people."""

from __future__ import annotations

from ..keeping.views import View


class PersonView(View):
    id: int
    name: str
    email: str


class SessionView(View):
    person: PersonView | None
    csrf_token: str


class InvitationView(View):
    """What the owner hands on to someone new: their link holds the token, which is shown this once."""

    email: str
    token: str
