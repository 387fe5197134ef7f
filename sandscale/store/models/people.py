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
    """A signed-in browser: only a hash of its token is kept. It ends at ``expires``, or when it was not
    ``used`` for a day."""

    token_hash = CharField(64, primary_key=True)
    person = ForeignKeyField(Person, on_delete="CASCADE")
    csrf_token = CharField(64)
    expires = DateTimeField()
    used = DateTimeField(default=now)


class SignInTry(Row):
    """A try to sign in that failed or is under way, kept for a while so that guessing is slowed on every
    server; ``origin`` is the network it came from."""

    id = AutoField()
    email = TextField()
    origin = TextField()
    at = DateTimeField(default=now)

    class Meta:
        indexes = ((("email", "at"), False), (("origin", "at"), False))


class Invitation(Row):
    """A place in a project kept for someone until they take it: only a hash of the token that their letter
    holds is kept, none while no letter was sent."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    email = TextField(index=True)
    role = CharField(8)
    token_hash = CharField(64, unique=True, null=True)
    expires = DateTimeField()
    invited_by = ForeignKeyField(Person, null=True, on_delete="CASCADE", index=False)

    class Meta:
        indexes = ((("project", "email"), True),)


class Membership(Row):
    """A person in a project, and when their page last said that it is looked at."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    person = ForeignKeyField(Person, on_delete="CASCADE")
    role = CharField(8)
    seen = DateTimeField(null=True)

    class Meta:
        indexes = ((("project", "person"), True),)
