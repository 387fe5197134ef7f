"""What can be done with trenches: kinds written, networks made, their nodes and runs typed or drawn."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial
from typing import Any

from ....core.ground.trench.document import (
    LENGTHS,
    PART_LENGTHS,
    KindDocument,
    kind_of,
    read_kind,
    read_source,
    written,
)
from ....core.numbers.entry import kept, read_entry
from ....core.refusals import BadEntry
from ....store.models import (
    Element,
    GroundSurface,
    TrenchKind,
    TrenchNetwork,
    TrenchNode,
    TrenchRun,
)
from ...keeping.acting import Actor, InUse, Missing, check_version, find
from ...keeping.recording import action, in_words, recording
from ...keeping.views import Saved
from .. import drawn_up
from ..actions.earthworks import added
from ..entered import keep_soil, limits_of
from .entered import ground_of, manhole_of

MOST_ROWS = 2_000
NODE_LENGTHS = ("east", "north", "ground", "wall", "base", "space")
NODE_FIELDS = ("name", *NODE_LENGTHS, "manhole")
RUN_FIELDS = ("begins", "ends", "invert_begins", "invert_ends", "stage", "ground")


def kind_kept(given: Mapping[str, Any]) -> dict[str, Any]:
    """A kind of trench as it is kept: read, its lengths written plainly, and proved.

    Raises:
        BadFormula, BadEntry: it is none, or can't be.
    """
    made = written(read_kind(dict(given)))
    drawn_up.lengths_kept(made, LENGTHS, PART_LENGTHS)
    for part in PART_LENGTHS:
        for n, each in enumerate(made.get(part, ())):
            for name in {"density", "extra"} & set(each):
                each[name] = kept(each[name], "nr", field=f"{part}.{n}.{name}")
    kind_of(KindDocument(**made))
    return made


def _built(row: TrenchKind) -> InUse | None:
    run = row.runs.first()
    return run and InUse(
        f"Run {run.begins}–{run.ends} of {run.network.element.mark} is of the kind “{row.name}”.",
        remedy="Give its runs another kind first.",
    )


KINDS = drawn_up.DrawnUp(
    table=TrenchKind, called="kind of trench", several="kinds of trench", shelf="trench",
    kept=kind_kept, read=lambda source: written(read_source(source)), built=_built,
)  # fmt: skip
add_kind = partial(drawn_up.add, of=KINDS)
change_kind = partial(drawn_up.change, of=KINDS)
delete_kind = partial(drawn_up.delete, of=KINDS)
put_kind_on_shelf = partial(drawn_up.put_on_shelf, of=KINDS)
take_kind_from_shelf = partial(drawn_up.take_from_shelf, of=KINDS)


@action
def add_network(actor: Actor, mark: str, description: str, location: int, ground: int | None) -> Saved:
    """A new network of trenches, dug from a surface or from typed levels.

    Raises:
        BadEntry: the mark is empty or taken in the location.
    """
    return added(actor, TrenchNetwork, "trench", mark, description, location, ground)


def network_of(actor: Actor, element_id: int) -> TrenchNetwork:
    """The network of an element.

    Raises:
        Missing: it is none.
    """
    element = find(Element, actor, element_id)
    row = TrenchNetwork.get_or_none(TrenchNetwork.element == element.id)
    if row is None:
        raise Missing(f"{element.mark} is no network of trenches.")
    return row


def network_fields(fields: Mapping[str, Any]) -> dict[str, Any]:
    """A network's own fields as they are kept.

    Raises:
        BadEntry: one can't be read, or can't be.
    """
    made = dict(fields)
    if "bands" in made:
        parts = made["bands"].replace(", ", ";").split(";")
        made["bands"] = "; ".join(kept(each.strip(), "m", field="bands") for each in parts if each.strip())
        limits_of(made["bands"])
    keep_soil(made)
    return made


@action
def change_network(actor: Actor, element_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change how a network is reckoned: its ground, bands and soil.

    Raises:
        BadEntry: an entry can't be read, or can't be.
        Stale: someone else changed it meanwhile.
    """
    row = network_of(actor, element_id)
    made = network_fields(fields)
    if made.get("ground") is not None:
        made["ground"] = find(GroundSurface, actor, made["ground"]).id
    check_version(row, version, made)
    with recording(actor, f"{row.element.mark}: {', '.join(made)}") as log:
        log.update(row, **made)
    return log.saved(row)


def node_fields(fields: Mapping[str, Any]) -> dict[str, Any]:
    """A node's fields as they are kept.

    Raises:
        BadEntry: one can't be read, or can't be.
    """
    made = dict(fields)
    for name in NODE_LENGTHS:
        if name in made:
            made[name] = kept(made[name], "m", field=name)
            most = 1e4 if name not in ("east", "north") else 1e8
            if made[name] and abs(read_entry(made[name], "m", field=name)) > most:
                raise BadEntry(f"{made[name]} can't be.", field=name)
    if "name" in made:
        made["name"] = made["name"].strip()[:40].strip()
    if "manhole" in made:
        made["manhole"] = made["manhole"].strip()[:60].strip()
    sizes = {name: made[name] for name in ("manhole", "wall", "base", "space") if name in made}
    manhole_of(TrenchNode(**sizes))
    return made


