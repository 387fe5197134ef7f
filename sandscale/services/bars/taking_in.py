"""Bars of somebody else's schedule, seen and put right before they are kept."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from ...core.bars.columns import LEGS, BarColumn, fields_of, recognise
from ...core.bars.detailing import Detailing, rules_of
from ...core.bars.schedule import scheduled
from ...core.numbers.entry import read_entry
from ...core.numbers.written import plain
from ...core.refusals import BadEntry, Refusal
from ...formats import bvbs
from ...formats.table import cells
from ...store.models import Element, Project, TypedBar
from ..keeping.acting import Actor
from ..keeping.views import RowRead
from .actions import FIELDS, as_kept, empty_bar
from .detailing import texts_of
from .entered import bar_line, checked_bar
from .views import SheetRead

SAMPLE = 6  # rows shown as they came
OFF = 0.0011  # m, by which a cut length that was told may miss that of its legs


def read(actor: Actor, content: bytes, name: str, said: Sequence[BarColumn] | None = None) -> SheetRead:
    """Rows of a file or of the clipboard as they would become typed bars; nothing is kept.

    Args:
        content: CSV or any text in columns, a workbook, or BVBS.
        name: what the user calls it, for sentences.
        said: what the columns are, where they were put right by hand.

    Raises:
        UnreadableTable: it holds no rows.
    """
    project = Project.get_by_id(actor.project_id)
    rules = rules_of(texts_of(project.id, [project.detailing]).get(project.detailing, ""))
    members = {
        mark.lower(): measurer
        for mark, measurer in Element.select(Element.mark, Element.measurer)
        .where(Element.project == project.id)
        .tuples()
    }
    if bvbs.is_bvbs(content):
        rows = [
            RowRead(line=at, fields=fields, says=says) for at, fields, says in bvbs.read_bars(content, name)
        ]
        shown = [_looked_over(row, members, rules) for row in rows]
        return SheetRead(
            columns=[], heads=[], sample=[], rows=shown, wrong=sum(bool(row.says) for row in shown)
        )
    table = cells(content, name, bvbs.MOST_ROWS)
    known = recognise(table, said)
    rows = []
    for at, row in enumerate(table[known.first :], start=known.first + 1):
        fields = fields_of(row, known)
        if any(name in fields for name in ("mark", "size", "shape", *LEGS)):
            rows.append(_looked_over(RowRead(line=at, fields=fields, says=""), members, rules))
    return SheetRead(
        columns=list(known.columns),
        heads=list(table[known.first - 1]) if known.first else [],
        sample=[list(row) for row in table[known.first : known.first + SAMPLE]],
        rows=rows,
        wrong=sum(bool(row.says) for row in rows),
    )


def _looked_over(row: RowRead, members: Mapping[str, str], rules: Detailing) -> RowRead:
    """A row with what keeps it from being taken in, or what looks wrong with it; ``members`` are those there
    are by mark in small letters, with their measurer."""
    if row.says:
        return row
    try:
        fields = bar_of(row.fields)
        member = row.fields.get("member", "")
        if not member:
            raise BadEntry("It names no member.", field="member")
        if members.get(member.lower(), "typed-bars") != "typed-bars":
            raise BadEntry(f"The bars of {member} come from its make-up.", field="member")
        bar = checked_bar({**empty_bar(), **as_kept(fields, str(fields.get("shape", "00")))})
        line = scheduled(bar_line(TypedBar(**bar), member, rules), rules)
    except Refusal as refusal:
        return row.model_copy(update={"says": refusal.sentence})
    says = [found.says for found in line.findings]
    if told := row.fields.get("length"):
        says += _length_off(told, line.cut_length)
    return row.model_copy(update={"says": "", "looks": " ".join(says)})


def _length_off(told: str, cut: float) -> list[str]:
    """Whether a length that was told, in m or mm, isn't that of the legs."""
    try:
        length = read_entry(plain(told, "length"), "m", field="length")
    except BadEntry:
        return []
    length = length / 1000 if length > 100 else length
    if abs(length - cut) <= OFF:
        return []
    return [f"Its legs come to {cut:.3f} m, not to the {length:.3f} m it was told with."]


def bar_of(fields: dict[str, str]) -> dict[str, Any]:
    """A row's fields as a bar is typed."""
    bar: dict[str, Any] = {name: text for name, text in fields.items() if name in FIELDS and name not in LEGS}
    if legs := {letter: text for letter, text in fields.items() if letter in LEGS}:
        bar["legs"] = legs
    if "each" not in bar and "total" in fields:
        bar |= {"members": "1", "each": fields["total"]}
    if corners := fields.get("corners"):
        bar["corners"] = [[float(n) for n in point.split(",")] for point in corners.split(";")]
    if "size" not in bar:
        raise BadEntry("It names no size.", field="size")
    return bar
