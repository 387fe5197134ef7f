"""Rates by day, had once, marked up, with gangs in gangs; what a change of the bill or the working day moves."""

from __future__ import annotations

import io
import json
from decimal import Decimal
from typing import Any

from openpyxl import load_workbook

from sandscale.core.numbers.ways import held
from sandscale.core.refusals import BadEntry, Refusal
from sandscale.services.bill import actions as bill
from sandscale.services.issue import documents
from sandscale.services.keeping import checking, history, walking
from sandscale.services.keeping.acting import Actor
from sandscale.services.keeping.recording import as_one
from sandscale.services.measure.actions import dimension_lines
from sandscale.services.prices import actions as prices
from sandscale.services.projects import actions as projects
from sandscale.services.rates import actions, reading, taking
from sandscale.services.rates import lines as rate_lines
from sandscale.services.rates import sizes as reference_sizes
from sandscale.store.changes import moved_by
from sandscale.store.models import BuildUp, BuildUpLine, Change, Item, Project, Quote
from tests import scene
from tests.services.test_issue import recalculated

D = Decimal


class RateCase(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        self.project = Project.get_by_id(self.actor.project_id)

    def rate(self, name: str, unit: str = "m³", **fields: Any) -> int:
        return scene.id_of(actions.add_build_up(self.actor, {"name": name, "unit": unit, **fields}))

    def line(self, rate: int, **fields: Any) -> int:
        return scene.id_of(rate_lines.add_build_up_line(self.actor, rate, fields))

    def seen(self, rate: int) -> reading.BuildUpView:
        return reading.build_up_view(self.actor, rate)

    def changed(self, **fields: Any) -> None:
        now = Project.get_by_id(self.actor.project_id)
        projects.change_project(self.actor, now.version, fields)


class Lines(RateCase):
    def test_what_a_day_takes_goes_by_the_working_day_of_the_project(self) -> None:
        fuel = scene.resource(self.actor, "Diesel", "sundries", "l", "1.50")
        self.changed(working_day=9)
        with held(day=9):
            dig = self.rate("Dig", output="20")
            line = self.line(dig, resource=fuel, basis="day", quantity="160 l/day × 3 + 90 l/day")
            (told,) = self.seen(dig).lines
            self.assertEqual((told.total_quantity, told.unit_quantity), (D("63.3333"), D("3.1667")))
            self.assertEqual((told.unit_price, told.quantity), (D("4.7500"), "160 l/day × 3 + 90 l/day"))
            self.assertIn(
                "/ hours of a day", walking.walk(self.actor, f"build-up-line:{line}").working.expression
            )
            for wrong in ("160 m/day", "x l/day", "-3"):
                with self.assertRaises(BadEntry):
                    rate_lines.change_build_up_line(self.actor, line, 1, {"quantity": wrong})
            # Per day it is none any more once it is per unit.
            with self.assertRaises(BadEntry):
                rate_lines.change_build_up_line(self.actor, line, 1, {"basis": "unit"})
            copy = actions.copy_build_up(self.actor, dig).id or 0
            self.assertEqual(self.seen(copy).rate, D("4.75"))
        self.changed(working_day=10)
        with held(day=10):
            self.assertEqual(BuildUp.get_by_id(dig).rate, D("4.28"))  # 570 / 10 × 1.50 / 20 = 4.275

    def test_a_gang_in_a_gang_and_a_note(self) -> None:
        digger = scene.resource(self.actor, "Digger", "plant", "h", "40")
        driver = scene.resource(self.actor, "Driver", "labour", "h", "30")
        fuel = scene.resource(self.actor, "Diesel", "sundries", "l", "1.50")
        small, gang, dig = (
            self.rate("Digging", kind="gang"),
            self.rate("Earth gang", kind="gang"),
            self.rate("Dig", output="80", hours="8"),
        )
        own = self.line(small, resource=digger)
        self.line(small, resource=driver)
        self.line(small, resource=fuel, basis="unit", quantity="12")
        self.line(small, basis="percent", percent_of="labour", quantity="5", note="small tools")
        self.line(gang, nested=small, quantity="2")
        self.line(gang, resource=driver)
        for add in (
            lambda: self.line(small, resource=fuel, basis="fixed"),
            lambda: rate_lines.change_build_up_line(self.actor, own, 1, {"basis": "fixed"}),
        ):
            with self.assertRaisesRegex(BadEntry, "Nothing is billed by a gang"):
                add()
        line = self.line(dig, nested=gang)
        view = self.seen(dig)
        groups = {g.group: g for g in view.groups}
        # An hour does 10 m³: 2 diggers, 3 drivers, 24 l, 5 % of two drivers.
        self.assertEqual(
            (groups["plant"].unit_price, groups["labour"].unit_price), (D("8.0000"), D("9.0000"))
        )
        self.assertEqual(groups["sundries"].unit_price, (24 * D("1.5") + 3) / 10)
        self.assertEqual((groups["labour"].total_quantity, groups["labour"].unit), (D("24.0000"), "h"))
        (told,) = view.lines
        self.assertEqual(
            (told.total_quantity, told.unit_quantity, told.parted), (D("8.0000"), D("0.1000"), True)
        )
        self.assertEqual(len(walking.walk(self.actor, f"build-up-line:{line}").working.parts), 5)
        with self.assertRaisesRegex(
            BadEntry, "Earth gang → Digging → Earth gang|Digging → Earth gang → Digging"
        ):
            self.line(small, nested=gang)
        # What a gang hour takes is kept with the rate: a member's price goes through it, in a database from
        # before it was kept as well, and another number of members makes it anew.
        quote = Quote.get(Quote.resource == driver)
        for each in (D(36), D(40)):
            version = Quote.get_by_id(quote.id).version
            prices.change_quote(self.actor, quote.id, version, {"price": each})
            self.assertEqual(BuildUp.get_by_id(dig).cost, (80 + 3 * each + 36 + 2 * each / 20) / 10)
            self.assertEqual(reading.build_up_view(self.actor, dig).cost, BuildUp.get_by_id(dig).cost)
            BuildUp.update(takes=None).where(BuildUp.project == self.project).execute()
        # Prices that move a gang's groups and not what it costs move the rates that take a share of a group.
        tidy = self.rate("Tidy")
        self.line(tidy, nested=small)
        self.line(tidy, basis="percent", percent_of="labour", quantity="10")
        was, plant = BuildUp.get_by_id(small).cost, Quote.get(Quote.resource == digger)
        with as_one(self.actor, "Both"):
            prices.change_quote(self.actor, quote.id, Quote.get_by_id(quote.id).version, {"price": D(60)})
            prices.change_quote(self.actor, plant.id, plant.version, {"price": D(19)})
        self.assertEqual((BuildUp.get_by_id(small).cost, BuildUp.get_by_id(tidy).cost), (was, was + 6))
        history.undo(self.actor)
        self.assertEqual(BuildUp.get_by_id(tidy).cost, was + 4)
        rate_lines.change_build_up_line(self.actor, own, 1, {"quantity": "2"})
        self.assertEqual(BuildUp.get_by_id(dig).cost, (160 + 3 * D(40) + 36 + D(4)) / 10)
        self.assertIsNotNone(BuildUp.get_by_id(small).takes)
        prices.change_quote(self.actor, quote.id, Quote.get_by_id(quote.id).version, {"price": D("30")})
        rate_lines.change_build_up_line(
            self.actor, own, BuildUpLine.get_by_id(own).version, {"quantity": "1"}
        )
        actions.change_build_up(self.actor, dig, 1, {"note": "  measured at the last job "})
        copy = actions.copy_build_up(self.actor, dig).id or 0
        self.assertEqual(
            (self.seen(copy).note, self.seen(copy).rate), ("measured at the last job", view.rate)
        )

    def test_a_rate_becomes_no_kind_that_holds_something_else(self) -> None:
        mason = scene.resource(self.actor, "Mason", "labour", "h", "40")
        lined, empty = self.rate("Lined", unit="h"), self.rate("Empty", unit="m²")
        once = self.line(lined, resource=mason, basis="fixed")
        known = self.rate("Known", unit="m²", kind="reference", sized_in="mm")
        reference_sizes.add_size(self.actor, known, {"size": "150", "labour": D(5)})
        for rate, kind, says in (
            (lined, "reference", "“Lined” has lines"), (lined, "banded", "“Lined” has lines"),
            (lined, "gang", "Nothing is billed by a gang"), (known, "rate", "“Known” has sizes"),
            (known, "banded", "“Known” has sizes"),
        ):  # fmt: skip
            with self.subTest(says=says, kind=kind), self.assertRaisesRegex(BadEntry, says):
                actions.change_build_up(self.actor, rate, BuildUp.get_by_id(rate).version, {"kind": kind})
        rate_lines.delete_build_up_line(self.actor, once)
        for kind in ("gang", "rate", "banded"):
            actions.change_build_up(self.actor, lined, BuildUp.get_by_id(lined).version, {"kind": kind})
        self.line(self.rate("Drawing", unit="m²"), nested=empty)
        with self.assertRaisesRegex(Refusal, "“Empty” is used as a rate"):
            actions.change_build_up(
                self.actor, empty, BuildUp.get_by_id(empty).version, {"kind": "reference"}
            )

    def test_a_percentage_is_a_line_of_its_own(self) -> None:
        mason = scene.resource(self.actor, "Mason", "labour", "h", "40")
        rate = self.rate("Wall", unit="m²")
        drawn, share = self.line(rate, resource=mason), self.line(rate, basis="percent", quantity="5")
        with self.assertRaisesRegex(BadEntry, "Only a percentage is taken of a group"):
            self.line(rate, resource=mason, percent_of="labour")
        for line, fields, says in (
            (drawn, {"percent_of": "labour"}, "Only a percentage is taken of a group"),
            (drawn, {"basis": "percent", "percent_of": "labour"}, "a line of its own"),
            (share, {"basis": "unit"}, "a line of its own"),
            (share, {"percent_of": ""}, "taken of one of the groups"),
        ):
            with self.subTest(fields=fields), self.assertRaisesRegex(BadEntry, says):
                version = BuildUpLine.get_by_id(line).version
                rate_lines.change_build_up_line(self.actor, line, version, fields)
        self.assertEqual([line.percent_of for line in self.seen(rate).lines], ["", "labour"])

    def test_a_gang_works_by_the_hour(self) -> None:
        slab = scene.element(self.actor, "GS1", "plain-area")
        gang = self.rate("Gang", kind="gang")
        for fields in ({"unit": "m²"}, {"output": "2"}, {"hours": "8"}):
            with self.subTest(fields=fields), self.assertRaisesRegex(BadEntry, "A gang works by the hour"):
                actions.change_build_up(self.actor, gang, 1, fields)
        with self.assertRaisesRegex(BadEntry, "“Gang” has no output of its own"):
            taking.take_for_rate(self.actor, gang, 1, "output", slab, "net")
        actions.change_build_up(self.actor, gang, 1, {"unit": "h", "name": "Earth gang"})

    def test_of_a_file_no_kind_of_rate_holds_what_it_cant(self) -> None:
        mason = scene.resource(self.actor, "Mason", "labour", "h", "40")
        self.line(self.rate("Setting up", unit="h"), resource=mason, basis="fixed")
        document = json.loads(scene.file_of(self.actor))
        (head,) = document["tables"]["build_up"]
        for kind, more, says in (
            ("gang", {}, "Nothing is billed by a gang"),
            ("reference", {"sized_in": "mm"}, "A rate by size has lines"),
            ("banded", {"sized_in": "mm"}, "A rate by size has lines"),
        ):
            told = {**document["tables"], "build_up": [{**head, "kind": kind, **more}]}
            with self.subTest(kind), self.assertRaisesRegex(Refusal, says):
                scene.taken_in(scene.person(), json.dumps({**document, "tables": told}).encode())

    def test_marked_up_to_the_projects_places(self) -> None:
        stone = scene.resource(self.actor, "Stone", "material", "t", "10.00")
        bed, whole = self.rate("Bed"), self.rate("Whole")
        self.line(bed, resource=stone, quantity="1.23")
        self.line(whole, nested=bed, quantity="2")
        actions.change_build_up(self.actor, bed, 1, {"added": D(12)})
        self.assertEqual((self.seen(bed).rate, self.seen(bed).adds), (D("13.78"), D("1.4760")))
        # Another rate takes it as it costs.
        self.assertEqual(self.seen(whole).rate, D("24.60"))
        actions.change_build_up(self.actor, bed, 2, {"added_on": "price"})
        self.assertEqual(self.seen(bed).rate, D("13.98"))
        self.changed(rounding={"rate": 4})
        self.assertEqual(BuildUp.get_by_id(bed).rate, D("13.9773"))
        for fields, says in (
            ({"added": D(100)}, "less than 100 %"),
            ({"added": D(2000)}, "can't be added"),
            ({"added_on": "x"}, "of the cost or of the price"),
        ):
            with self.assertRaisesRegex(BadEntry, says):
                actions.change_build_up(self.actor, bed, 3, fields)
        with self.assertRaisesRegex(BadEntry, "a rate has 2 to 4"):
            self.changed(rounding={"rate": 5})

    def test_a_rate_that_takes_another_by_two_ways_follows_a_price_once_both_do(self) -> None:
        stone = scene.resource(self.actor, "Stone", "material", "t", "10.00")
        whole, base, bed = self.rate("Whole"), self.rate("Base"), self.rate("Bed")
        for rate, lines in (
            (bed, [{"resource": stone, "quantity": "1.23"}]),
            (base, [{"nested": bed, "quantity": "2"}]),
            (whole, [{"nested": bed, "quantity": "1"}, {"nested": base, "quantity": "3"}]),
        ):
            for line in lines:
                self.line(rate, **line)
        self.assertEqual(BuildUp.get_by_id(whole).cost, D("86.1"))
        quote = Quote.get(Quote.resource == stone)
        saved = prices.change_quote(self.actor, quote.id, quote.version, {"price": D(20)})
        costs = [BuildUp.get_by_id(rate).cost for rate in (bed, base, whole)]
        self.assertEqual(costs, [D("24.6"), D("49.2"), D("172.2")])
        self.assertEqual(moved_by(Change.get_by_id(saved.change))["rates"], {bed, base, whole})

    def test_what_is_done_again_makes_no_rate_take_itself(self) -> None:
        other = Actor(scene.person(), self.actor.project_id, "editor")
        stone = scene.resource(self.actor, "Stone", "material", "t", "10.00")
        for kind in ("rate", "gang"):
            with self.subTest(kind):
                first, second = (self.rate(f"{kind} {n}", unit="h", kind=kind) for n in (1, 2))
                for each in (first, second):
                    self.line(each, resource=stone, quantity="1")
                self.line(first, nested=second, quantity="1")
                history.undo(self.actor)
                rate_lines.add_build_up_line(other, second, {"nested": first, "quantity": "1"})
                cost = BuildUp.get_by_id(second).cost
                with self.assertRaisesRegex(Refusal, f"{kind} [12].*{kind} [12]"):
                    history.redo(self.actor)
                self.assertEqual(BuildUp.get_by_id(second).cost, cost)

    def test_what_is_had_once_goes_by_what_is_billed(self) -> None:
        ids = scene.priced(self.actor)
        crane = scene.resource(self.actor, "Crane there and back", "plant", "nr", "648")
        self.line(ids["rate"], resource=crane, basis="fixed")
        item = Item.get_by_id(ids["item"])
        self.assertEqual((item.quantity, item.rate), (D("6.48"), D("200.00")))
        self.assertEqual(self.seen(ids["rate"]).billed, D("6.48"))
        # More measured, less of it in each; an item typed over, and taken off the rate, says so too.
        dimension_lines.change_line(self.actor, ids["line"], 1, {"times": "8"})
        self.assertEqual(Item.get_by_id(item.id).rate, D("150.00"))
        now = Item.get_by_id(item.id)
        bill.change_item(
            self.actor, item.id, now.version, {"typed_quantity": "3.24", "typed_reason": "agreed"}
        )
        self.assertEqual(Item.get_by_id(item.id).rate, D("300.00"))
        now = Item.get_by_id(item.id)
        bill.change_item(self.actor, item.id, now.version, {"build_up": None})
        view = self.seen(ids["rate"])
        self.assertEqual((view.rate, view.billed), (D("100.00"), None))
        self.assertIn("nothing is billed by this rate yet", view.findings[0])
        history.undo(self.actor)
        self.assertEqual(Item.get_by_id(item.id).rate, D("300.00"))
        copy = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        self.assertEqual(
            Item.get((Item.project == copy.id) & (Item.unit == "m³") & (Item.rate == D("300"))).rate,
            D("300.00"),
        )


class InTheWorkbook(RateCase):
    def test_every_kind_of_line_is_a_live_formula(self) -> None:
        ids = scene.priced(self.actor)
        fuel = scene.resource(self.actor, "Diesel", "sundries", "l", "1.50")
        man, crane = (
            scene.resource(self.actor, "Man", "labour", "h", "30"),
            scene.resource(self.actor, "Crane", "plant", "nr", "648"),
        )
        gang = self.rate("Gang", kind="gang")
        self.line(gang, resource=man, quantity="2")
        self.line(gang, basis="percent", percent_of="labour", quantity="5")
        for fields in (
            {"nested": gang}, {"resource": fuel, "basis": "day", "quantity": "160 l/day × 3", "allowance": D(5)},
            {"resource": crane, "basis": "fixed"}, {"basis": "percent", "percent_of": "labour", "quantity": "3"},
        ):  # fmt: skip
            self.line(ids["rate"], note="as told", **fields)
        actions.change_build_up(
            self.actor, ids["rate"], 1, {"output": "7", "hours": "4", "added": D(8), "added_on": "price"}
        )
        view = self.seen(ids["rate"])
        book = recalculated(load_workbook(io.BytesIO(documents.bill_workbook(self.actor, lambda _: None)[1])))
        rows = list(book["Rates"].iter_rows(values_only=True))
        begin = next(n for n, row in enumerate(rows) if str(row[0]).startswith("Concrete in footings, per"))
        block = {row[0]: row for row in rows[begin : begin + 20] if row[0]}
        for line in view.lines:
            if not line.parted and line.basis != "percent":
                told = block[line.name]
                for at, value in (
                    (8, line.total_quantity),
                    (9, line.amount),
                    (10, line.unit_quantity),
                    (11, line.unit_price),
                ):
                    self.assertAlmostEqual(told[at], float(value), places=3, msg=f"{line.name} {at}")
        for group in view.groups:
            told = block[f"{group.group.capitalize()} together"]
            self.assertAlmostEqual(told[11], float(group.unit_price), places=3, msg=group.group)
            self.assertAlmostEqual(told[9], float(group.amount), places=3)
        self.assertAlmostEqual(block["Rate"][11], float(view.rate or 0), places=4)
        self.assertAlmostEqual(block["Margin on price, %"][11], float(view.adds), places=3)
        items = {row[1]: row for row in book["Bill"].iter_rows(values_only=True) if row[1]}
        item = Item.get_by_id(ids["item"])
        self.assertAlmostEqual(items[item.description][4], float(item.rate), places=4)
        self.assertEqual(BuildUpLine.select().where(BuildUpLine.note == "as told").count(), 4)
        self.assertTrue(checking.checks(self.actor) is not None)
