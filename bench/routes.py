"""How long a route of 10 km with sections every 10 m and 8 layers takes: reckoned in the core; through the
application, worked out anew in a job and after one layer's thickness was changed; and its sections read, as a
key held down asks for them.

    SANDSCALE_DATABASE=… python -m bench.routes

Needs an empty database. The core's time is told as a ratio to SciPy's Delaunay triangulation of the ground's
levels, in the same run.
"""

from __future__ import annotations

import time

import numpy as np
from scipy.spatial import Delaunay

from sandscale.core.ground.formation import Batter
from sandscale.core.ground.haulage import Soil
from sandscale.core.ground.route.centreline import LongSection, through
from sandscale.core.ground.route.quantities import of_sections
from sandscale.core.ground.route.reckoned import NamedQuantity, Reckoned, gather
from sandscale.core.ground.route.sections import Change, GroundAcross, Route, cross_sections
from sandscale.core.ground.route.typical import Ditch, RouteLayer, Strip, TypicalSection
from sandscale.core.ground.surface import surface
from sandscale.core.measurers.route import lines_of
from sandscale.core.numbers.systems import METRIC
from sandscale.formats.levels_in import How
from sandscale.services.ground.actions import surveys
from sandscale.services.ground.reading.overview import ground_view
from sandscale.services.ground.routes import actions, along, reading, typicals
from sandscale.services.keeping import worker
from sandscale.services.keeping.acting import Actor
from tests import scene

from .timing import best, by_turns

LENGTH, EVERY, LAYERS, AT_ONCE = 10_000.0, 10.0, 8, 24
CORNERS = ((0.0, 0.0), (4000.0, 10.0), (7000.0, -10.0), (LENGTH, 0.0))
RADII = (2000.0, 3000.0)


def levels() -> np.ndarray:
    """The ground along the route: rolling, and falling across."""
    east, north = (
        each.ravel() for each in np.meshgrid(np.arange(-50, LENGTH + 51, 10.0), np.arange(-60, 61, 10.0))
    )
    return np.column_stack([east, north, 100 + 3 * np.sin(east / 300) + north * 0.05 + np.sin(north / 20)])


def typical() -> TypicalSection:
    """A road with a shoulder, a verge and a ditch."""
    strips = (Strip("Carriageway", 3.5, 0.025), Strip("Shoulder", 1, 0.04), Strip("Verge", 1, 0.04))
    layers = tuple(
        RouteLayer(f"Layer {at}", 0.1, ("Carriageway", "Shoulder"), 0.1 * at) for at in range(LAYERS)
    )
    return TypicalSection(
        "Road", strips, strips, layers, Batter(1), Batter(2), Ditch(0.5, 0.5, 1.5, 1.5), 0.2
    )


def reckoned() -> None:
    """The core alone: sections, volumes and quantity lines; and again over ground that is surveyed."""
    points = levels()
    ground = surface(points)
    ground.pieces.tree  # noqa: B018 - made once for all that is read of it
    line = through(CORNERS, RADII)
    route = Route(
        line, LongSection(((0, 100, 0), (5000, 101, 200), (line.end, 99, 0))), (Change(0, typical()),)
    )
    every = route.chainages(EVERY)

    def comes_to(across: GroundAcross) -> int:
        sections, _ = cross_sections(route, across, every)
        quantities = of_sections(sections)
        named = [NamedQuantity(f"Layer {at}", (f"Layer {at}",)) for at in range(LAYERS)]
        made = Reckoned(quantities, gather(quantities, named)[0], ())
        return len(list(lines_of(made, Soil(), METRIC)))

    kept = GroundAcross(ground)
    (triangulated, _), (anew, number), (again, _) = by_turns(
        lambda: Delaunay(points[:, :2]),
        lambda: comes_to(GroundAcross(ground)),
        lambda: comes_to(kept),
        runs=4,
    )
    print(
        f"{len(every)} sections, {number} quantities: {anew:.2f} s, {anew / triangulated:.1f} × Delaunay of "
        f"{len(points):,} levels; {again:.2f} s over ground that is surveyed"
    )


def road(actor: Actor) -> tuple[int, int, list[dict[str, object]]]:
    """The same in a project, from a survey's file, nothing built yet; gives the route, its typical section
    and that one's layers."""
    place = scene.location(actor)
    rows = "\n".join(["E;N;Z", *(f"{x:.3f};{y:.3f};{z:.3f}" for x, y, z in levels().tolist())])
    surveys.take_in(actor, "ground.csv", rows.encode(), How())
    worker.work_off()
    under = ["Carriageway", "Shoulder"]
    strips = [{"name": n, "width": w, "fall": "3 %"} for n, w in zip(under, ("3.5", "1"), strict=True)]
    layers: list[dict[str, object]] = [
        {
            "name": f"Layer {at}",
            "thickness": "0.1",
            "under": ["Carriageway", "Shoulder"],
            "spread": f"{at / 10}",
        }
        for at in range(LAYERS)
    ]
    document = {"name": "Road", "right": strips, "layers": layers, "topsoil": "0.2", "ditch_depth": "0.5"}
    built = scene.id_of(typicals.add_typical(actor, document))
    way = scene.id_of(actions.add_route(actor, "R1", "Road", place, ground_view(actor).surfaces[0].id))
    for (east, north), radius in zip(CORNERS, ("", *map(str, RADII), ""), strict=True):
        actions.add_row(actor, way, "corners", {"east": f"{east}", "north": f"{north}", "radius": radius})
    for chainage, level in (("0", "100"), ("5000", "101"), (f"{LENGTH + 1:g}", "99")):
        actions.add_row(actor, way, "levels", {"chainage": chainage, "level": level})
    for at in range(LAYERS):
        actions.add_row(actor, way, "named", {"name": f"Layer {at}"})
    actions.add_row(actor, way, "stretches", {"name": "West", "begins": "0", "ends": "5000"})
    actions.change_route(actor, way, 1, {"interval": f"{EVERY:g}"})
    worker.work_off()
    return way, built, layers


def through_the_application() -> None:
    """Worked out anew, and what a change of thickness takes."""
    scene.prepare()
    actor = scene.project()
    way, built, layers = road(actor)
    begun = time.perf_counter()
    actions.add_row(actor, way, "changes", {"chainage": "0"}, built)
    worker.work_off()
    first = time.perf_counter() - begun
    took = []
    for version, thick in enumerate(("0.11", "0.12", "0.13", "0.14", "0.15"), start=1):
        begun = time.perf_counter()
        changed = [{**layers[0], "thickness": thick}, *layers[1:]]
        typicals.change_typical(actor, built, version, {"layers": changed})
        saved = time.perf_counter()
        worker.work_off()
        took.append((saved - begun, time.perf_counter() - begun))
    view = reading.route_view(actor, way)
    opened, _ = best(lambda: reading.route_view(actor, way), runs=3)
    pages = [along.sections_view(actor, way, 0, AT_ONCE)]
    held = time.perf_counter()
    pages += [along.sections_view(actor, way, at * AT_ONCE, AT_ONCE) for at in range(1, 11)]
    each = (time.perf_counter() - held) / (10 * AT_ONCE)
    saving, worked = zip(*took, strict=True)
    print(
        f"{len(view.chainages)} sections worked out in a job after {first:.2f} s; one layer's thickness "
        f"changed: saved in {np.median(saving):.2f} s, worked out after {np.median(worked):.2f} s "
        f"(longest {max(worked):.2f})"
    )
    print(f"read for the desk in {opened:.2f} s; a section drawn by the server every {each * 1000:.1f} ms")


if __name__ == "__main__":
    reckoned()
    through_the_application()
