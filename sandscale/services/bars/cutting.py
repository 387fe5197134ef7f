"""Cutting the bars of the schedule from stock: worked out by jobs, size by size, and handed in with what the
plan proves."""

from __future__ import annotations

import hashlib
import math
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from ...core.bars.cutting import CutPlan as Plan
from ...core.bars.cutting import cut_from_stock
from ...core.bars.detailing import rules_of
from ...core.numbers.entry import read_entry
from ...core.refusals import BadEntry
from ...store.database import database
from ...store.models import CutMember, CutPlan, Cutting, OffCut, Project
from ..keeping.graph import After, Ids, Node, Slow, Written, ids_in
from .detailing import texts_of

NODE = "cuttings"
TOLD_EVERY = 0.4  # seconds, of a search's progress
_WANTED = """
SELECT size, cut, SUM(total) FROM bar_line WHERE project_id = %s AND total > 0 AND cut > 0 AND
(%s OR element_id = ANY(%s)) GROUP BY size, cut ORDER BY size, cut"""


@dataclass(frozen=True)
class Demand:
    """What is cut of one size: cut length in m → how many; and from which pieces, in m."""

    size: str
    wanted: dict[float, int]
    stock: tuple[float, ...]
    blade: float
    kept: dict[float, int]

    @property
    def fingerprint(self) -> str:
        """The same while there is the same to cut."""
        told = (self.size, sorted(self.wanted.items()), self.stock, self.blade, sorted(self.kept.items()))
        return hashlib.sha256(repr(told).encode()).hexdigest()


def demands(cutting: Cutting) -> list[Demand]:
    """What a cutting is to cut, by size."""
    members = [row.element_id for row in CutMember.those(CutMember.cutting, [cutting.id])]
    rows = database.execute_sql(_WANTED, (cutting.project_id, not members, members)).fetchall()
    stock, blade = stock_of(cutting), read_entry(cutting.blade, "mm") if cutting.blade else 0.0
    kept: dict[str, dict[float, int]] = {}
    for piece in OffCut.those(OffCut.cutting, [cutting.id]):
        length, number = read_entry(piece.length, "m"), round(read_entry(piece.number, "nr"))
        of_size = kept.setdefault(piece.size, {})
        of_size[length] = of_size.get(length, 0) + number
    wanted: dict[str, dict[float, int]] = {}
    for size, cut, number in rows:
        of_size_ = wanted.setdefault(size, {})
        length = round(cut, 3)
        of_size_[length] = of_size_.get(length, 0) + math.ceil(number - 1e-6)
    return [Demand(size, each, stock, blade, kept.get(size, {})) for size, each in wanted.items()]


def stock_of(cutting: Cutting) -> tuple[float, ...]:
    """The lengths in m that a cutting cuts from: its own, else those of the project's rules."""
    if cutting.stock.strip():
        return stock_read(cutting.stock)
    project = Project.get_by_id(cutting.project_id)
    return rules_of(texts_of(project.id, [project.detailing]).get(project.detailing, "")).stock_lengths()


def stock_read(text: str) -> tuple[float, ...]:
    """Stock lengths in m from what was typed, such as ``12; 6``.

    Raises:
        BadEntry: one can't be read, is nothing, or is longer than any bar.
    """
    lengths = []
    for entry in filter(str.strip, text.replace(" and ", ";").replace(", ", ";").split(";")):
        length = read_entry(entry.strip(), "m", field="stock", minimum=0)
        if not 0.1 <= length <= 30:
            raise BadEntry(
                f"“{entry.strip()}” is no length bars are sold in.", field="stock",
                remedy="Type lengths from 0.1 to 30 m, such as 12; 6.",
            )  # fmt: skip
        lengths.append(length)
    return tuple(sorted(set(lengths), reverse=True))


def planned(demand: Demand, tick: Callable[[float], None]) -> dict[str, Any]:
    """The plan of a size, as it is kept; bars longer than the stock are told apart and not cut."""
    longest = max(demand.stock)
    fits = {length: number for length, number in demand.wanted.items() if length <= longest + 0.0005}
    too_long = [[length, number] for length, number in demand.wanted.items() if length not in fits]
    plan = cut_from_stock(fits, demand.stock, demand.blade, demand.kept, tick)
    return {**_as_kept(plan), "too_long": too_long}


