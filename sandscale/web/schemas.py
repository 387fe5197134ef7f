"""What requests carry. Typed entries stay text: the core reads them and says what is wrong."""

from __future__ import annotations

import re
from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints, ValidationInfo

from ..core.bars.columns import BarColumn
from ..core.ground.earthwork import ProofPart
from ..core.ground.papers import PaperFile, PaperPart, SummedBy
from ..core.numbers.days import read_day
from ..core.numbers.systems import UnitSystem
from ..core.numbers.ways import WORKING_DAY, Writing
from ..core.numbers.written import plain
from ..core.pricing.shares import GroupedBy
from ..core.shelf import ShelfKind
from ..core.words import Role

NO_NULL = r"^[^\x00]*$"  # the database takes every character but this one
Text = Annotated[str, StringConstraints(max_length=500, pattern=NO_NULL)]
Source = Annotated[str, StringConstraints(max_length=60_000, pattern=NO_NULL)]


_PERCENTAGES = ("allowance", "escalation", "percent")


def _written(value: object, info: ValidationInfo) -> object:
    """A number as people write it, plainly; without the spaces between its thousands, and a percentage
    without its sign."""
    if not isinstance(value, str):
        return value
    if info.field_name in _PERCENTAGES:
        value = value.strip().removesuffix("%")
    return re.sub(r"(?<=\d)[ \u00a0\u202f](?=\d{3})", "", plain(value, info.field_name or "value"))


def _typed_day(value: object, info: ValidationInfo) -> object:
    return read_day(value, info.field_name or "date") if isinstance(value, str) else value


Number = Annotated[Decimal, BeforeValidator(_written)]
Day = Annotated[date, BeforeValidator(_typed_day)]
Coordinate = Annotated[float, Field(allow_inf_nan=False)]
Point = tuple[Coordinate, Coordinate]
Corner = Annotated[
    list[Coordinate], Field(min_length=2, max_length=3)
]  # x, y and, where an arc begins, its bulge
Ring = Annotated[list[Corner], Field(max_length=5_000)]


LineField = Literal["times", "length", "width", "height", "note"]


class Body(BaseModel):
    model_config = ConfigDict(extra="forbid")

    def given(self) -> dict[str, Any]:
        """The fields the request named, without the version."""
        return self.model_dump(exclude_unset=True, exclude={"version"})


class Versioned(Body):
    """A change of a row; ``version`` is the one it was read at."""

    version: int


Secret = Annotated[str, StringConstraints(max_length=1000, pattern=NO_NULL)]


class SignIn(Body):
    email: Text
    password: Secret


class Password(Body):
    password: Secret


class PasswordChange(Body):
    now: Secret
    new: Secret


class NewProject(Body):
    name: Text
    client: Text = ""
    currency: Text = "EUR"
    price_date: Day
    unit_system: UnitSystem = "metric"
    numbers: Writing = ""


class ProjectChange(Versioned):
    name: Text = ""
    client: Text = ""
    currency: Text = ""
    price_date: Day = date.min
    rounding: dict[str, int] = {}
    detailing: Text = ""
    working_day: float = WORKING_DAY
    unit_system: UnitSystem = "metric"
    numbers: Writing = ""


class Share(Body):
    email: Text
    role: Role


class Named(Body):
    name: Text


class Renamed(Versioned):
    name: Text


class Titled(Versioned):
    title: Text


class ShownLayers(Body):
    """Layers of a sheet, and whether they are shown."""

    names: list[Text] = Field(min_length=1, max_length=2000)
    shown: bool


class LaidByPicks(Versioned):
    """Two points of the former sheet, and where they are on this one; in sheet units."""

    picks: list[Point] = Field(min_length=2, max_length=2)
    onto: list[Point] = Field(min_length=2, max_length=2)


class LookedAtFigures(Body):
    """Figures that are right as they are."""

    figures: list[int] = Field(min_length=1, max_length=2000)


class LookedAtPlace(Versioned):
    """Whether a place was looked at."""

    looked: bool


class DrawingChange(Versioned):
    number: Text = ""
    title: Text = ""


class ScaleByRatio(Versioned):
    """A scale as it is written on a sheet; ``everywhere`` for all the sheets of its drawing."""

    ratio: Text
    everywhere: bool = False


class ScaleByLength(Versioned):
    first: Point
    second: Point
    length: Text


class ScaleStretched(Versioned):
    along: tuple[Point, Point]
    length: Text
    up: tuple[Point, Point]
    height: Text


class NewScaleArea(Body):
    ring: Ring
    ratio: Text


class TotalsPlace(Versioned):
    at: Point | None = None


class NewElement(Body):
    location: int
    mark: Text
    makeup: Text
    description: Text = ""
    inputs: dict[str, Text] = {}


class IntoBill(Body):
    """One quantity line of an element, or all that belong in the bill."""

    output: Text = ""


class ElementChange(Versioned):
    location: int = 0
    mark: Text = ""
    makeup: Text = ""
    description: Text = ""
    detailing: Text = ""
    inputs: dict[str, Text] = {}


class LineFields(Body):
    """What is typed into a dimension line."""

    times: Text = ""
    length: Text = ""
    width: Text = ""
    height: Text = ""
    deduct: bool = False
    note: Text = ""


class NewLine(LineFields):
    after: int | None = None


class LineOfBlock(LineFields):
    """A line of a block: an existing one with its version, or a new one; only the fields named are
    written."""

    line: int | None = None
    version: int = 0


class LineBlock(Body):
    lines: Annotated[list[LineOfBlock], Field(min_length=1, max_length=5_000)]


