"""Which columns of somebody's table of known costs hold what."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Literal, get_args

from .. import columns
from ..columns import Recognised

# What a column may hold; an empty one is left out.
SizeColumn = Literal["", "size", "labour", "plant", "material", "whole"]
COLUMNS: tuple[SizeColumn, ...] = get_args(SizeColumn)
_USUAL: tuple[SizeColumn, ...] = ("size", "labour", "plant", "material", "whole")
# Words of a head, in small letters, and what the column is then; the first that fits counts.
_WORDS: tuple[tuple[str, SizeColumn], ...] = (
    (r"labou?r( cost)?|wages|work", "labour"),
    (r"plant( cost)?|machines|equipment", "plant"),
    (r"materials?( cost)?|goods", "material"),
    (r"whole|total|cost|price|rate|all[- ]in|together", "whole"),
    (r"size|thickness|depth|diameter|height|width|length|section|nominal (size|bore)|dn|ø", "size"),
)
_UNIT = re.compile(r"\s*[\[(]\s*(?P<unit>[^\])]*?)\s*[\])]\s*$|(?<=\w)\s+(?P<bare>mm|cm|m|in|ft)$")


def recognise(
    rows: Sequence[Sequence[str]], said: Sequence[SizeColumn] | None = None
) -> Recognised[SizeColumn]:
    """Which column holds what, by the heads; in the usual order where there are none."""
    return columns.recognise(rows, _head, _USUAL, said)


def _head(cell: str) -> tuple[SizeColumn, str]:
    named = _UNIT.search(cell.strip())
    bare = re.sub(r"\s+", " ", _UNIT.sub("", cell.strip().rstrip("*:"))).lower()
    symbol = (named["unit"] or named["bare"] or "") if named else ""
    return next(((column, symbol) for words, column in _WORDS if re.fullmatch(words, bare)), ("", ""))
