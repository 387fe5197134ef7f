"""What must hold of bars from a project file."""

from __future__ import annotations

from typing import Any

from ...core.bars.detailing import built_in_detailing, read_detailing
from ...core.numbers.entry import read_entry
from ...core.refusals import Refusal
from ...store.models import Element, TypedBar
from ..keeping.proving import refuse_empty
from .actions import FIELDS, LETTERS
from .cutting import stock_read
from .entered import checked_bar, number_read, size_read


def _own_detailing(row: dict[str, Any]) -> None:
    rules = read_detailing(row["source"])
    if row["key"] in built_in_detailing() or rules.key != row["key"] or rules.name != row["name"]:
        raise Refusal("Its key or name is not that of its text, or a built-in one.")


def _typed_bar(row: dict[str, Any]) -> None:
    legs, corners = row["legs"], row["corners"]
    texts = isinstance(legs, dict) and all(
        isinstance(text, str) and letter in LETTERS for letter, text in legs.items()
    )
    points = isinstance(corners, list) and all(
        isinstance(each, list) and len(each) == 2 and all(isinstance(n, int | float) for n in each)
        for each in corners
    )  # fmt: skip
    given = {name: row[name] for name in FIELDS}
    if not texts or not points or checked_bar(given) != given:
        raise Refusal("It is no bar that could be typed.")


def _bar_issue(row: dict[str, Any]) -> None:
    rows = row["rows"]
    holds = isinstance(rows, dict) and all(
        isinstance(marks, dict)
        and all(
            isinstance(w, list) and len(w) == 2 and all(isinstance(t, str) for t in w) for w in marks.values()
        )
        for marks in rows.values()
    )
    if not holds or not row["letter"].isalpha() or not row["letter"].isupper():
        raise Refusal("It is no issue of a schedule.")


def _cutting(row: dict[str, Any]) -> None:
    refuse_empty(row, "name")
    stock_read(row["stock"])
    if row["blade"]:
        read_entry(row["blade"], "mm", minimum=0)


def _off_cut(row: dict[str, Any]) -> None:
    if size_read(row["size"]) != row["size"] or not 0.05 <= read_entry(row["length"], "m") <= 30:
        raise Refusal("It is no piece that could be kept.")
    number_read(row["number"], "number")


RULES = {
    "own_detailing": _own_detailing,
    "typed_bar": _typed_bar,
    "bar_mark": lambda row: refuse_empty(row, "mark", "key"),
    "bar_issue": _bar_issue,
    "cutting": _cutting,
    "off_cut": _off_cut,
}


def prove(project_id: int) -> None:
    """Typed bars are of elements that have such.

    Raises:
        Refusal: one is of another.
    """
    mine = (TypedBar.project == project_id) & (Element.measurer != "typed-bars")
    if TypedBar.select(TypedBar.id).join(Element).where(mine).exists():
        raise Refusal("A typed bar is of an element that has a make-up.")
