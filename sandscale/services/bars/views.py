"""What is read of bars. Lengths in m, legs and outlines in mm, masses in kg."""

from __future__ import annotations

from datetime import date
from typing import Literal

from ..keeping.views import RowRead, View


class LegView(View):
    """A leg of a bar: its letter, its size in mm (a number where it is one), and what was typed for it."""

    letter: str
    size: float
    counts: bool
    entry: str


class BarView(View):
    """A line of the schedule. ``version`` is its typed bar's; 0 where a make-up gives it."""

    id: int
    version: int
    element: int
    member: str
    key: str
    mark: str
    label: str
    output: str
    grade: str
    size: str
    members: float
    each: float
    total: float
    cut: float
    mass: float
    shape: str
    legs: list[LegView]
    outline: list[list[float]]
    own_mass: str
    note: str
    typed: int | None
    over: bool
    revision: str
    findings: list[str]


class BarMember(View):
    """An element with bars: how many lines it has in the schedule, and their mass."""

    id: int
    version: int
    location: int
    mark: str
    description: str
    typed: bool
    detailing: str
    holds: int
    mass: float
    ratio: float | None
    band: list[float] | None
    findings: int


class SizeView(View):
    """The bars of a size in all."""

    size: str
    grade: str
    number: float
    length: float
    mass: float


class ScheduleView(View):
    """The schedule without its lines: members in their order, sizes, the rules, its last issue."""

    members: list[BarMember]
    sizes: list[SizeView]
    unscheduled: list[str]
    rules: str
    letter: str
    issued: date | None
    changed: int


class BarsMoved(View):
    """What became of some elements' bars: their heads and lines, and the sizes of the whole schedule.
    ``many`` where one has more lines than are told; those in view are read again."""

    members: list[BarMember]
    many: bool
    bars: list[BarView]
    sizes: list[SizeView]


class ShapeView(View):
    """A shape of bar: its legs, which of them are lengths, and its outline in mm at legs that show it."""

    code: str
    legs: list[str]
    lengths: list[bool]
    about: str
    outline: list[list[float]]


class IssueChange(View):
    """What became of a bar since the last issue: what it was and what it is, each in words."""

    member: str
    mark: str
    how: Literal["new", "changed", "gone"]
    was: str
    now: str


class FabricView(View):
    """Fabric of a kind: its area with laps, its sheets and mass."""

    kind: str
    area: float
    sheets: float
    mass: float


class SummaryLine(View):
    """The mass of the bars of a member or a location, by size in the order of the sizes."""

    name: str
    element: int | None
    masses: list[float]
    mass: float


class SummaryView(View):
    """The schedule summed by size, by location and by member; fabric by kind."""

    sizes: list[SizeView]
    locations: list[SummaryLine]
    members: list[SummaryLine]
    fabrics: list[FabricView]


class CutView(View):
    length: float
    number: int


class PatternView(View):
    """One way to cut a bar: what is cut, so many times, and what is left."""

    stock: float
    cuts: list[CutView]
    times: int
    offcut: float
    kept: bool


class PlanView(View):
    """How the bars of a size are cut. ``bound`` is the least stock any plan can use, in m; ``fewest`` bars of
    it, where there is one length of stock."""

    size: str
    grade: str
    patterns: list[PatternView]
    order: list[CutView]
    demand: float
    bought: float
    bound: float
    fewest: int | None
    proven: bool
    waste: float
    offcuts: list[CutView]
    too_long: list[CutView]
    fresh: bool


class OffCutView(View):
    id: int
    version: int
    size: str
    length: str
    number: str


class CuttingView(View):
    """A cutting: what it is of, and its plans. ``state`` says whether they hold: ``fresh``, ``working`` while
    a job is at it, ``stopped`` where someone stopped that."""

    id: int
    version: int
    name: str
    stock: str
    stock_now: str
    blade: str
    members: list[int]
    offcuts: list[OffCutView]
    state: Literal["fresh", "working", "stopped"]
    done: float
    says: str
    plans: list[PlanView]


class DetailingView(View):
    """A set of detailing rules, as a form shows it. ``own`` is its row's id; None for a built-in one."""

    key: str
    name: str
    own: int | None
    version: int | None
    source: str
    shelf: str
    used_by: int
    project: bool


class LeastView(View):
    """What a set of rules comes to for a size: former radius, least leg, and lap by concrete, in mm."""

    size: str
    former: float
    leg: float
    laps: list[float]
    bent: list[list[float]]


class DetailingTable(View):
    """A set of rules worked out for its sizes, to be looked at beside its form."""

    name: str
    concretes: list[str]
    sizes: list[LeastView]


class SheetRead(View):
    """What was read of rows before they are kept: which column is taken for what, and what they come to."""

    columns: list[str]
    heads: list[str]
    sample: list[list[str]]
    rows: list[RowRead]
    wrong: int
