"""What was entered for networks of trenches, as the core takes it."""

from __future__ import annotations

import hashlib
import itertools
import math
import re
from collections.abc import Mapping, Sequence
from datetime import datetime
from functools import lru_cache

from peewee import fn

from ....core.findings import Finding
from ....core.ground.haulage import Soil
from ....core.ground.trench.document import kind_of, read_kind
from ....core.ground.trench.document import told as told_of
from ....core.ground.trench.kind import TrenchKind
from ....core.ground.trench.network import Network
from ....core.ground.trench.node import Manhole, Node
from ....core.ground.trench.run import Run
from ....core.measurers.trench import Asked, Given, TrenchMeasured
from ....core.numbers.entry import read_entry
from ....core.numbers.systems import SYSTEMS
from ....core.refusals import BadEntry
from ....store.models import (
    Change,
    ChangeEntry,
    DimensionLine,
    Element,
    Project,
    TrenchMade,
    TrenchNetwork,
    TrenchNode,
    TrenchRun,
)
from ....store.models import TrenchKind as KindRow
from ..entered import limits_of, soil_of
from ..surfaces import surface_now, surface_print

_BY = re.compile(r"\s*[x×]\s*")
MOST_TOLD = 6  # kinds in a note


def network_entries(
    elements: Sequence[Element], _lines: Mapping[int, list[DimensionLine]]
) -> dict[int, Given]:
    """What was entered for networks, by their elements' ids."""
    projects = {p.id: p for p in Project.those(Project.id, {e.project_id for e in elements})}
    rows = {
        row.element_id: row for row in TrenchNetwork.those(TrenchNetwork.element, [e.id for e in elements])
    }
    found = {}
    for element in elements:
        entered = Entered(rows.get(element.id))
        found[element.id] = Given(
            entered.print, entered.asked, entered.made, entered.note, f"trench-run:{element.id}",
            SYSTEMS[projects[element.project_id].unit_system],
        )  # fmt: skip
    return found


class Entered:
    """A network's rows."""

    def __init__(self, row: TrenchNetwork | None) -> None:
        self.row = row
        own = [row.id] if row is not None else []
        self.nodes = TrenchNode.those(TrenchNode.network, own, TrenchNode.position, TrenchNode.id)
        self.runs = TrenchRun.those(TrenchRun.network, own, TrenchRun.position, TrenchRun.id)
        wanted = {run.kind_id for run in self.runs} - {None}
        self.kinds = {row.id: row for row in KindRow.those(KindRow.id, wanted, KindRow.position, KindRow.id)}

    @property
    def print(self) -> str:
        """Of all that it is reckoned from."""
        if self.row is None:
            return ""
        left = ("id", "version", "shelf", "shelf_number")
        rows = [self.row, *self.nodes, *self.runs, *self.kinds.values()]
        told = [{k: v for k, v in row.__data__.items() if k not in left} for row in rows]
        ground = surface_print(self.row.ground_id) if self.row.ground_id is not None else ""
        return hashlib.sha256(repr((told, ground)).encode()).hexdigest()

    def asked(self) -> Asked:
        """All of it as the core takes it.

        Raises:
            BadEntry: an entry can't be read, or there is no run.
        """
        row = self.row
        if row is None or not self.runs:
            raise BadEntry("It has no runs yet.", field="runs", remedy="Draw them on the plan, or type them.")
        kinds = {each.id: kind_of(read_kind(each.document)) for each in self.kinds.values()}
        soil = soil_of(row)
        ground = surface_now(row.ground_id) if row.ground_id is not None else None
        places = [at for at, each in enumerate(self.runs) if each.kind_id in kinds]
        runs = [run_of(self.runs[at], kinds[self.runs[at].kind_id]) for at in places]
        bare = tuple(
            Finding(
                f"Run {row.begins}–{row.ends} is of no kind yet and is not counted.", at, "kind", True,
                "no-kind",
            )
            for at, row in enumerate(self.runs) if row.kind_id not in kinds
        )  # fmt: skip
        nodes = [node_of(each) for each in self.nodes]
        return Asked(nodes, runs, ground, limits_of(row.bands), soil, places, bare)

    def made(self) -> tuple[Network, Soil]:
        """What it comes to now."""
        if self.row is None:
            raise BadEntry("There are no trenches.", field="element")
        return _made(self.print, self.row.element_id)

    def places_in(self, net: Network) -> list[int]:
        """The places of the rows whose runs were reckoned, in the order of what they come to."""
        left_out = {each.line for each in net.findings if each.code == "left-out"}
        return [at for at, run in enumerate(self.runs) if run.kind_id in self.kinds and at not in left_out]

    def note(self) -> str:
        """What was entered, in words, and when it was last changed."""
        if self.row is None:
            return ""
        names = [told_of(kind_of(read_kind(row.document))) for row in list(self.kinds.values())[:MOST_TOLD]]
        changed = self._changed()
        on = f", as entered on {changed.day} {changed:%B %Y}" if changed is not None else ""
        number = "1 run" if len(self.runs) == 1 else f"{len(self.runs)} runs"
        return f"{number}{on}. {'; '.join(names)}"

    def _changed(self) -> datetime | None:
        tables = {
            "trench_network": [self.row.id] if self.row is not None else [],
            "trench_node": [each.id for each in self.nodes], "trench_run": [each.id for each in self.runs],
            "trench_kind": list(self.kinds),
        }  # fmt: skip
        times = [
            Change.select(fn.MAX(Change.at))
            .join(ChangeEntry)
            .where((ChangeEntry.table_name == table) & (ChangeEntry.row_id << ids))
            .scalar()
            for table, ids in tables.items()
            if ids
        ]
        return max((each for each in times if each is not None), default=None)