class LinesMoved(Body):
    lines: Annotated[list[int], Field(min_length=1, max_length=5_000)]
    element: int
    copy_them: bool = False


class MovedBy(Body):
    by: int


class NewTakenLine(Body):
    """A new dimension line that takes an output of another element."""

    element: int
    output: Text


class TakenLine(Versioned):
    """What a dimension line takes: an output of another element, or nothing."""

    element: int | None = None
    output: Text = ""


class Window(Body):
    """Which part of a long list: so many from one on; of those found by some words."""

    first: Annotated[int, Field(ge=0, le=10_000_000)] = 0
    most: Annotated[int, Field(ge=1, le=400)] = 200
    find: Text = ""


class Known(Body):
    """The latest change a screen knows of."""

    since: Annotated[int, Field(ge=0, le=2**31 - 1)] = 0


class Earlier(Body):
    """Changes before one."""

    before: Annotated[int, Field(ge=1, le=2**31 - 1)] = 2**31 - 1
    most: Annotated[int, Field(ge=1, le=100)] = 50


class ElementCopy(Body):
    location: int
    mark: Text = ""
    figures: bool = False


class Replacement(Body):
    element: int | None = None
    field: LineField
    find: Text
    put: Text


class LineChange(Versioned, LineFields):
    """A change of a dimension line."""


class NewFigure(Body):
    sheet: int
    element: int
    kind: Literal["count", "run", "loop", "area"]
    points: Ring
    line: int | None = None


class NewVoid(Body):
    sheet: int
    element: int
    points: Ring


class FigureChange(Versioned):
    points: Ring
    voids: Annotated[list[Ring], Field(max_length=200)] = []


class FigureMove(Versioned):
    by: Point


class FigureCopies(Body):
    by: Annotated[list[Point], Field(min_length=1, max_length=200)]


class MakeUpSample(Body):
    """A make-up being written, and what to try it on."""

    source: Source
    inputs: dict[str, Text] = {}
    line: dict[Literal["times", "length", "width", "height"], Text] = {}


class NewShelf(Body):
    name: Text
    about: Text = ""


class ShelfShare(Body):
    email: Text


class ShelfPut(Body):
    kind: ShelfKind
    source: Source


class FromShelf(Body):
    shelf: int
    key: Text


class ToShelf(Body):
    shelf: int


class ListOnShelf(ToShelf):
    """A list to a shelf, under a name of its own."""

    name: Text


class MakeUpText(Body):
    source: Source


class MakeUpChange(Versioned):
    source: Source


class NewJob(Body):
    """A file to be made off the request."""

    kind: Literal[
        "bill_xlsx", "bill_pdf", "dimensions_pdf", "sheet_pdf",
        "bars_pdf", "bars_xlsx", "bars_csv", "bars_bvbs", "ground_proof", "ground_paper",
        "bill_report", "bill_compared", "bill_given_back", "bill_exchange",
        "to_buy", "order_list", "form_filled", "revision_report",
    ]  # fmt: skip
    sheet: int | None = None
    element: int | None = None
    parts: Annotated[list[ProofPart | PaperPart], Field(max_length=20)] = []
    per_page: Annotated[int, Field(ge=1, le=8)] = 4
    file: PaperFile | None = None
    by: SummedBy | None = None
    names: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=400)] = []
    together: bool = False
    bill: int | None = None
    before: int | None = None
    after: int | None = None
    grouped: Annotated[list[GroupedBy], Field(max_length=20)] = []
    adjustments: Annotated[list[int], Field(max_length=100)] = []
    subcontract: bool = True
    order: int | None = None
    form: int | None = None
    revision: int | None = None


class Address(Body):
    email: Text


class Acceptance(Body):
    token: Text
    name: Text
    password: Secret


class NewMember(Body):
    location: int
    mark: Text
    description: Text = ""


class NewBar(Body):
    mark: Text = ""
    size: Text = ""
    members: Text = "1"
    each: Text = "1"
    shape: Text = "00"
    legs: Annotated[dict[str, Text], Field(max_length=12)] = {}
    corners: Annotated[list[Point], Field(max_length=13)] = []
    mass: Text = ""
    note: Text = ""


class BarChange(Versioned, NewBar):
    """What is changed of a typed bar."""


class BarOfMany(NewBar):
    member: Text = ""


class ManyBars(Body):
    rows: Annotated[list[BarOfMany], Field(min_length=1, max_length=5_000)]
    location: int | None = None


class RowsPasted(Body):
    """Rows from the clipboard, with what their columns are where that was put right by hand."""

    text: Annotated[str, StringConstraints(max_length=2_000_000, pattern=NO_NULL)]
    columns: Annotated[list[BarColumn] | None, Field(max_length=60)] = None


class BarMarked(Body):
    mark: Text


class NewCutting(Body):
    name: Text
    members: Annotated[list[int], Field(max_length=5_000)] = []


class CuttingChange(Versioned):
    name: Text = ""
    stock: Text = ""
    blade: Text = ""
    members: Annotated[list[int], Field(max_length=5_000)] = []


class NewOffCut(Body):
    size: Text
    length: Text
    number: Text = "1"


class OffCutChange(Versioned):
    size: Text = ""
    length: Text = ""
    number: Text = ""


class OffCutsKept(Body):
    into: int
    least: Text = ""


class DetailingText(Body):
    source: Source


class DetailingChange(Versioned):
    source: Source


class Elements(Body):
    """Some elements, by their ids."""

    elements: Annotated[str, StringConstraints(max_length=2_000, pattern=r"^[0-9,]*$")] = ""
