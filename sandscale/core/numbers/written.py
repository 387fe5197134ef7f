"""Numbers as people write them: a decimal point or a comma, thousands set apart, fractions of one sign."""

from __future__ import annotations

import re

from ..refusals import BadEntry

_FRACTIONS = {
    "½": 1 / 2, "⅓": 1 / 3, "⅔": 2 / 3, "¼": 1 / 4, "¾": 3 / 4, "⅕": 1 / 5, "⅖": 2 / 5, "⅗": 3 / 5,
    "⅘": 4 / 5, "⅙": 1 / 6, "⅚": 5 / 6, "⅛": 1 / 8, "⅜": 3 / 8, "⅝": 5 / 8, "⅞": 7 / 8,
}  # fmt: skip
_FRACTION = re.compile(rf"(?P<whole>\d*)\s?(?P<sign>[{''.join(_FRACTIONS)}])")
_SPACE = "\u0020\u00a0\u202f"
# Digits with signs and spaces between them; a space only where a group of three follows.
_GROUPED = re.compile(rf"\d(?:[\d.,]|[{_SPACE}](?=\d{{3}}(?!\d)))*")


def plain(text: str, field: str = "value") -> str:
    """A text with every number in it written plainly: ``2½`` is 2.5, ``12,5`` is 12.5, ``1 234,5`` and
    ``1.234,5`` and ``1,234.5`` are 1234.5.

    Raises:
        BadEntry: a number could mean two things, as ``1,234`` does.
    """
    if "," not in text and not any(sign in text for sign in _FRACTIONS) and text.count(".") < 2:
        return text
    whole = _FRACTION.sub(lambda m: f"{int(m['whole'] or 0) + _FRACTIONS[m['sign']]:.13g}", text)
    return _GROUPED.sub(lambda m: _one(m[0], field), whole)


def _one(number: str, field: str) -> str:
    joined = re.sub(rf"[{_SPACE}]", "", number)
    spaced = joined != number
    points, commas = joined.count("."), joined.count(",")
    if not commas and points < 2:
        return number
    last = max(joined.rfind("."), joined.rfind(","))
    decimal = joined[last]
    if points and commas:
        if joined.count(decimal) > 1:
            return number  # nobody writes that; the reader says so
        head, tail = joined[:last], joined[last + 1 :]
        other = "," if decimal == "." else "."
        return f"{head.replace(other, '')}.{tail}" if _in_threes(head, other) else number
    if joined.count(decimal) > 1:
        return joined.replace(decimal, "") if _in_threes(joined, decimal) else number
    head, tail = joined[:last], joined[last + 1 :]
    if not spaced and len(tail) == 3 and head.strip("0") and len(head) <= 3:
        raise BadEntry(
            f"“{number}” can be {head}{tail} or {head}.{tail}.",
            field=field,
            remedy=f"Type {head}{tail}, or {head}.{tail} with a point.",
            code="two-readings",
        )
    return f"{head}.{tail}"


def _in_threes(digits: str, sign: str) -> bool:
    first, *groups = digits.split(sign)
    return 1 <= len(first) <= 3 and all(len(group) == 3 for group in groups)
