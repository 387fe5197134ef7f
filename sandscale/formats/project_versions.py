"""Project files of earlier versions, brought up to today's: a function for each version.

A version is written down here once and never changed; a kept file of each is read in the tests.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

Document = dict[str, Any]
VERSION = 2


def upgraded(data: Any) -> Any:
    """A document as today's version has it; one that is none, or of a later version, as it is.

    Raises:
        KeyError, TypeError, AttributeError: an older document doesn't hold what its version has.
    """
    while isinstance(data, dict) and (step := _STEPS.get(_version(data))):
        data = step(data)
    return data


def _version(data: Document) -> int:
    version = data.get("version")
    return version if type(version) is int else 0


def _to_2(data: Document) -> Document:
    """Measurers and bills: elements say what they go by, sections and adjustments hang on the project's
    own bill."""
    tables = {name: [dict(row) for row in rows] for name, rows in data["tables"].items()}
    for row in tables["element"]:
        row |= {"measurer": "make-up", "source": row.pop("makeup"), "detailing": ""}
    for row in tables["dimension_line"]:
        row |= {"taken_from": None, "taken_output": ""}
    for row in tables["item"]:
        row |= {"typed_rate": "", "number": "", "client_text": ""}
    for row in tables["item_link"]:
        row |= {"split": "", "part": ""}
    for row in (*tables["section"], *tables["adjustment"]):
        row["bill"] = 1
    tables["bill"] = [{"kind": "own", "title": "Bill of quantities", "position": 0, "dated": None}]
    return {**data, "version": 2, "project": {**data["project"], "detailing": ""}, "tables": tables}


_STEPS: dict[int, Callable[[Document], Document]] = {1: _to_2}
