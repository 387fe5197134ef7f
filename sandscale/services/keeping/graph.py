"""What depends on what. Each kind of derived figure is a node: where a change makes it dirty, and how it is
worked out.

Stages declare their nodes in ``nodes``; the order comes from what each node says it stands after. A node that
takes long is slow for some of its rows: those are worked out by jobs, outside the project's lock (see
``slow``)."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from graphlib import TopologicalSorter
from typing import Any

from peewee import Field, ForeignKeyField

from ...store.changes import Entry
from ...store.database import unawaited
from ...store.models import Project, Row
from .stages import parts

Ids = set[int]
Rows = dict[int, Any]  # by their ids; of each the columns that its node reads
Path = tuple[ForeignKeyField, ...]
Differing = tuple[Any, ...]  # a row's id, and its figures, some of which differ from what is kept


@dataclass(frozen=True)
class Written:
    """Rows written that make a node dirty.

    Attributes:
        table: whose rows.
        columns: those that matter; every logged one when empty.
        through: the foreign keys that lead from there to the node's table. Each is followed upwards from the
            table that holds it, or downwards to the rows that hold it.
        found: what finds the node's ids where no foreign key leads there, from the project and the values
            that the first of ``columns``, where any are named, had and has.
    """

    table: type[Row]
    columns: tuple[Field, ...] = ()
    through: Path = ()
    found: Callable[[int, list[Any]], Ids] | None = None


@dataclass(frozen=True)
class After:
    """Figures of another node that make this one dirty once they move, or of this node, whose rows may draw
    on one another; ``through`` leads from its table to here, ``found`` finds this node's ids from the project
    and theirs where no foreign key leads here."""

    node: str
    through: Path = ()
    found: Callable[[int, Ids], Ids] | None = None


@dataclass(frozen=True)
class Slow:
    """How a node works out the rows that take long.

    Attributes:
        which: those of some ids that are slow.
        fingerprint: of what such a row is worked out from; the same while that is the same.
        reckon: the long work: reads, and writes nothing; tells how far it is, from 0 to 1.
        hand_in: keeps what was reckoned.
        give_up: keeps why it can't be worked out, and nothing that might be taken for what it comes to.
        called: what the row is called in a sentence.
    """

    which: Callable[[Ids], Ids]
    fingerprint: Callable[[int], str]
    reckon: Callable[[int, Callable[[float], None]], Any]
    hand_in: Callable[[int, Any], None]
    give_up: Callable[[int, str], None]
    called: Callable[[int], str]


@dataclass(frozen=True)
class Node:
    """A kind of derived figure.

    Attributes:
        name: what it is called.
        table: the rows it is worked out for.
        gives: the derived columns it writes.
        edges: where a change makes it dirty.
        work: works it out for some rows of a project; gives those that moved.
        reads: columns of a row that ``work`` goes by. Of thousands they are read where an edge leads to them,
            not by their ids once more.
        refuse_ring: refuses rows that draw on themselves by others; asked once some draw on what moved.
        slow: how it works out rows that take long.
    """

    name: str
    table: type[Row]
    gives: tuple[Field, ...]
    edges: tuple[Written | After, ...]
    work: Callable[[Project, Rows], Ids]
    reads: tuple[Field, ...] = ()
    refuse_ring: Callable[[int], None] | None = None
    slow: Slow | None = None


@lru_cache(maxsize=1)
def nodes() -> Mapping[str, Node]:
    """Every node by name, each after those it depends on.

    Raises:
        graphlib.CycleError: two depend on one another.
    """
    known = {node.name: node for module in parts("nodes") for node in module.NODES}
    before = {
        node.name: [edge.node for edge in node.edges if isinstance(edge, After) and edge.node != node.name]
        for node in known.values()
    }
    return {name: known[name] for name in TopologicalSorter(before).static_order()}


def settle(project_id: int, entries: Sequence[Entry]) -> dict[str, Ids]:
    """Work out all that depends on the rows written; gives what moved, by node."""
    return _work(project_id, lambda node: _dirty(node, project_id, entries), {})


def settle_after(project_id: int, node: str, moved: Ids) -> dict[str, Ids]:
    """Work out all that depends on figures of a node that moved; gives what moved, those among it."""
    return _work(project_id, lambda _: set(), {node: moved})


def settle_afresh(project_id: int) -> dict[str, Ids]:
    """Work out every derived figure of a project."""
    return _work(project_id, lambda node: ids_in(_rows(node.table, project_id)), {})


def _rows(table: type[Row], project_id: int) -> Any:
    return table.select(table.id).where((table.id if table is Project else table.project) == project_id)


@unawaited()
def _work(project_id: int, dirty: Callable[[Node], Ids], moved: dict[str, Ids]) -> dict[str, Ids]:
    settling = _Settling(Project.get_by_id(project_id), moved)
    for node in nodes().values():
        settling.work(node, dirty(node))
    return moved


@dataclass
class _Settling:
    """One working out of all that depends on something.

    Attributes:
        moved: what did so far, by node.
        read: what was read of rows, by node.
    """

    project: Project
    moved: dict[str, Ids]
    read: dict[str, Rows] = field(default_factory=dict)

    def work(self, node: Node, dirty: Ids) -> None:
        """Work out a node's dirty rows and those that draw on what moved, then those of it that draw on
        these."""
        from .slow import put_off  # begins jobs, whose work comes back to here

        rows, moved = Rows.fromkeys(dirty), set(self.moved.get(node.name, ()))
        for name in {edge.node for edge in node.edges if isinstance(edge, After)}:
            rows |= self._after(node, name, self.moved.get(name, set()))
        while rows:
            late = put_off(self.project.id, node, set(rows)) if node.slow else set()
            read = self._read(node, rows, late)
            now = node.work(self.project, read) if read else set()
            moved |= now | late
            rows = self._after(node, node.name, now)
            if rows and node.refuse_ring:
                node.refuse_ring(self.project.id)
        if moved:
            self.moved[node.name] = moved

    def _after(self, node: Node, name: str, moved: Ids) -> Rows:
        """The rows of a node that draw on figures of another, or of itself, that moved."""
        rows, source = Rows(), nodes()[name]
        for edge in node.edges:
            if moved and isinstance(edge, After) and edge.node == name:
                if edge.found:
                    rows |= Rows.fromkeys(edge.found(self.project.id, moved))
                else:
                    rows |= self._along(edge.through, source, moved, node)
        return rows

    def _along(self, through: Path, source: Node, moved: Ids, node: Node) -> Rows:
        """Where foreign keys lead from rows of a node to those of another; with what this reads of them where
        the last key is theirs."""
        table, ids, known = source.table, moved, self.read.get(source.name, {})
        if through and _holds(source.reads, through[0]) and moved <= known.keys():
            ids = {getattr(known[row_id], through[0].object_id_name) for row_id in moved} - {None}
            table, through = through[0].rel_model, through[1:]
        if node.reads and through and through[-1].model is node.table:
            ids = follow(table, ids, through[:-1])
            return _by_id(node.table.some(_columns(node), through[-1], ids))
        return Rows.fromkeys(follow(table, ids, through))

    def _read(self, node: Node, rows: Rows, late: Ids) -> Rows:
        """Rows, but for those that are worked out later, with what their node reads of them: what wasn't read
        on the way to them is read now. Those that are gone are left out."""
        if late:
            rows = {row_id: row for row_id, row in rows.items() if row_id not in late}
        if not node.reads:
            return rows
        if unread := [row_id for row_id, row in rows.items() if row is None]:
            rows |= _by_id(node.table.some(_columns(node), node.table.id, unread))
            rows = {row_id: row for row_id, row in rows.items() if row is not None}
        self.read.setdefault(node.name, {}).update(rows)
        return rows


def _by_id(rows: Iterable[Any]) -> Rows:
    return {row[0]: row for row in rows}


def _columns(node: Node) -> tuple[Field, ...]:
    return (node.table.id, *node.reads)


def _holds(fields: Iterable[Field], key: Field) -> bool:
    return any(each is key for each in fields)  # two fields compared make a condition


def _dirty(node: Node, project_id: int, entries: Sequence[Entry]) -> Ids:
    ids: Ids = set()
    for edge in node.edges:
        if isinstance(edge, Written):
            name = edge.table._meta.table_name
            concerned = [e for e in entries if e.table == name and _differs(e, edge.columns)]
            if concerned:
                ids |= _reached(edge, project_id, concerned)
    return ids


def _differs(entry: Entry, columns: tuple[Field, ...]) -> bool:
    if entry.before is None or entry.after is None or not columns:
        return True
    before, after = entry.before, entry.after
    return any(before.get(column.name) != after.get(column.name) for column in columns)


def _reached(edge: Written, project_id: int, entries: list[Entry]) -> Ids:
    if edge.found:
        return edge.found(project_id, _values(entries, edge.columns[0]) if edge.columns else [])
    if edge.through and edge.through[0].model is edge.table:
        # Read from the log: the row may be gone, or have gone over from one to another.
        first, *rest = edge.through
        return follow(first.rel_model, set(_values(entries, first)), tuple(rest))
    return follow(edge.table, {entry.row_id for entry in entries}, edge.through)


def _values(entries: Iterable[Entry], column: Field) -> list[Any]:
    """What a column was and is in the rows written."""
    sides = (side for entry in entries for side in (entry.before, entry.after) if side)
    return [side[column.name] for side in sides if side.get(column.name) is not None]


def follow(table: type[Row], ids: Ids, through: Path) -> Ids:
    """Where foreign keys lead from some rows of a table."""
    rest = list(through)
    while rest and ids:
        key = rest.pop(0)
        if key.model is table:
            ids = table.column(key, table.id, ids)
            table = key.rel_model
        elif rest and rest[0].model is key.model:  # down to rows and up again from them, asked at once
            ids = key.model.column(rest[0], key, ids)
            table = rest.pop(0).rel_model
        else:
            table = key.model
            ids = table.column(table.id, key, ids)
    return ids


def ids_in(query: Any) -> Ids:
    """The first column of a query, as a set."""
    return {row[0] for row in query.tuples()}
