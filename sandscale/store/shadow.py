"""Trying things out: a connection on which every table of a project is a shadow of the real one. What is
written there is seen there and nowhere else, locks nothing, and is gone as soon as it has been looked at.

Each table is covered by a view of the same name: the real rows but for those written since, and those.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextvars import copy_context
from functools import cache
from typing import Any, TypeVar

from peewee import InterfaceError, OperationalError

from .database import database
from .models import DERIVED_TABLES, PROJECT_TABLES, Change, ChangeEntry, Job, Project

T = TypeVar("T")
_COVERED = (Project, *PROJECT_TABLES, *DERIVED_TABLES, Change, ChangeEntry, Job)
# "written" holds rows as they were written, "hidden" the ids of real rows that they stand for, or that went.
_COVER = """
CREATE TEMP TABLE "{t}_written" (LIKE public."{t}");
CREATE INDEX ON pg_temp."{t}_written" (id);
CREATE TEMP TABLE "{t}_hidden" (id integer PRIMARY KEY);
CREATE TEMP VIEW "{t}" AS SELECT r.* FROM public."{t}" r
    WHERE NOT EXISTS (SELECT FROM pg_temp."{t}_hidden" h WHERE h.id = r.id)
    UNION ALL SELECT w.* FROM pg_temp."{t}_written" w;
CREATE FUNCTION pg_temp."{t}_write"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'INSERT' THEN
        NEW.id := coalesce(NEW.id, nextval(pg_get_serial_sequence('public."{t}"', 'id')));
    ELSE
        INSERT INTO pg_temp."{t}_hidden" VALUES (OLD.id) ON CONFLICT DO NOTHING;
        DELETE FROM pg_temp."{t}_written" WHERE id = OLD.id;
        IF TG_OP = 'DELETE' THEN RETURN OLD; END IF;
    END IF;
    INSERT INTO pg_temp."{t}_written" SELECT (NEW).*;
    RETURN NEW;
END $$;
CREATE TRIGGER write INSTEAD OF INSERT OR UPDATE OR DELETE ON pg_temp."{t}"
    FOR EACH ROW EXECUTE FUNCTION pg_temp."{t}_write"();
"""


class _Shadow(threading.local):
    """What a thread knows of its own shadow: the connection it was cast on, and whether it acts in it."""

    cast_on: Any = None
    acts = False


_own = _Shadow()


def in_shadow() -> bool:
    """Whether what is written now is only being tried."""
    return _own.acts


def tried(work: Callable[[], T]) -> T:
    """What comes of some work, as of one moment; everything it wrote is forgotten.

    The work goes on in a thread of its own, one at a time, with what holds here (the project's ways).

    Raises:
        whatever the work raises.
    """
    return _thread().submit(copy_context().run, _try, work).result()


@cache
def _thread() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(1, thread_name_prefix="shadow")


def _try(work: Callable[[], T]) -> T:
    try:
        _cast()
    except (OperationalError, InterfaceError):  # the connection had died with the server behind it
        database.obj.manual_close()
        _cast()
    _own.acts = True
    try:
        with database.atomic("REPEATABLE READ") as whole:
            try:
                return work()
            finally:
                whole.rollback()
    finally:
        _own.acts = False


def _cast() -> None:
    """Cover the tables, where this thread's connection isn't one whose are."""
    database.connect(reuse_if_open=True)
    connection = database.connection()
    database.execute_sql("SELECT 1")
    if _own.cast_on is connection:
        return
    cursor = connection.cursor()
    for model in _COVERED:
        cursor.execute(_COVER.format(t=model._meta.table_name))
    connection.commit()
    _own.cast_on = connection
