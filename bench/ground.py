"""How fast the core computes ground: cut and fill between surfaces, levels read and triangulated, a long
route.

    python -m bench.ground

Each is told as a ratio to SciPy's Delaunay triangulation of the same points in the same run, so that machines
can be compared.
The peak memory is that of the whole process up to then; the million levels come first, before anything else
has grown it.
"""

from __future__ import annotations

import resource
import time
import tracemalloc
from typing import Any

import numpy as np
from scipy.spatial import Delaunay

from sandscale.core.ground.cut_and_fill import cut_and_fill
from sandscale.core.ground.formation import Batter, Plane, ToSurface
from sandscale.core.ground.relief import relief
from sandscale.core.ground.route.centreline import LongSection, through
from sandscale.core.ground.route.mass_haul import mass_haul
from sandscale.core.ground.route.quantities import of_sections
from sandscale.core.ground.route.sections import Change, Route, cross_sections
from sandscale.core.ground.route.typical import Ditch, RouteLayer, Strip, TypicalSection
from sandscale.core.ground.surface import Surface, surface
from sandscale.core.ground.survey import check
from sandscale.formats.levels_csv import read_levels
from sandscale.formats.relief_png import write_relief

from .timing import by_turns

CHANCE = np.random.default_rng(6)


def peak() -> float:
    """The most memory the process has held, in MB."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def terrain(number: int, phase: float, size: float = 1000.0) -> np.ndarray:
    """Levels at places by chance."""
    plan = CHANCE.uniform(0, size, (number, 2))
    level = 100 + 4 * np.sin(plan[:, 0] / 90 + phase) + 3 * np.cos(plan[:, 1] / 70) + phase / 3
    return np.column_stack([plan, level])


def million_levels() -> None:
    """A million levels read from CSV, checked, triangulated, and reckoned against a level."""
    points = terrain(1_000_000, 0.0, 3000.0)
    content = (
        b"E,N,Z,code\n" + "".join(f"{x:.3f},{y:.3f},{z:.3f},gs\n" for x, y, z in points.tolist()).encode()
    )
    before = peak()
    begun = time.perf_counter()
    survey, findings = read_levels(content, "levels.csv")
    read = time.perf_counter()
    made = surface(survey.points)
    joined = time.perf_counter()
    held = peak()
    checked = check(survey)
    done = time.perf_counter()
    assert not findings and len(survey.points) == 1_000_000
    print(
        f"1,000,000 levels: {len(content) / 2**20:.0f} MB of CSV read in {read - begun:.1f} s, "
        f"{len(made.triangles):,} triangles in {joined - read:.1f} s,"
    )
    print(
        f"    peak memory {held:.0f} MB ({held - before:.0f} MB over the text and its making); "
        f"looked through in {done - joined:.1f} s,"
    )
    print(f"    {len(checked.doubts)} doubts, peak {peak():.0f} MB;")
    begun = time.perf_counter()
    earth = cut_and_fill(made, Plane(float(np.median(points[:, 2]))))
    print(
        f"    reckoned against a level in {time.perf_counter() - begun:.1f} s: cut {earth.cut:,.0f} m³, "
        f"fill {earth.fill:,.0f} m³, peak {peak():.0f} MB"
    )


def between_surfaces() -> None:
    """Exact cut and fill between two surfaces of 100,000 points each, from their levels on."""
    one, other = terrain(100_000, 0.0), terrain(100_000, 0.4)
    ground, formation = surface(one), surface(other)

    def earth() -> tuple[float, float]:
        # Surfaces anew, so that nothing is kept from the run before.
        anew = [Surface(each.points, each.triangles, each.edges) for each in (ground, formation)]
        found = cut_and_fill(anew[0], ToSurface(anew[1]))
        return found.cut, found.fill

    (measure, _), (taken, _), (exact, (cut, fill)) = by_turns(
        lambda: (Delaunay(one[:, :2]), Delaunay(other[:, :2])),
        lambda: (surface(one), surface(other)),
        earth,
        runs=4,
    )
    print(
        f"Cut and fill between two surfaces of 100,000 points: {exact:.2f} s, "
        f"and {taken:.2f} s to triangulate both;"
    )
    print(
        f"    {exact / measure:.2f} × SciPy's Delaunay of both ({measure:.2f} s), "
        f"{(exact + taken) / measure:.2f} × with our own triangulation"
    )
    print(f"    cut {cut:,.1f} m³, fill {fill:,.1f} m³")


def seen_from_above() -> None:
    """A surface of 100,000 points as a picture 1,600 places wide, and what it holds in memory for it."""
    ground = surface(terrain(100_000, 0.0))
    (measure, _), (taken, picture) = by_turns(
        lambda: Delaunay(ground.points[:, :2]), lambda: write_relief(relief(ground, 1600)), runs=4
    )
    tracemalloc.start()
    relief(ground, 1600)
    held = tracemalloc.get_traced_memory()[1] / 2**20
    tracemalloc.stop()
    print(
        f"Relief of 100,000 points, {len(picture) / 1024:.0f} kB: {taken:.2f} s, {taken / measure:.1f} × "
        f"SciPy's Delaunay of them ({measure:.2f} s); {held:.0f} MB while it is laid down"
    )


def long_route() -> None:
    """A route of 10 km, sections every 10 m, eight layers."""
    east, north = (each.ravel() for each in np.meshgrid(np.arange(-50, 10_051, 5.0), np.arange(-60, 61, 5.0)))
    ground = surface(
        np.column_stack([east, north, 100 + 3 * np.sin(east / 300) + north * 0.05 + np.sin(north / 20)])
    )
    strips = (Strip("carriageway", 3.5, 0.025), Strip("shoulder", 1, 0.04), Strip("verge", 1, 0.04))
    layers = tuple(RouteLayer(f"layer {at}", 0.1, ("carriageway", "shoulder"), 0.1 * at) for at in range(8))
    typical = TypicalSection(
        "road", strips, strips, layers, Batter(1), Batter(2), Ditch(0.5, 0.5, 1.5, 1.5), 0.2
    )
    line = through([(0, 0), (4000, 10), (7000, -10), (10_000, 0)], [2000, 3000])
    route = Route(
        line, LongSection(((0, 100, 0), (5000, 101, 200), (line.end, 99, 0))), (Change(0, typical),)
    )

    def worked() -> Any:
        sections, findings = cross_sections(route, ground, route.chainages(10))
        assert not findings
        quantities = of_sections(sections, "prismoidal")
        return quantities.totals, mass_haul(quantities, 0.9, 300), len(sections)

    (measure, _), (taken, (totals, haul, number)) = by_turns(
        lambda: Delaunay(ground.points[:, :2]), worked, runs=4
    )
    print(f"10 km of route, {number} sections, 8 layers, volumes and mass haul: {taken:.2f} s,")
    print(
        f"    {taken / measure:.1f} × SciPy's Delaunay of its {len(ground.points):,} levels ({measure:.2f} s)"
    )
    print(
        f"    cut {totals['cut']:,.1f} m³, fill {totals['fill']:,.1f} m³, overhaul "
        f"{haul.overhaul / 1e6:,.2f} million m³·m"
    )


if __name__ == "__main__":
    million_levels()
    between_surfaces()
    seen_from_above()
    long_route()