@action
def add_node(actor: Actor, element_id: int, fields: dict[str, Any]) -> Saved:
    """A node of a network; its next name where none is typed.

    Raises:
        BadEntry: its name is taken, or an entry can't be read.
    """
    row = network_of(actor, element_id)
    nodes = TrenchNode.those(TrenchNode.network, [row.id])
    made = node_fields(fields)
    made["name"] = made.get("name") or next_name(nodes)
    _free(nodes, made["name"])
    with recording(actor, f"{row.element.mark}: node {made['name']}") as log:
        node = log.insert(TrenchNode, network=row.id, position=after(nodes), **made)
    return log.saved(node)


def next_name(nodes: Sequence[TrenchNode]) -> str:
    """A name for a node that has none: that of the last one, counted on."""
    taken, number = {each.name for each in nodes}, len(nodes) + 1
    while f"N{number}" in taken:
        number += 1
    return f"N{number}"


def _free(nodes: Sequence[TrenchNode], name: str, own: int = 0) -> None:
    if any(each.name == name and each.id != own for each in nodes):
        raise BadEntry(f"There is a node {name} already.", field="name")


def after(rows: Sequence[Any]) -> int:
    """The position after them."""
    if len(rows) >= MOST_ROWS:
        raise BadEntry(f"A network has {MOST_ROWS} nodes and {MOST_ROWS} runs at most.", field="name")
    return max((row.position for row in rows), default=-1) + 1


@action
def change_node(actor: Actor, node_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a node; where it is renamed, its runs follow.

    Raises:
        BadEntry: its name is taken, or an entry can't be read.
        Stale: someone else changed it meanwhile.
    """
    row = find(TrenchNode, actor, node_id)
    made = node_fields({**{n: getattr(row, n) for n in ("manhole", "wall", "base", "space")}, **fields})
    made = {name: made[name] for name in fields}
    check_version(row, version, made)
    renamed = "name" in made and made["name"] != row.name
    if renamed:
        if not made["name"]:
            raise BadEntry("A node needs a name.", field="name")
        _free(TrenchNode.those(TrenchNode.network, [row.network_id]), made["name"], row.id)
    with recording(actor, f"{row.network.element.mark}: {row.name}, {in_words(fields)}") as log:
        if renamed:
            for run in TrenchRun.those(TrenchRun.network, [row.network_id]):
                ends = {name: made["name"] for name in ("begins", "ends") if getattr(run, name) == row.name}
                if ends:
                    log.update(run, **ends)
        log.update(row, **made)
    return log.saved(row)


@action
def delete_node(actor: Actor, node_id: int) -> Saved:
    """Take a node out, with the runs that meet it."""
    row = find(TrenchNode, actor, node_id)
    with recording(actor, f"{row.network.element.mark}: node {row.name} deleted") as log:
        for run in TrenchRun.those(TrenchRun.network, [row.network_id]):
            if row.name in (run.begins, run.ends):
                log.delete(run)
        log.delete(row)
    return log.saved()


def run_fields(actor: Actor | None, fields: Mapping[str, Any]) -> dict[str, Any]:
    """A run's fields as they are kept.

    Raises:
        BadEntry: one can't be read, or can't be.
    """
    made = dict(fields)
    for name in ("invert_begins", "invert_ends"):
        if name in made:
            made[name] = kept(made[name], "m", field=name)
            if made[name] and abs(read_entry(made[name], "m", field=name)) > 1e4:
                raise BadEntry(f"An invert at {made[name]} can't be.", field=name)
    for name in ("begins", "ends", "stage"):
        if name in made:
            made[name] = made[name].strip()[:40].strip()
    if "ground" in made:
        made["ground"] = made["ground"].strip()[:500].strip()
        ground_of(made["ground"])
    if made.get("kind") is not None and actor is not None:
        made["kind"] = find(TrenchKind, actor, made["kind"]).id
    return made


@action
def add_run(actor: Actor, element_id: int, fields: dict[str, Any]) -> Saved:
    """A run of a network; it begins where the one before it ends, and is of its kind, where that isn't said.

    Raises:
        BadEntry: an entry can't be read.
    """
    row = network_of(actor, element_id)
    runs = TrenchRun.those(TrenchRun.network, [row.id], TrenchRun.position, TrenchRun.id)
    made = run_fields(actor, fields)
    before = runs[-1] if runs else None
    if before is not None:
        made.setdefault("kind", before.kind_id)
        if "begins" not in made:
            made |= {"begins": before.ends, "invert_begins": made.get("invert_begins", before.invert_ends)}
    elif "kind" not in made:
        kinds = TrenchKind.those(TrenchKind.project, [actor.project_id], TrenchKind.position, TrenchKind.id)
        made["kind"] = kinds[0].id if kinds else None
    with recording(actor, f"{row.element.mark}: run {made.get('begins', '')}–{made.get('ends', '')}") as log:
        run = log.insert(TrenchRun, network=row.id, position=after(runs), **made)
    return log.saved(run)


@action
def change_run(actor: Actor, run_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a run.

    Raises:
        BadEntry: an entry can't be read.
        Stale: someone else changed it meanwhile.
    """
    row = find(TrenchRun, actor, run_id)
    made = run_fields(actor, fields)
    check_version(row, version, made)
    words = in_words(fields)
    with recording(actor, f"{row.network.element.mark}: {row.begins}–{row.ends}, {words}") as log:
        log.update(row, **made)
    return log.saved(row)


@action
def delete_run(actor: Actor, run_id: int) -> Saved:
    """Take a run out; its nodes stay."""
    row = find(TrenchRun, actor, run_id)
    with recording(actor, f"{row.network.element.mark}: run {row.begins}–{row.ends} deleted") as log:
        log.delete(row)
    return log.saved()
