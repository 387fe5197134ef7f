"""How long a network of 500 runs takes: reckoned in the core; and through the application, from a change of
its kind to its quantities, which must be under 2 s.

    SANDSCALE_DATABASE=… python -m bench.trenches

Needs an empty database. The core's time is told as a ratio to SciPy's Delaunay triangulation of the ground's
levels, in the same run.
"""

from __future__ import annotations

import time
from itertools import pairwise

import numpy as np
from scipy.spatial import Delaunay

from sandscale.core.ground.haulage import Soil
from sandscale.core.ground.surface import surface
from sandscale.core.ground.trench.kind import Pipe, Reinstatement, Surround, TrenchKind
from sandscale.core.ground.trench.network import network
from sandscale.core.ground.trench.node import Manhole, Node
from sandscale.core.ground.trench.run import Run
from sandscale.core.ground.trench.sides import Sides
from sandscale.core.measurers.trench import lines_of
from sandscale.core.numbers.systems import METRIC
from sandscale.formats.levels_in import How
from sandscale.services.ground.actions import surveys
from sandscale.services.ground.reading.overview import ground_view
from sandscale.services.ground.trenches import actions, laying, reading
from sandscale.services.keeping import worker
from sandscale.store.models import TrenchNode, TrenchRun
from tests import scene

from .ground import terrain
from .timing import best, by_turns

ROWS, RUNS = 25, 20  # of streets, and of runs along each
APART, ALONG = 60.0, 45.0  # m


def places() -> list[tuple[str, float, float]]:
    """The nodes of a town's sewers: streets side by side."""
    return [
        (f"S{row}-{at}", 20 + at * ALONG, 20 + row * APART) for row in range(ROWS) for at in range(RUNS + 1)
    ]


def reckoned() -> None:
    """The core alone, over a surface of 20,000 levels."""
    levels = terrain(20_000, 0.0, 1600.0)
    ground = surface(levels)
    kind = TrenchKind(
        "Sewer", Pipe("DN 250", 0.25, 0.02), 0.1,
        (Surround("bed", "springing"), Surround("surround", "crown", 0.3)),
        (Reinstatement("topsoil", 0.2),), Sides("flared", 0.5, upright=1.2),
    )  # fmt: skip
    nodes = [Node(name, east, north, None, Manhole(1.0)) for name, east, north in places()]
    runs = [Run(a.name, b.name, 90.0, 89.9, kind) for a, b in pairwise(nodes) if a.y == b.y]
    (triangulated, _), (took, lines) = by_turns(
        lambda: Delaunay(levels[:, :2]),
        lambda: list(lines_of(network(nodes, runs, ground), Soil(), METRIC)),
        runs=3,
    )
    times = took / triangulated
    print(f"{len(runs)} runs, {len(lines)} quantities: {took:.2f} s, {times:.1f} × Delaunay of the ground")


def through_the_application() -> None:
    """A change of the kind of 500 runs, to the quantities that follow."""
    scene.prepare()
    actor = scene.project()
    place = scene.location(actor)
    rows = "\n".join(
        ["E;N;Z", *(f"{x:.3f};{y:.3f};{z:.3f}" for x, y, z in terrain(20_000, 0.0, 1600.0).tolist())]
    )
    surveys.take_in(actor, "ground.csv", rows.encode(), How())
    kind = scene.id_of(
        actions.add_kind(actor, {"name": "Sewer", "pipe": "DN 250", "bore": "0.25", "bed": "0.1"})
    )
    worker.work_off()
    ground = ground_view(actor).surfaces[0].id
    net = scene.id_of(actions.add_network(actor, "T1", "Sewers", place, ground))
    for row in range(ROWS):
        street = [[east, north] for _, east, north in places()[row * (RUNS + 1) : (row + 1) * (RUNS + 1)]]
        laying.draw_runs(actor, net, street, kind)
    runs = TrenchRun.those(TrenchRun.project, [actor.project_id], TrenchRun.id)
    for row in range(ROWS):
        laying.grade_runs(actor, net, [run.id for run in runs[row * RUNS : (row + 1) * RUNS]], "90", "88")
    worker.work_off()
    version, widths = 1, ("0.8", "0.9", "1.0", "1.1", "1.2")
    took = []
    for width in widths:
        begun = time.perf_counter()
        actions.change_kind(actor, kind, version, {"width": width})
        saved = time.perf_counter()
        worker.work_off()
        took.append((saved - begun, time.perf_counter() - begun))
        version += 1
    opened, view = best(lambda: reading.network_view(actor, net), runs=3)
    print(
        f"{len(view.runs)} runs, {TrenchNode.select().count()} nodes: kind changed, saved in "
        f"{np.median([a for a, _ in took]):.2f} s, worked out after {np.median([b for _, b in took]):.2f} s "
        f"(longest {max(b for _, b in took):.2f}); read for the desk in {opened:.2f} s"
    )


if __name__ == "__main__":
    reckoned()
    through_the_application()
