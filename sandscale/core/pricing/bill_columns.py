"""What the rows of somebody's bill of quantities are: which columns hold what, and which rows are sections,
items, totals."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal, get_args

from .. import columns
from ..columns import Recognised
from ..numbers.units import unit as unit_of
from ..numbers.working import shown
from ..refusals import BadEntry
from .bill import ItemKind

# What a column may hold; an empty one is left out.
BillColumn = Literal["", "number", "description", "unit", "quantity", "rate", "amount", "note"]
COLUMNS: tuple[BillColumn, ...] = get_args(BillColumn)
_USUAL: tuple[BillColumn, ...] = ("number", "description", "unit", "quantity", "rate", "amount")
# Words of a head, each whole and in small letters, and what the column is then; the first that fits counts.
_WORDS: tuple[tuple[str, BillColumn], ...] = (
    (r"(item )?(no|nr|number|ref(erence)?|code|pos(ition)?|item|clause)\.?|#", "number"),
    (
        r"(item )?description( of (works?|items?))?|particulars|works?|text|designation|activity",
        "description",
    ),
    (r"unit( of measure(ment)?)?|units|u\.?o\.?m\.?|uom|u/m|measure", "unit"),
    (r"(total |contract |bill |est(imated|\.)? )?(quantity|qty|quantities|qtty|quant)\.?", "quantity"),
    (r"(unit )?(rate|price)( per unit)?|(unit )?cost|rate/unit", "rate"),
    (r"(total |item )?(amount|total|sum|extension|value)|total (price|cost)", "amount"),
    (r"remarks?|notes?|comments?|spec(ification)?\.?( ref\.?)?", "note"),
)
_MONEY = re.compile(r"[\s,/]*(\b(in|excl\.? tax)\b\s*)?(\b[A-Z]{3}\b|[€$£])[\s.]*$")
_IN_BRACKETS = re.compile(r"\s*[\[(].*?[\])]\s*$")
# Words that carry a sum from page to page; “Collection chambers” and “Brought-in fill” are works.
_TOTALS = re.compile(
    r"(sub-?\s?|grand |section |page |bill |amount )?"
    r"(totals?\b.*"
    r"|(summary|collection|sum)(\W*| (of|for|to|from|page|sheet|section|bill|carried|brought)\b.*)"
    r"|(carried|brought)\W+(forward|over|down|to|from)\b.*|to (collection|summary)\b.*)",
    re.IGNORECASE | re.DOTALL,
)
_ONCE = re.compile(r"(item|sum|lump ?sum|ls|l\.s\.|lot|pc sum|prov\.? ?sum)\.?", re.IGNORECASE)
_PROVISIONAL = re.compile(r"\bprovisional\b|\bprov\.? sum", re.IGNORECASE)
_PRIME = re.compile(r"\bprime cost\b|\bp\.?c\.? sum", re.IGNORECASE)
_NOTHING = re.compile(r"[-–—.\s]*|n/?a|incl(uded|\.)?|rate only|by others|nil", re.IGNORECASE)
_DEPTH = re.compile(r"[A-Za-z0-9]+")
DEEPEST = 4
_HEADS_AGAIN = 3  # so many heads in one row are no item
_ROUNDED, _RATE_ROUNDED = Decimal(1), Decimal("0.005")  # an amount to whole units, a rate to cents

_Reader = Callable[[str], Decimal]


@dataclass(frozen=True)
class Line:
    """A row of a bill as it would be taken in.

    Attributes:
        row: its number in the sheet.
        what: a section, an item, words between items; a total, which isn't taken.
        depth: of a section, by its number: 0 outermost.
        says: what about it is to be looked at.
    """

    row: int
    what: Literal["section", "item", "words", "total"]
    number: str = ""
    description: str = ""
    unit: str = ""
    quantity: Decimal | None = None
    rate: Decimal | None = None
    amount: Decimal | None = None
    note: str = ""
    kind: ItemKind = "measured"
    depth: int = 0
    says: str = ""


def recognise(
    rows: Sequence[Sequence[str]], said: Sequence[BillColumn] | None = None
) -> Recognised[BillColumn]:
    """Which column holds what, by the heads; in the usual order where there are none."""
    return columns.recognise(rows, _head, _USUAL, said, heads_seen=30)


def _head(cell: str) -> tuple[BillColumn, str]:
    named = _MONEY.sub("", _IN_BRACKETS.sub("", cell.strip().rstrip("*:")))
    bare = re.sub(r"\s+", " ", named).strip().lower()
    return next(((column, "") for words, column in _WORDS if re.fullmatch(words, bare)), ("", ""))


def lines(
    rows: Sequence[tuple[int, Sequence[str]]], known: Sequence[BillColumn], number: _Reader
) -> Iterator[Line]:
    """What the rows below the heads are.

    Args:
        rows: each with its number in the sheet.
        known: what the columns hold.
        number: reads a number as the file's writer wrote it.
    """
    begun = False
    for row, cells in rows:
        told: dict[str, str] = {
            column: text
            for column, cell in zip(known, cells, strict=False)
            if column and (text := cell.strip())
        }
        if (line := _line(row, told, number, begun)) is not None:
            begun = begun or line.what in ("section", "item")
            yield line


def _line(row: int, told: Mapping[str, str], number: _Reader, begun: bool) -> Line | None:
    words, symbol, numbered = told.get("description", ""), told.get("unit", ""), told.get("number", "")
    if not (words or symbol or told.get("quantity")) or _is_heads(told):
        return None
    values, says = dict[str, Decimal | None](), list[str]()
    for name in ("quantity", "rate", "amount"):
        values[name], wrong = _read(told.get(name, ""), number)
        says += [f"Its {name} “{told[name][:30]}” is no number."] if wrong else []
    if not symbol and values["quantity"] is None:
        if _TOTALS.fullmatch(words):
            return Line(row, "total", numbered, words)
        if values["amount"] is None:
            if numbered or not begun:
                return Line(row, "section", numbered, words, depth=_depth(numbered))
            return Line(row, "words", numbered, words)
    kind = _kind(words, symbol, values["quantity"])
    symbol, wrong_unit = _unit(symbol, kind)
    if not words:
        words, says = numbered or "Item without words", [*says, "It has no words."]
    if values["quantity"] is None and kind == "measured":
        kind, says = "rate_only", [*says, "It has no quantity, so it is taken for its rate only."]
    quantity, rate, amount = values["quantity"], values["rate"], values["amount"]
    off = _amount_off(quantity, rate, amount) if kind == "measured" else ""
    return Line(
        row, "item", numbered, words, symbol, quantity, rate, amount, told.get("note", ""), kind,
        says=" ".join(each for each in (*says, wrong_unit, off) if each),
    )  # fmt: skip


def _amount_off(quantity: Decimal | None, rate: Decimal | None, amount: Decimal | None) -> str:
    """What is to be said of an amount that isn't its quantity times its rate, but for rounding."""
    if not amount or quantity is None:
        return ""
    if not rate:
        return f"Its amount of {shown(amount)} stands without a rate, so it isn't taken."
    if abs(amount - quantity * rate) <= max(_ROUNDED, abs(quantity) * _RATE_ROUNDED):
        return ""
    reckoned = f"{shown(quantity)} × {shown(rate)} = {shown(quantity * rate)}"
    return f"Its amount of {shown(amount)} isn't {reckoned}, which counts."


