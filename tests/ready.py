"""What the database of each process of tests begins as: migrated, with the demonstration in it. Made anew by
``python -m tests.ready``."""

from __future__ import annotations

import os
from urllib.parse import urlsplit, urlunsplit

import psycopg

from sandscale.settings import DATABASE
from sandscale.store.database import connected
from tests import scene

NAME = "tests_ready"


def make(name: str, template: str = "template1") -> str:
    """Make a database anew, as a copy of another; gives its address."""
    with psycopg.connect(os.environ[DATABASE], autocommit=True) as connection:
        connection.execute(f"DROP DATABASE IF EXISTS {name} WITH (FORCE)")
        connection.execute(f"CREATE DATABASE {name} TEMPLATE {template}")
    return urlunsplit(urlsplit(os.environ[DATABASE])._replace(path=f"/{name}"))


def main() -> None:
    os.environ[DATABASE] = make(NAME)
    scene.prepare()
    with connected():
        scene.demonstration()


if __name__ == "__main__":
    main()
