"""Allowances that draw from the project, what rates take from them, banded rates, and what a price moved."""

from __future__ import annotations

import io
from datetime import date
from decimal import Decimal
from typing import Any

from openpyxl import load_workbook

from sandscale.core.refusals import BadEntry, BadFormula
from sandscale.services.answers import effects
from sandscale.services.bill import actions as bill
from sandscale.services.bill import reading as bill_reading
from sandscale.services.issue import documents
from sandscale.services.keeping import checking, history, walking
from sandscale.services.keeping.acting import Actor, InUse
from sandscale.services.measure import reading as measure
from sandscale.services.measure.actions import allowances, dimension_lines, elements
from sandscale.services.measure.actions.allowances import Draw
from sandscale.services.prices import actions as prices
from sandscale.services.projects import actions as projects
from sandscale.services.rates import actions, bands, reading, shelved, taking
from sandscale.services.rates import lines as rate_lines
from sandscale.services.shelves import actions as shelves
from sandscale.store.models import (
    BuildUp,
    BuildUpLine,
    Element,
    InputDraw,
    Item,
    QuantityLine,
    Quote,
    RateBand,
)
from tests import scene

D = Decimal


class Haulage(scene.DatabaseCase):
    """A job that hauls earth: 6,400 m³ by own trucks and 1,800 m³ by hired ones, 10 m³ an hour each."""

    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        self.truck = scene.resource(self.actor, "Truck, own", "plant", "h", "60.00")
        self.hired = scene.resource(self.actor, "Truck, hired", "plant", "h", "70.00")
        self.sweeper = scene.resource(self.actor, "Road sweeper", "plant", "h", "80.00")
        self.section = scene.id_of(bill.add_section(self.actor, "Earthworks"))
        self.items, self.rates = {}, {}
        for truck, volume in ((self.truck, "6400"), (self.hired, "1800")):
            line = {"resource": truck, "basis": "output", "quantity": "1"}
            self.rates[truck] = scene.build_up(self.actor, f"Haul {truck}", "m³", [line], output="10")
            self.items[truck] = self.item(f"Haul earth {truck}", volume, self.rates[truck])
        self.cleaning = scene.id_of(allowances.add_allowance(self.actor, "RC1", "road-cleaning"))

    def item(self, words: str, quantity: str, rate: int, unit: str = "m³", **fields: Any) -> int:
        told = {"description": words, "unit": unit, "build_up": rate, **fields}
        return scene.id_of(
            bill.add_item(
                self.actor, self.section, {**told, "typed_quantity": quantity, "typed_reason": "survey"}
            )
        )

    def draw(self, name: str, *draws: Draw, of: int = 0) -> None:
        row = Element.get_by_id(of or self.cleaning)
        allowances.draw_input(self.actor, row.id, row.version, name, list(draws))

    def enter(self, **inputs: str) -> None:
        row = Element.get_by_id(self.cleaning)
        elements.change_element(self.actor, row.id, row.version, {"inputs": inputs})

    def hours(self) -> float:
        return float(
            QuantityLine.get(
                (QuantityLine.element == self.cleaning) & (QuantityLine.output == "cleaning")
            ).net
        )

    def both_drawn(self) -> None:
        self.draw("own_hours", Draw(self.truck, self.items[self.truck]))
        self.draw("hired_hours", Draw(self.hired, self.items[self.hired]))
        self.enter(heavy_hours="36")

    def test_hours_over_items_make_the_sweepers_hours_and_follow_them(self) -> None:
        self.both_drawn()
        self.assertEqual(self.hours(), 46.5)
        view = measure.element_view(self.actor, self.cleaning)
        asked = {each.key: each for each in view.inputs}
        self.assertEqual(
            [(d.name, d.value, d.unit) for d in asked["own_hours"].drawn],
            [(f"Truck, own in 1.1 Haul earth {self.truck}", 640.0, "h")],
        )
        self.assertTrue(view.allowance)
        # Another output of the trucks, another quantity, another rate: each moves it; undo brings it back.
        rate = BuildUp.get_by_id(self.rates[self.truck])
        actions.change_build_up(self.actor, rate.id, rate.version, {"output": "20"})
        self.assertEqual(self.hours(), 12 + 1.5 * 11)  # (320 + 180 − 216) / 3 = 94.67 h, 11 days
        history.undo(self.actor)
        item = Item.get_by_id(self.items[self.hired])
        bill.change_item(self.actor, item.id, item.version, {"typed_quantity": "18000"})
        self.assertEqual(self.hours(), 12 + 1.5 * 83)  # (640 + 1800 − 216) / 3 = 741.33 h
        history.undo(self.actor)
        self.assertEqual(self.hours(), 46.5)
        # By hand, with its reason; what it came to is walked, and from what.
        with self.assertRaisesRegex(BadEntry, "isn't said why"):
            self.enter(hand_cleaning="48")
        self.enter(hand_cleaning="48: whole shifts")
        walked = walking.walk(self.actor, f"quantity:{self.cleaning}:cleaning")
        self.assertEqual((walked.working.value, walked.working.source), (48.0, "by hand: whole shifts"))
        refs = [link.ref for link in walked.comes_from]
        self.assertEqual(refs, [f"item-quantity:{each}" for each in self.items.values()])

    def test_a_rate_takes_it_and_it_can_t_take_itself(self) -> None:
        self.both_drawn()
        own = self.rates[self.truck]
        line = scene.id_of(
            rate_lines.add_build_up_line(self.actor, own, {"resource": self.sweeper, "basis": "fixed"})
        )
        row = BuildUpLine.get_by_id(line)
        taking.take_for_line(self.actor, line, row.version, self.cleaning, "cleaning")
        # 46.5 h at 80 over 6,400 m³, beside 6.00 of the truck: the sweeper's line moves no hours of trucks.
        self.assertEqual(BuildUp.get_by_id(own).cost, D("6.58125"))
        view = reading.build_up_view(self.actor, own)
        told = view.lines[-1]
        self.assertEqual((told.taken.name, told.entered), ("Road cleaning in RC1", D("46.5")))
        self.assertIn(
            f"build-up-line:{line}",
            [link.ref for link in walking.walk(self.actor, f"quantity:{self.cleaning}:cleaning").goes_to],
        )
        # The trucks' own hours by the cleaning would be a ring, as would its own hours by itself.
        truck = BuildUpLine.get((BuildUpLine.build_up == own) & (BuildUpLine.resource == self.truck))
        for action in (
            lambda: taking.take_for_line(self.actor, truck.id, truck.version, self.cleaning, "cleaning"),
            lambda: self.draw("day", Draw(element=self.cleaning, output="cleaning")),
            lambda: taking.take_for_rate(
                self.actor, self.rates[self.hired], 1, "hours", self.cleaning, "cleaning"
            ),
        ):
            with self.assertRaisesRegex(BadFormula, "RC1 in Allowances"):
                action()
        # What is drawn on stays; typed over, it is typed.
        for gone in (
            lambda: elements.delete_element(self.actor, self.cleaning),
            lambda: bill.delete_item(self.actor, self.items[self.truck]),
        ):
            with self.assertRaises(InUse):
                gone()
        row = BuildUpLine.get_by_id(line)
        rate_lines.change_build_up_line(self.actor, line, row.version, {"quantity": "40"})
        self.assertIsNone(BuildUpLine.get_by_id(line).taken_id)
        self.assertEqual(BuildUp.get_by_id(own).cost, D("6.5"))
        elements.delete_element(self.actor, self.cleaning)
        self.assertEqual(InputDraw.select().where(InputDraw.element == self.cleaning).count(), 0)
        history.undo(self.actor)
        self.assertEqual(self.hours(), 46.5)
        copy = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        self.assertEqual(
            QuantityLine.get((QuantityLine.project == copy.id) & (QuantityLine.output == "cleaning")).net,
            46.5,
        )

    def checked(self, rule: str) -> list[str]:
        return [check.says for check in checking.checks(self.actor) if check.rule == rule]

    def test_an_output_is_taken_and_units_are_heeded(self) -> None:
        sump = scene.element(self.actor, "S1", "plain-volume")
        scene.line(self.actor, sump, length="12", width="2", height="1")
        rate = BuildUp.get_by_id(self.rates[self.truck])
        taking.take_for_rate(self.actor, rate.id, rate.version, "output", sump, "net")
        self.assertEqual(BuildUp.get_by_id(rate.id).cost, D("2.5"))  # 60 over 24 m³
        with self.assertRaisesRegex(BadEntry, "is in m³, where h is wanted"):
            taking.take_for_rate(self.actor, rate.id, rate.version + 1, "hours", sump, "net")
        with self.assertRaisesRegex(BadEntry, "is in m³; hours of a day is in h|is in m³, where h is wanted"):
            self.draw("day", Draw(element=sump, output="net"))
        # Nothing measured is no output: told, and nothing is refused.
        dimension_lines.delete_line(self.actor, Element.get_by_id(sump).lines.first().id)
        view = reading.build_up_view(self.actor, rate.id)
        self.assertEqual(
            (view.rate, view.findings), (D("0.00"), ["Truck, own is by output, which comes to nothing."])
        )
        says = f"Haul {self.truck}: Truck, own is by output, which comes to nothing."
        self.assertEqual(self.checked("no output"), [says])
        taking.take_for_rate(self.actor, rate.id, BuildUp.get_by_id(rate.id).version, "output", None)
        self.assertEqual(self.checked("no output"), [])
        # So is a line that takes nothing.
        sand = scene.resource(self.actor, "Sand", "material", "m³", "30")
        line = scene.id_of(rate_lines.add_build_up_line(self.actor, rate.id, {"resource": sand}))
        self.assertEqual(self.checked("taken quantity"), [])
        taking.take_for_line(self.actor, line, 1, sump, "net")
        says = f"Haul {self.truck}: Sand takes a quantity that comes to nothing, so it counts nothing."
        self.assertEqual(self.checked("taken quantity"), [says])

    def test_a_band_prices_by_the_items_own_size(self) -> None:
        low = scene.build_up(
            self.actor, "Walls to 1.5 m", "m²", [{"resource": self.truck, "basis": "unit", "quantity": "0.5"}]
        )
        walls = scene.id_of(
            actions.add_build_up(
                self.actor,
                {"name": "Walls", "unit": "m²", "kind": "banded", "sized_by": "height", "sized_in": "m"},
            )
        )
        first = scene.id_of(bands.add_band(self.actor, walls, {"low": "", "below": "1.5", "nested": low}))
        bands.add_band(self.actor, walls, {"low": "1500 mm", "below": "3", "price": D("42.5")})
        with self.assertRaisesRegex(BadEntry, "overlap"):
            bands.add_band(self.actor, walls, {"low": "2.9", "below": "", "price": D(1)})
        item = self.item("Wall W1", "10", walls, "m²")

        def priced(size: str) -> tuple[Decimal | None, Decimal]:
            row = Item.get_by_id(item)
            bill.change_item(self.actor, item, row.version, {"size": size})
            row = Item.get_by_id(item)
            return row.rate, row.amount

        self.assertEqual(priced("1.2"), (D("30"), D("300")))
        self.assertEqual(priced("1500 mm"), (D("42.5"), D("425")))
        # Between, outside and unsaid: no rate, and a check that says why.
        self.assertEqual(priced("3"), (None, D(0)))
        says = [check.says for check in checking.checks(self.actor) if check.rule == "no size"]
        self.assertEqual(len(says), 1)
        self.assertIn("3 m lies outside every band", says[0])
        self.assertEqual(priced(""), (None, D(0)))
        self.assertEqual(priced("1.2")[0], D("30"))
        # A price moves it through its band; mark-up is added where the bill takes it.
        row = Quote.get(Quote.resource == self.truck)
        saved = prices.change_quote(self.actor, row.id, row.version, {"price": D("66")})
        self.assertEqual(Item.get_by_id(item).rate, D("33"))
        told = effects.effect_of(self.actor, saved.change or 0)
        self.assertEqual(
            [(r.name, r.before, r.after) for r in told.rates],
            [("Walls to 1.5 m", D(30), D(33)), (f"Haul {self.truck}", D(6), D("6.6"))],
        )
        self.assertEqual([(i.before, i.after) for i in told.items], [(D(38400), D(42240)), (D(300), D(330))])
        self.assertEqual(told.bill_after - told.bill_before, D("3870"))
        self.assertEqual(Item.get_by_id(item).rate, D("33"))  # asking moved nothing
        head = BuildUp.get_by_id(walls)
        actions.change_build_up(self.actor, walls, head.version, {"added": D(10)})
        self.assertEqual(Item.get_by_id(item).rate, D("36.3"))
        walked = walking.walk(self.actor, f"item-size:{item}")
        self.assertIn(f"build-up:{low}", [link.ref for link in walked.comes_from])
        # A line reads it too; needs count what a band takes; rings and deletions are refused.
        outer = scene.build_up(
            self.actor, "Wall, faced", "m²", [{"nested": walls, "basis": "unit", "size": "2"}]
        )
        self.assertEqual(BuildUp.get_by_id(outer).cost, D("42.5"))
        self.assertEqual(self.checked("banded rate"), [])
        row = BuildUpLine.get(BuildUpLine.build_up == outer)
        rate_lines.change_build_up_line(self.actor, row.id, row.version, {"size": "3.5"})
        (says,) = self.checked("banded rate")
        self.assertIn("Wall, faced: Walls: 3.5 m lies outside every band", says)
        with self.assertRaises(InUse):
            actions.delete_build_up(self.actor, low)
        band = RateBand.get_by_id(first)
        with self.assertRaises(BadEntry):
            bands.change_band(self.actor, first, band.version, {"nested": outer})
        self.draw("own_hours", Draw(self.truck, item))
        self.assertEqual(measure.element_view(self.actor, self.cleaning).inputs[0].drawn[0].value, 5.0)
        book = load_workbook(io.BytesIO(documents.bill_workbook(self.actor)[1]))
        self.assertTrue(any(row[0].value == "Walls to 1.5 m, per m²" for row in book["Rates"].iter_rows()))
        copy = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        self.assertEqual(
            Item.get((Item.project == copy.id) & (Item.description == "Wall W1")).rate, D("36.3")
        )
        # A shelf keeps its bands; the copy of a rate has them too.
        shelf = shelves.add_shelf(self.actor.person_id, "Walls", "").id
        shelved.put_rate_on_shelf(self.actor, walls, shelf)
        name = projects.new_project(self.actor.person_id, "Other", "", "EUR", date(2026, 11, 2))
        other = Actor(self.actor.person_id, name.id, "owner")
        taken = scene.id_of(shelved.take_rate_from_shelf(other, shelf, "walls"))
        self.assertEqual(
            [(b.low, b.below, b.nested_name) for b in reading.build_up_view(other, taken).bands],
            [("", "1.5", "Walls to 1.5 m"), ("1.5", "3", "")],
        )
        self.assertEqual(
            len(
                reading.build_up_view(self.actor, scene.id_of(actions.copy_build_up(self.actor, walls))).bands
            ),
            2,
        )
        self.assertEqual(bill_reading.item_views([item])[0].sized_by, "height")
