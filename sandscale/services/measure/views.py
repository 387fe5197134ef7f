"""What is read of the measure."""

from __future__ import annotations

from decimal import Decimal
from typing import Literal

from ...core.makeups.document import Kind
from ...core.measurers.measurer import Split
from ..keeping.views import View

MeasuredAs = Literal["times", "length", "area"]


class ElementBrief(View):
    """An element as lists show it: ``made_by`` is what its measurer goes by, in words, ``value`` its headline
    quantity; ``waiting`` while that is being worked out. ``near``: of its figures those near a change of
    their drawing, to be looked at."""

    id: int
    version: int
    location: int
    mark: str
    description: str
    made_by: str
    allowance: bool
    family: str
    value: float | None
    unit: str
    findings: int
    waiting: bool
    near: int


class LocationView(View):
    """A location, and how many elements it holds."""

    id: int
    version: int
    name: str
    holds: int


class ElementPage(View):
    """A window of the elements in their order, of so many in all."""

    elements: list[ElementBrief]
    first: int
    total: int


class OfferView(View):
    """Something the application found and offers to enter: what to enter to take it, or to leave it."""

    says: str
    take: dict[str, str]
    leave: dict[str, str]


class DrawnView(View):
    """What an input of an allowance draws: of which resource and item, or which quantity line, how much, and
    where that is walked to."""

    resource: int | None
    item: int | None
    element: int | None
    output: str
    name: str
    value: float
    unit: str
    ref: str


class InputView(View):
    """One question of the make-up with what was entered, or what is drawn from the project."""

    key: str
    label: str
    unit: str
    group: str
    hint: str
    entry: str
    entered: bool
    words: bool
    choices: list[str]
    drawn: list[DrawnView]


class LineView(View):
    """A dimension line: what was typed, and what it squares to in the element's headline output.

    ``source`` says where it comes from: typed, a figure, or taken from an output of another element. What it
    ``measures`` by a figure or takes stands for its length (m), its area (m²) or times it, as
    ``measured_as``.
    """

    id: int
    version: int
    position: int
    times: str
    length: str
    width: str
    height: str
    deduct: bool
    note: str
    squared: float
    counted: bool
    figure: int | None
    sheet: int | None
    figure_shows: str
    measured_as: MeasuredAs | None
    measures: float | None
    taken_from: int | None
    taken_output: str
    source: str
    findings: list[str]


class PartView(View):
    """A part of a quantity line."""

    split: Split
    part: str
    net: float
    gross: float


class QuantityView(View):
    """A quantity line, and the bill item that draws on it.

    ``billed`` is false for a material, which is ordered and not billed; ``pack`` says how it is bought.
    """

    output: str
    label: str
    unit: str
    family: str
    net: float
    waste: float
    gross: float
    item: int | None
    item_ref: str
    billed: bool
    pack: str
    parts: list[PartView]


class SketchPart(View):
    """An outline of the make-up's sketch at the sizes of the first line, in m; one point and a radius is a
    circle."""

    label: str
    family: str
    view: str
    points: list[list[float]]
    radius: float | None
    hollow: bool


class SketchSize(View):
    """A length that was entered, where it stands in the sketch: between two points, in m."""

    name: str
    label: str
    shows: str
    unit: str
    start: list[float]
    end: list[float]
    across: bool


class SketchView(View):
    """A make-up drawn to its sizes, and the lengths written on it."""

    parts: list[SketchPart]
    sizes: list[SketchSize]


class ElementHead(ElementBrief):
    """An element without its lines: what its measurer asks, and what it comes to."""

    measurer: str
    makeup: str
    detailing: str
    about: str
    needs: list[str]
    headline: str
    quantities: list[QuantityView]
    says: list[str]
    figures: list[str]
    sketch: SketchView
    offer: OfferView | None


class ElementView(ElementHead):
    """An element with its dimension sheet."""

    inputs: list[InputView]
    lines: list[LineView]


class ElementMoved(ElementHead):
    """An element that a change moved: its dimension lines that were written or gone, and what is said of each
    line now. ``whole`` where all its lines may have moved, and are to be read again. No ``inputs`` where they
    are as they were."""

    inputs: list[InputView] | None
    lines: list[LineView]
    gone: list[int]
    line_says: dict[int, list[str]]
    whole: bool


class TrialQuantity(View):
    """A result of a make-up that is tried; ``asks`` while it comes to parts of something that may be had
    whole only."""

    key: str
    label: str
    asks: bool
    net: float
    unit: str
    waste: float
    gross: float
    pack: str


class NameView(View):
    """A value that formulas of a make-up may use: what it is, and the unit it is in."""

    name: str
    words: str
    unit: str


class FunctionView(View):
    name: str
    parameters: list[str]
    source: str


class SharedPart(View):
    """A part that several make-ups share, and what it gives."""

    name: str
    gives: str


class MakeUpWords(View):
    """What make-ups are written with."""

    functions: list[FunctionView]
    families: list[str]
    parts: list[SharedPart]
    steel: list[str]


class MakeUpTrial(View):
    """A make-up tried on sample dimensions: what it comes to, what it found, how it looks, and what its
    formulas may use."""

    allowance: bool
    name: str
    inputs: list[InputView]
    quantities: list[TrialQuantity]
    findings: list[str]
    sketch: SketchView
    names: list[NameView]


class MovedQuantity(View):
    """A quantity line that a change would move, from and to."""

    element: int
    mark: str
    location: str
    label: str
    unit: str
    before: float
    after: float


class MakeUpEffect(View):
    """What taking another text of a make-up would change in the project; nothing was changed yet."""

    quantities: list[MovedQuantity]
    bill_before: Decimal
    bill_after: Decimal


class MakeUpView(View):
    """A make-up of the project; ``newer`` is the number its shelf has moved on to, where it has."""

    key: str
    name: str
    about: str
    own: int | None
    shelf: str
    shelf_number: int | None
    newer: int | None
    findings: list[str]
    version: int | None
    kind: Kind
    source: str
