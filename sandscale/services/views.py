"""What is read: the shapes in which services answer. Lengths in m, money as decimal text."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Literal

from pydantic import BaseModel, ConfigDict

Point = list[float]  # x, y in sheet units; a third number is the bulge of the arc to the next corner


class View(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class Saved(View):
    """The answer to every write: what it was called, the row written, and the bill's new total."""

    label: str
    id: int | None = None
    version: int | None = None
    change: int | None = None
    bill_total: Decimal


class JobView(View):
    """Long work: ``done`` from 0 to 1; ``name`` of the file it made."""

    id: int
    kind: str
    state: str
    done: float
    said: str
    name: str


class PersonView(View):
    id: int
    name: str
    email: str


class SessionView(View):
    person: PersonView | None
    csrf_token: str


class ProjectBrief(View):
    id: int
    name: str
    client: str
    currency: str
    role: str
    bill_total: Decimal
    elements: int
    sheets: int


class MemberView(View):
    """Someone in the project; ``invited`` while they have not signed in for the first time."""

    name: str
    email: str
    role: str
    invited: bool = False


class InvitationView(View):
    """What the owner hands on to someone new: their link holds the token, which is shown this once."""

    email: str
    token: str


class PulseView(View):
    """The latest change of a project, so that a screen knows when to read again; whose it was, what it was
    called."""

    change: int
    by: int | None
    person: str
    label: str
    bill_total: Decimal


class CheckView(View):
    """Something that looks wrong: how badly (``stop``, ``look``), what, and where to go."""

    severity: str
    rule: str
    says: str
    ref: str
    stage: str
    target: int | None
    place: str


class HistoryStep(View):
    """What a change did to one field of one row."""

    at: datetime
    person: str
    label: str
    field: str
    before: str
    after: str


class StageView(View):
    """How far a stage of the path is: ``done`` of ``of``."""

    stage: str
    done: int
    of: int


class ProjectView(View):
    id: int
    version: int
    name: str
    client: str
    currency: str
    price_date: date
    rounding: dict[str, int]
    role: str
    bill_total: Decimal
    path: list[StageView]
    units: list[str]


class SheetView(View):
    id: int
    version: int
    drawing: int
    number: str
    letter: str
    tile_key: str
    page: int
    title: str
    width: float
    height: float
    metres_per_unit: float | None
    ratio: float | None
    ratio_up: float | None
    scale_source: str
    figures: int


class DrawingView(View):
    id: int
    version: int
    number: str
    title: str
    letter: str
    file: str
    received: date
    sheets: list[SheetView]


class FigureView(View):
    id: int
    version: int
    kind: Literal["count", "run", "area"]
    element: int
    mark: str
    line: int | None
    family: str
    points: list[Point]
    closed: bool
    voids: list[list[Point]]
    shows: str


class ProofView(View):
    """A second known length of a sheet: what it is, what the scale makes of it, and how far off that is."""

    first: Point
    second: Point
    known: float
    measured: float
    off: float
    finding: str


class ScaleAreaView(View):
    id: int
    version: int
    ring: list[Point]
    ratio: float
    scale_source: str


class SheetTotal(View):
    """A quantity of an element measured on the sheet."""

    element: int
    mark: str
    family: str
    label: str
    net: float
    unit: str


class WordView(View):
    """Words on a sheet and their box: left, bottom, right, top in sheet units."""

    text: str
    box: list[float]


class SheetDetail(SheetView):
    """``content`` is ``waiting`` until the page's lines and words were read, then ``read`` or what was
    left out."""

    shapes: list[FigureView]
    content: str
    proof: ProofView | None
    areas: list[ScaleAreaView]
    totals: list[SheetTotal]
    tally_at: list[float]


class ElementBrief(View):
    id: int
    mark: str
    description: str
    makeup: str
    family: str
    value: float | None
    unit: str
    findings: int


class LocationView(View):
    id: int
    version: int
    name: str
    elements: list[ElementBrief]


class InputView(View):
    """One question of the make-up with what was entered."""

    key: str
    label: str
    unit: str
    hint: str
    entry: str
    entered: bool
    words: bool
    choices: list[str]


class LineView(View):
    """A dimension line: what was typed, and what it squares to in the make-up's headline output."""

    id: int
    version: int
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
    source: str
    findings: list[str]


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


class SketchPart(View):
    """An outline of the make-up's sketch at the sizes of the first line, in m; one point and a radius is a
    circle."""

    label: str
    family: str
    view: str
    points: list[list[float]]
    radius: float | None
    hollow: bool


