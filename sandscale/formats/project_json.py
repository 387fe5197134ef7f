"""A whole project as one JSON document, and back: its tables, its drawings' files, no ids of a database.

Rows are numbered from 1 within each table, in order, and refer to one another by those numbers, so
that two equal projects give equal documents. A document is written and read row by row: however large it is,
little of it is in memory at once.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from typing import Any, BinaryIO

import ijson

from ..core.refusals import Refusal
from .project_versions import VERSION, Row, Step, is_known, steps_from

FORMAT = "sand-scale-project"
LARGEST_DOCUMENT = 500 * 1024 * 1024
MOST_ROWS = 500_000
DEEPEST = 12  # values within values
# One part of a document: the project's own fields, the beginning of a table, or a row of one.
Part = tuple[str, str, Row]
_Events = Iterator[tuple[str, Any]]


class UnreadableProject(Refusal):
    """A document that can't be taken in as a project."""


def write(file: BinaryIO, project: Row, tables: Iterable[tuple[str, Iterable[Row]]]) -> None:
    """A document as UTF-8 JSON, a row a line, so that two of them can be compared."""
    head = (
        f'{{\n "format": "{FORMAT}",\n "version": {VERSION},\n "project": {_written(project)},\n "tables": {{'
    )
    file.write(head.encode())
    for number, (table, rows) in enumerate(tables):
        file.write(f'{"," if number else ""}\n  "{table}": ['.encode())
        for at, row in enumerate(rows):
            file.write(f"{',' if at else ''}\n   {_written(row)}".encode())
        file.write(b"]")
    file.write(b"\n }\n}\n")


def _written(row: Row) -> str:
    return json.dumps(row, ensure_ascii=False, allow_nan=False)


def read(file: BinaryIO) -> Iterator[Part]:
    """The parts of a document of any version, as today's has them; what rows hold is checked by whoever
    keeps them.

    Raises:
        UnreadableProject: it is too large or too deep, no JSON, or no project of ours.
    """
    events = _events(file)
    if next(events, ("", None))[0] != "start_map":
        raise _no_project("it is not one object")
    known: dict[str, Any] = {}
    for event, key in events:
        if event == "end_map":
            break
        if key in known:
            raise _no_project(f"“{str(key)[:40]}” is there twice")
        if key == "tables":
            known[key] = True
            yield from _project_and_tables(known, events)
        elif key in ("format", "version", "project"):
            known[key] = _value(events)
        else:
            raise _no_project(f"“{str(key)[:40]}” is not part of one")
    if "tables" not in known:
        raise _no_project("it has no tables")
    if next(events, None) is not None:
        raise _no_project("something stands after its end")


def _project_and_tables(known: dict[str, Any], events: _Events) -> Iterator[Part]:
    if known.get("format") != FORMAT or not isinstance(known.get("project"), dict):
        raise _no_project("it doesn't begin as one: format, version, project, tables")
    if not is_known(known.get("version")):
        raise _no_project(
            f"its version is {str(known.get('version'))[:20]}; this one reads 1 to {VERSION}",
        )
    steps = steps_from(known["version"])
    project = known["project"]
    for step in steps:
        project = _upgraded(step.project, project)
    yield "project", "", project
    for number, step in enumerate(steps, start=1):
        for table, rows in step.tables.items():
            yield "table", table, {}
            yield from (("row", table, _brought_up(table, dict(row), steps[number:])) for row in rows)
    yield from _rows(events, steps)


def _rows(events: _Events, steps: list[Step]) -> Iterator[Part]:
    if next(events)[0] != "start_map":
        raise _no_project("its tables are no object")
    number = 0
    for event, table in events:
        if event == "end_map":
            return
        yield "table", table, {}
        if next(events)[0] != "start_array":
            raise _no_project(f"“{table[:40]}” is no list of rows")
        for first in events:
            if first[0] == "end_array":
                break
            row = _value(events, first)
            number += 1
            if number > MOST_ROWS:
                raise UnreadableProject(f"The project has more than {MOST_ROWS:,} rows.", field="file")
            if not isinstance(row, dict):
                raise _no_project(f"a row of “{table[:40]}” is no object")
            yield "row", table, _brought_up(table, row, steps)


def _brought_up(table: str, row: Row, steps: list[Step]) -> Row:
    """A row of an earlier version as it is today."""
    for step in steps:
        if change := step.rows.get(table):
            row = _upgraded(change, row)
    return row


def _upgraded(change: Any, row: Row) -> Row:
    try:
        return dict(change(row))
    except (KeyError, TypeError, AttributeError):
        raise UnreadableProject("The file's older version doesn't hold together.", field="file") from None


def _value(events: _Events, first: tuple[str, Any] | None = None) -> Any:
    """One value, whole."""
    builder, depth = ijson.ObjectBuilder(), 0
    event, value = first or next(events)
    while True:
        builder.event(event, value)
        depth += event.startswith("start_") - event.startswith("end_")
        if depth > DEEPEST:
            raise _no_project("its values lie too deep within one another")
        if depth == 0:
            return builder.value
        event, value = next(events)


def _events(file: BinaryIO) -> _Events:
    try:
        yield from ijson.basic_parse(_Counted(file), use_float=True)
    except (ijson.JSONError, UnicodeDecodeError, OverflowError, ValueError):
        raise UnreadableProject(
            "The file is not JSON.", field="file", remedy="Choose a project file that Sand Scale wrote."
        ) from None


class _Counted:
    """A file that is read no further than a document may go."""

    def __init__(self, file: BinaryIO) -> None:
        self.file, self.read_already = file, 0

    def read(self, size: int) -> bytes:
        """The next bytes."""
        content = self.file.read(size) if size else b""  # nothing asked for is not the end
        self.read_already += len(content)
        if self.read_already > LARGEST_DOCUMENT:
            raise UnreadableProject(f"The file is larger than {LARGEST_DOCUMENT // 2**20} MB.", field="file")
        return content


def _no_project(why: str) -> UnreadableProject:
    return UnreadableProject(f"The file is not a project of Sand Scale: {why}.", field="file")
