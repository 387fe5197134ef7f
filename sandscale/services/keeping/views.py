"""What is read in every stage: the shapes in which services answer. Lengths in m, money as decimal text."""

from __future__ import annotations

from datetime import datetime
from decimal import Decimal

from pydantic import BaseModel, ConfigDict

from ...core.checks.check import Severity
from ...core.words import ChangeKind, ChangeState, JobState, Stage


class View(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class Saved(View):
    """What an action did: what it was called, the row written, and the bill's new total."""

    label: str
    id: int | None = None
    version: int | None = None
    change: int | None = None
    bill_total: Decimal


class RowRead(View):
    """A row of somebody's table, as it would be taken in: ``says`` what keeps it from that, ``looks`` what
    looks wrong with it."""

    line: int
    fields: dict[str, str]
    says: str
    looks: str = ""


class TableRead(View):
    """What was read of a table before it is kept: which column is taken for what, and what its rows come
    to."""

    columns: list[str]
    heads: list[str]
    sample: list[list[str]]
    rows: list[RowRead]
    wrong: int


class JobView(View):
    """Long work: ``done`` from 0 to 1; ``name`` of the file it made."""

    id: int
    kind: str
    state: JobState
    done: float
    said: str
    name: str


class HealthView(View):
    """Whether all is well: the database is up to date, and a worker gave a sign of life within a minute."""

    well: bool
    migrations_to_run: int
    workers: int
    jobs_waiting: int


class CheckCount(View):
    """How many checks there are of each severity; at ``most`` in all, there may be more."""

    stop: int
    look: int
    most: int


class CheckView(View):
    """Something that looks wrong: how badly (``stop``, ``look``), what, and where to go."""

    severity: Severity
    rule: str
    says: str
    ref: str
    stage: Stage
    target: int | None
    place: str
    code: str
    numbers: list[float]


class HistoryStep(View):
    """What a change did to one field of one row."""

    at: datetime
    person: str
    label: str
    field: str
    before: str
    after: str


class PaperRowView(View):
    times: str
    dimensions: list[float]
    squared: float
    deduct: bool
    note: str
    link: str


class WorkingView(View):
    """One number with its arithmetic; ``parts`` are the numbers it was made from. What comes to no number
    has no value."""

    name: str
    value: float | None
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
    stage: Stage
    target: int | None


class WalkView(View):
    """The working of a number, and where it comes from and goes to; of many neighbours some, and how many
    more. ``tries``: other values can be tried behind it."""

    ref: str
    working: WorkingView
    comes_from: list[WalkLink]
    goes_to: list[WalkLink]
    more_from: int
    more_to: int
    findings: list[str]
    tries: bool = False


class ChangeView(View):
    id: int
    at: datetime
    person: str
    label: str
    kind: ChangeKind
    state: ChangeState
    moved: Decimal