class ElementView(View):
    id: int
    version: int
    location: int
    mark: str
    description: str
    makeup: str
    makeup_name: str
    about: str
    needs: list[str]
    headline: str
    unit: str
    inputs: list[InputView]
    lines: list[LineView]
    quantities: list[QuantityView]
    findings: list[str]
    figures: list[str]
    sketch: list[SketchPart]


class TrialQuantity(View):
    label: str
    net: float
    unit: str
    waste: float
    gross: float
    pack: str


class MakeUpTrial(View):
    """A make-up tried on sample dimensions: what it comes to, what it found, how it looks."""

    name: str
    inputs: list[InputView]
    quantities: list[TrialQuantity]
    findings: list[str]
    sketch: list[SketchPart]


class MovedQuantity(View):
    """A quantity line that a change would move, from and to."""

    mark: str
    label: str
    unit: str
    before: float
    after: float


class MakeUpEffect(View):
    """What taking another text of a make-up would change in the project; nothing was changed yet."""

    quantities: list[MovedQuantity]
    bill_before: Decimal
    bill_after: Decimal


class ShelfMakeUpView(View):
    key: str
    name: str
    about: str
    number: int
    by: str
    at: datetime
    source: str


class ShelfView(View):
    """A shelf the person belongs to, with the latest of each make-up on it."""

    id: int
    name: str
    about: str
    people: list[str]
    makeups: list[ShelfMakeUpView]


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
    source: str


class QuoteView(View):
    id: int
    version: int
    supplier: str
    price: Decimal
    unit: str
    contains: Decimal
    per_unit: Decimal
    quoted_on: date
    valid_to: date | None
    source: str
    used: bool
    lapsed: bool


class ResourceView(View):
    id: int
    version: int
    name: str
    kind: str
    unit: str
    basis: str
    chosen: int | None
    price: Decimal | None
    quotes: list[QuoteView]
    findings: list[str]
    used_in: int


class BuildUpBrief(View):
    """A unit rate, or a gang (``kind``)."""

    id: int
    name: str
    unit: str
    heading: str
    kind: str
    rate: Decimal | None


class BuildUpLineView(View):
    """A line of a build-up; ``shares`` is its money per unit by group, more than one for a gang."""

    id: int
    version: int
    group: str
    basis: str
    percent_of: str
    resource: int | None
    nested: int | None
    gang: bool
    name: str
    unit: str
    quantity: str
    allowance: Decimal
    escalation: Decimal
    price: Decimal | None
    total_quantity: Decimal
    amount: Decimal
    unit_quantity: Decimal
    unit_price: Decimal
    shares: dict[str, Decimal]


class GroupTotal(View):
    group: str
    amount: Decimal
    unit_price: Decimal


class BuildUpView(BuildUpBrief):
    version: int
    output: str
    hours: str
    lines: list[BuildUpLineView]
    groups: list[GroupTotal]
    findings: list[str]
    items: int


class LinkView(View):
    id: int
    element: int
    output: str
    name: str
    net: float
    unit: str
    factor: str


class ItemView(View):
    id: int
    version: int
    ref: str
    kind: str
    description: str
    unit: str
    quantity: Decimal
    typed_quantity: str
    typed_reason: str
    typed_amount: str
    build_up: int | None
    build_up_name: str
    rate: Decimal | None
    amount: Decimal
    links: int


class SectionView(View):
    id: int
    version: int
    ref: str
    depth: int
    title: str
    parent: int | None
    total: Decimal
    items: list[ItemView]


class AdjustmentView(View):
    id: int
    version: int
    name: str
    percent: Decimal
    base: str
    base_words: str
    on: Decimal
    adds: Decimal


class BillView(View):
    """The bill; ``set_aside`` are the provisional and prime cost sums within ``items_total``."""

    sections: list[SectionView]
    items_total: Decimal
    set_aside: Decimal
    adjustments: list[AdjustmentView]
    total: Decimal


class PaperRowView(View):
    times: str
    dimensions: list[float]
    squared: float
    deduct: bool
    note: str
    link: str


class WorkingView(View):
    """One number with its arithmetic; ``parts`` are the numbers it was made from."""

    name: str
    value: float
    unit: str
    expression: str
    figures: str
    source: str
    link: str
    rows: list[PaperRowView]
    parts: list[WorkingView]


class WalkLink(View):
    """A step of the walk: where it leads, and the number that stands there."""

    ref: str
    name: str
    value: str
    unit: str
    stage: str
    target: int | None


class WalkView(View):
    """The working of a number, and where it comes from and goes to."""

    ref: str
    working: WorkingView
    comes_from: list[WalkLink]
    goes_to: list[WalkLink]
    findings: list[str]


class ChangeView(View):
    id: int
    at: datetime
    person: str
    label: str
    kind: str
    state: str
    moved: Decimal