@lru_cache(maxsize=6)
def _made(_print: str, element_id: int) -> tuple[Network, Soil]:
    row = TrenchNetwork.get(TrenchNetwork.element == element_id)
    entered = Entered(row)
    asked = entered.asked()
    return asked.reckoned(), asked.soil


def node_of(row: TrenchNode) -> Node:
    """A node as the core takes it; what isn't typed yet is no number.

    Raises:
        BadEntry: an entry can't be read.
    """
    place = [_known(getattr(row, name), name) for name in ("east", "north")]
    level = _known(row.ground, "ground") if row.ground.strip() else None
    return Node(row.name, place[0], place[1], level, manhole_of(row))


def manhole_of(row: TrenchNode) -> Manhole | None:
    """The manhole of a node: round where one inside size is typed, else length by width.

    Raises:
        BadEntry: it can't be read.
    """
    if not row.manhole.strip():
        return None
    sizes = [read_entry(each, "m", field="manhole", minimum=0) for each in _BY.split(row.manhole.strip())]
    if len(sizes) > 2:
        raise BadEntry(
            f"“{row.manhole}” is no size of a manhole.", field="manhole", remedy="Type 1.0, or 1.2 x 0.9."
        )
    rest = [
        read_entry(getattr(row, name) or "0", "m", field=name, minimum=0)
        for name in ("wall", "base", "space")
    ]
    return Manhole(sizes[0], sizes[1] if len(sizes) > 1 else 0.0, *rest)


def run_of(row: TrenchRun, kind: TrenchKind) -> Run:
    """A run as the core takes it; an invert that isn't typed yet is no number.

    Raises:
        BadEntry: an entry can't be read.
    """
    inverts = [_known(getattr(row, name), name) for name in ("invert_begins", "invert_ends")]
    return Run(row.begins, row.ends, inverts[0], inverts[1], kind, ground_of(row.ground), row.stage)


def ground_of(text: str) -> list[tuple[float, float]]:
    """Levels of the ground along a run, as ``12.5: 43.20; 20: 43.10``.

    Raises:
        BadEntry: they can't be read, or go back.
    """
    found = []
    for each in text.split(";"):
        if not each.strip():
            continue
        chainage, colon, level = each.partition(":")
        if not colon:
            raise BadEntry(
                f"“{each.strip()}” is no level along a run.", field="ground",
                remedy="Type chainage: level, such as 12.5: 43.20; 20: 43.10.",
            )  # fmt: skip
        found.append((read_entry(chainage, "m", field="ground"), read_entry(level, "m", field="ground")))
    if any(b[0] <= a[0] for a, b in itertools.pairwise(found)):
        raise BadEntry("Chainages along a run go up.", field="ground")
    return found


def _known(text: str, field: str) -> float:
    return read_entry(text, "m", field=field) if text.strip() else math.nan


def fresh(element_id: int, fingerprint: str) -> bool:
    """Whether what is kept of a network is of what was entered as it is now."""
    mine = (TrenchMade.element == element_id) & (TrenchMade.fingerprint == fingerprint)
    return bool(TrenchMade.select(TrenchMade.id).where(mine).exists())


def keep(element: Element, fingerprint: str, measured: TrenchMeasured | None) -> None:
    """Keep what a network came to; or that it comes to nothing."""
    TrenchMade.delete().where(TrenchMade.element == element.id).execute()
    if measured is not None and measured.network is not None:
        net = measured.network
        length = sum(run.length for run in net.runs)
        result = {"length": length, "runs": len(net.runs), "dug": net.volumes.get("dug", 0.0)}
        TrenchMade.create(
            project=element.project_id, element=element.id, fingerprint=fingerprint, result=result
        )
