"""Measures that are missing or endless are refused wherever they stand: never a volume that is no number, never a Python error."""

from __future__ import annotations

import dataclasses
import math
import unittest
import warnings
from collections.abc import Callable, Iterator, Mapping
from typing import Any

import numpy as np

from sandscale.core.ground.areas import RULES, volume
from sandscale.core.ground.classes import Layer, dig
from sandscale.core.ground.cut_and_fill import cut_and_fill
from sandscale.core.ground.formation import Batter, Plane, Platform
from sandscale.core.ground.grid import typed_rows, typed_squares
from sandscale.core.ground.haulage import Soil, haulage
from sandscale.core.ground.methods import side_by_side
from sandscale.core.ground.route.centreline import LongSection, through
from sandscale.core.ground.route.mass_haul import mass_haul
from sandscale.core.ground.route.quantities import AreaRow, RouteQuantities, of_sections
from sandscale.core.ground.route.sections import Change, Route, cross_sections
from sandscale.core.ground.route.typical import Ditch, RouteLayer, Strip, TypicalSection
from sandscale.core.ground.surface import of_faces, surface
from sandscale.core.ground.trench.kind import Material, Pipe, Reinstatement, Surround, TrenchKind
from sandscale.core.ground.trench.network import network
from sandscale.core.ground.trench.node import Manhole, Node
from sandscale.core.ground.trench.run import Run
from sandscale.core.ground.trench.sides import Sides
from sandscale.core.refusals import Refusal

GROUND = surface(np.array([(x, y, 10 + x / 20 + y / 50) for x in (-60.0, 0, 60) for y in (-60.0, 0, 60)]))
BUILT = {each.__name__: each for each in (
    Batter, Change, Ditch, Layer, Manhole, Material, Node, Pipe, Plane, Platform, Reinstatement, RouteLayer, Run, Sides, Soil, Strip, Surround, TrenchKind,
    TypicalSection,
)}  # fmt: skip


def of(kind: type, *given: Any, **named: Any) -> tuple[str, list[Any], dict[str, Any]]:
    """Something to be built, its measures still open to be changed."""
    return kind.__name__, list(given), named


def built(plan: Any) -> Any:
    if isinstance(plan, tuple) and len(plan) == 3 and isinstance(plan[0], str) and plan[0] in BUILT:
        return BUILT[plan[0]](*built(plan[1]), **built(plan[2]))
    if isinstance(plan, dict):
        return {name: built(each) for name, each in plan.items()}
    return type(plan)(built(each) for each in plan) if isinstance(plan, list | tuple) else plan


def spoilt(plan: Any, value: float, path: str = "") -> Iterator[tuple[str, Any]]:
    """The plan with each of its numbers in turn replaced."""
    if isinstance(plan, float | int) and not isinstance(plan, bool):
        yield path, value
    elif isinstance(plan, dict):
        for name, each in plan.items():
            for where, changed in spoilt(each, value, f"{path}.{name}"):
                yield where, {**plan, name: changed}
    elif isinstance(plan, list | tuple):
        for at, each in enumerate(plan):
            for where, changed in spoilt(each, value, f"{path}[{at}]"):
                yield where, type(plan)([*plan[:at], changed, *plan[at + 1 :]])


def numbers(found: Any) -> Iterator[float]:
    if isinstance(found, Mapping):
        found = list(found.values())
    if dataclasses.is_dataclass(found):
        found = [getattr(found, field.name) for field in dataclasses.fields(found) if field.name != "working"]
    if isinstance(found, list | tuple):
        for each in found:
            yield from numbers(each)
    elif isinstance(found, float | int):
        yield float(found)


def trench(plan: Any) -> Any:
    nodes, runs, limits, soil = built(plan)
    found = network(nodes, runs, None, limits)
    if not found.runs:  # left out, and told; what is left has numbers all the same
        assert found.findings[0].says
        return found.volumes, found.tonnes, found.surplus(soil)
    run = found.runs[0]
    bands = [volume for _, _, volume in (*run.dug_bands, *run.length_bands)]
    return (
        found.volumes,
        found.tonnes,
        found.surplus(soil),
        bands,
        run.surface_area(run.run.kind.reinstatements[0]),
    )


def route(plan: Any) -> Any:
    corners, radii, levels, changes, interval = built(plan)
    way = Route(through(corners, radii), LongSection(levels), tuple(changes))
    made, _ = cross_sections(way, GROUND, way.chainages(interval))
    found = of_sections(made)
    return found.totals, mass_haul(found, 0.9, 20)


def pit(plan: Any) -> Any:
    formation, layers, soil, bands, methods = built(plan)
    earth = cut_and_fill(GROUND, formation)
    dug = dig(earth, layers)
    others = [(each.cut, each.fill) for each in side_by_side(earth, *methods)]
    return (
        earth.cut,
        earth.fill,
        dug.volumes,
        dug.fill,
        others,
        [each[2] for each in earth.depth_bands(bands)],
        haulage(earth.cut, earth.fill, soil),
    )


