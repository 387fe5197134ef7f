"""Batters and grades, as they are typed."""

from __future__ import annotations

from ..numbers.entry import read_entry
from ..refusals import BadEntry


def batter_of(text: str, field: str) -> float:
    """A batter as horizontal to 1 vertical: ``1:2`` and ``1 in 2`` are 1 vertical to 2, ``2`` is 2 to 1;
    upright where nothing stands.

    Raises:
        BadEntry: it is none.
    """
    words = text.strip().replace(" in ", ":")
    if not words:
        return 0.0
    parts = [each.strip() for each in words.split(":")]
    if len(parts) == 2:
        up, along = (read_entry(each, "nr", field=field, minimum=0) for each in parts)
        if up <= 0:
            raise BadEntry(f"“{text}” is no batter.", field=field, remedy="Type 1:2, or 0 for upright.")
        return along / up
    return read_entry(words, "nr", field=field, minimum=0)


def grade_of(text: str, field: str) -> float:
    """A rise per m: ``2 %``, ``0.02``, ``1 in 50``, ``1:50``."""
    words = text.strip().replace(" in ", ":")
    if not words:
        return 0.0
    sign, bare = (-1, words[1:]) if words[0] in "-−" else (1, words)
    if ":" in bare:
        up, along = (read_entry(each, "nr", field=field, minimum=0) for each in bare.split(":", 1))
        if along <= 0:
            raise BadEntry(f"“{text}” is no grade.", field=field, remedy="Type 2 %, or 1:50.")
        return sign * up / along
    if bare.endswith("%"):
        return sign * read_entry(bare[:-1], "nr", field=field) / 100
    return sign * read_entry(bare, "nr", field=field)
