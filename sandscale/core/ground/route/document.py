"""A typical section as people write it: entries as they were typed, proved and read."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from ...documents import from_data, from_text
from ...numbers.entry import read_entry
from ...refusals import BadEntry
from ..formation import Batter
from ..slopes import batter_of, grade_of
from .sections import EARTH
from .typical import Ditch, RouteLayer, Strip, TypicalSection

LARGEST_TYPICAL = 40_000  # characters
Entry = Annotated[str, StringConstraints(max_length=80, strip_whitespace=True, pattern=r"^[^\x00]*$")]


class StripEntry(BaseModel):
    """A strip of the width, from the centreline outwards."""

    model_config = ConfigDict(extra="forbid")

    name: Entry
    width: Entry = ""
    fall: Entry = ""
    step: Entry = ""
    linear: bool = False


class LayerEntry(BaseModel):
    """A layer, from the top down; ``under`` names its strips, those on the right as those on the left."""

    model_config = ConfigDict(extra="forbid")

    name: Entry
    thickness: Entry = ""
    under: Annotated[list[Entry], Field(max_length=12)] = Field(default_factory=list)
    spread: Entry = ""


class TypicalDocument(BaseModel):
    """A typical section, in entries in m (falls as 2.5 %, batters as 1:1.5). ``left`` is not heeded where it
    is ``alike``; there is a ditch in cut where it has a depth."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str, StringConstraints(max_length=60, strip_whitespace=True, min_length=1)]
    about: Annotated[str, StringConstraints(max_length=300, strip_whitespace=True)] = ""
    alike: bool = True
    right: Annotated[list[StripEntry], Field(max_length=12)] = Field(default_factory=list)
    left: Annotated[list[StripEntry], Field(max_length=12)] = Field(default_factory=list)
    layers: Annotated[list[LayerEntry], Field(max_length=20)] = Field(default_factory=list)
    cut: Entry = "1:1.5"
    fill: Entry = "1:1.5"
    ditch_depth: Entry = ""
    ditch_bottom: Entry = ""
    ditch_inner: Entry = "1:1.5"
    ditch_outer: Entry = "1:1.5"
    topsoil: Entry = ""


LENGTHS = ("ditch_depth", "ditch_bottom", "topsoil")
PART_LENGTHS: dict[str, tuple[str, ...]] = {
    "right": ("width", "step"), "left": ("width", "step"), "layers": ("thickness", "spread"),
}  # fmt: skip


def read_typical(given: Any) -> TypicalDocument:
    """A typical section from what stands for it in a file or a request.

    Raises:
        BadFormula: it is none.
    """
    return from_data(TypicalDocument, given, "typical section")


def read_typical_source(source: str) -> TypicalDocument:
    """A typical section from its text, as a shelf keeps it.

    Raises:
        BadFormula: it is none.
    """
    return from_text(TypicalDocument, source, "typical section", LARGEST_TYPICAL, typical_of)


def typical_of(made: TypicalDocument) -> TypicalSection:
    """A typical section to be reckoned with.

    Raises:
        BadEntry: an entry can't be read, a measure can't be, it has no width, two strips of a side or two
            layers have one name, or a layer lies under a strip that isn't there.
    """
    right = _strips(made.right, "right")
    left = right if made.alike else _strips(made.left, "left")
    if not any(strip.width for strip in (*left, *right)):
        raise BadEntry(
            f"Typical section “{made.name}” has no width.", field="right",
            remedy="Type the width of a strip.",
        )  # fmt: skip
    layers = tuple(
        RouteLayer(
            each.name or f"Layer {n + 1}",
            _size(each.thickness, f"layers.{n}.thickness"),
            tuple(each.under),
            _size(each.spread, f"layers.{n}.spread"),
        )
        for n, each in enumerate(made.layers)
    )
    taken = next((layer.name for layer in layers if layer.name.lower() in EARTH), None)
    if taken is not None:
        raise BadEntry(f"A layer can't be called “{taken}”: that is earthwork.", field="layers")
    depth = _size(made.ditch_depth, "ditch_depth")
    ditch = None
    if depth:
        slopes = (batter_of(made.ditch_inner, "ditch_inner"), batter_of(made.ditch_outer, "ditch_outer"))
        ditch = Ditch(depth, _size(made.ditch_bottom, "ditch_bottom"), *slopes)
    return TypicalSection(
        made.name, left, right, layers, Batter(batter_of(made.cut, "cut")),
        Batter(batter_of(made.fill, "fill")), ditch, _size(made.topsoil, "topsoil"),
    )  # fmt: skip


def _strips(given: list[StripEntry], side: str) -> tuple[Strip, ...]:
    names = [each.name for each in given]
    twice = next((name for name in names if names.count(name) > 1), None)
    if twice is not None:
        raise BadEntry(f"Two strips on the {side} are named “{twice}”.", field=f"{side}.{names.index(twice)}")
    return tuple(
        Strip(
            each.name or f"strip {n + 1}",
            _size(each.width, f"{side}.{n}.width"),
            grade_of(each.fall, f"{side}.{n}.fall"),
            read_entry(each.step or "0", "m", field=f"{side}.{n}.step"),
            each.linear,
        )
        for n, each in enumerate(given)
    )


def _size(text: str, field: str) -> float:
    return read_entry(text or "0", "m", field=field, minimum=0)


def typical_told(typical: TypicalSection) -> str:
    """A typical section in one line, with its measures in m."""
    wide = [sum(strip.width for strip in side) for side in (typical.left, typical.right)]
    words = [f"{wide[0]:g} m left and {wide[1]:g} m right of the centreline"]
    words += [f"{layer.name} {layer.thickness:g} m" for layer in typical.layers]
    if typical.topsoil:
        words.append(f"topsoil {typical.topsoil:g} m stripped")
    return f"{typical.name}: {', '.join(words)}"
