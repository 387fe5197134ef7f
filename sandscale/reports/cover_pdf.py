"""The cover list of a package: what it holds, who issued it and when, and the numbers each document tells."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .paper import LEFT, QUIET, RIGHT, Column, Heading, Pages

_COLUMNS = (
    Column("File", LEFT, 180), Column("Document", LEFT + 188, 104),
    Column("kB", LEFT + 296, 30, True), Column("Tells", LEFT + 338, RIGHT - LEFT - 338),
)  # fmt: skip


@dataclass(frozen=True)
class CoverRow:
    """A file of a package; ``told`` are the numbers its document tells, each in words."""

    file: str
    document: str
    size: int
    told: Sequence[str]


def write(
    project: str,
    client: str,
    title: str,
    issued: str,
    note: str,
    rows: Sequence[CoverRow],
    most_told: int = 6,
) -> bytes:
    """The list's bytes.

    Args:
        issued: who issued it, when and to whom.
        note: what was said with it; nothing where it is empty.
        rows: a file each.
        most_told: of the numbers of a document.
    """
    pages = Pages(Heading(project, client, f"Cover list, {title}", f"{len(rows)} files"), _COLUMNS)
    for row in rows:
        told = "; ".join(row.told[:most_told])
        if len(row.told) > most_told:
            told += f" and {len(row.told) - most_told} more"
        pages.row([row.file, row.document, f"{max(row.size / 1000, 1):.0f}", told])
    pages.y -= 10
    pages.words(issued, color=QUIET)
    if note:
        pages.words(note)
    return pages.finish()
