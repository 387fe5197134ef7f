"""What requests of the ground stage carry. Typed entries stay text; places drawn on the plan are in m."""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, ValidationError, field_validator

from ..core.ground.papers import SummedBy as By
from ..core.refusals import BadEntry
from ..formats.levels_in import ColumnRole, Decimal, Grouping, How, PartRole
from .schemas import Body, Coordinate, Text, Versioned

Place = Annotated[list[Coordinate], Field(min_length=2, max_length=2)]
Line = Annotated[list[Place], Field(min_length=2, max_length=5_000)]
# East, north and level of a corner: numbers where it was drawn, text where it was typed.
TypedCorner = Annotated[list[Coordinate | Text | None], Field(min_length=2, max_length=3)]
Outline = Annotated[list[TypedCorner], Field(max_length=5_000)]
Unit = Literal["m", "mm", "cm", "km", "ft", "us-ft", "in", "feet", "inches"]


class HowRead(BaseModel):
    """How a file of levels is read, as it was put right."""

    model_config = ConfigDict(extra="forbid")

    columns: Annotated[list[ColumnRole], Field(max_length=60)] = Field(default_factory=list)
    header: bool | None = None
    decimal: Decimal = ""
    sheet: Text = ""
    by: Grouping = "layer"
    roles: Annotated[dict[str, PartRole], Field(max_length=2_000)] = Field(default_factory=dict)
    unit: Unit = "m"
    level_unit: Unit = "m"
    surface: bool = True

    @property
    def how(self) -> How:
        """The same, as readers take it."""
        return How(tuple(self.columns), self.header, self.decimal, self.sheet, self.by, self.roles)


def how_read(text: str) -> HowRead:
    """How a file is read, from what came beside it.

    Raises:
        BadEntry: it is nothing that can be read.
    """
    try:
        return HowRead.model_validate(json.loads(text or "{}"))
    except (ValueError, RecursionError, ValidationError):
        raise BadEntry("How the file is to be read can't be understood.", field="how") from None


class Delivered(HowRead):
    """A file of the survey feed, and how it is read."""

    name: Text


class LevelsPasted(HowRead):
    """Rows from the clipboard, and how they are read."""

    text: Annotated[str, Field(max_length=2_000_000, pattern=r"^[^\x00]*$")]
    name: Text = "Pasted levels"


class KnownPoint(BaseModel):
    """A point of a sheet with its place, as typed."""

    x: Coordinate
    y: Coordinate
    east: Text
    north: Text


class NewSurvey(Body):
    name: Text
    sheet: int | None = None
    known: Annotated[list[KnownPoint], Field(max_length=2)] = Field(default_factory=list)


class SurveyChange(Versioned):
    name: Text = ""
    unit: Unit = "m"
    level_unit: Unit = "m"
    swapped: bool = False
    known: Annotated[list[KnownPoint], Field(max_length=2)] = Field(default_factory=list)


class NewLevel(Body):
    east: Text = ""
    north: Text = ""
    level: Text = ""
    code: Text = ""
    x: Coordinate | None = None
    y: Coordinate | None = None


class LevelChange(Versioned):
    east: Text = ""
    north: Text = ""
    level: Text = ""
    code: Text = ""


class NewContour(Body):
    corners: Line
    level: Text


class Decided(Body):
    """A decision about levels in doubt: those at some places, or all of the kind."""

    kind: Literal["", "missing", "zero", "duplicate", "conflict", "spike", "outside", "swapped", "units"]
    does: Literal["keep", "leave out", "put right"]
    at: Annotated[list[int], Field(max_length=5_000)] = Field(default_factory=list)
    level: Text = ""


class Undecided(Body):
    kind: Text = ""
    at: Annotated[list[int], Field(max_length=5_000)] = Field(default_factory=list)


class NewSurface(Body):
    name: Text
    surveys: Annotated[list[int], Field(max_length=200)]


class SurfaceChange(Versioned):
    name: Text = ""
    surveys: Annotated[list[int], Field(max_length=200)] = Field(default_factory=list)


class NewGroundLine(Body):
    kind: Literal["breakline", "boundary", "hole"]
    corners: Outline


class GroundLineChange(Versioned):
    corners: Outline


class NewEarthwork(Body):
    mark: Text
    description: Text = ""
    location: int
    ground: int | None = None


class EarthworkChange(Versioned):
    ground: int | None = None
    method: Literal["exact", "square grid", "grid sections", "contour areas"] = "exact"
    rule: Literal["mean area", "prismoidal", "frustum"] = "mean area"
    spacing: Text = ""
    angle: Text = ""
    interval: Text = ""
    bands: Text = ""
    bulking: Text = ""
    compacted: Text = ""
    lorry: Text = ""


