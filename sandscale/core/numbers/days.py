"""Days as people write them: 02 Nov 2026, 2 November 26, 2.11.2026, 2026-11-02."""

from __future__ import annotations

import re
from datetime import date

from ..refusals import BadEntry

MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_ISO = re.compile(r"(\d{4})-(\d{1,2})-(\d{1,2})")
_IN_WORDS = re.compile(r"(\d{1,2})\.?\s*([A-Za-z]{3,9})\.?,?\s*(\d{4}|\d{2})")
_IN_NUMBERS = re.compile(r"(\d{1,2})([./])(\d{1,2})\2(\d{4}|\d{2})")
_REMEDY = "Type it like 02 Nov 2026."


def read_day(text: str, field: str = "date") -> date:
    """The day that was typed. With points, the day stands before the month; with strokes, only where just
    one of the two can be the month.

    Raises:
        BadEntry: it is no day, or could be two.
    """
    written = text.strip()
    try:
        if found := _ISO.fullmatch(written):
            return date(*(int(part) for part in found.groups()))
        if found := _IN_WORDS.fullmatch(written):
            day, month, year = found.groups()
            return date(_year(year), MONTHS.index(month[:3].lower()) + 1, int(day))
        if found := _IN_NUMBERS.fullmatch(written):
            first, sign, second, year = int(found[1]), found[2], int(found[3]), _year(found[4])
            if sign == "/" and first != second and max(first, second) <= 12:
                raise BadEntry(
                    f"“{written}” can be two days.", field=field, remedy=_REMEDY, code="two-readings"
                )
            day_first = sign == "." or second <= 12
            return date(year, second if day_first else first, first if day_first else second)
    except ValueError:
        pass
    raise BadEntry(f"“{written[:40]}” is no date.", field=field, remedy=_REMEDY)


def _year(written: str) -> int:
    return int(written) if len(written) == 4 else 2000 + int(written)