def by_hand(plan: Any) -> Any:
    levels, formation, spacing, sections, haul, faces = built(plan)
    cells, rows = typed_squares(levels, formation, spacing), typed_rows(levels, formation, spacing)
    areas = [volume(*sections[:2], rule, sections[2]).total for rule in RULES]
    carried = mass_haul(
        RouteQuantities(
            tuple(
                AreaRow(at, {"cut": cut, "fill": fill}, {"cut": out}, bend)
                for at, cut, fill, out, bend in haul
            )
        ),
        0.9,
        5,
    )
    bare = of_faces(np.array(faces))
    return (
        cells.cut,
        cells.fill,
        rows.cut,
        rows.fill,
        areas,
        carried.haul,
        carried.overhaul,
        carried.left_over,
        bare.true_area,
        bare.plan_area,
    )


KIND = of(
    TrenchKind, "sewer", of(Pipe, "DN 250", 0.25, 0.02), 0.15, [of(Surround, "bed", "crown", 0.1, of(Material, 1.9, 5.0))],
    [of(Reinstatement, "topsoil", 0.2, 0.1)], of(Sides, "battered", 0.5), 0.9,
)  # fmt: skip
BENCHED = of(
    TrenchKind,
    "plain",
    None,
    0.0,
    [],
    [of(Reinstatement, "turf", 0.1)],
    of(Sides, "benched", step_height=0.8, step_width=0.5),
    1.0,
)
SECTION = of(
    TypicalSection, "road", (of(Strip, "lane", 3.0, 0.02), of(Strip, "verge", 1.0, 0.04)), (of(Strip, "lane", 3.0, 0.02),),
    (of(RouteLayer, "base", 0.2, ("lane",), 0.1),), of(Batter, 1.0, 2.0, 1.0), of(Batter, 2.0), of(Ditch, 0.4, 0.3, 1.0, 1.0), 0.15,
)  # fmt: skip
RING = [(-10.0, -10.0, 9.0), (10.0, -10.0, 9.0), (10.0, 10.0, 9.5), (-10.0, 10.0, 9.5)]
PLANS: dict[str, tuple[Callable[[Any], Any], Any]] = {
    "sewer": (trench, [[of(Node, "A", 0.0, 0.0, 3.0, of(Manhole, 1.2, 1.0, 0.15, 0.2, 0.5)), of(Node, "B", 30.0, 0.0, 2.5)],
                       [of(Run, "A", "B", 0.5, 0.3, KIND, [(10.0, 2.8)])], [0.0, 1.0, 2.0], of(Soil, 1.3, 0.9, 10.0)]),
    "benched trench": (trench, [[of(Node, "A", 0.0, 0.0, 3.0), of(Node, "B", 30.0, 0.0, 2.5)], [of(Run, "A", "B", 0.5, 0.3, BENCHED)], [0.0, 1.0], of(Soil)]),
    "road": (route, [[(-40.0, 0.0), (0.0, 0.0), (40.0, 20.0)], [30.0], [(0.0, 9.0, 0.0), (40.0, 10.0, 20.0), (90.0, 10.0, 0.0)],
                     [of(Change, 0.0, SECTION), of(Change, 40.0, SECTION, 10.0)], 20.0]),
    "platform": (pit, [of(Platform, RING, of(Batter, 1.0, 1.0, 0.5), of(Batter, 2.0)), [of(Layer, "topsoil", 0.2), of(Layer, "soft", 0.3, taken="below formation")],
                       of(Soil, 1.2, 0.9, 8.0), [0.0, 1.0], [5.0, 0.5]]),
    "plane": (pit, [of(Plane, 10.0, 0.01, 0.02, (0.0, 0.0), [corner[:2] for corner in RING]), [], of(Soil), [0.0, 1.0], [5.0, 0.5, "prismoidal", 10.0]]),
    "by hand": (by_hand, [[[1.0, 2.0], [2.0, 1.0]], 1.5, 10.0, [[0.0, 20.0, 40.0], [4.2, 6.8, 5.1], [1.0, 1.0, 1.1]],
                          [[0.0, 3.0, 0.0, 1.0, 0.01], [20.0, 1.0, 2.0, 1.0, 0.01], [40.0, 0.0, 5.0, 0.0, 0.0]],
                          [[[0.0, 0.0, 1.0], [9.0, 0.0, 1.0], [0.0, 9.0, 2.0]]]]),
}  # fmt: skip


class MissingMeasures(unittest.TestCase):
    def test_each_measure_of_each_work_in_turn(self) -> None:
        for name, (worked, plan) in PLANS.items():
            self.assertTrue(all(map(math.isfinite, numbers(worked(plan)))), name)
            for value in (math.nan, math.inf, -math.inf, 1e300):
                for where, changed in spoilt(plan, value):
                    with self.subTest(f"{name}{where} = {value}"), warnings.catch_warnings():
                        warnings.simplefilter("error")
                        try:
                            found = worked(changed)
                        except Refusal:
                            continue
                        self.assertEqual([each for each in numbers(found) if not math.isfinite(each)], [])


if __name__ == "__main__":
    unittest.main()
