"""What is read of projects."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from ...core.numbers.systems import UnitSystem
from ...core.numbers.units import UnitSymbol
from ...core.numbers.ways import Writing
from ...core.words import Role, Stage
from ..keeping.views import View


class ProjectBrief(View):
    id: int
    name: str
    client: str
    currency: str
    role: Role
    bill_total: Decimal
    elements: int
    sheets: int


class MemberView(View):
    """Someone in the project; ``invited`` while they have not signed in for the first time."""

    name: str
    email: str
    role: Role
    invited: bool = False


class HereView(View):
    """Who else looks at the project just now."""

    names: list[str]


class StageView(View):
    """How far a stage of the path is: ``done`` of ``of``."""

    stage: Stage
    done: int
    of: int


class ProjectView(View):
    """A project, and the latest change of it; what is read after it is at least as new."""

    id: int
    version: int
    name: str
    client: str
    currency: str
    price_date: date
    rounding: dict[str, int]
    unit_system: UnitSystem
    numbers: Writing
    working_day: float
    role: Role
    detailing: str
    change: int
    bill_total: Decimal
    path: list[StageView]
    units: list[UnitSymbol]
