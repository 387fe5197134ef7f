"""A whole project as one JSON document, and back: its tables, its drawings' files, no ids of a database.

Rows are numbered from 1 within each table, in order, and refer to one another by those numbers, so
that two equal projects give equal documents.
"""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..core.refusals import Refusal
from .project_versions import VERSION, upgraded

FORMAT = "sand-scale-project"
LARGEST_DOCUMENT = 500 * 1024 * 1024
MOST_ROWS = 500_000

Row = dict[str, Any]


class UnreadableProject(Refusal):
    """A document that can't be taken in as a project."""


class ProjectDocument(BaseModel):
    """The document: the project's own fields, and the rows of each table."""

    model_config = ConfigDict(extra="forbid")

    format: Literal["sand-scale-project"] = "sand-scale-project"
    version: Annotated[int, Field(ge=VERSION, le=VERSION)] = VERSION
    project: Row
    tables: dict[str, list[Row]]


def write(document: ProjectDocument) -> bytes:
    """The document as UTF-8 JSON, indented, so that two of them can be compared."""
    return json.dumps(document.model_dump(), ensure_ascii=False, indent=1).encode()


def read(content: bytes) -> ProjectDocument:
    """A document from its bytes; what its rows hold is checked by whoever stores them.

    Raises:
        UnreadableProject: it is too large, no JSON, or no project of ours.
    """
    if len(content) > LARGEST_DOCUMENT:
        raise UnreadableProject(f"The file is larger than {LARGEST_DOCUMENT // 2**20} MB.", field="file")
    try:
        data = json.loads(content)
    except (ValueError, RecursionError):
        raise UnreadableProject(
            "The file is not JSON.", field="file", remedy="Choose a project file that Sand Scale wrote."
        ) from None
    try:
        document = ProjectDocument.model_validate(upgraded(data))
    except (KeyError, TypeError, AttributeError):
        raise UnreadableProject("The file's older version doesn't hold together.", field="file") from None
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"]) or "its start"
        raise UnreadableProject(
            f"The file is not a project of Sand Scale: at {place}, {first['msg'].lower()}.", field="file"
        ) from None
    if sum(len(rows) for rows in document.tables.values()) > MOST_ROWS:
        raise UnreadableProject(f"The project has more than {MOST_ROWS} rows.", field="file")
    return document
