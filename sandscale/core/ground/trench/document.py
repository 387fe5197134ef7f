"""A kind of trench as people write it: entries as they were typed, proved and read."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from ...documents import from_data, from_text
from ...numbers.entry import read_entry
from ...refusals import BadEntry
from ..slopes import batter_of, grade_of
from .kind import Mark, Material, Pipe, Reinstatement, Surround, TrenchKind
from .sides import EN_1610, Kind, Sides, TrenchWidths

LARGEST_KIND = 20_000  # characters
Entry = Annotated[str, StringConstraints(max_length=80, strip_whitespace=True, pattern=r"^[^\x00]*$")]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")

    name: Entry
    density: Entry = ""
    extra: Entry = ""

    def material(self, where: str) -> Material:
        """What it is of."""
        density = read_entry(self.density or "0", "nr", field=f"{where}.density", minimum=0)
        return Material(density, read_entry(self.extra or "0", "nr", field=f"{where}.extra", minimum=0))


class Layer(_Part):
    """A layer laid in the trench, up to a mark of the pipe and so far above it."""

    mark: Mark = "crown"
    over: Entry = ""


class Restored(_Part):
    """A layer put back at the top."""

    thickness: Entry = ""
    overlap: Entry = ""


class Width(BaseModel):
    """How wide the bottom is of trenches down to a depth; of all that are deeper where none is typed."""

    model_config = ConfigDict(extra="forbid")

    depth: Entry = ""
    width: Entry = ""


class KindDocument(BaseModel):
    """A kind of trench, in entries in m (batters as 1:2, falls as 1 % or 1:100, allowances in percent,
    densities in t/m³). ``width`` is that of the bottom; where it is empty, by the depth as ``widths`` says,
    and where that is empty too by the pipe's size and the depth.
    """

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str, StringConstraints(max_length=60, strip_whitespace=True, min_length=1)]
    about: Annotated[str, StringConstraints(max_length=300, strip_whitespace=True)] = ""
    pipe: Entry = ""
    bore: Entry = ""
    wall: Entry = ""
    bed: Entry = ""
    width: Entry = ""
    sides: Kind = "upright"
    batter: Entry = ""
    step_height: Entry = ""
    step_width: Entry = ""
    upright: Entry = ""
    supported: bool = False
    pumped: bool = False
    cover: Entry = ""
    flattest: Entry = ""
    steepest: Entry = ""
    widths: Annotated[list[Width], Field(max_length=12)] = Field(default_factory=list)
    layers: Annotated[list[Layer], Field(max_length=10)] = Field(default_factory=list)
    restored: Annotated[list[Restored], Field(max_length=8)] = Field(default_factory=list)


LENGTHS = ("bore", "wall", "bed", "width", "step_height", "step_width", "upright", "cover")
PART_LENGTHS: dict[Literal["widths", "layers", "restored"], tuple[str, ...]] = {
    "widths": ("depth", "width"), "layers": ("over",), "restored": ("thickness", "overlap"),
}  # fmt: skip


def written(made: KindDocument) -> dict[str, Any]:
    """A kind as it stands in files and tables; an own table of widths only where there is one."""
    return made.model_dump(exclude=None if made.widths else {"widths"})


def read_kind(given: Any) -> KindDocument:
    """A kind of trench from what stands for it in a file or a request.

    Raises:
        BadFormula: it is none.
    """
    return from_data(KindDocument, given, "kind of trench")


def read_source(source: str) -> KindDocument:
    """A kind of trench from its text, as a shelf keeps it.

    Raises:
        BadFormula: it is none.
    """
    return from_text(KindDocument, source, "kind of trench", LARGEST_KIND, kind_of)


def kind_of(made: KindDocument) -> TrenchKind:
    """A kind of trench to be reckoned with.

    Raises:
        BadEntry: an entry can't be read, a measure can't be, or its layers don't rise.
    """
    m = {
        name: read_entry(getattr(made, name) or "0", "m", field=name, minimum=0)
        for name in LENGTHS
        if getattr(made, name)
    }
    pipe = None
    if made.bore:
        pipe = Pipe(made.pipe or f"{m['bore'] * 1000:.0f} mm", m["bore"], m.get("wall", 0.0))
    sides = Sides(
        made.sides, batter_of(made.batter, "batter"), m.get("step_height", 0.0), m.get("step_width", 0.0),
        m.get("upright", 0.0),
    )  # fmt: skip
    layers = [
        Surround(
            each.name or f"layer {n + 1}", each.mark,
            read_entry(each.over or "0", "m", field=f"layers.{n}.over"), each.material(f"layers.{n}"),
        )
        for n, each in enumerate(made.layers)
    ]  # fmt: skip
    restored = [
        Reinstatement(
            each.name or f"reinstatement {n + 1}",
            read_entry(each.thickness or "0", "m", field=f"restored.{n}.thickness", minimum=0),
            read_entry(each.overlap or "0", "m", field=f"restored.{n}.overlap", minimum=0),
            each.material(f"restored.{n}"),
        )
        for n, each in enumerate(made.restored)
    ]  # fmt: skip
    own = {"widths": _widths(made.widths)} if made.widths and not m.get("width") else {}
    return TrenchKind(
        made.name, pipe, m.get("bed", 0.0), layers, restored, sides, m.get("width", 0.0),
        cover=m.get("cover", 0.0), flattest=abs(grade_of(made.flattest, "flattest")),
        steepest=abs(grade_of(made.steepest, "steepest")), supported=made.supported,
        pumped=made.pumped, **own,
    )  # fmt: skip


def _widths(rows: Sequence[Width]) -> TrenchWidths:
    """An own table of widths by depth; the last holds for all beyond.

    Raises:
        BadEntry: depths don't rise, or a width is missing.
    """
    found = list[tuple[float, float]]()
    for n, row in enumerate(rows):
        wide = read_entry(row.width or "0", "m", field=f"widths.{n}.width", minimum=0)
        deep = read_entry(row.depth, "m", field=f"widths.{n}.depth", minimum=0) if row.depth else math.inf
        if not wide:
            raise BadEntry("A width of the table is missing.", field=f"widths.{n}.width")
        if found and deep <= found[-1][0]:
            raise BadEntry("The depths of the table of widths go up.", field=f"widths.{n}.depth")
        found.append((deep, wide))
    return TrenchWidths(((math.inf, -math.inf),), found)


def told(kind: TrenchKind) -> str:
    """A kind in one line, with its measures in m: what is noted on the items it feeds."""
    width = f"bottom {kind.width:g} m" if kind.width else "bottom by pipe and depth"
    if not kind.width and kind.widths is not EN_1610:
        sizes = [f"{wide:g} m" for _, wide in kind.widths.least]
        width = f"bottom {' to '.join(dict.fromkeys((sizes[0], sizes[-1])))} by depth"
    words = [kind.pipe.name if kind.pipe else "no pipe", width]
    if kind.sides.kind != "upright":
        words.append(f"{kind.sides.kind} sides")
    if kind.bed:
        words.append(f"{kind.bed:g} m below the pipe")
    for each in kind.surrounds:
        over = f" {'+' if each.over > 0 else '−'} {abs(each.over):g} m" if each.over else ""
        words.append(f"{each.name} to {each.mark}{over}")
    words += [f"{layer.name} {layer.thickness:g} m" for layer in kind.reinstatements]
    return f"{kind.name}: {', '.join(words)}"
