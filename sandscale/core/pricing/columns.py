"""Which columns of somebody's list of prices hold what."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Literal, get_args

from .. import columns
from ..columns import Recognised

# What a column may hold; an empty one is left out.
QuoteColumn = Literal[
    "", "resource", "supplier", "price", "unit", "contains", "least", "quoted_on", "valid_to", "source"
]
COLUMNS: tuple[QuoteColumn, ...] = get_args(QuoteColumn)
_USUAL: tuple[QuoteColumn, ...] = ("resource", "supplier", "price", "unit", "quoted_on", "valid_to", "source")
# Words of a head, each whole and in small letters, and what the column is then; the first that fits counts.
_WORDS: tuple[tuple[str, QuoteColumn], ...] = (
    (r"(min(imum|\.)?|least|smallest)( order)?( quantity| qty)?", "least"),
    (r"valid (to|until|till)|expires|expiry( date)?|holds until|lapses", "valid_to"),
    (r"(quoted|offered|priced)( on)?|(quote |offer |price )?date|(date )?of quote|valid from", "quoted_on"),
    (r"supplier|merchant|firm|company|vendor|offered by|from", "supplier"),
    (r"(unit |net )?price( per unit)?|rate|cost|amount|(net )?unit price", "price"),
    (r"(sold )?(per|by|in)|for one|(selling |sales )?unit|u\.?o\.?m\.?|pack( size)?|packing", "unit"),
    (r"holding|holds|contains|content|units in it|in it|per pack", "contains"),
    (r"source|ref(erence)?\.?|(quotation|quote|offer) (no|nr|number)\.?|remarks?|notes?", "source"),
    (r"resource|material|item|product|article|description|name|goods|what", "resource"),
)
_IN_BRACKETS = re.compile(r"\s*[\[(].*?[\])]\s*$")


def recognise(
    rows: Sequence[Sequence[str]], said: Sequence[QuoteColumn] | None = None
) -> Recognised[QuoteColumn]:
    """Which column holds what, by the heads; in the usual order where there are none."""
    return columns.recognise(rows, _head, _USUAL, said)


def _head(cell: str) -> tuple[QuoteColumn, str]:
    bare = re.sub(r"\s+", " ", _IN_BRACKETS.sub("", cell.strip().rstrip("*:"))).lower()
    return next(((column, "") for words, column in _WORDS if re.fullmatch(words, bare)), ("", ""))


def fields_of(row: Sequence[str], known: Recognised[QuoteColumn]) -> dict[str, str]:
    """What a row says, by what its columns hold."""
    return {
        column: text
        for column, cell in zip(known.columns, row, strict=False)
        if column and (text := cell.strip())
    }
