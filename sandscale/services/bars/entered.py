"""Typed bars as the core takes them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from ...core.bars.detailing import Detailing, rules_of
from ...core.bars.schedule import BarLine, shape_of
from ...core.bars.shapes import SHAPES, between
from ...core.bars.sizes import diameter
from ...core.measurers.typed_bars import Typed
from ...core.numbers.entry import read_entry
from ...core.numbers.systems import SYSTEMS
from ...core.refusals import BadEntry
from ...store.models import DimensionLine, Element, Project, TypedBar
from .detailing import detailing_of, texts_of


def typed_entries(elements: Sequence[Element], _lines: Mapping[int, list[DimensionLine]]) -> dict[int, Typed]:
    """What was entered for elements of typed bars, by their ids."""
    projects = {p.id: p for p in Project.those(Project.id, {e.project_id for e in elements})}
    rows: dict[int, list[TypedBar]] = {e.id: [] for e in elements}
    for row in TypedBar.those(TypedBar.element, list(rows), TypedBar.position, TypedBar.id):
        rows[row.element_id].append(row)
    found = {}
    for element in elements:
        project = projects[element.project_id]
        key = detailing_of(element, project)
        rules = rules_of(texts_of(project.id, [key]).get(key, ""))
        bars = tuple(bar_line(row, element.mark, rules) for row in rows[element.id])
        masses = {
            str(row.id): read_entry(row.mass, "kg/m", field="mass") for row in rows[element.id] if row.mass
        }
        found[element.id] = Typed(bars, masses, rules, SYSTEMS[project.unit_system])
    return found


def bar_line(row: TypedBar, member: str, rules: Detailing) -> BarLine:
    """A typed bar as the schedule takes it.

    Raises:
        BadEntry: an entry can't be read.
    """
    corners = tuple((x / 1000, y / 1000) for x, y in row.corners)
    legs, bends = between(corners) if corners else (legs_read(row.shape, row.legs), 0)
    if row.shape == "99" and not corners:
        bends = max(len(legs) - 1, 0)
    return BarLine(
        member, row.mark, row.size, number_read(row.members, "members"), number_read(row.each, "each"),
        row.shape, legs, rules.grade, bends=bends, corners=corners, key=str(row.id), output="mass",
    )  # fmt: skip


def number_read(entry: str, field: str) -> float:
    """A whole number of bars or members.

    Raises:
        BadEntry: it is none.
    """
    value = read_entry(entry, "nr", field=field, minimum=0)
    if abs(value - round(value)) > 1e-6:
        raise BadEntry(f"“{entry}” {field} is no whole number.", field=field, remedy="Bars are whole.")
    return round(value)


def legs_read(shape: str, legs: Mapping[str, str]) -> dict[str, float]:
    """Typed legs in m, those the shape has; bare numbers are mm.

    Raises:
        BadEntry: one can't be read.
    """
    counted = SHAPES[shape].numbers if shape in SHAPES else ()
    known = SHAPES[shape].legs if shape in SHAPES else tuple(legs)
    return {
        letter: read_entry(text, "nr" if letter in counted else "mm", field=letter, minimum=0)
        for letter, text in legs.items()
        if letter in known and text.strip()
    }


def checked_bar(fields: dict[str, Any]) -> dict[str, Any]:
    """A typed bar as it is kept. What looks wrong with it, or is still missing, is found later; what can't be
    is refused.

    Raises:
        BadEntry: its size, shape, numbers or legs can't be; the field at fault is named.
    """
    fields = {**fields, "size": size_read(fields["size"]), "mark": fields["mark"].strip()[:20].strip()}
    fields["shape"] = fields["shape"].strip().zfill(2)[:2]
    row = TypedBar(**fields)
    line = bar_line(row, "", rules_of(""))
    shape_of(replace(line, legs=line.legs or {"A": 1.0}))
    if row.mass:
        read_entry(row.mass, "kg/m", field="mass", minimum=0)
    return fields


def size_read(text: str) -> str:
    """A bar's size without the letter of its grade: H16, ø16 and 16 mm are 16, 08 is 8.

    Raises:
        BadEntry: no such bar is made.
    """
    bare = text.strip().removesuffix("mm").strip()
    size = bare if bare.startswith("#") else bare.lstrip("ABCDHRTXYNØøabcdhrtxyn").strip().lstrip("0")
    diameter(size)
    return size