def _is_heads(told: Mapping[str, str]) -> bool:
    """Whether a row is the table's heads, said again on a new page."""
    if _head(told.get("description", ""))[0] != "description":
        return False
    return sum(_head(text)[0] == column for column, text in told.items()) >= _HEADS_AGAIN


def _kind(words: str, symbol: str, quantity: Decimal | None) -> ItemKind:
    """A sum is one by its words; what is had once and in no unit is a lump sum."""
    once = not symbol or bool(_ONCE.fullmatch(symbol.strip()))
    if once and quantity in (None, 1):
        if _PROVISIONAL.search(words):
            return "provisional"
        return "prime_cost" if _PRIME.search(words) else "lump_sum"
    return "measured"


def _unit(symbol: str, kind: ItemKind) -> tuple[str, str]:
    """The unit of an item, and what is to be said of it."""
    if kind in ("lump_sum", "provisional", "prime_cost"):
        return "nr", ""
    bare = symbol.strip().rstrip(".")
    for each in (bare, bare.lower(), _SAID.get(bare.lower(), bare)):
        try:
            return unit_of(each or "nr").symbol, ""
        except BadEntry:
            continue
    return "nr", f"Its unit “{bare[:20]}” isn't known; it counts in nr."


_SAID = {
    "each": "nr", "ea": "nr", "pcs": "nr", "pc": "nr", "number": "nr", "item": "nr", "sum": "nr", "set": "nr",
    "lm": "m", "lin.m": "m", "rm": "m", "m run": "m", "ml": "m", "m.": "m", "sq.m": "m²", "sq m": "m²",
    "cu.m": "m³", "cu m": "m³", "hours": "h", "hrs": "h", "to": "t", "tonnes": "t", "wks": "week",
    "mth": "month", "litre": "l", "litres": "l", "ltr": "l",
}  # fmt: skip


def _depth(numbered: str) -> int:
    """How deep a section lies by its number: 2 outermost, 2.1 within it."""
    return min(max(len(_DEPTH.findall(numbered)) - 1, 0), DEEPEST)


def _read(text: str, number: _Reader) -> tuple[Decimal | None, bool]:
    if _NOTHING.fullmatch(text.strip()):
        return None, False
    try:
        return number(text), False
    except BadEntry:
        return None, True
