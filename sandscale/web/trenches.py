"""The trenches of the ground stage: kinds, networks, their nodes and runs."""

from __future__ import annotations

from flask import g

from ..services.ground.trenches import actions, laying, reading
from ..services.ground.trenches.views import KindDrawn, KindView, LongView, NetworkView, TrenchSectionView
from ..services.keeping.views import Saved
from .api import answers, api, stage, writes
from .ground_schemas import (
    KindChange,
    KindTried,
    KindWritten,
    NetworkChange,
    NewNetwork,
    NewNode,
    NewRun,
    NodeChange,
    RunChange,
    RunsDrawn,
    RunsGraded,
    StationWanted,
)
from .schemas import FromShelf, ToShelf

blueprint = stage("trenches")


@blueprint.post("/trench-kinds")
@writes
def add_kind(json: KindWritten) -> Saved:
    """Add a kind of trench."""
    return actions.add_kind(g.actor, json.document)


@blueprint.post("/trench-kinds/drawn")
@api.validate(resp=answers(KindDrawn))
def draw_kind(json: KindTried) -> KindDrawn:
    """How a kind looks while it is typed; nothing is kept."""
    return reading.kind_drawn(g.actor, json.document, json.depth)


@blueprint.post("/trench-kinds/from-shelf")
@writes
def take_kind(json: FromShelf) -> Saved:
    """Take a kind of trench from a shelf, or move the project's on to its latest number."""
    return actions.take_kind_from_shelf(g.actor, json.shelf, json.key)


@blueprint.get("/trench-kinds/<int:trench_kind>")
@api.validate(resp=answers(KindView))
def one_kind(trench_kind: int) -> KindView:
    """A kind of trench."""
    return reading.kind_view(g.actor, trench_kind)


@blueprint.patch("/trench-kinds/<int:trench_kind>")
@writes
def change_kind(trench_kind: int, json: KindChange) -> Saved:
    """Change a kind of trench."""
    return actions.change_kind(g.actor, trench_kind, json.version, json.document)


@blueprint.delete("/trench-kinds/<int:trench_kind>")
@writes
def delete_kind(trench_kind: int) -> Saved:
    """Delete a kind of trench."""
    return actions.delete_kind(g.actor, trench_kind)


@blueprint.post("/trench-kinds/<int:trench_kind>/shelf")
@writes
def put_kind(trench_kind: int, json: ToShelf) -> Saved:
    """Put a kind of trench on a shelf."""
    return actions.put_kind_on_shelf(g.actor, trench_kind, json.shelf)


@blueprint.post("/networks")
@writes
def add_network(json: NewNetwork) -> Saved:
    """Add a network of trenches."""
    return actions.add_network(g.actor, json.mark, json.description, json.location, json.ground)


@blueprint.get("/networks/<int:network>")
@api.validate(resp=answers(NetworkView))
def one_network(network: int) -> NetworkView:
    """A network of trenches, by its element."""
    return reading.network_view(g.actor, network)


@blueprint.patch("/networks/<int:network>")
@writes
def change_network(network: int, json: NetworkChange) -> Saved:
    """Change how a network is reckoned."""
    return actions.change_network(g.actor, network, json.version, json.given())


@blueprint.post("/networks/<int:network>/nodes")
@writes
def add_node(network: int, json: NewNode) -> Saved:
    """Add a node."""
    return actions.add_node(g.actor, network, json.given())


@blueprint.post("/networks/<int:network>/runs")
@writes
def add_run(network: int, json: NewRun) -> Saved:
    """Add a run."""
    return actions.add_run(g.actor, network, json.given())


@blueprint.post("/networks/<int:network>/drawn")
@writes
def draw_runs(network: int, json: RunsDrawn) -> Saved:
    """Runs along a line drawn on the plan."""
    return laying.draw_runs(g.actor, network, json.line, json.kind)


@blueprint.post("/networks/<int:network>/graded")
@writes
def grade_runs(network: int, json: RunsGraded) -> Saved:
    """Runs at one fall."""
    return laying.grade_runs(g.actor, network, json.runs, json.first, json.last)


@blueprint.get("/networks/<int:network>/runs/<int:run>/long")
@api.validate(resp=answers(LongView))
def long_section(network: int, run: int) -> LongView:
    """The long section of the way a run is on."""
    return reading.long_view(g.actor, network, run)


@blueprint.get("/networks/<int:network>/runs/<int:run>/section")
@api.validate(query=StationWanted, resp=answers(TrenchSectionView))
def one_section(network: int, run: int, query: StationWanted) -> TrenchSectionView:
    """A section across a run."""
    return reading.section_view(g.actor, network, run, query.at)


@blueprint.patch("/trench-nodes/<int:node>")
@writes
def change_node(node: int, json: NodeChange) -> Saved:
    """Change a node."""
    return actions.change_node(g.actor, node, json.version, json.given())


@blueprint.delete("/trench-nodes/<int:node>")
@writes
def delete_node(node: int) -> Saved:
    """Delete a node, with the runs that meet it."""
    return actions.delete_node(g.actor, node)


@blueprint.patch("/trench-runs/<int:run>")
@writes
def change_run(run: int, json: RunChange) -> Saved:
    """Change a run."""
    return actions.change_run(g.actor, run, json.version, json.given())


@blueprint.delete("/trench-runs/<int:run>")
@writes
def delete_run(run: int) -> Saved:
    """Delete a run."""
    return actions.delete_run(g.actor, run)
