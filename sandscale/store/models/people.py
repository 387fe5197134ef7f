"""People, their sessions, and who may come in."""

from __future__ import annotations

from peewee import AutoField, BooleanField, CharField, DateTimeField, ForeignKeyField, TextField

from .project import Project
from .rows import Row, now


class Person(Row):
    """Someone who can sign in. A ``published`` password is the demonstration's, and counts only where that
    is on."""

    id = AutoField()
    name = TextField()
    email = TextField(unique=True)
    password_hash = TextField()
    published = BooleanField(default=False)


class Session(Row):
    """A signed-in browser: only a hash of its token is kept."""

    token_hash = CharField(64, primary_key=True)
    person = ForeignKeyField(Person, on_delete="CASCADE")
    csrf_token = CharField(64)
    expires = DateTimeField()


class SignInFailure(Row):
    """A wrong password, kept for a while so that guessing is slowed on every server."""

    id = AutoField()
    email = TextField()
    at = DateTimeField(default=now)

    class Meta:
        indexes = ((("email", "at"), False),)


class Invitation(Row):
    """A place in a project kept for someone who has no account yet: only a hash of its token is kept."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    email = TextField()
    role = CharField(8)
    token_hash = CharField(64, unique=True)
    expires = DateTimeField()


class Membership(Row):
    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    person = ForeignKeyField(Person, on_delete="CASCADE")
    role = CharField(8)

    class Meta:
        indexes = ((("project", "person"), True),)