class NewFormation(Body):
    name: Text = ""
    outline: Outline = Field(default_factory=list)
    level: Text = ""
    at: Annotated[list[Coordinate | Text], Field(max_length=2)] = Field(default_factory=list)
    grade_east: Text = ""
    grade_north: Text = ""
    surface: int | None = None
    cut_batter: Text = ""
    cut_bench_height: Text = ""
    cut_bench_width: Text = ""
    fill_batter: Text = ""
    fill_bench_height: Text = ""
    fill_bench_width: Text = ""

    @field_validator("at")
    @classmethod
    def _place(cls, value: list[Any]) -> list[Any]:
        if len(value) == 1:
            raise ValueError("a place is east and north")
        return value


class FormationChange(NewFormation):
    version: int


class NewEarthClass(Body):
    name: Text = ""
    taken: Literal["stripped", "dug", "below formation"] = "stripped"
    depth: Text = ""
    outline: Outline = Field(default_factory=list)
    surface: int | None = None
    reused: bool = False


class EarthClassChange(NewEarthClass):
    version: int


class NewEarthStage(Body):
    name: Text = ""
    outline: Outline = Field(default_factory=list)


class EarthStageChange(NewEarthStage):
    version: int


class NewNetwork(NewEarthwork):
    """A new network of trenches."""


class NetworkChange(Versioned):
    ground: int | None = None
    bands: Text = ""
    bulking: Text = ""
    compacted: Text = ""
    lorry: Text = ""


class NewNode(Body):
    name: Text = ""
    east: Text = ""
    north: Text = ""
    ground: Text = ""
    manhole: Text = ""
    wall: Text = ""
    base: Text = ""
    space: Text = ""


class NodeChange(NewNode, Versioned):
    pass


class NewRun(Body):
    begins: Text = ""
    ends: Text = ""
    invert_begins: Text = ""
    invert_ends: Text = ""
    kind: int | None = None
    stage: Text = ""
    ground: Text = ""


class RunChange(NewRun, Versioned):
    pass


class RunsDrawn(Body):
    """Runs along a line, of a kind."""

    line: Line
    kind: int | None = None


class RunsGraded(Body):
    """Runs that follow one another, at one fall from an invert to another."""

    runs: Annotated[list[int], Field(max_length=2_000)]
    first: Text
    last: Text


class KindWritten(Body):
    """A kind of trench, or what is changed of one."""

    document: dict[str, Any]


class KindChange(Versioned):
    document: dict[str, Any]


class KindTried(KindWritten):
    """A kind to be drawn at a depth, in m; as deep as it needs where 0."""

    depth: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = 0.0


class StationWanted(BaseModel):
    at: Annotated[int, Field(ge=0, le=100_000)] = 0


class Split(Body):
    split: Literal["", "band", "stage", "kind", "stretch", "layer"] = ""


class NewRoute(NewEarthwork):
    """A new route."""


class RouteChanged(Versioned):
    ground: int | None = None
    figure: int | None = None
    begins: Text = ""
    interval: Text = ""
    rule: Literal["mean area", "prismoidal", "frustum"] = "mean area"
    curved: bool = True
    free: Text = ""
    bulking: Text = ""
    compacted: Text = ""
    lorry: Text = ""
    from_top: Annotated[str, StringConstraints(max_length=2_000)] = ""


Cells = Annotated[dict[str, Annotated[str, StringConstraints(max_length=600)]], Field(max_length=8)]


class NewRow(Body):
    """A row of one of a route's tables, its entries by column; and its typical section."""

    cells: Cells = Field(default_factory=dict)
    typical: int | None = None


class RowChange(NewRow, Versioned):
    pass


class LevelDrawn(Body):
    """A point of a long section."""

    chainage: Coordinate
    level: Coordinate


class TypicalWritten(Body):
    """A typical section, or what is changed of one."""

    document: dict[str, Any]


class TypicalChange(Versioned):
    document: dict[str, Any]


class SummedBy(BaseModel):
    """What the columns of the whole job are."""

    by: By = "work"


class SectionWindow(BaseModel):
    """Which of a route's sections, or rows of its table."""

    first: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    most: Annotated[int, Field(ge=1, le=400)] = 40


class LineDrawn(Body):
    line: Line


class LevelWindow(BaseModel):
    """Which of a survey's levels."""

    first: int = Field(default=0, ge=0, le=10_000_000)
    most: int = Field(default=200, ge=1, le=400)
    only: str = Field(default="", max_length=12)


class Interval(BaseModel):
    """How far contours lie apart, in m; what fits where it is 0."""

    interval: float = Field(default=0.0, ge=0, le=1e6, allow_inf_nan=False)


class Box(BaseModel):
    """A part of the plan."""

    west: float = Field(allow_inf_nan=False)
    south: float = Field(allow_inf_nan=False)
    east: float = Field(allow_inf_nan=False)
    north: float = Field(allow_inf_nan=False)


class PlaceWanted(BaseModel):
    """A place on the plan."""

    east: float = Field(allow_inf_nan=False)
    north: float = Field(allow_inf_nan=False)