def _as_kept(plan: Plan) -> dict[str, Any]:
    return {
        "patterns": [
            {
                "stock": p.stock, "cuts": [[length, number] for length, number in p.cuts.items()],
                "times": p.times, "offcut": p.offcut, "kept": p.kept,
            }
            for p in plan.patterns
        ],
        "order": [[length, number] for length, number in plan.order.items()],
        "demand": plan.demand, "bought": plan.bought, "bound": plan.bound,
        "offcuts": [[length, number] for length, number in plan.offcuts.items()],
    }  # fmt: skip


def _reckon(cutting_id: int, progress: Callable[[float], None]) -> list[tuple[str, str, dict[str, Any]]]:
    wanted = demands(Cutting.get_by_id(cutting_id))
    kept = {row.size: row for row in CutPlan.those(CutPlan.cutting, [cutting_id])}
    found, told = [], 0.0
    for at, demand in enumerate(wanted):

        def tick(share: float, at: int = at) -> None:
            nonlocal told
            if time.monotonic() - told > TOLD_EVERY:
                progress((at + share) / len(wanted))
                told = time.monotonic()

        tick(0.0)
        before = kept.get(demand.size)
        same = before is not None and before.fingerprint == demand.fingerprint
        plan = before.plan if before is not None and same else planned(demand, tick)
        found.append((demand.size, demand.fingerprint, plan))
    return found


def _hand_in(cutting_id: int, plans: list[tuple[str, str, dict[str, Any]]]) -> None:
    cutting = Cutting.get_by_id(cutting_id)
    CutPlan.delete().where(CutPlan.cutting == cutting_id).execute()
    own = {"project": cutting.project_id, "cutting": cutting_id}
    rows = [{**own, "size": size, "fingerprint": print_, "plan": plan} for size, print_, plan in plans]
    if rows:
        CutPlan.insert_many(rows).execute()


def _give_up(cutting_id: int, says: str) -> None:
    cutting = Cutting.get_by_id(cutting_id)
    CutPlan.delete().where(CutPlan.cutting == cutting_id).execute()
    CutPlan.create(
        project=cutting.project_id, cutting=cutting_id, size="", fingerprint="", plan={"says": says}
    )


def fingerprint(cutting_id: int) -> str:
    """Of all that a cutting is worked out from."""
    told = [demand.fingerprint for demand in demands(Cutting.get_by_id(cutting_id))]
    return hashlib.sha256(repr(told).encode()).hexdigest()


def _there(ids: Ids) -> Ids:
    return {row.id for row in Cutting.those(Cutting.id, ids)}


def _of_elements(project_id: int, elements: Iterable[int]) -> Ids:
    """The cuttings that elements are in: those that name them, and those of all."""
    every = {row.id for row in Cutting.those(Cutting.project, [project_id])}
    if not every:
        return set()
    of_some = {row.cutting_id for row in CutMember.those(CutMember.cutting, every)}
    return (every - of_some) | CutMember.column(CutMember.cutting, CutMember.element, elements)


def _of_project(project_id: int, _were: list[Any]) -> Ids:
    return ids_in(Cutting.select(Cutting.id).where((Cutting.project == project_id) & (Cutting.stock == "")))


CUTTING_NODE = Node(
    name=NODE,
    table=Cutting,
    gives=(CutPlan.plan,),
    edges=(
        Written(Cutting, (Cutting.stock, Cutting.blade)),
        Written(CutMember, through=(CutMember.cutting,)),
        Written(OffCut, through=(OffCut.cutting,)),
        Written(Project, (Project.detailing,), found=_of_project),
        After("bars", found=_of_elements),
    ),
    work=lambda _project, _ids: set(),
    slow=Slow(
        which=_there,
        fingerprint=fingerprint,
        reckon=_reckon,
        hand_in=_hand_in,
        give_up=_give_up,
        called=lambda cutting_id: f"The cutting “{Cutting.get_by_id(cutting_id).name}”",
    ),
)
