"""Rates put on shelves and taken from there and from other projects, with all that they draw on."""

from __future__ import annotations

import json
from decimal import Decimal

from sandscale.core.pricing.rate_document import read_rate
from sandscale.core.refusals import BadEntry, BadFormula
from sandscale.services.keeping import history
from sandscale.services.keeping.acting import Actor, Missing
from sandscale.services.prices import actions as prices
from sandscale.services.projects import actions as projects
from sandscale.services.rates import actions, reading, shelved
from sandscale.services.rates import lines as rate_lines
from sandscale.services.rates import sizes as reference_sizes
from sandscale.services.shelves import actions as shelves
from sandscale.store.models import BuildUp, Resource
from tests import scene

D = Decimal


class Shelved(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        mason = scene.resource(self.actor, "Mason", "labour", "h", "34.50")
        lime = scene.resource(self.actor, "Lime", "material", "kg", "0.30")
        self.gang = scene.id_of(actions.add_build_up(self.actor, {"name": "Masons", "kind": "gang"}))
        rate_lines.add_build_up_line(
            self.actor, self.gang, {"resource": mason, "quantity": "2", "basis": "unit"}
        )
        mortar = scene.build_up(
            self.actor, "Mortar", "m³", [{"resource": lime, "quantity": "400"}, {"nested": self.gang}]
        )
        walls = {"name": "Known walls", "unit": "m²", "kind": "reference", "sized_in": "mm", "source": "Jobs"}
        table = scene.id_of(actions.add_build_up(self.actor, walls))
        reference_sizes.add_size(
            self.actor, table, {"size": "150", "labour": D("31.40"), "material": D("18.10")}
        )
        self.rate = scene.build_up(
            self.actor, "Wall", "m²",
            [
                {"nested": self.gang, "quantity": "1"}, {"nested": mortar, "quantity": "0.02", "allowance": D(10)},
                {"nested": table, "size": "150", "quantity": "0.1", "basis": "unit"},
                {"basis": "percent", "percent_of": "labour", "quantity": "5"},
            ],
            output="1.9",
        )  # fmt: skip
        self.shelf = shelves.add_shelf(self.actor.person_id, "Sandhall", "").id
        made = projects.new_project(self.actor.person_id, "Another", "", "EUR", scene.PRICE_DATE)
        self.other = Actor(self.actor.person_id, made.id, "owner")

    def rates(self) -> set[str]:
        return {row.name for row in BuildUp.those(BuildUp.project, [self.other.project_id])}

    def test_from_a_shelf_it_comes_to_the_same_once_it_is_priced(self) -> None:
        shelved.put_rate_on_shelf(self.actor, self.rate, self.shelf)
        mine = scene.resource(self.other, "mason", "labour", "h", "34.50")
        taken = scene.id_of(shelved.take_rate_from_shelf(self.other, self.shelf, "wall"))
        self.assertEqual(self.rates(), {"Wall", "Masons", "Mortar", "Known walls"})
        lime = Resource.get((Resource.project == self.other.project_id) & (Resource.name == "Lime"))
        self.assertIsNone(lime.price)
        self.assertIn(
            "Lime has no price", " ".join(reading.build_up_view(self.other, self._mortar()).findings)
        )
        quote = {"supplier": "Marl", "price": D("0.30"), "quoted_on": scene.PRICE_DATE}
        prices.add_quote(self.other, lime.id, quote)
        view, told = reading.build_up_view(self.other, taken), reading.build_up_view(self.actor, self.rate)
        self.assertEqual((view.rate, view.groups), (told.rate, told.groups))
        self.assertEqual([line.name for line in view.lines], [line.name for line in told.lines])
        self.assertEqual(Resource.select().where(Resource.project == self.other.project_id).count(), 2)
        self.assertEqual(Resource.get_by_id(mine).name, "mason")
        history.undo(self.other)
        history.undo(self.other)
        self.assertEqual(self.rates(), set())

    def _mortar(self) -> int:
        return int(BuildUp.get((BuildUp.project == self.other.project_id) & (BuildUp.name == "Mortar")).id)

    def test_known_costs_are_not_taken_for_another_currency(self) -> None:
        made = projects.new_project(self.actor.person_id, "Abroad", "", "USD", scene.PRICE_DATE)
        self.other = Actor(self.actor.person_id, made.id, "owner")
        shelved.put_rate_on_shelf(self.actor, self.rate, self.shelf)
        for take in (
            lambda: shelved.take_rate_from_project(self.other, self.actor.project_id, self.rate),
            lambda: shelved.take_rate_from_shelf(self.other, self.shelf, "wall"),
        ):
            with self.assertRaisesRegex(BadEntry, "“Wall” tells costs in EUR; the project is in USD"):
                take()
        # What holds no money of its own is priced anew anyway.
        shelved.take_rate_from_project(self.other, self.actor.project_id, self.gang)
        self.assertEqual(self.rates(), {"Masons"})

    def test_from_another_project_what_is_there_already_is_used(self) -> None:
        gang = scene.id_of(actions.add_build_up(self.other, {"name": "masons", "kind": "gang"}))
        taken = scene.id_of(shelved.take_rate_from_project(self.other, self.actor.project_id, self.rate))
        self.assertEqual(self.rates(), {"Wall", "masons", "Mortar", "Known walls"})
        self.assertIn(gang, [line.nested for line in reading.build_up_view(self.other, taken).lines])
        with self.assertRaisesRegex(BadEntry, "There is a rate “Wall” already"):
            shelved.take_rate_from_project(self.other, self.actor.project_id, self.rate)

    def test_what_does_not_fit_is_told_and_nothing_is_taken(self) -> None:
        scene.build_up(self.other, "Mortar", "kg", [])
        with self.assertRaisesRegex(BadEntry, "“Mortar” is per kg in this project, and per m³"):
            shelved.take_rate_from_project(self.other, self.actor.project_id, self.rate)
        self.assertEqual(self.rates(), {"Mortar"})
        stranger = scene.project()
        with self.assertRaisesRegex(Missing, "no such project of yours"):
            shelved.take_rate_from_project(stranger, self.actor.project_id, self.rate)
        with self.assertRaises(Missing):
            shelved.take_rate_from_shelf(stranger, self.shelf, "wall")
        good = json.loads(shelved.document_of(BuildUp.get_by_id(self.rate)).model_dump_json())
        ring = {
            **good,
            "rates": [{**good["rates"][0], "lines": [{**good["rates"][0]["lines"][0], "rate": "Wall"}]}],
        }
        for spoilt, says in (
            ("{", "no rate"), ("[]", "no rate"), (json.dumps({"rates": []}), "at rates"), (json.dumps(ring), "in a loop"),
            (json.dumps({"rates": [good["rates"][0]]}), "which isn't there"),
            (json.dumps({"rates": [good["rates"][0]] * 2}), "one name"), ("x" * 1_000_001, "longer"),
        ):  # fmt: skip
            with self.subTest(says), self.assertRaisesRegex(BadFormula, says):
                read_rate(spoilt)
