"""Numbers as people write them: a decimal point or a comma, thousands set apart, fractions of one sign."""

from __future__ import annotations

import re
from decimal import Decimal, InvalidOperation

from ..refusals import BadEntry
from .ways import Ways, ways

_FRACTIONS = {
    "½": 1 / 2, "⅓": 1 / 3, "⅔": 2 / 3, "¼": 1 / 4, "¾": 3 / 4, "⅕": 1 / 5, "⅖": 2 / 5, "⅗": 3 / 5,
    "⅘": 4 / 5, "⅙": 1 / 6, "⅚": 5 / 6, "⅛": 1 / 8, "⅜": 3 / 8, "⅝": 5 / 8, "⅞": 7 / 8,
}  # fmt: skip
_FRACTION = re.compile(rf"(?P<whole>\d*)\s?(?P<sign>[{''.join(_FRACTIONS)}])")
_SPACE = "\u0020\u00a0\u202f"
# Digits with signs and spaces between them; a space only where a group of three follows.
_GROUPED = re.compile(rf"\d(?:[\d.,]|[{_SPACE}](?=\d{{3}}(?!\d)))*")


_OF_NUMBERS = rf"\d.,{''.join(_FRACTIONS)}"
_AROUND = re.compile(rf"^[^{_OF_NUMBERS}-]+|[^{_OF_NUMBERS}]+$")  # a currency, as a rule
_POINT = re.compile(r"(?<=\d)\.(?=\d)|(?<!\d)\.(?=\d)")


def plain(text: str, field: str = "value", here: Ways | None = None) -> str:
    """A text with every number in it written plainly: ``2½`` is 2.5, ``12,5`` is 12.5, ``1 234,5`` and
    ``1.234,5`` and ``1,234.5`` are 1234.5. What could mean two numbers is what the project's way says.

    Args:
        here: the way it was written, where that isn't the project's.

    Raises:
        BadEntry: a number could mean two things, as ``1,234`` does where the project hasn't said.
    """
    here = here or ways()
    signs = text.count(".") + (here.decimal == "," and "." in text)
    if "," not in text and not any(sign in text for sign in _FRACTIONS) and signs < 2:
        return text
    whole = _FRACTION.sub(lambda m: f"{int(m['whole'] or 0) + _FRACTIONS[m['sign']]:.13g}", text)
    return _GROUPED.sub(lambda m: _one(m[0], field, here), whole)


def written(text: str) -> str:
    """A text of plain numbers with the project's decimal sign."""
    sign = ways().decimal
    return text if sign == "." else _POINT.sub(sign, text)


def _one(number: str, field: str, here: Ways) -> str:
    joined = re.sub(rf"[{_SPACE}]", "", number)
    spaced = joined != number
    points, commas = joined.count("."), joined.count(",")
    if not points and not commas:
        return number
    last = max(joined.rfind("."), joined.rfind(","))
    sign = joined[last]
    head, tail = joined[:last], joined[last + 1 :]
    if points and commas:
        if joined.count(sign) > 1:
            return number  # nobody writes that; the reader says so
        other = "," if sign == "." else "."
        return f"{head.replace(other, '')}.{tail}" if _in_threes(head, other) else number
    if joined.count(sign) > 1:
        return joined.replace(sign, "") if _in_threes(joined, sign) else number
    could_be_thousands = not spaced and len(tail) == 3 and bool(head.strip("0")) and len(head) <= 3
    if not could_be_thousands or sign == here.decimal:
        return f"{head}.{tail}"
    if sign == here.thousands:
        return head + tail
    raise _two_readings(number, head, tail, field, here)


def _two_readings(number: str, head: str, tail: str, field: str, here: Ways) -> BadEntry:
    """The refusal of a number that could be two; asked where the project hasn't said how it writes
    numbers."""
    one, two = f"{head}{tail}", written(f"{head}.{tail}")
    return BadEntry(
        f"“{number}” can be {one} or {two}.",
        field=field,
        remedy=f"Type {one}, or {two}.",
        code="two-readings" if here.writing else "which-number",
        numbers={"thousands": float(one), "decimals": float(f"{head}.{tail}")},
    )


def _in_threes(digits: str, sign: str) -> bool:
    first, *groups = digits.split(sign)
    return 1 <= len(first) <= 3 and all(len(group) == 3 for group in groups)


def listed(text: str, field: str) -> Decimal:
    """A number of somebody's list, without its currency; ``(12.50)`` and ``−12.50`` are below zero.

    Raises:
        BadEntry: it is none, or could be read in two ways.
    """
    told = re.sub("[−–]", "-", text.strip())
    sign = "-" if re.fullmatch(r"[^\d-]*\(.*\)\D*", told) else ""
    bare = sign + _AROUND.sub("", told)
    try:
        return Decimal(re.sub(r"(?<=\d)[ \u00a0\u202f](?=\d{3})", "", plain(bare, field)))
    except (InvalidOperation, ValueError):
        raise BadEntry(f"“{text[:40]}” is no number.", field=field, remedy="Type it like 12.50.") from None
