"""Which columns of somebody's table of bars hold what."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Literal, get_args

from .. import columns
from ..columns import Recognised
from ..numbers.ways import ways

# What a column may hold; an empty one is left out.
BarColumn = Literal[
    "", "member", "mark", "size", "members", "each", "total", "length", "shape", "A", "B", "C", "D", "E", "F",
    "G", "H", "I", "J", "K", "L", "R", "revision", "mass", "note",
]  # fmt: skip
COLUMNS: tuple[BarColumn, ...] = get_args(BarColumn)
LEGS = ("A", "B", "C", "D", "E", "F", "G", "H", "I", "J", "K", "L", "R")
# The order of the form of BS 8666, for rows without a head.
_FORM: tuple[BarColumn, ...] = (
    "member", "mark", "size", "members", "each", "total", "length", "shape", "A", "B", "C", "D", "E",
    "revision",
)  # fmt: skip
# Words of a head, each whole and in small letters, and what the column is then; the first that fits counts.
_WORDS: tuple[tuple[str, BarColumn], ...] = (
    (r"no\.? ?(of )?(mbrs?|members?)|nr\.? of( members?)?|members|number of members|mbrs?", "members"),
    (r"(no\.?|nr\.?|number|bars)? ?(in|per) ?(each|member)|each", "each"),
    (r"member|element|location|part", "member"),
    (r"(bar )?mark|pos(ition)?\.?|bar", "mark"),
    (r"(bar )?(type ?(and|/|&)? ?)?(size|dia(meter)?\.?|ø|⌀)( mm)?|type", "size"),
    (r"total( no\.?| nr| number)?( of bars)?|number|quantity|qty", "total"),
    (r"(cut(ting)? )?length( of each( bar)?)?", "length"),
    (r"(shape )?code|shape", "shape"),
    (r"rev(ision)?\.?( letter)?", "revision"),
    (r"kg ?/ ?m|mass per met(re|er)", "mass"),
    (r"notes?|remarks?|comments?|where", "note"),
)
_UNIT = re.compile(r"[\[(]?\b(mm|cm|m|in|ft)\b\.?[\])]?\s*$")


def recognise(
    rows: Sequence[Sequence[str]], said: Sequence[BarColumn] | None = None
) -> Recognised[BarColumn]:
    """Which column holds what, by the heads; in the order of the standard's form where there are none."""
    return columns.recognise(rows, _head, _FORM, said)


def _head(cell: str) -> tuple[BarColumn, str]:
    text = cell.strip().rstrip("*").strip()
    unit = _UNIT.search(text.lower())
    bare = (text[: unit.start()] if unit else text).strip(" []()").lower()
    if bare.upper() in LEGS or bare in ("e/r", "e / r"):
        return ("E" if "/" in bare else bare.upper()), unit[1] if unit else ""  # type: ignore[return-value]
    for words, column in _WORDS:
        if re.fullmatch(words, bare):
            return column, unit[1] if unit else ""
    return "", ""


def fields_of(row: Sequence[str], known: Recognised[BarColumn]) -> dict[str, str]:
    """What a row says, by what its columns hold; legs with their head's unit where it isn't the usual."""
    found: dict[str, str] = {}
    usual = ways().system.symbol("mm")
    for column, unit, cell in zip(known.columns, known.units, row, strict=False):
        text = cell.strip()
        if column and text:
            plain = text.replace(".", "", 1).replace(",", "", 1).isdigit()
            told = unit and unit != usual and plain and (column in LEGS or column == "length")
            found[column] = f"{text} {unit}" if told else text
    return found
