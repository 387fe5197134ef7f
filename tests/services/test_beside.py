"""What one takes back holds beside what colleagues wrote since, or is refused and changes nothing."""

from __future__ import annotations

from collections.abc import Callable
from decimal import Decimal
from typing import Any

from sandscale.core.refusals import BadEntry, Refusal
from sandscale.services.bill import actions as bill
from sandscale.services.keeping import history
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure.actions import elements
from sandscale.services.prices import actions as prices
from sandscale.services.rates import actions, bands
from sandscale.services.rates import lines as rate_lines
from sandscale.services.rates import sizes as reference_sizes
from sandscale.store.models import BuildUp, Change, Element, Item, Membership, Section
from tests import scene

D = Decimal


class Beside(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        person = scene.person("Colleague")
        Membership.create(project=self.actor.project_id, person=person, role="editor")
        self.colleague = Actor(person, self.actor.project_id, "editor")

    def rate(self, name: str, actor: Actor | None = None, **fields: Any) -> int:
        return scene.id_of(actions.add_build_up(actor or self.actor, {"name": name, "unit": "m²", **fields}))

    def change(self, actor: Actor, rate: int, **fields: Any) -> None:
        actions.change_build_up(actor, rate, BuildUp.get_by_id(rate).version, fields)

    def names(self) -> tuple[Callable[[], object], Callable[[], object], str]:
        fields = {"name": "Gravel", "kind": "material", "unit": "m³"}
        gravel = scene.id_of(prices.add_resource(self.actor, fields))
        return (
            lambda: prices.delete_resource(self.actor, gravel),
            lambda: prices.add_resource(self.colleague, {**fields, "name": "gravel"}),
            "are called “(G|g)ravel”",
        )

    def marks(self) -> tuple[Callable[[], object], Callable[[], object], str]:
        place = scene.id_of(elements.add_location(self.actor, "North"))
        other = scene.id_of(elements.add_location(self.actor, "South"))
        element = scene.id_of(elements.add_element(self.actor, place, "PF1", "pad-footing"))
        return (
            lambda: elements.change_element(self.actor, element, 1, {"location": other}),
            lambda: elements.add_element(self.colleague, place, "pf1", "pad-footing"),
            "are called “(PF|pf)1”",
        )

    def kinds(self) -> tuple[Callable[[], object], Callable[[], object], str]:
        mason = scene.resource(self.actor, "Mason", "labour", "h", "40")
        wall = self.rate("Wall")
        line = scene.id_of(rate_lines.add_build_up_line(self.actor, wall, {"resource": mason}))
        return (
            lambda: rate_lines.delete_build_up_line(self.actor, line),
            lambda: self.change(self.colleague, wall, kind="reference", sized_in="mm"),
            "A rate by size has lines",
        )

    def sizes(self) -> tuple[Callable[[], object], Callable[[], object], str]:
        known = self.rate("Known", kind="reference", sized_in="mm")
        size = scene.id_of(reference_sizes.add_size(self.actor, known, {"size": "150", "labour": D(5)}))
        return (
            lambda: reference_sizes.delete_size(self.actor, size),
            lambda: self.change(self.colleague, known, kind="banded"),
            "A rate of another kind has sizes",
        )

    def overlaps(self) -> tuple[Callable[[], object], Callable[[], object], str]:
        head = self.rate("By height", kind="banded", sized_in="m")
        low = scene.id_of(bands.add_band(self.actor, head, {"low": "0", "below": "3", "price": D(40)}))
        return (
            lambda: bands.delete_band(self.actor, low),
            lambda: bands.add_band(self.colleague, head, {"low": "2", "below": "4", "price": D(50)}),
            "overlap",
        )

    def units(self) -> tuple[Callable[[], object], Callable[[], object], str]:
        wall = self.rate("Wall")
        section = scene.id_of(bill.add_section(self.actor, "Masonry"))
        item = scene.id_of(
            bill.add_item(self.actor, section, {"description": "Walls", "unit": "m²", "build_up": wall})
        )
        return (
            lambda: bill.change_item(self.actor, item, Item.get_by_id(item).version, {"build_up": None}),
            lambda: self.change(self.colleague, wall, unit="m³"),
            "“Walls” has a rate in another unit",
        )

    def test_what_does_not_hold_beside_it_is_refused_and_nothing_moves(self) -> None:
        for scenery in (self.names, self.marks, self.kinds, self.sizes, self.overlaps, self.units):
            with self.subTest(scenery.__name__):
                self.setUp()
                mine, theirs, says = scenery()
                mine()
                theirs()
                changes, before = Change.select().count(), scene.file_of(self.actor)
                with self.assertRaisesRegex(
                    Refusal, f"can't be undone beside what was changed since: .*{says}"
                ):
                    history.undo(self.actor)
                self.assertEqual((Change.select().count(), scene.file_of(self.actor)), (changes, before))
                scene.taken_in(scene.person(), before)
                # Once the colleague has taken theirs back it goes.
                history.undo(self.colleague)
                history.undo(self.actor)
                scene.taken_in(scene.person(), scene.file_of(self.actor))

    def test_what_holds_beside_it_is_taken_back_and_done_again(self) -> None:
        first, later = (scene.id_of(bill.add_section(self.actor, title)) for title in ("First", "Later"))
        bill.move_section(self.actor, first, later)  # it lies in one that came after it
        self.rate("Wall", self.colleague)
        history.undo(self.actor)
        self.assertIsNone(Section.get_by_id(first).parent_id)
        history.redo(self.actor)
        self.assertEqual(Section.get_by_id(first).parent_id, later)
        scene.taken_in(scene.person(), scene.file_of(self.actor))

    def test_an_element_goes_to_no_location_that_has_its_mark(self) -> None:
        north, south = (scene.id_of(elements.add_location(self.actor, name)) for name in ("North", "South"))
        moving, there = (
            scene.id_of(elements.add_element(self.actor, place, mark, "pad-footing"))
            for place, mark in ((north, "PF1"), (south, "pf1"))
        )
        with self.assertRaisesRegex(BadEntry, "already has an element PF1"):
            elements.change_element(self.actor, moving, 1, {"location": south})
        elements.change_element(self.actor, moving, 1, {"location": south, "mark": "PF2"})
        elements.change_element(self.actor, there, 1, {"location": south})
        self.assertEqual({Element.get_by_id(each).location_id for each in (moving, there)}, {south})
