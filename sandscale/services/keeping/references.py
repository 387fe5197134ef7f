"""References: the kind of something and the id of its row, such as ``line:3``; more may follow."""

from __future__ import annotations


def with_row(ref: str, row: int) -> str:
    """A reference with the id of another row."""
    kind, _, *rest = ref.split(":")
    return ":".join((kind, str(row), *rest))
