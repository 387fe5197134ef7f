"""What is told of the numbers of a whole project: every working reached from its bill comes to its value, and its parts to theirs."""

from __future__ import annotations

import unittest
from collections import Counter
from collections.abc import Iterator

from sandscale.services.keeping import walking
from sandscale.services.keeping.acting import Actor
from sandscale.services.keeping.views import WorkingView
from sandscale.store.models import BuildUpLine, DimensionLine, QuantityLine
from tests import scene
from tests.arithmetic import holds


def parts_of(working: WorkingView) -> Iterator[WorkingView]:
    yield working
    for part in working.parts:
        yield from parts_of(part)


class Demonstration(scene.DatabaseCase):
    actor: Actor

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        known = scene.demonstration()
        copy = scene.taken_in(known.person_id, scene.file_of(known))
        cls.actor = Actor(known.person_id, copy.id, "owner")

    def references(self) -> Iterator[str]:
        """Everything that is reached from the bill, from each quantity line, each line and each line of a build-up."""
        rows = [
            f"quantity:{q.element_id}:{q.output}"
            for q in QuantityLine.select().where(QuantityLine.project == self.actor.project_id)
        ]
        rows += [
            f"line:{line.id}"
            for line in DimensionLine.select().where(DimensionLine.project == self.actor.project_id)
        ]
        rows += [
            f"build-up-line:{line.id}"
            for line in BuildUpLine.select().where(BuildUpLine.project == self.actor.project_id)
        ]
        seen, ahead = set[str](), ["bill", *rows]
        while ahead:
            ref = ahead.pop()
            if ref not in seen:
                seen.add(ref)
                yield ref
                view = walking.walk(self.actor, ref)
                ahead += [link.ref for link in (*view.comes_from, *view.goes_to)]

    def test_every_working_comes_to_its_value(self) -> None:
        told = Counter[str]()
        for ref in self.references():
            view = walking.walk(self.actor, ref)
            for each in parts_of(view.working):
                with self.subTest(ref=ref, name=each.name):
                    if each.rows:
                        signed = sum(row.squared for row in each.rows)
                        self.assertAlmostEqual(signed, each.value, places=6)
                    # Of several lines the arithmetic of the first is told; the paper above it holds them all.
                    if each.figures and len(each.rows) < 2 and each.unit != "nr":
                        told[ref.split(":")[0]] += holds(
                            self,
                            each.name,
                            each.figures,
                            each.value,
                            0.5 if each.unit == "kg" and ref.startswith("item-q") else 0.02,
                        )
        for kind, least in {
            "quantity": 300,
            "item": 20,
            "item-quantity": 10,
            "build-up": 50,
            "build-up-line": 40,
            "section": 6,
            "bill": 2,
        }.items():
            self.assertGreater(told[kind], least, f"arithmetic told of {kind}: {told}")


if __name__ == "__main__":
    unittest.main()
